"""Where everything stands before the sensor, for the drawing to scale.

What a drawing cannot be without and nobody stated (a throat, a flange, where glass stands in its tube) is decided here,
once, and named in ``assumed``. Places in mm before the sensor plane, diameters in mm across the axis.
"""

from __future__ import annotations

import math

from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.optics.infinity import Infinity
from tropeion.core.optics.modes import FormatMode, modes_of
from tropeion.core.optics.seats import seat_of
from tropeion.core.optics.stack import Placed, Stack
from tropeion.core.working import tidy

# Measures drawn where none is stated, in mm.
_FLANGE, _THROAT, _BODY_DEPTH, _BODY_HEIGHT, _BARREL_LENGTH, _BARREL = 60.0, 40.0, 50.0, 90.0, 40.0, 60.0
_REAR_TO_BARREL, _BORE_TO_OUTER = 0.55, 0.65


@frozen
class PlacedBody:
    """A body: its seat and back, the diagonals of its sensor and of the mode in use, what stands in the lens's way."""

    link: str
    seat_mm: float
    flange_mm: float
    throat_mm: float
    back_mm: float
    height_mm: float
    sensor_mm: float
    mode_mm: float
    obstruction_mm: float | None
    assumed: tuple[str, ...]


@frozen
class PlacedAdapter:
    """An adapter between its two seats; ``glass_mm`` and ``filter_mm`` are where these stand, None: it has none."""

    link: str
    rear_mm: float
    front_mm: float
    outer_mm: float
    bore_mm: float
    glass_mm: float | None
    filter_mm: float | None
    assumed: tuple[str, ...]


@frozen
class PlacedLens:
    """A lens where it stands, and where its seat should stand. Behind glass nothing is known of its exit pupil."""

    link: str
    seat_mm: float
    needed_seat_mm: float
    flange_mm: float
    front_mm: float
    diameter_mm: float
    rear_vertex_mm: float
    rear_diameter_mm: float
    exit_pupil_mm: float | None
    exit_pupil_diameter_mm: float | None
    assumed: tuple[str, ...]


@frozen
class Section:
    """A cut along the axis; adapters run from the lens to the body, and either end may be missing.

    ``waist_mm`` is where the image of infinity falls at best, before (+) or behind (−) the sensor.
    """

    body: PlacedBody | None
    adapters: tuple[PlacedAdapter, ...]
    lens: PlacedLens | None
    waist_mm: float | None


class _Assumed:
    """Collects what is not stated."""

    def __init__(self) -> None:
        self.names: list[str] = []

    def __call__(self, name: str, stated: float | None, usual: float) -> float:
        if stated is not None:
            return stated
        self.names.append(name)
        return usual


def waist_mm(infinity: Infinity, movable: bool, error_mm: float) -> float:
    """Where the image of infinity falls at best, before (+) or behind (−) the sensor: on it if it can be focused."""
    if not movable:
        return error_mm
    if infinity.short_end_mm is not None and infinity.short_end_mm > 0:
        return infinity.short_end_mm
    if infinity.long_end_mm is not None and infinity.long_end_mm < 0:
        return infinity.long_end_mm
    return 0.0


def section_of(
    world: World, stack: Stack, *, lens_error_mm: float, pupil_mm: float | None, mode: FormatMode, f_number: float,
    waist: float,
) -> Section:  # fmt: skip
    """One rig cut along its axis. ``pupil_mm`` is the exit pupil's distance from the sensor, None behind glass."""
    seat = tidy(stack.seat_mm)
    return Section(
        body=_body(world, stack.body, stack.body_seat.register_mm, mode),
        adapters=tuple(_adapter(world, placed) for placed in stack.placed),
        lens=_lens(world, stack.lens, seat, tidy(seat - lens_error_mm), pupil_mm, f_number),
        waist_mm=tidy(waist),
    )


# Where a piece begins and ends before the sensor, and its diameter, in mm.
Box = tuple[float, float, float]


def boxes_of(world: World, stack: Stack) -> tuple[Box, ...]:
    """What a miniature draws of a rig: the lens, then the adapters from the lens to the body."""
    seat, usual = tidy(stack.seat_mm), _Assumed()
    lens = seat, _front_mm(stack.lens, seat, usual), _diameter_mm(stack.lens, usual)
    placed = stack.placed
    return lens, *((tidy(one.rear_mm), tidy(one.front_mm), _outer_mm(world, one.adapter, usual)) for one in placed)


