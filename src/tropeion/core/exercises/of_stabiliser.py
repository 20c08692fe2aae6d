"""The stabiliser: what is entered, at which mark, at power-on, and how far it may move."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from tropeion.core.gear.bodies import Body
from tropeion.core.optics.equivalents import crop_by_diagonal
from tropeion.core.optics.stabiliser import told_to
from tropeion.core.rig.assembly import Assembly
from tropeion.core.rig.ends import entry_at, marked_settings
from tropeion.core.rig.judgement import assess
from tropeion.core.working import PLAIN

from .drafting import Number, Rig, Skill, Trap, after, apart, numbers, rig_draft
from .hand import Hand, near, stated
from .of_equivalents import mm_said
from .question import AnswerChoice, Draft

_RULES: Final = {
    "equivalent": "The stabiliser wants the actual focal length, never the equivalent.",
    "glass": "The actual focal length is with the glass: what is marked, times what the glass does.",
    "zoom_mark": "A zoom is entered at the mark it stands at, again at each other, and is not zoomed while it films.",
    "power_on": "At power-on the body offers what the last lens had: look at it, and change it.",
    "corners": "A measured circle says how far the sensor may move; a stated one only says where to look.",
    "identifies": "A lens that says what it is needs nothing entered.",
}


def _entered(mm: float) -> str:
    return f"{mm:g} mm"


def _rigs(hand: Hand, *, zooms: bool = False) -> Iterator[tuple[Rig, Assembly]]:
    """Rigs that work on a body with a stabiliser which has to be told."""
    for lens, adapters, body in hand.rigs((0, 1, 2)):
        if body.stabiliser is None or lens.is_zoom != zooms:
            continue
        judged = assess(hand.world, lens, adapters, body, hand.practice)
        if judged.grade not in {"danger", "none"} and stated(judged, "lens.min_focus_m", "lens.image_circle_mm"):
            yield (lens, adapters, body), judged.rig


def _entry(rig: Assembly, marked_mm: float) -> float | None:
    entry = entry_at(rig, rig.chain.magnification * marked_mm, PLAIN)
    return None if entry is None else entry.entry_mm


def _told(rig: Rig, mm: float) -> float:
    """What the body would take for such a focal length."""
    assert rig[2].stabiliser is not None
    return told_to(rig[2].stabiliser, mm, PLAIN)[0]


def _says(right: float, wrong: float) -> str:
    more = "more" if wrong > right else "less"
    return f"Told {_entered(wrong)}, it would move {more} than this lens wants, and shake the picture."


def _drafted(
    trap: str, rig: Rig, ask: str, right: float, wrong: list[tuple[str, float]], working: tuple[str, ...]
) -> Iterator[Draft]:
    numbered = [Number(id_, value, _says(right, value), rig) for id_, value in wrong]
    told = numbers(Number("actual", right, f"It is told {_entered(right)}.", rig), numbered, _entered)
    if told is None:
        return
    choices, ratio = told
    yield rig_draft(
        rig,
        trap=trap,
        nearness=near(ratio),
        asks=f"{ask}",
        choices=choices,
        why=f"{_RULES[trap]} Here: {_entered(right)}.",
        working=working,
    )


def _lengths(hand: Hand, *, glass: bool) -> Iterator[Draft]:
    for rig, put in _rigs(hand):
        lens, _, body = rig
        k, marked = put.chain.magnification, lens.focal_length_mm[0]
        right = _entry(put, marked)
        if right is None or (k != 1) != glass:
            continue
        crop = crop_by_diagonal(put.mode.diagonal_mm)
        actual = k * marked
        wrong = [
            ("equivalent", _told(rig, actual * crop)),
            ("marked", _told(rig, marked)),
            ("twice", _told(rig, actual * crop * crop)),
            ("divided", _told(rig, actual / crop)),
            ("turned", _told(rig, marked / k)),
            ("half", _told(rig, actual / 2)),
            ("double", _told(rig, actual * 2)),
        ]
        working = (
            f"{marked:g} mm × {k:g} = {mm_said(actual)}.",
            f"{body.name} takes {_steps(body)}: {_entered(right)}.",
        )
        trap = "glass" if glass else "equivalent"
        yield from _drafted(trap, rig, "Its stabiliser is on. Which focal length do you enter?", right, wrong, working)


def _steps(body: Body) -> str:
    stabiliser = body.stabiliser
    assert stabiliser is not None
    if stabiliser.presets_mm:
        return f"one of {', '.join(f'{mm:g}' for mm in stabiliser.presets_mm)} mm"
    return f"{stabiliser.entry_mm[0]:g} to {stabiliser.entry_mm[1]:g} mm in steps of {stabiliser.entry_step_mm:g}"


def _zooms(hand: Hand) -> Iterator[Draft]:
    for rig, put in _rigs(hand, zooms=True):
        lens, _, body = rig
        marks = marked_settings(lens)
        for mark in hand.some(marks):
            right = _entry(put, mark)
            if right is None:
                break
            k = put.chain.magnification
            crop = crop_by_diagonal(put.mode.diagonal_mm)
            others = [(f"mark-{other:g}", _told(rig, k * other)) for other in marks if other != mark]
            wrong = [
                *hand.some(others)[:3],
                ("equivalent", _told(rig, k * mark * crop)),
                ("middle", _told(rig, k * sum(marks) / len(marks))),
            ]
            working = (
                f"At {mark:g} mm: {mark:g} × {k:g} = {mm_said(k * mark)}.",
                f"{body.name} takes {_steps(body)}: {_entered(right)}.",
            )
            ask = f"Its zoom stands at {mark:g} mm and the stabiliser is on. What do you enter?"
            yield from _drafted("zoom_mark", rig, ask, right, wrong, working)
            break


def _power_on(hand: Hand) -> Iterator[Draft]:
    """The last lens's value is offered: confirmed, changed, or left."""
    for rig, put in _rigs(hand):
        lens, _, _body = rig
        right = _entry(put, lens.focal_length_mm[0])
        last = next((other for other in hand.lenses() if not other.is_zoom and other.id != lens.id), None)
        if right is None or last is None:
            continue
        offered = _told(rig, last.focal_length_mm[0]) if hand.chance.random() < 0.7 else right
        crop = crop_by_diagonal(put.mode.diagonal_mm)
        equivalent = _told(rig, put.chain.magnification * lens.focal_length_mm[0] * crop)
        same = offered == right
        keep = AnswerChoice(
            "confirm",
            f"Confirm the {_entered(offered)}",
            after("That is this lens." if same else _says(right, offered), rig),
        )
        change = [
            AnswerChoice(
                f"change-{value:g}",
                f"Change it to {_entered(value)}",
                after(_says(right, value) if value != right else "That is this lens.", rig),
            )
            for value in dict.fromkeys((right, equivalent, _told(rig, right * 2), _told(rig, right / 2)))
            if value != offered
        ]
        first = keep if same else next(choice for choice in change if choice.id == f"change-{right:g}")
        off = AnswerChoice(
            "off", "Switch the stabiliser off", after("It would do its work, if it was told the right thing.", rig)
        )
        rest = [choice for choice in (keep, *change) if choice is not first]
        choices = apart(first, [*rest, off])
        if choices is None:
            continue
        ratio = max(offered / right, right / offered) if not same else max(equivalent / right, right / equivalent, 1.2)
        yield rig_draft(
            rig,
            trap="power_on",
            nearness=near(ratio),
            asks=f"You switch on, and it offers {_entered(offered)}. What do you do?",
            choices=choices,
            why=f"{_RULES['power_on']} This lens wants {_entered(right)}.",
            working=(f"Offered: {_entered(offered)}. Wanted: {_entered(right)}.",),
        )


