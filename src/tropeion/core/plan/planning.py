"""A plan for a collection: its demands turned into a task, solved, and told in the words of the gear."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from tropeion.core.frozen import frozen
from tropeion.core.gear.items import PieceItem
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.records.plan_question import PlanQuestion
from tropeion.core.rig.cautions import minded_in
from tropeion.core.rig.reporting import judge

from .candidate_pool import Candidate, Ways
from .candidates import CopyOfPiece, copies_for
from .curve import CurveStep, curve_of
from .look_for import rings_to_look_for
from .market import Price, price_of
from .plan_report import Bought, Curve, CurvePoint, Kind, PlanReport, Served, Spare, Unpriced, Without
from .program import Run
from .solving import Solving, solving
from .task import Choice, Outcome, Task, uses_of
from .unmet import whys

# A plan within this share of the cheapest counts as near it.
_NEAR = 1.05


@frozen(eq=False)
class Planned:
    """A solved plan, with what its curve is made from."""

    solving: Solving
    report: PlanReport


def plan_of(world: World, question: PlanQuestion, practice: Practice, run: Run | None = None) -> PlanReport:
    """The cheapest plan that meets as many demands as can be met. Raises UnknownIdError, StoppedError."""
    return planned(world, question, practice, run or Run()).report


def planned(world: World, question: PlanQuestion, practice: Practice, run: Run) -> Planned:
    """The same, with what its curve needs."""
    solution = solving(world, question, practice, run)
    outcome, status = solution.outcome, solution.solved.status
    bound = solution.solved.bound if status == "gap" else outcome.cost
    teller = _Teller(solution)
    served = teller.served(solution.choice, outcome)
    report = PlanReport(
        status=status,
        cost=outcome.cost / 100,
        bound=bound / 100,
        currency=world.gear.currency,
        met=solution.met,
        demands=len(question.demands),
        bought=teller.bought(outcome, served),
        sold=teller.sold(outcome),
        serves=served,
        unmet=whys(solution, run),
        unpriced=_unpriced(world, question, solution.ways, solution.market),
        ruled_out=solution.gone,
        spare=_spare(world, served),
        carry_g=_carried(solution.task, outcome, solution.ways),
        look_for=rings_to_look_for(solution, run),
    )
    return Planned(solution, report)


class _Teller:
    """Says what a choice means, by the names of the gear."""

    def __init__(self, found: Solving) -> None:
        self._world, self._question, self._practice = found.world, found.question, found.practice
        self._ways, self._task, self._fine = found.ways, found.task, found.fine

    def served(self, choice: Choice, outcome: Outcome) -> tuple[Served, ...]:
        """The demands that are met, each with its rig; pieces at hand are used before those to buy."""
        copies = {piece: self._copies(piece, outcome) for piece in self._ways.groups}
        left = {piece: list(some) for piece, some in copies.items()}
        held: dict[tuple[str, str], list[CopyOfPiece]] = {}
        all_served = []
        for number, place in enumerate(choice):
            if place is None:
                continue
            candidate, demand = self._fine[number][place], self._question.demands[number]
            candidate.judge(demand, self._practice, full_speed=self._question.full_speed)
            there = self._left_on(candidate, demand.lens, held, left) if self._task.together else copies
            used = copies_for(candidate, there)
            adapters = tuple(copy.id for copy in used)
            chain = tuple(self._world.adapters[id_] for id_ in adapters)
            route = judge(self._world, candidate.lens, chain, candidate.body, self._practice, detailed=False)
            buys = {copy.id for copy in used if copy.bought}
            buys |= {piece.split(":", 1)[1] for piece in candidate.pieces if ":" in piece and piece in outcome.buy}
            all_served.append(
                Served(
                    demand=number,
                    lens=candidate.lens.id,
                    lens_name=candidate.lens.name,
                    body=candidate.body.id,
                    body_name=candidate.body.name,
                    adapters=adapters,
                    adapter_names=tuple(self._world.adapters[id_].name for id_ in adapters),
                    grade=candidate.grade or "none",
                    probability=candidate.probability or 0.0,
                    slow=route.slow,
                    cautions=minded_in(route),
                    usable_says=route.usable_says,
                    buys=tuple(sorted(buys)),
                )
            )
        return tuple(all_served)

    def _left_on(
        self,
        one: Candidate,
        holder: str,
        held: dict[tuple[str, str], list[CopyOfPiece]],
        left: dict[str, list[CopyOfPiece]],
    ) -> dict[str, list[CopyOfPiece]]:
        """Reuse the adapters that stay on a lens for each of its bodies."""
        own: dict[str, list[CopyOfPiece]] = {}
        for piece, count in uses_of([group.first.id for group in one.chain]):
            stays = held.setdefault((holder, piece), [])
            while len(stays) < count:
                stays.append(left[piece].pop(0))
            own[piece] = stays
        return own

    def _copies(self, piece: str, outcome: Outcome) -> list[CopyOfPiece]:
        """The copies behind a piece of the plan: those at hand, then those to buy."""
        members = self._ways.groups[piece][0].members
        most = outcome.needed.get(piece, 0)
        held = [CopyOfPiece(member.id, False) for member in members for _ in range(min(member.at_hand, most))]
        return held[:most] + [CopyOfPiece(self._cheapest(piece), True)] * outcome.buy.get(piece, 0)

    def _cheapest(self, piece: str) -> str:
        """The member of a group that costs least."""
        members = self._ways.groups[piece][0].members
        priced = [
            (price.amount, member.id) for member in members if (price := price_of(member, self._question)) is not None
        ]
        return min(priced)[1] if priced else members[0].id

    def bought(self, outcome: Outcome, served: Sequence[Served]) -> tuple[Bought, ...]:
        """What is bought, the dearest first, each with the demands that it serves."""
        all_bought = [self._line(piece, count) for piece, count in outcome.buy.items()]
        with_uses = [
            replace(bought, serves=tuple(each.demand for each in served if bought.id in each.buys))
            for bought in all_bought
        ]
        return tuple(
            sorted(with_uses, key=lambda bought: (-bought.price.amount * bought.count, bought.name, bought.id))
        )

    def sold(self, outcome: Outcome) -> tuple[Bought, ...]:
        """What is sold, with what each brings."""
        bought = []
        for piece, count in outcome.sell.items():
            offer = self._task.offers[piece]
            kind, id_, name = self.named(piece)
            bought.append(Bought(kind, id_, name, count, Price(offer.resale / 100, "sold", None), ()))
        return tuple(sorted(bought, key=lambda bought: (bought.name, bought.id)))

    def named(self, piece: str) -> tuple[Kind, str, str]:
        if ":" not in piece:
            adapter = self._world.adapters[self._cheapest(piece)]
            return "adapters", adapter.id, adapter.name
        kind, id_ = piece.split(":", 1)
        if kind == "lens":
            return "lenses", id_, self._world.lenses[id_].name
        if kind == "body":
            return "bodies", id_, self._world.bodies[id_].name
        pair = self._world.change_of(id_)
        assert pair is not None
        return "mounts", id_, f"{self._world.mounts[pair[1].mount].name} mount for {pair[0].name}"

    def _line(self, piece: str, count: int) -> Bought:
        kind, id_, name = self.named(piece)
        item: PieceItem | None = None
        if kind == "adapters":
            item = self._world.adapters[id_]
        elif kind != "mounts":
            item = (self._world.lenses if kind == "lenses" else self._world.bodies)[id_]
        price = None if item is None else price_of(item, self._question)
        if price is None:
            price = Price((self._task.offers[piece].price or 0) / 100, "new", None)
        return Bought(kind, id_, name, count, price, ())


def _unpriced(world: World, question: PlanQuestion, ways: Ways, market: World) -> tuple[Unpriced, ...]:
    """Pieces between the mounts that are asked for, that nobody owns and that have no price."""
    fronts = {
        world.mount_of(world.lenses[demand.lens]).joint
        for demand in question.demands
        if world.lenses[demand.lens].mount
    }
    rears = {world.mount_of(world.body(id_)).joint for demand in question.demands for id_ in demand.bodies}
    unpriced = [
        Unpriced(adapter.id, adapter.name)
        for adapter in market.gear.adapters
        if not adapter.retired and not adapter.at_hand and adapter.id not in question.sold_out
        if price_of(adapter, question) is None
        if world.mounts[adapter.lens_mount].joint in fronts or world.mounts[adapter.body_mount].joint in rears
    ]
    priced = {id_ for id_, offer in ways.offers.items() if offer.price is not None}
    return tuple(item for item in unpriced if item.id not in priced)


def _spare(world: World, served: Sequence[Served]) -> tuple[Spare, ...]:
    """Adapters at hand that nothing in the plan uses."""
    used = {id_ for pair in served for id_ in pair.adapters}
    ends: dict[tuple[str, str], str] = {}
    for id_ in sorted(used):
        adapter = world.adapters[id_]
        joints = world.mounts[adapter.lens_mount].joint, world.mounts[adapter.body_mount].joint
        ends.setdefault(joints, adapter.name)
    spares = []
    for adapter in world.gear.adapters:
        if adapter.retired or not adapter.owned or adapter.id in used:
            continue
        joints = world.mounts[adapter.lens_mount].joint, world.mounts[adapter.body_mount].joint
        spares.append(Spare(adapter.id, adapter.name, adapter.owned, adapter.resale, ends.get(joints)))
    return tuple(spares)


def _carried(task: Task, outcome: Outcome, ways: Ways) -> float | None:
    """What the adapters weigh that are used."""
    masses = [(task.offers[piece].mass_g, count) for piece, count in outcome.needed.items() if piece in ways.groups]
    known = [mass * count for mass, count in masses if mass is not None]
    return sum(known) if len(known) == len(masses) else None


def _points(found: Solving, run: Run) -> list[CurvePoint]:
    """Money against demands."""
    steps = curve_of(found.task, run)
    teller = _Teller(found)
    told: list[CurvePoint] = []
    before: CurveStep | None = None
    for step in steps:
        served = teller.served(step.choice, step.outcome)
        lines = teller.bought(step.outcome, served)
        held = set() if before is None else set(before.outcome.buy)
        opens = tuple(line.name for line in lines if line.id not in {teller.named(piece)[1] for piece in held})
        slow = sum(bool(pair.slow) for pair in served)
        told.append(CurvePoint(step.met, slow, step.outcome.cost / 100, step.bound / 100, lines, opens))
        before = step
    return told


def curve_report(found: Planned, run: Run) -> Curve:
    """Money against demands, and what it would come to without each piece that the plan buys.

    Where something works slowly, what it costs to have it at full speed is a step of its own.
    """
    solved = found.solving
    told = _points(solved, run)
    if any(curve_point.slow for curve_point in told):
        fast = solved.question.model_copy(update={"full_speed": True})
        told += _points(solving(solved.world, fast, solved.practice, run), run)
    return Curve(_steps_of(told), _without(solved, run))


def _steps_of(points: Sequence[CurvePoint]) -> tuple[CurvePoint, ...]:
    """The cheapest first: each meets more than all that cost no more, or as many with fewer of them slowly."""
    steps: list[CurvePoint] = []
    for point in sorted(points, key=lambda curve_point: (curve_point.cost, -curve_point.met, curve_point.slow)):
        if not any(other.met >= point.met and other.met - other.slow >= point.met - point.slow for other in steps):
            steps.append(point)
    return tuple(steps)


def _without(found: Solving, run: Run) -> tuple[Without, ...]:
    """For each piece that is bought: the best plan that does not buy it."""
    outcome, teller = found.outcome, _Teller(found)
    told = []
    for piece in outcome.buy:
        if run.left_s < 0:
            break
        members = [member.id for member in found.ways.groups[piece][0].members] if piece in found.ways.groups else []
        _, id_, name = teller.named(piece)
        less = found.question.model_copy(update={"sold_out": (*found.question.sold_out, *(members or [id_]))})
        # Solved again: pieces that only this one replaced are back.
        other = solving(found.world, less, found.practice, run)
        names = _Teller(other)
        solved = other.solved
        told.append(
            Without(
                id=id_,
                name=name,
                met=solved.met,
                cost=solved.outcome.cost / 100,
                proven=solved.status == "optimal",
                near=solved.met >= found.met and solved.outcome.cost <= _NEAR * outcome.cost,
                buys=tuple(names.named(name)[2] for name in solved.outcome.buy),
            )
        )
    return tuple(sorted(told, key=lambda without: (-without.met, without.cost, without.name)))
