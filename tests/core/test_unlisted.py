"""Rings that nobody lists: by their ids in every room, judged like listed ones, told where nothing is as good."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_routes import worlds
from tests.worlds import body, gear_of, lens, mount, ring, world_of
from tropeion.core.answers.fits import what_fits
from tropeion.core.answers.grid import whole_kit
from tropeion.core.findings import rank, works
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.kit import with_entry
from tropeion.core.gear.made import is_made, is_unlisted, mounts_of_made, ring_id
from tropeion.core.gear.references import check_references
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match
from tropeion.core.routes.unlisted_ways import unlisted_for

PRACTICE = Practice()
LEVER: dict[str, Any] = {"aperture": "lever", "iris_at_rest": "closed"}
SPEECH: dict[str, Any] = {"protocols": [{"id": "speech", "name": "Speech", "powers": ["iris", "focus"]}]}


def unlisted(world: World) -> tuple[str, ...] | None:
    found = match(world, "lens", "body", PRACTICE).unlisted
    return None if found is None else found.adapters


@given(
    st.floats(0.1, 400),
    st.sampled_from(["none", "lever_ring", "pin_press"]),
    st.sampled_from([0.0, 4.25]),
    st.sampled_from(["none", "pass", "translate"]),
)
def test_an_id_tells_all_of_a_ring(length: float, control: str, opens: float, link: str) -> None:
    ends = {"from_protocol": "speech", "to_protocol": "speech"} if link == "translate" else {}
    world = world_of(**SPEECH)
    wanted = Adapter.model_validate(
        {
            **{"id": "x", "name": "X", "lens_mount": "front", "body_mount": "rear", "length_mm": round(length, 4)},
            **{"aperture_control": control, "helicoid_mm": opens, "link": link, **ends},
        }
    )
    id_ = ring_id(wanted)
    told = world.adapter(id_)
    same = ("lens_mount", "body_mount", "length_mm", "aperture_control", "helicoid_mm", "link", *ends)
    assert [getattr(told, name) for name in same] == [getattr(wanted, name) for name in same]
    assert (told.id, told.owned, told.price, told.length_from) == (id_, 0, None, "gap")
    assert is_unlisted(id_)
    assert is_made(id_)
    assert mounts_of_made(id_) == ("front", "rear")
    assert ring_id(told) == id_


@pytest.mark.parametrize(
    "id_",
    ["ring..front..rear", "ring..front..rear..x", "ring..front..rear..9..sings", "ring..front..rear..9..opens", "ring"],
)
def test_what_tells_of_no_ring_is_none(id_: str) -> None:
    assert not is_unlisted(id_)
    with pytest.raises(UnknownIdError):
        world_of().adapter(id_)


def test_a_ring_between_mounts_or_of_speech_that_are_not_there_is_none() -> None:
    world = world_of()
    for id_ in ("ring..front..nowhere..9", "ring..front..rear..9..speaks..speech..speech"):
        with pytest.raises(UnknownIdError):
            world.adapter(id_)


def test_where_nothing_is_listed_the_ring_of_the_gap_is_told() -> None:
    world = world_of(front={"interface": "another"})
    report = match(world, "lens", "body", PRACTICE)
    found = report.unlisted
    assert found is not None
    assert found.adapters == ("ring..front..rear..25",)
    assert (found.grade, found.owned, found.price) == ("manual", False, None)
    # It is as long as the gap wants it: that proves nothing.
    assert found.wide.infinity.probability is None
    assert report.pieces[found.adapters[0]].name == "Ring Front–Rear, 25.00 mm"
    assert "It fits with: Ring Front–Rear, 25.00 mm, not listed." in report.sentence


def test_what_is_listed_and_as_good_comes_before_it() -> None:
    assert unlisted(world_of([ring("r", 25.0)])) is None
    # Long enough for close-up alone: the ring that nobody lists is better.
    assert unlisted(world_of([ring("r", 31.0)])) == ("ring..front..rear..25",)


def test_a_lever_wants_a_ring_that_moves_it() -> None:
    world = world_of([ring("plain", 25.0)], the_lens=lens(**LEVER))
    assert unlisted(world) == ("ring..front..rear..25..lever",)
    assert unlisted(world_of([ring("r", 25.0, aperture_control="lever_ring")], the_lens=lens(**LEVER))) is None


def test_a_lens_without_focusing_wants_a_helicoid() -> None:
    world = world_of(the_lens=lens(focus="none", min_focus_m=None, focal_length_mm=[50, 50]))
    (id_,) = unlisted(world) or ("",)
    # From a metre on: 2.78 mm by 1 / (1 / 50 − 1 / u) − 50, u + v = 1000.
    assert id_.startswith("ring..front..rear..25..opens..2.")


def test_where_both_speak_the_ring_speaks_too() -> None:
    world = world_of(
        the_lens=lens(focus="by_wire", protocol="speech", offers=["autofocus"], aperture="electronic"),
        the_body=body(protocols=["speech"]),
        **SPEECH,
    )
    found = match(world, "lens", "body", PRACTICE).unlisted
    assert found is not None
    assert (found.adapters, found.grade) == (("ring..front..rear..25..pass",), "full")


def test_without_room_no_ring_is_told() -> None:
    world = world_of(lens_register_mm=20.0, body_register_mm=45.0, front={"interface": "another"})
    assert unlisted(world) is None
    (fit,) = what_fits(world, lens="lens", practice=PRACTICE).fits
    assert (fit.would_need, fit.possible) == (None, False)


def test_beside_listed_glass_a_ring_may_do_where_none_alone_can() -> None:
    """The lens stands nearer than the body allows; behind a ring of 15 mm there is room for glass onto the body."""
    ends = {"lens_mount": "middle", "body_mount": "rear"}
    glass = {"optics": "correcting", "magnification": 1.25, "register_in_mm": 25.0, "register_out_mm": 45.0}
    gear = gear_of(
        {
            "mounts": [mount("front", 40.0), mount("middle", 25.0, interface="m"), mount("rear", 45.0, interface="r")],
            "bodies": [body()],
            "lenses": [lens()],
            "adapters": [ring("glass", 12.0, **ends, **glass, owned=1)],
        }
    )
    assert unlisted(compile_world(gear)) == ("ring..front..middle..15", "glass")


@given(worlds)
def test_it_is_only_told_where_it_is_better_and_is_what_its_rig_says(world: World) -> None:
    report = match(world, "lens", "body", PRACTICE)
    listed = [route for route in report.routes if route.surely]
    best = max((rank(route.grade) for route in listed), default=-1)
    if report.unlisted is None:
        found = unlisted_for(world, world.lenses["lens"], world.bodies["body"], PRACTICE)
        assert found is None or not found.works or rank(found.grade) <= best
        return
    assert works(report.unlisted.grade)
    assert rank(report.unlisted.grade) > best
    (again,) = match(world, "lens", "body", PRACTICE, via=report.unlisted.adapters).routes
    assert (again.grade, again.sentence) == (report.unlisted.grade, report.unlisted.sentence)
    assert sum(is_unlisted(id_) for id_ in again.adapters) == 1
    (fit,) = what_fits(world, lens="lens", practice=PRACTICE).fits
    assert fit.would_need is not None
    assert (fit.would_need.grade, fit.would_need.adapters) == (report.unlisted.grade, report.unlisted.adapters)
    (cell,) = whole_kit(world, PRACTICE).cells
    assert cell.unlisted_grade == report.unlisted.grade


def test_every_room_of_the_sample_takes_its_rings(sample: World) -> None:
    """A rig with one may be kept: what it names are the mounts."""
    found = match(sample, "brn-52", "verge", PRACTICE).unlisted
    assert found is not None
    assert found.adapters == ("ring..brannoch..lisken..9.1",)
    assert found.grade == "manual"
    (rig,) = [one for one in sample.gear.rigs if one.id == "gallery"]
    kept = rig.model_copy(update={"lens": "brn-52", "body": "verge", "adapters": found.adapters})
    assert check_references(with_entry(sample.gear, "rigs", "gallery", kept)) == ()
    gone = sample.gear.model_copy(update={"mounts": tuple(one for one in sample.gear.mounts if one.id != "brannoch")})
    places = [one.place for one in check_references(with_entry(gone, "rigs", "gallery", kept))]
    assert any("rigs" in place for place in places)
