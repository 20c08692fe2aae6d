"""A made-up market: many systems, many adapters. All names are numbers."""

from __future__ import annotations

import random

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount, Protocol

__all__ = ["market"]


def market(*, systems: int = 60, adapters: int = 1000, lenses: int = 300, bodies: int = 30, seed: int = 46) -> Gear:
    """A collection in which every adapter's length fits its two registers, give or take its tolerance."""
    dice = random.Random(seed)
    registers = [round(dice.uniform(15, 75), 2) for _ in range(systems)]
    mounts = tuple(
        Mount(
            id=f"m{n}",
            name=f"System {n}",
            interface=f"i{n}",
            coupling="bayonet",
            register_mm=registers[n],
            tolerance_mm=0.02,
            throat_mm=48.0,
            lens_kind="reflex",
            load_rating_nm=2.0,
            play_mm=0.02,
        )
        for n in range(systems)
    )
    protocols = tuple(Protocol(id=f"p{n}", name=f"Link {n}", powers=("iris", "focus")) for n in range(6))
    rings: list[Adapter] = []
    while len(rings) < adapters:
        front, rear = dice.sample(range(systems), 2)
        gap = registers[front] - registers[rear]
        number = len(rings)
        glass = dice.random() < 0.06
        if gap < 0.5 and not glass:
            continue
        tolerance = dice.choice([0.01, 0.02, 0.03, 0.05])
        active = dice.random() < 0.15
        link = {"link": "translate", "from_protocol": f"p{front % 6}", "to_protocol": f"p{rear % 6}"} if active else {}
        optics = (
            {
                "optics": "reducer",
                "magnification": 0.72,
                "register_in_mm": registers[front],
                "register_out_mm": registers[rear],
                "front_glass_mm": 8.0,
            }
            if glass
            else {}
        )
        rings.append(
            Adapter.model_validate(
                {
                    "id": f"a{number}",
                    "name": f"Ring {number}",
                    "lens_mount": f"m{front}",
                    "body_mount": f"m{rear}",
                    "length_mm": round(max(0.5, gap) + (0 if glass else dice.gauss(0, 0.03)), 2),
                    "tolerance_mm": tolerance,
                    "price": float(dice.randint(9, 300)),
                    "mass_g": float(dice.randint(40, 300)),
                    "play_mm": dice.choice([0.0, 0.02, 0.05]),
                    "bore_mm": dice.choice([42.0, 44.0, 46.0]),
                    "owned": int(dice.random() < 0.03),
                    "carries": dict.fromkeys(("autofocus", "aperture", "identity"), "full") if active else {},
                    **link,
                    **optics,
                }
            )
        )
    glasses: list[Lens] = []
    for n in range(lenses):
        home = dice.randrange(systems)
        focal = float(dice.choice([20, 24, 28, 35, 50, 58, 85, 105, 135, 180, 200, 300]))
        widest = dice.choice([1.4, 1.8, 2.0, 2.8, 3.5, 4.0])
        electronic = dice.random() < 0.3
        spoken = (
            {
                "focus": "by_wire",
                "aperture": "electronic",
                "protocol": f"p{home % 6}",
                "offers": ("autofocus", "aperture", "identity"),
            }
            if electronic
            else {}
        )
        glasses.append(
            Lens.model_validate(
                {
                    "id": f"l{n}",
                    "name": f"Lens {n}",
                    "mount": f"m{home}",
                    "focal_length_mm": (focal, focal),
                    "f_number": (widest, 22.0),
                    "min_focus_m": round(focal * dice.uniform(8, 14) / 1000, 2),
                    "image_circle_mm": dice.choice([30.0, 43.6, 45.0, 80.0]),
                    "exit_pupil_mm": round(dice.uniform(40, 90), 1),
                    "rear_protrusion_mm": round(dice.uniform(0, 8), 1),
                    "mass_g": float(dice.randint(150, 1500)),
                    "centre_of_mass_mm": 30.0,
                    **spoken,
                }
            )
        )
    cameras: list[Body] = []
    for n in range(bodies):
        home = dice.randrange(systems)
        cameras.append(
            Body.model_validate(
                {
                    "id": f"b{n}",
                    "name": f"Body {n}",
                    "mount": f"m{home}",
                    "sensor_mm": dice.choice([(36.0, 24.0), (24.0, 16.0)]),
                    "megapixels": 24.0,
                    "protocols": (f"p{home % 6}",),
                    "exposure_modes": ("A", "M"),
                    "obstruction_mm": 5.0,
                }
            )
        )
    return Gear(
        format="tropeion-gear",
        version=1,
        protocols=protocols,
        mounts=mounts,
        bodies=tuple(cameras),
        lenses=tuple(glasses),
        adapters=tuple(rings),
    )
