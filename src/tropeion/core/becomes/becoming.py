"""One way in one mode: actual and equivalent focal length and aperture, angles, light, entry, pixels, weight."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cached_property

from tropeion.core.asking import go_on
from tropeion.core.findings import Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.world import World
from tropeion.core.joints.signal import identifies_itself
from tropeion.core.optics import coverage, equivalents
from tropeion.core.optics.equivalents import AngleOfView
from tropeion.core.optics.modes import FormatMode, modes_of
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import Pictured, in_mode, losses_stops, pictured_by, price_of
from tropeion.core.rig.ends import entry_at, marked_settings, usable_f_numbers, widest_at
from tropeion.core.rig.judgement import Assessment, assess
from tropeion.core.working import PLAIN, tidy

from .lens_ways import LensWay
from .reference import Reference, crop_against


@frozen
class LensSetting:
    """A lens at one focal length of its ring, wide open, in one mode. Lengths in mm, angles in degrees.

    ``f_number`` is the widest that the rig can be set to, with the glass: exposure follows it.
    ``equivalent_f_number`` has the same depth of field on the reference, at the same framing. ``angles_deg`` are None
    for a fisheye. ``entry_mm`` is what the stabiliser is told, None where there is none or the lens says it itself;
    ``entry_held`` names what keeps it from being ``focal_length_mm``. ``assumed``: between the ends of a zoom that is
    slower at one of them, the widest stop is taken in proportion.
    """

    marked_mm: float
    marked_f_number: float
    focal_length_mm: float
    f_number: float
    equivalent_mm: float
    equivalent_horizontal_mm: float
    equivalent_f_number: float
    angles_deg: AngleOfView | None
    entry_mm: float | None
    entry_held: str | None
    assumed: bool


@frozen
class Weight:
    """What lens, adapters and body weigh together, in g; ``unknown`` names those whose mass is not stated."""

    known_g: float
    unknown: tuple[str, ...]


@frozen
class Becoming:
    """What a lens becomes on a body through a chain in one mode of its sensor. ``key`` names the row.

    ``settings`` are the ends of a zoom, or the one of a prime. ``covered`` is None where the circle is not known.
    ``crop_factor`` is against the reference; ``film``: there are no pixels to count. ``in_use``: the mode that is used
    unless another is chosen. ``entry`` says how the body learns the focal length.
    ``gives_views``: it works for what it is meant for, the whole range or close-up.
    """

    key: str
    lens: str
    body: str
    adapters: tuple[str, ...]
    grade: Grade | None
    surely: bool
    works: bool
    gives_views: bool
    owned: bool
    price: float | None
    mode: str
    whole: bool
    automatic: bool
    in_use: bool
    width_mm: float
    height_mm: float
    megapixels: float | None
    film: bool
    covered: bool | None
    magnification: float
    crop_factor: float
    squeeze: float
    settings: tuple[LensSetting, ...]
    light_change_stops: float
    entry: str
    weight: Weight


class Mounted:
    """A way put together once, for all modes of its body."""

    def __init__(self, world: World, way: LensWay, practice: Practice, reference: Reference) -> None:
        self.world, self.way, self.practice, self.reference = world, way, practice, reference
        self.rig = way.rig or pictured_by(world, way.lens, way.adapters, way.body, practice)
        self.modes = modes_of(way.body, practice.use)

    @property
    def mode_in_use(self) -> FormatMode:
        return self.rig.mode

    def covered(self, mode: FormatMode) -> bool | None:
        circle = self.rig.image_circle_mm
        return None if circle is None else coverage.corner_margin_mm(circle, mode.diagonal_mm) >= 0

    @cached_property
    def judged(self) -> Assessment:
        return assess(self.world, self.way.lens, self.way.adapters, self.way.body, self.practice)

    @property
    def weight(self) -> Weight:
        pieces: tuple[Lens | Body, ...] = (self.way.lens, self.way.body)
        each = [*pieces, *self.way.adapters]
        return Weight(
            sum(adapter.mass_g for adapter in each if adapter.mass_g is not None),
            tuple(adapter.name for adapter in each if adapter.mass_g is None),
        )

    @property
    def entry(self) -> str:
        """How the stabiliser learns the focal length, in a word."""
        if self.way.body.stabiliser is None:
            return "none"
        return "told" if identifies_itself(self.rig.signal) else "entered"

    def becomes(self, mode: FormatMode) -> Becoming:
        """What it becomes in one mode."""
        go_on()
        way, rig = self.way, in_mode(self.rig, mode)
        lens, ends = way.lens, dict.fromkeys(way.lens.focal_length_mm)
        settings = tuple(setting_at(rig, marked, self.reference) for marked in ends)
        first = settings[0]
        return Becoming(
            key="~".join((lens.id, way.body.id, ",".join(adapter.id for adapter in way.adapters), mode.name)),
            lens=lens.id,
            body=way.body.id,
            adapters=tuple(adapter.id for adapter in way.adapters),
            grade=way.standing.grade,
            surely=way.standing.surely,
            works=way.standing.works,
            gives_views=way.gives_views(self.practice),
            owned=bool(lens.at_hand and way.body.at_hand and not way.to_buy),
            price=_price(way),
            mode=mode.name,
            whole=mode.whole,
            automatic=mode.automatic,
            in_use=mode.name == self.mode_in_use.name,
            width_mm=mode.width_mm,
            height_mm=mode.height_mm,
            megapixels=mode.megapixels,
            film=way.body.kind == "film",
            covered=self.covered(mode),
            magnification=rig.magnification,
            crop_factor=crop_against(self.reference, mode.width_mm, mode.height_mm, self.practice.crop),
            squeeze=lens.squeeze,
            settings=settings,
            light_change_stops=equivalents.light_change_stops(
                first.marked_f_number, rig.f_number_with_glass(first.marked_f_number), losses_stops(way.adapters)
            ),
            entry=self.entry,
            weight=self.weight,
        )


def _price(way: LensWay) -> float | None:
    """What is still to be bought of lens, adapters and body; None where a price is not known."""
    rings = price_of(way.adapters)
    ends = [lens.price for lens in (way.lens, way.body) if not lens.at_hand]
    prices = [value for value in (rings, *ends) if value is not None]
    return sum(prices) if len(prices) == 1 + len(ends) else None


def setting_at(rig: Pictured, marked_mm: float, reference: Reference) -> LensSetting:
    """A rig at one focal length of its ring, wide open, in its mode."""
    lens, mode = rig.lens, rig.mode
    k, practice = rig.magnification, rig.practice
    widest = widest_at(lens, marked_mm)
    # An iris that is stuck closed lets less through than the ring says.
    f_number = max(rig.f_number_with_glass(widest), k * usable_f_numbers(rig, widest)[0])
    focal = equivalents.focal_length_with_glass_mm(k, marked_mm)
    crop = crop_against(reference, mode.width_mm, mode.height_mm, practice.crop)
    entry = entry_at(rig, focal, PLAIN)
    equivalent = equivalents.equivalent_focal_mm(focal, crop)
    return LensSetting(
        marked_mm=marked_mm,
        marked_f_number=widest,
        focal_length_mm=focal,
        f_number=tidy(f_number),
        equivalent_mm=equivalent,
        equivalent_horizontal_mm=equivalents.equivalent_horizontal_mm(equivalent, lens.squeeze),
        equivalent_f_number=equivalents.equivalent_f_number(f_number, crop),
        angles_deg=equivalents.angles_of(
            mode=mode, focal_length_mm=focal, squeeze=lens.squeeze, fisheye=lens.fisheye, calc=PLAIN
        ),
        entry_mm=None if entry is None else entry.entry_mm,
        entry_held=None if entry is None else entry.held,
        assumed=marked_mm not in lens.focal_length_mm and widest != lens.f_number[0],
    )


def settings_marked(rig: Pictured, reference: Reference) -> tuple[LensSetting, ...]:
    """A rig at both ends of its ring and at every engraved focal length between them."""
    return tuple(setting_at(rig, marked, reference) for marked in marked_settings(rig.lens))


def becoming_of(
    world: World, ways: Sequence[LensWay], practice: Practice, reference: Reference, mode: str | None = None
) -> Iterator[Becoming]:
    """Every way in every mode, or in the one that is named (the one in use for ""), where the body has it."""
    for way in ways:
        mounted = Mounted(world, way, practice, reference)
        if mode == "":
            yield mounted.becomes(mounted.mode_in_use)
            continue
        yield from (mounted.becomes(option) for option in mounted.modes if mode in {None, option.name})
