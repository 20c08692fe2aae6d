"""What a chain promises before it is judged, in everything that anyone could want of it.

A promise is never less than the judgement, so a chain whose promise is already beaten need not be judged. Promises are
taken for all chains of a pair at once.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import Structure, World
from tropeion.core.joints import contacts
from tropeion.core.keeping import kept
from tropeion.core.optics import modes
from tropeion.core.optics.blur import blur_of
from tropeion.core.optics.equivalents import f_number_with_glass
from tropeion.core.optics.spread import share_between
from tropeion.core.practice import Practice
from tropeion.core.rig.ends import settings_of
from tropeion.core.working import PLAIN

from .bounds import Prospect
from .table import Bools, ChainTable, Floats, Ints, table_between
from .wants import (
    BORNE,
    CLEAR,
    FUNCTIONS,
    LOAD_UNKNOWN,
    OF_JOINTS,
    OF_PIECES,
    WANTS,
    matrix,
    of_coverage,
    of_functions,
    of_joints,
    of_pieces,
)

__all__ = ["Promises", "promises_of"]

_NOTHING = -1e9
# Promises keep this far on the safe side of rounding.
_HAIR = 1e-5
_PROBABILITY = WANTS.index("probability")
_LONG_PROBABILITY = WANTS.index("long_probability")


@dataclass(frozen=True, slots=True)
class _Costs:
    """What chains are, whatever they join; a row each. Chains of one of the ``kinds`` treat functions alike."""

    wants: Floats
    bears: Bools
    opened_mm: Floats
    widest: tuple[tuple[float | None, ...], ...]
    magnifications: tuple[tuple[float, ...], ...]
    half_widths_mm: tuple[tuple[float, ...], ...]
    kinds: tuple[tuple[bool, ...], ...]


@kept(most=2_000)
def _costs(structure: Structure, front: str, rear: str, most: int) -> _Costs:
    """By the ids of the lens's and the body's mount: two systems that share an interface may lock differently."""
    lens_mount, body_mount = structure.mounts[front], structure.mounts[rear]
    table = table_between(structure, lens_mount.joint, body_mount.joint, most)
    rows, bears, opened, widest, magnifications, widths, kinds = [], [], [], [], [], [], []
    for index in range(len(table)):
        pieces = table.pieces(index)
        ends = [structure.mounts[id_] for piece in pieces for id_ in (piece.lens_mount, piece.body_mount)]
        rows.append((*of_pieces(pieces), *of_joints(lens_mount, pieces, body_mount, ends)))
        bears.append(_is_rated(lens_mount, pieces, body_mount, ends))
        in_front, wide = 1.0, 0.0
        for piece in pieces:
            # A helicoid stands behind the glass of its own piece.
            in_front *= piece.magnification**2
            wide += piece.helicoid_mm / in_front
        opened.append(wide)
        widest.append(tuple(piece.widest_f_number for piece in pieces))
        magnifications.append(tuple(piece.magnification for piece in pieces))
        widths.append(tuple(group.link.tolerance_mm for group in table.chain(index)))
        controls = {piece.aperture_control for piece in pieces}
        kinds.append(
            (
                any(piece.chip is not None for piece in pieces),
                any(piece.helicoid_mm > 0 for piece in pieces),
                all(piece.passes_screw for piece in pieces),
                *(name in controls for name in ("lever_ring", "pin_press", "iris")),
            )
        )
    return _Costs(
        matrix(rows) if rows else np.zeros((0, len(OF_PIECES) + len(OF_JOINTS))),
        np.array(bears, dtype=np.bool_),
        np.array(opened, dtype=np.float64),
        tuple(widest),
        tuple(magnifications),
        tuple(widths),
        tuple(kinds),
    )


def _is_rated(lens_mount: Mount, pieces: Sequence[Adapter], body_mount: Mount, ends: Sequence[Mount]) -> bool:
    """Whether every piece is weighed, and somebody said of every joint what it bears."""
    gives, takes = [lens_mount, *ends[1::2]], [*ends[0::2], body_mount]
    rated = [
        one.load_rating_nm is not None or other.load_rating_nm is not None
        for one, other in zip(gives, takes, strict=True)
    ]
    for place, piece in enumerate(pieces):
        if piece.load_rating_nm is not None:
            rated[place] = rated[place + 1] = True
    return all(rated) and all(piece.mass_g is not None for piece in pieces)


@dataclass(slots=True, eq=False)
class Promises:
    """A row for each chain: what it promises, what it must agree in with another, and whether that could be refined.

    ``alike`` and ``wants`` run like those of a merit. ``roughly`` marks probabilities that are only bounded so far.
    """

    wants: Floats
    alike: Floats
    pieces: Ints
    roughly: Bools
    _zoom: bool
    _widths: tuple[tuple[float, ...], ...]
    _low_mm: Floats
    _high_mm: Floats

    def refine(self, index: int) -> None:
        """Work out how likely infinity is, for one chain of which it was only bounded."""
        if self.roughly[index]:
            chance = share_between(self._widths[index], float(self._low_mm[index]), float(self._high_mm[index]))
            self.wants[index, _PROBABILITY] = min(1.0, chance + _HAIR)
            if not self._zoom:
                self.wants[index, _LONG_PROBABILITY] = self.wants[index, _PROBABILITY]
            self.roughly[index] = False


def promises_of(world: World, prospect: Prospect, table: ChainTable, practice: Practice) -> Promises:
    """The promises of all chains of a pair."""
    lens, body = prospect.lens, prospect.body
    most = int(practice.pieces)
    costs = _costs(world.structure, world.mount_of(lens).id, world.mount_of(body).id, most)
    count = len(table)
    settings = settings_of(lens)
    modes_by_chain = _Modes(prospect, practice)
    coverage = np.empty((count, 5))
    blur = np.empty(count)
    for index in range(count):
        coverage[index], blur[index] = modes_by_chain(float(table.k[index]), float(table.circle_cap_mm[index]))
    functions = _functions(world, prospect, table, costs)
    ends, alike = [], []
    window: tuple[Floats, Floats, Floats] | None = None
    for number, (marked, widest) in enumerate(settings):
        end, low, high, stops = _end(prospect, table, costs, marked, widest, number, blur)
        ends.append(end)
        alike.append(table.k * marked)
        alike.append(stops)
        window = window or (low, high, end[:, 0])
    assert window is not None
    wants = np.column_stack([costs.wants, _care(prospect, table, costs), functions, coverage, ends[0], ends[-1]])
    seats = (prospect.front.seat.tolerance_mm, prospect.rear.seat.tolerance_mm)
    return Promises(
        wants=wants,
        alike=np.asarray(np.round(np.column_stack(alike), 6), dtype=np.float64),
        pieces=-costs.wants[:, 0].astype(np.int64),
        roughly=_rough(prospect, table, window[0], window[1]),
        _zoom=lens.is_zoom,
        _widths=tuple((seats[0], *widths, seats[1]) for widths in costs.half_widths_mm),
        _low_mm=window[0],
        _high_mm=window[1],
    )


def _care(prospect: Prospect, table: ChainTable, costs: _Costs) -> Floats:
    """What load and clearance could come to at best."""
    lens = prospect.lens
    weighed = lens.mass_g is not None and lens.centre_of_mass_mm is not None
    load = np.where(costs.bears & weighed, BORNE, LOAD_UNKNOWN)
    blind = prospect.rear.obstructed if lens.rear_protrusion_mm is None else False
    bare = table.numbers[:, :1].max(axis=1, initial=-1) < 0
    return np.column_stack([load, np.where(bare, CLEAR, 0.0 if blind else CLEAR)])


def _rough(prospect: Prospect, table: ChainTable, low: Floats, high: Floats) -> Bools:
    """Where the probability is neither 1 nor bounded away: of plain chains, whose window the tolerances may leave."""
    worst = table.tolerance_mm + prospect.front.seat.tolerance_mm + prospect.rear.seat.tolerance_mm
    rough: Bools = ~table.glass & ((low > -worst) | (high < worst))
    return rough


class _Modes:
    """What of the sensor a circle covers, worked out once for each glass."""

    def __init__(self, prospect: Prospect, practice: Practice) -> None:
        self._prospect = prospect
        self._practice = practice
        self._known: dict[tuple[float, float], tuple[tuple[float, ...], float]] = {}

    def __call__(self, k: float, cap_mm: float) -> tuple[tuple[float, ...], float]:
        found = self._known.get((k, cap_mm))
        if found is None:
            found = self._known[k, cap_mm] = self._judged(k, cap_mm)
        return found

    def _judged(self, k: float, cap_mm: float) -> tuple[tuple[float, ...], float]:
        own = self._prospect.circle_mm
        circle = None if own is None else min(own * k, cap_mm)
        mode, covered = modes.choose_mode(self._prospect.rear.modes, circle)
        # A hair of rounding may decide: then the most that either side of it promises.
        wider = None if circle is None else circle + _HAIR
        also, covers = modes.choose_mode(self._prospect.rear.modes, wider)
        found = [
            of_coverage(
                covered=yes,
                whole=one.whole,
                megapixels=one.megapixels,
                area=one.width_mm * one.height_mm,
                circle_mm=wider,
                darkened=False,
            )
            for one, yes in ((mode, covered), (also, covers))
        ]
        best = tuple(max(values) for values in zip(*found, strict=True))
        return best, max(blur_of(one, self._practice.blur, PLAIN) for one in (mode, also))


def _functions(world: World, prospect: Prospect, table: ChainTable, costs: _Costs) -> Floats:
    """What is left of each function: of chains that pass no contacts on exactly, of others everything is promised."""
    lens, body = prospect.lens, prospect.body
    found = np.full((len(table), len(FUNCTIONS)), 3.0)
    known: dict[tuple[bool, ...], tuple[float, ...]] = {}
    for index in np.flatnonzero(table.silent):
        kind = costs.kinds[index]
        left = known.get(kind)
        if left is None:
            pieces = table.pieces(int(index))
            signal = contacts.signal_of(world, lens, pieces, body)
            iris = contacts.iris_of(lens, pieces, signal)
            left = known[kind] = of_functions(contacts.functions_left(lens, pieces, body, signal, iris, detailed=False))
        found[index] = left
    return found


def _end(
    prospect: Prospect, table: ChainTable, costs: _Costs, marked: float, widest: float, number: int, blur: Floats
) -> tuple[Floats, Floats, Floats, Floats]:
    """What one setting of the lens promises; the window of its register error; and its apertures with the glass."""
    lens, k = prospect.lens, table.k
    squared = k**2
    error = prospect.rear.seat.register_mm + table.adds_mm - squared * prospect.front.seat.register_mm
    own = error / squared
    travel = prospect.front.travels[number]
    moves = np.full(len(table), lens.focus != "none")
    if lens.focus == "by_wire":
        moves &= ~table.silent
    e = np.where(moves, math.inf if travel is None else travel.travel_mm, 0.0)
    past = np.where(moves, lens.past_infinity_mm, 0.0)
    close = marked if travel is None else travel.close_mm
    short, long = own - past, own + e + costs.opened_mm
    with np.errstate(divide="ignore", invalid="ignore"):
        # A little longer than it is: rounded by a nanometre, a short extension moves the distance by metres.
        x = np.maximum(long, 0.0) + _HAIR
        nearest = np.where(np.isinf(x), -_NOTHING, close * (2 + x / close + close / x))
        at_short = np.where(short > 0, 2 * marked + marked**2 / (short + _HAIR) + short, math.inf)
        least = np.minimum(nearest, at_short)
        least = np.where((short < close) & (close < long), np.minimum(least, 4 * close), least)
        far = np.where(short <= 1e-3, math.inf, np.maximum(2 * marked + marked**2 / (short - _HAIR) + short, nearest))
        magnification = np.where(np.isinf(x), 0.0, k * x / close)
    unknown = np.isinf(long)
    near = np.where(unknown | (long < -_HAIR), _NOTHING, -least)
    # Unknown travel leaves the near end and the magnification unknown in the judgement too.
    magnification = np.where(unknown, 0.0, magnification)
    stops = np.array(
        [
            f_number_with_glass(widest, ks, ceilings)
            for ks, ceilings in zip(costs.magnifications, costs.widest, strict=True)
        ]
    )
    closed = lens.aperture in {"lever", "electronic"} and lens.iris_at_rest == "closed"
    most = max(lens.f_number[1], widest) if closed else np.maximum(widest, stops / k)
    half = k * most * blur
    reach = np.where(unknown, math.inf, error + squared * e + costs.opened_mm * squared)
    low, high = -half - reach, half - (error - squared * past)
    needed = np.maximum(widest, (error - squared * past) / (k * blur))
    chance = np.where((low > _worst(prospect, table)) | (high < -_worst(prospect, table)), 0.0, 1.0)
    chance[table.glass] = 1.0
    columns = [chance, -needed + _HAIR, near + 1e-3, far + 1e-3, magnification + _HAIR, own + costs.opened_mm + _HAIR]
    return np.column_stack(columns), low, high, stops


def _worst(prospect: Prospect, table: ChainTable) -> Floats:
    return table.tolerance_mm + prospect.front.seat.tolerance_mm + prospect.rear.seat.tolerance_mm + _HAIR
