"""Adapt or buy native, lens by lens: none needed, an adapter, a native lens new or used; what each costs and loses."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from tropeion.core.findings import Grade, rank, works
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.rig.cautions import minded_in
from tropeion.core.rig.judgement import assess
from tropeion.core.rig.report import Route
from tropeion.core.rig.verdict import FUNCTION_NAMES
from tropeion.core.routes.match import match

from .alike import frames_alike

__all__ = ["Option", "OptionsFor", "options_for"]

Kind = Literal["none_needed", "adapter", "native_owned", "native_new", "native_used"]


@dataclass(frozen=True, slots=True)
class Option:
    """One way to have this lens's view on a body. A ``price`` of None is not known; 0 is nothing to pay."""

    kind: Kind
    lens: str
    name: str
    adapters: tuple[str, ...]
    grade: Grade
    price: float | None
    price_on: str | None
    loses: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class OptionsFor:
    """A lens on a body, and every option for it, those that cost least first."""

    lens: str
    lens_name: str
    body: str
    body_name: str
    options: tuple[Option, ...]


def options_for(world: World, lens_id: str, body_id: str, practice: Practice) -> OptionsFor:
    """What there is for one pair. Raises UnknownIdError."""
    lens, body = world.lens(lens_id), world.body(body_id)
    found = [*_adapted(world, lens, body, practice), *_native(world, lens, body, practice)]
    found.sort(key=lambda one: (one.price is None, one.price or 0.0, -rank(one.grade), one.name))
    return OptionsFor(lens.id, lens.name, body.id, body.name, tuple(found))


def _adapted(world: World, lens: Lens, body: Body, practice: Practice) -> Iterator[Option]:
    """Bare, what is at hand, the cheapest of each grade: whatever nothing as cheap beats in grade and speed."""
    if lens.mount is None:
        return
    routes = [one for one in match(world, lens.id, body.id, practice, detailed=False).routes if one.surely]
    able = [one for one in routes if works(one.grade)]
    best = (-1, False)
    able.sort(key=lambda one: (one.price is None, one.price or 0.0, -rank(one.grade), len(one.adapters)))
    for route in able:
        level = rank(route.grade), not route.slow
        if level > best:
            best = level
            yield _of_route(world, lens, route)


def _of_route(world: World, lens: Lens, route: Route) -> Option:
    names = " + ".join(world.adapters[id_].name for id_ in route.adapters) or "no adapter"
    dates = [world.adapters[id_].price_on for id_ in route.adapters if not world.adapters[id_].at_hand]
    costs = [one for one in route.findings if one.grade_cap is not None and rank(one.grade_cap) < rank("full")]
    loses = tuple(dict.fromkeys(one.gives_up or one.text for one in costs))
    loses = (*loses, *(f"{FUNCTION_NAMES[name]}, slow" for name in route.slow), *(one.text for one in minded_in(route)))
    return Option(
        kind="adapter" if route.adapters else "none_needed",
        lens=lens.id,
        name=names,
        adapters=route.adapters,
        grade=route.grade,
        price=route.price,
        price_on=min((one for one in dates if one), default=None),
        loses=loses,
    )


def _native(world: World, lens: Lens, body: Body, practice: Practice) -> Iterator[Option]:
    """Lenses of the body's own mount that frame nearly alike."""
    for other in world.gear.mounted:
        if other.id == lens.id or other.retired or world.mount_of(other) is not world.mount_of(body):
            continue
        if not frames_alike(lens, other):
            continue
        judged = assess(world, other, (), body, practice)
        if not works(judged.grade) or judged.unsure:
            continue
        loses = tuple(_loses(lens, other))
        if other.at_hand:
            yield Option("native_owned", other.id, other.name, (), judged.grade, 0.0, None, loses)
            continue
        prices: list[tuple[Kind, float | None]] = [("native_new", other.price)]
        if other.price_used is not None:
            prices.append(("native_used", other.price_used))
        for kind, price in prices:
            yield Option(kind, other.id, other.name, (), judged.grade, price, other.price_on, loses)


def _loses(lens: Lens, other: Lens) -> Iterator[str]:
    """What the native lens does not have of the one that is adapted."""
    stops = 2 * math.log2(other.f_number[0] / lens.f_number[0])
    if stops > 0.15:
        yield f"{stops:.1f} stops slower"
    (short, long), (near, far) = lens.focal_length_mm, other.focal_length_mm
    if near > short * 1.005:
        yield f"begins at {near:g} mm, not {short:g}"
    if far < long / 1.005:
        yield f"ends at {far:g} mm, not {long:g}"
    if other.min_focus_m is None:
        yield "how near it focuses is not known"
    elif lens.min_focus_m is not None and other.min_focus_m > lens.min_focus_m * 1.05:
        yield f"focuses from {other.min_focus_m:g} m, not {lens.min_focus_m:g}"
    if lens.shift_mm > other.shift_mm:
        yield "no shift" if not other.shift_mm else "less shift"
    if lens.squeeze > other.squeeze:
        yield "no squeeze"
    gone = [word for word in lens.character if word not in other.character]
    if gone:
        yield "its character: " + ", ".join(gone)
