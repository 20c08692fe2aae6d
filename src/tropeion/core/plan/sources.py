"""Where the chains of a plan are looked for: every lens on every body that is asked for, with any of their mounts."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.changed import changed_id
from tropeion.core.gear.items import SwappableMount
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.records.plan_question import Demand, PlanQuestion

from .alike import frames_alike
from .market import cents, offer_of
from .task import Offer


@frozen
class Source:
    """A lens on a body for a demand, as they are or with another mount; the pieces that are counted for these."""

    demand: int
    lens: Lens
    body: Body
    extra: tuple[str, ...]


def sources_of(world: World, question: PlanQuestion, offers: dict[str, Offer]) -> list[Source]:
    """Each demand by its place, with every lens and body for it; what is counted for these is put into ``offers``."""
    return list(_sources(world, question, offers))


def _sources(world: World, question: PlanQuestion, offers: dict[str, Offer]) -> Iterator[Source]:
    for number, demand in enumerate(question.demands):
        fronts = [world.lens(demand.lens), *_stand_ins(world, demand, question)]
        for lens_id, lens_extra in (
            variant
            for front in fronts
            if front.mount is not None
            for variant in _variants(front, demand, question, offers)
        ):
            for on_id in demand.bodies:
                for body_id, body_extra in _variants(world.body(on_id), demand, question, offers):
                    lens, body = world.lenses[lens_id], world.bodies[body_id]
                    yield Source(number, lens, body, (*lens_extra, *body_extra))


def _stand_ins(world: World, demand: Demand, question: PlanQuestion) -> Iterator[Lens]:
    """Lenses that may be bought and that frame nearly as the one that is asked for."""
    wanted = world.lens(demand.lens)
    for id_ in question.buy:
        other = world.lenses.get(id_)
        if other is not None and other.id != wanted.id and frames_alike(wanted, other):
            yield other


def _variants(
    item: Lens | Body, demand: Demand, question: PlanQuestion, offers: dict[str, Offer]
) -> Iterator[tuple[str, tuple[str, ...]]]:
    """A lens or body as it is, and with each of its other mounts; with the pieces that are counted for it."""
    id_, kind = item.id, "lens" if isinstance(item, Lens) else "body"
    own: tuple[str, ...] = ()
    if id_ in question.buy or id_ in question.sell or demand.at_once:
        key = f"{kind}:{id_}"
        # Only adapters count as weight to carry.
        offer = replace(offer_of([item], question, stays=False), mass_g=0.0)
        if id_ not in question.buy:
            offer = Offer(None, max(1, offer.owned), offer.sellable, offer.resale, offer.mass_g, stays=False)
        offers[key] = offer
        own = (key,)
    yield id_, own
    for swap in item.swappable_mounts:
        changed = changed_id(item, swap.mount)
        key = f"mount:{changed}"
        offers[key] = _plate(swap)
        yield changed, (*own, key)


def _plate(swap: SwappableMount) -> Offer:
    """Another mount of one piece; what has no price cannot be bought."""
    return Offer(None if swap.price is None else cents(swap.price), stays=False, mass_g=0.0)
