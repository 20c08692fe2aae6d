"""What pieces cost a plan: new, used or by the day; what is at hand; what is ruled out, and why."""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core.frozen import frozen
from tropeion.core.gear.items import PieceItem
from tropeion.core.records.plan_question import PlanQuestion
from tropeion.core.routes.chains import Group

from .task import Offer


def cents(money: float) -> int:
    """Money in whole cents."""
    return round(money * 100)


@frozen
class Price:
    """What a piece costs, on which terms, and as of when."""

    amount: float
    basis: str
    on: str | None


def price_of(piece: PieceItem, question: PlanQuestion) -> Price | None:
    """What one more of a piece costs; None where it is not stated."""
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
        # A piece that would sell for more than it costs is not traded in.
        resale=resale if price is None else min(resale, price),
        mass_g=members[0].mass_g,
        stays=stays,
    )


def group_offer(group: Group, question: PlanQuestion) -> Offer:
    """What a group of adapters is to a plan."""
    return offer_of(group.members, question)
