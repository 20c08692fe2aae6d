"""A plan for a collection: its demands turned into a task, solved, and told in the words of the gear."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from tropeion.core.findings import rank
from tropeion.core.gear.items import Piece
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.records.plan import PlanQuestion
from tropeion.core.rig.cautions import minded_in
from tropeion.core.rig.reporting import judge

from .curve import CurveStep, curve_of
from .market import Price, price_of, ruled_out, world_for
from .program import Run, solve
from .report import Bought, Curve, CurvePoint, Kind, PlanReport, Served, Spare, Unpriced, Without
from .task import Choice, Outcome, Task, outcome_of, uses_of
from .unmet import whys
from .ways import Candidate, Copy, Ways, copies_for, ways_of

__all__ = ["Planned", "curve_report", "plan_of", "planned"]

# A plan that costs so much more at most is near the best.
_NEAR = 1.05


@dataclass(frozen=True, slots=True, eq=False)
class Planned:
    """A solved plan, with what its curve is made from."""

    world: World
    market: World
    question: PlanQuestion
    practice: Practice
    ways: Ways
    task: Task
    fine: list[list[Candidate]]
    choice: Choice
    report: PlanReport


def plan_of(world: World, question: PlanQuestion, practice: Practice, run: Run | None = None) -> PlanReport:
    """The cheapest plan that meets as many demands as can be met. Raises UnknownIdError, StoppedError."""
    return planned(world, question, practice, run or Run()).report


def planned(world: World, question: PlanQuestion, practice: Practice, run: Run) -> Planned:
    """The same, with what else can be asked of it."""
    gone = ruled_out(world, question, practice)
    market = world_for(world, gone)
    ways = ways_of(market, question, practice)
    task, fine = ways.task(question)
    solved = solve(task, run)
    choice = _best_of_what_is_there(task, fine, ways, solved.choice, solved.outcome, (question, practice))
    outcome = outcome_of(task, choice)
    assert outcome is not None
    teller = _Teller(world, question, practice, ways, task, fine)
    status = solved.status
    bound = solved.bound if status == "gap" else outcome.cost
    served = teller.served(choice, outcome)
    report = PlanReport(
        status=status,
        cost=outcome.cost / 100,
        bound=bound / 100,
        currency=world.gear.currency,
        met=solved.met,
        demands=len(question.demands),
        bought=teller.bought(outcome, served),
        sold=teller.sold(outcome),
        serves=served,
        unmet=whys(world, market, question, practice, task, ways, choice),
        unpriced=_unpriced(world, question, ways, market),
        ruled_out=gone,
        spare=_spare(world, served),
        carry_g=_carried(task, outcome, ways),
    )
    return Planned(world, market, question, practice, ways, task, fine, choice, report)


def _best_of_what_is_there(
    task: Task,
    fine: list[list[Candidate]],
    ways: Ways,
    choice: Choice,
    outcome: Outcome,
    asked: tuple[PlanQuestion, Practice],
) -> Choice:
    """Each demand by the fewest pieces of those that are there then, and the best of these.

    One after another every demand has all pieces to itself; else what was chosen stays.
    """
    if task.together or task.coupled:
        return choice
    question, practice = asked
    have = {
        piece: offer.owned - outcome.sell.get(piece, 0) + outcome.buy.get(piece, 0)
        for piece, offer in task.offers.items()
    }
    found: list[int | None] = []
    for number, place in enumerate(choice):
        if place is None:
            found.append(None)
            continue
        able: dict[int, list[int]] = {}
        for other, one in enumerate(fine[number]):
            if all(count <= have[piece] for piece, count in uses_of(one.pieces)):
                able.setdefault(len(one.pieces), []).append(other)
        best = place
        for size in sorted(able):
            for other in able[size]:
                fine[number][other].judge(ways.demands[number], practice, full_speed=question.full_speed)
            some = [other for other in able[size] if fine[number][other].fine]
            if some:
                best = min(some, key=lambda other: (*_merit(task, fine[number][other]), other))
                break
        found.append(best)
    changed = tuple(found)
    after = outcome_of(task, changed)
    return changed if after is not None and after.cost <= outcome.cost else choice


def _merit(task: Task, one: Candidate) -> tuple[float, ...]:
    """Of as many pieces: the best grade, full speed, what is at hand before what is bought, the surest infinity."""
    bought = sum(max(0, count - task.offers[piece].owned) for piece, count in uses_of(one.pieces))
    return -(one.promised if one.grade is None else rank(one.grade)), bool(one.slow), bought, -(one.probability or 0.0)


class _Teller:
    """Says what a choice means, by the names of the gear."""

    def __init__(
        self,
        world: World,
        question: PlanQuestion,
        practice: Practice,
        ways: Ways,
        task: Task,
        fine: Sequence[Sequence[Candidate]],
    ) -> None:
        self._world, self._question, self._practice = world, question, practice
        self._ways, self._task, self._fine = ways, task, fine

    def served(self, choice: Choice, outcome: Outcome) -> tuple[Served, ...]:
        """The demands that are met, each with its rig; pieces at hand are used before those to buy."""
        copies = {piece: self._copies(piece, outcome) for piece in self._ways.groups}
        left = {piece: list(some) for piece, some in copies.items()}
        held: dict[tuple[str, str], list[Copy]] = {}
        found = []
        for number, place in enumerate(choice):
            if place is None:
                continue
            one, demand = self._fine[number][place], self._question.demands[number]
            one.judge(demand, self._practice, full_speed=self._question.full_speed)
            there = self._left_on(one, demand.lens, held, left) if self._task.together else copies
            used = copies_for(one, there)
            adapters = tuple(copy.id for copy in used)
            chain = tuple(self._world.adapters[id_] for id_ in adapters)
            route = judge(self._world, one.lens, chain, one.body, self._practice, detailed=False)
            buys = {copy.id for copy in used if copy.bought}
            buys |= {piece.split(":", 1)[1] for piece in one.pieces if ":" in piece and piece in outcome.buy}
            found.append(
                Served(
                    demand=number,
                    lens=one.lens.id,
                    lens_name=one.lens.name,
                    body=one.body.id,
                    body_name=one.body.name,
                    adapters=adapters,
                    adapter_names=tuple(self._world.adapters[id_].name for id_ in adapters),
                    grade=one.grade or "none",
                    probability=one.probability or 0.0,
                    slow=route.slow,
                    cautions=minded_in(route),
                    buys=tuple(sorted(buys)),
                )
            )
        return tuple(found)

    def _left_on(
        self, one: Candidate, holder: str, held: dict[tuple[str, str], list[Copy]], left: dict[str, list[Copy]]
    ) -> dict[str, list[Copy]]:
        """Adapters that stay on a lens are the same ones for each body."""
        own: dict[str, list[Copy]] = {}
        for piece, count in uses_of([group.first.id for group in one.chain]):
            stays = held.setdefault((holder, piece), [])
            while len(stays) < count:
                stays.append(left[piece].pop(0))
            own[piece] = stays
        return own

    def _copies(self, piece: str, outcome: Outcome) -> list[Copy]:
        """The copies behind a piece of the plan: those at hand, then those to buy."""
        members = self._ways.groups[piece][0].members
        most = outcome.needed.get(piece, 0)
        held = [Copy(member.id, False) for member in members for _ in range(min(member.at_hand, most))]
        return held[:most] + [Copy(self._cheapest(piece), True)] * outcome.buy.get(piece, 0)

    def _cheapest(self, piece: str) -> str:
        """The member of a group that costs least."""
        members = self._ways.groups[piece][0].members
        priced = [(found.amount, one.id) for one in members if (found := price_of(one, self._question)) is not None]
        return min(priced)[1] if priced else members[0].id

    def bought(self, outcome: Outcome, served: Sequence[Served]) -> tuple[Bought, ...]:
        """What is bought, the dearest first, each with the demands that it serves."""
        found = [self._line(piece, count) for piece, count in outcome.buy.items()]
        with_uses = [replace(one, serves=tuple(each.demand for each in served if one.id in each.buys)) for one in found]
        return tuple(sorted(with_uses, key=lambda one: (-one.price.amount * one.count, one.name, one.id)))

    def sold(self, outcome: Outcome) -> tuple[Bought, ...]:
        """What is sold, with what each brings."""
        found = []
        for piece, count in outcome.sell.items():
            offer = self._task.offers[piece]
            kind, id_, name = self.named(piece)
            found.append(Bought(kind, id_, name, count, Price(offer.resale / 100, "sold", None), ()))
        return tuple(sorted(found, key=lambda one: (one.name, one.id)))

    def named(self, piece: str) -> tuple[Kind, str, str]:
        if ":" not in piece:
            adapter = self._world.adapters[self._cheapest(piece)]
            return "adapters", adapter.id, adapter.name
        kind, id_ = piece.split(":", 1)
        if kind == "lens":
            return "lenses", id_, self._world.lenses[id_].name
        if kind == "body":
            return "bodies", id_, self._world.bodies[id_].name
        found = self._world.change_of(id_)
        assert found is not None
        return "mounts", id_, f"{self._world.mounts[found[1].mount].name} mount for {found[0].name}"

    def _line(self, piece: str, count: int) -> Bought:
        kind, id_, name = self.named(piece)
        item: Piece | None = None
        if kind == "adapters":
            item = self._world.adapters[id_]
        elif kind != "mounts":
            item = (self._world.lenses if kind == "lenses" else self._world.bodies)[id_]
        price = None if item is None else price_of(item, self._question)
        if price is None:
            price = Price((self._task.offers[piece].price or 0) / 100, "new", None)
        return Bought(kind, id_, name, count, price, ())


def _unpriced(world: World, question: PlanQuestion, ways: Ways, market: World) -> tuple[Unpriced, ...]:
    """Pieces between the mounts that are asked for, that nobody owns and nobody priced."""
    fronts = {world.mount_of(world.lenses[one.lens]).joint for one in question.demands if world.lenses[one.lens].mount}
    rears = {world.mount_of(world.body(id_)).joint for one in question.demands for id_ in one.bodies}
    found = [
        Unpriced(one.id, one.name)
        for one in market.gear.adapters
        if not one.retired and not one.at_hand and one.id not in question.sold_out
        if price_of(one, question) is None
        if world.mounts[one.lens_mount].joint in fronts or world.mounts[one.body_mount].joint in rears
    ]
    priced = {id_ for id_, offer in ways.offers.items() if offer.price is not None}
    return tuple(one for one in found if one.id not in priced)


def _spare(world: World, served: Sequence[Served]) -> tuple[Spare, ...]:
    """Adapters at hand that nothing in the plan uses."""
    used = {id_ for one in served for id_ in one.adapters}
    ends: dict[tuple[str, str], str] = {}
    for id_ in sorted(used):
        adapter = world.adapters[id_]
        joints = world.mounts[adapter.lens_mount].joint, world.mounts[adapter.body_mount].joint
        ends.setdefault(joints, adapter.name)
    found = []
    for adapter in world.gear.adapters:
        if adapter.retired or not adapter.owned or adapter.id in used:
            continue
        joints = world.mounts[adapter.lens_mount].joint, world.mounts[adapter.body_mount].joint
        found.append(Spare(adapter.id, adapter.name, adapter.owned, adapter.resale, ends.get(joints)))
    return tuple(found)


def _carried(task: Task, outcome: Outcome, ways: Ways) -> float | None:
    """What the adapters weigh that are used."""
    masses = [(task.offers[piece].mass_g, count) for piece, count in outcome.needed.items() if piece in ways.groups]
    known = [mass * count for mass, count in masses if mass is not None]
    return sum(known) if len(known) == len(masses) else None


def _points(found: Planned, run: Run) -> list[CurvePoint]:
    """Money against demands."""
    steps = curve_of(found.task, run)
    teller = _Teller(found.world, found.question, found.practice, found.ways, found.task, found.fine)
    told: list[CurvePoint] = []
    before: CurveStep | None = None
    for step in steps:
        served = teller.served(step.choice, step.outcome)
        lines = teller.bought(step.outcome, served)
        held = set() if before is None else set(before.outcome.buy)
        opens = tuple(one.name for one in lines if one.id not in {teller.named(piece)[1] for piece in held})
        slow = sum(bool(one.slow) for one in served)
        told.append(CurvePoint(step.met, slow, step.outcome.cost / 100, step.bound / 100, lines, opens))
        before = step
    return told


def curve_report(found: Planned, run: Run) -> Curve:
    """Money against demands, and what it would come to without each piece that the plan buys.

    Where something works slowly, what it costs to have it at full speed is a step of its own.
    """
    told = _points(found, run)
    if any(one.slow for one in told):
        fast = found.question.model_copy(update={"full_speed": True})
        told += _points(planned(found.world, fast, found.practice, run), run)
    teller = _Teller(found.world, found.question, found.practice, found.ways, found.task, found.fine)
    return Curve(_steps_of(told), _without(found, teller, run))


def _steps_of(points: Sequence[CurvePoint]) -> tuple[CurvePoint, ...]:
    """The cheapest first: each meets more than all that cost no more, or as many with fewer of them slowly."""
    steps: list[CurvePoint] = []
    for one in sorted(points, key=lambda one: (one.cost, -one.met, one.slow)):
        if not any(other.met >= one.met and other.met - other.slow >= one.met - one.slow for other in steps):
            steps.append(one)
    return tuple(steps)


def _without(found: Planned, teller: _Teller, run: Run) -> tuple[Without, ...]:
    """For each piece that is bought: the best plan that does not buy it."""
    outcome = outcome_of(found.task, found.choice)
    assert outcome is not None
    told = []
    for piece in outcome.buy:
        if run.left_s < 0:
            break
        members = [one.id for one in found.ways.groups[piece][0].members] if piece in found.ways.groups else []
        _, id_, name = teller.named(piece)
        less = found.question.model_copy(update={"sold_out": (*found.question.sold_out, *(members or [id_]))})
        # Made anew: pieces that only this one made superfluous are back.
        again = ways_of(found.market, less, found.practice)
        task, fine = again.task(less)
        other = solve(task, run)
        names = _Teller(found.world, less, found.practice, again, task, fine)
        near = other.met >= found.report.met and other.outcome.cost <= _NEAR * outcome.cost
        told.append(
            Without(
                id=id_,
                name=name,
                met=other.met,
                cost=other.outcome.cost / 100,
                proven=other.status == "optimal",
                near=near,
                buys=tuple(names.named(one)[2] for one in other.outcome.buy),
            )
        )
    return tuple(sorted(told, key=lambda one: (-one.met, one.cost, one.name)))
