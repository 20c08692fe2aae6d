"""The plain path: every chain of every pair, and every ring that nobody lists, judged whole.

What the application answers is bounded, batched and judged once for what is alike; here nothing is, and both agree over
the sample and a hundred random worlds.
"""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence
from typing import Any

import pytest

from tests.core.test_sure import BODY, LENS, RING, thrown
from tests.thorough import EVERYWHERE
from tests.worlds import body, gear_of, lens, mount, ring
from tropeion.core.answers.effects import effect_of
from tropeion.core.answers.grid import GridReport, grid_of, whole_kit
from tropeion.core.answers.systems import systems_report
from tropeion.core.findings import Grade, rank, works
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import with_entry
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World, compile_world
from tropeion.core.joints.mechanics import (
    STACKED_RING_MM,
    clearance_doubts,
    has_room,
    loads_of,
    overloads,
    smallest_ring_mm,
)
from tropeion.core.optics.seats import Link, seat_of
from tropeion.core.optics.stack import stack_of
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.rig.unlisted import HELICOID_MM, made_ring, ring_kinds
from tropeion.core.routes.chains import copies_of
from tropeion.core.routes.grades import best_of_each
from tropeion.core.routes.standings import NOTHING, StandingGrade, level_of, standing_of
from tropeion.core.working import PLAIN, tidy

# Where a ring stands: its mounts, its length, and the listed piece before or behind it.
Place = tuple[Mount, Mount, float, Adapter | None, Adapter | None]


def chains(world: World, one: Lens, on: Body, most: int) -> Iterator[tuple[Adapter, ...]]:
    """Every chain of pieces that mates at every joint, no piece more often than there are copies."""
    goal = world.mount_of(on).joint

    def walk(at: str, chain: tuple[Adapter, ...]) -> Iterator[tuple[Adapter, ...]]:
        if at == goal:
            yield chain
        for piece in world.gear.adapters if len(chain) < most else ():
            mates = world.mounts[piece.lens_mount].joint == at and not piece.retired
            if mates and chain.count(piece) < copies_of(piece):
                yield from walk(world.mounts[piece.body_mount].joint, (*chain, piece))

    return walk(world.mount_of(one).joint, ())


def plain_standing(world: World, one: Lens, on: Body, practice: Practice) -> StandingGrade:
    return max(
        (
            standing_of(assess(world, one, chain, on, practice))
            for chain in chains(world, one, on, int(practice.pieces))
        ),
        default=NOTHING,
    )


def plain_unlisted(world: World, one: Lens, on: Body, listed: StandingGrade, practice: Practice) -> Grade | None:
    """What the best ring that is not listed comes to, where that is better than what is: alone, else beside a piece."""
    front, rear = world.mount_of(one), world.mount_of(on)
    seat, back = seat_of(one, front), seat_of(on, rear)
    if not (seat.known and back.known):
        return None

    def judged(places: Sequence[Place]) -> Iterator[StandingGrade]:
        for lens_mount, body_mount, length, before, behind in places:
            least = smallest_ring_mm(world.structure, lens_mount, body_mount)
            if one.focus == "none":
                least = (STACKED_RING_MM if least is None else least) + HELICOID_MM
            if length <= 0 or has_room(length, least) is False:
                continue
            of_place = []
            for does in ring_kinds(world, one, on):
                made = made_ring(world, lens_mount, body_mount, length, does)
                chain = tuple(piece for piece in (before, made, behind) if piece is not None)
                found = assess(world, one, chain, on, practice)
                of_place.append((rank(found.grade), not found.unsure, found.grade))
            grade = max(of_place, key=lambda found: found[0])
            yield StandingGrade(level_of(grade[2], surely=grade[1]))

    alone = next(judged([(front, rear, tidy(seat.register_mm - back.register_mm), None, None)]), NOTHING)
    best = alone
    if not alone.works and not listed.works:
        places: list[Place] = []
        for (takes, onto), pieces in world.structure.adapters_by_joints.items():
            for piece in pieces:
                link = Link.of(piece)
                squared, glass = link.magnification**2, link.glass or (0.0, 0.0)
                adds = link.error_mm + squared * glass[0] - glass[1]
                ends = world.mounts[piece.lens_mount], world.mounts[piece.body_mount]
                if onto == rear.joint and not piece.retired:
                    length = tidy(seat.register_mm - (back.register_mm + adds) / squared)
                    places.append((front, ends[0], length, None, piece))
                if takes == front.joint and not piece.retired:
                    length = tidy(squared * seat.register_mm - back.register_mm - adds)
                    places.append((ends[1], rear, length, piece, None))
        handy = sorted(places, key=lambda place: not any(piece is not None and piece.at_hand for piece in place[3:]))
        best = max((found for found in judged(handy) if found.works), default=NOTHING)
    return best.grade if best.works and best > listed else None


def told(report: GridReport) -> dict[tuple[str, str], tuple[Grade | None, Grade | None, Grade | None, bool, bool]]:
    return {
        (cell.lens, cell.body): (
            cell.owned_grade,
            cell.market_grade,
            cell.unlisted_grade,
            cell.works_now,
            cell.could_work,
        )
        for cell in report.cells
    }


