"""The first things of one's own: a body, a lens, what joins them, from what a person can know.

A mount is its name and its flange focal distance; everything else about it, and about a lens whose engraving is all
that is known, is what is usual, and kept as assumed.
"""

from __future__ import annotations

from typing import TypeVar

from pydantic import ValidationError

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.items import Item
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, free_id
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.refusals import worded
from tropeion.core.gear.world import World
from tropeion.core.optics.register import room_mm

from .engraving import read_engraving


class UnreadableError(ValueError):
    """Something that was given cannot be made sense of: in which ``field``, and what would be right."""

    def __init__(self, field: str, text: str) -> None:
        self.field = field
        super().__init__(text)


M = TypeVar("M", bound=Item)
# Form fields whose name differs from the model's.
_ASKED = {"register_mm": "flange_mm", "focal_length_mm": "engraved", "f_number": "engraved", "t_number": "engraved"}


def _made(model: type[M], **fields: object) -> M:
    """An item of what was given; UnreadableError says which field it cannot be made of."""
    try:
        return model.model_validate(fields)
    except ValidationError as error:
        first = error.errors()[0]
        place = str(first["loc"][0]) if first["loc"] else "name"
        raise UnreadableError(_ASKED.get(place, place), worded(first)) from None


@frozen
class GivenMount:
    """A mount by its name; with its flange focal distance where the name is a new one.

    ``flange_unknown``: whoever was asked does not know it.
    """

    name: str
    flange_mm: float | None
    flange_unknown: bool = False


@frozen
class EnteredPiece:
    """What is to be kept, in order, the item itself last."""

    entries: tuple[tuple[Kind, Entry], ...]

    @property
    def item(self) -> Entry:
        return self.entries[-1][1]


def mount_given(world: World, given: GivenMount) -> tuple[str, tuple[tuple[Kind, Entry], ...]]:
    """The id of a known mount of that name or alias, or of a new one, which is to be kept too."""
    name = given.name.strip()
    for mount in world.gear.mounts:
        if name.casefold() in {known.casefold() for known in (mount.name, mount.id, *mount.aliases)}:
            return mount.id, ()
    if not name:
        raise UnreadableError("mount", "which mount: the name of the system, as on the box")
    if given.flange_mm is None and not given.flange_unknown:
        raise UnreadableError("flange_mm", f"{name} is new here: how far is its mount face from the sensor, in mm?")
    id_ = free_id(name, world.mounts)
    mount = _made(
        Mount, id=id_, name=name, coupling="bayonet", register_mm=given.flange_mm, assumed=("coupling", "tolerance_mm")
    )
    return id_, (("mounts", mount),)


def begin_body(world: World, name: str, mount: GivenMount, sensor_mm: tuple[float, float]) -> EnteredPiece:
    """A body that is owned. Raises UnreadableError where something is missing."""
    if not name.strip():
        raise UnreadableError("name", "what is it called?")
    mount_id, new = mount_given(world, mount)
    body = _made(
        Body,
        id=free_id(name, world.bodies),
        name=name.strip(),
        owned=1,
        mount=mount_id,
        sensor_mm=sensor_mm,
        assumed=("kind", *UNSTATED),
    )
    return EnteredPiece((*new, ("bodies", body)))


# Body fields that a beginner is not asked for; the card says to look at the body instead.
UNSTATED = ("bare_release", "exposure_modes", "stabiliser", "asks_focal_length", "focus_aids")
# The stops assumed of a lens whose engraving does not give them: widest and smallest.
_USUAL_STOPS = (2.8, 16.0)


def begin_lens(world: World, engraved: str, mount: GivenMount) -> EnteredPiece:
    """A lens that is owned, by what is engraved on it. Raises UnreadableError where no focal length can be read."""
    names = [mount.name, *(name for mount in world.gear.mounts for name in (mount.name, *mount.aliases))]
    read = read_engraving(engraved, sorted(filter(None, names), key=len, reverse=True))
    if read.focal_mm is None:
        raise UnreadableError("engraved", "no focal length in it; as engraved: “1:2.2/55”, “28-80 mm 1:3.5-4.5”")
    mount_id, new = mount_given(world, mount)
    stops = read.f_numbers
    zooms = read.focal_mm[0] != read.focal_mm[1]
    lens = new_lens(
        world,
        name=engraved,
        mount=mount_id,
        focal_mm=read.focal_mm,
        widest=None if stops is None else stops[0],
        at_long_end=stops[1] if stops is not None and zooms and stops[1] != stops[0] else None,
        t_number=read.t_number,
    )
    return EnteredPiece((*new, ("lenses", lens)))


def new_lens(
    world: World,
    *,
    name: str,
    mount: str,
    focal_mm: tuple[float, float],
    widest: float | None,
    at_long_end: float | None = None,
    smallest: float | None = None,
    min_focus_m: float | None = None,
    t_number: float | None = None,
    owned: bool = True,
) -> Lens:
    """A lens of what somebody said of it; what is not said is usual, and assumed. Raises UnreadableError."""
    fastest = _USUAL_STOPS[0] if widest is None else widest
    slowest = max(_USUAL_STOPS[1], fastest, at_long_end or 0.0) if smallest is None else smallest
    return _made(
        Lens,
        id=free_id(name, world.lenses),
        name=name.strip()[:120],
        owned=int(owned),
        mount=mount,
        focal_length_mm=focal_mm,
        f_number=(fastest, slowest),
        f_number_at_long_end=at_long_end,
        min_focus_m=min_focus_m,
        t_number=t_number,
        assumed=("focus", "aperture")
        if widest is not None and smallest is not None
        else ("f_number", "focus", "aperture"),
    )


def begin_ring(world: World, lens_id: str, body_id: str, length_mm: float | None) -> EnteredPiece:
    """A plain ring that is owned, between a lens and a body; as long as the room between them unless it was measured.

    Raises UnknownIdError, and UnreadableError where there is no room and no length was given.
    """
    front, rear = world.mount_of(world.lens(lens_id)), world.mount_of(world.body(body_id))
    room = room_mm(front, rear)
    if length_mm is None and room is None:
        raise UnreadableError("length_mm", "how far apart these two mounts are is not known: how long is your ring?")
    if length_mm is None and room is not None and room <= 0:
        raise UnreadableError("length_mm", "between these two there is no room for a ring: how long is yours?")
    name = f"Ring {front.name}–{rear.name}"
    ring = _made(
        Adapter,
        id=free_id(name, world.adapters),
        name=name[:120],
        owned=1,
        lens_mount=front.id,
        body_mount=rear.id,
        length_mm=room if length_mm is None else length_mm,
        length_from="gap" if length_mm is None else "stated",
        assumed=("tolerance_mm", "link") if length_mm is not None else ("length_mm", "tolerance_mm", "link"),
    )
    return EnteredPiece((("adapters", ring),))
