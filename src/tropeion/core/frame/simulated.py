"""A rig set for a picture: what the sensor would record, and every number beside it."""

from __future__ import annotations

import math
import zlib

from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.optics import coverage, depth, equivalents, modes
from tropeion.core.optics.defocus import blur_diameter_mm, extension_for_mm, infinity_blur_mm
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.working import PLAIN, tidy

from .camera_set import Setup
from .frame_report import Blur, DepthRow, Frame, FrameReport, ModeRow
from .question import FrameQuestion
from .said import caption_of, no_room, reason_of, sentence_of

BLUR_AT_M = (1.0, 2.0, 5.0, 10.0, 50.0, math.inf)
DEPTH_AT_M = (1.0, 2.0, 5.0, 10.0)


def frame_of(world: World, rig: Rig, question: FrameQuestion | None = None, practice: Practice | None = None) -> Frame:
    """What a rig would record.

    Raises UnknownIdError for an id that is not in the collection, NotPossibleError for a setting that it has not.
    """
    setup = Setup(assess(world, *world.pieces_of(rig), practice or Practice()), question or FrameQuestion())
    report = _report(setup)
    return Frame(report, setup.scene(), setup.view()) if setup.works else Frame(report, None, None)


def seed_of(text: str) -> int:
    """The grain of an address: the same address has the same."""
    return zlib.crc32(text.encode())


def _report(setup: Setup) -> FrameReport:
    rig, lens, asked = setup.rig, setup.rig.lens, setup.asked
    circle, sides = rig.image_circle_mm, (setup.width_mm, setup.height_mm)
    caption = caption_of(setup)
    return FrameReport(
        lens=lens.id,
        body=rig.body.id,
        adapters=tuple(adapter.id for adapter in rig.adapters),
        names={piece.id: piece.name for piece in (lens, *rig.adapters, rig.body)},
        reason="" if setup.works else reason_of(setup),
        sentence=sentence_of(setup),
        scene=asked.scene,
        at_m=None if math.isinf(setup.at_m) else setup.at_m,
        sharp_m=setup.sharp_m,
        extension_mm=setup.extension_mm,
        subject=setup.subject,
        magnification=setup.k,
        focal_length_mm=setup.focal_mm,
        marked_mm=lens.focal_length_mm,
        f_number=setup.f_number,
        f_numbers=setup.f_numbers,
        working_f_number=setup.working_f_number,
        mode=rig.mode.name,
        width_mm=setup.width_mm,
        height_mm=setup.height_mm,
        upright=asked.upright,
        squeeze=lens.squeeze,
        desqueeze=asked.desqueeze,
        image_circle_mm=circle,
        circle_from=rig.circle_from,
        circle_doubt_mm=lens.image_circle_tolerance_mm,
        circle_of_confusion_mm=rig.blur_mm,
        field_m=setup.field_m,
        angles_deg=_angles(setup),
        blur=tuple(_blur(setup, value) for value in BLUR_AT_M),
        shift=setup.tall,
        shift_set_mm=setup.shift_set_mm,
        shift_fits=None if circle is None else coverage.covers_shift(circle, *sides, setup.shift_set_mm),
        rise_mechanism_mm=setup.shift_reach_mm(),
        stitch=setup.stitch,
        tilt=setup.hinge,
        depth=_depths(setup),
        modes=_modes(setup),
        moving=setup.moving,
        no_room=no_room(setup),
        stabiliser_travel_mm=None if rig.body.stabiliser is None else rig.body.stabiliser.travel_mm,
        steep_from_mm=setup.steep_from_mm,
        light_stops=-2 * math.log2(setup.total_light_f_number),
        caption=caption,
        assumed=caption.assumed,
    )


def _angles(setup: Setup) -> tuple[float, float] | None:
    """Angles of view across and up; a fisheye has none that is rectilinear."""
    lens = setup.rig.lens
    if lens.fisheye:
        return None
    across = equivalents.angle_of_view_deg(setup.width_mm * lens.squeeze, setup.focal_mm)
    return across, equivalents.angle_of_view_deg(setup.height_mm, setup.focal_mm)


def _blur(setup: Setup, distance_m: float) -> Blur:
    away = distance_m * 1000 + setup.rig.offset_mm
    diameter = blur_diameter_mm(setup.marked_mm, setup.own_f_number, setup.k, setup.extension_mm, away)
    return Blur(None if math.isinf(distance_m) else distance_m, diameter)


def _depths(setup: Setup) -> tuple[DepthRow, ...]:
    """Every stop, at usual distances, engraved ones and where it is focused now: those that the ring reaches."""
    short, long = setup.range_mm
    focused = {setup.sharp_m} if setup.works and setup.sharp_m is not None else set()
    reached = []
    for away in sorted({*DEPTH_AT_M, *(setup.rig.lens.marked_distances_m or ()), *focused}):
        extension = extension_for_mm(setup.marked_mm, away * 1000 + setup.rig.offset_mm)
        if extension is None or tidy(extension - short) < 0 or (long is not None and tidy(extension - long) > 0):
            continue
        reached.append((away, extension))
    rows = (_depth(setup, stop, *place) for stop in setup.f_numbers for place in reached)
    return tuple(row for row in rows if row is not None)


def _depth(setup: Setup, f_number: float, away_m: float, extension: float) -> DepthRow | None:
    offset = setup.rig.offset_mm
    sharp = depth.depth_of_field(
        away_m * 1000 + offset,
        focal_length_mm=setup.marked_mm,
        f_number=f_number,
        circle_mm=setup.rig.blur_mm,
        k=setup.k,
        calc=PLAIN,
    )
    if sharp is None:
        return None
    near = (sharp.near_mm - offset) / 1000
    far = None if sharp.far_mm is None else (sharp.far_mm - offset) / 1000
    total = None if far is None else far - near
    return DepthRow(
        f_number=f_number,
        distance_m=away_m,
        near_m=near,
        far_m=far,
        total_m=total,
        front_share=None if total is None else (away_m - near) / total,
        hyperfocal_m=sharp.hyperfocal_mm / 1000,
        infinity_blur_mm=infinity_blur_mm(f_number, setup.k, extension),
    )


def _modes(setup: Setup) -> tuple[ModeRow, ...]:
    """Every mode under the circle; what the whole sensor has is listed first."""
    rig = setup.rig
    all_modes = modes.modes_of(rig.body, rig.practice.use)
    return tuple(
        _mode(format_mode, all_modes[0], rig.image_circle_mm, in_use=format_mode.name == rig.mode.name)
        for format_mode in all_modes
    )


def _mode(mode: modes.FormatMode, whole: modes.FormatMode, circle: float | None, *, in_use: bool) -> ModeRow:
    margin = rise = upright = buys = costs = None
    if circle is not None:
        margin = coverage.corner_margin_mm(circle, mode.diagonal_mm)
        rise = coverage.max_rise_mm(circle, mode.width_mm, mode.height_mm)
        upright = coverage.max_rise_mm(circle, mode.height_mm, mode.width_mm)
        buys = tidy(rise - coverage.max_rise_mm(circle, whole.width_mm, whole.height_mm))
    if whole.megapixels is not None and mode.megapixels is not None:
        costs = whole.megapixels - mode.megapixels
    return ModeRow(
        name=mode.name,
        width_mm=mode.width_mm,
        height_mm=mode.height_mm,
        megapixels=mode.megapixels,
        automatic=mode.automatic,
        in_use=in_use,
        covered=None if margin is None else margin >= 0,
        margin_mm=margin,
        rise_mm=rise,
        rise_upright_mm=upright,
        costs_megapixels=costs,
        buys_mm=buys,
    )
