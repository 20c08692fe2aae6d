"""What measurements that were kept come to: sharpness by aperture, and what compares with what."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from tropeion.core.records.measurement import PictureMeasurement

from .sharpness import USUAL_VIEWING, Sharp, UsableMeasured, Use, Viewing, demand_of, usable_measured


def sharp_in(measurement: PictureMeasurement) -> list[Sharp]:
    """Its edges in lp/mm; none where the stop or the sensor is not known."""
    pitch, stop = measurement.pitch_mm, measurement.f_number
    if not pitch or stop is None:
        return []
    return [
        Sharp(
            stop,
            edge.place,
            edge.mtf50_cycles_per_pixel / pitch,
            None if edge.uncertainty is None else edge.uncertainty / pitch,
        )
        for edge in measurement.edges
    ]


def compares(mine: Sequence[PictureMeasurement], theirs: Sequence[PictureMeasurement], *, same_body: bool) -> str:
    """Why two do not compare; empty where they do.

    What a camera sharpened compares with what the same body sharpened alone, and with no raw file.
    """
    kinds = {one.as_sharpened for one in (*mine, *theirs)}
    if len(kinds) > 1:
        return "one is as its camera sharpened it, the other is not: take both as raw files"
    if kinds == {True} and not same_body:
        return "both are as their cameras sharpened them, and these are two bodies: take both as raw files"
    return ""


def newest_mark(records: Sequence[PictureMeasurement]) -> list[PictureMeasurement]:
    """Those at the mark of a zoom that was measured last: another mark is another lens. The latest comes first."""
    told = [record for record in records if sharp_in(record)]
    return [record for record in told if record.focal_length_mm == told[0].focal_length_mm]


def usable_of(
    records: Sequence[PictureMeasurement], viewings: Mapping[Use, Viewing], stated_lp_per_mm: Mapping[Use, float]
) -> list[UsableMeasured]:
    """At which stops each use is met, by raw figures alone; the print is as large as the part of the sensor in use.

    ``viewings`` and ``stated_lp_per_mm`` replace what is usual of a use.
    """
    raw = [record for record in records if not record.as_sharpened]
    sharp = [one for record in raw for one in sharp_in(record)]
    widths = [record.pitch_mm * max(record.width_px, record.height_px) for record in raw if record.pitch_mm]
    if not sharp:
        return []
    return [
        usable_measured(sharp, demand_of(use, min(widths), viewings.get(use, usual), stated_lp_per_mm.get(use)))
        for use, usual in USUAL_VIEWING.items()
    ]
