"""What depends on the focal length: reach, infinity, equivalents, depth of field; at each end of a zoom."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Literal

from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.lenses import Lens
from tropeion.core.joints import contacts
from tropeion.core.joints.signal import identifies_itself
from tropeion.core.optics import clipping, coverage, depth, equivalents, focus, infinity, stabiliser
from tropeion.core.working import Calc, tidy

from .assembly import Assembly, Pictured
from .marks import mark_from, shutter_from
from .rig_report import End, NativeReach

Axis = Literal["up", "across"]

# The smallest stop of an iris in an adapter, of which nobody says how far it closes: assumed.
SMALLEST_IRIS = 22.0
# Distances at which depth of field is given: the music desk, the case, the nave.
_SUBJECTS_MM = (1_000.0, 3_000.0, 10_000.0)


@frozen
class Focused:
    """What one setting of the lens reaches. ``usable`` are the widest and smallest marked apertures to be had."""

    marked_mm: float
    f_number: float
    usable: tuple[float, float]
    marked_f_number: float
    travel: focus.Travel | None
    infinity: infinity.Infinity
    reach: focus.Reach

    def window_mm(self, rig: Assembly) -> float:
        """Depth of focus wide open, to either side."""
        return rig.chain.magnification * self.usable[0] * rig.blur_mm


def settings_of(lens: Lens) -> list[tuple[float, float]]:
    """Focal length and widest aperture at the wide end and, for a zoom, at the long end."""
    wide = (lens.focal_length_mm[0], lens.f_number[0])
    if not lens.is_zoom:
        return [wide]
    return [wide, (lens.focal_length_mm[1], lens.f_number_at_long_end or lens.f_number[0])]


def widest_at(lens: Lens, marked_mm: float) -> float:
    """Widest marked aperture at a marked focal length; between the ends of a zoom in proportion, which is assumed."""
    ends = settings_of(lens)
    (short, fast), (long, slow) = ends[0], ends[-1]
    return fast if long == short else fast + (slow - fast) * (marked_mm - short) / (long - short)


def marked_settings(lens: Lens) -> tuple[float, ...]:
    """The focal lengths that a ring shows, in mm: both ends, and what is engraved between them."""
    short, long = lens.focal_length_mm
    between = (value for value in lens.marked_focal_lengths_mm or () if short < value < long)
    return tuple(sorted({short, *between, long}))


def usable_f_numbers(rig: Pictured, widest: float) -> tuple[float, float]:
    """Widest and smallest marked aperture that this rig can be set to.

    A stuck iris has one; glass that passes no more than a stated f-number makes the wider ones useless.
    """
    smallest = max(rig.lens.f_number[1], widest, SMALLEST_IRIS if rig.iris.in_chain else 0.0)
    slowest = rig.f_number_with_glass(widest)
    widest = min(max(widest, tidy(slowest / rig.magnification)), smallest)
    match rig.iris.stuck:
        case "open":
            return widest, widest
        case "closed":
            return smallest, smallest
        case _:
            return widest, smallest


def own_travel(lens: Lens, marked_mm: float, calc: Calc) -> focus.Travel | None:
    """The focus travel that the lens has, at one focal length; the magnification of a zoom is that of its long end."""
    m = lens.max_magnification if marked_mm == lens.focal_length_mm[1] else None
    return focus.travel(marked_mm, lens.min_focus_m, m, calc)


def _own_travel(rig: Assembly, marked_mm: float, calc: Calc) -> tuple[focus.Travel | None, float]:
    """The lens's own focus travel and how far it turns past infinity; none where nothing moves its focus."""
    lens = rig.lens
    if contacts.can_be_focused(lens, rig.signal):
        return own_travel(lens, marked_mm, calc), lens.past_infinity_mm
    return focus.Travel(0.0, marked_mm), 0.0


def focus_at(rig: Assembly, marked_mm: float, widest: float, calc: Calc) -> Focused:
    """Reach and infinity at one setting of the lens."""
    chain = rig.chain
    if not rig.stack.known:
        return _not_known(rig, marked_mm, widest, calc)
    travel, past = _own_travel(rig, marked_mm, calc)
    usable = usable_f_numbers(rig, widest)
    judged = infinity.infinity(
        error_mm=chain.error_mm,
        past_infinity_mm=past,
        travel=calc(focus.travel_assumed_mm, marked_mm) if travel is None else travel.travel_mm,
        travel_known=travel is not None,
        helicoid_mm=chain.helicoid_mm,
        f_numbers=usable,
        k=chain.magnification,
        circle_mm=rig.blur_mm,
        half_widths_mm=chain.half_widths_mm,
        allowance_mm=rig.allowance_mm,
        calc=calc,
    )
    reach = focus.Reach.nothing("none")
    fixed_in_focus = rig.lens.focus == "none" and judged.from_f_number is not None
    if rig.movable or fixed_in_focus:
        reach = _reach(rig, marked_mm, usable, (travel, past), judged, calc)
    elif rig.lens.focus == "by_wire":
        # Where its focus group rests without power is not known.
        judged = replace(judged, reached=False, from_f_number=None, probability=None)
    if rig.by_construction:
        judged = replace(judged, reached=None, probability=None)
    f_number = rig.f_number_with_glass(widest, calc)
    return Focused(marked_mm, f_number, usable, widest, travel, judged, reach)


