"""An outing: weights, copies and swaps against sums by hand; what is shared, missing and left at home."""

from __future__ import annotations

from typing import Any

import pytest

from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.records.outing_record import Outing, Shot
from tropeion.core.setup.outing import OutingReport, outing_report


def rig(id_: str, the_lens: str, the_body: str = "body", **more: Any) -> dict[str, Any]:
    return {"id": id_, "name": id_.title(), "lens": the_lens, "body": the_body, "adapters": ["ring"], **more}


def world(rings: int = 1, **changes: Any) -> World:
    """Two lenses of 400 and 300 g, a third that nobody weighed, one kind of ring of 100 g, two bodies of 600 g."""
    document: dict[str, Any] = {
        "mounts": [mount("front", 45.0), mount("rear", 20.0)],
        "bodies": [body(mass_g=600, owned=1), body(id="spare", name="Spare body", mass_g=600, owned=1)],
        "lenses": [
            lens(id="one", name="One", mass_g=400, owned=1, filter_thread_mm=52, focal_length_mm=[50, 50]),
            lens(id="two", name="Two", mass_g=300, owned=1, filter_thread_mm=58, focal_length_mm=[85, 85]),
            lens(id="three", name="Three", owned=0, focal_length_mm=[54, 54]),
            lens(id="home", name="Home", mass_g=250, owned=1, focal_length_mm=[24, 24]),
        ],
        "adapters": [ring(mass_g=100, owned=rings)],
        "accessories": [
            {"id": "hood", "name": "Hood", "kind": "hood", "mass_g": 30, "owned": 1},
            {
                "id": "step",
                "name": "Step",
                "kind": "step ring",
                "rear_thread_mm": 52,
                "front_thread_mm": 67,
                "owned": 1,
            },
            {"id": "grey", "name": "Grey", "kind": "filter", "rear_thread_mm": 67, "owned": 1},
        ],
        "rigs": [rig("wide", "one", accessories=["hood"]), rig("long", "two"), rig("third", "three")],
        **changes,
    }
    return compile_world(gear_of(document))


def report(made: World, *shots: tuple[str, str], spare: tuple[str, ...] = ()) -> OutingReport:
    planned = tuple(Shot(name=name, rig=id_) for name, id_ in shots)
    return outing_report(
        made, Outing(id="0" * 36, at="", items=(), name="Outing", shots=planned, spare=spare), Practice()
    )


def test_the_packing_list_by_hand() -> None:
    found = report(world(), ("window", "wide"), ("pipe", "long"), ("case", "wide"))
    assert {one.id: one.count for one in found.packed} == {"body": 1, "one": 1, "two": 1, "ring": 1, "hood": 1}
    assert found.mass_g == 600 + 400 + 300 + 100 + 30
    assert found.unweighed == ()
    assert next(one.name for one in found.packed) == "Test body"
    assert next(one.says for one in found.packed if one.id == "one") == "window, case"
    # 1.4 kg; one and two share the ring: lens, ring, lens, and back: ring and lens, then a lens, then a lens.
    assert found.says == "3 shots, 5 pieces, 1.4 kg. 4 swaps as planned, 3 in the order that swaps least."


def test_a_ring_goes_along_for_each_lens_as_far_as_there_are_copies() -> None:
    for rings, count in ((1, 1), (2, 2), (5, 2)):
        found = report(world(rings), ("window", "wide"), ("pipe", "long"))
        assert next(one.count for one in found.packed if one.id == "ring") == count


def test_one_ring_stays_on_the_lens_with_the_most_shots() -> None:
    found = report(world(), ("a", "long"), ("b", "wide"), ("c", "wide"))
    (shared,) = found.shared
    assert (shared.stays_on, shared.borrowed_by) == (("One",), ("Two",))
    (both,) = report(world(2), ("a", "long"), ("b", "wide"), ("c", "wide")).shared
    assert (both.stays_on, both.borrowed_by) == (("One", "Two"), ())
    assert report(world(), ("a", "wide"), ("b", "wide")).shared == ()


def test_with_a_ring_for_each_lens_a_swap_is_one_joint() -> None:
    shots = (("a", "wide"), ("b", "long"), ("c", "wide"))
    # One ring: ring and lens, lens, lens. Two rings, each on its lens: one, one, one.
    assert [step.swaps for step in report(world(1), *shots).given.steps] == [2, 1, 1]
    assert [step.swaps for step in report(world(2), *shots).given.steps] == [1, 1, 1]


def test_what_is_not_at_hand_is_missing_and_what_nobody_weighed_is_no_nothing() -> None:
    found = report(world(), ("a", "third"))
    assert {one.id: one.missing for one in found.packed} == {"body": 0, "three": 1, "ring": 0}
    assert found.unweighed == ("Three",)
    assert "at least 0.7 kg" in found.says
    assert "1 piece is not owned." in found.says


def test_a_rig_that_is_kept_no_more_is_said_and_the_rest_stands() -> None:
    found = report(world(), ("a", "wide"), ("b", "gone"))
    assert [one.lens for one in found.shots] == ["one", None]
    assert found.numbers == (0,)
    assert "1 shot has no rig any more." in found.says


def test_what_stays_at_home() -> None:
    found = report(world(), ("a", "wide"), ("b", "long"))
    assert set(found.at_home) == {"Spare body", "Home", "Step", "Grey"}
    assert found.at_home_g == 600 + 250
    # What is taken as a spare does not stay.
    assert "Grey" not in report(world(), ("a", "wide"), spare=("grey",)).at_home


def test_two_lenses_with_nearly_one_view_are_told() -> None:
    # 50 and 54 mm are 8 % apart, 50 and 85 mm are not.
    assert len(report(world(), ("a", "wide"), ("b", "third")).alike) == 1
    assert report(world(), ("a", "wide"), ("b", "long")).alike == ()


def test_filters_of_one_size() -> None:
    found = report(world(), ("a", "wide"), ("b", "long")).filters
    # The filter at hand has 67 mm: 52 comes up by the ring at hand, for 58 there is none.
    assert found.size_mm == 67
    assert [(one.thread_mm, one.ring) for one in found.steps] == [(52, "Step"), (58, None)]
    assert found.filters == ("Grey",)
    without = report(world(), ("a", "third")).filters
    assert (without.size_mm, without.without) == (None, ("Three",))


@pytest.mark.parametrize(("link", "said"), [("none", "Test body"), ("pass", "Test body, which feeds Ring too")])
def test_a_ring_with_contacts_draws_on_the_body(link: str, said: str) -> None:
    made = world(adapters=[ring(mass_g=100, owned=1, link=link)])
    assert report(made, ("a", "wide")).batteries == (said,)


def test_a_body_without_a_battery_wants_none() -> None:
    assert report(world(bodies=[body(mass_g=600, battery=False)]), ("a", "wide")).batteries == ()


def test_an_empty_outing_says_what_to_do() -> None:
    assert report(world()).says == "Nothing is planned yet: choose a rig for the first shot."
