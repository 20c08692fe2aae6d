"""A code of light and dark fields: the nearest profiles, what they would correct wrongly, and the template."""

from __future__ import annotations

import math
from typing import Any
from xml.etree import ElementTree

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.test_balance import CASES
from tests.worlds import gear_of, lens, mount
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.joints.flange_code import fields_of, nearest_profiles, profile_distance, read_code
from tropeion.formats.flange_template import BAR_MM, template_svg

CODE = {"fields": 4, "start_deg": 90.0, "step_deg": 10.0, "radius_mm": 24.0, "width_mm": 2.0, "height_mm": 3.0}
PROFILES = [
    {"code": "0011", "name": "Short", "focal_length_mm": 28, "f_number": 2.8, "frame_lines": ["28"]},
    {"code": "0101", "name": "Middle", "focal_length_mm": 50, "f_number": 2, "frame_lines": ["50"]},
    {"code": "0110", "name": "Long", "focal_length_mm": 90, "f_number": 2.8, "frame_lines": ["90"]},
]
SVG = "{http://www.w3.org/2000/svg}"


def coded(**more: Any) -> Mount:
    made = mount("front", 30.0, outer_mm=55.0, throat_mm=40.0, code={**CODE, **more}, profiles=PROFILES)
    return gear_of({"mounts": [made]}).mounts[0]


def one_lens(**more: Any) -> Lens:
    document = {"mounts": [mount("front", 30.0)], "lenses": [lens(**more)]}
    return gear_of(document).lenses[0]


def test_the_worked_case() -> None:
    (case,) = [case for case in CASES if case["name"] == "nearest profile"]
    told = case["given"]
    focal, stop = told["profile"]
    found = profile_distance(told["focal_length_mm"], focal, told["f_number"], stop, None)
    assert found == pytest.approx(case["expect"]["distance"], abs=1e-6)


# atan(21.63/27) = 38.698°, atan(21.63/23) = 43.242°: 4.544° apart, (4.544/8)² = 0.3226.
def test_steep_light_counts_where_both_pupils_are_known(sample: World) -> None:
    found = nearest_profiles(sample.lens("lis-28"), sample.mount("lisken"))
    own = next(one for one in found.nearest if one.name == "Lisken 28/2.8")
    apart = math.degrees(math.atan(21.63 / 23) - math.atan(21.63 / 27))
    assert own.distance == pytest.approx((apart / 8) ** 2, abs=1e-6)
    assert own.wrong[0] == "colour at the corners is corrected for light 5° steeper: too much"


def test_a_lens_that_has_a_profile_of_its_own_finds_it_first(sample: World) -> None:
    found = nearest_profiles(sample.lens("lis-28"), sample.mount("lisken"))
    assert found.nearest[0].name == "Lisken 28/2.8"
    # The others stand by their distance still, and one of them is nearer.
    apart = [one.distance for one in found.nearest]
    assert apart[1:] == sorted(apart[1:])
    # By another of its names, and whatever frame lines were noted.
    called = one_lens(aliases=["LONG"], frame_lines=["28"], focal_length_mm=[30, 30], f_number=[2.8, 16])
    assert [one.name for one in nearest_profiles(called, coded()).nearest] == ["Long", "Short"]


@given(st.floats(8, 400), st.floats(8, 400), st.floats(0.9, 8), st.floats(0.9, 8), st.floats(-30, 30) | st.none())
def test_a_distance_is_that_of_the_way_back_and_none_to_itself(
    f: float, g: float, n: float, m: float, angle: float | None
) -> None:
    assert profile_distance(f, g, n, m, angle) == pytest.approx(profile_distance(g, f, m, n, angle))
    assert profile_distance(f, f, n, n, 0.0) == 0
    # What is not known leaves a term out, and never brings a profile farther away.
    assert profile_distance(f, g, n, m, None) <= profile_distance(f, g, n, m, angle)
    # A fifth of the focal length and two stops of aperture weigh about the same.
    assert profile_distance(f, f * math.exp(0.2), n, n, None) == pytest.approx(1)
    assert profile_distance(f, f, n, 2 * n, None) == pytest.approx(1)