def plainly(world: World, practice: Practice) -> dict[tuple[str, str], tuple[Any, ...]]:
    """The whole kit without any of its ways of being fast."""
    gear = world.gear
    at_hand = tuple(piece for piece in gear.adapters if piece.at_hand)
    held = compile_world(gear.model_copy(update={"adapters": at_hand, "rigs": ()}))
    found = {}
    for one in (one for one in gear.mounted if not one.retired):
        for on in (on for on in gear.bodies if not on.retired):
            now, could = (plain_standing(some, one, on, practice) for some in (held, world))
            unlisted = plain_unlisted(world, one, on, could, practice)
            found[one.id, on.id] = (now.grade, could.grade, unlisted, now.works, could.works)
    return found


GLASSES: tuple[dict[str, Any], ...] = (
    {"optics": "reducer", "magnification": 0.7},
    {"optics": "correcting", "magnification": 1.0},
    {"optics": "expander", "magnification": 1.3},
)


def random_world(dice: random.Random) -> World:
    """Three systems, a few lenses and bodies of each, and rings between them of every kind."""
    mounts = ["front", "middle", "rear"]
    registers = [45.0, dice.choice([30.0, 44.95, 47.0]), 20.0]
    rated = {"load_rating_nm": dice.choice([None, 0.4, 3.0]), "throat_mm": dice.choice([None, 44.0])}
    spoken = {"from_protocol": "speech", "to_protocol": "tongue"}

    def between(number: int) -> dict[str, Any]:
        front, rear = dice.sample(mounts, 2)
        gap = registers[mounts.index(front)] - registers[mounts.index(rear)]
        made = {**thrown(dice, RING), "length_mm": max(0.5, round(gap + dice.choice([0.0, 0.0, -0.02, 0.06, -0.4]), 2))}
        if gap < 0 or dice.random() < 0.15:
            made |= {
                **dice.choice(GLASSES),
                "register_in_mm": registers[mounts.index(front)],
                "register_out_mm": registers[mounts.index(rear)],
                "front_glass_mm": dice.choice([None, 1.0, 8.0]),
                "image_circle_mm": dice.choice([None, 30.0]),
            }
        if dice.random() < 0.4:
            made |= {"link": "translate", **spoken, "carries": dict.fromkeys(("autofocus", "aperture"), "full")}
        if dice.random() < 0.15:
            made |= {"aperture_control": dice.choice(["lever_ring", "pin_press", "iris"])}
        owned: dict[str, Any] = {"owned": dice.choice([0, 0, 1, 2]), "price": dice.choice([None, 20.0])}
        owned["mass_g"] = dice.choice([None, 90.0])
        return ring(f"r{number}", **made, lens_mount=front, body_mount=rear, **owned)

    def glass(number: int) -> dict[str, Any]:
        says = thrown(dice, LENS)
        offers = ["autofocus", "aperture", "identity"][: dice.randint(0, 3)] if says["protocol"] else []
        weight = {"mass_g": dice.choice([None, 300.0, 2500.0]), "centre_of_mass_mm": 40.0}
        return lens(
            **{**says, "id": f"l{number}", "mount": dice.choice(mounts), "offers": offers, **weight, "not_on": ()}
        )

    def camera(number: int) -> dict[str, Any]:
        says = thrown(dice, BODY) | {"protocols": dice.choice([(), ("speech",), ("tongue",)])}
        return body(**{**says, "id": f"b{number}", "mount": dice.choice(mounts), "meters": True})

    document = {
        "protocols": [
            {"id": "speech", "name": "Speech", "powers": ["iris", "focus"]},
            {"id": "tongue", "name": "Tongue", "powers": ["iris", "focus"], "accepts": dice.choice([[], ["speech"]])},
        ],
        "mounts": [
            mount(id_, register, dice.choice([0.0, 0.02]), interface=id_, **rated)
            for id_, register in zip(mounts, registers, strict=True)
        ],
        "bodies": [camera(number) for number in range(2)],
        "lenses": [glass(number) for number in range(4)],
        "adapters": [between(number) for number in range(dice.randint(3, 7))],
    }
    return compile_world(gear_of(document))


PRACTICES = (
    Practice(pieces="2"),
    Practice(pieces="2", trust="cautious"),
    Practice(pieces="1", use="film"),
    Practice(pieces="3" if EVERYWHERE else "2", blur="3000"),
)


@pytest.mark.parametrize("seed", range(1000 if EVERYWHERE else 100))
def test_a_random_world_is_answered_as_if_every_chain_were_judged(seed: int) -> None:
    dice = random.Random(seed)
    world, practice = random_world(dice), PRACTICES[seed % len(PRACTICES)]
    expected = plainly(world, practice)
    grid = grid_of(world, practice)
    assert told(grid.report) == expected
    # What edits leave, one after another, is as if made anew, and crosses the systems alike.
    kinds: tuple[Kind, ...] = ("adapters", "bodies", "lenses")
    for kind in kinds:
        one = dice.choice(getattr(world.gear, kind))
        world = changed(world, kind, one.id, **edited(kind, one, dice))
        grid = grid_of(world, practice, grid)
        assert told(grid.report) == told(grid_of(compile_world(world.gear), practice).report), kind
    found = systems_report(world, practice, grid.could).crossings
    assert found == systems_report(compile_world(world.gear), practice).crossings


