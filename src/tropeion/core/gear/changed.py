"""A lens or a body with another of its reversible mounts: an item of its own, by an id that tells of the change.

``plate..BODY..MOUNT`` and ``mount..LENS..MOUNT``; a lens was written with ``plate`` once, and is read so still. A lens
without a mount takes any that holds it; ``mount..LENS..MOUNT..MM`` holds its barrel so far forward of its shoulder.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final, TypeVar, cast

from tropeion.core.frozen import frozen

from .bodies import Body
from .items import SwappableMount
from .lenses import Lens
from .made import held_in
from .mounts import Mount

C = TypeVar("C", bound=Lens | Body)
_BODY, _LENS, _BETWEEN = "plate", "mount", ".."
# In mm before the old seat, and before the new one after the change.
_COUNTED_FORWARD: Final = ("length_mm", "centre_of_mass_mm", "foot_mm")


@frozen
class MountChanged:
    """What such an id tells: of which item, to which mount."""

    kind: str
    item: str
    mount: str
    forward_mm: float = 0.0


def change_in(id_: str) -> MountChanged | None:
    """What an id tells of a changed mount; None for an id like any other."""
    if _BETWEEN not in id_:
        return None
    match id_.split(_BETWEEN):
        case [kind, item, mount] if kind in {_BODY, _LENS} and item and mount:
            return MountChanged(kind, item, mount)
        case [kind, item, mount, forward] if kind == _LENS and item and mount:
            try:
                mm = float(forward)
            except ValueError:
                return None
            return MountChanged(kind, item, mount, mm) if 0 < mm <= 200 else None
    return None


def changed_id(item: Lens | Body, mount: str, forward_mm: float = 0.0) -> str:
    """The id of an item with its mount or plate changed; a barrel may be held forward of its shoulder."""
    told = [_LENS if isinstance(item, Lens) else _BODY, item.id, mount]
    return _BETWEEN.join([*told, f"{round(forward_mm, 4):g}"] if forward_mm > 0 else told)


def told_of(id_: str) -> str:
    """The id of the item that an id tells of: its own, unless it tells of a changed mount."""
    told = change_in(id_)
    return id_ if told is None else told.item


def is_changed(item: Lens | Body) -> bool:
    """Whether an id tells of a changed mount: what the maker ensured on the original one is not ensured."""
    return change_in(item.id) is not None


def part_of(item: Lens | Body) -> str:
    """What is changed, in a word."""
    return "mount" if isinstance(item, Lens) else "plate"


def swap_of(item: Lens | Body | None, change: MountChanged, mounts: Mapping[str, Mount]) -> SwappableMount | None:
    """The change that an item allows; None where it has no such mount, or is of the other kind."""
    if item is None or (change.kind == _LENS and isinstance(item, Body)):
        return None
    if isinstance(item, Lens) and item.mount is None:
        new = mounts.get(change.mount)
        held = None if new is None else held_in(item, new)
        # A thread has one place; a barrel can be held anywhere along itself.
        held = None if held is not None and held.sleeve is None and change.forward_mm else held
        return None if held is None else SwappableMount(mount=change.mount)
    if change.forward_mm:
        return None
    return next((swap for swap in item.swappable_mounts if swap.mount == change.mount), None)


def swapped(item: C, change: MountChanged, mounts: Mapping[str, Mount]) -> C:
    """The item on its other mount.

    What was counted or measured from the old seat is counted from the new one, or is not known any more.
    """
    new = mounts[change.mount]
    if isinstance(item, Lens) and item.mount is None:
        return cast("C", item.model_copy(update=_held(item, new, change.forward_mm)))
    update: dict[str, object] = {
        "id": changed_id(item, change.mount),
        "name": f"{item.name[:90]}, {new.name[:20]} {part_of(item)}",
        "mount": new.id,
        "generation": None,
        "swappable_mounts": (),
        "measured_register_mm": None,
        "measured_tolerance_mm": None,
        "measured_on": None,
    }
    return cast("C", item.model_copy(update={**update, **_of_a_lens(item, new, mounts)}))


def _held(lens: Lens, mount: Mount, forward_mm: float) -> dict[str, object]:
    """A lens without a mount in one that holds it: its shoulder, or what stands before it, is its seat."""
    update: dict[str, object] = {
        "id": changed_id(lens, mount.id, forward_mm),
        "name": f"{lens.name[:90]} in {mount.name[:20]}",
        "mount": mount.id,
    }
    if forward_mm > 0:
        register, inside = lens.measured_register_mm, lens.rear_protrusion_mm
        update["measured_register_mm"] = None if register is None else round(register + forward_mm, 6)
        update["rear_protrusion_mm"] = None if inside is None else round(inside + forward_mm, 6)
        # What reaches in is the barrel itself.
        update["rear_diameter_mm"] = max(lens.rear_diameter_mm or 0.0, lens.barrel_mm or 0.0) or None
        for field in _COUNTED_FORWARD:
            stated: float | None = getattr(lens, field)
            update[field] = None if stated is None or stated <= forward_mm else round(stated - forward_mm, 6)
    return update


def _of_a_lens(item: Lens | Body, new: Mount, mounts: Mapping[str, Mount]) -> dict[str, object]:
    return {"features": None, "code": None, **_moved(item, new, mounts)} if isinstance(item, Lens) else {}


def _moved(lens: Lens, new: Mount, mounts: Mapping[str, Mount]) -> dict[str, float | None]:
    """Where the parts of a lens stand from its new seat: the picture stays where it was behind the glass."""
    old = None if lens.mount is None else lens.measured_register_mm or mounts[lens.mount].register_mm
    if old is None or new.register_mm is None:
        return dict.fromkeys((*_COUNTED_FORWARD, "rear_protrusion_mm"))
    back = round(new.register_mm - old, 6)
    values: dict[str, float | None] = {}
    for field in _COUNTED_FORWARD:
        stated: float | None = getattr(lens, field)
        # Behind the seat there is no such number.
        values[field] = None if stated is None or stated - back <= 0 else round(stated - back, 6)
    inside = lens.rear_protrusion_mm
    values["rear_protrusion_mm"] = None if inside is None else max(0.0, round(inside + back, 6))
    return values
