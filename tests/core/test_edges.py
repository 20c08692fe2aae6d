"""Edges that seeded faults went over unnoticed: each just on this side of a limit, and just on the other."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import pytest

from tests.rigs import GLASS, PARTS, electronic, rig
from tests.worlds import body, details, gear_of, lens, mount, ring, world_of
from tropeion.core.answers.fits import what_fits
from tropeion.core.answers.label_report import label_report
from tropeion.core.answers.labels import read_label
from tropeion.core.answers.usual_fields import usual_values
from tropeion.core.camera.rehearsal import is_done
from tropeion.core.camera.state import CameraState
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World, compile_world
from tropeion.core.joints.flange_code import nearest_profiles
from tropeion.core.plan import candidate_pool, looked_at
from tropeion.core.plan.planning import plan_of
from tropeion.core.plan.reduce import needed_ways
from tropeion.core.plan.shopping import shop_lines
from tropeion.core.plan.task import Offer, Task, Want, Way
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.rig.deeds import Deed
from tropeion.core.rig.ends import extensions_at
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.routes.match import match
from tropeion.core.routes.ranking import gives_up
from tropeion.core.routes.wants import OF_PIECES, WANTS, of_pieces, wants_of
from tropeion.core.setup.rehearse import to_rehearse
from tropeion.core.setup.stored import RigAsked, check_place, stored_report
from tropeion.core.setup.swaps import Mounting, swaps_in_order
from tropeion.core.working import PLAIN

CODE = {"fields": 1, "start_deg": 0, "step_deg": 9, "radius_mm": 20, "width_mm": 2, "height_mm": 2}


def wrong(pupil_mm: float, of_profile_mm: float, **more: Any) -> tuple[str, ...]:
    """What a body corrects wrongly for a lens whose profile has another exit pupil."""
    profile = {"code": "1", "name": "It", "focal_length_mm": 50, "f_number": 2, "exit_pupil_mm": of_profile_mm, **more}
    made = gear_of(
        {
            "mounts": [mount("front", 30.0, code=CODE, profiles=[profile])],
            "lenses": [lens(exit_pupil_mm=pupil_mm, image_circle_mm=44.0)],
        }
    )
    return nearest_profiles(made.lenses[0], made.mounts[0]).nearest[0].wrong


def pupil_at(degrees: float) -> float:
    return 21.63 / math.tan(math.radians(degrees))


@pytest.mark.parametrize(
    ("lens_deg", "profile_deg", "said"),
    [
        (20.0, 25.0, "5° steeper: too much"),
        (25.0, 20.0, "5° less steep: too little"),
        (20.0, 21.01, "1° steeper: too much"),
        (20.0, 20.99, ""),
        (21.01, 20.0, "1° less steep: too little"),
    ],
)
def test_how_steep_a_profile_takes_the_light_to_be(lens_deg: float, profile_deg: float, said: str) -> None:
    found = " ".join(wrong(pupil_at(lens_deg), pupil_at(profile_deg)))
    assert said in found
    assert bool(said) is ("corrected for light" in found)


@pytest.mark.parametrize(("circle_mm", "more"), [(44.0, False), (44.1, True), (43.0, False)])
def test_a_profile_that_covers_more_is_told(circle_mm: float, more: bool) -> None:
    assert any("is taken to cover" in one for one in wrong(60.0, 60.0, image_circle_mm=circle_mm)) is more


@pytest.mark.parametrize(
    ("length", "differs", "kind"),
    [("5.55", False, ""), ("5.56", True, "longer"), ("5.25", False, ""), ("5.24", True, "shorter"), ("5.4", False, "")],
)
def test_how_far_a_label_may_round(sample: World, length: str, differs: bool, kind: str) -> None:
    # 48.20 − 42.80 = 5.40 mm.
    found = label_report(sample, f"Kelvane lens to Marwick camera, {length} mm", Practice()).doubts
    told = [one.text for one in found if one.code == "length_differs"]
    assert bool(told) is differs
    assert all(f"This one is {kind}" in text for text in told)


def test_a_magnifier_without_a_lens_is_no_focusing() -> None:
    deed, body_ = Deed("magnifier", value=True), "body"
    assert not is_done(deed, CameraState(body=body_, magnifier=5.0))
    assert not is_done(deed, CameraState(body=body_))
    assert is_done(deed, CameraState(body=body_, focused_with="magnifier"))


@pytest.mark.parametrize(("in_mm", "asked"), [(0.0, False), (0.1, True)])
def test_a_rear_that_reaches_in_asks_for_the_bore(in_mm: float, asked: bool) -> None:
    found = rig(the_lens=lens(rear_protrusion_mm=in_mm, rear_diameter_mm=30.0))
    text = next(one.text for one in found.findings if one.code == "not_assessed")
    assert ("whether its rear passes" in text) is asked


@pytest.mark.parametrize(("other", "said"), [(0.9, "nothing"), (0.896, "nothing"), (0.88, "infinity less sure, 88 %")])
def test_what_is_as_sure_gives_up_nothing(sample: World, other: float, said: str) -> None:
    pieces = sample.pieces_of(Rig.of("kel-55", "o7", ["kel-ost-plain"]))
    best = assess(sample, *pieces, Practice())

    def of(chance: float) -> Assessment:
        end = replace(best.ends[0], infinity=replace(best.ends[0].infinity, probability=chance))
        return replace(best, ends=(end,))

    assert gives_up(of(other), of(0.9)) == said


def test_a_ring_on_another_body_is_not_counted_twice() -> None:
    """Two bodies hold a ring each; a third shot wants one more of the two that there are."""
    shots = [Mounting("a", ("ring", "one")), Mounting("b", ("ring", "two")), Mounting("c", ("ring", "three"))]
    found = swaps_in_order(shots, range(3), {"ring": 2})
    standing = {one.body: one.elements for one in found.steps[2].standing}
    assert standing["c"] == ("ring", "three")
    # One of the two goes, not both.
    assert sorted(len(standing[one]) for one in "ab") == [0, 2]


def test_what_a_filter_takes_darkens_the_picture() -> None:
    slot = {"kind": "drop_in", "positions": [{"name": "grey", "loss_stops": 2.0}]}
    assert rig(filter_slot=slot).light_change_stops == -2.0
    assert rig(filter_slot=slot, light_loss_stops=0.5).light_change_stops == -2.5


def test_a_stabiliser_that_is_off_steadies_nothing() -> None:
    """A measured circle that leaves no room switches it off."""
    steady = {"travel_mm": 4.0, "travel_steps": [1.0, 0.5], "stops": 4}
    tight, roomy = (
        world_of(
            [ring()],
            the_lens=lens(image_circle_mm=circle, image_circle_from="measured"),
            the_body=body(stabiliser=steady),
        )
        for circle in (43.4, 70.0)
    )
    assert match(tight, "lens", "body", via=["ring"]).routes[0].wide.steadied_shutter_s is None
    assert match(roomy, "lens", "body", via=["ring"]).routes[0].wide.steadied_shutter_s is not None


def test_a_lens_that_stands_far_too_near_is_a_makeshift() -> None:
    """One that is 1 mm too short loses its near end: the one that is a hair short comes first, though it costs more."""
    made = world_of([ring("hair", 24.98, price=90.0), ring("short", 23.9, price=5.0)])
    assert match(made, "lens", "body").routes[0].adapters == ("hair",)


@pytest.mark.parametrize(
    ("front", "rear", "held", "wanted"),
    [
        (False, False, False, (0.0, 0.0)),
        (True, False, False, (1.0, 0.0)),
        (False, True, False, (0.0, 0.0)),
        (True, True, False, (1.0, 1.0)),
        # The lock of a ring is at its lens side.
        (False, False, True, (1.0, 0.0)),
        (False, True, True, (1.0, 1.0)),
    ],
)
def test_which_joints_are_locked(front: bool, rear: bool, held: bool, wanted: tuple[float, float]) -> None:
    made = world_of([ring(locking=held)], front={"locking": front}, rear={"locking": rear}, the_body=body())
    judged = assess(made, made.lenses["lens"], (made.adapters["ring"],), made.bodies["body"], Practice())
    wants = wants_of(judged)
    assert (wants[WANTS.index("lens_locked")], wants[WANTS.index("all_locked")]) == wanted


def test_the_end_that_is_given_is_drawn_alone() -> None:
    made = world_of([ring()])
    by_lens, by_body = (
        what_fits(made, lens="lens", practice=Practice()),
        what_fits(made, body="body", practice=Practice()),
    )
    assert (by_lens.alone.lens is None, by_lens.alone.body is None) == (False, True)
    assert (by_body.alone.lens is None, by_body.alone.body is None) == (True, False)
    assert ((by_lens.given, by_lens.id), (by_body.given, by_body.id)) == (("lens", "lens"), ("body", "body"))


def test_an_order_alone_is_worth_what_it_says(sample: World) -> None:
    told = read_label(sample, "Kelvane Ostrel ring")
    back = read_label(sample, "Ostrel Kelvane ring")
    one = next(side.confidence for side in told.lens_side if side.mount == "kelvane")
    other = next(side.confidence for side in back.lens_side if side.mount == "kelvane")
    # Both ways a plain ring needs room: exp(±order/2 + room) in each.
    odds, against = math.log(one / (1 - one)), math.log(other / (1 - other))
    assert odds - against == pytest.approx(2 * 1.3, abs=0.05)


def test_a_travel_without_steps_is_the_whole_of_it() -> None:
    """Of a lens whose circle nobody knows, on a body that has no steps of travel."""
    made = world_of(
        [ring()],
        the_lens=lens(image_circle_mm=None),
        the_body=body(stabiliser={"travel_mm": 2.0, "travel_steps": [], "stored_lenses": 3}),
    )
    asked = RigAsked("Test", "lens", ("ring",))
    report = stored_report(made, "body", [asked], [], {}, Practice())
    assert [need.travel for need in report.needs] == [1.0]


@pytest.mark.parametrize(
    ("k", "said"),
    # 2·log₂ 1/k: 1 stop at 0.7071, 2 at 0.5, a loss of 1 at 1.4142.
    [(0.70711, "+1 stop, "), (0.5, "+2 stops, "), (0.8, "+0.6 stops, "), (1.41421, "−1 stop, ")],
)
def test_what_glass_does_to_the_light_is_told_in_stops(k: float, said: str) -> None:
    kind = "reducer" if k < 1 else "expander"
    found = rig(optics=kind, magnification=k, register_in_mm=45.0, register_out_mm=20.0)
    assert said in found.purpose


def test_why_a_look_alike_would_not_do_is_its_headline() -> None:
    """A ring that is too long by 20 mm: the finding that decides has a headline of its own."""
    made = compile_world(
        gear_of(
            {
                "mounts": [mount("front", 45.0, interface="front"), mount("rear", 20.0, interface="rear")],
                "lenses": [lens(owned=1)],
                "bodies": [body(owned=1)],
                "adapters": [ring("exact", price=20.0), ring("long", 45.0, price=10.0)],
            }
        )
    )
    question = PlanQuestion(demands=(Demand(lens="lens", bodies=("body",)),))
    (line,) = shop_lines(made, plan_of(made, question, Practice()), question, Practice())
    (alike,) = line.refuse
    assert alike.name == "Long"
    assert alike.why.startswith("Close-up only: sharp")


def test_what_a_ring_is_for_is_told_of_what_it_does_alone() -> None:
    assert rig(25.0).purpose == "To infinity"
    assert rig(45.0).purpose.startswith("To 0.")
    assert ", from " in rig(45.0).purpose
    assert ", from " in rig(45.0, tilt_deg=8.0).purpose
    assert ", from " not in rig(25.0, tilt_deg=8.0).purpose


@pytest.mark.parametrize(
    ("name", "special", "value"),
    [
        ("iris", {"aperture_control": "iris"}, 1.0),
        ("own_control_ring", {"control_ring": True}, 1.0),
        ("foot", {"tripod_foot": True}, 1.0),
        ("chip", {"link": "chip", "chip": {"focal_length_mm": 50, "f_number": 2}}, 1.0),
        ("plain_metal", {"link": "pass"}, -1.0),
        ("no_correcting_glass", {"optics": "correcting", "magnification": 1.2, **GLASS}, -1.0),
        ("helicoid", {"helicoid_mm": 6.0}, 6.0),
        ("no_feeler", {"lens_side_features": []}, 0.0),
    ],
)
def test_one_piece_of_two_makes_a_chain_what_it_is(name: str, special: dict[str, Any], value: float) -> None:
    made = world_of([ring("one", 10.0, **special), ring("other", 15.0)])
    one, other = made.adapters["one"], made.adapters["other"]
    place = OF_PIECES.index(name)
    assert of_pieces((one, other))[place] == of_pieces((other, one))[place] == value
    assert of_pieces((other, other))[place] == 0.0
    assert of_pieces(())[place] == (1.0 if name == "no_feeler" else 0.0)


@pytest.mark.parametrize(("rotates", "moves", "wanted"), [(True, True, 1.0), (True, False, 0.0), (False, True, 0.0)])
def test_only_what_moves_is_turned(rotates: bool, moves: bool, wanted: float) -> None:
    made = world_of([ring("one", 10.0, rotates=rotates, tilt_deg=8.0 if moves else 0.0), ring("other", 15.0)])
    found = of_pieces((made.adapters["one"], made.adapters["other"]))
    assert found[OF_PIECES.index("turns")] == wanted


def test_a_lens_of_one_stop_has_nothing_to_be_closed_by() -> None:
    fixed = world_of([ring()], the_lens=lens(f_number=[8, 8], aperture="ring"))
    turned = world_of([ring()], the_lens=lens(f_number=[2, 16], aperture="ring"))
    for made, said in ((fixed, "nothing"), (turned, "by_hand")):
        attached = to_rehearse(made, Rig.of("lens", "body", ["ring"]), Practice()).attached
        assert attached is not None
        assert attached.iris == said


def test_a_place_of_a_body_and_a_name_that_goes_into_it() -> None:
    steady = {"travel_mm": 2.0, "stored_lenses": 3}
    short, free = (
        world_of([ring()], the_body=body(stabiliser={**steady, **more})).bodies["body"]
        for more in ({"name_length": 4}, {})
    )
    check_place(short, 3, "Four")
    check_place(free, 3, "A name of any length")
    for asked, number, label, said in (
        (short, 3, "Fives", "at most 4 letters"),
        (short, 4, "Four", "3 places"),
        (free, 4, "", "3 places"),
    ):
        with pytest.raises(NotPossibleError, match=said):
            check_place(asked, number, label)


@pytest.mark.parametrize(("k", "opened_mm"), [(0.5, 8.0), (0.8, 3.125), (1.25, 1.28)])
def test_a_helicoid_behind_glass_opens_by_one_over_the_square(k: float, opened_mm: float) -> None:
    """2 mm behind glass move the image before it by 2/k²."""
    kind = "reducer" if k < 1 else "expander"
    glass = {"optics": kind, "magnification": k, **GLASS}
    found = []
    for helicoid_mm in (0.0, 2.0):
        made = world_of([ring(helicoid_mm=helicoid_mm, **glass)])
        judged = assess(made, made.lenses["lens"], (made.adapters["ring"],), made.bodies["body"], Practice())
        _, near_mm = extensions_at(judged.rig, 50.0, PLAIN)
        assert near_mm is not None
        found.append(near_mm)
    assert found[1] - found[0] == pytest.approx(opened_mm)


@pytest.mark.parametrize(("circle_mm", "said"), [(70.0, 0), (45.0, 1)])
def test_a_whole_travel_is_not_set(circle_mm: float, said: int) -> None:
    """A measured circle that leaves room for all of the travel asks for no step of it."""
    made = world_of(
        [ring()],
        the_lens=lens(image_circle_mm=circle_mm, image_circle_from="measured"),
        the_body=body(stabiliser={"travel_mm": 4.0, "travel_steps": [1.0, 0.5, 0.1], "stops": 4}),
    )
    [route] = match(made, "lens", "body", via=["ring"]).routes
    steps = [one.text for one in details(route).steps]
    assert sum("leaves room for" in one for one in steps) == said


def test_a_body_without_a_stabiliser_has_none_to_leave_out() -> None:
    long = {"focal_length_mm": [200, 200], "min_focus_m": 2.0}
    bare, steady = (
        world_of([ring()], the_lens=lens(**long), the_body=body(**more))
        for more in ({}, {"stabiliser": {"travel_mm": 4.0}})
    )
    told = [
        next(one.text for one in match(made, "lens", "body", via=["ring"]).routes[0].findings if one.code == "shake")
        for made in (bare, steady)
    ]
    assert ["without the stabiliser" in text for text in told] == [False, True]


def test_only_generations_that_are_in_question_are_named() -> None:
    """The lens is of generation I, and nobody knows the body's: its labels alone are said."""
    parts = {
        **PARTS,
        "rules": [{"lens_has": ["rack"], "body_has": ["slide"], "effect": "inspect", "text": "Look at the slide."}],
    }
    made = gear_of(
        {"mounts": [mount("front", 45.0, **parts)], "bodies": [body(mount="front")], "lenses": [lens(generation="old")]}
    )
    [route] = match(compile_world(made), "lens", "body", via=[]).routes
    said = next(one.text for one in route.findings if one.code == "coupling_inspect")
    assert "is of generation I½:" in said


