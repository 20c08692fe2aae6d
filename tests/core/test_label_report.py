"""What a piece with a label's two ends would do for what is owned."""

from __future__ import annotations

import pytest

from tropeion.core.answers.label_report import label_report
from tropeion.core.findings import rank
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes.grades import best_grade


def test_a_ring_opens_the_owned_pairs_that_nothing_owned_joins(sample: World) -> None:
    report = label_report(sample, "Kelvane lens to Marwick camera", Practice())
    # 48.20 − 42.80
    assert report.room_mm == pytest.approx(5.40)
    assert report.ring == "practical"
    assert [piece.id for piece in report.alike if "plain" in piece.id]
    opened = {(one.lens, one.body): one for one in report.serves}
    assert {body for _, body in opened} == {"corran"}
    owned = [a for a in sample.gear.adapters if a.owned]
    shelf = compile_world(sample.gear.model_copy(update={"adapters": tuple(owned)}))
    for (lens, body), one in opened.items():
        assert sample.lenses[lens].mount == "kelvane"
        assert one.before == best_grade(shelf, shelf.lenses[lens], shelf.bodies[body], Practice())
        assert one.before is None or rank(one.after) > rank(one.before)
    assert opened["kel-55", "corran"].after == "manual"
    assert opened["kel-55", "corran"].before is None


def test_what_is_owned_already_opens_nothing_new(sample: World) -> None:
    # A plain ring of these two ends is on the shelf.
    assert sample.adapters["kel-ost-plain"].owned
    report = label_report(sample, "KLV-OST", Practice())
    assert report.serves == ()
    assert report.alike[0].owned


def test_without_room_there_is_no_ring(sample: World) -> None:
    report = label_report(sample, "Ostrel lens to Kelvane body", Practice())
    assert report.room_mm == pytest.approx(-25.80)
    assert report.ring == "none"
    assert report.serves == ()
    assert label_report(sample, "nothing of the kind", Practice()).room_mm is None


def test_the_other_way_round_is_offered_where_only_so_there_is_room(sample: World) -> None:
    turned = label_report(sample, "Ostrel lens to Kelvane body", Practice()).reversed
    assert turned is not None
    assert (turned.lens_mount, turned.body_mount) == ("kelvane", "ostrel")
    assert turned.room_mm == pytest.approx(25.80)
    assert label_report(sample, "Kelvane lens to Ostrel body", Practice()).reversed is None
    # Equal registers leave room neither way.
    assert label_report(sample, "Skarn lens to Ostrel body", Practice()).reversed is None


def test_what_holds_glass_or_is_of_another_length_promises_no_plain_ring(sample: World) -> None:
    glass = label_report(sample, "Kelvane lens to Marwick camera 1.2x", Practice())
    assert (glass.ring, glass.serves) == (None, ())
    long = label_report(sample, "Kelvane lens to Marwick camera, 12 mm", Practice())
    assert "length_differs" in {doubt.code for doubt in long.doubts}
    assert {one.after for one in long.serves} <= {"close_up"}
    rounded = label_report(sample, "Kelvane lens to Marwick camera, 5.5 mm", Practice())
    assert "length_differs" not in {doubt.code for doubt in rounded.doubts}