def _front_mm(lens: Lens, seat_mm: float, usual: _Assumed) -> float:
    return tidy(seat_mm + usual("length_mm", lens.length_mm, _BARREL_LENGTH))


def _diameter_mm(lens: Lens, usual: _Assumed) -> float:
    return usual("diameter_mm", lens.diameter_mm, _BARREL)


def _outer_mm(world: World, adapter: Adapter, usual: _Assumed) -> float:
    return usual("outer_mm", adapter.outer_mm or world.mounts[adapter.lens_mount].outer_mm, _FLANGE)


def section_apart(world: World, lens: Lens | None, body: Body | None, use: str) -> Section:
    """A lens where it should stand before its image plane, and a body, with nothing between; either may be missing."""
    placed_body = placed_lens = None
    if body is not None:
        register = seat_of(body, world.mount_of(body)).register_mm
        placed_body = _body(world, body, register, modes_of(body, use)[0])
    if lens is not None:
        at = seat_of(lens, world.mount_of(lens)).register_mm
        placed_lens = _lens(world, lens, at, at, lens.exit_pupil_mm, lens.f_number[0])
    return Section(placed_body, (), placed_lens, None if lens is None else 0.0)


def _body(world: World, body: Body, register_mm: float, mode: FormatMode) -> PlacedBody:
    mount, usual = world.mount_of(body), _Assumed()
    throat = usual("throat_mm", mount.throat_mm, _THROAT)
    depth = usual("depth_mm", body.depth_mm, _BODY_DEPTH)
    return PlacedBody(
        link=body.id,
        seat_mm=register_mm,
        flange_mm=usual("outer_mm", mount.outer_mm, _FLANGE),
        throat_mm=throat,
        back_mm=tidy(register_mm - depth),
        height_mm=usual("height_mm", body.height_mm, _BODY_HEIGHT),
        sensor_mm=math.hypot(*body.sensor_mm),
        mode_mm=mode.diagonal_mm,
        obstruction_mm=body.obstruction_mm,
        assumed=tuple(usual.names),
    )


def _adapter(world: World, placed: Placed) -> PlacedAdapter:
    adapter, usual = placed.adapter, _Assumed()
    length, rear, front = placed.link.length_mm, tidy(placed.rear_mm), tidy(placed.front_mm)
    outer = _outer_mm(world, adapter, usual)
    glass = None
    if adapter.has_glass:
        glass = tidy(front - usual("front_glass_mm", adapter.front_glass_mm, length / 2))
    return PlacedAdapter(
        link=adapter.id,
        rear_mm=rear,
        front_mm=front,
        outer_mm=outer,
        bore_mm=usual("bore_mm", adapter.bore_mm, _BORE_TO_OUTER * outer),
        glass_mm=glass,
        filter_mm=None if adapter.filter_slot is None else tidy(rear + length / 3),
        assumed=tuple(usual.names),
    )


def _lens(
    world: World, lens: Lens, seat_mm: float, needed_mm: float, pupil_mm: float | None, f_number: float
) -> PlacedLens:
    usual = _Assumed()
    diameter = _diameter_mm(lens, usual)
    shown = pupil_mm is not None and pupil_mm > 0
    return PlacedLens(
        link=lens.id,
        seat_mm=seat_mm,
        needed_seat_mm=needed_mm,
        flange_mm=usual("outer_mm", world.mount_of(lens).outer_mm, _FLANGE),
        front_mm=_front_mm(lens, seat_mm, usual),
        diameter_mm=diameter,
        # A rear of unknown length is drawn ending slightly in front of the seat, where it meets nothing.
        rear_vertex_mm=tidy(seat_mm - usual("rear_protrusion_mm", lens.rear_protrusion_mm, -2.0)),
        rear_diameter_mm=usual("rear_diameter_mm", lens.rear_diameter_mm, _REAR_TO_BARREL * diameter),
        exit_pupil_mm=tidy(pupil_mm) if shown and pupil_mm is not None else None,
        exit_pupil_diameter_mm=pupil_mm / f_number if shown and pupil_mm is not None else None,
        assumed=tuple(usual.names),
    )
