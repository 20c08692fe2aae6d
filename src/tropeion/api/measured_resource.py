"""Measured from pictures: laid on the desk, measured with progress, kept with the file's own mark, and compared."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal, cast

from fastapi import Depends, Query, Request, Response
from pydantic import BaseModel, Field

from tropeion.core.bench.posterior import Prior
from tropeion.core.bench.rig_on_bench import rig_on_bench
from tropeion.core.bench.seen import Bench
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.field_types import Date, Text, Word
from tropeion.core.gear.rig import Rig, ids_in
from tropeion.core.gear.world import UnknownIdError, World
from tropeion.core.measured.chart import USUAL_PRINTER_MM, ChartSheet, edge_chart, ladder_chart
from tropeion.core.measured.frames_of_series import BestPlace, CauseSeen, SeriesTaken, series_of
from tropeion.core.measured.kept import compares, newest_mark, sharp_in, usable_of
from tropeion.core.measured.ladder import USUAL_LENGTH_MM, LadderMeasured, ladder_of
from tropeion.core.measured.lines import CircleLine, EdgeLine, circle_line, edge_line, pitch_mm
from tropeion.core.measured.ring_error import RingMeasured, likely_of, ring_of, which_of
from tropeion.core.measured.said import circle_said, edges_said, ladder_said, ring_said, series_said
from tropeion.core.measured.sharpness import (
    USUAL_VIEWING,
    Difference,
    Place,
    Sharp,
    UsableMeasured,
    Use,
    Viewing,
    differences_of,
    place_of,
)
from tropeion.core.measured.slanted import WORDS, Why
from tropeion.core.optics.blur import two_pixels_mm
from tropeion.core.optics.modes import modes_of
from tropeion.core.practice import Practice
from tropeion.core.records.measurement import MeasuredCircle, MeasuredEdge, MeasuredError, PictureMeasurement
from tropeion.core.records.record import begun
from tropeion.pictures.desk import MOST_BYTES, Desk
from tropeion.pictures.measuring import PictureMeasured
from tropeion.pictures.sample_chart import Kind, sample_frame
from tropeion.store.collection import Collection

from .log_shared import LibraryOf, Number
from .practice_query import PracticeOf
from .problems import Problem, RefusedError
from .resource import resource
from .shared import BYTES, CollectionOf, Id, Ids, OfRig, Sent, Written
from .work import State, Work, Works

router = resource("/api/v1/measured", "measured")
PICTURES_PATH = "/api/v1/measured/pictures"
MOST_PICTURE_BYTES = MOST_BYTES

_Coordinate = Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)]
_Stop = Annotated[float, Field(gt=0, le=256, allow_inf_nan=False)]
_Metres = Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]
_Millimetres = Annotated[float, Field(ge=-10_000, le=10_000, allow_inf_nan=False)]
_Positive = Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)]
_PictureId = Annotated[str, Field(min_length=1, max_length=64)]
What = Literal["edges", "circle", "ladder", "ring", "series"]


class DeskHere(BaseModel):
    """A picture that lies here, to be measured."""

    id: str
    name: str


class RegionAsked(Written):
    """A rectangle of the picture, in its pixels."""

    x: Annotated[int, Field(ge=0, le=200_000)]
    y: Annotated[int, Field(ge=0, le=200_000)]
    width: Annotated[int, Field(ge=1, le=200_000)]
    height: Annotated[int, Field(ge=1, le=200_000)]


class FocusedAt(Written):
    """Where a frame was focused: ``distance_m`` of the edge, null far away; ``ring`` where the ring stood, or its
    distance."""

    picture: _PictureId
    distance_m: _Metres | None = None
    ring: Literal["far_stop", "infinity_mark"] | _Metres = "far_stop"


class SeriesFrame(Written):
    """A frame of a series: how far out the ring stood, in mm, and the stop."""

    picture: _PictureId
    ring_mm: _Millimetres
    f_number: _Stop


class MeasureAsked(Written):
    """What is to be measured. ``body`` with ``mode`` says the size of the pixels."""

    what: What
    picture: _PictureId
    regions: Annotated[list[RegionAsked], Field(max_length=12, default_factory=list)]
    body: Id | None = None
    mode: Word = "full"
    lens: Id | None = None
    via: Ids = ""
    start: tuple[_Coordinate, _Coordinate] | None = None
    end: tuple[_Coordinate, _Coordinate] | None = None
    length_mm: _Positive = USUAL_LENGTH_MM
    reference: _PictureId | None = None
    f_number: _Stop | None = None
    distance_m: _Metres | None = None
    ring: Literal["far_stop", "infinity_mark"] | _Metres = "far_stop"
    second: FocusedAt | None = None
    frames: Annotated[list[SeriesFrame], Field(max_length=40, default_factory=list)]


class PictureTold(BaseModel):
    """The picture that was measured; ``pitch_why``: why its pixels have no size."""

    name: str
    width: int
    height: int
    as_sharpened: bool
    size: int
    sha256: str
    pitch_mm: float | None
    pitch_why: str


class PlacedEdge(BaseModel):
    """An edge, where it lies, and how long it is; the region that holds it."""

    line: EdgeLine
    place: Place
    upright: bool
    rows: int
    width_px: float
    frequencies: list[float]
    contrast: list[float]


class RefusedEdge(BaseModel):
    """An edge that does not qualify, and what would be right."""

    x: float
    y: float
    why: Why
    says: str


class SeriesTold(BaseModel):
    """The best places and what they tell."""

    best: list[BestPlace]
    causes: list[CauseSeen]


class MeasuredAnswer(BaseModel):
    """What came of it. ``which``: the error that a second frame agrees with; ``likely``: the one that what is stated of
    the lengths makes likely, before any other frame."""

    what: What
    picture: PictureTold
    edges: list[PlacedEdge] = []
    refused: list[RefusedEdge] = []
    circle: CircleLine | None = None
    lens_circle_mm: float | None = None
    ladder: LadderMeasured | None = None
    ring: RingMeasured | None = None
    which: int | None = None
    likely: int | None = None
    series: SeriesTold | None = None
    says: str


class MeasuringWork(BaseModel):
    """How far it has come."""

    id: str
    state: State
    done: float
    why: str
    answer: MeasuredAnswer | None


class KeepMeasured(Written):
    """What is kept beside a measurement: the stop and the focal length on the lens, the day, a note."""

    work: _PictureId
    day: Date
    f_number: _Stop | None = None
    focal_length_mm: _Positive | None = None
    note: Text = ""


class KeptMeasured(BaseModel):
    """A measurement that was kept, and its sharpness in lp/mm."""

    record: PictureMeasurement
    sharp: list[Sharp]


class OtherRig(BaseModel):
    """Another rig whose sharpness was measured."""

    lens: str
    body: str
    via: str
    name: str


class MeasuredPage(BaseModel):
    """All that was measured with a rig: what counts, by aperture, and which stop each use needs; and other rigs."""

    kept: list[KeptMeasured]
    sharp: list[Sharp]
    as_sharpened: bool
    usable: list[UsableMeasured]
    others: list[OtherRig]
    says: str


class MeasuredCompared(BaseModel):
    """Two rigs, stop by stop; ``why``: why they do not compare. ``sharp`` is that of the other."""

    why: str
    sharp: list[Sharp]
    differences: list[Difference]


class Demanded(BaseModel):
    """The demand of one use: its print as it is looked at, or lp/mm that are set."""

    use: Use = "paid_still"
    print_width_mm: Annotated[float | None, Field(gt=0, le=100_000)] = None
    viewing_mm: Annotated[float | None, Field(gt=0, le=100_000)] = None
    lp_per_mm: Annotated[float | None, Field(gt=0, le=1_000)] = None


class RigDemanded(OfRig, Demanded):
    """A rig, and what is demanded of it."""


class RigCompared(OfRig):
    """A rig, and the one that it is compared with."""

    with_lens: Id
    with_body: Id
    with_via: Ids = ""

    @property
    def other(self) -> Rig:
        return Rig(self.with_lens, self.with_body, ids_in(self.with_via))


def _desk(request: Request) -> Desk:
    return cast(Desk, request.app.state.desk)


def _works(request: Request) -> Works[MeasuredAnswer]:
    return cast(Works[MeasuredAnswer], request.app.state.measurings)


DeskOf = Annotated[Desk, Depends(_desk)]
MeasuringsOf = Annotated[Works[MeasuredAnswer], Depends(_works)]


@router.post("/pictures", openapi_extra=BYTES)
def post_picture(sent: Sent, desk: DeskOf, name: Annotated[str, Query(max_length=400)] = "picture") -> DeskHere:
    """Lay a picture here that is sent whole."""
    if not sent:
        raise NotPossibleError("body", "a picture: JPEG, TIFF, PNG or raw")
    laid = desk.send(name.rpartition("/")[2] or "picture", sent)
    return DeskHere(id=laid.id, name=laid.name)


@router.post("/pictures/log/{number}")
def post_logged_picture(number: Number, desk: DeskOf, library: LibraryOf) -> DeskHere:
    """Lay a picture of the log's folders here; it stays where it is."""
    name, root, path = library.place_of(number)
    laid = desk.lay(name, root, path)
    return DeskHere(id=laid.id, name=laid.name)


