"""A rig set as it is asked: what its ring, its iris and its movements come to."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import cached_property

from tropeion.core import findings, written
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.lenses import Lens
from tropeion.core.optics import equivalents, focus, modes
from tropeion.core.optics.defocus import extension_for_mm
from tropeion.core.optics.infinity import FULL_STOPS
from tropeion.core.optics.movements import Hinge, Stitch, TallSubject, hinge_of, stitch_of, tall_subject
from tropeion.core.rig.assembly import Assembly, in_mode
from tropeion.core.rig.ends import (
    Axis,
    extensions_at,
    glass_behind,
    shifts_along,
    shifts_mm,
    usable_f_numbers,
    widest_at,
)
from tropeion.core.rig.judgement import Assessment
from tropeion.core.working import PLAIN, tidy

from .frame_report import Movement
from .lamps import View
from .question import FrameQuestion, NotPossibleError, SubjectAt
from .scenes import Scene, Standpoint, scene_of

# How high the subject of each scene is, how far away, and how high the lens stands, unless it is said; in m. A church
# is put where it fills its share of the sensor.
FRONT_M, FRONT_LENS_M, FRONT_SHARE = 18.0, 1.6, 5 / 6
USUAL = {"nave": SubjectAt(11.0, 8.0, 1.5), "mark": SubjectAt(1.5, 0.6, 1.2), "chart": SubjectAt(2.0, 3.0, 1.5)}
# The noise of a white pixel at f/2.8 on 36 × 24 mm; the smallest light has the most of it.
GRAIN, MOST_GRAIN = 0.009, 0.09
# A subject inside the lens is moved to this distance, in mm.
NEAREST_MM = 1.0


class Setup:
    """A rig with a question, worked out once.

    ``marked_mm`` and ``f_number`` are on the lens's rings, ``focal_mm`` and ``working_f_number`` with the glass;
    ``extension_mm`` is how far the lens stands beyond its infinity focus, ``held`` which stop of the ring holds it
    there. Lengths in mm at the sensor, ``width_mm`` × ``height_mm`` as the camera is held.
    """

    def __init__(self, judged: Assessment, asked: FrameQuestion) -> None:
        self.judged, self.asked = judged, asked
        self.rig = _in_mode(judged.rig, asked.mode)
        rig = self.rig
        self.k = rig.chain.magnification
        self.marked_mm, widest = self._setting()
        usable = usable_f_numbers(rig, widest)
        self.f_number = self._f_number(usable)
        self.f_numbers = _marked_between(*usable, rig.lens.marked_f_numbers or ())
        self.focal_mm = equivalents.focal_length_with_glass_mm(self.k, self.marked_mm)
        self.working_f_number = rig.f_number_with_glass(self.f_number)
        sides = (rig.mode.width_mm, rig.mode.height_mm)
        self.width_mm, self.height_mm = sides[::-1] if asked.upright else sides
        self.range_mm = extensions_at(rig, self.marked_mm, PLAIN)
        self.subject = self._subject()
        self.at_m = asked.at_m if asked.at_m is not None else self.subject.distance_m
        self.extension_mm, self.held = self._extension()

    @property
    def own_f_number(self) -> float:
        """The aperture before the glass that its light comes to: the marked one, unless the glass passes less."""
        return self.working_f_number / self.k

    def _setting(self) -> tuple[float, float]:
        """The marked focal length, and the widest aperture there: between a zoom's ends, between theirs."""
        short, long = self.rig.lens.focal_length_mm
        wanted = self.asked.focal_length_mm
        if wanted is None:
            return short, widest_at(self.rig.lens, short)
        if not short <= wanted <= long:
            span = f"{short:g} mm" if short == long else f"{short:g} to {long:g} mm"
            raise NotPossibleError("focal_length_mm", f"{self.rig.lens.name} has {span}")
        return wanted, widest_at(self.rig.lens, wanted)

    def _f_number(self, usable: tuple[float, float]) -> float:
        wanted = self.asked.f_number
        if wanted is None:
            return usable[0]
        if not usable[0] - 1e-9 <= wanted <= usable[1] + 1e-9:
            if usable[0] == usable[1]:
                raise NotPossibleError("f_number", f"the aperture of this rig stays at {written.aperture(usable[0])}")
            said = f"{written.aperture(usable[0])} to {written.aperture(usable[1])}"
            raise NotPossibleError("f_number", f"this rig can be set from {said}")
        return wanted

    def _subject(self) -> SubjectAt:
        if self.asked.subject is not None:
            return self.asked.subject
        scene, at = self.asked.scene, self.asked.at_m
        if scene == "facade":
            # With the camera level, its top needs some rise.
            away = FRONT_M * self.focal_mm / (FRONT_SHARE * self.rig.body.sensor_mm[1])
            return SubjectAt(FRONT_M, round(away, 1), FRONT_LENS_M)
        usual = USUAL[scene]
        if scene == "nave":
            return usual
        if at is not None and math.isfinite(at):
            return replace(usual, distance_m=at)
        # Mark and chart are put where the lens is focused, as near as it goes.
        long = self.range_mm[1]
        near = 0.0 if not long or long <= 0 else focus.object_distance_mm(self.marked_mm, long) / 1000
        return replace(usual, distance_m=round(max(usual.distance_m, near), 2))

    def _extension(self) -> tuple[float, str]:
        """How far the lens stands beyond infinity focus, and which stop of the ring holds it there."""
        short, long = self.range_mm
        wanted = extension_for_mm(self.marked_mm, self.at_m * 1000 + self.rig.offset_mm)
        if wanted is None:
            # Nearer than a thin lens can focus: use its closest distance.
            return (self.marked_mm if long is None else max(short, long)), "near"
        if wanted < short:
            return short, "far"
        if long is not None and wanted > long:
            return long, "near"
        return wanted, ""

    @property
    def works(self) -> bool:
        """Whether there is a picture at all."""
        return findings.rank(self.judged.grade) > findings.rank("none") and self.extension_mm > -self.marked_mm

    @property
    def sharp_m(self) -> float | None:
        """Where it is sharp, from the sensor; None is infinity, or nowhere where the lens stands too near."""
        if self.extension_mm <= 0:
            return None
        return tidy(focus.object_distance_mm(self.marked_mm, self.extension_mm) - self.rig.offset_mm) / 1000

    @property
    def lens_to_subject_mm(self) -> float:
        return self.subject.distance_m * 1000 - self.marked_mm - self.extension_mm

    @property
    def field_m(self) -> tuple[float, float]:
        """What the frame takes in at the subject."""
        share = max(self.lens_to_subject_mm, NEAREST_MM) / (self.k * (self.marked_mm + self.extension_mm)) / 1000
        return self.width_mm * self.rig.lens.squeeze * share, self.height_mm * share

    # Movements

    @cached_property
    def moving(self) -> tuple[Movement, ...]:
        """What shifts or tilts, from the lens's ring backwards."""
        rig = self.rig
        pieces: tuple[Adapter | Lens, ...] = (*rig.adapters, rig.lens)
        return tuple(
            Movement(
                piece.id,
                piece.name,
                piece.shift_mm * (k := glass_behind(rig, piece.id)),
                piece.tilt_deg,
                k,
                shifts_along(piece, "up"),
                shifts_along(piece, "across"),
            )
            for piece in pieces
            if piece.shift_mm or piece.tilt_deg
        )

    @property
    def shifting(self) -> tuple[Movement, ...]:
        return tuple(movement for movement in self.moving if movement.shift_mm)

    def shift_reach_mm(self, axis: Axis = "up") -> float:
        """How far all that shifts goes this way, at the sensor."""
        return shifts_mm(self.rig, axis)

    @property
    def tilting(self) -> Movement | None:
        """What is tilted; a tilt that nothing here has is drawn as if the lens could, in front of all glass."""
        return next((movement for movement in self.moving if movement.tilt_deg), None)

    @cached_property
    def tall(self) -> TallSubject:
        """What the subject asks of rise and pitch; level where nothing is said."""
        return tall_subject(
            focal_length_mm=self.focal_mm,
            width_mm=self.width_mm,
            height_mm=self.height_mm,
            subject_mm=self.subject.height_m * 1000,
            lens_mm=self.subject.lens_m * 1000,
            distance_mm=self.subject.distance_m * 1000,
            correction=1.0 if self.asked.correct is None else self.asked.correct,
            circle_mm=self.rig.image_circle_mm,
        )

    @cached_property
    def shift_set_mm(self) -> tuple[float, float]:
        """The shift at the sensor: as it is set, else the rise that the corrected subject wants and the ring has."""
        if self.asked.shift_mm is not None:
            k = self.shifting[0].glass_behind if self.shifting else self.k
            return self.asked.shift_mm[0] * k, self.asked.shift_mm[1] * k
        if self.asked.correct is None:
            return 0.0, 0.0
        return 0.0, tidy(min(max(0.0, self.tall.rise_wanted_mm), self.shift_reach_mm()))

    @cached_property
    def hinge(self) -> Hinge:
        return hinge_of(
            self.asked.tilt_deg,
            self.tilting.glass_behind if self.tilting else self.k,
            focal_length_mm=self.focal_mm,
            f_number=self.working_f_number,
            circle_mm=self.rig.blur_mm,
            distance_mm=self.lens_to_subject_mm,
        )

    @property
    def stitch(self) -> Stitch | None:
        """Frames shifted to either side, along the longer of the two shifts; None without any."""
        across, up = self.shift_set_mm
        if across == up == 0:
            return None
        sideways = abs(across) >= abs(up)
        sides = (self.width_mm, self.height_mm)
        side, other = sides if sideways else sides[::-1]
        return stitch_of(
            side,
            other,
            across if sideways else up,
            focal_length_mm=self.focal_mm,
            megapixels=self.rig.mode.megapixels,
            circle_mm=self.rig.image_circle_mm,
        )

    # The light

    @property
    def pupil_mm(self) -> float | None:
        """The exit pupil before the sensor, carried along with the lens; not known behind glass."""
        pupil = self.rig.lens.exit_pupil_mm
        return None if pupil is None or self.rig.chain.has_glass else pupil + self.extension_mm

    @property
    def steep_from_mm(self) -> float | None:
        """How far from the middle the light gets steeper than the sensor likes."""
        limit = self.rig.body.max_ray_angle_deg
        return None if limit is None or self.pupil_mm is None else self.pupil_mm * math.tan(math.radians(limit))

    @property
    def total_light_f_number(self) -> float:
        """The aperture that gathers as much light on 36 × 24 mm: what the noise follows."""
        return equivalents.equivalent_f_number(
            self.working_f_number, equivalents.crop_by_diagonal(self.rig.mode.diagonal_mm)
        )

    # The picture

    def scene(self) -> Scene:
        subject = self.subject
        return scene_of(
            self.asked.scene, Standpoint(subject.distance_m, subject.height_m, subject.lens_m, self.field_m)
        )

    def view(self) -> View:
        rig, lens = self.rig, self.rig.lens
        travel = 0.0 if rig.body.stabiliser is None else rig.body.stabiliser.travel_mm * self.asked.stray
        hinge = self.hinge.hinge_mm
        return View(
            width_mm=self.width_mm,
            height_mm=self.height_mm,
            focal_length_mm=self.marked_mm,
            f_number=self.own_f_number,
            k=self.k,
            extension_mm=self.extension_mm,
            squeeze=lens.squeeze,
            fisheye=lens.fisheye,
            shift_mm=self.shift_set_mm,
            # Unless verticals are asked about, the camera is level.
            pitch_deg=self.tall.pitch_deg,
            lens_m=self.subject.lens_m,
            hinge_mm=None if hinge is None else math.copysign(hinge, self.asked.tilt_deg),
            circle_mm=rig.image_circle_mm,
            bores=tuple(rig.stack.bores),
            pupil_mm=self.pupil_mm,
            stray_mm=(travel, travel),
            steep_from_mm=self.steep_from_mm,
            grain=min(MOST_GRAIN, GRAIN * self.total_light_f_number / 2.8),
        )


def _in_mode(rig: Assembly, name: str | None) -> Assembly:
    """The same rig with a mode chosen by hand."""
    if name is None:
        return rig
    mode = modes.mode_named(rig.body, rig.practice.use, name)
    if mode is None:
        known = ", ".join(mode.name for mode in modes.modes_of(rig.body, rig.practice.use))
        raise NotPossibleError("mode", f"{rig.body.name} has no mode “{name}”: {known}")
    return in_mode(rig, mode)


def _marked_between(widest: float, smallest: float, engraved: tuple[float, ...]) -> tuple[float, ...]:
    """The apertures that are marked, or the full stops, from the widest to the smallest."""
    stops = engraved or FULL_STOPS
    return tuple(sorted({widest, *(stop for stop in stops if widest < stop <= smallest), smallest}))
