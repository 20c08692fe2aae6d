"""Readings of a piece as a series: what they say, beside an earlier one and what is stated, and what would be written.

Two series are compared as JCGM 100 compares two results: their difference over the root of both variances.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from tropeion.core import written
from tropeion.core.frozen import frozen
from tropeion.core.records.reading_series import ReadingSeries, Source
from tropeion.core.working import tidy

from .quantities import PieceOnBench, Quantity
from .readings import IN_DOUBT, MeanMeasured, Wedge, measured, nominal_score, standard_uncertainty_mm, wedge_of

# Across which a wedge is told where no body is chosen, and the blur that it is held against.
USUAL_SENSOR_MM, USUAL_BLUR_MM = 36.0, 0.029


@frozen
class Caliper:
    """What is known of the caliper: what it reads closed, its resolution, the greatest error its maker allows."""

    zero_mm: float = 0.0
    resolution_mm: float = 0.01
    error_mm: float = 0.02


@frozen
class Before:
    """What the piece stands before: a sensor so wide, its blur, the glass behind the piece and that of the whole chain.

    Unless it is said: 36 mm, and no glass.
    """

    width_mm: float = USUAL_SENSOR_MM
    circle_mm: float = USUAL_BLUR_MM
    behind: float = 1.0
    magnification: float = 1.0


_USUALLY = Before()


@frozen
class ReadingTaken:
    """Readings of one time that count, in mm, and at which angle around the seat where that was noted.

    ``confirmed`` are the places of those that stand apart and were said to be right.
    """

    values_mm: tuple[float, ...]
    angles_deg: tuple[float, ...] = ()
    caliper: Caliper = Caliper()
    confirmed: frozenset[int] = frozenset()


@frozen
class UncertaintyPart:
    """One part of an uncertainty, as a standard one in mm."""

    of: str
    standard_uncertainty_mm: float


@frozen
class SeriesReport:
    """What readings say. ``parts`` are those of the uncertainty; ``fields`` what would be written to the piece.

    ``pooled`` is the mean of all series that agree, weighted by how sure each is; ``apart`` says how far this one is
    from the earlier ones where they do not. ``slips`` are the places of likely slips that nobody confirmed: while there
    are any, in this series or an earlier one, nothing is written. ``nominal_says`` tells which of the two is in doubt.
    """

    measured: MeanMeasured
    parts: tuple[UncertaintyPart, ...]
    wedge: Wedge | None
    wedge_says: str
    slips: tuple[int, ...]
    slip_says: str
    pooled_mm: float | None
    pooled_uncertainty_mm: float | None
    apart: float | None
    contradicted: bool
    fields: dict[str, float]
    nominal_says: str
    says: str


def taken_of(record: ReadingSeries) -> ReadingTaken:
    """The readings of a record that count."""
    counting = record.counting
    angles = [reading.angle_deg for reading in counting if reading.angle_deg is not None]
    return ReadingTaken(
        tuple(reading.mm for reading in counting),
        tuple(angles) if len(angles) == len(counting) else (),
        Caliper(record.zero_mm, record.resolution_mm, record.error_mm),
        frozenset(place for place, reading in enumerate(counting) if reading.confirmed),
    )


def slips_of(record: ReadingSeries, quantity: Quantity) -> tuple[int, ...]:
    """The places of a record's readings that are likely slips, and neither struck out nor confirmed."""
    if record.struck or not record.counting:
        return ()
    taken = taken_of(record)
    counting = [place for place, reading in enumerate(record.readings) if not reading.struck]
    return tuple(counting[place] for place in _unconfirmed(_measured(quantity, taken), taken))


def series_told(
    piece: PieceOnBench, quantity: Quantity, hand: ReadingSeries, kept: Sequence[ReadingSeries], before: Before
) -> tuple[Source, SeriesReport] | None:
    """What the readings in hand say beside those that were kept, the latest first; with none in hand the latest kept.

    Readings of an invented copy and of the piece itself are never put together. None without any reading.
    """
    standing = [
        reading_series for reading_series in (hand, *kept) if not reading_series.struck and reading_series.counting
    ]
    if not standing:
        return None
    source = standing[0].source
    series = [
        taken_of(reading_series)
        for reading_series in standing
        if (reading_series.source == "simulated") == (source == "simulated")
    ]
    return source, series_report(piece, quantity, series[0], series[1:], before=before)


