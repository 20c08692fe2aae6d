"""Systems beside one another: rooms, look-alikes, generations that meet; what may come next in a chain."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.worlds import gear_of, mount, ring
from tropeion.core.answers.next_pieces import next_pieces
from tropeion.core.answers.systems import Crossing, system_page, systems_report
from tropeion.core.findings import rank
from tropeion.core.gear.world import UnknownIdError, World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.routes.grades import best_grade


def crossing(world: World, lens_mount: str, body_mount: str) -> Crossing:
    report = systems_report(world, Practice())
    return next(c for c in report.crossings if (c.lens_mount, c.body_mount) == (lens_mount, body_mount))


def test_every_system_crosses_every_other_and_the_longest_register_comes_first(sample: World) -> None:
    report = systems_report(sample, Practice())
    count = len(sample.gear.mounts)
    assert len(report.crossings) == count**2
    assert [system.register_mm for system in report.systems] == sorted(
        (m.register_mm or 0.0 for m in sample.gear.mounts), reverse=True
    )


@pytest.mark.parametrize(
    ("lens_mount", "body_mount", "room_mm", "joint"),
    [
        ("kelvane", "ostrel", 25.80, "practical"),  # 48.20 − 22.40
        ("ostrel", "kelvane", -25.80, "none"),
        ("kelvane", "kelvane", 0.0, "same"),
        ("tolmer-pr", "tolmer", -16.10, "same"),  # one thread: 31.20 − 47.30
        ("ostrel", "skarn", 0.0, "equal"),
        ("lisken", "varde", 0.70, "tight"),  # 30.30 − 29.60
    ],
)
def test_rooms_of_the_sample_world(sample: World, lens_mount: str, body_mount: str, room_mm: float, joint: str) -> None:
    found = crossing(sample, lens_mount, body_mount)
    assert found.room_mm == pytest.approx(room_mm)
    assert found.joint == joint


def test_the_grade_of_a_crossing_is_the_best_of_its_pairs(sample: World) -> None:
    found = crossing(sample, "kelvane", "pellam")
    bodies = [body for body in sample.gear.bodies if body.mount == "pellam"]
    lenses = [lens for lens in sample.gear.lenses if lens.mount == "kelvane"]
    grades = [best_grade(sample, lens, body, Practice()) for lens in lenses for body in bodies]
    best = max(grades, key=lambda grade: -1 if grade is None else rank(grade))
    assert found.grade == best
    assert found.ways > 0


def test_two_threads_of_one_diameter_look_alike() -> None:
    screw: dict[str, Any] = {"coupling": "screw"}
    world = compile_world(
        gear_of(
            {
                "mounts": [
                    mount("a", 45.0, interface="m40x1", thread={"diameter_mm": 40.0, "pitch_mm": 1.0}, **screw),
                    mount("b", 30.0, interface="m40x1", thread={"diameter_mm": 40.0, "pitch_mm": 1.0}, **screw),
                    mount("c", 45.0, interface="m40x2", thread={"diameter_mm": 40.0, "pitch_mm": 2.0}, **screw),
                    mount("d", 45.0, interface="m41x1", thread={"diameter_mm": 41.0, "pitch_mm": 1.0}, **screw),
                ]
            }
        )
    )
    found = {(pair.one, pair.other): pair for pair in systems_report(world, Practice()).look_alikes}
    assert found["a", "b"].kind == "same_thread"
    assert found["a", "b"].differ_mm == 15.0
    assert found["a", "c"].kind == "same_diameter"
    assert "Do not force it" in found["a", "c"].text
    # Another diameter is no look-alike, but its register is the same.
    assert found["a", "d"].kind == "equal_registers"
    assert ("b", "d") not in found


@given(st.lists(st.floats(10, 80).map(lambda value: round(value, 2)), min_size=1, max_size=5))
def test_rooms_are_the_same_from_either_side_with_the_sign_turned(registers: list[float]) -> None:
    mounts = [mount(f"m{i}", value, interface=f"joint-{i}") for i, value in enumerate(registers)]
    report = systems_report(compile_world(gear_of({"mounts": mounts})), Practice())
    rooms = {(c.lens_mount, c.body_mount): c.room_mm for c in report.crossings}
    for (front, rear), room in rooms.items():
        back = rooms[rear, front]
        assert room is not None
        assert back is not None
        assert room == pytest.approx(-back)
    assert all(c.ways == (1 if c.joint == "same" else 0) for c in report.crossings)
    assert all(c.grade is None for c in report.crossings)


def test_a_system_page_says_how_its_generations_meet(sample: World) -> None:
    page = system_page(sample, "kelvane")
    effects = {(e.lens_generation[-1], e.body_generation[-1]): e.effect for e in page.encounters}
    assert effects["1", "3"] == effects["1", "4"] == "damage"
    assert effects["1", "2"] == "safe_after"
    assert effects["2", "2"] == effects["3", "4"] == "meters"
    assert effects["4", "1"] == "no_metering"
    assert {body.id for body in page.bodies} == {"stave-1", "stave-2", "stave-3", "stave-4"}
    assert [speech.id for speech in page.speaks] == ["kel-data"]
    assert system_page(sample, "varde").encounters == ()
    joined = {one.id: one for one in page.adapters}
    assert joined["kel-ost-plain"].side == "lens"
    assert joined["kel-ost-plain"].other == "ostrel"
    assert joined["grm-kel-plain"].side == "body"
    assert "lsk-ost-plain" not in joined
    with pytest.raises(UnknownIdError):
        system_page(sample, "nowhere")


# What may come next

JOINTS: dict[str, Any] = {
    "mounts": [mount(id_, 40.0, interface=f"joint-{id_}") for id_ in ("a", "b", "c")],
    "adapters": [
        ring("a-b-sold", 5.0, lens_mount="a", body_mount="b", price=9.0),
        ring("a-b-owned", 5.0, lens_mount="a", body_mount="b", owned=1),
        ring("a-c", 7.0, lens_mount="a", body_mount="c", owned=1),
        ring("c-b", 7.0, lens_mount="c", body_mount="b"),
        ring("a-b-gone", 5.0, lens_mount="a", body_mount="b", retired=True),
    ],
}


def test_what_mates_and_arrives_comes_first_and_what_does_not_mate_only_on_request() -> None:
    world = compile_world(gear_of(JOINTS))
    found = next_pieces(world, "a", "b")
    assert [piece.id for piece in found.pieces] == ["a-b-owned", "a-b-sold", "a-c"]
    assert [piece.arrives for piece in found.pieces] == [True, True, False]
    everything = next_pieces(world, "a", "b", anything=True)
    assert [piece.id for piece in everything.pieces][3:] == ["c-b"]
    assert not everything.pieces[3].mates
    assert [piece.id for piece in next_pieces(world, "a", "b", "a-c").pieces] == ["a-c"]
    limited = next_pieces(world, "a", "b", anything=True, limit=1)
    assert (len(limited.pieces), limited.total) == (1, 4)
