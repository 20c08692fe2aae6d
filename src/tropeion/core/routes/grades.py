"""Best grades of many pairs, without their reports.

Each chain is first bounded by what its lengths and contacts still allow; only chains that could better the best
found so far are assessed. Pairs that agree in everything that is judged are judged once, those that meet at the same
interfaces together.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from tropeion.core.findings import GRADES, Grade, rank
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.items import UNJUDGED
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import Assessment, assess

from .bounds import bounds_of, prospect_of
from .ranking import works
from .table import Bools, ChainTable, Ints, table_of

__all__ = ["NOTHING", "Standing", "best_grade", "best_grades", "best_standings", "standing_of"]


@dataclass(frozen=True, slots=True, order=True)
class Standing:
    """How well a pair stands: its best route's grade, None if nothing joins them.

    Not ``surely`` where all that is better than close-up depends on a focus travel that nobody knows.
    """

    level: int

    @property
    def grade(self) -> Grade | None:
        return None if self.level < 0 else _UNSURE_GRADE if self.level == _UNSURE else GRADES[self.level // 2]

    @property
    def surely(self) -> bool:
        return self.level != _UNSURE

    @property
    def works(self) -> bool:
        """Whether it takes pictures: what breaks, changes for good or is not known does not count."""
        return self.grade is not None and self.surely and works(self.grade)


# Levels are twice the ranks of the grades: what is not known stands between two of them, below close-up.
_UNSURE = 2 * rank("close_up") - 1
_UNSURE_GRADE: Grade = "partial"
NOTHING = Standing(-1)


def standing_of(assessed: Assessment) -> Standing:
    """How well one judged rig stands."""
    return Standing(_UNSURE if assessed.unsure else 2 * rank(assessed.grade))


def best_grade(world: World, lens: Lens, body: Body, practice: Practice) -> Grade | None:
    """The best grade over all routes of a pair; None if nothing joins them."""
    return _best_of(world, [(lens, body)], practice)[0].grade


def _best_of(world: World, pairs: Sequence[tuple[Lens, Body]], practice: Practice) -> list[Standing]:
    """The best standings of pairs that all meet at the same two interfaces."""
    table = table_of(world, *pairs[0], int(practice.pieces))
    if not len(table):
        return [NOTHING] * len(pairs)
    bounds, sure = bounds_of(table, [prospect_of(world, lens, body, practice) for lens, body in pairs])
    best = bounds.max(axis=1)
    settled = (sure & (bounds == best[:, np.newaxis])).any(axis=1)
    return [
        Standing(2 * int(best[row]))
        if settled[row]
        else _searched(world, pair, practice, table, bounds[row], sure[row])
        for row, pair in enumerate(pairs)
    ]


def _searched(
    world: World, pair: tuple[Lens, Body], practice: Practice, table: ChainTable, bounds: Ints, sure: Bools
) -> Standing:
    lens, body = pair
    best = -1
    # The most promising first; among equals those of which it is sure.
    for index in np.lexsort((~sure, -bounds)):
        if best >= 2 * bounds[index]:
            break
        if sure[index]:
            best = 2 * int(bounds[index])
            break
        best = max(best, standing_of(assess(world, lens, table.pieces(int(index)), body, practice)).level)
    return Standing(best)


def _signature(item: Lens | Body) -> str:
    return item.model_dump_json(exclude=set(UNJUDGED))


def best_grades(
    world: World, lenses: Sequence[Lens], bodies: Sequence[Body], practice: Practice
) -> Mapping[tuple[str, str], Grade | None]:
    """The best grade of every pair, by (lens id, body id)."""
    return {pair: one.grade for pair, one in best_standings(world, lenses, bodies, practice).items()}


def best_standings(
    world: World, lenses: Sequence[Lens], bodies: Sequence[Body], practice: Practice
) -> Mapping[tuple[str, str], Standing]:
    """How well every pair stands, by (lens id, body id)."""
    lens_signatures = {lens.id: _signature(lens) for lens in lenses}
    body_signatures = {body.id: _signature(body) for body in bodies}
    alike_lenses = {lens_signatures[lens.id]: lens for lens in lenses}
    alike_bodies = {body_signatures[body.id]: body for body in bodies}
    meeting: dict[tuple[str, str], list[tuple[str, str]]] = {}
    for lens_signature, lens in alike_lenses.items():
        for body_signature, body in alike_bodies.items():
            ends = (world.mount_of(lens).joint, world.mount_of(body).joint)
            meeting.setdefault(ends, []).append((lens_signature, body_signature))
    judged: dict[tuple[str, str], Standing] = {}
    for keys in meeting.values():
        pairs = [(alike_lenses[front], alike_bodies[rear]) for front, rear in keys]
        judged.update(zip(keys, _best_of(world, pairs, practice), strict=True))
    return {
        (lens.id, body.id): judged[lens_signatures[lens.id], body_signatures[body.id]]
        for lens in lenses
        for body in bodies
    }
