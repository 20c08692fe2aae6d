"""What a chain promises before it is judged: bounds by its lengths and contacts, and what it costs.

A promise is never less than the judgement, so a chain whose promise is already beaten need not be judged. Bounds are
taken for all chains between two interfaces at once.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from . import coverage, focus, register
from .findings import GRADES, rank
from .gear import Adapter, Body, Lens
from .judgement import price_of
from .mechanics import CLEARANCE_MM
from .practice import Practice
from .ranking import UNKNOWN_PRICE, Merit, abilities_of, certainty
from .routes import Chain, Path, expand, find_paths
from .working import PLAIN, tidy
from .world import World

__all__ = ["Cost", "Outlines", "Prospect", "bounds_of", "costs_of", "outlines_of", "promise_of", "prospect_of"]

Floats = npt.NDArray[np.float64]
Bools = npt.NDArray[np.bool_]
Ranks = npt.NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class Outlines:
    """Every chain between two interfaces, and what of it does not depend on the lens and the body.

    Arrays run along the chains. The register error is R_b + ``adds_mm`` − k²·R_l; the image circle is k times the
    lens's own, at most ``circle_cap_mm``. ``slow``: some glass has a widest aperture of its own; ``silent``: some
    piece passes no contacts on. The bores of a chain, both ends of each, stand ``bores_at_mm`` before the body's seat;
    rows are padded with infinitely wide ones.
    """

    chains: tuple[Chain, ...]
    adds_mm: Floats
    k: Floats
    glass: Bools
    circle_cap_mm: Floats
    slow: Bools
    tolerance_mm: Floats
    helicoid: Bools
    silent: Bools
    controls: Bools
    costly: Bools
    bare: Bools
    length_mm: Floats
    glass_at_mm: Floats
    bores_mm: Floats
    bores_at_mm: Floats

    def pieces(self, index: int) -> tuple[Adapter, ...]:
        """The handiest pieces of one chain."""
        return next(expand(self.chains[index]))


def outlines_of(world: World, lens: Lens, body: Body, most: int) -> Outlines:
    """The outlines of every chain between a lens's and a body's interfaces, kept with the world."""
    ends = (world.mounts[lens.mount].interface, world.mounts[body.mount].interface)
    return world.kept(("outlines", *ends, most), lambda: _outlined(find_paths(world, lens, body, most)))


def _outlined(paths: tuple[Path, ...]) -> Outlines:
    def floats(values: list[float]) -> Floats:
        return np.array(values, dtype=np.float64)

    def bools(values: list[bool]) -> Bools:
        return np.array(values, dtype=np.bool_)

    most = max((len(path.bores) for path in paths), default=0)
    # Padded with infinitely wide bores.
    bores = floats([[*path.bores, *[(math.inf, 0.0)] * (most - len(path.bores))] for path in paths])  # type: ignore[misc]
    bores = bores.reshape(len(paths), most, 2)
    return Outlines(
        chains=tuple(path.chain for path in paths),
        adds_mm=floats([path.adds_mm for path in paths]),
        k=floats([path.k for path in paths]),
        glass=bools([path.glass for path in paths]),
        circle_cap_mm=floats([path.circle_cap_mm for path in paths]),
        slow=bools([path.slow for path in paths]),
        tolerance_mm=floats([path.tolerance_mm for path in paths]),
        helicoid=bools([path.helicoid for path in paths]),
        silent=bools([path.silent for path in paths]),
        controls=bools([path.controls for path in paths]),
        costly=bools([path.costly for path in paths]),
        bare=bools([not path.chain for path in paths]),
        length_mm=floats([path.length_mm for path in paths]),
        glass_at_mm=floats([path.glass_at_mm for path in paths]),
        bores_mm=bores[:, :, 0],
        bores_at_mm=bores[:, :, 1],
    )


@dataclass(frozen=True, slots=True)
class Prospect:
    """What of a lens and a body bounds every plain chain between them. Lengths in mm; unknown travel is None."""

    lens: Lens
    body: Body
    lens_seat: register.Seat
    body_seat: register.Seat
    full_diagonal_mm: float
    blur_mm: float
    mode_blur_mm: float
    travel_mm: float | None
    longest_travel_mm: float | None
    lens_play_mm: float
    body_locking: bool
    cautious: bool
    throat_mm: float | None
    half_mm: float
    least_blur_mm: float
    has_rules: bool


def prospect_of(world: World, lens: Lens, body: Body, practice: Practice) -> Prospect:
    """Bounds for one pair."""
    lens_mount, body_mount = world.mounts[lens.mount], world.mounts[body.mount]
    modes = coverage.modes_of(body, practice.use)
    mode, _ = coverage.choose_mode(modes, lens.image_circle_mm)
    travels = [focus.travel(f, lens.min_focus_m, lens.max_magnification, PLAIN) for f in lens.focal_length_mm]
    known = [travel for travel in travels if travel is not None]
    return Prospect(
        lens=lens,
        body=body,
        lens_seat=register.seat_of(lens, lens_mount),
        body_seat=register.seat_of(body, body_mount),
        full_diagonal_mm=modes[0].diagonal_mm,
        blur_mm=max(_blur(each, practice) for each in modes),
        mode_blur_mm=_blur(mode, practice),
        travel_mm=travels[0],
        longest_travel_mm=max(known) if len(known) == len(travels) else None,
        lens_play_mm=0.0 if lens_mount.locking else lens_mount.play_mm,
        body_locking=body_mount.locking,
        cautious=practice.trust == "cautious",
        throat_mm=body_mount.throat_mm,
        least_blur_mm=min(_blur(each, practice) for each in modes),
        has_rules=lens_mount.interface in _ruled(world),
        half_mm=min(mode.diagonal_mm, lens.image_circle_mm or mode.diagonal_mm) / 2,
    )


def _ruled(world: World) -> frozenset[str]:
    """The interfaces on which coupling parts may have something to say."""
    return world.kept(
        "ruled", lambda: frozenset(m.interface for m in world.mounts.values() if m.rules or m.generations)
    )


def _blur(mode: coverage.FormatMode, practice: Practice) -> float:
    if practice.blur == "two_pixels":
        if mode.megapixels is not None:
            return focus.two_pixels_mm(mode.width_mm, mode.height_mm, mode.megapixels)
        return focus.circle_of_confusion_mm(mode.diagonal_mm, 1500.0)
    return focus.circle_of_confusion_mm(mode.diagonal_mm, float(practice.blur))


_NONE, _CLOSE, _PARTIAL, _MANUAL = rank("none"), rank("close_up"), rank("partial"), rank("manual")
# Bounds keep this far away from the edge, so that rounding can never make a promise too small.
_HAIR_MM = 1e-5


def bounds_of(outlines: Outlines, prospect: Prospect) -> tuple[Ranks, Bools]:
    """The rank of the best grade that each chain could still get, and where that is surely its grade."""
    lens, body = prospect.lens, prospect.body
    mute = lens.protocol is None or not body.protocols
    bound: Ranks = np.where(outlines.bare, rank("native"), _MANUAL if mute else rank("full"))
    if lens.offers:
        bound[outlines.silent] = np.minimum(bound[outlines.silent], _MANUAL)
    close_call = np.zeros(len(bound), dtype=np.bool_)
    if lens.image_circle_mm is not None:
        circle = np.minimum(outlines.k * lens.image_circle_mm, outlines.circle_cap_mm)
        room = circle - prospect.full_diagonal_mm
        bound[room < -_HAIR_MM] = np.minimum(bound[room < -_HAIR_MM], _PARTIAL)
        close_call |= np.abs(room) <= _HAIR_MM
    powerless = outlines.silent & ~outlines.helicoid & (lens.focus == "by_wire") & (lens.protocol is not None)
    bound[powerless] = np.minimum(bound[powerless], _NONE)
    if lens.protocol is not None and lens.aperture == "electronic":
        stuck = outlines.silent & ~outlines.controls
        bound[stuck] = np.minimum(bound[stuck], _PARTIAL)
    _bound_by_register(bound, outlines, prospect)
    if lens.exit_pupil_mm is not None:
        least = _corner_height_mm(outlines, prospect, lens.exit_pupil_mm)
        cut = ~outlines.glass & (least < prospect.half_mm - _HAIR_MM)
        bound[cut] = np.minimum(bound[cut], _PARTIAL)
        close_call |= ~outlines.glass & (np.abs(least - prospect.half_mm) <= _HAIR_MM)
    harmless = _harmless(outlines, prospect) & ~outlines.bare
    # A lens that nothing speaks to, well inside its window, is what its circle and corners make of it.
    plain = mute and lens.aperture == "ring" and lens.focus in {"ring", "motor", "screw_drive"} and not lens.is_zoom
    sure = plain & _well_inside(outlines, prospect) & ~close_call & ~outlines.costly
    return bound, harmless & (sure | powerless)


def _harmless(outlines: Outlines, prospect: Prospect) -> Bools:
    """Where surely nothing breaks, binds or touches."""
    lens, body = prospect.lens, prospect.body
    if prospect.has_rules or lens.not_on or lens.rear_diameter_mm is not None:
        return np.zeros(len(outlines.chains), dtype=np.bool_)
    if lens.rear_protrusion_mm is None:
        return np.ones(len(outlines.chains), dtype=np.bool_)
    vertex = prospect.body_seat.register_mm + outlines.length_mm - lens.rear_protrusion_mm
    inside = -math.inf if body.obstruction_mm is None else body.obstruction_mm
    limit = np.where(outlines.glass, prospect.body_seat.register_mm + outlines.glass_at_mm, inside)
    clear: Bools = vertex >= limit + CLEARANCE_MM + _HAIR_MM
    return clear


def _well_inside(outlines: Outlines, prospect: Prospect) -> Bools:
    """Where the register error stays inside the depth of focus wide open, with all that may be added to it."""
    lens, k = prospect.lens, outlines.k
    error = prospect.body_seat.register_mm + outlines.adds_mm - k**2 * prospect.lens_seat.register_mm
    seats = prospect.lens_seat.tolerance_mm + prospect.body_seat.tolerance_mm
    allowance = outlines.tolerance_mm + seats if prospect.cautious else 0.0
    window = k * lens.f_number[0] * prospect.least_blur_mm - _HAIR_MM
    inside: Bools = (np.abs(error) + allowance <= window) & ~(outlines.glass & prospect.cautious)
    return inside


def _bound_by_register(bound: Ranks, outlines: Outlines, prospect: Prospect) -> None:
    lens, k = prospect.lens, outlines.k
    error = prospect.body_seat.register_mm + outlines.adds_mm - k**2 * prospect.lens_seat.register_mm
    smallest = max(lens.f_number[1], lens.f_number_at_long_end or 0.0) * prospect.blur_mm * k + _HAIR_MM
    past = k**2 * lens.past_infinity_mm
    out_of_reach = error - past > smallest
    bound[out_of_reach] = np.minimum(bound[out_of_reach], _CLOSE)
    # An iris that may stand closed hides more than the widest stop does, and so does slow glass.
    if lens.aperture == "ring":
        widest = max(lens.f_number[0], lens.f_number_at_long_end or 0.0) * prospect.blur_mm * k + _HAIR_MM
        allowance = np.where(outlines.glass, 0.0, outlines.tolerance_mm) if prospect.cautious else 0.0
        late = (error + allowance - past > widest) & ~outlines.bare & ~outlines.slow
        bound[late] = np.minimum(bound[late], _PARTIAL)
    travel = prospect.longest_travel_mm
    if travel is not None:
        nothing = (-error > k**2 * travel + smallest) & ~outlines.helicoid
        bound[nothing] = np.minimum(bound[nothing], _NONE)


def _corner_height_mm(outlines: Outlines, prospect: Prospect, exit_pupil_mm: float) -> Floats:
    """The image height up to which every bore lets the centre ray pass, by the formula of the judgement."""
    register_mm = prospect.body_seat.register_mm
    with np.errstate(invalid="ignore", divide="ignore"):
        pupil = exit_pupil_mm + register_mm + outlines.adds_mm - prospect.lens_seat.register_mm
        across = pupil[:, np.newaxis]
        at = outlines.bores_at_mm + register_mm
        heights = np.where(at < across - _HAIR_MM, outlines.bores_mm / 2 / (1 - at / across), math.inf)
        least: Floats = heights.min(axis=1, initial=math.inf)
        if prospect.throat_mm is not None:
            throat = prospect.throat_mm / 2 / (1 - register_mm / pupil)
            least = np.minimum(least, np.where(register_mm < pupil - _HAIR_MM, throat, math.inf))
        least[~(pupil > _HAIR_MM)] = math.inf
    return least


@dataclass(frozen=True, slots=True)
class Cost:
    """What a chain costs and can do, whatever lens and body it joins; its play without the lens's own joint."""

    owned: bool
    price: float
    play_mm: float
    locking: bool | None
    helicoid_mm: float
    tolerance_squares: float
    correcting: bool
    spoken: bool
    abilities: frozenset[str]


