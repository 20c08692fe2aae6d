"""Of which pieces a grade may be told without a judgement: a list of what their fields may say.

Whoever adds a field that can change a grade need not know of this list: a field that is not on it makes a piece that
says anything but the default one to be judged.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import cache
from typing import Any, Final, NamedTuple

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.changed import is_changed
from tropeion.core.gear.items import UNJUDGED, Item
from tropeion.core.gear.lenses import Lens
from tropeion.core.optics.modes import choose_mode, modes_of

Allowed = Mapping[str, Callable[[Any], bool]]


def _any(_value: object) -> bool:
    return True


def _among(*values: object) -> Callable[[object], bool]:
    return lambda value: value in values


def _whatever(*names: str) -> dict[str, Callable[[Any], bool]]:
    return dict.fromkeys(names, _any)


# Fields that the bounds account for, or that no grade depends on.
_LENS: Final = _whatever(
    *UNJUDGED,
    *("mount", "generation", "features", "not_on", "swappable_mounts", "conversion"),
    *("focal_length_mm", "f_number", "f_number_at_long_end", "min_focus_m", "max_magnification", "past_infinity_mm"),
    *("image_circle_mm", "exit_pupil_mm", "rear_protrusion_mm", "rear_diameter_mm"),
    *("measured_register_mm", "measured_tolerance_mm", "protocol", "offers", "auto_manual_switch", "iris_at_rest"),
    *("stabilised", "squeeze", "fisheye", "shift_mm", "shift_axis", "tilt_deg", "focus_throw_deg", "mass_g"),
    *("length_mm", "diameter_mm", "filter_thread_mm", "centre_of_mass_mm", "tripod_foot"),
    *("t_number", "image_circle_from", "image_circle_tolerance_mm", "foot_mm", "barrel_mm", "rear_thread", "rotates"),
    *("code", "frame_lines", "marked_focal_lengths_mm", "marked_f_numbers", "marked_distances_m"),
)
_BY_LENGTHS: Final[Allowed] = {
    **_LENS,
    "focus": _among(None, "ring", "motor", "screw_drive"),
    "aperture": _among(None, "ring"),
    "focal_length_mm": lambda ends: ends[0] == ends[1],
    "f_number_at_long_end": _among(None),
}
# The same, however it is focused and stopped down: what lengths leave is decided by what is said there.
_BUT_FOR_CONTACTS: Final[Allowed] = {**_BY_LENGTHS, "focus": _any, "aperture": _any}
_WITHOUT_POWER: Final[Allowed] = {**_LENS, "focus": _among("by_wire"), "aperture": _any}
_BODY: Final[Allowed] = _whatever(
    *UNJUDGED,
    *("mount", "generation", "kind", "sensor_mm", "megapixels", "modes", "stabiliser", "protocols", "screw_drive"),
    *("exposure_modes", "meters", "holds_iris", "bare_release", "asks_focal_length", "focus_aids", "desqueeze"),
    *("settings", "obstruction_mm", "max_ray_angle_deg", "measured_register_mm", "measured_tolerance_mm"),
    *("swappable_mounts", "width_mm", "height_mm", "depth_mm", "mount_centre_mm", "mass_g"),
    *("centre_of_mass_mm", "tripod_screw_mm", "battery", "reads_code", "magnifier"),
)
_ADAPTER: Final[Allowed] = {
    **_whatever(
        *UNJUDGED,
        *("lens_mount", "body_mount", "lens_generation", "lens_side_features", "length_mm", "tolerance_mm"),
        "length_from",
        *("measured_length_mm", "measured_tolerance_mm", "magnification", "register_in_mm", "register_out_mm"),
        *("image_circle_mm", "widest_f_number", "front_glass_mm", "link", "from_protocol", "to_protocol", "chip"),
        *("carries", "aperture_control", "helicoid_mm", "tilt_deg", "shift_mm", "shift_axis", "rotates", "filter_slot"),
        *("light_loss_stops", "bore_mm", "outer_mm", "play_mm", "locking", "load_rating_nm", "tripod_foot"),
        *("reflections", "prepare", "mass_g", "foot_mm", "passes_screw", "control_ring", "iris_diameter_mm"),
        "frame_lines",
    ),
    "optics": _among("none", "reducer", "expander"),
    "irreversible": _among(False),
}


# What of a lens, an adapter and a body is accounted for by lengths alone: where these are surely well within what is
# wanted, two that agree in all the rest come to the same.
_LENGTHS_OF_LENS: Final = UNJUDGED | {
    *("mount", "focal_length_mm", "f_number", "min_focus_m", "max_magnification", "past_infinity_mm"),
    *("image_circle_mm", "exit_pupil_mm", "rear_protrusion_mm", "measured_register_mm", "measured_tolerance_mm"),
    *("mass_g", "centre_of_mass_mm", "length_mm", "diameter_mm", "filter_thread_mm"),
}
_LENGTHS_OF_ADAPTER: Final = UNJUDGED | {
    *("lens_mount", "body_mount", "length_mm", "tolerance_mm", "measured_length_mm", "measured_tolerance_mm"),
    *("register_in_mm", "register_out_mm", "front_glass_mm", "bore_mm", "outer_mm", "play_mm", "load_rating_nm"),
    "mass_g",
}


_LENGTHS_OF_BODY: Final = UNJUDGED | {
    *("mount", "sensor_mm", "megapixels", "obstruction_mm", "measured_register_mm", "measured_tolerance_mm"),
    *("width_mm", "height_mm", "depth_mm", "mount_centre_mm", "mass_g", "centre_of_mass_mm", "tripod_screw_mm"),
}


def judged_of_lens(lens: Lens) -> str:
    """What two lenses have in common that come to the same on everything."""
    return f"{is_changed(lens)} {lens.model_dump_json(exclude=set(UNJUDGED))}"


def contacts_of_lens(lens: Lens) -> str:
    """What two lenses have in common that are alike but for lengths."""
    return f"{is_changed(lens)} {lens.model_dump_json(exclude=set(_LENGTHS_OF_LENS))}"


def contacts_of_adapter(adapter: Adapter) -> str:
    """What two adapters have in common that are alike but for lengths and mounts."""
    return adapter.model_dump_json(exclude=set(_LENGTHS_OF_ADAPTER))


def contacts_of_body(body: Body) -> str:
    """What two bodies have in common that are alike but for lengths and mounts, behind an adapter."""
    return f"{is_changed(body)} {body.model_dump_json(exclude=set(_LENGTHS_OF_BODY))}"


def says_only(item: Item, allowed: Allowed) -> bool:
    """Whether every field holds what it may; one that is not listed, its default."""
    return _holds(item, allowed) and _says_nothing_else(item, frozenset(allowed))


def _holds(item: Item, allowed: Allowed) -> bool:
    values = vars(item)
    return all(check(values[name]) for name, check in allowed.items() if check is not _any)


def _says_nothing_else(item: Item, listed: frozenset[str]) -> bool:
    values = vars(item)
    rest = _unlisted(type(item), listed)
    return all(not required and values[name] == default for name, required, default in rest)


@cache
def _unlisted(kind: type[Item], listed: frozenset[str]) -> tuple[tuple[str, bool, object], ...]:
    """The fields of a kind that are not listed: whether they are required, and their default."""
    return tuple(
        (name, field.is_required(), None if field.is_required() else field.get_default(call_default_factory=True))
        for name, field in kind.model_fields.items()
        if name not in listed
    )


class PlainLens(NamedTuple):
    """In which ways a lens is plain.

    ``by_lengths``: it is focused and stopped down by its own rings, at one focal length; ``but_for_contacts``: so, or
    driven in whatever way; ``without_power``: nothing focuses it without power.
    """

    by_lengths: bool
    but_for_contacts: bool
    without_power: bool


_LISTED: Final = frozenset(_BY_LENGTHS)
assert frozenset(_BUT_FOR_CONTACTS) == _LISTED == frozenset(_WITHOUT_POWER), "all list the same fields"


def plain_lens(lens: Lens) -> PlainLens:
    """In which ways a lens is plain."""
    if not _says_nothing_else(lens, _LISTED):
        return PlainLens(by_lengths=False, but_for_contacts=False, without_power=False)
    return PlainLens(*(_holds(lens, allowed) for allowed in (_BY_LENGTHS, _BUT_FOR_CONTACTS, _WITHOUT_POWER)))


def body_is_plain(body: Body, use: str) -> bool:
    """A body of which the whole sensor is used where the circle covers it: none of its modes has more pixels."""
    format_modes = modes_of(body, use)
    widest = max(mode.diagonal_mm for mode in format_modes)
    return says_only(body, _BODY) and choose_mode(format_modes, widest + 1)[0].whole


def adapter_is_plain(adapter: Adapter) -> bool:
    """An adapter of which only lengths, glass and bores count."""
    return says_only(adapter, _ADAPTER)
