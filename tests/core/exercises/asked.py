"""Questions of the sample world, by a seed: each of its own difficulty."""

from __future__ import annotations

import functools

from tests.core.exercises.plain_gear import BODIES, LENSES, Item, adapter
from tests.thorough import EVERYWHERE
from tropeion.core.exercises.posing import pose
from tropeion.core.exercises.question import PosedQuestion, SkillId
from tropeion.core.gear.world import compile_world
from tropeion.core.practice import Practice
from tropeion.formats import gear_file
from tropeion.sample import sample_bytes

SAMPLE = compile_world(gear_file.load(sample_bytes()))


def seeds() -> range:
    """Twenty questions of a skill, 2,000 where everything is tried."""
    return range(2000 if EVERYWHERE else 20)


@functools.cache
def asked(skill: SkillId, seed: int, *, trap: str | None = None, practice: Practice | None = None) -> PosedQuestion:
    return pose(SAMPLE, practice or Practice(), skill, seed, difficulty=(seed % 11) / 10, trap=trap)


def rig_of(question: PosedQuestion) -> tuple[Item, list[Item], Item]:
    """The pieces that a question is about, as they stand in the gear file."""
    about = question.about
    assert about.lens is not None
    assert about.body is not None
    return LENSES[about.lens], [adapter(id_) for id_ in about.adapters], BODIES[about.body]
