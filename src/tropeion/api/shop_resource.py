"""Would this fit? A lens not owned, against every body at hand."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import Query
from pydantic import BaseModel, Field

from tropeion.core.answers.shop import LensRead, LensSeen, WouldFit, read_lens, would_fit
from tropeion.core.answers.unknown_mount import MountCandidate, RearPart, mount_candidates

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, Id

router = resource("/api/v1", "shop")


class _Lens(BaseModel):
    """What is known of the lens."""

    mount: Id
    focal_mm: float = Field(ge=0.1, le=10_000)
    focal_long_mm: float | None = Field(None, ge=0.1, le=10_000, description="A zoom's long end.")
    f_number: float | None = Field(None, ge=0.1, le=1000)
    f_number_at_long_end: float | None = Field(None, ge=0.1, le=1000)
    generation: Id | None = None


@router.get("/would-fit")
def get_would_fit(lens: Annotated[_Lens, Query()], practice: PracticeOf, collection: CollectionOf) -> WouldFit:
    """Every body at hand for a lens of this mount and focal length, with what would have to be bought."""
    seen = LensSeen(
        lens.mount, lens.focal_mm, lens.f_number, lens.focal_long_mm, lens.f_number_at_long_end, lens.generation
    )
    return would_fit(collection.world(), seen, practice)


@router.get("/mount-candidates")
def get_mount_candidates(
    collection: CollectionOf,
    coupling: Literal["thread", "bayonet"],
    diameter_mm: Annotated[float | None, Query(ge=1, le=300)] = None,
    rear: RearPart | None = None,
) -> list[MountCandidate]:
    """The mounts that an unknown lens may have, by what can be seen and measured of it."""
    return list(mount_candidates(collection.world(), coupling, diameter_mm, rear))


@router.get("/lens-read")
def get_lens_read(text: Annotated[str, Query(max_length=400)], collection: CollectionOf) -> LensRead:
    """Read what is engraved on a lens."""
    return read_lens(collection.world(), text)
