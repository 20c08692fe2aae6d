"""What a drawing has to know of one item."""

from __future__ import annotations

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.usual import taken_for
from tropeion.core.gear.world import World
from tropeion.core.optics.seats import seat_of

from .rig_report import Piece


def piece_of(world: World, item: Lens | Adapter | Body) -> Piece:
    """What a drawing has to know of one item."""
    # One flat record for three kinds, so that the drawing need not ask which it has: what a kind lacks is said here.
    mount = world.mounts[item.lens_mount] if isinstance(item, Adapter) else world.mount_of(item)
    if isinstance(item, Adapter):
        measured = item.measured_length_mm is not None
        register_mm, length, tolerance = None, item.physical_length_mm, item.tolerance_or_usual_mm
    else:
        seat = seat_of(item, mount)
        measured, tolerance, length = seat.measured, seat.tolerance_mm, None
        register_mm = seat.register_mm if seat.known else None
    taken = taken_for(world, item) if isinstance(item, Lens) else item
    return Piece(
        id=item.id,
        name=item.name,
        kind="lens" if isinstance(item, Lens) else "body" if isinstance(item, Body) else "adapter",
        mount=mount.id,
        mount_name=mount.name,
        rear_mount=item.body_mount if isinstance(item, Adapter) else mount.id,
        register_mm=register_mm,
        length_mm=length,
        tolerance_mm=tolerance,
        measured=measured,
        optics=item.optics if isinstance(item, Adapter) else "none",
        link=item.link if isinstance(item, Adapter) else "none",
        focus=taken.focus or "" if isinstance(taken, Lens) else "",
        aperture=taken.aperture or "" if isinstance(taken, Lens) else "",
        iris=isinstance(item, Adapter) and item.aperture_control == "iris",
        filter=isinstance(item, Adapter) and item.filter_slot is not None,
        helicoid_mm=item.helicoid_mm if isinstance(item, Adapter) else 0.0,
        tilt_deg=0.0 if isinstance(item, Body) else item.tilt_deg,
        shift_mm=0.0 if isinstance(item, Body) else item.shift_mm,
        squeeze=item.squeeze if isinstance(item, Lens) else 1.0,
        positions=mount.positions,
        sensor_width_mm=item.sensor_mm[0] if isinstance(item, Body) else None,
        sensor_height_mm=item.sensor_mm[1] if isinstance(item, Body) else None,
        stabiliser_travel_mm=item.stabiliser.travel_mm if isinstance(item, Body) and item.stabiliser else None,
        image_circle_mm=None if isinstance(item, Body) else item.image_circle_mm,
        owned=item.at_hand,
        price=item.price,
        locking=item.locking if isinstance(item, Adapter) else mount.locking,
        assumed=item.assumed,
    )
