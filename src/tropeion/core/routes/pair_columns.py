"""What of lenses and bodies bounds every chain between them, as columns beside a table of chains."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import fields, replace
from typing import Any, NamedTuple, get_type_hints

import numpy as np

from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.usual import SHORTEST_LENS_MM, own_circle_mm, taken_body, taken_in
from tropeion.core.gear.world import Systems, World
from tropeion.core.keeping import kept
from tropeion.core.optics import modes
from tropeion.core.optics.blur import blur_of
from tropeion.core.optics.focus import travel_assumed_mm
from tropeion.core.optics.seats import seat_of
from tropeion.core.practice import Practice
from tropeion.core.rig.ends import own_travel, settings_of
from tropeion.core.working import PLAIN

from .chain_table import Bools, Floats, Ints
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


@frozen
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
    most = 2 * len(lens_ids) > len(world.gear.lenses)
    lens_at, lens_values = _every_front(world) if most else _fronts_of(world, lens_ids)
    if not lens_at.keys() >= set(lens_ids):
        # One with another mount is no lens of the collection.
        lens_at, lens_values = _fronts_of(world, lens_ids)
    body_at = {id_: number for number, id_ in enumerate(body_ids)}
    body_values = _values([_rear_of(world, id_, practice.use, practice.blur) for id_ in body_ids], _Rear)
    fronts = _gathered(_Front, lens_values, [lens_at[lens.id] for lens, _ in pairs])
    rears = _gathered(_Rear, body_values, [body_at[body.id] for _, body in pairs])
    circles = fronts["circle_mm"][:, 0].tolist()
    seen = [(body.id, circle) for (_, body), circle in zip(pairs, circles, strict=True)]
    half_mm = {ends: _half_mm(world, ends[0], practice.use, ends[1]) for ends in set(seen)}
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
        half_mm=np.array([half_mm[ends] for ends in seen], dtype=np.float64)[:, np.newaxis],
        front_rating_nm=fronts["rating_nm"],
        rear_rating_nm=rears["rating_nm"],
        cautious=practice.trust == "cautious",
    )


@kept(most=1)
def _every_front(world: World) -> tuple[Mapping[str, int], Floats]:
    """All lenses of a collection: who asks for most of them asks more than once."""
    lenses = tuple(world.gear.mounted)
    circles_mm = tuple([_or(own_circle_mm(world, lens), math.inf) for lens in lenses])
    return _fronts_in(world.structure.systems, lenses, circles_mm)


@kept(most=2)
def _fronts_in(
    systems: Systems, lenses: tuple[Lens, ...], circles_mm: tuple[float, ...]
) -> tuple[Mapping[str, int], Floats]:
    """The same of lenses and their circles, in any collection of these mounts."""
    fronts = [_front_in(systems, *each) for each in zip(lenses, circles_mm, strict=True)]
    return {lens.id: number for number, lens in enumerate(lenses)}, _values(fronts, _Front)


def _fronts_of(world: World, lens_ids: Sequence[str]) -> tuple[Mapping[str, int], Floats]:
    """Lenses by their place, and a row of values for each."""
    at = {id_: number for number, id_ in enumerate(lens_ids)}
    return at, _values([_front_of(world, id_) for id_ in lens_ids], _Front)


def _values(ends: Sequence[_Front | _Rear], kind: type[_Front | _Rear]) -> Floats:
    return np.array(ends, dtype=np.float64).reshape(len(ends), len(kind._fields))


def _gathered(kind: type[_Front | _Rear], values: Floats, at: Sequence[int]) -> dict[str, Any]:
    """Every field of some lenses or bodies as a column, in the order of the pairs."""
    columns = values[np.array(at, dtype=np.int64)].T[:, :, np.newaxis]
    return {
        name: column.astype(np.bool_) if name in _FLAGS else column
        for name, column in zip(kind._fields, columns, strict=True)
    }
