"""The card of a rig: which of its steps were ticked off, day by day."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated

from pydantic import Field

from tropeion.core.frozen import frozen
from tropeion.core.gear.field_types import Date, Text

from .record import Record


class Card(Record):
    """One day of one rig. ``rig`` names lens, body and adapters; ``ticked`` are the steps, in their words."""

    kind = "cards"
    called = "card"
    place = ("rig", "day")
    ticks = "ticked"

    rig: Annotated[str, Field(max_length=600)]
    day: Date
    ticked: Annotated[tuple[Text, ...], Field(max_length=200)] = ()


@frozen
class Use:
    """On how many days something was used, and on which last."""

    days: int
    last: str


def use_of_rigs(cards: Iterable[Card]) -> dict[str, Use]:
    """How often each rig's card was used, and on which day last; a card with nothing ticked was not."""
    days: dict[str, list[str]] = {}
    for card in cards:
        if card.ticked and not card.struck:
            days.setdefault(card.rig, []).append(card.day)
    return {rig: Use(len(used), max(used)) for rig, used in days.items()}
