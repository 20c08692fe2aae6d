"""An outing: what is packed for its shots, what is shared, what stays at home, and in which order to shoot."""

from __future__ import annotations

import itertools
import math
from collections import Counter, defaultdict
from collections.abc import Iterator, Sequence

from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.accessories import FILTERS, Accessory
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.gear import SavedRig
from tropeion.core.gear.items import PieceItem
from tropeion.core.gear.kinds import PieceKind
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.records.outing_record import Outing
from tropeion.core.rig.pieces import piece_of
from tropeion.core.rig.reporting import judge
from tropeion.core.rig.rig_report import Piece as PieceSeen
from tropeion.core.rig.section import Section

from .swaps import Mounting, Ordered, in_least_order, swaps_in_order

# Two lenses whose views differ by less than this do the same.
ALIKE = 0.1


@frozen
class ShotSeen:
    """A shot and its rig as it is today. ``rig`` None: it is kept no more, or a piece of it is gone."""

    name: str
    rig: str
    rig_name: str
    lens: str | None
    body: str | None
    adapters: tuple[str, ...]
    accessories: tuple[str, ...]
    grade: Grade | None
    becomes_mm: float | None
    section: Section | None
    says: str


@frozen
class Packed:
    """A piece that goes along: how many, what they weigh (None: nobody weighed it), and what it is for.

    ``missing`` is how many of them are not at hand; ``rent_per_day`` what one costs to rent.
    """

    id: str
    name: str
    kind: PieceKind
    count: int
    mass_g: float | None
    missing: int
    rent_per_day: float | None
    says: str


@frozen
class Shared:
    """A ring that several lenses use: who keeps it, and who borrows it from them."""

    adapter: str
    name: str
    copies: int
    stays_on: tuple[str, ...]
    borrowed_by: tuple[str, ...]


@frozen
class StepUp:
    """A front thread to be brought up, and the ring at hand that does it; None: there is none."""

    thread_mm: float
    ring: str | None


@frozen
class FilterSize:
    """One filter size for all lenses with a thread: the rings that bring them there, owned and missing.

    ``without`` are the lenses whose front nobody measured, or that have no thread.
    """

    size_mm: float | None
    steps: tuple[StepUp, ...]
    filters: tuple[str, ...]
    without: tuple[str, ...]


@frozen
class OutingReport:
    """The whole of an outing. ``mass_g`` is of all that was weighed; ``unweighed`` names the rest.

    ``given`` is the order as it stands, ``least`` the one that swaps least; ``at_home`` is what is owned and not
    needed; ``alike`` are pairs of rigs that see the same.
    """

    shots: tuple[ShotSeen, ...]
    packed: tuple[Packed, ...]
    mass_g: float
    unweighed: tuple[str, ...]
    shared: tuple[Shared, ...]
    filters: FilterSize
    batteries: tuple[str, ...]
    at_home: tuple[str, ...]
    at_home_g: float
    alike: tuple[str, ...]
    given: Ordered
    least: Ordered
    numbers: tuple[int, ...]
    names: dict[str, str]
    pieces: dict[str, PieceSeen]
    says: str


def outing_report(world: World, outing: Outing, practice: Practice) -> OutingReport:
    """What an outing comes to with the collection as it is today. A rig that is gone is said, and left out."""
    rigs = {rig.id: rig for rig in world.gear.rigs}
    shots = tuple(_shot(world, shot.name, rigs.get(shot.rig), shot.rig, practice) for shot in outing.shots)
    numbers = tuple(number for number, shot_seen in enumerate(shots) if shot_seen.lens is not None)
    there = [shots[number] for number in numbers]
    needed = _needed(world, there, outing)
    packed = tuple(_packed(world, needed, there))
    mountings = _mountings(world, there)
    copies = {piece.id: max(1, piece.at_hand) for piece in (*world.gear.lenses, *world.gear.adapters)}
    given = swaps_in_order(mountings, range(len(mountings)), copies)
    least = in_least_order(mountings, copies)
    known = [item.mass_g for item in packed if item.mass_g is not None]
    home = list(_at_home(world, needed))
    used = [id_ for shot_seen in there for id_ in (shot_seen.lens, shot_seen.body, *shot_seen.adapters) if id_]
    everything = _everything(world)
    return OutingReport(
        shots=shots,
        packed=packed,
        mass_g=math.fsum(known),
        unweighed=tuple(item.name for item in packed if item.mass_g is None),
        shared=tuple(_shared(world, there)),
        filters=_filters(world, there),
        batteries=tuple(_batteries(world, there)),
        at_home=tuple(piece.name for piece in home),
        at_home_g=math.fsum((piece.mass_g or 0.0) * piece.at_hand for piece in home),
        alike=tuple(_alike(world, there)),
        given=given,
        least=least,
        numbers=numbers,
        names={id_: everything[id_][1].name for id_ in (*used, *needed)},
        pieces={id_: _seen(world, id_) for id_ in dict.fromkeys(used)},
        says=_said(shots, packed, given, least),
    )


