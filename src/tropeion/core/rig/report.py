"""What the core says about a pair: the report, shared by the terminal, the API and the screens.

Lengths in mm, angles in degrees, apertures as f-numbers, light in stops. Adapters run from the lens to the body.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from tropeion.core.findings import Finding, Grade
from tropeion.core.joints.contacts import FunctionLeft
from tropeion.core.joints.coupling import Clash
from tropeion.core.joints.mechanics import Load, Play
from tropeion.core.optics.coverage import Coverage, StabiliserEntry
from tropeion.core.optics.equivalents import Equivalents
from tropeion.core.optics.focus import DepthOfField, Infinity, Reach
from tropeion.core.practice import Practice

__all__ = [
    "AtFocalLength",
    "LongEnd",
    "MatchReport",
    "NativeReach",
    "Piece",
    "Range",
    "RegisterTolerance",
    "Route",
    "Station",
    "StepLine",
    "Wire",
    "WouldNeed",
]


@dataclass(frozen=True, slots=True)
class RegisterTolerance:
    """Uncertainty of the register error, in mm at the sensor."""

    worst_case: float
    standard_uncertainty: float


@dataclass(frozen=True, slots=True)
class AtFocalLength:
    """Everything that depends on the focal length.

    ``f_number`` is the widest with the glass; ``working_f_number`` the widest that this rig can be set to, which
    differs where the iris is stuck closed.
    """

    focal_length_mm: float
    f_number: float
    working_f_number: float
    infinity: Infinity
    focus: Reach
    equivalents: Equivalents
    stabiliser: StabiliserEntry | None
    depth_of_field: tuple[DepthOfField, ...]
    native: NativeReach


@dataclass(frozen=True, slots=True)
class LongEnd(AtFocalLength):
    """A zoom at its long end, with the grade it gets there."""

    grade: Grade


@dataclass(frozen=True, slots=True)
class NativeReach:
    """What the lens reaches on its own body, in mm; infinity is always there."""

    near_mm: float | None


@dataclass(frozen=True, slots=True)
class Station:
    """Something that stands ``at_mm`` before the sensor plane, for the drawing. ``diameter_mm`` across the axis."""

    kind: Literal[
        "sensor",
        "mode",
        "body_back",
        "obstruction",
        "throat",
        "body_seat",
        "adapter_rear",
        "adapter_front",
        "bore_rear",
        "bore_front",
        "glass",
        "filter",
        "lens_seat",
        "rear_vertex",
        "exit_pupil",
        "lens_front",
        "needed_seat",
        "waist",
    ]
    link: str
    at_mm: float
    diameter_mm: float | None


@dataclass(frozen=True, slots=True)
class StepLine:
    """One step of mounting and setting up, in order."""

    text: str
    caution: bool = False


@dataclass(frozen=True, slots=True)
class Wire:
    """The contacts from the body towards the lens. ``ends_at`` names the link where the wire ends, None: whole."""

    ends_at: str | None
    slow: bool


@dataclass(frozen=True, slots=True)
class Range:
    """A setting in the chain: how far it is opened for infinity, and the near limits closed and fully open, in mm."""

    link: str
    kind: Literal["helicoid", "filter"]
    travel_mm: float
    for_infinity_mm: float | None
    near_closed_mm: float | None
    near_open_mm: float | None
    positions: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class WouldNeed:
    """Something that would have to exist, or to be done, for a pair that nothing joins to infinity."""

    kind: Literal["ring", "correcting_glass", "close_up", "swap_lens_mount", "swap_body_plate", "shared_plate"]
    text: str
    length_mm: float | None = None
    practical: bool | None = None
    near_mm: float | None = None
    far_mm: float | None = None
    mount: str | None = None
    price: float | None = None
    minutes: int | None = None
    reversible: bool | None = None


@dataclass(frozen=True, slots=True)
class Route:
    """One way from the lens to the body, judged.

    ``interchangeable`` names, for each piece, those that could take its place without changing anything but the
    price; ``stands_for`` counts the chains that come of that.
    """

    adapters: tuple[str, ...]
    grade: Grade
    sentence: str
    gives_up: str
    magnification: float
    register_error_mm: float
    lens_side_error_mm: float
    register_tolerance_mm: RegisterTolerance
    infinity: Infinity
    focus: Reach
    focal_length_mm: float
    f_number: float
    working_f_number: float
    light_change_stops: float
    coverage: Coverage
    equivalents: Equivalents
    stabiliser: StabiliserEntry | None
    depth_of_field: tuple[DepthOfField, ...]
    native: NativeReach
    long_end: LongEnd | None
    circle_of_confusion_mm: float
    functions: tuple[FunctionLeft, ...]
    exposure_modes: tuple[str, ...]
    wire: Wire
    findings: tuple[Finding, ...]
    stations: tuple[Station, ...]
    loads: tuple[Load, ...]
    play: Play
    ranges: tuple[Range, ...]
    steps: tuple[StepLine, ...]
    clashes: tuple[Clash, ...]
    owned: bool
    price: float | None
    interchangeable: tuple[tuple[str, ...], ...]
    stands_for: int


@dataclass(frozen=True, slots=True)
class Piece:
    """What the report's ids are called, and what a drawing has to know of them.

    ``price`` is for one; the sensor is a body's; ``positions`` is how many ways the lens may be seated on the mount
    that takes it; ``assumed`` names fields that nobody stated or measured.
    """

    id: str
    name: str
    kind: Literal["lens", "body", "adapter"]
    mount: str
    mount_name: str
    rear_mount: str
    register_mm: float | None
    length_mm: float | None
    tolerance_mm: float
    measured: bool
    optics: str
    link: str
    focus: str
    aperture: str
    iris: bool
    filter: bool
    helicoid_mm: float
    tilt_deg: float
    shift_mm: float
    squeeze: float
    positions: int
    sensor_width_mm: float | None
    sensor_height_mm: float | None
    stabiliser_travel_mm: float | None
    image_circle_mm: float | None
    owned: int
    price: float | None
    locking: bool
    assumed: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class MatchReport:
    """A pair and its routes, best first. ``practice`` is what the answer was given under.

    ``total`` counts every chain that mates; ``folded`` those that another route beats in everything, which are left
    out unless asked for. ``would_need`` says what would have to exist where nothing reaches infinity; ``warnings``
    what must not be done, whichever route is looked at. ``apart`` holds, where there is no route, what the lens and the
    body look like with the lens held where it should stand.
    """

    lens: str
    body: str
    gap_mm: float
    sentence: str
    routes: tuple[Route, ...]
    total: int
    folded: int
    would_need: tuple[WouldNeed, ...]
    warnings: tuple[str, ...]
    apart: tuple[Station, ...]
    pieces: dict[str, Piece]
    currency: str
    practice: Practice
