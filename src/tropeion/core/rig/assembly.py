"""The numbers of one rig: what its registers, glass, iris and sensor come to."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from tropeion.core.gear.gear import Adapter, Body, Lens
from tropeion.core.gear.world import Structure, World
from tropeion.core.joints import contacts
from tropeion.core.keeping import kept
from tropeion.core.optics import coverage, equivalents, focus, register
from tropeion.core.practice import Practice
from tropeion.core.working import Calc, tidy

from . import section
from .report import AtFocalLength, NativeReach

__all__ = ["Focused", "Rig", "at_focal_length", "build", "coverage_at", "focus_at", "losses_stops", "settings_of"]

# Distances at which depth of field is given: the music desk, the case, the nave.
_SUBJECTS_MM = (1_000.0, 3_000.0, 10_000.0)


@dataclass(frozen=True, slots=True)
class Rig:
    """What of a rig does not depend on the focal length."""

    world: World
    lens: Lens
    adapters: tuple[Adapter, ...]
    body: Body
    practice: Practice
    chain: register.Chain
    signal: contacts.Signal
    iris: contacts.Iris
    movable: bool
    mode: coverage.FormatMode
    circle_mm: float
    image_circle_mm: float | None
    offset_mm: float

    @property
    def allowance_mm(self) -> float:
        """What the cautious school adds to the error; a rig without adapters is exempt."""
        return self.chain.worst_case_mm if self.practice.trust == "cautious" and self.adapters else 0.0

    @property
    def magnifications(self) -> list[float]:
        return [adapter.magnification for adapter in self.adapters]


def losses_stops(adapters: Sequence[Adapter]) -> float:
    """Light that pieces take, with each filter slot at its clear position or its lightest filter."""
    total = 0.0
    for adapter in adapters:
        total += adapter.light_loss_stops
        if adapter.filter_slot is not None and adapter.filter_slot.positions:
            total += min(position.loss_stops for position in adapter.filter_slot.positions)
    return total


@kept(most=20_000)
def _link(structure: Structure, id_: str) -> register.Link:
    return register.Link.of(structure.adapters[id_])


@kept(most=5_000)
def _modes(world: World, body_id: str, use: str) -> tuple[coverage.FormatMode, ...]:
    return coverage.modes_of(world.bodies[body_id], use)


def build(world: World, lens: Lens, adapters: tuple[Adapter, ...], body: Body, practice: Practice, calc: Calc) -> Rig:
    chain = register.chain_of(
        register.seat_of(lens, world.mounts[lens.mount]),
        [_link(world.structure, adapter.id) for adapter in adapters],
        register.seat_of(body, world.mounts[body.mount]),
        calc,
    )
    circle = None
    if lens.image_circle_mm is not None:
        circle = calc(
            coverage.image_circle_mm,
            lens.image_circle_mm,
            [adapter.magnification for adapter in adapters],
            [adapter.image_circle_mm for adapter in adapters],
        )
    mode, _ = coverage.choose_mode(_modes(world, body.id, practice.use), circle)
    if practice.blur == "two_pixels" and mode.megapixels is not None:
        blur = calc(focus.two_pixels_mm, mode.width_mm, mode.height_mm, mode.megapixels)
    else:
        divisor = 1500.0 if practice.blur == "two_pixels" else float(practice.blur)
        blur = calc(focus.circle_of_confusion_mm, mode.diagonal_mm, divisor)
    signal = contacts.signal_of(world, lens, adapters, body)
    offset = 0.0
    if chain.has_glass:
        offset = calc(
            focus.sensor_offset_mm,
            chain.lens.register_mm,
            chain.lens_error_mm,
            chain.body.register_mm,
            chain.length_mm,
        )
    return Rig(
        world=world,
        lens=lens,
        adapters=adapters,
        body=body,
        practice=practice,
        chain=chain,
        signal=signal,
        iris=contacts.iris_of(lens, adapters, signal),
        movable=contacts.can_be_focused(lens, signal) or chain.helicoid_mm > 0,
        mode=mode,
        circle_mm=blur,
        image_circle_mm=circle,
        offset_mm=offset,
    )


def _usable_f_numbers(rig: Rig, widest: float) -> tuple[float, float]:
    """Widest and smallest marked aperture that this rig can be set to.

    A stuck iris has one; glass that passes no more than a stated f-number makes the wider ones useless.
    """
    smallest = max(rig.lens.f_number[1], widest)
    slowest = equivalents.f_number_with_glass(
        widest, rig.magnifications, [adapter.widest_f_number for adapter in rig.adapters]
    )
    widest = min(max(widest, tidy(slowest / rig.chain.magnification)), smallest)
    match rig.iris.stuck:
        case "open":
            return widest, widest
        case "closed":
            return smallest, smallest
        case _:
            return widest, smallest


@dataclass(frozen=True, slots=True)
class Focused:
    """What one setting of the lens reaches. ``usable`` are the widest and smallest marked apertures to be had."""

    marked_mm: float
    f_number: float
    usable: tuple[float, float]
    travel: float | None
    infinity: focus.Infinity
    reach: focus.Reach

    def window_mm(self, rig: Rig) -> float:
        """Depth of focus wide open, to either side."""
        return rig.chain.magnification * self.usable[0] * rig.circle_mm


def settings_of(lens: Lens) -> list[tuple[float, float]]:
    """Focal length and widest aperture at the wide end and, for a zoom, at the long end."""
    wide = (lens.focal_length_mm[0], lens.f_number[0])
    if not lens.is_zoom:
        return [wide]
    return [wide, (lens.focal_length_mm[1], lens.f_number_at_long_end or lens.f_number[0])]


def focus_at(rig: Rig, marked_mm: float, widest: float, calc: Calc) -> Focused:
    """Reach and infinity at one setting of the lens."""
    lens, chain, k = rig.lens, rig.chain, rig.chain.magnification
    if not contacts.can_be_focused(lens, rig.signal):
        travel: float | None = 0.0
        past = lens.past_infinity_mm if lens.focus == "none" else 0.0
    else:
        travel = focus.travel(marked_mm, lens.min_focus_m, lens.max_magnification, calc)
        past = lens.past_infinity_mm
    usable = _usable_f_numbers(rig, widest)
    infinity = focus.infinity(
        error_mm=chain.error_mm,
        past_infinity_mm=past,
        travel=travel,
        helicoid_mm=chain.helicoid_mm,
        f_numbers=usable,
        k=k,
        circle_mm=rig.circle_mm,
        uncertainty_mm=chain.standard_uncertainty_mm,
        allowance_mm=rig.allowance_mm,
        calc=calc,
    )
    reach = focus.Reach("none", None, None, None, None)
    if not rig.movable:
        if lens.focus == "by_wire":
            # Where its focus group rests without power is anybody's guess.
            infinity = replace(infinity, reached=False, from_f_number=None, probability=None)
    else:
        short, long = focus.extensions(chain.lens_error_mm, past, travel, tidy(chain.helicoid_mm / k**2), calc)
        long_end = infinity.long_end_mm
        if long_end is None or long_end >= 0 or tidy(long_end + k * usable[1] * rig.circle_mm) >= 0:
            reach = focus.reach(marked_mm, usable[0], k, short, long, rig.offset_mm, calc)
    f_number = calc(
        equivalents.f_number_with_glass,
        widest,
        rig.magnifications,
        [adapter.widest_f_number for adapter in rig.adapters],
    )
    return Focused(marked_mm, f_number, usable, travel, infinity, reach)


def at_focal_length(rig: Rig, focused: Focused, calc: Calc) -> AtFocalLength:
    """Everything that depends on the focal length, at one setting of the lens."""
    lens, body, infinity = rig.lens, rig.body, focused.infinity
    if infinity.probability is not None:
        stops = focus.stops_of(
            infinity,
            focused.usable,
            k=rig.chain.magnification,
            circle_mm=rig.circle_mm,
            uncertainty_mm=rig.chain.standard_uncertainty_mm,
        )
        infinity = replace(infinity, stops=stops)
    focal = calc(equivalents.focal_length_with_glass_mm, rig.chain.magnification, focused.marked_mm)
    stabiliser = None
    if body.stabiliser is not None:
        settings = body.stabiliser
        entry = calc(equivalents.stabiliser_entry_mm, focal, settings.entry_step_mm, settings.entry_mm)
        stabiliser = coverage.StabiliserEntry(
            entry, *coverage.stabiliser_travel(settings, rig.mode, rig.image_circle_mm, calc)
        )
    return AtFocalLength(
        focal_length_mm=focal,
        f_number=focused.f_number,
        working_f_number=max(focused.f_number, rig.chain.magnification * focused.usable[0]),
        infinity=infinity,
        focus=focused.reach,
        equivalents=equivalents.equivalents_of(
            mode=rig.mode,
            focal_length_mm=focal,
            f_number=focused.f_number,
            squeeze=lens.squeeze,
            fisheye=lens.fisheye,
            crop=rig.practice.crop,
            stabiliser_stops=(body.stabiliser.stops or 0.0) if body.stabiliser else 0.0,
            calc=calc,
        ),
        stabiliser=stabiliser,
        depth_of_field=_depths(rig, focused.marked_mm, focused.usable[0], focused.reach, calc),
        native=NativeReach(_native_near(lens, focused.marked_mm)),
    )


def _native_near(lens: Lens, focal_length_mm: float) -> float | None:
    """Closest focus on the lens's own body: as stated, else from the stated magnification."""
    if lens.min_focus_m is not None:
        return lens.min_focus_m * 1000
    if lens.max_magnification is not None:
        return focus.object_distance_mm(focal_length_mm, lens.max_magnification * focal_length_mm)
    return None