def spread_of(kept: Sequence[ReadingSeries]) -> float | None:
    """The spread of the latest series that stands and was read at several places; None without one."""
    for reading_series in kept:
        values = [reading.mm for reading in reading_series.counting]
        if not reading_series.struck and len(values) > 1:
            return max(values) - min(values)
    return None


def wedge_tangent(values_mm: Sequence[float], angles_deg: Sequence[float], seat_mm: float) -> tuple[float, bool]:
    """tan τ of a seat, and whether it is just at least so much.

    By the plane through readings whose angles are known (from three on); else the spread over the diameter.
    """
    if len(values_mm) == len(angles_deg) and len(set(angles_deg)) >= 3:
        at = np.radians(np.asarray(angles_deg))
        radius = seat_mm / 2
        design = np.column_stack([np.ones_like(at), radius * np.cos(at), radius * np.sin(at)])
        _, along, across = np.linalg.lstsq(design, np.asarray(values_mm, dtype=np.float64), rcond=None)[0]
        return float(np.hypot(along, across)), False
    return (max(values_mm) - min(values_mm)) / seat_mm, True


def series_report(
    piece: PieceOnBench,
    quantity: Quantity,
    taken: ReadingTaken,
    earlier: Sequence[ReadingTaken] = (),
    *,
    before: Before = _USUALLY,
) -> SeriesReport:
    """What readings of one quantity say, a wedge by what the piece stands before. Raises ValueError without any."""
    result = _measured(quantity, taken)
    past = [_measured(quantity, taken) for taken in earlier if taken.values_mm]
    floor = min(_systematic_mm(quantity, some) for some in (taken, *earlier))
    pooled, doubt, apart = _pooled(result, past, floor)
    agrees = apart is None or abs(apart) <= IN_DOUBT
    mean = result.mean_mm if pooled is None or not agrees else pooled
    u = result.standard_uncertainty_mm if doubt is None or not agrees else doubt
    wedge, wedge_says = _wedge(quantity, taken, before)
    slips = _unconfirmed(result, taken)
    earlier_slips = any(_unconfirmed(_measured(quantity, taken), taken) for taken in earlier if taken.values_mm)
    slip_says = _slip_says(result, slips, quantity, taken, earlier=earlier_slips)
    return SeriesReport(
        measured=result,
        parts=_parts(result, quantity, taken),
        wedge=wedge,
        wedge_says=wedge_says,
        slips=slips,
        slip_says=slip_says,
        pooled_mm=pooled if agrees else None,
        pooled_uncertainty_mm=doubt if agrees else None,
        apart=apart,
        contradicted=not agrees,
        fields={} if slips or earlier_slips else _fields(quantity, mean, u),
        nominal_says=_nominal_says(piece, quantity, result, mean, u, agrees=agrees),
        says=f"{piece.name}, {quantity.label}: {mean:.3f} ± {u:.3f} mm",
    )


def _measured(quantity: Quantity, taken: ReadingTaken) -> MeanMeasured:
    caliper = taken.caliper
    return measured(
        taken.values_mm,
        zero_mm=caliper.zero_mm,
        resolution_mm=caliper.resolution_mm,
        error_mm=caliper.error_mm,
        mark_mm=quantity.mark_mm,
        nominal_mm=quantity.nominal_mm,
        tolerance_mm=quantity.tolerance_mm,
    )


def _unconfirmed(found: MeanMeasured, taken: ReadingTaken) -> tuple[int, ...]:
    return tuple(place for place in found.slips if place not in taken.confirmed)


def _slip_says(
    found: MeanMeasured, slips: Sequence[int], quantity: Quantity, taken: ReadingTaken, *, earlier: bool
) -> str:
    """Readings that stand apart from the others, and a mean that stands apart from what is stated."""
    said = []
    if slips:
        named = written.listed([f"{taken.values_mm[place]:.2f} mm (no. {place + 1})" for place in slips])
        said.append(f"{named}: likely a slip of the hand. Strike it out, measure there again, or say that it is right.")
    if earlier:
        said.append("An earlier series has a likely slip of the hand: strike it out, or say that it is right.")
    if found.other_length and quantity.nominal_mm is not None:
        said.append(f"Far from {quantity.nominal_mm:.2f} mm as stated: was it this length that was measured?")
    return " ".join(said)


