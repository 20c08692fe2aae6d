"""What a lens becomes: against figures by hand, against the report of the same rig, and both ways."""

from __future__ import annotations

import math
from collections.abc import Iterator

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import body, lens, ring, world_of
from tropeion.core.becomes.becoming import Becoming, becoming_of
from tropeion.core.becomes.becoming_tables import Becomings, lens_on_bodies, lenses_of, lenses_on_body, rig_becomes
from tropeion.core.becomes.lens_ways import LensWay, ways_of
from tropeion.core.becomes.reference import FULL_FRAME, Crop, Reference, crop_against, reference_of
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.routes.match import match
from tropeion.core.routes.standings import standing_of
from tropeion.core.routes.table import table_of
from tropeion.formats.becoming_table import dump_becomings

PLAIN = Practice()
SCHOOLS: tuple[Crop, ...] = ("diagonal", "width")
sides = st.floats(4, 60)


def table_for(world: World, lens_id: str, practice: Practice = PLAIN, ref: str | None = None) -> Becomings:
    return lens_on_bodies(world, world.lens(lens_id), world.gear.bodies, reference_of(world, ref), practice)


def row_of(table: Becomings, body_id: str, mode: str, *, k: float = 1.0) -> Becoming:
    (found,) = [row for row in table.rows if (row.body, row.mode, row.magnification) == (body_id, mode, k)]
    return found


# By hand: 55 mm f/2.2 on 20 × 15 mm. √(36² + 24²)/25 = 1.730665; 2·atan(20/110) = 20.6°, 2·atan(15/110) = 15.5°.
def test_a_prime_on_a_small_sensor(sample: World) -> None:
    row = row_of(table_for(sample, "kel-55"), "lark", "full")
    (at,) = row.settings
    assert (at.marked_mm, at.focal_length_mm, at.f_number, at.entry_mm) == (55, 55, 2.2, 55)
    assert row.crop_factor == pytest.approx(1.730665, abs=1e-6)
    assert at.equivalent_mm == pytest.approx(95.18656, abs=1e-4)
    assert at.equivalent_f_number == pytest.approx(3.80746, abs=1e-4)
    assert at.angles_deg is not None
    assert at.angles_deg.horizontal == pytest.approx(20.6097, abs=1e-3)
    assert at.angles_deg.vertical == pytest.approx(15.5305, abs=1e-3)
    assert row.light_change_stops == 0
    assert row.weight.known_g == 290 + 410 + sum(sample.adapters[id_].mass_g or 0 for id_ in row.adapters)


# 0.71 ×: 39.05 mm f/1.562, as 67.58 mm; 2·log₂(1/0.71) = +0.988 stops. The body takes whole millimetres.
def test_the_same_through_a_reducer(sample: World) -> None:
    row = row_of(table_for(sample, "kel-55"), "lark", "full", k=0.71)
    (at,) = row.settings
    assert row.adapters == ("kel-plm-reducer",)
    assert at.focal_length_mm == pytest.approx(39.05)
    assert at.f_number == pytest.approx(1.562)
    assert at.equivalent_mm == pytest.approx(67.5825, abs=1e-3)
    assert at.entry_mm == 39
    assert row.light_change_stops == pytest.approx(0.98821, abs=1e-4)
    assert not row.owned
    assert row.price == 210


# At 28, 35, 50 and 80 mm on the ring, in whole millimetres; through 0.71 ×: 19.88, 24.85, 35.5 and 56.8.
@pytest.mark.parametrize(
    ("via", "entries"), [(["kel-plm-plain"], [28, 35, 50, 80]), (["kel-plm-reducer"], [20, 25, 36, 57])]
)
def test_the_entry_table_of_a_zoom(sample: World, via: list[str], entries: list[float]) -> None:
    table = rig_becomes(sample, Rig.of("kel-28-80", "lark", via), FULL_FRAME, PLAIN)
    assert [at.marked_mm for at in table.settings] == [28, 35, 50, 80]
    assert [at.entry_mm for at in table.settings] == entries


# On the ring that closes its iris by hand, f/3.5 at 28 mm and f/4.5 at 80 mm: (50 − 28)/52 of the way f/3.923.
def test_between_the_ends_of_a_zoom_the_widest_stop_is_assumed(sample: World) -> None:
    via = next(row.adapters for row in table_for(sample, "kel-28-80").rows if row.body == "o7" and row.in_use)
    table = rig_becomes(sample, Rig.of("kel-28-80", "o7", via), FULL_FRAME, PLAIN)
    by_mark = {at.marked_mm: at for at in table.settings}
    assert by_mark[50].f_number == pytest.approx(3.5 + 22 / 52)
    assert [by_mark[mark].assumed for mark in (28, 35, 50, 80)] == [False, True, True, False]


def test_an_iris_that_stays_closed_exposes_as_it_stays(sample: World) -> None:
    table = rig_becomes(sample, Rig.of("kel-28-80", "lark", ["kel-plm-plain"]), FULL_FRAME, PLAIN)
    assert {at.f_number for at in table.settings} == {22}


