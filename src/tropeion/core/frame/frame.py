"""A rig set for a picture: what the sensor would record, and every number beside it."""

from __future__ import annotations

import math
import zlib
from dataclasses import dataclass, replace

from tropeion.core import findings, written
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.optics import blur as sharpness
from tropeion.core.optics import coverage, depth, equivalents, focus, modes
from tropeion.core.optics.defocus import blur_diameter_mm, extension_for_mm, infinity_blur_mm
from tropeion.core.optics.movements import Hinge, Stitch, TallSubject, hinge_of, stitch_of, tall_subject
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import Assembly
from tropeion.core.rig.ends import extensions_at, glass_behind, settings_of, usable_f_numbers
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.words import capital, word
from tropeion.core.working import PLAIN, Calc, tidy

from .question import FrameQuestion, NotPossibleError, SubjectAt
from .render import View
from .scenes import Scene, SceneName, Setting, scene_of

__all__ = ["Blur", "Caption", "DepthRow", "Frame", "FrameReport", "ModeRow", "Movement", "frame_of", "seed_of"]

# Where each scene is put, and focused, unless it is said: height of the subject, distance, height of the lens, in m.
USUAL: dict[SceneName, SubjectAt] = {
    "facade": SubjectAt(18.0, 14.0, 1.6),
    "nave": SubjectAt(11.0, 8.0, 1.5),
    "mark": SubjectAt(0.3, 0.6, 1.2),
    "chart": SubjectAt(1.5, 3.0, 1.5),
}
BLUR_AT_M = (1.0, 2.0, 5.0, 10.0, 50.0, math.inf)
DEPTH_AT_M = (1.0, 2.0, 5.0, 10.0)
# The noise of a white pixel at f/2.8 on 36 × 24 mm; the smallest light has the most of it.
GRAIN, MOST_GRAIN = 0.009, 0.09
MARKED = (0.7, 1.0, 1.4, 2.0, 2.8, 4.0, 5.6, 8.0, 11.0, 16.0, 22.0, 32.0, 45.0, 64.0)


@dataclass(frozen=True, slots=True)
class Blur:
    """The blur disc of a point at a distance (None: infinity), in mm at the sensor; None: it is inside the lens."""

    distance_m: float | None
    diameter_mm: float | None


@dataclass(frozen=True, slots=True)
class DepthRow:
    """Depth of field at one aperture and distance, in m (None: infinity), with the blur of infinity in mm.

    ``front_share`` is how much of it lies before the subject; None where it has no end.
    """

    f_number: float
    distance_m: float
    near_m: float
    far_m: float | None
    total_m: float | None
    front_share: float | None
    hyperfocal_m: float
    infinity_blur_mm: float


@dataclass(frozen=True, slots=True)
class ModeRow:
    """A mode of the sensor under this circle. None where the circle is not known.

    ``rise_mm`` is what the circle allows, ``rise_upright_mm`` with the camera turned; ``costs_megapixels`` what is
    lost against the whole sensor, ``buys_mm`` the rise that it gains.
    """

    name: str
    width_mm: float
    height_mm: float
    megapixels: float | None
    automatic: bool
    in_use: bool
    covered: bool | None
    margin_mm: float | None
    rise_mm: float | None
    rise_upright_mm: float | None
    costs_megapixels: float | None
    buys_mm: float | None


@dataclass(frozen=True, slots=True)
class Movement:
    """What can be shifted or tilted in this rig: a piece, how far at the sensor, and the glass behind it."""

    link: str
    name: str
    shift_mm: float
    tilt_deg: float
    glass_behind: float


