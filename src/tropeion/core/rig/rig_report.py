"""What the core says about a pair: the report, shared by the terminal, the API and the screens.

Lengths in mm, angles in degrees, apertures as f-numbers, light in stops. Adapters run from the lens to the body.
"""

from __future__ import annotations

from dataclasses import asdict, fields
from typing import Final, Literal, get_args

from tropeion.core.findings import Finding, Grade
from tropeion.core.frozen import frozen
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.tried import UsableFrom
from tropeion.core.joints.contacts import FunctionLeft
from tropeion.core.joints.coupling import Clash
from tropeion.core.joints.mechanics import Load, Play
from tropeion.core.joints.signal import FunctionName
from tropeion.core.optics.coverage import Coverage
from tropeion.core.optics.depth import DepthOfField
from tropeion.core.optics.equivalents import Equivalents
from tropeion.core.optics.focus import Reach
from tropeion.core.optics.infinity import Infinity
from tropeion.core.optics.spread import Density
from tropeion.core.optics.stabiliser import StabiliserEntry
from tropeion.core.practice import Practice

from .deeds import Deed
from .section import Section


@frozen
class RegisterTolerance:
    """Uncertainty of the register error, in mm at the sensor.

    Not ``bounded`` where a tolerance was measured: then the worst case is not quite the worst. ``density`` is how the
    error spreads: heights over the peak, at even steps from the worst case to one side to that to the other.
    """

    worst_case: float
    standard_uncertainty: float
    bounded: bool
    density: Density


@frozen
class NativeReach:
    """What the lens reaches on its own body, in mm; infinity is always there."""

    near_mm: float | None


@frozen
class End:
    """Everything that depends on the focal length, at one setting of the lens, with the grade it gets there.

    ``f_number`` is the widest with the glass; ``working_f_number`` the widest that this rig can be set to, which
    differs where the iris is stuck closed. ``t_number`` is with the glass, None where the lens states none.
    ``steadied_shutter_s`` is the slowest with the stabiliser, None where nothing steadies it. ``from_mark`` is the
    mark of the ring from which infinity is sharp, ``shutter_mark_s`` the slowest safe time on a dial.
    """

    focal_length_mm: float
    f_number: float
    working_f_number: float
    t_number: float | None
    infinity: Infinity
    focus: Reach
    equivalents: Equivalents
    stabiliser: StabiliserEntry | None
    steadied_shutter_s: float | None
    depth_of_field: tuple[DepthOfField, ...]
    native: NativeReach
    grade: Grade
    from_mark: float | None
    shutter_mark_s: float


# Before the swap, at the joint, once joined, at power-on, at the first frame.
Stage = Literal["before", "join", "joined", "power_on", "first_frame"]


@frozen
class StepLine:
    """One step of mounting and setting up, in order; ``stage`` is when it is done.

    ``deeds`` are what a camera can tell of it: none where it is done by hand and looked at by eye.
    """

    text: str
    caution: bool = False
    stage: Stage = "before"
    deeds: tuple[Deed, ...] = ()


@frozen
class Wire:
    """The contacts from the body towards the lens. ``ends_at`` names the link where the wire ends, None: whole."""

    ends_at: str | None
    slow: bool


# What sets a route apart from a plain ring.
Group = Literal["infinity", "closer", "brighter", "movements", "filter", "iris", "electronics", "fails"]
GROUPS: Final[tuple[Group, ...]] = get_args(Group)


@frozen
class Range:
    """A setting in the chain: how far it is opened for infinity, and what is sharp closed and fully open, in mm.

    A far limit that is None where there is a near one is infinity.
    """

    link: str
    kind: Literal["helicoid", "filter"]
    travel_mm: float
    for_infinity_mm: float | None
    near_closed_mm: float | None
    far_closed_mm: float | None
    near_open_mm: float | None
    far_open_mm: float | None
    positions: tuple[str, ...]


@frozen
class NeededPiece:
    """An adapter that is not listed, by the fields that a gear file gives it; what is not named is as by default."""

    lens_mount: str
    body_mount: str
    length_mm: float
    helicoid_mm: float
    aperture_control: str
    link: str
    from_protocol: str | None
    to_protocol: str | None
    carries: dict[str, str]
    optics: str
    magnification: float
    register_in_mm: float | None
    register_out_mm: float | None

    @classmethod
    def of(cls, piece: Adapter) -> NeededPiece:
        return cls(**piece.model_dump(include={field.name for field in fields(cls)}))

    def adapter(self, id_: str = "needed") -> Adapter:
        """The adapter that this would be."""
        return Adapter.model_validate({"id": id_, "name": "A piece that nobody lists", "owned": 1, **asdict(self)})


