"""Measured from pictures: edges, an evenly lit frame, a focus ladder, and the error of a ring by its blur."""

from __future__ import annotations

import argparse
import csv
import json
import math
import os
import sys
from collections.abc import Sequence
from dataclasses import asdict
from pathlib import Path
from typing import Any

from tropeion.core.bench.rig_on_bench import rig_on_bench
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import MountlessError, UnknownIdError, UnknownRegisterError
from tropeion.core.measured.ladder import USUAL_LENGTH_MM, ladder_of
from tropeion.core.measured.lines import OtherShapeError, circle_line, edge_line, pitch_mm
from tropeion.core.measured.ring_error import ring_of
from tropeion.core.measured.slanted import WORDS
from tropeion.core.optics.modes import modes_of
from tropeion.core.practice import Practice
from tropeion.formats.cells import text_cell
from tropeion.pictures.measuring import PictureMeasured
from tropeion.pictures.worker import Worker

from .inputs import InputRefusedError, chain_of, world_asked


def add_measure(measure: argparse.ArgumentParser) -> None:
    kinds = measure.add_subparsers(dest="measure", required=True)
    edge = kinds.add_parser("edge", help="how sharp slanted edges are: all that qualify, or one region")
    edge.add_argument("picture", metavar="PICTURE", type=Path, help="JPEG, TIFF, PNG or raw")
    edge.add_argument("--region", action="append", default=[], metavar="X,Y,W,H", help="in pixels, may be repeated")
    edge.set_defaults(run=run_edge)
    circle = kinds.add_parser("circle", help="image circle and fall-off of an evenly lit frame")
    circle.add_argument("picture", metavar="PICTURE", type=Path)
    circle.set_defaults(run=run_circle)
    ladder = kinds.add_parser("ladder", help="where along a focus ladder it is sharpest")
    ladder.add_argument("picture", metavar="PICTURE", type=Path)
    ladder.add_argument("--from", dest="start", required=True, metavar="X,Y", help="one end of the ladder, in pixels")
    ladder.add_argument("--to", dest="end", required=True, metavar="X,Y", help="its other end")
    usual = f"between the two ends (default {USUAL_LENGTH_MM:g}, as printed)"
    ladder.add_argument("--length", type=float, default=USUAL_LENGTH_MM, metavar="MM", help=usual)
    ladder.set_defaults(run=run_ladder)
    ring = kinds.add_parser("ring", help="the error of a flange, by the blur of a frame beside one in focus")
    ring.add_argument("picture", metavar="PICTURE", type=Path)
    ring.add_argument("--reference", type=Path, metavar="PICTURE", help="the same edge in focus, at the same stop")
    ring.add_argument("--lens", required=True, metavar="ID")
    ring.add_argument("--via", metavar="ADAPTERS", help="ids lens to body, by commas (default: the best chain)")
    ring.add_argument("--aperture", type=float, required=True, metavar="N", help="the marked stop")
    ring.add_argument("--distance", required=True, metavar="M", help="of the edge, in m; inf is far away")
    ring.add_argument("--ring", required=True, metavar="WHERE", help="far_stop, infinity_mark, or the distance in m")
    ring.add_argument("--region", action="append", default=[], metavar="X,Y,W,H", help="an edge, may be repeated")
    ring.set_defaults(run=run_ring)
    for command in (edge, circle, ladder, ring):
        command.add_argument("--sensor", metavar="W,H", help="the part of the sensor in use, in mm")
        command.add_argument("--body", metavar="ID", required=command is ring, help="whose sensor it is")
        command.add_argument("--mode", metavar="NAME", help="with --body: the part of its sensor, full or by its name")
        source = command.add_mutually_exclusive_group()
        source.add_argument("--gear", metavar="FILE", help="gear file, '-' or 'sample' (default: your collection)")
        source.add_argument("--data", type=Path, metavar="DIR", help="folder of the collection")
        command.add_argument("--csv", action="store_true", help="print a table")
        command.add_argument("--json", action="store_true", help="print the whole report")


def _numbers(place: str, text: str, count: int, right: str) -> tuple[float, ...]:
    try:
        values = tuple(float(part) for part in text.split(","))
    except ValueError:
        values = ()
    if len(values) != count or not all(math.isfinite(value) for value in values):
        raise InputRefusedError(f"{place} “{text}”: {right}", 2)
    return values


def _regions(texts: Sequence[str]) -> list[list[int]]:
    regions = []
    for text in texts:
        x, y, width, height = _numbers("--region", text, 4, "X,Y,W,H in pixels, 1200,800,120,220")
        if min(x, y) < 0 or min(width, height) < 1:
            raise InputRefusedError(f"--region “{text}”: X and Y from 0, W and H from 1", 2)
        regions.append([round(x), round(y), round(width), round(height)])
    return regions


