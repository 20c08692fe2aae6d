"""What pieces cost a plan: new, used or by the day; what is at hand; what is ruled out, and why."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from tropeion.core import written
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.items import PieceItem
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.records.plan_record import PlanQuestion
from tropeion.core.routes.chains import Group

from .task import Offer


def cents(money: float) -> int:
    """Money in whole cents."""
    return round(money * 100)


@dataclass(frozen=True, slots=True)
class Price:
    """What a piece costs, on which terms, and as of when."""

    amount: float
    basis: str
    on: str | None


def price_of(piece: PieceItem, question: PlanQuestion) -> Price | None:
    """What one more of a piece costs; None where nobody said."""
    if piece.id in question.sold_out:
        return None
    if piece.id in question.rent and piece.rent_per_day is not None:
        days = "day" if question.days == 1 else "days"
        return Price(piece.rent_per_day * question.days, f"rented, {question.days} {days}", piece.price_on)
    if question.prices == "used" and piece.price_used is not None:
        return Price(piece.price_used, "used", piece.price_on)
    return None if piece.price is None else Price(piece.price, "new", piece.price_on)


def offer_of(members: Sequence[PieceItem], question: PlanQuestion, *, stays: bool = True) -> Offer:
    """What interchangeable pieces are to a plan: all that are at hand, the cheapest to be had."""
    prices = [cents(price.amount) for price in (price_of(member, question) for member in members) if price is not None]
    price = min(prices, default=None)
    sold = [
        (cents(member.resale), member.owned)
        for member in members
        if member.id in question.sell and member.resale is not None
    ]
    resale = min((money for money, count in sold if count), default=0)
    return Offer(
        price=price,
        owned=sum(member.at_hand for member in members),
        sellable=sum(count for _, count in sold),
        # What would bring more than it costs is not traded in.
        resale=resale if price is None else min(resale, price),
        mass_g=members[0].mass_g,
        stays=stays,
    )


def group_offer(group: Group, question: PlanQuestion) -> Offer:
    """What a group of adapters is to a plan."""
    return offer_of(group.members, question)


@dataclass(frozen=True, slots=True)
class RuledOut:
    """A piece that is not used, and why."""

    id: str
    name: str
    why: str


def ruled_out(world: World, question: PlanQuestion, practice: Practice) -> tuple[RuledOut, ...]:
    """The adapters that a plan does not use."""
    ruled_outs = []
    for adapter in world.gear.adapters:
        why = _why_not(adapter, question, practice)
        if why and not adapter.retired:
            ruled_outs.append(RuledOut(adapter.id, adapter.name, why))
    return tuple(ruled_outs)


def _why_not(adapter: Adapter, question: PlanQuestion, practice: Practice) -> str:
    if adapter.id in question.without:
        return "ruled out"
    word = next((word for word in question.without_words if word.casefold() in adapter.name.casefold()), None)
    if word is not None:
        return f"“{word}” in its name"
    worst = question.worst_tolerance_mm
    if worst is not None and adapter.tolerance_or_usual_mm > worst:
        assumed = ", assumed" if adapter.tolerance_mm is None else ""
        return f"tolerance ±{written.millimetres(adapter.tolerance_or_usual_mm)}{assumed}"
    if question.only_locking and not adapter.locking:
        return "no lock"
    if question.no_glass and adapter.has_glass:
        return "glass"
    if practice.glass == "avoid" and adapter.optics == "correcting":
        return "correcting glass, which you avoid"
    if question.carry_g is not None and adapter.mass_g is None:
        return "nobody said what it weighs"
    return ""


def world_for(world: World, gone: Sequence[RuledOut]) -> World:
    """The world without the adapters that are ruled out."""
    if not gone:
        return world
    ids = {ruled_out.id for ruled_out in gone}
    left = tuple(adapter for adapter in world.gear.adapters if adapter.id not in ids)
    return compile_world(world.gear.model_copy(update={"adapters": left, "rigs": ()}), world)
