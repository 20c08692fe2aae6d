"""Of which pieces a grade may be told without a judgement: a list of what their fields may say.

Whoever adds a field that can change a grade need not know of this list: a field that is not on it makes a piece that
says anything but the default one to be judged.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping
from functools import cache
from typing import Any, Final, NamedTuple

from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.agreeing import Reader, all_but, reader_of
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.changed import is_changed
from tropeion.core.gear.items import UNJUDGED, Item
from tropeion.core.gear.lenses import Lens
from tropeion.core.optics.modes import choose_mode, modes_of

Check = Callable[[Any], bool]


class Allowed:
    """What the fields of a kind may hold, where there is a check for it; any value in the ``whatever`` ones."""

    def __init__(self, whatever: frozenset[str], checks: Mapping[str, Check]) -> None:
        self.listed = whatever | frozenset(checks)
        self._checks = tuple(checks.items())

    def holds(self, item: Item) -> bool:
        """Whether every field that is listed holds what it may."""
        values = vars(item)
        return all(check(values[name]) for name, check in self._checks)


def _any(_value: object) -> bool:
    return True


def _among(*values: object) -> Check:
    return lambda value: value in values


# Fields that the bounds account for, or that no grade depends on.
_LENS: Final = UNJUDGED | {
    *("mount", "generation", "features", "not_on", "swappable_mounts", "conversion"),
    *("focal_length_mm", "f_number", "f_number_at_long_end", "min_focus_m", "max_magnification", "past_infinity_mm"),
    *("image_circle_mm", "exit_pupil_mm", "rear_protrusion_mm", "rear_diameter_mm"),
    *("measured_register_mm", "measured_tolerance_mm", "protocol", "offers", "auto_manual_switch", "iris_at_rest"),
    *("stabilised", "squeeze", "fisheye", "shift_mm", "shift_axis", "tilt_deg", "focus_throw_deg", "mass_g"),
    *("length_mm", "diameter_mm", "filter_thread_mm", "centre_of_mass_mm", "tripod_foot"),
    *("t_number", "image_circle_from", "image_circle_tolerance_mm", "foot_mm", "barrel_mm", "rear_thread", "rotates"),
    *("code", "frame_lines", "marked_focal_lengths_mm", "marked_f_numbers", "marked_distances_m"),
}
_RINGS: Final[dict[str, Check]] = {
    "focus": _among(None, "ring", "motor", "screw_drive"),
    "aperture": _among(None, "ring"),
    "focal_length_mm": lambda ends: ends[0] == ends[1],
    "f_number_at_long_end": _among(None),
}
_BY_LENGTHS: Final = Allowed(_LENS, _RINGS)
# The same, however it is focused and stopped down: what lengths leave is decided by what is said there.
_BUT_FOR_CONTACTS: Final = Allowed(_LENS, {**_RINGS, "focus": _any, "aperture": _any})
_WITHOUT_POWER: Final = Allowed(_LENS, {"focus": _among("by_wire"), "aperture": _any})
_BODY: Final = Allowed(
    UNJUDGED
    | {
        *("mount", "generation", "kind", "sensor_mm", "megapixels", "modes", "stabiliser", "protocols", "screw_drive"),
        *("exposure_modes", "meters", "holds_iris", "bare_release", "asks_focal_length", "focus_aids", "desqueeze"),
        *("settings", "obstruction_mm", "max_ray_angle_deg", "measured_register_mm", "measured_tolerance_mm"),
        *("swappable_mounts", "width_mm", "height_mm", "depth_mm", "mount_centre_mm", "mass_g"),
        *("centre_of_mass_mm", "tripod_screw_mm", "battery", "reads_code", "magnifier"),
    },
    {},
)
_ADAPTER: Final = Allowed(
    UNJUDGED
    | {
        *("lens_mount", "body_mount", "lens_generation", "lens_side_features", "length_mm", "tolerance_mm"),
        "length_from",
        *("measured_length_mm", "measured_tolerance_mm", "magnification", "register_in_mm", "register_out_mm"),
        *("image_circle_mm", "widest_f_number", "front_glass_mm", "link", "from_protocol", "to_protocol", "chip"),
        *("carries", "aperture_control", "helicoid_mm", "tilt_deg", "shift_mm", "shift_axis", "rotates", "filter_slot"),
        *("light_loss_stops", "bore_mm", "outer_mm", "play_mm", "locking", "load_rating_nm", "tripod_foot"),
        *("reflections", "prepare", "mass_g", "foot_mm", "passes_screw", "control_ring", "iris_diameter_mm"),
        "frame_lines",
    },
    {"optics": _among("none", "reducer", "expander"), "irreversible": _among(False)},
)


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


def judged_of_lens(lens: Lens) -> Hashable:
    """What two lenses have in common that come to the same on everything."""
    return is_changed(lens), all_but(lens, UNJUDGED)


def contacts_of_lens(lens: Lens) -> Hashable:
    """What two lenses have in common that are alike but for lengths."""
    return "lens", is_changed(lens), all_but(lens, _LENGTHS_OF_LENS)


def contacts_of_adapter(adapter: Adapter) -> Hashable:
    """What two adapters have in common that are alike but for lengths and mounts."""
    return "adapter", all_but(adapter, _LENGTHS_OF_ADAPTER)


def contacts_of_body(body: Body) -> Hashable:
    """What two bodies have in common that are alike but for lengths and mounts, behind an adapter."""
    return "body", is_changed(body), all_but(body, _LENGTHS_OF_BODY)


def says_only(item: Item, allowed: Allowed) -> bool:
    """Whether every field holds what it may; one that is not listed, its default."""
    return allowed.holds(item) and _says_nothing_else(item, allowed.listed)


def _says_nothing_else(item: Item, listed: frozenset[str]) -> bool:
    rest = _unlisted(type(item), listed)
    return rest is not None and rest[0](vars(item)) == rest[1]


@cache
def _unlisted(kind: type[Item], listed: frozenset[str]) -> tuple[Reader, tuple[object, ...]] | None:
    """What reads the fields that are not listed, and their defaults; None where one of them has to be said."""
    rest = {name: field for name, field in kind.model_fields.items() if name not in listed}
    if any(field.is_required() for field in rest.values()):
        return None
    return reader_of(list(rest)), tuple(field.get_default(call_default_factory=True) for field in rest.values())


class PlainLens(NamedTuple):
    """In which ways a lens is plain.

    ``by_lengths``: it is focused and stopped down by its own rings, at one focal length; ``but_for_contacts``: so, or
    driven in whatever way; ``without_power``: nothing focuses it without power.
    """

    by_lengths: bool
    but_for_contacts: bool
    without_power: bool


def plain_lens(lens: Lens) -> PlainLens:
    """In which ways a lens is plain."""
    # All three list the same fields.
    if not _says_nothing_else(lens, _BY_LENGTHS.listed):
        return PlainLens(by_lengths=False, but_for_contacts=False, without_power=False)
    return PlainLens(_BY_LENGTHS.holds(lens), _BUT_FOR_CONTACTS.holds(lens), _WITHOUT_POWER.holds(lens))


def body_is_plain(body: Body, use: str) -> bool:
    """A body of which the whole sensor is used where the circle covers it: none of its modes has more pixels."""
    format_modes = modes_of(body, use)
    widest = max(mode.diagonal_mm for mode in format_modes)
    return says_only(body, _BODY) and choose_mode(format_modes, widest + 1)[0].whole


def adapter_is_plain(adapter: Adapter) -> bool:
    """An adapter of which only lengths, glass and bores count."""
    return says_only(adapter, _ADAPTER)
