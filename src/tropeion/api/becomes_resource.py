"""What a combination becomes: tables over bodies and lenses, the way back from a wish, pieces that bring it closer."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from fastapi import Query, Response
from pydantic import AfterValidator, BaseModel, Field, TypeAdapter

from tropeion.core.answers.shop import world_with
from tropeion.core.becomes.becoming_tables import (
    Becomings,
    RigBecomes,
    Whose,
    bodies_of,
    lens_on_bodies,
    lenses_of,
    lenses_on_body,
    rig_becomes,
)
from tropeion.core.becomes.beside import Beside, RigAt, beside_of
from tropeion.core.becomes.closer import Closest, closer_of
from tropeion.core.becomes.reference import Reference, reference_of
from tropeion.core.becomes.sets import GAP_RATIO
from tropeion.core.becomes.wish import Wish, WishReport, wish_of
from tropeion.core.frame.ideal import FORMAT_MM, IdealView, ideal_of
from tropeion.core.frame.question import SubjectAt
from tropeion.core.frame.scenes import SceneName
from tropeion.core.gear.rig import ids_in
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.formats.becoming_table import dump_becomings
from tropeion.formats.frame_png import drawn
from tropeion.store.collection import Collection

from .practice_query import PracticeOf
from .resource import resource
from .shared import (
    Aperture,
    CollectionOf,
    FocalLength,
    Id,
    Ids,
    LensHeight,
    OfRig,
    SubjectDistance,
    SubjectHeight,
    attached,
)

router = resource("/api/v1/becomes", "becomes")
_TABLE = TypeAdapter(Becomings)
_MOST_MORE = 6


class _Table(BaseModel):
    """What every table is asked with; ``ref`` is the camera that equivalents are taken from, none: 36 × 24."""

    ref: Id | None = None
    whose: Whose = Field("mine", description="What is owned alone, or everything in the collection.")
    also: Id | None = Field(None, description="One more body, or lens, owned or not.")
    with_glass: bool = Field(True, description="With reducers, expanders and correcting glass.")

    def reference(self, world: World) -> Reference:
        return reference_of(world, self.ref)


class _OfLens(_Table):
    """A lens over bodies and modes."""

    lens: Id
    decimal: Literal["point", "comma"] = "point"

    def answer(self, collection: Collection, practice: Practice) -> Becomings:
        world = world_with(collection.world(), self.lens)
        lens, bodies = world.lens(self.lens), bodies_of(world, self.whose, self.also)
        return lens_on_bodies(world, lens, bodies, self.reference(world), practice, glass=self.with_glass)


class _OfBody(_Table):
    """Lenses over a body; ``without`` are keys of rows that do not count in the set."""

    body: Id
    mode: str = Field("", max_length=120, description="The mode of every row; none: the one in use of each.")
    without: list[Annotated[str, Field(max_length=900)]] = Field(default=[], max_length=300)
    gap: float = Field(GAP_RATIO, ge=1.1, le=10, description="From which ratio of two views there is a gap.")
    decimal: Literal["point", "comma"] = "point"

    def answer(self, collection: Collection, practice: Practice) -> Becomings:
        world = collection.world()
        body, lenses = world.body(self.body), lenses_of(world, self.whose, self.also)
        return lenses_on_body(
            world,
            body,
            lenses,
            self.reference(world),
            practice,
            glass=self.with_glass,
            mode=self.mode,
            without=frozenset(self.without),
            ratio=self.gap,
        )


@router.get("/lens", response_model=Becomings)
def get_lens_becomes(question: Annotated[_OfLens, Query()], practice: PracticeOf, collection: CollectionOf) -> Response:
    """One lens over bodies and all their modes, without glass and with each kind of it."""
    return Response(_TABLE.dump_json(question.answer(collection, practice)), media_type="application/json")


@router.get("/lens/table", response_class=Response)
def get_lens_table(question: Annotated[_OfLens, Query()], practice: PracticeOf, collection: CollectionOf) -> Response:
    """The same as a CSV table."""
    data = dump_becomings(question.answer(collection, practice), question.decimal)
    return attached(data, "tropeion-bodies.csv", "text/csv; charset=utf-8")


@router.get("/body", response_model=Becomings)
def get_body_becomes(question: Annotated[_OfBody, Query()], practice: PracticeOf, collection: CollectionOf) -> Response:
    """Lenses over one body, the widest first, and what they come to as a set: gaps, overlaps, which wides stay wide."""
    return Response(_TABLE.dump_json(question.answer(collection, practice)), media_type="application/json")


@router.get("/body/table", response_class=Response)
def get_body_table(question: Annotated[_OfBody, Query()], practice: PracticeOf, collection: CollectionOf) -> Response:
    """The same as a CSV table."""
    data = dump_becomings(question.answer(collection, practice), question.decimal)
    return attached(data, "tropeion-lenses.csv", "text/csv; charset=utf-8")


class _ViewWanted(BaseModel):
    """A view, and a depth of field, that somebody wants of a body."""

    body: Id
    focal_mm: FocalLength = Field(description="As on the reference.")
    f_number: Aperture | None = Field(None, description="None: any depth.")
    ref: Id | None = None


@router.get("/wish")
def get_wish(question: Annotated[_ViewWanted, Query()], practice: PracticeOf, collection: CollectionOf) -> WishReport:
    """What gives a view on a body: at hand, to be bought, near it; and what would have to exist."""
    world = collection.world()
    wish = Wish(question.focal_mm, question.f_number)
    reference = reference_of(world, question.ref)
    return wish_of(world, question.body, wish, reference, practice, lenses_of(world, "all"))


class _RigBecoming(OfRig):
    """One rig in one mode."""

    mode: Annotated[str, Field(max_length=120)] | None = None
    mm: FocalLength | None = Field(None, description="A zoom's setting, as engraved.")
    ref: Id | None = None
    guess: float | None = Field(None, gt=0, le=100_000, description="A number that somebody came to.")
    quantity: Literal["mm", "f"] = Field("mm", description="What that number is: a focal length or an aperture.")


@router.get("/rig")
def get_rig_becomes(
    question: Annotated[_RigBecoming, Query()], practice: PracticeOf, collection: CollectionOf
) -> RigBecomes:
    """One rig at every marked setting, the stabiliser's entries, and the mistakes that it invites."""
    world = world_with(collection.world(), question.lens)
    return rig_becomes(
        world,
        question.rig,
        reference_of(world, question.ref),
        practice,
        mode=question.mode,
        marked_mm=question.mm,
        guessed=None if question.guess is None else (question.guess, question.quantity),
    )


