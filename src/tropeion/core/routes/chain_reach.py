"""What the chains onto an interface could have among them, told without listing any."""

from __future__ import annotations

import numpy as np

from tropeion.core.frozen import frozen
from tropeion.core.gear.world import Structure
from tropeion.core.keeping import kept

from .chain_table import Bools, Floats, Ints
from .table import usable_steps


@frozen(eq=False)
class ChainReach:
    """By the number of the interface in front, over all chains of so many pieces at most onto one.

    ``most_k`` is their greatest magnification; whether one is ``bare`` or passes contacts on all the way (``voiced``),
    whether one has an iris that ``controls`` or a ``helicoid``.
    """

    bare: Bools
    most_k: Floats
    voiced: Bools
    controls: Bools
    helicoid: Bools


@kept(most=2_000)
def reach_of(structure: Structure, rear: str, most: int) -> ChainReach:
    """Piece by piece from the body: what the chains behind have, and what one more piece in front adds."""
    steps, usable = usable_steps(structure)
    fronts, rears = steps.fronts[usable], steps.rears[usable]
    count = len(steps.interfaces)
    bare = np.zeros(count, dtype=np.bool_)
    bare[steps.interfaces[rear]] = True
    # Longest chains of exactly so many pieces, and of all up to them.
    k = np.where(bare, 1.0, 0.0)
    voiced, controls, helicoid = bare.copy(), np.zeros_like(bare), np.zeros_like(bare)
    every = [bare.copy(), k.copy(), voiced.copy(), controls.copy(), helicoid.copy()]
    for _ in range(most):
        there = k[rears] > 0
        k_on, voiced_on = steps.k[usable] * k[rears], voiced[rears] & ~steps.silent[usable]
        controls_on = there & (controls[rears] | steps.controls[usable])
        helicoid_on = there & (helicoid[rears] | steps.helicoid[usable])
        k = np.zeros(count)
        np.maximum.at(k, fronts, k_on)
        voiced, controls, helicoid = (_any(count, fronts[on]) for on in (voiced_on, controls_on, helicoid_on))
        for total, one in zip(every[1:], (k, voiced, controls, helicoid), strict=True):
            np.maximum(total, one, out=total)
    return ChainReach(*every)


def _any(count: int, places: Ints) -> Bools:
    found = np.zeros(count, dtype=np.bool_)
    found[places] = True
    return found
