"""What would have to exist, or to be done, for a pair that nothing joins to infinity: tried, and told with its end.

A piece that does not exist is put together as it would have to be and judged like any other; what would not help is
not told, but for the reason why it cannot be made.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from tropeion.core import findings, written
from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.change import Change, changed, with_piece
from tropeion.core.gear.changed import changed_id, part_of
from tropeion.core.gear.items import SwappableMount
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.joints.mechanics import STACKED_RING_MM, has_room, smallest_ring_mm
from tropeion.core.keeping import kept
from tropeion.core.optics import register
from tropeion.core.optics.seats import seat_of
from tropeion.core.practice import Practice
from tropeion.core.words import word
from tropeion.core.working import tidy

from .judgement import Assessment, assess
from .rig_report import NeededPiece, WouldNeed
from .unlisted import HELICOID_MM, made_ring, opening_of, ring_kinds
from .verdict import span_of

# The pieces of which nobody has listed one, by what they would be.
_MADE = "made"
# What correcting glass usually magnifies by.
_USUAL_CORRECTION = 1.25


@frozen
class _PairApart:
    """What is asked about, with what both ends come to."""

    world: World
    lens: Lens
    body: Body
    practice: Practice
    lens_mount: Mount
    body_mount: Mount
    seat_mm: float
    rear_mm: float

    @property
    def gap_mm(self) -> float:
        return register.gap_mm(self.seat_mm, self.rear_mm)

    @property
    def least_mm(self) -> float | None:
        return smallest_ring_mm(self.world.structure, self.lens_mount, self.body_mount)

    @property
    def names(self) -> str:
        return f"from {self.lens_mount.name} to {self.body_mount.name}"

    def piece(self, length_mm: float, does: Mapping[str, object], glass: Mapping[str, object]) -> Adapter:
        """A piece between the two that is not listed."""
        ring = made_ring(self.world, self.lens_mount, self.body_mount, length_mm, does)
        return Adapter.model_validate({**ring.model_dump(), "id": _MADE, "owned": 1, **glass}) if glass else ring

    def judged(self, piece: Adapter) -> Assessment:
        """The pair with such a piece between them."""
        there = self.world.adapters.get(piece.id) is not None
        return assess(
            self.world if there else with_piece(self.world, piece), self.lens, (piece,), self.body, self.practice
        )


def what_would_be_needed(world: World, lens: Lens, body: Body, practice: Practice) -> tuple[WouldNeed, ...]:
    """The ring, correcting glass, close-up, a reversible change of mount or plate, one plate for both."""
    return _all_needs(world, lens.id, body.id, practice)


@kept(most=200)
def _all_needs(world: World, lens_id: str, body_id: str, practice: Practice) -> tuple[WouldNeed, ...]:
    return tuple(needs_of(world, world.lens(lens_id), world.body(body_id), practice))


def needs_of(world: World, lens: Lens, body: Body, practice: Practice) -> Iterator[WouldNeed]:
    """The same, each tried when it is asked for."""
    lens_mount, body_mount = world.mount_of(lens), world.mount_of(body)
    seat, rear = seat_of(lens, lens_mount), seat_of(body, body_mount)
    pair = _PairApart(world, lens, body, practice, lens_mount, body_mount, seat.register_mm, rear.register_mm)
    return _needs(pair) if seat.known and rear.known else _swaps(pair)


def _needs(pair: _PairApart) -> Iterator[WouldNeed]:
    yield from _swaps(pair)
    gap, least, lens = pair.gap_mm, pair.least_mm, pair.lens
    if gap > 0:
        yield from _helicoid(pair) if lens.focus == "none" else _ring(pair)
    if has_room(gap, least) or pair.lens_mount.joint == pair.body_mount.joint:
        return
    yield from _close_up(pair, STACKED_RING_MM if least is None else least)
    yield from _correcting(pair, STACKED_RING_MM if least is None else least)
    known = pair.lens_mount.tolerance_or_usual_mm + pair.body_mount.tolerance_or_usual_mm
    if tidy(abs(gap) - known) <= 0:
        yield _shared_plate(pair)


def _variants(
    pair: _PairApart, kind: str, length_mm: float, glass: Mapping[str, object] | None = None
) -> Sequence[tuple[str, Adapter]]:
    """The plainest piece first, then what sets its aperture, then what speaks for it; each with what it is called."""
    return [
        (f"{kind}{_besides(does)}", pair.piece(length_mm, does, glass or {}))
        for does in ring_kinds(pair.world, pair.lens, pair.body)
    ]


def _besides(does: Mapping[str, object]) -> str:
    """What a ring does besides, in words."""
    if does.get("aperture_control") == "lever_ring":
        return " with a ring for its iris"
    if does.get("aperture_control") == "pin_press":
        return " that presses its pin"
    return " with contacts that speak for the lens" if "link" in does else ""


def _best(pair: _PairApart, variants: Sequence[tuple[str, Adapter]]) -> tuple[str, Adapter, Assessment]:
    """The plainest of those that come to the best grade."""
    judged = [(name, piece, pair.judged(piece)) for name, piece in variants]
    return max(judged, key=lambda entry: findings.rank(entry[2].grade))


def _comes_to(grade: Grade) -> str:
    return f" It would come to: {word(grade)}."


def _tried(need: WouldNeed, piece: Adapter, judged: Assessment) -> WouldNeed:
    """What would be needed, with the piece that was tried and what it comes to."""
    return replace(need, grade=judged.grade, piece=NeededPiece.of(piece))


def _ring(pair: _PairApart) -> Iterator[WouldNeed]:
    gap, least = pair.gap_mm, pair.least_mm
    practical = has_room(gap, least)
    name, piece, judged = _best(pair, _variants(pair, "plain ring", gap))
    name = name.removeprefix("plain ") if name != "plain ring" else name
    text = f"A {name} {pair.names}, {written.millimetres(gap)} long."
    sold_as = _search_for(pair.lens_mount, pair.body_mount)
    if practical is False and least is not None:
        text += f" Two couplings leave no room for that: about {written.millimetres(least)} is the least practical."
        yield WouldNeed("ring", text, length_mm=gap, practical=False, search_for=sold_as)
        return
    if not findings.works(judged.grade):
        return
    if practical is None:
        text += " Whether two couplings leave room for that is not known: their widths are not stated."
    text += _comes_to(judged.grade)
    yield _tried(WouldNeed("ring", text, length_mm=gap, practical=practical, search_for=sold_as), piece, judged)


def _helicoid(pair: _PairApart) -> Iterator[WouldNeed]:
    """For a lens that nothing focuses: a helicoid, and how far it has to open for a metre or ten focal lengths."""
    gap = pair.gap_mm
    travel, near = opening_of(pair.lens)
    least = STACKED_RING_MM if pair.least_mm is None else pair.least_mm
    practical = gap >= least + HELICOID_MM
    _, piece, judged = _best(pair, _variants(pair, "helicoid", gap))
    text = (
        f"The lens has no focusing of its own: a helicoid {pair.names}, at most {written.millimetres(gap)} closed, "
        f"that opens by {written.millimetres(travel)} for everything from "
        f"{written.distance(near, pair.practice.distances)} to infinity."
    )
    if not practical:
        text += f" There is hardly room: about {written.millimetres(least + HELICOID_MM)} is the least practical."
        yield WouldNeed("helicoid", text, length_mm=gap, practical=False, near_mm=near)
    elif findings.works(judged.grade):
        text += _comes_to(judged.grade)
        yield _tried(WouldNeed("helicoid", text, length_mm=gap, practical=True, near_mm=near), piece, judged)


def _close_up(pair: _PairApart, length_mm: float) -> Iterator[WouldNeed]:
    """The shortest practical ring, and what would be sharp with it in front of the lens, if anything is."""
    _, piece, judged = _best(pair, _variants(pair, "plain ring", length_mm))
    reach = judged.ends[0].reach
    ring = f"the shortest practical ring {pair.names}, about {written.millimetres(length_mm)}"
    if reach.state == "inside":
        text = f"No ring for close-up: with {ring}, all that would be sharp lies inside the lens."
        yield WouldNeed("close_up", text, length_mm=length_mm, practical=False)
    elif findings.works(judged.grade) or judged.grade == "close_up":
        text = f"For close-up alone, {ring}."
        if reach.far_mm is not None:
            text += f" It would be sharp {span_of(reach, pair.practice)}."
        need = WouldNeed(
            "close_up", text, length_mm=length_mm, practical=True, near_mm=reach.near_mm, far_mm=reach.far_mm
        )
        yield _tried(need, piece, judged)


def _correcting(pair: _PairApart, length_mm: float) -> Iterator[WouldNeed]:
    """Glass that carries the image on; how much it magnifies is what such glass usually does."""
    glass = {
        "optics": "correcting",
        "magnification": _USUAL_CORRECTION,
        "register_in_mm": pair.seat_mm,
        "register_out_mm": pair.rear_mm,
    }
    _, piece, judged = _best(pair, _variants(pair, "adapter with correcting glass", length_mm, glass))
    if findings.works(judged.grade):
        text = (
            f"An adapter with correcting glass {pair.names}: longer (about {_USUAL_CORRECTION:g} times, as is usual), "
            f"darker, and softer wide open.{_comes_to(judged.grade)}"
        )
        yield _tried(WouldNeed("correcting_glass", text, practical=True), piece, judged)


def _shared_plate(pair: _PairApart) -> WouldNeed:
    """One plate for both: the lens as if it had the body's own mount."""
    lens, body = pair.lens, pair.body
    plated = changed(pair.world, Change(plates=((lens.id, pair.body_mount.id),)))
    judged = assess(plated, plated.lens(changed_id(lens, pair.body_mount.id)), (), body, pair.practice)
    text = (
        f"{pair.lens_mount.name} and {pair.body_mount.name} have the same {word('flange_focal_distance')}: one plate "
        "could take both bayonets. Such work belongs with a qualified repairer."
    )
    need = WouldNeed("shared_plate", text, practical=False, reversible=False, mount=pair.body_mount.id)
    if not findings.works(judged.grade):
        return replace(
            need,
            text=f"{pair.lens_mount.name} and {pair.body_mount.name} have the same {word('flange_focal_distance')}, "
            f"but only lenses set by hand gain from that: {lens.name} is not one.",
            mount=None,
        )
    by_hand = "" if findings.rank(judged.grade) > findings.rank("manual") else " Only what is set by hand works so."
    return replace(need, text=f"{text}{_comes_to(judged.grade)}{by_hand}", grade=judged.grade)


