"""What is taken of a field that is not stated: its usual value, or none. The judgement itself reads it here.

Lengths in mm. Where there is no usual value, the judgement says as a caution what it could not assess.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Final, Literal, TypeVar

from tropeion.core.findings import Code
from tropeion.core.frozen import frozen
from tropeion.core.keeping import kept

from .adapters import USUAL_TOLERANCE_MM as ADAPTER_TOLERANCE_MM
from .bodies import Body
from .lenses import Lens
from .mounts import USUAL_TOLERANCE_MM as MOUNT_TOLERANCE_MM

if TYPE_CHECKING:
    from .world import Systems, World

T = TypeVar("T", Lens, Body)

# Where the length of a lens is not stated: no lens is shorter than this.
SHORTEST_LENS_MM: Final = 18.0


@frozen
class UsualOfField:
    """The usual value of an optional field: what is taken (``rule`` says it where it depends), or what the lack costs.

    ``named``: the codes of the findings that name the field where no usual value exists.
    """

    kind: Literal["mounts", "lenses", "bodies", "adapters"]
    field: str
    value: object = None
    rule: str = ""
    named: tuple[Code, ...] = ()


USUAL: Final[tuple[UsualOfField, ...]] = (
    UsualOfField("mounts", "tolerance_mm", MOUNT_TOLERANCE_MM),
    UsualOfField("mounts", "interface", rule="its own id: nothing but itself goes onto it"),
    UsualOfField("mounts", "lens_kind", rule="mirrorless below 32 mm of register, else reflex: a mirror is in the way"),
    UsualOfField("mounts", "throat_mm", named=("not_assessed",)),
    UsualOfField("mounts", "load_rating_nm", named=("not_assessed",)),
    UsualOfField("lenses", "generation", rule="any of its mount's: the worst counts"),
    UsualOfField("lenses", "features", rule="its generation's, of any where the mount was transplanted or changed"),
    UsualOfField(
        "lenses",
        "protocol",
        rule="its generation's; none where that says none",
        named=("contacts_assumed", "contacts_unknown", "iris_without_power"),
    ),
    UsualOfField("lenses", "measured_register_mm", rule="its mount's, as nominal"),
    UsualOfField("lenses", "focus", rule="a ring; a motor where it offers autofocus, by wire on a mirrorless mount"),
    UsualOfField("lenses", "aperture", rule="a ring; electronic where it offers the aperture"),
    UsualOfField(
        "lenses", "image_circle_mm", rule="the largest sensor of its mount's bodies", named=("circle_unknown",)
    ),
    UsualOfField("lenses", "f_number_at_long_end", rule="as at the wide end"),
    UsualOfField(
        "lenses", "min_focus_m", rule="two hundredths of its focal length of travel", named=("focus_travel_unknown",)
    ),
    UsualOfField("lenses", "max_magnification", rule="by its closest focus, the lens moved as a whole"),
    UsualOfField("lenses", "length_mm", SHORTEST_LENS_MM, named=("focus_perhaps_inside",)),
    UsualOfField("lenses", "rear_protrusion_mm", named=("clearance_unknown", "not_assessed")),
    UsualOfField("lenses", "rear_diameter_mm", named=("not_assessed",)),
    UsualOfField("lenses", "exit_pupil_mm", named=("not_assessed",)),
    UsualOfField("lenses", "mass_g", named=("not_assessed",)),
    UsualOfField("lenses", "centre_of_mass_mm", named=("not_assessed",)),
    UsualOfField("bodies", "generation", rule="any of its mount's: the worst counts"),
    UsualOfField(
        "bodies",
        "protocols",
        rule="its generation's; none where that says none",
        named=("contacts_assumed", "contacts_unknown"),
    ),
    UsualOfField(
        "bodies",
        "obstruction_mm",
        rule="nothing before the sensor, but for a mirror",
        named=("clearance_unknown", "not_assessed"),
    ),
    UsualOfField("adapters", "measured_length_mm", rule="its length, as stated"),
    UsualOfField("adapters", "tolerance_mm", ADAPTER_TOLERANCE_MM),
    UsualOfField("adapters", "lens_side_features", rule="may have a feeler, in comparing rings"),
    UsualOfField("adapters", "bore_mm", named=("not_assessed",)),
    UsualOfField("adapters", "front_glass_mm", named=("clearance_unknown",)),
    UsualOfField("adapters", "mass_g", named=("not_assessed",)),
    UsualOfField("adapters", "load_rating_nm", rule="as the mounts of the joint are rated", named=("not_assessed",)),
)


def taken_for(world: World, lens: Lens) -> Lens:
    """The lens that a judgement takes it for: with its usual drives and protocol where it is not stated."""
    return _taken_lens(world, lens.id) if world.lenses.get(lens.id) is lens else taken_in(world.structure.systems, lens)


@kept(most=10_000)
def _taken_lens(world: World, lens_id: str) -> Lens:
    return taken_in(world.structure.systems, world.lenses[lens_id])


@kept(most=10_000)
def taken_in(systems: Systems, lens: Lens) -> Lens:
    """The same in any collection of these mounts."""
    update = {field: value for field, value in _drives(systems, lens) if value is not None}
    return lens.model_copy(update=update) if update else lens


def taken_body(world: World, body: Body) -> Body:
    """The body that a judgement takes it for: it speaks what its generation does, where it is not stated.

    Where nobody knows how far its seat is from the sensor, what stands before the sensor says nothing of the seat.
    """
    return _taken_body(world, body.id) if world.bodies.get(body.id) is body else _speaking_body(world, body)


@kept(most=10_000)
def _taken_body(world: World, body_id: str) -> Body:
    return _speaking_body(world, world.bodies[body_id])


def _speaking_body(world: World, body: Body) -> Body:
    update: dict[str, object] = {}
    spoken = _spoken_by(world.structure.systems, body)
    if spoken is not None and not body.protocols:
        update["protocols"] = (spoken,)
    if body.measured_register_mm is None and world.mount_of(body).register_mm is None:
        update["obstruction_mm"] = None
    return body.model_copy(update=update) if update else body


def _spoken_by(systems: Systems, item: Lens | Body) -> str | None:
    generation = systems.generations.get(item.generation or "")
    return None if generation is None else generation.protocol


def contacts_unknown(world: World, item: Lens | Body) -> bool:
    """Whether a piece may have contacts or not: nobody said it, nor of which generation it is, and others have some.

    Of a film body that says nothing none are expected.
    """
    spoken = item.protocol if isinstance(item, Lens) else item.protocols or item.kind == "film"
    if item.mount is None or spoken or item.generation is not None:
        return False
    return any(generation.protocol is not None for generation in world.mounts[item.mount].generations) or (
        isinstance(item, Body) and item.mount in _speaking(world)
    )


@kept(most=1)
def _speaking(world: World) -> frozenset[str]:
    """The mounts of which some lens has contacts."""
    return frozenset(lens.mount for lens in world.gear.lenses if lens.mount is not None and lens.protocol is not None)


def taken_of(world: World, lens: Lens) -> tuple[str, ...]:
    """The fields of a lens that are taken to be something else than the format's default."""
    return tuple(field for field, value in _drives(world.structure.systems, lens) if value not in {None, "ring"})


