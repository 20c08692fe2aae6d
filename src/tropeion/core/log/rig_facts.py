"""What the collection says of a logged rig: glass, lens data, what the body was told. Unknown ids leave it unknown."""

from __future__ import annotations

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.usual import taken_for
from tropeion.core.gear.world import MountlessError, UnknownIdError, World
from tropeion.core.joints.signal import identifies_itself, signal_of
from tropeion.core.optics import modes
from tropeion.core.optics.equivalents import f_number_with_glass, focal_length_with_glass_mm
from tropeion.core.optics.register import magnification
from tropeion.core.optics.stabiliser import told_to
from tropeion.core.records.logged import Logged
from tropeion.core.working import PLAIN

Chain = tuple[str, str, tuple[str, ...]]


def chain_of(entry: Logged) -> Chain:
    """Body, lens and adapters of an entry."""
    return entry.body, entry.lens, entry.via


@frozen
class RigFacts:
    """A rig as far as the collection knows its pieces; ``adapters`` None where one of the chain is not known."""

    body: Body | None
    lens: Lens | None
    adapters: tuple[Adapter, ...] | None
    identified: bool | None
    chip_mm: float | None

    @property
    def tells_lens_data(self) -> bool | None:
        """Whether anything in the chain speaks to the body as a lens does; None: not known."""
        if self.chip_mm is not None:
            return True
        return self.identified

    @property
    def k(self) -> float | None:
        """The magnification of all glass; None: not known."""
        return None if self.adapters is None else magnification([one.magnification for one in self.adapters])

    def mark_mm(self, marked_mm: float | None) -> float | None:
        """The marked focal length that was used: of a zoom the mark that was noted, None where none was."""
        if marked_mm is not None:
            return marked_mm
        return None if self.lens is None or self.lens.is_zoom else self.lens.focal_length_mm[0]

    def with_glass_mm(self, marked_mm: float | None) -> float | None:
        """F = K·f; None: not known."""
        mark, k = self.mark_mm(marked_mm), self.k
        return None if mark is None or k is None else focal_length_with_glass_mm(k, mark)

    def with_glass_f_number(self, marked: float | None) -> float | None:
        """N′ = K·N; None: not known."""
        if marked is None or self.adapters is None:
            return None
        pieces = self.adapters
        return f_number_with_glass(
            marked, [one.magnification for one in pieces], [one.widest_f_number for one in pieces]
        )

    def told_mm(self, marked_mm: float | None) -> float | None:
        """What the body goes by where nobody noted it: what the lens or a chip says, else what is entered."""
        if self.chip_mm is not None:
            return self.chip_mm
        focal = self.with_glass_mm(marked_mm)
        if focal is None or self.body is None:
            return None
        if self.identified or self.body.stabiliser is None:
            return focal if self.identified or self.body.asks_focal_length else None
        return told_to(self.body.stabiliser, focal, PLAIN)[0]

    def mode(self, name: str | None) -> modes.FormatMode | None:
        """The part of the sensor that was used, the whole of it unless another was noted; None: not known."""
        if self.body is None:
            return None
        offered = (*modes.modes_of(self.body, "still"), *modes.modes_of(self.body, "film"))
        return next((mode for mode in offered if mode.name == (name or "full")), None)

    @property
    def names(self) -> tuple[str, ...]:
        """What the lens is called."""
        return () if self.lens is None else (self.lens.name, *self.lens.aliases)


class RigReader:
    """The facts of rigs by what a log calls them, each looked up once. ``world`` None: there is no collection."""

    def __init__(self, world: World | None) -> None:
        self._world = world
        self._read: dict[Chain, RigFacts] = {}

    def facts(self, entry: Logged) -> RigFacts:
        """The facts of an entry's rig."""
        return self.of(*chain_of(entry))

    def of(self, body: str, lens: str, via: tuple[str, ...]) -> RigFacts:
        """The facts of a rig by its ids."""
        chain = (body, lens, via)
        if chain not in self._read:
            self._read[chain] = self._look_up(*chain)
        return self._read[chain]

    def _look_up(self, body_id: str, lens_id: str, via: tuple[str, ...]) -> RigFacts:
        world = self._world
        if world is None:
            return RigFacts(None, None, None, None, None)
        body, lens = world.bodies.get(body_id), world.lenses.get(lens_id)
        try:
            adapters: tuple[Adapter, ...] | None = tuple(world.adapter(id_) for id_ in via)
        except UnknownIdError:
            adapters = None
        identified, chip_mm = None, None
        if adapters is not None:
            chip = next((one.chip for one in adapters if one.chip is not None), None)
            chip_mm = None if chip is None else chip.focal_length_mm
            if body is not None and lens is not None:
                identified = _identified(world, lens, adapters, body)
        return RigFacts(body, lens, adapters, identified, chip_mm)


def _identified(world: World, lens: Lens, adapters: tuple[Adapter, ...], body: Body) -> bool:
    if lens.mount is None:
        return False
    try:
        return identifies_itself(signal_of(world, taken_for(world, lens), adapters, body))
    except (MountlessError, UnknownIdError):
        return False
