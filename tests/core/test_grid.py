"""The whole kit: each cell against the pair judged alone, what is at hand against what could be, sums, and edits."""

from __future__ import annotations

import csv
import io
import json

import pytest

from tests.terminal import run
from tests.worlds import body as a_body
from tests.worlds import gear_of, lens, mount, ring
from tropeion.core.answers.grid import Cell, GridReport, whole_kit
from tropeion.core.gear.kit import with_entry
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match

PRACTICE = Practice()


@pytest.fixture(scope="module")
def report(sample: World) -> GridReport:
    return whole_kit(sample, PRACTICE)


def cell(report: GridReport, lens_id: str, body_id: str) -> Cell:
    return next(one for one in report.cells if (one.lens, one.body) == (lens_id, body_id))


@pytest.mark.parametrize("pair", [("kel-55", "o7"), ("lis-28", "nave"), ("grm-98", "o7"), ("kel-55", "stave-3")])
def test_a_cell_is_the_best_route_of_the_pair(report: GridReport, sample: World, pair: tuple[str, str]) -> None:
    routes = match(sample, *pair, PRACTICE).routes
    assert cell(report, *pair).market_grade == (routes[0].grade if routes else None)


def test_what_is_at_hand_is_never_better_than_what_could_be(report: GridReport) -> None:
    assert all(one.could_work for one in report.cells if one.works_now)
    assert any(one.could_work and not one.works_now for one in report.cells)
    assert all(one.market_grade is not None for one in report.cells if one.owned_grade is not None)


def test_sums_are_those_of_the_cells(report: GridReport) -> None:
    assert len(report.cells) == len(report.lenses) * len(report.bodies)
    for one in report.lenses:
        own = [each for each in report.cells if each.lens == one.id]
        assert (one.works_now, one.could_work) == (sum(c.works_now for c in own), sum(c.could_work for c in own))
    assert sum(one.works_now for one in report.bodies) == sum(one.works_now for one in report.lenses)
    assert sum(one.could_work for one in report.bodies) == sum(one.could_work for one in report.lenses)


def test_lenses_stand_by_mount_and_those_without_one_are_left_out(report: GridReport, sample: World) -> None:
    mounts = [sample.mount(one.mount).name.casefold() for one in report.lenses]
    assert mounts == sorted(mounts)
    assert "barrel-90" not in {one.id for one in report.lenses}


def small(owned: int, **more: object) -> World:
    document = {
        "mounts": [mount("front", 45.0), mount("rear", 20.0, interface="other"), mount("far", 20.0, interface="far")],
        "bodies": [a_body(), a_body(id="lone", name="Lone", mount="far")],
        "lenses": [lens(), lens(id="old", name="Old", retired=True)],
        "adapters": [ring(owned=owned, **more)],  # type: ignore[arg-type]
    }
    return compile_world(gear_of(document))


def test_a_ring_that_is_owned_opens_what_a_ring_that_is_listed_could() -> None:
    listed, held = (whole_kit(small(owned), PRACTICE) for owned in (0, 1))
    assert (cell(listed, "lens", "body").owned_grade, cell(listed, "lens", "body").could_work) == (None, True)
    assert cell(held, "lens", "body").works_now
    # Archived lenses stand in no row; a body that nothing joins is stranded with everything.
    assert [one.id for one in held.lenses] == ["lens"]
    assert next(one for one in held.bodies if one.id == "lone").stranded
    assert not held.lenses[0].stranded
    assert listed.lenses[0].stranded


def test_a_borrowed_ring_is_at_hand_and_an_archived_one_is_not() -> None:
    assert whole_kit(small(0, borrowed=1), PRACTICE).lenses[0].works_now == 1
    assert whole_kit(small(1, retired=True), PRACTICE).lenses[0].could_work == 0


def test_after_an_edit_it_is_what_a_fresh_world_says(sample: World) -> None:
    adapter = sample.adapter("kel-ost-plain").model_copy(update={"owned": 0, "measured_length_mm": 26.4})
    gear = with_entry(sample.gear, "adapters", adapter.id, adapter)
    edited, fresh = compile_world(gear, sample), compile_world(gear)
    assert whole_kit(edited, PRACTICE) == whole_kit(fresh, PRACTICE)


# At the terminal


def test_the_command_tells_every_pair(report: GridReport) -> None:
    done = run("grid", "sample", "--json")
    assert done.returncode == 0, done.stderr.decode()
    told = json.loads(done.stdout)
    assert [(one["lens"], one["body"], one["owned_grade"], one["market_grade"]) for one in told["cells"]] == [
        (one.lens, one.body, one.owned_grade, one.market_grade) for one in report.cells
    ]


def test_as_a_table_a_row_a_pair(report: GridReport) -> None:
    rows = list(csv.DictReader(io.StringIO(run("grid", "sample", "--csv").stdout.decode())))
    assert len(rows) == len(report.cells)
    assert {row["market_grade"] or None for row in rows} == {one.market_grade for one in report.cells}
    plain = run("grid", "sample").stdout.decode()
    assert "Kelvane 55/2.2: " in plain
    assert f"of {len(report.bodies)} bodies now" in plain
    refused = run("grid", "gone.json")
    assert (refused.returncode, refused.stdout) == (2, b"")
