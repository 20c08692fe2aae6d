"""The card of a rig: which of its steps were ticked off, day by day."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from tropeion.core.gear.quantities import Date, Text
from tropeion.core.gear.rig import Rig

from .record import About, Record

__all__ = ["Card", "Use", "what_it_is_about"]


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


def what_it_is_about(rig: Rig) -> tuple[About, ...]:
    """The items of a rig, each once."""
    return tuple(About(kind=kind, id=id_) for kind, id_ in rig.items)
