"""By difference, by holding, by turning: registers and throws that nobody stated; threads by what known parts do."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.thorough import EVERYWHERE
from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.bench.builds import WAYS_TO_MAKE
from tropeion.core.bench.difference import body_by_difference, lens_by_difference
from tropeion.core.bench.holding import HoldingReport, Try, holding_report
from tropeion.core.bench.mountless import MountlessReport, mountless_of
from tropeion.core.bench.threads import PartTried, ThreadReport, which_thread
from tropeion.core.bench.throw import ThrowReport, throw_report
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.world import World, compile_world
from tropeion.core.optics.focus import object_distance_mm

# By difference


def test_a_lens_against_a_known_one() -> None:
    # Known 48.20 ± 0.01; it stands 0.05 ± 0.02 too long, the other 0.12 ± 0.02: it wants 0.07 less.
    found = lens_by_difference((48.20, 0.01), (0.05, 0.02), (0.12, 0.02), 1.0)
    assert found.register_mm == pytest.approx(48.13)
    assert found.standard_uncertainty_mm == pytest.approx(0.03)
    assert found.measured_tolerance_mm == pytest.approx(0.03 * math.sqrt(3))
    # Through a reducer of a half a difference at the sensor is four times as much at the lens.
    assert lens_by_difference((48.20, 0.0), (0.0, 0.0), (0.04, 0.0), 0.5).register_mm == pytest.approx(48.04)
    with pytest.raises(ValueError, match="more than 0"):
        lens_by_difference((48.2, 0.0), (0.0, 0.0), (0.0, 0.0), 0.0)


@given(st.floats(15, 60), st.floats(15, 60), st.floats(-5, 5), st.floats(10, 40), st.sampled_from([0.7, 1.0, 1.4]))
def test_the_ring_drops_out(first: float, second: float, off: float, seat: float, k: float) -> None:
    """Whatever the ring and the body are, the other register comes back from the two errors."""
    stands = seat + off
    known, other = (k**2 * (stands - one) for one in (first, second))
    assert lens_by_difference((first, 0.0), (known, 0.0), (other, 0.0), k).register_mm == pytest.approx(second)
    bodies = body_by_difference((first, 0.0), (first - off, 0.0), (second - off, 0.0))
    assert bodies.register_mm == pytest.approx(second)


# By holding it before a known body


def world(**more: object) -> World:
    bare = lens(mount=None, focal_length_mm=[90, 90], f_number=[2.5, 2.5], focus="none", barrel_mm=42.0, **more)
    document = {"mounts": [mount("front", 45.0), mount("rear", 20.0)], "bodies": [body()], "lenses": [bare]}
    return compile_world(gear_of(document))


def held(*tries: Try) -> HoldingReport:
    one = world()
    return holding_report(one, one.gear.lenses[0], one.bodies["body"], tries)


def test_sharp_once_is_where_it_is_and_the_body_is_added() -> None:
    found = held(Try(51.0, "sharp"))
    assert found.length_mm == pytest.approx(51.0, abs=0.01)
    assert found.register_mm == pytest.approx(71.0, abs=0.01)
    assert found.fields["measured_register_mm"] == pytest.approx(71.0, abs=0.01)
    assert found.standard_uncertainty_mm is not None
    assert found.fields["measured_tolerance_mm"] >= math.sqrt(3) * found.standard_uncertainty_mm


def test_soft_beside_it_narrows_and_moves_away() -> None:
    wide, narrow = held(Try(51.0, "sharp")), held(Try(51.0, "sharp"), Try(50.5, "soft"))
    assert wide.length_mm is not None
    assert narrow.length_mm is not None
    assert narrow.length_mm > wide.length_mm


def test_something_nearer_tells_by_its_own_extension() -> None:
    # Sharp at 3 m with the shoulder at 54 mm: infinity lies by the extension for 3 m further in.
    x = 90 * 90 / (3000 - 2 * 90)
    found = held(Try(54.0, "near", object_distance_mm(90, x) / 1000))
    assert found.length_mm == pytest.approx(54.0 - x, abs=0.02)
    assert "at least 0.36 m" in held(Try(54.0, "near", 0.2)).tries[0].wrong


def test_soft_alone_tells_nothing_but_where_to_go_on() -> None:
    found = held(Try(60.0, "soft"), Try(55.0, "soft"))
    assert (found.length_mm, found.fields, found.next_mm) == (None, {}, 53.0)
    assert held().says == "Nothing tried yet."


def test_sharp_here_and_sharp_far_from_here_is_a_contradiction() -> None:
    assert held(Try(51.0, "sharp"), Try(58.0, "sharp")).contradicted
    assert not held(Try(51.0, "sharp"), Try(51.2, "sharp")).contradicted


def test_what_is_held_by_hand_is_found_again() -> None:
    """Seats anywhere, four tries each with the hand's own doubt: the interval holds most of them."""
    random = np.random.default_rng(5)
    inside, seats = 0, 50 if EVERYWHERE else 12
    for _ in range(seats):
        true = float(random.uniform(45, 55))
        tries = []
        for off in (-1.5, 0.0, 0.05, 1.5):
            length = true + off + float(random.normal(0, 0.15))
            tries.append(Try(length, "sharp" if abs(length - true) < 0.0725 else "soft"))
        tries.append(Try(true + 90 * 90 / 2820 + float(random.normal(0, 0.15)), "near", 3.0))
        found = held(*tries)
        assert found.interval_mm is not None
        inside += found.interval_mm[0] - 0.05 <= true <= found.interval_mm[1] + 0.05
    assert inside >= 0.88 * seats


