"""The choices on which people of the trade disagree. Both sides stay available; the default is not an opinion."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

__all__ = ["Practice"]


class Practice(BaseModel):
    """One person's practice. Every answer is given under one of these."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    trust: Literal["nominal", "cautious"] = Field(
        "nominal",
        description="How far to trust a nominal length: as stated, or the worst case of the tolerances.",
    )
    crop: Literal["diagonal", "width"] = Field("diagonal", description="What the crop factor is taken from.")
    equivalence: Literal["framing", "framing_and_depth"] = Field(
        "framing", description="What 'equivalent' means: framing alone, or framing and depth of field."
    )
    distances: Literal["metric", "imperial"] = Field("metric", description="How subject distances are written.")
    use: Literal["still", "film"] = Field("still", description="Which of the body's modes are chosen among.")
    blur: Literal["1500", "2000", "3000", "two_pixels"] = Field(
        "1500", description="Circle of confusion: the diagonal divided by this, or two pixels."
    )
