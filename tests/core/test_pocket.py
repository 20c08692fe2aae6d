"""What is carried is what the core says: the key along every path, rings that are to be bought, what is too much."""

from __future__ import annotations

import gzip
from dataclasses import replace
from functools import cache

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from tests.prepared import sample_world
from tests.random_worlds import world_by_chance
from tests.thorough import examples
from tropeion.core.gear.gear import Gear, SavedRig
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import compile_world
from tropeion.core.joints.key import POSSIBLE, identify
from tropeion.core.joints.key_report import Answer
from tropeion.core.pocket.gathering import Carried, carried_rig, gather
from tropeion.core.pocket.key_tree import MOST_NODES, key_tree
from tropeion.core.pocket.pocket_document import KeyNode, Pocket
from tropeion.core.practice import Practice
from tropeion.formats.pocket_json import ORDER, dump_pocket

ANSWERS: tuple[Answer, ...] = ("yes", "no", "unknown")


@cache
def pocket() -> Pocket:
    logged = [Rig("kel-55", "o7", ("kel-ost-plain",)), Rig("gone", "o7")]
    return gather(sample_world(), Carried("c", "s", "2026-12-01T10:00:00+00:00", Practice(), (), logged))


@cache
def tree() -> tuple[KeyNode, ...]:
    return key_tree(sample_world(), sample_world().mounts["kelvane"])


@given(st.lists(st.sampled_from(ANSWERS), max_size=9))
def test_the_tree_says_what_the_key_says(path: list[Answer]) -> None:
    node, answers = tree()[0], dict[str, Answer]()
    for answer in path:
        if node.asked is None:
            break
        to = getattr(node, answer)
        if to is None:
            assert node.cut
            break
        answers[node.asked] = answer
        node = tree()[to]
    report = identify(sample_world(), "kelvane", answers)
    assert node.asked == (None if report.question is None else report.question.feature)
    assert node.settled == report.settled
    told = {(one.label, one.probability) for one in node.remaining}
    assert told == {(one.label, one.probability) for one in report.remaining if one.probability > POSSIBLE}
    assert [(one.effect, one.text, one.unless) for one in node.meets] == [
        (one.effect, one.text, one.unless) for one in report.may_mount
    ]


def test_the_tree_is_bounded_and_its_nearest_questions_come_first() -> None:
    assert len(tree()) <= MOST_NODES
    deep = {0: 0}
    for at, node in enumerate(tree()):
        for to in (node.yes, node.no, node.unknown):
            if to is not None:
                deep.setdefault(to, deep[at] + 1)
    # Every place is reached, and none lies deeper than one that is left out.
    assert sorted(deep) == list(range(len(tree())))
    cut = min((deep[at] for at, node in enumerate(tree()) if node.cut), default=None)
    assert cut is None or max(deep.values()) <= cut + 1


def test_a_system_with_nothing_to_tell_apart_has_no_key() -> None:
    empty = {system.mount for system in pocket().systems if not system.key}
    assert {mount.id for mount in sample_world().gear.mounts if not mount.generations} <= empty


def test_rings_to_buy_are_none_that_are_owned_and_none_where_it_does_not_work() -> None:
    world, found = sample_world(), pocket()
    owned = {adapter.name for adapter in world.gear.adapters if adapter.at_hand}
    bought = 0
    for system in found.systems:
        for generation in system.generations:
            for fit in generation.fits:
                assert fit.works or not fit.rings
                for id_ in (*fit.rings, *fit.unlisted):
                    assert found.rings[id_].name not in owned
                    bought += 1
                assert set(fit.owned) <= owned
    assert bought > 20


def test_a_ring_names_both_ends_and_what_is_easily_taken_for_it() -> None:
    ring = next(ring for ring in pocket().rings.values() if "Tolmer 46 (" in ring.lens_end)
    assert ring.lens_end == "Tolmer 46 (46 × 1.1, T46)"
    assert any(text.startswith("Tolmer 46 projection: ") and "16.10 mm off" in text for text in ring.refuse)
    assert any(label.startswith("Tolmer 46–") for label in ring.labels)


def test_what_can_be_noted_of_a_rig_is_carried_even_where_a_piece_is_gone() -> None:
    hands = {(hand.lens, hand.body): hand for hand in pocket().hands}
    assert hands["kel-55", "o7"].stops[0] == 2.2
    assert hands["gone", "o7"].unknown == ("gone",)


def test_a_kept_rig_that_cannot_be_judged_says_why() -> None:
    lost = carried_rig(sample_world(), SavedRig(id="lost", name="Lost", lens="barrel-90", body="o7"), Practice())
    assert (lost.grade, lost.steps, lost.depth) == (None, (), ())
    assert "no mount" in lost.why


def test_an_empty_collection_is_carried_too() -> None:
    found = gather(compile_world(Gear(format="tropeion-gear", version=1)), Carried("c", "s", "now", Practice()))
    assert (found.systems, found.bodies, found.rigs, found.owned) == ((), (), (), False)


@pytest.mark.parametrize("seed", range(examples(30)))
def test_any_world_is_carried(seed: int) -> None:
    world = world_by_chance(seed)
    found = gather(world, Carried("c", "s", "now", Practice()))
    assert len(found.systems) == len(world.gear.mounts)
    at_hand = [body.id for body in world.gear.bodies if body.at_hand and not body.retired]
    everything = [body.id for body in world.gear.bodies if not body.retired]
    assert [body.id for body in found.bodies] == (at_hand or everything)
    assert found.owned == bool(at_hand)


def test_what_is_too_much_is_left_out_in_order_and_said() -> None:
    whole, data = dump_pocket(pocket())
    assert whole.left_out == ()
    assert TypeAdapter(Pocket).validate_json(data) == pocket()
    sizes = [len(gzip.compress(data, 5))]
    for count, (said, lighter) in enumerate(ORDER, 1):
        wanted = sizes[-1] - 1
        lighter_pocket, fewer = dump_pocket(pocket(), wanted)
        assert said in lighter_pocket.left_out or count > len(ORDER)
        assert lighter_pocket.left_out == tuple(told for told, _ in ORDER[: len(lighter_pocket.left_out)])
        sizes.append(len(gzip.compress(fewer, 5)))
        assert replace(lighter(pocket()), left_out=()) != pocket()
        if len(lighter_pocket.left_out) == len(ORDER):
            break
    assert sizes == sorted(sizes, reverse=True)


@pytest.mark.parametrize("said", [told for told, _ in ORDER])
def test_the_order_is_said_in_words(said: str) -> None:
    assert said == said.strip()
    assert said[0].islower()
