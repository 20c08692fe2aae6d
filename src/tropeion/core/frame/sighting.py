"""A dark corner that somebody saw: what circle it makes, and how sure."""

from __future__ import annotations

from typing import Final, Literal

from tropeion.core.frozen import frozen
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.optics import modes
from tropeion.core.optics.movements import sighted_circle_mm
from tropeion.core.working import tidy

from .question import NotPossibleError

# By the share of the stabiliser's travel, to a corner; or by a shift in mm at the sensor, along one side.
_USES: Final = ("still", "film")
Way = Literal["travel", "shift_across", "shift_up"]


@frozen
class Sighted:
    """The lens's own circle by a sighting, in mm: clean up to ``image_circle_mm``, with the doubt up to the dark one.

    ``image_circle_mm`` is None where only a dark corner was seen: that measures no circle, it only bounds one.
    """

    image_circle_mm: float | None
    dark_mm: float | None
    tolerance_mm: float | None
    at_sensor_mm: float | None


def sighted(
    world: World, rig: Rig, *, way: Way, clean: float | None, dark: float | None, mode: str | None = None
) -> Sighted:
    """The circle by where a corner was still clean and where it was first dark.

    ``clean`` and ``dark`` are shares of the travel (0 to 1) or mm of shift. Raises NotPossibleError if they cannot be.
    """
    world.lens(rig.lens)
    body = world.body(rig.body)
    k = 1.0
    for id_ in rig.adapters:
        k *= world.adapter(id_).magnification
    # A corner is dark in a mode, whatever is recorded in it.
    used = next(
        (format_mode for use in _USES if (format_mode := modes.mode_named(body, use, mode or "full")) is not None), None
    )
    if used is None:
        raise NotPossibleError("mode", f"{body.name} has no mode “{mode}”")
    if clean is not None and dark is not None and dark <= clean:
        raise NotPossibleError("dark", "it was dark farther out than it was clean: the second number is the greater")
    if clean is None and dark is None:
        raise NotPossibleError("clean", "say where the corner was clean, where it was dark, or both")
    circles = [None if at is None else _circle(body, used, way, at) for at in (clean, dark)]
    at_sensor, first_dark = circles
    own = None if at_sensor is None else tidy(at_sensor / k)
    dark_own = None if first_dark is None else tidy(first_dark / k)
    return Sighted(
        image_circle_mm=own,
        dark_mm=dark_own,
        tolerance_mm=None if own is None or dark_own is None else tidy(dark_own - own),
        at_sensor_mm=at_sensor,
    )


def _circle(body: Body, mode: modes.FormatMode, way: Way, at: float) -> float:
    if way == "travel":
        if body.stabiliser is None:
            raise NotPossibleError("way", f"{body.name} has no stabiliser: say by shift")
        return sighted_circle_mm(
            mode.width_mm, mode.height_mm, at * body.stabiliser.travel_mm, at * body.stabiliser.travel_mm
        )
    if way == "shift_across":
        return sighted_circle_mm(mode.width_mm, mode.height_mm, at, 0.0)
    return sighted_circle_mm(mode.width_mm, mode.height_mm, 0.0, at)