def _mountings(world: World, shots: Sequence[ShotSeen]) -> list[Mounting]:
    """What stands on each body for each shot. A ring that no other lens wants, or has a copy of, stays on its lens."""
    users: dict[str, set[str]] = defaultdict(set)
    for shot in shots:
        for id_ in shot.adapters:
            users[id_].add(shot.lens or "")
    mountings = []
    for shot in shots:
        own = list(
            itertools.takewhile(lambda id_: max(1, world.adapters[id_].at_hand) >= len(users[id_]), shot.adapters)
        )
        kept = " ".join((*reversed(own), shot.lens or ""))
        mountings.append(Mounting(shot.body or "", (*reversed(shot.adapters[len(own) :]), kept)))
    return mountings


def _everything(world: World) -> dict[str, tuple[PieceKind, PieceItem]]:
    gear = world.gear
    kinds: tuple[tuple[PieceKind, Sequence[PieceItem]], ...] = (
        ("bodies", gear.bodies),
        ("lenses", gear.lenses),
        ("adapters", gear.adapters),
        ("accessories", gear.accessories),
    )
    return {piece.id: (kind, piece) for kind, shelf in kinds for piece in shelf}


def _seen(world: World, id_: str) -> PieceSeen:
    for shelf in (world.lenses, world.adapters, world.bodies):
        if id_ in shelf:
            return piece_of(world, shelf[id_])
    raise KeyError(id_)


def _shot(world: World, name: str, rig: SavedRig | None, id_: str, practice: Practice) -> ShotSeen:
    if rig is None:
        return ShotSeen(name, id_, id_, None, None, (), (), None, None, None, "this rig is kept no more")
    adapters = tuple(world.adapter(adapter) for adapter in rig.adapters)
    route = judge(world, world.lens(rig.lens), adapters, world.body(rig.body), practice, detailed=False)
    return ShotSeen(
        name=name,
        rig=rig.id,
        rig_name=rig.name,
        lens=rig.lens,
        body=rig.body,
        adapters=tuple(rig.adapters),
        accessories=tuple(rig.accessories or ()),
        grade=route.grade,
        becomes_mm=route.ends[0].equivalents.focal_mm,
        section=route.section,
        says=route.sentence,
    )


def _needed(world: World, shots: Sequence[ShotSeen], outing: Outing) -> Counter[str]:
    """How many of each piece go along: of a ring as many as stand ready at once, as far as there are copies."""
    lenses: dict[str, set[str]] = defaultdict(set)
    names: Counter[str] = Counter()
    for shot in shots:
        for id_ in (shot.lens, shot.body, *shot.accessories):
            if id_ is not None:
                names[id_] = max(1, names[id_])
        for id_, count in Counter(shot.adapters).items():
            lenses[id_].add(shot.lens or "")
            names[id_] = max(names[id_], count)
    for id_, users in lenses.items():
        names[id_] = max(names[id_], min(len(users), world.adapters[id_].at_hand))
    known = _everything(world)
    for id_ in outing.spare:
        if id_ in known:
            names[id_] += 0 if id_ in names else 1
    return names


def _packed(world: World, needed: Counter[str], shots: Sequence[ShotSeen]) -> Iterator[Packed]:
    """What goes along, bodies first, each with the shots that it is for."""
    known = _everything(world)
    order = ("bodies", "lenses", "adapters", "accessories")
    for id_ in sorted(needed, key=lambda name: (order.index(known[name][0]), known[name][1].name)):
        kind, piece = known[id_]
        users = [shot.name for shot in shots if id_ in (shot.lens, shot.body, *shot.adapters, *shot.accessories)]
        count = needed[id_]
        yield Packed(
            id=id_,
            name=piece.name,
            kind=kind,
            count=count,
            mass_g=None if piece.mass_g is None else piece.mass_g * count,
            missing=max(0, count - piece.at_hand),
            rent_per_day=piece.rent_per_day,
            says=", ".join(dict.fromkeys(users)) or "spare",
        )


def _shared(world: World, shots: Sequence[ShotSeen]) -> Iterator[Shared]:
    """Rings that several lenses use. They stay on those with the most shots, as far as there are copies."""
    users: dict[str, Counter[str]] = defaultdict(Counter)
    for shot in shots:
        for id_ in set(shot.adapters):
            users[id_][shot.lens or ""] += 1
    for id_, lenses in users.items():
        if len(lenses) < 2:
            continue
        adapter = world.adapters[id_]
        copies = max(1, adapter.at_hand)
        ranked = [lens for lens, _ in sorted(lenses.items(), key=lambda pair: (-pair[1], pair[0]))]
        name = [world.lenses[name].name for name in ranked]
        yield Shared(id_, adapter.name, copies, tuple(name[:copies]), tuple(name[copies:]))


