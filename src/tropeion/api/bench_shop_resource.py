"""Lenses without a mount, threads, and how far a ring turns."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import Query
from pydantic import BaseModel, Field

from tropeion.core.bench.builds import WAYS_TO_MAKE, WayToMake
from tropeion.core.bench.holding import HoldingReport, Try, holding_report
from tropeion.core.bench.mountless import USUAL_MARGIN_MM, MountlessReport, mountless_of
from tropeion.core.bench.threads import Outcome, PartTried, ThreadReport, which_thread
from tropeion.core.bench.throw import ThrowReport, throw_report
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.items import PieceItem
from tropeion.core.gear.kinds import JoinedKind
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.search import Wanted, hits
from tropeion.core.gear.world import UnknownIdError

from .resource import resource
from .shared import CollectionOf, Id, Written

# More are found by typing further.
MOST_PIECES = 60
_KINDS: tuple[JoinedKind, ...] = ("adapters", "lenses", "bodies")

router = resource("/api/v1/bench", "bench")

# From seat to shoulder; negative where the barrel stands inside the mount.
Length = Annotated[float, Field(ge=-200, le=1000, allow_inf_nan=False)]
Positive = Annotated[float, Field(gt=0, le=100_000, allow_inf_nan=False)]


class _Mountless(BaseModel):
    """A lens without a mount, and the body that it goes before."""

    lens: Id
    body: Id


class _Builds(_Mountless):
    """How near it is to focus, in m, and how far past infinity it is to reach, in mm."""

    near_m: Positive | None = None
    margin_mm: Annotated[float, Field(ge=0, le=50)] = USUAL_MARGIN_MM


class TryWritten(Written):
    """A length that was tried before the body, and what was seen."""

    length_mm: Length
    saw: Literal["sharp", "soft", "near"]
    distance_m: Positive | None = None


class Tries(Written):
    """What was tried; ``hand_mm`` is how steadily it was held, one standard uncertainty."""

    tries: list[TryWritten] = Field([], max_length=60)
    hand_mm: Annotated[float, Field(gt=0, le=10)] = 0.3


class BuildsPage(BaseModel):
    """What brings the lens into focus, and what a sleeve is made of; ``why``: not found yet where it is sharp."""

    report: MountlessReport | None
    ways: list[WayToMake]
    currency: str
    why: str


class PartWritten(Written):
    """A part of a known system that was tried on the thread, and what it did."""

    mount: Id
    outcome: Outcome
    turns: Annotated[float, Field(gt=0, le=50)] | None = None


class ThreadMeasured(Written):
    """A thread: over its crests, or across its bore, and a length over so many pitches."""

    side: Literal["male", "female"] = "male"
    diameter_mm: Annotated[float, Field(gt=0, le=1000)]
    length_mm: Annotated[float, Field(gt=0, le=1000)]
    pitches: Annotated[float, Field(gt=0, le=1000)]
    tried: list[PartWritten] = Field([], max_length=30)


class _Throw(BaseModel):
    """So many turns between two distances in m; without the second: infinity."""

    lens: Id
    turns: Annotated[float, Field(gt=0, le=10)]
    from_m: Positive
    to_m: Positive | None = None


class PieceNamed(BaseModel):
    """A piece to put on the bench; ``mounted`` is false for a lens that has no mount."""

    kind: JoinedKind
    id: str
    name: str
    at_hand: bool
    mounted: bool


@router.get("/pieces")
def get_bench_pieces(
    collection: CollectionOf, q: Annotated[str, Query(max_length=120)] = "", mountless: bool = False
) -> list[PieceNamed]:
    """Pieces whose names hold all these words, those at hand first; ``mountless``: lenses without a mount alone."""
    world = collection.world()
    wanted = Wanted(q=q, sort="nearest")
    piece_named = []
    for kind in _KINDS:
        for item in hits(world, kind, wanted):
            mounted = not isinstance(item, Lens) or item.mount is not None
            if isinstance(item, PieceItem) and not (mountless and mounted):
                named = PieceNamed(kind=kind, id=item.id, name=item.name, at_hand=item.at_hand > 0, mounted=mounted)
                piece_named.append(named)
    return sorted(piece_named, key=lambda piece_named: not piece_named.at_hand)[:MOST_PIECES]


@router.post("/holding")
def post_holding(held: Tries, asked: Annotated[_Mountless, Query()], collection: CollectionOf) -> HoldingReport:
    """Where a lens without a mount is sharp at infinity, by lengths that were tried before a body."""
    world = collection.world()
    tries = []
    for place, attempt in enumerate(held.tries):
        if attempt.saw == "near" and attempt.distance_m is None:
            raise NotPossibleError(f"tries[{place}].distance_m", "how far away what was sharp stands")
        tries.append(Try(attempt.length_mm, attempt.saw, attempt.distance_m))
    return holding_report(world, world.lens(asked.lens), world.body(asked.body), tries, hand_mm=held.hand_mm)


@router.get("/mountless")
def get_mountless(asked: Annotated[_Builds, Query()], collection: CollectionOf) -> BuildsPage:
    """What brings a lens without a mount into focus on a body."""
    world = collection.world()
    lens, body = world.lens(asked.lens), world.body(asked.body)
    if lens.mount is not None:
        raise NotPossibleError("lens", f"{lens.name} has a mount: look at it on the light path")
    ways, currency = list(WAYS_TO_MAKE), world.gear.currency
    try:
        report = mountless_of(
            world, lens, body, near_m=asked.near_m, margin_mm=asked.margin_mm, practice=collection.practice()
        )
    except ValueError as error:
        return BuildsPage(report=None, ways=ways, currency=currency, why=str(error))
    return BuildsPage(report=report, ways=ways, currency=currency, why="")


@router.post("/thread")
def post_thread(measured: ThreadMeasured, collection: CollectionOf) -> ThreadReport:
    """Which thread of the collection a screw is."""
    tried = [PartTried(part_written.mount, part_written.outcome, part_written.turns) for part_written in measured.tried]
    try:
        return which_thread(
            collection.world().gear.mounts,
            measured.diameter_mm,
            measured.length_mm,
            measured.pitches,
            side=measured.side,
            tried=tried,
        )
    except ValueError as error:
        raise NotPossibleError("tried", str(error)) from None


@router.get("/throw")
def get_throw(asked: Annotated[_Throw, Query()], collection: CollectionOf) -> ThrowReport:
    """How far a focus ring turns in all, by a part of it; beside other lenses."""
    world = collection.world()
    try:
        return throw_report(world.lens(asked.lens), world.gear.lenses, asked.turns, asked.from_m, asked.to_m)
    except UnknownIdError:
        raise
    except ValueError as error:
        raise NotPossibleError("lens", str(error)) from None
