"""Pictures told what they were taken with: clocks, signatures, doubts that are settled."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from typing import Annotated, Any

from fastapi import Query, Response
from pydantic import BaseModel, Field

from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.field_types import Date
from tropeion.core.log.days import LogDay, days_of
from tropeion.core.log.doubts import Doubt
from tropeion.core.log.header import readable
from tropeion.core.log.log_file import LogFile
from tropeion.core.log.log_records import assignment_record, begun_of
from tropeion.core.log.log_words import at_said, clock_said, name_of, rig_said, settings_said, why_doubtful
from tropeion.core.log.matching import State, Told
from tropeion.core.log.offsets import From, for_their_days
from tropeion.core.log.pictures import body_that_signs
from tropeion.core.log.rig_facts import RigReader
from tropeion.core.records.log_others import CameraSigns, Clock, ClockSet, Settled, Signs
from tropeion.core.records.moments import SECOND_US, zone_us
from tropeion.core.records.record import now
from tropeion.formats.log_table import pictures_csv
from tropeion.pictures.library import FolderSeen

from .log_shared import LibraryOf, Number, held_against
from .resource import resource
from .shared import CollectionOf, Written, attached

router = resource("/api/v1/log", "log")


class OffsetRow(BaseModel):
    """The clock of one body: log minus camera, and how that is known; ``says`` in words."""

    body: str
    body_name: str
    says: str
    seconds: float
    known_from: From
    certain: bool
    zoned: bool
    since: str | None
    until: str | None
    proposal_seconds: float | None
    proposal_pairs: int | None
    proposal_since: str | None
    proposal_until: str | None


class PictureRow(BaseModel):
    """A picture: its number, what its files say, and the entry that it belongs to. ``at`` is by the log, ``why`` the
    doubts in words."""

    number: int
    files: list[str]
    taken_at: str | None
    clock_us: int | None
    at: str | None
    body: str | None
    entry: str | None
    state: State
    doubts: list[Doubt]
    why: list[str]
    settled: bool
    lens: str
    focal_length_mm: float | None
    f_number: float | None


class EntryRow(BaseModel):
    """An entry that pictures may belong to."""

    id: str
    at: str
    at_us: int
    body: str
    lens: str
    via: list[str]
    way: str
    frames: int
    rig: str
    says: str
    # What a trial that begins from its picture takes over.
    aperture: float | None
    focal_length_mm: float | None
    distance_m: float | None
    use: str | None
    travel: float | None
    pictures: int


class UnknownCamera(BaseModel):
    """A signature that no body is known by, and how many pictures have it."""

    make: str
    model: str
    serial: str
    pictures: int


class Claimed(BaseModel):
    """A lens or a focal length that files of a body claim, and what the log says that it was."""

    body: str
    lens: str
    focal_length_mm: float | None
    pictures: int
    was: list[str]


class KnownCamera(BaseModel):
    """A signature that is known, with what its files' claims mean."""

    record: str
    signs: Signs


class KnownClock(BaseModel):
    """A clock that was stated or photographed."""

    record: str
    clock: ClockSet


class PicturesReport(BaseModel):
    """A folder of pictures, told what they were taken with."""

    folder: FolderSeen
    days: list[LogDay]
    since: str | None
    until: str | None
    offsets: list[OffsetRow]
    pictures: list[PictureRow]
    entries: list[EntryRow]
    unread: list[dict[str, str]]
    unknown_cameras: list[UnknownCamera]
    cameras: list[KnownCamera]
    clocks: list[KnownClock]
    claimed: list[Claimed]
    warnings: list[str]


class SettledWritten(Written):
    """Doubts that are settled, in one step to take back."""

    settled: list[Settled] = Field(min_length=1, max_length=5_000)


@router.get("/folders/{number}/pictures")
def get_pictures(
    number: Number,
    library: LibraryOf,
    collection: CollectionOf,
    since: Annotated[Date | None, Query()] = None,
    until: Annotated[Date | None, Query()] = None,
) -> PicturesReport:
    """A folder that was read, held against the entries of some days: near its pictures unless others are named."""
    folder = library.seen(number)
    matched = held_against(number, library, collection, since, until)
    world, rigs = collection.world(), RigReader(collection.world())
    told = matched.matching.pictures
    used = Counter(one.entry.id for one in told if one.entry is not None)
    unsigned = Counter(one.picture.signed for one in told if one.body is None)
    return PicturesReport(
        folder=folder,
        days=list(days_of(matched.all_entries)),
        since=None if matched.span is None else matched.span[0],
        until=None if matched.span is None else matched.span[1],
        offsets=[
            OffsetRow(
                body=clock.body,
                body_name=name_of(world, clock.body),
                says=clock_said(clock, _zone_of(matched.log, clock.body)),
                seconds=clock.offset_us / SECOND_US,
                known_from=clock.from_,
                certain=clock.certain,
                zoned=clock.zoned,
                since=clock.since,
                until=clock.until,
                proposal_seconds=None if clock.proposal is None else clock.proposal.seconds,
                proposal_pairs=None if clock.proposal is None else clock.proposal.pairs,
                proposal_since=None if clock.proposal is None else clock.proposal.since,
                proposal_until=None if clock.proposal is None else clock.proposal.until,
            )
            for clock in matched.matching.clocks
        ],
        pictures=[_picture_row(one, matched.numbers, why_doubtful(one, world, rigs)) for one in told],
        entries=[
            EntryRow(
                id=entry.id,
                at=entry.at,
                at_us=entry.instant_us,
                body=entry.body,
                lens=entry.lens,
                via=list(entry.via),
                way=entry.way,
                frames=entry.frames,
                rig=rig_said(world, entry),
                says=settings_said(entry),
                aperture=entry.aperture,
                focal_length_mm=entry.focal_length_mm,
                distance_m=entry.distance_m,
                use=entry.use,
                travel=entry.travel,
                pictures=used[entry.id],
            )
            for entry in sorted(matched.log.entries, key=lambda entry: entry.instant_us)
            if entry.struck is None
        ],
        unread=[{"file": one.file, "why": one.why} for one in matched.reading.unread],
        unknown_cameras=[
            UnknownCamera(make=make, model=model, serial=serial, pictures=count)
            for (make, model, serial), count in unsigned.items()
            if make or model
        ],
        cameras=[
            KnownCamera(record=kept.record.id, signs=_plain(kept.record, Signs))
            for kept in collection.records_of(CameraSigns, struck=False)
        ],
        clocks=[
            KnownClock(record=kept.record.id, clock=_plain(kept.record, ClockSet))
            for kept in collection.records_of(Clock, struck=False)
        ],
        claimed=list(_claimed(told, lambda entry: rig_said(world, entry))),
        warnings=list(matched.matching.warnings),
    )


