"""The integer program of a plan, solved by HiGHS: most wants met, then least cost, then fewest pieces bought.

One after another (lexicographic): what an earlier aim reached is held while the next one is sought; nothing is weighed
against money. Σ x + z = 1 for each want; what is used at one time does not exceed what is at hand and bought.
"""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import highspy
import numpy as np

from tropeion.core.frozen import frozen

from .greedy import greedy
from .reduce import components, needed_ways
from .task import Choice, Outcome, Solved, Task, outcome_of

# Seconds to search for a plan, unless asked otherwise.
SECONDS = 10.0
# By this share of the time each demand has been looked at on all of its bodies, then on one at least; then what is
# found is judged, then reduced; the rest is the solver's.
LOOKED_BY, LOOKED_ONCE_BY, JUDGED_BY, REDUCED_BY = 0.55, 0.65, 0.8, 0.9


class StoppedError(RuntimeError):
    """The answer is no longer wanted."""


@dataclass(slots=True)
class Run:
    """How long a search may take, who wants to be told, and whether it is still wanted."""

    seconds: float = SECONDS
    stopped: Callable[[], bool] = lambda: False
    told: Callable[[int, int], None] = lambda _best, _bound: None
    started: float = field(default_factory=time.monotonic)

    @property
    def left_s(self) -> float:
        return self.seconds - (time.monotonic() - self.started)

    def within(self, share: float) -> bool:
        """Whether less than this share of the time is gone."""
        return time.monotonic() - self.started < share * self.seconds

    def check(self) -> None:
        """Raises StoppedError where the answer is not wanted any more."""
        if self.stopped():
            raise StoppedError


def solve(task: Task, run: Run | None = None) -> Solved:
    """The cheapest way of meeting as many wants as can be met, with proof; or the best found within the time."""
    return at_least(task, len(task.wants), run or Run())


def at_least(task: Task, least: int, run: Run, kept: Sequence[Sequence[int]] | None = None) -> Solved:
    """The cheapest way of meeting at least ``least`` wants, or as many as can be met where these are fewer.

    ``kept`` are the ways that :func:`needed_ways` keeps of the task, where they are known already. Raises StoppedError
    where nobody waits any more.
    """
    kept = needed_ways(task, lambda: run.within(REDUCED_BY)) if kept is None else kept
    parts = components(task, kept)
    if len(parts) > 1 and least >= len(task.wants):
        return _part_by_part(task, kept, parts, run)
    return _whole(task, kept, least, run)


def _part_by_part(task: Task, kept: Sequence[Sequence[int]], parts: Sequence[Sequence[int]], run: Run) -> Solved:
    chosen: list[int | None] = [None] * len(task.wants)
    bound, proven = -task.sold_all, True
    for part in sorted(parts, key=len):
        run.check()
        some = Task(tuple(task.wants[number] for number in part), task.offers, task.together)
        solved = _whole(some, [kept[number] for number in part], len(part), run)
        bound += solved.bound + task.sold_all
        proven = proven and solved.proven_unmet
        for number, index in zip(part, solved.choice, strict=True):
            chosen[number] = index
    outcome = outcome_of(task, tuple(chosen))
    assert outcome is not None
    run.told(outcome.cost, min(bound, outcome.cost))
    return Solved(tuple(chosen), outcome, min(bound, outcome.cost), proven)


def _whole(task: Task, kept: Sequence[Sequence[int]], least: int, run: Run) -> Solved:
    single = _only_one(task, kept, least)
    if single is not None:
        return single
    return _Program(task, kept, run).solved(least)


def _only_one(task: Task, kept: Sequence[Sequence[int]], least: int) -> Solved | None:
    """A single want takes its cheapest way; nothing has to be solved."""
    if len(task.wants) != 1:
        return None
    entry: tuple[tuple[int, int], Choice, Outcome] | None = None
    for place in (*kept[0], None):
        outcome = outcome_of(task, (place,))
        if outcome is not None and not (place is None and entry is not None and least):
            rank = (outcome.cost, sum(outcome.buy.values()))
            if entry is None or rank < entry[0]:
                entry = (rank, (place,), outcome)
    assert entry is not None
    return Solved(entry[1], entry[2], entry[2].cost)


class _Quiet(highspy.Highs):
    """A solver that says nothing on the terminal, from its first step on."""

    def enableCallbacks(self) -> None:  # noqa: N802  the library's name
        self.setOptionValue("output_flag", False)
        super().enableCallbacks()  # type: ignore[no-untyped-call]


