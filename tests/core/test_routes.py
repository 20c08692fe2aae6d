"""Chains of adapters: random small worlds against an exhaustive search."""

from __future__ import annotations

import itertools
import math
from typing import Any, get_args

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.thorough import examples
from tests.worlds import details, gear_of, mount, ring
from tropeion.core.findings import GRADES, Grade, rank
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.world import World, compile_world
from tropeion.core.joints.signal import FunctionName
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.rig.rig_report import Route
from tropeion.core.routes.bounds import bounds_of, may_come_to
from tropeion.core.routes.chains import UNLIMITED, copies_of, expand, ways
from tropeion.core.routes.grades import best_grade, best_grades
from tropeion.core.routes.match import match
from tropeion.core.routes.pair_columns import pairs_of
from tropeion.core.routes.table import find_chains, table_of

SYSTEMS = ("a", "b", "c", "d")
REGISTERS = {"a": 60.0, "b": 45.0, "c": 30.0, "d": 20.0}
SPOKEN = {"link": "pass"}

GLASS: list[dict[str, Any]] = [
    {},
    {},
    {},
    {"optics": "reducer", "magnification": 0.7, "register_in_mm": 45.0, "register_out_mm": 20.0, "front_glass_mm": 9.0},
    {
        "optics": "reducer",
        "magnification": 0.7,
        "register_in_mm": 45.1,
        "register_out_mm": 30.0,
        "image_circle_mm": 30.0,
    },
    {"optics": "correcting", "magnification": 1.3, "register_in_mm": 30.0, "register_out_mm": 45.0},
    {
        "optics": "expander",
        "magnification": 1.4,
        "register_in_mm": 60.0,
        "register_out_mm": 45.0,
        "widest_f_number": 2.9,
    },
]
metal = st.fixed_dictionaries(
    {
        "lens_mount": st.sampled_from(SYSTEMS),
        "body_mount": st.sampled_from(SYSTEMS),
        "length_mm": st.sampled_from([0.5, 10.0, 15.0, 15.05, 25.0, 30.0, 40.0]),
        "owned": st.integers(0, 2),
        "price": st.sampled_from([None, 10.0, 20.0]),
        "link": st.sampled_from(["none", "pass"]),
        "aperture_control": st.sampled_from(["none", "none", "lever_ring", "pin_press"]),
        "helicoid_mm": st.sampled_from([0.0, 0.0, 6.0]),
        "bore_mm": st.sampled_from([None, 44.0, 30.0]),
        "irreversible": st.sampled_from([False, False, False, True]),
        "retired": st.sampled_from([False, False, False, True]),
        "tilt_deg": st.sampled_from([0.0, 0.0, 0.0, 8.0]),
        "tripod_foot": st.sampled_from([False, False, False, True]),
        "locking": st.sampled_from([False, False, False, True]),
        "play_mm": st.sampled_from([None, 0.02]),
        "filter_slot": st.sampled_from([None, None, None, {"kind": "wheel"}, {"positions": [{"name": "grey"}]}]),
    }
)
pieces = st.builds(lambda plain, glass: {**plain, **glass}, metal, st.sampled_from(GLASS))
lenses = st.fixed_dictionaries(
    {
        "mount": st.sampled_from(SYSTEMS),
        "focus": st.sampled_from(["ring", "by_wire", "motor", "none"]),
        "aperture": st.sampled_from(["ring", "lever", "pin", "electronic"]),
        "iris_at_rest": st.sampled_from(["open", "closed", "stays"]),
        "protocol": st.sampled_from([None, "speech"]),
        "min_focus_m": st.sampled_from([None, 0.3, 0.5]),
        "past_infinity_mm": st.sampled_from([0.0, 0.2]),
        "image_circle_mm": st.sampled_from([None, 30.0, 45.0]),
        "offers": st.sampled_from([[], ["autofocus", "aperture", "identity"]]),
        "rear_protrusion_mm": st.sampled_from([None, 4.0, 30.0]),
        "exit_pupil_mm": st.sampled_from([None, 50.0, 90.0]),
        "focal_length_mm": st.sampled_from([[50, 50], [50, 50], [35, 70]]),
    }
)
bodies = st.fixed_dictionaries(
    {
        "mount": st.sampled_from(SYSTEMS),
        "protocols": st.sampled_from([[], ["speech"]]),
        "obstruction_mm": st.sampled_from([None, 6.0]),
    }
)


