"""Extensions, blur, shift, stitching and tilt: the worked cases of the design, and what must hold in between."""

from __future__ import annotations

import json
import math
from dataclasses import replace
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tropeion.core.frame.question import FrameQuestion, NotPossibleError, SubjectAt
from tropeion.core.frame.simulated import frame_of
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.optics.coverage import covers_shift
from tropeion.core.optics.defocus import blur_diameter_mm, extension_for_mm, extension_uncertainty_mm
from tropeion.core.optics.focus import object_distance_mm
from tropeion.core.optics.movements import LEAST_TILT_DEG, hinge_mm, hinge_of, stitch_of, tall_subject

CASES = json.loads((Path(__file__).parent / "vectors-2.json").read_text(encoding="utf-8"))["cases"]


def cases(*needed: str) -> list[Any]:
    """The worked cases whose given values are just these."""
    found = [case for case in CASES if set(case["given"]) == set(needed)]
    return [pytest.param(case["given"], case["expect"], id=case["name"]) for case in found]


def near(expected: float) -> Any:
    return pytest.approx(expected, abs=1e-6)


@pytest.mark.parametrize(("told", "expect"), cases("focal_length_mm", "distance_mm", "u_distance_mm"))
def test_an_extension_and_its_doubt(told: dict[str, float], expect: dict[str, float]) -> None:
    f, away, doubt = told["focal_length_mm"], told["distance_mm"], told["u_distance_mm"]
    assert extension_for_mm(f, away) == near(expect["extension_mm"])
    assert extension_uncertainty_mm(f, away, doubt) == near(expect["u_extension_mm"])


@pytest.mark.parametrize(
    ("told", "expect"), cases("focal_length_mm", "f_number", "magnification", "set_mm", "point_mm")
)
def test_a_blur_disc(told: dict[str, Any], expect: dict[str, float]) -> None:
    f = told["focal_length_mm"]
    x = extension_for_mm(f, told["set_mm"])
    assert x is not None
    point = math.inf if told["point_mm"] is None else told["point_mm"]
    assert blur_diameter_mm(f, told["f_number"], told["magnification"], x, point) == near(expect["diameter_mm"])


@pytest.mark.parametrize(
    ("told", "expect"),
    cases(
        "focal_length_mm", "sensor_mm", "subject_mm", "lens_height_mm", "distance_mm", "correction", "image_circle_mm"
    ),
)
def test_a_tall_front(told: dict[str, Any], expect: dict[str, float]) -> None:
    found = tall_subject(
        focal_length_mm=told["focal_length_mm"],
        width_mm=told["sensor_mm"][0],
        height_mm=told["sensor_mm"][1],
        subject_mm=told["subject_mm"],
        lens_mm=told["lens_height_mm"],
        distance_mm=told["distance_mm"],
        correction=told["correction"],
        circle_mm=told["image_circle_mm"],
    )
    assert {name: getattr(found, name) for name in expect} == {name: near(value) for name, value in expect.items()}


@pytest.mark.parametrize(("told", "expect"), cases("focal_length_mm", "width_mm", "shift_mm", "megapixels"))
def test_a_stitched_frame(told: dict[str, float], expect: dict[str, float]) -> None:
    found = stitch_of(
        told["width_mm"],
        24,
        told["shift_mm"],
        focal_length_mm=told["focal_length_mm"],
        megapixels=told["megapixels"],
        circle_mm=None,
    )
    assert {name: getattr(found, name) for name in expect} == {name: near(value) for name, value in expect.items()}


@pytest.mark.parametrize(
    ("told", "expect"),
    cases("focal_length_mm", "tilt_deg", "magnification_behind", "f_number", "circle_of_confusion_mm", "distance_mm"),
)
def test_a_tilt_in_front_of_glass(told: dict[str, float], expect: dict[str, float]) -> None:
    found = hinge_of(
        told["tilt_deg"],
        told["magnification_behind"],
        focal_length_mm=told["focal_length_mm"],
        f_number=told["f_number"],
        circle_mm=told["circle_of_confusion_mm"],
        distance_mm=told["distance_mm"],
    )
    assert {name: getattr(found, name) for name in expect} == {name: near(value) for name, value in expect.items()}


# In between


