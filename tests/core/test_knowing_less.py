"""Knowing less never looks better: what is left out is what is usual, or is named as not assessed.

A field is left out of one piece of a rig at a time, and then of two; the judgement of what is left is held against that
with the usual value stated (``gear/usual.py``), or against the finding that names the field.
"""

from __future__ import annotations

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
from tropeion.core.joints.mechanics import is_obstructed
from tropeion.core.practice import Practice
from tropeion.core.rig.report import Route
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
    for put in rigs if EVERYWHERE else rigs[::20]:
        for left in put.fields():
            check(put, (left,))


@settings(max_examples=2000 if EVERYWHERE else 200)
@given(data=st.data())
def test_two_fields_at_once(sample: World, data: st.DataObject) -> None:
    put = data.draw(st.sampled_from(rigs_of(sample)))
    fields = put.fields()
    one, other = (data.draw(st.sampled_from(fields)) for _ in range(2))
    check(put, (one,) if one == other else (one, other))


@pytest.mark.parametrize("seed", range(200 if EVERYWHERE else 10))
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
