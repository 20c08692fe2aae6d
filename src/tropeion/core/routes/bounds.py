"""The best grade that a chain may get before it is judged, by its lengths and contacts.

A bound is never less than the judgement. Bounds are taken for all chains between two interfaces, and all pairs that
meet there, at once.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from typing import Any, NamedTuple, cast

import numpy as np

from tropeion.core.findings import rank
from tropeion.core.gear.world import Structure
from tropeion.core.joints.mechanics import CLEARANCE_MM
from tropeion.core.optics.focus import object_distance_mm
from tropeion.core.rig.ends import SMALLEST_IRIS

from .chain_reach import reach_of
from .chain_table import Bools, ChainTable, Floats, Ints, interfaces_of
from .pair_columns import Pairs

_NATIVE, _FULL, _MANUAL = rank("native"), rank("full"), rank("manual")
_DANGER, _NONE, _CLOSE, _PARTIAL = (rank(grade) for grade in ("danger", "none", "close_up", "partial"))
# Bounds keep this margin, in mm, so that rounding never makes them too tight.
_HAIR_MM = 1e-5


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
    bare = _bare(table)
    known, error = _error_mm(table, pairs)
    bound = _by_contacts_and_register(table, pairs, error, bare)
    _cap(bound, ~(known | bare), _PARTIAL)
    room = np.minimum(table.k * pairs.circle_mm, table.circle_cap_mm) - pairs.full_diagonal_mm
    room = np.where(np.isinf(pairs.circle_mm), math.inf, room)
    _cap(bound, room < -_HAIR_MM, _PARTIAL)
    close_call = np.abs(room) <= _HAIR_MM
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


def may_come_to(table: ChainTable, pairs: Pairs, least: Ints | int) -> Bools:
    """Where contacts and the register alone do not keep a chain from a grade of rank ``least``: the rest may."""
    found: Bools = _by_contacts_and_register(table, pairs, _error_mm(table, pairs)[1], _bare(table)) >= least
    return found


def _bare(table: ChainTable) -> Bools:
    bare: Bools = table.numbers[:, :1].max(axis=1, initial=-1) < 0
    return bare


def _error_mm(table: ChainTable, pairs: Pairs) -> tuple[Bools, Floats]:
    """Where the register error is known, and what it is; nothing where it is not."""
    error = pairs.body_register_mm + table.adds_mm - table.k**2 * pairs.lens_register_mm
    known = pairs.known | (pairs.at_home & ~table.glass)
    return known, np.where(known, error, 0.0)


def _by_contacts_and_register(table: ChainTable, pairs: Pairs, error: Floats, bare: Bools) -> Ints:
    """What bounds a chain before its circle, its bores and its clearance are looked at."""
    bound: Ints = np.where(bare & ~pairs.one_sided, _NATIVE, np.where(pairs.mute, _MANUAL, ceilings_in(table)))
    _cap(bound, pairs.by_wire & (table.silent & ~table.helicoid), _NONE)
    _cap(bound, pairs.driven & (table.silent & ~table.controls), _PARTIAL)
    _bound_by_register(bound, table, pairs, error, bare)
    return bound


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


def ceilings_in(table: ChainTable) -> Ints:
    """The rank of the best grade that each chain with pieces could come to, whatever it joins."""
    return np.where(table.silent, _MANUAL, _FULL)


def ceilings_of(structure: Structure, ends: Sequence[tuple[str, str]], pairs: Pairs, most: int) -> Ints:
    """The rank of the best grade that any chain of each pair could come to, before chains are listed.

    Never less than what :func:`bounds_of` says of one of them; ``ends`` are the interfaces of the pairs.
    """
    numbers = interfaces_of(structure)
    places = {rear: place for place, rear in enumerate(dict.fromkeys(rear for _, rear in ends))}
    reaches = [reach_of(structure, rear, most) for rear in places]
    at = np.array([places[rear] for _, rear in ends]), np.array([numbers[front] for front, _ in ends])

    def column(name: str) -> Any:
        return np.stack([getattr(reach, name) for reach in reaches])[at][:, np.newaxis]

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
