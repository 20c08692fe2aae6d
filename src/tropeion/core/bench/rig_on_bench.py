"""A rig of the collection as the bench reckons with it."""

from __future__ import annotations

import math

from tropeion.core import written
from tropeion.core.frozen import frozen
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import UnknownRegisterError, World
from tropeion.core.optics.focus import Travel
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import Assembly, build
from tropeion.core.rig.ends import own_travel, usable_f_numbers, widest_at
from tropeion.core.rig.verdict import unknown_mounts
from tropeion.core.working import PLAIN

from .posterior import Prior
from .seen import Bench
from .series import Before


@frozen
class RigOnBench:
    """A rig put together, what the bench reckons with, and what its nominal lengths say of its error."""

    rig: Assembly
    bench: Bench
    nominal: Prior


def before_of(on_bench: RigOnBench, piece: str) -> Before:
    """What a piece of a rig stands before: all glass between it and the sensor is behind it."""
    adapters = on_bench.rig.adapters
    place = next((number for number, adapter in enumerate(adapters) if adapter.id == piece), None)
    behind = adapters if piece == on_bench.rig.lens.id else () if place is None else adapters[place + 1 :]
    return Before(
        width_mm=on_bench.rig.mode.width_mm,
        circle_mm=on_bench.bench.circle_mm,
        behind=math.prod(adapter.magnification for adapter in behind),
        magnification=on_bench.bench.magnification,
    )


def rig_on_bench(world: World, asked: Rig, practice: Practice | None = None) -> RigOnBench:
    """A rig at its widest setting. Raises UnknownIdError, MountlessError, UnknownRegisterError."""
    lens, adapters, body = world.pieces_of(asked)
    rig = build(world, lens, adapters, body, practice or Practice(), PLAIN)
    if not rig.stack.known:
        raise UnknownRegisterError(written.listed(unknown_mounts(rig)))
    focal = lens.focal_length_mm[0]
    widest, smallest = usable_f_numbers(rig, widest_at(lens, focal))
    own = Travel(0.0, focal) if lens.focus == "none" else own_travel(lens, focal, PLAIN)
    chain = rig.chain
    bench = Bench(
        focal_length_mm=focal,
        f_number=widest,
        smallest_f_number=smallest,
        magnification=chain.magnification,
        circle_mm=rig.blur_mm,
        travel_mm=None if own is None else own.travel_mm,
        close_mm=focal if own is None else own.close_mm,
        past_infinity_mm=lens.past_infinity_mm,
        helicoid_mm=chain.helicoid_mm,
        offset_mm=rig.offset_mm,
        front_mm=None if lens.length_mm is None else rig.stack.seat_mm + lens.length_mm,
        marked_f_numbers=lens.marked_f_numbers or (),
    )
    return RigOnBench(rig, bench, Prior(chain.error_mm, chain.standard_uncertainty_mm))