def _take(path: Path, asked: dict[str, Any]) -> PictureMeasured:
    whole = path.absolute()
    if not whole.is_file():
        raise InputRefusedError(f"{path}: there is no such file", 2)
    worker = Worker()
    try:
        found = worker.measure(whole.parent, os.fsencode(whole.name), asked)
    finally:
        worker.close()
    if isinstance(found, str):
        raise InputRefusedError(f"{path}: {found}", 2)
    return found


def _pitch(options: argparse.Namespace, found: PictureMeasured) -> float | None:
    """Of a pixel in mm; None where nobody said what the sensor is."""
    if options.mode is not None and options.body is None:
        raise InputRefusedError("--mode goes with --body; without it --sensor states the size in use", 2)
    if options.sensor is not None:
        width, height = _numbers("--sensor", options.sensor, 2, "W,H in mm, 36,24")
        if min(width, height) <= 0:
            raise InputRefusedError(f"--sensor “{options.sensor}”: each more than 0", 2)
        size = (width, height)
    elif options.body is not None:
        try:
            body = world_asked(options).body(options.body)
        except UnknownIdError as error:
            raise InputRefusedError(str(error), 2) from None
        modes = {mode.name: mode for use in ("still", "film") for mode in modes_of(body, use)}
        if options.mode is not None and options.mode not in modes:
            raise InputRefusedError(f"--mode {options.mode}: {body.name} has {', '.join(modes)}", 2)
        chosen = modes[options.mode or "full"]
        size = (chosen.width_mm, chosen.height_mm)
    else:
        return None
    try:
        return pitch_mm((found.width, found.height), size)
    except OtherShapeError as error:
        hint = "--mode" if options.body is not None else "--sensor"
        raise InputRefusedError(f"{error} ({hint})", 2) from None


def _print(options: argparse.Namespace, document: dict[str, Any], rows: str, lines: Sequence[str]) -> int:
    if options.json:
        print(json.dumps(document, ensure_ascii=False, indent=1))
    elif options.csv:
        table = document[rows] if isinstance(document[rows], list) else [document]
        out = csv.writer(sys.stdout, lineterminator="\n")
        names = list(table[0]) if table else []
        out.writerow(names)
        for row in table:
            out.writerow(["" if row[name] is None else text_cell(str(row[name])) for name in names])
    else:
        print("\n".join(lines))
    return 0


def run_edge(options: argparse.Namespace) -> int:
    regions = _regions(options.region)
    asked = {"what": "regions", "regions": regions} if regions else {"what": "edges"}
    found = _take(options.picture, asked)
    pitch = _pitch(options, found)
    unit = "px" if pitch is None else "mm"
    edges = []
    for edge in found.edges:
        line = asdict(edge_line(edge, pitch, None, as_sharpened=found.as_sharpened))
        blur, doubt = line.pop("blur"), line.pop("blur_uncertainty")
        sharpened = line.pop("sharpened")
        edges.append({**line, f"blur_{unit}": blur, f"blur_uncertainty_{unit}": doubt, "sharpened": sharpened})
    refused = [{"x": one.x, "y": one.y, "why": one.why} for one in found.refused]
    lines = [
        f"  {edge['x']:.0f}, {edge['y']:.0f}: {_sharp(edge)}{', sharpened' if edge['sharpened'] else ''}"
        for edge in edges
    ]
    lines += [f"  {one.x:.0f}, {one.y:.0f}: not measured, {WORDS[one.why]}" for one in found.refused]
    head = f"{len(edges)} {'edge' if len(edges) == 1 else 'edges'}{_as_sharpened(found)}"
    return _print(options, {"edges": edges, "refused": refused}, "edges", [head, *lines])


def _as_sharpened(found: PictureMeasured) -> str:
    return ", as the camera sharpened it" if found.as_sharpened else ""


def _sharp(edge: dict[str, Any]) -> str:
    doubt = "" if edge["uncertainty"] is None else f" ± {edge['uncertainty']:.3f}"
    lp = edge["mtf50_lp_per_mm"]
    per_mm = "" if lp is None else f", {lp:.0f} lp/mm"
    return f"{edge['mtf50_cycles_per_pixel']:.3f}{doubt} cycles a pixel{per_mm}, at {edge['angle_deg']:+.1f}°"


