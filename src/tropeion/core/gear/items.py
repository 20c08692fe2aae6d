"""What every entry of the collection has, and every piece that can be owned."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal, Self

from pydantic import ConfigDict, Field, model_validator

from .agreeing import all_but
from .field_types import Count, Date, Id, Many, Mass, Money, Name, Several, Strict, Text, Word
from .kinds import PIECES, Ref

# What does not change a judgement: two pieces that agree in all the rest are interchangeable.
UNJUDGED = frozenset(
    {
        "id",
        "name",
        "aliases",
        "notes",
        "owned",
        "borrowed",
        "price",
        "price_used",
        "resale",
        "rent_per_day",
        "price_on",
        "evidence",
        "firmware",
        "measured_on",
        "retired",
        "assumed",
        "character",
    }
)


class Item(Strict):
    """What every entry of the collection has. ``assumed`` names the fields whose values are not stated or measured."""

    id: Id
    name: Name
    aliases: Several[Name] = ()
    notes: Text = ""
    retired: bool = False
    assumed: Several[Word] = ()

    # A slot: a copy starts without it, and no field is told of it.
    __slots__ = ("_hash",)
    if TYPE_CHECKING:
        _hash: int

    def __hash__(self) -> int:
        # Entries are what many answers are kept by, and have a hundred fields: it is computed once.
        try:
            return self._hash
        except AttributeError:
            object.__setattr__(self, "_hash", hash(all_but(self)))
            return self._hash

    @model_validator(mode="after")
    def _assumed_are_fields(self) -> Self:
        fields = {field.alias or name for name, field in type(self).model_fields.items()}
        for name in self.assumed:
            if name not in fields:
                raise ValueError(f"assumed names '{name}', which is no field of this kind")
        return self


_WITNESSED = Ref(PIECES, "has evidence that names it", weak=True)


class Evidence(Strict):
    """Somebody's experience for or against a claim; ``with_`` are the other pieces of the pair or rig it is about."""

    claim: Text
    verdict: Literal["confirmed", "contradicted"]
    source: Literal["maker", "shop", "review", "own"]
    on: Date | None = None
    note: Text = ""
    with_: Annotated[Several[Annotated[Id, _WITNESSED]], Field(alias="with")] = ()

    model_config = ConfigDict(populate_by_name=True)


class SwappableMount(Strict):
    """A reversible change of mount on a lens, or of plate on a body."""

    mount: Annotated[Id, Ref(("mounts",), "can be given this mount")]
    price: Money | None = None
    tools: Text = ""
    minutes: Annotated[int, Field(ge=0, le=100_000)] | None = None


class PieceItem(Item):
    """What can be owned: a body, a lens, an adapter or an accessory.

    ``price`` is what it costs new and ``price_used`` used, as of ``price_on``; ``resale`` is what it would bring.
    """

    owned: Count = 0
    borrowed: Count = 0
    price: Money | None = None
    price_used: Money | None = None
    resale: Money | None = None
    rent_per_day: Money | None = None
    price_on: Date | None = None
    mass_g: Mass | None = None
    firmware: Word | None = None
    evidence: Many[Evidence] = ()

    @property
    def at_hand(self) -> int:
        """How many there are to use today: the owned and the borrowed ones."""
        return self.owned + self.borrowed


class Measured(PieceItem):
    """A piece that can be measured."""

    measured_on: Date | None = None