def test_between_equal_registers_no_length_is_sure() -> None:
    made = world_of([ring()], lens_register_mm=30.0, body_register_mm=30.0)
    assert [one.field for one in usual_values(made, "adapters", "front", "rear").sure] == []
    apart = world_of([ring()], lens_register_mm=30.5, body_register_mm=30.0)
    assert [(one.field, one.value) for one in usual_values(apart, "adapters", "front", "rear").sure] == [
        ("length_mm", 0.5)
    ]


def test_no_more_look_alikes_are_listed_than_anyone_reads() -> None:
    """Seven rings that are too long, beside the one that is bought."""
    rings = [ring("good", price=20, length_mm=25.0)]
    rings += [ring(f"long-{number}", price=10, length_mm=26.0 + number / 10) for number in range(7)]
    made = world_of(rings, the_lens=lens(owned=1), the_body=body(owned=1))
    question = PlanQuestion(demands=(Demand(lens="lens", bodies=("body",)),))
    [line] = shop_lines(made, plan_of(made, question, Practice()), question, Practice())
    assert len([one for one in line.refuse if one.name.startswith("Long")]) == 5


def test_a_rear_of_which_only_the_width_is_known_may_not_pass() -> None:
    """Nothing stands in the body; how far the rear reaches in is not stated, or is."""
    told = []
    stated: tuple[dict[str, Any], ...] = ({}, {"rear_protrusion_mm": 3.0})
    for more in stated:
        free = {"lens_kind": "mirrorless"}
        made = world_of([ring(bore_mm=40.0)], the_lens=lens(rear_diameter_mm=30.0, **more), rear=free, front=free)
        [route] = match(made, "lens", "body", via=["ring"]).routes
        told.append(any("whether its rear passes (how far it reaches in" in one.text for one in route.findings))
    assert told == [True, False]