@router.post("/pictures/sample")
def post_sample_picture(desk: DeskOf, kind: Kind = "chart") -> DeskHere:
    """Lay a frame here that the page draws by itself, to try it with."""
    laid = desk.send(f"sample {kind}.png", sample_frame(kind))
    return DeskHere(id=laid.id, name=laid.name)


@router.get("/pictures/{id}/view", response_class=Response)
def get_picture_view(id: _PictureId, desk: DeskOf) -> Response:
    """The picture to be looked at, as a JPEG."""
    found = desk.view(id)
    if isinstance(found, str):
        raise RefusedError(Problem(type="not_known", title="No picture", status=404, detail=found))
    return Response(found, media_type="image/jpeg", headers={"cache-control": "private, max-age=600"})


@router.post("/work")
def post_measuring(
    asked: MeasureAsked, desk: DeskOf, works: MeasuringsOf, collection: CollectionOf, practice: PracticeOf
) -> MeasuringWork:
    """Begin to measure."""
    world = collection.world()
    measuring = _Measuring(world, practice, desk, asked)
    return _told(works.begin(measuring.run, about=asked))


@router.get("/work/{id}")
def get_measuring(id: _PictureId, works: MeasuringsOf) -> MeasuringWork:
    """How far it has come, and what came of it."""
    return _told(_found(works, id))


