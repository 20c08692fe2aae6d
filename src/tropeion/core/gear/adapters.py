"""Adapters."""

from __future__ import annotations

from typing import Annotated, Final, Literal, Self

from pydantic import Field, model_validator

from .field_types import (
    Carried,
    FNumber,
    FocalLength,
    FrameLine,
    Function,
    Id,
    Length,
    Name,
    PositiveLength,
    Register,
    Several,
    ShiftAxis,
    Stops,
    Strict,
    Text,
    Tolerance,
)
from .items import Measured
from .kinds import Local, Ref

# Of an adapter of which nothing else is known.
USUAL_TOLERANCE_MM: Final = 0.05


class FilterPosition(Strict):
    """One place of a filter slot or wheel."""

    name: Name
    loss_stops: Stops = 0.0
    clear: bool = False


class FilterSlot(Strict):
    """A filter behind the lens: plane glass of ``glass_mm`` thickness moves the focus back.

    ``side`` says on which side of the adapter's own glass it stands. A variable one takes from the least to the most of
    ``range_stops``; ``cross_from_deg`` is the angle of view from which its cross shows at the strong end.
    """

    kind: Literal["drop_in", "wheel", "variable"] = "drop_in"
    side: Literal["lens", "body"] = "body"
    glass_mm: Annotated[float, Field(ge=0, le=50, allow_inf_nan=False)] = 0.0
    refractive_index: Annotated[float, Field(ge=1, le=4, allow_inf_nan=False)] = 1.52
    positions: Several[FilterPosition] = ()
    range_stops: tuple[Stops, Stops] | None = None
    colour_shift: Text | None = None
    cross_from_deg: Annotated[float, Field(ge=0, lt=180, allow_inf_nan=False)] | None = None

    @property
    def never_clear(self) -> bool:
        """Whether some filter stands in the light always: none of its places is clear, and a variable one has none."""
        always = bool(self.positions) or self.kind == "variable" or self.range_stops is not None
        return always and not any(position.clear for position in self.positions)

    @property
    def least_stops(self) -> float | None:
        """Light that is lost at its clearest; None where it is never clear and what it takes is not stated."""
        if not self.never_clear:
            return 0.0
        losses = [position.loss_stops for position in self.positions]
        return min([*losses, *(self.range_stops or ())], default=None)

    @model_validator(mode="after")
    def _range_ascends(self) -> Self:
        if self.range_stops is not None and self.range_stops[0] > self.range_stops[1]:
            raise ValueError("range_stops runs from the weakest to the strongest")
        return self


class Chip(Strict):
    """A chip that reports one fixed lens, whatever is mounted."""

    focal_length_mm: FocalLength
    f_number: FNumber


class Adapter(Measured):
    """An adapter: ``length_mm`` is its physical length, seat to seat.

    ``length_from`` the gap: nobody stated it, it is what a ring between its mounts has to measure.
    """

    lens_mount: Annotated[Id, Ref(("mounts",), "has this mount on one side")]
    body_mount: Annotated[Id, Ref(("mounts",), "has this mount on one side")]
    lens_generation: Annotated[Id, Local("generations", "lens_mount")] | None = None
    lens_side_features: Several[Annotated[Id, Local("features", "lens_mount")]] | None = None
    length_mm: Annotated[float, Field(ge=0, le=500, allow_inf_nan=False)]
    length_from: Literal["stated", "gap"] = "stated"
    tolerance_mm: Tolerance | None = None
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
    from_protocol: Annotated[Id, Ref(("protocols",), "translates it")] | None = None
    to_protocol: Annotated[Id, Ref(("protocols",), "translates it")] | None = None
    chip: Chip | None = None
    carries: dict[Function, Carried] = Field(default_factory=dict)
    aperture_control: Literal["none", "lever_ring", "pin_press", "iris"] = "none"
    helicoid_mm: Length = 0.0
    tilt_deg: Annotated[float, Field(ge=0, lt=90, allow_inf_nan=False)] = 0.0
    shift_mm: Length = 0.0
    shift_axis: ShiftAxis = "any"
    rotates: bool = False
    filter_slot: FilterSlot | None = None
    light_loss_stops: Stops = 0.0
    bore_mm: PositiveLength | None = None
    outer_mm: PositiveLength | None = None
    play_mm: Tolerance | None = None
    locking: bool = False
    load_rating_nm: Annotated[float, Field(ge=0.001, le=1000, allow_inf_nan=False)] | None = None
    tripod_foot: bool = False
    foot_mm: Length | None = None
    passes_screw: bool = False
    control_ring: bool = False
    iris_diameter_mm: PositiveLength | None = None
    frame_lines: Several[FrameLine] | None = None
    reflections: Text | None = None
    irreversible: bool = False
    prepare: Several[Text] = ()

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
    def tolerance_or_usual_mm(self) -> float:
        return USUAL_TOLERANCE_MM if self.tolerance_mm is None else self.tolerance_mm

    @property
    def has_glass(self) -> bool:
        """True when the element cuts the chain: k ≠ 1, or registers of its own."""
        return self.magnification != 1.0 or self.register_in_mm is not None