def test_a_zoom_that_is_as_fast_everywhere_assumes_nothing(sample: World) -> None:
    table = rig_becomes(sample, Rig.of("mrw-24-70", "o7", ["mrw-ost-active"]), FULL_FRAME, PLAIN)
    assert len(table.settings) > 2
    assert not any(at.assumed for at in table.settings)
    assert table.row.entry == "told"
    assert all(at.entry_mm is None for at in table.settings)


def test_what_nobody_weighed_is_named_and_not_light() -> None:
    world = world_of([ring(mass_g=None)], the_lens=lens(mass_g=200), the_body=body(mass_g=600))
    (row,) = table_for(world, "lens").rows
    assert row.weight.known_g == 800
    assert row.weight.unknown == ("Ring",)


def test_a_circle_that_nobody_knows_neither_covers_nor_fails() -> None:
    modes = [{"name": "small", "sensor_mm": [12, 8], "megapixels": 4, "use": "both"}]
    world = world_of([ring()], the_lens=lens(image_circle_mm=None), the_body=body(modes=modes))
    assert [row.covered for row in table_for(world, "lens").rows] == [None, None]
    world = world_of([ring()], the_lens=lens(image_circle_mm=20), the_body=body(modes=modes))
    assert {row.mode: row.covered for row in table_for(world, "lens").rows} == {"full": False, "small": True}
    assert {row.mode: row.in_use for row in table_for(world, "lens").rows} == {"full": False, "small": True}


def test_a_fisheye_has_no_angles_and_is_equivalent_to_nothing() -> None:
    world = world_of([ring()], the_lens=lens(fisheye=True))
    table = table_for(world, "lens")
    assert table.rows[0].settings[0].angles_deg is None
    assert "fisheye" in table.sentence
    made = lenses_on_body(world, world.body("body"), lenses_of(world, "all"), FULL_FRAME, PLAIN)
    assert made.lenses is not None
    assert made.lenses.spans == ()


def test_a_squeeze_widens_across_alone() -> None:
    world = world_of([ring()], the_lens=lens(squeeze=2.0))
    (at,) = table_for(world, "lens").rows[0].settings
    assert (at.equivalent_mm, at.equivalent_horizontal_mm) == (50, 25)
    assert at.angles_deg is not None
    assert at.angles_deg.horizontal == pytest.approx(2 * math.degrees(math.atan(36 / 50)))


# The reference


def test_the_camera_somebody_came_from_is_the_reference(sample: World) -> None:
    here, there = table_for(sample, "kel-55"), table_for(sample, "kel-55", ref="lark")
    assert there.reference == Reference("lark", "Pellam Lark", 20.0, 15.0)
    small = row_of(there, "lark", "full").settings[0]
    assert small.equivalent_mm == pytest.approx(55)
    assert small.equivalent_f_number == pytest.approx(2.2)
    # On the whole 36 × 24 it is as wide as 55/1.730665 mm was on the small one.
    assert row_of(there, "o7", "full").settings[0].equivalent_mm == pytest.approx(31.7797, abs=1e-3)
    # Nothing but the equivalents hangs on the reference.
    assert {row.key for row in here.rows} == {row.key for row in there.rows}
    with pytest.raises(UnknownIdError):
        reference_of(sample, "no-such")


@given(sides, sides, sides, sides, st.sampled_from(SCHOOLS))
def test_a_crop_there_and_back_is_none(w: float, h: float, rw: float, rh: float, crop: Crop) -> None:
    there = crop_against(Reference("a", "A", rw, rh), w, h, crop)
    back = crop_against(Reference("b", "B", w, h), rw, rh, crop)
    assert there * back == pytest.approx(1)
    # By way of a third format it is the same.
    over = crop_against(FULL_FRAME, w, h, crop) / crop_against(FULL_FRAME, rw, rh, crop)
    assert there == pytest.approx(over)


@pytest.mark.parametrize(("school", "crop"), [("diagonal", 43.266615 / 29.612159), ("width", 36 / 26.2)])
def test_the_school_of_the_crop_decides(sample: World, school: str, crop: float) -> None:
    row = row_of(table_for(sample, "kel-55", Practice.model_validate({"crop": school})), "vigil", "full")
    assert row.crop_factor == pytest.approx(crop, abs=1e-6)


# Against the report of the same rig, and against trying everything


def rows_in_use(world: World) -> Iterator[Becoming]:
    for one in lenses_of(world, "all"):
        yield from (row for row in table_for(world, one.id).rows if row.in_use)


