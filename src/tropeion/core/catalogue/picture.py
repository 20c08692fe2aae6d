"""Coverage, corners, glass, and what can be set in the chain."""

from __future__ import annotations

from tropeion.core.findings import remark, verdict

# Coverage


@verdict(
    "limit",
    "partial",
    "The image circle, {circle}, does not cover the full sensor: the mode {mode} is used.",
    headline="Covers only the {mode} mode of the sensor.",
    gives_up="only {mode} is covered",
)
def covers_crop_only(*, circle: str, mode: str) -> None: ...


@verdict(
    "limit",
    "partial",
    "The image circle, {circle}, covers no mode of this body. Cropping {crop} × in the picture would.",
    headline="The image circle is too small: dark corners in every mode.",
    gives_up="no mode is covered",
)
def covers_no_mode(*, circle: str, crop: str) -> None: ...


@remark(
    "caution",
    "The image circle is not stated, and no body of its mount is listed that would tell of it: coverage is not "
    "assessed. Look at the corners.",
)
def circle_unknown() -> None: ...


@remark("info", "The image circle is not stated: {circle} is assumed, what covers the largest sensor of {mount}.")
def circle_assumed(*, circle: str, mount: str) -> None: ...


@remark(
    "info",
    "{bore} cuts into the light towards the corners wide open (from {height} off the axis); stopping down clears it.",
)
def corners_darkened(*, bore: str, height: str) -> None: ...


@verdict(
    "limit",
    "partial",
    "{bore} cuts off more than half of the light at the corners (from {height} off the axis).",
    headline="{bore} darkens the corners.",
    gives_up="dark corners",
)
def corners_cut(*, bore: str, height: str) -> None: ...


@remark(
    "caution",
    "Light reaches the corners at {angle}°, steeper than this sensor takes well ({limit}°): soft or tinted corners "
    "are likely.",
)
def steep_corner_rays(*, angle: str, limit: str) -> None: ...


@verdict(
    "limit",
    "partial",
    "The correcting glass costs sharpness wide open; stop down.",
    headline="Infinity through correcting glass: longer, darker, and softer wide open.",
    gives_up="correcting glass",
)
def correcting_glass() -> None: ...


@remark(
    "info",
    "The glass passes no more than {aperture}; the lens with it would be {would}. Light and exposure "
    "follow the slower.",
)
def glass_limits_aperture(*, aperture: str, would: str) -> None: ...


# Range


@remark("info", "Focus by hand at the helicoid. Closed: {closed}; opened to the end: {opened}. {infinity}.")
def helicoid_range(*, closed: str, opened: str, infinity: str) -> None: ...


@remark("info", "Filter: {positions}. Its glass stays in the path at every position and is counted.")
def filter_positions(*, positions: str) -> None: ...


@remark("limit", "The filter has no clear position: at least {loss} stops are lost all the time.")
def no_clear_position(*, loss: str) -> None: ...
