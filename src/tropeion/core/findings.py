"""The catalogue of findings: code, severity, best grade still allowed, and the words.

Everything that is said about a rig is said here, once. ``headline`` is the sentence when a finding decides the
grade; ``gives_up`` is the phrase that tells a lesser route from a better one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

__all__ = ["CATALOGUE", "GRADES", "Finding", "Grade", "Kind", "Severity", "decisive", "finding", "worst"]

Grade = Literal["danger", "none", "modify", "close_up", "partial", "manual", "full", "native"]
Severity = Literal["danger", "caution", "limit", "info"]

GRADES: tuple[Grade, ...] = ("danger", "none", "modify", "close_up", "partial", "manual", "full", "native")
_RANK = {grade: rank for rank, grade in enumerate(GRADES)}
_SEVERITY_RANK = {"danger": 0, "caution": 1, "limit": 2, "info": 3}


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing found about a rig. ``grade_cap`` is the best grade it still allows; ``link`` what causes it."""

    code: str
    severity: Severity
    grade_cap: Grade | None
    link: str | None
    text: str
    headline: str
    gives_up: str


@dataclass(frozen=True, slots=True)
class Kind:
    """An entry of the catalogue; its words are templates."""

    severity: Severity
    grade_cap: Grade | None
    text: str
    headline: str = ""
    gives_up: str = ""


