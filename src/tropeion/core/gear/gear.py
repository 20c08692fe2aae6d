"""What exists: protocols, mounts and their generations, bodies, lenses, adapters.

These models are the edge: they are what a gear file holds and what is refused when it is wrong. Lengths are in
millimetres, masses in grams, apertures are f-numbers; every field names its unit. An item is immutable.
"""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, model_validator

from tropeion.core.findings import Grade

__all__ = [
    "UNJUDGED",
    "Adapter",
    "Body",
    "Evidence",
    "Feature",
    "FilterSlot",
    "Gear",
    "Generation",
    "Item",
    "Lens",
    "LookAt",
    "Mode",
    "Mount",
    "Piece",
    "Protocol",
    "Rig",
    "Rule",
    "Stabiliser",
    "SwappableMount",
    "Thread",
]

# What does not change a judgement: two pieces that agree in all the rest are interchangeable.
UNJUDGED = frozenset(
    {
        "id",
        "name",
        "aliases",
        "notes",
        "owned",
        "borrowed",
        "price",
        "evidence",
        "firmware",
        "measured_on",
        "retired",
        "assumed",
        "character",
    }
)

# A C0 or C1 control character in a name is a slip of the clipboard, or worse.
_PRINTABLE = r"^[^\x00-\x1f\x7f-\x9f]*$"

Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9._-]{0,63}$")]
Name = Annotated[str, StringConstraints(min_length=1, max_length=120, pattern=_PRINTABLE)]
Text = Annotated[str, StringConstraints(max_length=4000, pattern=r"^[^\x00-\x08\x0b-\x1f\x7f-\x9f]*$")]
Word = Annotated[str, StringConstraints(min_length=1, max_length=120, pattern=_PRINTABLE)]
Date = Annotated[str, StringConstraints(pattern=r"^\d{4}-\d{2}-\d{2}$")]

Number = Annotated[float, Field(allow_inf_nan=False)]
Length = Annotated[float, Field(ge=0, le=5000, allow_inf_nan=False)]
PositiveLength = Annotated[float, Field(ge=0.001, le=5000, allow_inf_nan=False)]
Register = Annotated[float, Field(ge=0.1, le=500, allow_inf_nan=False)]
Tolerance = Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)]
FNumber = Annotated[float, Field(ge=0.1, le=1000, allow_inf_nan=False)]
FocalLength = Annotated[float, Field(ge=0.1, le=10_000, allow_inf_nan=False)]
Stops = Annotated[float, Field(ge=0, le=30, allow_inf_nan=False)]
Money = Annotated[float, Field(ge=0, le=10_000_000, allow_inf_nan=False)]
Mass = Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]
Count = Annotated[int, Field(ge=0, le=10_000)]

LensKind = Literal["reflex", "rangefinder", "mirrorless", "cine", "projection"]
Effect = Literal["damage", "safe_after", "inspect", "no_metering", "stop_down_metering", "meters"]
Function = Literal["autofocus", "aperture", "identity", "focal_length", "focus_distance", "stabiliser", "control_ring"]
Carried = Literal["none", "slow", "full"]