def _not_known(rig: Assembly, marked_mm: float, widest: float, calc: Calc) -> Focused:
    """What it reaches where a register is not known: nothing that could be told, but that nothing moves its focus."""
    travel, _ = _own_travel(rig, marked_mm, calc)
    powerless = not rig.movable and rig.lens.focus == "by_wire"
    return Focused(
        marked_mm,
        rig.f_number_with_glass(widest, calc),
        usable_f_numbers(rig, widest),
        widest,
        travel,
        infinity.NOT_KNOWN,
        focus.Reach.nothing("none" if powerless else "unknown"),
    )


def _reach(
    rig: Assembly,
    marked_mm: float,
    usable: tuple[float, float],
    own: tuple[focus.Travel | None, float],
    judged: infinity.Infinity,
    calc: Calc,
) -> focus.Reach:
    """The range of a rig that can be focused; none where even the smallest stop does not bring infinity's near side."""
    chain, k = rig.chain, rig.chain.magnification
    travel, _ = own
    opened = tidy(chain.helicoid_mm / k**2)
    short, long = _extensions(rig, own, calc)
    end = judged.long_end_mm
    if judged.reached is None or end is None:
        return focus.Reach.nothing("unknown", rig.offset_mm)
    if end < 0 and tidy(end + k * usable[1] * rig.blur_mm) < 0:
        return focus.Reach.nothing("none")
    close = marked_mm if travel is None else travel.close_mm
    grows = travel.travel_mm if travel is not None and close >= focus.EXTENDS_FROM * marked_mm else 0.0
    front = focus.Front(chain.lens.register_mm, chain.lens_error_mm, rig.lens.length_mm, grows + opened)
    return focus.reach(marked_mm, close, usable[0], k, short, long, rig.offset_mm, front, calc)


def end_of(rig: Assembly, focused: Focused, grade: Grade, calc: Calc) -> End:
    """Everything that depends on the focal length, at one setting of the lens."""
    lens = rig.lens
    judged = _with_stops(rig, focused)
    focal = calc(equivalents.focal_length_with_glass_mm, rig.chain.magnification, focused.marked_mm)
    entry = entry_at(rig, focal, calc)
    became = equivalents_at(rig, focused, focal, calc)
    steadied = _steadied_s(rig, became, entry, calc)
    late = judged.from_f_number
    return End(
        focal_length_mm=focal,
        f_number=focused.f_number,
        working_f_number=max(focused.f_number, rig.chain.magnification * focused.usable[0]),
        infinity=judged,
        focus=focused.reach,
        equivalents=became,
        t_number=None if lens.t_number is None else _t_number(focused, lens.t_number, calc),
        stabiliser=entry,
        steadied_shutter_s=steadied,
        depth_of_field=_depths(rig, focused, calc),
        native=NativeReach(_native_near(lens, focused.marked_mm)),
        grade=grade,
        from_mark=None if late is None else mark_from(lens, late),
        shutter_mark_s=shutter_from(steadied or became.slowest_shutter_s),
    )


def equivalents_at(rig: Assembly, focused: Focused, focal_mm: float, calc: Calc) -> equivalents.Equivalents:
    """What one setting of the lens is equivalent to, at a focal length with the glass."""
    return equivalents.equivalents_of(
        mode=rig.mode,
        focal_length_mm=focal_mm,
        f_number=focused.f_number,
        squeeze=rig.lens.squeeze,
        fisheye=rig.lens.fisheye,
        crop=rig.practice.crop,
        calc=calc,
    )


def entry_at(rig: Pictured, focal_mm: float, calc: Calc) -> stabiliser.StabiliserEntry | None:
    """What the stabiliser is told at a focal length with the glass; None where there is none, or the lens says it."""
    if rig.body.stabiliser is None or identifies_itself(rig.signal):
        return None
    return stabiliser.entry_of(
        rig.body.stabiliser, focal_mm, rig.mode, rig.image_circle_mm, measured=rig.circle_from == "measured", calc=calc
    )


def _with_stops(rig: Assembly, focused: Focused) -> infinity.Infinity:
    """Infinity with the windows of the strip, where it can be judged."""
    judged = focused.infinity
    if judged.probability is None:
        return judged
    stops = infinity.stops_of(
        judged,
        focused.usable,
        k=rig.chain.magnification,
        circle_mm=rig.blur_mm,
        half_widths_mm=rig.chain.half_widths_mm,
    )
    return replace(judged, stops=stops)


def _steadied_s(
    rig: Assembly, became: equivalents.Equivalents, entry: stabiliser.StabiliserEntry | None, calc: Calc
) -> float | None:
    """The slowest shutter with the stabiliser; None where there is none, it is off, or it was told nothing."""
    steadies = rig.body.stabiliser
    if steadies is None or not steadies.stops:
        return None
    if entry is not None and (not entry.on or rig.practice.entry == "skip"):
        return None
    return calc(equivalents.steadied_shutter_s, became.slowest_shutter_s, steadies.stops)


