"""The rig in hand, as the log asks after it: what can be set on it, and what it cannot have."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Final

from tropeion.core.frozen import frozen
from tropeion.core.gear.accessories import FILTERS
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.optics.modes import modes_of
from tropeion.core.records.logged import Logged
from tropeion.core.rig.ends import marked_settings, widest_at
from tropeion.core.working import tidy

from .rig_facts import RigReader

# Where nobody noted the marks of a ring: whole stops between its ends.
_WHOLE_STOPS: Final = (1.0, 1.4, 2.0, 2.8, 4.0, 5.6, 8.0, 11.0, 16.0, 22.0, 32.0, 45.0, 64.0, 90.0, 128.0)


@frozen
class ToldAtMark:
    """What the body goes by at a mark of the lens; None: it is told nothing."""

    mark_mm: float
    told_mm: float | None


@frozen
class InHand:
    """A rig in hand. ``stops_assumed``: nobody noted what is on its ring. Empty lists: there is nothing to choose.

    ``via_unknown`` names pieces that the collection does not have.
    """

    lens: str
    body: str
    via: tuple[str, ...]
    lens_name: str
    body_name: str
    via_names: tuple[str, ...]
    unknown: tuple[str, ...]
    stops: tuple[float, ...]
    stops_assumed: bool
    marks_mm: tuple[float, ...]
    distances_m: tuple[float, ...]
    tells: tuple[ToldAtMark, ...]
    focus_aids: tuple[str, ...]
    film: bool
    modes: tuple[str, ...]
    seats: int
    filters: tuple[str, ...]
    shifts_mm: float
    tilts_deg: float
    travel_steps: tuple[float, ...]
    holders: tuple[str, ...]


@frozen
class CannotHave:
    """What a rig cannot have: the field of the entry, and why."""

    field: str
    text: str


def in_hand(world: World, rig: Rig) -> InHand:
    """What can be noted of a rig; of pieces that the collection does not have nothing but their ids."""
    facts = RigReader(world).of(rig.body, rig.lens, rig.adapters)
    lens, body = facts.lens, facts.body
    pieces = {id_: world.adapters.get(id_) for id_ in rig.adapters}
    ends = ((rig.lens, lens), (rig.body, body))
    unknown = [id_ for id_, piece in (*ends, *pieces.items()) if piece is None]
    marks = () if lens is None else marked_settings(lens)
    return InHand(
        lens=rig.lens,
        body=rig.body,
        via=rig.adapters,
        lens_name=rig.lens if lens is None else lens.name,
        body_name=rig.body if body is None else body.name,
        via_names=tuple(id_ if piece is None else piece.name for id_, piece in pieces.items()),
        unknown=tuple(unknown),
        stops=() if lens is None else stops_of(lens),
        stops_assumed=lens is not None and not lens.marked_f_numbers and lens.f_number[0] < lens.f_number[1],
        marks_mm=marks if len(marks) > 1 else (),
        distances_m=() if lens is None else tuple(lens.marked_distances_m or ()),
        tells=tuple(ToldAtMark(mark, facts.told_mm(mark)) for mark in marks),
        focus_aids=_focus_aids(body),
        film=body is not None and body.kind == "film",
        modes=_modes(body),
        seats=_seats(world, body),
        filters=_filters(world, rig),
        shifts_mm=_most(lens, pieces.values(), "shift_mm"),
        tilts_deg=_most(lens, pieces.values(), "tilt_deg"),
        travel_steps=() if body is None or body.stabiliser is None else tuple(body.stabiliser.travel_steps),
        holders=_holders(world, lens),
    )


def stops_of(lens: Lens) -> tuple[float, ...]:
    """The stops on a lens's ring; whole stops between its ends where nobody noted them."""
    if lens.marked_f_numbers:
        return tuple(sorted(set(lens.marked_f_numbers)))
    widest, smallest = lens.f_number
    between = (stop for stop in _WHOLE_STOPS if widest < stop < smallest)
    return tuple(sorted({widest, *between, smallest}))


def _focus_aids(body: Body | None) -> tuple[str, ...]:
    """How the focus was found, as the log writes it; a screen and the scale of the lens are always there."""
    if body is None:
        return ("magnifier", "peaking", "scale", "screen")
    if body.kind == "film":
        return ("screen", "rangefinder", "scale")
    aids = [aid for aid in ("magnifier", "peaking") if aid in body.focus_aids]
    return (*aids, "screen", "scale")


