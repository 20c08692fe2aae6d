"""What is usual for a mount: values to begin with, taken from what the collection knows, and why."""

from __future__ import annotations

import statistics
from collections import Counter
from collections.abc import Sequence
from typing import Final

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.items import Item
from tropeion.core.gear.kinds import JoinedKind
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.usual import taken_for
from tropeion.core.gear.world import World
from tropeion.core.optics.register import room_mm

_CATEGORIES: Final[dict[str, tuple[str, ...]]] = {
    "lenses": ("focus", "aperture", "iris_at_rest", "protocol", "offers"),
    "bodies": ("kind", "protocols", "exposure_modes", "bare_release", "asks_focal_length", "focus_aids"),
    "adapters": ("link", "aperture_control"),
}
_NUMBERS: Final[dict[str, tuple[str, ...]]] = {
    "lenses": ("image_circle_mm", "diameter_mm", "rear_protrusion_mm", "rear_diameter_mm"),
    "bodies": ("obstruction_mm",),
    "adapters": ("tolerance_mm", "bore_mm", "outer_mm", "play_mm"),
}


@frozen
class UsualValue:
    """A field's usual value as a gear file writes it, and where it comes from."""

    field: str
    value: str | float | bool | tuple[str, ...] | tuple[float, float]
    why: str


@frozen
class Usual:
    """Usual values; none where nothing is known. ``sure`` ones follow from the mounts, the others are assumed."""

    sure: tuple[UsualValue, ...]
    assumed: tuple[UsualValue, ...]


def usual_values(world: World, kind: JoinedKind, mount_id: str, body_mount_id: str | None = None) -> Usual:
    """What lenses or bodies of a mount usually have, or adapters between two. Raises UnknownIdError."""
    mount = world.mount(mount_id)
    if kind == "adapters":
        return _of_adapters(world, mount, world.mount(body_mount_id) if body_mount_id else None)
    pieces: Sequence[Lens | Body] = world.gear.mounted if kind == "lenses" else world.gear.bodies
    alike = [piece for piece in pieces if piece.mount == mount_id and not piece.retired]
    why = f"of {len(alike)} on {mount.name}"
    if not alike and kind == "lenses":
        alike = [piece for piece in pieces if world.mount_of(piece).lens_kind_or_usual == mount.lens_kind_or_usual]
        why = f"of {len(alike)} {mount.lens_kind_or_usual} lenses"
    alike = [taken_for(world, piece) if isinstance(piece, Lens) else piece for piece in alike]
    sure: list[UsualValue] = []
    if len(mount.generations) == 1:
        sure.append(UsualValue("generation", mount.generations[0].id, f"{mount.name} has one generation"))
    assumed = [*_commonest(kind, alike, why), *_middles(kind, alike, why)]
    if stops := [item.f_number for item in alike if isinstance(item, Lens)]:
        middle = (statistics.median_low(stop[0] for stop in stops), statistics.median_low(stop[1] for stop in stops))
        assumed.append(UsualValue("f_number", middle, f"middle {why}"))
    if sizes := Counter(item.sensor_mm for item in alike if isinstance(item, Body)):
        assumed.append(UsualValue("sensor_mm", sizes.most_common(1)[0][0], f"commonest {why}"))
    return Usual(tuple(sure), tuple(assumed))


def _of_adapters(world: World, front: Mount, rear: Mount | None) -> Usual:
    if rear is None:
        return Usual((), ())
    alike = [
        adapter for adapter in world.gear.adapters if {adapter.lens_mount, adapter.body_mount} == {front.id, rear.id}
    ]
    why = f"of {len(alike)} between {front.name} and {rear.name}"
    if not alike:
        alike = list(world.gear.adapters)
        why = f"of {len(alike)} adapters"
    sure = []
    gap = room_mm(front, rear)
    if gap is not None and gap > 0:
        sure.append(
            UsualValue("length_mm", round(gap, 2), f"what a plain ring from {front.name} to {rear.name} measures")
        )
    assumed = [*_commonest("adapters", alike, why), *_middles("adapters", alike, why)]
    return Usual(tuple(sure), tuple(assumed))


def _commonest(kind: str, alike: Sequence[Item], why: str) -> list[UsualValue]:
    all_usual_values = []
    for field in _CATEGORIES[kind]:
        values = Counter(getattr(item, field) for item in alike)
        if values:
            value, count = values.most_common(1)[0]
            if value not in (None, ()) and count * 2 > len(alike):
                all_usual_values.append(UsualValue(field, value, f"commonest {why}"))
    # A translator's or a chip's link wants more than one value: it is never assumed.
    return [
        usual_value
        for usual_value in all_usual_values
        if not (usual_value.field == "link" and usual_value.value in {"translate", "chip"})
    ]


def _middles(kind: str, alike: Sequence[Item], why: str) -> list[UsualValue]:
    """Medians over plain adapters alone: those with glass are built differently."""
    plain = [item for item in alike if not (isinstance(item, Adapter) and item.has_glass)]
    middles = []
    for field in _NUMBERS[kind]:
        values = [value for item in plain if (value := getattr(item, field)) is not None]
        if values:
            middles.append(UsualValue(field, statistics.median_low(values), f"middle {why}"))
    return middles
