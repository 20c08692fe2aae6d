"""A rig's card, and what the rig is to a camera: what a rehearsal needs."""

from __future__ import annotations

from tropeion.core.camera.attached import Attached, attached_of
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.rig.reporting import report_on
from tropeion.core.rig.rig_report import StepLine
from tropeion.core.rig.setting_steps import stored_name


@frozen
class Rehearsed:
    """A rig that is rehearsed. ``attached`` is None where it must not be, or cannot be, put together."""

    body: Body
    steps: tuple[StepLine, ...]
    attached: Attached | None
    stored_name: str
    sentence: str


def to_rehearse(world: World, rig: Rig, practice: Practice) -> Rehearsed:
    """The card of a rig and what it is to its body. Raises UnknownIdError, MountlessError."""
    lens, adapters, body = world.pieces_of(rig)
    judged = assess(world, lens, adapters, body, practice)
    route = report_on(judged)
    assert route.details is not None
    works = judged.grade not in {"danger", "none"}
    attached = attached_of(judged, route.details) if works else None
    return Rehearsed(body, route.details.steps, attached, stored_name(judged.rig), route.sentence)
