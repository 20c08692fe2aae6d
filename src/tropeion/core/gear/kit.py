"""Single items in and out of a collection, and who uses them."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Container, Iterable
from typing import Final

from tropeion.core.frozen import frozen

from .accessories import Accessory, Foil, Pair
from .adapters import Adapter
from .bodies import Body
from .gear import Gear, SavedRig
from .items import Evidence, PieceItem
from .kinds import KINDS, SINGULAR, Kind
from .lenses import Lens
from .mounts import Mount, Protocol
from .naming import named_in
from .world import UnknownIdError, nearest

Entry = Protocol | Mount | Body | Lens | Adapter | Accessory | Foil | Pair | SavedRig
MODELS: Final[dict[Kind, type[Entry]]] = dict(
    zip(KINDS, (Protocol, Mount, Body, Lens, Adapter, Accessory, Foil, Pair, SavedRig), strict=True)
)


@frozen
class User:
    """An item that cannot be without another one, and how it uses it."""

    kind: Kind
    id: str
    name: str
    how: str


def items(gear: Gear, kind: Kind) -> tuple[Entry, ...]:
    """One shelf, in the order of the gear file."""
    all_items: tuple[Entry, ...] = getattr(gear, kind)
    return all_items


def find(gear: Gear, kind: Kind, id_: str) -> Entry:
    """One item. Raises UnknownIdError."""
    for item in items(gear, kind):
        if item.id == id_:
            return item
    raise UnknownIdError(SINGULAR[kind], id_, nearest(id_, [item.id for item in items(gear, kind)]))


def with_entry(gear: Gear, kind: Kind, id_: str, entry: Entry | None) -> Gear:
    """The collection with one item put in its place, added last, or (None) taken out. References are not checked."""
    return with_entries(gear, [(kind, id_, entry)])


def with_entries(gear: Gear, entries: Iterable[tuple[Kind, str, Entry | None]]) -> Gear:
    """The same with many items; of one that comes twice the last counts."""
    changed: dict[Kind, dict[str, Entry | None]] = {}
    for kind, id_, entry in entries:
        changed.setdefault(kind, {})[id_] = entry
    shelves: dict[str, tuple[Entry, ...]] = {}
    for kind, by_id in changed.items():
        stand = [by_id.pop(item.id) if item.id in by_id else item for item in items(gear, kind)]
        shelves[kind] = tuple(item for item in (*stand, *by_id.values()) if item is not None)
    return gear.model_copy(update=shelves)


class FreeIds:
    """Ids made of names, each given once; as fast for the thousandth of one name as for the first."""

    def __init__(self, taken: Iterable[str]) -> None:
        self._taken = set(taken)
        self._next: dict[str, int] = {}

    def hold(self, id_: str) -> None:
        """Mark an id as taken."""
        self._taken.add(id_)

    def take(self, name: str) -> str:
        """An id made of a name, that is not taken."""
        plain = "".join(c for c in unicodedata.normalize("NFKD", name[:200].casefold()) if not unicodedata.combining(c))
        stem = re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:56] or "item"
        id_, number = stem, self._next.get(stem, 2)
        while id_ in self._taken:
            id_, number = f"{stem}-{number}", number + 1
        self._next[stem] = number
        self._taken.add(id_)
        return id_


def free_id(name: str, taken: Iterable[str]) -> str:
    """An id made of a name, that is not taken."""
    return FreeIds(taken).take(name)


def users_of(gear: Gear, kind: Kind, id_: str) -> tuple[User, ...]:
    """Everything that refers to an item, in the order of a gear file, each with the first of its reasons."""
    return users_of_each(gear, [(kind, id_)])[kind, id_]


def users_of_each(gear: Gear, wanted: Iterable[tuple[Kind, str]]) -> dict[tuple[Kind, str], tuple[User, ...]]:
    """The same of many items, in one walk through the collection."""
    all_users: dict[tuple[Kind, str], dict[tuple[Kind, str], User]] = {pair: {} for pair in wanted}
    for holder in KINDS:
        for entry in items(gear, holder):
            own = (holder, entry.id)
            for named in named_in(entry):
                for kind in named.ref.kinds:
                    users = all_users.get((kind, named.id))
                    if users is not None and (kind, named.id) != own:
                        users.setdefault(own, User(holder, entry.id, entry.name, named.ref.how))
    return {pair: tuple(users.values()) for pair, users in all_users.items()}


def needs_of(entry: Entry) -> tuple[tuple[tuple[Kind, ...], str], ...]:
    """Everything that one item cannot be without: of which kinds it may be, and its id."""
    return tuple((named.ref.kinds, named.id) for named in named_in(entry) if not named.ref.weak)


def selection(gear: Gear, kind: Kind, ids: Container[str]) -> Gear:
    """Some items of a kind, with all they need, as a collection of its own.

    Evidence that names pieces which stay behind is kept without their names.
    """
    wanted: dict[tuple[Kind, str], None] = {(kind, item.id): None for item in items(gear, kind) if item.id in ids}
    known = {(each_kind, item.id): item for each_kind in KINDS for item in items(gear, each_kind)}
    waiting = list(wanted)
    while waiting:
        for kinds, id_ in needs_of(known[waiting.pop()]):
            need = next((kind, id_) for kind in kinds if (kind, id_) in known)
            if need not in wanted:
                wanted[need] = None
                waiting.append(need)
    held = {id_ for _, id_ in wanted}
    return gear.model_copy(
        update={
            each_kind: tuple(_alone(item, held) for item in items(gear, each_kind) if (each_kind, item.id) in wanted)
            for each_kind in KINDS
        }
    )


def _alone(entry: Entry, held: Container[str]) -> Entry:
    if not isinstance(entry, PieceItem) or not entry.evidence:
        return entry
    return entry.model_copy(update={"evidence": tuple(_without(evidence, held) for evidence in entry.evidence)})


def _without(evidence: Evidence, held: Container[str]) -> Evidence:
    return evidence.model_copy(update={"with_": tuple(id_ for id_ in evidence.with_ if id_ in held)})
