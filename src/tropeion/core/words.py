"""The glossary: the trade's words, each said once. Sentences and screens take the word from here."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final, Literal

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


@dataclass(frozen=True, slots=True)
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


TERMS: Final[tuple[GlossaryTerm, ...]] = (
    # Distances
    GlossaryTerm(
        "flange_focal_distance",
        "flange focal distance",
        "distances",
        "From the face of the mount to the film or sensor. Every mount has its own; a lens has to stand at that of the "
        "mount it was made for.",
        also="register",
        fields=("register_mm", "measured_register_mm", "register_in_mm", "register_out_mm"),
    ),
    GlossaryTerm(
        "flange_error",
        "flange error",
        "distances",
        "How far the lens stands from where it should. Plus is too far from the sensor: infinity goes. Minus is too "
        "near: it focuses past infinity, and its distance scale is wrong.",
    ),
    GlossaryTerm(
        "gap",
        "room for an adapter",
        "distances",
        "The lens's flange focal distance less the body's: what a plain adapter has to measure, face to face. Where it "
        "is less than nothing, only glass helps, or the lens stays close-up only.",
    ),
    GlossaryTerm(
        "adapter_length",
        "length of an adapter",
        "distances",
        "From its front face, where the lens goes, to its rear face, which meets the body. Threads and bayonet "
        "flanges that reach past a face do not count.",
        fields=("length_mm", "measured_length_mm"),
    ),
    GlossaryTerm(
        "lens_mount",
        "lens mount",
        "distances",
        "The front end of an adapter: what it takes. In a name as “KLV–OST” it is the first.",
        fields=("lens_mount",),
    ),
    GlossaryTerm(
        "camera_mount",
        "camera mount",
        "distances",
        "The rear end of an adapter: what it goes onto.",
        fields=("body_mount",),
    ),
    GlossaryTerm(
        "throat",
        "throat",
        "distances",
        "The clear opening of a mount, across.",
        fields=("throat_mm", "inner_mm"),
    ),
    GlossaryTerm(
        "bore",
        "bore",
        "distances",
        "The clear opening through an adapter, at its narrowest. A narrow one darkens the corners, or does not let the "
        "rear of the lens through.",
        fields=("bore_mm", "front_glass_mm"),
    ),
    GlossaryTerm(
        "rear_protrusion",
        "rear protrusion",
        "distances",
        "How far the rear of the lens reaches behind its mount face, into adapter or body, at whatever focus it "
        "reaches furthest.",
        fields=("rear_protrusion_mm", "rear_diameter_mm"),
    ),
    GlossaryTerm(
        "obstruction",
        "clearance to the first obstruction",
        "distances",
        "How much depth a body has behind its mount face before something is in the way: mirror, shutter, "
        "frame, filter "
        "stack. Stated as where that begins, forward of the sensor.",
        fields=("obstruction_mm",),
    ),
    GlossaryTerm(
        "tolerance",
        "tolerance",
        "distances",
        "How far a length may be off, more or less. Where nobody states one, what is usual is assumed, and drawn "
        "hatched.",
        fields=("tolerance_mm", "measured_tolerance_mm"),
    ),
    GlossaryTerm(
        "mount_play",
        "mount play",
        "distances",
        "How far a joint that does not lock gives. It moves focus in the middle of a pull.",
        fields=("play_mm",),
    ),
    GlossaryTerm(
        "mount_load",
        "load on the mount",
        "distances",
        "The weight in front of a joint times how far in front of it the weight hangs, against what the joint is rated "
        "for.",
        fields=("load_rating_nm", "mass_g"),
    ),
    GlossaryTerm(
        "centre_of_mass",
        "centre of mass",
        "distances",
        "Where it balances on a finger, counted forward from the mount face (a body: from the sensor).",
        fields=("centre_of_mass_mm", "tripod_screw_mm", "foot_mm"),
    ),
    GlossaryTerm(
        "foil",
        "shim",
        "distances",
        "Thin foil between the parts of an adapter or under a mount, to lengthen it by hundredths.",
        also="foil",
        fields=("thickness_mm",),
    ),
    # Focus
    GlossaryTerm(
        "infinity_from",
        "infinity from",
        "focus",
        "The widest aperture at which infinity is sharp. A lens that stands a little too far is soft at infinity wide "
        "open and sharp stopped down.",
    ),
    GlossaryTerm(
        "nearest_focus",
        "closest focus",
        "focus",
        "The nearest subject that comes into exact focus, from the sensor. A ring that is too long brings it nearer.",
        fields=("min_focus_m",),
    ),
    GlossaryTerm(
        "farthest_focus",
        "farthest focus",
        "focus",
        "The farthest subject that comes into exact focus; infinity, where nothing is lost.",
    ),
    GlossaryTerm(
        "greatest_magnification",
        "maximum magnification",
        "focus",
        "How large a subject is on the sensor, at most, against life: 0.5 × is half life size.",
        fields=("max_magnification",),
    ),
    GlossaryTerm(
        "working_distance",
        "working distance",
        "focus",
        "From the front of the lens to the subject.",
    ),
    GlossaryTerm(
        "focus_throw",
        "focus throw",
        "focus",
        "How far the focusing ring turns from closest focus to infinity. Long is precise, short is quick.",
        fields=("focus_throw_deg",),
    ),
    GlossaryTerm(
        "past_infinity",
        "past infinity",
        "focus",
        "How much further in the lens moves than its infinity mark. It makes up for a ring that is a little too long.",
        fields=("past_infinity_mm",),
    ),
    GlossaryTerm(
        "helicoid",
        "helicoid",
        "focus",
        "A part that screws the lens out, in an adapter or on its own: for closer focus, or for lenses that have no "
        "focusing.",
        fields=("helicoid_mm",),
    ),
    GlossaryTerm(
        "depth_of_field",
        "depth of field",
        "focus",
        "From the nearest to the farthest subject that still looks sharp, at one focus and aperture.",
    ),
    GlossaryTerm(
        "depth_of_focus",
        "depth of focus",
        "focus",
        "How far the lens may be off, at an aperture, and the picture still look sharp: the bands of the strip.",
    ),
    GlossaryTerm(
        "circle_of_confusion",
        "circle of confusion",
        "focus",
        "The blur on the sensor that still passes for a point. A fraction of the picture's diagonal, by preference.",
    ),
    # Picture
    GlossaryTerm(
        "image_circle",
        "image circle",
        "picture",
        "The round picture that the lens throws; the sensor has to lie within it.",
        fields=("image_circle_mm", "image_circle_tolerance_mm"),
    ),
    GlossaryTerm(
        "coverage_margin",
        "coverage margin",
        "picture",
        "From the corner of the picture to the edge of the image circle. Minus: dark corners.",
    ),
    GlossaryTerm(
        "greatest_rise",
        "greatest rise",
        "picture",
        "How far the lens may be shifted up before a corner darkens.",
    ),
    GlossaryTerm(
        "shift",
        "shift",
        "picture",
        "The lens slides across the picture: a tall building without leaning walls.",
        fields=("shift_mm",),
    ),
    GlossaryTerm(
        "tilt",
        "tilt",
        "picture",
        "The lens leans: the plane of sharpness leans with it.",
        fields=("tilt_deg",),
    ),
    GlossaryTerm(
        "hinge",
        "hinge",
        "picture",
        "The line beside a tilted lens about which the plane of sharpness turns. The more tilt, the nearer it is.",
        also="hinge line",
    ),
    GlossaryTerm(
        "convergence",
        "converging verticals",
        "picture",
        "Upright edges that lean towards each other, since the camera was tilted up. A level, shifted camera keeps "
        "them upright.",
        also="keystoning",
    ),
    GlossaryTerm(
        "stitching",
        "stitching",
        "picture",
        "Frames of several shifts put together into one larger picture.",
    ),
    GlossaryTerm(
        "hyperfocal",
        "hyperfocal distance",
        "focus",
        "The nearest distance to focus at with infinity still sharp enough, at one aperture.",
    ),
    GlossaryTerm(
        "blur_disc",
        "blur disc",
        "focus",
        "What a point out of focus becomes on the sensor. Where it is smaller than the circle of confusion, it passes "
        "for sharp.",
    ),
    GlossaryTerm(
        "crop_factor",
        "crop factor",
        "picture",
        "The diagonal of full frame (36 × 24 mm) by that of the picture. It belongs to the sensor; a plain "
        "adapter does not change it.",
        fields=("sensor_mm",),
    ),
    GlossaryTerm(
        "full_frame_equivalent",
        "full-frame equivalent",
        "picture",
        "The focal length that frames the same on full frame, 36 × 24 mm. The lens's own does not change.",
    ),
    GlossaryTerm(
        "effective_aperture",
        "effective aperture",
        "picture",
        "The f-number that exposure follows: a focal reducer brightens, a longer extension darkens.",
        fields=("widest_f_number",),
    ),
    GlossaryTerm(
        "t_number",
        "T-number",
        "picture",
        "The f-number with the light that the glass swallows counted in: exposure by measurement.",
        fields=("t_number",),
    ),
    GlossaryTerm(
        "light_change",
        "stops of light",
        "picture",
        "Light gained or lost in the adapter against the lens alone.",
        fields=("light_loss_stops",),
    ),
    GlossaryTerm(
        "focal_reducer",
        "focal reducer",
        "picture",
        "An adapter with glass that shortens the focal length, brightens, and shrinks the image circle.",
        found_by="speed booster speed-booster speedbooster",
        fields=("magnification",),
    ),
    GlossaryTerm(
        "correcting_glass",
        "correcting glass",
        "picture",
        "Glass in an adapter that lets a lens reach infinity where there is no room for a plain one. It lengthens the "
        "focal length, and is soft wide open.",
        fields=("optics",),
    ),
    GlossaryTerm(
        "exit_pupil",
        "exit pupil",
        "picture",
        "Where the light seems to come from, seen from the sensor: the round hole one sees in the rear of the lens.",
        fields=("exit_pupil_mm",),
    ),
    GlossaryTerm(
        "corner_rays",
        "ray angle in the corner",
        "picture",
        "How steeply light falls on the corner of the sensor. Too steep makes corners soft or tinted.",
        fields=("max_ray_angle_deg",),
    ),
    GlossaryTerm(
        "squeeze",
        "squeeze",
        "picture",
        "How much an anamorphic lens narrows the picture; the body or the edit widens it again (desqueeze).",
        fields=("squeeze", "desqueeze"),
    ),
    GlossaryTerm(
        "slowest_shutter",
        "slowest handheld shutter",
        "picture",
        "The longest time that is still sharp by hand, by rule of thumb; below it, a tripod.",
    ),
    GlossaryTerm(
        "stabiliser_travel",
        "stabiliser travel",
        "picture",
        "How far the sensor moves to steady the picture. At its ends it needs a wider image circle.",
        fields=("stabiliser",),
    ),
    GlossaryTerm(
        "diffraction",
        "diffraction",
        "picture",
        "The softness of small apertures, whatever the lens.",
    ),
    # Mount
    GlossaryTerm(
        "plain_adapter",
        "plain adapter",
        "mount",
        "A ring without glass or electronics: focus and aperture by hand.",
        also="passive adapter, ring",
    ),
    GlossaryTerm(
        "active_adapter",
        "active adapter",
        "mount",
        "An adapter that translates between the contacts of lens and camera.",
        fields=("link", "carries"),
    ),
    GlossaryTerm(
        "generation",
        "generation",
        "mount",
        "A mount keeps its name while its coupling parts change. What fits one generation may break another.",
        fields=("generation", "lens_generation", "generations"),
    ),
    GlossaryTerm(
        "conversion",
        "conversion",
        "mount",
        "A lens that was given the parts of a later generation, by its maker, a repairer or at home.",
        fields=("conversion",),
    ),
    GlossaryTerm(
        "coupling",
        "coupling parts",
        "mount",
        "Levers, pins, ridges and screws by which lens and body tell each other the aperture.",
        also="aperture coupling",
        fields=("features", "lens_side_features", "rules"),
    ),
    GlossaryTerm(
        "bayonet",
        "bayonet",
        "mount",
        "Put in at a mark, turned until it clicks.",
    ),
    GlossaryTerm(
        "breech_lock",
        "breech lock",
        "mount",
        "The lens stands still, a collar turns and draws it against the mount face.",
    ),
    GlossaryTerm(
        "thread",
        "thread",
        "mount",
        "Diameter and pitch, “46 × 1.1”. The same diameter with another pitch binds; the same thread may stand at "
        "another flange focal distance.",
        fields=("thread", "rear_thread", "filter_thread_mm", "front_thread_mm", "rear_thread_mm"),
    ),
    GlossaryTerm(
        "index_mark",
        "index mark",
        "mount",
        "The dots or lines that are brought together for mounting.",
        fields=("index_mark",),
    ),
    # Electronics and iris
    GlossaryTerm(
        "protocol",
        "protocol",
        "electronics",
        "What lens and camera speak over their contacts. Two protocols need an active adapter that translates.",
        fields=("protocol", "protocols", "from_protocol", "to_protocol"),
    ),
    GlossaryTerm(
        "chip",
        "chip",
        "electronics",
        "A small circuit on a plain adapter. It tells the body a fixed focal length and aperture, whatever is mounted.",
        fields=("chip",),
    ),
    GlossaryTerm(
        "stop_down_metering",
        "stop-down metering",
        "electronics",
        "The meter reads with the lens stopped down; the finder darkens.",
        fields=("meters", "exposure_modes"),
    ),
    GlossaryTerm(
        "diaphragm_pin",
        "diaphragm pin",
        "electronics",
        "A pin at the rear of the lens that the body presses to close the aperture. Where nothing presses it, "
        "the aperture stays open, unless the lens has an auto/manual switch.",
    ),
    GlossaryTerm(
        "aperture_lever",
        "aperture lever",
        "electronics",
        "A lever at the rear of the lens that the body moves to set the aperture.",
        fields=("aperture",),
    ),
    GlossaryTerm(
        "auto_manual",
        "auto/manual switch",
        "electronics",
        "On manual the aperture follows the ring; on automatic it waits for the body.",
        fields=("auto_manual_switch",),
    ),
    GlossaryTerm(
        "by_wire",
        "focus by wire",
        "electronics",
        "The focusing ring only tells a motor. Without power it does nothing.",
        fields=("focus",),
    ),
    GlossaryTerm(
        "bare_release",
        "release without lens",
        "electronics",
        "The body's setting that lets the shutter go with a lens that it does not recognise.",
        fields=("bare_release",),
    ),
    # Grades
    GlossaryTerm("native", "native", "grades", "The lens on its own mount: nothing is lost."),
    GlossaryTerm("full", "full function", "grades", "Through an adapter, with autofocus, aperture and lens data."),
    GlossaryTerm(
        "manual",
        "manual focus and stop-down",
        "grades",
        "Reaches infinity; focus, aperture or both are set by hand.",
    ),
    GlossaryTerm("partial", "partly usable", "grades", "Usable with a limit that is told: crop, aperture, function."),
    GlossaryTerm("close_up", "close-up only", "grades", "It never reaches infinity: near subjects only."),
    GlossaryTerm("modify", "only after a change", "grades", "Lens or body has to be changed for good first."),
    GlossaryTerm("none", "not usable", "grades", "It does not go on, or nothing comes into focus."),
    GlossaryTerm("danger", "danger", "grades", "Mounting it can break lens or camera. Do not."),
    # Kit
    GlossaryTerm(
        "nominal",
        "nominal",
        "kit",
        "As the maker states it; what was measured counts for more.",
    ),
    GlossaryTerm(
        "assumed",
        "assumed",
        "kit",
        "Nobody stated or measured it: what is usual stands in, marked, until somebody does.",
    ),
    GlossaryTerm("archived", "archived", "kit", "Kept with its history, and no longer offered."),
    GlossaryTerm(
        "preferences",
        "preferences",
        "kit",
        "Questions on which people of the trade disagree. Your answers stand beside every result that they change.",
    ),
    GlossaryTerm("route", "route", "kit", "One chain of adapters from lens to camera; a pair may have several."),
    GlossaryTerm("rig", "rig", "kit", "A lens, its adapters and a body, kept under a name."),
)

_BY_KEY: Final = {term.key: term.term for term in TERMS}


def word(key: Word) -> str:
    """The trade's word for something, as it stands within a sentence."""
    return _BY_KEY[key]


def capital(text: str) -> str:
    """The same at the beginning of a sentence or a line."""
    return text[:1].upper() + text[1:]