@given(f=st.floats(8, 600), times=st.floats(4, 2000))
def test_the_extension_is_the_distance_backwards(f: float, times: float) -> None:
    """D = 2f + f²/x + x and back; on the ordinary branch x ≤ f."""
    x = extension_for_mm(f, times * f)
    assert x is not None
    assert 0 < x <= f * (1 + 1e-9)
    assert object_distance_mm(f, x) == pytest.approx(times * f, rel=1e-9)


def test_too_near_is_not_told() -> None:
    assert extension_for_mm(50, 199.9) is None
    assert extension_for_mm(50, 200) == pytest.approx(50)
    assert extension_uncertainty_mm(50, 202, 1) is None
    assert extension_for_mm(50, math.inf) == 0


@given(f=st.floats(10, 300), n=st.floats(1, 22), set_at=st.floats(5, 500), k=st.floats(0.5, 2))
def test_what_is_focused_on_is_sharp_and_all_else_is_the_less_so_the_farther(
    f: float, n: float, set_at: float, k: float
) -> None:
    x = extension_for_mm(f, set_at * f)
    assert x is not None
    there = blur_diameter_mm(f, n, k, x, set_at * f)
    assert there == pytest.approx(0, abs=1e-9 * f)
    beyond = [blur_diameter_mm(f, n, k, x, set_at * f * step) for step in (1.5, 2, 4, 50, math.inf)]
    assert all(one is not None for one in beyond)
    assert beyond == sorted(one for one in beyond if one is not None)
    # Closing the iris by a stop takes 1/√2 of every disc.
    closed = blur_diameter_mm(f, n * math.sqrt(2), k, x, math.inf)
    assert closed == pytest.approx((beyond[-1] or 0) / math.sqrt(2))


@given(tilt=st.floats(0.1, 20), more=st.floats(0.1, 20), f=st.floats(15, 200), k=st.floats(0.5, 1.5))
def test_more_tilt_nearer_hinge(tilt: float, more: float, f: float, k: float) -> None:
    def at(degrees: float) -> float:
        found = hinge_of(degrees, k, focal_length_mm=f, f_number=4, circle_mm=0.03, distance_mm=3000)
        assert found.hinge_mm is not None
        return found.hinge_mm

    assert at(tilt + more) < at(tilt)
    assert at(-tilt) == at(tilt)
    assert hinge_of(0, k, focal_length_mm=f, f_number=4, circle_mm=0.03, distance_mm=3000).hinge_mm is None


@given(
    circle=st.floats(10, 100),
    grows=st.floats(0, 20),
    shift=st.tuples(st.floats(-20, 20), st.floats(-20, 20)),
    share=st.floats(0, 1),
)
def test_coverage_grows_with_the_circle_and_shrinks_with_the_shift(
    circle: float, grows: float, shift: tuple[float, float], share: float
) -> None:
    if covers_shift(circle, 36, 24, shift):
        assert covers_shift(circle + grows, 36, 24, shift)
        assert covers_shift(circle, 36, 24, (shift[0] * share, shift[1] * share))


@given(p=st.floats(0, 1), q=st.floats(0, 1), high=st.floats(4, 60), away=st.floats(5, 60), f=st.floats(15, 100))
def test_the_more_is_corrected_the_less_it_leans_and_the_more_rise_it_wants(
    p: float, q: float, high: float, away: float, f: float
) -> None:
    def at(correction: float) -> Any:
        return tall_subject(
            focal_length_mm=f,
            width_mm=36,
            height_mm=24,
            subject_mm=high * 1000,
            lens_mm=1600,
            distance_mm=away * 1000,
            correction=correction,
            circle_mm=None,
        )

    less, more = at(min(p, q)), at(max(p, q))
    assert more.pitch_deg <= less.pitch_deg + 1e-9
    assert more.convergence_deg <= less.convergence_deg + 1e-9
    assert more.rise_wanted_mm >= less.rise_wanted_mm - 1e-6
    assert at(1).convergence_deg == 0
    assert at(0).rise_wanted_mm <= 1e-6
    assert more.rise_allowed_mm is None


