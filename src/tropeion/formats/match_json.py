"""The report of a pair as scripts read it from ``match --json``: flat routes, ``long_end``, ``stations``.

The core reports ends and placed pieces instead; this form stays as it is for those who depend on it.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from typing import Any

from pydantic import TypeAdapter

from tropeion.core.answers.fits import FitsReport
from tropeion.core.rig.rig_report import MatchReport
from tropeion.core.rig.section import PlacedAdapter, PlacedBody, PlacedLens, Section

# What stands where ``ends`` do, in this order.
_OF_AN_END = ("infinity", "focus", "focal_length_mm", "f_number", "working_f_number")
_BESIDE = ("equivalents", "stabiliser", "depth_of_field", "native")


@cache
def _written_by(kind: type[MatchReport | FitsReport]) -> TypeAdapter[Any]:
    """How a report is written: made when one is first asked for, which takes longer than to write it."""
    return TypeAdapter(kind)


def match_document(report: MatchReport) -> dict[str, Any]:
    """A match report for scripts."""
    document: dict[str, Any] = _written_by(MatchReport).dump_python(report, mode="json")
    routes = zip(document["routes"], report.routes, strict=True)
    document["routes"] = [_route(written, route.section) for written, route in routes]
    document["apart"] = stations_of(report.apart)
    return document


def fits_document(report: FitsReport) -> dict[str, Any]:
    """What fits one end, for scripts."""
    document: dict[str, Any] = _written_by(FitsReport).dump_python(report, mode="json")
    for written, fit in zip(document["fits"], report.fits, strict=True):
        del written["section"]
        written["stations"] = stations_of(fit.section)
    document["alone"] = stations_of(report.alone)
    return document


def _route(written: dict[str, Any], section: Section) -> dict[str, Any]:
    """One route; its keys stand in the order in which they always stood."""
    ends, details = written.pop("ends"), written.pop("details") or {}
    del written["coverage"]["whole"]
    flat: dict[str, Any] = {}
    for key, value in written.items():
        match key:
            case "light_change_stops":
                flat |= {name: ends[0][name] for name in _OF_AN_END}
                flat[key] = value
            case "circle_of_confusion_mm":
                flat |= {name: ends[0][name] for name in _BESIDE}
                flat["long_end"] = ends[1] if len(ends) > 1 else None
                flat[key] = value
                flat["functions"] = details.get("functions", [])
                flat["exposure_modes"] = details.get("exposure_modes", [])
            case "section":
                flat["stations"] = stations_of(section)
            case "clashes":
                flat["steps"] = details.get("steps", [])
                flat[key] = value
            case _:
                flat[key] = value
    return flat


def stations_of(section: Section | None) -> list[dict[str, Any]]:
    """Every seat, face, bore and pupil in mm before the sensor, from the back of the body to the front of the lens."""
    return [] if section is None else list(_along(section))


def _station(kind: str, link: str, at_mm: float, diameter_mm: float | None) -> dict[str, Any]:
    return {"kind": kind, "link": link, "at_mm": at_mm, "diameter_mm": diameter_mm}


def _along(section: Section) -> Iterator[dict[str, Any]]:
    lens = section.lens
    if section.body is not None:
        yield from _of_body(section.body)
    for adapter in reversed(section.adapters):
        yield from _of_adapter(adapter)
    if lens is not None:
        yield from _of_lens(lens)
        yield _station("needed_seat", lens.link, lens.needed_seat_mm, _known(lens, "outer_mm", lens.flange_mm))
        yield _station("waist", lens.link, section.waist_mm or 0.0, None)


def _known(piece: PlacedBody | PlacedAdapter | PlacedLens, name: str, value: float) -> float | None:
    """A measure, unless it was assumed for the drawing."""
    return None if name in piece.assumed else value


def _of_body(body: PlacedBody) -> Iterator[dict[str, Any]]:
    if "depth_mm" not in body.assumed:
        yield _station("body_back", body.link, body.back_mm, _known(body, "height_mm", body.height_mm))
    yield _station("sensor", body.link, 0.0, body.sensor_mm)
    yield _station("mode", body.link, 0.0, body.mode_mm)
    if body.obstruction_mm is not None:
        yield _station("obstruction", body.link, body.obstruction_mm, None)
    if "throat_mm" not in body.assumed:
        yield _station("throat", body.link, body.seat_mm, body.throat_mm)
    yield _station("body_seat", body.link, body.seat_mm, _known(body, "outer_mm", body.flange_mm))


def _of_adapter(adapter: PlacedAdapter) -> Iterator[dict[str, Any]]:
    outer = _known(adapter, "outer_mm", adapter.outer_mm)
    bore = _known(adapter, "bore_mm", adapter.bore_mm)
    yield _station("adapter_rear", adapter.link, adapter.rear_mm, outer)
    yield _station("bore_rear", adapter.link, adapter.rear_mm, bore)
    if adapter.filter_mm is not None:
        yield _station("filter", adapter.link, adapter.filter_mm, bore)
    if adapter.glass_mm is not None:
        yield _station("glass", adapter.link, adapter.glass_mm, bore)
    yield _station("bore_front", adapter.link, adapter.front_mm, bore)
    yield _station("adapter_front", adapter.link, adapter.front_mm, outer)


def _of_lens(lens: PlacedLens) -> Iterator[dict[str, Any]]:
    yield _station("lens_seat", lens.link, lens.seat_mm, _known(lens, "outer_mm", lens.flange_mm))
    if "rear_protrusion_mm" not in lens.assumed:
        rear = _known(lens, "rear_diameter_mm", lens.rear_diameter_mm)
        yield _station("rear_vertex", lens.link, lens.rear_vertex_mm, rear)
    if lens.exit_pupil_mm is not None:
        yield _station("exit_pupil", lens.link, lens.exit_pupil_mm, lens.exit_pupil_diameter_mm)
    if "length_mm" not in lens.assumed:
        yield _station("lens_front", lens.link, lens.front_mm, _known(lens, "diameter_mm", lens.diameter_mm))
