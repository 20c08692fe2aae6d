"""What is in no collection and has an id all the same: spacers, and rings that are not listed.

``spacer..MOUNT..MM`` is a stack of spacers that goes between two seats of a mount. ``ring..MOUNT..MOUNT..MM`` is a ring
from a lens mount to a camera mount, and after that what it does besides: ``lever`` (a ring for the aperture lever),
``pin`` (presses the pin), ``opens..MM`` (a helicoid), ``pass`` or ``speaks..FROM..TO`` (contacts).
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from typing import Any, get_args

from tropeion.core.frozen import frozen
from tropeion.core.working import tidy

from .adapters import Adapter
from .field_types import Function
from .lenses import Lens
from .mounts import Mount

_SPACER, _RING, _BETWEEN = "spacer", "ring", ".."
# A jacket around a barrel: total clearance and wall thickness, in mm.
SLEEVE_CLEARANCE_MM, SLEEVE_WALL_MM = 0.1, 1.5


@frozen
class Sleeve:
    """A jacket that makes a plain barrel fit a thread: its bore, and how thick its wall may be, in mm."""

    into: str
    bore_mm: float
    wall_mm: float


@frozen
class HeldLens:
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


def held_in(lens: Lens, mount: Mount) -> HeldLens | None:
    """How a lens without a mount can be held in this one; None where it cannot."""
    if lens.mount is not None or mount.thread is None:
        return None
    if lens.rear_thread == mount.thread:
        return HeldLens()
    if lens.barrel_mm is None:
        return None
    bore = lens.barrel_mm + SLEEVE_CLEARANCE_MM
    wall = (mount.thread.diameter_mm - bore) / 2
    return HeldLens(Sleeve(mount.id, tidy(bore), tidy(wall))) if wall >= SLEEVE_WALL_MM else None


def thread_of(mount: Mount) -> str:
    """A thread as it is written, or the mount's name."""
    return mount.name if mount.thread is None else f"{mount.thread.diameter_mm:g} × {mount.thread.pitch_mm:g}"


def spacer_id(mount: str, length_mm: float) -> str:
    """The id of spacers between two seats of a mount, by ten thousandths of a millimetre."""
    return _BETWEEN.join((_SPACER, mount, _written(length_mm)))


def _written(length_mm: float) -> str:
    """A length by ten thousandths of a millimetre."""
    return f"{length_mm:.4f}".rstrip("0").rstrip(".")


def ring_id(ring: Adapter) -> str:
    """The id of a ring that is not listed: its ends, its length, and what it does besides."""
    does: list[str] = []
    if ring.aperture_control in _CONTROLS.values():
        does.append(next(word for word, control in _CONTROLS.items() if control == ring.aperture_control))
    if ring.helicoid_mm:
        does += ["opens", _written(ring.helicoid_mm)]
    if ring.link == "pass":
        does.append("pass")
    if ring.link == "translate" and ring.from_protocol and ring.to_protocol:
        does += ["speaks", ring.from_protocol, ring.to_protocol]
    return _BETWEEN.join((_RING, ring.lens_mount, ring.body_mount, _written(ring.length_mm), *does))


def is_spacer(id_: str) -> bool:
    """Whether an id tells of spacers."""
    return _spacer_in(id_) is not None


def is_unlisted(id_: str) -> bool:
    """Whether an id tells of a ring that is not listed."""
    return _ring_in(id_) is not None


def is_made(id_: str) -> bool:
    """Whether an id tells of spacers or of a ring that is not listed, and of nothing that is in a collection."""
    return is_spacer(id_) or is_unlisted(id_)


def mounts_of_made(id_: str) -> tuple[str, ...]:
    """The mounts that spacers or a ring that is not listed stand between; none for an id like any other."""
    spacer, ring = _spacer_in(id_), _ring_in(id_)
    return (spacer[0],) if spacer else (ring["lens_mount"], ring["body_mount"]) if ring else ()


_CONTROLS = {"lever": "lever_ring", "pin": "pin_press"}


def _ring_in(id_: str) -> dict[str, Any] | None:
    """The fields of a ring that is not listed, by its id."""
    match id_.split(_BETWEEN):
        case [kind, front, rear, length, *does] if kind == _RING and front and rear:
            try:
                values: dict[str, Any] = {"lens_mount": front, "body_mount": rear, "length_mm": float(length)}
                for name, value in _done(iter(does)):
                    values[name] = value
            except (ValueError, StopIteration):
                return None
            return values if 0 <= values["length_mm"] <= 500 else None
    return None


def _done(words: Iterator[str]) -> Iterator[tuple[str, Any]]:
    """What a ring does besides, field by field. Raises ValueError for what is not known."""
    for word in words:
        if word in _CONTROLS:
            yield "aperture_control", _CONTROLS[word]
        elif word == "opens":
            opens = float(next(words, ""))
            if not 0 < opens <= 500:
                raise ValueError(word)
            yield "helicoid_mm", opens
        elif word == "pass":
            yield "link", "pass"
        elif word == "speaks":
            yield "link", "translate"
            yield "from_protocol", next(words, "")
            yield "to_protocol", next(words, "")
            yield "carries", dict.fromkeys(get_args(Function), "full")
        else:
            raise ValueError(word)


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
    """Adapters by id, and spacers and rings that are not listed by theirs; only what is in the collection is listed."""

    def __init__(self, items: Sequence[Adapter], mounts: Mapping[str, Mount], protocols: Collection[str]) -> None:
        super().__init__({item.id: item for item in items})
        self._mounts, self._protocols = mounts, protocols

    def __missing__(self, id_: str) -> Adapter:
        adapter = self._spacers(id_) or self._ring(id_)
        if adapter is None:
            raise KeyError(id_)
        return adapter.model_copy(update={"id": id_})

    def _spacers(self, id_: str) -> Adapter | None:
        told = _spacer_in(id_)
        if told is None or told[0] not in self._mounts:
            return None
        mount, length = told
        # Made at the bench, so there is nothing to buy; what nobody said of them is usual.
        return Adapter(
            id="spacers", name=f"Spacers {length:.2f} mm", lens_mount=mount, body_mount=mount, length_mm=length, owned=1
        )

    def _ring(self, id_: str) -> Adapter | None:
        told = _ring_in(id_)
        if told is None or told["lens_mount"] not in self._mounts or told["body_mount"] not in self._mounts:
            return None
        if any(told[end] not in self._protocols for end in ("from_protocol", "to_protocol") if end in told):
            return None
        ends = [self._mounts[told[end]].name[:40] for end in ("lens_mount", "body_mount")]
        name = f"Ring {ends[0]}–{ends[1]}, {told['length_mm']:.2f} mm"
        # Nobody made it: it is as long as the gap wants it, which proves nothing.
        return Adapter.model_validate({**told, "id": "ring", "name": name, "length_from": "gap"})

    def __contains__(self, id_: object) -> bool:
        return super().__contains__(id_) or (isinstance(id_, str) and self.get(id_) is not None)

    def get(self, id_: str, default: Adapter | None = None) -> Adapter | None:  # type: ignore[override]
        try:
            return self[id_]
        except KeyError:
            return default