def test_a_gap_is_no_stitch() -> None:
    assert stitch_of(24, 36, 25, focal_length_mm=35, megapixels=24, circle_mm=60) is None
    inside = stitch_of(36, 24, 8, focal_length_mm=35, megapixels=None, circle_mm=2 * math.hypot(26, 12))
    assert inside is not None
    assert inside.inside
    assert inside.megapixels is None
    outside = stitch_of(36, 24, 8.01, focal_length_mm=35, megapixels=None, circle_mm=2 * math.hypot(26, 12))
    assert outside is not None
    assert not outside.inside


# A rig of the sample


def test_a_ring_too_long_keeps_infinity_soft_wide_open_and_sharp_at_f_5_6(sample: World) -> None:
    """25.88 mm where 25.80 are needed: at its far stop the lens stands 0.08 mm too far out, b∞ = 0.08/N."""
    for f_number, soft in ((2.2, True), (5.6, False)):
        asked = FrameQuestion(at_m=math.inf, f_number=f_number)
        report = frame_of(sample, Rig.of("kel-55", "o7", ["kel-ost-long"]), asked).report
        infinity = report.blur[-1]
        assert infinity.distance_m is None
        assert infinity.diameter_mm == pytest.approx(0.08 / f_number, abs=1e-9)
        assert ("infinity is soft" in report.sentence) is soft
        assert "as far as the ring goes" in report.sentence
        # 55²/0.08 + 2·55 + 0.08 mm.
        assert report.sharp_m == pytest.approx((55**2 / 0.08 + 110 + 0.08) / 1000)


def test_every_mode_is_told_under_the_circle(sample: World) -> None:
    """45.0 mm over 36 × 24: the margin is 45/2 − 21.63; in 24 × 16 the rise is √(22.5² − 12²) − 8."""
    report = frame_of(sample, Rig.of("kel-55", "o7", ["kel-ost-plain"])).report
    full, small = report.modes
    assert (full.name, full.in_use, full.covered) == ("full", True, True)
    assert full.margin_mm == pytest.approx(22.5 - math.hypot(36, 24) / 2, abs=1e-6)
    assert small.rise_mm == pytest.approx(math.sqrt(22.5**2 - 12**2) - 8, abs=1e-6)
    assert small.buys_mm == pytest.approx((small.rise_mm or 0) - (full.rise_mm or 0), abs=1e-6)
    assert small.costs_megapixels == pytest.approx((full.megapixels or 0) - (small.megapixels or 0))


def test_a_mode_by_hand_changes_the_frame_and_its_sharpness(sample: World) -> None:
    whole = frame_of(sample, Rig.of("kel-55", "o7", ["kel-ost-plain"])).report
    crop = frame_of(sample, Rig.of("kel-55", "o7", ["kel-ost-plain"]), FrameQuestion(mode="24 × 16")).report
    assert (crop.width_mm, crop.height_mm) == (24, 16)
    assert crop.circle_of_confusion_mm == pytest.approx(whole.circle_of_confusion_mm * 24 / 36, rel=1e-6)
    assert crop.field_m[0] == pytest.approx(whole.field_m[0] * 24 / 36)
    turned = frame_of(sample, Rig.of("kel-55", "o7", ["kel-ost-plain"]), FrameQuestion(upright=True)).report
    assert (turned.width_mm, turned.height_mm) == (24, 36)


def test_a_corrected_front_is_shifted_by_what_ring_and_subject_allow(sample: World) -> None:
    asked = FrameQuestion(correct=1.0, subject=SubjectAt(18.0, 40.0, 1.5))
    report = frame_of(sample, Rig.of("kel-55", "o7", ["kel-ost-shift"]), asked).report
    # F·(H − a)/d − h/2 = 55·16.5/40 − 12 = 10.6875 mm; the ring goes 10.
    assert report.shift.rise_wanted_mm == pytest.approx(55 * 16.5 / 40 - 12, abs=1e-6)
    assert report.rise_mechanism_mm == 10
    assert report.shift_set_mm == (0.0, 10.0)
    # Of the circle of 45.0 mm there are √(22.5² − 18²) − 12 = 1.5 mm.
    assert report.shift.rise_allowed_mm == pytest.approx(1.5, abs=1e-6)
    assert report.shift_fits is False
    assert report.moving[0].link == "kel-ost-shift"
    assert report.no_room == ""