def _corners(hand: Hand) -> Iterator[Draft]:
    """Which step the corners allow, of a measured circle; of a stated one it cannot be known yet."""
    for rig, put in _rigs(hand):
        lens, _, body = rig
        entry = entry_at(put, put.chain.magnification * lens.focal_length_mm[0], PLAIN)
        steps = () if body.stabiliser is None else body.stabiliser.travel_steps
        if entry is None or entry.travel_fraction is None or len(steps) < 2 or lens.image_circle_mm is None:
            continue
        measured = put.circle_from == "measured"
        # A step that is just inside, or just outside, is decided by the doubt of the circle.
        if any(abs(entry.travel_fraction - step) < 0.04 for step in steps) or (
            not measured and entry.travel_fraction >= max(steps)
        ):
            continue
        texts = [(f"step-{step:g}", f"{step:.0%} of its travel" if step < 1 else "All of its travel") for step in steps]
        every = [
            *texts,
            ("off", "None: the stabiliser off"),
            ("look", "It cannot be known yet: look at the corners first"),
        ]
        right = "look" if not measured else ("off" if not entry.travel_step else f"step-{entry.travel_step:g}")
        says = (
            f"The circle is not measured: {lens.image_circle_mm:g} mm is "
            f"{'stated' if lens.image_circle_from == 'stated' else 'that of its format'}."
            if right == "look"
            else f"The circle allows {entry.travel_fraction:.0%} of the travel."
        )
        chosen = [AnswerChoice(id_, text, after(says, rig)) for id_, text in every]
        first = next(choice for choice in chosen if choice.id == right)
        choices = apart(first, [choice for choice in chosen if choice is not first])
        if choices is None:
            continue
        circle = f"{put.image_circle_mm:.1f} mm, {'measured' if measured else 'not measured'}"
        yield rig_draft(
            rig,
            trap="corners",
            nearness=1 - min(1.0, 2 * min(abs(entry.travel_fraction - step) for step in (*steps, 0.0))),
            asks=f"Its circle on the sensor is {circle}. How far may the stabiliser move?",
            choices=choices,
            why=f"{_RULES['corners']} {says}",
            working=(
                f"C = {circle}; {put.mode.width_mm:g} × {put.mode.height_mm:g} mm moves by ± "
                f"{body.stabiliser.travel_mm if body.stabiliser else 0:g} mm.",
                f"q = {entry.travel_fraction:.2f} of it stays inside.",
            ),
        )