CATALOGUE: dict[str, Kind] = {
    # Safety
    "coupling_damage": Kind(
        "danger",
        "danger",
        "Do not mount it. {text} A conversion belongs with a qualified repairer.",
        "Do not mount this. {text}",
        "can be damaged",
    ),
    "generation_unknown": Kind(
        "danger",
        "danger",
        "The generation of {what} is not known, and some generations of {mount} break parts here. Identify it "
        "before mounting; if in doubt, ask a qualified repairer.",
        "Do not mount this before the generation of {what} is known.",
        "generation unknown",
    ),
    "excluded_by_maker": Kind(
        "danger",
        "danger",
        "The lens's maker excludes it here: {reason}",
        "The lens's maker excludes this: {reason}",
        "excluded by the maker",
    ),
    "thread_binds": Kind(
        "danger",
        "danger",
        "Same diameter, other pitch: {front} binds in {rear} after a turn or two. Do not force it. A stuck thread "
        "is freed with cloth and patience, not with pliers.",
        "The threads bind: {front} does not go into {rear}. Do not force it.",
        "the thread binds",
    ),
    "rear_collides": Kind(
        "danger",
        "danger",
        "The rear of the lens would stand {rear} before the sensor, and {obstacle} begins at {limit}: they touch, "
        "or come nearer than 0.50 mm.",
        "The rear of the lens would hit {obstacle}.",
        "the rear hits {obstacle}",
    ),
    "coupling_safe_after": Kind("caution", None, "{text} First: {action}"),
    "coupling_inspect": Kind("caution", None, "{text}"),
    # Mechanical path
    "does_not_mate": Kind(
        "limit",
        "none",
        "{front} does not go onto {rear}.",
        "These do not go together: {front} does not go onto {rear}.",
        "does not mate",
    ),
    "rear_too_wide": Kind(
        "limit",
        "none",
        "The rear barrel of the lens, {barrel} wide, does not pass the bore of {bore}.",
        "The rear of the lens is too wide for {where}.",
        "the rear does not pass",
    ),
    "irreversible": Kind(
        "caution",
        "modify",
        "Mounting this piece changes lens or body for good. Such work belongs with a qualified repairer.",
        "Only after a change that cannot be undone.",
        "cannot be undone",
    ),
    # Focus
    "nothing_focuses": Kind(
        "limit",
        "none",
        "The lens stands {error} too near the sensor, more than its focusing can take up: nothing comes into "
        "focus at any distance.",
        "Nothing comes into focus: the lens stands {error} too near the sensor.",
        "nothing focuses",
    ),
    "focus_travel_unknown": Kind(
        "caution",
        "manual",
        "The lens stands {error} too near the sensor, and how far it can be focused out is not known: it may come "
        "into focus nowhere. State its closest focus or its greatest magnification.",
        "It may not focus at all: the lens stands {error} too near, and its focus travel is not known.",
        "may not focus at all",
    ),
    "focus_without_power": Kind(
        "limit",
        "none",
        "The lens focuses by wire, and no power reaches it: its focus cannot be moved.",
        "It cannot be focused: the lens focuses by wire, and nothing here powers it.",
        "focus has no power",
    ),
    "no_focusing": Kind(
        "limit",
        "none",
        "The lens has no focusing of its own and nothing in the chain moves it. A helicoid would.",
        "It cannot be focused: nothing here moves the lens.",
        "cannot be focused",
    ),
    "infinity_out_of_reach": Kind(
        "limit",
        "close_up",
        "The lens stands {error} too far from the sensor: infinity is out of reach at every aperture.{school}",
        "Close-up only: sharp {span}; infinity is out of reach.",
        "close-up only",
    ),
    "infinity_stopped_down": Kind(
        "limit",
        "partial",
        "{cause}: infinity is sharp only from {aperture}.{school}",
        "Infinity only from {aperture}: {reason}.",
        "infinity from {aperture}",
    ),
    "passes_infinity": Kind(
        "info",
        None,
        "The lens stands {error} nearer than its own body holds it: it turns past infinity, and its distance scale "
        "lies.",
    ),
    "infinity_unsure": Kind(
        "info",
        None,
        "With these tolerances infinity is sharp at {aperture} with a probability of {probability}. Try it, or "
        "measure the pieces.",
    ),
    "closest_focus_needs_magnification": Kind(
        "info",
        None,
        "Its closest focus is nearer than a lens that only moves forward could reach (inner focusing). State its "
        "greatest magnification; until then the near end is unknown.",
    ),
    "closest_focus_unknown": Kind(
        "info", None, "Neither closest focus nor greatest magnification is known: the near end is unknown."
    ),
    "register_approximate": Kind(
        "info",
        None,
        "With glass in the chain and an error over 1 mm these distances are approximate.",
    ),
    # Coverage
    "covers_crop_only": Kind(
        "limit",
        "partial",
        "The image circle, {circle}, does not cover the full sensor: the mode {mode} is used.",
        "Covers only the {mode} mode of the sensor.",
        "only {mode} is covered",
    ),
    "covers_no_mode": Kind(
        "limit",
        "partial",
        "The image circle, {circle}, covers no mode of this body. Cropping {crop} × in the picture would.",
        "The image circle is too small: dark corners in every mode.",
        "no mode is covered",
    ),
    "circle_unknown": Kind("info", None, "The image circle is not known: coverage is not assessed."),
    "corners_darkened": Kind(
        "info",
        None,
        "{bore} cuts into the light towards the corners wide open (from {height} off the axis); stopping down "
        "clears it.",
    ),
    "corners_cut": Kind(
        "limit",
        "partial",
        "{bore} cuts off more than half of the light at the corners (from {height} off the axis).",
        "{bore} darkens the corners.",
        "dark corners",
    ),
    "steep_corner_rays": Kind(
        "caution",
        None,
        "Light reaches the corners at {angle}°, steeper than this sensor takes well ({limit}°): soft or tinted "
        "corners are likely.",
    ),
    "correcting_glass": Kind(
        "limit",
        "partial",
        "The correcting glass costs sharpness wide open; stop down.",
        "Infinity through correcting glass: longer, darker, and softer wide open.",
        "correcting glass",
    ),
    "glass_limits_aperture": Kind(
        "info", None, "The glass passes no more than {aperture}, slower than the lens with it would be."
    ),
    # Iris
    "iris_without_power": Kind(
        "limit",
        "partial",
        "The iris is electronic and no power reaches it: it {rest}.",
        "The iris has no power: it {rest}.",
        "the iris has no power",
    ),
    "pin_not_pressed": Kind(
        "limit",
        "partial",
        "Nothing presses the diaphragm pin, and the lens has no auto/manual switch: the iris stays wide open.",
        "The iris stays wide open: nothing presses the diaphragm pin.",
        "the iris stays open",
    ),
    "lever_not_moved": Kind(
        "limit",
        "partial",
        "The lens has no aperture ring and nothing moves its lever: the iris {rest}.",
        "Nothing moves the iris lever: it {rest}.",
        "nothing moves the iris",
    ),
    # Functions
    "by_hand": Kind(
        "limit",
        "manual",
        "Against a lens of this body: {functions}.",
        "Reaches infinity; {hand}.",
        "{short}",
    ),
    "autofocus_slow": Kind(
        "info",
        "full",
        "Autofocus works, slowly.",
        "Works as on its own body, but autofocus is slow.",
        "slow autofocus",
    ),
    "through_adapter": Kind(
        "info",
        "full",
        "Every function of the lens works through the adapter.",
        "Works as on its own body: {functions}.",
        "",
    ),
    "no_metering": Kind("limit", "manual", "{text}", "Mounts safely, without metering.", "no metering"),
    "stop_down_metering": Kind(
        "limit", "manual", "{text}", "Mounts safely; metering at the taking aperture.", "stop-down metering"
    ),
    "meters": Kind("info", None, "{text}"),
    # Generations
    "converted_by_maker": Kind(
        "info",
        None,
        "Converted by its maker: as safe and as complete as the later generation, and it keeps its value.",
    ),
    "converted_by_others": Kind(
        "caution",
        None,
        "Converted by a third party: good work is as good as the maker's, and not all is. Look at the collar before "
        "mounting; if in doubt, ask a qualified repairer. It is worth less than a maker's conversion.",
    ),
    "converted_at_home": Kind(
        "caution",
        None,
        "Filed at home: where the collar is cut cleanly it is safe and works. Look for burrs and chips first. "
        "Its collector's value is gone.",
    ),
    "coupling_transplanted": Kind(
        "info",
        None,
        "A coupling part was moved onto it from another lens: it couples like the lens it came from. Its value as a "
        "collector's piece is less.",
    ),
    # Traps
    "same_thread_other_register": Kind(
        "caution",
        None,
        "{front} and {rear} share a thread and not a register: they differ by {difference}. It screws on and looks "
        "right all the same.",
    ),
    "two_names": Kind("info", None, "{alias} and {name} are one mount under two names."),
    "ring_long_by_hundredths": Kind(
        "info",
        None,
        "It stands {error} too far, which the depth of focus at {aperture} still hides: exact focus ends before "
        "infinity.",
    ),
    "crop_counted_once": Kind(
        "info",
        None,
        "The lens is drawn for a small sensor; its marked focal length is real all the same. The crop factor is "
        "counted once.",
    ),
    # Contacts
    "iris_hold_and_remove": Kind(
        "info",
        None,
        "{body} can hold the iris: set the aperture there, take the lens off while it is held, then mount it here.",
    ),
    "chip_reports_fixed_lens": Kind(
        "info",
        None,
        "The chip reports {focal_length} mm and {aperture}, whatever is mounted: what the camera records is not this "
        "lens.",
    ),
    "firmware_matters": Kind(
        "info", None, "{name} speaks for the lens with firmware {firmware}: another version may do more, or less."
    ),
    "release_needs_lens": Kind(
        "caution", None, "This body releases only with a lens that it recognises; a chipped ring would do."
    ),
    "asks_at_power_on": Kind(
        "info", None, "At power-on the body offers the last lens's focal length: check it after every swap."
    ),
    "zoom_needs_entries": Kind(
        "caution",
        None,
        "A zoom that the body does not know: enter the focal length again at each setting, and do not zoom during a "
        "take. A prime is the better choice here.",
    ),
    "crop_by_hand": Kind("info", None, "The lens cannot tell the body what it covers: set the mode {mode} by hand."),
    # Mechanics
    "load_exceeded": Kind(
        "caution",
        None,
        "The weight in front of this joint pulls with {moment} N·m; it is rated for {rating} N·m. {advice}, not by "
        "the body. A rig overhead or on a vehicle follows local safety rules.",
    ),
    "support_wanted": Kind("caution", None, "A heavy lens on a thin ring: support it by a foot, a bracket or rods."),
    "play_moves_focus": Kind(
        "caution",
        None,
        "The joints give by {play}, {share} of the depth of focus wide open: a focus puller will see it.",
    ),
    "throw_short": Kind("info", None, "A focus throw of {throw}° is quick and coarse for pulling focus."),
    "throw_long": Kind("info", None, "A focus throw of {throw}° is precise and slow."),
    "seats_turn_squeeze": Kind(
        "info",
        None,
        "The mount takes the lens {positions} ways: seat it so that the {squeeze} × squeeze runs along the width.",
    ),
    "no_desqueeze": Kind(
        "limit", None, "This body has no desqueeze of {squeeze} ×: the finder shows the picture squeezed."
    ),
    "reflections": Kind("info", None, "Watch for reflections: {what}. Matt ink or flocking helps."),
    "shake": Kind(
        "info",
        None,
        "By hand no slower than {shutter} s, with what the body steadies counted in; below that, a tripod.",
    ),
    # Range
    "helicoid_range": Kind(
        "info",
        None,
        "The helicoid stands {setting} for infinity; opened to the end it brings the near limit from {without} to "
        "{near}.",
    ),
    "filter_positions": Kind(
        "info", None, "Filter: {positions}. Its glass stays in the path at every position and is counted."
    ),
    "no_clear_position": Kind(
        "limit", None, "The filter has no clear position: at least {loss} stops are lost all the time."
    ),
    # Practice
    "glass_avoided": Kind("info", None, "Your practice avoids correcting glass: this route stands last."),
    "crop_factor_unchanged": Kind(
        "info",
        None,
        "A ring without glass does not change the crop factor: it is the sensor's, and is counted once.",
    ),
}