class _Model(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", strict=True)


class Item(_Model):
    """What every entry of the collection has. ``assumed`` names the fields whose values nobody stated or measured."""

    id: Id
    name: Name
    aliases: tuple[Name, ...] = ()
    notes: Text = ""
    retired: bool = False
    assumed: tuple[Word, ...] = ()

    @model_validator(mode="after")
    def _assumed_are_fields(self) -> Self:
        fields = {field.alias or name for name, field in type(self).model_fields.items()}
        for name in self.assumed:
            if name not in fields:
                raise ValueError(f"assumed names '{name}', which is no field of this kind")
        return self


class Evidence(_Model):
    """Somebody's experience for or against a claim; ``with_`` are the other pieces of the pair or rig it is about."""

    claim: Text
    verdict: Literal["confirmed", "contradicted"]
    source: Literal["maker", "shop", "review", "own"]
    on: Date | None = None
    note: Text = ""
    with_: Annotated[tuple[Id, ...], Field(alias="with")] = ()

    model_config = ConfigDict(populate_by_name=True)


class Protocol(Item):
    """A language spoken over contacts, and what it can power in the lens."""

    accepts: tuple[Id, ...] = ()
    powers: tuple[Literal["iris", "focus"], ...] = ()


class Thread(_Model):
    """A screw mount's thread; diameter and pitch in mm."""

    diameter_mm: PositiveLength
    pitch_mm: Annotated[float, Field(ge=0.001, le=10, allow_inf_nan=False)]


class LookAt(_Model):
    """Where on the mount a coupling feature is seen, and which of our shapes draws it."""

    view: Literal["ring", "rear", "flange", "barrel", "front"]
    clock_deg: Annotated[float, Field(ge=0, lt=360, allow_inf_nan=False)] = 0.0
    shape: Literal[
        "fork", "peg", "collar", "cut_collar", "cam", "window", "bevel", "tongue", "dot", "scale", "contacts"
    ]


class Feature(_Model):
    """A coupling part that can be seen on a lens or a body."""

    id: Id
    side: Literal["lens", "body"]
    label: Name
    question: Text = ""
    look_at: LookAt | None = None
    misleading: bool = False


class Generation(_Model):
    """One generation of a mount: which coupling features its lenses and bodies have."""

    id: Id
    label: Name
    start: Annotated[int | None, Field(alias="from", ge=1800, le=2200)] = None
    to: Annotated[int | None, Field(ge=1800, le=2200)] = None
    lens_features: tuple[Id, ...] = ()
    body_features: tuple[Id, ...] = ()
    protocol: Id | None = None
    prevalence: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 0.0

    model_config = ConfigDict(populate_by_name=True)


class Rule(_Model):
    """What happens when a lens with these features meets a body with those.

    ``ring_at`` says where the aperture ring has to stand before mounting.
    """

    lens_has: tuple[Id, ...] = ()
    lens_lacks: tuple[Id, ...] = ()
    body_has: tuple[Id, ...] = ()
    body_lacks: tuple[Id, ...] = ()
    effect: Effect
    action: Text | None = None
    exposure_modes: tuple[Word, ...] | None = None
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
    features: tuple[Feature, ...] = ()
    generations: tuple[Generation, ...] = ()
    rules: tuple[Rule, ...] = ()

    @model_validator(mode="after")
    def _screw_has_a_thread(self) -> Self:
        if (self.coupling == "screw") != (self.thread is not None):
            raise ValueError("a screw mount gives its thread, and no other mount has one")
        return self


class SwappableMount(_Model):
    """A reversible change of mount on a lens, or of plate on a body."""

    mount: Id
    price: Money | None = None
    tools: Text = ""
    minutes: Annotated[int, Field(ge=0, le=100_000)] | None = None


class Piece(Item):
    """What can be owned: a body, a lens or an adapter."""

    owned: Count = 0
    borrowed: Count = 0
    price: Money | None = None
    mass_g: Mass | None = None
    firmware: Word | None = None
    evidence: tuple[Evidence, ...] = ()

    @property
    def at_hand(self) -> int:
        """How many there are to use today: the owned and the borrowed ones."""
        return self.owned + self.borrowed


SensorSize = tuple[PositiveLength, PositiveLength]


class Mode(_Model):
    """A recording mode that uses part of the sensor; width and height in mm."""

    name: Name
    sensor_mm: SensorSize
    megapixels: Annotated[float, Field(ge=0.001, le=10_000, allow_inf_nan=False)] | None = None
    use: Literal["still", "film", "both"] = "both"
    automatic: bool = False


class Stabiliser(_Model):
    """A sensor that moves by ± ``travel_mm`` on each axis, and what it wants to be told."""

    travel_mm: Length
    entry_mm: tuple[FocalLength, FocalLength] = (1.0, 9999.0)
    entry_step_mm: PositiveLength = 0.1
    travel_steps: tuple[Annotated[float, Field(ge=0.001, le=1, allow_inf_nan=False)], ...] = (1.0,)
    stored_lenses: Count = 0
    stops: Stops | None = None
    modes: tuple[Word, ...] = ()

    @model_validator(mode="after")
    def _entry_range_ascends(self) -> Self:
        if self.entry_mm[0] > self.entry_mm[1]:
            raise ValueError("entry_mm runs from the least to the greatest focal length")
        return self


class Setting(_Model):
    """Where in a body's menu a setting is found, and what to set it to."""

    for_: Annotated[Word, Field(alias="for")]
    where: Text
    value: Text

    model_config = ConfigDict(populate_by_name=True)


class _Measured(Piece):
    measured_on: Date | None = None


class Body(_Measured):
    """A camera body. ``sensor_mm`` is width × height of the whole sensor or film gate."""

    mount: Id
    generation: Id | None = None
    kind: Literal["digital", "film"] = "digital"
    sensor_mm: SensorSize
    megapixels: Annotated[float, Field(ge=0.001, le=10_000, allow_inf_nan=False)] | None = None
    modes: tuple[Mode, ...] = ()
    stabiliser: Stabiliser | None = None
    protocols: tuple[Id, ...] = ()
    screw_drive: bool = False
    exposure_modes: tuple[Word, ...] = ()
    meters: bool = True
    holds_iris: bool = False
    bare_release: Literal["on", "off", "always", "never"] = "on"
    asks_focal_length: bool = False
    focus_aids: tuple[Word, ...] = ()
    desqueeze: tuple[Annotated[float, Field(ge=0.001, le=10, allow_inf_nan=False)], ...] = ()
    settings: tuple[Setting, ...] = ()
    obstruction_mm: Length | None = None
    max_ray_angle_deg: Annotated[float, Field(ge=0.1, lt=90, allow_inf_nan=False)] | None = None
    measured_register_mm: Register | None = None
    measured_tolerance_mm: Tolerance | None = None
    swappable_mounts: tuple[SwappableMount, ...] = ()
    width_mm: PositiveLength | None = None
    height_mm: PositiveLength | None = None
    depth_mm: PositiveLength | None = None
    mount_centre_mm: tuple[Length, Length] | None = None
    character: tuple[Word, ...] = ()


class NotOn(_Model):
    """A mount or an adapter that the lens's maker excludes."""

    adapter: Id | None = None
    mount: Id | None = None
    reason: Text


class Lens(_Measured):
    """A lens. ``focal_length_mm`` and ``f_number`` are the marked values, from least to greatest."""

    mount: Id
    generation: Id | None = None
    conversion: Literal["none", "factory", "third_party", "home", "transplanted"] = "none"
    focal_length_mm: tuple[FocalLength, FocalLength]
    f_number: tuple[FNumber, FNumber]
    f_number_at_long_end: FNumber | None = None
    min_focus_m: Annotated[float, Field(ge=0.001, le=1000, allow_inf_nan=False)] | None = None
    max_magnification: Annotated[float, Field(ge=0.001, le=100, allow_inf_nan=False)] | None = None
    past_infinity_mm: Length = 0.0
    image_circle_mm: PositiveLength | None = None
    focus: Literal["ring", "screw_drive", "motor", "by_wire", "none"] = "ring"
    aperture: Literal["ring", "lever", "pin", "electronic", "none"] = "ring"
    auto_manual_switch: bool = False
    iris_at_rest: Literal["open", "closed", "stays"] = "open"
    features: tuple[Id, ...] | None = None
    protocol: Id | None = None
    offers: tuple[Function, ...] = ()
    stabilised: bool = False
    squeeze: Annotated[float, Field(ge=1, le=4, allow_inf_nan=False)] = 1.0
    fisheye: bool = False
    shift_mm: Length = 0.0
    tilt_deg: Annotated[float, Field(ge=0, lt=90, allow_inf_nan=False)] = 0.0
    rear_protrusion_mm: Length | None = None
    rear_diameter_mm: PositiveLength | None = None
    exit_pupil_mm: PositiveLength | None = None
    focus_throw_deg: Annotated[float, Field(ge=0.001, le=2000, allow_inf_nan=False)] | None = None
    length_mm: PositiveLength | None = None
    diameter_mm: PositiveLength | None = None
    filter_thread_mm: PositiveLength | None = None
    centre_of_mass_mm: Length | None = None
    tripod_foot: bool = False
    measured_register_mm: Register | None = None
    measured_tolerance_mm: Tolerance | None = None
    swappable_mounts: tuple[SwappableMount, ...] = ()
    not_on: tuple[NotOn, ...] = ()
    character: tuple[Word, ...] = ()

    @model_validator(mode="after")
    def _ranges_ascend(self) -> Self:
        if self.focal_length_mm[0] > self.focal_length_mm[1]:
            raise ValueError("focal_length_mm runs from the short end to the long end")
        if self.f_number[0] > self.f_number[1]:
            raise ValueError("f_number runs from the widest stop to the smallest")
        if self.f_number_at_long_end is not None and self.f_number_at_long_end > self.f_number[1]:
            raise ValueError("f_number_at_long_end lies beyond the smallest stop")
        return self

    @property
    def is_zoom(self) -> bool:
        return self.focal_length_mm[0] != self.focal_length_mm[1]


class FilterPosition(_Model):
    """One place of a filter slot or wheel."""

    name: Name
    loss_stops: Stops = 0.0
    clear: bool = False


class FilterSlot(_Model):
    """A filter behind the lens: plane glass of ``glass_mm`` thickness moves the focus back."""

    kind: Literal["drop_in", "wheel"] = "drop_in"
    glass_mm: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] = 0.0
    refractive_index: Annotated[float, Field(ge=1, le=4, allow_inf_nan=False)] = 1.52
    positions: tuple[FilterPosition, ...] = ()


