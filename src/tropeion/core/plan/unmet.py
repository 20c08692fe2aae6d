"""Why a demand is not met, and the smallest change that would allow it: each is tried on a copy before it is told."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import cached_property

from tropeion.core import written
from tropeion.core.findings import Grade, rank
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.change import Change, changed
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World, compile_world
from tropeion.core.optics.register import room_mm
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import Demand, PlanQuestion
from tropeion.core.rig.judgement import assess
from tropeion.core.rig.rig_report import WouldNeed
from tropeion.core.rig.would_need import needs_of
from tropeion.core.routes.grades import Best, best_of_each
from tropeion.core.words import word

from .candidate_pool import Candidate, meets
from .candidates import ways_of
from .market import offer_of, price_of
from .plan_report import Advice, Unmet
from .program import Run, at_least
from .ruled_out import ruled_out, world_for
from .solving import Solving, solving
from .task import uses_of

# A lens, the pieces behind it and a body, by their ids.
Way = tuple[str, tuple[str, ...], str]
# At most this many pieces are tried with a second copy.
_MOST_SECONDS = 8
# Seconds beyond the plan's time within which changes are still tried.
_GRACE_S = 1.0


def whys(found: Solving, run: Run) -> tuple[Unmet, ...]:
    """Every demand that stays unmet, with its reason, and a change that helps where there was time to try one."""
    return _Whys(found, run).all()


class _Whys:
    """The demands of a plan that stay unmet."""

    def __init__(self, found: Solving, run: Run) -> None:
        self._found, self._run = found, run
        self._question, self._practice, self._world = found.question, found.practice, found.world
        self._for_money: Advice | None = None
        self._money_tried = False

    def all(self) -> tuple[Unmet, ...]:
        told = []
        for number, demand in enumerate(self._question.demands):
            if not self._found.meets(number):
                why, advice = self._why(number, demand)
                lens, bodies = self._world.lens(demand.lens), [self._world.body(id_).name for id_ in demand.bodies]
                told.append(Unmet(number, demand.name, lens.name, tuple(bodies), why, advice))
        return tuple(told)

    # Tried

    @property
    def _time_is_up(self) -> bool:
        return self._run.left_s < -_GRACE_S

    def _tried(
        self,
        number: int,
        advice: Advice,
        *,
        world: World | None = None,
        question: PlanQuestion | None = None,
        practice: Practice | None = None,
        by: Way | None = None,
    ) -> Advice | None:
        """The advice with its result; None where it does not help, or there is no time to tell.

        ``by`` is a way by which the demand may be met then.
        """
        if self._time_is_up:
            return None
        world, question = world or self._world, question or self._question
        practice = practice or self._practice
        run = Run(max(_GRACE_S / 2, self._run.left_s), self._run.stopped)
        task = self._found.task
        if task.coupled or question.together:
            after = solving(world, question, practice, run)
            met = after.met
            helps = met > self._found.met
        elif by is not None and _serves(by, world, question, question.demands[number], practice):
            # It shares no piece with the others: they are met as before.
            return replace(advice, met=self._found.met + 1)
        else:
            after = solving(world, question.model_copy(update={"demands": (question.demands[number],)}), practice, run)
            helps, met = after.meets(0), self._found.met + 1
        return replace(advice, met=met) if helps else None

    def _asked(self, number: int, **update: object) -> PlanQuestion:
        """The question with one demand changed."""
        demands = list(self._question.demands)
        demands[number] = demands[number].model_copy(update=update)
        return self._question.model_copy(update={"demands": tuple(demands)})

    # Reasons

    def _why(self, number: int, demand: Demand) -> tuple[str, Advice | None]:
        if self._world.lens(demand.lens).mount is None:
            return "It has no mount of its own: what it takes to build one is told on the bench.", None
        if any(candidate.fine for candidate in self._found.ways.candidates[number]):
            return self._left_out(number)
        if self._found.ways.cut:
            return "The time was up before all of its ways were looked at.", None
        reasons: tuple[Callable[[int, Demand], tuple[str, Advice | None] | None], ...] = (
            self._ruled_out,
            self._sold_out,
            self._unpriced,
            self._unlikely,
        )
        for reason in reasons:
            if self._time_is_up:
                break
            told = reason(number, demand)
            if told is not None:
                return told
        return self._by_grade(number, demand)

    def _left_out(self, number: int) -> tuple[str, Advice | None]:
        """The reason where it could be met, but not beside the others."""
        question, currency = self._question, self._world.gear.currency
        if question.carry_g is not None:
            why = f"It does not go into {question.carry_g:g} g with the others."
            advice = self._carry_more(number)
            if advice is not None or question.budget is None:
                return why, advice or self._seconds(number)
        if question.budget is not None:
            money = self._more_money(number)
            if money is not None or not self._short_of_pieces:
                return f"It does not go into {question.budget:g} {currency} with the others.", money
        return "There are not enough pieces for all of it at the same time.", self._seconds(number)

    @property
    def _short_of_pieces(self) -> bool:
        """Whether something but money may keep demands from being met together."""
        return self._question.together or any(demand.at_once for demand in self._question.demands)

    def _carry_more(self, number: int) -> Advice | None:
        free = self._question.model_copy(update={"carry_g": None})
        if self._time_is_up:
            return None
        after = solving(self._world, free, self._practice, Run(max(_GRACE_S / 2, self._run.left_s), self._run.stopped))
        mass = after.outcome.mass_g
        if mass is None or after.met <= self._found.met:
            return None
        grams = math.ceil(mass)
        advice = Advice("carry_more", f"Carry {grams} g.", after.met, carry_g=float(grams))
        return self._tried(number, advice, question=self._question.model_copy(update={"carry_g": float(grams)}))

    def _more_money(self, number: int) -> Advice | None:
        """The least money beyond the budget with which one demand more is met: the same for all that it leaves out."""
        if self._money_tried or self._time_is_up:
            return self._for_money
        self._money_tried = True
        task, budget = self._found.task, self._question.budget
        assert budget is not None, "asked for a budget alone"
        run = Run(max(_GRACE_S / 2, self._run.left_s), self._run.stopped)
        free = replace(task, budget=None)
        more = at_least(free, self._found.met + 1, run)
        if more.met > self._found.met:
            money = math.ceil(more.outcome.cost - budget * 100) / 100
            says = f"{money:g} {self._world.gear.currency} more."
            advice = Advice("more_money", says, more.met, money=money)
            question = self._question.model_copy(update={"budget": budget + money})
            self._for_money = self._tried(number, advice, question=question)
            if self._for_money is not None:
                said = f"{says[:-1]}: then {self._for_money.met} of {len(self._question.demands)} are met."
                self._for_money = replace(self._for_money, says=said)
        return self._for_money

    def _seconds(self, number: int) -> Advice | None:
        """Advise a second copy of a piece that two demands need, or copies of several pieces."""
        ways = sorted(
            (candidate for candidate in self._found.ways.candidates[number] if candidate.fine),
            key=lambda candidate: len(candidate.pieces),
        )
        for piece in list(dict.fromkeys(piece for way in ways for piece in way.pieces))[:_MOST_SECONDS]:
            kind, _, id_ = piece.rpartition(":")
            if kind == "mount":
                continue
            item = self._world.lenses.get(id_) or self._world.bodies.get(id_) or self._world.adapters[id_]
            advice = Advice("buy", f"A second {item.name}.", 0, ids=(id_,))
            tried = self._tried(number, advice, world=changed(self._world, Change(buy=(id_,))))
            if tried is not None:
                return tried
        demands = tuple(demand.model_copy(update={"at_once": False}) for demand in self._question.demands)
        question = self._question.model_copy(update={"demands": demands, "together": False})
        return self._tried(number, Advice("one_after_another", "One after another.", 0), question=question)

    def _ruled_out(self, number: int, demand: Demand) -> tuple[str, Advice | None] | None:
        """The pieces that are ruled out of the shortest way that would do; None where there is none."""
        question, practice = self._question, self._practice
        lifted = {"without": (), "without_words": (), "worst_tolerance_mm": None, "only_locking": False}
        free = question.model_copy(update={**lifted, "no_glass": False})
        if free == question and practice.glass == "accept" and practice.zooms == "use":
            return None
        open_ = practice.model_copy(update={"glass": "accept", "zooms": "use"})
        best = _shortest(self._fine(self._world, free, demand, open_))
        if best is None:
            return None
        chain = [group.first for group in best.chain]
        names = " and ".join(adapter.name for adapter in chain) or best.lens.name
        advice = Advice("allow", f"Allow {names}.", 0, ids=tuple(adapter.id for adapter in chain) or (best.lens.id,))
        allowed = _allowing(question, chain)
        glass = practice.model_copy(
            update={
                "glass": "accept" if any(adapter.optics == "correcting" for adapter in chain) else practice.glass,
                "zooms": "use" if best.lens.is_zoom else practice.zooms,
            }
        )
        told = self._tried(number, advice, question=allowed, practice=glass)
        return "Only pieces that are ruled out would do.", told

    def _sold_out(self, number: int, demand: Demand) -> tuple[str, Advice | None] | None:
        if not self._question.sold_out:
            return None
        there = self._question.model_copy(update={"sold_out": ()})
        best = _shortest(self._fine(self._found.market, there, demand, self._practice))
        if best is None:
            return None
        chain = [group.first for group in best.chain]
        names = " and ".join(adapter.name for adapter in chain) or best.lens.name
        ids = tuple(adapter.id for adapter in chain)
        left = tuple(name for name in self._question.sold_out if name not in {*ids, best.lens.id, best.body.id})
        advice = Advice("have_again", f"{names}, when it can be had again.", 0, ids=ids)
        question = self._question.model_copy(update={"sold_out": left})
        return "What would do is sold out.", self._tried(number, advice, question=question)

    def _unpriced(self, number: int, demand: Demand) -> tuple[str, Advice | None] | None:
        """Pieces that would meet it if they had a price."""
        question, lacking = self._question, self._lacking_a_price
        if not lacking:
            return None
        some = []
        for candidate in self._fine(self._priced, question, demand, self._practice):
            ids = tuple(group.first.id for group in candidate.chain if group.first.id in lacking)
            if ids:
                some.append((len(ids), ids))
        if not some:
            return None
        _, ids = min(some)
        names = " and ".join(self._world.adapters[id_].name for id_ in ids)
        advice = Advice("buy", f"Buy {names}, once its price is known.", 0, ids=ids)
        tried = self._tried(number, advice, world=changed(self._world, Change(buy=ids)))
        return f"Nobody said what {names} costs.", tried

    @cached_property
    def _lacking_a_price(self) -> frozenset[str]:
        adapters = self._world.gear.adapters
        return frozenset(one.id for one in adapters if not one.at_hand and price_of(one, self._question) is None)

    @cached_property
    def _priced(self) -> World:
        """The collection, had all of these a price."""
        lacking, gear = self._lacking_a_price, self._world.gear
        priced = (one.model_copy(update={"price": 0.0}) if one.id in lacking else one for one in gear.adapters)
        return compile_world(gear.model_copy(update={"adapters": tuple(priced)}))

    @cached_property
    def _best(self) -> Mapping[tuple[str, str], Best]:
        """How well everything that stays unmet stands on the bodies that it was asked for."""
        unmet = [one for number, one in enumerate(self._question.demands) if not self._found.meets(number)]
        lenses: dict[tuple[str, ...], list[Lens]] = {}
        for demand in unmet:
            lens = self._world.lens(demand.lens)
            if lens.mount is not None:
                lenses.setdefault(demand.bodies, []).append(lens)
        best: dict[tuple[str, str], Best] = {}
        for ids, some in lenses.items():
            best |= best_of_each(self._found.market, some, [self._world.body(id_) for id_ in ids], self._practice)
        return best

    def _unlikely(self, number: int, demand: Demand) -> tuple[str, Advice | None] | None:
        if not demand.probability:
            return None
        less = demand.model_copy(update={"probability": 0.0})
        chances = [candidate.probability or 0.0 for candidate in self._fine(self._found.market, self._question, less)]
        if not chances:
            return None
        best = max(chances)
        why = f"Infinity is reached with {_percent(best)} at best, {_percent(demand.probability)} were asked."
        accepted = int(best * 100 + 1e-9) / 100
        says = f"Accept {_percent(best)}, or measure the pieces."
        advice = Advice("accept_probability", says, 0, probability=accepted)
        return why, self._tried(number, advice, question=self._asked(number, probability=accepted))

    def _by_grade(self, number: int, demand: Demand) -> tuple[str, Advice | None]:
        lens, bodies = self._world.lens(demand.lens), [self._world.body(id_) for id_ in demand.bodies]
        best = self._best
        able = [(way.standing.level, body) for body in bodies for way in [best[lens.id, body.id]] if way.by is not None]
        if able:
            _, body = max(able, key=lambda pair: pair[0])
            standing = best[lens.id, body.id].standing
            grade = standing.grade
            if not standing.surely:
                return f"On {body.name} it cannot be told: say how near it focuses.", None
            if grade is not None and rank(grade) < rank(demand.grade) and standing.works:
                why = f"At best: {word(grade)}, on {body.name}; asked for: {word(demand.grade)}."
                way = lens.id, best[lens.id, body.id].by or (), body.id
                return why, self._accept(number, grade, way) or self._needed(number, demand)
        gap = room_mm(self._world.mount_of(lens), self._world.mount_of(bodies[0]))
        advice = None if self._time_is_up else self._needed(number, demand)
        if advice is not None:
            return f"Nothing that is listed joins it to {bodies[0].name}.", advice
        between = (
            "one of the two distances is not known"
            if gap is None
            else f"{written.millimetres(abs(gap))} between the flanges"
        )
        return f"Nothing joins it to {bodies[0].name}: {between}.", None

    def _accept(self, number: int, grade: Grade, by: Way) -> Advice | None:
        advice = Advice("accept_grade", f"Accept “{word(grade)}”.", 0, grade=grade)
        return self._tried(number, advice, question=self._asked(number, grade=grade), by=by)

    def _needed(self, number: int, demand: Demand) -> Advice | None:
        """What is not listed, or a plate to be changed, that comes to what is asked."""
        lens = self._world.lens(demand.lens)
        for id_ in demand.bodies:
            for need in needs_of(self._world, lens, self._world.body(id_), self._practice):
                if need.grade is not None and rank(need.grade) >= rank(demand.grade):
                    tried = self._with(number, need, id_)
                    if tried is not None:
                        return tried
        return None

    def _with(self, number: int, need: WouldNeed, body: str) -> Advice | None:
        if need.piece is not None:
            advice, piece = Advice("make", need.text, 0, piece=need.piece), need.piece.adapter()
            made = changed(self._world, Change(make=(piece,)))
            return self._tried(number, advice, world=made, by=(self._question.demands[number].lens, (piece.id,), body))
        if need.lens is None or need.body is None:
            return None
        advice = Advice("change_plate", need.text, 0, lens=need.lens, body=need.body)
        by = need.lens, need.via, need.body
        return self._tried(number, advice, question=self._asked(number, lens=need.lens, bodies=(need.body,)), by=by)

    def _fine(
        self, world: World, question: PlanQuestion, demand: Demand, practice: Practice | None = None
    ) -> list[Candidate]:
        practice = practice or self._practice
        ways = ways_of(world, question.model_copy(update={"demands": (demand,)}), practice)
        for candidate in ways.candidates[0]:
            if candidate.fine:
                candidate.judge(demand, practice, full_speed=question.full_speed)
        return [candidate for candidate in ways.candidates[0] if candidate.fine]


def _serves(way: Way, world: World, question: PlanQuestion, demand: Demand, practice: Practice) -> bool:
    """Whether a way meets a demand, and needs nothing that is ruled out or cannot be had, nor what is to be traded."""
    lens, ids, body = way
    if not {lens, body}.isdisjoint((*question.buy, *question.sell)):
        return False
    market = world_for(world, ruled_out(world, question, practice))
    if not all(id_ in market.adapters for id_ in ids):
        return False
    for id_, count in uses_of(ids):
        if offer_of([market.adapters[id_]], question).cost(count) is None:
            return False
    chain = tuple(market.adapters[id_] for id_ in ids)
    assessed = assess(market, market.lens(lens), chain, market.body(body), practice)
    return meets(assessed, demand, full_speed=question.full_speed)


def _percent(chance: float) -> str:
    # Never rounded up to what was asked for.
    return f"{int(chance * 100 + 1e-9)} %"


def _shortest(found: Sequence[Candidate]) -> Candidate | None:
    """Of the fewest pieces, the cheapest; what is at hand costs nothing."""

    def dearness(one: Candidate) -> tuple[int, float, tuple[str, ...]]:
        prices = [0.0 if group.first.at_hand else group.first.price for group in one.chain]
        money = math.inf if None in prices else math.fsum(price or 0.0 for price in prices)
        return len(one.pieces), money, one.pieces

    return min(found, key=dearness, default=None)


def _allowing(question: PlanQuestion, chain: Sequence[Adapter]) -> PlanQuestion:
    """The question without the rules that keep these pieces out."""
    ids = {adapter.id for adapter in chain}
    names = [adapter.name.casefold() for adapter in chain]
    worst = question.worst_tolerance_mm
    if worst is not None:
        worst = max(worst, *(adapter.tolerance_or_usual_mm for adapter in chain)) if chain else worst
    return question.model_copy(
        update={
            "without": tuple(name for name in question.without if name not in ids),
            "without_words": tuple(
                word for word in question.without_words if not any(word.casefold() in name for name in names)
            ),
            "worst_tolerance_mm": worst,
            "only_locking": question.only_locking and all(adapter.locking for adapter in chain),
            "no_glass": question.no_glass and not any(adapter.has_glass for adapter in chain),
        }
    )
