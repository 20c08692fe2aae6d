"""One question, one answer: what a room tells of a rig, grade, loss or caution, is what the judgement says."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import pytest
from pydantic import TypeAdapter

from tests.random_worlds import world_by_chance
from tests.thorough import EVERYWHERE
from tropeion.core.answers.fits import Fit, what_fits
from tropeion.core.answers.grid import grid_of
from tropeion.core.answers.grid_why import why_of
from tropeion.core.answers.saved_rigs import grade_of_rig
from tropeion.core.answers.shop import LensSeen, world_with, would_fit
from tropeion.core.becomes.becoming_tables import rig_becomes
from tropeion.core.becomes.reference import FULL_FRAME
from tropeion.core.bench.rig_on_bench import rig_on_bench
from tropeion.core.findings import rank
from tropeion.core.frame.simulated import frame_of
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.gear import SavedRig
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.joints.key import identify
from tropeion.core.plan.native import options_for
from tropeion.core.plan.planning import plan_of
from tropeion.core.plan.variants import variants_of
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.rig.cautions import MINDED
from tropeion.core.rig.reporting import judge as judge_rig
from tropeion.core.rig.rig_report import MatchReport, Route
from tropeion.core.routes.match import match
from tropeion.core.routes.ranking import serves
from tropeion.core.setup.rehearse import to_rehearse
from tropeion.core.setup.setup import set_up_of

PRACTICES = (Practice(pieces="2"), Practice(pieces="2", trust="cautious", glass="avoid", zooms="avoid", use="film"))
WORLDS = range(200 if EVERYWHERE else 8)
_REPORT = TypeAdapter(MatchReport)


@dataclass
class Judge:
    """What the judgement says of one chain: everything else is held against it."""

    world: World
    practice: Practice

    def __post_init__(self) -> None:
        self._known: dict[tuple[str, str, tuple[str, ...]], Route] = {}
        self._pairs: dict[tuple[str, str], MatchReport] = {}

    def __call__(self, lens: str, body: str, adapters: tuple[str, ...]) -> Route:
        key = (lens, body, adapters)
        if key not in self._known:
            pieces = self.world.pieces_of(Rig(*key))
            self._known[key] = judge_rig(self.world, *pieces, self.practice, detailed=False)
        return self._known[key]

    def pair(self, lens: str, body: str) -> MatchReport:
        """What the light path lists for a pair."""
        if (lens, body) not in self._pairs:
            self._pairs[lens, body] = match(self.world, lens, body, self.practice)
        return self._pairs[lens, body]


def told(route: Route) -> tuple[object, ...]:
    """What a room may not tell otherwise: grade, slow, light, and every finding in its own words."""
    return route.grade, route.slow, route.light_change_stops, tuple((f.code, f.text) for f in route.findings)


def minded(route: Route) -> tuple[tuple[str, str], ...]:
    return tuple((f.code, f.text) for f in route.findings if f.code in MINDED)


def braces_in(value: Any) -> Iterator[str]:
    """Words of a report that were left a template."""
    if isinstance(value, str):
        if "{" in value or "}" in value:
            yield value
    elif isinstance(value, dict):
        for one in value.values():
            yield from braces_in(one)
    elif isinstance(value, list):
        for one in value:
            yield from braces_in(one)


def check_pair(judge: Judge, lens: Lens, body: Body) -> None:
    """Every room that is about a pair or about its first route."""
    world, practice = judge.world, judge.practice
    report = judge.pair(lens.id, body.id)
    assert not list(braces_in(_REPORT.dump_python(report, mode="json")))
    for route in report.routes[:4]:
        assert told(route) == told(judge(lens.id, body.id, route.adapters)), (lens.id, body.id, route.adapters)
    for option in options_for(world, lens.id, body.id, practice).options:
        found = judge(option.lens, body.id, option.adapters)
        assert option.grade == found.grade
        if option.lens == lens.id:
            assert [f"{name}, slow" for name in found.slow] == [one for one in option.loses if one.endswith(", slow")]
            assert {text for _, text in minded(found)} <= set(option.loses)
    for variant in variants_of(world, lens.id, body.id, practice).variants:
        assert variant.grade == judge(lens.id, body.id, (variant.id,)).grade
    for route in report.routes[:1]:
        check_rig(judge, Rig(lens.id, body.id, route.adapters))


def check_rig(judge: Judge, rig: Rig) -> None:
    """Every room that is about one rig."""
    world, practice = judge.world, judge.practice
    route = judge(rig.lens, rig.body, rig.adapters)
    (asked,) = match(world, rig.lens, rig.body, practice, via=rig.adapters).routes
    assert told(asked) == told(route)
    works = route.grade not in {"danger", "none"}
    frame = frame_of(world, rig, practice=practice)
    assert (frame.view is not None) == works
    if not works:
        assert frame.report.reason in {f.headline or f.text for f in route.findings}
    found = set_up_of(world, rig, practice)
    assert (found.grade, found.sentence) == (route.grade, route.sentence)
    if works:
        # The judgement is of a rig that the body holds, and of a lens whose own centre of mass is stated.
        balance = set_up_of(world, rig, practice, held_by=rig.body).balance
        if not balance.unknown and rig.lens not in balance.assumed:
            over = any(one.over for one in balance.joints)
            assert over == any(f.code == "load_exceeded" for f in route.findings)
    card = to_rehearse(world, rig, practice)
    assert card.steps == found.steps
    if works:
        said = {step.text for step in card.steps}
        assert {text for _, text in minded(route)} <= said
    becomes = rig_becomes(world, rig, FULL_FRAME, practice).row
    assert (becomes.grade, becomes.magnification) == (route.grade, route.magnification)
    bench = rig_on_bench(world, rig, practice)
    assert bench.nominal.mean_mm == pytest.approx(route.register_error_mm, abs=1e-9)
    assert bench.nominal.standard_uncertainty_mm == pytest.approx(route.register_tolerance_mm.standard_uncertainty)
    kept = SavedRig(id="kept", name="Kept", lens=rig.lens, body=rig.body, adapters=rig.adapters)
    assert grade_of_rig(world, kept, practice) == route.grade


def check_fit(judge: Judge, lens: str, body: str, fit: Fit) -> None:
    if fit.grade is None:
        assert not judge.pair(lens, body).routes
        return
    if fit.section is None:
        return
    found = judge(lens, body, fit.adapters)
    assert (fit.grade, fit.slow, fit.sentence) == (found.grade, found.slow, found.sentence)
    assert tuple((one.code, one.text) for one in fit.cautions) == minded(found)
    first = judge.pair(lens, body).routes[0]
    assert (first.adapters, first.grade) == (fit.adapters, fit.grade)


def check_kit(judge: Judge, fits: Mapping[tuple[str, str], bool]) -> None:
    """The whole kit, and why; it works where what fits says so."""
    world, practice = judge.world, judge.practice
    grid = grid_of(world, practice)
    for cell in grid.report.cells:
        pair = (cell.lens, cell.body)
        for stands, grade in ((grid.now, cell.owned_grade), (grid.could, cell.market_grade)):
            best = stands[pair]
            if best.by is None:
                assert grade is None
                continue
            assert grade == judge(*pair, best.by).grade
        picky = practice.zooms == "avoid" and world.lenses[cell.lens].is_zoom
        if (cell.works_now or cell.could_work) and not picky:
            used = grid.now[pair] if grid.now[pair].standing.works else grid.could[pair]
            assert used.by is not None
            assert cell.cautions == tuple(code for code, _ in minded(judge(*pair, used.by)))
        assert cell.could_work == fits[pair]
        first = next(iter(judge.pair(*pair).routes), None)
        assert cell.could_work == (first is not None and serves(first))
        if cell.could_work and not cell.works_now and picky:
            assert first is not None
            assert cell.cautions == tuple(code for code, _ in minded(first))
        why = why_of(grid, *pair)
        if cell.owned_grade is not None:
            assert why.at_hand
    routes = {pair: judge.pair(*pair).routes for pair in grid.could}
    for pair, best in grid.could.items():
        # No route of the light path is better than the whole kit has it.
        assert all(rank(one.grade) <= rank(best.standing.grade or "danger") for one in routes[pair] if one.surely)


def check_plan(judge: Judge) -> None:
    world = judge.world
    bodies = tuple(one.id for one in world.gear.bodies)
    question = PlanQuestion(demands=tuple(Demand(lens=one.id, bodies=bodies) for one in world.gear.mounted))
    for full_speed in (False, True):
        report = plan_of(world, question.model_copy(update={"full_speed": full_speed}), judge.practice)
        for one in report.serves:
            found = judge(one.lens, one.body, one.adapters)
            assert (one.grade, one.slow) == (found.grade, found.slow)
            assert tuple((caution.code, caution.text) for caution in one.cautions) == minded(found)
            assert not (full_speed and one.slow)


def check_key(judge: Judge) -> None:
    """What the key says may be mounted is never less than what the judgement says of that generation."""
    world = judge.world
    for lens in world.gear.mounted:
        mount = world.mount_of(lens)
        if not mount.rules or lens.generation is None or lens.features is not None:
            continue
        parts = next(one.lens_features for one in mount.generations if one.id == lens.generation)
        answers = {f.id: "yes" if f.id in parts else "no" for f in mount.features if f.side == "lens"}
        places = identify(world, mount.id, answers, "lens").may_mount  # type: ignore[arg-type]
        for body in world.gear.bodies:
            if body.mount != mount.id or body.generation is None:
                continue
            effect = next(one.effect for one in places if one.generation == body.generation)
            broken = any(f.code == "coupling_damage" for f in judge(lens.id, body.id, ()).findings)
            assert effect == "damage" or not broken, (lens.id, body.id, effect)


def check_world(world: World, practice: Practice) -> None:
    judge = Judge(world, practice)
    pairs = [(lens, body) for lens in world.gear.mounted for body in world.gear.bodies]
    for lens, body in pairs if EVERYWHERE else pairs[:: len(pairs) // 3]:
        check_pair(judge, lens, body)
    for lens in world.gear.mounted:
        for fit in what_fits(world, lens=lens.id, practice=practice).fits:
            check_fit(judge, lens.id, fit.id, fit)
    found: dict[tuple[str, str], bool] = {}
    for body in world.gear.bodies:
        for fit in what_fits(world, body=body.id, practice=practice).fits:
            check_fit(judge, fit.id, body.id, fit)
            found[fit.id, body.id] = fit.works
    check_kit(judge, found)
    check_plan(judge)
    check_key(judge)


@pytest.mark.parametrize("seed", WORLDS)
def test_every_room_says_what_the_judgement_says(seed: int) -> None:
    check_world(world_by_chance(seed), PRACTICES[seed % len(PRACTICES)])


@pytest.mark.parametrize("lens_id", [None, "mrw-62", "mrw-24-70", "kel-28-80", "qlk-50"])
def test_every_room_of_the_sample_too(sample: World, lens_id: str | None) -> None:
    judge = Judge(sample, PRACTICES[0])
    if lens_id is None:
        check_key(judge)
        return
    lens = sample.lenses[lens_id]
    for body in sample.gear.bodies:
        check_pair(judge, lens, body)
    for fit in what_fits(sample, lens=lens_id, practice=judge.practice).fits:
        check_fit(judge, lens_id, fit.id, fit)


@pytest.mark.attack
def test_every_pair_of_the_sample(sample: World) -> None:
    for practice in PRACTICES:
        check_world(sample, practice)


def test_a_lens_in_a_shop_is_judged_like_any_other(sample: World) -> None:
    practice = PRACTICES[0]
    for mount in sample.gear.mounts:
        seen = LensSeen(mount.id, 50.0, 2.0)
        found = would_fit(sample, seen, practice)
        assert found.id is not None
        judge = Judge(world_with(sample, found.id), practice)
        for fit in found.report.fits:
            if fit.grade is not None and fit.section is not None:
                route = judge(found.id, fit.id, fit.adapters)
                assert (fit.grade, fit.slow) == (route.grade, route.slow)