def run_circle(options: argparse.Namespace) -> int:
    found = _take(options.picture, {"what": "lit"})
    assert found.lit is not None
    pitch = _pitch(options, found)
    unit = "px" if pitch is None else "mm"
    line = circle_line(found.lit, pitch)
    document = {
        f"circle_{unit}": line.circle,
        f"at_least_{unit}": line.at_least,
        f"doubt_{unit}": line.doubt,
        f"centre_{unit}": list(line.centre),
        "falloff_stops": {"half_height": line.half_height_stops, "corner": line.corner_stops},
        "corners_dark": line.corners_dark,
    }
    if line.circle is not None:
        told = f"circle {line.circle:.2f} ± {line.doubt or 0:.2f} {unit}"
    else:
        told = (
            f"circle of {line.at_least or 0:.2f} {unit} at least{', the corners are dark' if line.corners_dark else ''}"
        )
    stops = [
        f"{'black' if value is None else f'{value:.2f} stops'} {where}"
        for value, where in ((line.half_height_stops, "at half the height"), (line.corner_stops, "in the corner"))
    ]
    if options.csv:
        document = {
            **{name: value for name, value in document.items() if name not in {"falloff_stops", f"centre_{unit}"}},
            f"centre_x_{unit}": line.centre[0],
            f"centre_y_{unit}": line.centre[1],
            "half_height_stops": line.half_height_stops,
            "corner_stops": line.corner_stops,
        }
    return _print(options, document, f"circle_{unit}", [told, f"  falls off by {', '.join(stops)}"])


def run_ladder(options: argparse.Namespace) -> int:
    start = _numbers("--from", options.start, 2, "X,Y in pixels")
    end = _numbers("--to", options.end, 2, "X,Y in pixels")
    if not 0 < options.length <= 10_000:
        raise InputRefusedError(f"--length {options.length:g}: in mm, more than 0", 2)
    found = _take(options.picture, {"what": "edges"})
    _pitch(options, found)
    try:
        ladder = ladder_of(found.edges, (start[0], start[1]), (end[0], end[1]), options.length)
    except ValueError as error:
        raise InputRefusedError(f"--from, --to: {error}", 2) from None
    points = [
        {
            "x": rung.x,
            "y": rung.y,
            "offset_mm": rung.offset_mm,
            "mtf50_cycles_per_pixel": rung.mtf50,
            "uncertainty": rung.uncertainty,
        }
        for rung in ladder.rungs
    ]
    peak = None if ladder.peak is None else asdict(ladder.peak)
    lines = [f"  {rung.offset_mm:+.1f} mm: {rung.mtf50:.3f} cycles a pixel" for rung in ladder.rungs]
    told = (
        f"sharpest {ladder.peak.offset_mm:+.2f} ± {ladder.peak.doubt_mm:.2f} mm from its middle"
        if ladder.peak is not None
        else f"not told: {ladder.why}"
    )
    return _print(options, {"points": points, "peak": peak}, "points", [told, *lines])


def run_ring(options: argparse.Namespace) -> int:
    world = world_asked(options)
    regions = _regions(options.region)
    asked: dict[str, Any] = {"what": "regions", "regions": regions} if regions else {"what": "edges"}
    distance = _metres("--distance", options.distance, {"inf": math.inf})
    ring = _metres("--ring", options.ring, {"far_stop": None, "infinity_mark": math.inf})
    assert distance is not None
    try:
        practice = Practice()
        via = chain_of(world, options.lens, options.body, options.via, practice)
        on_bench = rig_on_bench(world, Rig.of(options.lens, options.body, via), practice)
    except (UnknownIdError, MountlessError, UnknownRegisterError) as error:
        raise InputRefusedError(str(error), 2) from None
    found = _take(options.picture, asked)
    pitch = _pitch(options, found)
    assert pitch is not None, "--body says it"
    reference = None if options.reference is None else _take(options.reference, asked)
    try:
        measured = ring_of(
            on_bench.bench,
            found,
            reference,
            pitch_mm=pitch,
            f_number=options.aperture,
            distance_mm=distance,
            ring_mm=ring,
        )
    except ValueError as error:
        raise InputRefusedError(f"{options.picture}: {error}", 2) from None
    document = asdict(measured)
    lines = [
        "in focus as far as this camera can tell"
        if measured.in_focus
        else f"blurred by {1000 * measured.blur_mm:.1f} ± {1000 * measured.doubt_mm:.1f} µm{_as_sharpened(found)}"
    ]
    lines += [f"  error {error.register_error_mm:+.3f} ± {error.doubt_mm:.3f} mm" for error in measured.errors]
    if not measured.astigmatism_checked:
        lines.append("  one direction alone: astigmatism was not checked")
    return _print(options, document, "errors", lines)


def _metres(place: str, text: str, words: dict[str, float | None]) -> float | None:
    """A distance in mm, or what a word stands for."""
    if text in words:
        return words[text]
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not 0 < value < 1e6:
        raise InputRefusedError(f"{place} {text}: {', '.join(words)} or a distance in m", 2)
    return 1000 * value
