"""Shelves, usual values, effects, evidence and saved rigs."""

from __future__ import annotations

import json
import math
from dataclasses import replace
from datetime import date
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, gear_of, lens, mount, ring, world_of
from tropeion.core.answers.effects import effect_of
from tropeion.core.answers.opening import opening
from tropeion.core.answers.saved_rigs import kept_rigs, noted
from tropeion.core.answers.usual_fields import usual_values
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.evidence import evidence_on
from tropeion.core.gear.gear import Gear, SavedRig
from tropeion.core.gear.items import Evidence
from tropeion.core.gear.kinds import KINDS as EVERY_KIND
from tropeion.core.gear.kinds import ShelfKind
from tropeion.core.gear.kit import free_id, items, users_of, users_of_each, with_entries, with_entry
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.references import check_references
from tropeion.core.gear.search import Sort, Wanted, search
from tropeion.core.gear.shelves import shelf_of
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes.grades import best_grade

KINDS: tuple[ShelfKind, ...] = ("protocols", "mounts", "bodies", "lenses", "adapters")


@pytest.mark.parametrize("kind", KINDS)
def test_a_shelf_holds_every_item_once_in_the_order_of_the_file(sample: World, kind: ShelfKind) -> None:
    assert [row.id for row in shelf_of(sample, kind).rows] == [item.id for item in items(sample.gear, kind)]


@pytest.mark.parametrize("kind", KINDS)
def test_without_filters_all_that_is_not_retired_is_found(sample: World, kind: ShelfKind) -> None:
    standing = {row.id for row in shelf_of(sample, kind).rows if not row.retired}
    found = search(sample, kind, Wanted())
    assert set(found) == standing
    assert len(found) == len(standing)


def test_words_are_sought_in_names_aliases_threads_and_mounts() -> None:
    thread = {"coupling": "screw", "thread": {"diameter_mm": 46, "pitch_mm": 1.1}, "aliases": ["Oldscrew"]}
    world = world_of(front=thread, the_lens=lens(aliases=["The Owl"], character=["glow"]))
    for words in ("owl", "oldscrew", "46 × 1,1", "M46", "test 50", "glow", "FRONT lens"):
        assert search(world, "lenses", Wanted(q=words)) == ("lens",), words
    assert search(world, "lenses", Wanted(q="owl ostrel")) == ()


def test_filters_are_those_people_think_in(sample: World) -> None:
    diagonal = math.hypot(36, 24)
    covering = set(search(sample, "lenses", Wanted(covers_mm=diagonal)))
    assert covering == {
        one.id for one in sample.gear.lenses if one.image_circle_mm is not None and one.image_circle_mm >= diagonal
    }
    assert covering
    having = search(sample, "bodies", Wanted(covers_mm=diagonal))
    assert {sample.bodies[id_].sensor_mm for id_ in having} == {(36.0, 24.0)}
    ends = search(sample, "adapters", Wanted(mount="kelvane"))
    assert set(ends) == {a.id for a in sample.gear.adapters if "kelvane" in {a.lens_mount, a.body_mount}}
    spoken = search(sample, "lenses", Wanted(contacts=True))
    assert {sample.lenses[id_].protocol is None for id_ in spoken} == {False}
    cheap = search(sample, "adapters", Wanted(price_up_to=30))
    assert cheap
    assert all((sample.adapters[id_].price or math.inf) <= 30 for id_ in cheap)
    at_hand = search(sample, "lenses", Wanted(hand="at_hand"))
    wanted = search(sample, "lenses", Wanted(hand="wanted"))
    assert set(at_hand) | set(wanted) == set(search(sample, "lenses", Wanted()))
    assert not set(at_hand) & set(wanted)


@given(sort=st.sampled_from(["name", "focal_length", "f_number", "length", "register", "price", "mass"]))
def test_sorting_keeps_every_item_and_puts_the_unknown_last(sample: World, sort: Sort) -> None:
    up = search(sample, "lenses", Wanted(sort=sort))
    down = search(sample, "lenses", Wanted(sort=sort, descending=True))
    assert sorted(up) == sorted(down)
    values = {
        "focal_length": lambda one: one.focal_length_mm[0],
        "price": lambda one: one.price,
        "mass": lambda one: one.mass_g,
        "length": lambda one: one.length_mm,
    }
    if sort in values:
        for ids, sign in ((up, 1), (down, -1)):
            told = [values[sort](sample.lenses[id_]) for id_ in ids]
            known = [sign * value for value in told if value is not None]
            assert known == sorted(known)
            assert told[: len(known)].count(None) == 0


def test_a_new_id_is_plain_and_free() -> None:
    assert free_id("Brünna 52/1.4 “old”", set()) == "brunna-52-1-4-old"
    assert free_id("Owl", {"owl", "owl-2"}) == "owl-3"
    assert free_id("¡…!", set()) == "item"


