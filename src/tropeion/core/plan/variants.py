"""The variants of one ring: plain, with a control ring, a filter, faster autofocus; what each adds for its price."""

from __future__ import annotations

from collections.abc import Iterator

from tropeion.core.findings import Grade, rank, works
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.world import World
from tropeion.core.joints.filters import slot_said
from tropeion.core.practice import Practice
from tropeion.core.rig.reporting import judge
from tropeion.core.rig.rig_report import Route


@frozen
class Variant:
    """One ring between a lens and a body. ``adds`` and ``lacks`` are against the simplest that works.

    ``more`` is what it costs beyond that one, None where a price is not known.
    """

    id: str
    name: str
    at_hand: int
    grade: Grade
    price: float | None
    price_used: float | None
    price_on: str | None
    more: float | None
    adds: tuple[str, ...]
    lacks: tuple[str, ...]


@frozen
class VariantsReport:
    """Every single ring for a pair that works, the simplest first."""

    lens: str
    body: str
    currency: str
    variants: tuple[Variant, ...]


def variants_of(world: World, lens_id: str, body_id: str, practice: Practice) -> VariantsReport:
    """Compare the rings of one pair. Raises UnknownIdError, MountlessError."""
    lens, body = world.lens(lens_id), world.body(body_id)
    joints = world.mount_of(lens).joint, world.mount_of(body).joint
    pairs = []
    for adapter in world.structure.adapters_by_joints.get(joints, ()):
        if not adapter.retired:
            route = judge(world, lens, (adapter,), body, practice)
            if works(route.grade) and route.surely:
                pairs.append((adapter, route))
    pairs.sort(key=lambda pair: (pair[0].price is None, pair[0].price or 0.0, -rank(pair[1].grade), pair[0].id))
    plain = next(
        (pair for pair in pairs if not set(_has(pair[0])) and not _levels(pair[1])), pairs[0] if pairs else None
    )
    has = {pair[0].id: tuple(_has(pair[0])) for pair in pairs}
    if plain is None:
        return VariantsReport(lens.id, body.id, world.gear.currency, ())
    base, speed = has[plain[0].id], _levels(plain[1])
    variants = []
    for adapter, route in [plain, *(pair for pair in pairs if pair is not plain)]:
        own = has[adapter.id]
        known = None not in (adapter.price, plain[0].price)
        variants.append(
            Variant(
                id=adapter.id,
                name=adapter.name,
                at_hand=adapter.at_hand,
                grade=route.grade,
                price=adapter.price,
                price_used=adapter.price_used,
                price_on=adapter.price_on,
                more=(adapter.price or 0.0) - (plain[0].price or 0.0) if known else None,
                adds=(*_better(_levels(route), speed), *(name for name in own if name not in base)),
                lacks=(*_better(speed, _levels(route)), *(name for name in base if name not in own)),
            )
        )
    return VariantsReport(lens.id, body.id, world.gear.currency, tuple(variants))


_FUNCTIONS = {
    "autofocus": "autofocus",
    "aperture": "aperture from the body",
    "identity": "lens data",
    "stabiliser": "the lens's stabiliser",
    "control_ring": "the lens's control ring",
}


def _levels(route: Route) -> dict[str, int]:
    """For each function that a ring may carry: 2 if it works in full, 1 if slowly."""
    left = () if route.details is None else route.details.functions
    return {
        function.function: _LEVELS[function.state]
        for function in left
        if function.function in _FUNCTIONS and function.state in _LEVELS
    }


_LEVELS = {"full": 2, "slow": 1}


def _better(one: dict[str, int], other: dict[str, int]) -> Iterator[str]:
    """The functions that work better in one than in the other."""
    for function, level in one.items():
        if level > other.get(function, 0):
            name = _FUNCTIONS[function]
            yield f"{name}, slow" if level == 1 else f"{name} at full speed" if other.get(function) == 1 else name


def _has(adapter: Adapter) -> Iterator[str]:
    """What a ring has beyond a plain tube."""
    if adapter.control_ring:
        yield "a control ring of its own"
    if adapter.aperture_control != "none":
        yield "an aperture ring"
    slot = adapter.filter_slot
    if slot is not None:
        yield f"a {slot_said(slot)}"
    if adapter.helicoid_mm:
        yield f"closer focus, {adapter.helicoid_mm:g} mm"
    if adapter.tilt_deg:
        yield f"tilt, {adapter.tilt_deg:g}°"
    if adapter.shift_mm:
        yield f"shift, {adapter.shift_mm:g} mm"
    if adapter.tripod_foot:
        yield "a foot of its own"
    if adapter.locking:
        yield "a lock"
    if adapter.chip is not None:
        yield "a chip: one fixed lens is told"
    if adapter.has_glass:
        yield f"glass, × {adapter.magnification:g}"
