"""A rig on the bench: what is seen of it, what that says, its trials, which frame tells a cause, and by difference."""

from __future__ import annotations

import math
import uuid
from typing import Annotated, Literal

from fastapi import APIRouter, Query
from pydantic import BaseModel, ConfigDict, Field

from tropeion.core.bench.causes import CauseReport, cause_report, cause_title
from tropeion.core.bench.difference import ByDifference, body_by_difference, lens_by_difference
from tropeion.core.bench.rig_on_bench import rig_on_bench
from tropeion.core.bench.seen import KINDS, Kind, Saw, implied
from tropeion.core.bench.seen_report import Asked, SeenReport, seen_report
from tropeion.core.bench.shims import Foils
from tropeion.core.bench.sights import SIGHTS, SightValue
from tropeion.core.bench.together import together
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.quantities import Date, Text, Word
from tropeion.core.gear.world import World
from tropeion.core.optics.seats import Seat
from tropeion.core.practice import Practice
from tropeion.core.records.bench_trial import BenchTrial, SawRecord
from tropeion.core.records.card import rig_of, what_it_is_about
from tropeion.core.records.record import RecordId, now
from tropeion.core.records.series import ReadingSeries
from tropeion.store.collection import Collection

from .bench import unknown_record
from .problems import RESPONSES
from .shared import CollectionOf, Id, Ids, ids_in, practice_in

__all__ = ["router"]

router = APIRouter(prefix="/api/v1/bench", tags=["bench"], responses=RESPONSES)

Value = Annotated[float, Field(ge=-100_000, le=100_000, allow_inf_nan=False)]


class _Rig(Practice):
    """A rig; ``via`` are ids from the lens to the body, by commas."""

    lens: Id
    body: Id
    via: Ids = ""


class SawWritten(BaseModel):
    """Something that was seen. Distances in m, lengths and δ in mm, apertures as marked; ``doubt`` as its values.

    ``from_front``: measured from the front of the lens, not from the film-plane mark.
    """

    model_config = ConfigDict(extra="forbid")

    kind: Kind
    values: Annotated[list[Value], Field(max_length=4)] = []
    doubt: Annotated[float, Field(gt=0, le=1_000_000, allow_inf_nan=False)] | None = None
    from_front: bool = False


class FoilsWritten(BaseModel):
    """Foils of one thickness."""

    model_config = ConfigDict(extra="forbid")

    thickness_mm: Annotated[float, Field(gt=0, le=10)]
    count: Annotated[int, Field(ge=0, le=200)]


class RigSeen(BaseModel):
    """What was seen of a rig. ``nameless``: nothing is stated of its ring; ``past_infinity``: a little is wanted."""

    model_config = ConfigDict(extra="forbid")

    saw: Annotated[list[SawWritten], Field(max_length=40)] = []
    nameless: bool = False
    past_infinity: bool = True
    foils: Annotated[list[FoilsWritten], Field(max_length=12)] | None = None


class TrialWritten(RigSeen):
    """What is kept of a look at a rig."""

    day: Date
    answers: Annotated[list[Word], Field(max_length=8)] = []
    note: Text = ""


class SightShown(BaseModel):
    """A kind of observation: how to look, what is asked, and its usual doubt."""

    kind: Kind
    name: str
    label: str
    look: str
    values: list[SightValue]
    usual_doubt: str


class SeenPage(BaseModel):
    """What was seen and what it says; and what there is to see."""

    report: SeenReport
    sights: list[SightShown]


class TrialShown(BaseModel):
    """A trial, and what was seen then, in words."""

    trial: BenchTrial
    told: list[str]


class Answers(BaseModel):
    """What separate frames showed, in their order."""

    model_config = ConfigDict(extra="forbid")

    answers: Annotated[list[Word], Field(max_length=8)] = []


class Struck(BaseModel):
    """Why a trial counts no more."""

    model_config = ConfigDict(extra="forbid")

    reason: Annotated[Text, Field(min_length=1)]


class Against(BaseModel):
    """Another rig that differs in one end alone, whose trial is known, and what it gives by difference."""

    id: str
    name: str
    day: str
    found: ByDifference
    fields: dict[str, float]
    says: str


class Differences(BaseModel):
    """What of this rig's lens and of its body can be told against others."""

    lens: list[Against]
    body: list[Against]


