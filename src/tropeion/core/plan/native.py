"""Adapt or buy native, lens by lens: none needed, an adapter, a native lens new or used; what each costs and loses."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from typing import Literal

from tropeion.core.findings import Grade, rank
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.rig.cautions import minded_in
from tropeion.core.rig.judgement import assess
from tropeion.core.rig.reporting import judge
from tropeion.core.rig.rig_report import Route
from tropeion.core.rig.verdict import FUNCTION_NAMES
from tropeion.core.routes.match import match

from .alike import frames_alike
from .candidate_pool import meets
from .market import price_of
from .program import Run
from .ruled_out import ruled_out, world_for
from .solving import solving

Kind = Literal["none_needed", "adapter", "native_owned", "native_new", "native_used"]


@frozen
class NativeOption:
    """One way to have this lens's view on a body. A ``price`` of None is not known; 0 is nothing to pay."""

    kind: Kind
    lens: str
    name: str
    adapters: tuple[str, ...]
    grade: Grade
    price: float | None
    price_on: str | None
    loses: tuple[str, ...]


@frozen
class OptionsFor:
    """A lens on a body, and every option for it that the plan allows, those that cost least first."""

    lens: str
    lens_name: str
    body: str
    body_name: str
    options: tuple[NativeOption, ...]


@frozen
class Sum:
    """What it comes to in all: ``price`` for ``met`` of ``lenses``; what is in ``unpriced`` has no price, and is not in
    it. ``resale`` is what may be sold then would bring, and ``unsold`` what nobody said that of.
    """

    price: float
    met: int
    lenses: int
    unpriced: tuple[str, ...]
    resale: float
    unsold: tuple[str, ...]


@frozen
class AdaptOrNative:
    """Lens by lens, and in all: everything adapted, rings going from lens to lens as the plan has it; all native."""

    options: tuple[OptionsFor, ...]
    adapted: Sum
    native: Sum


def adapt_or_native(
    world: World, question: PlanQuestion, body_id: str, practice: Practice, run: Run | None = None
) -> AdaptOrNative:
    """Both ways for the lenses of a plan on one body, within what the plan allows. Raises UnknownIdError."""
    world.body(body_id)
    demands = {demand.lens: demand for demand in question.demands if body_id in demand.bodies}
    for demand in question.demands:
        demands.setdefault(demand.lens, demand)
    own = tuple(demand.model_copy(update={"bodies": (body_id,)}) for demand in demands.values())
    allowed = question.model_copy(update={"demands": own, "budget": None})
    options = tuple(options_for(world, demand.lens, body_id, practice, allowed) for demand in own)
    bound = tuple(demand for demand in own if world.lens(demand.lens).mount is not None)
    # Lenses stand in for nothing here: that is the other way.
    solved = solving(
        world, allowed.model_copy(update={"demands": bound, "buy": (), "sell": ()}), practice, run or Run()
    )
    adapted = Sum(solved.outcome.cost / 100, solved.met, len(own), (), 0.0, ())
    return AdaptOrNative(options, adapted, _all_native(world, options))


def _all_native(world: World, options: Sequence[OptionsFor]) -> Sum:
    """The cheapest native lens for each, one bought once; less what the lenses that they replace would bring."""
    price, resale, met = 0.0, 0.0, 0
    bought: set[str] = set()
    unpriced: list[str] = []
    unsold: list[str] = []
    for asked in options:
        natives = [option for option in asked.options if option.kind != "adapter"]
        if not natives:
            continue
        met += 1
        best = min(natives, key=lambda option: (option.price is None, option.price or 0.0))
        lens = world.lens(asked.lens)
        if best.lens not in bought:
            bought.add(best.lens)
            if best.price is None:
                unpriced.append(best.name)
            price += best.price or 0.0
        if best.lens != lens.id and lens.at_hand:
            if lens.resale is None:
                unsold.append(lens.name)
            resale += lens.resale or 0.0
    return Sum(price, met, len(options), tuple(unpriced), resale, tuple(unsold))


def options_for(
    world: World, lens_id: str, body_id: str, practice: Practice, question: PlanQuestion | None = None
) -> OptionsFor:
    """What there is for one pair, within what a plan allows. Raises UnknownIdError."""
    lens, body = world.lens(lens_id), world.body(body_id)
    question = question or PlanQuestion()
    usual = Demand(lens=lens_id, bodies=(body_id,), grade="close_up")
    demand = next((demand for demand in question.demands if demand.lens == lens_id), usual)
    rules = _Rules(world_for(world, ruled_out(world, question, practice)), question, demand, practice)
    native_options = [*_adapted(rules, lens, body), *_native(rules, lens, body)]
    native_options.sort(
        key=lambda native_option: (
            native_option.price is None,
            native_option.price or 0.0,
            -rank(native_option.grade),
            native_option.name,
        )
    )
    return OptionsFor(lens.id, lens.name, body.id, body.name, tuple(native_options))