def test_a_tilt_that_nothing_has_is_drawn_as_if_the_lens_could(sample: World) -> None:
    """In front of the reducer: F/(K·sin θ) is f/sin θ, whatever the glass."""
    asked = FrameQuestion(tilt_deg=5)
    report = frame_of(sample, Rig.of("grm-98", "o7", ["grm-ost-reducer"]), asked).report
    k = sample.adapters["grm-ost-reducer"].magnification
    assert report.magnification == k
    assert report.tilt.hinge_mm == pytest.approx(98 / math.sin(math.radians(5)))
    assert report.tilt.tilt_deg == pytest.approx(math.degrees(math.atan(k * math.tan(math.radians(5)))))
    assert "Nothing in this rig tilts" in " ".join(report.assumed)


def test_without_room_it_is_said_with_the_gap(sample: World) -> None:
    native = frame_of(sample, Rig.of("kel-55", "stave-2", [])).report
    assert "of one mount" in native.no_room
    tight = frame_of(sample, Rig.of("tpr-36", "o7", ["tol-ost-plain"])).report
    # 31.20 − 22.40 mm.
    assert "8.80 mm" in tight.no_room
    shortest = min(one.length_mm for one in sample.gear.adapters if one.shift_mm or one.tilt_deg)
    assert f"{shortest:.2f} mm" in tight.no_room


def test_what_does_not_work_has_a_reason_and_no_picture(sample: World) -> None:
    danger = frame_of(sample, Rig.of("kel-55", "stave-3", []))
    assert danger.view is None
    assert danger.scene is None
    assert "shears off" in danger.report.reason
    nothing = frame_of(sample, Rig.of("tol-82", "o7", ["tpr-ost-plain"]))
    assert nothing.view is None
    assert nothing.report.reason


def test_what_is_not_known_is_said(sample: World) -> None:
    report = frame_of(sample, Rig.of("tub-400", "o7", ["tub-ost-close"])).report
    assert report.image_circle_mm is None
    assert all(mode.covered is None and mode.margin_mm is None for mode in report.modes)
    assert report.shift.rise_allowed_mm is None
    said = " ".join(report.assumed)
    assert "image circle is not known" in said
    assert "exit pupil is not known" in said


@pytest.mark.parametrize(
    ("asked", "field"),
    [
        (FrameQuestion(f_number=1.4), "f_number"),
        (FrameQuestion(f_number=64), "f_number"),
        (FrameQuestion(focal_length_mm=60), "focal_length_mm"),
        (FrameQuestion(mode="6 × 7"), "mode"),
    ],
)
def test_a_setting_that_the_rig_has_not_is_refused_with_what_it_has(
    sample: World, asked: FrameQuestion, field: str
) -> None:
    with pytest.raises(NotPossibleError) as refused:
        frame_of(sample, Rig.of("kel-55", "o7", ["kel-ost-plain"]), asked)
    assert refused.value.field == field
    assert any(part in str(refused.value) for part in ("f/2.2 to f/22", "55 mm", "full, 24 × 16"))


def test_a_zoom_is_set_anywhere_between_its_ends(sample: World) -> None:
    lens = sample.lenses["kel-28-80"]
    for wanted in (28.0, 50.0, 80.0):
        asked = FrameQuestion(focal_length_mm=wanted)
        report = frame_of(sample, Rig.of(lens.id, "o7", ["kel-ost-plain"]), asked).report
        assert report.focal_length_mm == wanted
        assert report.angles_deg is not None
        assert report.angles_deg[0] == pytest.approx(2 * math.degrees(math.atan(18 / wanted)))


# The circle over a frame

CIRCLES = json.loads((Path(__file__).parent / "circle.json").read_text(encoding="utf-8"))


@pytest.mark.parametrize("case", CIRCLES, ids=lambda case: f"{case['circle']:g}")
def test_the_circle_over_a_shifted_frame_is_the_browsers(case: dict[str, Any]) -> None:
    """The same cases as the browser's own geometry, which runs ahead of the core while something is dragged."""
    covers = covers_shift(case["circle"], case["width"], case["height"], tuple(case["shift"]))
    assert covers is (case["margin"] >= 0)
    just = case["circle"] - 2 * case["margin"]
    assert covers_shift(just + 2e-6, case["width"], case["height"], tuple(case["shift"]))
    assert not covers_shift(just - 2e-5, case["width"], case["height"], tuple(case["shift"]))


