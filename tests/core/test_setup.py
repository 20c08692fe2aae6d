"""What hangs on a rig: where it weighs, what holds it, what goes together, and what is said of it."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.setup.setup import SetUp, set_up_of

G = 9.80665e-6


def accessory(id_: str, kind: str, **more: Any) -> dict[str, Any]:
    return {"id": id_, "name": id_.title(), "kind": kind, **more}


def world(
    accessories: list[dict[str, Any]],
    pairs: list[dict[str, Any]] | None = None,
    *,
    the_lens: dict[str, Any] | None = None,
    the_body: dict[str, Any] | None = None,
    the_ring: dict[str, Any] | None = None,
    rating_nm: float | None = None,
) -> World:
    """A lens of 400 g and 60 mm on a body of 600 g, by a ring of 100 g; registers 45 and 20 mm."""
    measures = {"mass_g": 400, "length_mm": 60, "centre_of_mass_mm": 30, "diameter_mm": 64, "filter_thread_mm": 52}
    document = {
        "mounts": [
            mount("front", 45.0, interface="lens-joint", load_rating_nm=rating_nm),
            mount("rear", 20.0, load_rating_nm=rating_nm),
        ],
        "bodies": [the_body or body(mass_g=600, centre_of_mass_mm=-10)],
        "lenses": [the_lens or lens(**measures)],
        "adapters": [the_ring or ring(mass_g=100)],
        "accessories": accessories,
        "pairs": pairs or [],
    }
    return compile_world(gear_of(document))


def set_up(made: World, *accessories: str, held_by: str | None = None) -> SetUp:
    return set_up_of(made, Rig.of("lens", "body", ["ring"], accessories), Practice(), held_by=held_by)


# Lens 400 g at 45 + 30, ring 100 g at 32.5, body 600 g at −10 mm.
BARE = 400 * 75 + 100 * 32.5 - 600 * 10


def test_a_bare_rig_by_hand() -> None:
    balance = set_up(world([])).balance
    assert balance.mass_g == 1100
    assert balance.centre_of_mass_mm == pytest.approx(BARE / 1100)
    assert balance.tipping_nm == pytest.approx(G * BARE)


# The lens ends 105 mm before the sensor: a hood of 30 g and 40 mm weighs at 125 mm, a filter of 20 g and 6 mm before
# it, at 108 mm with the hood at 131 mm behind it in the order in which they are put on.
@pytest.mark.parametrize(
    ("order", "places"),
    [(["hood"], {"hood": 125}), (["filter", "hood"], {"filter": 108, "hood": 131}), (["cage"], {"cage": -10})],
)
def test_accessories_weigh_where_they_sit(order: list[str], places: dict[str, float]) -> None:
    kit = [
        accessory("hood", "hood", mass_g=30, length_mm=40, rear_thread_mm=52),
        accessory("filter", "filter", mass_g=20, length_mm=6, rear_thread_mm=52),
        accessory("cage", "cage", mass_g=300),
    ]
    weights = {"hood": 30, "filter": 20, "cage": 300}
    found = set_up(world(kit), *order)
    assert {one.link: one.at_mm for one in found.balance.masses if one.link in weights} == places
    moment = BARE + sum(weights[id_] * at for id_, at in places.items())
    assert found.balance.tipping_nm == pytest.approx(G * moment)
    # Where they sit is assumed, and said.
    assert set(places) <= set(found.balance.assumed)


def test_what_hangs_on_the_lens_pulls_at_its_joint_and_what_is_on_the_body_does_not() -> None:
    kit = [
        accessory("hood", "hood", mass_g=100, length_mm=40, rear_thread_mm=52),
        accessory("grip", "grip", mass_g=400),
    ]
    bare, hooded, gripped = (set_up(world(kit), *ids).balance for ids in ((), ("hood",), ("grip",)))
    assert hooded.joints[0].moment_nm == pytest.approx((bare.joints[0].moment_nm or 0) + G * 100 * (125 - 45))
    assert gripped.joints == bare.joints


def test_a_foot_around_the_barrel_holds_it_where_it_balances() -> None:
    found = set_up(world([accessory("foot", "foot", mass_g=150, clamps_to_mm=64.0)]), "foot")
    assert (found.balance.held_by.link, found.balance.held_by.at_mm) == ("foot", 75)
    assert found.balance.held_by.assumed
    assert [one.link for one in found.supports] == ["foot", "body"]
    # Behind the foot hang ring and body: at the lens's seat 100 g at 12.5 mm and 600 g at 55 mm.
    assert found.balance.joints[0].moment_nm == pytest.approx(G * (100 * 12.5 + 600 * 55))
    by_screw = set_up(world([accessory("foot", "foot", mass_g=150, clamps_to_mm=64.0)]), "foot", held_by="body")
    assert by_screw.balance.held_by.link == "body"


def test_a_foot_that_does_not_fit_is_no_support() -> None:
    found = set_up(world([accessory("foot", "foot", mass_g=150, clamps_to_mm=70.0)]), "foot")
    assert [one.link for one in found.supports] == ["body"]
    (with_lens, *_) = found.pairs
    assert (with_lens.verdict, with_lens.by) == ("fails", "measures")


@given(st.floats(40, 90), st.floats(40, 90))
def test_a_clamp_fits_what_is_as_wide_and_nothing_else(clamp: float, barrel: float) -> None:
    measures = {"mass_g": 400, "length_mm": 60, "diameter_mm": barrel}
    made = world([accessory("foot", "foot", clamps_to_mm=clamp)], the_lens=lens(**measures))
    (found, *_) = set_up(made, "foot").pairs
    assert found.verdict == ("works" if abs(clamp - barrel) <= 0.5 else "fails")


@pytest.mark.parametrize(
    ("one", "verdict", "says"),
    [
        (accessory("it", "hood", rear_thread_mm=52), "works", "thread 52 mm"),
        (accessory("it", "hood", rear_thread_mm=67), "with_part", "a step ring 52–67"),
        (accessory("it", "gear ring", clamps_to_mm=64), "works", "it clamps to 64 mm"),
        (accessory("it", "gear ring", clamps_to_mm=80), "fails", "it clamps to 80 mm, the barrel has 64 mm"),
        # Where nothing is measured, nobody knows before it is tried.
        (accessory("it", "hood"), "untried", "nobody has tried it"),
        (accessory("it", "gear ring"), "untried", "nobody has tried it"),
        (accessory("it", "cage"), "untried", "nobody has tried it"),
    ],
)
def test_what_measures_decide_of_a_lens(one: dict[str, Any], verdict: str, says: str) -> None:
    found = next(pair for pair in set_up(world([one]), "it").pairs if pair.b == "lens")
    assert (found.verdict, found.says) == (verdict, says)


def test_rods_of_one_distance_go_together_as_far_as_anybody_knows() -> None:
    kit = [
        accessory("rods", "rods", rod_distance_mm=60),
        accessory("box", "matte box", rod_distance_mm=60),
        accessory("other", "follow focus", rod_distance_mm=40),
    ]
    found = {(one.a, one.b): one for one in set_up(world(kit), "rods", "box", "other").pairs}
    assert found["rods", "box"].verdict == "untried"
    assert found["rods", "other"].verdict == "fails"
    assert found["box", "other"].says == "rods 60 mm apart, and 40 mm"


def test_what_was_tried_outranks_what_is_measured() -> None:
    pairs = [
        {"id": "p", "name": "P", "a": "lens", "b": "hood", "verdict": "fails", "part": "it shades", "source": "own"},
        {
            "id": "q",
            "name": "Q",
            "a": "cage",
            "b": "ring",
            "verdict": "fixed",
            "part": "no other ring",
            "on": "2026-05-01",
        },
    ]
    kit = [accessory("hood", "hood", rear_thread_mm=52), accessory("cage", "cage")]
    found = {(one.a, one.b): one for one in set_up(world(kit, pairs), "hood", "cage").pairs}
    tried = found["hood", "lens"]
    assert (tried.verdict, tried.by, tried.says, tried.source) == ("fails", "tried", "it shades", "own")
    assert (found["cage", "ring"].verdict, found["cage", "ring"].on) == ("fixed", "2026-05-01")
    assert found["hood", "body"].verdict == "works"
    assert found["hood", "cage"].verdict == "untried"


# What is said


def test_a_rig_that_tips_says_which_way() -> None:
    assert set_up(world([])).balance_says == f"1,100 g, tips forward on Test body by {G * BARE:.2f} N·m."
    back = set_up(world([], the_body=body(mass_g=3000, centre_of_mass_mm=-20)))
    assert "tips back on Test body" in back.balance_says
    # 400 · 75 + 100 · 32.5 = 33 250 g·mm before the sensor, and as much behind it.
    level = set_up(world([], the_body=body(mass_g=3325, centre_of_mass_mm=-10)))
    assert level.balance_says == "3,825 g, level on Test body."


def test_a_joint_that_bears_too_much_is_named() -> None:
    # 400 g · 30 mm at the seat is 0.118 N·m, at the body 0.228 N·m.
    both = set_up(world([], rating_nm=0.1)).balance_says
    assert both.endswith("More than the rated load of the joint at Ring and Test body: support it.")
    one = set_up(world([], rating_nm=0.2))
    assert one.balance_says.endswith("More than the rated load of the joint at Test body: support it.")
    assert [joint.over for joint in one.balance.joints] == [False, True]
    assert "support" not in set_up(world([], rating_nm=0.3)).balance_says


def test_what_nobody_weighed_is_said() -> None:
    found = set_up(world([accessory("hood", "hood", rear_thread_mm=52)]), "hood")
    assert found.balance_says == "How it balances is not known: nobody weighed Hood."
    assert found.balance.mass_g is None


def test_what_is_not_there_is_refused() -> None:
    with pytest.raises(UnknownIdError, match="no accessory has the id 'hod'; near it: hood"):
        set_up(world([accessory("hood", "hood")]), "hod")
    with pytest.raises(ValueError, match="ring has no foot and no screw: body"):
        set_up(world([]), held_by="ring")


# What hangs below, what is held besides, and what takes the play


RODS = accessory("rods", "rods", rod_distance_mm=60, rod_height_mm=40, rod_diameter_mm=15)


@pytest.mark.parametrize(
    ("barrel", "verdict"),
    # Rods of 15 mm, 60 mm apart and 40 mm below: 2 · (√(40² + 30²) − 7.5) = 85 mm of room.
    [(84.9, "untried"), (85.0, "untried"), (85.2, "fails")],
)
def test_a_barrel_goes_between_the_rods_or_not(barrel: float, verdict: str) -> None:
    made = world([RODS], the_lens=lens(mass_g=400, length_mm=60, diameter_mm=barrel))
    found = next(pair for pair in set_up(made, "rods").pairs if pair.b == "lens")
    assert found.verdict == verdict


def test_rods_whose_thickness_nobody_measured_are_taken_as_usual_and_said() -> None:
    thin = {key: value for key, value in RODS.items() if key != "rod_diameter_mm"}
    made = world([thin], the_lens=lens(mass_g=400, length_mm=60, diameter_mm=90))
    found = next(pair for pair in set_up(made, "rods").pairs if pair.b == "lens")
    assert found.says == "the rods leave room for 85 mm, rods of 15 mm assumed, it is 90 mm across"


def test_rods_at_two_heights_do_not_meet() -> None:
    box = accessory("box", "matte box", rod_distance_mm=60, rod_height_mm=85)
    found = {(one.a, one.b): one for one in set_up(world([RODS, box]), "rods", "box").pairs}
    assert found["rods", "box"].says == "rods 40 mm below the axis, and 85 mm"


# The ring's foot is at its middle, 20 + 12.5 mm before the sensor.
@pytest.mark.parametrize(("reach", "verdict"), [(32.0, "untried"), (33.0, "fails"), (None, "untried")])
def test_a_foot_stands_in_the_way_of_a_plate_that_reaches_so_far(reach: float | None, verdict: str) -> None:
    plate = accessory("plate", "tripod plate", reach_mm=reach)
    made = world([plate], the_ring=ring(mass_g=100, tripod_foot=True))
    found = next(pair for pair in set_up(made, "plate").pairs if pair.b == "ring")
    assert found.verdict == verdict


@pytest.mark.parametrize(
    ("outer", "reach", "verdict"),
    # The body's base is 96 − 46 = 50 mm below the axis; the ring begins 20 mm before the sensor.
    [(99.0, 25.0, "untried"), (104.0, 25.0, "fails"), (104.0, 20.0, "untried")],
)
def test_a_wide_ring_hangs_below_the_body_over_a_plate(outer: float, reach: float, verdict: str) -> None:
    plate = accessory("plate", "tripod plate", reach_mm=reach)
    measured = body(mass_g=600, centre_of_mass_mm=-10, height_mm=96, mount_centre_mm=[70, 46])
    made = world([plate], the_body=measured, the_ring=ring(mass_g=100, outer_mm=outer))
    found = next(pair for pair in set_up(made, "plate").pairs if pair.b == "ring")
    assert found.verdict == verdict


def test_a_second_support_takes_what_is_between_the_two() -> None:
    made = world([], the_lens=lens(mass_g=400, length_mm=60, tripod_foot=True, foot_mm=20))
    alone = set_up_of(made, Rig.of("lens", "body", ["ring"], ()), Practice())
    both = set_up_of(made, Rig.of("lens", "body", ["ring"], ()), Practice(), second_by="body")
    assert [one.supported for one in alone.balance.joints] == [False, False]
    assert [one.supported for one in both.balance.joints] == [True, True]
    assert both.second_by == "body"
    # What holds it already is no second support.
    assert (
        set_up_of(made, Rig.of("lens", "body", ["ring"], ()), Practice(), held_by="body", second_by="body").second_by
        is None
    )
    with pytest.raises(ValueError, match="ring has no foot and no screw: lens, body"):
        set_up_of(made, Rig.of("lens", "body", ["ring"], ()), Practice(), second_by="ring")


def test_a_bracket_takes_the_body_s_side_of_the_play() -> None:
    kit = [accessory("bracket", "bracket", mass_g=80)]
    made = compile_world(
        gear_of(
            {
                "mounts": [mount("front", 45.0, play_mm=0.03), mount("rear", 20.0)],
                "bodies": [body(mass_g=600)],
                "lenses": [lens(mass_g=400)],
                "adapters": [ring(mass_g=100, play_mm=0.04)],
                "accessories": kit,
            }
        )
    )
    bare, braced = set_up(made), set_up(made, "bracket")
    # The lens plays 0.03 mm in the ring, the ring 0.04 mm in the body.
    assert bare.play.displacement_mm == pytest.approx(0.07)
    assert braced.play.displacement_mm == pytest.approx(0.03)
    assert braced.play_says.startswith(
        "Bracket takes the body's side of the play, not the lens's. Its joints play 0.03 mm"
    )


def test_where_a_plate_would_hold_it_level() -> None:
    # 33 250 − 6000 … /1100 = 24.8 mm before the sensor; the screw is at 0.
    found = set_up(world([]))
    centre = BARE / 1100
    assert found.plate_says == (
        f"It balances {centre:.0f} mm before the sensor plane: a plate {centre:.0f} mm farther forward holds it level."
    )
    level = set_up(world([], the_body=body(mass_g=3325, centre_of_mass_mm=-10)))
    assert level.plate_says == ""


# The stabiliser by what is done


def steadied(**changes: Any) -> dict[str, tuple[str | None, str]]:
    steady = {"travel_mm": 3.0, "modes": ["still", "panning", "film", "locked"], **changes}
    made = world([], the_body=body(mass_g=600, stabiliser=steady, exposure_modes=["A", "M"], modes=[FILM_MODE]))
    return {one.use: (one.mode, one.says) for one in set_up(made).steadying}


FILM_MODE = {"name": "wide", "sensor_mm": [36.0, 20.0], "use": "film"}


def test_each_use_has_its_mode() -> None:
    found = steadied(half_pressed=True)
    assert {use: mode for use, (mode, _) in found.items()} == {
        "stills": "still",
        "panning": "panning",
        "film": "film",
        "locked-off": "locked",
    }
    assert found["stills"][1] == "Works while the release is half pressed."
    assert steadied(half_pressed=False)["stills"][1] == "Works always."
    assert "not stated" in steadied()["stills"][1]


def test_a_use_without_a_mode_says_what_to_do_instead() -> None:
    found = steadied(modes=["still"])
    assert found["panning"] == (None, "None stated: switch it off, or it works against a pan.")
    assert found["locked-off"][1] == "None stated: switch it off on a tripod."
    assert found["film"] == (None, "Which mode is meant for it is not stated.")


def test_steadying_by_the_picture_costs_a_crop_and_goes_ill_with_a_squeeze() -> None:
    assert steadied(electronic_crop=1.2)["electronic"][1] == "Crops by 1.2 × more."
    steady = {"travel_mm": 3.0, "modes": ["still"], "electronic_crop": 1.2}
    made = world([], the_body=body(mass_g=600, stabiliser=steady), the_lens=lens(mass_g=400, length_mm=60, squeeze=1.6))
    (electronic,) = [one for one in set_up(made).steadying if one.use == "electronic"]
    assert "leave it off" in electronic.says
    assert set_up(world([])).steadying == ()
