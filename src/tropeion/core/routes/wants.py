"""What anyone could want of a route, as numbers of which more is better.

A route is only folded if another is at least as good in every one of them, and is the same lens with the same glass:
a reducer is no better a plain ring than a plain ring is a reducer.
"""

from __future__ import annotations

import math
from collections.abc import Sequence, Set
from operator import attrgetter
from typing import Final, get_args

import numpy as np

from tropeion.core.findings import Code
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.mounts import Mount
from tropeion.core.joints.contacts import FunctionLeft
from tropeion.core.joints.mechanics import loads_of, overloads
from tropeion.core.joints.signal import FunctionName, FunctionState
from tropeion.core.optics.stack import Stack
from tropeion.core.rig.assembly import losses_stops, price_of_all, to_buy
from tropeion.core.rig.ends import Focused, shifts_along
from tropeion.core.rig.judgement import Assessment
from tropeion.core.working import PLAIN, tidy

from .chain_table import UNKNOWN_PRICE, Floats

# Play that is not stated counts as more than any stated one.
UNKNOWN_PLAY_MM: Final = 1e3
UNKNOWN_LOSS_STOPS: Final = 1e2
_NOTHING: Final = -1e9

FUNCTIONS: Final[tuple[FunctionName, ...]] = get_args(FunctionName)
_KINDS: Final = ("drop_in", "wheel", "variable")
OF_PIECES: Final = (
    *("fewer_pieces", "owned", "cheaper", "light", "tilt", "rise", "shift_across", "turns", "helicoid", "iris"),
    "own_control_ring",
    *("foot", "chip", "plain_metal", "no_correcting_glass", "no_feeler"),
    *(f"filter_{kind}_{what}" for kind in _KINDS for what in ("places", "clear", "strongest", "weakest")),
)
OF_JOINTS: Final = ("less_play", "lens_locked", "all_locked")
# What the pair decides of a chain: that no joint bears more than it is rated for, and that the rear is known to clear.
OF_CARE: Final = ("load", "clearance")
_OF_COVERAGE: Final = ("covered", "pixels", "area", "circle", "undarkened")
# At each end of a zoom.
OF_THE_END: Final = ("probability", "from_aperture", "near", "far", "magnification", "extension")
WANTS: Final = (
    *OF_PIECES,
    *OF_JOINTS,
    *OF_CARE,
    *FUNCTIONS,
    *_OF_COVERAGE,
    *OF_THE_END,
    *(f"long_{name}" for name in OF_THE_END),
)

_ROTATES, _CONTROL_RING, _FOOT, _CHIP, _LINK = map(
    attrgetter, ("rotates", "control_ring", "tripod_foot", "chip", "link")
)

_LEVELS: Final[dict[FunctionState, float]] = {
    "lost": 0.0,
    "stuck": 0.0,
    "by_hand": 1.0,
    "entered": 1.0,
    "slow": 2.0,
    "full": 3.0,
}


def of_pieces(adapters: Sequence[Adapter]) -> tuple[float, ...]:
    """What a chain can do and costs, whatever lens and body it joins."""
    bought = to_buy(adapters)
    price = price_of_all(bought)
    filters: dict[str, list[float]] = {kind: [0.0, 0.0, _NOTHING, _NOTHING] for kind in _KINDS}
    for adapter in adapters:
        slot = adapter.filter_slot
        if slot is None:
            continue
        losses = [position.loss_stops for position in slot.positions] or [0.0]
        weakest, strongest = slot.range_stops or (min(losses), max(losses))
        best = filters[slot.kind]
        best[0] = max(best[0], 1.0 + len(slot.positions))
        best[1] = max(best[1], float(any(position.clear for position in slot.positions)))
        best[2], best[3] = max(best[2], strongest), max(best[3], -weakest)
    moves = [adapter for adapter in adapters if adapter.tilt_deg or adapter.shift_mm]
    return (
        -float(len(adapters)),
        float(not bought),
        -(UNKNOWN_PRICE if price is None else price),
        -losses_stops(adapters, UNKNOWN_LOSS_STOPS),
        math.fsum([adapter.tilt_deg for adapter in moves]),
        math.fsum([adapter.shift_mm for adapter in moves if shifts_along(adapter, "up")]),
        math.fsum([adapter.shift_mm for adapter in moves if shifts_along(adapter, "across")]),
        float(any(map(_ROTATES, moves))),
        math.fsum([adapter.helicoid_mm for adapter in adapters]),
        float("iris" in [adapter.aperture_control for adapter in adapters]),
        float(any(map(_CONTROL_RING, adapters))),
        float(any(map(_FOOT, adapters))),
        float(any(map(_CHIP, adapters))),
        -float(not {"none"}.issuperset(map(_LINK, adapters))),
        -float("correcting" in [adapter.optics for adapter in adapters]),
        # A ring of which nobody said whether it has a feeler may have one.
        float(all(adapter.lens_generation is None and adapter.lens_side_features == () for adapter in adapters)),
        *(value for kind in _KINDS for value in filters[kind]),
    )