def test_only_what_the_frame_lines_allow_is_compared() -> None:
    both = nearest_profiles(one_lens(focal_length_mm=[50, 50], f_number=[2, 16]), coded())
    assert [one.name for one in both.nearest] == ["Middle", "Short", "Long"]
    assert both.notes[0].startswith("Which frame lines it brings up is not stated")
    long = nearest_profiles(one_lens(focal_length_mm=[50, 50], f_number=[2, 16], frame_lines=["90"]), coded())
    assert [one.name for one in long.nearest] == ["Long"]
    assert long.among == 1
    none = nearest_profiles(one_lens(frame_lines=["135"]), coded())
    assert none.nearest == ()
    assert "No profile goes with the frame lines" in none.notes[0]


def test_what_a_profile_corrects_wrongly_is_said() -> None:
    (one, *_) = nearest_profiles(one_lens(focal_length_mm=[41, 41], f_number=[2.8, 16]), coded()).nearest
    assert one.name == "Middle"
    assert one.wrong == ("the log says 50 mm, it is 41 mm", "corners are brightened as for f/2, more than f/2.8 wants")
    (same, *_) = nearest_profiles(one_lens(focal_length_mm=[50, 50], f_number=[2, 16]), coded()).nearest
    assert (same.distance, same.wrong) == (0, ())


def test_a_code_is_read_back(sample: World) -> None:
    found = read_code(sample.mount("lisken"), "1010011", sample.gear.lenses)
    assert found.profile == "Lisken 40/2"
    assert (found.lenses[0].id, found.lenses[0].marked) == ("lis-40", True)
    for profile in sample.mount("lisken").profiles:
        nearest = nearest_profiles(
            one_lens(
                focal_length_mm=[profile.focal_length_mm] * 2,
                f_number=[profile.f_number, 16],
                exit_pupil_mm=profile.exit_pupil_mm,
            ),
            sample.mount("lisken"),
        ).nearest[0]
        assert nearest.distance == 0
        assert read_code(sample.mount("lisken"), nearest.code, ()).profile == profile.name


def test_a_code_that_no_body_knows_may_be_misread() -> None:
    found = read_code(coded(), "0111", ())
    assert found.profile is None
    assert found.misread == ("Short", "Middle", "Long")
    assert found.lenses == ()


@pytest.mark.parametrize("digits", ["001", "00110", "0012", "", "o011"])
def test_what_is_no_code_is_refused(digits: str) -> None:
    for act in (lambda: read_code(coded(), digits, ()), lambda: template_svg(coded(), digits)):
        with pytest.raises(ValueError, match="4 fields, each 0 or 1"):
            act()
    with pytest.raises(ValueError, match="has no code"):
        read_code(gear_of({"mounts": [mount("front", 30.0)]}).mounts[0], digits, ())


# The template


def template(digits: str, **more: Any) -> ElementTree.Element:
    return ElementTree.fromstring(template_svg(coded(**more), digits))


def test_the_template_is_as_large_on_paper_as_it_says() -> None:
    root = template("0101")
    x, y, width, height = (float(one) for one in (root.get("viewBox") or "").split())
    assert (x, y) == (0, 0)
    assert (root.get("width"), root.get("height")) == (f"{width:g}mm", f"{height:g}mm")
    bar = next(one for one in root.iter(f"{SVG}path") if one.get("id") == "bar")
    assert f"h{BAR_MM:g}m" in (bar.get("d") or "")
    # The flange of 55 mm.
    assert max(float(one.get("r") or 0) for one in root.iter(f"{SVG}circle")) == 27.5


@pytest.mark.parametrize(("dark_is", "filled"), [(1, "0101"), (0, "1010")])
def test_dark_fields_are_filled_and_stand_at_their_angles(dark_is: int, filled: str) -> None:
    fields = list(template("0101", dark_is=dark_is).iter(f"{SVG}rect"))
    assert [str(int(one.get("fill") == "#000")) for one in fields] == list(filled)
    turns = [(one.get("transform") or "").removeprefix("rotate(").split()[0] for one in fields]
    assert [float(turn) for turn in turns] == [90, 100, 110, 120]
    for one in fields:
        # Its middle stands 24 mm from the axis, before it is turned.
        x, y = (float(part) for part in (one.get("transform") or "").rstrip(")").split()[1:])
        assert float(one.get("x") or 0) + 1 == pytest.approx(x)
        assert y - (float(one.get("y") or 0) + 1.5) == pytest.approx(24)


def test_fields_run_the_way_that_the_mount_counts() -> None:
    back = coded(step_deg=-15.0, start_deg=10.0).code
    assert back is not None
    assert [one.angle_deg for one in fields_of(back, "0011")] == [10, 355, 340, 325]
