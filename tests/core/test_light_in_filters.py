"""What a filter in a piece takes from the light: told the same by every room, and ranked by."""

from __future__ import annotations

from typing import Any

import pytest

from tests.worlds import ring, world_of
from tropeion.core.gear.adapters import FilterSlot
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match

TWO: dict[str, Any] = {"name": "two", "loss_stops": 2.0}
VARIABLE: dict[str, Any] = {"kind": "variable", "range_stops": [1.5, 8.0]}


def test_a_variable_filter_that_cannot_be_taken_out_costs_its_least(sample: World) -> None:
    (found,) = match(sample, "mrw-24-70", "o7", via=["mrw-ost-variable"]).routes
    assert found.light_change_stops == pytest.approx(-1.5)
    (told,) = [one for one in found.findings if one.code == "no_clear_position"]
    assert "at least 1.5 stops" in told.text


@pytest.mark.parametrize(
    ("slot", "never", "least"),
    [
        ({"kind": "drop_in"}, False, 0.0),
        ({"kind": "wheel"}, False, 0.0),
        ({"kind": "variable"}, True, None),
        (VARIABLE, True, 1.5),
        ({**VARIABLE, "positions": [{"name": "out", "clear": True}]}, False, 0.0),
        (
            {"kind": "wheel", "positions": [{"name": "2", "loss_stops": 2.0}, {"name": "5", "loss_stops": 5.0}]},
            True,
            2.0,
        ),
        (
            {"kind": "wheel", "positions": [{"name": "clear", "clear": True}, {"name": "2", "loss_stops": 2.0}]},
            False,
            0.0,
        ),
    ],
)
def test_where_a_filter_can_be_out_of_the_light(slot: dict[str, Any], never: bool, least: float | None) -> None:
    read = FilterSlot.model_validate(slot, strict=False)
    assert (read.never_clear, read.least_stops) == (never, least)
    world = world_of([ring("way", filter_slot=slot)])
    (found,) = match(world, "lens", "body", via=["way"]).routes
    assert found.light_change_stops == pytest.approx(-(least or 0.0))
    assert ("no_clear_position" in {one.code for one in found.findings}) is never


def test_what_takes_no_light_comes_first_though_it_is_dearer() -> None:
    slot = {"kind": "wheel", "positions": [TWO]}
    world = world_of([ring("dim", owned=1, price=1.0, filter_slot=slot), ring("open", owned=1, price=300.0)])
    assert match(world, "lens", "body").routes[0].adapters == ("open",)


def test_what_equivalent_means_changes_no_order(sample: World) -> None:
    for lens_id, body_id in (("kel-55", "o7"), ("mrw-24-70", "lark"), ("grm-98", "nave"), ("kel-28-80", "lark")):
        plain, depth = (
            [route.adapters for route in match(sample, lens_id, body_id, Practice(equivalence=one)).routes]
            for one in ("framing", "framing_and_depth")
        )
        assert plain == depth


def test_what_takes_an_unstated_amount_comes_after_what_states_it() -> None:
    """A variable filter that nobody measured is taken for no lighter than the darkest."""
    stated = {"kind": "variable", "range_stops": [1.5, 8.0]}
    world = world_of(
        [
            ring("told", owned=1, price=300.0, filter_slot=stated),
            ring("untold", owned=1, price=1.0, filter_slot={"kind": "variable"}),
        ]
    )
    assert match(world, "lens", "body").routes[0].adapters == ("told",)
