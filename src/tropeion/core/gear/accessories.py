"""What goes with a rig: feet, rods, hoods, filters; foils to shim with; and who goes together with whom."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Annotated, Any, Final, Literal, Self, get_args

from pydantic import BeforeValidator, Field, model_validator

from .field_types import Date, Id, Length, Offset, PositiveLength, Several, Stops, Text, Tolerance, Word
from .items import Item, PieceItem
from .kinds import PIECES, Ref

AccessoryKind = Literal[
    "hood",
    "filter",
    "variable_filter",
    "close_up",
    "step_ring",
    "gear_ring",
    "cap",
    "strap",
    "foot",
    "tripod_plate",
    "cage",
    "rods",
    "support",
    "follow_focus",
    "matte_box",
    "grip",
    "iris",
    "other",
]

# Where each kind belongs is decided here and nowhere else.
FILTERS: Final[frozenset[AccessoryKind]] = frozenset({"filter", "variable_filter"})
SCREWED_ON: Final[frozenset[AccessoryKind]] = FILTERS | {"hood", "close_up", "step_ring", "cap"}
BEFORE_THE_LENS: Final[frozenset[AccessoryKind]] = SCREWED_ON | {"matte_box"}
AROUND_THE_LENS: Final[frozenset[AccessoryKind]] = frozenset({"foot", "gear_ring"})
CLAMPED_ON: Final[frozenset[AccessoryKind]] = AROUND_THE_LENS | {"matte_box"}
BRACES: Final[frozenset[AccessoryKind]] = frozenset({"support", "strap"})

# Other words for them, in lower case, without hyphens; what is in none of the lists is "other".
_ALSO: Final[Mapping[str, AccessoryKind]] = {
    "lens hood": "hood",
    "shade": "hood",
    "sunshade": "hood",
    "nd filter": "filter",
    "grey filter": "filter",
    "polariser": "filter",
    "polarizer": "filter",
    "screw in filter": "filter",
    "variable nd": "variable_filter",
    "variable nd filter": "variable_filter",
    "variable grey filter": "variable_filter",
    "close up lens": "close_up",
    "dioptre": "close_up",
    "diopter": "close_up",
    "step up ring": "step_ring",
    "step down ring": "step_ring",
    "stepping ring": "step_ring",
    "gear": "gear_ring",
    "focus gear": "gear_ring",
    "lens cap": "cap",
    "tripod foot": "foot",
    "tripod collar": "foot",
    "collar": "foot",
    "lens foot": "foot",
    "plate": "tripod_plate",
    "base plate": "tripod_plate",
    "baseplate": "tripod_plate",
    "rod": "rods",
    "bracket": "support",
    "lens support": "support",
    "lens bracket": "support",
    "handle": "grip",
}


def kind_of(text: str) -> AccessoryKind:
    """The kind that a word means, however it is written; ``other`` for one that means none of them."""
    said = _plain(text)
    for kind in get_args(AccessoryKind):
        if said.replace(" ", "_") in {kind, f"{kind}s"}:
            literal: AccessoryKind = kind
            return literal
    return _ALSO.get(said) or _ALSO.get(said.removesuffix("s")) or "other"


def _plain(text: str) -> str:
    return " ".join(re.sub(r"[^a-z0-9]+", " ", text.casefold()).split())


def _read_kind(given: Any) -> Any:
    return kind_of(given) if isinstance(given, str) else given


def with_words_kept(document: dict[str, Any]) -> dict[str, Any]:
    """An accessory as it is written, with a kind of the list; what other words said of it is kept in its notes."""
    text = document.get("kind")
    if not isinstance(text, str) or not text.strip():
        return document
    kind = kind_of(text)
    if _plain(text).replace(" ", "_") in {kind, f"{kind}s"}:
        return {**document, "kind": kind}
    notes = document.get("notes") or ""
    if text != "other" and isinstance(notes, str) and text not in notes:
        notes = f"{notes}\n{text}".strip()
    return {**document, "kind": kind, **({"notes": notes} if notes else {})}


class Accessory(PieceItem):
    """A piece that carries, holds, shades or filters: a foot, a cage, rods, a matte box, a hood, a step ring.

    ``clamps_to_mm`` is the diameter that it clamps to, ``rod_distance_mm`` how far its rods stand apart,
    ``rod_height_mm`` how far they run below the axis of the lens, ``rod_diameter_mm`` how thick they are; ``reach_mm``
    is how far a plate under the body reaches before the sensor plane. ``front_thread_mm`` and ``rear_thread_mm`` are
    filter threads. A filter takes ``loss_stops`` of light, a variable one between its ``range_stops``; it shows a cross
    from the angle of view ``cross_from_deg`` on. ``locks`` names what it leaves no room to turn.
    """

    kind: Annotated[AccessoryKind, BeforeValidator(_read_kind)]
    clamps_to_mm: PositiveLength | None = None
    front_thread_mm: PositiveLength | None = None
    rear_thread_mm: PositiveLength | None = None
    rod_distance_mm: PositiveLength | None = None
    rod_height_mm: PositiveLength | None = None
    rod_diameter_mm: PositiveLength | None = None
    reach_mm: Offset | None = None
    length_mm: Length | None = None
    loss_stops: Stops | None = None
    range_stops: tuple[Stops, Stops] | None = None
    colour_shift: Text | None = None
    cross_from_deg: Annotated[float, Field(ge=0, lt=180, allow_inf_nan=False)] | None = None
    locks: Several[Word] = ()

    @model_validator(mode="after")
    def _range_ascends(self) -> Self:
        if self.range_stops is not None and self.range_stops[0] > self.range_stops[1]:
            raise ValueError("range_stops runs from the weakest to the strongest")
        return self


class Foil(Item):
    """Foil to shim with: ``count`` pieces of it are at hand."""

    thickness_mm: Annotated[float, Field(ge=0.001, le=10, allow_inf_nan=False)]
    count: Annotated[int, Field(ge=0, le=10_000)] = 0
    material: Word | None = None
    tolerance_mm: Tolerance | None = None


_PAIRED = Ref(PIECES, "was tried together with another piece")


class Pair(Item):
    """Two pieces that were tried together, and what came of it.

    ``part`` is what it takes besides, or what cannot be changed any more. A pair that is not listed was not tried.
    """

    a: Annotated[Id, _PAIRED]
    b: Annotated[Id, _PAIRED]
    verdict: Literal["works", "with_part", "fixed", "fails"]
    part: Word | None = None
    on: Date | None = None
    source: Literal["maker", "shop", "review", "own"] | None = None

    @model_validator(mode="after")
    def _two_pieces(self) -> Self:
        if self.a == self.b:
            raise ValueError("a and b are two pieces")
        return self