def _parts(found: MeanMeasured, quantity: Quantity, taken: ReadingTaken) -> tuple[UncertaintyPart, ...]:
    caliper = taken.caliper
    told = [
        UncertaintyPart("the readings themselves", found.repeatability_mm / math.sqrt(len(taken.values_mm))),
        UncertaintyPart("resolution of the caliper", caliper.resolution_mm / math.sqrt(12)),
        UncertaintyPart("error that its maker allows", caliper.error_mm / math.sqrt(3)),
    ]
    if quantity.mark_mm:
        told.append(UncertaintyPart("half the width of the mark", quantity.mark_mm / math.sqrt(3)))
    return tuple(told)


def _pooled(
    found: MeanMeasured, past: Sequence[MeanMeasured], floor_mm: float
) -> tuple[float | None, float | None, float | None]:
    """Mean and uncertainty of all series, and how far this one is from the earlier ones in uncertainties of both.

    One caliper errs alike in every series: pooling lessens only what its readings scatter, never below ``floor_mm``.
    """
    # A caliper without any error of its own: nothing to weigh by.
    if not past or any(mean.standard_uncertainty_mm <= 0 for mean in (found, *past)):
        return None, None, None
    before, before_u = _weighted(past)
    mean, u = _weighted([found, *past])
    return mean, max(u, floor_mm), (found.mean_mm - before) / math.hypot(found.standard_uncertainty_mm, before_u)


def _weighted(series: Sequence[MeanMeasured]) -> tuple[float, float]:
    weights = [1 / mean.standard_uncertainty_mm**2 for mean in series]
    total = math.fsum(weights)
    return math.fsum(w * mean.mean_mm for w, mean in zip(weights, series, strict=True)) / total, 1 / math.sqrt(total)


def _systematic_mm(quantity: Quantity, taken: ReadingTaken) -> float:
    """What no further reading lessens: all of the doubt but the scatter."""
    caliper = taken.caliper
    return standard_uncertainty_mm(0.0, 1, caliper.resolution_mm, caliper.error_mm, quantity.mark_mm)


def _wedge(quantity: Quantity, taken: ReadingTaken, before: Before) -> tuple[Wedge | None, str]:
    seat = quantity.seat_mm
    if seat is None or len(taken.values_mm) < 2:
        return None, ""
    tangent, least = wedge_tangent(taken.values_mm, taken.angles_deg, seat)
    wedge = wedge_of(tangent * seat, seat, before.width_mm, before.behind, before.magnification, before.circle_mm)
    if wedge.defocus_mm <= taken.caliper.resolution_mm / 2:
        return wedge, "The mount faces are square as far as these readings tell."
    at_least = "at least " if least else ""
    return wedge, (
        f"The mount faces are out of square by {at_least}{wedge.wedge_deg:.3f}°: ±{wedge.defocus_mm:.3f} mm at the "
        f"ends of {before.width_mm:g} mm, hidden from f/{max(wedge.hidden_from_f_number, 0.1):.1f} on."
    )


def _fields(quantity: Quantity, mean: float, u: float) -> dict[str, float]:
    """What is written: three places of a millimetre, its doubt never rounded down."""
    fields = {quantity.writes: tidy(round(mean - quantity.less_mm, 3))}
    if quantity.writes_tolerance is not None:
        fields[quantity.writes_tolerance] = math.ceil(math.sqrt(3) * u * 1000 - 1e-6) / 1000
    return fields


def _nominal_says(
    piece: PieceOnBench, quantity: Quantity, found: MeanMeasured, mean: float, u: float, *, agrees: bool
) -> str:
    if not agrees:
        return (
            "This series and the earlier ones contradict each other: measure a third time, jaws cleaned and closed to"
            " zero, before anything is written."
        )
    if quantity.nominal_mm is None:
        return "Nobody stated this length: it is known by these readings alone."
    score = nominal_score(mean, u, quantity.nominal_mm, quantity.tolerance_or_usual_mm)
    off = mean - quantity.nominal_mm
    stated = f"{quantity.nominal_mm:.2f} mm as stated"
    if abs(score) <= IN_DOUBT:
        return f"It agrees with {stated}: {off:+.3f} mm is within what both leave open."
    if found.assumed:
        return f"{off:+.3f} mm from {stated}. One reading alone: the reading is in doubt before the nominal is."
    return (
        f"{off:+.3f} mm from {stated}, {abs(score):.1f} standard uncertainties: the stated length is in doubt, not the"
        f" readings. {piece.name} is {'longer' if off > 0 else 'shorter'} than it says."
    )