def _saw(one: SawWritten) -> Saw:
    metres = any(value.what == "distance" for value in SIGHTS[one.kind].values)
    scale = 1000.0 if metres else 1.0
    doubt = None if one.doubt is None or not metres else one.doubt * scale
    return Saw(one.kind, tuple(scale * value for value in one.values), doubt, one.from_front)


def _report(world: World, rig: _Rig, seen: RigSeen) -> SeenReport:
    foils = None if seen.foils is None else tuple(Foils(one.thickness_mm, one.count) for one in seen.foils)
    asked = Asked(tuple(_saw(one) for one in seen.saw), seen.nameless, seen.past_infinity, foils)
    return seen_report(world, rig.lens, rig.body, ids_in(rig.via), practice_in(rig), asked)


@router.post("/seen")
def post_seen(seen: RigSeen, rig: Annotated[_Rig, Query()], collection: CollectionOf) -> SeenPage:
    """What all that was seen of a rig says: its error, what contradicts, which piece, what to do."""
    sights = [
        SightShown(
            kind=one.kind,
            name=one.name,
            label=one.label,
            look=one.look,
            values=list(one.values),
            usual_doubt=one.usual_doubt,
        )
        for one in SIGHTS.values()
    ]
    return SeenPage(report=_report(collection.world(), rig, seen), sights=sights)


def _record(one: Saw) -> SawRecord:
    return SawRecord(kind=one.kind, values=one.values, doubt_mm=one.doubt_mm, from_front=one.from_front)


def _recorded(one: SawRecord) -> Saw:
    kind = next(kind for kind in KINDS if kind == one.kind)
    return Saw(kind, one.values, one.doubt_mm, one.from_front)


def _shown(trial: BenchTrial) -> TrialShown:
    known = [_recorded(one) for one in trial.saw if one.kind in SIGHTS]
    told = [SIGHTS[one.kind].told(one) for one in known]
    if trial.cause is not None:
        told.append(f"the frames told: {cause_title(trial.cause)}")
    return TrialShown(trial=trial, told=told)


def _trials(collection: Collection, lens: str, body: str, via: list[str]) -> list[TrialShown]:
    return [_shown(one) for one in collection.records_of(BenchTrial, rig=rig_of(lens, body, via))]


@router.get("/trials")
def get_trials(rig: Annotated[_Rig, Query()], collection: CollectionOf) -> list[TrialShown]:
    """Every trial of a rig, the latest first, struck out ones too."""
    return _trials(collection, rig.lens, rig.body, ids_in(rig.via))


@router.post("/trials")
def post_trial(written: TrialWritten, rig: Annotated[_Rig, Query()], collection: CollectionOf) -> list[TrialShown]:
    """Keep what was seen of a rig, and what it came to."""
    world, via = collection.world(), ids_in(rig.via)
    report = _report(world, rig, written)
    for place, (told, asked) in enumerate(zip(report.observations, written.saw, strict=True)):
        if told.wrong:
            raise NotPossibleError(f"saw[{place}] ({asked.kind})", told.wrong)
    if not written.saw and not written.answers:
        raise NotPossibleError("saw", "at least one thing that was seen")
    cause = _causes(collection, rig, written.answers).cause if written.answers else None
    found = report.together if written.saw else None
    lens, body = world.lens(rig.lens), world.body(rig.body)
    record = BenchTrial(
        id=str(uuid.uuid4()),
        at=now(),
        items=what_it_is_about(rig.lens, rig.body, via),
        rig=rig_of(rig.lens, rig.body, via),
        day=written.day,
        saw=tuple(_record(one) for one in map(_saw, written.saw)),
        nameless=written.nameless,
        error_mm=None if found is None else found.mean_mm,
        standard_uncertainty_mm=None if found is None else found.standard_uncertainty_mm,
        answers=tuple(written.answers),
        cause=None if cause is None else cause.cause,
        note=written.note,
    )
    collection.keep_record(record, f"{lens.name} on {body.name}: tried on the bench")
    return _trials(collection, rig.lens, rig.body, via)


@router.post("/trials/{id}/strike")
def post_trial_strike(
    id: RecordId, struck: Struck, rig: Annotated[_Rig, Query()], collection: CollectionOf
) -> list[TrialShown]:
    """Strike a trial out, with the reason; it stays to be seen, and undo brings it back."""
    trial = collection.record_of(BenchTrial, id)
    if trial is None:
        raise unknown_record("trial", id)
    if trial.struck:
        raise NotPossibleError("trial", "it is struck out already")
    collection.keep_record(
        trial.model_copy(update={"struck": True, "struck_because": struck.reason}),
        f"Trial struck out: {struck.reason}",
    )
    return _trials(collection, rig.lens, rig.body, ids_in(rig.via))


