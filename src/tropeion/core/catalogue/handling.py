"""Traps, weight and play, and what one's own practice decides."""

from __future__ import annotations

from tropeion.core.findings import remark

# Traps


@remark(
    "caution",
    "{front} and {rear} share a thread but not a {word.flange_focal_distance}: they differ by {difference}. It screws "
    "on and looks right all the same.",
)
def same_thread_other_register(*, front: str, rear: str, difference: str) -> None: ...


@remark("info", "{alias} and {name} are one mount under two names.")
def two_names(*, alias: str, name: str) -> None: ...


@remark(
    "info",
    "It stands {error} too far, which the depth of focus at {aperture} still hides: exact focus ends before infinity.",
)
def ring_long_by_hundredths(*, error: str, aperture: str) -> None: ...


@remark(
    "info",
    "The lens is drawn for a small sensor; its marked focal length is real all the same. The crop factor is counted "
    "once.",
)
def crop_counted_once() -> None: ...


# Mechanics


@remark(
    "caution",
    "The weight in front of this joint pulls with {moment} N·m; it is rated for {rating} N·m. {advice}, not by the "
    "body. A rig overhead or on a vehicle follows local safety rules.",
)
def load_exceeded(*, moment: str, rating: str, advice: str) -> None: ...


@remark("caution", "A heavy lens on a thin ring: support it by a foot, a bracket or rods.")
def support_wanted() -> None: ...


@remark(
    "caution",
    "The {word.mount_play} of all joints is {play}, {share} of the {word.depth_of_focus} wide open: a focus "
    "puller will "
    "see it.",
)
def play_moves_focus(*, play: str, share: str) -> None: ...


@remark("info", "A focus throw of {throw}° is quick and coarse for pulling focus.")
def throw_short(*, throw: str) -> None: ...


@remark("info", "A focus throw of {throw}° is precise and slow.")
def throw_long(*, throw: str) -> None: ...


@remark(
    "info",
    "The mount takes the lens in {positions} positions: turn it so that the {squeeze} × squeeze runs along the width.",
)
def seats_turn_squeeze(*, positions: str, squeeze: str) -> None: ...


@remark("limit", "This body has no desqueeze of {squeeze} ×: the finder shows the picture squeezed.")
def no_desqueeze(*, squeeze: str) -> None: ...


@remark("info", "Watch for reflections: {what}. Matt ink or flocking helps.")
def reflections(*, what: str) -> None: ...


@remark("info", "By hand no slower than {shutter}{steadied}; below that, a tripod.")
def shake(*, shutter: str, steadied: str) -> None: ...


# Practice


@remark("info", "By your {word.preferences}, correcting glass is avoided: this {word.route} stands last.")
def glass_avoided() -> None: ...


@remark("info", "A ring without glass does not change the crop factor: it is the sensor's, and is counted once.")
def crop_factor_unchanged() -> None: ...


# What is not known


@remark("info", "No tolerance is stated: {pieces} is assumed, as usual.")
def tolerance_assumed(*, pieces: str) -> None: ...


@remark("caution", "Not assessed, because it is not stated: {missing}.")
def not_assessed(*, missing: str) -> None: ...


@remark("caution", "Stated of {pieces}, and found otherwise by {by}: {claim}.")
def contradicted(*, pieces: str, claim: str, by: str) -> None: ...


@remark("caution", "Tried for {use}, and no stop was usable: {trials}. At equal grade it stands last.")
def tried_unusable(*, use: str, trials: str) -> None: ...


@remark(
    "caution",
    "The contacts of {front} and of {rear} touch, and do not speak one language: power may come where none is wanted. "
    "Keep it off until somebody who knows both says that it is safe.",
)
def foreign_contacts(*, front: str, rear: str) -> None: ...


@remark("info", "Not told, because it is not stated: {missing}.")
def not_told(*, missing: str) -> None: ...


@remark(
    "info", "The stabiliser takes {limits}: {entry} mm is the nearest to {focal} mm, and it steadies a little {how}."
)
def stabiliser_entry_held(*, limits: str, entry: str, focal: str, how: str) -> None: ...


@remark(
    "info",
    "By your {word.preferences}, the focal length is not entered: do not count on the stabiliser. What it steadies is "
    "left out here.",
)
def stabiliser_not_told() -> None: ...


@remark(
    "info",
    "By your {word.preferences}, zooms on a {word.plain_adapter} are avoided: this stands behind what tells the "
    "body the "
    "focal length.",
)
def zoom_avoided() -> None: ...
