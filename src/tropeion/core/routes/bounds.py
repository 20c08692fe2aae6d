"""The best grade that a chain may get before it is judged, by its lengths and contacts.

A bound is never less than the judgement. Bounds are taken for all chains between two interfaces, and all pairs that
meet there, at once.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, fields, replace
from typing import Any, NamedTuple, cast, get_type_hints

import numpy as np

from tropeion.core.findings import rank
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.usual import SHORTEST_LENS_MM, own_circle_mm, taken_body, taken_in
from tropeion.core.gear.world import Structure, Systems, World
from tropeion.core.joints.mechanics import CLEARANCE_MM
from tropeion.core.keeping import kept
from tropeion.core.optics import modes
from tropeion.core.optics.blur import blur_of
from tropeion.core.optics.focus import object_distance_mm, travel_assumed_mm
from tropeion.core.optics.seats import seat_of
from tropeion.core.practice import Practice
from tropeion.core.rig.ends import SMALLEST_IRIS, own_travel, settings_of
from tropeion.core.working import PLAIN

from .chain_reach import reach_of
from .chain_table import Bools, ChainTable, Floats, Ints, interfaces_of
from .sure import body_is_plain, plain_lens


class _Front(NamedTuple):
    """What of a lens bounds every chain. Lengths in mm; unknown is infinite, an unknown protrusion −∞."""

    mount: int
    measured: bool
    known: bool
    mute: bool
    by_wire: bool
    driven: bool
    ringed: bool
    plain: bool
    but_for_contacts: bool
    powerless: bool
    touchy: bool
    fixed: bool
    focal_length_mm: float
    lens_length_mm: float
    circle_mm: float
    pupil_mm: float
    fastest: float
    widest: float
    smallest: float
    past_infinity_mm: float
    travel_mm: float
    least_travel_mm: float
    register_mm: float
    tolerance_mm: float
    protrusion_mm: float
    mass_g: float
    centre_of_mass_mm: float
    rating_nm: float


class _Rear(NamedTuple):
    """What of a body, by one practice, bounds every chain. Lengths in mm, unknown as in :class:`_Front`."""

    mount: int
    measured: bool
    known: bool
    mute: bool
    plain: bool
    register_mm: float
    tolerance_mm: float
    full_diagonal_mm: float
    blur_mm: float
    least_blur_mm: float
    throat_mm: float
    obstruction_mm: float
    rating_nm: float


_FLAGS = frozenset(name for kind in (_Front, _Rear) for name, hint in get_type_hints(kind).items() if hint is bool)


def _front_of(world: World, lens_id: str) -> _Front:
    lens = world.lenses[lens_id]
    world.mount_of(lens)
    return _front_in(world.structure.systems, lens, _or(own_circle_mm(world, lens), math.inf))


@kept(most=10_000)
def _front_in(systems: Systems, one: Lens, circle_mm: float) -> _Front:
    """The same in any collection of these mounts, where bodies beside it are told by the circle alone."""
    lens = taken_in(systems, one)
    mount = systems.mounts[lens.mount or ""]
    seat = seat_of(lens, mount)
    settings = settings_of(lens)
    travels = [own_travel(lens, marked, PLAIN) for marked, _ in settings]
    known = [travel.travel_mm for travel in travels if travel is not None]
    assumed = [travel_assumed_mm(marked) for (marked, _), travel in zip(settings, travels, strict=True) if not travel]
    plain = plain_lens(lens)
    return _Front(
        mount=_mount_numbers(systems)[mount.id],
        measured=seat.measured,
        known=seat.known,
        mute=lens.protocol is None,
        by_wire=lens.focus == "by_wire" and lens.protocol is not None,
        driven=lens.aperture == "electronic" and lens.protocol is not None,
        ringed=lens.aperture == "ring",
        plain=plain.by_lengths,
        but_for_contacts=plain.but_for_contacts,
        powerless=plain.without_power,
        touchy=mount.joint in _ruled(systems) or bool(lens.not_on) or lens.rear_diameter_mm is not None,
        fixed=lens.focus == "none",
        focal_length_mm=lens.focal_length_mm[0],
        lens_length_mm=_or(lens.length_mm, SHORTEST_LENS_MM),
        circle_mm=circle_mm,
        pupil_mm=_or(lens.exit_pupil_mm, math.inf),
        fastest=lens.f_number[0],
        widest=max(lens.f_number[0], lens.f_number_at_long_end or 0.0),
        smallest=max(lens.f_number[1], lens.f_number_at_long_end or 0.0),
        past_infinity_mm=_or(lens.past_infinity_mm, math.inf),
        travel_mm=max(known) if len(known) == len(travels) else math.inf,
        least_travel_mm=min([*known, *assumed]),
        register_mm=seat.register_mm,
        tolerance_mm=seat.tolerance_mm,
        protrusion_mm=_or(lens.rear_protrusion_mm, -math.inf),
        mass_g=_or(lens.mass_g, math.nan),
        centre_of_mass_mm=_or(lens.centre_of_mass_mm, math.nan),
        rating_nm=_or(mount.load_rating_nm, math.inf),
    )


@kept(most=10_000)
def _rear_of(world: World, body_id: str, use: str, blur: str) -> _Rear:
    body = taken_body(world, world.bodies[body_id])
    mount = world.mount_of(body)
    seat = seat_of(body, mount)
    format_modes = _modes_of(world, body_id, use)
    blurs_mm = [blur_of(mode, blur, PLAIN) for mode in format_modes]
    return _Rear(
        mount=_mount_numbers(world.structure.systems)[mount.id],
        measured=seat.measured,
        known=seat.known,
        mute=not body.protocols,
        plain=body_is_plain(body, use),
        register_mm=seat.register_mm,
        tolerance_mm=seat.tolerance_mm,
        full_diagonal_mm=format_modes[0].diagonal_mm,
        blur_mm=max(blurs_mm),
        least_blur_mm=min(blurs_mm),
        throat_mm=_or(mount.throat_mm, math.inf),
        obstruction_mm=_or(body.obstruction_mm, -math.inf),
        rating_nm=_or(mount.load_rating_nm, math.inf),
    )


def _or(value: float | None, unknown: float) -> float:
    return unknown if value is None else value


@kept(most=10_000)
def _modes_of(world: World, body_id: str, use: str) -> tuple[modes.FormatMode, ...]:
    return tuple(modes.modes_of(world.bodies[body_id], use))


@kept(most=20_000)
def _half_mm(world: World, body_id: str, use: str, circle_mm: float) -> float:
    """Half of what of a circle falls onto the mode that is chosen for it."""
    circle = None if math.isinf(circle_mm) else circle_mm
    mode, _ = modes.choose_mode(_modes_of(world, body_id, use), circle)
    return min(mode.diagonal_mm, circle or mode.diagonal_mm) / 2


@kept(most=1)
def _mount_numbers(systems: Systems) -> Mapping[str, int]:
    return {id_: number for number, id_ in enumerate(systems.mounts)}


@kept(most=1)
def _ruled(systems: Systems) -> frozenset[str]:
    """The interfaces on which coupling parts may have something to say."""
    return frozenset(m.joint for m in systems.mounts.values() if m.rules or m.generations)


_NATIVE, _FULL, _MANUAL = rank("native"), rank("full"), rank("manual")
_DANGER, _NONE, _CLOSE, _PARTIAL = (rank(grade) for grade in ("danger", "none", "close_up", "partial"))
# Bounds keep this margin, in mm, so that rounding never makes them too tight.
_HAIR_MM = 1e-5


@dataclass(frozen=True, slots=True)
class Pairs:
    """Some pairs as columns, beside the chains that are bounded for them.

    A column of shape (pairs, 1) stands before the chains of one table; one of shape (rows,) along a table of which each
    row is of one pair. Lengths in mm, weights in g, ratings in N·m; unknown as in :class:`_Front`.
    """

    mute: Bools
    one_sided: Bools
    circle_mm: Floats
    by_wire: Bools
    driven: Bools
    ringed: Bools
    pupil_mm: Floats
    plain: Bools
    but_for_contacts: Bools
    powerless: Bools
    fastest: Floats
    widest: Floats
    smallest: Floats
    past_infinity_mm: Floats
    travel_mm: Floats
    least_travel_mm: Floats
    fixed: Bools
    focal_length_mm: Floats
    lens_length_mm: Floats
    lens_register_mm: Floats
    body_register_mm: Floats
    known: Bools
    at_home: Bools
    seats_mm: Floats
    full_diagonal_mm: Floats
    blur_mm: Floats
    least_blur_mm: Floats
    half_mm: Floats
    throat_mm: Floats
    touchy: Bools
    protrusion_mm: Floats
    obstruction_mm: Floats
    mass_g: Floats
    centre_of_mass_mm: Floats
    front_rating_nm: Floats
    rear_rating_nm: Floats
    cautious: bool

    def along(self, rows: Ints) -> Pairs:
        """The columns along a table of which each row is of the pair of that number; what all have in common, once."""

        def told(column: Any) -> Any:
            alike = len(column) and (column == column[0]).all()
            return column[:1, 0] if alike else column[rows, 0]

        return replace(self, **{name: told(getattr(self, name)) for name in _ARRAYS})

    def at(self, rows: Ints | Bools | slice) -> Pairs:
        """Some of the rows that they stand along."""

        def told(column: Any) -> Any:
            return column if len(column) == 1 else column[rows]

        return replace(self, **{name: told(getattr(self, name)) for name in _ARRAYS})


_ARRAYS = tuple(field.name for field in fields(Pairs))[:-1]
# Columns that are of one end alone.
_OF_LENS = (
    *("circle_mm", "by_wire", "driven", "ringed", "pupil_mm", "fastest", "widest", "smallest", "past_infinity_mm"),
    *("travel_mm", "least_travel_mm", "fixed", "focal_length_mm", "lens_length_mm", "touchy", "protrusion_mm"),
    *("mass_g", "centre_of_mass_mm"),
)
_OF_BODY = ("full_diagonal_mm", "blur_mm", "least_blur_mm", "throat_mm", "obstruction_mm")


def pairs_of(world: World, pairs: Sequence[tuple[Lens, Body]], practice: Practice) -> Pairs:
    """Some pairs of the collection by one practice, as columns before a table."""
    lens_ids = list(dict.fromkeys(lens.id for lens, _ in pairs))
    body_ids = list(dict.fromkeys(body.id for _, body in pairs))
    places = [{id_: number for number, id_ in enumerate(ids)} for ids in (lens_ids, body_ids)]
    front, rear = (
        np.array([at[pair[side].id] for pair in pairs], dtype=np.int64)[:, np.newaxis] for side, at in enumerate(places)
    )
    fronts = _gathered(_Front, [_front_of(world, id_) for id_ in lens_ids], front)
    rears = _gathered(_Rear, [_rear_of(world, id_, practice.use, practice.blur) for id_ in body_ids], rear)
    circles = fronts["circle_mm"][:, 0].tolist()
    halves = [_half_mm(world, body.id, practice.use, circle) for (_, body), circle in zip(pairs, circles, strict=True)]
    mute = fronts["mute"] | rears["mute"]
    return Pairs(
        **{name: fronts[name] for name in _OF_LENS},
        **{name: rears[name] for name in _OF_BODY},
        mute=mute,
        one_sided=fronts["mute"] != rears["mute"],
        plain=mute & fronts["plain"] & rears["plain"],
        but_for_contacts=fronts["but_for_contacts"] & rears["plain"],
        powerless=fronts["powerless"] & rears["plain"],
        lens_register_mm=fronts["register_mm"],
        body_register_mm=rears["register_mm"],
        known=fronts["known"] & rears["known"],
        at_home=(fronts["mount"] == rears["mount"]) & ~(fronts["measured"] | rears["measured"]),
        seats_mm=fronts["tolerance_mm"] + rears["tolerance_mm"],
        half_mm=np.array(halves, dtype=np.float64)[:, np.newaxis],
        front_rating_nm=fronts["rating_nm"],
        rear_rating_nm=rears["rating_nm"],
        cautious=practice.trust == "cautious",
    )


def _gathered(kind: type[_Front | _Rear], ends: Sequence[_Front | _Rear], at: Ints) -> dict[str, Any]:
    """Every field of some lenses or bodies as a column, in the order of the pairs."""
    columns = np.array(ends, dtype=np.float64).reshape(len(ends), len(kind._fields)).T[:, at]
    return {
        name: column.astype(np.bool_) if name in _FLAGS else column
        for name, column in zip(kind._fields, columns, strict=True)
    }


class Limits(NamedTuple):
    """The rank of the best grade that each chain could still get, and where that is ``sure`` to be its grade.

    ``wide``: infinity is surely sharp wide open, if its focus can be moved. Where only contacts can make it less than
    its bound, chains of one bound and one number in ``contacts`` that are alike but for lengths come to the same; 0:
    they may not.
    """

    bounds: Ints
    sure: Bools
    wide: Bools
    contacts: Ints

    def of(self, rows: Ints | Bools | slice) -> Limits:
        """Those of some rows."""
        return Limits(self.bounds[rows], self.sure[rows], self.wide[rows], self.contacts[rows])


def bounds_of(table: ChainTable, pairs: Pairs) -> Limits:
    """What bounds the grade of every chain.

    Before a table a row for each pair and a column for each chain; along one, a value for each row.
    """
    bare = table.numbers[:, :1].max(axis=1, initial=-1) < 0
    bound: Ints = np.where(bare & ~pairs.one_sided, _NATIVE, np.where(pairs.mute, _MANUAL, _FULL))
    _cap(bound, table.silent, _MANUAL)
    room = np.minimum(table.k * pairs.circle_mm, table.circle_cap_mm) - pairs.full_diagonal_mm
    room = np.where(np.isinf(pairs.circle_mm), math.inf, room)
    _cap(bound, room < -_HAIR_MM, _PARTIAL)
    close_call = np.abs(room) <= _HAIR_MM
    powerless = pairs.by_wire & (table.silent & ~table.helicoid)
    _cap(bound, powerless, _NONE)
    _cap(bound, pairs.driven & (table.silent & ~table.controls), _PARTIAL)
    squared = table.k**2
    error = pairs.body_register_mm + table.adds_mm - squared * pairs.lens_register_mm
    known = pairs.known | (pairs.at_home & ~table.glass)
    error = np.where(known, error, 0.0)
    _cap(bound, ~(known | bare), _PARTIAL)
    _bound_by_register(bound, table, pairs, error, bare)
    # Behind glass the exit pupil is unknown; infinity stands for a pupil that is not stated.
    if np.isfinite(pairs.pupil_mm).any():
        over = _corner_height_mm(table, pairs) - pairs.half_mm
        over[np.broadcast_to(table.glass | ~known, over.shape)] = math.inf
        _cap(bound, over < -_HAIR_MM, _PARTIAL)
        close_call |= np.abs(over) <= _HAIR_MM
    clear, collides = _clearance(table, pairs)
    _cap(bound, collides, _DANGER)
    # On its own mount a lens may be metered through in ways that only its judgement knows.
    plain = clear & table.plain & pairs.known & ~(bare & ~pairs.one_sided)
    reach = _reach(table, pairs, error, bound)
    told = plain & (reach > 0) & (~close_call | (bound <= _PARTIAL))
    # A lens without contacts is graded by its lengths, its circle and its corners alone.
    sure = told & pairs.plain & ((reach != _LATE) | (bound <= _PARTIAL))
    sure |= plain & (bound == _NONE) & (pairs.powerless | pairs.but_for_contacts)
    # Nothing is less than this.
    sure |= bound == _DANGER
    # Without power a helicoid alone would have to bring what the lens cannot.
    shared = told & pairs.but_for_contacts & ((reach == _INSIDE) | ~table.helicoid)
    return Limits(bound, sure, (reach == _INSIDE) | (reach == _FOCUSED_OUT), np.where(shared, reach, 0))


# How a chain surely reaches what it does, if its focus can be moved: inside its window; by being focused out to
# infinity; only stopped down; not at all, for it stands too far.
_INSIDE, _FOCUSED_OUT, _LATE, _SHORT_OF_IT = 1, 2, 3, 4


def _reach(table: ChainTable, pairs: Pairs, error: Floats, bound: Ints) -> Ints:
    """In which of these ways each chain reaches, by its lengths; 0 where that is not sure."""
    squared = table.k**2
    allowance = table.tolerance_mm + pairs.seats_mm if pairs.cautious else 0.0
    wide, small = (table.k * stop * pairs.least_blur_mm - _HAIR_MM for stop in (pairs.fastest, pairs.smallest))
    short = error - squared * pairs.past_infinity_mm
    focused = (short + allowance <= wide) & (error + squared * pairs.least_travel_mm - allowance >= -wide)
    late = (short > table.k * pairs.widest * pairs.blur_mm + _HAIR_MM) & (short + allowance <= small) & ~table.slow
    reach = np.where(late, _LATE, np.where(focused, _FOCUSED_OUT, 0))
    if pairs.cautious:
        reach = np.where(table.glass, 0, reach)
    reach = np.where(bound == _CLOSE, _SHORT_OF_IT, reach)
    # What nothing moves depends on how far it stands off.
    reach = np.where(pairs.fixed, 0, reach)
    inside = np.abs(error) + allowance <= wide
    if pairs.cautious:
        inside &= ~table.glass
    reach = np.where(inside, _INSIDE, reach)
    return np.where(_before_the_front(table, pairs, error, short), reach, 0)


# The formula is of one number, and does with columns as it does with these.
_object_distances_mm = cast("Callable[[Floats, Floats], Floats]", object_distance_mm)


def _before_the_front(table: ChainTable, pairs: Pairs, error: Floats, short: Floats) -> Bools:
    """Where what is sharp with the lens at its infinity stop surely lies before its front."""
    squared = table.k**2
    extension = short / squared
    with np.errstate(divide="ignore"):
        far = _object_distances_mm(pairs.focal_length_mm, np.maximum(extension, 0.0))
    front = pairs.lens_register_mm + error / squared + pairs.lens_length_mm
    outside: Bools = (extension <= 0) | (far >= front + _HAIR_MM)
    return outside


def ceilings_of(structure: Structure, ends: Sequence[tuple[str, str]], pairs: Pairs, most: int) -> Ints:
    """The rank of the best grade that any chain of each pair could come to, before chains are listed.

    Never less than what :func:`bounds_of` says of one of them; ``ends`` are the interfaces of the pairs.
    """
    numbers = interfaces_of(structure)
    reaches = {rear: reach_of(structure, rear, most) for rear in {rear for _, rear in ends}}
    fronts = [numbers[front] for front, _ in ends]

    def column(name: str) -> Any:
        values = [getattr(reaches[rear], name)[front] for front, (_, rear) in zip(fronts, ends, strict=True)]
        return np.array(values)[:, np.newaxis]

    voiced, bare = column("voiced"), column("bare")
    bound: Ints = np.where(pairs.mute | ~voiced, _MANUAL, _FULL)
    _cap(bound, pairs.driven & ~voiced & ~column("controls"), _PARTIAL)
    _cap(bound, pairs.by_wire & ~voiced & ~column("helicoid"), _NONE)
    bound = np.where(bare & ~pairs.one_sided, _NATIVE, bound)
    room = column("most_k") * pairs.circle_mm - pairs.full_diagonal_mm
    _cap(bound, np.isfinite(pairs.circle_mm) & (room < -_HAIR_MM), _PARTIAL)
    return bound[:, 0]


def _cap(bound: Ints, where: Bools, grade: int) -> None:
    np.minimum(bound, grade, out=bound, where=where)


def _clearance(table: ChainTable, pairs: Pairs) -> tuple[Bools, Bools]:
    """Where surely nothing breaks, binds or touches, and where the rear surely touches something."""
    vertex = pairs.body_register_mm + table.length_mm - pairs.protrusion_mm
    glass = np.where(table.glass, pairs.body_register_mm + table.glass_at_mm, -math.inf)
    # The sensor stands behind everything else.
    limit = np.maximum(np.maximum(glass, pairs.obstruction_mm), 0.0) + CLEARANCE_MM
    clear: Bools = ~pairs.touchy & (vertex >= limit + _HAIR_MM)
    return clear, pairs.known & (vertex < limit - _HAIR_MM)


def _bound_by_register(bound: Ints, table: ChainTable, pairs: Pairs, error: Floats, bare: Bools) -> None:
    k, squared = table.k, table.k**2
    # An iris in the chain may close further than the lens's own.
    stop = np.where(table.controls, np.maximum(pairs.smallest, SMALLEST_IRIS), pairs.smallest)
    smallest = stop * pairs.blur_mm * k + _HAIR_MM
    past = squared * pairs.past_infinity_mm
    _cap(bound, error - past > smallest, _CLOSE)
    # An iris that may stand closed hides more than the widest stop does, and so does slow glass.
    widest = pairs.widest * pairs.blur_mm * k + _HAIR_MM
    allowance = np.where(table.glass, 0.0, table.tolerance_mm) if pairs.cautious else 0.0
    _cap(bound, pairs.ringed & (error + allowance - past > widest) & ~(bare | table.slow), _PARTIAL)
    _cap(bound, (-error > squared * pairs.travel_mm + smallest) & ~table.helicoid, _NONE)


def _corner_height_mm(table: ChainTable, pairs: Pairs) -> Floats:
    """The image height up to which every bore lets the centre ray pass, by the formula of the judgement."""
    pupil = pairs.pupil_mm + pairs.body_register_mm + table.adds_mm - pairs.lens_register_mm
    least = np.full(pupil.shape, math.inf)
    bores = [(table.bores_mm[:, end], table.bores_at_mm[:, end]) for end in range(table.bores_mm.shape[1])]
    nowhere = np.zeros(len(table))
    with np.errstate(invalid="ignore", divide="ignore"):
        for bore, before in ((pairs.throat_mm, nowhere), *(bore for bore in bores if np.isfinite(bore[0]).any())):
            at = before + pairs.body_register_mm
            height = bore / 2 / (1 - at / pupil)
            np.minimum(least, height, out=least, where=at < pupil - _HAIR_MM)
    least[~((pupil > _HAIR_MM) & np.isfinite(pupil))] = math.inf
    return least
