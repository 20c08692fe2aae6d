"""Saved rigs: what each comes to today, beside what it came to when it was kept."""

from __future__ import annotations

from datetime import date

from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.gear import SavedRig
from tropeion.core.gear.kit import with_entry
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.references import check_references
from tropeion.core.gear.world import World
from tropeion.core.keeping import kept
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.rig.pieces import piece_of
from tropeion.core.rig.reporting import judge
from tropeion.core.rig.rig_report import Piece
from tropeion.core.rig.section import Section


@frozen
class KeptRig:
    """A saved rig. ``kept_grade`` is None where it was never noted; ``changed`` tells whether today's is another."""

    id: str
    name: str
    notes: str
    lens: str
    body: str
    adapters: tuple[str, ...]
    kept_grade: Grade | None
    graded_on: str | None
    grade: Grade
    changed: bool
    sentence: str
    section: Section
    retired: tuple[str, ...]


@frozen
class RigsReport:
    """Every saved rig, in the order of the collection. ``retired`` names pieces that have left the shelf."""

    rigs: tuple[KeptRig, ...]
    pieces: dict[str, Piece]


def noted(world: World, rig: SavedRig, practice: Practice, day: date) -> SavedRig:
    """A rig with the grade that it comes to on a day, so that a later change is noticed; one that has a grade keeps it.

    Left as it is where it names what is not in the collection.
    """
    if rig.grade is not None or check_references(with_entry(world.gear, "rigs", rig.id, rig)):
        return rig
    return rig.model_copy(update={"grade": grade_of_rig(world, rig, practice), "graded_on": day.isoformat()})


def grade_of_rig(world: World, rig: SavedRig, practice: Practice) -> Grade:
    """What a rig comes to."""
    return assess(world, *world.pieces_of(rig.rig), practice).grade


@kept(most=16)
def kept_rigs(world: World, practice: Practice) -> RigsReport:
    """Every saved rig, judged anew."""
    all_kept_rigs, pieces = [], {}
    for rig in world.gear.rigs:
        lens, adapters, body = world.pieces_of(rig.rig)
        route = judge(world, lens, adapters, body, practice, detailed=False)
        parts: list[Lens | Adapter | Body] = [lens, *adapters, body]
        pieces.update({part.id: piece_of(world, part) for part in parts})
        all_kept_rigs.append(
            KeptRig(
                id=rig.id,
                name=rig.name,
                notes=rig.notes,
                lens=rig.lens,
                body=rig.body,
                adapters=rig.adapters,
                kept_grade=rig.grade,
                graded_on=rig.graded_on,
                grade=route.grade,
                changed=rig.grade is not None and rig.grade != route.grade,
                sentence=route.sentence,
                section=route.section,
                retired=tuple(part.name for part in parts if part.retired),
            )
        )
    return RigsReport(tuple(all_kept_rigs), pieces)
