"""A piece's own record: what happened to it, who has it, and everything that was found with it, along the time."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date, timedelta
from typing import Final, Literal

from tropeion.core import written
from tropeion.core.frozen import frozen
from tropeion.core.gear.world import World
from tropeion.core.records.reading_series import ReadingSeries
from tropeion.core.records.trials import PieceEvent, Trial
from tropeion.core.records.usable_from import Dated

from .days import days_of
from .log_file import FiledEntry
from .log_words import name_of
from .trial_words import SOURCES, trial_said

RecordedKind = Literal["lenses", "bodies", "adapters"]
_SHELVES: Final[dict[str, RecordedKind]] = {
    "lens": "lenses",
    "lenses": "lenses",
    "body": "bodies",
    "bodies": "bodies",
    "adapter": "adapters",
    "adapters": "adapters",
}
# How long before its day something has to be given back is told on top.
SOON_DAYS: Final = 14
EVENT_SAYS: Final[dict[str, str]] = {
    "found": "found",
    "inherited": "inherited",
    "borrowed": "borrowed",
    "given_back": "given back",
    "bought": "bought",
    "converted": "converted",
    "coded": "coded",
    "modified": "modified",
    "serviced": "serviced",
    "measured": "measured",
    "checked": "checked",
    "lent": "lent",
    "returned": "returned",
    "damaged": "damaged",
    "sold": "sold",
}
# Who has it afterwards: oneself (None), or somebody else.
State = Literal["lent", "borrowed", "gone", "renew"]
_MOVES: Final[dict[str, State | Literal["here"]]] = {
    "found": "here",
    "inherited": "here",
    "bought": "here",
    "returned": "here",
    "lent": "lent",
    "borrowed": "borrowed",
    "given_back": "gone",
    "sold": "gone",
}


@frozen
class Happening:
    """Something in the life of a piece. ``event`` is the id of what was noted of it, which can be struck out."""

    on: str
    what: str
    says: str
    event: str | None = None


@frozen
class Whereabouts:
    """Where a piece is that is not simply one's own and here, or (``renew``) what of it has to be done again.

    ``due``: by when; ``soon``: that is near, or over.
    """

    kind: RecordedKind
    id: str
    name: str
    state: State
    due: str | None
    soon: bool
    says: str


def kind_of(event: PieceEvent) -> RecordedKind:
    """The shelf of the piece that an event is about."""
    return _SHELVES[event.piece.kind]


def event_said(event: PieceEvent) -> str:
    """An event in a line."""
    return ". ".join(part for part in (_moved(event), event.edition, event.note.rstrip(".")) if part) + "."


def _moved(event: PieceEvent) -> str:
    """What happened, by whom and until when."""
    by = f" {'from' if event.what in {'bought', 'borrowed', 'inherited'} else 'by'} {event.by}" if event.by else ""
    by = f" to {event.by}" if event.by and event.what in {"lent", "sold", "given_back"} else by
    said = [f"{EVENT_SAYS[event.what].capitalize()}{by}"]
    if event.price is not None:
        said.append(f"for {event.price:g}")
    if event.until is not None:
        said.append(f"until {event.until}" if event.what in {"lent", "borrowed"} else f"to be renewed by {event.until}")
    return ", ".join(said)


def life_of(
    world: World,
    kind: RecordedKind,
    id_: str,
    events: Iterable[tuple[str, PieceEvent]],
    series: Sequence[ReadingSeries],
    trials: Sequence[Dated],
    entries: Sequence[FiledEntry],
) -> tuple[Happening, ...]:
    """Everything that is known of a piece, the latest first; events with their ids."""
    told = [
        Happening(event.on, event.what, event_said(event), event_id)
        for event_id, event in events
        if (kind_of(event), event.piece.id) == (kind, id_)
    ]
    told += [
        Happening(one.day, "readings", f"{len(one.counting)} readings of its {one.quantity.replace('_', ' ')}.")
        for one in series
        if (one.piece_kind, one.piece) == (kind, id_) and not one.struck
    ]
    told += [
        Happening(one.day, "trial", f"Tried, {SOURCES[one.trial.source]}: {trial_said(one.trial)}.")
        for one in trials
        if not one.struck and _is_in(one.trial, kind, id_)
    ]
    mine = [entry for entry in entries if _is_in(entry, kind, id_)]
    for day in days_of(mine):
        of_day = [entry for entry in mine if entry.struck is None and entry.at[:10] == day.day]
        frames = sum(entry.frames for entry in of_day)
        others = dict.fromkeys(
            name_of(world, other) for entry in of_day for other in (entry.lens, *entry.via, entry.body) if other != id_
        )
        told.append(Happening(day.day, "pictures", f"{frames} frames, with {written.listed(list(others)[:5])}."))
    return tuple(sorted(told, key=lambda one: one.on, reverse=True))


def _is_in(rig: Trial | FiledEntry, kind: RecordedKind, id_: str) -> bool:
    match kind:
        case "lenses":
            return rig.lens == id_
        case "bodies":
            return rig.body == id_
        case "adapters":
            return id_ in rig.via


def whereabouts(world: World, events: Iterable[PieceEvent], today: date) -> tuple[Whereabouts, ...]:
    """What is lent, borrowed or gone, by the latest of its moves, and codes to be renewed; what is due first first."""
    last: dict[tuple[RecordedKind, str, bool], PieceEvent] = {}
    for event in events:
        key = kind_of(event), event.piece.id, event.what == "coded"
        if event.what in {*_MOVES, "coded"} and (key not in last or event.on >= last[key].on):
            last[key] = event
    found = []
    for (kind, id_, coded), event in last.items():
        state: State | Literal["here"] = "renew" if coded else _MOVES[event.what]
        if state == "here" or (coded and event.until is None):
            continue
        due = event.until if state != "gone" else None
        soon = due is not None and date.fromisoformat(due) <= today + timedelta(days=SOON_DAYS)
        late = due is not None and date.fromisoformat(due) < today
        says = f"{_moved(event)}{': it is overdue' if late else ''}"
        if coded and not soon:
            continue
        found.append(Whereabouts(kind, id_, name_of(world, id_), state, due, soon, says))
    return tuple(sorted(found, key=lambda one: (one.due or "9999", one.name)))
