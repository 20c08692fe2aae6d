"""The kinds of a collection, and how a field says that it names another item.

What refers to what is declared here and on the fields alone; references, users, needs, storage and forms derive it.
"""

from __future__ import annotations

from typing import Final, Literal, get_args

from tropeion.core.frozen import frozen

Kind = Literal["protocols", "mounts", "bodies", "lenses", "adapters", "accessories", "foils", "pairs", "rigs"]
ShelfKind = Literal["protocols", "mounts", "bodies", "lenses", "adapters", "accessories", "foils", "pairs"]
PieceKind = Literal["bodies", "lenses", "adapters", "accessories"]
JoinedKind = Literal["bodies", "lenses", "adapters"]
One = Literal["protocol", "mount", "body", "lens", "adapter", "accessory", "foil", "pair", "rig"]

# In the order of a gear file.
KINDS: Final[tuple[Kind, ...]] = get_args(Kind)
# What can be owned.
PIECES: Final[tuple[PieceKind, ...]] = get_args(PieceKind)
SINGULAR: Final[dict[Kind, One]] = dict(zip(KINDS, get_args(One), strict=True))


@frozen
class Ref:
    """The field names an item of one of these kinds; ``how`` says what its holder has to do with it.

    A ``weak`` reference is no need: a selection may leave behind what it names.
    """

    kinds: tuple[Kind, ...]
    how: str
    weak: bool = False


@frozen
class Local:
    """The field names a part of a mount: of the one that the field ``owner`` names, or of the mount it stands in."""

    parts: Literal["generations", "features"]
    owner: str | None = None
    side: Literal["lens", "body"] | None = None
