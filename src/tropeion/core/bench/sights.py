"""What there is to see of a rig, in a photographer's words: how to look, what is asked, what doubt it usually has."""

from __future__ import annotations

from collections.abc import Callable
from typing import Final, Literal

from tropeion.core.data_tables import table
from tropeion.core.frozen import frozen

from .seen import Kind, Saw

At = Literal["distance", "f_number", "length"]


@frozen
class SightValue:
    """One value that is asked for; ``optional``: it may be left out. Distances in m, lengths in mm."""

    name: str
    label: str
    what: At
    optional: bool = False


@frozen
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


SIGHTS: Final[dict[Kind, Sight]] = {sight.kind: sight for sight in table("sights", Sight)}
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
    "edge_blur": lambda saw: _blurred(saw.values),
    "length": lambda saw: f"the caliper says {saw.values[0]:+.3f} ± {saw.values[1]:.3f} mm",
}


def _blurred(values: tuple[float, ...]) -> str:
    """A blur in thousandths of a millimetre, with what it was taken at."""
    blur, doubt, f_number, *rest = values
    distance = "far things" if not rest or rest[0] == 0 else f"an edge at {_m(rest[0])}"
    ring = "at its far stop" if len(rest) < 2 else "on ∞" if rest[1] == 0 else f"at {_m(rest[1])}"
    return f"at f/{f_number:g} {distance} {'are' if distance == 'far things' else 'is'} blurred by " + (
        f"{1000 * blur:.0f} ± {1000 * doubt:.0f} µm, the ring {ring}"
    )


def told(saw: Saw) -> str:
    """What was seen, as a sentence; where its values are missing, its label."""
    sight = SIGHTS[saw.kind]
    if len(saw.values) < sum(not value.optional for value in sight.values):
        return sight.label
    return f"{_TOLD[saw.kind](saw)}{', from the front of the lens' if saw.from_front else ''}"