@frozen
class _Rules:
    """What a plan allows: the pieces, the least grade and chance, full speed, and at which prices."""

    world: World
    question: PlanQuestion
    demand: Demand
    practice: Practice

    def allows(self, lens: Lens, adapters: Sequence[str], body: Body) -> bool:
        """Whether a rig is as good as the plan asks."""
        chain = tuple(self.world.adapter(id_) for id_ in adapters)
        assessed = assess(self.world, lens, chain, body, self.practice)
        return meets(assessed, self.demand, full_speed=self.question.full_speed)

    def price_of(self, adapters: Sequence[str]) -> float | None:
        """What the pieces cost that are not at hand; None where one of them is not to be had, or has no price."""
        missing = [self.world.adapters[id_] for id_ in adapters if not self.world.adapters[id_].at_hand]
        prices = [price_of(adapter, self.question) for adapter in missing]
        return None if None in prices else math.fsum(price.amount for price in prices if price is not None)


def _adapted(rules: _Rules, lens: Lens, body: Body) -> Iterator[NativeOption]:
    """Bare, with what is at hand, and the cheapest of each grade, but for those that a cheaper one beats."""
    if lens.mount is None:
        return
    routes = match(rules.world, lens.id, body.id, rules.practice, detailed=False).routes
    able = [(rules.price_of(route.adapters), route) for route in routes if rules.allows(lens, route.adapters, body)]
    best = (-1, False)
    able.sort(key=lambda pair: (pair[0] is None, pair[0] or 0.0, -rank(pair[1].grade), len(pair[1].adapters)))
    for price, route in able:
        level = rank(route.grade), not route.slow
        if level > best:
            best = level
            yield _of_route(rules.world, lens, route, price)


def _of_route(world: World, lens: Lens, route: Route, price: float | None) -> NativeOption:
    names = " + ".join(world.adapters[id_].name for id_ in route.adapters) or "no adapter"
    dates = [world.adapters[id_].price_on for id_ in route.adapters if not world.adapters[id_].at_hand]
    costs = [
        finding
        for finding in route.findings
        if finding.grade_cap is not None and rank(finding.grade_cap) < rank("full")
    ]
    loses = tuple(dict.fromkeys(cost.gives_up or cost.text for cost in costs))
    loses = (
        *loses,
        *(f"{FUNCTION_NAMES[name]}, slow" for name in route.slow),
        *(warned.text for warned in minded_in(route)),
    )
    return NativeOption(
        kind="adapter" if route.adapters else "none_needed",
        lens=lens.id,
        name=names,
        adapters=route.adapters,
        grade=route.grade,
        price=price,
        price_on=min((date for date in dates if date), default=None),
        loses=loses,
    )


def _native(rules: _Rules, lens: Lens, body: Body) -> Iterator[NativeOption]:
    """Lenses of the body's own mount that frame nearly alike."""
    world, question = rules.world, rules.question
    for other in world.gear.mounted:
        if other.id == lens.id or other.retired or world.mount_of(other) is not world.mount_of(body):
            continue
        if not frames_alike(lens, other):
            continue
        route = judge(world, other, (), body, rules.practice, detailed=False)
        if not rules.allows(other, (), body):
            continue
        loses = tuple(_loses(lens, other))
        if other.at_hand:
            yield NativeOption("native_owned", other.id, other.name, (), route.grade, 0.0, None, loses)
            continue
        if other.id in question.sold_out:
            continue
        prices: list[tuple[Kind, float | None]] = [("native_new", other.price)]
        if other.price_used is not None:
            prices.append(("native_used", other.price_used))
        for kind, price in prices:
            yield NativeOption(kind, other.id, other.name, (), route.grade, price, other.price_on, loses)


def _loses(lens: Lens, other: Lens) -> Iterator[str]:
    """What the native lens does not have of the one that is adapted."""
    stops = 2 * math.log2(other.f_number[0] / lens.f_number[0])
    if stops > 0.15:
        yield f"{stops:.1f} stops slower"
    (short, long), (near, far) = lens.focal_length_mm, other.focal_length_mm
    if near > short * 1.005:
        yield f"begins at {near:g} mm, not {short:g}"
    if far < long / 1.005:
        yield f"ends at {far:g} mm, not {long:g}"
    if other.min_focus_m is None:
        yield "how near it focuses is not known"
    elif lens.min_focus_m is not None and other.min_focus_m > lens.min_focus_m * 1.05:
        yield f"focuses from {other.min_focus_m:g} m, not {lens.min_focus_m:g}"
    if lens.shift_mm > other.shift_mm:
        yield "no shift" if not other.shift_mm else "less shift"
    if lens.squeeze > other.squeeze:
        yield "no squeeze"
    gone = [word for word in lens.character if word not in other.character]
    if gone:
        yield "its character: " + ", ".join(gone)
