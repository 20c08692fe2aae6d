"""One table for each kind: id, references and what is searched as columns, the rest as one validated document."""

from __future__ import annotations

from typing import ClassVar, Final

from sqlalchemy import BigInteger, ForeignKey, Index, Integer, String, Text, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

from tropeion.core.gear.kinds import KINDS, Kind
from tropeion.core.records.bench_trial import BenchTrial
from tropeion.core.records.card import Card
from tropeion.core.records.corner_check import CornerCheck
from tropeion.core.records.log_entry import LogEntry
from tropeion.core.records.log_others import Assignment, CameraSigns, Clock, FilmRoll
from tropeion.core.records.measurement import PictureMeasurement
from tropeion.core.records.outing_record import Outing
from tropeion.core.records.plan_record import Plan
from tropeion.core.records.reading_series import ReadingSeries
from tropeion.core.records.record import Record, RecordKind
from tropeion.core.records.review import Review
from tropeion.core.records.stored_lens import StoredLens
from tropeion.core.records.trials import PieceLife, RigTrial


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


class BodyRow(_Documented, Base):
    __tablename__ = "body"
    mount_id: Mapped[str] = mapped_column(ForeignKey("mount.id"), index=True)


class LensRow(_Documented, Base):
    __tablename__ = "lens"
    mount_id: Mapped[str | None] = mapped_column(ForeignKey("mount.id"), index=True)
    protocol_id: Mapped[str | None] = mapped_column(ForeignKey("protocol.id"))


class AdapterRow(_Documented, Base):
    __tablename__ = "adapter"
    lens_mount_id: Mapped[str] = mapped_column(ForeignKey("mount.id"), index=True)
    body_mount_id: Mapped[str] = mapped_column(ForeignKey("mount.id"), index=True)


class AccessoryRow(_Documented, Base):
    __tablename__ = "accessory"


class FoilRow(_Documented, Base):
    __tablename__ = "foil"


class PairRow(_Documented, Base):
    __tablename__ = "pair"


class RigRow(_Documented, Base):
    __tablename__ = "rig"
    lens_id: Mapped[str] = mapped_column(ForeignKey("lens.id"))
    body_id: Mapped[str] = mapped_column(ForeignKey("body.id"))


class Recorded(Base):
    """A record of ``model``: its document, when it was begun, whether it was struck out. What is searched stands in
    columns of the fields' names."""

    __abstract__ = True
    model: ClassVar[type[Record]]

    id: Mapped[str] = mapped_column(String(36), primary_key=True)
    at: Mapped[str] = mapped_column(String(32))
    struck: Mapped[bool] = mapped_column(default=False)
    version: Mapped[int] = mapped_column(Integer, default=1)
    document: Mapped[str] = mapped_column(Text)


class CardRow(Recorded):
    __tablename__ = "card"
    model = Card
    __table_args__ = (UniqueConstraint("rig", "day", name="uq_card_rig_day"),)
    rig: Mapped[str] = mapped_column(String(600))
    day: Mapped[str] = mapped_column(String(10))


class StoredLensRow(Recorded):
    __tablename__ = "stored_lens"
    model = StoredLens
    __table_args__ = (UniqueConstraint("body", "number", name="uq_stored_lens_body_number"),)
    body: Mapped[str] = mapped_column(String(64))
    number: Mapped[int] = mapped_column(Integer)


class CornerCheckRow(Recorded):
    __tablename__ = "corner_check"
    model = CornerCheck
    rig: Mapped[str] = mapped_column(String(600), index=True)
    day: Mapped[str] = mapped_column(String(10))


class OutingRow(Recorded):
    __tablename__ = "outing"
    model = Outing
    name: Mapped[str] = mapped_column(String(120))


class ReadingSeriesRow(Recorded):
    __tablename__ = "reading_series"
    model = ReadingSeries
    __table_args__ = (Index("ix_reading_series_piece", "piece_kind", "piece", "quantity"),)
    piece_kind: Mapped[str] = mapped_column(String(16))
    piece: Mapped[str] = mapped_column(String(64))
    quantity: Mapped[str] = mapped_column(String(64))
    day: Mapped[str] = mapped_column(String(10))


class BenchTrialRow(Recorded):
    __tablename__ = "bench_trial"
    model = BenchTrial
    rig: Mapped[str] = mapped_column(String(600), index=True)
    day: Mapped[str] = mapped_column(String(10))


class PlanRow(Recorded):
    __tablename__ = "plan"
    model = Plan
    name: Mapped[str] = mapped_column(String(120))


