"""Every advice is tried: what is told is done here by hand, in the gear file or the question, and asked anew.

Nothing of what makes the advice is used to make the change: a copy of the document is edited, and ``match``, ``plan``
or the bench is asked of it.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

import pytest

from tests.random_worlds import world_by_chance
from tests.rigs import PARTS
from tests.thorough import EVERYWHERE
from tests.worlds import body as a_body
from tests.worlds import details, gear_of, mount, ring
from tests.worlds import lens as a_lens
from tropeion.core.bench.rig_on_bench import rig_on_bench
from tropeion.core.bench.seen import Saw
from tropeion.core.bench.seen_report import SeenAsked, seen_report
from tropeion.core.bench.shims import Foils, ShimAt, shim_at
from tropeion.core.findings import works
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World, compile_world
from tropeion.core.plan.plan_report import Advice, PlanReport, Unmet
from tropeion.core.plan.planning import plan_of
from tropeion.core.plan.program import Run
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.rig.marks import mark_from
from tropeion.core.rig.rig_report import MatchReport, Route, WouldNeed
from tropeion.core.routes.match import match

PRACTICE = Practice(pieces="2")
WORLDS = range(200 if EVERYWHERE else 20)
SECONDS = 60.0


def document_of(world: World) -> dict[str, Any]:
    return world.gear.model_dump(mode="json", by_alias=True)


def made(document: dict[str, Any]) -> World:
    return compile_world(gear_of(document))


def item(document: dict[str, Any], id_: str) -> dict[str, Any]:
    kinds = ("adapters", "lenses", "bodies")
    return next(one for kind in kinds for one in document[kind] if one["id"] == id_)


# What would have to exist


def joined_by_hand(world: World, lens: str, body: str, need: WouldNeed) -> Route:
    """The pair once the need is there: the gear file edited, and ``match`` asked."""
    document, via = document_of(world), list(need.via)
    if need.piece is not None:
        document["adapters"].append({"id": "by-hand", "name": "By hand", "owned": 1, **asdict(need.piece)})
        via = ["by-hand"]
    elif need.kind == "shared_plate":
        given = item(document, lens)
        given["swappable_mounts"] = [*given.get("swappable_mounts", []), {"mount": need.mount}]
        lens = f"mount..{lens}..{need.mount}"
    else:
        lens, body = need.lens or lens, need.body or body
    [route] = match(made(document), lens, body, PRACTICE, via=via).routes
    return route


def check_needs(world: World, report: MatchReport) -> int:
    """How many needs of a pair were told with what comes of them."""
    told = 0
    for need in report.would_need:
        if need.grade is None:
            # Not told as something that helps: it cannot be made, or nothing would come of it.
            assert need.practical is False, need.text
            continue
        told += 1
        route = joined_by_hand(world, report.lens, report.body, need)
        assert (route.grade, works(route.grade) or route.grade == "close_up") == (need.grade, True), need.text
        if need.kind == "close_up":
            reach = route.wide.focus
            assert (reach.near_mm, reach.far_mm) == pytest.approx((need.near_mm, need.far_mm))
    return told


def ends(world: World, every: int = 1) -> list[tuple[str, str]]:
    """Lenses and bodies, all of them or each so many-th pair."""
    return [(lens.id, body.id) for lens in world.gear.mounted for body in world.gear.bodies][::every]


# Of the sample one pair in so many, unless everything is tried.
EVERY = 1 if EVERYWHERE else 7


def pairs(world: World, every: int = 1) -> Iterator[MatchReport]:
    for lens, body in ends(world, every):
        report = match(world, lens, body, PRACTICE, detailed=False)
        if report.would_need:
            yield report


def test_what_would_be_needed_in_the_sample_comes_to_what_it_says(sample: World) -> None:
    found = list(pairs(sample, EVERY))
    told = [check_needs(sample, report) for report in found[:: 1 if EVERYWHERE else 6]]
    assert sum(told) > len(told)


@pytest.mark.parametrize("seed", WORLDS)
def test_what_would_be_needed_in_any_world_comes_to_what_it_says(seed: int) -> None:
    world = world_by_chance(seed)
    for report in pairs(world):
        check_needs(world, report)


# Plans


def asked_by_hand(world: World, question: PlanQuestion, practice: Practice, unmet: Unmet, advice: Advice) -> PlanReport:
    """The plan once the advice is taken: gear file, question or practice edited, and ``plan`` asked."""
    document, asked = document_of(world), question.model_dump(mode="json")
    demand = asked["demands"][unmet.demand]
    match advice.kind:
        case "accept_grade":
            demand["grade"] = advice.grade
        case "accept_probability":
            demand["probability"] = advice.probability
        case "more_money":
            asked["budget"] += advice.money
        case "carry_more":
            asked["carry_g"] = advice.carry_g
        case "one_after_another":
            asked["together"] = False
            for one in asked["demands"]:
                one["at_once"] = False
        case "buy":
            for id_ in advice.ids:
                one = item(document, id_)
                there = one.get("owned", 0) if one in document["adapters"] else max(1, one.get("owned", 0))
                one["owned"] = there + 1
        case "have_again":
            asked["sold_out"] = [id_ for id_ in asked["sold_out"] if id_ not in advice.ids]
        case "allow":
            asked["without"] = [id_ for id_ in asked["without"] if id_ not in advice.ids]
            asked |= {"without_words": [], "worst_tolerance_mm": None, "only_locking": False, "no_glass": False}
            practice = practice.model_copy(update={"glass": "accept", "zooms": "use"})
        case "make":
            assert advice.piece is not None
            document["adapters"].append({"id": "by-hand", "name": "By hand", "owned": 1, **asdict(advice.piece)})
        case "change_plate":
            demand |= {"lens": advice.lens, "bodies": [advice.body]}
    return plan_of(made(document), PlanQuestion.model_validate(asked), practice, Run(SECONDS))


def check_plan(world: World, question: PlanQuestion, practice: Practice = PRACTICE) -> list[str]:
    """The kinds of advice that a plan gave; each is taken, by itself."""
    report = plan_of(world, question, practice, Run(SECONDS))
    told: list[str] = []
    for unmet in report.unmet:
        if unmet.advice is None:
            assert unmet.change == ""
            continue
        after = asked_by_hand(world, question, practice, unmet, unmet.advice)
        assert after.met > report.met, (unmet.why, unmet.change)
        # What helps one demand may help another too.
        assert after.met >= unmet.advice.met, (unmet.why, unmet.change)
        told.append(unmet.advice.kind)
    return told


def questions(world: World, lenses: list[str]) -> Iterator[tuple[PlanQuestion, Practice]]:
    """Plans that leave something unmet, each for another reason."""
    bodies = [one.id for one in world.gear.bodies if not one.retired]
    pairs_ = tuple(Demand(lens=lens, bodies=(body,)) for lens in lenses for body in bodies[:2])
    some = tuple(Demand(lens=lens, bodies=(bodies[0],)) for lens in lenses)
    adapters = tuple(one.id for one in world.gear.adapters)
    yield PlanQuestion(demands=pairs_), PRACTICE
    yield PlanQuestion(demands=tuple(one.model_copy(update={"grade": "full"}) for one in pairs_)), PRACTICE
    yield PlanQuestion(demands=tuple(one.model_copy(update={"probability": 0.97}) for one in some)), PRACTICE
    yield PlanQuestion(demands=some, budget=0), PRACTICE
    yield PlanQuestion(demands=some, budget=60, together=True), PRACTICE
    yield PlanQuestion(demands=some, carry_g=90), PRACTICE
    yield PlanQuestion(demands=tuple(one.model_copy(update={"at_once": True}) for one in some)), PRACTICE
    yield PlanQuestion(demands=some, without=adapters[::2], only_locking=True), PRACTICE
    yield PlanQuestion(demands=some, sold_out=adapters), PRACTICE
    yield PlanQuestion(demands=some, no_glass=True), Practice(pieces="2", glass="avoid", zooms="avoid")


def test_every_change_that_a_plan_of_the_sample_tells_of_helps(sample: World) -> None:
    lenses = [one.id for one in sample.gear.mounted]
    told: set[str] = set()
    for question, practice in questions(sample, lenses if EVERYWHERE else lenses[::12]):
        told |= set(check_plan(sample, question, practice))
    assert told >= {"accept_grade", "make", "more_money", "allow", "have_again"}, told


@pytest.mark.parametrize("seed", WORLDS)
def test_every_change_that_a_plan_of_any_world_tells_of_helps(seed: int) -> None:
    world = world_by_chance(seed)
    lenses = [one.id for one in world.gear.mounted]
    # One of the questions for each world, another one for the next.
    every = list(questions(world, lenses))
    for question, practice in every if EVERYWHERE else [every[seed % len(every)]]:
        check_plan(world, question, practice)


# The bench


def bench_rigs(world: World) -> Iterator[tuple[str, str, tuple[str, ...]]]:
    """The best chain of each pair, with rings."""
    for lens, body in ends(world, EVERY):
        for route in match(world, lens, body, PRACTICE, detailed=False).routes[:2]:
            if route.adapters:
                yield lens, body, route.adapters


def shimmed_by_hand(world: World, lens: str, at: ShimAt, mm: float) -> World:
    """The gear file with a foil laid under the body side of a piece, or under the mount ring of the lens."""
    document = document_of(world)
    if at.piece == lens:
        one = item(document, lens)
        mount = next(each for each in document["mounts"] if each["id"] == one["mount"])
        # The glass stands so much farther forward: its picture falls so much nearer to its seat.
        one["measured_register_mm"] = (one["measured_register_mm"] or mount["register_mm"]) - mm
        one["measured_tolerance_mm"] = one["measured_tolerance_mm"] or mount["tolerance_mm"] or 0.02
    else:
        ring = item(document, at.piece)
        ring["measured_length_mm"] = (ring["measured_length_mm"] or ring["length_mm"]) + mm
        ring["measured_tolerance_mm"] = ring["measured_tolerance_mm"] or ring["tolerance_mm"] or 0.05
    return made(document)


def error_of(world: World, lens: str, body: str, via: tuple[str, ...]) -> float:
    [route] = match(world, lens, body, PRACTICE, via=list(via), detailed=False).routes
    assert route.register_error_mm is not None
    return route.register_error_mm


def test_a_foil_counts_as_the_bench_says_wherever_it_is_laid(sample: World) -> None:
    seen: set[float] = set()
    glass = [("brn-52", "corran", ("brn-mrw-glass",)), ("kel-55", "lark", ("kel-mrw-plain", "mrw-plm-reducer"))]
    for lens, body, via in [*glass, *list(bench_rigs(sample))[:: 1 if EVERYWHERE else 3]]:
        at = shim_at(rig_on_bench(sample, Rig.of(lens, body, via)).rig)
        before = error_of(sample, lens, body, via)
        after = error_of(shimmed_by_hand(sample, lens, at, 0.1), lens, body, via)
        assert after - before == pytest.approx(at.counts * 0.1, abs=2e-6), (lens, body, via, at)
        seen.add(round(at.counts, 4))
    # Behind all glass, before glass that reduces, before glass that enlarges.
    assert any(one < 1 for one in seen)
    assert any(one > 1 for one in seen)


@pytest.mark.parametrize(
    ("lens", "body", "via", "error", "wanted"),
    [
        # (0.50 − 0.02)/1.24², and (0.20 − 0.02)/0.72².
        ("brn-52", "corran", ("brn-mrw-glass",), -0.5, 0.48 / 1.24**2),
        ("kel-55", "lark", ("kel-mrw-plain", "mrw-plm-reducer"), -0.2, 0.18 / 0.72**2),
        ("kel-55", "o7", ("kel-ost-plain",), -0.2, 0.18),
    ],
)
def test_a_shim_leaves_what_the_gear_file_says_with_it(
    sample: World, lens: str, body: str, via: tuple[str, ...], error: float, wanted: float
) -> None:
    foils = tuple(Foils(mm, 4) for mm in (0.2, 0.1, 0.05, 0.02))
    rig = Rig.of(lens, body, via)
    # Known to a hundredth, so that twice its doubt is left past infinity.
    asked = SeenAsked((Saw("length", (error, 0.01)),), nameless=True, foils=foils)
    mend = seen_report(sample, rig, PRACTICE, asked).mend
    assert mend is not None
    assert mend.shim is not None
    assert mend.shim.wanted_mm == pytest.approx(wanted, abs=1e-4)
    # The piece as it truly is: so much shorter that the whole errs by what was measured.
    at = shim_at(rig_on_bench(sample, rig).rig)
    short = (error - error_of(sample, lens, body, via)) / at.counts
    true = shimmed_by_hand(sample, lens, at, short)
    assert error_of(true, lens, body, via) == pytest.approx(error, abs=2e-6)
    mended = shimmed_by_hand(sample, lens, at, short + mend.shim.sum_mm)
    assert error_of(mended, lens, body, via) == pytest.approx(mend.shim.after_mm, abs=2e-6)
    # It does not make the rig too long.
    assert mend.shim.after_mm <= 1e-9
    assert abs(mend.shim.after_mm) < abs(error)


# Steps of a card


def test_stopped_down_to_what_the_verdict_says_infinity_is_sharp(sample: World) -> None:
    tried = 0
    late = [
        (report.lens, report.body, route)
        for lens, body in ends(sample, EVERY)
        for report in [match(sample, lens, body, PRACTICE, everything=True, detailed=False)]
        for route in report.routes
        if "infinity_stopped_down" in {one.code for one in route.findings} and route.long is None
    ]
    for lens, body, route in late[:: 1 if EVERYWHERE else 4]:
        stop = route.wide.infinity.from_f_number
        if stop is None:
            continue
        tried += 1
        document = document_of(sample)
        marked = mark_from(sample.lens(lens), stop)
        one = item(document, lens)
        one["f_number"] = [marked, max(marked, one["f_number"][1])]
        one["marked_f_numbers"] = None
        [after] = match(made(document), lens, body, PRACTICE, via=list(route.adapters)).routes
        assert after.wide.infinity.reached, (lens, body, route.adapters)
    assert tried


@pytest.mark.parametrize("part", ["slide", "probe"])
def test_what_is_drawn_back_is_safe_then(part: str) -> None:
    """The card says first to draw the probe back: a body whose probe is gone is judged without it."""
    document = {
        "mounts": [mount("front", 45.0, **PARTS)],
        "bodies": [a_body(mount="front", generation="between")],
        "lenses": [a_lens(generation="old")],
    }
    [route] = match(made(document), "lens", "body", PRACTICE, via=[]).routes
    assert "Draw the probe back." in [one.text for one in details(route).steps]
    gone = list(document["mounts"][0]["generations"])
    document["mounts"][0] = {
        **document["mounts"][0],
        "generations": [
            {**one, "body_features": [each for each in one.get("body_features", []) if each not in {"probe", part}]}
            for one in gone
        ],
    }
    [after] = match(made(document), "lens", "body", PRACTICE, via=[]).routes
    assert after.grade != "danger"
    assert ("Draw the probe back." in [one.text for one in details(after).steps]) == (part == "probe")


def test_a_chip_lets_a_body_release_that_wants_to_know_its_lens() -> None:
    document = {
        "mounts": [mount("front", 45.0), mount("rear", 20.0)],
        "bodies": [a_body(bare_release="never")],
        "lenses": [a_lens()],
        "adapters": [ring()],
    }

    def said() -> bool:
        [route] = match(made(document), "lens", "body", PRACTICE, via=["ring"]).routes
        return "release_needs_lens" in {one.code for one in route.findings}

    assert said()
    document["adapters"] = [ring(link="chip", chip={"focal_length_mm": 50, "f_number": 2})]
    assert not said()
