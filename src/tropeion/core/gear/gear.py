"""A whole collection. One object of the gear file.

These models are the edge: they are what a gear file holds and what is refused when it is wrong. Lengths are in
millimetres, masses in grams, apertures are f-numbers; every field names its unit. An item is immutable.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import StringConstraints

from tropeion.core.findings import Grade

from .accessories import Accessory, Foil, Pair
from .adapters import Adapter
from .bodies import Body
from .field_types import Date, Few, Id, Name, PieceId, Several, Shelf, Strict, Text
from .kinds import Ref
from .lenses import Lens
from .mounts import Mount, Protocol
from .rig import Rig

_KEPT = "is kept with it"


class SavedRig(Strict):
    """A saved combination; adapters run from the lens to the body. ``grade`` is what it came to when it was kept."""

    id: Id
    name: Name
    lens: Annotated[PieceId, Ref(("lenses",), _KEPT)]
    body: Annotated[PieceId, Ref(("bodies",), _KEPT)]
    adapters: Few[Annotated[Id, Ref(("adapters",), _KEPT)]] = ()
    accessories: Several[Annotated[Id, Ref(("accessories",), _KEPT)]] = ()
    notes: Text = ""
    grade: Grade | None = None
    graded_on: Date | None = None

    @property
    def rig(self) -> Rig:
        return Rig(self.lens, self.body, self.adapters, self.accessories)


class Gear(Strict):
    """A whole collection. One object of the gear file."""

    format: Literal["tropeion-gear"]
    version: Literal[1]
    currency: Annotated[str, StringConstraints(pattern=r"^[A-Z]{3}$")] = "EUR"
    protocols: Shelf[Protocol] = ()
    mounts: Shelf[Mount] = ()
    bodies: Shelf[Body] = ()
    lenses: Shelf[Lens] = ()
    adapters: Shelf[Adapter] = ()
    accessories: Shelf[Accessory] = ()
    foils: Shelf[Foil] = ()
    pairs: Shelf[Pair] = ()
    rigs: Shelf[SavedRig] = ()

    @property
    def mounted(self) -> tuple[Lens, ...]:
        """The lenses that a mount can be asked about."""
        return tuple(lens for lens in self.lenses if lens.mount is not None)