def _zone_of(log: LogFile, body: str) -> int:
    """The UTC offset at which a body was logged, in microseconds."""
    return next((zone_us(entry.at) for entry in log.entries if entry.body == body), 0)


def _plain(record: Any, model: Any) -> Any:
    return model(**{name: getattr(record, name) for name in model.model_fields})


def _picture_row(told: Told, numbers: dict[str, int], why: tuple[str, ...]) -> PictureRow:
    picture = told.picture
    return PictureRow(
        number=numbers[picture.file],
        files=[readable(file) for file in picture.files],
        taken_at=picture.taken_at,
        clock_us=picture.clock_us,
        at=at_said(told.at_us),
        body=told.body,
        entry=None if told.entry is None else told.entry.id,
        state=told.state,
        doubts=list(told.doubts),
        why=list(why),
        settled=told.settled,
        lens=picture.lens,
        focal_length_mm=picture.focal_length_mm,
        f_number=picture.f_number,
    )


def _claimed(told: tuple[Told, ...], said: Any) -> Iterator[Claimed]:
    """What files claim, by body, and the rigs that their entries had."""
    claims: dict[tuple[str, str, float | None], list[Told]] = {}
    for one in told:
        if one.body is not None and (one.picture.lens or one.picture.focal_length_mm):
            claims.setdefault((one.body, one.picture.lens, one.picture.focal_length_mm), []).append(one)
    for (body, lens, focal), some in claims.items():
        was = dict.fromkeys(said(one.entry) for one in some if one.entry is not None)
        yield Claimed(body=body, lens=lens, focal_length_mm=focal, pictures=len(some), was=list(was))


@router.get("/folders/{number}/table", response_class=Response)
def get_pictures_table(
    number: Number,
    library: LibraryOf,
    collection: CollectionOf,
    since: Annotated[Date | None, Query()] = None,
    until: Annotated[Date | None, Query()] = None,
) -> Response:
    """The pictures of a folder as a CSV table."""
    matched = held_against(number, library, collection, since, until)
    table = pictures_csv(matched.matching, collection.world())
    return attached(table.encode(), "tropeion-pictures.csv", "text/csv; charset=utf-8")


@router.post("/cameras")
def post_camera_signs(signs: Signs, collection: CollectionOf) -> KnownCamera:
    """Which body signs so; and what its files mean by what they claim."""
    if not signs.make and not signs.model:
        raise NotPossibleError("model", "a signature has a make or a model")
    fields = {name: getattr(signs, name) for name in Signs.model_fields}
    record = CameraSigns(**begun_of(signs.body), **fields)
    title = f"{signs.make} {signs.model}".strip()
    kept = collection.keep_record(record, f"{title} is {name_of(collection.world(), signs.body)}")
    return KnownCamera(record=kept.record.id, signs=_plain(kept.record, Signs))


@router.post("/folders/{number}/clocks")
def post_clock(number: Number, told: ClockSet, library: LibraryOf, collection: CollectionOf) -> KnownClock:
    """What the clock of a camera was off when the pictures of a folder were taken; the last one that says so holds."""
    cameras = collection.log().cameras
    of_body = [file.header for file in library.reading(number)[0].files]
    taken = [one.taken_us for one in of_body if one.taken_us is not None and body_that_signs(one, cameras) == told.body]
    clock = for_their_days(told, taken)
    fields = {name: getattr(clock, name) for name in ClockSet.model_fields}
    record = Clock(**begun_of(clock.body), **fields)
    said = f"{clock.seconds:+g} s" if clock.seconds is not None else f"{clock.file} shows {clock.shows}"
    kept = collection.keep_record(record, f"Clock of {name_of(collection.world(), clock.body)}: {said}")
    return KnownClock(record=kept.record.id, clock=_plain(kept.record, ClockSet))


@router.post("/assignments")
def post_assignments(written: SettledWritten, collection: CollectionOf) -> dict[str, int]:
    """Doubts settled, in one action."""
    records = [assignment_record(one, now()) for one in written.settled]
    first, more = written.settled[0], len(written.settled) - 1
    what = "no entry" if first.entry is None else first.entry
    title = f"{first.files[0]}{f' and {more} more' if more else ''}: {what}"
    taken = collection.take_records(records, title, replacing=True)
    return {"settled": len(taken.new) + len(taken.other)}
