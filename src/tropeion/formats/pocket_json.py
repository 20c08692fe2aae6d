"""What is carried, as one JSON document of bounded size."""

from __future__ import annotations

import gzip
from collections.abc import Callable
from dataclasses import replace
from typing import Final

from pydantic import TypeAdapter

from tropeion.core.pocket.pocket_document import Pocket

MOST_BYTES: Final = 2_000_000
_POCKET: Final = TypeAdapter(Pocket)
_Lighter = Callable[[Pocket], Pocket]


def _no_depth(pocket: Pocket) -> Pocket:
    return replace(pocket, rigs=tuple(replace(rig, depth=()) for rig in pocket.rigs))


def _no_keys(pocket: Pocket) -> Pocket:
    return replace(pocket, systems=tuple(replace(system, key=()) for system in pocket.systems))


def _no_warnings(pocket: Pocket) -> Pocket:
    return replace(pocket, rings={id_: replace(ring, refuse=()) for id_, ring in pocket.rings.items()})


def _no_generations(pocket: Pocket) -> Pocket:
    """What is not known is judged by the worst that it may be: that row stays."""
    return replace(
        pocket, systems=tuple(replace(system, generations=system.generations[:1]) for system in pocket.systems)
    )


def _no_cards(pocket: Pocket) -> Pocket:
    why = "Its card is not carried: the collection is too large."
    return replace(pocket, rigs=tuple(replace(rig, steps=(), why=why) for rig in pocket.rigs))


def _no_systems(pocket: Pocket) -> Pocket:
    return replace(pocket, systems=(), rings={})


# What is left out where it is too much, in this order: first what is looked at least.
ORDER: Final[tuple[tuple[str, _Lighter], ...]] = (
    ("depth of field", _no_depth),
    ("the key to generations", _no_keys),
    ("what is easily taken for a ring", _no_warnings),
    ("generations apart: each mount is judged by the worst that it may be", _no_generations),
    ("the steps of cards", _no_cards),
    ("what would fit", _no_systems),
)


def dump_pocket(pocket: Pocket, most_bytes: int = MOST_BYTES) -> tuple[Pocket, bytes]:
    """The document as it is carried, below ``most_bytes`` gzipped, and as JSON; it says what is left out."""
    data = _POCKET.dump_json(pocket)
    for said, lighter in ORDER:
        if len(gzip.compress(data, 5)) <= most_bytes:
            break
        pocket = replace(lighter(pocket), left_out=(*pocket.left_out, said))
        data = _POCKET.dump_json(pocket)
    return pocket, data
