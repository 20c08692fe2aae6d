"""The stored lenses of a body: which rigs share a place, what is stale, and what to overwrite.

Rigs need places of their own unless entry, format and travel agree. With fewer places than rigs those used last, then
most, keep one; pinned ones always.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from tropeion.core.becomes.becoming import settings_marked
from tropeion.core.becomes.reference import FULL_FRAME
from tropeion.core.frame.question import NotPossibleError
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import UnknownIdError, World
from tropeion.core.practice import Practice
from tropeion.core.records.card import Use
from tropeion.core.records.stored_lens import StoredLens
from tropeion.core.rig.assembly import Assembly
from tropeion.core.rig.ends import entry_at
from tropeion.core.rig.judgement import assess
from tropeion.core.rig.setting_steps import stored_name
from tropeion.core.working import PLAIN, tidy

Key = tuple[float, str, float]


@frozen
class RigAsked:
    """A rig on the body: what it is called, its lens, its adapters from the lens."""

    name: str
    lens: str
    adapters: tuple[str, ...]


@frozen
class Need:
    """An entry that one or several rigs want. ``at``: the place that holds it; ``into``: the place to put it in;
    ``gives_way``: its place is wanted by what was used later.

    ``rig`` and ``marked_mm`` are the first rig's; ``travel`` is a share of the stabiliser's travel. ``says`` tells why
    it goes there, or why it finds no place.
    """

    label: str
    rigs: tuple[str, ...]
    rig: str
    lens: str
    adapters: tuple[str, ...]
    marked_mm: float
    focal_length_mm: float
    area: str
    travel: float
    last: str | None
    at: int | None = None
    into: int | None = None
    gives_way: bool = False
    says: str = ""


@frozen
class Slot:
    """One place of the body, and what it holds; ``stale`` says what changed since, ``rigs`` which rigs it serves.

    ``version`` counts how often it was written: 0 where it never was.
    """

    number: int
    stored: StoredLens | None
    stale: str
    rigs: tuple[str, ...]
    last: str | None
    version: int


@frozen
class StoredReport:
    """The places of a body and what the rigs on it want stored. ``presets_mm``: a body that stores nothing has these.

    ``says`` is the answer in a sentence.
    """

    body: str
    body_name: str
    places: int
    name_length: int | None
    presets_mm: tuple[float, ...]
    slots: tuple[Slot, ...]
    needs: tuple[Need, ...]
    says: str


@dataclass
class _EntryWanted:
    """Needs that agree, before they are given places; each member with the setting of its ring, the name of its rig,
    and whether that ring has no other setting."""

    key: Key
    members: list[tuple[RigAsked, float, str, bool]] = field(default_factory=list)
    used: Use = field(default_factory=lambda: Use(0, ""))

    @property
    def rank(self) -> tuple[str, int]:
        return self.used.last, self.used.days


def rigs_on(world: World, body_id: str, lens_id: str | None = None, via: Sequence[str] = ()) -> tuple[RigAsked, ...]:
    """The kept rigs of a body, and the one that is looked at, kept or not. Raises UnknownIdError."""
    kept = [RigAsked(rig.name, rig.lens, tuple(rig.adapters)) for rig in world.gear.rigs if rig.body == body_id]
    if lens_id is None or any((rig.lens, rig.adapters) == (lens_id, tuple(via)) for rig in kept):
        return tuple(kept)
    return (*kept, RigAsked(world.lens(lens_id).name, lens_id, tuple(via)))


def check_place(body: Body, number: int, label: str) -> None:
    """Raises NotPossibleError for a place that a body has not, or a name that does not go into it."""
    stabiliser = body.stabiliser
    places = stabiliser.stored_lenses if stabiliser else 0
    most = stabiliser.name_length if stabiliser else None
    if number > places:
        raise NotPossibleError("number", f"{body.name} has {places} places")
    if most is not None and len(label) > most:
        raise NotPossibleError("label", f"names have at most {most} letters on {body.name}")


def stored_report(
    world: World,
    body_id: str,
    rigs: Sequence[RigAsked],
    stored: Sequence[StoredLens],
    used: Mapping[str, Use],
    practice: Practice,
    versions: Mapping[int, int] | None = None,
) -> StoredReport:
    """The table of a body's places. ``used`` tells of each rig, by its name, on how many days it was used.

    ``versions`` are those of the places that were ever filled, by their numbers.
    """
    body = world.body(body_id)
    stabiliser = body.stabiliser
    places = stabiliser.stored_lenses if stabiliser else 0
    wanted = _wanted(world, body_id, rigs, used, practice)
    held = {stored_lens.number: stored_lens for stored_lens in stored if stored_lens.number <= places}
    matched = {key: number for number, stored_lens in held.items() if (key := _key_of(stored_lens)) in wanted}
    # Those used last first, then those used most; else as the rigs stand.
    ranked = sorted(wanted.values(), key=lambda wanted: wanted.rank, reverse=True)
    into = _given(ranked, held, matched, places, used)
    needs = tuple(_need(world, body_id, wanted, matched.get(wanted.key), into, held, practice) for wanted in ranked)
    slots = tuple(
        _slot(world, number, held.get(number), wanted, used, (versions or {}).get(number, 0))
        for number in range(1, places + 1)
    )
    presets = (stabiliser.presets_mm or ()) if stabiliser else ()
    return StoredReport(
        body=body_id,
        body_name=body.name,
        places=places,
        name_length=stabiliser.name_length if stabiliser else None,
        presets_mm=presets,
        slots=slots,
        needs=needs,
        says=_said(body.name, places, bool(presets), needs, slots),
    )


def _wanted(
    world: World, body_id: str, rigs: Sequence[RigAsked], used: Mapping[str, Use], practice: Practice
) -> dict[Key, _EntryWanted]:
    all_wanted: dict[Key, _EntryWanted] = {}
    for asked in rigs:
        rig = _rig(world, body_id, asked, practice)
        name = Rig(asked.lens, body_id, asked.adapters).id
        entries = list(_entries(rig))
        for key, marked in entries:
            wanted = all_wanted.setdefault(key, _EntryWanted(key))
            wanted.members.append((asked, marked, name, len(entries) == 1))
            other = used.get(name, Use(0, ""))
            wanted.used = Use(wanted.used.days + other.days, max(wanted.used.last, other.last))
    return all_wanted


def _rig(world: World, body_id: str, asked: RigAsked, practice: Practice) -> Assembly:
    return assess(world, *world.pieces_of(Rig(asked.lens, body_id, asked.adapters)), practice).rig


def _entries(rig: Assembly) -> Iterator[tuple[Key, float]]:
    """What each setting of the ring wants stored, with the setting."""
    stabiliser = rig.body.stabiliser
    if stabiliser is None:
        return
    largest = max(stabiliser.travel_steps, default=1.0)
    for setting in settings_marked(rig, FULL_FRAME):
        entry = entry_at(rig, setting.focal_length_mm, PLAIN)
        if entry is not None:
            travel = largest if entry.travel_step is None else entry.travel_step
            yield (entry.entry_mm, rig.mode.name, travel), setting.marked_mm


def _key_of(stored: StoredLens) -> Key:
    return stored.focal_length_mm, stored.area, stored.travel


def _given(
    ranked: Sequence[_EntryWanted],
    held: Mapping[int, StoredLens],
    matched: Mapping[Key, int],
    places: int,
    used: Mapping[str, Use],
) -> dict[Key, tuple[int, str]]:
    """Where each need that is not stored goes, and why."""
    pinned = {number for number, stored_lens in held.items() if stored_lens.pinned}
    kept = [wanted for wanted in ranked if matched.get(wanted.key) in pinned]
    room = places - len(pinned)
    kept += [wanted for wanted in ranked if wanted not in kept][: max(0, room)]
    kept_keys = {wanted.key for wanted in kept}
    # What serves a need that stays, and what is pinned, is left alone.
    free = [number for number in range(1, places + 1) if number not in held]
    loose = sorted(
        (
            number
            for number, stored_lens in held.items()
            if number not in pinned
            and not (_key_of(stored_lens) in kept_keys and matched[_key_of(stored_lens)] == number)
        ),
        key=lambda number: (used.get(held[number].rig, Use(0, "")).last, number),
    )
    given: dict[Key, tuple[int, str]] = {}
    # An entry that changed goes where the old one stands, before anybody else takes the place.
    waiting = []
    for wanted in kept:
        own = next((number for number in loose if _was(held[number], wanted)), None)
        if wanted.key in matched:
            continue
        if own is None:
            waiting.append(wanted)
        else:
            loose.remove(own)
            given[wanted.key] = own, f"place {own} holds {held[own].focal_length_mm:g} mm for it, which has changed"
    for wanted in waiting:
        if free:
            given[wanted.key] = free.pop(0), "free"
        elif loose:
            number = loose.pop(0)
            last = used.get(held[number].rig, Use(0, "")).last
            when = f"used last on {last}" if last else "not used yet"
            given[wanted.key] = number, f"overwrites “{held[number].label}”, {when}"
    return given


def _was(stored: StoredLens, wanted: _EntryWanted) -> bool:
    """Whether a place was stored for one of these rigs, at this setting."""
    return any(
        name == stored.rig and (alone or tidy(marked - stored.marked_mm) == 0)
        for _, marked, name, alone in wanted.members
    )


def _need(
    world: World,
    body_id: str,
    wanted: _EntryWanted,
    at: int | None,
    into: Mapping[Key, tuple[int, str]],
    held: Mapping[int, StoredLens],
    practice: Practice,
) -> Need:
    asked, marked, name, _ = wanted.members[0]
    rig = _rig(world, body_id, asked, practice)
    focal, area, travel = wanted.key
    number, why = into.get(wanted.key, (None, ""))
    gives_way = at is not None and at in {place for place, _ in into.values()}
    if at is not None:
        says = f"stored as “{held[at].label}”{', and gives way to what was used later' if gives_way else ''}"
    elif number is None:
        says = "no place is left: enter it by hand" if rig.body.stabiliser and rig.body.stabiliser.stored_lenses else ""
    else:
        says = why
    return Need(
        label=stored_name(rig, marked),
        rigs=tuple(dict.fromkeys(rig.name for rig, *_ in wanted.members)),
        rig=name,
        lens=asked.lens,
        adapters=asked.adapters,
        marked_mm=marked,
        focal_length_mm=focal,
        area=area,
        travel=travel,
        last=wanted.used.last or None,
        at=at,
        into=number,
        gives_way=gives_way,
        says=says,
    )


def _slot(
    world: World,
    number: int,
    stored: StoredLens | None,
    wanted: Mapping[Key, _EntryWanted],
    used: Mapping[str, Use],
    version: int,
) -> Slot:
    if stored is None:
        return Slot(number, None, "", (), None, version)
    serves = wanted.get(_key_of(stored))
    rigs = () if serves is None else tuple(dict.fromkeys(rig.name for rig, *_ in serves.members))
    last = used.get(stored.rig, Use(0, "")).last or None
    return Slot(number, stored, "" if rigs else _stale(world, stored, wanted), rigs, last, version)


def _stale(world: World, stored: StoredLens, wanted: Mapping[Key, _EntryWanted]) -> str:
    """Why a place serves nothing any more."""
    now = next((key for key, place in wanted.items() if _was(stored, place)), None)
    if now is not None:
        focal, area, travel = now
        changed = []
        if tidy(focal - stored.focal_length_mm):
            changed.append(f"{stored.focal_length_mm:g} mm before, {focal:g} mm now")
        if area != stored.area:
            changed.append(f"area {stored.area} before, {area} now")
        if tidy(travel - stored.travel):
            changed.append(f"{stored.travel:.0%} of the travel before, {travel:.0%} now")
        return "; ".join(changed)
    try:
        world.pieces_of(Rig.read(stored.rig))
    except UnknownIdError:
        return "a piece of it is gone from the collection"
    return "no kept rig uses it"


def _said(body: str, places: int, presets: bool, needs: Sequence[Need], slots: Sequence[Slot]) -> str:
    if not needs:
        return f"No rig that is kept on {body} wants an entry."
    if places == 0:
        what = "has presets alone: choose the nearest" if presets else "stores no lenses: enter each by hand"
        return f"{body} {what}."
    stale = sum(bool(slot.stale) for slot in slots)
    unplaced = sum(need.gives_way or (need.at is None and need.into is None) for need in needs)
    open_needs = sum(need.at is None and need.into is not None for need in needs)
    said = [f"{len(needs)} {'entries' if len(needs) > 1 else 'entry'} for {places} places."]
    if open_needs:
        said.append(f"{open_needs} still to be stored.")
    if unplaced:
        said.append(f"{unplaced} {'find' if unplaced > 1 else 'finds'} no place.")
    if stale:
        said.append(f"{stale} {'places are' if stale > 1 else 'place is'} stale.")
    if not (open_needs or unplaced or stale):
        said.append("All are stored.")
    return " ".join(said)