@dataclass(frozen=True, slots=True)
class Caption:
    """What the picture knows, what it assumes, and what it leaves out; sentences."""

    known: tuple[str, ...]
    assumed: tuple[str, ...]
    left_out: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class FrameReport:
    """Every number of a frame. Lengths in mm at the sensor, distances in m from it, angles in degrees.

    ``at_m`` is where it was to be sharp, ``sharp_m`` where it is (None: infinity), which differs where the ring does
    not go there. ``reason`` says why there is no picture, else it is empty. ``moving`` is what can be moved,
    ``no_room`` says why nothing can. ``shift`` is what the subject asks for, ``shift_set_mm`` what is set at the
    sensor.
    """

    lens: str
    body: str
    adapters: tuple[str, ...]
    names: dict[str, str]
    reason: str
    sentence: str
    scene: SceneName
    at_m: float | None
    sharp_m: float | None
    extension_mm: float
    subject: SubjectAt
    magnification: float
    focal_length_mm: float
    marked_mm: tuple[float, float]
    f_number: float
    f_numbers: tuple[float, ...]
    working_f_number: float
    mode: str
    width_mm: float
    height_mm: float
    upright: bool
    squeeze: float
    desqueeze: bool
    image_circle_mm: float | None
    circle_from: str
    circle_doubt_mm: float | None
    circle_of_confusion_mm: float
    field_m: tuple[float, float]
    angles_deg: tuple[float, float] | None
    blur: tuple[Blur, ...]
    shift: TallSubject
    shift_set_mm: tuple[float, float]
    shift_fits: bool | None
    rise_mechanism_mm: float
    stitch: Stitch | None
    tilt: Hinge
    depth: tuple[DepthRow, ...]
    modes: tuple[ModeRow, ...]
    moving: tuple[Movement, ...]
    no_room: str
    stabiliser_travel_mm: float | None
    steep_from_mm: float | None
    light_stops: float
    caption: Caption
    assumed: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Frame:
    """The numbers, and what is needed to draw the picture: None where the rig does not work."""

    report: FrameReport
    scene: Scene | None
    view: View | None


def frame_of(
    world: World,
    lens_id: str,
    body_id: str,
    via: list[str],
    question: FrameQuestion | None = None,
    practice: Practice | None = None,
    calc: Calc = PLAIN,
) -> Frame:
    """What a rig, adapters from the lens to the body, would record.

    Raises UnknownIdError for an id that is not in the collection, NotPossibleError for a setting that it has not.
    """
    practice, asked = practice or Practice(), question or FrameQuestion()
    lens, body = world.lens(lens_id), world.body(body_id)
    adapters = tuple(world.adapter(id_) for id_ in via)
    judged = assess(world, lens, adapters, body, practice)
    rig = _in_mode(judged.rig, asked.mode)
    made = _Made(judged, rig, asked, calc)
    return Frame(made.report(), made.scene() if made.works else None, made.view() if made.works else None)


def seed_of(text: str) -> int:
    """The grain of an address: the same address has the same."""
    return zlib.crc32(text.encode())


def _in_mode(rig: Assembly, name: str | None) -> Assembly:
    """The same rig with a mode chosen by hand."""
    if name is None:
        return rig
    found = modes.modes_of(rig.body, rig.practice.use)
    mode = next((one for one in found if one.name == name), None)
    if mode is None:
        raise NotPossibleError("mode", f"{rig.body.name} has no mode “{name}”: {', '.join(m.name for m in found)}")
    return replace(rig, mode=mode, blur_mm=sharpness.blur_of(mode, rig.practice.blur, PLAIN))