# What must hold whatever is asked

SETTINGS = st.builds(
    FrameQuestion,
    scene=st.sampled_from(["facade", "nave", "mark", "chart"]),
    at_m=st.one_of(st.none(), st.floats(0.3, 500), st.just(math.inf)),
    f_number=st.one_of(st.none(), st.floats(2.2, 22)),
    mode=st.sampled_from([None, "full", "24 × 16"]),
    upright=st.booleans(),
    shift_mm=st.one_of(st.none(), st.tuples(st.floats(-12, 12), st.floats(-12, 12))),
    tilt_deg=st.floats(-8, 8),
    correct=st.one_of(st.none(), st.floats(0, 1.4)),
    stray=st.floats(0, 1),
)


def test_a_tilt_too_small_for_a_hinge_has_none() -> None:
    assert hinge_mm(55.0, 5e-324, 1.0) is None
    assert hinge_mm(55.0, -1e-5, 1.0) == pytest.approx(55.0 / math.radians(1e-5))


CHAINS = ["kel-ost-plain", "kel-ost-long", "kel-ost-close", "kel-ost-tilt", "kel-ost-shift"]


@given(asked=SETTINGS, via=st.sampled_from(CHAINS))
def test_no_setting_breaks_the_numbers(sample: World, asked: FrameQuestion, via: str) -> None:
    frame = frame_of(sample, Rig.of("kel-55", "o7", [via]), asked)
    report = frame.report
    assert report.reason == ""
    assert frame.view is not None
    for one in report.blur:
        assert one.diameter_mm is None or 0 <= one.diameter_mm < math.inf
    discs = [one.diameter_mm for one in report.blur]
    # What is focused on lies between two of them: the discs fall to it, and grow again behind it.
    known = [one for one in discs if one is not None]
    least = known.index(min(known))
    assert known[: least + 1] == sorted(known[: least + 1], reverse=True)
    assert known[least:] == sorted(known[least:])
    assert all(0 < size < math.inf for size in report.field_m)
    assert report.f_numbers[0] <= report.f_number <= report.f_numbers[-1]
    assert sum(mode.in_use for mode in report.modes) == 1
    assert report.caption.left_out
    assert (report.tilt.hinge_mm is None) is (abs(asked.tilt_deg) < LEAST_TILT_DEG)
    for row in report.depth:
        assert row.near_m <= row.distance_m
        assert row.far_m is None or row.far_m >= row.distance_m
        assert row.front_share is None or 0 <= row.front_share <= 0.5 + 1e-6


@given(asked=SETTINGS, via=st.sampled_from(CHAINS))
def test_a_smaller_stop_never_blurs_more(sample: World, asked: FrameQuestion, via: str) -> None:
    wide = frame_of(sample, Rig.of("kel-55", "o7", [via]), replace(asked, f_number=4.0)).report
    small = frame_of(sample, Rig.of("kel-55", "o7", [via]), replace(asked, f_number=11.0)).report
    for one, other in zip(wide.blur, small.blur, strict=True):
        if one.diameter_mm is not None:
            assert other.diameter_mm == pytest.approx(one.diameter_mm * 4 / 11)


@given(f=st.floats(12, 300), n=st.floats(1.2, 22), crop=st.floats(0.5, 6))
def test_equivalence_is_consistent_both_ways(f: float, n: float, crop: float) -> None:
    """Scaled by a crop and back it is itself; at equal framing the blur is the same share of the picture."""
    away = 40 * f
    own, small = extension_for_mm(f, away), extension_for_mm(f / crop, away)
    assert own is not None
    if small is None:
        return
    there = blur_diameter_mm(f, n, 1, own, math.inf)
    other = blur_diameter_mm(f / crop, n / crop, 1, small, math.inf)
    assert there is not None
    assert other is not None
    # Share of the width: b/w against (b′)/(w/crop), equal but for the magnification, which is 1 in 40 at most.
    assert other * crop == pytest.approx(there, rel=0.06)
    back = f / crop * crop, n / crop * crop
    assert back == pytest.approx((f, n))