def world_of(rings: list[dict[str, Any]], the_lens: dict[str, Any], the_body: dict[str, Any]) -> World:
    document = {
        "protocols": [{"id": "speech", "name": "Speech", "powers": ["iris", "focus"]}],
        "mounts": [mount(id_, REGISTERS[id_], 0.01, interface=f"joint-{id_}") for id_ in SYSTEMS],
        "bodies": [{"id": "body", "name": "Body", "sensor_mm": [36.0, 24.0], **the_body}],
        "lenses": [{"id": "lens", "name": "Lens", "f_number": [2, 16], **the_lens}],
        "adapters": [ring(f"r{number}", **{"tolerance_mm": 0.02, **one}) for number, one in enumerate(rings)],
    }
    return compile_world(gear_of(document))


def exhaustive(world: World, most: int) -> set[tuple[str, ...]]:
    """Every sequence of at most ``most`` pieces, tried one by one."""
    lens, body = world.lenses["lens"], world.bodies["body"]
    usable = [a for a in world.gear.adapters if not a.retired]
    found = set()
    for count in range(most + 1):
        for chain in itertools.product(usable, repeat=count):
            if any(chain.count(piece) > copies_of(piece) for piece in chain):
                continue
            ends = [
                world.mount_of(lens).id,
                *(m for piece in chain for m in (piece.lens_mount, piece.body_mount)),
                body.mount,
            ]
            joints = zip(ends[::2], ends[1::2], strict=True)
            if all(world.mounts[front].joint == world.mounts[rear].joint for front, rear in joints):
                found.add(tuple(piece.id for piece in chain))
    return found


worlds = st.builds(world_of, st.lists(pieces, max_size=7), lenses, bodies)


@settings(max_examples=examples(120))
@given(worlds, st.integers(0, 3))
def test_every_chain_is_found_once_and_none_that_does_not_mate(world: World, most: int) -> None:
    chains = find_chains(world, world.lenses["lens"], world.bodies["body"], most)
    concrete = [tuple(piece.id for piece in one) for chain in chains for one in expand(chain)]
    assert len(concrete) == len(set(concrete))
    assert set(concrete) == exhaustive(world, most)


@settings(max_examples=examples(120))
@given(worlds, st.integers(0, 3))
def test_counts_are_exact(world: World, most: int) -> None:
    chains = find_chains(world, world.lenses["lens"], world.bodies["body"], most)
    for chain in chains:
        assert ways(chain) == sum(1 for _ in expand(chain)) > 0
    assert sum(ways(chain) for chain in chains) == len(exhaustive(world, most))


def grade_of(world: World, chain: tuple[str, ...], practice: Practice) -> Grade:
    adapters: tuple[Adapter, ...] = tuple(world.adapters[id_] for id_ in chain)
    return assess(world, world.lenses["lens"], adapters, world.bodies["body"], practice).grade


@settings(max_examples=examples(150))
@given(worlds, st.sampled_from(["nominal", "cautious"]), st.sampled_from(["1500", "3000"]))
def test_the_best_grade_is_that_of_an_exhaustive_search(world: World, trust: Any, blur: Any) -> None:
    practice = Practice(trust=trust, blur=blur, pieces="2")
    grades = [grade_of(world, chain, practice) for chain in exhaustive(world, 2)]
    expected = max(grades, key=rank, default=None)
    lens, body = world.lenses["lens"], world.bodies["body"]
    assert best_grade(world, lens, body, practice) == expected
    assert best_grades(world, [lens], [body], practice) == {("lens", "body"): expected}


def assert_bounds_hold(world: World, practice: Practice) -> None:
    """No chain gets a better grade than its bound, and what is sure is what is judged."""
    lens, body = world.lenses["lens"], world.bodies["body"]
    table = table_of(world, lens, body, int(practice.pieces))
    pair = pairs_of(world, [(lens, body)], practice)
    bounds, sure, *_ = bounds_of(table, pair)
    may = [may_come_to(table, pair, np.full((1, 1), least)) for least in range(len(GRADES))]
    for index in range(len(table)):
        grade = rank(assess(world, lens, table.adapters(index), body, practice).grade)
        assert bounds[0, index] >= grade
        assert may[grade][0, index], "what can be told early is not told too soon"
        assert not sure[0, index] or bounds[0, index] == grade


@settings(max_examples=examples(120))
@given(worlds, st.sampled_from(["nominal", "cautious"]), st.sampled_from(["1500", "two_pixels"]))
def test_no_chain_is_better_than_its_bound(world: World, trust: Any, blur: Any) -> None:
    assert_bounds_hold(world, Practice(trust=trust, blur=blur, pieces="2"))


LEVELS = {"lost": 0, "stuck": 0, "by_hand": 1, "entered": 1, "slow": 2, "full": 3}


