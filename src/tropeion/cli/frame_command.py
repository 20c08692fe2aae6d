"""What a rig would record of a scene: its numbers, and the picture as a file."""

from __future__ import annotations

import argparse
import json
import math
from pathlib import Path

from pydantic import TypeAdapter

from tropeion.core import written
from tropeion.core.frame.frame_report import FrameReport
from tropeion.core.frame.question import FrameQuestion, NotPossibleError, SubjectAt
from tropeion.core.frame.simulated import frame_of, seed_of
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import MountlessError, UnknownIdError
from tropeion.formats.frame_png import picture_of

from .inputs import InputRefusedError, chain_of, practice_of, world_of, write_whole

_REPORT = TypeAdapter(FrameReport)
ROWS = 600
# What a field of the question is called on the command line.
OPTIONS = {
    "at_m": "--at-m",
    "focal_length_mm": "--mm",
    "f_number": "--aperture",
    "mode": "--mode",
    "shift_mm": "--shift",
    "tilt_deg": "--tilt",
    "correct": "--correct",
    "subject_m": "--subject",
    "distance_m": "--subject",
    "lens_m": "--subject",
}


def run_frame(options: argparse.Namespace) -> int:
    world, practice = world_of(options.file), practice_of(options)
    try:
        question = _question(options)
        via = chain_of(world, options.lens, options.body, options.via, practice)
        frame = frame_of(world, Rig.of(options.lens, options.body, via), question, practice)
    except NotPossibleError as error:
        raise InputRefusedError(f"{OPTIONS.get(error.field, error.field)}: {error}", 2) from None
    except (UnknownIdError, MountlessError) as error:
        raise InputRefusedError(str(error), 2) from None
    report = frame.report
    if options.png is not None:
        data = picture_of(frame, ROWS, seed_of(repr(question)))
        if data is None:
            raise InputRefusedError(f"there is no picture: {report.reason}", 2)
        write_whole(Path(options.png), data)
    if options.json:
        print(json.dumps(_REPORT.dump_python(report, mode="json"), ensure_ascii=False, indent=1))
    else:
        _print(report)
    return 0


def _question(options: argparse.Namespace) -> FrameQuestion:
    shift, subject = (
        _numbers(options.shift, 2, "--shift", "X,Y in mm"),
        _numbers(options.subject, 3, "--subject", "H,D,A: height, distance and height of the lens, in m"),
    )
    return FrameQuestion(
        scene=options.scene,
        at_m=options.at_m,
        f_number=options.aperture,
        focal_length_mm=options.mm,
        mode=options.mode,
        upright=options.upright,
        shift_mm=None if shift is None else (shift[0], shift[1]),
        tilt_deg=options.tilt or 0.0,
        correct=options.correct,
        subject=None if subject is None else SubjectAt(*subject),
    )


def _numbers(text: str | None, count: int, name: str, wanted: str) -> list[float] | None:
    if text is None:
        return None
    try:
        numbers = [float(part) for part in text.split(",")]
    except ValueError:
        numbers = []
    if len(numbers) != count or not all(math.isfinite(value) for value in numbers):
        raise InputRefusedError(f"{name} takes {wanted}", 2)
    return numbers


def _print(report: FrameReport) -> None:
    names = report.names
    chain = " + ".join(names[id_] for id_ in report.adapters) or "bare"
    print(f"{names[report.lens]} on {names[report.body]}, {chain}")
    print(report.reason or report.sentence)
    for blur in report.blur:
        at = "infinity" if blur.distance_m is None else written.distance(blur.distance_m * 1000, "metric")
        print(f"  blur at {at}: " + ("inside the lens" if blur.diameter_mm is None else f"{blur.diameter_mm:.3f} mm"))
    for mode in report.modes:
        held = "not known" if mode.covered is None else "covered" if mode.covered else "not covered"
        print(f"  {mode.name}: {held}" + ("" if mode.margin_mm is None else f", margin {mode.margin_mm:+.2f} mm"))
    shift = report.shift
    allowed = "not known" if shift.rise_allowed_mm is None else f"{shift.rise_allowed_mm:.1f} mm"
    print(f"  rise wanted {shift.rise_wanted_mm:.1f} mm, allowed by the circle {allowed}, pitch {shift.pitch_deg:.1f}°")
    for said in (*report.caption.known, *report.caption.assumed, *report.caption.left_out, report.no_room):
        if said:
            print(f"  {said}")
