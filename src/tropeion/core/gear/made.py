"""What is made for one rig: spacers between two seats, and what holds a lens without a mount in one.

``spacer..MOUNT..MM`` is a stack of spacers that goes between two seats of a mount.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from tropeion.core.working import tidy

from .adapters import Adapter
from .lenses import Lens
from .mounts import Mount

__all__ = ["Adapters", "Held", "Sleeve", "held_in", "is_made", "made_of", "spacer_id", "thread_of"]

_SPACER, _BETWEEN = "spacer", ".."
# A jacket about a barrel: so much clearance in all, and a wall that holds.
SLEEVE_CLEARANCE_MM, SLEEVE_WALL_MM = 0.1, 1.5


@dataclass(frozen=True, slots=True)
class Sleeve:
    """A jacket that makes a plain barrel fit a thread: its bore, and how thick its wall may be, in mm."""

    into: str
    bore_mm: float
    wall_mm: float


@dataclass(frozen=True, slots=True)
class Held:
    """How a lens without a mount is held in one: by its own thread, or by a sleeve about its barrel."""

    sleeve: Sleeve | None = None

    def says(self, lens: Lens, mount: Mount, into: str, forward_mm: float = 0.0) -> str:
        """How it is put together; ``into`` names the piece that takes it."""
        if self.sleeve is None:
            return f"Screw {lens.name} into {into} by hand, to its stop; never force it."
        where = "its shoulder against the shoulder"
        if forward_mm > 0:
            where = f"{forward_mm:.2f} mm forward of its shoulder, the barrel reaching in"
        return (
            f"Slide the sleeve (bore {self.sleeve.bore_mm:.1f} mm, thread {thread_of(mount)}) over the barrel of"
            f" {lens.name}, {where}; clamp it with three nylon screws, no glue. Screw it into {into}, to its stop."
        )


def held_in(lens: Lens, mount: Mount) -> Held | None:
    """How a lens without a mount can be held in this one; None where it cannot."""
    if lens.mount is not None or mount.thread is None:
        return None
    if lens.rear_thread == mount.thread:
        return Held()
    if lens.barrel_mm is None:
        return None
    bore = lens.barrel_mm + SLEEVE_CLEARANCE_MM
    wall = (mount.thread.diameter_mm - bore) / 2
    return Held(Sleeve(mount.id, tidy(bore), tidy(wall))) if wall >= SLEEVE_WALL_MM else None


def thread_of(mount: Mount) -> str:
    """A thread as it is written, or the mount's name."""
    return mount.name if mount.thread is None else f"{mount.thread.diameter_mm:g} × {mount.thread.pitch_mm:g}"


def spacer_id(mount: str, length_mm: float) -> str:
    """The id of spacers between two seats of a mount, by ten thousandths of a millimetre."""
    return _BETWEEN.join((_SPACER, mount, f"{round(length_mm, 4):g}"))


def is_made(id_: str) -> bool:
    """Whether an id tells of spacers, and of nothing that is in a collection."""
    return _spacer_in(id_) is not None


def made_of(id_: str) -> str | None:
    """The mount that spacers go between; None for an id like any other."""
    told = _spacer_in(id_)
    return None if told is None else told[0]


def _spacer_in(id_: str) -> tuple[str, float] | None:
    match id_.split(_BETWEEN):
        case [kind, mount, length] if kind == _SPACER and mount:
            try:
                mm = float(length)
            except ValueError:
                return None
            return (mount, mm) if 0 < mm <= 200 else None
    return None


class Adapters(dict[str, Adapter]):
    """Adapters by id, and spacers by theirs; only what is in the collection is listed."""

    def __init__(self, items: Sequence[Adapter], mounts: Mapping[str, Mount]) -> None:
        super().__init__({item.id: item for item in items})
        self._mounts = mounts

    def __missing__(self, id_: str) -> Adapter:
        told = _spacer_in(id_)
        if told is None or told[0] not in self._mounts:
            raise KeyError(id_)
        mount, length = told
        # Made at the bench, so there is nothing to buy; what nobody said of them is usual.
        spacers = Adapter(
            id="spacers", name=f"Spacers {length:.2f} mm", lens_mount=mount, body_mount=mount, length_mm=length, owned=1
        )
        return spacers.model_copy(update={"id": id_})

    def __contains__(self, id_: object) -> bool:
        return super().__contains__(id_) or (isinstance(id_, str) and self.get(id_) is not None)

    def get(self, id_: str, default: Adapter | None = None) -> Adapter | None:  # type: ignore[override]
        try:
            return self[id_]
        except KeyError:
            return default
