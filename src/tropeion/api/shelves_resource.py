"""The shelves: every item of a kind, the one search over them, and what is usual for a mount."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import Query, Response
from pydantic import BaseModel, Field, TypeAdapter

from tropeion.core.answers.usual_fields import Usual, usual_values
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.kinds import JoinedKind, ShelfKind
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.search import Hand, Sort, Wanted, hits
from tropeion.core.gear.shelves import Shelf, shelf_of
from tropeion.core.gear.world import World
from tropeion.core.keeping import kept
from tropeion.core.optics.seats import seat_of

from .resource import resource
from .shared import CollectionOf, Id

router = resource("/api/v1/kit", "shelves")


@frozen
class Found:
    """A piece as a picker lists it. ``register_mm`` is that of a lens or body."""

    id: str
    name: str
    mount: str
    mount_name: str
    mount_aliases: tuple[str, ...]
    register_mm: float | None
    owned: int


@frozen
class FoundList:
    """The ids of the best hits, how many there are in all, and, asked for in brief, what a picker shows of them."""

    ids: tuple[str, ...]
    total: int
    items: tuple[Found, ...]


class _PiecesWanted(BaseModel):
    """What is looked for; ``brief`` also tells what a picker shows of each piece."""

    q: str = Field("", max_length=200)
    mount: Id | None = None
    covers_mm: float | None = Field(None, gt=0, le=5000)
    contacts: bool | None = None
    hand: Hand | None = None
    price_up_to: float | None = Field(None, ge=0)
    mass_up_to_g: float | None = Field(None, ge=0)
    tag: str | None = Field(None, max_length=120)
    trust: Literal["assumed", "measured", "contradicted"] | None = None
    retired: bool = False
    sort: Sort = "name"
    descending: bool = False
    limit: int | None = Field(None, ge=1, le=200)
    brief: bool = False


_SHELF = TypeAdapter(Shelf)
_FOUND = TypeAdapter(FoundList)


@kept()
def _shelf_bytes(world: World, kind: ShelfKind) -> bytes:
    return _SHELF.dump_json(shelf_of(world, kind))


@router.get("/{kind}", response_model=Shelf)
def get_shelf(kind: ShelfKind, collection: CollectionOf) -> Response:
    """Every item of a kind, with what its silhouette measures and what the shelf can be narrowed by."""
    return Response(_shelf_bytes(collection.world(), kind), media_type="application/json")


@router.get("/{kind}/find", response_model=FoundList)
def get_found(kind: ShelfKind, wanted: Annotated[_PiecesWanted, Query()], collection: CollectionOf) -> Response:
    """The items that hold every word and pass every filter, sorted; ``nearest`` is the order of a picker."""
    world = collection.world()
    found = hits(world, kind, Wanted(**wanted.model_dump(exclude={"limit", "brief"})))
    if wanted.brief and kind == "lenses":
        found = [item for item in found if isinstance(item, Lens) and item.mount is not None]
    told = found if wanted.limit is None else found[: wanted.limit]
    brief = tuple(_brief(world, item) for item in told[:200]) if wanted.brief else ()
    found_list = FoundList(tuple(item.id for item in told), len(found), tuple(one for one in brief if one is not None))
    return Response(_FOUND.dump_json(found_list), media_type="application/json")


def _brief(world: World, item: object) -> Found | None:
    if not isinstance(item, Lens | Body | Adapter) or (isinstance(item, Lens) and item.mount is None):
        return None
    mount = world.mounts[item.lens_mount] if isinstance(item, Adapter) else world.mount_of(item)
    register = None if isinstance(item, Adapter) else seat_of(item, mount).register_mm
    return Found(item.id, item.name, mount.id, mount.name, mount.aliases, register, item.at_hand)


@router.get("/{kind}/usual")
def get_usual(kind: JoinedKind, mount: Id, collection: CollectionOf, body_mount: Id | None = None) -> Usual:
    """Values to begin with, for a mount; for an adapter between two."""
    return usual_values(collection.world(), kind, mount, body_mount)