def test_who_uses_what_is_what_the_references_would_miss(sample_gear: Gear) -> None:
    """Taking out an item breaks a reference exactly if somebody is named as using it."""
    for kind in ("protocols", "mounts", "bodies", "lenses", "adapters", "rigs"):
        for item in items(sample_gear, kind):
            without = with_entry(sample_gear, kind, item.id, None)
            assert bool(check_references(without)) == bool(users_of(sample_gear, kind, item.id)), item.id


def test_usual_values_are_those_of_the_mount() -> None:
    lenses = [
        lens(id=f"l{n}", name=f"L{n}", aperture=how, image_circle_mm=circle)
        for n, (how, circle) in enumerate([("ring", 43.0), ("ring", 44.0), ("lever", 60.0)])
    ]
    world = compile_world(gear_of({"mounts": [mount("front", 45.0), mount("rear", 20.0)], "lenses": lenses}))
    told = {one.field: one.value for one in usual_values(world, "lenses", "front").assumed}
    assert (told["aperture"], told["image_circle_mm"], told["f_number"]) == ("ring", 44.0, (2.0, 16.0))
    (length,) = usual_values(world, "adapters", "front", "rear").sure
    assert (length.field, length.value) == ("length_mm", 25.0)
    assert usual_values(world, "adapters", "rear", "front").sure == ()


def test_adapters_with_glass_say_nothing_of_plain_ones() -> None:
    glass: dict[str, Any] = {"optics": "reducer", "magnification": 0.7, "register_in_mm": 45.0, "register_out_mm": 20.0}
    world = world_of([ring("plain", bore_mm=40.0), *(ring(f"g{n}", bore_mm=20.0, **glass) for n in range(3))])
    told = {one.field: one.value for one in usual_values(world, "adapters", "front", "rear").assumed}
    assert told["bore_mm"] == 40.0


def test_a_new_ring_tells_what_it_opens() -> None:
    world = world_of(the_lens=lens(owned=1), the_body=body(owned=1))
    entry = Adapter.model_validate_json(json.dumps(ring("new")))
    effect = effect_of(world, "adapters", "new", entry, Practice())
    (change,) = effect.pairs
    # Without it, the lens seats straight on the body and stands 25 mm too near.
    assert (change.lens, change.body, change.before) == ("lens", "body", "none")
    after = compile_world(with_entry(world.gear, "adapters", "new", entry))
    assert change.after == best_grade(after, after.lenses["lens"], after.bodies["body"], Practice())
    assert (effect.better, effect.worse, effect.judged) == (1, 0, 1)


def test_a_rig_is_kept_with_todays_grade_once() -> None:
    world, day = world_of([ring()]), date(2026, 11, 25)
    rig = SavedRig(id="first", name="First", lens="lens", body="body", adapters=("ring",))
    kept = noted(world, rig, Practice(), day)
    assert (kept.grade, kept.graded_on) == ("manual", "2026-11-25")
    assert noted(world, kept.model_copy(update={"grade": "none"}), Practice(), day).grade == "none"
    elsewhere = rig.model_copy(update={"adapters": ("nowhere",)})
    assert noted(world, elsewhere, Practice(), day) is elsewhere


def test_what_opens_is_a_saved_rig_else_what_is_at_hand() -> None:
    def gear(rigs: list[dict[str, Any]], **lenses: dict[str, int]) -> Gear:
        found = [lens(id=id_, **more) for id_, more in lenses.items()]
        mounts = [mount("front", 45.0), mount("rear", 20.0)]
        return gear_of({"mounts": mounts, "bodies": [body()], "lenses": found, "rigs": rigs})

    rig = {"id": "rig", "name": "Rig", "lens": "wished", "body": "body"}
    assert opening(gear([])) is None
    for lenses, rigs, first in (
        ({"wished": {}, "mine": {"owned": 1}}, [], "mine"),
        ({"wished": {}, "lent": {"borrowed": 1}}, [], "lent"),
        ({"wished": {}, "other": {}}, [], "wished"),
        ({"wished": {}, "mine": {"owned": 1}}, [rig], "wished"),
    ):
        found = opening(gear(rigs, **lenses))
        assert found is not None
        assert (found.lens, found.body) == (first, "body")


def test_a_correction_tells_which_saved_rigs_change() -> None:
    world = world_of([ring()], the_lens=lens(owned=1), the_body=body(owned=1))
    rig = {"id": "r", "name": "Rig", "lens": "lens", "body": "body", "adapters": ["ring"]}
    gear = gear_of({**world.gear.model_dump(mode="json", by_alias=True), "rigs": [rig]})
    world = compile_world(gear)
    (kept,) = kept_rigs(world, Practice()).rigs
    assert not kept.changed
    longer = gear.adapters[0].model_copy(update={"measured_length_mm": 30.0})
    effect = effect_of(world, "adapters", "ring", longer, Practice())
    (change,) = effect.rigs
    assert (change.id, change.before) == ("r", kept.grade)
    assert effect.worse == 1
    graded = gear.rigs[0].model_copy(update={"grade": kept.grade, "graded_on": "2026-11-02"})
    after = compile_world(with_entry(with_entry(gear, "rigs", "r", graded), "adapters", "ring", longer))
    (now,) = kept_rigs(after, Practice()).rigs
    assert now.changed
    assert (now.kept_grade, now.grade) == (kept.grade, change.after)