def _modes(body: Body | None) -> tuple[str, ...]:
    if body is None:
        return ()
    names = dict.fromkeys(mode.name for use in ("still", "film") for mode in modes_of(body, use))
    return tuple(names) if len(names) > 1 else ()


def _seats(world: World, body: Body | None) -> int:
    mount = None if body is None else world.mounts.get(body.mount)
    return 1 if mount is None else mount.positions


def _filters(world: World, rig: Rig) -> tuple[str, ...]:
    """The places of filter slots in the chain, then filters that are owned."""
    pieces = [piece for id_ in rig.adapters if (piece := world.adapters.get(id_)) is not None]
    places = [place.name for piece in pieces if piece.filter_slot is not None for place in piece.filter_slot.positions]
    owned = [one.name for one in world.gear.accessories if one.kind in FILTERS and one.owned and not one.retired]
    return tuple(dict.fromkeys([*places, *owned]))


def _most(lens: Lens | None, adapters: object, field: str) -> float:
    pieces = [lens, *adapters]  # type: ignore[misc]
    return max((getattr(piece, field) for piece in pieces if piece is not None), default=0.0)


def _holders(world: World, lens: Lens | None) -> tuple[str, ...]:
    """Bodies that set the aperture of a lens and keep it so when it is taken off."""
    if lens is None or lens.aperture in {"ring", "none"} or lens.iris_at_rest != "stays":
        return ()
    return tuple(body.id for body in world.gear.bodies if body.holds_iris and body.mount == lens.mount)


def cannot_have(world: World | None, entry: Logged) -> list[CannotHave]:
    """What a rig cannot have: a stop that its ring lacks, a mark outside its range, a mode, a travel, a seat."""
    return [] if world is None else list(_cannot(world, entry))


def _cannot(world: World, entry: Logged) -> Iterator[CannotHave]:
    hand = in_hand(world, Rig(entry.lens, entry.body, entry.via))
    lens, body = world.lenses.get(entry.lens), world.bodies.get(entry.body)
    if lens is not None:
        yield from _of_the_lens(lens, entry)
    if body is not None and entry.mode is not None and entry.mode not in (hand.modes or ("full",)):
        yield CannotHave("mode", f"{body.name} has no mode “{entry.mode}”")
    if hand.travel_steps and entry.travel is not None and entry.travel not in {0.0, *hand.travel_steps}:
        yield CannotHave("travel", f"{hand.body_name} has no step of {entry.travel:.0%}")
    if entry.seat is not None and entry.seat > hand.seats:
        yield CannotHave("seat", f"its mount takes a lens in {hand.seats} way{'' if hand.seats == 1 else 's'}")
    if entry.shift_mm is not None and max(abs(value) for value in entry.shift_mm) > hand.shifts_mm and not hand.unknown:
        yield CannotHave("shift_mm", f"nothing of it shifts more than {hand.shifts_mm:g} mm")
    if entry.tilt_deg is not None and abs(entry.tilt_deg) > hand.tilts_deg and not hand.unknown:
        yield CannotHave("tilt_deg", f"nothing of it tilts more than {hand.tilts_deg:g}°")


def _of_the_lens(lens: Lens, entry: Logged) -> Iterator[CannotHave]:
    short, long = lens.focal_length_mm
    mark = entry.focal_length_mm
    if mark is not None and not short <= mark <= long:
        span = f"{short:g} to {long:g} mm" if lens.is_zoom else f"{short:g} mm"
        yield CannotHave("focal_length_mm", f"{lens.name} has {span}, not {mark:g} mm")
        mark = None
    stop = entry.aperture
    if stop is None:
        return
    widest, smallest = widest_at(lens, mark or short), lens.f_number[1]
    if tidy(widest - stop) > 0 or tidy(stop - smallest) > 0:
        yield CannotHave("aperture", f"{lens.name} has f/{widest:g} to f/{smallest:g}, not f/{stop:g}")
    elif lens.marked_f_numbers and stop not in lens.marked_f_numbers and stop != lens.f_number_at_long_end:
        stops = ", ".join(f"{one:g}" for one in sorted(lens.marked_f_numbers))
        yield CannotHave("aperture", f"f/{stop:g} is not on the ring of {lens.name}: {stops}")
