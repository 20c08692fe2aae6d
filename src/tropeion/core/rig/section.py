"""Where everything stands before the sensor, for the drawing to scale."""

from __future__ import annotations

import math
from collections.abc import Generator, Iterator, Sequence

from tropeion.core.gear.gear import Adapter, Body, Lens
from tropeion.core.gear.world import World
from tropeion.core.optics.coverage import Bore, FormatMode, modes_of
from tropeion.core.optics.focus import Infinity
from tropeion.core.optics.register import Chain, seat_of
from tropeion.core.working import tidy

from .report import Station

__all__ = ["bores_of", "stations_apart", "stations_of", "waist_mm"]


def bores_of(world: World, adapters: Sequence[Adapter], body: Body, register_mm: float) -> list[Bore]:
    """Both ends of every bore, and the body's throat."""
    bores = []
    throat = world.mounts[body.mount].throat_mm
    if throat is not None:
        bores.append(Bore(body.id, register_mm, throat))
    at = register_mm
    for adapter in reversed(adapters):
        length = adapter.physical_length_mm
        if adapter.bore_mm is not None:
            bores.append(Bore(adapter.id, at, adapter.bore_mm))
            bores.append(Bore(adapter.id, at + length, adapter.bore_mm))
        at += length
    return bores


def waist_mm(infinity: Infinity, movable: bool, error_mm: float) -> float:
    """Where the image of infinity falls at best, before (+) or behind (−) the sensor: on it if it can be focused."""
    if not movable:
        return error_mm
    if infinity.short_end_mm > 0:
        return infinity.short_end_mm
    if infinity.long_end_mm is not None and infinity.long_end_mm < 0:
        return infinity.long_end_mm
    return 0.0


def stations_of(
    world: World,
    lens: Lens,
    adapters: Sequence[Adapter],
    body: Body,
    *,
    chain: Chain,
    mode: FormatMode,
    f_number: float,
    waist: float,
) -> tuple[Station, ...]:
    """Every seat, face, bore and pupil, from the back of the body to the front of the lens."""
    return tuple(_stations(world, lens, adapters, body, chain, mode, f_number, waist))


def _stations(
    world: World,
    lens: Lens,
    adapters: Sequence[Adapter],
    body: Body,
    chain: Chain,
    mode: FormatMode,
    f_number: float,
    waist: float,
) -> Iterator[Station]:
    register = chain.body.register_mm
    yield from _body_stations(world, body, register, mode)
    at = register
    for adapter in reversed(adapters):
        at = yield from _adapter_stations(world, adapter, at)
    pupil = None
    if lens.exit_pupil_mm is not None and not chain.has_glass:
        pupil = lens.exit_pupil_mm + chain.error_mm
    yield from _lens_stations(world, lens, at, pupil, f_number)
    yield Station("needed_seat", lens.id, tidy(at - chain.lens_error_mm), world.mounts[lens.mount].outer_mm)
    yield Station("waist", lens.id, tidy(waist), None)


def stations_apart(world: World, lens: Lens | None, body: Body | None, use: str) -> tuple[Station, ...]:
    """A lens where it should stand before its image plane, and a body, with nothing between; either may be missing."""
    found: list[Station] = []
    if body is not None:
        register = seat_of(body, world.mounts[body.mount]).register_mm
        found += _body_stations(world, body, register, modes_of(body, use)[0])
    if lens is not None:
        at = seat_of(lens, world.mounts[lens.mount]).register_mm
        found += _lens_stations(world, lens, at, lens.exit_pupil_mm, lens.f_number[0])
        found.append(Station("needed_seat", lens.id, at, world.mounts[lens.mount].outer_mm))
        found.append(Station("waist", lens.id, 0.0, None))
    return tuple(found)


def _body_stations(world: World, body: Body, register: float, mode: FormatMode) -> Iterator[Station]:
    body_mount = world.mounts[body.mount]
    if body.depth_mm is not None:
        yield Station("body_back", body.id, tidy(register - body.depth_mm), body.height_mm)
    yield Station("sensor", body.id, 0.0, math.hypot(*body.sensor_mm))
    yield Station("mode", body.id, 0.0, mode.diagonal_mm)
    if body.obstruction_mm is not None:
        yield Station("obstruction", body.id, body.obstruction_mm, None)
    if body_mount.throat_mm is not None:
        yield Station("throat", body.id, register, body_mount.throat_mm)
    yield Station("body_seat", body.id, register, body_mount.outer_mm)


def _adapter_stations(world: World, adapter: Adapter, at: float) -> Generator[Station, None, float]:
    """One adapter with its rear face ``at`` mm before the sensor; returns where its front stands."""
    length = adapter.physical_length_mm
    front = tidy(at + length)
    outer = adapter.outer_mm or world.mounts[adapter.lens_mount].outer_mm
    yield Station("adapter_rear", adapter.id, at, outer)
    yield Station("bore_rear", adapter.id, at, adapter.bore_mm)
    if adapter.filter_slot is not None:
        yield Station("filter", adapter.id, tidy(at + length / 3), adapter.bore_mm)
    if adapter.has_glass:
        depth = length / 2 if adapter.front_glass_mm is None else adapter.front_glass_mm
        yield Station("glass", adapter.id, tidy(front - depth), adapter.bore_mm)
    yield Station("bore_front", adapter.id, front, adapter.bore_mm)
    yield Station("adapter_front", adapter.id, front, outer)
    return front


def _lens_stations(world: World, lens: Lens, at: float, pupil: float | None, f_number: float) -> Iterator[Station]:
    yield Station("lens_seat", lens.id, at, world.mounts[lens.mount].outer_mm)
    if lens.rear_protrusion_mm is not None:
        yield Station("rear_vertex", lens.id, tidy(at - lens.rear_protrusion_mm), lens.rear_diameter_mm)
    if pupil is not None and pupil > 0:
        yield Station("exit_pupil", lens.id, tidy(pupil), pupil / f_number)
    if lens.length_mm is not None:
        yield Station("lens_front", lens.id, tidy(at + lens.length_mm), lens.diameter_mm)