@router.delete("/work/{id}")
def delete_measuring(id: _PictureId, works: MeasuringsOf) -> MeasuringWork:
    """Stop it."""
    work = _found(works, id)
    work.progress.stop.set()
    return _told(work)


def _found(works: Works[MeasuredAnswer], id_: str) -> Work[MeasuredAnswer]:
    work = works.find(id_)
    if work is None:
        detail = "it has been forgotten: measure again"
        raise RefusedError(Problem(type="unknown_id", title="No such work", status=404, detail=detail, id=id_))
    return work


def _told(work: Work[MeasuredAnswer]) -> MeasuringWork:
    why = "" if work.error is None or work.state == "stopped" else str(work.error)
    done = work.progress.done / max(1, work.progress.total)
    return MeasuringWork(
        id=work.id, state=work.state, done=done, why=why, answer=work.answer if work.state == "done" else None
    )


class _Measuring:
    """One question, as it is worked at. What cannot be asked is refused when it is made."""

    def __init__(self, world: World, practice: Practice, desk: Desk, asked: MeasureAsked) -> None:
        self._desk, self._asked = desk, asked
        self._size: tuple[float, float] | None = None
        self._bench: Bench | None = None
        self._stated: Prior | None = None
        self._flange_mm: float | None = None
        if asked.body is not None:
            modes = {mode.name: mode for use in ("still", "film") for mode in modes_of(world.body(asked.body), use)}
            if asked.mode not in modes:
                raise NotPossibleError("mode", f"{world.body(asked.body).name} has {', '.join(modes)}")
            self._size = (modes[asked.mode].width_mm, modes[asked.mode].height_mm)
        if asked.lens is not None and asked.body is not None:
            rig = Rig(asked.lens, asked.body, ids_in(asked.via))
            on_bench = rig_on_bench(world, rig, practice)
            self._bench, self._stated, stack = on_bench.bench, on_bench.nominal, on_bench.rig.stack
            rings = [placed.adapter.outer_mm for placed in stack.placed]
            # Across the ring's seat, or the body's where nobody noted how wide the ring is.
            self._flange_mm = next((wide for wide in rings if wide is not None), stack.body_mount.outer_mm)
        for picture in self._pictures():
            desk.find(picture)
        self._check()

    def _check(self) -> None:
        asked = self._asked
        if asked.what == "ladder" and (asked.start is None or asked.end is None):
            raise NotPossibleError("start", "the two ends of the ladder")
        if asked.what == "ring" and (self._bench is None or asked.f_number is None):
            raise NotPossibleError("f_number", "lens and body, and the stop on the lens")
        if asked.what == "series" and len(asked.frames) < 4:
            raise NotPossibleError("frames", "four frames at least, the ring moved between them")
        if asked.what in {"ring", "series"} and self._size is None:
            raise NotPossibleError("body", "whose sensor it is")

    def _pictures(self) -> list[str]:
        asked = self._asked
        others = [asked.reference, None if asked.second is None else asked.second.picture]
        return [asked.picture, *(one for one in others if one is not None), *(one.picture for one in asked.frames)]

    def run(self, work: Work[MeasuredAnswer]) -> MeasuredAnswer:
        asked = self._asked
        pictures = self._pictures() if asked.what != "series" else [one.picture for one in asked.frames]
        work.progress.total = 100 * len(pictures)
        question: dict[str, Any] = {"what": "lit"} if asked.what == "circle" else {"what": "edges"}
        if asked.regions and asked.what != "circle":
            boxes = [[region.x, region.y, region.width, region.height] for region in asked.regions]
            question = {"what": "regions", "regions": boxes}

        taken: dict[str, PictureMeasured] = {}
        for number, picture in enumerate(pictures):

            def progress(share: float, before: int = number) -> None:
                work.progress.done = round(100 * (before + share))

            if picture not in taken:
                taken[picture] = self._desk.measure(picture, question, work.progress.stop.is_set, progress)
        first = taken[pictures[0]]
        answer = self._begin(pictures[0], first)
        match asked.what:
            case "circle":
                self._circle(answer, first)
            case "ladder":
                assert asked.start is not None
                assert asked.end is not None
                answer.ladder = ladder_of(first.edges, asked.start, asked.end, asked.length_mm)
                answer.says = ladder_said(answer.ladder)
            case "ring":
                self._ring(answer, taken)
            case "series":
                self._series(answer, taken)
            case "edges":
                pass
        return answer

    def _begin(self, picture_id: str, found: PictureMeasured) -> MeasuredAnswer:
        pitch, why = None, "whose sensor it is was not said"
        if self._size is not None:
            try:
                pitch, why = pitch_mm((found.width, found.height), self._size), ""
            except ValueError as error:
                why = str(error)
        size = (found.width, found.height)
        edges = [
            PlacedEdge(
                line=edge_line(edge, pitch, None, as_sharpened=found.as_sharpened),
                place=place_of(edge.x, edge.y, size),
                upright=edge.upright,
                rows=edge.rows,
                width_px=edge.width_px,
                frequencies=list(edge.mtf.frequencies),
                contrast=list(edge.mtf.values),
            )
            for edge in found.edges
        ]
        refused = [RefusedEdge(x=one.x, y=one.y, why=one.why, says=WORDS[one.why]) for one in found.refused]
        says = edges_said([(edge.place, edge.line) for edge in edges])
        name = self._desk.find(picture_id).name
        picture = PictureTold(
            name=name,
            width=found.width,
            height=found.height,
            as_sharpened=found.as_sharpened,
            size=found.size,
            sha256=found.sha256,
            pitch_mm=pitch,
            pitch_why=why,
        )
        return MeasuredAnswer(what=self._asked.what, picture=picture, edges=edges, refused=refused, says=says)

    def _circle(self, answer: MeasuredAnswer, found: PictureMeasured) -> None:
        assert found.lit is not None
        pitch = answer.picture.pitch_mm
        line = circle_line(found.lit, pitch)
        answer.circle, unit = line, "px" if pitch is None else "mm"
        answer.says = circle_said(line, unit)
        if line.circle is not None and pitch is not None and self._bench is not None:
            answer.lens_circle_mm = line.circle / self._bench.magnification

    def _ring(self, answer: MeasuredAnswer, taken: dict[str, PictureMeasured]) -> None:
        asked, bench = self._asked, self._bench
        assert bench is not None
        assert asked.f_number is not None
        pitch = answer.picture.pitch_mm
        if pitch is None:
            raise ValueError(answer.picture.pitch_why)
        focused = None if asked.reference is None else taken[asked.reference]

        def one(picture: str, distance_m: float | None, ring: str | float) -> RingMeasured:
            assert asked.f_number is not None
            return ring_of(
                bench,
                taken[picture],
                focused,
                pitch_mm=pitch,
                f_number=asked.f_number,
                distance_mm=math.inf if distance_m is None else 1000 * distance_m,
                ring_mm=None if ring == "far_stop" else math.inf if isinstance(ring, str) else 1000 * ring,
            )

        answer.ring = one(asked.picture, asked.distance_m, asked.ring)
        answer.says = ring_said(answer.ring)
        assert self._stated is not None
        answer.likely = likely_of(answer.ring, self._stated)
        if asked.second is not None and len(answer.ring.errors) == 2:
            second = one(asked.second.picture, asked.second.distance_m, asked.second.ring)
            answer.which = which_of(answer.ring, second)
            if answer.which is None:
                answer.says += " The second frame does not tell which: move the ring farther."
            else:
                answer.says = ring_said(answer.ring, answer.which)

    def _series(self, answer: MeasuredAnswer, taken: dict[str, PictureMeasured]) -> None:
        pitch = answer.picture.pitch_mm
        if pitch is None:
            raise ValueError(answer.picture.pitch_why)
        told = series_of(
            [SeriesTaken(taken[frame.picture], frame.ring_mm, frame.f_number) for frame in self._asked.frames],
            pitch_mm=pitch,
            magnification=1.0 if self._bench is None else self._bench.magnification,
            flange_mm=self._flange_mm,
        )
        answer.series = SeriesTold(best=list(told.best), causes=list(told.causes))
        answer.says = series_said(told)