@frozen
class WouldNeed:
    """Something that would have to exist, or to be done, for a pair that nothing joins to infinity.

    It was tried: ``grade`` is the result, None where it cannot be made or would not help; ``piece`` is the
    adapter that is not listed, ``via`` the listed ones that join them then. ``lens`` and ``body`` are to ask for, to
    see the pair with a mount or plate changed; ``search_for`` is what to look for in words, by both ends.
    """

    kind: Literal[
        "ring", "helicoid", "correcting_glass", "close_up", "swap_lens_mount", "swap_body_plate", "shared_plate"
    ]
    text: str
    length_mm: float | None = None
    practical: bool | None = None
    near_mm: float | None = None
    far_mm: float | None = None
    mount: str | None = None
    price: float | None = None
    minutes: int | None = None
    reversible: bool | None = None
    lens: str | None = None
    body: str | None = None
    search_for: tuple[str, ...] = ()
    grade: Grade | None = None
    piece: NeededPiece | None = None
    via: tuple[str, ...] = ()


@frozen
class MountChange:
    """A reversible change of mount or plate that a pair is judged with."""

    text: str
    price: float | None
    minutes: int | None


@frozen
class Details:
    """What is told only of the route that is looked at: what is left of each function, and what to do, in order."""

    functions: tuple[FunctionLeft, ...]
    exposure_modes: tuple[str, ...]
    steps: tuple[StepLine, ...]


@frozen
class Route:
    """One way from the lens to the body, judged.

    ``ends`` are the settings of the lens that were judged: a prime's one, a zoom's widest and longest. ``details`` are
    there for the route that is looked at. ``purpose`` says what it is for, ``group`` which kind of thing that is, and
    ``becomes`` what the lens frames like. ``interchangeable`` names, for each piece, those that could take its place
    without changing anything but the price; ``stands_for`` counts the chains that come of that. ``assumed`` are the
    paths of values that is not stated. Not ``surely`` where it depends on a focus travel that is not known; ``wrong``
    says why a ring that goes on is made for another system and does not focus. ``slow`` are the functions that work
    slowly; ``usable`` is what trials say of the rig, ``usable_says`` that in words.
    """

    adapters: tuple[str, ...]
    grade: Grade
    slow: tuple[FunctionName, ...]
    surely: bool
    wrong: str
    sentence: str
    group: Group
    purpose: str
    becomes: str
    gives_up: str
    magnification: float
    register_error_mm: float | None
    lens_side_error_mm: float | None
    register_tolerance_mm: RegisterTolerance
    light_change_stops: float
    coverage: Coverage
    ends: tuple[End, ...]
    circle_of_confusion_mm: float
    wire: Wire
    findings: tuple[Finding, ...]
    section: Section
    loads: tuple[Load, ...]
    play: Play
    ranges: tuple[Range, ...]
    clashes: tuple[Clash, ...]
    owned: bool
    price: float | None
    details: Details | None
    interchangeable: tuple[tuple[str, ...], ...]
    stands_for: int
    assumed: tuple[str, ...]
    usable: tuple[UsableFrom, ...]
    usable_says: tuple[str, ...]

    @property
    def wide(self) -> End:
        """The setting that is told first: the only one, or the widest."""
        return self.ends[0]

    @property
    def long(self) -> End | None:
        """A zoom at its long end."""
        return self.ends[1] if len(self.ends) > 1 else None


@frozen
class Piece:
    """What the report's ids are called, and what a drawing has to know of them.

    ``price`` is for one; the sensor is a body's; ``positions`` is how many ways the lens may be seated on the mount
    that takes it; ``assumed`` names fields that are not stated or measured.
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


@frozen
class MatchReport:
    """A pair and its routes, best first. ``practice`` is what the answer was given under.

    ``total`` counts every chain that mates; ``folded`` those than which another route is at least as good in
    everything, which are left out unless asked for; ``left_out`` what else is not written out; ``not_judged`` those
    that were too many to be looked at: the less promising ones. ``would_need`` says what would have to exist where
    nothing reaches infinity; ``warnings`` what must not be done, whichever route is looked at. ``apart`` is, where
    there is no route, the section of the lens and the body with the lens held where it should stand. ``unlisted`` is
    the route with a ring that is not listed, where no listed one is as good; ``works``: some listed one does, surely.
    """

    lens: str
    body: str
    gap_mm: float | None
    sentence: str
    routes: tuple[Route, ...]
    total: int
    folded: int
    left_out: int
    not_judged: int
    would_need: tuple[WouldNeed, ...]
    warnings: tuple[str, ...]
    changes: tuple[MountChange, ...]
    apart: Section | None
    unlisted: Route | None
    works: bool
    pieces: dict[str, Piece]
    currency: str
    practice: Practice