def test_every_row_says_what_the_report_of_its_rig_says(sample: World) -> None:
    checked = 0
    for row in rows_in_use(sample):
        (route,) = match(sample, row.lens, row.body, via=row.adapters).routes
        assert (row.grade, row.mode, row.megapixels) == (route.grade, route.coverage.mode, route.coverage.megapixels)
        assert row.covered is (None if route.coverage.image_circle_mm is None else route.coverage.crop_to_cover is None)
        for at, end in zip(row.settings, route.ends, strict=True):
            assert at.focal_length_mm == pytest.approx(end.focal_length_mm)
            assert at.f_number == pytest.approx(end.working_f_number, abs=1e-6)
            assert at.equivalent_mm == pytest.approx(end.equivalents.focal_mm)
            assert at.angles_deg == end.equivalents.angle_of_view_deg
            assert at.entry_mm == (None if end.stabiliser is None else end.stabiliser.entry_mm)
        assert row.light_change_stops == pytest.approx(route.light_change_stops)
        checked += 1
    assert checked > 150


def glasses_of(way: LensWay) -> tuple[float, ...]:
    return tuple(one.magnification for one in way.adapters if one.magnification != 1 or one.optics != "none")


@pytest.mark.parametrize("body_id", ["o7", "lark", "vigil"])
def test_no_chain_of_the_same_glass_is_better(sample: World, body_id: str) -> None:
    target = sample.body(body_id)
    for one in lenses_of(sample, "all")[:14]:
        ways = ways_of(sample, [one], [target], PLAIN)[one.id, body_id]
        table = table_of(sample, one, target, 3)
        best: dict[tuple[float, ...], int] = {}
        for row in range(len(table)):
            pieces = table.adapters(row)
            judged = standing_of(assess(sample, one, pieces, target, PLAIN))
            glass = glasses_of(LensWay(one, target, pieces, judged))
            best[glass] = max(best.get(glass, -1), judged.level)
        assert bool(ways) == bool(best)
        for way in ways:
            assert way.standing.level == best[glasses_of(way)]
        # Without glass there is a way wherever a chain without glass mates.
        assert any(not glasses_of(way) for way in ways) == (() in best)


def test_two_of_one_glass_are_one_way(sample: World) -> None:
    for one in lenses_of(sample, "all"):
        for target in sample.gear.bodies:
            ways = [way for way in ways_of(sample, [one], [target], PLAIN)[one.id, target.id] if glasses_of(way)]
            for place, way in enumerate(ways):
                for other in ways[place + 1 :]:
                    near = abs(way.magnification / other.magnification - 1) <= 0.05
                    assert not near or (way.standing != other.standing or len(way.to_buy) != len(other.to_buy))


def test_without_glass_there_is_none(sample: World) -> None:
    lens_ = sample.lens("kel-55")
    bare = lens_on_bodies(sample, lens_, sample.gear.bodies, FULL_FRAME, PLAIN, glass=False)
    assert {row.magnification for row in bare.rows} == {1}
    assert len(bare.rows) < len(table_for(sample, "kel-55").rows)


def test_a_mode_that_a_body_has_not_has_no_row(sample: World) -> None:
    way = ways_of(sample, [sample.lens("kel-55")], [sample.body("o7")], PLAIN)["kel-55", "o7"][0]
    assert [row.mode for row in becoming_of(sample, [way], PLAIN, FULL_FRAME)] == ["full", "24 × 16"]
    assert [row.mode for row in becoming_of(sample, [way], PLAIN, FULL_FRAME, "")] == ["full"]
    assert list(becoming_of(sample, [way], PLAIN, FULL_FRAME, "no such")) == []


def test_what_nothing_joins_is_named() -> None:
    world = world_of([], rear={"interface": "other"})
    table = table_for(world, "lens")
    assert table.rows == ()
    assert table.apart == ("body",)
    assert "none of them" in table.sentence


def test_of_very_many_modes_every_body_is_told_and_the_rest_is_counted() -> None:
    """Eight bodies of 200 modes have room for 1,000 rows: 125 of each, the mode in use among them."""
    many = [
        {"name": f"Window {n}", "sensor_mm": [36 - 0.02 * n, 24 - 0.01 * n], "megapixels": 20.0} for n in range(1, 200)
    ]
    world = world_of([ring("r", 25.0)], the_body=body(owned=1, modes=many))
    first = world.gear.bodies[0]
    bodies = tuple(first.model_copy(update={"id": f"b{n}", "name": f"B{n}"}) for n in range(8))
    world = compile_world(world.gear.model_copy(update={"bodies": bodies}))
    found = lens_on_bodies(world, world.lenses["lens"], world.gear.bodies, FULL_FRAME, Practice())
    assert len(found.rows) == 1_000
    assert found.left_out == 600
    told = {id_: [row for row in found.rows if row.body == id_] for id_ in ("b0", "b7")}
    assert [len(rows) for rows in told.values()] == [125, 125]
    assert all(sum(row.in_use for row in rows) == 1 for rows in told.values())
    assert "600 more rows are left out" in found.sentence
    assert dump_becomings(found).decode().splitlines()[-1].startswith("600 more rows are left out,")
