"""Small worlds for tests, built from plain numbers."""

from __future__ import annotations

import json
from typing import Any, TypeVar

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.items import Item
from tropeion.core.gear.world import World, compile_world
from tropeion.core.rig.rig_report import Details, Route

T = TypeVar("T", bound=Item)


def made(kind: type[T], written: dict[str, Any]) -> T:
    """One entry, from what a file says of it."""
    return kind.model_validate_json(json.dumps(written))


def gear_of(document: dict[str, Any]) -> Gear:
    return Gear.model_validate_json(json.dumps({"format": "tropeion-gear", "version": 1, **document}))


def mount(id_: str, register_mm: float, tolerance_mm: float = 0.0, **more: Any) -> dict[str, Any]:
    return {
        "id": id_,
        "name": id_.title(),
        "interface": "joint",
        "coupling": "bayonet",
        "register_mm": register_mm,
        "tolerance_mm": tolerance_mm,
        "lens_kind": "reflex",
        **more,
    }


def lens(**more: Any) -> dict[str, Any]:
    return {
        "id": "lens",
        "name": "Test lens",
        "mount": "front",
        "focal_length_mm": [50, 50],
        "f_number": [2, 16],
        "min_focus_m": 0.5,
        "image_circle_mm": 45.0,
        **more,
    }


def body(**more: Any) -> dict[str, Any]:
    return {"id": "body", "name": "Test body", "mount": "rear", "sensor_mm": [36.0, 24.0], **more}


def ring(id_: str = "ring", length_mm: float = 25.0, **more: Any) -> dict[str, Any]:
    more = {"tolerance_mm": 0.0, **more}
    return {"id": id_, "name": id_.title(), "lens_mount": "front", "body_mount": "rear", "length_mm": length_mm, **more}


def world_of(
    adapters: list[dict[str, Any]] | None = None,
    *,
    lens_register_mm: float = 45.0,
    body_register_mm: float = 20.0,
    seat_tolerance_mm: float = 0.0,
    the_lens: dict[str, Any] | None = None,
    the_body: dict[str, Any] | None = None,
    front: dict[str, Any] | None = None,
    rear: dict[str, Any] | None = None,
    protocols: list[dict[str, Any]] | None = None,
) -> World:
    """One lens, one body, and adapters between a ``front`` and a ``rear`` mount that share an interface."""
    return compile_world(
        gear_of(
            {
                "protocols": protocols or [],
                "mounts": [
                    mount("front", lens_register_mm, seat_tolerance_mm, **(front or {})),
                    mount("rear", body_register_mm, seat_tolerance_mm, **(rear or {})),
                ],
                "bodies": [the_body or body()],
                "lenses": [the_lens or lens()],
                "adapters": adapters or [],
            }
        )
    )


def unknowing(world: World, *ids: str) -> World:
    """The same collection, of which some mounts' registers are not known."""
    mounts = tuple(one.model_copy(update={"register_mm": None}) if one.id in ids else one for one in world.gear.mounts)
    return compile_world(world.gear.model_copy(update={"mounts": mounts}))


def details(route: Route) -> Details:
    """The details of a route that is looked at."""
    assert route.details is not None
    return route.details
