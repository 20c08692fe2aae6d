"""Grades that are told without a judgement: each is what the judgement says, and enough of them are met."""

from __future__ import annotations

import itertools
import random
from collections import Counter
from typing import Any

import numpy as np
import pytest
from benchmarks.market import market

from tests.worlds import body, gear_of, lens, made, mount, ring
from tropeion.core.findings import GRADES, Grade, rank
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.usual import taken_body, taken_for
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.rig.judgement import assess
from tropeion.core.routes.bounds import bounds_of
from tropeion.core.routes.grades import best_grades
from tropeion.core.routes.pair_columns import pairs_of
from tropeion.core.routes.standings import StandingGrade, standing_of
from tropeion.core.routes.sure import (
    adapter_is_plain,
    body_is_plain,
    contacts_of_adapter,
    contacts_of_body,
    contacts_of_lens,
    plain_lens,
)
from tropeion.core.routes.table import find_chains, table_of

CROP = {"name": "full", "sensor_mm": [24.0, 16.0]}
# N·c wide open is 0.0577 mm, and the diagonal of the sensor 43.27 mm: both sides of each edge, and what is far off.
LENGTHS_MM = (15.0, 24.9, 24.94, 24.95, 25.0, 25.0, 25.0, 25.03, 25.05, 25.06, 25.1, 27.0)
LENS = {
    "focus": ("ring", "ring", "motor", "screw_drive", "by_wire", "by_wire", "none"),
    "aperture": ("ring", "ring", "ring", "lever", "electronic", "none"),
    "focal_length_mm": ([50, 50], [50, 50], [50, 50], [35, 70]),
    "protocol": (None, None, "speech"),
    "image_circle_mm": (None, 43.0, 43.26, 43.27, 45.0, 80.0),
    "exit_pupil_mm": (None, None, 60.0),
    "rear_protrusion_mm": (None, None, 3.0, 36.0),
    "rear_diameter_mm": (None, None, None, 30.0),
    "past_infinity_mm": (0.0, 0.0, 0.3),
    "min_focus_m": (0.5, None),
    "not_on": ((), (), ({"mount": "rear", "reason": "it touches"},)),
}
BODY = {
    "megapixels": (None, 20.0),
    "modes": ((), (), (CROP,), ({**CROP, "megapixels": 12.0},), ({**CROP, "megapixels": 24.0},)),
    "protocols": ((), (), ("speech",)),
    "obstruction_mm": (None, 12.0),
}
RING = {
    "length_mm": LENGTHS_MM,
    "tolerance_mm": (0.0, 0.01, 0.04),
    "link": ("none", "none", "pass"),
    "bore_mm": (None, 44.0, 34.0),
    "helicoid_mm": (0.0, 0.0, 5.0),
    "irreversible": (False, False, False, True),
    "play_mm": (0.0, 0.05),
}
GLASS: dict[str, Any] = {"magnification": 1.3, "register_in_mm": 45.0, "register_out_mm": 20.0}


def thrown(dice: random.Random, faces: dict[str, tuple[Any, ...]]) -> dict[str, Any]:
    return {name: dice.choice(values) for name, values in faces.items()}


def world_at(
    dice: random.Random, of_lens: dict[str, tuple[Any, ...]] = LENS, of_body: dict[str, tuple[Any, ...]] = BODY
) -> World:
    rings = [ring(f"r{number}", **thrown(dice, RING)) for number in range(4)]
    glass = [ring(f"g{kind}", 25.0, optics=kind, **GLASS) for kind in ("expander", "correcting")]
    document = {
        "protocols": [{"id": "speech", "name": "Speech", "powers": ["iris", "focus"]}],
        "mounts": [mount("front", 45.0, interface="front"), mount("rear", 20.0, interface="rear")],
        "bodies": [body(**thrown(dice, of_body))],
        "lenses": [lens(**thrown(dice, of_lens))],
        "adapters": [*rings, *glass],
    }
    return compile_world(gear_of(document))


def judged(world: World, pieces: tuple[Adapter, ...], practice: Practice) -> Grade:
    return assess(world, world.lenses["lens"], pieces, world.bodies["body"], practice).grade


# The cautious school has a narrower window, so fewer chains are sure.
@pytest.mark.parametrize(("trust", "least"), [("nominal", 20), ("cautious", 12)])
def test_what_is_sure_is_what_the_judgement_says(trust: Any, least: int) -> None:
    dice, practice = random.Random(9), Practice(trust=trust, pieces="1")
    met: Counter[Grade] = Counter()
    for _ in range(480):
        world = world_at(dice)
        the_lens, the_body = world.lenses["lens"], world.bodies["body"]
        table = table_of(world, the_lens, the_body, 1)
        bounds, sure, *_ = bounds_of(table, pairs_of(world, [(the_lens, the_body)], practice))
        for index in range(len(table)):
            grade, bound = judged(world, table.adapters(index), practice), int(bounds[0, index])
            assert bound >= rank(grade)
            if sure[0, index]:
                assert GRADES[bound] == grade
                met[grade] += 1
    # Of 480 lenses and bodies, each with up to six pieces: the fast way is met often enough to be tried.
    assert met["manual"] >= least
    assert met["none"] >= least
    assert met["partial"] >= least


