"""The tables that a screen asks for: a lens over all bodies and modes, lenses over one body, one rig by setting."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Literal

from tropeion.core import written
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.optics.modes import mode_named, modes_of
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import in_mode
from tropeion.core.rig.judgement import assess
from tropeion.core.routes.standings import standing_of

from .becoming import Becoming, LensSetting, Mounted, becoming_of, settings_marked
from .lens_ways import LensWay, ways_of
from .mistakes import Guess, Mistake, guess_of, mistakes_of
from .reference import Reference
from .sets import GAP_RATIO, LensSet, set_of

Whose = Literal["mine", "all"]


@frozen
class Becomings:
    """Rows of a table; ``apart`` are the ids of what nothing joins.

    Of very many modes only some are told, each body's in turn, and ``left_out`` counts the others. On one body,
    ``lenses`` is what a set comes to there, and ``modes`` are the body's, the whole sensor first.
    """

    reference: Reference
    rows: tuple[Becoming, ...]
    left_out: int
    apart: tuple[str, ...]
    lenses: LensSet | None
    modes: tuple[str, ...]
    sentence: str
    names: dict[str, str]
    currency: str


@frozen
class RigBecomes:
    """One rig in one mode at every marked setting, with the mistakes that it invites; ``guess`` is what a number is."""

    reference: Reference
    row: Becoming
    settings: tuple[LensSetting, ...]
    mistakes: tuple[Mistake, ...]
    guess: Guess | None
    names: dict[str, str]


def lens_on_bodies(
    world: World, lens: Lens, bodies: Sequence[Body], reference: Reference, practice: Practice, *, glass: bool = True
) -> Becomings:
    """What a lens becomes on each body, in each mode, without glass and with each kind of it; the widest view first."""
    ways = ways_of(world, [lens], bodies, practice)
    chosen = _with_glass((way for body in bodies for way in ways[lens.id, body.id]), glass)
    told, left_out = _in_turns([Mounted(world, way, practice, reference) for way in chosen])
    rows = sorted(told, key=_widest_first)
    apart = tuple(body.id for body in bodies if not ways[lens.id, body.id])
    sentence = _of_the_lens(lens, rows, reference)
    if left_out:
        sentence += f" {left_out} more rows are left out: of each body the modes that come first are told."
    return _table(world, rows, left_out, apart, reference, None, (), sentence, [lens, *bodies])


# At most this many rows for a lens; the mode in use of each route first.
MOST_ROWS = 1_000


def _in_turns(ways: Sequence[Mounted]) -> tuple[list[Becoming], int]:
    """What ways become in their modes, one more of each in every turn, and how many there is no room for."""
    modes = [list(dict.fromkeys((way.mode_in_use, *way.modes))) for way in ways]
    turns = [(turn, place) for place, own in enumerate(modes) for turn in range(len(own))]
    told = sorted(turns)[:MOST_ROWS]
    return [ways[place].becomes(modes[place][turn]) for turn, place in told], len(turns) - len(told)


def lenses_on_body(
    world: World,
    body: Body,
    lenses: Sequence[Lens],
    reference: Reference,
    practice: Practice,
    *,
    glass: bool = True,
    mode: str = "",
    without: frozenset[str] = frozenset(),
    ratio: float = GAP_RATIO,
) -> Becomings:
    """What lenses become on one body, in the mode of each or in the one that is named, the widest view first.

    Rows whose keys are ``without`` do not count in the set.
    """
    ways = ways_of(world, lenses, [body], practice)
    chosen = _with_glass((way for lens in lenses for way in ways[lens.id, body.id]), glass)
    rows = sorted(becoming_of(world, chosen, practice, reference, mode), key=_widest_first)
    apart = tuple(lens.id for lens in lenses if not ways[lens.id, body.id])
    names = {lens.id: lens.name for lens in lenses}
    counted = [row for row in rows if row.gives_views and row.key not in without]
    made = set_of(counted, names, reference, ratio)
    modes = tuple(mode.name for mode in modes_of(body, practice.use))
    return _table(world, rows, 0, apart, reference, made, modes, " ".join(made.sentences[:2]), [body, *lenses])


def lenses_of(world: World, whose: Whose, also: str | None = None) -> tuple[Lens, ...]:
    """The lenses at hand and the one that is named, or all that are there, without those that are put away."""
    mounted = world.gear.mounted
    return tuple(lens for lens in mounted if lens.id == also or (not lens.retired and (whose == "all" or lens.at_hand)))


def bodies_of(world: World, whose: Whose, also: str | None = None) -> tuple[Body, ...]:
    """The bodies at hand and the one that is named, or all that are there, without those that are put away."""
    bodies = world.gear.bodies
    return tuple(body for body in bodies if body.id == also or (not body.retired and (whose == "all" or body.at_hand)))


def rig_becomes(
    world: World,
    rig: Rig,
    reference: Reference,
    practice: Practice,
    *,
    mode: str | None = None,
    marked_mm: float | None = None,
    guessed: tuple[float, Literal["mm", "f"]] | None = None,
) -> RigBecomes:
    """One rig at every marked setting. Mistakes are told of ``marked_mm``, else the widest.

    Raises UnknownIdError for what is not in the collection; a mode that the body has not is the one in use.
    """
    lens, adapters, body = world.pieces_of(rig)
    way = LensWay(lens, body, adapters, standing_of(assess(world, lens, adapters, body, practice)))
    mounted = Mounted(world, way, practice, reference)
    chosen = (None if mode is None else mode_named(body, practice.use, mode)) or mounted.mode_in_use
    row = mounted.becomes(chosen)
    settings = settings_marked(in_mode(mounted.rig, chosen), reference)
    at = min(settings, key=lambda lens_setting: abs(lens_setting.marked_mm - (marked_mm or 0.0)))
    terms = (row.magnification, row.crop_factor, reference)
    return RigBecomes(
        reference=reference,
        row=row,
        settings=settings,
        mistakes=mistakes_of(at, adapters, *terms),
        guess=None
        if guessed is None
        else guess_of(guessed[0], (at, *(setting for setting in settings if setting is not at)), *terms, guessed[1]),
        names={piece.id: piece.name for piece in (lens, *adapters, body)},
    )


def _with_glass(ways: Iterable[LensWay], glass: bool) -> list[LensWay]:
    return [way for way in ways if glass or not any(adapter.magnification != 1 for adapter in way.adapters)]


def _widest_first(row: Becoming) -> tuple[float, str, float, str]:
    return row.settings[0].equivalent_mm, row.body, -row.width_mm, row.key


def _table(
    world: World,
    rows: Sequence[Becoming],
    left_out: int,
    apart: tuple[str, ...],
    reference: Reference,
    lenses: LensSet | None,
    modes: tuple[str, ...],
    sentence: str,
    ends: Sequence[Lens | Body],
) -> Becomings:
    names = {end.id: end.name for end in ends}
    names |= {id_: world.adapters[id_].name for row in rows for id_ in row.adapters}
    return Becomings(reference, tuple(rows), left_out, apart, lenses, modes, sentence, names, world.gear.currency)


def _of_the_lens(lens: Lens, rows: Sequence[Becoming], reference: Reference) -> str:
    """The span of views of a lens, and the rows at its ends."""
    there = [row for row in rows if row.works and row.covered is not False]
    if not there:
        return f"{lens.name} gives a picture on none of them."
    if lens.fisheye:
        return f"{lens.name} is a fisheye: it has no rectilinear angle, and nothing that it is equivalent to."
    least = min(there, key=lambda row: row.settings[0].equivalent_mm).settings[0].equivalent_mm
    most = max(there, key=lambda row: row.settings[-1].equivalent_mm).settings[-1].equivalent_mm
    span = written.fixed(least, 0)
    if written.fixed(most, 0) != span:
        span = f"anything from {span} to {written.fixed(most, 0)}"
    bodies = len({row.body for row in there})
    return (
        f"{lens.name} frames like {span} mm on {reference.name}, over {bodies} {'body' if bodies == 1 else 'bodies'}."
    )
