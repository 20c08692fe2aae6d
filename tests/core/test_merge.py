"""Taking one collection into another."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.merge import chosen, compare, merged
from tropeion.formats import gear_file

MOUNTS = [mount("front", 45.0), mount("rear", 20.0)]


def gear(lenses: list[dict[str, object]], adapters: list[dict[str, object]]) -> Gear:
    return gear_of({"mounts": MOUNTS, "bodies": [body()], "lenses": lenses, "adapters": adapters})


def test_each_item_is_new_changed_the_same_or_in_conflict() -> None:
    mine = gear([lens(), lens(id="other", name="Other")], [ring("ring", 25.0)])
    theirs = gear(
        [lens(f_number=[1.8, 16]), lens(id="other", name="Other", mount="rear"), lens(id="third", name="Third")],
        [ring("ring", 25.0)],
    )
    found = {(change.kind, change.id): change for change in compare(mine, theirs)}
    assert found["lenses", "third"].status == "new"
    assert found["adapters", "ring"].status == found["mounts", "front"].status == "same"
    changed = found["lenses", "lens"]
    assert changed.status == "changed"
    assert [(f.field, f.before, f.after) for f in changed.fields] == [("f_number", "[2.0, 16.0]", "[1.8, 16.0]")]
    assert found["lenses", "other"].status == "conflict"


def test_only_what_is_chosen_is_taken_and_the_rest_stays() -> None:
    mine = gear([lens(), lens(id="mine", name="Mine")], [])
    theirs = gear([lens(f_number=[1.8, 16]), lens(id="third", name="Third")], [])
    taken = merged(mine, theirs, {("lenses", "third")})
    assert [one.id for one in taken.lenses] == ["lens", "mine", "third"]
    assert taken.lenses[0].f_number == (2.0, 16.0)
    both = merged(mine, theirs, {("lenses", "third"), ("lenses", "lens")})
    assert both.lenses[0].f_number == (1.8, 16.0)
    assert merged(mine, theirs, set()) == mine


rings = st.lists(
    st.builds(
        lambda number, length, price: ring(f"r{number}", length, price=price),
        st.integers(0, 9),
        st.sampled_from([5.0, 25.0, 25.05]),
        st.sampled_from([None, 9.0]),
    ),
    max_size=6,
    unique_by=lambda one: one["id"],
)


@given(rings, rings)
def test_taking_everything_makes_all_of_it_the_same_and_loses_nothing(
    mine: list[dict[str, object]], theirs: list[dict[str, object]]
) -> None:
    one, other = gear([lens()], mine), gear([lens()], theirs)
    everything = {(change.kind, change.id) for change in compare(one, other)}
    taken = merged(one, other, everything)
    assert all(change.status == "same" for change in compare(taken, other))
    assert {item.id for item in taken.adapters} == {str(each["id"]) for each in (*mine, *theirs)}
    # Written and read again, it is what it was.
    assert gear_file.load(gear_file.dump(taken)) == taken
    assert all(change.status == "same" for change in compare(taken, gear_file.load(gear_file.dump(taken))))


def test_of_the_kinds_of_change_some_are_left_and_others_taken_besides() -> None:
    mine = gear([lens(), lens(id="other", name="Other")], [ring("ring", 25.0)])
    theirs = gear(
        [lens(f_number=[1.8, 16]), lens(id="other", name="Other", mount="rear"), lens(id="third", name="Third")],
        [ring("ring", 25.0)],
    )
    changes = compare(mine, theirs)
    assert chosen(changes, {"new"}) == {("lenses", "third")}
    assert chosen(changes, {"new", "changed"}, leave={("lenses", "third")}) == {("lenses", "lens")}
    assert chosen(changes, {"changed"}, also={("lenses", "other")}) == {("lenses", "lens"), ("lenses", "other")}
    both = {("lenses", "third")}
    assert chosen(changes, (), leave=both, also=both) == both
