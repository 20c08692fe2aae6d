"""The collection: read whole, replaced whole."""

from __future__ import annotations

from typing import Any

from fastapi import Response

from tropeion.core.frozen import frozen
from tropeion.formats import gear_file
from tropeion.sample import SUBJECTS, sample_bytes

from .resource import resource
from .shared import CollectionOf, Sent, attached

GEAR_PATH = "/api/v1/gear"
router = resource("/api/v1", "gear")


@frozen
class Replaced:
    """What a replacement did."""

    changed: int
    lenses: int
    bodies: int
    adapters: int


@router.get("/gear", response_class=Response)
def get_gear(collection: CollectionOf) -> Response:
    """The whole collection as a gear file."""
    return attached(gear_file.dump(collection.gear()), "tropeion-gear.json", "application/json")


@router.put(
    "/gear",
    openapi_extra={"requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}},
)
def put_gear(sent: Sent, collection: CollectionOf) -> Replaced:
    """Replace the whole collection by a gear file, or refuse it whole."""
    gear = gear_file.load(sent)
    changed = collection.replace(gear)
    return Replaced(changed, len(gear.lenses), len(gear.bodies), len(gear.adapters))


@router.post("/gear/sample")
def post_sample(collection: CollectionOf) -> Replaced:
    """Put the sample world into an empty collection."""
    gear = gear_file.load(sample_bytes())
    revision, have = collection.revision, collection.gear()
    changed = 0 if have.mounts else collection.replace(gear, "The sample world loaded", since=revision)
    if changed:
        collection.set_subjects(SUBJECTS)
    kept = gear if changed else have
    return Replaced(changed, len(kept.lenses), len(kept.bodies), len(kept.adapters))


@router.get("/schema")
def get_schema() -> dict[str, Any]:
    """The JSON Schema of the gear file."""
    return gear_file.json_schema()
