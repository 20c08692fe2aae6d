"""What is engraved on a lens, in every order; and a lens whose mount nobody knows."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tropeion.core.answers.engraving import read_engraving
from tropeion.core.answers.shop import LensSeen, read_lens, seen_of, world_with, would_fit
from tropeion.core.answers.unknown_mount import mount_candidates
from tropeion.core.gear.world import UnknownIdError, World
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match

Ends = tuple[float, float]


@pytest.mark.parametrize(
    ("text", "focal", "stops"),
    [
        ("28-80mm 1:3.5-4.5", (28, 80), (3.5, 4.5)),
        ("1:3.5-4.5 28-80", (28, 80), (3.5, 4.5)),
        ("28–80/3,5–4,5", (28, 80), (3.5, 4.5)),
        ("3.5-4.5/28-80", (28, 80), (3.5, 4.5)),
        ("70-210 mm f/4", (70, 210), (4, 4)),
        ("1:2 55mm", (55, 55), (2, 2)),
        ("f/1.8 50mm", (50, 50), (1.8, 1.8)),
        ("f1.8 50 mm", (50, 50), (1.8, 1.8)),
        ("1:3.5 f=200mm", (200, 200), (3.5, 3.5)),
        ("F=105 1:4,5", (105, 105), (4.5, 4.5)),
        ("1:2 f = 5 cm", (50, 50), (2, 2)),
        ("55/2.2", (55, 55), (2.2, 2.2)),
        ("2.2/55", (55, 55), (2.2, 2.2)),
        ("1:2.2/55", (55, 55), (2.2, 2.2)),
        ("46 × 1.1 82/2 No 4711923", (82, 82), (2, 2)),
        ("58 1.8", (58, 58), (1.8, 1.8)),
        ("a nice box", None, None),
    ],
)
def test_either_order_and_both_ends_of_a_zoom(text: str, focal: Ends | None, stops: Ends | None) -> None:
    read = read_engraving(text)
    assert (read.focal_mm, read.f_numbers, read.doubts) == (focal, stops, ())


FOCALS = ("{mm}mm", "{mm} mm", "f={mm}mm", "F = {mm}")
STOPS = ("1:{f}", "f/{f}", "F/{f}")


@given(
    st.sampled_from([18, 24, 28, 35, 50, 85, 135, 300]),
    st.sampled_from([1.4, 2.0, 2.8, 3.5, 5.6]),
    st.sampled_from(list(itertools.product(FOCALS, STOPS))),
    st.booleans(),
    st.sampled_from(["", "Kelvane ", "No 1234567 "]),
)
def test_what_was_written_is_read(mm: int, f: float, how: tuple[str, str], turned: bool, before: str) -> None:
    parts = [how[0].format(mm=mm), how[1].format(f=f"{f:g}")]
    read = read_engraving(before + " ".join(reversed(parts) if turned else parts))
    assert (read.focal_mm, read.f_numbers) == ((mm, mm), (f, f))


def test_what_may_be_misread_is_named() -> None:
    backwards = read_engraving("80-28mm")
    assert backwards.focal_mm == (28, 80)
    assert "runs from long to short" in backwards.doubts[0]
    bright = read_engraving("50mm T2.3")
    assert (bright.f_numbers, bright.t_number) == (None, 2.3)
    assert "T/2.3" in bright.doubts[0]
    assert read_engraving("35mm f/2 and 7 more").doubts == ("Not read: “7”.",)


@given(st.text(max_size=200))
def test_any_text_is_read(text: str) -> None:
    read = read_engraving(text)
    for ends in (read.focal_mm, read.f_numbers):
        assert ends is None or ends[0] >= 0
    assert read.focal_mm is None or read.focal_mm[0] <= read.focal_mm[1]


def test_a_number_in_a_systems_name_is_no_focal_length(sample: World) -> None:
    assert read_lens(sample, "Tolmer 46").focal_mm is None
    read = read_lens(sample, "Graumont 6 98/2.2")
    assert (read.mount, read.focal_mm, read.f_number, read.doubts) == ("graumont", 98, 2.2, ())


def test_a_zoom_is_judged_at_both_ends(sample: World) -> None:
    read = read_lens(sample, "Kelvane 28-80mm 1:3.5-4.5")
    assert (read.focal_mm, read.focal_long_mm, read.f_number, read.f_number_at_long_end) == (28, 80, 3.5, 4.5)
    found = would_fit(sample, LensSeen("kelvane", 28, 3.5, 80, 4.5), Practice())
    assert found.name == "Kelvane 28–80"
    # Ends given the other way round are the same lens.
    assert would_fit(sample, LensSeen("kelvane", 80, 3.5, 28, 4.5), Practice()).name == found.name


def test_the_generation_decides_what_may_be_mounted(sample: World) -> None:
    def grade(generation: str | None) -> str | None:
        fits = would_fit(sample, LensSeen("kelvane", 50, 2, generation=generation), Practice()).report.fits
        return next(fit.grade for fit in fits if fit.id == "stave-3")

    # A long rack shears off the fixed probe; while it is not known, it may be one.
    assert (grade("kelvane-1"), grade(None)) == ("danger", "danger")
    assert grade("kelvane-3") not in {"danger", None}
    with pytest.raises(UnknownIdError, match="kelvane-9"):
        grade("kelvane-9")


def test_an_unknown_mount_is_narrowed_by_what_can_be_seen_and_measured(sample: World) -> None:
    threads = mount_candidates(sample, "thread", 46.1, None)
    assert [one.mount for one in threads] == ["tolmer", "tolmer-pr"]
    assert mount_candidates(sample, "thread", 46.1, "pin")[0].mount == "tolmer"
    assert mount_candidates(sample, "thread", 30.0, None) == ()
    bayonets = mount_candidates(sample, "bayonet", 45.4, None)
    assert bayonets[0].mount == "kelvane"
    assert bayonets[0].differs_mm == pytest.approx(0.1)
    # Marwick is electronic all through: its lenses have contacts.
    contacts = {one.mount for one in mount_candidates(sample, "bayonet", None, "contacts")}
    assert "marwick" in contacts
    assert "graumont" not in contacts
    assert "marwick" not in {one.mount for one in mount_candidates(sample, "bayonet", None, "nothing")}
    # Nothing seen and nothing measured rules out nothing.
    every = {mount.id for mount in sample.gear.mounts}
    assert {one.mount for kind in ("thread", "bayonet") for one in mount_candidates(sample, kind, None, None)} == every


@given(
    st.sampled_from(["kelvane", "tube-53-fine"]),
    st.sampled_from([(28.0, 80.0), (50.0, None), (37.5, None)]),
    st.sampled_from([(None, None), (3.5, 4.5), (1.8, None)]),
    st.sampled_from([None, "kelvane-2"]),
)
def test_a_lens_that_was_seen_has_an_id_that_tells_it_whole(
    mount: str, focal: tuple[float, float | None], stops: tuple[float | None, float | None], generation: str | None
) -> None:
    seen = LensSeen(mount, focal[0], stops[0], focal[1], stops[1], generation)
    assert seen.id is not None
    assert seen_of(seen.id) == seen


@pytest.mark.parametrize(
    "id_", ["kel-55", "seen", "seen..kelvane", "seen..kelvane..x", "seen..a..1..2..b..c", "seen..a..0"]
)
def test_other_ids_tell_of_no_lens(sample: World, id_: str) -> None:
    assert seen_of(id_) is None
    assert world_with(sample, id_) is sample


def test_a_lens_that_was_seen_is_judged_like_any_other(sample: World) -> None:
    fits = would_fit(sample, LensSeen("kelvane", 50, 2), Practice())
    assert fits.id == "seen..kelvane..50..2"
    world = world_with(sample, fits.id)
    expected = next(fit for fit in fits.report.fits if fit.id == "o7")
    found = match(world, fits.id, "o7").routes[0]
    assert (found.grade, found.adapters) == (expected.grade, expected.adapters)
    # What is usual for the mount is assumed of it, and said so.
    assert "lens.focus" in found.assumed
    assert fits.id not in sample.lenses
