"""Two rigs at equal framing: how far each stands, how far each is stopped down for one depth, whose noise is more."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

from tropeion.core.frozen import frozen
from tropeion.core.gear.world import World
from tropeion.core.optics import depth
from tropeion.core.optics.equivalents import same_depth_f_number, total_light_stops
from tropeion.core.optics.modes import mode_named
from tropeion.core.practice import Practice
from tropeion.core.rig.assembly import build, in_mode
from tropeion.core.rig.ends import usable_f_numbers, widest_at
from tropeion.core.working import PLAIN, tidy

from .reference import FULL_FRAME, crop_against


@frozen
class RigAt:
    """One rig with a setting: ids, chain from the lens; None is the wide end, the widest stop, the mode in use."""

    lens: str
    body: str
    adapters: tuple[str, ...] = ()
    marked_mm: float | None = None
    f_number: float | None = None
    mode: str | None = None


@frozen
class RigSide:
    """One of the two. Distances from the sensor in m, far None at infinity.

    ``f_number`` is set on the ring, ``exposes_as`` what light follows; ``can_be_set`` where the ring goes there.
    """

    lens: str
    body: str
    adapters: tuple[str, ...]
    mode: str
    marked_mm: float
    equivalent_mm: float
    f_number: float
    exposes_as: float
    can_be_set: bool
    widest: float
    smallest: float
    distance_m: float
    near_m: float | None
    far_m: float | None


@frozen
class Beside:
    """``total_light_stops`` is what the second gathers more than the first, at these apertures.

    ``closer`` is how many times the first's distance the second stands away for the same framing. ``exact`` where the
    rule and the depth worked out in full agree to a tenth of the first's near side; it fails close up.
    """

    first: RigSide
    second: RigSide
    closer: float
    total_light_stops: float
    exact: bool
    names: dict[str, str]


class _RigBeside:
    def __init__(self, world: World, at: RigAt, practice: Practice) -> None:
        lens, body = world.lens(at.lens), world.body(at.body)
        adapters = tuple(world.adapter(id_) for id_ in at.adapters)
        self.rig = build(world, lens, adapters, body, practice, PLAIN)
        mode = None if at.mode is None else mode_named(body, practice.use, at.mode)
        if mode is not None:
            self.rig = in_mode(self.rig, mode)
        short, long = lens.focal_length_mm
        self.marked_mm = short if at.marked_mm is None else min(max(at.marked_mm, short), long)
        self.usable = usable_f_numbers(self.rig, widest_at(lens, self.marked_mm))
        wanted = self.usable[0] if at.f_number is None else at.f_number
        self.f_number = min(max(wanted, self.usable[0]), self.usable[1])

    @property
    def k(self) -> float:
        return self.rig.chain.magnification

    @cached_property
    def crop(self) -> float:
        mode = self.rig.mode
        return crop_against(FULL_FRAME, mode.width_mm, mode.height_mm, self.rig.practice.crop)

    @property
    def equivalent_mm(self) -> float:
        return self.k * self.marked_mm * self.crop

    def side(self, f_number: float, distance_m: float) -> RigSide:
        rig, offset = self.rig, self.rig.offset_mm
        sharp = depth.depth_of_field(
            distance_m * 1000 + offset,
            focal_length_mm=self.marked_mm,
            f_number=f_number,
            circle_mm=rig.blur_mm,
            k=self.k,
            calc=PLAIN,
        )
        widest, smallest = self.usable
        return RigSide(
            lens=rig.lens.id,
            body=rig.body.id,
            adapters=tuple(adapter.id for adapter in rig.adapters),
            mode=rig.mode.name,
            marked_mm=self.marked_mm,
            equivalent_mm=self.equivalent_mm,
            f_number=tidy(f_number),
            exposes_as=rig.f_number_with_glass(f_number),
            can_be_set=tidy(widest - f_number) <= 1e-6 and tidy(f_number - smallest) <= 1e-6,
            widest=widest,
            smallest=smallest,
            distance_m=tidy(distance_m),
            near_m=None if sharp is None else (sharp.near_mm - offset) / 1000,
            far_m=None if sharp is None or sharp.far_mm is None else (sharp.far_mm - offset) / 1000,
        )


def beside_of(world: World, one: RigAt, other: RigAt, distance_m: float, practice: Practice) -> Beside:
    """The second rig at the framing and the depth of the first, whose subject is ``distance_m`` from its sensor.

    Raises UnknownIdError for an id that is not in the collection.
    """
    first, second = _RigBeside(world, one, practice), _RigBeside(world, other, practice)
    closer = second.equivalent_mm / first.equivalent_mm
    wanted = same_depth_f_number(first.f_number, first.crop, first.k, second.crop, second.k)
    here, there = first.side(first.f_number, distance_m), second.side(wanted, distance_m * closer)
    rigs: Sequence[_RigBeside] = (first, second)
    return Beside(
        first=here,
        second=there,
        closer=closer,
        total_light_stops=total_light_stops(here.exposes_as * first.crop, there.exposes_as * second.crop),
        exact=_alike(here, there),
        names={piece.id: piece.name for rig in rigs for piece in (rig.rig.lens, *rig.rig.adapters, rig.rig.body)},
    )


# The rule is taken to hold where the near sides agree to this share.
AGREES = 0.1


def _alike(here: RigSide, there: RigSide) -> bool:
    if here.near_m is None or there.near_m is None:
        return False
    before = here.distance_m - here.near_m
    return abs(there.distance_m - there.near_m - before) <= AGREES * before
