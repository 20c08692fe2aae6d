"""Which chains of a table overload a joint or hide something: what is said of one chain, for all of them at once."""

from __future__ import annotations

import math

import numpy as np

from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import Structure, World
from tropeion.core.joints.mechanics import hides_something, moment_nm
from tropeion.core.keeping import kept

from .chain_table import Bools, ChainTable, Floats, Ints, steps_between
from .chains import Group
from .pair_columns import Pairs

_NM = moment_nm([1.0], [1.0])
# Half of what a moment is rounded to.
_HAIR_NM = 5e-7


def overloaded_in(world: World, table: ChainTable, rows: Ints | Bools | slice, pairs: Pairs) -> Bools:
    """For some chains whether a joint bears more than it is rated for, as :func:`loads_of` says of one; where a weight
    is not known, none does.

    The pairs stand along these rows, or one of them beside them all.
    """
    numbers = table.numbers[rows]
    over = np.zeros(len(numbers), dtype=np.bool_)
    pieces = _columns(world.structure, table.groups)
    # Behind the last piece stands the body: it weighs nothing on the joints before it.
    rear = pairs.rear_rating_nm
    mass, moment = pairs.mass_g, pairs.mass_g * pairs.centre_of_mass_mm
    gives = pairs.front_rating_nm
    weighed = np.ones(len(numbers), dtype=np.bool_)
    open_ = np.ones(len(numbers), dtype=np.bool_)
    for place in range(numbers.shape[1]):
        there = numbers[:, place] >= 0
        column = pieces[numbers[:, place]]
        over |= there & (moment * _NM - np.minimum(gives, column[:, 2]) > _HAIR_NM)
        last = open_ & ~there
        over |= last & (moment * _NM - np.minimum(gives, rear) > _HAIR_NM)
        open_ &= there
        weighed &= ~(there & np.isnan(column[:, 0]))
        moment = np.where(there, moment + mass * column[:, 1] + column[:, 0] * column[:, 1] / 2, moment)
        mass = np.where(there, mass + column[:, 0], mass)
        gives = np.where(there, column[:, 3], gives)
    over |= open_ & (moment * _NM - np.minimum(gives, rear) > _HAIR_NM)
    found: Bools = over & weighed
    return found


def hidden_in(world: World, table: ChainTable) -> Bools:
    """For each chain whether something stands in one of its pieces of which nobody said where."""
    hidden: Bools = (_columns(world.structure, table.groups)[:, 4][table.numbers] == 1).any(axis=1)
    return hidden


@kept(most=2)
def _columns(structure: Structure, groups: tuple[Group, ...]) -> Floats:
    """Mass, length, the rating at its lens side and at its camera side, and whether something hides in it, of each
    group; a last row for none.
    """
    below = () if structure.like is None else steps_between(structure.like).groups
    stay = len(below) if below and groups[: len(below)] == below else 0
    columns = np.full((len(groups) + 1, 5), math.nan)
    if structure.like is not None and stay:
        columns[:stay] = _columns(structure.like, below)[:stay]
    for number, group in enumerate(groups[stay:], stay):
        piece = group.first
        own = math.inf if piece.load_rating_nm is None else piece.load_rating_nm
        front, rear = structure.mounts[piece.lens_mount], structure.mounts[piece.body_mount]
        mass = math.nan if piece.mass_g is None else piece.mass_g
        ratings = min(own, _rating(front)), min(own, _rating(rear))
        columns[number] = mass, piece.physical_length_mm, *ratings, hides_something(piece)
    return columns


def _rating(mount: Mount) -> float:
    return math.inf if mount.load_rating_nm is None else mount.load_rating_nm
