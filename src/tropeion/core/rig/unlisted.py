"""Rings that are not listed: what one for a lens and a body may do, and how it is made."""

from __future__ import annotations

from collections.abc import Mapping

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.made import ring_id
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.usual import taken_body, taken_for
from tropeion.core.gear.world import World
from tropeion.core.keeping import kept
from tropeion.core.optics import focus

# A helicoid takes this much more than a ring: two threads in each other.
HELICOID_MM = 6.0
_CLOSEST_MM = 1000.0


def opening_of(lens: Lens) -> tuple[float, float]:
    """How far a helicoid opens for a lens that nothing focuses, and the distance that it then focuses at, in mm."""
    f = lens.focal_length_mm[0]
    near = max(_CLOSEST_MM, 10 * f)
    return round((focus.close_magnification(near, f) or 0.0) * f, 2), near


@frozen
class RingWanted:
    """What of a lens decides what a ring may do for it; ``opens_mm``: a helicoid opens so far, None for none."""

    aperture: str | None
    protocol: str | None
    opens_mm: float | None

    @property
    def opens(self) -> bool:
        """Whether it has to hold a helicoid."""
        return self.opens_mm is not None


def wanted_of(lens: Lens) -> RingWanted:
    """What a ring may have to do for a lens, as that is taken to be where it is judged."""
    return RingWanted(lens.aperture, lens.protocol, opening_of(lens)[0] if lens.focus == "none" else None)


def ring_kinds(world: World, lens: Lens, body: Body) -> tuple[dict[str, object], ...]:
    """What a ring for a pair may do besides, the plainest first: its fields beside ends and length."""
    return kinds_for(world, wanted_of(taken_for(world, lens)), taken_body(world, body).protocols)


@kept(most=1_000)
def kinds_for(world: World, wanted: RingWanted, heard: tuple[str, ...]) -> tuple[dict[str, object], ...]:
    """The same by what decides it; ``heard`` are the protocols of the body."""
    aperture, protocol, opens_mm = wanted.aperture, wanted.protocol, wanted.opens_mm
    values: list[dict[str, object]] = [{}]
    if aperture == "lever":
        values.append({"aperture_control": "lever_ring"})
    if aperture == "pin":
        values.append({"aperture_control": "pin_press"})
    if protocol is not None and heard:
        spoken = next((host for host in heard if world.speaks(host, protocol)), None)
        link: dict[str, object] = {"link": "pass"}
        if spoken is None:
            link = {"link": "translate", "from_protocol": protocol, "to_protocol": heard[0]}
        values.append(link)
    if opens_mm is not None:
        values = [{**some, "helicoid_mm": opens_mm} for some in values]
    return tuple(values)


def made_ring(world: World, front: Mount, rear: Mount, length_mm: float, does: Mapping[str, object]) -> Adapter:
    """A ring that is not listed, with what it does besides by its fields."""
    plain = Adapter(id="ring", name="Ring", lens_mount=front.id, body_mount=rear.id, length_mm=length_mm)
    return world.adapter(ring_id(plain.model_copy(update=does)))
