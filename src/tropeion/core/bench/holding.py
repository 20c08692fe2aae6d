"""Where a lens without a mount is sharp at infinity, found by holding it before a known body.

Each try is a length between the body's seat and the shoulder, and what was seen with it. Far things: sharp, or soft.
Something nearer that is sharp at D: the shoulder stands x(D) too far out (the lens's own extension for it).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

import numpy as np
import numpy.typing as npt

from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.optics.blur import blur_of
from tropeion.core.optics.defocus import extension_for_mm, extension_uncertainty_mm
from tropeion.core.optics.modes import modes_of
from tropeion.core.optics.seats import known_seat_of
from tropeion.core.practice import Practice
from tropeion.core.working import PLAIN

from .agreement import CONTRADICTED, chi_square_p
from .posterior import normal_below
from .seen import USUAL_DOUBT

Reals = npt.NDArray[np.float64]
STEP_MM = 0.01
MOST_POINTS = 20_000
# A hand with a tube, and a caliper over it.
USUAL_HAND_MM = 0.3


@frozen
class Try:
    """A length tried, from the seat of the body to the shoulder, in mm; with ``near`` the distance that was sharp."""

    length_mm: float
    saw: Literal["sharp", "soft", "near"]
    distance_m: float | None = None


@frozen
class HeldByHand:
    """A try, and where infinity then lies by it alone; None for what merely says where it is not."""

    length_mm: float
    saw: str
    implied_mm: float | None
    standard_uncertainty_mm: float | None
    wrong: str = ""


@frozen
class HoldingReport:
    """Where infinity lies: ``length_mm`` before the seat, ``register_mm`` before the sensor, each ± one uncertainty.

    ``contradicted``: no length fits all that was seen. ``next_mm`` is the length to try next.
    """

    tries: tuple[HeldByHand, ...]
    length_mm: float | None
    register_mm: float | None
    standard_uncertainty_mm: float | None
    interval_mm: tuple[float, float] | None
    contradicted: bool
    next_mm: float | None
    fields: dict[str, float]
    says: str


def holding_report(
    world: World, lens: Lens, body: Body, tries: Sequence[Try], *, hand_mm: float = USUAL_HAND_MM
) -> HoldingReport:
    """What the tries say. ``hand_mm`` is one standard uncertainty of a length that is held by hand."""
    focal, f_number = lens.focal_length_mm[0], lens.f_number[0]
    window = f_number * blur_of(modes_of(body, "still")[0], Practice().blur, PLAIN)
    held: list[HeldByHand] = []
    for attempt in tries:
        held.append(_held(attempt, focal, window, hand_mm))
    told = [(attempt, by) for attempt, by in zip(tries, held, strict=True) if not by.wrong]
    seat = known_seat_of(body, world.mount_of(body))
    if not any(attempt.saw != "soft" for attempt, _ in told):
        says = "Soft everywhere so far: try other lengths until far things get sharp." if told else "Nothing tried yet."
        return HoldingReport(tuple(held), None, None, None, None, False, _next_soft(tries), {}, says)
    at = _grid([attempt.length_mm for attempt, _ in told], focal)
    log = np.zeros_like(at)
    for attempt, by in told:
        log += _log_likelihood(at, attempt, by, window, hand_mm)
    weight = np.exp(log - log.max())
    weight /= weight.sum()
    mean = float(weight @ at)
    u = math.hypot(math.sqrt(float(weight @ (at - mean) ** 2)), seat.tolerance_mm / math.sqrt(3))
    below = np.cumsum(weight)
    low, high = (float(at[min(int(np.searchsorted(below, p)), len(at) - 1)]) for p in (0.025, 0.975))
    # At the best length of all, as χ² of what was sharp there: soft ones cost nothing where they are far off.
    sharp = sum(attempt.saw != "soft" for attempt, _ in told)
    contradicted = chi_square_p(max(0.0, -2 * float(log.max())), max(1, sharp - 1)) < CONTRADICTED
    register = mean + seat.register_mm
    fields = {
        "measured_register_mm": round(register, 2),
        "measured_tolerance_mm": math.ceil(math.sqrt(3) * u * 100) / 100,
    }
    clash = " What was seen contradicts itself: look at each again." if contradicted else ""
    return HoldingReport(
        tries=tuple(held),
        length_mm=mean,
        register_mm=register,
        standard_uncertainty_mm=u,
        interval_mm=(low, high),
        contradicted=contradicted,
        next_mm=round(mean, 2),
        fields=fields,
        says=(
            f"Sharp at infinity with the shoulder {mean:.2f} ± {u:.2f} mm before the mount face of {body.name}:"
            f" {register:.2f} mm before its sensor.{clash}"
        ),
    )


def _held(one: Try, focal_mm: float, window_mm: float, hand_mm: float) -> HeldByHand:
    if one.saw == "soft":
        return HeldByHand(one.length_mm, one.saw, None, None)
    if one.saw == "sharp":
        return HeldByHand(one.length_mm, one.saw, one.length_mm, math.hypot(hand_mm, window_mm / math.sqrt(3)))
    distance = (one.distance_m or 0.0) * 1000
    x = extension_for_mm(focal_mm, distance) if distance > 0 else None
    doubt = extension_uncertainty_mm(focal_mm, distance, USUAL_DOUBT * distance) if x is not None else None
    if x is None or doubt is None:
        return HeldByHand(one.length_mm, one.saw, None, None, f"at least {4.05 * focal_mm / 1000:.2f} m away, to tell")
    return HeldByHand(one.length_mm, one.saw, one.length_mm - x, math.hypot(hand_mm, doubt))


def _grid(lengths_mm: Sequence[float], focal_mm: float) -> Reals:
    low, high = min(lengths_mm) - focal_mm, max(lengths_mm) + 20.0
    step = max(STEP_MM, (high - low) / MOST_POINTS)
    return np.arange(math.floor(low / step), math.ceil(high / step) + 1).astype(np.float64) * step


def _log_likelihood(at: Reals, one: Try, by: HeldByHand, window_mm: float, hand_mm: float) -> Reals:
    if one.saw == "near" and by.implied_mm is not None and by.standard_uncertainty_mm is not None:
        found: Reals = -(((at - by.implied_mm) / by.standard_uncertainty_mm) ** 2) / 2
        return found
    edge = math.hypot(hand_mm, 0.15 * window_mm)
    inside = normal_below((at - one.length_mm + window_mm) / edge) - normal_below(
        (at - one.length_mm - window_mm) / edge
    )
    share = inside / inside.max() if one.saw == "sharp" else 1 - inside
    logs: Reals = np.log(np.maximum(share, 1e-30))
    return logs


def _next_soft(tries: Sequence[Try]) -> float | None:
    """With soft pictures alone: a little shorter than the shortest that was tried."""
    return round(max(0.0, min(attempt.length_mm for attempt in tries) - 2.0), 2) if tries else None
