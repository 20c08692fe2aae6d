"""The whole kit: every lens on every body, by the best grade with what is at hand, and with what could be bought."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from tropeion.core.findings import Grade
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes.grades import Standing, best_standings

__all__ = ["Cell", "Ends", "GridReport", "whole_kit"]


@dataclass(frozen=True, slots=True)
class Cell:
    """A lens on a body. ``now`` is the best grade with what is at hand, ``could`` with all that the collection lists;
    None: nothing joins them. They ``work`` where pictures are taken, and that is known.
    """

    lens: str
    body: str
    now: Grade | None
    could: Grade | None
    works_now: bool
    could_work: bool


@dataclass(frozen=True, slots=True)
class Ends:
    """A lens over all bodies, or a body over all lenses: on how many it works with what is at hand, and could."""

    id: str
    name: str
    mount: str
    at_hand: int
    works_now: int
    could_work: int

    @property
    def stranded(self) -> bool:
        """It works on nothing as things are."""
        return self.works_now == 0


@dataclass(frozen=True, slots=True)
class GridReport:
    """Lenses by mount and name, bodies likewise, and a cell for each pair, lens by lens."""

    lenses: tuple[Ends, ...]
    bodies: tuple[Ends, ...]
    cells: tuple[Cell, ...]


def whole_kit(world: World, practice: Practice) -> GridReport:
    """Every lens with a mount on every body; what is archived is left out."""
    lenses = sorted((one for one in world.gear.mounted if not one.retired), key=lambda one: _place(world, one))
    bodies = sorted((one for one in world.gear.bodies if not one.retired), key=lambda one: _place(world, one))
    could = best_standings(world, lenses, bodies, practice)
    now = best_standings(_at_hand(world), lenses, bodies, practice)
    return GridReport(
        lenses=tuple(_ends(world, one, [(one.id, other.id) for other in bodies], now, could) for one in lenses),
        bodies=tuple(_ends(world, one, [(other.id, one.id) for other in lenses], now, could) for one in bodies),
        cells=tuple(_cell(lens.id, body.id, now, could) for lens in lenses for body in bodies),
    )


def _place(world: World, one: Lens | Body) -> tuple[str, str, str]:
    return world.mount_of(one).name.casefold(), one.name.casefold(), one.id


def _at_hand(world: World) -> World:
    """The same world with no adapters but those at hand."""
    held = tuple(one for one in world.gear.adapters if one.at_hand)
    return compile_world(world.gear.model_copy(update={"adapters": held, "rigs": ()}))


Standings = Mapping[tuple[str, str], Standing]


def _cell(lens: str, body: str, now: Standings, could: Standings) -> Cell:
    here, there = now[lens, body], could[lens, body]
    return Cell(lens, body, here.grade, there.grade, here.works, there.works)


def _ends(world: World, one: Lens | Body, pairs: Sequence[tuple[str, str]], now: Standings, could: Standings) -> Ends:
    return Ends(
        id=one.id,
        name=one.name,
        mount=world.mount_of(one).id,
        at_hand=one.at_hand,
        works_now=sum(now[pair].works for pair in pairs),
        could_work=sum(could[pair].works for pair in pairs),
    )
