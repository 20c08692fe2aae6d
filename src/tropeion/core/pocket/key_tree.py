"""The key to the generations of a mount as a tree of questions, to be walked without computing."""

from __future__ import annotations

from collections import deque
from dataclasses import replace
from typing import Final

from tropeion.core.asking import go_on
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.joints.key import POSSIBLE, identify
from tropeion.core.joints.key_report import Answer, KeyReport, Meets

from .pocket_document import KeyNode, PocketChance, PocketMeets

# At most so many places in one key.
MOST_NODES = 240
EFFECT_SAYS: Final[dict[Meets, str]] = {
    "damage": "breaks parts",
    "safe_after": "after an action",
    "inspect": "inspect first",
    "no_metering": "no metering",
    "stop_down_metering": "stopped down",
    "meters": "meters",
    "nothing_known": "nothing stated",
}
_ANSWERS: tuple[Answer, ...] = ("yes", "no", "unknown")


def key_tree(world: World, mount: Mount) -> tuple[KeyNode, ...]:
    """Every place that the key leads to, the first one first; empty for a mount without generations to tell apart.

    The questions nearest to the first are carried first; a place that leads beyond is ``cut``.
    """
    if len(mount.generations) < 2:
        return ()
    nodes: list[KeyNode] = []
    reached: dict[frozenset[tuple[str, Answer]], int] = {}
    waiting: deque[dict[str, Answer]] = deque()

    def reach(answers: dict[str, Answer]) -> int | None:
        """The node of these answers, if it is carried."""
        given = frozenset(answers.items())
        if given not in reached and len(reached) < MOST_NODES:
            reached[given] = len(reached)
            waiting.append(answers)
        return reached.get(given)

    reach({})
    while waiting:
        go_on()
        answers = waiting.popleft()
        report = identify(world, mount.id, answers)
        node, question = _node(world, report), report.question
        if question is not None:
            led = {answer: reach({**answers, question.feature: answer}) for answer in _ANSWERS}
            node = replace(
                node, yes=led["yes"], no=led["no"], unknown=led["unknown"], cut=any(to is None for to in led.values())
            )
        nodes.append(node)
    return tuple(nodes)


def _node(world: World, report: KeyReport) -> KeyNode:
    question = report.question
    likely = sorted(report.remaining, key=lambda one: -one.probability)
    return KeyNode(
        asked=None if question is None else question.feature,
        yes=None,
        no=None,
        unknown=None,
        cut=False,
        settled=report.settled,
        remaining=tuple(PocketChance(one.label, one.probability) for one in likely if one.probability > POSSIBLE),
        meets=tuple(
            PocketMeets(
                world.bodies[one.body].name if one.body is not None else f"a body of generation {one.label}",
                one.effect,
                EFFECT_SAYS[one.effect],
                one.text,
                one.unless,
            )
            for one in report.may_mount
        ),
    )
