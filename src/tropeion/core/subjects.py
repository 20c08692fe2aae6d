"""What stands along the ribbon of distances: things that people photograph, and from how far."""

from __future__ import annotations

from typing import Annotated, Final

from pydantic import BaseModel, ConfigDict, Field, StringConstraints

MOST = 8


class Subject(BaseModel):
    """One mark: its name and its distance."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    name: Annotated[str, StringConstraints(min_length=1, max_length=24, strip_whitespace=True)]
    distance_m: Annotated[float, Field(ge=0.01, le=10_000, allow_inf_nan=False)]


# Subjects of familiar size, until the owner names others.
NEUTRAL: Final = (
    Subject(name="a coin", distance_m=0.2),
    Subject(name="a face", distance_m=1.0),
    Subject(name="a room", distance_m=4.0),
    Subject(name="a house", distance_m=25.0),
)