def _lengths(text: str) -> str:
    values = ids_in(text)
    if len(values) > _MOST_MORE:
        raise ValueError(f"at most {_MOST_MORE} lengths")
    for part in values:
        try:
            value = float(part)
        except ValueError:
            value = math.nan
        if not 0 < value <= 500:
            raise ValueError(f"“{part}”: lengths from above 0 to 500 mm, parted by commas")
    return text


class _CloserTo(OfRig):
    """A rig, and lengths that are tried in it."""

    mm: FocalLength | None = Field(None, description="A zoom's setting, as engraved.")
    more: Annotated[str, Field(max_length=80), AfterValidator(_lengths)] = Field(
        "", description="Extension in mm that is tried, whether or not it exists; by commas."
    )


@router.get("/closer")
def get_closer(question: Annotated[_CloserTo, Query()], practice: PracticeOf, collection: CollectionOf) -> Closest:
    """Near and far of this rig, of all longer ones of the pair, and of extension that is only tried."""
    world = world_with(collection.world(), question.lens)
    adapters = tuple(world.adapter(id_) for id_ in ids_in(question.via))
    more = [float(id_) for id_ in ids_in(question.more)]
    lens, body = world.lens(question.lens), world.body(question.body)
    return closer_of(world, lens, body, adapters, practice, more, question.mm)


class _TwoRigs(OfRig):
    """A rig at a setting and a distance, and another one."""

    mm: FocalLength | None = None
    aperture: Aperture | None = None
    mode: Annotated[str, Field(max_length=120)] | None = None
    distance_m: SubjectDistance = 3.0
    other_lens: Id
    other_body: Id
    other_via: Ids = ""
    other_mm: FocalLength | None = None
    other_mode: Annotated[str, Field(max_length=120)] | None = None


@router.get("/beside")
def get_beside(question: Annotated[_TwoRigs, Query()], practice: PracticeOf, collection: CollectionOf) -> Beside:
    """A second rig at the framing and the depth of the first: where it stands, what is set on its ring, whose noise."""
    world = world_with(collection.world(), question.lens)
    asked = question
    first = RigAt(asked.lens, asked.body, tuple(ids_in(asked.via)), asked.mm, asked.aperture, asked.mode)
    via = tuple(ids_in(asked.other_via))
    second = RigAt(asked.other_lens, asked.other_body, via, asked.other_mm, None, asked.other_mode)
    return beside_of(world, first, second, asked.distance_m, practice)


class _Ideal(BaseModel):
    """A plain view on a format."""

    mm: FocalLength
    aperture: Aperture
    width_mm: float = Field(36.0, ge=FORMAT_MM[0], le=FORMAT_MM[1])
    height_mm: float = Field(24.0, ge=FORMAT_MM[0], le=FORMAT_MM[1])
    scene: SceneName = "nave"
    subject_m: SubjectHeight
    distance_m: SubjectDistance
    lens_m: LensHeight
    rows: Literal["300", "600"] = "300"


@router.get(
    "/view", response_class=Response, responses={200: {"content": {"image/png": {}}, "description": "The picture."}}
)
def get_view(question: Annotated[_Ideal, Query()]) -> Response:
    """What a plain lens would show of a scene on a format, focused on the subject: the reference's picture, as PNG."""
    subject = SubjectAt(question.subject_m, question.distance_m, question.lens_m)
    asked = IdealView(question.scene, question.mm, question.aperture, question.width_mm, question.height_mm, subject)
    scene, view = ideal_of(asked)
    data = drawn(scene, view, int(question.rows), 0)
    return Response(data, media_type="image/png", headers={"cache-control": "private, max-age=3600"})
