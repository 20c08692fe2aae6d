"""Whether a collection refers only to what it holds. All errors at once, each with its place."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence

from tropeion.core.frozen import frozen

from .bodies import Body
from .changed import change_in, swap_of
from .gear import Gear, SavedRig
from .kinds import KINDS, SINGULAR, Kind, Local, Ref
from .kit import items
from .lenses import Lens
from .mounts import Mount
from .naming import names_in
from .world import nearest


@frozen
class ReferenceProblem:
    """Something wrong in a collection: where, what, and what would be right."""

    place: str
    message: str
    hint: str = ""

    def __str__(self) -> str:
        return f"{self.place}: {self.message}" + (f" ({self.hint})" if self.hint else "")


def check_references(gear: Gear) -> tuple[ReferenceProblem, ...]:
    """Duplicate ids and references to nothing, in the order of the file."""
    return tuple(_problems(gear, _Near()))


class _Near:
    """What was likely meant, for the first few: it takes a look at every id there is."""

    def __init__(self) -> None:
        self._left = 50

    def hint(self, id_: str, known: Iterable[str]) -> str:
        self._left -= 1
        near = nearest(id_, sorted(known), 1) if self._left >= 0 else ()
        return f"did you mean '{near[0]}'?" if near else ""


@frozen
class _Parts:
    """The parts of one mount, to be looked up."""

    generations: frozenset[str]
    features: Mapping[str | None, frozenset[str]]


def _parts_of(mount: Mount) -> _Parts:
    sides: dict[str | None, frozenset[str]] = {
        side: frozenset(feature.id for feature in mount.features if side in {None, feature.side})
        for side in (None, "lens", "body")
    }
    return _Parts(frozenset(generation.id for generation in mount.generations), sides)


def _problems(gear: Gear, near: _Near) -> Iterator[ReferenceProblem]:
    ids = {kind: [item.id for item in items(gear, kind)] for kind in KINDS}
    for kind in KINDS:
        yield from _duplicates(kind, ids[kind])
    yield from _within_mounts(gear)
    mountless = {lens.id for lens in gear.lenses if lens.mount is None}
    known: dict[Kind, frozenset[str]] = {kind: frozenset(names) for kind, names in ids.items()}
    mounts = {mount.id: mount for mount in gear.mounts}
    parts = {mount.id: _parts_of(mount) for mount in gear.mounts}
    changeable: dict[str, Lens | Body] = {
        lens.id: lens for lens in gear.lenses if lens.swappable_mounts or lens.mount is None
    }
    changeable |= {body.id: body for body in gear.bodies if body.swappable_mounts}
    owners = {generation.id: mount.id for mount in gear.mounts for generation in mount.generations}
    for kind in KINDS:
        for number, entry in enumerate(items(gear, kind)):
            if isinstance(entry, SavedRig):
                yield from _changes(f"{kind}[{number}]", entry, changeable, mounts)
            for place, id_, mark in names_in(entry):
                if isinstance(mark, Ref):
                    if kind == "rigs" and id_ in mountless and id_ == getattr(entry, "lens", None):
                        said = f"'{id_}' has no mount of its own"
                        yield ReferenceProblem(f"{kind}[{number}].{place}", said, "a rig is joined by mounts")
                    if not any(id_ in known[kind] for kind in mark.kinds):
                        yield _unnamed(f"{kind}[{number}].{place}", id_, mark.kinds, known, near)
                    continue
                owner = entry if mark.owner is None else mounts.get(getattr(entry, mark.owner))
                # A mount that is not there is a problem of its own.
                if isinstance(owner, Mount):
                    yield from _part(f"{kind}[{number}].{place}", id_, mark, owner, parts[owner.id], owners, near)


def _changes(
    place: str, rig: SavedRig, changeable: Mapping[str, Lens | Body], mounts: Mapping[str, Mount]
) -> Iterator[ReferenceProblem]:
    """Mounts that a rig's lens or body is said to be changed to, and cannot be."""
    for name, id_ in (("lens", rig.lens), ("body", rig.body)):
        told = change_in(id_)
        if told is not None and swap_of(changeable.get(told.item), told, mounts) is None:
            said = f"'{told.item}' cannot be given the mount '{told.mount}'"
            hint = "swappable_mounts of the piece list what it can be given; a lens without a mount goes into threads"
            yield ReferenceProblem(f"{place}.{name}", said, hint)


def _duplicates(place: str, ids: Sequence[str]) -> Iterator[ReferenceProblem]:
    seen: dict[str, int] = {}
    for number, id_ in enumerate(ids):
        if id_ in seen:
            yield ReferenceProblem(
                f"{place}[{number}].id", f"'{id_}' is already the id of {place}[{seen[id_]}]", "ids are unique"
            )
        seen.setdefault(id_, number)


def _within_mounts(gear: Gear) -> Iterator[ReferenceProblem]:
    """Coupling parts are unique within a mount, generations in the whole collection; one interface has one thread."""
    owner: dict[str, str] = {}
    threads: dict[str, Mount] = {}
    for number, mount in enumerate(gear.mounts):
        place = f"mounts[{number}]"
        other = threads.setdefault(mount.joint, mount)
        if mount.thread is not None and other.thread is not None and mount.thread != other.thread:
            name, two = (f"{t.diameter_mm:g} × {t.pitch_mm:g}" for t in (mount.thread, other.thread))
            said = f"{name} does not go into the {two} of '{other.id}', and both are '{mount.joint}'"
            yield ReferenceProblem(f"{place}.interface", said, "give each thread an interface of its own")
        yield from _duplicates(f"{place}.features", [feature.id for feature in mount.features])
        for index, generation in enumerate(mount.generations):
            if generation.id in owner:
                said = f"'{generation.id}' is already a generation of '{owner[generation.id]}'"
                yield ReferenceProblem(f"{place}.generations[{index}].id", said)
            owner.setdefault(generation.id, mount.id)


def _unnamed(
    place: str, id_: str, kinds: Sequence[Kind], known: Mapping[Kind, frozenset[str]], near: _Near
) -> ReferenceProblem:
    names = [SINGULAR[kind] for kind in kinds]
    what = names[0] if len(names) == 1 else f"{', '.join(names[:-1])} or {names[-1]}"
    return ReferenceProblem(
        place, f"no {what} has the id '{id_}'", near.hint(id_, (name for kind in kinds for name in known[kind]))
    )


def _part(
    place: str, id_: str, mark: Local, mount: Mount, parts: _Parts, owners: Mapping[str, str], near: _Near
) -> Iterator[ReferenceProblem]:
    if mark.parts == "generations":
        known = parts.generations
        if id_ not in known and id_ in owners:
            yield ReferenceProblem(place, f"'{id_}' is a generation of '{owners[id_]}', not of '{mount.id}'")
            return
        what = f"generation of '{mount.id}'"
    else:
        known = parts.features[mark.side]
        what = f"{mark.side} feature of '{mount.id}'" if mark.side else f"feature of '{mount.id}'"
    if id_ not in known:
        yield ReferenceProblem(place, f"no {what} has the id '{id_}'", near.hint(id_, known))
