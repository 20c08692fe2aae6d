"""Sharpness against what a use demands: by place in the frame and by aperture, and where two differ at all."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final, Literal

from tropeion.core.frozen import frozen

Place = Literal["centre", "corner", "between"]
Use = Literal["paid_still", "film", "web", "play"]

# Within a quarter of the height it is the centre, beyond so much of the half diagonal a corner.
CENTRE_WITHIN: Final = 0.25
CORNER_BEYOND: Final = 0.65
# An eye separates lines that are one minute of arc apart: a pair takes two.
_PAIR_RAD: Final = 2 * math.radians(1 / 60)
# Half of the contrast is wanted at half of the finest that an eye can see.
_HALF_CONTRAST_AT: Final = 0.5
# Differences below so many of their doubts are none that can be told.
_TOLD: Final = 2.0
# Of the demand in the centre, what a corner must have: "at least soft" is half as sharp.
_CORNER: Final[dict[Use, float]] = {"paid_still": 1.0, "film": 0.5, "web": 0.5, "play": 0.0}


@frozen
class Viewing:
    """A picture as it is looked at: its width and the distance of the eye, in mm."""

    width_mm: float
    distance_mm: float


USUAL_VIEWING: Final[dict[Use, Viewing]] = {
    "paid_still": Viewing(420.0, 500.0),
    "film": Viewing(1200.0, 2000.0),
    "web": Viewing(300.0, 500.0),
    "play": Viewing(150.0, 300.0),
}


@frozen
class LineDemand:
    """What a use demands in lp/mm on the sensor, in the centre and in the corners, with its working."""

    use: Use
    centre_lp_per_mm: float
    corner_lp_per_mm: float
    working: str


@frozen
class Sharp:
    """Sharpness in lp/mm ± one standard uncertainty, at a stop and a place."""

    f_number: float
    place: Place
    lp_per_mm: float
    uncertainty: float | None


@frozen
class UsableMeasured:
    """The stops that meet a demand: from the widest on, to a smallest where a smaller one was measured that does not.

    Both None where none does. ``doubtful``: some value lies nearer to the demand than twice its doubt. ``no_corner``:
    the demand is one for corners too, and none was measured.
    """

    demand: LineDemand
    from_f_number: float | None
    to_f_number: float | None
    stops: int
    doubtful: bool
    no_corner: bool
    says: str


@frozen
class Difference:
    """How two differ at one stop and place; ``told`` where that is more than the doubt of both."""

    f_number: float
    place: Place
    by_lp_per_mm: float
    uncertainty: float
    told: bool
    says: str


def place_of(x: float, y: float, size_px: tuple[int, int]) -> Place:
    """Where in the frame a place lies."""
    width, height = size_px
    off = math.hypot(x - width / 2, y - height / 2)
    if off <= CENTRE_WITHIN * min(width, height):
        return "centre"
    return "corner" if off >= CORNER_BEYOND * math.hypot(width, height) / 2 else "between"


def demand_of(use: Use, sensor_width_mm: float, viewing: Viewing, stated_lp_per_mm: float | None = None) -> LineDemand:
    """What a use demands: what was stated, or what a picture of that size shows from that distance."""
    if stated_lp_per_mm is not None:
        centre, working = stated_lp_per_mm, f"{stated_lp_per_mm:g} lp/mm, as you set it"
    else:
        finest = 1 / (viewing.distance_mm * _PAIR_RAD)
        larger = viewing.width_mm / sensor_width_mm
        centre = _HALF_CONTRAST_AT * finest * larger
        working = (
            f"from {viewing.distance_mm:g} mm an eye tells {finest:.1f} lp/mm; {viewing.width_mm:g} mm wide is "
            f"{larger:.1f} × the sensor's {sensor_width_mm:g} mm; half of the contrast is wanted at half of that: "
            f"{centre:.0f} lp/mm (assumed)"
        )
    return LineDemand(use, centre, centre * _CORNER[use], working)


def usable_measured(sharp: Sequence[Sharp], demand: LineDemand) -> UsableMeasured:
    """At which stops a demand is met, centre and corners: the longest run of stops that were measured, no gap in it.

    Unlike verdicts by eye it may end: diffraction softens the smallest stops.
    """
    stops = sorted({one.f_number for one in sharp if one.place == "centre"})
    corner = demand.corner_lp_per_mm > 0
    no_corner = corner and not any(one.place == "corner" for one in sharp)
    doubtful = False
    runs: list[list[float]] = [[]]
    for stop in stops:
        here = [one for one in sharp if one.f_number == stop and one.place != "between"]
        met = not corner or any(one.place == "corner" for one in here)
        for one in here:
            wanted = demand.centre_lp_per_mm if one.place == "centre" else demand.corner_lp_per_mm
            doubt = one.lp_per_mm / 10 if one.uncertainty is None else one.uncertainty
            doubtful = doubtful or (wanted > 0 and abs(one.lp_per_mm - wanted) < _TOLD * doubt)
            met = met and one.lp_per_mm >= wanted
        if met:
            runs[-1].append(stop)
        elif runs[-1]:
            runs.append([])
    run = max(runs, key=len)
    first, last = (run[0], run[-1]) if run else (None, None)
    ends = last is not None and last < stops[-1]
    said = _usable_says(first, last if ends else None, len(run), doubtful, no_corner)
    return UsableMeasured(demand, first, last if ends else None, len(run), doubtful, no_corner, said)


def _usable_says(first: float | None, last: float | None, count: int, doubtful: bool, no_corner: bool) -> str:
    if no_corner:
        return "no corner was measured: not known"
    if first is None:
        said = "at no stop that was measured"
    elif last == first:
        said = f"at f/{first:g} alone"
    elif last is not None:
        said = f"from f/{first:g} to f/{last:g}, by {count} measured"
    else:
        said = f"from f/{first:g} on, by {count} measured"
    return f"{said}; one lies too near to the demand to be told" if doubtful else said


def differences_of(mine: Sequence[Sharp], theirs: Sequence[Sharp]) -> tuple[Difference, ...]:
    """Where both were measured, by how much the first is sharper. Each by its mean at that stop and place."""
    found = []
    for stop in sorted({one.f_number for one in mine}):
        for place in ("centre", "between", "corner"):
            one, other = _mean(mine, stop, place), _mean(theirs, stop, place)
            if one is None or other is None:
                continue
            by, doubt = one[0] - other[0], math.hypot(one[1], other[1])
            told = abs(by) > _TOLD * doubt
            says = (
                f"{'sharper' if by > 0 else 'softer'} by {abs(by):.0f} ± {doubt:.0f} lp/mm"
                if told
                else "no difference that this measurement can tell"
            )
            found.append(Difference(stop, place, by, doubt, told, says))
    return tuple(found)


def _mean(sharp: Sequence[Sharp], stop: float, place: str) -> tuple[float, float] | None:
    here = [one for one in sharp if one.f_number == stop and one.place == place]
    if not here:
        return None
    doubts = [one.lp_per_mm / 10 if one.uncertainty is None else one.uncertainty for one in here]
    mean = sum(one.lp_per_mm for one in here) / len(here)
    # Edges at one place differ by more than their own doubts where the field is not even.
    spread = max(one.lp_per_mm for one in here) - min(one.lp_per_mm for one in here)
    return mean, max(sum(doubts) / len(doubts), spread / 4)