@router.post("/kept")
def post_kept(
    written: KeepMeasured, works: MeasuringsOf, collection: CollectionOf, demand: Annotated[Demanded, Query()]
) -> MeasuredPage:
    """Keep what was measured, with the size and the SHA-256 of its file."""
    work = _found(works, written.work)
    answer, asked = work.answer, cast(MeasureAsked, work.about)
    if work.state != "done" or answer is None:
        raise NotPossibleError("work", "nothing has been measured yet")
    stop = written.f_number if written.f_number is not None else asked.f_number
    rig = None if asked.lens is None or asked.body is None else Rig(asked.lens, asked.body, ids_in(asked.via))
    bodies: tuple[tuple[Literal["bodies"], str], ...] = () if asked.body is None else (("bodies", asked.body),)
    circle, picture = answer.circle, answer.picture
    in_mm = picture.pitch_mm is not None
    record = PictureMeasurement(
        **begun(bodies if rig is None else rig.items),
        rig="" if rig is None else rig.id,
        what=answer.what,
        day=written.day,
        file=picture.name,
        size=picture.size,
        sha256=picture.sha256,
        as_sharpened=picture.as_sharpened,
        width_px=picture.width,
        height_px=picture.height,
        pitch_mm=picture.pitch_mm,
        f_number=stop,
        focal_length_mm=written.focal_length_mm,
        edges=tuple(
            MeasuredEdge(
                x=edge.line.x,
                y=edge.line.y,
                mtf50_cycles_per_pixel=edge.line.mtf50_cycles_per_pixel,
                uncertainty=edge.line.uncertainty,
                place=edge.place,
            )
            for edge in answer.edges
        )
        if answer.what == "edges"
        else (),
        circle=None
        if circle is None
        else MeasuredCircle(
            circle_mm=circle.circle if in_mm else None,
            at_least_mm=circle.at_least if in_mm else None,
            doubt_mm=circle.doubt if in_mm else None,
            half_height_stops=circle.half_height_stops,
            corner_stops=circle.corner_stops,
        ),
        errors=()
        if answer.ring is None
        else tuple(
            MeasuredError(register_error_mm=error.register_error_mm, doubt_mm=error.doubt_mm)
            for error in answer.ring.errors
        ),
        says=answer.says,
        note=written.note,
    )
    collection.keep_record(record, f"Measured from {picture.name}")
    return _page(collection, rig, demand)