def test_a_world_made_like_another_judges_the_same(sample: World) -> None:
    """What is taken over holds: the grades are those of a world compiled anew."""
    changed = sample.gear.lenses[0].model_copy(update={"image_circle_mm": 20.0, "past_infinity_mm": 0.2})
    gear = with_entry(sample.gear, "lenses", changed.id, changed)
    lens_id, practice = changed.id, Practice()
    best_grade(sample, sample.lenses[lens_id], sample.gear.bodies[0], practice)
    like, anew = compile_world(gear, like=sample), compile_world(gear)
    for one in gear.bodies:
        expected = best_grade(anew, anew.lenses[lens_id], one, practice)
        assert best_grade(like, like.lenses[lens_id], one, practice) == expected
    longer = gear.adapters[0].model_copy(update={"length_mm": gear.adapters[0].length_mm + 5})
    other = compile_world(with_entry(gear, "adapters", longer.id, longer), like=sample)
    assert like.structure is sample.structure
    assert len(sample.structure.keeper) > 0
    assert len(other.structure.keeper) == 0


def test_evidence_is_counted_on_both_sides_for_an_item_and_for_a_pair() -> None:
    def said(verdict: str, source: str, *others: str) -> Evidence:
        told = {"claim": "reaches infinity", "verdict": verdict, "source": source, "with": others}
        return Evidence.model_validate(told)

    evidence = (
        said("confirmed", "shop"),
        said("contradicted", "own", "body"),
        said("confirmed", "review", "elsewhere"),
    )
    world = world_of([ring()])
    told = world.gear.adapters[0].model_copy(update={"evidence": evidence})
    world = compile_world(with_entry(world.gear, "adapters", "ring", told))
    pair = evidence_on(world, ["lens", "ring", "body"])
    assert (pair.confirmed, pair.contradicted, pair.own) == (1, 1, 1)
    assert pair.testimonies[0].about == ("Ring", "Test body")
    assert evidence_on(world, ["lens", "body"]).testimonies == ()
    alone = evidence_on(world, ["body"], whole=False)
    assert (alone.confirmed, alone.contradicted) == (0, 1)


def test_evidence_names_pieces_that_are_there() -> None:
    world = world_of([ring(evidence=[{"claim": "fits", "verdict": "confirmed", "source": "own", "with": ["ghost"]}])])
    (problem,) = check_references(world.gear)
    assert problem.place == "adapters[0].evidence[0].with[0]"


def test_an_assumed_value_names_a_field() -> None:
    assert gear_of({"mounts": [mount("front", 45.0)], "lenses": [lens(assumed=["image_circle_mm"])]})
    with pytest.raises(ValueError, match="no field of this kind"):
        gear_of({"mounts": [mount("front", 45.0)], "lenses": [lens(assumed=["image_circel_mm"])]})


def test_borrowed_is_at_hand() -> None:
    world = world_of([ring()], the_lens=lens(borrowed=1), the_body=body(owned=1))
    assert isinstance(world.lenses["lens"], Lens)
    assert world.lenses["lens"].at_hand == 1
    assert search(world, "lenses", Wanted(hand="at_hand")) == ("lens",)
    assert search(world, "lenses", replace(Wanted(), hand="owned")) == ()


@given(st.data())
def test_many_changes_at_once_are_the_same_as_one_after_the_other(sample_gear: Gear, data: st.DataObject) -> None:
    lenses = sample_gear.lenses
    ids = data.draw(st.lists(st.sampled_from([one.id for one in lenses[:6]]), unique=True))
    changes: list[tuple[Any, str, Any]] = []
    for id_ in ids:
        entry = next(one for one in lenses if one.id == id_)
        changes.append(
            ("lenses", id_, data.draw(st.sampled_from([None, entry.model_copy(update={"notes": "changed"})])))
        )
    for number in range(data.draw(st.integers(0, 3))):
        fresh = lenses[number].model_copy(update={"id": f"fresh-{number}"})
        changes.append(("lenses", fresh.id, fresh))
    one_by_one = sample_gear
    for change in changes:
        one_by_one = with_entry(one_by_one, *change)
    assert with_entries(sample_gear, changes).lenses == one_by_one.lenses
    kept = {one.id for one in one_by_one.lenses}
    assert kept == ({one.id for one in lenses} - {id_ for _, id_, entry in changes if entry is None}) | {
        id_ for _, id_, entry in changes if entry is not None
    }


def test_who_uses_many_items_is_told_as_for_each_alone(sample_gear: Gear) -> None:
    every = [(kind, one.id) for kind in EVERY_KIND for one in items(sample_gear, kind)]
    found = users_of_each(sample_gear, every)
    assert list(found) == every
    for kind, id_ in every[::7]:
        assert found[kind, id_] == users_of(sample_gear, kind, id_)
    # Once each: the body that has the mount, and the one whose plate can be changed for it.
    users = [user.id for user in found["mounts", "ostrel"] if user.kind == "bodies"]
    assert users == ["o7", "vigil"]