def of_joints(
    lens_mount: Mount, adapters: Sequence[Adapter], body_mount: Mount, ends: Sequence[Mount]
) -> tuple[float, ...]:
    """How firmly a chain holds; ``ends`` are the lens-side and camera-side mounts of its adapters, from the lens."""
    gives = [lens_mount, *ends[1::2]]
    takes = [*ends[0::2], body_mount]
    held = [*(adapter.locking for adapter in adapters), False]
    locks = [mount.locking or other.locking or lock for mount, other, lock in zip(gives, takes, held, strict=True)]
    own = [lens_mount.play_mm, *(adapter.play_mm for adapter in adapters)]
    play, behind = 0.0, 1.0
    for joint in reversed(range(len(locks))):
        stated = own[joint]
        play += 0.0 if locks[joint] else behind * (UNKNOWN_PLAY_MM if stated is None else stated)
        if joint:
            behind *= adapters[joint - 1].magnification ** 2
    return -tidy(play), float(locks[0]), float(all(locks))


BORNE: Final = 2.0
LOAD_UNKNOWN: Final = 1.0
CLEAR: Final = 1.0


def of_care(stack: Stack, codes: Set[Code]) -> tuple[float, ...]:
    """How a rig stands in load and clearance: known to be good, not known, or not good; ``codes`` is what was found."""
    loads = loads_of(stack, PLAIN)
    if any(overloads(load) for load in loads):
        load = 0.0
    else:
        load = BORNE if loads and None not in [load.rating_nm for load in loads] else LOAD_UNKNOWN
    return load, 0.0 if "clearance_unknown" in codes else CLEAR


def of_functions(left: Sequence[FunctionLeft]) -> tuple[float, ...]:
    """How well each function works; what neither side has is not missed."""
    levels = {function.function: _LEVELS[function.state] for function in left}
    return tuple(levels.get(name, 3.0) for name in FUNCTIONS)


def of_coverage(
    *, covered: bool, whole: bool, megapixels: float | None, area: float, circle_mm: float | None, darkened: bool
) -> tuple[float, ...]:
    """What of the sensor is used; an unknown circle is taken to cover and to have no room."""
    level = 0.0 if not covered else 2.0 if whole else 1.0
    return level, megapixels or 0.0, area, circle_mm or 0.0, -float(darkened)


def _of_the_end(assessed: Assessment, at: Focused) -> tuple[float, ...]:
    infinity, reach, chain = at.infinity, at.reach, assessed.rig.chain
    far = math.inf if reach.state == "to_infinity" else _NOTHING if reach.far_mm is None else reach.far_mm
    return (
        -1.0 if infinity.probability is None else infinity.probability,
        _NOTHING if infinity.from_f_number is None else -tidy(infinity.from_f_number),
        _NOTHING if reach.near_mm is None else -tidy(reach.near_mm),
        far,
        tidy(reach.max_magnification or 0.0),
        tidy(chain.lens_error_mm + chain.helicoid_mm / chain.magnification**2),
    )


def wants_of(assessed: Assessment) -> tuple[float, ...]:
    """Everything that is wanted of one assessed rig, in the order of :data:`WANTS`."""
    rig, cover = assessed.rig, assessed.coverage
    stack, mode = rig.stack, rig.mode
    mounts = [mount for joint in stack.joints for mount in (joint.gives, joint.takes)]
    codes = {finding.code for finding in assessed.findings}
    # Front to rear the mounts run: the lens's, what takes it, what that gives, …, the body's.
    return (
        *of_pieces(rig.adapters),
        *of_joints(mounts[0], rig.adapters, mounts[-1], mounts[1:-1]),
        *of_care(stack, codes),
        *of_functions(assessed.functions),
        *of_coverage(
            covered=cover.crop_to_cover is None,
            whole=mode.whole,
            megapixels=mode.megapixels,
            area=mode.width_mm * mode.height_mm,
            circle_mm=rig.image_circle_mm,
            darkened=not codes.isdisjoint({"corners_darkened", "corners_cut"}),
        ),
        *_of_the_end(assessed, assessed.ends[0]),
        *_of_the_end(assessed, assessed.ends[-1]),
    )


def alike_of(assessed: Assessment) -> tuple[float, ...]:
    """What two routes must agree in to be compared at all: focal length and aperture with the glass."""
    k = assessed.rig.chain.magnification
    return tuple(value for end in assessed.ends for value in (tidy(k * end.marked_mm), tidy(end.f_number)))


def beat(rows: Floats, one: Floats) -> bool:
    """Whether any of some rows is in nothing worse than ``one``, and better once."""
    as_good = rows[(rows >= one).all(axis=1)]
    return bool((as_good > one).any())


def matrix(rows: Sequence[tuple[float, ...]]) -> Floats:
    """Rows of wants as one array."""
    return np.array(rows, dtype=np.float64).reshape(len(rows), -1)
