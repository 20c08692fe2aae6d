"""The collection: found, read whole, replaced whole."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from fastapi import APIRouter, Query, Request, Response
from pydantic import TypeAdapter

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.search import search
from tropeion.core.gear.world import World
from tropeion.core.optics.seats import seat_of
from tropeion.formats import gear_file
from tropeion.sample import sample_bytes

from .problems import RESPONSES
from .shared import CollectionOf, Id

__all__ = ["GEAR_PATH", "router"]

GEAR_PATH = "/api/v1/gear"
router = APIRouter(prefix="/api/v1", tags=["gear"], responses=RESPONSES)


@dataclass(frozen=True, slots=True)
class Found:
    """An item as a picker lists it. ``register_mm`` is that of a lens or body."""

    id: str
    name: str
    mount: str
    mount_name: str
    mount_aliases: tuple[str, ...]
    register_mm: float | None
    owned: int


@dataclass(frozen=True, slots=True)
class FoundList:
    """The best hits, and how many there are in all."""

    items: tuple[Found, ...]
    total: int


@dataclass(frozen=True, slots=True)
class Replaced:
    """What a replacement did."""

    changed: int
    lenses: int
    bodies: int
    adapters: int


_FOUND = TypeAdapter(FoundList)


def _found(world: World, item: Lens | Body | Adapter) -> Found:
    mount = world.mounts[item.lens_mount if isinstance(item, Adapter) else item.mount]
    register = None if isinstance(item, Adapter) else seat_of(item, mount).register_mm
    return Found(item.id, item.name, mount.id, mount.name, mount.aliases, register, item.at_hand)


@router.get("/search/{kind}", response_model=FoundList)
def get_search(
    kind: Literal["lens", "body", "adapter"],
    collection: CollectionOf,
    q: Annotated[str, Query(max_length=200)] = "",
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> Response:
    """Items that hold every word of ``q`` in their names, or in their mount's names, aliases or thread."""
    world = collection.world()
    items, total = search(world, kind, q, limit)
    found = FoundList(tuple(_found(world, item) for item in items), total)
    return Response(_FOUND.dump_json(found), media_type="application/json")


@router.get("/items/{kind}/{id}")
def get_item(kind: Literal["lens", "body", "adapter"], id: Id, collection: CollectionOf) -> Found:
    """One item, as a picker shows it."""
    world = collection.world()
    item: Lens | Body | Adapter
    match kind:
        case "lens":
            item = world.lens(id)
        case "body":
            item = world.body(id)
        case _:
            item = world.adapter(id)
    return _found(world, item)


@router.get("/gear", response_class=Response)
def get_gear(collection: CollectionOf) -> Response:
    """The whole collection as a gear file."""
    data = gear_file.dump(collection.gear())
    headers = {"content-disposition": 'attachment; filename="tropeion-gear.json"'}
    return Response(data, media_type="application/json", headers=headers)


@router.put(
    "/gear",
    openapi_extra={"requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}},
)
async def put_gear(request: Request, collection: CollectionOf) -> Replaced:
    """Replace the whole collection by a gear file, or refuse it whole."""
    gear = gear_file.load(await request.body())
    changed = collection.replace(gear)
    return Replaced(changed, len(gear.lenses), len(gear.bodies), len(gear.adapters))


@router.post("/gear/sample")
def post_sample(collection: CollectionOf) -> Replaced:
    """Put the sample world into an empty collection."""
    gear = gear_file.load(sample_bytes())
    revision, have = collection.revision, collection.gear()
    changed = 0 if have.mounts else collection.replace(gear, "The sample world loaded", since=revision)
    kept = gear if changed else have
    return Replaced(changed, len(kept.lenses), len(kept.bodies), len(kept.adapters))


@router.get("/schema")
def get_schema() -> dict[str, Any]:
    """The JSON Schema of the gear file."""
    return gear_file.json_schema()
