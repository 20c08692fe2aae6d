"""Knowing less never looks better: what is left out is what is usual, or is named as not assessed.

A field is left out of one piece of a rig at a time, and then of two; the judgement of what is left is held against that
with the usual value stated (``gear/usual.py``), or against the finding that names the field.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.random_worlds import world_by_chance
from tests.thorough import EVERYWHERE
from tropeion.core.findings import rank
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.items import UNJUDGED, Item
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import Entry, find, with_entry
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.usual import USUAL, contacts_unknown, taken_body, taken_for, usual_circle_mm
from tropeion.core.gear.world import World, compile_world
from tropeion.core.joints.key import identify
from tropeion.core.joints.key_report import Answer
from tropeion.core.joints.mechanics import has_room, is_obstructed, smallest_ring_mm
from tropeion.core.plan.planning import plan_of
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.rig.rig_report import Route
from tropeion.core.routes.match import match

PRACTICE = Practice(pieces="2")
_USUAL = {(one.kind, one.field): one for one in USUAL}
# What a piece is, and what stands or falls with another of its fields: without these it is another piece, or none.
_OF_THE_PIECE = frozenset(
    {
        *("mount", "optics", "magnification", "register_in_mm", "register_out_mm", "link", "chip"),
        *("from_protocol", "to_protocol", "thread", "coupling", "interface", "features", "generations", "rules"),
        *("code", "profiles", "swappable_mounts", "modes", "conversion", "barrel_mm", "rear_thread"),
    }
)
# What the piece cannot do unless somebody says so: the format's own default, and the worst that there is.
_SEVERITIES = frozenset({"danger", "caution", "limit"})


@dataclass(frozen=True)
class Left:
    """A field that is left out of a piece of a rig."""

    kind: Kind
    id: str
    field: str


@dataclass(frozen=True)
class Put:
    """A rig by ids, in a world."""

    world: World
    lens: str
    body: str
    adapters: tuple[str, ...]

    def judged(self, world: World) -> Route:
        (route,) = match(world, self.lens, self.body, PRACTICE, via=self.adapters).routes
        return route

    def pieces(self) -> Iterator[tuple[Kind, Entry]]:
        lens, adapters, body = self.world.lenses[self.lens], self.adapters, self.world.bodies[self.body]
        yield "lenses", lens
        yield "bodies", body
        for id_ in dict.fromkeys(adapters):
            yield "adapters", self.world.adapters[id_]
        for id_ in dict.fromkeys((lens.mount or "", body.mount)):
            yield "mounts", self.world.mounts[id_]

    def fields(self) -> list[Left]:
        """Every field that says something that need not be said."""
        found = []
        for kind, item in self.pieces():
            for name, field in type(item).model_fields.items():
                if name in UNJUDGED or name in _OF_THE_PIECE or field.is_required():
                    continue
                if getattr(item, name) != field.get_default(call_default_factory=True):
                    found.append(Left(kind, item.id, name))
        return found


def without(world: World, left: Left) -> World:
    item = find(world.gear, left.kind, left.id)
    default = type(item).model_fields[left.field].get_default(call_default_factory=True)
    update = {left.field: default}
    return compile_world(with_entry(world.gear, left.kind, left.id, item.model_copy(update=update)))


def with_usual(world: World, left: Left) -> World | None:
    """The world with the usual value stated; None where there is none."""
    item = find(world.gear, left.kind, left.id)
    bare = item.model_copy(
        update={left.field: type(item).model_fields[left.field].get_default(call_default_factory=True)}
    )
    value = _usual_value(world, bare, left)
    if value is None:
        return None
    stated = bare.model_copy(update={left.field: value})
    return compile_world(with_entry(world.gear, left.kind, left.id, stated))


def _usual_value(world: World, bare: Entry, left: Left) -> object:
    known = _USUAL.get((left.kind, left.field))  # type: ignore[arg-type]
    if known is None:
        return None
    if known.value is not None:
        return known.value
    match bare, left.field:
        case Lens(), "focus" | "aperture" | "protocol":
            return getattr(taken_for(world, bare), left.field)
        case Lens(), "image_circle_mm":
            return usual_circle_mm(world, bare)
        case Lens(), "f_number_at_long_end":
            return bare.f_number[0]
        case Lens() | Body(), "measured_register_mm":
            return world.mount_of(bare).register_mm
        case Body(), "obstruction_mm":
            return None if is_obstructed(bare, world.mount_of(bare)) else 0.0
        case Body(), "protocols":
            # None are expected where nothing of its mount has any.
            return None if contacts_unknown(world, bare) else taken_body(world, bare).protocols
        case Adapter(), "measured_length_mm":
            return bare.length_mm
        case Mount(), "lens_kind":
            return bare.lens_kind_or_usual
    return None


def standing(route: Route) -> tuple[int, float]:
    return rank(route.grade), min(end.infinity.probability or 0.0 for end in route.ends)


def better(one: Route, other: Route) -> bool:
    """Of a rig that comes to less, infinity may be surer: an iris that stays closed hides more."""
    (grade, chance), (least, sure) = standing(one), standing(other)
    return grade > least or (grade == least and chance > sure + 1e-9)


def check(put: Put, left: tuple[Left, ...]) -> None:
    """With these fields left out, nothing is better than with what is usual stated, unless a caution names it."""
    bare, stated, named = put.world, put.world, set()
    for one in left:
        bare = without(bare, one)
        usual = with_usual(stated, one)
        if usual is not None:
            stated = usual
        known = _USUAL.get((one.kind, one.field))  # type: ignore[arg-type]
        if usual is None and known is not None:
            named |= set(known.named)
        if usual is None and known is not None and "worst" in known.rule:
            named.add("generation_unknown")
    less, full = put.judged(bare), put.judged(stated)
    if not better(less, full):
        return
    said = {found.code for found in less.findings if found.severity in _SEVERITIES}
    assert named & said, (left, standing(full), standing(less), sorted(said))


@cache
def rigs_of(world: World) -> tuple[Put, ...]:
    """One rig of each pair that anything joins."""
    found = []
    for lens in world.gear.mounted:
        for body in world.gear.bodies:
            routes = match(world, lens.id, body.id, PRACTICE, detailed=False).routes
            if routes:
                found.append(Put(world, lens.id, body.id, routes[0].adapters))
    return tuple(found)


def test_every_usual_value_is_of_a_field_that_is_there() -> None:
    models: dict[str, type[Item]] = {"mounts": Mount, "lenses": Lens, "bodies": Body, "adapters": Adapter}
    for one in USUAL:
        assert one.field in models[one.kind].model_fields, one
        assert one.value is not None or one.rule or one.named, one


def test_each_field_alone_left_out_of_a_rig_of_the_sample(sample: World) -> None:
    rigs = rigs_of(sample)
    for put in rigs if EVERYWHERE else rigs[::90]:
        for left in put.fields():
            check(put, (left,))


@settings(max_examples=2000 if EVERYWHERE else 60)
@given(data=st.data())
def test_two_fields_at_once(sample: World, data: st.DataObject) -> None:
    put = data.draw(st.sampled_from(rigs_of(sample)))
    fields = put.fields()
    one, other = (data.draw(st.sampled_from(fields)) for _ in range(2))
    check(put, (one,) if one == other else (one, other))


@pytest.mark.parametrize("seed", range(200 if EVERYWHERE else 5))
def test_each_field_of_collections_by_chance(seed: int) -> None:
    rigs = rigs_of(world_by_chance(seed))
    for put in rigs if EVERYWHERE else rigs[:2]:
        for left in put.fields():
            check(put, (left,))


@pytest.mark.attack
def test_all_pairs_of_fields_that_one_rule_reads(sample: World) -> None:
    """Those that clearance, load, coverage, contacts and reach each read together."""
    together = (
        {"rear_protrusion_mm", "rear_diameter_mm", "obstruction_mm", "front_glass_mm", "bore_mm", "throat_mm"},
        {"mass_g", "centre_of_mass_mm", "load_rating_nm"},
        {"image_circle_mm", "exit_pupil_mm", "bore_mm", "throat_mm", "max_ray_angle_deg"},
        {"protocol", "protocols", "generation", "offers", "focus", "aperture", "carries"},
        {"min_focus_m", "max_magnification", "length_mm", "past_infinity_mm", "measured_length_mm", "tolerance_mm"},
    )
    for put in rigs_of(sample):
        fields = put.fields()
        for rule in together:
            some = [one for one in fields if one.field in rule]
            for place, one in enumerate(some):
                for other in some[place + 1 :]:
                    check(put, (one, other))


WORST_FIRST = ("damage", "safe_after", "inspect", "nothing_known", "no_metering", "stop_down_metering", "meters")


def check_key(world: World) -> None:
    """What one saw of a lens of each generation, all of it and all but one part: what may be mounted is no more."""
    for one in world.gear.mounts:
        asked = [part.id for part in one.features if part.side == "lens"]
        for generation in one.generations if one.rules else ():
            seen: dict[str, Answer] = {id_: "yes" if id_ in generation.lens_features else "no" for id_ in asked}
            whole = {place.generation: place.effect for place in identify(world, one.id, seen).may_mount}
            for left in asked:
                less = identify(world, one.id, {id_: said for id_, said in seen.items() if id_ != left}).may_mount
                for place in less:
                    full = whole[place.generation]
                    assert WORST_FIRST.index(place.effect) <= WORST_FIRST.index(full), (one.id, generation.id, left)


def check_plan(world: World) -> None:
    """A plan meets no more for what nobody stated of a piece, and costs no less where it meets as many."""
    body = world.gear.bodies[0].id
    demands = tuple(Demand(lens=one.id, bodies=(body,)) for one in world.gear.mounted)
    for name, carry_g in (("price", None), ("mass_g", 1500.0)):
        question = PlanQuestion(demands=demands, carry_g=carry_g)
        plan = plan_of(world, question, PRACTICE)
        for id_ in [*plan.buy, *(one.id for one in world.gear.adapters)][:6]:
            less = plan_of(without(world, Left("adapters", id_, name)), question, PRACTICE)
            assert less.met <= plan.met, (id_, name)
            # A ring that the lens overloads serves where nothing else can be had, and may cost less.
            minded = sum(len(one.cautions) for one in less.serves) > sum(len(one.cautions) for one in plan.serves)
            assert less.met < plan.met or minded or less.cost >= plan.cost - 1e-6, (id_, name)


def check_build(world: World) -> None:
    """Where nobody measured the throat of a mount, no ring is surely practical that is not with it known."""
    unmeasured = {"throat_mm": None, "inner_mm": None}
    for one, other in itertools.permutations(world.gear.mounts, 2):
        if one.register_mm is None or other.register_mm is None:
            continue
        gap = one.register_mm - other.register_mm
        said = has_room(gap, smallest_ring_mm(world.structure, one, other))
        for pair in ((one.model_copy(update=unmeasured), other), (one, other.model_copy(update=unmeasured))):
            assert said or not has_room(gap, smallest_ring_mm(world.structure, *pair)), (one.id, other.id)


@pytest.mark.parametrize("seed", range(200 if EVERYWHERE else 3))
def test_plan_and_key_of_collections_by_chance(seed: int) -> None:
    world = world_by_chance(seed)
    check_plan(world)
    check_key(world)
    check_build(world)


def test_key_and_builds_of_the_sample(sample: World) -> None:
    check_key(sample)
    check_build(sample)
