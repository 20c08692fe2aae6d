"""Mount systems: protocols, coupling parts, generations, and what happens where they meet."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import ConfigDict, Field, model_validator

from .items import Item
from .kinds import Local, Ref
from .quantities import Id, Many, Name, PositiveLength, Register, Several, Strict, Text, Tolerance, Word

__all__ = ["Effect", "Feature", "Generation", "LookAt", "Mount", "Protocol", "Rule", "Thread"]

LensKind = Literal["reflex", "rangefinder", "mirrorless", "cine", "projection"]


Effect = Literal["damage", "safe_after", "inspect", "no_metering", "stop_down_metering", "meters"]


class Protocol(Item):
    """A language spoken over contacts, and what it can power in the lens."""

    accepts: Several[Annotated[Id, Ref(("protocols",), "understands it")]] = ()
    powers: Several[Literal["iris", "focus"]] = ()


class Thread(Strict):
    """A screw mount's thread; diameter and pitch in mm."""

    diameter_mm: PositiveLength
    pitch_mm: Annotated[float, Field(ge=0.001, le=10, allow_inf_nan=False)]


class LookAt(Strict):
    """Where on the mount a coupling feature is seen, and which of our shapes draws it."""

    view: Literal["ring", "rear", "flange", "barrel", "front"]
    clock_deg: Annotated[float, Field(ge=0, lt=360, allow_inf_nan=False)] = 0.0
    shape: Literal[
        "rack",
        "short_rack",
        "hole",
        "shoe",
        "index",
        "band",
        "pinion",
        "probe",
        "slide_probe",
        "scale",
        "contacts",
    ]


class Feature(Strict):
    """A coupling part that can be seen on a lens or a body."""

    id: Id
    side: Literal["lens", "body"]
    label: Name
    question: Text = ""
    look_at: LookAt | None = None
    misleading: bool = False


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
    protocol: Annotated[Id, Ref(("protocols",), "has a generation that speaks it")] | None = None
    prevalence: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 0.0

    model_config = ConfigDict(populate_by_name=True)


class Rule(Strict):
    """What happens when a lens with these features meets a body with those.

    ``ring_at`` says where the aperture ring has to stand before mounting.
    """

    lens_has: Several[LensPart] = ()
    lens_lacks: Several[LensPart] = ()
    body_has: Several[BodyPart] = ()
    body_lacks: Several[BodyPart] = ()
    effect: Effect
    action: Text | None = None
    exposure_modes: Several[Word] | None = None
    ring_at: Text | None = None
    text: Text


class Mount(Item):
    """A mount system. ``interface`` is what mates; ``register_mm`` is its flange focal distance."""

    interface: Id
    coupling: Literal["bayonet", "screw", "breech_lock", "locking_collar"]
    thread: Thread | None = None
    positions: Annotated[int, Field(ge=1, le=24)] = 1
    index_mark: Text = ""
    lock_action: Text = ""
    register_mm: Register
    tolerance_mm: Tolerance
    throat_mm: PositiveLength | None = None
    inner_mm: PositiveLength | None = None
    outer_mm: PositiveLength | None = None
    lens_kind: LensKind
    load_rating_nm: Annotated[float, Field(ge=0.001, le=1000, allow_inf_nan=False)] | None = None
    play_mm: Tolerance = 0.0
    locking: bool = False
    features: Many[Feature] = ()
    generations: Many[Generation] = ()
    rules: Many[Rule] = ()

    @model_validator(mode="after")
    def _screw_has_a_thread(self) -> Self:
        if (self.coupling == "screw") != (self.thread is not None):
            raise ValueError("a screw mount gives its thread, and no other mount has one")
        return self
