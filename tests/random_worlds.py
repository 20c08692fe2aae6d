"""Small collections of everything that a judgement asks for, made by chance and by a number, always the same."""

from __future__ import annotations

from random import Random
from typing import Any

from tests.worlds import gear_of
from tropeion.core.gear.references import check_references
from tropeion.core.gear.world import World, compile_world

__all__ = ["world_by_chance"]

_FUNCTIONS = ("autofocus", "aperture", "identity", "focal_length")


def world_by_chance(seed: int) -> World:
    """Three systems, two of them on one bayonet: four lenses, a body each, seven rings."""
    chance = Random(seed)
    mounts = [_mount(chance, number) for number in range(3)]
    document = {
        "protocols": [
            {"id": "old", "name": "Old", "powers": ["iris"]},
            {"id": "new", "name": "New", "accepts": ["old"], "powers": ["iris", "focus"]},
        ],
        "mounts": mounts,
        "bodies": [_body(chance, mount, number) for number, mount in enumerate(mounts)],
        "lenses": [_lens(chance, mounts[number % 3], number) for number in range(4)],
        "adapters": [_ring(chance, mounts, number) for number in range(7)],
    }
    gear = gear_of(document)
    assert not check_references(gear)
    return compile_world(gear)


def _maybe(chance: Random, share: float, **fields: Any) -> dict[str, Any]:
    """Each of the fields, so often."""
    return {name: value for name, value in fields.items() if chance.random() < share}


def _mount(chance: Random, number: int) -> dict[str, Any]:
    parts = [
        {"id": "rack", "side": "lens", "label": "rack"},
        {"id": "probe", "side": "body", "label": "probe", "depth_mm": 2.0},
    ]
    rule = {"lens_has": ["rack"], "body_has": ["probe"], "effect": chance.choice(["damage", "inspect", "meters"])}
    several = {
        "features": parts,
        "generations": [
            {"id": f"m{number}-1", "label": "I", "lens_features": ["rack"]},
            {"id": f"m{number}-2", "label": "II", "body_features": ["probe"], **_maybe(chance, 0.5, protocol="old")},
        ],
        "rules": [{**rule, "text": "The rack meets the probe."}],
    }
    return {
        "id": f"m{number}",
        "name": f"Mount {number}",
        "interface": "shared" if number < 2 else f"own-{number}",
        "coupling": "bayonet",
        "register_mm": None if number == 3 and chance.random() < 0.3 else _register(chance),
        **_maybe(
            chance,
            0.6,
            tolerance_mm=0.03,
            throat_mm=round(chance.uniform(36, 56), 1),
            load_rating_nm=round(chance.uniform(0.3, 4), 2),
            play_mm=0.02,
            lens_kind=chance.choice(["reflex", "mirrorless"]),
        ),
        **(several if number % 2 else {}),
    }


def _register(chance: Random) -> float:
    return round(chance.choice([18.0, 22.0, 40.0, 44.0]) + chance.random(), 2)


def _generation(chance: Random, mount: dict[str, Any]) -> dict[str, Any]:
    known = [one["id"] for one in mount.get("generations", [])]
    return {"generation": chance.choice(known)} if known and chance.random() < 0.6 else {}


def _lens(chance: Random, mount: dict[str, Any], number: int) -> dict[str, Any]:
    focal = chance.choice([24.0, 35.0, 50.0, 85.0, 200.0])
    electronic = {
        "protocol": chance.choice(["old", "new"]),
        "offers": [name for name in _FUNCTIONS if chance.random() < 0.8],
        "focus": chance.choice(["motor", "by_wire"]),
        "aperture": "electronic",
        "iris_at_rest": chance.choice(["open", "closed", "stays"]),
    }
    return {
        "id": f"l{number}",
        "name": f"Lens {number}",
        "mount": mount["id"],
        "focal_length_mm": [focal, focal * (2.0 if chance.random() < 0.2 else 1.0)],
        "f_number": [chance.choice([1.4, 2.0, 2.8, 4.0]), 16.0],
        "owned": int(chance.random() < 0.7),
        **_generation(chance, mount),
        **(electronic if chance.random() < 0.3 else _maybe(chance, 0.4, aperture=chance.choice(["lever", "pin"]))),
        **_maybe(
            chance,
            0.6,
            min_focus_m=round(focal * chance.uniform(0.008, 0.02), 2),
            image_circle_mm=chance.choice([28.0, 32.0, 43.5, 46.0]),
            rear_protrusion_mm=round(chance.uniform(0, 22), 1),
            rear_diameter_mm=round(chance.uniform(25, 50), 1),
            exit_pupil_mm=round(chance.uniform(45, 120), 1),
            length_mm=round(chance.uniform(30, 160), 1),
            mass_g=round(chance.uniform(150, 2500)),
            centre_of_mass_mm=round(chance.uniform(10, 120), 1),
        ),
    }


def _body(chance: Random, mount: dict[str, Any], number: int) -> dict[str, Any]:
    width = chance.choice([36.0, 23.5, 17.3])
    return {
        "id": f"b{number}",
        "name": f"Body {number}",
        "mount": mount["id"],
        "sensor_mm": [width, round(width / 1.5, 1)],
        "owned": int(chance.random() < 0.7),
        "exposure_modes": ["A", "M"],
        **_generation(chance, mount),
        **_maybe(
            chance,
            0.5,
            protocols=[chance.choice(["old", "new"])],
            obstruction_mm=round(chance.uniform(5, 30), 1),
            megapixels=24.0,
            max_ray_angle_deg=30.0,
            stabiliser={"travel_mm": 2.0, "stops": 4},
            modes=[{"name": "small", "sensor_mm": [15.0, 10.0]}],
        ),
    }


def _ring(chance: Random, mounts: list[dict[str, Any]], number: int) -> dict[str, Any]:
    front, rear = chance.sample(mounts, 2)
    long, short = (40.0 if one["register_mm"] is None else one["register_mm"] for one in (front, rear))
    gap = long - short
    talks = {"link": "pass", "carries": {"autofocus": chance.choice(["slow", "full"])}}
    glass = {
        "optics": "reducer",
        "magnification": 0.7,
        "register_in_mm": long,
        "register_out_mm": short,
        **_maybe(chance, 0.5, front_glass_mm=3.0, image_circle_mm=40.0),
    }
    slot = {"kind": "variable", "range_stops": [1, 6]}
    return {
        "id": f"r{number}",
        "name": f"Ring {number}",
        "lens_mount": front["id"],
        "body_mount": rear["id"],
        "length_mm": round(max(0.5, gap + chance.choice([0.0, 0.0, -0.03, 0.05, 3.0])), 2),
        "owned": int(chance.random() < 0.4),
        **(talks if chance.random() < 0.3 else {}),
        **(glass if chance.random() < 0.15 else {}),
        **_maybe(
            chance,
            0.3,
            aperture_control=chance.choice(["lever_ring", "pin_press", "iris"]),
            filter_slot=slot,
            helicoid_mm=6.0,
            locking=True,
            passes_screw=True,
        ),
        **_maybe(
            chance,
            0.6,
            tolerance_mm=round(chance.uniform(0.01, 0.08), 2),
            bore_mm=round(chance.uniform(30, 52), 1),
            mass_g=round(chance.uniform(60, 300)),
            load_rating_nm=round(chance.uniform(0.2, 6), 2),
            play_mm=0.04,
            price=float(chance.randrange(10, 400)),
        ),
    }