def could_want(world: World, route: Route) -> tuple[list[float], list[float]]:
    """What routes must agree in, and what more is better of, told anew from the report and from the pieces."""
    chain = [world.adapters[id_] for id_ in route.adapters]
    agree, wanted = [], []
    for end in route.ends:
        agree += [round(end.focal_length_mm, 6), round(end.f_number, 6)]
        wanted += [
            -math.inf if end.focus.near_mm is None else -round(end.focus.near_mm, 6),
            round(end.focus.max_magnification or 0.0, 6),
            end.infinity.probability or 0.0,
            -(end.infinity.from_f_number or math.inf),
        ]
    left = {one.function: LEVELS[one.state] for one in details(route).functions}
    price = route.price
    wanted += [
        float(rank(route.grade)),
        *(left.get(name, 3.0) for name in get_args(FunctionName)),
        0.0 if route.coverage.crop_to_cover else 1.0,
        route.coverage.megapixels or 0.0,
        round(route.light_change_stops, 6),
        *(max((1.0 for piece in chain if piece.aperture_control == kind), default=0.0) for kind in ("iris",)),
        sum(piece.helicoid_mm for piece in chain),
        sum(piece.tilt_deg for piece in chain),
        sum(piece.shift_mm for piece in chain if piece.shift_axis != "across" or piece.rotates),
        sum(piece.shift_mm for piece in chain if piece.shift_axis != "up" or piece.rotates),
        float(any(piece.tripod_foot for piece in chain)),
        float(any(piece.control_ring for piece in chain)),
        *(
            float(any(piece.filter_slot is not None and piece.filter_slot.kind == kind for piece in chain))
            for kind in ("drop_in", "wheel", "variable")
        ),
        -float(len(chain)),
        float(route.owned),
        -math.inf if price is None else -price,
    ]
    return agree, wanted


@settings(max_examples=examples(150))
@given(worlds)
def test_what_is_folded_is_beaten_in_everything_that_anyone_could_want(world: World) -> None:
    """Every chain that is left out, tried one by one, against those that are shown."""
    practice = Practice(pieces="2")
    report = match(world, "lens", "body", practice)
    assert report.total == len(exhaustive(world, 2))
    assert report.folded == report.total - sum(route.stands_for for route in report.routes)
    shown = [*report.routes]
    stood_for = {
        chain for route in shown for chain in itertools.product(*route.interchangeable or (tuple(route.adapters),))
    } | {route.adapters for route in shown}
    for chain in exhaustive(world, 2) - stood_for:
        (left_out,) = match(world, "lens", "body", practice, via=chain).routes
        if left_out.grade in {"none", "danger"} and (left_out.grade == "none" or len(chain) > 1):
            works = [route for route in shown if rank(route.grade) > rank("modify") and route.surely]
            if works:
                continue
        if left_out.grade in {"none", "danger"}:
            # Nothing of it works, so nothing can be wanted of it but that it is no worse.
            assert any(rank(route.grade) >= rank(left_out.grade) for route in shown)
            continue
        agree, wanted = could_want(world, left_out)
        beaten_by = [
            route
            for route in shown
            if route.surely and route.details is not None and could_want(world, route)[0] == agree
            if all(one >= other for one, other in zip(could_want(world, route)[1], wanted, strict=True))
        ]
        assert beaten_by, (chain, left_out.grade)


@settings(max_examples=examples(80))
@given(st.lists(pieces, max_size=5), pieces, lenses, bodies)
def test_more_on_the_market_never_worsens_the_best_grade(
    rings: list[dict[str, Any]], another: dict[str, Any], the_lens: dict[str, Any], the_body: dict[str, Any]
) -> None:
    practice = Practice(pieces="2")

    def best(world: World) -> int:
        grade = best_grade(world, world.lenses["lens"], world.bodies["body"], practice)
        return -1 if grade is None else rank(grade)

    assert best(world_of([*rings, another], the_lens, the_body)) >= best(world_of(rings, the_lens, the_body))


def test_a_piece_is_used_as_often_as_it_is_owned_or_without_end_if_it_is_sold() -> None:
    tube = {"lens_mount": "a", "body_mount": "a", "length_mm": 10.0}
    the_lens = {"mount": "a", "focal_length_mm": [50, 50]}
    the_body = {"mount": "a", "protocols": []}
    for owned, price, longest in ((1, None, 1), (2, None, 2), (2, 5.0, 3), (0, None, 3)):
        world = world_of([{**tube, "owned": owned, "price": price}], the_lens, the_body)
        chains = find_chains(world, world.lenses["lens"], world.bodies["body"], 3)
        assert max(len(chain) for chain in chains) == longest
    assert copies_of(world.adapters["r0"]) == UNLIMITED
