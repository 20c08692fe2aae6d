"""The whole kit after a change: as if it were made anew; what a change would do; two bodies."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager, nullcontext
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.thorough import examples
from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.answers.grid import grid_of
from tropeion.core.answers.grid_change import GridChange, change_of_grid, difference_of, two_bodies
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, with_entry
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes import grades, promising, table
from tropeion.core.routes.match import match
from tropeion.core.routes.table import count_ways, table_of

PRACTICE = Practice()
ENDS = ("aster", "birch", "cedar", "dogwood")
REGISTERS = dict(zip(ENDS, (52.0, 44.0, 31.0, 18.0), strict=True))


def between(id_: str, front: str, rear: str, by_mm: float = -0.02, **more: Any) -> dict[str, Any]:
    length = round(REGISTERS[front] - REGISTERS[rear] + by_mm, 3)
    return ring(id_, max(0.1, length), lens_mount=front, body_mount=rear, **more)


def gear(*rings: dict[str, Any]) -> Gear:
    return gear_of(
        {
            "mounts": [mount(id_, mm, interface=id_) for id_, mm in REGISTERS.items()],
            "bodies": [
                body(id="b1", name="B1", mount="dogwood", owned=1),
                body(id="b2", name="B2", mount="cedar", owned=1),
                body(id="b3", name="B3", mount="birch"),
            ],
            "lenses": [
                lens(id="l1", name="L1", mount="aster", owned=1),
                lens(id="l2", name="L2", mount="aster", image_circle_mm=30.0),
                lens(id="l3", name="L3", mount="birch", owned=1),
                lens(id="l4", name="L4", mount="cedar", owned=1),
            ],
            "adapters": list(rings),
        }
    )


START = [
    between("r0", "aster", "dogwood", owned=1),
    between("r1", "aster", "cedar", price=5.0),
    between("r2", "cedar", "dogwood", owned=1),
    between("r3", "birch", "cedar", by_mm=0.3, price=9.0),
    between("r4", "birch", "dogwood", price=9.0),
    between("r5", "aster", "birch", owned=1),
]


@st.composite
def edits(draw: st.DrawFn) -> list[tuple[Kind, str, Entry | None]]:
    """Rings changed, added, archived, taken out; a lens or a body changed."""
    found: list[tuple[Kind, str, Entry | None]] = []
    base = gear(*START)
    for number in range(draw(st.integers(1, 6))):
        what = draw(st.sampled_from(["ring", "ring", "ring", "new", "gone", "lens", "body"]))
        one: Entry
        if what in {"ring", "new"}:
            front, rear = draw(st.sampled_from([(0, 1), (0, 2), (0, 3), (1, 2), (1, 3), (2, 3)]))
            id_ = f"n{number}" if what == "new" else draw(st.sampled_from([r["id"] for r in START]))
            more = {"owned": draw(st.integers(0, 1)), "retired": draw(st.sampled_from([False, False, True]))}
            by = draw(st.sampled_from([-0.02, 0.3, 2.0]))
            one = gear(between(id_, ENDS[front], ENDS[rear], by_mm=by, **more)).adapters[0]
            found.append(("adapters", id_, one))
        elif what == "gone":
            found.append(("adapters", draw(st.sampled_from([r["id"] for r in START])), None))
        elif what == "lens":
            one = draw(st.sampled_from(base.lenses))
            change = {"image_circle_mm": draw(st.sampled_from([20.0, 45.0])), "owned": draw(st.integers(0, 1))}
            found.append(("lenses", one.id, one.model_copy(update=change)))
        else:
            one = draw(st.sampled_from(base.bodies))
            found.append(("bodies", one.id, one.model_copy(update={"sensor_mm": (24.0, 16.0)})))
    return found


@contextmanager
def crowded() -> Iterator[None]:
    """As if few chains were too many."""
    with pytest.MonkeyPatch.context() as low:
        low.setattr(table, "MOST_LISTED", 6)
        low.setattr(table, "_MOST_TOGETHER", 16)
        for module in (promising, grades):
            low.setattr(module, "MOST_JUDGED", 3)
        yield


ROOM: dict[str, Callable[[], AbstractContextManager[None]]] = {"roomy": nullcontext, "crowded": crowded}


@pytest.mark.parametrize("room", ROOM)
@settings(deadline=None, max_examples=examples(45))
@given(changes=edits())
def test_after_any_edits_it_is_as_if_made_anew(room: str, changes: list[tuple[Kind, str, Entry | None]]) -> None:
    with ROOM[room]():
        world = compile_world(gear(*START))
        grid = grid_of(world, PRACTICE)
        for kind, id_, entry in changes:
            if entry is None and id_ not in world.adapters:
                continue
            world = compile_world(with_entry(world.gear, kind, id_, entry), world)
            grid = grid_of(world, PRACTICE, grid)
            assert grid.report == grid_of(compile_world(world.gear), PRACTICE).report


@pytest.mark.parametrize("room", ROOM)
@settings(deadline=None, max_examples=examples(40))
@given(changes=edits())
def test_tables_upon_others_hold_the_same_chains_in_the_same_order(
    room: str, changes: list[tuple[Kind, str, Entry | None]]
) -> None:
    with ROOM[room]():
        _same_chains(changes)


def _same_chains(changes: list[tuple[Kind, str, Entry | None]]) -> None:
    world = compile_world(gear(*START))
    table_of(world, world.gear.lenses[0], world.gear.bodies[0], 3)
    for kind, id_, entry in changes:
        if entry is not None or id_ in world.adapters:
            world = compile_world(with_entry(world.gear, kind, id_, entry), world)
    fresh = compile_world(world.gear)
    for one in world.gear.lenses:
        for on in world.gear.bodies:
            tables = [table_of(each, one, on, 3) for each in (world, fresh)]
            chains = [[[m.id for g in t.chain(row) for m in g.members] for row in range(len(t))] for t in tables]
            assert chains[0] == chains[1]
            assert tables[0].adds_mm.tolist() == tables[1].adds_mm.tolist()
            assert count_ways(world, one, on, 3) == count_ways(fresh, one, on, 3)


def test_an_edited_sample_tells_a_pair_as_a_fresh_one_does(sample: World) -> None:
    adapter = sample.adapter("kel-ost-plain").model_copy(update={"measured_length_mm": 26.4})
    edited = compile_world(with_entry(sample.gear, "adapters", adapter.id, adapter), sample)
    fresh = compile_world(edited.gear)
    for pair in (("kel-55", "o7"), ("tol-82", "o7"), ("tpr-36", "lark"), ("grm-98", "o7")):
        one, other = (match(world, *pair, PRACTICE, everything=True) for world in (edited, fresh))
        assert [route.adapters for route in one.routes] == [route.adapters for route in other.routes]
        assert dataclasses.replace(one) == dataclasses.replace(other)


# What a change would do


def changed(*changes: GridChange) -> Any:
    return change_of_grid(grid_of(compile_world(gear(*START)), PRACTICE), changes)


def test_a_body_sold_strands_what_worked_on_it_alone() -> None:
    told = changed(GridChange(what="sold", id="b2"))
    # L4 was native on it; L1 and L3 would have needed a ring that is not at hand.
    assert (told.better, told.worse) == (0, 1)
    assert {(one.lens, one.body) for one in told.pairs if one.before is not None} == {("l4", "b2")}
    assert told.stranded == ()
    both = changed(GridChange(what="sold", id="b1"), GridChange(what="sold", id="b2"))
    assert {"L1", "L4"} <= set(both.stranded)


def test_a_ring_bought_puts_a_lens_in_use_again() -> None:
    told = changed(GridChange(what="bought", id="r4"))
    assert told.freed == ("L3",)
    assert [(one.lens, one.body, one.before, one.after) for one in told.pairs] == [("l3", "b1", None, "manual")]


def test_a_lens_converted_goes_where_its_new_mount_goes() -> None:
    told = changed(GridChange(what="converted", id="l3", mount="cedar"))
    assert {(one.lens, one.body) for one in told.pairs if one.after is not None} == {("l3", "b1"), ("l3", "b2")}


def test_a_ring_as_measured_may_lose_infinity() -> None:
    told = changed(GridChange(what="measured", id="r0", length_mm=36.0))
    assert [(one.lens, one.after) for one in told.pairs if one.body == "b1"] == [("l1", "close_up")]


def test_what_a_change_lacks_is_refused_by_name() -> None:
    with pytest.raises(ValueError, match="which mount"):
        changed(GridChange(what="converted", id="l3"))
    with pytest.raises(ValueError, match="what the ring measures"):
        changed(GridChange(what="measured", id="r0"))
    with pytest.raises(UnknownIdError, match="nothing"):
        changed(GridChange(what="sold", id="nothing"))


def test_two_bodies_are_told_by_what_differs() -> None:
    report = grid_of(compile_world(gear(*START)), PRACTICE).report
    cells = {(one.lens, one.body): one for one in report.cells}
    differing = {id_ for id_ in ("l1", "l2", "l3", "l4") if _grades(cells[id_, "b1"]) != _grades(cells[id_, "b2"])}
    assert {one.lens for one in two_bodies(report, "b1", "b2")} == differing
    assert two_bodies(report, "b1", "b1") == ()


def _grades(cell: Any) -> Any:
    return cell.owned_grade, cell.market_grade


def test_another_preference_is_told_by_what_it_changes(sample: World) -> None:
    one, other = (grid_of(sample, practice).report for practice in (PRACTICE, Practice(pieces="1")))
    told = difference_of(one, other)
    assert told.better == 0
    assert all(found.before != found.after or found.could_before != found.could_after for found in told.pairs)
    assert told.pairs