def _identifies(hand: Hand) -> Iterator[Draft]:
    """A lens that identifies itself: nothing is to be entered."""
    for rig, put in _rigs(hand):
        lens, _, _body = rig
        marked = lens.focal_length_mm[0]
        if _entry(put, marked) is not None:
            continue
        actual = put.chain.magnification * marked
        crop = crop_by_diagonal(put.mode.diagonal_mm)
        values = dict.fromkeys(_told(rig, value) for value in (actual, actual * crop, marked, actual / crop))
        wrong = [
            AnswerChoice(f"enter-{value:g}", f"Enter {_entered(value)}", after("It knows that already.", rig))
            for value in values
        ]
        off = AnswerChoice("off", "Switch the stabiliser off", after("It works: the lens tells it what it needs.", rig))
        choices = apart(
            AnswerChoice("nothing", "Nothing: the lens says it", after("The contacts tell the body.", rig)),
            [*wrong[:3], off],
        )
        if choices is not None:
            speaking = sum(adapter.link == "translate" for adapter in rig[1])
            yield rig_draft(
                rig,
                trap="identifies",
                nearness=0.3 + 0.3 * speaking + 0.2 * (crop > 1.05),
                asks="Its stabiliser is on. What do you enter?",
                choices=choices,
                why=_RULES["identifies"],
                working=tuple(
                    f"{adapter.name}: {'translates' if adapter.link == 'translate' else 'passes on'} what the "
                    f"lens says."
                    for adapter in rig[1]
                )
                or ("It is on a body of its own system.",),
            )


STABILISER = Skill(
    "Stabiliser",
    "What do you enter?",
    "how near a wrong number is to the right one",
    {
        "equivalent": Trap("The equivalent entered", _RULES["equivalent"], lambda hand: _lengths(hand, glass=False)),
        "glass": Trap("The glass left out", _RULES["glass"], lambda hand: _lengths(hand, glass=True)),
        "zoom_mark": Trap("Another mark of the zoom", _RULES["zoom_mark"], _zooms),
        "power_on": Trap("The last lens at power-on", _RULES["power_on"], _power_on),
        "corners": Trap("How far it may move", _RULES["corners"], _corners),
        "identifies": Trap("Nothing to be entered", _RULES["identifies"], _identifies),
    },
)
