"""Which route comes first, and which are as good as beaten."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from tropeion.core import findings, written
from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.tried import OF_MODE, left_unusable
from tropeion.core.joints.mechanics import plays_of
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import losses_stops, price_of_all, to_buy
from tropeion.core.rig.judgement import Assessment
from tropeion.core.rig.rig_report import Route
from tropeion.core.rig.unknowns import usable_in
from tropeion.core.working import tidy

from .chain_table import UNKNOWN_PRICE
from .wants import CLEAR, LOAD_UNKNOWN, UNKNOWN_LOSS_STOPS, UNKNOWN_PLAY_MM, WANTS, alike_of, beat, matrix, wants_of

# Rings are made a few tenths short on purpose; what is shorter than this was made for something else.
_MAKESHIFT_MM = 1.0
_LOAD, _CLEARANCE = WANTS.index("load"), WANTS.index("clearance")
# As likely as this, an owned ring is tried before another is bought.
SURELY = 0.9


@frozen
class Merit:
    """What a route is measured by. ``spoken``: some piece has electronics of its own; ``slow``: autofocus is.

    ``makeshift``: it stands so much too near that the near end is lost with it. ``unsure``: whether it reaches infinity
    cannot be told; ``trap``: one piece that goes on, of the wrong register; ``overloaded``: a joint bears more than it
    is rated for; ``unusable``: trials leave no usable stop for the use in force. ``alike`` is what routes must agree in
    to be compared, ``wants`` everything that anyone could want.
    """

    grade: Grade
    pieces: int
    owned: bool
    price: float
    play_mm: float
    worst_case_mm: float
    probability: float
    magnification: float
    error_mm: float
    loss_stops: float
    correcting: bool
    spoken: bool
    slow: bool
    avoided: bool
    unsure: bool
    trap: bool
    makeshift: bool
    overloaded: bool
    unassessed: float
    unusable: bool
    alike: tuple[float, ...]
    wants: tuple[float, ...]


def merit_of(assessed: Assessment) -> Merit:
    """The merit of one assessed rig."""
    rig, end = assessed.rig, assessed.ends[0]
    adapters: Sequence[Adapter] = rig.adapters
    bought, wants = to_buy(adapters), wants_of(assessed)
    price = price_of_all(bought)
    unusable = bool(left_unusable(usable_in(rig), OF_MODE[rig.practice.use]))
    return Merit(
        grade=assessed.grade,
        pieces=len(adapters),
        owned=not bought,
        price=UNKNOWN_PRICE if price is None else price,
        play_mm=tidy(sum(UNKNOWN_PLAY_MM if play is None else play for play in plays_of(rig.stack))),
        worst_case_mm=tidy(rig.chain.worst_case_mm),
        probability=end.infinity.probability or 0.0,
        magnification=round(end.reach.max_magnification or 0.0, 4),
        error_mm=abs(rig.chain.error_mm) if rig.stack.known else math.inf,
        loss_stops=tidy(losses_stops(adapters, UNKNOWN_LOSS_STOPS)),
        correcting="correcting" in [adapter.optics for adapter in adapters],
        spoken=any(adapter.link != "none" for adapter in adapters),
        slow=bool(assessed.slow),
        avoided=rig.avoided,
        unsure=assessed.unsure,
        trap=len(adapters) == 1 and any(joint.is_trap for joint in rig.stack.joints),
        makeshift=rig.chain.lens_error_mm + rig.chain.helicoid_mm / rig.chain.magnification**2 < -_MAKESHIFT_MM,
        overloaded=wants[_LOAD] < LOAD_UNKNOWN,
        unassessed=unassessed_in(wants, adapters),
        unusable=unusable,
        # One that was tried in vain is no better than one that was not.
        alike=(*alike_of(assessed), float(unusable)),
        wants=wants,
    )


def unassessed_in(wants: tuple[float, ...], adapters: Sequence[Adapter]) -> float:
    """How much of load, clearance and bores could not be assessed: among equals it comes last."""
    load, clearance = wants[_LOAD], wants[_CLEARANCE]
    return (load == LOAD_UNKNOWN) + (clearance != CLEAR) + sum(adapter.bore_mm is None for adapter in adapters)


def is_used(merit: Merit) -> bool:
    """Whether a route surely works, and is of a kind that its owner uses."""
    return _is_used(merit.grade, surely=not merit.unsure, avoided=merit.avoided)


def serves(route: Route) -> bool:
    """The same of one that is written out."""
    avoided = any(finding.code == "zoom_avoided" for finding in route.findings)
    return _is_used(route.grade, surely=route.surely, avoided=avoided)


def _is_used(grade: Grade, *, surely: bool, avoided: bool) -> bool:
    return findings.works(grade) and surely and not avoided


def is_picky(lens: Lens, practice: Practice) -> bool:
    """Whether its owner may not use what is best by grade: then the routes themselves say what :func:`serves`."""
    return practice.zooms == "avoid" and lens.is_zoom


def preference(merit: Merit, practice: Practice) -> tuple[float, ...]:
    """Sorts routes, best first: what works at all, practice, purpose, grade; then what was not tried in vain, reaches
    infinity surely and is no makeshift, bears its load, is owned, full speed, the least light lost in pieces and
    filters, fewer pieces, price, what was assessed. The practice may put price, or play and tolerance, before these.
    """
    choices = (
        merit.correcting and practice.glass == "avoid",
        merit.spoken and practice.electronics == "plain",
        merit.avoided,
    )
    purpose: tuple[float, ...] = (-merit.magnification,) if practice.purpose == "close_up" else ()
    usual = (not merit.owned, merit.slow, merit.loss_stops, merit.pieces, merit.price, merit.play_mm, merit.unassessed)
    match practice.rings:
        case "cheapest":
            kind: tuple[float, ...] = usual
        case "price_first":
            kind = (merit.price, *usual)
        case "precise":
            kind = (merit.slow, merit.pieces, merit.play_mm, merit.worst_case_mm, *usual)
    return (
        not findings.works(merit.grade),
        merit.unsure,
        *choices,
        *purpose,
        -findings.rank(merit.grade),
        merit.unusable,
        merit.probability < SURELY,
        merit.makeshift,
        merit.overloaded,
        *kind,
        -merit.probability,
        merit.error_mm,
    )


def hoped_for(grade: Grade, pieces: int, *, owned: bool, price: float) -> Merit:
    """The best that a chain may turn out to be, by what is known of it before it is judged."""
    return Merit(
        grade=grade,
        pieces=pieces,
        owned=owned,
        price=min(price, UNKNOWN_PRICE),
        play_mm=0.0,
        worst_case_mm=0.0,
        probability=1.0,
        magnification=math.inf,
        error_mm=0.0,
        loss_stops=0.0,
        correcting=False,
        spoken=False,
        slow=False,
        avoided=False,
        unsure=False,
        trap=False,
        makeshift=False,
        overloaded=False,
        unassessed=0.0,
        unusable=False,
        alike=(),
        wants=(),
    )


def _in_sight(merit: Merit) -> bool:
    """What breaks something when it is simply put on, and a ring of the wrong register, are never folded."""
    return (merit.grade == "danger" and merit.pieces < 2) or merit.trap


def fails(merit: Merit) -> bool:
    """Whether it is folded by anything that works."""
    return merit.grade in {"danger", "none"} and not _in_sight(merit)


def folds(one: Merit, other: Merit) -> bool:
    """Whether one makes the other superfluous: at least as good in everything, or the other does not work at all."""
    if one.unsure:
        return False
    if findings.works(one.grade) and fails(other):
        return True
    if one.alike != other.alike or findings.rank(one.grade) < findings.rank(other.grade) or _in_sight(other):
        return False
    higher = findings.rank(one.grade) > findings.rank(other.grade)
    ones, others = np.array(one.wants), np.array(other.wants)
    return bool((ones >= others).all()) and (higher or bool((ones > others).any()))


def unbeaten(merits: Sequence[Merit]) -> list[bool]:
    """For each, whether no other folds it."""
    if not merits:
        return []
    wants = matrix([(float(findings.rank(merit.grade)), *merit.wants) for merit in merits])
    sure = np.array([not merit.unsure for merit in merits])
    something = any(findings.works(merit.grade) and not merit.unsure for merit in merits)
    kinds = {merit.alike: number for number, merit in enumerate(merits)}
    alike = np.array([kinds[merit.alike] for merit in merits])
    others = {kind: wants[sure & (alike == kind)] for kind in kinds.values()}
    kept = []
    for number, merit in enumerate(merits):
        if something and fails(merit):
            kept.append(False)
        elif _in_sight(merit):
            kept.append(True)
        else:
            kept.append(not beat(others[alike[number]], wants[number]))
    return kept


def gives_up(one: Assessment, best: Assessment) -> str:
    """In a phrase, what a rig gives up against the best one."""
    if one is best:
        return ""
    had = {finding.gives_up for finding in best.findings}
    new = [finding for finding in one.findings if finding.gives_up and finding.gives_up not in had]
    lost = findings.decisive(findings.in_order(new))
    if lost is not None:
        return lost.gives_up
    chance, surest = one.ends[0].infinity.probability or 0, best.ends[0].infinity.probability or 0
    if chance < surest - 0.005:
        return f"infinity less sure, {written.percent(chance)}"
    more = len(one.rig.adapters) - len(best.rig.adapters)
    if more > 0:
        return f"{more} more to carry and to come loose"
    if to_buy(one.rig.adapters) and not to_buy(best.rig.adapters):
        return "to be bought"
    return "nothing"