def test_what_works_through_an_adapter_is_named() -> None:
    [said] = [one.text for one in electronic(link="pass").findings if one.code == "through_adapter"]
    assert "autofocus" in said
    assert "nothing is lost" not in said


def test_of_ways_that_use_the_same_the_likeliest_stands() -> None:
    alike = tuple(Way((("ring", 1),), 3, chance) for chance in (0.6, 0.9, 0.7))
    task = Task((Want("it", "it", alike),), {"ring": Offer(100)})
    assert needed_ways(task) == [[1]]


def test_what_a_helicoid_adds_reaches_farther() -> None:
    """Opened by 4 mm the lens stands farther out."""
    ends = []
    for mm in (0.0, 4.0):
        made = world_of([ring(helicoid_mm=mm)])
        assessed = assess(made, made.lens("lens"), (made.adapter("ring"),), made.body("body"), Practice())
        ends.append(wants_of(assessed)[WANTS.index("extension")])
    assert ends[1] - ends[0] == pytest.approx(4.0)


@pytest.mark.parametrize("together", [False, True])
def test_rows_that_are_left_out_early_are_not_missed(
    sample: World, monkeypatch: pytest.MonkeyPatch, together: bool
) -> None:
    """Beyond so many chains what no plan needs is left out before anything else: here of any number."""
    bodies = tuple(one.id for one in sample.gear.bodies)[:4]
    demands = tuple(Demand(lens=one.id, bodies=bodies) for one in sample.gear.mounted[:12])
    question = PlanQuestion(demands=demands, together=together)
    whole = plan_of(sample, question, Practice(pieces="2"))
    monkeypatch.setattr(candidate_pool, "_MANY", 0)
    monkeypatch.setattr(looked_at, "_TOGETHER", 0)
    early = plan_of(sample, question, Practice(pieces="2"))
    assert (early.met, early.cost, early.status) == (whole.met, whole.cost, "optimal")
