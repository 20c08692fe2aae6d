"""A rig on the bench: what is seen of it, what that says, its trials, which frame tells a cause, and by difference."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, Field

from tropeion.core.bench.causes import CauseReport, cause_report
from tropeion.core.bench.rig_on_bench import rig_on_bench
from tropeion.core.bench.seen import Kind, Saw, said_in_metres
from tropeion.core.bench.seen_report import SeenAsked, SeenReport, seen_report
from tropeion.core.bench.series import spread_of
from tropeion.core.bench.shims import Foils
from tropeion.core.bench.sights import SIGHTS, Sight
from tropeion.core.bench.trials import Differences, differences, saw_record, trial_told
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.field_types import Date, Text, Word
from tropeion.core.gear.rig import Rig, ids_in
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.records.bench_trial import BenchTrial
from tropeion.core.records.reading_series import ReadingSeries
from tropeion.core.records.record import begun
from tropeion.store.collection import Collection

from .practice_query import PracticeOf
from .resource import resource
from .shared import CollectionOf, OfRig, Written

router = resource("/api/v1/bench", "bench")

Value = Annotated[float, Field(ge=-100_000, le=100_000, allow_inf_nan=False)]


class SawWritten(Written):
    """Something that was seen. Distances in m, lengths and δ in mm, apertures as marked; ``doubt`` as its values.

    ``from_front``: measured from the front of the lens, not from the film-plane mark; ``left_out``: it counts no more.
    """

    kind: Kind
    values: list[Value] = Field([], max_length=4)
    doubt: Annotated[float, Field(gt=0, le=1_000_000, allow_inf_nan=False)] | None = None
    from_front: bool = False
    left_out: bool = False


class FoilsWritten(Written):
    """Foils of one thickness."""

    thickness_mm: Annotated[float, Field(gt=0, le=10)]
    count: Annotated[int, Field(ge=0, le=200)]


class RigSeen(Written):
    """What was seen of a rig. ``nameless``: nothing is stated of its ring; ``past_infinity``: a little is wanted."""

    saw: list[SawWritten] = Field([], max_length=40)
    nameless: bool = False
    past_infinity: bool = True
    foils: Annotated[list[FoilsWritten], Field(max_length=12)] | None = None


class TrialWritten(RigSeen):
    """What is kept of a look at a rig."""

    day: Date
    answers: list[Word] = Field([], max_length=8)
    note: Text = ""


class SeenPage(BaseModel):
    """What was seen and what it says; and what there is to see."""

    report: SeenReport
    sights: list[Sight]


class TrialShown(BaseModel):
    """A trial, and what was seen then, in words."""

    trial: BenchTrial
    told: list[str]


class Answers(Written):
    """What separate frames showed, in their order."""

    answers: list[Word] = Field([], max_length=8)


def _saw(one: SawWritten) -> Saw:
    return said_in_metres(one.kind, one.values, one.doubt, from_front=one.from_front)


def _report(world: World, rig: OfRig, practice: Practice, seen: RigSeen) -> SeenReport:
    foils = None if seen.foils is None else tuple(Foils(foil.thickness_mm, foil.count) for foil in seen.foils)
    out = frozenset(place for place, saw in enumerate(seen.saw) if saw.left_out)
    asked = SeenAsked(tuple(_saw(saw) for saw in seen.saw), seen.nameless, seen.past_infinity, foils, out)
    return seen_report(world, rig.rig, practice, asked)


@router.post("/seen")
def post_seen(
    seen: RigSeen, rig: Annotated[OfRig, Query()], practice: PracticeOf, collection: CollectionOf
) -> SeenPage:
    """What all that was seen of a rig says: its error, what contradicts, which piece, what to do."""
    return SeenPage(report=_report(collection.world(), rig, practice, seen), sights=list(SIGHTS.values()))


def _trials(collection: Collection, rig: Rig) -> list[TrialShown]:
    trials = [kept.record for kept in collection.records_of(BenchTrial, rig=rig.id)]
    return [TrialShown(trial=trial, told=trial_told(trial)) for trial in trials]


@router.get("/trials")
def get_trials(rig: Annotated[OfRig, Query()], collection: CollectionOf) -> list[TrialShown]:
    """Every trial of a rig, the latest first, struck out ones too."""
    return _trials(collection, rig.rig)


@router.post("/trials")
def post_trial(
    written: TrialWritten, rig: Annotated[OfRig, Query()], practice: PracticeOf, collection: CollectionOf
) -> list[TrialShown]:
    """Keep what was seen of a rig, and what it came to."""
    world = collection.world()
    report = _report(world, rig, practice, written)
    for place, (told, asked) in enumerate(zip(report.observations, written.saw, strict=True)):
        if told.wrong:
            raise NotPossibleError(f"saw[{place}] ({asked.kind})", told.wrong)
    if not written.saw and not written.answers:
        raise NotPossibleError("saw", "at least one thing that was seen")
    cause = _causes(collection, rig, practice, written.answers).cause if written.answers else None
    estimate = report.headline if written.saw else None
    lens, body = world.lens(rig.lens), world.body(rig.body)
    record = BenchTrial(
        **begun(rig.rig.items),
        rig=rig.rig.id,
        day=written.day,
        saw=tuple(saw_record(_saw(saw), left_out=saw.left_out) for saw in written.saw),
        nameless=written.nameless,
        error_mm=None if estimate is None else estimate.mean_mm,
        standard_uncertainty_mm=None if estimate is None else estimate.standard_uncertainty_mm,
        answers=tuple(written.answers),
        cause=None if cause is None else cause.cause,
        note=written.note,
    )
    collection.keep_record(record, f"{lens.name} on {body.name}: tried on the bench")
    return _trials(collection, rig.rig)


def _causes(collection: Collection, rig: OfRig, practice: Practice, answers: list[str]) -> CauseReport:
    world, via = collection.world(), ids_in(rig.via)
    spreads = {}
    for id_ in via:
        kept = collection.records_of(ReadingSeries, piece_kind="adapters", piece=id_, quantity="length")
        if (spread := spread_of([series.record for series in kept])) is not None:
            spreads[id_] = spread
    on_bench = rig_on_bench(world, rig.rig, practice)
    try:
        return cause_report(on_bench, answers, spreads)
    except ValueError as error:
        raise NotPossibleError("answers", str(error)) from None


@router.post("/causes")
def post_causes(
    told: Answers, rig: Annotated[OfRig, Query()], practice: PracticeOf, collection: CollectionOf
) -> CauseReport:
    """Which frame to take next, or which cause the frames told."""
    return _causes(collection, rig, practice, told.answers)


@router.get("/differences")
def get_differences(rig: Annotated[OfRig, Query()], collection: CollectionOf) -> Differences:
    """What this rig's trial tells of its lens and its body, against another rig that differs in one of them alone."""
    trials = [kept.record for kept in collection.records_of(BenchTrial)]
    return differences(collection.world(), rig.rig, trials)