@router.get("/kept")
def get_measured_kept(asked: Annotated[RigDemanded, Query()], collection: CollectionOf) -> MeasuredPage:
    """What was measured with a rig."""
    return _page(collection, asked.rig, asked)


def _of(collection: Collection, rig: Rig | None) -> list[PictureMeasurement]:
    named = "" if rig is None else rig.id
    return [kept.record for kept in collection.records_of(PictureMeasurement, rig=named, struck=False)]


def _others(collection: Collection, rig: Rig | None) -> list[OtherRig]:
    """Other rigs with something to compare, the latest first."""
    world = collection.world()
    found: dict[str, OtherRig] = {}
    for kept in collection.records_of(PictureMeasurement, struck=False):
        record = kept.record
        if record.rig in {"", *found} or (rig is not None and record.rig == rig.id) or not sharp_in(record):
            continue
        lens, body, via, *_ = [*record.rig.split(" "), ""]
        try:
            pieces = world.pieces_of(Rig(lens, body, ids_in(via)))
        except UnknownIdError:
            # A piece is gone: its measurements stay, and nothing is compared with them.
            continue
        ring = " + ".join(adapter.name for adapter in pieces[1])
        name = f"{pieces[0].name} on {pieces[2].name}{f' by {ring}' if ring else ''}"
        found[record.rig] = OtherRig(lens=lens, body=body, via=via, name=name)
    return list(found.values())


