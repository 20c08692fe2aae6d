"""A grid that is kept while the collection is edited, and what is looked at first, against all of it made anew."""

from __future__ import annotations

from random import Random

import pytest

from tests.random_worlds import world_by_chance
from tests.thorough import examples
from tests.worlds import body as a_body
from tests.worlds import gear_of, lens, mount, ring
from tropeion.core.answers.grid import Grid, grid_of
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, with_entry
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes import grades
from tropeion.core.routes.grades import best_of_each

PRACTICE = Practice(pieces="2")


def edited(grid: Grid, kind: Kind, id_: str, entry: Entry | None) -> Grid:
    world = compile_world(with_entry(grid.world.gear, kind, id_, entry), grid.world)
    return grid_of(world, PRACTICE, grid)


def as_if_anew(grid: Grid) -> bool:
    fresh = grid_of(compile_world(grid.world.gear), PRACTICE)
    return (fresh.report, fresh.alone) == (grid.report, grid.alone)


@pytest.mark.parametrize("owned", [0, 1])
def test_a_ring_that_is_put_away_and_back_joins_again(owned: int) -> None:
    """Changed back it is as the collection began, and yet another one than a moment ago."""
    one = ring(owned=owned)
    gear = gear_of(
        {
            "mounts": [mount("front", 45.0), mount("rear", 20.0)],
            "lenses": [lens(mount="front")],
            "bodies": [a_body(mount="rear")],
            "adapters": [one],
        }
    )
    grid = first = grid_of(compile_world(gear), PRACTICE)
    adapter = gear.adapters[0]
    away = edited(grid, "adapters", adapter.id, adapter.model_copy(update={"retired": True}))
    back = edited(away, "adapters", adapter.id, adapter.model_copy())
    assert first.report.cells[0].could_work
    assert not away.report.cells[0].could_work
    assert back.report == first.report


@pytest.mark.parametrize("emptied", ["lenses", "bodies"])
def test_a_ring_is_edited_where_nothing_is_left_to_join(emptied: Kind) -> None:
    grid = grid_of(world_by_chance(1), PRACTICE)
    for entry in getattr(grid.world.gear, emptied):
        grid = edited(grid, emptied, entry.id, None)
    one = grid.world.gear.adapters[0]
    grid = edited(grid, "adapters", one.id, one.model_copy(update={"length_mm": one.length_mm + 0.1}))
    assert grid.report.cells == ()
    assert as_if_anew(grid)


_HEAVY = lens(mount="front", mass_g=2000.0, centre_of_mass_mm=90.0, length_mm=200.0, rear_protrusion_mm=0.0)
_WEAK = ring("weak", load_rating_nm=0.5, mass_g=80.0, owned=1)
_STRONG = ring("strong", mass_g=80.0, owned=1)


@pytest.mark.parametrize("weak_first", [True, False])
def test_a_ring_as_good_that_bears_more_takes_the_caution_away(weak_first: bool) -> None:
    """It comes to the same grade as the one that is known; what has to be minded is another thing."""
    gear = gear_of(
        {
            "mounts": [mount("front", 45.0), mount("rear", 20.0)],
            "lenses": [_HEAVY],
            "bodies": [a_body(mount="rear", obstruction_mm=5.0)],
            "adapters": [_WEAK, _STRONG] if weak_first else [_STRONG, _WEAK],
        }
    )
    strong = next(one for one in gear.adapters if one.id == "strong")
    grid = grid_of(compile_world(gear), PRACTICE)
    without = edited(grid, "adapters", "strong", None)
    again = edited(without, "adapters", "strong", strong)
    assert [one.report.cells[0].cautions for one in (grid, without, again)] == [(), ("load_exceeded",), ()]
    assert as_if_anew(without)
    assert as_if_anew(again)


def _changes(chance: Random, world: World) -> tuple[Kind, str, Entry | None]:
    """One change to one piece: of the kind that people make, and often the opposite of an earlier one."""
    kind: Kind = chance.choice(("adapters", "adapters", "adapters", "lenses", "bodies"))
    if kind == "adapters":
        one = chance.choice(world.gear.adapters)
        other = chance.choice(world.gear.adapters)
        updates: list[dict[str, object] | None] = [
            {"retired": not one.retired},
            {"owned": 1 - min(1, one.owned)},
            {"length_mm": one.length_mm + chance.choice((0.1, 3.0))},
            {"load_rating_nm": chance.choice((0.01, 50.0)), "mass_g": 80.0},
            {"iris_diameter_mm": chance.choice((20.0, None)), "aperture_control": "iris"},
            {"id": f"{one.id}-again", "body_mount": other.body_mount},
            None,
        ]
        update = chance.choice(updates)
        if update is None:
            return kind, one.id, None
        entry = one.model_copy(update=update)
        return kind, entry.id, entry
    if kind == "lenses":
        glass = chance.choice(world.gear.lenses)
        return kind, glass.id, glass.model_copy(update={"image_circle_mm": chance.choice((20.0, 43.3, None))})
    camera = chance.choice(world.gear.bodies)
    return kind, camera.id, camera.model_copy(update={"sensor_mm": (chance.choice((20.0, 36.0, 40.0)), 24.0)})


@pytest.mark.parametrize("seed", range(examples(12)))
def test_after_any_edits_it_is_what_a_fresh_world_says(seed: int) -> None:
    chance = Random(seed)
    world = world_by_chance(seed)
    grid = grid_of(world, PRACTICE)
    for _ in range(8):
        if not grid.world.gear.adapters:
            break
        grid = edited(grid, *_changes(chance, grid.world))
        assert as_if_anew(grid)


@pytest.mark.parametrize("seed", range(examples(30)))
def test_what_may_work_is_looked_at_first_and_comes_to_the_same(seed: int, monkeypatch: pytest.MonkeyPatch) -> None:
    """So it is done where many chains meet: here of any number, by the same chains."""
    gear = world_by_chance(seed).gear
    lenses = gear.mounted
    whole = best_of_each(compile_world(gear), lenses, gear.bodies, PRACTICE)
    monkeypatch.setattr(grades, "_CROWDED", 0)
    assert best_of_each(compile_world(gear), lenses, gear.bodies, PRACTICE) == whole