def edited(kind: Kind, one: Any, dice: random.Random) -> dict[str, Any]:
    if kind == "adapters":
        return {"length_mm": one.length_mm + 0.03, "owned": 1}
    if kind == "bodies":
        return {"sensor_mm": dice.choice([(44.0, 33.0), (24.0, 16.0)]), "owned": 1}
    return {"protocol": None if one.protocol else "speech", "image_circle_mm": dice.choice([None, 30.0])}


def changed(world: World, kind: Kind, id_: str, **says: Any) -> World:
    """The collection with one piece that says something else."""
    (one,) = (some for some in getattr(world.gear, kind) if some.id == id_)
    return compile_world(with_entry(world.gear, kind, id_, one.model_copy(update=says)), world)


def test_what_is_taken_from_the_pieces_beside_it_is_taken_anew() -> None:
    """A circle that nobody stated is its bodies'; whether a body may have contacts is told by its mount's lenses."""
    world = compile_world(
        gear_of(
            {
                "protocols": [{"id": "speech", "name": "Speech", "powers": ["iris", "focus"]}],
                "mounts": [mount("front", 45.0, interface="f"), mount("rear", 20.0, interface="r")],
                "bodies": [body(id="own", mount="front"), body(id="other")],
                "lenses": [lens(id="silent", image_circle_mm=None), lens(id="native", mount="rear")],
                "adapters": [ring("plain", owned=1), ring("through", link="pass", owned=1)],
            }
        )
    )
    practice = Practice()
    first = grid_of(world, practice)
    assert told(first.report)["silent", "other"][1] == "manual"
    # Its own system turns out to be a small one: on the other body its circle may be too small.
    small = changed(world, "bodies", "own", sensor_mm=(24.0, 16.0))
    since = grid_of(small, practice, first)
    assert told(since.report)["silent", "other"][1] == "partial"
    assert told(since.report) == told(grid_of(compile_world(small.gear), practice).report)
    # And it is told as it is typed, though the other body was not touched.
    effect = effect_of(world, "bodies", "own", small.bodies["own"], practice)
    assert [(told.lens, told.body, told.before, told.after) for told in effect.pairs] == [
        ("silent", "other", "manual", "partial")
    ]
    spoken = changed(small, "lenses", "native", protocol="speech", focus="by_wire", aperture="electronic")
    assert told(grid_of(spoken, practice, since).report) == told(grid_of(compile_world(spoken.gear), practice).report)


def test_the_random_worlds_meet_what_they_are_for() -> None:
    """Each kind of answer is there often enough for the comparison to mean something."""
    seen = {"listed": 0, "unlisted": 0, "nothing": 0, "full": 0, "danger": 0, "partial": 0}
    for seed in range(100):
        for now, could, unlisted, *_ in told(whole_kit(random_world(random.Random(seed)), PRACTICES[0])).values():
            seen["listed"] += could is not None and works(could)
            seen["unlisted"] += unlisted is not None
            seen["nothing"] += could is None
            for grade in ("full", "danger", "partial"):
                seen[grade] += grade in {now, could, unlisted}
    assert min(seen.values()) >= 8, seen


def test_the_sample_is_answered_as_if_every_chain_were_judged(sample: World) -> None:
    """With chains of two here, of three where every case is tried; some of the bodies stand for the rest."""
    practice = Practice(pieces="3" if EVERYWHERE else "2")
    bodies = sample.gear.bodies if EVERYWHERE else sample.gear.bodies[::3]
    lenses = sample.gear.mounted if EVERYWHERE else sample.gear.mounted[::2]
    found = best_of_each(sample, lenses, bodies, practice)
    cells = {(cell.lens, cell.body): cell for cell in whole_kit(sample, practice).cells}
    for one in lenses:
        for on in bodies:
            best = found[one.id, on.id]
            assert best.standing == plain_standing(sample, one, on, practice), (one.id, on.id)
            if best.by is not None:
                by = tuple(sample.adapters[id_] for id_ in best.by)
                assert standing_of(assess(sample, one, by, on, practice)) == best.standing
            cell = cells[one.id, on.id]
            unlisted = plain_unlisted(sample, one, on, best.standing, practice)
            assert cell.unlisted_grade == unlisted, (one.id, on.id)
            if cell.could_work and not cell.works_now and best.by is not None:
                stack = stack_of(sample, one, by, on)
                minded = {code for code, so in _minded(stack) if so}
                assert set(cell.cautions) == minded, (one.id, on.id)


def _minded(stack: Any) -> Iterator[tuple[str, bool]]:
    yield "clearance_unknown", bool(clearance_doubts(stack))
    yield "load_exceeded", any(overloads(load) for load in loads_of(stack, PLAIN))