def _page(collection: Collection, rig: Rig | None, asked: Demanded) -> MeasuredPage:
    records = _of(collection, rig)
    at_mark = newest_mark(records)
    sharp = [one for record in at_mark if not record.as_sharpened for one in sharp_in(record)]
    from_camera = [one for record in at_mark if record.as_sharpened for one in sharp_in(record)]
    usual = USUAL_VIEWING[asked.use]
    seen = Viewing(asked.print_width_mm or usual.width_mm, asked.viewing_mm or usual.distance_mm)
    stated: dict[Use, float] = {} if asked.lp_per_mm is None else {asked.use: asked.lp_per_mm}
    usable = usable_of(at_mark, {asked.use: seen}, stated) if rig is not None else []
    says = ""
    if from_camera and not sharp:
        says = "As the camera sharpened it: no demand is held against these figures. Take raw files."
    return MeasuredPage(
        kept=[KeptMeasured(record=record, sharp=sharp_in(record)) for record in records],
        sharp=sharp or from_camera,
        as_sharpened=bool(from_camera) and not sharp,
        usable=usable,
        others=_others(collection, rig),
        says=says,
    )


@router.get("/compare")
def get_measured_compared(asked: Annotated[RigCompared, Query()], collection: CollectionOf) -> MeasuredCompared:
    """By how much one rig is sharper than another, where both were measured."""
    mine, theirs = (newest_mark(_of(collection, each)) for each in (asked.rig, asked.other))
    if not mine or not theirs:
        return MeasuredCompared(
            why="both have to be measured first, each at a stop that was said", sharp=[], differences=[]
        )
    why = compares(mine, theirs, same_body=asked.body == asked.with_body)
    if why:
        return MeasuredCompared(why=why, sharp=[], differences=[])
    beside = [sharp for one in theirs for sharp in sharp_in(one)]
    found = differences_of([sharp for one in mine for sharp in sharp_in(one)], beside)
    why = "" if found else "they were not measured at one stop"
    return MeasuredCompared(why=why, sharp=beside, differences=list(found))


@router.get("/chart")
def get_chart(
    collection: CollectionOf,
    kind: Literal["edges", "ladder"] = "edges",
    side_mm: Annotated[float, Query(ge=10, le=120)] = 60.0,
    across: Annotated[int, Query(ge=1, le=4)] = 1,
    down: Annotated[int, Query(ge=1, le=4)] = 1,
    printer_mm: Annotated[float, Query(gt=0, le=2)] = USUAL_PRINTER_MM,
    lens: Id | None = None,
    body: Id | None = None,
) -> ChartSheet:
    """A chart to print at true size, and how far away it must stand."""
    world = collection.world()
    focal = None if lens is None else world.lens(lens).focal_length_mm[0]
    pitch = None
    if body is not None:
        found = world.body(body)
        if found.megapixels is not None:
            # Half of two pixels.
            pitch = two_pixels_mm(*found.sensor_mm, found.megapixels) / 2
    if kind == "ladder":
        return ladder_chart(focal, pitch)
    try:
        return edge_chart(side_mm, across, down, focal, pitch, printer_mm)
    except ValueError as error:
        raise NotPossibleError("side_mm", str(error)) from None