# What brings it into focus


def builds(near_m: float | None = None, **more: object) -> MountlessReport:
    document = {
        "mounts": [
            mount(
                "tube",
                60.0,
                interface="tube",
                coupling="screw",
                thread={"diameter_mm": 52.0, "pitch_mm": 0.75},
                throat_mm=46.0,
            ),
            mount("rear", 20.0, interface="bayonet"),
        ],
        "bodies": [body()],
        "lenses": [
            lens(
                mount=None,
                focal_length_mm=[90, 90],
                f_number=[2.5, 2.5],
                focus="none",
                aperture="none",
                barrel_mm=42.0,
                measured_register_mm=70.0,
                measured_tolerance_mm=0.3,
                **more,
            )
        ],
        "adapters": [
            ring("helicoid", 40.0, lens_mount="tube", body_mount="rear", helicoid_mm=20.0, owned=1, bore_mm=44.0),
            ring("helicoid-b", 40.0, lens_mount="tube", body_mount="rear", helicoid_mm=20.0, price=80.0),
        ],
    }
    one = compile_world(gear_of(document))
    return mountless_of(one, one.gear.lenses[0], one.bodies["body"], near_m=near_m)


def test_mounts_that_name_no_interface_mate_with_themselves_alone() -> None:
    thread = {"diameter_mm": 52.0, "pitch_mm": 0.75}
    mounts = [
        mount("tube", 60.0, interface=None, coupling="screw", thread=thread),
        mount("rear", 20.0, interface=None),
        mount("far", 25.0, interface=None),
    ]
    bare = lens(mount=None, focus="none", barrel_mm=42.0, measured_register_mm=70.0, focal_length_mm=[90, 90])
    rings = [
        ring("right", 40.0, lens_mount="tube", body_mount="rear"),
        ring("wrong", 40.0, lens_mount="tube", body_mount="far"),
    ]
    document = {"mounts": mounts, "bodies": [body()], "lenses": [bare], "adapters": rings}
    one = compile_world(gear_of(document))
    found = mountless_of(one, one.gear.lenses[0], one.bodies["body"])
    assert [build.pieces for build in found.builds] == [("right",)]


def test_what_is_owned_comes_first_and_goes_together_in_order() -> None:
    found = builds()
    best, other = found.builds
    assert (best.pieces, best.missing, best.price) == (("helicoid",), (), 0.0)
    assert (other.missing, other.price) == (("helicoid-b",), 80.0)
    spacers, placed = best.placed
    # From the body's seat at 20 mm on.
    assert (placed.rear_mm, placed.front_mm, placed.travel_mm) == (20.0, 60.0, 20.0)
    assert spacers.made
    assert (spacers.rear_mm, spacers.front_mm) == pytest.approx((60.0, 69.7))
    assert found.shoulder_mm - found.seat_mm == found.fill_mm == 50.0
    assert best.sleeve is not None
    assert best.sleeve.bore_mm == pytest.approx(42.1)
    assert best.sleeve.wall_mm == pytest.approx(4.95)
    assert best.order[0].startswith("Slide the sleeve")
    # 70 − 20 mm less 0.3 past infinity, less the 40 of the helicoid.
    assert best.rest_mm == pytest.approx(9.7)
    assert "9.70 mm of spacers" in best.order[1]
    assert "off" in best.order[-2]
    assert "before the stop" in best.order[-1]


def test_a_bore_darkens_from_where_the_cone_no_longer_passes() -> None:
    # A pupil 90 mm before the image, which lies 0.3 mm behind the sensor: z before it the cone of f/2.5 to a height h
    # reaches z/5 + h·(1 − z/P) from the axis. The bore of 44 mm is tightest where it ends, 20 mm before the sensor.
    best, unknown = builds(exit_pupil_mm=90.0).builds
    pupil = 90.0 - 0.3
    assert best.clear_mm == pytest.approx((22 - 20 / 5) / (1 - 20 / pupil), rel=1e-6)
    assert unknown.clear_mm is None
    assert "not assessed" in unknown.clear_says
    # Nor where nobody said where the pupil stands.
    assert builds().builds[0].clear_mm is None


def test_an_iris_before_the_glass_is_as_wide_as_focal_length_over_stop() -> None:
    [iris] = builds().builds[0].irises
    assert (iris.stands, iris.piece) == ("front", None)
    assert [one.f_number for one in iris.stops][:2] == [2.8, 4.0]
    assert [one.diameter_mm for one in iris.stops][:2] == pytest.approx([90 / 2.8, 22.5])