def _depths(
    rig: Rig, focal_length_mm: float, f_number: float, reach: focus.Reach, calc: Calc
) -> tuple[focus.DepthOfField, ...]:
    if reach.state == "none":
        return ()
    depths = []
    for subject in _SUBJECTS_MM:
        if reach.near_mm is None or subject < reach.near_mm:
            continue
        if reach.far_mm is not None and subject > reach.far_mm:
            continue
        depth = focus.depth_of_field(
            subject,
            focal_length_mm=focal_length_mm,
            f_number=f_number,
            circle_mm=rig.circle_mm,
            k=rig.chain.magnification,
            calc=calc.under(f"at {subject / 1000:g} m"),
        )
        if depth is not None:
            depths.append(depth)
    return tuple(depths)


def coverage_at(rig: Rig, f_number: float, calc: Calc) -> coverage.Coverage:
    """The circle over the mode in use, and what cuts into the light on its way."""
    lens, mode, chain = rig.lens, rig.mode, rig.chain
    circle = rig.image_circle_mm
    covered = circle is None or tidy(circle - mode.diagonal_mm) >= 0
    angle = clipping = None
    if lens.exit_pupil_mm is not None and not chain.has_glass:
        pupil = lens.exit_pupil_mm + chain.error_mm
        if pupil > 0:
            angle = calc(coverage.corner_ray_angle_deg, mode.diagonal_mm / 2, lens.exit_pupil_mm, chain.error_mm)
        clipping = coverage.throat_clipping(
            section.bores_of(rig.world, rig.adapters, rig.body, chain.body.register_mm),
            f_number=f_number,
            pupil_mm=pupil,
            calc=calc,
        )
    return coverage.coverage_of(mode, covered, circle, ray_angle_deg=angle, clipping=clipping, calc=calc)
