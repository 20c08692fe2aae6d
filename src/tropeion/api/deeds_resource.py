"""Deeds that were done away from the server: sent in their order, kept once, each with its own time."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.field_types import Date, Text
from tropeion.core.gear.rig import Rig, ids_in
from tropeion.core.gear.world import World
from tropeion.core.log.log_file import FiledEntry
from tropeion.core.log.log_records import entry_of
from tropeion.core.log.log_words import rig_said, settings_said
from tropeion.core.records.card import Card
from tropeion.core.records.log_entry import LogEntry
from tropeion.core.records.moments import read_moment
from tropeion.core.records.outing_record import Outing
from tropeion.core.records.record import RecordId, begun
from tropeion.store.collection import Collection
from tropeion.store.deeds import Deed, DoneAlreadyError
from tropeion.store.errors import RecordMovedError
from tropeion.store.records import Kept

from .log_resource import EntryLine, checked_entry, corrected_entry, line_of, record_of_entry
from .problems import Problem, RefusedError
from .resource import resource
from .shared import CollectionOf, Id, Ids, Written, standing

router = resource("/api/v1/deeds", "log")
_Moment = Annotated[str, StringConstraints(max_length=40)]


class _DeedOf(Written):
    """A deed; its id is made where it was done, and ``at`` is when, by the machine's clock as far as it was known."""

    id: RecordId
    at: _Moment


class EntryDeed(_DeedOf):
    """A frame was logged. What its rig cannot have is kept only with a reason, ``because``."""

    kind: Literal["entry"]
    entry: FiledEntry
    because: Text = ""


class CorrectionDeed(_DeedOf):
    """An entry was corrected, upon the version that was shown."""

    kind: Literal["correction"]
    entry: FiledEntry
    because: Text = ""
    version: Annotated[int, Field(ge=1)]


class StrikeDeed(_DeedOf):
    """An entry was struck out."""

    kind: Literal["strike"]
    entry: RecordId
    reason: Text = ""


class TickDeed(_DeedOf):
    """A step of a card was ticked off, or (``on`` false) not any more; nothing else that was ticked is touched."""

    kind: Literal["tick"]
    lens: Id
    body: Id
    adapters: Ids = ""
    day: Date
    step: Text
    on: bool = True


class PackDeed(_DeedOf):
    """A piece of an outing was packed, or (``on`` false) taken out again."""

    kind: Literal["pack"]
    outing: RecordId
    piece: Text
    on: bool = True


AnyDeed = EntryDeed | CorrectionDeed | StrikeDeed | TickDeed | PackDeed


class DeedSent(Written):
    """One deed."""

    deed: Annotated[AnyDeed, Field(discriminator="kind")]


class DeedKept(BaseModel):
    """A deed is kept, just now or since it was sent before; ``version`` is that of the record as the deed left it.

    ``entry`` is the entry as it stands by now.
    """

    state: Literal["kept", "kept_before"]
    version: int
    entry: EntryLine | None


@router.post("")
def post_deed(sent: DeedSent, collection: CollectionOf) -> DeedKept:
    """Keep a deed; sent again, it is kept once."""
    deed, world = sent.deed, collection.world()
    try:
        known = Deed(deed.id, read_moment(deed.at).isoformat())
    except ValueError as error:
        raise NotPossibleError("at", str(error)) from None
    try:
        version = _done(deed, known, world, collection)
        state: Literal["kept", "kept_before"] = "kept"
    except DoneAlreadyError as error:
        version, state = error.version, "kept_before"
    except RecordMovedError as error:
        raise _both(world, error) from None
    id_ = (
        None if isinstance(deed, TickDeed | PackDeed) else deed.entry if isinstance(deed, StrikeDeed) else deed.entry.id
    )
    entry = None if id_ is None else collection.record_of(LogEntry, id=id_)
    return DeedKept(state=state, version=version, entry=None if entry is None else line_of(world, entry))


def _entry_id(deed: EntryDeed | CorrectionDeed | StrikeDeed) -> str:
    return deed.entry if isinstance(deed, StrikeDeed) else deed.entry.id


def _both(world: World, error: RecordMovedError) -> RefusedError:
    """Two corrected one entry: whoever comes second is shown what stands, as it is listed."""
    current = error.current
    assert isinstance(current, LogEntry)
    line = line_of(world, Kept(current, error.version))
    detail = "This entry was corrected elsewhere meanwhile: see both, and decide"
    stands = {
        "kind": "log_entries",
        "id": current.id,
        "current": line.model_dump(mode="json"),
        "version": error.version,
    }
    return RefusedError(
        Problem.model_validate(
            {"type": "stale", "title": "Changed meanwhile", "status": 409, "detail": detail, **stands}
        )
    )


def _done(deed: AnyDeed, known: Deed, world: World, collection: Collection) -> int:
    """Do it; the version of its record afterwards. Raises DoneAlreadyError."""
    if isinstance(deed, TickDeed):
        return _tick(deed, known, world, collection)
    if isinstance(deed, PackDeed):
        return _pack(deed, known, collection)
    if isinstance(deed, StrikeDeed):
        return _strike(deed, known, world, collection)
    if isinstance(deed, CorrectionDeed):
        return corrected_entry(world, deed.entry, deed.because, deed.version, collection, known).version
    logged = collection.record_of(LogEntry, id=deed.entry.id)
    if logged is not None:
        # Logged by another way; as it stands, it stays.
        raise DoneAlreadyError(deed.id, logged.version)
    entry = checked_entry(world, deed.entry, deed.because)
    title = f"Logged: {rig_said(world, entry)} {settings_said(entry)}".strip()
    collection.take_records([record_of_entry(entry)], title, deed=known)
    return 1


def _strike(deed: StrikeDeed, known: Deed, world: World, collection: Collection) -> int:
    logged = collection.record_of(LogEntry, id=deed.entry)
    said = "" if logged is None else rig_said(world, entry_of(logged.record))

    def struck(record: LogEntry) -> LogEntry:
        return record.model_copy(update={"struck": True, "struck_because": deed.reason})

    title = f"Log entry struck out: {said}{f' ({deed.reason})' if deed.reason else ''}"
    return collection.change_record(LogEntry, deed.entry, struck, title, deed=known).version


def _pack(deed: PackDeed, known: Deed, collection: Collection) -> int:
    def packed(outing: Outing) -> Outing:
        others = tuple(piece for piece in outing.packed if piece != deed.piece)
        return outing.model_copy(update={"packed": (*others, deed.piece)[:500] if deed.on else others})

    outing = standing(collection, Outing, deed.outing).record
    return collection.change_record(Outing, deed.outing, packed, f"Outing “{outing.name}”", deed=known).version


def _tick(deed: TickDeed, known: Deed, world: World, collection: Collection) -> int:
    rig = Rig(deed.lens, deed.body, ids_in(deed.adapters))
    lens, body = world.lens(deed.lens), world.body(deed.body)
    for id_ in rig.adapters:
        world.adapter(id_)

    def ticked(card: Card) -> Card:
        others = tuple(step for step in card.ticked if step != deed.step)
        return card.model_copy(update={"ticked": (*others, deed.step)[:200] if deed.on else others})

    card = Card(**begun(rig.items), rig=rig.id, day=deed.day, ticked=())
    title = f"Card of {lens.name} on {body.name}, {deed.day}"
    return collection.tick(card, ticked, title, known).version
