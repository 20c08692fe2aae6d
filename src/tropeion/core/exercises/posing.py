"""Which draft becomes the question: the one whose wrong answers are as near as is asked for."""

from __future__ import annotations

import itertools
from random import Random
from typing import Final

from tropeion.core.gear.world import World
from tropeion.core.practice import Practice

from .drafting import Skill
from .hand import Hand
from .of_buy import BUY
from .of_caliper import CALIPER
from .of_cause import CAUSE
from .of_circle import CIRCLE
from .of_code import CODE
from .of_equivalents import EQUIVALENTS
from .of_generation import GENERATION
from .of_label import LABEL
from .of_links import LINKS
from .of_reach import REACH
from .of_setup import SETUP
from .of_stabiliser import STABILISER
from .question import AnswerChoice, CannotAskError, Draft, PosedQuestion, SkillId

SKILL: Final[dict[SkillId, Skill]] = {
    "generation": GENERATION,
    "label": LABEL,
    "reach": REACH,
    "links": LINKS,
    "equivalents": EQUIVALENTS,
    "stabiliser": STABILISER,
    "buy": BUY,
    "caliper": CALIPER,
    "cause": CAUSE,
    "setup": SETUP,
    "circle": CIRCLE,
    "code": CODE,
}
USUAL_DIFFICULTY: Final = 0.5
# So many drafts are made, and the one is asked that is nearest to what is wanted.
_DRAFTS = 6


def pose(
    world: World,
    practice: Practice,
    skill: SkillId,
    seed: int,
    *,
    difficulty: float = USUAL_DIFFICULTY,
    trap: str | None = None,
    helper: World | None = None,
) -> PosedQuestion:
    """A question of a skill; the same for the same seed, gear and preferences.

    Where the collection gives none, ``helper`` does. Raises CannotAskError, and KeyError for a trap it does not have.
    """
    traps = SKILL[skill].traps
    chance = Random(f"{skill} {seed} {trap or ''}")
    tried = [trap] if trap is not None else chance.sample(list(traps), len(traps))
    for at, other in ((world, False), (helper, True)):
        if at is None:
            continue
        for name in tried:
            hand = Hand(at, practice, Random(f"{skill} {seed} {name}"))
            drafts = list(itertools.islice(traps[name].drafts(hand), _DRAFTS))
            if drafts:
                best = min(drafts, key=lambda draft: abs(draft.nearness - difficulty))
                return _question(best, skill, hand.chance, helped=other)
    raise CannotAskError(f"neither the collection nor the sample world gives such a question: {skill}")


def _question(draft: Draft, skill: SkillId, chance: Random, *, helped: bool) -> PosedQuestion:
    return PosedQuestion(
        skill=skill,
        trap=draft.trap,
        difficulty=round(min(1.0, max(0.0, draft.nearness)), 3),
        asks=draft.asks,
        about=draft.about,
        choices=_in_order(draft, chance),
        right=draft.choices[0].id,
        why=draft.why,
        working=draft.working,
        shown=draft.shown,
        described=draft.described,
        by=draft.by,
        helped=helped,
    )


def _in_order(draft: Draft, chance: Random) -> tuple[AnswerChoice, ...]:
    """The choices as they are shown: pieces as they stand in the rig, jaws as they open, anything else by chance."""
    choices = draft.choices
    if draft.by == "point":
        rig = (draft.about.lens, *draft.about.adapters, draft.about.body)
        return tuple(sorted(choices, key=lambda choice: rig.index(choice.id) if choice.id in rig else len(rig)))
    if draft.by == "jaws":
        return tuple(sorted(choices, key=lambda choice: float(choice.text.split()[0].replace("−", "-"))))
    return tuple(chance.sample(choices, len(choices)))