def _filters(world: World, shots: Sequence[ShotSeen]) -> FilterSize:
    """One size for all: the largest front thread, or a larger filter that is at hand, with step rings up to it."""
    lenses = [world.lenses[id_] for id_ in dict.fromkeys(shot.lens for shot in shots if shot.lens)]
    threads = sorted({lens.filter_thread_mm for lens in lenses if lens.filter_thread_mm is not None})
    without = tuple(lens.name for lens in lenses if lens.filter_thread_mm is None)
    if not threads:
        return FilterSize(None, (), (), without)
    at_hand = [accessory for accessory in world.gear.accessories if accessory.at_hand and not accessory.retired]
    filters = [accessory for accessory in at_hand if accessory.kind in FILTERS and accessory.rear_thread_mm is not None]
    sizes = [filter_.rear_thread_mm for filter_ in filters if filter_.rear_thread_mm is not None]
    size = min((size for size in sizes if size >= threads[-1]), default=threads[-1])
    steps = tuple(StepUp(thread, _step(at_hand, thread, size)) for thread in threads if thread != size)
    return FilterSize(
        size, steps, tuple(filter_.name for filter_ in filters if filter_.rear_thread_mm == size), without
    )


def _step(at_hand: Sequence[Accessory], thread: float, size: float) -> str | None:
    """A ring that is at hand from a lens's thread up to the size; None: there is none."""
    return next(
        (
            accessory.name
            for accessory in at_hand
            if accessory.kind == "step_ring"
            and accessory.rear_thread_mm == thread
            and accessory.front_thread_mm == size
        ),
        None,
    )


def _batteries(world: World, shots: Sequence[ShotSeen]) -> Iterator[str]:
    """Which batteries are drawn on: each body's, by its rings with contacts too."""
    for id_ in dict.fromkeys(shot.body for shot in shots if shot.body):
        body = world.bodies[id_]
        if not body.battery:
            continue
        rings = dict.fromkeys(
            adapter.name
            for shot in shots
            if shot.body == id_
            for adapter in (world.adapters[ring] for ring in shot.adapters)
            if _powered(adapter)
        )
        drawn = f", which feeds {', '.join(rings)} too" if rings else ""
        yield f"{body.name}{drawn}"


def _powered(adapter: Adapter) -> bool:
    return adapter.link in {"pass", "translate"}


def _at_home(world: World, needed: Counter[str]) -> Iterator[PieceItem]:
    """What is at hand and not needed."""
    for id_, (_, piece) in _everything(world).items():
        if piece.at_hand and not piece.retired and id_ not in needed:
            yield piece


def _alike(world: World, shots: Sequence[ShotSeen]) -> Iterator[str]:
    """Two rigs with one view: one of the lenses may stay at home."""
    seen: dict[tuple[str | None, str | None], ShotSeen] = {(shot.lens, shot.body): shot for shot in shots}
    rigs = list(seen.values())
    for number, rig in enumerate(rigs):
        for other in rigs[number + 1 :]:
            views = (rig.becomes_mm, other.becomes_mm)
            if rig.lens == other.lens or views[0] is None or views[1] is None or rig.lens is None or other.lens is None:
                continue
            if max(views[0], views[1]) / min(views[0], views[1]) <= 1 + ALIKE:
                yield (
                    f"{world.lenses[rig.lens].name} and {world.lenses[other.lens].name} see nearly the same: "
                    "one may stay at home"
                )


def _said(shots: Sequence[ShotSeen], packed: Sequence[Packed], given: Ordered, least: Ordered) -> str:
    if not shots:
        return "Nothing is planned yet: choose a rig for the first shot."
    known = math.fsum(item.mass_g for item in packed if item.mass_g is not None)
    some = any(item.mass_g is None for item in packed)
    weight = f"{'at least ' if some else ''}{known / 1000:.1f} kg"
    pieces = sum(item.count for item in packed)
    missing = sum(item.missing for item in packed)
    said = [f"{len(shots)} {'shots' if len(shots) > 1 else 'shot'}, {pieces} pieces, {weight}."]
    if given.swaps > least.swaps:
        said.append(f"{given.swaps} swaps as planned, {least.swaps} in the order that swaps least.")
    else:
        best = ", and no order needs fewer" if least.proven else ""
        said.append(f"{given.swaps} {'swaps' if given.swaps != 1 else 'swap'}{best}.")
    if missing:
        said.append(f"{missing} {'pieces are' if missing > 1 else 'piece is'} not owned.")
    gone = sum(shot.lens is None for shot in shots)
    if gone:
        said.append(f"{gone} {'shots have' if gone > 1 else 'shot has'} no rig any more.")
    return " ".join(said)
