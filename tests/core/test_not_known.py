"""What is not known is not harmless: leaving a value out never answers better than stating its usual value."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.rigs import ELECTRONIC, GLASS, LINK, PARTS, codes, only_route
from tests.worlds import body, gear_of, lens, mount, ring, world_of
from tropeion.core.answers.fits import what_fits
from tropeion.core.findings import rank
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.rig.rig_report import Route
from tropeion.core.routes.match import match, show_working

Document = dict[str, dict[str, Any]]
# A rig of which everything is stated, at what is usual.
USUAL: Document = {
    "lens": {
        # Focused out by 0.15 of its focal length, the most that is taken for usual where nothing is stated.
        "min_focus_m": 0.44,
        "image_circle_mm": 43.3,
        "rear_protrusion_mm": 0.0,
        "mass_g": 200.0,
        "centre_of_mass_mm": 20.0,
        "exit_pupil_mm": 60.0,
        "generation": "new",
    },
    "body": {"obstruction_mm": 5.0, "max_ray_angle_deg": 40.0},
    "ring": {"tolerance_mm": 0.05, "play_mm": 0.05, "mass_g": 80.0, "bore_mm": 60.0},
    "front": {"tolerance_mm": 0.02, "play_mm": 0.03, "load_rating_nm": 1.2},
    "rear": {"tolerance_mm": 0.02, "play_mm": 0.02, "load_rating_nm": 1.2, "throat_mm": 60.0},
}
# Each field that may be left out, with the words by which it is missed.
MISSED: dict[tuple[str, str], str] = {
    ("lens", "min_focus_m"): "closest focus",
    ("lens", "image_circle_mm"): "circle",
    ("lens", "rear_protrusion_mm"): "how far the rear of Test lens reaches in",
    ("lens", "mass_g"): "weight of Test lens",
    ("lens", "centre_of_mass_mm"): "centre of mass of Test lens",
    ("lens", "exit_pupil_mm"): "exit pupil of Test lens",
    ("body", "obstruction_mm"): "how far in Test body is free",
    ("body", "max_ray_angle_deg"): "how steep rays the sensor of Test body takes",
    ("ring", "tolerance_mm"): "±0.05 mm for Ring",
    ("ring", "play_mm"): "play (of Ring)",
    ("ring", "mass_g"): "weight of Ring",
    ("ring", "bore_mm"): "bore of Ring",
    ("front", "tolerance_mm"): "±0.02 mm for the mount face of Front",
    ("front", "play_mm"): "play (of Front)",
    ("front", "load_rating_nm"): "what the joint of Ring may carry",
    ("rear", "tolerance_mm"): "±0.02 mm for the mount face of Rear",
    ("rear", "throat_mm"): "throat of Rear",
}
# The lens's seat is rated by either mount; both have to be silent.
BOTH = {"load_rating_nm"}


def without(where: str, field: str) -> Document:
    sides = {where, "rear"} if field in BOTH else {where}
    return {
        side: {name: value for name, value in fields.items() if side not in sides or name != field}
        for side, fields in USUAL.items()
    }


def judged(document: Document, length_mm: float, practice: Practice, **more: Any) -> Route:
    """The lens on a body 25 mm shorter; mounts of the tests state a tolerance of nothing unless told otherwise."""
    front, rear = ({"tolerance_mm": None, **document[side]} for side in ("front", "rear"))
    world = compile_world(
        gear_of(
            {
                "mounts": [{**mount("front", 45.0), **PARTS, **front}, {**mount("rear", 20.0), **rear}],
                "bodies": [body(**document["body"])],
                "lenses": [lens(**{"min_focus_m": None, "image_circle_mm": None, **document["lens"], **more})],
                "adapters": [ring(length_mm=length_mm, **{"tolerance_mm": None, **document["ring"]})],
            }
        )
    )
    (route,) = match(world, "lens", "body", practice, via=["ring"]).routes
    return route


@given(
    missing=st.sampled_from(sorted(MISSED)),
    length_mm=st.sampled_from([12.0, 16.9, 17.6, 20.0, 23.9, 23.96, 24.9, 24.97, 25.0, 25.03, 25.06, 25.3, 25.6, 27.0]),
    f_number=st.sampled_from([1.4, 2.0, 4.0, 11.0]),
    trust=st.sampled_from(["nominal", "cautious"]),
)
def test_leaving_a_value_out_never_answers_better_and_is_said(
    missing: tuple[str, str], length_mm: float, f_number: float, trust: Any
) -> None:
    practice, fast = Practice(trust=trust), {"f_number": [f_number, 16]}
    stated = judged(USUAL, length_mm, practice, **fast)
    left_out = judged(without(*missing), length_mm, practice, **fast)
    assert rank(left_out.grade) <= rank(stated.grade)
    one, other = left_out.wide, stated.wide
    assert bool(one.infinity.reached) <= bool(other.infinity.reached)
    assert (one.infinity.probability or 0.0) <= (other.infinity.probability or 0.0) + 1e-12
    assert (one.focus.max_magnification or 0.0) <= (other.focus.max_magnification or 0.0)
    assert left_out.register_tolerance_mm.worst_case >= stated.register_tolerance_mm.worst_case
    said = [found.text for found in left_out.findings]
    assert any(MISSED[missing] in text for text in said), said
    assert not any(MISSED[missing] in found.text for found in stated.findings if found.code != "passes_infinity")


def test_what_is_stated_is_not_missed() -> None:
    stated = judged(USUAL, 25.0, Practice())
    assert {found.code for found in stated.findings} == {"by_hand"}
    assert stated.assumed == ()


# What is assumed


def test_assumed_values_are_named_by_their_paths_and_marked_in_the_working() -> None:
    silent: Document = {side: {} for side in USUAL}
    route = judged(silent, 25.0, Practice())
    assert route.assumed == (
        "lens.mount.tolerance_mm",
        "lens.min_focus_m",
        "lens.image_circle_mm",
        "adapters[0].tolerance_mm",
        "body.mount.tolerance_mm",
    )
    # ±0.02 mm for either seat, ±0.05 mm for the ring.
    assert route.register_tolerance_mm.worst_case == pytest.approx(0.09)
    assert (route.play.displacement_mm, route.loads) == (None, ())
    world = world_of([ring(tolerance_mm=None)], the_lens=lens(assumed=["image_circle_mm"]))
    assert only_route(world).assumed == ("lens.image_circle_mm", "adapters[0].tolerance_mm")
    steps = [step for step in show_working(world, Rig.of("lens", "body", ["ring"])) if "assumed" in step.quantity]
    assert [(step.value, "Assumed" in step.source) for step in steps] == [(0.05, True)]


def test_a_measured_piece_needs_no_nominal_tolerance() -> None:
    world = world_of([ring(tolerance_mm=None, measured_length_mm=25.0, measured_tolerance_mm=0.01)])
    assert only_route(world).assumed == ()


# Clearance


@pytest.mark.parametrize(("obstruction_mm", "hits"), [(19.4, False), (19.6, True)])
def test_the_body_is_checked_behind_a_reducer_too(obstruction_mm: float, hits: bool) -> None:
    """The rear stands 20 + 25 − 25 = 20 mm before the sensor; where the glass begins nobody says."""
    glass = {"optics": "reducer", "magnification": 0.7, **GLASS}
    world = world_of(
        [ring(**glass)], the_lens=lens(rear_protrusion_mm=25.0), the_body=body(obstruction_mm=obstruction_mm)
    )
    route = only_route(world)
    assert ("rear_collides" in codes(route)) is hits
    unknown = next(found for found in route.findings if found.code == "clearance_unknown")
    assert unknown.severity == "caution"
    assert "where the glass of Ring begins is not stated" in unknown.text


def test_a_mirror_of_unknown_depth_is_a_caution_and_none_where_there_is_no_mirror() -> None:
    def said(**rear: Any) -> set[str]:
        world = world_of([ring()], the_lens=lens(rear_protrusion_mm=3.0), rear=rear)
        return {found.code for found in only_route(world).findings}

    assert "clearance_unknown" in said(lens_kind="reflex")
    assert "clearance_unknown" not in said(lens_kind="mirrorless")


# Contacts


def at_home(**more: Any) -> Route:
    document: dict[str, Any] = {
        "protocols": LINK,
        "mounts": [mount("front", 45.0, generations=[{"id": "one", "label": "I"}, {"id": "two", "label": "II"}])],
        "bodies": [body(mount="front", **{"generation": "one", **more.get("the_body", {})})],
        "lenses": [lens(**{**ELECTRONIC, "generation": "one", **more.get("the_lens", {})})],
    }
    return only_route(compile_world(gear_of(document)), via="")


@pytest.mark.parametrize(
    ("the_lens", "the_body", "grade"),
    [
        ({}, {"protocols": ["speech"]}, "native"),
        ({"protocol": None}, {"protocols": ["speech"]}, "manual"),
        ({}, {}, "manual"),
        # Another generation may speak another language: nothing is taken for granted there.
        ({}, {"generation": "two"}, "none"),
    ],
)
def test_a_lens_at_home_is_not_without_power_for_want_of_data(
    the_lens: dict[str, Any], the_body: dict[str, Any], grade: str
) -> None:
    route = at_home(the_lens=the_lens, the_body=the_body)
    assert route.grade == grade
    assert ("contacts_assumed" in codes(route)) is (grade == "manual")


@pytest.mark.parametrize(
    ("powers", "grade"), [(None, "full"), (["iris", "focus"], "full"), (["focus"], "partial"), ([], "none")]
)
def test_a_protocol_that_does_not_say_what_it_powers_powers_all_and_an_empty_list_nothing(
    powers: list[str] | None, grade: str
) -> None:
    speech = {"id": "speech", "name": "Speech", **({} if powers is None else {"powers": powers})}
    world = world_of(
        [ring(link="pass")], the_lens=lens(**ELECTRONIC), the_body=body(protocols=["speech"]), protocols=[speech]
    )
    assert only_route(world).grade == grade


# Threads


def threaded(pitch_mm: float) -> World:
    def screw(id_: str, register_mm: float, pitch: float) -> dict[str, Any]:
        thread = {"diameter_mm": 53.0, "pitch_mm": pitch}
        return {**mount(id_, register_mm), "coupling": "screw", "interface": f"thread-{pitch}", "thread": thread}

    document = {
        "mounts": [screw("front", 45.0, pitch_mm), screw("rear", 45.0, 1.0)],
        "bodies": [body(owned=1)],
        "lenses": [lens()],
    }
    return compile_world(gear_of(document))


def test_threads_that_bind_are_told_though_no_chain_is_named() -> None:
    report = match(threaded(0.7), "lens", "body")
    assert report.routes == ()
    assert "The threads bind: Test lens does not go into Test body. Do not force it." in report.sentence
    assert len(report.warnings) == 1
    assert match(threaded(1.0), "lens", "body").warnings == ()
    (fit,) = what_fits(threaded(0.7), lens="lens", practice=Practice()).fits
    assert (fit.grade, len(fit.warnings)) == (None, 1)


def test_so_is_the_ring_of_the_other_pitch(sample: World) -> None:
    report = match(sample, "tub-400", "o7")
    assert any("Northgate 53 × 0.7–OST helicoid" in warning for warning in report.warnings)


# Copies


def test_a_second_copy_is_not_owned_and_has_its_price() -> None:
    def costs(owned: int) -> tuple[bool, float | None]:
        tube = ring(body_mount="front", length_mm=12.5, owned=owned, price=30.0)
        world = world_of([tube], body_register_mm=20.0, the_body=body(mount="front", measured_register_mm=20.0))
        (route,) = match(world, "lens", "body", via=["ring", "ring"]).routes
        return route.owned, route.price

    assert costs(0) == (False, 60.0)
    assert costs(1) == (False, 30.0)
    assert costs(2) == (True, 0.0)


GENERATIONS = [{"id": "early", "label": "I"}, {"id": "late", "label": "II"}]


def bare(lens_generation: str | None, body_generation: str | None, **built: Any) -> Route:
    system = mount("front", 45.0, generations=GENERATIONS)
    one, other = lens(generation=lens_generation, **built), body(mount="front", generation=body_generation)
    world = compile_world(gear_of({"mounts": [system], "lenses": [one], "bodies": [other]}))
    return match(world, "lens", "body", via=[]).routes[0]


@pytest.mark.parametrize("built", [{"focus": "by_wire"}, {"aperture": "electronic"}, {"aperture": "lever"}])
def test_two_generations_that_nobody_states_are_not_the_same_one(built: dict[str, Any]) -> None:
    stated = [bare(one, other, **built) for one in ("early", "late") for other in ("early", "late")]
    worst = min(rank(route.grade) for route in stated)
    assert worst < max(rank(route.grade) for route in stated)
    for one, other in ((None, None), (None, "early"), ("late", None)):
        assert rank(bare(one, other, **built).grade) == worst


def test_a_system_of_one_generation_needs_none_stated() -> None:
    for generations in ([], GENERATIONS[:1]):
        system = mount("front", 45.0, generations=generations)
        world = compile_world(
            gear_of({"mounts": [system], "lenses": [lens(aperture="lever")], "bodies": [body(mount="front")]})
        )
        assert match(world, "lens", "body", via=[]).routes[0].grade == "native"


@pytest.mark.parametrize(
    ("protrusion_mm", "hits"), [(44.0, False), (44.5, False), (44.51, True), (45.0, True), (60.0, True)]
)
def test_the_sensor_is_always_in_the_way(protrusion_mm: float, hits: bool) -> None:
    """45 mm of room behind the flange, and 0.5 mm have to be left."""
    system = mount("front", 45.0, lens_kind="mirrorless")
    one = lens(rear_protrusion_mm=protrusion_mm)
    world = compile_world(gear_of({"mounts": [system], "lenses": [one], "bodies": [body(mount="front")]}))
    (route,) = match(world, "lens", "body", via=[]).routes
    assert (route.grade == "danger") is hits
    assert ("rear_collides" in {finding.code for finding in route.findings}) is hits