def test_chains_that_only_contacts_make_less_come_to_the_same_where_these_agree() -> None:
    """Whatever their lengths: the same number in ``contacts`` says that these allow the same."""
    dice, practice = random.Random(12), Practice(pieces="1")
    driven: dict[str, tuple[Any, ...]] = {
        "focus": ("by_wire", "motor", "none"),
        "aperture": ("electronic", "lever"),
        "focal_length_mm": ([50, 50], [24, 24]),
        "protocol": (None, "speech"),
        "not_on": ((),),
        "rear_diameter_mm": (None,),
    }
    known: dict[tuple[object, ...], StandingGrade] = {}
    met: Counter[int] = Counter()
    for _ in range(300):
        world = world_at(dice, LENS | driven, BODY | {"modes": ((), (CROP,))})
        one, on = world.lenses["lens"], world.bodies["body"]
        table = table_of(world, one, on, 1)
        limits = bounds_of(table, pairs_of(world, [(one, on)], practice))
        ends = contacts_of_lens(taken_for(world, one)), contacts_of_body(taken_body(world, on))
        for index in np.flatnonzero(limits.contacts[0]).tolist():
            pieces = table.adapters(index)
            allowed = int(limits.bounds[0, index]), int(limits.contacts[0, index])
            key = (*ends, *map(contacts_of_adapter, pieces), *allowed)
            standing = standing_of(assess(world, one, pieces, on, practice))
            met[allowed[1]] += key in known
            assert known.setdefault(key, standing) == standing
    assert min(met[way] for way in (1, 2, 3, 4)) >= 4, met


def test_a_mode_with_more_pixels_than_the_sensor_leaves_nothing_sure() -> None:
    """Such a mode is taken even where the circle covers the sensor, so the grade is that of a crop."""
    plain = made(Body, {**body(), "megapixels": 20.0, "modes": [{**CROP, "megapixels": 12.0}]})
    finer = plain.model_copy(update={"modes": (plain.modes[0].model_copy(update={"megapixels": 24.0}),)})
    assert body_is_plain(plain, "still")
    assert not body_is_plain(finer, "still")


def test_a_field_that_nobody_listed_is_not_sure_unless_it_says_nothing() -> None:
    class NewerLens(Lens):
        heats_up: bool = False

    class NewerAdapter(Adapter):
        magnets: int = 0

    class NewerBody(Body):
        shutter: str

    written = lens(focus="ring")
    for focus, plain in (("ring", (True, True, False)), ("by_wire", (False, True, True))):
        assert plain_lens(made(Lens, {**written, "focus": focus})) == plain
        assert plain_lens(made(NewerLens, {**written, "focus": focus})) == plain
        assert not any(plain_lens(made(NewerLens, {**written, "focus": focus, "heats_up": True})))
    assert adapter_is_plain(made(NewerAdapter, ring()))
    assert not adapter_is_plain(made(NewerAdapter, ring(magnets=2)))
    assert not body_is_plain(made(NewerBody, {**body(), "shutter": "leaf"}), "still")


@pytest.mark.parametrize(
    "says",
    [
        {"focus": "none"},
        {"focus": "by_wire"},
        {"aperture": "lever"},
        {"aperture": "electronic"},
        {"focal_length_mm": [35, 70]},
        {"f_number_at_long_end": 4.0},
    ],
    ids=str,
)
def test_what_has_to_be_judged_is_not_plain(says: dict[str, Any]) -> None:
    assert plain_lens(made(Lens, lens())).by_lengths
    assert not plain_lens(made(Lens, lens(**says))).by_lengths


@pytest.mark.parametrize("says", [{"irreversible": True}, {"optics": "correcting", **GLASS}], ids=["cut", "glass"])
def test_what_costs_something_is_not_plain(says: dict[str, Any]) -> None:
    assert not adapter_is_plain(made(Adapter, ring(**says)))


def best_by_hand(world: World, the_lens: Lens, the_body: Body, practice: Practice) -> Grade | None:
    chains = find_chains(world, the_lens, the_body, int(practice.pieces))
    grades = [
        assess(world, the_lens, tuple(group.first for group in chain), the_body, practice).grade for chain in chains
    ]
    return max(grades, key=rank, default=None)


def test_a_market_is_graded_as_one_by_one() -> None:
    """What the benchmark times is also right: best grades of a made-up market against every chain judged."""
    gear: Gear = market(systems=9, adapters=60, lenses=18, bodies=5)
    world, practice = compile_world(gear), Practice(pieces="2")
    found = best_grades(world, gear.lenses, gear.bodies, practice)
    expected = {
        (the_lens.id, the_body.id): best_by_hand(world, the_lens, the_body, practice)
        for the_lens, the_body in itertools.product(gear.lenses, gear.bodies)
    }
    assert found == expected
    assert len({grade for grade in expected.values() if grade}) > 3
