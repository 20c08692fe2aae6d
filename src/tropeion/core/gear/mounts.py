"""Mount systems: protocols, coupling parts, generations, and what happens where they meet."""

from __future__ import annotations

from typing import Annotated, Final, Literal, Self, get_args

from pydantic import ConfigDict, Field, model_validator

from .field_types import (
    Code,
    FNumber,
    FocalLength,
    FrameLine,
    Id,
    Many,
    Name,
    Offset,
    PositiveLength,
    Register,
    Several,
    Strict,
    Text,
    Tolerance,
    Word,
)
from .items import Item
from .kinds import Local, Ref

Power = Literal["iris", "focus"]
LensKind = Literal["reflex", "rangefinder", "mirrorless", "cine", "projection"]
# Of a mount of which nothing else is known.
USUAL_TOLERANCE_MM: Final = 0.02
# No mirror swings in less.
SHORTEST_WITH_MIRROR_MM: Final = 32.0
Effect = Literal["damage", "safe_after", "inspect", "no_metering", "stop_down_metering", "meters"]


class Protocol(Item):
    """A language spoken over contacts, and what it can power in the lens.

    Where nothing was said (null) it powers all that lenses of its own mounts need; an empty list powers nothing.
    """

    accepts: Several[Annotated[Id, Ref(("protocols",), "understands it")]] = ()
    powers: Several[Power] | None = None

    @property
    def powered(self) -> frozenset[Power]:
        """What lenses get from it; all they need where it is not stated."""
        return frozenset(get_args(Power) if self.powers is None else self.powers)


class Thread(Strict):
    """A screw mount's thread; diameter and pitch in mm."""

    diameter_mm: PositiveLength
    pitch_mm: Annotated[float, Field(ge=0.001, le=10, allow_inf_nan=False)]


class LookAt(Strict):
    """Where on the mount a coupling feature is seen, and which of our shapes draws it."""

    view: Literal["ring", "rear", "flange", "barrel", "front"]
    clock_deg: Annotated[float, Field(ge=0, lt=360, allow_inf_nan=False)] = 0.0
    shape: Literal[
        "rack", "short_rack", "hole", "shoe", "index", "band", "pinion", "probe", "slide_probe", "scale", "contacts"
    ]


class Feature(Strict):
    """A coupling part that can be seen on a lens or a body.

    ``depth_mm`` is how far it stands out of its seat towards the other side; negative where it stays behind its seat.
    """

    id: Id
    side: Literal["lens", "body"]
    label: Name
    question: Text = ""
    look_at: LookAt | None = None
    misleading: bool = False
    depth_mm: Offset | None = None


LensPart = Annotated[Id, Local("features", side="lens")]
BodyPart = Annotated[Id, Local("features", side="body")]


class Generation(Strict):
    """One generation of a mount: which coupling features its lenses and bodies have."""

    id: Id
    label: Name
    start: Annotated[int | None, Field(alias="from", ge=1800, le=2200)] = None
    to: Annotated[int | None, Field(ge=1800, le=2200)] = None
    lens_features: Several[LensPart] = ()
    body_features: Several[BodyPart] = ()
    protocol: Annotated[Id, Ref(("protocols",), "has a generation that uses it")] | None = None
    prevalence: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] | None = None

    model_config = ConfigDict(populate_by_name=True)


class Rule(Strict):
    """What happens when a lens with these features meets a body with those.

    ``ring_at`` says where the aperture ring has to stand before mounting, ``after_mounting`` what to do then.
    """

    lens_has: Several[LensPart] = ()
    lens_lacks: Several[LensPart] = ()
    body_has: Several[BodyPart] = ()
    body_lacks: Several[BodyPart] = ()
    effect: Effect
    action: Text | None = None
    exposure_modes: Several[Word] | None = None
    ring_at: Text | None = None
    after_mounting: Text | None = None
    text: Text


class FlangeCode(Strict):
    """Light and dark fields on a lens's flange: where they stand, counted from ``start_deg``, and what dark means."""

    fields: Annotated[int, Field(ge=1, le=32)]
    start_deg: Annotated[float, Field(ge=0, lt=360, allow_inf_nan=False)]
    step_deg: Annotated[float, Field(gt=-360, lt=360, allow_inf_nan=False)]
    radius_mm: PositiveLength
    width_mm: PositiveLength
    height_mm: PositiveLength
    dark_is: Literal[0, 1] = 1


class Profile(Strict):
    """A lens that bodies know by its code, and correct for."""

    code: Code
    name: Name
    focal_length_mm: FocalLength
    f_number: FNumber
    image_circle_mm: PositiveLength | None = None
    exit_pupil_mm: PositiveLength | None = None
    frame_lines: Several[FrameLine] = ()


class Mount(Item):
    """A mount system. ``interface`` is what mates; ``register_mm`` its flange focal distance, None where not known.

    A field that says nothing has a usual value, told by the property of the same name with ``_or_usual``.
    """

    interface: Id | None = None
    coupling: Literal["bayonet", "screw", "breech_lock", "locking_collar"]
    thread: Thread | None = None
    positions: Annotated[int, Field(ge=1, le=24)] = 1
    index_mark: Text = ""
    lock_action: Text = ""
    register_mm: Register | None
    tolerance_mm: Tolerance | None = None
    throat_mm: PositiveLength | None = None
    inner_mm: PositiveLength | None = None
    outer_mm: PositiveLength | None = None
    lens_kind: LensKind | None = None
    load_rating_nm: Annotated[float, Field(ge=0.001, le=1000, allow_inf_nan=False)] | None = None
    play_mm: Tolerance | None = None
    locking: bool = False
    features: Many[Feature] = ()
    generations: Many[Generation] = ()
    rules: Many[Rule] = ()
    code: FlangeCode | None = None
    profiles: Many[Profile] = ()

    @model_validator(mode="after")
    def _screw_has_a_thread(self) -> Self:
        if (self.coupling == "screw") != (self.thread is not None):
            raise ValueError("a screw mount gives its thread, and no other mount has one")
        return self

    @model_validator(mode="after")
    def _profiles_are_of_its_code(self) -> Self:
        if self.profiles and self.code is None:
            raise ValueError("a mount with profiles says in code how they are read")
        for number, profile in enumerate(self.profiles):
            if self.code is not None and len(profile.code) != self.code.fields:
                raise ValueError(f"profiles[{number}].code has {len(profile.code)} fields, not {self.code.fields}")
        return self

    @property
    def joint(self) -> str:
        """What mates with it: pieces of one joint go together, whatever their systems are called."""
        return self.interface or self.id

    def same_generation(self, one: str | None, other: str | None) -> bool:
        """Whether two of its pieces are surely of one generation: unsaid, they may be of any two of several."""
        return len(self.generations) < 2 or (one is not None and one == other)

    def binds_in(self, other: Mount) -> bool:
        """Whether its thread starts in the other's and then binds: one diameter, two pitches."""
        thread, two = self.thread, other.thread
        return (
            thread is not None
            and two is not None
            and thread.diameter_mm == two.diameter_mm
            and thread.pitch_mm != two.pitch_mm
        )

    @property
    def tolerance_or_usual_mm(self) -> float:
        return USUAL_TOLERANCE_MM if self.tolerance_mm is None else self.tolerance_mm

    @property
    def lens_kind_or_usual(self) -> LensKind:
        """As given; by a short register mirrorless, by a long one, or one that is not known, reflex."""
        if self.lens_kind is not None:
            return self.lens_kind
        short = self.register_mm is not None and self.register_mm < SHORTEST_WITH_MIRROR_MM
        return "mirrorless" if short else "reflex"
