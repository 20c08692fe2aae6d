"""What fits one end: every body for a lens, or every lens for a body."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from .findings import Grade, rank
from .grades import best_grades
from .match import best_route
from .practice import Practice
from .world import World

__all__ = ["Fit", "FitsReport", "what_fits"]

# So many are told in full; for the rest there is the grade.
MOST_IN_FULL = 60


@dataclass(frozen=True, slots=True)
class Fit:
    """What one other end comes to: its best route, or none."""

    id: str
    name: str
    owned: int
    grade: Grade | None
    adapters: tuple[str, ...]
    adapter_names: tuple[str, ...]
    sentence: str
    price: float | None
    warnings: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class FitsReport:
    """What fits one given end, best first; what nothing joins comes last."""

    given: Literal["lens", "body"]
    id: str
    fits: tuple[Fit, ...]
    practice: Practice


def what_fits(world: World, *, lens: str | None = None, body: str | None = None, practice: Practice) -> FitsReport:
    """Every body for a lens, or every lens for a body. Exactly one of the two is given.

    Raises UnknownIdError for an id that is not in the collection, ValueError if not exactly one is given.
    """
    if (lens is None) == (body is None):
        raise ValueError("give a lens or a body, not both")
    lenses = [world.lens(lens)] if lens is not None else [one for one in world.gear.lenses if not one.retired]
    bodies = [world.body(body)] if body is not None else [one for one in world.gear.bodies if not one.retired]
    grades = best_grades(world, lenses, bodies, practice)
    pairs = [(one, other, grades[one.id, other.id]) for one in lenses for other in bodies]
    pairs.sort(
        key=lambda pair: (
            -rank(pair[2]) if pair[2] else 1,
            not (pair[1] if lens is not None else pair[0]).owned,
            (pair[1] if lens is not None else pair[0]).name.casefold(),
        )
    )
    fits = []
    for number, (one, other, grade) in enumerate(pairs):
        end = other if lens is not None else one
        route, warnings = best_route(world, one, other, practice) if grade and number < MOST_IN_FULL else (None, ())
        fits.append(
            Fit(
                id=end.id,
                name=end.name,
                owned=end.owned,
                grade=grade,
                adapters=route.adapters if route else (),
                adapter_names=tuple(world.adapters[id_].name for id_ in route.adapters) if route else (),
                sentence=route.sentence if route else "" if grade else "Nothing in the collection joins them.",
                price=route.price if route else None,
                warnings=warnings,
            )
        )
    return FitsReport("lens" if lens is not None else "body", lens or body or "", tuple(fits), practice)
