"""What of a piece can be measured with a caliper: where the jaws go, from which datum, and what they must not touch."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import USUAL_TOLERANCE_MM, Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.kinds import JoinedKind
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.world import World
from tropeion.core.optics.seats import seat_of

# Half the usual width of a painted film-plane mark, in mm.
USUAL_MARK_MM = 0.25
# Wall thickness drawn for a ring whose walls are not stated.
USUAL_WALL_MM = 8.0
USUAL_SEAT_MM = 60.0


@frozen
class Quantity:
    """One length of a piece. ``nominal_mm`` None: nobody stated it.

    ``jaws`` says how the caliper lies: along the axis between two planes, ``inside`` or ``outside`` across it, or with
    its depth rod; ``to_mm`` is how far from the datum it ends.
    ``writes`` is the field of the piece that a measurement goes into, ``writes_tolerance`` that of its doubt;
    ``less_mm`` is taken off before it is written. ``seat_mm`` is across which readings at several places lie.
    """

    quantity: str
    label: str
    datum: str
    jaws: Literal["along", "outside", "inside", "depth"]
    nominal_mm: float | None
    tolerance_mm: float | None
    writes: str
    writes_tolerance: str | None
    keep_off: str
    says: str
    to_mm: float = 0.0
    mark_mm: float = 0.0
    less_mm: float = 0.0
    seat_mm: float | None = None

    @property
    def tolerance_or_usual_mm(self) -> float:
        return USUAL_TOLERANCE_MM if self.tolerance_mm is None else self.tolerance_mm


@frozen
class Outline:
    """The piece as far as the drawing needs it, in mm: how long, how wide outside and inside; its register on a body.

    ``assumed`` names what of it is not stated.
    """

    length_mm: float
    outer_mm: float
    inner_mm: float
    register_mm: float | None
    protrusion_mm: float
    assumed: tuple[str, ...]


@frozen
class PieceOnBench:
    """A piece, and what of it can be measured, the length that decides focus first."""

    kind: JoinedKind
    id: str
    name: str
    outline: Outline
    quantities: tuple[Quantity, ...]


def bench_piece(world: World, kind: JoinedKind, id_: str) -> PieceOnBench:
    """A piece on the bench. Raises UnknownIdError."""
    if kind == "adapters":
        adapter = world.adapter(id_)
        return PieceOnBench(kind, id_, adapter.name, _ring(adapter), tuple(_of_adapter(world, adapter)))
    if kind == "bodies":
        body = world.body(id_)
        mount = world.mount_of(body)
        return PieceOnBench(kind, id_, body.name, _box(body, mount), tuple(_of_body(body, mount)))
    lens = world.lens(id_)
    return PieceOnBench(kind, id_, lens.name, _barrel(lens), tuple(_of_lens(lens)))


def quantity_of(piece: PieceOnBench, name: str) -> Quantity:
    """One of its quantities. Raises ValueError."""
    for quantity in piece.quantities:
        if quantity.quantity == name:
            return quantity
    raise ValueError(
        f"{piece.name} has {', '.join(quantity.quantity for quantity in piece.quantities)}, and no '{name}'"
    )


def _assumed(found: Sequence[tuple[str, object]]) -> tuple[str, ...]:
    return tuple(name for name, value in found if value is None)


def _ring(adapter: Adapter) -> Outline:
    bore = adapter.bore_mm or (adapter.outer_mm - 2 * USUAL_WALL_MM if adapter.outer_mm else USUAL_SEAT_MM - 16)
    outer = adapter.outer_mm or bore + 2 * USUAL_WALL_MM
    return Outline(
        adapter.physical_length_mm,
        outer,
        bore,
        None,
        0.0,
        _assumed([("bore_mm", adapter.bore_mm), ("outer_mm", adapter.outer_mm)]),
    )


def _stands_at(body: Body, mount: Mount) -> float | None:
    seat = seat_of(body, mount)
    return seat.register_mm if seat.known else None


def _box(body: Body, mount: Mount) -> Outline:
    throat = mount.throat_mm or USUAL_SEAT_MM - 14
    outer = mount.outer_mm or throat + 14
    height = body.height_mm or outer + 30
    return Outline(
        height,
        outer,
        throat,
        _stands_at(body, mount),
        0.0,
        _assumed([("throat_mm", mount.throat_mm), ("height_mm", body.height_mm)]),
    )


def _barrel(lens: Lens) -> Outline:
    outer = lens.diameter_mm or lens.barrel_mm or USUAL_SEAT_MM
    inner = lens.rear_diameter_mm or lens.barrel_mm or outer * 0.6
    return Outline(
        lens.length_mm or outer,
        outer,
        inner,
        lens.measured_register_mm,
        lens.rear_protrusion_mm or 0.0,
        _assumed(
            [
                ("length_mm", lens.length_mm),
                ("diameter_mm", lens.diameter_mm),
                ("rear_protrusion_mm", lens.rear_protrusion_mm),
            ]
        ),
    )


def _of_adapter(world: World, adapter: Adapter) -> list[Quantity]:
    front, rear = world.mount(adapter.lens_mount), world.mount(adapter.body_mount)
    outline = _ring(adapter)
    touchy = ["its glass"] if adapter.has_glass else []
    if adapter.link != "none":
        touchy.append("its contacts")
    if adapter.aperture_control != "none":
        touchy.append("its lever or pin")
    keep_off = f"Keep the jaws off {' and '.join(touchy)}." if touchy else "Keep the jaws off springs and screw heads."
    length = adapter.physical_length_mm
    closed = ", its helicoid closed" if adapter.helicoid_mm else ""
    quantities = [
        Quantity(
            "length",
            "face to face",
            f"the mount face towards the body ({rear.name})",
            "along",
            adapter.length_mm,
            adapter.tolerance_or_usual_mm,
            "measured_length_mm",
            "measured_tolerance_mm",
            keep_off,
            "From the mount face that meets the body to the mount face that meets the lens "
            f"({front.name}){closed}: on the flat metal, not on the rim that goes into the mount.",
            length,
            seat_mm=rear.outer_mm or outline.outer_mm,
        )
    ]
    if adapter.helicoid_mm:
        quantities.append(
            Quantity(
                "open_length",
                "face to face, helicoid open",
                "the mount face towards the body",
                "along",
                length + adapter.helicoid_mm,
                None,
                "helicoid_mm",
                None,
                keep_off,
                "Turn the helicoid out to its stop. What it is longer than closed goes to the collection.",
                length + adapter.helicoid_mm,
                less_mm=length,
                seat_mm=rear.outer_mm or outline.outer_mm,
            )
        )
    quantities.append(_across("bore", "bore", "inside", adapter.bore_mm, "bore_mm", "its glass and its springs"))
    quantities.append(_across("outer", "across the flange ring", "outside", adapter.outer_mm, "outer_mm", "its lock"))
    return quantities


def _across(
    name: str, label: str, jaws: Literal["inside", "outside"], nominal: float | None, writes: str, off: str
) -> Quantity:
    widest = "the greatest reading counts inside" if jaws == "inside" else "the least reading counts outside"
    return Quantity(
        name,
        label,
        "the axis",
        jaws,
        nominal,
        None,
        writes,
        None,
        f"Keep the jaws off {off}.",
        f"Across the middle; rock the caliper: {widest}.",
        nominal or USUAL_SEAT_MM,
    )


def _of_body(body: Body, mount: Mount) -> list[Quantity]:
    quantities = []
    if body.kind == "film":
        quantities.append(
            _register(
                body,
                mount,
                "rails",
                "film rails to mount face",
                "the film rails, back open",
                "Never the shutter's curtains, the glass of the finder, or the mirror.",
                "Back open, the shutter on B and held: with the depth rod from the mount face to a flat bar on "
                "the outer film rails. The film lies a little before the bar, by its own play in the channel.",
                0.0,
            )
        )
    quantities.append(
        _register(
            body,
            mount,
            "register",
            "film-plane mark to mount face",
            "the film-plane mark on the top plate",
            "Never the sensor, its cover glass, or the shutter: outside, on the mark.",
            "From the middle of the mark to the flat of the mount face. The mark stands for where the image "
            "falls in air: a cover glass holds the sensor a third of its own thickness further back.",
            USUAL_MARK_MM,
        )
    )
    quantities.append(
        Quantity(
            "obstruction",
            "mount face to what stands inside",
            "the mount face",
            "depth",
            body.obstruction_mm,
            None,
            "obstruction_mm",
            None,
            "Never the mirror, the shutter or the sensor: with the power off, onto metal that is fixed.",
            "How far a lens may reach in behind the mount face: the depth rod onto the first fixed part that it "
            "would meet.",
            body.obstruction_mm or 10.0,
        )
    )
    return quantities


def _register(
    body: Body, mount: Mount, name: str, label: str, datum: str, keep_off: str, says: str, mark_mm: float
) -> Quantity:
    return Quantity(
        name,
        label,
        datum,
        "depth" if name == "rails" else "along",
        mount.register_mm,
        mount.tolerance_or_usual_mm,
        "measured_register_mm",
        "measured_tolerance_mm",
        keep_off,
        says,
        seat_of(body, mount).register_mm,
        mark_mm=mark_mm,
        seat_mm=mount.outer_mm,
    )


def _of_lens(lens: Lens) -> list[Quantity]:
    quantities = []
    if lens.mount is not None:
        quantities.append(
            Quantity(
                "rear_protrusion",
                "mount face to the rearmost rim",
                "the mount face",
                "depth",
                lens.rear_protrusion_mm,
                None,
                "rear_protrusion_mm",
                None,
                "Never the rear glass: onto the metal rim about it, the lens at infinity.",
                "How far it reaches in behind its mount face. Focus it at infinity; some reach further in there.",
                lens.rear_protrusion_mm or 5.0,
            )
        )
    else:
        quantities.append(
            _across("barrel", "barrel's edge", "outside", lens.barrel_mm, "barrel_mm", "the thread, if it has one")
        )
    quantities.append(
        _across("rear_diameter", "across the rear rim", "outside", lens.rear_diameter_mm, "rear_diameter_mm", "glass")
    )
    quantities.append(
        _across("diameter", "across the barrel", "outside", lens.diameter_mm, "diameter_mm", "rubber grips")
    )
    return quantities