def costs_of(world: World, outlines: Outlines) -> list[Cost]:
    """The costs of all chains, kept with the world."""
    return world.kept(
        ("costs", id(outlines)), lambda: [_cost(outlines, index) for index in range(len(outlines.chains))]
    )


def _cost(outlines: Outlines, index: int) -> Cost:
    pieces, chain = outlines.pieces(index), outlines.chains[index]
    price = price_of(pieces)
    return Cost(
        owned=all(piece.owned for piece in pieces),
        price=UNKNOWN_PRICE if price is None else price,
        play_mm=sum(0.0 if piece.locking else piece.play_mm for piece in pieces),
        locking=pieces[0].locking if pieces else None,
        helicoid_mm=sum(group.link.helicoid_mm for group in chain),
        tolerance_squares=sum(group.link.tolerance_mm**2 for group in chain),
        correcting=any(piece.optics == "correcting" for piece in pieces),
        spoken=any(piece.link != "none" for piece in pieces),
        abilities=abilities_of(pieces),
    )


def promise_of(outlines: Outlines, index: int, bound: int, cost: Cost, prospect: Prospect) -> Merit | None:
    """The most that one plain chain could come to; None with glass, of which nothing is promised."""
    if outlines.glass[index]:
        return None
    lens = prospect.lens
    error = tidy(prospect.body_seat.register_mm + float(outlines.adds_mm[index]) - prospect.lens_seat.register_mm)
    closed = lens.aperture in {"lever", "electronic"} and lens.iris_at_rest == "closed"
    f_number = lens.f_number[1] if closed else lens.f_number[0]
    long = None if prospect.travel_mm is None else error + prospect.travel_mm + cost.helicoid_mm
    seats = prospect.lens_seat.tolerance_mm**2 + prospect.body_seat.tolerance_mm**2
    u = math.sqrt((seats + cost.tolerance_squares) / 3)
    chance = focus.probability(f_number, error - lens.past_infinity_mm, long, 1.0, prospect.mode_blur_mm, u)
    magnification = max(0.0, long) / lens.focal_length_mm[0] if long is not None else 0.0
    locked = prospect.body_locking if cost.locking is None else cost.locking
    return Merit(
        grade=GRADES[bound],
        pieces=len(outlines.chains[index]),
        owned=cost.owned,
        price=cost.price,
        play_mm=tidy(cost.play_mm + (0.0 if locked else prospect.lens_play_mm)),
        worst_case_mm=0.0,
        probability=certainty(min(1.0, chance + 1e-6)),
        magnification=round(magnification + 0.0001, 4),
        error_mm=0.0,
        correcting=cost.correcting,
        spoken=cost.spoken,
        zoom_unknown=False,
        abilities=cost.abilities,
    )
