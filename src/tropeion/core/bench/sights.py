"""What there is to see of a rig, in a photographer's words: how to look, what is asked, what doubt it usually has."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Final, Literal

from .seen import Kind, Saw

At = Literal["distance", "f_number", "length"]


@dataclass(frozen=True, slots=True)
class SightValue:
    """One value that is asked for; ``optional``: it may be left out. Distances in m, lengths in mm."""

    name: str
    label: str
    what: At
    optional: bool = False


@dataclass(frozen=True, slots=True)
class Sight:
    """A kind of observation: ``name`` as said in a sentence, ``short`` where there is little room.

    ``look`` is how it is done, ``usual_doubt`` what doubt it has unless it is said.
    """

    kind: Kind
    short: str
    name: str
    label: str
    look: str
    values: tuple[SightValue, ...]
    usual_doubt: str


def _m(mm: float) -> str:
    return f"{mm / 1000:g} m"


_DISTANCE = SightValue("distance", "sharpest at", "distance")
_FIVE = "5 % of the distance"
_ALL: tuple[Sight, ...] = (
    Sight(
        "far_limit",
        "sharp up to",
        "how far it is sharp",
        "Far is not sharp: the farthest sharp thing stands at …",
        "Ring at its far stop, widest aperture, magnified: walk towards a post until it is sharpest, and measure from"
        " the film-plane mark.",
        (_DISTANCE,),
        _FIVE,
    ),
    Sight(
        "far_limit_mark",
        "sharp with ∞ set",
        "how far it is sharp on the ∞ mark",
        "On the ∞ mark it is sharp at …",
        "Ring on the ∞ mark and not beyond it, widest aperture, magnified: what is sharpest?",
        (_DISTANCE,),
        _FIVE,
    ),
    Sight(
        "near_limit",
        "nearest sharp",
        "how near it is sharp",
        "The nearest sharp thing stands at …",
        "Ring at its closest, widest aperture, magnified: move towards a page of print until it is sharpest.",
        (_DISTANCE,),
        _FIVE,
    ),
    Sight(
        "scale",
        "scale against tape",
        "what the scale says",
        "The scale says one distance, and it is another",
        "Focus on something between one and three metres, measure to it from the film-plane mark, then read the ring.",
        (SightValue("distance", "it stands at", "distance"), SightValue("read", "the scale says", "distance")),
        _FIVE,
    ),
    Sight(
        "past_infinity",
        "∞ on the ring",
        "where infinity lies",
        "It turns past infinity: far things are sharp with the ring at …",
        "A far light or roof, widest aperture, magnified: turn until it is sharpest, then read the ring.",
        (SightValue("read", "the ring stands at", "distance"),),
        _FIVE,
    ),
    Sight(
        "infinity_from",
        "∞ sharp from a stop",
        "from which stop infinity is sharp",
        "Far things get sharp only when stopped down, from f/…",
        "Ring at its far stop, on something far: stop down one stop at a time until it is just sharp.",
        (
            SightValue("sharp", "sharp at f/", "f_number"),
            SightValue("soft", "still soft at f/", "f_number", optional=True),
        ),
        "15 % of either stop's window",
    ),
    Sight(
        "nothing_at_any_stop",
        "∞ at no stop",
        "that infinity is never sharp",
        "Far things are not sharp at any stop",
        "Ring at its far stop, at the smallest aperture: is a far roof sharp at all?",
        (),
        "15 % of the smallest stop's window",
    ),
    Sight(
        "nothing_anywhere",
        "nothing sharp",
        "that nothing is sharp",
        "Nothing gets sharp anywhere, near or far",
        "Turn the ring from end to end at the smallest aperture, from a page of print to a far roof.",
        (),
        "15 % of the smallest stop's window",
    ),
    Sight(
        "length",
        "the caliper",
        "the caliper",
        "I measured how much it is too long or too short",
        "Measure the ring from face to face; what it is more than it should be, less what it is less.",
        (SightValue("error", "too long by (− too short)", "length"), SightValue("doubt", "give or take", "length")),
        "as the readings say",
    ),
)
SIGHTS: Final[dict[Kind, Sight]] = {sight.kind: sight for sight in _ALL}
_TOLD: Final[dict[Kind, Callable[[Saw], str]]] = {
    "far_limit": lambda saw: f"sharp only up to {_m(saw.values[0])}, ring at its far stop",
    "far_limit_mark": lambda saw: f"sharp at {_m(saw.values[0])} with the ring on ∞",
    "near_limit": lambda saw: f"nothing nearer than {_m(saw.values[0])} gets sharp",
    "scale": lambda saw: f"the scale says {_m(saw.values[1])} and it is {_m(saw.values[0])}",
    "past_infinity": lambda saw: f"far things are sharp with the ring at {_m(saw.values[0])}",
    "infinity_from": lambda saw: (
        f"infinity is sharp from f/{saw.values[0]:g}"
        + (f", soft at f/{saw.values[1]:g}" if len(saw.values) > 1 else " on")
    ),
    "nothing_at_any_stop": lambda _: "infinity is sharp at no stop",
    "nothing_anywhere": lambda _: "nothing is sharp at any distance",
    "length": lambda saw: f"the caliper says {saw.values[0]:+.3f} ± {saw.values[1]:.3f} mm",
}


def told(saw: Saw) -> str:
    """What was seen, as a sentence; where its values are missing, its label."""
    sight = SIGHTS[saw.kind]
    if len(saw.values) < sum(not value.optional for value in sight.values):
        return sight.label
    return f"{_TOLD[saw.kind](saw)}{', from the front of the lens' if saw.from_front else ''}"
