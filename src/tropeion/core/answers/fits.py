"""What fits one end: every body for a lens, or every lens for a body."""

from __future__ import annotations

from typing import Literal

from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.joints.signal import FunctionName
from tropeion.core.practice import Practice
from tropeion.core.rig.cautions import Warned, minded_in
from tropeion.core.rig.pieces import piece_of
from tropeion.core.rig.reporting import judge
from tropeion.core.rig.rig_report import Piece
from tropeion.core.rig.section import Section, section_apart
from tropeion.core.rig.would_need import what_would_be_needed
from tropeion.core.routes.grades import best_standings
from tropeion.core.routes.match import best_route
from tropeion.core.routes.pair import binding
from tropeion.core.routes.ranking import is_picky, serves
from tropeion.core.routes.standings import StandingGrade, level_of
from tropeion.core.routes.unlisted_ways import Unlisted, unlisted_if_better

# At most this many are told in full; of the rest, the grade alone.
MOST_IN_FULL = 60


@frozen
class FitNeed:
    """The ring that is not listed, and the grade with it; ``adapters`` is the whole chain, ``ring`` its name.

    ``section`` draws it where the pair is told in full.
    """

    length_mm: float
    lens_mount: str
    body_mount: str
    grade: Grade
    ring: str
    adapters: tuple[str, ...]
    section: Section | None


@frozen
class Fit:
    """What one other end comes to: its best route, or none; ``section`` draws that route.

    Not ``surely`` where it depends on a focus travel that is not known: then it does not count as working.
    ``would_need`` is there where no listed way is as good as a ring that is not listed. Not ``possible`` where no ring
    can do it; ``with_glass``: an adapter with correcting glass would.
    """

    id: str
    name: str
    owned: int
    grade: Grade | None
    surely: bool
    works: bool
    slow: tuple[FunctionName, ...]
    cautions: tuple[Warned, ...]
    adapters: tuple[str, ...]
    section: Section | None
    sentence: str
    price: float | None
    warnings: tuple[str, ...]
    would_need: FitNeed | None
    possible: bool
    with_glass: bool


@frozen
class FitsReport:
    """What fits one given end, best first; what nothing joins comes last. ``alone`` draws the given end."""

    given: Literal["lens", "body"]
    id: str
    fits: tuple[Fit, ...]
    alone: Section
    pieces: dict[str, Piece]
    currency: str
    practice: Practice


@frozen
class _FitPair:
    lens: Lens
    body: Body
    standing: StandingGrade
    given_lens: bool

    @property
    def end(self) -> Lens | Body:
        """The end that is not given."""
        return self.body if self.given_lens else self.lens


def _fit(world: World, pair: _FitPair, practice: Practice, *, in_full: bool) -> Fit:
    end, grade = pair.end, pair.standing.grade
    # What the owner does not use is told with the route only.
    picky = is_picky(pair.lens, practice)
    first, warnings = (
        best_route(world, pair.lens, pair.body, practice)
        if grade and (in_full or picky)
        else (None, binding(world, pair.lens, pair.body))
    )
    route = first if in_full else None
    need = unlisted_if_better(world, pair.lens, pair.body, pair.standing, practice)
    works = serves(first) if first else pair.standing.works
    possible = works or need is not None
    return Fit(
        id=end.id,
        name=end.name,
        owned=end.at_hand,
        grade=route.grade if route else grade,
        surely=route.surely if route else pair.standing.surely,
        works=works,
        slow=route.slow if route else (),
        cautions=minded_in(route) if route else (),
        adapters=route.adapters if route else (),
        section=route.section if route else None,
        sentence=route.sentence if route else "" if grade else _nothing_joins(need),
        price=route.price if route else None,
        warnings=warnings,
        would_need=None if need is None else _need_of(world, pair, need, practice, drawn=in_full),
        possible=possible,
        with_glass=not possible and in_full and _glass_would_do(world, pair, practice),
    )


def _nothing_joins(need: Unlisted | None) -> str:
    return (
        "Nothing in the collection joins them."
        if need is None
        else f"Fits with a ring that is not listed: {need.ring.name}."
    )


def _need_of(world: World, pair: _FitPair, need: Unlisted, practice: Practice, *, drawn: bool) -> FitNeed:
    ring = need.ring
    section = None
    if drawn:
        section = judge(world, pair.lens, need.chain, pair.body, practice, detailed=False).section
    return FitNeed(ring.length_mm, ring.lens_mount, ring.body_mount, need.grade, ring.name, need.ids, section)


def _glass_would_do(world: World, pair: _FitPair, practice: Practice) -> bool:
    needs = what_would_be_needed(world, pair.lens, pair.body, practice)
    return any(need.kind == "correcting_glass" and need.grade is not None for need in needs)


def what_fits(world: World, *, lens: str | None = None, body: str | None = None, practice: Practice) -> FitsReport:
    """Every body for a lens, or every lens for a body. Exactly one of the two is given.

    Raises UnknownIdError for an id that is not in the collection, ValueError if not exactly one is given.
    """
    if (lens is None) == (body is None):
        raise ValueError("give a lens or a body, not both")
    lenses = [world.lens(lens)] if lens is not None else [lens for lens in world.gear.mounted if not lens.retired]
    bodies = [world.body(body)] if body is not None else [body for body in world.gear.bodies if not body.retired]
    standings = best_standings(world, lenses, bodies, practice)
    pairs = [
        _FitPair(candidate, other, standings[candidate.id, other.id], lens is not None)
        for candidate in lenses
        for other in bodies
    ]
    pairs.sort(key=lambda pair: (-pair.standing.level, not pair.end.at_hand, pair.end.name.casefold()))
    fits = [_fit(world, pair, practice, in_full=number < MOST_IN_FULL) for number, pair in enumerate(pairs)]
    # Preferences may put a route first that does not have the best grade.
    fits.sort(key=lambda fit: -level_of(fit.grade, surely=fit.surely))
    given = lenses[0] if lens is not None else bodies[0]
    items: list[Lens | Adapter | Body] = [given, *lenses, *bodies]
    used = {id_ for fit in fits for id_ in (*fit.adapters, *(fit.would_need.adapters if fit.would_need else ()))}
    items += [world.adapters[id_] for id_ in sorted(used)]
    told = {given.id, *(fit.id for fit in fits[:MOST_IN_FULL])}
    return FitsReport(
        given="lens" if lens is not None else "body",
        id=given.id,
        fits=tuple(fits),
        alone=section_apart(
            world, lenses[0] if lens is not None else None, bodies[0] if body is not None else None, practice.use
        ),
        pieces={item.id: piece_of(world, item) for item in items if isinstance(item, Adapter) or item.id in told},
        currency=world.gear.currency,
        practice=practice,
    )
