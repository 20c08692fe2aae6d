"""The choices on which people of the trade disagree. Both sides stay available; the default is not an opinion."""

from __future__ import annotations

from dataclasses import replace
from typing import Final, Literal

from pydantic import BaseModel, ConfigDict, Field

from tropeion.core.frozen import frozen

from .data_tables import table


class Practice(BaseModel):
    """One person's practice. Every answer is given under one of these."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    trust: Literal["nominal", "cautious"] = Field(
        "nominal", description="How far to trust a nominal length: as stated, or the worst case of the tolerances."
    )
    crop: Literal["diagonal", "width"] = Field("diagonal", description="What the crop factor is taken from.")
    equivalence: Literal["framing", "framing_and_depth"] = Field(
        "framing", description="What 'equivalent' means: framing alone, or framing and depth of field."
    )
    distances: Literal["metric", "imperial"] = Field("metric", description="How subject distances are written.")
    glass: Literal["accept", "avoid"] = Field(
        "accept", description="Correcting glass: a route like others, or the last."
    )
    electronics: Literal["active", "plain"] = Field(
        "active", description="Electronics where they exist, or plain adapters by choice."
    )
    rings: Literal["cheapest", "price_first", "precise"] = Field(
        "cheapest",
        description="Among routes of one grade: what is owned, full speed, fewer pieces and then the cheapest; the "
        "price before all else; or the least play and tolerance.",
    )
    heavy: Literal["fine", "support"] = Field(
        "fine", description="A heavy lens on a thin ring: within the rating is fine, or always supported."
    )
    entry: Literal["essential", "skip"] = Field(
        "essential", description="Entering the focal length for the stabiliser."
    )
    zooms: Literal["use", "avoid"] = Field("use", description="Zooms on plain adapters.")
    throw: Literal["long", "short"] = Field("long", description="Focus throw: long for precision, short for speed.")
    focusing: Literal["wide_open", "taking_aperture"] = Field(
        "wide_open", description="Focus wide open and stop down, or at the taking aperture."
    )
    purpose: Literal["infinity", "close_up"] = Field(
        "infinity", description="What the rig is for: the whole range, or close-up, where a long ring is wanted."
    )
    pieces: Literal["1", "2", "3", "4"] = Field("3", description="The most adapters in a chain.")
    use: Literal["still", "film"] = Field("still", description="Which of the body's modes are chosen among.")
    menu: Literal["full", "short"] = Field("full", description="Which of the body's menus are shown.")
    blur: Literal["1500", "2000", "3000", "two_pixels"] = Field(
        "1500", description="Circle of confusion: the diagonal divided by this, or two pixels."
    )


@frozen
class Option:
    """One answer; ``says`` is what stands beside an answer that was given under it."""

    value: str
    label: str
    says: str


@frozen
class Choice:
    """One question on which people disagree. ``changes``: what an answer changes; ``usual``: the default."""

    key: str
    question: str
    changes: str
    options: tuple[Option, ...]
    usual: str = ""


# In the order in which they are asked.
CHOICES: Final = tuple(
    replace(choice, usual=Practice.model_fields[choice.key].default) for choice in table("practice", Choice)
)
