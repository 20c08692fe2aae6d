"""What can come next in a chain that is put together by hand."""

from __future__ import annotations

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.search import Wanted, search
from tropeion.core.gear.world import World


@frozen
class Next:
    """One piece that could stand behind ``after``. ``mates``: onto what is in front; ``arrives``: what is behind it."""

    id: str
    name: str
    length_mm: float
    owned: int
    price: float | None
    mates: bool
    arrives: bool


@frozen
class NextPieces:
    """The best pieces, those that mate and arrive first; ``total`` how many there are in all."""

    pieces: tuple[Next, ...]
    total: int


def next_pieces(
    world: World, after: str, before: str, query: str = "", *, anything: bool = False, limit: int = 40
) -> NextPieces:
    """Adapters for the joint between two mounts: ``after`` on the lens's side, ``before`` on the body's.

    Only what mates with the lens's side, unless ``anything`` is asked for; what also meets the body's side comes
    first, then what is owned, then by name. Raises UnknownIdError for a mount that is not in the collection.
    """
    front, rear = world.mount(after).joint, world.mount(before).joint
    names = search(world, "adapters", Wanted(q=query, sort="nearest"))
    pieces = [_next(world, world.adapters[id_], front, rear) for id_ in names]
    if not anything:
        pieces = [piece for piece in pieces if piece.mates]
    pieces.sort(key=lambda piece: (not piece.mates, not piece.arrives, not piece.owned, piece.name.casefold()))
    return NextPieces(tuple(pieces[:limit]), len(pieces))


def _next(world: World, piece: Adapter, front: str, rear: str) -> Next:
    return Next(
        id=piece.id,
        name=piece.name,
        length_mm=piece.physical_length_mm,
        owned=piece.at_hand,
        price=piece.price,
        mates=world.mounts[piece.lens_mount].joint == front,
        arrives=world.mounts[piece.body_mount].joint == rear,
    )
