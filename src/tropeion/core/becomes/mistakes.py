"""The classic mistakes with a crop factor, each beside the number that is right; and which of them a number is.

A plain ring never changes the crop factor; glass changes the lens, not the sensor; the stabiliser wants the actual
focal length, and exposure follows the actual aperture.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Final, Literal

from tropeion.core import written
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter

from .becoming import LensSetting
from .reference import Reference

Where = Literal["framing", "ring", "stabiliser", "exposure"]
# A number is taken for another that is this near to it, as a share.
TAKEN_WITHIN: Final = 0.02


@frozen
class Mistake:
    """What is easily done wrong, where: ``wrong`` is what would come of it, ``right`` what holds."""

    where: Where
    title: str
    right: str
    wrong: str
    says: str


@frozen
class Guess:
    """What a number is: what it is right for, or the mistake that leads to it."""

    right: bool
    says: str


def mistakes_of(
    setting: LensSetting, adapters: Sequence[Adapter], k: float, crop: float, reference: Reference
) -> tuple[Mistake, ...]:
    """The mistakes that this rig invites, where they are made."""
    return tuple(_mistakes(setting, adapters, k, crop, reference))


def _mistakes(
    setting: LensSetting, adapters: Sequence[Adapter], k: float, crop: float, reference: Reference
) -> Iterator[Mistake]:
    focal, equivalent = _mm(setting.focal_length_mm), _mm(setting.equivalent_mm)
    # What is no farther off than numbers are rounded is no mistake.
    crops = abs(crop - 1) >= TAKEN_WITHIN
    if crops:
        yield Mistake(
            "framing",
            "Crop counted twice",
            equivalent,
            _mm(setting.equivalent_mm * crop),
            f"{focal} × {crop:.2f} = {equivalent}, once: it is the view as on {reference.name}.",
        )
    if adapters:
        yield _of_the_ring(setting, k, crop, focal)
    if setting.entry_mm is not None and crops:
        yield Mistake(
            "stabiliser",
            "Equivalent entered for the stabiliser",
            f"{setting.entry_mm:g} mm",
            equivalent,
            "It wants what the lens is, with its glass, not what it frames like: told too long, it shakes the picture.",
        )
    if crops:
        yield Mistake(
            "exposure",
            "Aperture multiplied for exposure",
            _f(setting.f_number),
            _f(setting.equivalent_f_number),
            "Light and meter follow the actual aperture. The multiplied one tells of depth of field and noise alone.",
        )


def _of_the_ring(setting: LensSetting, k: float, crop: float, focal: str) -> Mistake:
    marked = _mm(setting.marked_mm)
    if k == 1:
        return Mistake(
            "ring",
            "Crop by a ring",
            marked if abs(crop - 1) < TAKEN_WITHIN else f"{marked}, × {crop:.2f}",
            "a second factor for the ring",
            "Metal changes neither focal length nor crop factor: the lens stands where it always stood.",
        )
    return Mistake(
        "ring",
        "Crop by the glass",
        f"{marked} × {k:g} = {focal}",
        f"a crop factor of {crop * k:.2f}",
        f"The glass changes the lens; the sensor stays as it is, × {crop:.2f}.",
    )


def guess_of(
    value: float,
    settings: Sequence[LensSetting],
    k: float,
    crop: float,
    reference: Reference,
    quantity: Literal["mm", "f"],
) -> Guess | None:
    """What a number of millimetres, or an f-number, is of this rig; None where nothing leads to it.

    ``settings``: the one that is looked at, then whatever else the ring shows.
    """
    near: list[tuple[float, int, int, Guess]] = []
    for at, setting in enumerate(settings):
        known = _lengths(setting, k, crop, reference) if quantity == "mm" else _apertures(setting, k, crop, reference)
        right = [value for value, guess in known if guess.right]
        for place, (other, guess) in enumerate(known):
            # A mistake that comes to what is right, as far as numbers are rounded, is none.
            harmless = not guess.right and any(abs(other / value_ - 1) < TAKEN_WITHIN for value_ in right if value_ > 0)
            if other > 0 and not harmless and abs(value / other - 1) <= TAKEN_WITHIN:
                said = (
                    guess if at == 0 else replace(guess, says=f"At {_mm(setting.marked_mm)} on the ring. {guess.says}")
                )
                near.append((abs(value / other - 1), at, place, said))
    return min(near, key=lambda entry: (entry[1] > 0, *entry[:3]))[3] if near else None


def _lengths(setting: LensSetting, k: float, crop: float, reference: Reference) -> list[tuple[float, Guess]]:
    marked, focal, equivalent = setting.marked_mm, setting.focal_length_mm, setting.equivalent_mm
    said = f"{_mm(focal)} × {crop:.2f}"
    lengths = [
        (equivalent, Guess(True, f"Right for the view: {said}, as on {reference.name}.")),
        (focal, Guess(True, "Right for the stabiliser and the log: what the lens is, with its glass.")),
        (equivalent * crop, Guess(False, f"The crop counted twice: {said} = {_mm(equivalent)} is the view.")),
        (focal / crop, Guess(False, f"Divided by the crop instead of multiplied: {said} = {_mm(equivalent)}.")),
    ]
    if k != 1:
        lengths += [
            (marked, Guess(False, f"The glass forgotten: with it the lens is {_mm(focal)}.")),
            (marked * crop, Guess(False, f"The glass forgotten: {said} = {_mm(equivalent)} is the view.")),
            (equivalent * k, Guess(False, f"The glass counted twice: {said} = {_mm(equivalent)} is the view.")),
            (marked / k, Guess(False, f"Divided by the glass: {_mm(marked)} × {k:g} = {_mm(focal)}.")),
        ]
    return lengths


def _apertures(setting: LensSetting, k: float, crop: float, reference: Reference) -> list[tuple[float, Guess]]:
    marked, real, equal = setting.marked_f_number, setting.f_number, setting.equivalent_f_number
    apertures = [
        (real, Guess(True, "Right for exposure: light and meter follow it.")),
        (equal, Guess(True, f"Right for depth of field, as on {reference.name}; exposure stays {_f(real)}.")),
        (equal * crop, Guess(False, f"The crop counted twice: the depth is that of {_f(equal)}.")),
    ]
    if k != 1:
        apertures += [
            (marked, Guess(False, f"On the ring; with the glass it exposes as {_f(real)}.")),
            (marked * crop, Guess(False, f"The glass forgotten: the depth is that of {_f(equal)}.")),
            (real * k, Guess(False, f"The glass counted twice: it exposes as {_f(real)}.")),
        ]
    return apertures


def _mm(value: float) -> str:
    return f"{written.fixed(value, 0 if value >= 100 else 1).removesuffix('.0')} mm"


def _f(value: float) -> str:
    return f"f/{written.fixed(value, 1).removesuffix('.0')}"
