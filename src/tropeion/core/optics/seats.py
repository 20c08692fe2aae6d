"""What one piece is to the optics: a seat with its register, or a link of a chain with its length."""

from __future__ import annotations

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import Structure, UnknownRegisterError
from tropeion.core.keeping import kept
from tropeion.core.working import Symbol, formula

PARAXIAL = "Thin lens, paraxial: W. J. Smith, Modern Optical Engineering, ch. 2 and 5"


@frozen
class Seat:
    """A register and its tolerance: the measured ones where there are any, else the mount's nominal ones.

    The tolerance is ``assumed`` where it is not stated, and ``bounded`` unless it was measured: a measured half-width
    is √3·u, which the error may exceed. Of a seat that is not ``known`` the register is a stand-in, to draw with.
    """

    register_mm: float
    tolerance_mm: float
    measured: bool
    assumed: bool = False
    bounded: bool = True
    known: bool = True


# Used to draw with where a register is not known.
_STAND_IN_MM = 44.0


def seat_of(item: Lens | Body, mount: Mount) -> Seat:
    """The register that counts for one lens or body. A measured value outranks the nominal one."""
    nominal, assumed = mount.tolerance_or_usual_mm, mount.tolerance_mm is None
    if item.measured_register_mm is None:
        known = mount.register_mm is not None
        register = _STAND_IN_MM if mount.register_mm is None else mount.register_mm
        return Seat(register, nominal, measured=False, assumed=assumed, known=known)
    tolerance = item.measured_tolerance_mm
    if tolerance is not None:
        return Seat(item.measured_register_mm, tolerance, measured=True, bounded=False)
    return Seat(item.measured_register_mm, nominal, measured=True, assumed=assumed)


def known_seat_of(item: Lens | Body, mount: Mount) -> Seat:
    """The register that counts for one lens or body. Raises UnknownRegisterError where it is not known."""
    seat = seat_of(item, mount)
    if not seat.known:
        raise UnknownRegisterError(mount.name)
    return seat


def cancels(lens: Seat, body: Seat, *, one_mount: bool) -> bool:
    """Whether both seats have one register, whatever it is: a lens at home, where nothing was measured."""
    return one_mount and not (lens.measured or body.measured)


@frozen
class Link:
    """One adapter as the optics see it. Lengths in mm; ``length_mm`` is the physical one, seat to seat.

    ``error_mm`` is what it adds to the focus of its segment: its length if it is plain, its measured deviation
    if it holds glass, less the focus shift of a plane filter; ``front_error_mm`` is that of a filter on the lens side
    of the glass. Its tolerance is ``assumed`` where it is not stated, and ``bounded`` unless it was measured.
    """

    length_mm: float
    error_mm: float
    tolerance_mm: float
    magnification: float
    glass: tuple[float, float] | None
    helicoid_mm: float
    assumed: bool = False
    bounded: bool = True
    front_error_mm: float = 0.0

    @classmethod
    def of(cls, adapter: Adapter) -> Link:
        measured = adapter.measured_length_mm
        length = adapter.physical_length_mm
        tolerance, assumed, bounded = adapter.tolerance_or_usual_mm, adapter.tolerance_mm is None, True
        if measured is not None and adapter.measured_tolerance_mm is not None:
            tolerance, assumed, bounded = adapter.measured_tolerance_mm, False, False
        glass = None
        error, front = length, 0.0
        if adapter.register_in_mm is not None and adapter.register_out_mm is not None:
            glass = (adapter.register_in_mm, adapter.register_out_mm)
            error = length - adapter.length_mm
        slot = adapter.filter_slot
        if slot is not None:
            shift = filter_shift_mm(slot.glass_mm, slot.refractive_index)
            if glass is not None and slot.side == "lens":
                front = -shift
            else:
                error -= shift
        return cls(length, error, tolerance, adapter.magnification, glass, adapter.helicoid_mm, assumed, bounded, front)


@kept(most=20_000)
def link_of(structure: Structure, id_: str) -> Link:
    """The link of one adapter of the collection."""
    return Link.of(structure.adapters[id_])


@formula(
    "filter_shift_mm",
    "p(n − 1)/n",
    "mm",
    PARAXIAL,
    thickness_mm=Symbol("p", "mm", "thickness of the plane glass"),
    refractive_index=Symbol("n", "", "its refractive index"),
)
def filter_shift_mm(thickness_mm: float, refractive_index: float) -> float:
    """How far plane glass behind the lens moves the focus back."""
    return thickness_mm * (refractive_index - 1) / refractive_index
