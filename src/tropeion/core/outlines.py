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
from .practice import Practice
from .ranking import UNKNOWN_PRICE, Merit, abilities_of, certainty
from .routes import Chain, expand, find_chains
from .working import PLAIN, tidy
from .world import World

__all__ = ["Outlines", "Prospect", "bounds_of", "outlines_of", "promise_of", "prospect_of"]

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
    bare: Bools
    bores_mm: Floats
    bores_at_mm: Floats

    def pieces(self, index: int) -> tuple[Adapter, ...]:
        """The handiest pieces of one chain."""
        return next(expand(self.chains[index]))


def outlines_of(world: World, lens: Lens, body: Body, most: int) -> Outlines:
    """The outlines of every chain between a lens's and a body's interfaces, kept with the world."""
    ends = (world.mounts[lens.mount].interface, world.mounts[body.mount].interface)
    return world.kept(("outlines", *ends, most), lambda: _outlined(find_chains(world, lens, body, most)))


def _outlined(chains: tuple[Chain, ...]) -> Outlines:
    return Outlines(
        chains,
        np.array([_adds(chain) for chain in chains], dtype=np.float64),
        np.array([math.prod(group.link.magnification for group in chain) for chain in chains], dtype=np.float64),
        np.array([any(group.link.glass is not None for group in chain) for chain in chains], dtype=np.bool_),
        np.array([_circle_cap(chain) for chain in chains], dtype=np.float64),
        np.array([any(g.first.widest_f_number is not None for g in chain) for chain in chains], dtype=np.bool_),
        np.array([sum(group.link.tolerance_mm for group in chain) for chain in chains], dtype=np.float64),
        np.array([any(group.link.helicoid_mm for group in chain) for chain in chains], dtype=np.bool_),
        np.array([any(g.first.link in {"none", "chip"} for g in chain) for chain in chains], dtype=np.bool_),
        np.array([any(g.first.aperture_control != "none" for g in c) for c in chains], dtype=np.bool_),
        np.array([not chain for chain in chains], dtype=np.bool_),
        *_bores(chains),
    )


def _bores(chains: tuple[Chain, ...]) -> tuple[Floats, Floats]:
    most = 2 * max((len(chain) for chain in chains), default=0)
    wide = np.full((len(chains), most), math.inf)
    at = np.zeros((len(chains), most))
    for row, chain in enumerate(chains):
        before = 0.0
        for column, group in enumerate(reversed(chain)):
            bore, length = group.first.bore_mm, group.link.length_mm
            if bore is not None:
                wide[row, 2 * column : 2 * column + 2] = bore
                at[row, 2 * column : 2 * column + 2] = (before, before + length)
            before += length
    return wide, at


_NOWHERE = register.Seat(0.0, 0.0, measured=False)


def _adds(chain: Chain) -> float:
    if all(group.link.glass is None for group in chain):
        return sum(group.link.error_mm for group in chain)
    return register.chain_of(_NOWHERE, [group.link for group in chain], _NOWHERE, PLAIN).error_mm


def _circle_cap(chain: Chain) -> float:
    cap = math.inf
    for group in chain:
        cap *= group.link.magnification
        if group.first.image_circle_mm is not None:
            cap = min(cap, group.first.image_circle_mm)
    return cap


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
        half_mm=min(mode.diagonal_mm, lens.image_circle_mm or mode.diagonal_mm) / 2,
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


