"""Which route comes first, and which are beaten in everything."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tropeion.core import findings, words
from tropeion.core.findings import Grade
from tropeion.core.gear.adapters import Adapter
from tropeion.core.joints.mechanics import plays_of
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import price_of, to_buy
from tropeion.core.rig.judgement import Assessment
from tropeion.core.rig.report import Route
from tropeion.core.working import tidy

__all__ = [
    "UNKNOWN_PLAY_MM",
    "UNKNOWN_PRICE",
    "Merit",
    "abilities_of",
    "beats",
    "certainty",
    "gives_up",
    "merit_of",
    "preference",
    "unbeaten",
    "works",
]


@dataclass(frozen=True, slots=True)
class Merit:
    """What a route is measured by. ``spoken`` are the pieces with electronics of their own.

    ``unsure``: whether it reaches infinity cannot be told; ``trap``: one piece that goes on, of the wrong register.
    """

    grade: Grade
    pieces: int
    owned: bool
    price: float
    play_mm: float
    worst_case_mm: float
    probability: float
    magnification: float
    error_mm: float
    correcting: bool
    spoken: bool
    zoom_unknown: bool
    unsure: bool
    trap: bool
    abilities: frozenset[str]


def certainty(probability: float) -> float:
    """A probability as people weigh it: to five parts in a hundred, and from 95 % on all the same."""
    return min(0.95, round(probability * 20) / 20)


def abilities_of(adapters: Sequence[Adapter]) -> frozenset[str]:
    """What a chain can do that a plain ring cannot: no cheaper one beats that."""
    able = set()
    for adapter in adapters:
        if adapter.tilt_deg:
            able.add("tilt")
        if adapter.shift_mm:
            able.add("shift")
        if adapter.filter_slot is not None:
            able.add("filter")
        if adapter.chip is not None:
            able.add("chip")
        if adapter.aperture_control == "iris":
            able.add("iris")
        if adapter.helicoid_mm:
            able.add("helicoid")
    return frozenset(able)


# A price that is not known counts as more than any known one.
UNKNOWN_PRICE = 1e9
# So does play that nobody stated.
UNKNOWN_PLAY_MM = 1e3


def merit_of(assessed: Assessment) -> Merit:
    """The merit of one assessed rig."""
    rig, end = assessed.rig, assessed.ends[0]
    adapters: Sequence[Adapter] = rig.adapters
    price = price_of(adapters)
    return Merit(
        grade=assessed.grade,
        pieces=len(adapters),
        owned=not to_buy(adapters),
        price=UNKNOWN_PRICE if price is None else price,
        play_mm=tidy(sum(UNKNOWN_PLAY_MM if play is None else play for play in plays_of(rig.stack))),
        worst_case_mm=tidy(rig.chain.worst_case_mm),
        probability=certainty(end.infinity.probability or 0.0),
        magnification=round(end.reach.max_magnification or 0.0, 4),
        error_mm=abs(rig.chain.error_mm),
        correcting=any(adapter.optics == "correcting" for adapter in adapters),
        spoken=any(adapter.link != "none" for adapter in adapters),
        zoom_unknown=rig.lens.is_zoom and rig.signal.broken_at is not None,
        unsure=assessed.unsure,
        trap=len(adapters) == 1 and any(one.is_trap for one in rig.stack.joints),
        abilities=abilities_of(adapters),
    )


def works(grade: Grade) -> bool:
    """Whether anything can be photographed with it, and nothing breaks or is changed for good."""
    return findings.rank(grade) > findings.rank("modify")


def preference(merit: Merit, practice: Practice) -> tuple[float, ...]:
    """Sorts routes, best first: what works at all, practice, purpose, grade, pieces, owned, price, play."""
    choices = (
        merit.correcting and practice.glass == "avoid",
        merit.spoken and practice.electronics == "plain",
        merit.zoom_unknown and practice.zooms == "avoid",
    )
    purpose: tuple[float, ...] = (-merit.magnification,) if practice.purpose == "close_up" else ()
    cheap = (not merit.owned, merit.price, merit.play_mm)
    fine = (merit.play_mm, merit.worst_case_mm, not merit.owned, merit.price)
    return (
        not works(merit.grade),
        merit.unsure,
        *choices,
        *purpose,
        -findings.rank(merit.grade),
        merit.pieces,
        merit.probability < 0.95,
        *(cheap if practice.rings == "cheapest" else fine),
        merit.error_mm,
    )


def beats(one: Merit, other: Merit, practice: Practice, *, promised: bool = False) -> bool:
    """At least as good in everything, and better in something. ``promised``: the other's grade may yet be lower.

    What works beats what does not work at all, however cheap. How close it gets counts where close-up is the purpose.
    """
    if one.unsure or (other.trap and not promised) or (other.grade == "danger" and other.pieces < 2):
        # What can break when it is simply put on, or is bought by mistake, is never out of sight.
        return False
    if works(one.grade) and not works(other.grade):
        return True
    higher = findings.rank(one.grade) - findings.rank(other.grade)
    if (
        higher < 0
        or one.pieces > other.pieces
        or one.price > other.price
        or one.play_mm > other.play_mm
        or one.probability < other.probability
        or one.correcting > other.correcting
        or not one.abilities >= other.abilities
    ):
        return False
    metal_counts = promised or higher == 0 or practice.electronics == "plain"
    if metal_counts and one.spoken > other.spoken:
        return False
    close_up = practice.purpose == "close_up"
    if close_up and one.magnification < other.magnification:
        return False
    return (
        higher > 0
        or one.pieces < other.pieces
        or one.price < other.price
        or one.play_mm < other.play_mm
        or one.probability > other.probability
        or one.correcting < other.correcting
        or (metal_counts and one.spoken < other.spoken)
        or (close_up and one.magnification > other.magnification)
    )


def unbeaten(merits: Sequence[Merit], practice: Practice) -> list[bool]:
    """For each, whether no other beats it in everything."""
    return [not any(beats(other, one, practice) for other in merits) for one in merits]


def gives_up(route: Route, best: Route) -> str:
    """In a phrase, what a route gives up against the best one."""
    if route is best:
        return ""
    had = {f.gives_up for f in best.findings}
    lost = findings.decisive([f for f in route.findings if f.gives_up and f.gives_up not in had])
    if lost is not None:
        return lost.gives_up
    chance, surest = route.wide.infinity.probability or 0, best.wide.infinity.probability or 0
    if chance < surest - 0.005:
        return f"infinity less sure, {words.percent(chance)}"
    if len(route.adapters) > len(best.adapters):
        return f"{len(route.adapters) - len(best.adapters)} more to carry and to come loose"
    if not route.owned and best.owned:
        return "to be bought"
    return "nothing"
