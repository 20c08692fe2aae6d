"""Every item of a kind as one row of its shelf, with its silhouette's measures."""

from __future__ import annotations

import math
from collections.abc import Sequence

from tropeion.core.frozen import frozen

from .accessories import Accessory, Foil, Pair
from .adapters import Adapter
from .bodies import Body
from .items import Evidence, Item, PieceItem
from .lenses import Lens
from .mounts import Mount, Protocol
from .world import World


@frozen
class Row:
    """One item on its shelf; measures are None where they are unknown.

    The silhouette is ``width_mm`` along the axis (a body's width, a mount's register) and ``height_mm`` across, with
    an opening of ``inner_mm``, a body's centred ``centre_x_mm`` from its left and ``centre_y_mm`` from its top.
    ``circle_mm`` is a lens's image circle, or a body's sensor diagonal; ``covers`` the largest known format inside.
    ``confirmed`` and ``contradicted`` count its evidence.
    """

    id: str
    name: str
    mount: str
    detail: str
    owned: int
    borrowed: int
    price: float | None
    mass_g: float | None
    retired: bool
    tags: tuple[str, ...]
    assumed: int
    measured: bool
    confirmed: int
    contradicted: int
    contacts: bool
    glass: bool
    width_mm: float | None
    height_mm: float | None
    inner_mm: float | None
    centre_x_mm: float | None
    centre_y_mm: float | None
    circle_mm: float | None
    covers: str | None


@frozen
class Format:
    """A sensor or gate size that the collection knows."""

    name: str
    diagonal_mm: float


def mounts_of(item: Item) -> tuple[str, ...]:
    match item:
        case Mount():
            return (item.id,)
        case Body() | Lens():
            return (item.mount,) if item.mount else ()
        case Adapter():
            return (item.lens_mount, item.body_mount)
        case _:
            return ()


def circle_of(item: Item) -> float | None:
    if isinstance(item, Body):
        return math.hypot(*item.sensor_mm)
    return item.image_circle_mm if isinstance(item, Lens | Adapter) else None


COVERS_HAIR_MM = 0.005


def _covers(item: Item, formats: Sequence[Format]) -> str | None:
    if isinstance(item, Body):
        return f"{item.sensor_mm[0]:g} × {item.sensor_mm[1]:g}"
    if not isinstance(item, Lens) or item.image_circle_mm is None:
        return None
    inside = [format_.name for format_ in formats if format_.diagonal_mm <= item.image_circle_mm + COVERS_HAIR_MM]
    return inside[-1] if inside else None


def row_of(world: World, item: Item, formats: Sequence[Format]) -> Row:
    piece = item if isinstance(item, PieceItem) else None
    evidence: Sequence[Evidence] = piece.evidence if piece else ()
    width, height, inner, centre = _silhouette(world, item)
    return Row(
        id=item.id,
        name=item.name,
        mount=" → ".join(world.mounts[mount].name for mount in mounts_of(item)) if piece else "",
        detail=_detail(item),
        owned=piece.owned if piece else item.count if isinstance(item, Foil) else 0,
        borrowed=piece.borrowed if piece else 0,
        price=piece.price if piece else None,
        mass_g=piece.mass_g if piece else None,
        retired=item.retired,
        tags=item.character if isinstance(item, Body | Lens) else (),
        assumed=len(item.assumed),
        measured=_measured(item),
        confirmed=sum(entry.verdict == "confirmed" for entry in evidence),
        contradicted=sum(entry.verdict == "contradicted" for entry in evidence),
        contacts=_contacts(item),
        glass=isinstance(item, Adapter) and item.has_glass,
        width_mm=width,
        height_mm=height,
        inner_mm=inner,
        centre_x_mm=centre[0] if centre else None,
        centre_y_mm=centre[1] if centre else None,
        circle_mm=circle_of(item),
        covers=_covers(item, formats),
    )


def _measured(item: Item) -> bool:
    match item:
        case Body() | Lens():
            return item.measured_register_mm is not None
        case Adapter():
            return item.measured_length_mm is not None
        case _:
            return False


def _contacts(item: Item) -> bool:
    match item:
        case Body():
            return bool(item.protocols)
        case Lens():
            return item.protocol is not None
        case Adapter():
            return item.link != "none"
        case Mount():
            return any(generation.protocol for generation in item.generations)
        case _:
            return True


def _range(ends: tuple[float, float]) -> str:
    return f"{ends[0]:g}" if ends[0] == ends[1] else f"{ends[0]:g}–{ends[1]:g}"


def _detail(item: Item) -> str:
    match item:
        case Mount():
            thread = f"{item.thread.diameter_mm:g} × {item.thread.pitch_mm:g}" if item.thread else ""
            return thread or item.coupling.replace("_", " ")
        case Body():
            return f"{item.sensor_mm[0]:g} × {item.sensor_mm[1]:g} mm"
        case Lens():
            return f"{_range(item.focal_length_mm)} mm f/{item.f_number[0]:g}"
        case Adapter():
            words = {"none": "", "reducer": "reducer", "expander": "expander", "correcting": "correcting glass"}
            glass = f"{words[item.optics]} {item.magnification:g}×" if item.has_glass else ""
            return " ".join(part for part in (f"{item.physical_length_mm:.2f} mm", glass) if part)
        case Accessory():
            clamps = f"clamps to {item.clamps_to_mm:g} mm" if item.clamps_to_mm else ""
            return ", ".join(part for part in (item.kind, clamps) if part)
        case Foil():
            return ", ".join(
                part for part in (f"{item.thickness_mm:g} mm", item.material, f"{item.count} left") if part
            )
        case Pair():
            said = {"works": "works", "with_part": "works with", "fixed": "works, but", "fails": "does not go"}
            return f"{said[item.verdict]}: {item.part}" if item.part else said[item.verdict].removesuffix(", but")
        case Protocol():
            return "powers " + (" and ".join(sorted(item.powered)) or "nothing")
        case _:
            return ""


Silhouette = tuple[float | None, float | None, float | None, tuple[float, float] | None]


def _silhouette(world: World, item: Item) -> Silhouette:
    match item:
        case Mount():
            return item.register_mm, item.outer_mm, item.throat_mm, None
        case Body():
            return item.width_mm, item.height_mm, world.mounts[item.mount].throat_mm, item.mount_centre_mm
        case Lens():
            return item.length_mm, item.diameter_mm, item.rear_diameter_mm, None
        case Adapter():
            return item.physical_length_mm, item.outer_mm, item.bore_mm, None
        case _:
            return None, None, None, None
