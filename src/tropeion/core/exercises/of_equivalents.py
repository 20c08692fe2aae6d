"""Equivalents: the crop counts once; glass changes the lens, not the sensor; exposure follows the actual aperture."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Final

from tropeion.core import written
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.rig.reporting import report_on
from tropeion.core.rig.rig_report import Route
from tropeion.core.working import tidy

from .drafting import Number, Rig, Skill, Trap, numbers, rig_draft
from .hand import Hand, agreed, near, stated
from .question import Draft

_RULES: Final = {
    "twice": "The crop factor counts once, whatever stands between: actual focal length times the sensor’s crop.",
    "ring": "A plain ring changes neither the focal length nor the crop factor.",
    "glass": "Glass changes the lens; the sensor keeps its crop factor.",
    "exposure": "Exposure follows the actual aperture, never the multiplied one.",
    "small": "On a small sensor the lens stays what it is; the view gets narrower.",
}
# Crop factors nearer to 1 than this make no difference that is asked for.
_LEAST_CROP = 0.08


def mm_said(value: float) -> str:
    """A focal length as it is told: whole millimetres from 100, tenths below."""
    return f"{written.fixed(value, 0 if value >= 100 else 1)} mm"


def f_said(value: float) -> str:
    """An f-number as it is told, to a tenth."""
    return f"f/{written.fixed(value, 1)}"


def _rigs(hand: Hand, *, glass: bool | None = None) -> Iterator[tuple[Rig, Route]]:
    """Rigs that work, and their report."""
    for lens, adapters, body in hand.rigs((0, 1, 2) if glass is None else (1, 2)):
        if lens.is_zoom or lens.fisheye or lens.squeeze != 1:
            continue
        has_glass = any(adapter.magnification != 1 for adapter in adapters)
        if glass is not None and has_glass != glass:
            continue
        judged = assess(hand.world, lens, adapters, body, hand.practice)
        # A mode that is assumed to be covered would decide the crop.
        if judged.grade in {"danger", "none"} or not stated(judged, "lens.min_focus_m"):
            continue
        yield (lens, adapters, body), report_on(judged, detailed=False)


def _crop(hand: Hand) -> str:
    return "by the diagonal" if hand.practice.crop == "diagonal" else "by the width"


def _question(
    trap: str,
    rig: Rig,
    ask: str,
    right: Number,
    wrong: list[Number],
    write: Callable[[float], str],
    working: tuple[str, ...],
) -> Iterator[Draft]:
    told = numbers(right, wrong, write)
    if told is not None:
        yield rig_draft(
            rig,
            trap=trap,
            nearness=near(told[1]),
            asks=ask,
            choices=told[0],
            why=f"{_RULES[trap]} {right.says}",
            working=working,
        )


def _view(hand: Hand, trap: str) -> Iterator[Draft]:
    """Which focal length frames the same on 36 × 24 mm."""
    for rig, route in _rigs(hand, glass={"ring": False, "glass": True}.get(trap)):
        lens, adapters, _ = rig
        end, k = route.wide, route.magnification
        crop, actual, marked = end.equivalents.crop_factor, end.focal_length_mm, lens.focal_length_mm[0]
        if abs(crop - 1) < _LEAST_CROP or (trap == "small" and (crop < 1.3 or adapters)):
            continue
        if not _told_alike(hand, rig):
            continue
        right = Number("once", actual * crop, f"{mm_said(actual)} × {crop:.2f} = {mm_said(actual * crop)}.", rig)
        wrong = [
            Number("twice", actual * crop * crop, "That counts the crop twice."),
            Number("actual", actual, "That is what the lens is: for the stabiliser, not for the view."),
            Number("divided", actual / crop, "That divides by the crop instead of multiplying."),
        ]
        if k != 1:
            wrong[0:0] = [
                Number("marked", marked * crop, "That leaves the glass out."),
                Number("sensor", marked * crop / k, "That divides by what the glass does."),
            ]
        elif adapters:
            wrong.insert(1, Number("ring", actual * crop * 1.5, "That gives the ring a factor of its own."))
        working = (
            *((f"{marked:g} mm × {k:g} = {mm_said(actual)} with the glass.",) if k != 1 else ()),
            f"Crop {_crop(hand)}: {crop:.3f}, for {route.coverage.width_mm:g} × {route.coverage.height_mm:g} mm.",
            f"{mm_said(actual)} × {crop:.3f} = {mm_said(actual * crop)}.",
        )
        mode = "" if route.coverage.whole else f", in the mode {route.coverage.mode}"
        ask = f"Which lens frames the same on full frame (36 × 24 mm){mode}, {_crop(hand)}?"
        yield from _question(trap, rig, ask, right, wrong, mm_said, working)


def _told_alike(hand: Hand, rig: Rig) -> bool:
    """Whether every school comes to the same view; the crop is fixed by the question."""

    def answer(school: Practice) -> float:
        return report_on(assess(hand.world, *rig, school), detailed=False).wide.equivalents.focal_mm

    return agreed(hand.practice, ("equivalence", "trust"), answer) is not None


def _exposure(hand: Hand) -> Iterator[Draft]:
    """Which aperture the exposure follows, of the lens at its widest mark."""
    for rig, route in _rigs(hand):
        lens, adapters, _body = rig
        crop, k, marked = route.wide.equivalents.crop_factor, route.magnification, lens.f_number[0]
        actual = route.wide.f_number
        limited = tidy(actual - marked * k) != 0
        dark = any(
            adapter.light_loss_stops or (adapter.filter_slot and adapter.filter_slot.never_clear)
            for adapter in adapters
        )
        if lens.t_number or limited or dark or (abs(crop - 1) < _LEAST_CROP and k == 1):
            continue
        right = Number(
            "actual",
            actual,
            f"{marked:g} × {k:g} = {f_said(actual)}." if k != 1 else f"It is {f_said(actual)} on any sensor.",
            rig,
        )
        wrong = [
            Number("crop", actual * crop, "That is for depth of field and noise, not for the light."),
            Number("marked", marked, "That leaves the glass out."),
            Number("twice", actual * crop * crop, "That counts the crop twice, and it does not count at all."),
            Number("divided", actual / crop, "A smaller sensor makes no lens brighter."),
            Number("turned", marked / k, "That turns what the glass does round."),
        ]
        working = (
            f"N = {marked:g}, glass × {k:g}: {f_said(actual)}.",
            f"Crop {crop:.2f}: it does not count for the light.",
        )
        ask = f"The ring of the lens stands at {f_said(marked)}. Which aperture do you meter and expose for?"
        yield from _question("exposure", rig, ask, right, wrong, f_said, working)


EQUIVALENTS = Skill(
    "Equivalents",
    "What does it frame like?",
    "how near a wrong number is to the right one",
    {
        "twice": Trap("Crop counted twice", _RULES["twice"], lambda hand: _view(hand, "twice")),
        "ring": Trap("A factor for the ring", _RULES["ring"], lambda hand: _view(hand, "ring")),
        "glass": Trap("Reducers and expanders", _RULES["glass"], lambda hand: _view(hand, "glass")),
        "small": Trap("Small sensors", _RULES["small"], lambda hand: _view(hand, "small")),
        "exposure": Trap("Aperture for the exposure", _RULES["exposure"], _exposure),
    },
)
