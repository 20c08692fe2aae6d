"""Near and far of extension pieces compared: what a pair can be joined with, and what a longer piece would do.

Distances run from the sensor, in mm.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np

from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.optics.focus import FocusState, Reach
from tropeion.core.optics.seats import seat_of
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import build, lengthened, price_of
from tropeion.core.rig.ends import focus_at, widest_at
from tropeion.core.rig.judgement import assess
from tropeion.core.routes.table import table_of
from tropeion.core.working import PLAIN, tidy

MOST_PIECES = 12


@frozen
class Closest:
    """This rig first, then what holds the lens farther out, then what is only tried."""

    rows: tuple[Closer, ...]
    names: dict[str, str]


@frozen
class Closer:
    """One way to focus nearer, at one setting of a zoom.

    ``adapters`` are its chain, with ``more_mm`` of plain length that the collection need not have. ``extension_mm`` is
    how far it holds the lens beyond its infinity focus at least, None where a register is not known; ``travel_mm`` is
    what helicoids add. ``far_mm`` is None
    at infinity in the state ``to_infinity``. ``from_front_mm`` is the working distance at the closest,
    ``close_f_number`` the aperture there that exposure follows, wide open.
    """

    adapters: tuple[str, ...]
    more_mm: float
    here: bool
    owned: bool
    price: float | None
    grade: Grade | None
    extension_mm: float | None
    travel_mm: float
    state: FocusState
    near_mm: float | None
    far_mm: float | None
    max_magnification: float | None
    from_front_mm: float | None
    f_number: float
    close_f_number: float | None


def closer_of(
    world: World,
    lens: Lens,
    body: Body,
    adapters: tuple[Adapter, ...],
    practice: Practice,
    more_mm: Sequence[float] = (),
    marked_mm: float | None = None,
) -> Closest:
    """This rig first, then what focuses nearer, the shortest extension first; then this rig with ``more_mm``.

    ``marked_mm`` is a zoom's setting, the wide end unless it is said.
    """
    short, long = lens.focal_length_mm
    marked = short if marked_mm is None else min(max(marked_mm, short), long)
    here = _closer(world, lens, body, adapters, practice, marked, here=True)
    closers = [here, *_longer(world, lens, body, adapters, practice, marked, here)]
    closers += [_closer(world, lens, body, adapters, practice, marked, more_mm=more) for more in more_mm]
    names = {id_: world.adapters[id_].name for row in closers for id_ in row.adapters}
    return Closest(tuple(closers), names)


def _longer(
    world: World, lens: Lens, body: Body, adapters: tuple[Adapter, ...], practice: Practice, marked: float, here: Closer
) -> list[Closer]:
    """Chains without glass other than this one's that hold the lens farther out; one of each length, as at hand."""
    held = here.extension_mm
    if held is None:
        return []
    table = table_of(world, lens, body, int(practice.pieces))
    rig = build(world, lens, adapters, body, practice, PLAIN)
    registers = [seat_of(end, world.mount_of(end)).register_mm for end in (lens, body)]
    squared = rig.chain.magnification**2
    beyond = (registers[1] + table.adds_mm) / squared - registers[0]
    longer = beyond > held + here.travel_mm + NOTICED_MM / 2
    same_glass = np.abs(table.k - rig.chain.magnification) < 1e-6
    rows_by_cost = sorted(
        (_cost(table.adapters(row)), row) for row in np.flatnonzero(same_glass & (longer | table.helicoid)).tolist()
    )
    chosen: list[_Longer] = []
    for _, row in rows_by_cost:
        pieces = table.adapters(row)
        assembly = build(world, lens, pieces, body, practice, PLAIN)
        candidate = _Longer(
            assembly.chain.lens_error_mm, tidy(assembly.chain.helicoid_mm / assembly.chain.magnification**2), pieces
        )
        enough = tidy(candidate.beyond_mm + candidate.travel_mm - held - here.travel_mm) > NOTICED_MM
        if enough and not any(candidate.is_like(other) for other in chosen):
            chosen.append(candidate)
        if len(chosen) == MOST_PIECES:
            break
    rows = [_closer(world, lens, body, longer.pieces, practice, marked) for longer in chosen]
    return sorted(
        rows, key=lambda closer: ((closer.extension_mm or 0.0) + closer.travel_mm, closer.extension_mm or 0.0)
    )


class _Longer(NamedTuple):
    """A chain that holds the lens farther out: by how much at least, and what helicoids add."""

    beyond_mm: float
    travel_mm: float
    pieces: tuple[Adapter, ...]

    def is_like(self, other: _Longer) -> bool:
        """Whether the lengths are as good as the same."""
        nearly = abs(self.beyond_mm - other.beyond_mm) <= ALIKE_MM
        return nearly and abs(self.travel_mm - other.travel_mm) <= ALIKE_MM


def _cost(pieces: tuple[Adapter, ...]) -> tuple[bool, int, float, tuple[str, ...]]:
    """What is at hand comes first, then fewer pieces and less money."""
    price = price_of(pieces)
    return price != 0, len(pieces), math.inf if price is None else price, tuple(piece.id for piece in pieces)


# Less extension than this is a tolerance, not a piece.
NOTICED_MM = 0.3
# Two extensions this near to each other focus as good as the same.
ALIKE_MM = 1.0


def _closer(
    world: World,
    lens: Lens,
    body: Body,
    adapters: tuple[Adapter, ...],
    practice: Practice,
    marked: float,
    *,
    more_mm: float = 0.0,
    here: bool = False,
) -> Closer:
    rig = build(world, lens, adapters, body, practice, PLAIN)
    grade = None if more_mm else assess(world, lens, adapters, body, practice).grade
    if more_mm:
        rig = lengthened(rig, more_mm)
    at = focus_at(rig, marked, widest_at(lens, marked), PLAIN)
    reach = _at_sensor(at.reach)
    price = price_of(adapters)
    return Closer(
        adapters=tuple(adapter.id for adapter in adapters),
        more_mm=more_mm,
        here=here,
        owned=price == 0 and not more_mm,
        price=None if more_mm else price,
        grade=grade,
        extension_mm=rig.chain.lens_error_mm if rig.stack.known else None,
        travel_mm=tidy(rig.chain.helicoid_mm / rig.chain.magnification**2),
        state=reach.state,
        near_mm=reach.near_mm,
        far_mm=reach.far_mm,
        max_magnification=reach.max_magnification,
        from_front_mm=reach.near_from_front_mm,
        f_number=at.f_number,
        close_f_number=reach.close_f_number,
    )


def _at_sensor(reach: Reach) -> Reach:
    """Distances from the real sensor: with glass it stands elsewhere than the lens's own image plane."""

    def moved(one: float | None) -> float | None:
        return None if one is None else tidy(one - reach.sensor_offset_mm)

    return replace(reach, near_mm=moved(reach.near_mm), far_mm=moved(reach.far_mm))