def _causes(collection: Collection, rig: _Rig, answers: list[str]) -> CauseReport:
    world, via = collection.world(), ids_in(rig.via)
    spreads = {}
    for id_ in via:
        series = collection.records_of(ReadingSeries, piece_kind="adapters", piece=id_, quantity="length")
        standing = next((one for one in series if not one.struck and len(one.counting) > 1), None)
        if standing is not None:
            values = [one.mm for one in standing.counting]
            spreads[id_] = max(values) - min(values)
    on_bench = rig_on_bench(world, rig.lens, rig.body, via, practice_in(rig))
    try:
        return cause_report(on_bench, answers, spreads)
    except ValueError as error:
        raise NotPossibleError("answers", str(error)) from None


@router.post("/causes")
def post_causes(told: Answers, rig: Annotated[_Rig, Query()], collection: CollectionOf) -> CauseReport:
    """Which frame to take next, or which cause the frames told."""
    return _causes(collection, rig, told.answers)


@router.get("/differences")
def get_differences(rig: Annotated[_Rig, Query()], collection: CollectionOf) -> Differences:
    """What this rig's trial tells of its lens and its body, against another rig that differs in one of them alone."""
    world, via = collection.world(), ids_in(rig.via)
    own = _seen_alone(collection, world, rig.lens, rig.body, via)
    if own is None:
        return Differences(lens=[], body=[])
    error, _, k = own
    found = Differences(lens=[], body=[])
    latest: dict[str, BenchTrial] = {}
    for trial in collection.records_of(BenchTrial):
        if not trial.struck and trial.saw:
            latest.setdefault(trial.rig, trial)
    for trial in latest.values():
        lens, body, *rest = trial.rig.split(" ")
        chain = rest[0].split(",") if rest and rest[0] else []
        same_chain = chain == via
        kind: Literal["lens", "body"]
        if same_chain and body == rig.body and lens != rig.lens and lens in world.lenses:
            kind = "lens"
        elif same_chain and lens == rig.lens and body != rig.body and body in world.bodies:
            kind = "body"
        else:
            continue
        other = _seen_alone(collection, world, lens, body, chain)
        if other is None:
            continue
        known = _known(other[1].lens if kind == "lens" else other[1].body)
        if kind == "lens":
            by = lens_by_difference(known, other[0], error, k)
        else:
            by = body_by_difference(known, other[0], error)
        name = world.lenses[lens].name if kind == "lens" else world.bodies[body].name
        getattr(found, kind).append(
            Against(
                id=lens if kind == "lens" else body,
                name=name,
                day=trial.day,
                found=by,
                fields={
                    "measured_register_mm": round(by.register_mm, 3),
                    "measured_tolerance_mm": math.ceil(by.measured_tolerance_mm * 1000) / 1000,
                },
                says=f"{by.register_mm:.3f} ± {by.standard_uncertainty_mm:.3f} mm, against {name} of {trial.day}",
            )
        )
    return found


class _Ends(BaseModel):
    """The seats of a rig."""

    model_config = ConfigDict(arbitrary_types_allowed=True)

    lens: Seat
    body: Seat


def _known(seat: Seat) -> tuple[float, float]:
    return seat.register_mm, seat.tolerance_mm / math.sqrt(3)


def _seen_alone(
    collection: Collection, world: World, lens: str, body: str, via: list[str]
) -> tuple[tuple[float, float], _Ends, float] | None:
    """The error that the latest standing trial of a rig saw, without what is stated of it; its seats; and K."""
    trials = collection.records_of(BenchTrial, rig=rig_of(lens, body, via))
    trial = next((one for one in trials if not one.struck and one.saw), None)
    if trial is None or any(id_ not in {one.id for one in world.gear.adapters} for id_ in via):
        return None
    on_bench = rig_on_bench(world, lens, body, via)
    seen = []
    for one in trial.saw:
        try:
            seen.append(implied(on_bench.bench, _recorded(one)))
        except ValueError:
            continue
    if not any(one.as_normal for one in seen):
        return None
    found = together(on_bench.bench, None, seen)
    chain = on_bench.rig.chain
    return (found.mean_mm, found.standard_uncertainty_mm), _Ends(lens=chain.lens, body=chain.body), chain.magnification
