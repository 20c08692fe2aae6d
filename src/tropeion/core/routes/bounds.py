"""The best grade that a chain may get before it is judged, by its lengths and contacts.

A bound is never less than the judgement. Bounds are taken for all chains between two interfaces, and all pairs that
meet there, at once.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tropeion.core.findings import rank
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.usual import own_circle_mm, taken_body, taken_for
from tropeion.core.gear.world import Structure, World
from tropeion.core.joints.mechanics import CLEARANCE_MM, is_obstructed
from tropeion.core.keeping import kept
from tropeion.core.optics import focus, modes
from tropeion.core.optics.blur import blur_of
from tropeion.core.optics.seats import Seat, cancels, seat_of
from tropeion.core.practice import Practice
from tropeion.core.rig.ends import SMALLEST_IRIS, own_travel, settings_of
from tropeion.core.working import PLAIN

from .chain_table import Bools, ChainTable, Floats, Ints
from .sure import body_is_plain, lens_is_plain, lens_rests_without_power


@dataclass(frozen=True, slots=True)
class _Front:
    """What of a lens bounds every chain. Lengths in mm; unknown travel is None."""

    seat: Seat
    travels: tuple[focus.Travel | None, ...]
    longest_travel_mm: float | None
    has_rules: bool
    plain: bool
    powerless: bool


@dataclass(frozen=True, slots=True)
class _Rear:
    """What of a body, by one practice, bounds every chain. Lengths in mm."""

    seat: Seat
    modes: tuple[modes.FormatMode, ...]
    blurs_mm: tuple[float, ...]
    throat_mm: float | None
    plain: bool
    obstructed: bool


@dataclass(frozen=True, slots=True)
class Prospect:
    """What of a lens and a body bounds every plain chain between them. Lengths in mm."""

    lens: Lens
    body: Body
    front: _Front
    rear: _Rear
    circle_mm: float | None
    half_mm: float
    cautious: bool


def prospect_of(world: World, lens: Lens, body: Body, practice: Practice) -> Prospect:
    """Bounds for one pair."""
    lens, body = taken_for(world, lens), taken_body(world, body)
    front = _front_of(world, lens.id)
    rear = _rear_of(world, body.id, practice.use, practice.blur)
    circle = own_circle_mm(world, lens)
    mode, _ = modes.choose_mode(rear.modes, circle)
    return Prospect(
        lens=lens,
        body=body,
        front=front,
        rear=rear,
        circle_mm=circle,
        half_mm=min(mode.diagonal_mm, circle or mode.diagonal_mm) / 2,
        cautious=practice.trust == "cautious",
    )


@kept(most=10_000)
def _front_of(world: World, lens_id: str) -> _Front:
    lens = taken_for(world, world.lenses[lens_id])
    mount = world.mount_of(lens)
    travels = tuple(own_travel(lens, marked, PLAIN) for marked, _ in settings_of(lens))
    known = [travel.travel_mm for travel in travels if travel is not None]
    return _Front(
        seat=seat_of(lens, mount),
        travels=travels,
        longest_travel_mm=max(known) if len(known) == len(travels) else None,
        has_rules=mount.joint in _ruled(world.structure),
        plain=lens_is_plain(lens),
        powerless=lens_rests_without_power(lens),
    )


@kept(most=10_000)
def _rear_of(world: World, body_id: str, use: str, blur: str) -> _Rear:
    body = world.bodies[body_id]
    mount = world.mount_of(body)
    format_modes = tuple(modes.modes_of(body, use))
    return _Rear(
        seat=seat_of(body, mount),
        modes=format_modes,
        blurs_mm=tuple(blur_of(mode, blur, PLAIN) for mode in format_modes),
        throat_mm=mount.throat_mm,
        plain=body_is_plain(body, use),
        obstructed=is_obstructed(body, mount),
    )


@kept(most=1)
def _ruled(structure: Structure) -> frozenset[str]:
    """The interfaces on which coupling parts may have something to say."""
    return frozenset(m.joint for m in structure.mounts.values() if m.rules or m.generations)


_NATIVE, _FULL, _MANUAL = rank("native"), rank("full"), rank("manual")
_NONE, _CLOSE, _PARTIAL = rank("none"), rank("close_up"), rank("partial")
# Bounds keep this margin, in mm, so that rounding never makes them too tight.
_HAIR_MM = 1e-5


class _Columns:
    """Some pairs that meet at the same interfaces, as columns beside the rows of their chains."""

    def __init__(self, prospects: Sequence[Prospect]) -> None:
        lenses = [prospect.lens for prospect in prospects]
        self.mute = _yes([prospect.lens.protocol is None or not prospect.body.protocols for prospect in prospects])
        self.circle_mm = _length([prospect.circle_mm for prospect in prospects])
        self.by_wire = _yes([lens.focus == "by_wire" and lens.protocol is not None for lens in lenses])
        self.driven = _yes([lens.aperture == "electronic" and lens.protocol is not None for lens in lenses])
        self.ringed = _yes([lens.aperture == "ring" for lens in lenses])
        self.pupil_mm = _length([lens.exit_pupil_mm for lens in lenses])
        self.plain = self.mute & _yes([prospect.front.plain and prospect.rear.plain for prospect in prospects])
        self.powerless = _yes([prospect.front.powerless and prospect.rear.plain for prospect in prospects])
        self.fastest = _length([lens.f_number[0] for lens in lenses])
        self.widest = _length([max(lens.f_number[0], lens.f_number_at_long_end or 0.0) for lens in lenses])
        self.smallest = _length([max(lens.f_number[1], lens.f_number_at_long_end or 0.0) for lens in lenses])
        self.past_infinity_mm = _length([lens.past_infinity_mm for lens in lenses])
        self.travel_mm = _length([prospect.front.longest_travel_mm for prospect in prospects])
        self.lens_register_mm = _length([prospect.front.seat.register_mm for prospect in prospects])
        self.body_register_mm = _length([prospect.rear.seat.register_mm for prospect in prospects])
        self.known = _yes([prospect.front.seat.known and prospect.rear.seat.known for prospect in prospects])
        self.at_home = _yes(
            [
                cancels(prospect.front.seat, prospect.rear.seat, one_mount=prospect.lens.mount == prospect.body.mount)
                for prospect in prospects
            ]
        )
        self.seats_mm = _length(
            [prospect.front.seat.tolerance_mm + prospect.rear.seat.tolerance_mm for prospect in prospects]
        )
        self.full_diagonal_mm = _length([prospect.rear.modes[0].diagonal_mm for prospect in prospects])
        self.blur_mm = _length([max(prospect.rear.blurs_mm) for prospect in prospects])
        self.least_blur_mm = _length([min(prospect.rear.blurs_mm) for prospect in prospects])
        self.half_mm = _length([prospect.half_mm for prospect in prospects])
        self.throat_mm = _length([prospect.rear.throat_mm for prospect in prospects])
        self.cautious = prospects[0].cautious
        self.touchy = _yes(
            [
                prospect.front.has_rules or bool(prospect.lens.not_on) or prospect.lens.rear_diameter_mm is not None
                for prospect in prospects
            ]
        )
        self.protrusion_mm = _length([lens.rear_protrusion_mm for lens in lenses], -math.inf)
        self.obstruction_mm = _length([prospect.body.obstruction_mm for prospect in prospects], -math.inf)


def _length(values: Sequence[float | None], unknown: float = math.inf) -> Floats:
    return np.array([[unknown if value is None else value] for value in values], dtype=np.float64)


def _yes(values: Sequence[bool]) -> Bools:
    return np.array(values, dtype=np.bool_)[:, np.newaxis]


def bounds_of(table: ChainTable, prospects: Sequence[Prospect]) -> tuple[Ints, Bools]:
    """The rank of the best grade that each chain could still get, and where that is surely its grade.

    A row for each pair, all of them by one practice, and a column for each chain.
    """
    pairs = _Columns(prospects)
    bare = table.numbers[:, :1].max(axis=1, initial=-1) < 0
    bound: Ints = np.where(bare, _NATIVE, np.where(pairs.mute, _MANUAL, _FULL))
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
    # A lens without contacts, well inside its window, is graded by its circle and corners alone.
    allowance = table.tolerance_mm + pairs.seats_mm if pairs.cautious else 0.0
    window = table.k * pairs.fastest * pairs.least_blur_mm - _HAIR_MM
    inside = np.abs(error) + allowance <= window
    if pairs.cautious:
        inside &= ~table.glass
    by_lengths = pairs.plain & inside & ~close_call
    sure = table.plain & (by_lengths | (powerless & pairs.powerless))
    return bound, _harmless(table, pairs) & ~bare & sure & pairs.known


def _cap(bound: Ints, where: Bools, grade: int) -> None:
    np.minimum(bound, grade, out=bound, where=where)


def _harmless(table: ChainTable, pairs: _Columns) -> Bools:
    """Where surely nothing breaks, binds or touches."""
    vertex = pairs.body_register_mm + table.length_mm - pairs.protrusion_mm
    glass = np.where(table.glass, pairs.body_register_mm + table.glass_at_mm, -math.inf)
    # The sensor stands behind everything else.
    limit = np.maximum(np.maximum(glass, pairs.obstruction_mm), 0.0)
    clear: Bools = ~pairs.touchy & (vertex >= limit + CLEARANCE_MM + _HAIR_MM)
    return clear


def _bound_by_register(bound: Ints, table: ChainTable, pairs: _Columns, error: Floats, bare: Bools) -> None:
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


def _corner_height_mm(table: ChainTable, pairs: _Columns) -> Floats:
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
