"""The other way: from a view and a depth that somebody wants to the rigs on one body that give them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Final, Literal

from tropeion.core import findings, written
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.optics.equivalents import same_depth_f_number
from tropeion.core.optics.modes import FormatMode, modes_of
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import in_mode
from tropeion.core.rig.ends import usable_f_numbers, widest_at
from tropeion.core.rig.marks import mark_from
from tropeion.core.words import word
from tropeion.core.working import tidy

from .becoming import Becoming, Mounted, setting_at
from .lens_ways import ways_of
from .reference import Reference, crop_against

# A view within this share of the focal length is the view that was wanted; within the other, it comes near.
FRAMING_SHARE: Final = 0.05
NEAR_SHARE: Final = 0.2
MOST_ANSWERS: Final = 60

Verdict = Literal["gives", "near"]


@frozen
class Wish:
    """The view of a focal length on the reference, in mm, and the depth of an aperture there; None: any depth."""

    focal_mm: float
    f_number: float | None = None


@frozen
class WishAnswer:
    """One rig that gives the view, or comes near it, and how it is set for it.

    ``framing_share`` is how much longer its view is than the wish (negative: wider). ``set_mm`` and ``set_f_number``
    are on the rings; the aperture is None where the depth is out of reach. ``why`` says what keeps it from giving all.
    """

    row: Becoming
    verdict: Verdict
    set_mm: float
    set_f_number: float | None
    equivalent_mm: float
    framing_share: float
    why: str


@frozen
class MissingLens:
    """The lens that would give it in one mode, behind glass of a magnification. Lengths in mm."""

    mode: str
    magnification: float
    focal_length_mm: float
    f_number: float | None
    image_circle_mm: float


@frozen
class WishReport:
    """What is at hand that gives it, what would after buying something, what comes near, and what would have to exist.

    ``looked_at`` counts the lenses, ``left_out`` what comes near beyond what is listed.
    """

    wish: Wish
    reference: Reference
    body: str
    own: tuple[WishAnswer, ...]
    buy: tuple[WishAnswer, ...]
    near: tuple[WishAnswer, ...]
    missing: tuple[MissingLens, ...]
    looked_at: int
    left_out: int
    sentence: str
    names: dict[str, str]
    currency: str


def wish_of(
    world: World, body_id: str, wish: Wish, reference: Reference, practice: Practice, lenses: Sequence[Lens]
) -> WishReport:
    """Every lens on a body, through every kind of glass, in every mode, against a wish. Raises UnknownIdError."""
    body = world.body(body_id)
    ways = ways_of(world, lenses, [body], practice)
    answers = [
        answer
        for lens in lenses
        for way in ways[lens.id, body.id]
        for answer in _answers(Mounted(world, way, practice, reference), wish)
    ]
    gives = sorted((answer for answer in answers if answer.verdict == "gives"), key=_first)
    near = tuple(sorted((answer for answer in answers if answer.verdict == "near"), key=_nearest))
    own = tuple(answer for answer in gives if answer.row.owned)
    buy = tuple(answer for answer in gives if not answer.row.owned)
    told = (*own[:MOST_ANSWERS], *buy[:MOST_ANSWERS], *near[:MOST_ANSWERS])
    ids = {id_ for answer in told for id_ in (answer.row.lens, *answer.row.adapters)}
    return WishReport(
        wish=wish,
        reference=reference,
        body=body.id,
        own=own[:MOST_ANSWERS],
        buy=buy[:MOST_ANSWERS],
        near=near[:MOST_ANSWERS],
        missing=_missing(world, body, wish, reference, practice, answers),
        looked_at=len(lenses),
        left_out=len(answers) - len(told),
        sentence=_sentence(own, buy, near, body),
        names={body.id: body.name, **{id_: (world.lenses.get(id_) or world.adapters[id_]).name for id_ in ids}},
        currency=world.gear.currency,
    )


def _answers(mounted: Mounted, wish: Wish) -> Iterator[WishAnswer]:
    if mounted.way.lens.fisheye or not mounted.way.standing.grade or mounted.way.standing.grade in {"danger", "none"}:
        return
    for mode in mounted.modes:
        if mounted.covered(mode) is False:
            continue
        answer = _answer(mounted, mode, wish)
        if answer is not None:
            yield answer


def _answer(mounted: Mounted, mode: FormatMode, wish: Wish) -> WishAnswer | None:
    """One way in one mode, set as near to the wish as it goes; None where it is too far from it."""
    rig = in_mode(mounted.rig, mode)
    k, lens = rig.magnification, rig.lens
    crop = crop_against(mounted.reference, mode.width_mm, mode.height_mm, rig.practice.crop)
    short, long = lens.focal_length_mm
    set_mm = min(max(wish.focal_mm / (crop * k), short), long)
    here = set_mm * k * crop
    share = here / wish.focal_mm - 1
    if tidy(abs(share) - NEAR_SHARE) > 0:
        return None
    why, stop = [], None
    if tidy(abs(share) - FRAMING_SHARE) > 0:
        why.append(f"{written.percent(abs(share))} {'longer' if share > 0 else 'wider'}")
    widest, smallest = usable_f_numbers(rig, widest_at(lens, set_mm))
    if wish.f_number is not None:
        wanted = same_depth_f_number(wish.f_number, 1.0, 1.0, crop, k)
        if tidy(wanted - widest) < -1e-6:
            equal = setting_at(rig, set_mm, mounted.reference).equivalent_f_number
            why.append(f"no less {_DEPTH} than at f/{written.fixed(equal, 1)}")
        elif tidy(wanted - smallest) > 1e-6:
            why.append(f"it closes to {written.aperture(smallest)}, and would have to go to {written.aperture(wanted)}")
        else:
            stop = tidy(wanted)
    standing = mounted.way.standing
    if not standing.surely:
        why.append("whether it reaches infinity is not known")
    elif not mounted.way.gives_views(mounted.practice):
        why.append({"close_up": "close-up only", "modify": "only after an irreversible change"}[standing.grade or ""])
    elif standing.grade == "partial":
        why += _late_infinity(mounted, set_mm, stop)
        why += _lacks(mounted)
    if mounted.covered(mode) is None:
        why.append("whether its corners are light is not known")
    row = mounted.becomes(mode)
    return WishAnswer(row, "near" if why else "gives", set_mm, stop, here, tidy(share), "; ".join(why))


_DEPTH = word("depth_of_field")
# Told by the mode and the stop that are looked at, for themselves.
_TOLD_APART: Final = frozenset({"covers_crop_only", "infinity_stopped_down", "focus_travel_unknown"})


def _lacks(mounted: Mounted) -> list[str]:
    """What else leaves it partly usable: an iris that nothing moves, corners that a bore cuts, correcting glass."""
    lacks = mounted.judged.findings
    return [
        finding.gives_up
        for finding in lacks
        if finding.grade_cap == "partial" and finding.code not in _TOLD_APART and finding.gives_up
    ]


def _late_infinity(mounted: Mounted, set_mm: float, stop: float | None) -> list[str]:
    """Infinity that is only sharp at smaller stops than the one that is wanted."""
    ends = mounted.judged.ends
    judged = ends[-1 if set_mm == ends[-1].marked_mm else 0]
    late = judged.infinity.from_f_number
    if late is None:
        return ["infinity is out of reach"]
    if mounted.judged.rig.by_construction:
        return ["the length of the ring was taken from the gap"]
    if judged.infinity.reached or (stop is not None and tidy(late - stop) <= 0):
        return []
    return [f"infinity is sharp only from {written.aperture(mark_from(mounted.rig.lens, late))}"]


def _first(one: WishAnswer) -> tuple[object, ...]:
    row = one.row
    pixels = -(row.megapixels or 0.0)
    price = float("inf") if row.price is None else row.price
    grade = -findings.rank(row.grade or "danger")
    return price, grade, pixels, abs(one.framing_share), len(row.adapters), row.key


def _nearest(one: WishAnswer) -> tuple[object, ...]:
    return not one.row.owned, one.why.count(";"), abs(one.framing_share), *_first(one)


def _missing(
    world: World, body: Body, wish: Wish, reference: Reference, practice: Practice, found: Sequence[WishAnswer]
) -> tuple[MissingLens, ...]:
    """The lens that would do it, in each mode, alone and behind each kind of glass that leads onto this body."""
    kinds = {answer.row.magnification for answer in found} | {
        adapter.magnification
        for adapter in world.gear.adapters
        if not adapter.retired and world.mounts[adapter.body_mount].joint == world.mount_of(body).joint
    }
    rows = []
    for mode in modes_of(body, practice.use):
        crop = crop_against(reference, mode.width_mm, mode.height_mm, practice.crop)
        for k in sorted(kinds | {1.0}, key=lambda value: (value != 1.0, value)):
            stop = None if wish.f_number is None else tidy(same_depth_f_number(wish.f_number, 1.0, 1.0, crop, k))
            rows.append(MissingLens(mode.name, k, tidy(wish.focal_mm / (crop * k)), stop, tidy(mode.diagonal_mm / k)))
    return tuple(rows)


def _sentence(own: Sequence[WishAnswer], buy: Sequence[WishAnswer], near: Sequence[WishAnswer], body: Body) -> str:
    if own:
        more = len({answer.row.lens for answer in own}) - 1
        others = "" if more == 0 else f", and {more} more {'lens does' if more == 1 else 'lenses do'}"
        return f"You have it{others}."
    if buy:
        return "Nothing you own gives it; something that can be bought does."
    if near:
        return f"Nothing gives it on {body.name}; this comes near."
    return f"Nothing in the collection comes near it on {body.name}."