def bounds_of(outlines: Outlines, prospect: Prospect) -> Ranks:
    """The rank of the best grade that each chain could still get."""
    lens, body = prospect.lens, prospect.body
    adapted = _MANUAL if lens.protocol is None or not body.protocols else rank("full")
    bound: Ranks = np.where(outlines.bare, rank("native"), adapted)
    if lens.offers:
        bound[outlines.silent] = np.minimum(bound[outlines.silent], _MANUAL)
    if lens.image_circle_mm is not None:
        circle = np.minimum(outlines.k * lens.image_circle_mm, outlines.circle_cap_mm)
        small = circle < prospect.full_diagonal_mm - _HAIR_MM
        bound[small] = np.minimum(bound[small], _PARTIAL)
    if lens.protocol is not None:
        unpowered = outlines.silent & ~outlines.helicoid
        if lens.focus == "by_wire":
            bound[unpowered] = np.minimum(bound[unpowered], _NONE)
        if lens.aperture == "electronic":
            stuck = outlines.silent & ~outlines.controls
            bound[stuck] = np.minimum(bound[stuck], _PARTIAL)
    _bound_by_register(bound, outlines, prospect)
    if lens.exit_pupil_mm is not None:
        cut = ~outlines.glass & _corners_cut(outlines, prospect, lens.exit_pupil_mm)
        bound[cut] = np.minimum(bound[cut], _PARTIAL)
    return bound


def _corners_cut(outlines: Outlines, prospect: Prospect, exit_pupil_mm: float) -> Bools:
    """Chains of which some bore cuts the centre ray before the corner, by the formula of the judgement."""
    register_mm = prospect.body_seat.register_mm
    with np.errstate(invalid="ignore", divide="ignore"):
        pupil = exit_pupil_mm + register_mm + outlines.adds_mm - prospect.lens_seat.register_mm
        across = pupil[:, np.newaxis]
        at = outlines.bores_at_mm + register_mm
        heights = np.where(at < across - _HAIR_MM, outlines.bores_mm / 2 / (1 - at / across), math.inf)
        least = heights.min(axis=1, initial=math.inf)
        if prospect.throat_mm is not None:
            throat = prospect.throat_mm / 2 / (1 - register_mm / pupil)
            least = np.minimum(least, np.where(register_mm < pupil - _HAIR_MM, throat, math.inf))
        cut: Bools = (pupil > _HAIR_MM) & (least < prospect.half_mm - _HAIR_MM)
    return cut


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


def promise_of(outlines: Outlines, index: int, bound: int, prospect: Prospect) -> Merit | None:
    """The most that one plain chain could come to; None with glass, of which nothing is promised."""
    if outlines.glass[index]:
        return None
    adds = float(outlines.adds_mm[index])
    lens, chain, pieces = prospect.lens, outlines.chains[index], outlines.pieces(index)
    error = tidy(prospect.body_seat.register_mm + adds - prospect.lens_seat.register_mm)
    closed = lens.aperture in {"lever", "electronic"} and lens.iris_at_rest == "closed"
    f_number = lens.f_number[1] if closed else lens.f_number[0]
    helicoid = sum(group.link.helicoid_mm for group in chain)
    long = None if prospect.travel_mm is None else error + prospect.travel_mm + helicoid
    tolerances = [
        prospect.lens_seat.tolerance_mm,
        *(g.link.tolerance_mm for g in chain),
        prospect.body_seat.tolerance_mm,
    ]
    u = math.sqrt(sum(t * t for t in tolerances) / 3)
    chance = focus.probability(f_number, error - lens.past_infinity_mm, long, 1.0, prospect.mode_blur_mm, u)
    magnification = max(0.0, long) / lens.focal_length_mm[0] if long is not None else 0.0
    locked = pieces[0].locking if pieces else prospect.body_locking
    price = price_of(pieces)
    return Merit(
        grade=GRADES[bound],
        pieces=len(pieces),
        owned=all(piece.owned for piece in pieces),
        price=UNKNOWN_PRICE if price is None else price,
        play_mm=tidy(
            sum(0.0 if piece.locking else piece.play_mm for piece in pieces)
            + (0.0 if locked else prospect.lens_play_mm)
        ),
        worst_case_mm=0.0,
        probability=certainty(min(1.0, chance + 1e-6)),
        magnification=round(magnification + 0.0001, 4),
        error_mm=0.0,
        correcting=any(piece.optics == "correcting" for piece in pieces),
        spoken=any(piece.link != "none" for piece in pieces),
        zoom_unknown=False,
        abilities=abilities_of(pieces),
    )