class LogEntryRow(Recorded):
    __tablename__ = "log_entry"
    model = LogEntry
    __table_args__ = (Index("ix_log_entry_instant", "instant"), Index("ix_log_entry_body", "body", "instant"))
    body: Mapped[str] = mapped_column(String(150))
    instant: Mapped[int] = mapped_column(BigInteger)
    roll: Mapped[str | None] = mapped_column(String(120), index=True)


class AssignmentRow(Recorded):
    __tablename__ = "assignment"
    model = Assignment
    picture: Mapped[str] = mapped_column(String(600), index=True)


class ClockRow(Recorded):
    __tablename__ = "clock"
    model = Clock
    body: Mapped[str] = mapped_column(String(150), index=True)


class CameraSignsRow(Recorded):
    __tablename__ = "camera_signs"
    model = CameraSigns
    __table_args__ = (UniqueConstraint("signature", name="uq_camera_signs_signature"),)
    body: Mapped[str] = mapped_column(String(150))
    signature: Mapped[str] = mapped_column(String(620))


class FilmRollRow(Recorded):
    __tablename__ = "film_roll"
    model = FilmRoll
    __table_args__ = (UniqueConstraint("name", name="uq_film_roll_name"),)
    name: Mapped[str] = mapped_column(String(120))


class RigTrialRow(Recorded):
    __tablename__ = "trial"
    model = RigTrial
    lens: Mapped[str] = mapped_column(String(150), index=True)


class PieceLifeRow(Recorded):
    __tablename__ = "piece_event"
    model = PieceLife
    piece_id: Mapped[str] = mapped_column(String(150), index=True)
    on: Mapped[str] = mapped_column(String(10))


class ReviewRow(Recorded):
    __tablename__ = "review"
    model = Review
    skill: Mapped[str] = mapped_column(String(20), index=True)


class MeasurementRow(Recorded):
    __tablename__ = "measurement"
    model = PictureMeasurement
    rig: Mapped[str] = mapped_column(String(600), index=True)


class RecordItemRow(Base):
    """Which items a record is about. They may be gone: a record outlives them, so there is no foreign key to them."""

    __tablename__ = "record_item"
    __table_args__ = (Index("ix_record_item_item", "item_kind", "item_id"),)
    record: Mapped[str] = mapped_column(String(36), primary_key=True)
    item_kind: Mapped[str] = mapped_column(String(16), primary_key=True)
    item_id: Mapped[str] = mapped_column(String(64), primary_key=True)
    kind: Mapped[str] = mapped_column(String(16))


class ActionRow(Base):
    """What was done in one go. Undoing and doing again are actions too, which name the action they turn.

    ``undone``: whether it is taken back at present, null for what turns another; ``items``: how many it changed.
    """

    __tablename__ = "action"
    __table_args__ = (Index("ix_action_undone", "undone", "sequence"),)
    sequence: Mapped[int] = mapped_column(Integer, primary_key=True, autoincrement=True)
    id: Mapped[str] = mapped_column(String(36), index=True, unique=True)
    at: Mapped[str] = mapped_column(String(32))
    title: Mapped[str] = mapped_column(String(200))
    undoes: Mapped[str | None] = mapped_column(String(36))
    redoes: Mapped[str | None] = mapped_column(String(36))
    undone: Mapped[bool | None] = mapped_column()
    items: Mapped[int] = mapped_column(Integer, server_default="0")


class JournalRow(Base):
    """Every change: the document before and after, and when. One ``action`` may hold many.

    ``position`` is the place of an item that was removed. Of the kind ``settings`` is what is no item: currency, order
    of the shelves, practice.
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


class DeedRow(Base):
    """A deed that was done away from the server, when, and the version that it left its record at."""

    __tablename__ = "deed"
    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    at: Mapped[str] = mapped_column(String(40))
    version: Mapped[int] = mapped_column(Integer)


class MetaRow(Base):
    """Currency, revision of the collection and its id, the practice of its owner."""

    __tablename__ = "meta"
    key: Mapped[str] = mapped_column(String(32), primary_key=True)
    value: Mapped[str] = mapped_column(Text)


Row = ProtocolRow | MountRow | BodyRow | LensRow | AdapterRow | AccessoryRow | FoilRow | PairRow | RigRow
TABLES: Final[dict[Kind, type[Row]]] = dict(
    zip(
        KINDS,
        (ProtocolRow, MountRow, BodyRow, LensRow, AdapterRow, AccessoryRow, FoilRow, PairRow, RigRow),
        strict=True,
    )
)
# The columns that every kind has.
DOCUMENTED: Final = frozenset({"id", "position", "name", "version", "document"})
RECORDS: Final[dict[RecordKind, type[Recorded]]] = {table.model.kind: table for table in Recorded.__subclasses__()}
# The columns that every record has.
RECORDED: Final = frozenset({"id", "at", "struck", "version", "document"})