def _t_number(focused: Focused, marked: float, calc: Calc) -> float:
    """The T-number with the glass: what the glass does to the f-number, it does to the T-number."""
    return calc(equivalents.t_number_with_glass, marked, focused.f_number, focused.marked_f_number)


def _native_near(lens: Lens, focal_length_mm: float) -> float | None:
    """Closest focus on the lens's own body: as stated, else from the stated magnification."""
    if lens.min_focus_m is not None:
        return lens.min_focus_m * 1000
    if lens.max_magnification is not None:
        at_long_end = focal_length_mm == lens.focal_length_mm[1]
        return (
            focus.close_distance_mm(focal_length_mm, lens.max_magnification * focal_length_mm) if at_long_end else None
        )
    return None


def _depths(rig: Assembly, focused: Focused, calc: Calc) -> tuple[depth.DepthOfField, ...]:
    reach = focused.reach
    if reach.state == "none" or reach.near_mm is None:
        return ()
    far = reach.far_mm
    depths = [
        depth.depth_of_field(
            subject,
            focal_length_mm=focused.marked_mm,
            f_number=focused.usable[0],
            circle_mm=rig.blur_mm,
            k=rig.chain.magnification,
            calc=calc.under(f"at {subject / 1000:g} m"),
        )
        for subject in _SUBJECTS_MM
        if subject >= reach.near_mm and (far is None or subject <= far)
    ]
    return tuple(depth for depth in depths if depth is not None)


def coverage_at(rig: Assembly, f_number: float, calc: Calc) -> coverage.Coverage:
    """The circle over the mode in use, and what cuts into the light on its way."""
    lens, mode, chain = rig.lens, rig.mode, rig.chain
    circle = rig.image_circle_mm
    covered = circle is None or tidy(circle - mode.diagonal_mm) >= 0
    angle = cut = None
    if lens.exit_pupil_mm is not None and not chain.has_glass:
        pupil = lens.exit_pupil_mm + chain.error_mm
        if pupil > 0:
            angle = calc(clipping.corner_ray_angle_deg, mode.diagonal_mm / 2, lens.exit_pupil_mm, chain.error_mm)
        cut = clipping.throat_clipping(rig.stack.bores, f_number=f_number, pupil_mm=pupil, calc=calc)
    return coverage.coverage_of(
        mode,
        covered,
        circle,
        ray_angle_deg=angle,
        clipping=cut,
        shifts_mm=shifts_mm(rig, "up") or shifts_mm(rig, "across"),
        shifts_up=shifts_mm(rig, "up") > 0,
        calc=calc,
    )


def extensions_at(rig: Assembly, marked_mm: float, calc: Calc) -> tuple[float, float | None]:
    """How far the lens stands beyond its infinity focus at its far stop and at its near one, helicoids open there.

    None: how far it focuses out is not known.
    """
    return _extensions(rig, _own_travel(rig, marked_mm, calc), calc)


def _extensions(rig: Assembly, own: tuple[focus.Travel | None, float], calc: Calc) -> tuple[float, float | None]:
    (travel, past), chain = own, rig.chain
    opened = tidy(chain.helicoid_mm / chain.magnification**2)
    return focus.extensions(chain.lens_error_mm, past, None if travel is None else travel.travel_mm, opened, calc)


def glass_behind(rig: Assembly, piece: str) -> float:
    """The product of the glass behind a piece; what moves in a piece with glass stands on the camera side of it."""
    k = 1.0
    for adapter in reversed(rig.adapters):
        if adapter.id == piece:
            return k
        k *= adapter.magnification
    return k


def shifting(rig: Assembly) -> list[Lens | Adapter]:
    """The pieces that shift, the lens first."""
    pieces: tuple[Lens | Adapter, ...] = (rig.lens, *rig.adapters)
    return [piece for piece in pieces if piece.shift_mm]


def shifts_along(piece: Lens | Adapter, axis: Axis) -> bool:
    """Whether a piece shifts this way: as it is mounted, or, a ring that turns, turned by a right angle."""
    return piece.shift_axis in {"any", axis} or _turns(piece)


def _turns(piece: Lens | Adapter) -> bool:
    # Of a lens it is the front that turns, in focusing.
    return isinstance(piece, Adapter) and piece.rotates


def turned_for(rig: Assembly, axis: Axis) -> list[Lens | Adapter]:
    """The pieces that have to be turned by a right angle before they shift this way."""
    return [lens for lens in shifting(rig) if _turns(lens) and lens.shift_axis not in {"any", axis}]


def shifts_mm(rig: Assembly, axis: Axis) -> float:
    """What lens and adapters shift this way, at the sensor: a shift in front of glass counts k-fold."""
    return math.fsum(glass_behind(rig, lens.id) * lens.shift_mm for lens in shifting(rig) if shifts_along(lens, axis))