class Chip(_Model):
    """A chip that reports one fixed lens, whatever is mounted."""

    focal_length_mm: FocalLength
    f_number: FNumber


class Adapter(_Measured):
    """An adapter: ``length_mm`` is its physical length, seat to seat."""

    lens_mount: Id
    body_mount: Id
    lens_generation: Id | None = None
    lens_side_features: tuple[Id, ...] = ()
    length_mm: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)]
    tolerance_mm: Tolerance = 0.0
    measured_length_mm: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)] | None = None
    measured_tolerance_mm: Tolerance | None = None
    optics: Literal["none", "reducer", "expander", "correcting"] = "none"
    magnification: Annotated[float, Field(gt=0.1, le=10, allow_inf_nan=False)] = 1.0
    register_in_mm: Register | None = None
    register_out_mm: Register | None = None
    image_circle_mm: PositiveLength | None = None
    widest_f_number: FNumber | None = None
    front_glass_mm: Length | None = None
    link: Literal["none", "chip", "pass", "translate"] = "none"
    from_protocol: Id | None = None
    to_protocol: Id | None = None
    chip: Chip | None = None
    carries: dict[Function, Carried] = Field(default_factory=dict)
    aperture_control: Literal["none", "lever_ring", "pin_press", "iris"] = "none"
    helicoid_mm: Length = 0.0
    tilt_deg: Annotated[float, Field(ge=0, lt=90, allow_inf_nan=False)] = 0.0
    shift_mm: Length = 0.0
    rotates: bool = False
    filter_slot: FilterSlot | None = None
    light_loss_stops: Stops = 0.0
    bore_mm: PositiveLength | None = None
    outer_mm: PositiveLength | None = None
    play_mm: Tolerance = 0.0
    locking: bool = False
    load_rating_nm: Annotated[float, Field(ge=0.001, le=1000, allow_inf_nan=False)] | None = None
    tripod_foot: bool = False
    reflections: Text | None = None
    irreversible: bool = False
    prepare: tuple[Text, ...] = ()

    @model_validator(mode="after")
    def _glass_and_links_are_whole(self) -> Self:
        named = self.optics != "none"
        if (named or self.magnification != 1.0) and (self.register_in_mm is None or self.register_out_mm is None):
            raise ValueError("an adapter with glass needs register_in_mm and register_out_mm")
        if (self.register_in_mm is None) != (self.register_out_mm is None):
            raise ValueError("register_in_mm and register_out_mm go together")
        if self.has_glass and not named:
            raise ValueError("an adapter with glass says in optics what kind: reducer, expander or correcting")
        if self.optics == "reducer" and self.magnification >= 1:
            raise ValueError("a reducer's magnification is below 1")
        if self.optics in {"expander", "correcting"} and self.magnification < 1:
            raise ValueError("an expander's or correcting glass's magnification is 1 or more")
        if self.link == "translate" and (self.from_protocol is None or self.to_protocol is None):
            raise ValueError("a translating adapter names from_protocol and to_protocol")
        if (self.link == "chip") != (self.chip is not None):
            raise ValueError("link 'chip' and the chip's values go together")
        return self

    @property
    def physical_length_mm(self) -> float:
        """Seat to seat, as measured where it was measured."""
        return self.length_mm if self.measured_length_mm is None else self.measured_length_mm

    @property
    def has_glass(self) -> bool:
        """True when the element cuts the chain: k ≠ 1, or registers of its own."""
        return self.magnification != 1.0 or self.register_in_mm is not None


class Rig(_Model):
    """A saved combination; adapters run from the lens to the body. ``grade`` is what it came to when it was kept."""

    id: Id
    name: Name
    lens: Id
    body: Id
    adapters: tuple[Id, ...] = ()
    notes: Text = ""
    grade: Grade | None = None
    graded_on: Date | None = None


class Gear(_Model):
    """A whole collection. One object of the gear file."""

    format: Literal["tropeion-gear"]
    version: Literal[1]
    currency: Annotated[str, StringConstraints(pattern=r"^[A-Z]{3}$")] = "EUR"
    protocols: tuple[Protocol, ...] = ()
    mounts: tuple[Mount, ...] = ()
    bodies: tuple[Body, ...] = ()
    lenses: tuple[Lens, ...] = ()
    adapters: tuple[Adapter, ...] = ()
    rigs: tuple[Rig, ...] = ()
