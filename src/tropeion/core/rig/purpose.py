"""What one route is for, in a phrase and as one of a few groups; and what the lens becomes by it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Final

from tropeion.core import written
from tropeion.core.gear.adapters import Adapter
from tropeion.core.joints.contacts import FunctionLeft
from tropeion.core.joints.filters import slot_said
from tropeion.core.optics.equivalents import focal_length_with_glass_mm
from tropeion.core.practice import Practice
from tropeion.core.words import word
from tropeion.core.working import PLAIN, tidy

from .assembly import Assembly
from .ends import Focused, equivalents_at, glass_behind
from .judgement import Assessment
from .marks import mark_from
from .rig_report import End, Group

_DRIVEN: Final = {
    "autofocus": "autofocus",
    "aperture": "aperture by the body",
    "control_ring": "the lens's control ring",
}


def group_of(assessed: Assessment) -> Group:
    """The first thing that sets a route apart from a plain ring."""
    rig, grade = assessed.rig, assessed.grade
    pieces = rig.adapters
    if grade in {"none", "danger"}:
        return "fails"
    if any(piece.tilt_deg or piece.shift_mm for piece in pieces):
        return "movements"
    if any(piece.filter_slot is not None for piece in pieces):
        return "filter"
    if rig.chain.magnification < 1:
        return "brighter"
    if any(piece.aperture_control == "iris" for piece in pieces):
        return "iris"
    if grade == "close_up" or any(piece.helicoid_mm for piece in pieces):
        return "closer"
    if any(piece.chip is not None for piece in pieces) or (pieces and _driven(assessed.functions)):
        return "electronics"
    return "infinity"


def purpose_of(assessed: Assessment, light: float) -> str:
    """What a route offers, in a phrase; ``light`` is what its pieces give or take, in stops."""
    rig, grade = assessed.rig, assessed.grade
    if grade in {"none", "danger"}:
        return "not to be mounted" if grade == "danger" else word("none")
    said = [*_of_the_pieces(assessed, light), *_of_the_contacts(rig, assessed.functions), *_of_the_hold(rig)]
    if not said:
        said = [_plainly(rig, assessed.ends[0])]
    text = "; ".join(said)
    return text[:1].upper() + text[1:]


def _plainly(rig: Assembly, wide: Focused) -> str:
    """What tells one plain ring from another: how it reaches infinity."""
    infinity, past = wide.infinity, -rig.chain.lens_error_mm
    if not rig.adapters:
        return "on its own mount"
    if not rig.stack.known:
        return "to infinity, perhaps"
    if rig.by_construction:
        return "to infinity by construction: not measured"
    if infinity.from_f_number is not None and not infinity.reached:
        return f"to infinity from {written.aperture(mark_from(rig.lens, infinity.from_f_number))}"
    if infinity.probability is not None and infinity.probability < 0.9:
        return f"to infinity, {written.percent(infinity.probability)} sure"
    if past >= _NOTICED_MM:
        return f"to infinity and {written.millimetres(past)} past it"
    return "to infinity" if wide.reach.state != "unknown" else "to infinity, perhaps"


# Past infinity by less than this, the distance scale is not seen to lie.
_NOTICED_MM = 0.05


def _shifts(rig: Assembly, piece: Adapter, room_mm: float | None) -> str:
    """What a ring shifts, which way, and how much of that the circle holds."""
    way = {"up": " up and down", "across": " across", "any": ""}[piece.shift_axis]
    said = f"shifts {piece.shift_mm:g} mm{way}"
    if room_mm is None or rig.image_circle_mm is None:
        return f"{said}, of which nobody knows how much the {word('image_circle')} holds"
    if tidy(room_mm - piece.shift_mm * glass_behind(rig, piece.id)) >= 0:
        return said
    return f"{said}, {written.millimetres(room_mm)} of them within the {word('image_circle')}"


def _of_the_pieces(assessed: Assessment, light: float) -> Iterator[str]:
    rig, wide = assessed.rig, assessed.ends[0]
    for piece in rig.adapters:
        if piece.tilt_deg:
            yield f"tilts {piece.tilt_deg:g}°"
        if piece.shift_mm:
            yield _shifts(rig, piece, assessed.coverage.shift_room_mm)
        if piece.filter_slot is not None:
            yield slot_said(piece.filter_slot)
        if piece.aperture_control == "iris":
            yield "aperture in the adapter"
    if rig.chain.magnification != 1:
        became = equivalents_at(rig, wide, focal_length_with_glass_mm(rig.chain.magnification, wide.marked_mm), PLAIN)
        amount = f"{abs(light):.1f}".removesuffix(".0")
        sign = "+" if light > 0 else "−"
        stops = "stop" if amount == "1" else "stops"
        yield f"{sign}{amount} {stops}, {word('full_frame_equivalent')} {became.focal_mm:.0f} mm"
    opens = sum(piece.helicoid_mm for piece in rig.adapters)
    scale = wide.reach.max_magnification
    if opens:
        yield f"opens {opens:g} mm" + (f": to {scale:.2f} ×" if scale else "")
    elif _is_close(wide) and scale is not None and wide.reach.near_mm is not None:
        yield f"to {scale:.2f} ×, from {written.distance(wide.reach.near_mm, rig.practice.distances)}"


def _is_close(wide: Focused) -> bool:
    """Whether infinity is out of reach at every aperture."""
    return wide.reach.state == "finite" and wide.infinity.from_f_number is None


def _driven(functions: Sequence[FunctionLeft]) -> list[str]:
    working = {left.function: left.state for left in functions if left.state in {"full", "slow"}}
    return [
        f"{what}, slowly" if working[name] == "slow" else what
        for name, what in _DRIVEN.items()
        if name in working and name != "aperture"
    ] + ([_DRIVEN["aperture"]] if working.get("aperture") == "full" else [])


def _of_the_contacts(rig: Assembly, functions: Sequence[FunctionLeft]) -> Iterator[str]:
    if rig.signal.broken_at is None and rig.adapters:
        yield from _driven(functions)
    for piece in rig.adapters:
        if piece.chip is not None:
            told = f"{piece.chip.focal_length_mm:g} mm {written.aperture(piece.chip.f_number)}"
            yield f"chip: the body takes it for {told}"
        if piece.aperture_control == "lever_ring" and rig.lens.aperture == "lever":
            yield "moves the aperture lever"
        if piece.control_ring and rig.signal.broken_at is None:
            yield "control ring on the adapter"


def _of_the_hold(rig: Assembly) -> Iterator[str]:
    if any(piece.locking for piece in rig.adapters):
        yield "locks"
    if any(piece.tripod_foot for piece in rig.adapters):
        yield "tripod foot"
    if any(piece.optics == "correcting" for piece in rig.adapters):
        yield "correcting glass"


def becomes(ends: Sequence[End], squeeze: float, *, fisheye: bool, practice: Practice) -> str:
    """What it frames like on 36 × 24 mm; with the aperture that gives its depth of field, for those who want it."""
    if fisheye:
        return f"a fisheye: it has no {word('full_frame_equivalent')}"
    focal = [f"{end.equivalents.focal_mm:.0f}" for end in ends]
    said = f"{word('full_frame_equivalent')} {'–'.join(dict.fromkeys(focal))} mm"
    if squeeze != 1:
        across = [f"{end.equivalents.focal_horizontal_mm:.0f}" for end in ends]
        wide = "–".join(dict.fromkeys(across))
        said = f"{word('full_frame_equivalent')} {wide} mm across, {'–'.join(dict.fromkeys(focal))} mm upright"
    if practice.equivalence == "framing_and_depth":
        stops = [f"f/{written.fixed(end.equivalents.f_number, 1)}" for end in ends]
        said += f", {word('depth_of_field')} as at {'–'.join(dict.fromkeys(stops))}"
    return said
