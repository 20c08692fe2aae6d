"""What the blur of a frame says of the flange: one or two errors, each with its doubt.

d = |δ + K²·(x_ring − x(D))| / (N′·(1 + x(D)/f)): the blur tells how far off the sensor is, not to which side.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Final

from tropeion.core.bench.edge_blur import BlurAt, errors_of
from tropeion.core.bench.posterior import Prior
from tropeion.core.bench.seen import Bench
from tropeion.core.frozen import frozen

from .disc import Blur, InFocus, blur_of
from .frame import MeasuredFrame
from .lines import near_centre
from .slanted import WORDS, EdgeMeasured

# Only so near to the middle, as a share of the height: beyond it the lens's own faults count.
NEAR_CENTRE: Final = 0.25
# Edges of one direction lie within this of the vertical or of the horizontal.
_AGREE: Final = 2.0
_SAME_DEG: Final = 1.0
_LIKELY: Final = 19.0


class AstigmatismError(ValueError):
    """Edges of the two directions are blurred differently: that is the lens, and tells nothing of the ring."""


@frozen
class FlangeError:
    """An error that the blur may mean, in mm at the sensor, ± one standard uncertainty."""

    register_error_mm: float
    doubt_mm: float


@frozen
class RingMeasured:
    """The blur on the sensor and what it may mean: two errors, one where both are the same, none in focus but 0."""

    blur_mm: float
    doubt_mm: float
    in_focus: bool
    astigmatism_checked: bool
    errors: tuple[FlangeError, ...]


def ring_of(
    bench: Bench,
    frame: MeasuredFrame,
    reference: MeasuredFrame | None,
    *,
    pitch_mm: float,
    f_number: float,
    distance_mm: float,
    ring_mm: float | None,
) -> RingMeasured:
    """What the edges near the middle of a frame tell, each beside the same edge in focus.

    ``ring_mm`` None: the ring at its far stop. A frame or a reference that its camera sharpened makes all of it so.
    Raises ValueError where nothing can be told, AstigmatismError where directions differ.
    """
    frames = near_centre(frame.edges, (frame.width, frame.height), NEAR_CENTRE)
    if not frames:
        raise ValueError(_none_near(frame))
    as_sharpened = frame.as_sharpened
    references: list[EdgeMeasured] = []
    if reference is not None:
        if (reference.width, reference.height) != (frame.width, frame.height):
            raise ValueError("the frame in focus has another size in pixels: take both alike")
        references = near_centre(reference.edges, (reference.width, reference.height), NEAR_CENTRE)
        as_sharpened = as_sharpened or reference.as_sharpened
        if not references:
            raise ValueError(f"the frame in focus: {_none_near(reference)}")
    found = _blurs(frames, references, as_sharpened=as_sharpened)
    if not found and references:
        raise ValueError("the frame in focus does not show the same edge: frame it alike, from the same place")
    if not found:
        raise ValueError("no edge of the frame is soft enough to be told without a frame in focus")
    by_direction = [[blur for upright, blur in found if upright is way] for way in (True, False)]
    known = [_mean(blurs) for blurs in by_direction if blurs]
    if len(known) == 2:
        (one, one_doubt), (other, other_doubt) = known
        if abs(one - other) > _AGREE * math.hypot(one_doubt, other_doubt):
            raise AstigmatismError(
                "edges of the two directions are blurred differently: that is the lens, and tells nothing of the ring"
            )
    diameter, doubt = _mean([blur for _, blur in found])
    in_focus = all(blur.in_focus for _, blur in found)
    at = BlurAt(diameter * pitch_mm, doubt * pitch_mm, f_number, distance_mm, ring_mm)
    errors = errors_of(bench, at)
    return RingMeasured(
        blur_mm=at.blur_mm,
        doubt_mm=at.doubt_mm,
        in_focus=in_focus,
        astigmatism_checked=len(known) == 2,
        errors=tuple(FlangeError(error, u) for error, u in errors),
    )


def _none_near(frame: MeasuredFrame) -> str:
    """Why a frame gives nothing to go by."""
    if frame.edges:
        return "its edges lie farther from the middle than a quarter of its height: the lens's own faults count there"
    return f"no edge of it qualifies: {WORDS[frame.refused[0].why]}" if frame.refused else "there is no edge in it"


def which_of(first: RingMeasured, second: RingMeasured) -> int | None:
    """Which error of the first frame the second one agrees with; None where both do, or neither.

    The second has the ring moved, or another distance: another stop never tells.
    """
    agree = [
        place
        for place, one in enumerate(first.errors)
        if any(
            abs(one.register_error_mm - other.register_error_mm) <= _AGREE * math.hypot(one.doubt_mm, other.doubt_mm)
            for other in second.errors
        )
    ]
    return agree[0] if len(agree) == 1 else None


def _blurs(
    frames: Sequence[EdgeMeasured], references: Sequence[EdgeMeasured], *, as_sharpened: bool
) -> list[tuple[bool, Blur]]:
    found = []
    for edge in frames:
        same = [one for one in references if _is_same(one, edge)]
        nearest = min(same, key=lambda one: math.hypot(one.x - edge.x, one.y - edge.y), default=None)
        # Beside frames in focus, an edge that none of them shows is another thing: a corner, a shadow.
        if nearest is None and references:
            continue
        focus = None if nearest is None else InFocus.of(nearest)
        doubt = edge.mtf50 / 10 if edge.uncertainty is None else edge.uncertainty
        blur = blur_of(edge.mtf50, doubt, focus, as_sharpened=as_sharpened)
        if blur is not None:
            found.append((edge.upright, blur))
    return found


def likely_of(found: RingMeasured, stated: Prior) -> int | None:
    """Which of two errors what is stated of the lengths makes likely, by 19 to 1 at least; None where it does not."""
    if len(found.errors) != 2:
        return None
    apart = [
        ((one.register_error_mm - stated.mean_mm) / math.hypot(one.doubt_mm, stated.standard_uncertainty_mm)) ** 2 / 2
        for one in found.errors
    ]
    return None if abs(apart[0] - apart[1]) < math.log(_LIKELY) else apart.index(min(apart))


def _is_same(one: EdgeMeasured, edge: EdgeMeasured) -> bool:
    """Whether two frames show one edge: as it lies, and as it leans."""
    apart = math.hypot(one.x - edge.x, one.y - edge.y)
    return (
        one.upright == edge.upright
        and abs(one.angle_deg - edge.angle_deg) <= _SAME_DEG
        and apart <= max(one.rows, edge.rows) / 2
    )


def _mean(blurs: Sequence[Blur]) -> tuple[float, float]:
    """The mean, and its doubt: what they have in common does not shrink by taking more of them."""
    mean = sum(blur.diameter_px for blur in blurs) / len(blurs)
    return mean, sum(blur.uncertainty_px for blur in blurs) / len(blurs)