def _search_for(lens_mount: Mount, body_mount: Mount) -> tuple[str, ...]:
    """What a seller may call a ring between two mounts, each end by its name and by its short names."""
    front = [lens_mount.name, *lens_mount.aliases[:1]]
    rear = [body_mount.name, *body_mount.aliases[:2]]
    by_name = f"{front[0]} lens to {rear[0]} body adapter"
    short = [f"{front[-1]}–{name} adapter" for name in rear[1:] or rear]
    thread = lens_mount.thread
    screw = [] if thread is None else [f"{thread.diameter_mm:g} × {thread.pitch_mm:g} to {rear[0]} adapter"]
    return (by_name, *short, *screw)


def _swaps(pair: _PairApart) -> Iterator[WouldNeed]:
    """Reversible changes of the lens's mount or the body's plate, after which something usable joins them."""
    for item in (pair.lens, pair.body):
        for swap in item.swappable_mounts:
            swaps = _through(pair, item, swap)
            if swaps is not None and findings.works(swaps[1].grade):
                yield _swap(pair, item, swap, *swaps)


def _through(pair: _PairApart, item: Lens | Body, swap: SwappableMount) -> tuple[Adapter | None, Assessment] | None:
    """What joins the two best once the mount is changed: nothing between, or one adapter; None where nothing does."""
    world, of_lens = pair.world, item is pair.lens
    lens = world.lens(changed_id(item, swap.mount)) if of_lens else pair.lens
    body = pair.body if of_lens else world.body(changed_id(item, swap.mount))
    ends = world.mount_of(lens).joint, world.mount_of(body).joint
    if ends[0] == ends[1]:
        return None, assess(world, lens, (), body, pair.practice)
    able = [adapter for adapter in world.structure.adapters_by_joints.get(ends, ()) if not adapter.retired]
    judged = [(adapter, assess(world, lens, (adapter,), body, pair.practice)) for adapter in able]
    return max(judged, key=lambda pair: findings.rank(pair[1].grade), default=None)


def _swap(
    pair: _PairApart, item: Lens | Body, swap: SwappableMount, through: Adapter | None, judged: Assessment
) -> WouldNeed:
    of_lens = item is pair.lens
    joins = "Then they join without an adapter" if through is None else f"Then {through.name} joins them"
    minutes = f"{swap.minutes} minutes" if swap.minutes is not None else ""
    effort, to = ", ".join(part for part in (swap.tools, minutes) if part), pair.world.mounts[swap.mount].name
    return WouldNeed(
        "swap_lens_mount" if of_lens else "swap_body_plate",
        f"Change the {part_of(item)} of {item.name} to {to} ({effort or 'reversible'}). {joins}: {word(judged.grade)}. "
        "Opening down, screws crosswise, contacts matched; it can be undone.",
        practical=True,
        mount=swap.mount,
        price=swap.price,
        minutes=swap.minutes,
        reversible=True,
        lens=changed_id(item, swap.mount) if of_lens else pair.lens.id,
        body=pair.body.id if of_lens else changed_id(item, swap.mount),
        grade=judged.grade,
        via=() if through is None else (through.id,),
    )