def test_cautions_and_what_cannot_be_taken_back_are_said() -> None:
    told = " ".join(builds().cautions)
    for word in ("goggles", "mask", "vise", "no sensor", "radioactive"):
        assert word in told
    assert [one.material for one in WAYS_TO_MAKE if not one.reversible] == ["glued in"]
    assert not builds(0.05).builds[0].near_met


# Threads


def threads(*tried: PartTried, diameter: float = 52.84, pitch: float = 0.75, side: str = "male") -> ThreadReport:
    rows = [("a", 53.0, 1.0), ("b", 53.0, 0.75), ("c", 46.0, 0.75)]
    mounts = [mount(id_, 50.0, coupling="screw", thread={"diameter_mm": d, "pitch_mm": p}) for id_, d, p in rows]
    gear: Gear = gear_of({"mounts": mounts})
    kind = "male" if side == "male" else "female"
    return which_thread(gear.mounts, diameter, 10 * pitch, 10, side="male" if kind == "male" else "female", tried=tried)


def share(report: ThreadReport, mount_id: str) -> float:
    return next(one.share for one in report.candidates if one.mount == mount_id)


def test_a_part_that_goes_on_freely_speaks_for_its_own_thread() -> None:
    # A pitch between the two, measured badly.
    before = threads(pitch=0.875)
    assert share(before, "a") == pytest.approx(share(before, "b"))
    after = threads(PartTried("b", "freely"), pitch=0.875)
    assert share(after, "b") > 0.9
    assert share(threads(PartTried("b", "binds", 0.5), pitch=0.875), "a") > 0.9


def test_after_how_many_turns_it_binds_counts() -> None:
    # 0.12 mm of play over 0.25 mm a turn: about half a turn.
    right, wrong = (threads(PartTried("b", "binds", turns), pitch=0.875) for turns in (0.48, 9.0))
    assert share(right, "a") > share(wrong, "a")


def test_a_smaller_part_will_not_start_and_a_larger_one_wobbles() -> None:
    assert share(threads(PartTried("c", "no_start")), "b") > 0.99
    # Over a thread of 46 mm a part for 53 mm wobbles; inside one of 53 a part of 46 does.
    small = threads(PartTried("b", "wobbles"), diameter=45.84)
    assert share(small, "c") > 0.99
    inside = threads(PartTried("c", "wobbles"), diameter=53 - 1.0825 * 0.75 + 0.1, side="female")
    assert share(inside, "b") > 0.99


def test_shares_are_probabilities_and_what_fits_nothing_says_so() -> None:
    assert sum(one.share for one in threads().candidates) == pytest.approx(1)
    assert "53 × 0.75: B" in threads().says
    assert "No thread of the collection" in threads(diameter=30.0).says
    with pytest.raises(ValueError, match="has no thread"):
        threads(PartTried("gone", "freely"))


# Focus throw


def throw(turns: float = 0.25, from_m: float = 1.0, to_m: float | None = 3.0, **more: object) -> ThrowReport:
    lenses = [lens(**more), lens(id="long", name="Long", focus_throw_deg=300.0), lens(id="bare", focus_throw_deg=None)]
    gear = gear_of({"mounts": [mount("front", 45.0)], "lenses": lenses})
    return throw_report(gear.lenses[0], gear.lenses, turns, from_m, to_m)


def extension(focal: float, distance: float) -> float:
    """The extension of a thin lens for a distance, by its two conjugates: u + v = D, 1/u + 1/v = 1/f."""
    image = (distance - math.sqrt(distance**2 - 4 * distance * focal)) / 2
    return image - focal


def test_a_part_of_a_turn_gives_the_whole() -> None:
    found = throw()
    travel = extension(50, 500)
    part = extension(50, 1000) - extension(50, 3000)
    assert found.throw_deg == pytest.approx(90 * travel / part, rel=1e-6)
    assert found.fields == {"focus_throw_deg": pytest.approx(round(found.throw_deg, 1))}
    [other] = found.beside
    assert other.lens == "long"
    assert other.between_deg == pytest.approx(300 * part / travel, rel=1e-6)


def test_to_infinity_and_either_way_round() -> None:
    assert throw(1.0, 1.0, None).throw_deg == pytest.approx(360 * extension(50, 500) / extension(50, 1000), rel=1e-6)
    assert throw(0.25, 3.0, 1.0).throw_deg == pytest.approx(throw().throw_deg)


@pytest.mark.parametrize(
    ("more", "said"),
    [
        ({"turns": 0.0}, "more than 0"),
        ({"to_m": 1.0}, "two different distances"),
        ({"from_m": 0.1}, "too near for 50 mm"),
        ({"min_focus_m": None}, "state its closest focus"),
    ],
)
def test_what_tells_no_throw_is_refused(more: dict[str, object], said: str) -> None:
    with pytest.raises(ValueError, match=said):
        throw(**more)  # type: ignore[arg-type]
