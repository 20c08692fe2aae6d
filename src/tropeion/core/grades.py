"""Best grades of many pairs, without their reports.

Each chain is first bounded by what its lengths and contacts still allow; only chains that could better the best
found so far are assessed. Pairs that agree in everything that is judged are judged once.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from .findings import GRADES, Grade, rank
from .gear import Body, Lens
from .judgement import assess
from .outlines import bounds_of, outlines_of, prospect_of
from .practice import Practice
from .world import World

__all__ = ["best_grade", "best_grades"]

_UNJUDGED = {"id", "name", "aliases", "notes", "owned", "price", "evidence", "firmware", "measured_on", "character"}


def best_grade(world: World, lens: Lens, body: Body, practice: Practice) -> Grade | None:
    """The best grade over all routes of a pair; None if nothing joins them."""
    outlines = outlines_of(world, lens, body, int(practice.pieces))
    if not outlines.chains:
        return None
    bounds, sure = bounds_of(outlines, prospect_of(world, lens, body, practice))
    best = -1
    # The most promising first; among equals those of which it is sure.
    for index in np.lexsort((~sure, -bounds)):
        if best >= bounds[index]:
            break
        if sure[index]:
            best = int(bounds[index])
            break
        best = max(best, rank(assess(world, lens, outlines.pieces(int(index)), body, practice).grade))
    return GRADES[best]


def _signature(item: Lens | Body) -> str:
    return item.model_dump_json(exclude=_UNJUDGED)


def best_grades(
    world: World, lenses: Sequence[Lens], bodies: Sequence[Body], practice: Practice
) -> Mapping[tuple[str, str], Grade | None]:
    """The best grade of every pair, by (lens id, body id)."""
    lens_signatures = {lens.id: _signature(lens) for lens in lenses}
    body_signatures = {body.id: _signature(body) for body in bodies}
    judged: dict[tuple[str, str], Grade | None] = {}
    found = {}
    for lens in lenses:
        for body in bodies:
            key = (lens_signatures[lens.id], body_signatures[body.id])
            if key not in judged:
                judged[key] = best_grade(world, lens, body, practice)
            found[lens.id, body.id] = judged[key]
    return found