class _Program:
    """A task as columns and rows; the same model is solved for one aim after the other."""

    def __init__(self, task: Task, kept: Sequence[Sequence[int]], run: Run) -> None:
        self._task, self._kept, self._run = task, kept, run
        self._lower: list[float] = []
        self._upper: list[float] = []
        self._rows: list[tuple[float, float, dict[int, float]]] = []
        self._x = [{place: self._column(0, 1) for place in places} for places in kept]
        self._z = [self._column(0, 1) for _ in kept]
        self._used = self._all_used()
        pieces = sorted(self._used)
        most = {piece: self._most(piece) for piece in pieces}
        self._y = {
            piece: self._column(0, max(0, most[piece] - task.offers[piece].owned) if self._sold(piece) else 0)
            for piece in pieces
        }
        self._kept_back = {p: self._column(0, task.offers[p].sellable) for p in pieces if task.offers[p].sellable}
        self._cost: dict[int, float] = {}
        for piece, column in self._y.items():
            self._cost[column] = float(task.offers[piece].price or 0)
        for piece, column in self._kept_back.items():
            self._cost[column] = float(task.offers[piece].resale)
        for number, ways in enumerate(self._x):
            self._rows.append((1, 1, {**dict.fromkeys(ways.values(), 1.0), self._z[number]: 1.0}))
        for piece in pieces:
            self._limit(piece)
        if task.carry_g is not None:
            self._carry(pieces, task.carry_g, most)
        if task.budget is not None:
            self._rows.append((-math.inf, task.budget + task.sold_all, dict(self._cost)))
        self._highs = self._model()

    def _column(self, lower: float, upper: float) -> int:
        self._lower.append(lower)
        self._upper.append(upper)
        return len(self._lower) - 1

    def _sold(self, piece: str) -> bool:
        return self._task.offers[piece].price is not None

    def _most(self, piece: str) -> int:
        """An upper bound of how many copies of a piece a plan can need."""
        return sum(int(max(used.values())) for used in self._used[piece].values())

    def _all_used(self) -> dict[str, dict[int, dict[int, float]]]:
        """Of each piece how often each want uses it, by the columns of its ways."""
        found: dict[str, dict[int, dict[int, float]]] = {}
        for number, columns in enumerate(self._x):
            for place, column in columns.items():
                for piece, count in self._task.wants[number].ways[place].uses:
                    found.setdefault(piece, {}).setdefault(number, {})[column] = float(count)
        return found

    def _uses(self, piece: str) -> list[dict[int, float]]:
        """What may be needed of a piece at one time, each as a sum of columns."""
        task = self._task
        uses: list[dict[int, float]] = []
        held: dict[str, list[dict[int, float]]] = {}
        moments: dict[str, dict[int, float]] = {}
        for number, used in self._used[piece].items():
            want = task.wants[number]
            if want.moment:
                moments.setdefault(want.moment, {}).update(used)
            if task.together and task.offers[piece].stays:
                held.setdefault(want.holder, []).append(used)
            else:
                uses.append(used)
        if held:
            left: dict[int, float] = {}
            for ways in held.values():
                if len(ways) == 1:
                    left.update(ways[0])
                    continue
                column = self._column(0, max(max(way.values()) for way in ways))
                left[column] = 1.0
                for way in ways:
                    self._rows.append((-math.inf, 0, {**way, column: -1.0}))
            uses.append(left)
        return [*uses, *moments.values()]

    def _limit(self, piece: str) -> None:
        """Constrain the use of a piece at a time to the copies there are."""
        offer = self._task.offers[piece]
        supply = {self._y[piece]: -1.0}
        if piece in self._kept_back:
            supply[self._kept_back[piece]] = -1.0
        for used in self._uses(piece):
            self._rows.append((-math.inf, offer.free, {**used, **supply}))

    def _carry(self, pieces: Sequence[str], limit_g: float, most: dict[str, int]) -> None:
        masses: dict[int, float] = {}
        for piece in pieces:
            mass = self._task.offers[piece].mass_g
            carried = self._column(0, most[piece] if mass is not None else 0)
            masses[carried] = mass or 0.0
            for used in self._uses(piece):
                self._rows.append((-math.inf, 0, {**used, carried: -1.0}))
        self._rows.append((-math.inf, limit_g, masses))

    def _model(self) -> highspy.Highs:
        lp = highspy.HighsLp()
        count = len(self._lower)
        lp.num_col_, lp.num_row_ = count, len(self._rows)
        lp.col_cost_ = np.zeros(count)
        lp.col_lower_, lp.col_upper_ = np.array(self._lower), np.array(self._upper, dtype=np.float64)
        lp.row_lower_ = np.array([row[0] for row in self._rows], dtype=np.float64)
        lp.row_upper_ = np.array([row[1] for row in self._rows], dtype=np.float64)
        starts = np.cumsum([0, *(len(row[2]) for row in self._rows)])
        lp.a_matrix_.format_ = highspy.MatrixFormat.kRowwise
        lp.a_matrix_.start_ = starts
        lp.a_matrix_.index_ = np.array([column for row in self._rows for column in row[2]], dtype=np.int32)
        lp.a_matrix_.value_ = np.array([value for row in self._rows for value in row[2].values()], dtype=np.float64)
        lp.integrality_ = [highspy.HighsVarType.kInteger] * count
        highs = _Quiet()  # type: ignore[no-untyped-call]
        highs.setOptionValue("threads", 1)
        highs.setOptionValue("mip_rel_gap", 0.0)
        highs.setOptionValue("mip_abs_gap", 0.999)
        highs.passModel(lp)
        return highs

    def solved(self, least: int) -> Solved:
        """Optimise one aim after another, as far as the time allows; what is proven is kept."""
        task, run = self._task, self._run
        best = greedy(task, self._kept)
        can = sum(bool(places) for places in self._kept)
        least, proven = min(least, can), True
        if self._may_fail():
            found = self._minimise(dict.fromkeys(self._z, 1.0))
            best = self._better(best, found.choice, lambda numbers: -sum(place is not None for place in numbers))
            met = sum(place is not None for place in best)
            proven = met >= least or len(self._z) - math.ceil(found.bound - 1e-6) <= met
            least = min(least, met)
        elif sum(place is not None for place in best) < least:
            best = tuple(places[0] if places else None for places in self._kept)
        self._highs.addRow(
            0, len(self._z) - least, len(self._z), np.array(self._z, dtype=np.int32), np.ones(len(self._z))
        )
        found = self._minimise(self._cost, tell=True)
        best = self._better(best, found.choice, lambda numbers: self._outcome(numbers).cost)
        cost = self._outcome(best).cost
        bound = cost if found.proven else min(cost, math.ceil(found.bound - 1e-6) - task.sold_all)
        if found.proven and run.left_s > 0:
            best = self._fewest(best, cost)
        return Solved(best, self._outcome(best), bound, proven)

    def _fewest(self, best: Choice, cost: int) -> Choice:
        """Of plans that cost the same, the one that buys the fewest pieces."""
        columns = np.array(list(self._cost), dtype=np.int32)
        values = np.array(list(self._cost.values()))
        self._highs.addRow(-math.inf, cost + self._task.sold_all + 0.5, len(columns), columns, values)
        found = self._minimise(dict.fromkeys(self._y.values(), 1.0))
        return self._better(
            best, found.choice, lambda numbers: (self._outcome(numbers).cost, sum(self._outcome(numbers).buy.values()))
        )

    def _may_fail(self) -> bool:
        """Whether a want may stay unmet although it has a way."""
        task = self._task
        return task.coupled or (task.together and any(not self._sold(piece) for piece in self._y))

    def _outcome(self, choice: Choice) -> Outcome:
        outcome = outcome_of(self._task, choice)
        assert outcome is not None, "a choice of the program has to stand"
        return outcome

    def _better(self, best: Choice, found: Choice | None, key: Callable[[Choice], object]) -> Choice:
        if found is None or outcome_of(self._task, found) is None:
            return best
        value, other = key(found), key(best)
        return found if value < other else best  # type: ignore[operator]

    def _minimise(self, cost: dict[int, float], *, tell: bool = False) -> _Found:
        highs, run = self._highs, self._run
        run.check()
        count = len(self._lower)
        values = np.zeros(count)
        for column, value in cost.items():
            values[column] = value
        # Each aim is sought from nothing: a solution to begin with leads this solver astray.
        highs.clearSolver()
        highs.changeColsCost(count, np.arange(count, dtype=np.int32), values)
        highs.setOptionValue("time_limit", highs.getRunTime() + max(0.01, run.left_s))
        sold = self._task.sold_all

        def looked(event: highspy.highs.HighsCallbackEvent) -> None:
            if run.stopped() or run.left_s < 0:
                event.interrupt()
            elif tell:
                data = event.data_out
                if abs(data.mip_primal_bound) < 1e18 and abs(data.mip_dual_bound) < 1e18:
                    run.told(round(data.mip_primal_bound) - sold, math.ceil(data.mip_dual_bound - 1e-6) - sold)

        highs.cbMipInterrupt.subscribe(looked)
        try:
            highs.run()
        finally:
            highs.cbMipInterrupt.unsubscribe(looked)
        run.check()
        status, info = highs.getModelStatus(), highs.getInfo()
        proven = status == highspy.HighsModelStatus.kOptimal
        if info.primal_solution_status != 2:
            return _Found(None, max(0.0, info.mip_dual_bound) if info.mip_dual_bound > -1e18 else 0.0, False)
        solution = np.asarray(highs.getSolution().col_value)
        choice = tuple(
            next((place for place, column in ways.items() if solution[column] > 0.5), None) for ways in self._x
        )
        return _Found(choice, max(0.0, info.mip_dual_bound), proven)


@frozen
class _Found:
    """What the solver came to: a choice, if it has any; nothing is below ``bound``."""

    choice: Choice | None
    bound: float
    proven: bool
