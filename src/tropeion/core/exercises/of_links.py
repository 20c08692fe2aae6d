"""Links: which piece of a rig loses something. Answered by pointing at it; one piece alone is to blame."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from tropeion.core.gear.adapters import Adapter
from tropeion.core.joints.contacts import FunctionLeft
from tropeion.core.joints.coupling import metering_of
from tropeion.core.joints.signal import FunctionName
from tropeion.core.rig.judgement import Assessment, assess, functions_of

from .drafting import Rig, Skill, Trap, after, rig_draft
from .hand import Hand, stated
from .question import AnswerChoice, Draft

_RULES: Final = {
    "focus": "Autofocus works as far as every link passes it on: the first that does not is where the wire ends.",
    "data": "The body knows of a lens what every link passes on; a plain ring passes on nothing.",
    "aperture": "An aperture without a ring of its own moves only if something behind it does that.",
    "light": "Metal costs no light. A filter that cannot be taken out does, and so does glass that makes longer.",
    "moves": "A lever, a pin and a wire are three things: what the lens has decides what the ring must have.",
}
_ASKS: Final = {
    "focus": "Autofocus does not work. Which piece is to blame?",
    "data": "The pictures carry no data of the lens. Which piece is to blame?",
    "aperture": "The aperture stays where it is. Which piece is to blame?",
    "light": "Which piece costs light?",
}
_NOTHING: Final = "None of them"


def _pieces(rig: Rig) -> list[tuple[str, str]]:
    lens, adapters, body = rig
    return [(lens.id, lens.name), *((adapter.id, adapter.name) for adapter in adapters), (body.id, body.name)]


def _culprits(left: FunctionLeft, rig: Rig) -> list[str]:
    """Every piece that does not offer, pass on, or take a function."""
    lens, _, body = rig
    return [
        *([] if left.offered else [lens.id]),
        *(passed.link for passed in left.passed if passed.level == "none"),
        *([] if left.taken else [body.id]),
    ]


def _pointed(trap: str, rig: Rig, guilty: str | None, says: dict[str, str], working: tuple[str, ...]) -> Draft | None:
    """Every piece can be pointed at, and that it is none of them."""
    pieces = _pieces(rig)
    _lens, adapters, _body = rig
    ids = [id_ for id_, _ in pieces]
    if len(set(ids)) < len(ids):
        return None
    choices = [AnswerChoice(id_, name, after(says.get(id_, "It does its part."), rig)) for id_, name in pieces]
    choices.append(AnswerChoice("none", _NOTHING, after(says.get("none", "One of them does not do its part."), rig)))
    right = guilty or "none"
    ordered = sorted(choices, key=lambda choice: choice.id != right)
    speaking = sum(adapter.link in {"pass", "translate"} for adapter in adapters)
    told = next(choice for choice in choices if choice.id == right)
    return rig_draft(
        rig,
        trap=trap,
        nearness=min(
            1.0, 0.2 + 0.2 * len(adapters) + 0.3 * (speaking > 0) + 0.2 * (guilty not in {a.id for a in adapters})
        ),
        asks=f"{_ASKS[trap]}",
        choices=tuple(ordered),
        why=f"{_RULES[trap]} Here: {told.text}. {told.after.says}",
        working=working,
        by="point",
    )


def _judged(hand: Hand) -> Iterator[tuple[Rig, Assessment]]:
    for lens, adapters, body in hand.rigs((1, 2)):
        judged = assess(hand.world, lens, adapters, body, hand.practice)
        if judged.grade != "danger" and stated(judged, "lens.min_focus_m", "lens.image_circle_mm"):
            yield (lens, adapters, body), judged


def _lost(hand: Hand, trap: str, function: FunctionName) -> Iterator[Draft]:
    """A function that is lost at one piece alone, all the others doing their part."""
    for rig, judged in _judged(hand):
        if trap == "focus" and judged.rig.lens.focus not in {"motor", "by_wire", "screw_drive"}:
            continue
        metering, _ = metering_of(judged.meetings)
        left = next(
            (one for one in functions_of(judged.rig, metering, detailed=True) if one.function == function), None
        )
        if left is None or left.state not in {"lost", "stuck"}:
            continue
        # Understood as spoken: a link that does not know the language passes on nothing of what it could.
        guilty = _culprits(left, rig)
        if len(guilty) != 1 or guilty[0] != (judged.rig.signal.broken_at or left.link):
            continue
        names = dict(_pieces(rig))
        says = {guilty[0]: _of_the_guilty(rig, guilty[0])}
        draft = _pointed(trap, rig, guilty[0], says, tuple(_levels(left, names, rig)))
        if draft is not None:
            yield draft


def _of_the_guilty(rig: Rig, id_: str) -> str:
    lens, adapters, body = rig
    if id_ == lens.id:
        return "The lens has nothing that could do it."
    if id_ == body.id:
        return f"{body.name} does not take it."
    ring = next(adapter for adapter in adapters if adapter.id == id_)
    return {
        "none": "It is plain metal: it passes nothing on.",
        "chip": "Its chip names one lens, and passes nothing on.",
        "pass": "It does not pass this on.",
        "translate": "It does not translate this.",
    }[ring.link]


_PASSED: Final = {"none": "passes nothing of it on", "slow": "passes it on, slowly", "full": "passes it on"}


def _levels(left: FunctionLeft, names: dict[str, str], rig: Rig) -> Iterator[str]:
    yield f"{rig[0].name}: {'has it' if left.offered else 'does not have it'}."
    for passed in left.passed:
        yield f"{names[passed.link]}: {_PASSED[passed.level]}."
    yield f"{rig[2].name}: {'takes it' if left.taken else 'does not take it'}."


def _aperture(hand: Hand) -> Iterator[Draft]:
    """An aperture that nothing moves; where one ring stands between, that ring is to blame."""
    for rig, judged in _judged(hand):
        iris, (lens, adapters, _) = judged.rig.iris, rig
        if iris.code is None or iris.link is None or iris.in_chain or len(adapters) != 1:
            continue
        ring = adapters[0]
        if iris.link != ring.id:
            continue
        says = {
            "iris_without_power": f"It wants power, and {ring.name} brings none.",
            "lever_not_moved": f"It has a lever, and nothing in {ring.name} moves it.",
            "pin_not_pressed": f"It has a pin, and {ring.name} has no flange that presses it.",
        }[iris.code]
        others = {
            lens.id: "It has all that it needs on a camera of its own.",
            rig[2].id: "It reaches no farther than its own mount.",
        }
        draft = _pointed("aperture", rig, ring.id, {ring.id: says, **others}, (says,))
        if draft is not None:
            yield draft


def _costs(adapter: Adapter) -> float:
    """Light that a ring always takes, in stops; −1 for one of which that is not stated."""
    slot = adapter.filter_slot
    least = 0.0 if slot is None else slot.least_stops
    if least is None:
        return -1.0
    return adapter.light_loss_stops + least


def _light(hand: Hand) -> Iterator[Draft]:
    for rig, _ in _judged(hand):
        _, adapters, _ = rig
        costs = {adapter.id: _costs(adapter) for adapter in adapters}
        longer = {adapter.id for adapter in adapters if adapter.magnification > 1}
        brighter = any(adapter.magnification < 1 for adapter in adapters)
        guilty = [id_ for id_, cost in costs.items() if cost > 0 or id_ in longer]
        marked = any(a.filter_slot is not None or a.has_glass for a in adapters)
        # One that costs nothing is asked of only where it could be thought to.
        if (
            any(cost < 0 for cost in costs.values())
            or len(guilty) > 1
            or (not guilty and not marked)
            or (guilty and brighter)
        ):
            continue
        names = {adapter.id: adapter for adapter in adapters}
        if guilty:
            ring = names[guilty[0]]
            text = (
                f"It always takes {costs[ring.id]:.1f} stops."
                if costs[ring.id]
                else f"It makes the lens {ring.magnification:g} times as long, and the aperture as much smaller."
            )
            says = {ring.id: text, "none": text}
        else:
            text = (
                "Its filter can be taken out."
                if not brighter
                else "It gathers the light of the whole circle: brighter, not darker."
            )
            says = {id_: text for id_, a in names.items() if a.filter_slot is not None or a.has_glass}
            says["none"] = text
        draft = _pointed(
            "light", rig, guilty[0] if guilty else None, says, tuple(f"{a.name}: {_cost_said(a)}." for a in adapters)
        )
        if draft is not None:
            yield draft


def _cost_said(adapter: Adapter) -> str:
    said = f"{_costs(adapter):.1f} stops"
    return f"{said}, × {adapter.magnification:g}" if adapter.magnification != 1 else said


_MOVES: Final = {
    "ring": "The ring on the lens",
    "lever": "A lever in the adapter, turned by its ring",
    "pin": "A flange in the adapter, which presses the pin",
    "contacts": "The body, over the contacts",
    "nothing": "Nothing: it stays where it is",
}


def _moves(hand: Hand) -> Iterator[Draft]:
    """What moves the aperture of this lens on this rig."""
    for rig, judged in _judged(hand):
        lens, adapters, _body = rig
        iris = judged.rig.iris
        if iris.in_chain or lens.aperture in {"none", None}:
            continue
        own = {"ring": "ring", "lever": "lever", "pin": "pin", "electronic": "contacts"}[lens.aperture or "ring"]
        right = "nothing" if iris.code is not None else own
        if right == "pin" and lens.auto_manual_switch:
            continue
        rest = {"open": "wide open", "closed": "closed down", "stays": "where it was", None: ""}[iris.stuck]
        moved = f"nothing moves it: it stays {rest}" if right == "nothing" else "that is moved"
        truth = f"Its aperture has {_A[own]}, and {moved}."
        wrong = [AnswerChoice(id_, text, after(truth, rig)) for id_, text in _MOVES.items() if id_ != right]
        yield rig_draft(
            rig,
            trap="moves",
            nearness=0.3 + 0.2 * len(adapters) + (0.3 if right == "nothing" else 0.0),
            asks="What moves the aperture?",
            choices=(AnswerChoice(right, _MOVES[right], after(truth, rig)), *wrong),
            why=f"{_RULES['moves']} {truth}",
            working=(
                f"{lens.name}: aperture by {_BY[own]}.",
                *(f"{a.name}: {_HAS[a.aperture_control]}, {_LINKS[a.link]}." for a in adapters),
            ),
        )


_A: Final = {"ring": "a ring", "lever": "a lever", "pin": "a pin", "contacts": "no ring"}
_BY: Final = {"ring": "its ring", "lever": "a lever", "pin": "a pin", "contacts": "wire"}
_HAS: Final = {
    "none": "no lever and no flange",
    "lever_ring": "a lever ring",
    "pin_press": "a flange that presses the pin",
    "iris": "an aperture of its own",
}
_LINKS: Final = {
    "none": "no contacts",
    "chip": "a chip",
    "pass": "contacts passed on",
    "translate": "contacts translated",
}

LINKS = Skill(
    "Links",
    "Which piece loses it?",
    "how many pieces there are, and how many of the innocent ones have contacts",
    {
        "aperture": Trap("Lost aperture", _RULES["aperture"], _aperture),
        "focus": Trap("Lost autofocus", _RULES["focus"], lambda hand: _lost(hand, "focus", "autofocus")),
        "data": Trap("Lost data", _RULES["data"], lambda hand: _lost(hand, "data", "identity")),
        "light": Trap("Lost light", _RULES["light"], _light),
        "moves": Trap("Lever, pin or wire", _RULES["moves"], _moves),
    },
)
