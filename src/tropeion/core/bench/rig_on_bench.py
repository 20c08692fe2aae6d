"""A rig of the collection as the bench reckons with it."""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core.gear.world import World
from tropeion.core.optics.focus import Travel
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import build
from tropeion.core.rig.ends import own_travel, usable_f_numbers, widest_at
from tropeion.core.working import PLAIN

from .seen import Bench
from .together import Prior

__all__ = ["bench_of"]


def bench_of(
    world: World, lens_id: str, body_id: str, via: Sequence[str], practice: Practice | None = None
) -> tuple[Bench, Prior]:
    """A rig at its widest setting, and what its nominal lengths say of its error. Raises UnknownIdError."""
    lens, body = world.lens(lens_id), world.body(body_id)
    adapters = tuple(world.adapter(id_) for id_ in via)
    rig = build(world, lens, adapters, body, practice or Practice(), PLAIN)
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
    )
    return bench, Prior(chain.error_mm, chain.standard_uncertainty_mm)
