"""Evidence for and against, of one item or of several together; counted on both sides."""

from __future__ import annotations

from collections.abc import Collection

from tropeion.core.frozen import frozen
from tropeion.core.keeping import kept

from .adapters import Adapter
from .bodies import Body
from .items import Evidence
from .lenses import Lens
from .world import World


@frozen
class Testimony:
    """One piece of evidence, with the names of what it is about, the item that carries it first."""

    item: str
    about: tuple[str, ...]
    evidence: Evidence


@frozen
class Witnessed:
    """What is said for and against."""

    confirmed: int
    contradicted: int
    own: int
    testimonies: tuple[Testimony, ...]


def evidence_on(world: World, ids: Collection[str], *, whole: bool = True) -> Witnessed:
    """What is said of these pieces alone or together; with ``whole`` False also what names one of them beside others.

    Own trials come first, then the latest. Ids that are not pieces of the collection are passed over.
    """
    testimonies = []
    for piece in _pieces(world):
        for evidence in piece.evidence:
            about = {piece.id, *evidence.with_}
            if about <= set(ids) if whole else about & set(ids):
                names = (piece.name, *(_name(world, id_) for id_ in evidence.with_))
                testimonies.append(Testimony(piece.id, names, evidence))
    testimonies.sort(key=lambda each: each.evidence.on or "", reverse=True)
    testimonies.sort(key=lambda each: each.evidence.source != "own")
    return Witnessed(
        confirmed=sum(each.evidence.verdict == "confirmed" for each in testimonies),
        contradicted=sum(each.evidence.verdict == "contradicted" for each in testimonies),
        own=sum(each.evidence.source == "own" for each in testimonies),
        testimonies=tuple(testimonies),
    )


@kept()
def _pieces(world: World) -> tuple[Lens | Body | Adapter, ...]:
    """Everything with evidence."""
    every: list[Lens | Body | Adapter] = [*world.gear.lenses, *world.gear.adapters, *world.gear.bodies]
    return tuple(piece for piece in every if piece.evidence)


def _name(world: World, id_: str) -> str:
    for shelf in (world.lenses, world.adapters, world.bodies):
        if id_ in shelf:
            return shelf[id_].name
    return id_
