"""Which chains of a table overload a joint: what :func:`loads_of` says of one chain, for all of them at once."""

from __future__ import annotations

import math

import numpy as np

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.joints.mechanics import moment_nm

from .chain_table import Bools, ChainTable, Floats

_NM = moment_nm([1.0], [1.0])
# Half of what a moment is rounded to.
_HAIR_NM = 5e-7


def overloaded_in(world: World, lens: Lens, body: Body, table: ChainTable) -> Bools:
    """For each chain whether a joint bears more than it is rated for; where a weight is not known, none does."""
    over = np.zeros(len(table), dtype=np.bool_)
    if lens.mass_g is None or lens.centre_of_mass_mm is None or not len(table):
        return over
    used = np.unique(table.numbers)
    firsts = {int(number): table.groups[number].first for number in used if number >= 0}
    pieces = np.full((len(table.groups) + 1, 4), math.nan)
    for number, value in firsts.items():
        pieces[number] = _columns(world, value)
    # Behind the last piece stands the body: it weighs nothing on the joints before it.
    rear = _rating(world.mount_of(body))
    mass, moment = np.full(len(table), lens.mass_g), np.full(len(table), lens.mass_g * lens.centre_of_mass_mm)
    gives = np.full(len(table), _rating(world.mount_of(lens)))
    weighed = np.ones(len(table), dtype=np.bool_)
    open_ = np.ones(len(table), dtype=np.bool_)
    for place in range(table.numbers.shape[1]):
        there = table.numbers[:, place] >= 0
        column = pieces[table.numbers[:, place]]
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


def _columns(world: World, one: Adapter) -> Floats:
    """Mass, length, the rating at its lens side and at its camera side."""
    own = math.inf if one.load_rating_nm is None else one.load_rating_nm
    front, rear = world.mounts[one.lens_mount], world.mounts[one.body_mount]
    mass = math.nan if one.mass_g is None else one.mass_g
    return np.array([mass, one.physical_length_mm, min(own, _rating(front)), min(own, _rating(rear))])


def _rating(mount: Mount) -> float:
    return math.inf if mount.load_rating_nm is None else mount.load_rating_nm
