"""Gather what is carried: every answer by the same code that the screens ask."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from typing import Final

from tropeion.core.answers.fits import Fit
from tropeion.core.answers.shop import LensSeen, would_fit
from tropeion.core.asking import go_on
from tropeion.core.frame.question import FrameQuestion, NotPossibleError
from tropeion.core.frame.simulated import frame_of
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.gear import SavedRig
from tropeion.core.gear.mounts import Feature, Mount
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import MountlessError, UnknownIdError, UnknownRegisterError, World
from tropeion.core.log.in_hand import in_hand
from tropeion.core.optics.register import room_mm
from tropeion.core.plan.look_alikes import mounts_like
from tropeion.core.plan.look_for import labels_of
from tropeion.core.plan.shopping import end_of
from tropeion.core.practice import Practice
from tropeion.core.records.outing_record import Outing
from tropeion.core.rig.cautions import minded_in
from tropeion.core.rig.reporting import judge
from tropeion.core.setup.outing import outing_report
from tropeion.core.setup.setup import set_up_of
from tropeion.core.words import TERMS

from .key_tree import key_tree
from .pocket_document import (
    EDITION,
    Pocket,
    PocketBody,
    PocketDepth,
    PocketFeature,
    PocketFit,
    PocketGeneration,
    PocketOuting,
    PocketPacked,
    PocketRig,
    PocketRing,
    PocketShot,
    PocketStep,
    PocketSystem,
)

# The focal length of a lens of which only the mount is known; what fits hardly depends on it.
ASSUMED_MM: Final = 50.0
MOST_RIGS: Final = 200
MOST_HANDS: Final = 60
Progress = Callable[[int, int], None]


@frozen
class Carried:
    """What is carried of a collection: what it is, its practice, its outings and the rigs that were logged last."""

    collection: str
    standing: str
    made_at: str
    practice: Practice
    outings: Sequence[Outing] = ()
    logged: Sequence[Rig] = ()


def gather(world: World, carried: Carried, progress: Progress | None = None) -> Pocket:
    """Everything that is carried. ``progress`` is told (done, in all).

    Raises NobodyAsksError where nobody waits for it any more.
    """
    mounts, rigs = world.gear.mounts, world.gear.rigs[:MOST_RIGS]
    total, done = len(mounts) + len(rigs) + len(carried.outings), 0

    def one_more() -> None:
        nonlocal done
        done += 1
        if progress is not None:
            progress(done, total)
        go_on()

    rings: dict[str, PocketRing] = {}
    systems, bodies = [], {body.id: body for body in _bodies(world)}
    for mount in mounts:
        systems.append(_system(world, mount, carried.practice, rings))
        one_more()
    told_rigs = []
    for rig in rigs:
        told_rigs.append(carried_rig(world, rig, carried.practice))
        one_more()
    outings = []
    for outing in carried.outings:
        outings.append(_outing(world, outing, carried.practice))
        one_more()
    hands = dict.fromkeys(
        (*carried.logged, *(Rig(rig.lens, rig.body, rig.adapters) for rig in rigs if rig.lens in world.lenses))
    )
    return Pocket(
        edition=EDITION,
        collection=carried.collection,
        standing=carried.standing,
        made_at=carried.made_at,
        currency=world.gear.currency,
        owned=any(body.at_hand for body in bodies.values()),
        assumed_mm=ASSUMED_MM,
        bodies=tuple(_body(world, body) for body in bodies.values()),
        rings=rings,
        systems=tuple(systems),
        rigs=tuple(told_rigs),
        hands=tuple(in_hand(world, rig) for rig in list(hands)[:MOST_HANDS]),
        outings=tuple(outings),
        terms=TERMS,
        left_out=tuple(_left_out(len(world.gear.rigs), len(hands))),
    )


def _left_out(rigs: int, hands: int) -> Iterator[str]:
    if rigs > MOST_RIGS:
        yield f"{rigs - MOST_RIGS} of {rigs} kept rigs"
    if hands > MOST_HANDS:
        yield f"what can be noted of {hands - MOST_HANDS} of {hands} rigs"


def _bodies(world: World) -> list[Body]:
    """Those that are asked about: what is owned; all, if nothing is."""
    bodies = [body for body in world.gear.bodies if not body.retired]
    return [body for body in bodies if body.at_hand] or bodies


def _body(world: World, body: Body) -> PocketBody:
    mount = world.mounts[body.mount]
    return PocketBody(body.id, body.name, mount.name, mount.register_mm)


def _system(world: World, mount: Mount, practice: Practice, rings: dict[str, PocketRing]) -> PocketSystem:
    told: list[tuple[str | None, str]] = [(None, "not known" if mount.generations else "")]
    told += [(generation.id, generation.label) for generation in mount.generations if mount.rules]
    generations = []
    for id_, label in told:
        go_on()
        found = would_fit(world, LensSeen(mount.id, ASSUMED_MM, generation=id_), practice)
        fits = tuple(_fit(world, mount, fit, rings) for fit in found.report.fits)
        generations.append(PocketGeneration(id_, label, fits))
    return PocketSystem(
        mount=mount.id,
        name=mount.name,
        aliases=mount.aliases,
        register_mm=mount.register_mm,
        generations=tuple(generations),
        features=tuple(_feature(feature) for feature in mount.features if feature.side == "lens"),
        key=key_tree(world, mount),
    )


def _feature(part: Feature) -> PocketFeature:
    asked = part.question or f"Is there a {part.label}?"
    return PocketFeature(part.id, part.label, asked, part.look_at, part.misleading)


def _fit(world: World, mount: Mount, fit: Fit, rings: dict[str, PocketRing]) -> PocketFit:
    # What does not work is not to be bought.
    pieces = [world.adapter(id_) for id_ in fit.adapters] if fit.works else []
    need = fit.would_need
    looked_for = [] if need is None else [world.adapter(id_) for id_ in need.adapters]
    for piece in (*pieces, *looked_for):
        if not piece.at_hand and piece.id not in rings:
            rings[piece.id] = _ring(world, piece)
    return PocketFit(
        body=fit.id,
        grade=fit.grade,
        works=fit.works,
        surely=fit.surely,
        possible=fit.possible,
        room_mm=room_mm(mount, world.mounts[world.bodies[fit.id].mount]),
        sentence=fit.sentence,
        rings=tuple(piece.id for piece in pieces if not piece.at_hand),
        owned=tuple(piece.name for piece in pieces if piece.at_hand),
        unlisted=tuple(piece.id for piece in looked_for if not piece.at_hand),
        unlisted_grade=None if need is None else need.grade,
        minds=tuple(dict.fromkeys((*(caution.text for caution in fit.cautions), *fit.warnings))),
    )


def _ring(world: World, piece: Adapter) -> PocketRing:
    front, rear = world.mounts[piece.lens_mount], world.mounts[piece.body_mount]
    return PocketRing(
        id=piece.id,
        name=piece.name,
        listed=any(adapter.id == piece.id for adapter in world.gear.adapters),
        lens_end=end_of(front),
        camera_end=end_of(rear),
        labels=labels_of(front, rear),
        refuse=tuple(f"{one.name}: {one.why}" for one in mounts_like(world, (front, rear))),
        price=piece.price,
    )


def carried_rig(world: World, kept: SavedRig, practice: Practice) -> PocketRig:
    """A kept rig as it is carried; one that cannot be judged says why."""
    pieces = " · ".join(
        named.get(id_, id_)
        for id_, named in (
            (kept.lens, {lens.id: lens.name for lens in world.gear.lenses}),
            *((id_, {piece.id: piece.name for piece in world.gear.adapters}) for id_ in kept.adapters),
            (kept.body, {body.id: body.name for body in world.gear.bodies}),
        )
    )
    told = PocketRig(
        id=kept.id,
        name=kept.name,
        lens=kept.lens,
        body=kept.body,
        adapters=kept.adapters,
        pieces=pieces,
        grade=None,
        sentence="",
        camera_says="",
        support_says="",
        steps=(),
        entries=(),
        usable_says=(),
        minds=(),
        depth=(),
        why="",
    )
    try:
        set_up = set_up_of(world, kept.rig, practice)
    except (UnknownIdError, MountlessError, UnknownRegisterError, NotPossibleError) as error:
        return replace(told, why=str(error))
    route = judge(world, *world.pieces_of(kept.rig), practice)
    return replace(
        told,
        grade=set_up.grade,
        sentence=set_up.sentence,
        camera_says=set_up.camera_says,
        support_says=set_up.support_says,
        steps=tuple(PocketStep(step.text, step.caution) for step in set_up.steps),
        entries=set_up.entries,
        usable_says=set_up.usable_says,
        minds=tuple(caution.text for caution in minded_in(route)),
        depth=_depth(world, kept.rig, practice),
    )


def _depth(world: World, rig: Rig, practice: Practice) -> tuple[PocketDepth, ...]:
    try:
        report = frame_of(world, rig, FrameQuestion(), practice).report
    except (MountlessError, UnknownRegisterError, NotPossibleError):
        return ()
    if report.reason:
        return ()
    return tuple(PocketDepth(row.f_number, row.distance_m, row.near_m, row.far_m) for row in report.depth)


def _outing(world: World, outing: Outing, practice: Practice) -> PocketOuting:
    report = outing_report(world, outing, practice)
    return PocketOuting(
        id=outing.id,
        name=outing.name,
        day=outing.day,
        says=report.says,
        shots=tuple(PocketShot(shot.name, shot.rig_name, shot.says) for shot in report.shots),
        packed=tuple(
            PocketPacked(piece.id, piece.name, piece.count, piece.missing, piece.says) for piece in report.packed
        ),
        ticked=outing.packed,
        batteries=report.batteries,
        at_home=report.at_home,
    )