_PLACE = {code: place for place, code in enumerate(CATALOGUE)}


def finding(code: str, link: str | None = None, **values: str) -> Finding:
    """Fill in one entry of the catalogue."""
    kind = CATALOGUE[code]
    return Finding(
        code=code,
        severity=kind.severity,
        grade_cap=kind.grade_cap,
        link=link,
        text=kind.text.format(**values),
        headline=kind.headline.format(**values),
        gives_up=kind.gives_up.format(**values),
    )


def worst(findings: Sequence[Finding]) -> Grade:
    """The grade of a rig: its worst cap."""
    return min((f.grade_cap for f in findings if f.grade_cap), key=_RANK.__getitem__, default="native")


def decisive(findings: Sequence[Finding]) -> Finding | None:
    """The finding that decides the grade: the first with the worst cap."""
    capped = [f for f in findings if f.grade_cap]
    return min(capped, key=lambda f: _RANK[f.grade_cap or "native"], default=None)


def rank(grade: Grade) -> int:
    """0 is the worst grade."""
    return _RANK[grade]


def in_order(findings: Sequence[Finding]) -> tuple[Finding, ...]:
    """Danger first, then by grade cap; the order of the catalogue otherwise."""
    return tuple(
        sorted(
            findings,
            key=lambda f: (
                _SEVERITY_RANK[f.severity],
                _RANK[f.grade_cap] if f.grade_cap else len(GRADES),
                _PLACE[f.code],
            ),
        )
    )
