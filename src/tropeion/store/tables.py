"""One table for each kind: id, references and what is searched as columns, the rest as one validated document."""

from __future__ import annotations

from typing import Final

from sqlalchemy import ForeignKey, Index, Integer, String, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

from tropeion.core.gear.kinds import KINDS, Kind

__all__ = [
    "DOCUMENTED",
    "TABLES",
    "ActionRow",
    "AdapterRow",
    "Base",
    "BodyRow",
    "JournalRow",
    "LensRow",
    "MetaRow",
    "MountRow",
    "RigRow",
    "Row",
]


class Base(DeclarativeBase):
    """The schema; migrations are held against it by a test."""


class _Documented:
    """``position`` keeps the order of the file; ``version`` counts the changes of one item."""

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    position: Mapped[int] = mapped_column(Integer)
    name: Mapped[str] = mapped_column(String(120))
    version: Mapped[int] = mapped_column(Integer, default=1)
    document: Mapped[str] = mapped_column(Text)


class ProtocolRow(_Documented, Base):
    __tablename__ = "protocol"


class MountRow(_Documented, Base):
    __tablename__ = "mount"
    interface: Mapped[str] = mapped_column(String(64))


class BodyRow(_Documented, Base):
    __tablename__ = "body"
    mount_id: Mapped[str] = mapped_column(ForeignKey("mount.id"), index=True)


class LensRow(_Documented, Base):
    __tablename__ = "lens"
    mount_id: Mapped[str] = mapped_column(ForeignKey("mount.id"), index=True)
    protocol_id: Mapped[str | None] = mapped_column(ForeignKey("protocol.id"))


class AdapterRow(_Documented, Base):
    __tablename__ = "adapter"
    lens_mount_id: Mapped[str] = mapped_column(ForeignKey("mount.id"), index=True)
    body_mount_id: Mapped[str] = mapped_column(ForeignKey("mount.id"), index=True)


class RigRow(_Documented, Base):
    __tablename__ = "rig"
    lens_id: Mapped[str] = mapped_column(ForeignKey("lens.id"))
    body_id: Mapped[str] = mapped_column(ForeignKey("body.id"))


class ActionRow(Base):
    """What was done in one go. Undoing and doing again are actions too, which name the action they turn."""

    __tablename__ = "action"
    sequence: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=True)
    id: Mapped[str] = mapped_column(String(36), index=True, unique=True)
    at: Mapped[str] = mapped_column(String(32))
    title: Mapped[str] = mapped_column(String(200))
    undoes: Mapped[str | None] = mapped_column(String(36))
    redoes: Mapped[str | None] = mapped_column(String(36))


class JournalRow(Base):
    """Every change: the document before and after, and when. One ``action`` may hold many.

    ``position`` is the place of an item that was removed.
    """

    __tablename__ = "journal"
    __table_args__ = (Index("ix_journal_item", "kind", "item_id"),)
    sequence: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=True)
    action: Mapped[str] = mapped_column(String(36), index=True)
    at: Mapped[str] = mapped_column(String(32))
    kind: Mapped[str] = mapped_column(String(16))
    item_id: Mapped[str] = mapped_column(String(64))
    version: Mapped[int] = mapped_column(Integer)
    before: Mapped[str | None] = mapped_column(Text)
    after: Mapped[str | None] = mapped_column(Text)
    position: Mapped[int | None] = mapped_column(Integer)


class MetaRow(Base):
    """Currency, revision of the collection, the practice of its owner."""

    __tablename__ = "meta"
    key: Mapped[str] = mapped_column(String(32), primary_key=True)
    value: Mapped[str] = mapped_column(Text)


Row = ProtocolRow | MountRow | BodyRow | LensRow | AdapterRow | RigRow
TABLES: Final[dict[Kind, type[Row]]] = dict(
    zip(KINDS, (ProtocolRow, MountRow, BodyRow, LensRow, AdapterRow, RigRow), strict=True)
)
# The columns that every kind has.
DOCUMENTED: Final = frozenset({"id", "position", "name", "version", "document"})
