"""The glossary: the trade's words, each said once, in ``data/glossary.json``."""

from __future__ import annotations

from typing import Final, Literal, get_args

from tropeion.core.frozen import frozen

from .data_tables import table

Topic = Literal["distances", "focus", "picture", "mount", "electronics", "grades", "kit"]

Word = Literal[
    "flange_focal_distance",
    "flange_error",
    "gap",
    "adapter_length",
    "lens_mount",
    "camera_mount",
    "throat",
    "bore",
    "rear_protrusion",
    "obstruction",
    "tolerance",
    "mount_play",
    "mount_load",
    "centre_of_mass",
    "foil",
    "infinity_from",
    "nearest_focus",
    "farthest_focus",
    "greatest_magnification",
    "working_distance",
    "focus_throw",
    "past_infinity",
    "helicoid",
    "depth_of_field",
    "depth_of_focus",
    "circle_of_confusion",
    "image_circle",
    "coverage_margin",
    "greatest_rise",
    "shift",
    "tilt",
    "hinge",
    "convergence",
    "stitching",
    "hyperfocal",
    "blur_disc",
    "crop_factor",
    "full_frame_equivalent",
    "effective_aperture",
    "t_number",
    "light_change",
    "focal_reducer",
    "correcting_glass",
    "exit_pupil",
    "corner_rays",
    "squeeze",
    "slowest_shutter",
    "stabiliser_travel",
    "diffraction",
    "plain_adapter",
    "active_adapter",
    "generation",
    "conversion",
    "coupling",
    "bayonet",
    "breech_lock",
    "thread",
    "index_mark",
    "protocol",
    "chip",
    "stop_down_metering",
    "diaphragm_pin",
    "aperture_lever",
    "auto_manual",
    "by_wire",
    "bare_release",
    "native",
    "full",
    "manual",
    "partial",
    "close_up",
    "modify",
    "none",
    "danger",
    "nominal",
    "assumed",
    "archived",
    "preferences",
    "route",
    "rig",
]


@frozen
class GlossaryTerm:
    """A word of the trade. ``also``: other names it goes by; ``found_by``: names that it is found by and not called
    here, since they are somebody's trade mark; ``means``: what it is, in a sentence or two.

    ``fields``: where a form asks for it, by the gear file's names.
    """

    key: Word
    term: str
    topic: Topic
    means: str
    also: str = ""
    found_by: str = ""
    fields: tuple[str, ...] = ()


def whole(terms: tuple[GlossaryTerm, ...]) -> tuple[GlossaryTerm, ...]:
    """The terms as they are. Raises ValueError where a word has none, or more than one."""
    keys = [term.key for term in terms]
    if sorted(keys) != sorted(get_args(Word)):
        missing, twice = set(get_args(Word)) - set(keys), {key for key in keys if keys.count(key) > 1}
        raise ValueError(f"the glossary lacks {sorted(missing)} and tells twice {sorted(twice)}")
    return terms


TERMS: Final = whole(table("glossary", GlossaryTerm))
_BY_KEY: Final = {term.key: term.term for term in TERMS}


def word(key: Word) -> str:
    """The trade's word for something, as it stands within a sentence."""
    return _BY_KEY[key]


def capital(text: str) -> str:
    """The same at the beginning of a sentence or a line."""
    return text[:1].upper() + text[1:]