def _drives(systems: Systems, lens: Lens) -> tuple[tuple[str, str | None], ...]:
    mount = None if lens.mount is None else systems.mounts[lens.mount]
    by_wire = mount is not None and mount.lens_kind_or_usual == "mirrorless"
    focus = "ring" if "autofocus" not in lens.offers else "by_wire" if by_wire else "motor"
    aperture = "electronic" if "aperture" in lens.offers else "ring"
    protocol = _spoken_by(systems, lens)
    return (
        ("focus", None if lens.focus is not None else focus),
        ("aperture", None if lens.aperture is not None else aperture),
        ("protocol", None if lens.protocol is not None else protocol),
    )


def own_circle_mm(world: World, lens: Lens) -> float | None:
    """The lens's own image circle, as stated or usual; None where neither is known."""
    return usual_circle_mm(world, lens) if lens.image_circle_mm is None else lens.image_circle_mm


def usual_circle_mm(world: World, lens: Lens) -> float | None:
    """What a lens is taken to cover of which nobody said it; None where no body of its mount is listed."""
    return None if lens.mount is None else _circles(world).get(lens.mount)


def is_as_before(before: World, world: World, item: Lens | Body) -> bool:
    """Whether a lens or a body is what it was in another collection of the same mounts, and is taken for the same.

    What nobody stated of one is taken from what stands beside it: a circle from the bodies of its mount, contacts from
    its lenses.
    """
    known = before.lenses.get(item.id) if isinstance(item, Lens) else before.bodies.get(item.id)
    if known is not item and known != item:
        return False
    if isinstance(item, Lens):
        return own_circle_mm(before, item) == own_circle_mm(world, item)
    return contacts_unknown(before, item) == contacts_unknown(world, item)


# So few are asked one by one, before all of a collection are looked at.
_FEW: Final = 60


def those_as_before(before: World, world: World, items: Sequence[T]) -> list[T]:
    """Those of some lenses or bodies of which :func:`is_as_before` says so."""
    if len(items) < _FEW:
        return [item for item in items if is_as_before(before, world, item)]
    past, now = _circles(before), _circles(world)
    others = {mount for mount in past.keys() | now.keys() if past.get(mount) != now.get(mount)}
    others |= _speaking(before) ^ _speaking(world)
    same = _identities(before)
    return [
        item for item in items if (id(item) in same and item.mount not in others) or is_as_before(before, world, item)
    ]


@kept(most=1)
def _identities(world: World) -> frozenset[int]:
    """The lenses and bodies of a collection, which live as long as it does."""
    return frozenset(map(id, (*world.gear.lenses, *world.gear.bodies)))


@kept(most=1)
def _circles(world: World) -> Mapping[str, float]:
    """The diagonal of the largest sensor of each mount's bodies."""
    circles: dict[str, float] = {}
    for body in world.gear.bodies:
        circles[body.mount] = max(circles.get(body.mount, 0.0), round(math.hypot(*body.sensor_mm), 6))
    return circles
