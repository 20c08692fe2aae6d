"""The card of a rig: which of its steps were ticked off, day by day."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from tropeion.core.gear.quantities import Date, Text

from .record import About, Record

__all__ = ["Card", "Use", "rig_in", "rig_of", "what_it_is_about"]


class Card(Record):
    """One day of one rig. ``rig`` names lens, body and adapters; ``ticked`` are the steps, in their words."""

    rig: Annotated[str, Field(max_length=600)]
    day: Date
    ticked: Annotated[tuple[Text, ...], Field(max_length=200)] = ()


@dataclass(frozen=True, slots=True)
class Use:
    """On how many days something was used, and on which last."""

    days: int
    last: str


def rig_of(lens: str, body: str, adapters: Sequence[str]) -> str:
    """The name by which a rig's cards are found again."""
    return " ".join((lens, body, ",".join(adapters)))


def rig_in(name: str) -> tuple[str, str, tuple[str, ...]]:
    """Lens, body and adapters of a rig by the name that :func:`rig_of` gave it."""
    lens, body, adapters = name.split(" ")
    return lens, body, tuple(one for one in adapters.split(",") if one)


def what_it_is_about(lens: str, body: str, adapters: Sequence[str]) -> tuple[About, ...]:
    """The items of a rig, each once."""
    found = [About(kind="lenses", id=lens), About(kind="bodies", id=body)]
    found += [About(kind="adapters", id=id_) for id_ in dict.fromkeys(adapters)]
    return tuple(found)
