"""A rig: what is put together, by ids. One form in which it is written, one reader of it."""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core.frozen import frozen

from .changed import told_of
from .kinds import PieceKind
from .made import is_made

_ACCESSORIES, _SEAT, _SETTING = "+", "@", "="


@frozen
class Rig:
    """A lens on a body through adapters (from the lens to the body), with what is put on besides.

    ``seat`` is the position of a mount that takes a lens in several, from 1; ``setting_mm`` the mark that a zoom stands
    at. None: not said.
    """

    lens: str
    body: str
    adapters: tuple[str, ...] = ()
    accessories: tuple[str, ...] = ()
    seat: int | None = None
    setting_mm: float | None = None

    @classmethod
    def of(
        cls,
        lens: str,
        body: str,
        adapters: Sequence[str] = (),
        accessories: Sequence[str] = (),
        *,
        seat: int | None = None,
        setting_mm: float | None = None,
    ) -> Rig:
        """The rig of these, in whatever sequence they come."""
        return cls(lens, body, tuple(adapters), tuple(accessories), seat, setting_mm)

    @property
    def id(self) -> str:
        """Lens, body and adapters, and what is said besides: ``LENS BODY A,B +X,Y @2 =35``."""
        said = [self.lens, self.body, ",".join(self.adapters)]
        if self.accessories:
            said.append(_ACCESSORIES + ",".join(self.accessories))
        if self.seat is not None:
            said.append(f"{_SEAT}{self.seat}")
        if self.setting_mm is not None:
            said.append(f"{_SETTING}{self.setting_mm:g}")
        return " ".join(said)

    @classmethod
    def read(cls, text: str) -> Rig:
        """The rig that has this id. Raises ValueError for what is none."""
        parts = text.split(" ")
        if len(parts) < 3 or not parts[0] or not parts[1]:
            raise ValueError(f"'{text}' names no rig: a lens, a body and adapters are wanted, apart by blanks")
        lens, body, adapters, *rest = parts
        accessories: tuple[str, ...] = ()
        seat: int | None = None
        setting: float | None = None
        for name in rest:
            match name[:1]:
                case "+":
                    accessories = ids_in(name[1:])
                case "@":
                    seat = int(name[1:])
                case "=":
                    setting = float(name[1:])
                case _:
                    raise ValueError(f"'{text}' names no rig: '{name}' is neither +accessories, @seat nor =setting")
        return cls(lens, body, ids_in(adapters), accessories, seat, setting)

    @property
    def bare(self) -> Rig:
        """Lens, body and adapters alone: what is measured, seen and entered belongs to these."""
        return Rig(self.lens, self.body, self.adapters)

    @property
    def items(self) -> tuple[tuple[PieceKind, str], ...]:
        """The items of a collection that it is made of, each once; of one with its mount changed the item itself."""
        all_items: list[tuple[PieceKind, str]] = [("lenses", told_of(self.lens)), ("bodies", told_of(self.body))]
        all_items += [("adapters", id_) for id_ in self.adapters if not is_made(id_)]
        all_items += [("accessories", id_) for id_ in self.accessories]
        return tuple(dict.fromkeys(all_items))


def ids_in(text: str) -> tuple[str, ...]:
    """Ids that are joined by commas."""
    return tuple(part for name in text.split(",") if (part := name.strip()))
