"""Whether a collection refers only to what it holds. All errors at once, each with its place."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass

from .gear import Gear, Mount
from .world import nearest

__all__ = ["Problem", "check_references"]


@dataclass(frozen=True, slots=True)
class Problem:
    """Something wrong in a collection: where, what, and what would be right."""

    place: str
    message: str
    hint: str = ""

    def __str__(self) -> str:
        return f"{self.place}: {self.message}" + (f" ({self.hint})" if self.hint else "")


def check_references(gear: Gear) -> tuple[Problem, ...]:
    """Duplicate ids and references to nothing, in the order of the file."""
    return tuple(_problems(gear))


def _unknown(place: str, what: str, id_: str | None, known: Collection[str]) -> Iterator[Problem]:
    if id_ is not None and id_ not in known:
        near = nearest(id_, sorted(known), 1)
        yield Problem(place, f"no {what} has the id '{id_}'", f"did you mean '{near[0]}'?" if near else "")


def _duplicates(place: str, ids: Sequence[str]) -> Iterator[Problem]:
    seen: dict[str, int] = {}
    for number, id_ in enumerate(ids):
        if id_ in seen:
            yield Problem(
                f"{place}[{number}].id",
                f"'{id_}' is already the id of {place}[{seen[id_]}]",
                "ids are unique",
            )
        seen.setdefault(id_, number)


def _problems(gear: Gear) -> Iterator[Problem]:
    kinds = {
        "protocols": [item.id for item in gear.protocols],
        "mounts": [item.id for item in gear.mounts],
        "bodies": [item.id for item in gear.bodies],
        "lenses": [item.id for item in gear.lenses],
        "adapters": [item.id for item in gear.adapters],
        "rigs": [item.id for item in gear.rigs],
    }
    for kind, ids in kinds.items():
        yield from _duplicates(kind, ids)
    lenses, bodies, adapters = (frozenset(kinds[kind]) for kind in ("lenses", "bodies", "adapters"))
    protocols, mounts = kinds["protocols"], {mount.id: mount for mount in gear.mounts}
    yield from _mounts(gear, protocols)
    every_generation = {g.id: mount for mount in gear.mounts for g in mount.generations}

    def generation(place: str, id_: str | None, mount_id: str) -> Iterator[Problem]:
        mount = mounts.get(mount_id)
        if id_ is None or mount is None:
            return
        known = [g.id for g in mount.generations]
        if id_ in known:
            return
        if id_ in every_generation:
            owner = every_generation[id_].id
            yield Problem(place, f"'{id_}' is a generation of '{owner}', not of '{mount_id}'")
        else:
            yield from _unknown(place, f"generation of '{mount_id}'", id_, known)

    def features(place: str, ids: Sequence[str], mount_id: str) -> Iterator[Problem]:
        known = [f.id for f in mounts[mount_id].features] if mount_id in mounts else []
        if mount_id in mounts:
            for number, id_ in enumerate(ids):
                yield from _unknown(f"{place}[{number}]", f"feature of '{mount_id}'", id_, known)

    for number, protocol in enumerate(gear.protocols):
        for index, id_ in enumerate(protocol.accepts):
            yield from _unknown(f"protocols[{number}].accepts[{index}]", "protocol", id_, protocols)
    for number, body in enumerate(gear.bodies):
        place = f"bodies[{number}]"
        yield from _unknown(f"{place}.mount", "mount", body.mount, mounts)
        yield from generation(f"{place}.generation", body.generation, body.mount)
        for index, id_ in enumerate(body.protocols):
            yield from _unknown(f"{place}.protocols[{index}]", "protocol", id_, protocols)
        for index, swap in enumerate(body.swappable_mounts):
            yield from _unknown(f"{place}.swappable_mounts[{index}].mount", "mount", swap.mount, mounts)
    for number, lens in enumerate(gear.lenses):
        place = f"lenses[{number}]"
        yield from _unknown(f"{place}.mount", "mount", lens.mount, mounts)
        yield from generation(f"{place}.generation", lens.generation, lens.mount)
        yield from features(f"{place}.features", lens.features or (), lens.mount)
        yield from _unknown(f"{place}.protocol", "protocol", lens.protocol, protocols)
        for index, swap in enumerate(lens.swappable_mounts):
            yield from _unknown(f"{place}.swappable_mounts[{index}].mount", "mount", swap.mount, mounts)
        for index, exclusion in enumerate(lens.not_on):
            yield from _unknown(f"{place}.not_on[{index}].mount", "mount", exclusion.mount, mounts)
            yield from _unknown(f"{place}.not_on[{index}].adapter", "adapter", exclusion.adapter, adapters)
    for number, adapter in enumerate(gear.adapters):
        place = f"adapters[{number}]"
        yield from _unknown(f"{place}.lens_mount", "mount", adapter.lens_mount, mounts)
        yield from _unknown(f"{place}.body_mount", "mount", adapter.body_mount, mounts)
        yield from generation(f"{place}.lens_generation", adapter.lens_generation, adapter.lens_mount)
        yield from features(f"{place}.lens_side_features", adapter.lens_side_features, adapter.lens_mount)
        yield from _unknown(f"{place}.from_protocol", "protocol", adapter.from_protocol, protocols)
        yield from _unknown(f"{place}.to_protocol", "protocol", adapter.to_protocol, protocols)
    pieces = lenses | bodies | adapters
    for kind in ("bodies", "lenses", "adapters"):
        for number, piece in enumerate(getattr(gear, kind)):
            for index, evidence in enumerate(piece.evidence):
                for position, id_ in enumerate(evidence.with_):
                    place = f"{kind}[{number}].evidence[{index}].with[{position}]"
                    yield from _unknown(place, "body, lens or adapter", id_, pieces)
    for number, rig in enumerate(gear.rigs):
        place = f"rigs[{number}]"
        yield from _unknown(f"{place}.lens", "lens", rig.lens, lenses)
        yield from _unknown(f"{place}.body", "body", rig.body, bodies)
        for index, id_ in enumerate(rig.adapters):
            yield from _unknown(f"{place}.adapters[{index}]", "adapter", id_, adapters)


def _mounts(gear: Gear, protocols: Sequence[str]) -> Iterator[Problem]:
    owner: dict[str, str] = {}
    for number, mount in enumerate(gear.mounts):
        place = f"mounts[{number}]"
        yield from _duplicates(f"{place}.features", [feature.id for feature in mount.features])
        yield from _mount_features(place, mount)
        for index, generation in enumerate(mount.generations):
            spot = f"{place}.generations[{index}]"
            if generation.id in owner:
                yield Problem(f"{spot}.id", f"'{generation.id}' is already a generation of '{owner[generation.id]}'")
            owner.setdefault(generation.id, mount.id)
            yield from _unknown(f"{spot}.protocol", "protocol", generation.protocol, protocols)


def _mount_features(place: str, mount: Mount) -> Iterator[Problem]:
    sides = {side: [feature.id for feature in mount.features if feature.side == side] for side in ("lens", "body")}

    def check(spot: str, side: str, ids: Sequence[str]) -> Iterator[Problem]:
        for number, id_ in enumerate(ids):
            yield from _unknown(f"{spot}[{number}]", f"{side} feature of '{mount.id}'", id_, sides[side])

    for index, generation in enumerate(mount.generations):
        spot = f"{place}.generations[{index}]"
        yield from check(f"{spot}.lens_features", "lens", generation.lens_features)
        yield from check(f"{spot}.body_features", "body", generation.body_features)
    for index, rule in enumerate(mount.rules):
        spot = f"{place}.rules[{index}]"
        yield from check(f"{spot}.lens_has", "lens", rule.lens_has)
        yield from check(f"{spot}.lens_lacks", "lens", rule.lens_lacks)
        yield from check(f"{spot}.body_has", "body", rule.body_has)
        yield from check(f"{spot}.body_lacks", "body", rule.body_lacks)
