"""What goes together, and what comes into focus."""

from __future__ import annotations

from tropeion.core.findings import remark, verdict

# Mechanical path


@verdict(
    "limit",
    "none",
    "{front} does not go onto {rear}.",
    headline="These do not go together: {front} does not go onto {rear}.",
    gives_up="does not mate",
)
def does_not_mate(*, front: str, rear: str) -> None: ...


@verdict(
    "limit",
    "none",
    "The rear barrel of the lens, {barrel} wide, does not pass the bore of {bore}.",
    headline="The rear of the lens is too wide for {where}.",
    gives_up="the rear does not pass",
)
def rear_too_wide(*, barrel: str, bore: str, where: str) -> None: ...


@verdict(
    "caution",
    "modify",
    "Mounting this piece changes lens or body for good. Such work belongs with a qualified repairer.",
    headline="Only after a change that cannot be undone.",
    gives_up="cannot be undone",
)
def irreversible() -> None: ...


# Focus


@verdict(
    "limit",
    "none",
    "The lens stands {error} too near the sensor, more than its focusing can take up: nothing comes into focus at "
    "any distance.",
    headline="Nothing comes into focus: the lens stands {error} too near the sensor.",
    gives_up="nothing focuses",
)
def nothing_focuses(*, error: str) -> None: ...


@verdict(
    "caution",
    "partial",
    "The lens stands {error} too near the sensor, and how far it can be focused out is not known: whether it comes "
    "into focus at infinity, or anywhere, cannot be told. State its {word.nearest_focus} or its "
    "{word.greatest_magnification}.",
    headline="Whether it reaches infinity is not known: the lens stands {error} too near, and its focus travel is not "
    "known.",
    gives_up="infinity not known",
)
def focus_travel_unknown(*, error: str) -> None: ...


@verdict(
    "caution",
    "none",
    "The lens stands {error} too near the sensor, more than lenses are focused out by, and its own travel is not "
    "known. If it is made for close-up, state its {word.nearest_focus} or its {word.greatest_magnification}.",
    headline="Nothing is likely to come into focus: the lens stands {error} too near the sensor.",
    gives_up="nothing is likely to focus",
)
def focus_travel_too_short(*, error: str) -> None: ...


@verdict(
    "limit",
    "none",
    "The lens focuses by wire, and no power reaches it: its focus cannot be moved.",
    headline="It cannot be focused: the lens focuses by wire, and nothing here powers it.",
    gives_up="focus has no power",
)
def focus_without_power() -> None: ...


@verdict(
    "limit",
    "none",
    "The lens has no focusing of its own and nothing in the chain moves it. A helicoid would.",
    headline="It cannot be focused: nothing here moves the lens.",
    gives_up="cannot be focused",
)
def no_focusing() -> None: ...


@verdict(
    "limit",
    "close_up",
    "The lens stands {error} too far from the sensor: infinity is out of reach at every aperture.{school}",
    headline="Close-up only: sharp {span}; infinity is out of reach.",
    gives_up="close-up only",
)
def infinity_out_of_reach(*, error: str, school: str, span: str) -> None: ...


@verdict(
    "limit",
    "partial",
    "{cause}: infinity is sharp only from {aperture}.{school}",
    headline="Infinity only from {aperture}: {reason}.",
    gives_up="infinity from {aperture}",
)
def infinity_stopped_down(*, cause: str, aperture: str, school: str, reason: str) -> None: ...


@remark(
    "info",
    "The lens stands {error} nearer than its own body holds it: it turns past infinity, and its distance scale lies.",
)
def passes_infinity(*, error: str) -> None: ...


@remark(
    "info",
    "With these tolerances infinity is sharp at {aperture} with a probability of {probability}. Try it, or measure "
    "the pieces.",
)
def infinity_unsure(*, aperture: str, probability: str) -> None: ...


@remark(
    "info",
    "Its {word.nearest_focus} is nearer than a lens that only moves forward could reach (inner focusing). State its "
    "{word.greatest_magnification}; until then the near end is unknown.",
)
def closest_focus_needs_magnification() -> None: ...


@remark(
    "info",
    "Neither {word.nearest_focus} nor {word.greatest_magnification} is known: the near end is unknown. Where "
    "the lens has to be "
    "focused out for infinity, 2 % of its focal length is assumed.",
)
def closest_focus_unknown() -> None: ...


@remark(
    "info",
    "{error} of the {word.flange_error} at the sensor comes from in front of glass: what follows from it is "
    "approximate.",
)
def register_approximate(*, error: str) -> None: ...


@verdict(
    "limit",
    "none",
    "All that would be sharp ends {far} before the sensor, and the lens reaches out {front}{assumed}: it lies inside "
    "the lens, and nothing in front of it comes into focus.",
    headline="Nothing comes into focus: all that would be sharp lies inside the lens.",
    gives_up="sharp only inside the lens",
)
def focus_inside(*, far: str, front: str, assumed: str) -> None: ...


@remark(
    "info",
    "How long the lens is is not stated, so the working distance is not known: the near end of the range may lie "
    "inside the lens.",
)
def working_distance_unknown() -> None: ...


@remark(
    "caution",
    "The length of the ring was taken from the gap that it fills: it fits by construction, and whether infinity is "
    "reached is not known. Measure the ring, or try infinity.",
)
def by_construction() -> None: ...


@verdict(
    "caution",
    "partial",
    "How far the mount face of {mounts} is from the sensor is not known: whether infinity is reached cannot be told, "
    "nor how near it focuses. Find that distance, or hold the lens before the camera and look.",
    headline="Whether it reaches infinity is not known, nor is the {word.flange_focal_distance} of {mounts}.",
    gives_up="infinity not known",
)
def register_unknown(*, mounts: str) -> None: ...


@remark(
    "caution",
    "How long the lens is is not stated: all that would be sharp, up to {far} before the sensor, may lie inside it. "
    "State its length, or try it.",
)
def focus_perhaps_inside(*, far: str) -> None: ...


@remark(
    "caution",
    "Its {word.nearest_focus}, {distance}, and its {word.greatest_magnification}, {magnification} ×, go "
    "together only at a focal "
    "length of {close} there, marked {marked}: one of the two is misread. What is said of the near end rests on them.",
)
def close_figures_doubtful(*, distance: str, magnification: str, close: str, marked: str) -> None: ...


@remark("info", "From {aperture} on diffraction, not focus, sets the sharpness.")
def diffraction(*, aperture: str) -> None: ...