class _Made:
    """A rig with a question, worked out once; what is derived stands in its own method."""

    def __init__(self, judged: Assessment, rig: Assembly, asked: FrameQuestion, calc: Calc) -> None:
        self.judged, self.rig, self.asked, self.calc = judged, rig, asked, calc
        self.k = rig.chain.magnification
        self.marked, widest = self._setting()
        usable = usable_f_numbers(rig, widest)
        self.f_number = self._f_number(usable)
        self.f_numbers = _marked_between(*usable, rig.lens.marked_f_numbers or ())
        self.focal = calc(equivalents.focal_length_with_glass_mm, self.k, self.marked)
        self.working = calc(
            equivalents.f_number_with_glass,
            self.f_number,
            rig.magnifications,
            [adapter.widest_f_number for adapter in rig.adapters],
        )
        self.width, self.height = rig.mode.width_mm, rig.mode.height_mm
        if asked.upright:
            self.width, self.height = self.height, self.width
        self.subject = self._subject()
        self.at_m = asked.at_m if asked.at_m is not None else self.subject.distance_m
        self.extension, self.held = self._extension()
        self.assumed: list[str] = []

    # The setting

    def _setting(self) -> tuple[float, float]:
        """The marked focal length, and the widest aperture there: between a zoom's ends, between theirs."""
        ends = settings_of(self.rig.lens)
        (short, fast), (long, slow) = ends[0], ends[-1]
        wanted = self.asked.focal_length_mm
        if wanted is None:
            return short, fast
        if not short <= wanted <= long:
            span = f"{short:g} mm" if short == long else f"{short:g} to {long:g} mm"
            raise NotPossibleError("focal_length_mm", f"{self.rig.lens.name} has {span}")
        share = 0.0 if long == short else (wanted - short) / (long - short)
        return wanted, fast + (slow - fast) * share

    def _f_number(self, usable: tuple[float, float]) -> float:
        wanted = self.asked.f_number
        if wanted is None:
            return usable[0]
        if not usable[0] - 1e-9 <= wanted <= usable[1] + 1e-9:
            if usable[0] == usable[1]:
                raise NotPossibleError("f_number", f"the iris of this rig stays at {written.aperture(usable[0])}")
            said = f"{written.aperture(usable[0])} to {written.aperture(usable[1])}"
            raise NotPossibleError("f_number", f"this rig can be set from {said}")
        return wanted

    def _subject(self) -> SubjectAt:
        usual = USUAL[self.asked.scene]
        if self.asked.subject is not None:
            return self.asked.subject
        at = self.asked.at_m
        if self.asked.scene == "facade":
            # So far away that it fills five sixths of the sensor: held level, its top wants some rise.
            return replace(usual, distance_m=round(1.2 * usual.height_m * self.focal / self.rig.body.sensor_mm[1], 1))
        if self.asked.scene in {"mark", "chart"}:
            # These are put where the lens is focused, as near as it goes.
            _, long = extensions_at(self.rig, self.marked, PLAIN)
            near = 0.0 if not long or long <= 0 else focus.object_distance_mm(self.marked, long) / 1000
            usual = replace(usual, distance_m=round(max(usual.distance_m, near), 2))
            return replace(usual, distance_m=at) if at is not None and math.isfinite(at) else usual
        return usual

    def _extension(self) -> tuple[float, str]:
        """How far the lens stands beyond infinity focus, and which stop of the ring holds it there."""
        short, long = extensions_at(self.rig, self.marked, self.calc)
        wanted = self.calc(extension_for_mm, self.marked, self.at_m * 1000 + self.rig.offset_mm)
        if wanted is None:
            # Nearer than any thin lens goes: as near as this one does.
            return (self.marked if long is None else max(short, long)), "near"
        if wanted < short:
            return short, "far"
        if long is not None and wanted > long:
            return long, "near"
        return wanted, ""

    @property
    def works(self) -> bool:
        return findings.rank(self.judged.grade) > findings.rank("none") and self.extension > -self.marked

    @property
    def sharp_m(self) -> float | None:
        """Where it is sharp, from the sensor; None is infinity, or nowhere where the lens stands too near."""
        x, f = self.extension, self.marked
        return None if x <= 0 else tidy(2 * f + f * f / x + x - self.rig.offset_mm) / 1000

    def field_m(self) -> tuple[float, float]:
        """What the frame takes in at the subject."""
        away = self.subject.distance_m * 1000 - self.marked - self.extension
        image = self.k * (self.marked + self.extension)
        return max(away, 1.0) * self.width * self.rig.lens.squeeze / image / 1000, max(
            away, 1.0
        ) * self.height / image / 1000

    # Movements

    def moving(self) -> tuple[Movement, ...]:
        rig = self.rig
        pieces: tuple[Adapter | Lens, ...] = (*rig.adapters, rig.lens)
        found = [
            Movement(one.id, one.name, one.shift_mm * (k := glass_behind(rig, one.id)), one.tilt_deg, k)
            for one in pieces
            if one.shift_mm or one.tilt_deg
        ]
        return tuple(found)

    def _tilting(self) -> Movement | None:
        """What is tilted; a tilt that nothing here has is drawn as if the lens could, in front of all glass."""
        return next((one for one in self.moving() if one.tilt_deg), None)

    def tall(self) -> TallSubject:
        correct = 1.0 if self.asked.correct is None else self.asked.correct
        return tall_subject(
            focal_length_mm=self.focal,
            width_mm=self.width,
            height_mm=self.height,
            subject_mm=self.subject.height_m * 1000,
            lens_mm=self.subject.lens_m * 1000,
            distance_mm=self.subject.distance_m * 1000,
            correction=correct,
            circle_mm=self.rig.image_circle_mm,
            calc=self.calc,
        )

    def shift_set(self) -> tuple[float, float]:
        """The shift at the sensor: as it is set, else the rise that the corrected subject wants and the ring has."""
        moving = [one for one in self.moving() if one.shift_mm]
        if self.asked.shift_mm is not None:
            k = moving[0].glass_behind if moving else self.k
            return self.asked.shift_mm[0] * k, self.asked.shift_mm[1] * k
        if self.asked.correct is None or not moving:
            return 0.0, 0.0
        return 0.0, tidy(min(max(0.0, self.tall().rise_wanted_mm), sum(one.shift_mm for one in moving)))

    def hinge(self) -> Hinge:
        tilting = self._tilting()
        return hinge_of(
            self.asked.tilt_deg,
            tilting.glass_behind if tilting else self.k,
            focal_length_mm=self.focal,
            f_number=self.working,
            circle_mm=self.rig.blur_mm,
            distance_mm=self.subject.distance_m * 1000 - self.marked - self.extension,
            calc=self.calc,
        )

    def _stitch(self) -> Stitch | None:
        across, up = self.shift_set()
        if across == up == 0:
            return None
        sideways = abs(across) >= abs(up)
        return stitch_of(
            self.width if sideways else self.height,
            self.height if sideways else self.width,
            across if sideways else up,
            focal_length_mm=self.focal,
            megapixels=self.rig.mode.megapixels,
            circle_mm=self.rig.image_circle_mm,
            calc=self.calc,
        )

    def _no_room(self) -> str:
        """Why nothing here shifts or tilts, as the collection has it."""
        if self.moving():
            return ""
        rig = self.rig
        gap = tidy(rig.stack.lens_seat.register_mm - rig.stack.body_seat.register_mm)
        able = [one for one in rig.world.gear.adapters if (one.shift_mm or one.tilt_deg) and not one.retired]
        shortest = min((one.length_mm for one in able), default=None)
        if rig.stack.lens_mount is rig.stack.body_mount:
            return "Lens and body are of one mount: between them is no room for a ring that shifts or tilts."
        said = f"The room between lens and body is {written.millimetres(gap)}."
        if shortest is None:
            return f"{said} Nothing in the collection shifts or tilts."
        if gap < shortest:
            least = written.millimetres(shortest)
            return f"{said} The shortest ring in the collection that shifts or tilts is {least} long."
        fits = [one.name for one in able if _joins(rig, one)]
        return (
            f"{said} {', '.join(fits)} would fit."
            if fits
            else f"{said} Nothing in the collection that moves joins these two."
        )

    # The picture

    def scene(self) -> Scene:
        return scene_of(
            self.asked.scene,
            Setting(self.subject.distance_m, self.subject.height_m, self.subject.lens_m, self.field_m()),
        )

    def view(self) -> View:
        rig, lens = self.rig, self.rig.lens
        tall, hinge = self.tall(), self.hinge()
        travel = rig.body.stabiliser.travel_mm * self.asked.stray if rig.body.stabiliser is not None else 0.0
        signed = None if hinge.hinge_mm is None else math.copysign(hinge.hinge_mm, self.asked.tilt_deg)
        return View(
            width_mm=self.width,
            height_mm=self.height,
            focal_length_mm=self.marked,
            f_number=self.working / self.k,
            k=self.k,
            extension_mm=self.extension,
            squeeze=lens.squeeze,
            fisheye=lens.fisheye,
            shift_mm=self.shift_set(),
            pitch_deg=tall.pitch_deg if self.asked.correct is not None else 0.0,
            lens_m=self.subject.lens_m,
            hinge_mm=signed,
            circle_mm=rig.image_circle_mm,
            bores=tuple(rig.stack.bores),
            pupil_mm=self._pupil(),
            working_f_number=self.working,
            stray_mm=(travel, travel),
            ray_limit_deg=rig.body.max_ray_angle_deg,
            grain=min(MOST_GRAIN, GRAIN * self.working * math.hypot(36, 24) / rig.mode.diagonal_mm / 2.8),
        )

    def _pupil(self) -> float | None:
        pupil = self.rig.lens.exit_pupil_mm
        return None if pupil is None or self.rig.chain.has_glass else pupil + self.extension

    def _steep_from(self) -> float | None:
        """How far from the middle the light gets steeper than the sensor likes, in mm."""
        limit, pupil = self.rig.body.max_ray_angle_deg, self._pupil()
        return None if limit is None or pupil is None else pupil * math.tan(math.radians(limit))

    # The numbers

    def report(self) -> FrameReport:
        rig, lens, asked = self.rig, self.rig.lens, self.asked
        shift, circle = self.shift_set(), rig.image_circle_mm
        caption = self._caption()
        return FrameReport(
            lens=lens.id,
            body=rig.body.id,
            adapters=tuple(one.id for one in rig.adapters),
            names={one.id: one.name for one in (lens, *rig.adapters, rig.body)},
            reason="" if self.works else self._reason(),
            sentence=self._sentence(),
            scene=asked.scene,
            at_m=None if math.isinf(self.at_m) else self.at_m,
            sharp_m=self.sharp_m,
            extension_mm=self.extension,
            subject=self.subject,
            magnification=self.k,
            focal_length_mm=self.focal,
            marked_mm=lens.focal_length_mm,
            f_number=self.f_number,
            f_numbers=self.f_numbers,
            working_f_number=self.working,
            mode=rig.mode.name,
            width_mm=self.width,
            height_mm=self.height,
            upright=asked.upright,
            squeeze=lens.squeeze,
            desqueeze=asked.desqueeze,
            image_circle_mm=circle,
            circle_from=lens.image_circle_from if lens.image_circle_mm is not None else "",
            circle_doubt_mm=lens.image_circle_tolerance_mm,
            circle_of_confusion_mm=rig.blur_mm,
            field_m=self.field_m(),
            angles_deg=None if lens.fisheye else self._angles(),
            blur=tuple(self._blur(one) for one in BLUR_AT_M),
            shift=self.tall(),
            shift_set_mm=shift,
            shift_fits=None if circle is None else coverage.covers_shift(circle, self.width, self.height, shift),
            rise_mechanism_mm=sum(one.shift_mm for one in self.moving()),
            stitch=self._stitch(),
            tilt=self.hinge(),
            depth=self._depths(),
            modes=self._modes(),
            moving=self.moving(),
            no_room=self._no_room(),
            stabiliser_travel_mm=None if rig.body.stabiliser is None else rig.body.stabiliser.travel_mm,
            steep_from_mm=self._steep_from(),
            light_stops=-2 * math.log2(self.working * math.hypot(36, 24) / rig.mode.diagonal_mm),
            caption=caption,
            assumed=caption.assumed,
        )

    def _angles(self) -> tuple[float, float]:
        image = self.focal
        across = self.width * self.rig.lens.squeeze
        return (
            2 * math.degrees(math.atan(across / (2 * image))),
            2 * math.degrees(math.atan(self.height / (2 * image))),
        )

    def _blur(self, distance_m: float) -> Blur:
        diameter = self.calc(
            blur_diameter_mm,
            self.marked,
            self.working / self.k,
            self.k,
            self.extension,
            distance_m * 1000 + self.rig.offset_mm,
        )
        return Blur(None if math.isinf(distance_m) else distance_m, diameter)

    def _depths(self) -> tuple[DepthRow, ...]:
        found = []
        short, long = extensions_at(self.rig, self.marked, PLAIN)
        places = sorted({*DEPTH_AT_M, *([self.sharp_m] if self.sharp_m is not None and self.works else [])})
        for f_number in self.f_numbers:
            for away in places:
                extension = extension_for_mm(self.marked, away * 1000 + self.rig.offset_mm)
                if (
                    extension is None
                    or tidy(extension - short) < 0
                    or (long is not None and tidy(extension - long) > 0)
                ):
                    continue
                row = self._depth(f_number, away, extension)
                if row is not None:
                    found.append(row)
        return tuple(found)

    def _depth(self, f_number: float, away_m: float, extension: float) -> DepthRow | None:
        offset = self.rig.offset_mm
        one = depth.depth_of_field(
            away_m * 1000 + offset,
            focal_length_mm=self.marked,
            f_number=f_number,
            circle_mm=self.rig.blur_mm,
            k=self.k,
            calc=PLAIN,
        )
        if one is None:
            return None
        near, far = (one.near_mm - offset) / 1000, None if one.far_mm is None else (one.far_mm - offset) / 1000
        total = None if far is None else far - near
        return DepthRow(
            f_number=f_number,
            distance_m=away_m,
            near_m=near,
            far_m=far,
            total_m=total,
            front_share=None if total is None else (away_m - near) / total,
            hyperfocal_m=one.hyperfocal_mm / 1000,
            infinity_blur_mm=infinity_blur_mm(f_number, self.k, extension),
        )

    def _modes(self) -> tuple[ModeRow, ...]:
        rig = self.rig
        found = modes.modes_of(rig.body, rig.practice.use)
        whole, circle = found[0], rig.image_circle_mm
        rises = [None if circle is None else coverage.max_rise_mm(circle, m.width_mm, m.height_mm) for m in found]
        rows = []
        for mode, rise in zip(found, rises, strict=True):
            costs = None
            if whole.megapixels is not None and mode.megapixels is not None:
                costs = whole.megapixels - mode.megapixels
            rows.append(
                ModeRow(
                    name=mode.name,
                    width_mm=mode.width_mm,
                    height_mm=mode.height_mm,
                    megapixels=mode.megapixels,
                    automatic=mode.automatic,
                    in_use=mode.name == rig.mode.name,
                    covered=None if circle is None else tidy(circle - mode.diagonal_mm) >= 0,
                    margin_mm=None if circle is None else tidy((circle - mode.diagonal_mm) / 2),
                    rise_mm=rise,
                    rise_upright_mm=None
                    if circle is None
                    else coverage.max_rise_mm(circle, mode.height_mm, mode.width_mm),
                    costs_megapixels=costs,
                    buys_mm=None if rise is None or rises[0] is None else tidy(rise - rises[0]),
                )
            )
        return tuple(rows)

    # What is said

    def _reason(self) -> str:
        worst = min(self.judged.findings, key=lambda one: findings.rank(one.grade_cap or "native"))
        return worst.headline or worst.text

    def _sentence(self) -> str:
        if not self.works:
            return self._reason()
        infinity = infinity_blur_mm(self.working / self.k, self.k, self.extension)
        sharp = infinity <= self.rig.blur_mm
        where = self.sharp_m
        units = self.rig.practice.distances
        if where is None and sharp:
            focused = "Focused at infinity"
        elif where is None:
            focused = "The lens stands too near: nothing is quite sharp"
        else:
            focused = f"Focused at {written.distance(where * 1000, units)}"
        if self.held == "far":
            focused += ", as far as the ring goes"
        elif self.held == "near":
            focused += ", as near as it goes"
        tail = "infinity is sharp too" if sharp and where is not None else "" if sharp else "infinity is soft"
        return f"{focused}{f'; {tail}' if tail else ''}."

    def _caption(self) -> Caption:
        rig, lens = self.rig, self.rig.lens
        known: list[str] = []
        assumed: list[str] = []
        circle = rig.image_circle_mm
        named = capital(word("image_circle"))
        if circle is None:
            assumed.append(f"The {word('image_circle')} is not known: no dark corners are drawn, which says nothing.")
        else:
            source = {"stated": "as stated", "measured": "measured", "format": "usual for its format"}
            said = f"{named} {circle:.1f} mm at the sensor, {source[lens.image_circle_from]}."
            (assumed if lens.image_circle_from == "format" else known).append(said)
        if rig.chain.has_glass:
            assumed.append("Behind glass the exit pupil is not known: no fall-off of light is drawn.")
        elif lens.exit_pupil_mm is None:
            assumed.append("The exit pupil is not known: no fall-off of light is drawn.")
        else:
            known.append(
                f"Exit pupil {written.millimetres(lens.exit_pupil_mm)} before the sensor: light falls off as drawn."
            )
        if extensions_at(rig, self.marked, PLAIN)[1] is None:
            assumed.append("How far the lens focuses out is not known: it is drawn as if it went as near as asked.")
        if rig.body.max_ray_angle_deg is not None and self._pupil() is None:
            assumed.append("Whether the corners get too steep a light is not known.")
        steep = self._steep_from()
        if steep is not None and steep < rig.mode.diagonal_mm / 2:
            known.append(
                f"Farther than {steep:.1f} mm from the middle the light is steeper than this sensor likes: smeared "
                "there, as a hint."
            )
        if rig.body.kind == "film":
            known.append("A film body: the frame of its gate; the grain is that of no film.")
        if self.asked.tilt_deg and self._tilting() is None:
            assumed.append("Nothing in this rig tilts: it is drawn as if the lens could.")
        if (
            self.asked.shift_mm is not None
            and self.asked.shift_mm != (0.0, 0.0)
            and not any(m.shift_mm for m in self.moving())
        ):
            assumed.append("Nothing in this rig shifts: it is drawn as if the lens could.")
        left_out = ["Aberrations, flare and diffraction are left out; the lens is taken as thin."]
        if lens.squeeze != 1:
            left_out.append("Blur discs are drawn round; this lens makes them oval.")
        return Caption(tuple(known), tuple(assumed), tuple(left_out))


def _joins(rig: Assembly, one: Adapter) -> bool:
    mounts = rig.world.mounts
    return (
        mounts[one.lens_mount].joint == rig.stack.lens_mount.joint
        and mounts[one.body_mount].joint == rig.stack.body_mount.joint
    )


def _marked_between(widest: float, smallest: float, engraved: tuple[float, ...]) -> tuple[float, ...]:
    """The apertures that are marked, or the usual ones, from the widest to the smallest."""
    stops = engraved or MARKED
    return tuple(sorted({widest, *(one for one in stops if widest < one <= smallest), smallest}))
