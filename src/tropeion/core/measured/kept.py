"""What measurements that were kept come to: sharpness by aperture, and what compares with what."""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core.records.measurement import PictureMeasurement

from .sharpness import Sharp


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
