"""Corners looked at step by step of the stabiliser's travel: what circle they measure."""

from __future__ import annotations

from collections.abc import Sequence

from tropeion.core.frame.question import NotPossibleError
from tropeion.core.frame.sighting import Sighted, sighted
from tropeion.core.frozen import frozen
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.records.corner_check import CornerSeen


@frozen
class CornersSay:
    """What corners say: up to which step they are clean, and the lens's own circle where that measures one.

    ``clean_travel`` is None where they were dark at rest.
    """

    clean_travel: float | None
    circle: Sighted | None
    says: str


def corners_say(world: World, rig: Rig, area: str, seen: Sequence[CornerSeen]) -> CornersSay:
    """What a check of corners says. Raises NotPossibleError for one that contradicts itself, or says nothing."""
    if not seen:
        raise NotPossibleError("seen", "say of at least one step whether a corner was dark")
    clean = [corner_seen.travel for corner_seen in seen if not corner_seen.dark]
    dark = [corner_seen.travel for corner_seen in seen if corner_seen.dark]
    if clean and dark and max(clean) >= min(dark):
        raise NotPossibleError(
            "seen", f"clean at {max(clean):.0%} and dark at {min(dark):.0%}: one of the two was seen wrongly"
        )
    best = max(clean, default=None)
    circle = sighted(world, rig, way="travel", clean=best, dark=min(dark, default=None), mode=area)
    return CornersSay(best, circle, _said(best, dark, circle))


def _said(clean: float | None, dark: Sequence[float], circle: Sighted) -> str:
    if clean is None:
        bound = f": its circle is less than {circle.dark_mm:.1f} mm" if circle.dark_mm is not None else ""
        return (
            f"Dark at {min(dark):.0%} already{bound}. Look again at a smaller step, or in a smaller part of the sensor."
        )
    measured = f"The lens's image circle is at least {circle.image_circle_mm:.1f} mm"
    if circle.tolerance_mm is None:
        return f"Clean up to {clean:.0%}. {measured}."
    return f"Clean up to {clean:.0%}, dark at {min(dark):.0%}. {measured}, up to {circle.tolerance_mm:.1f} mm more."
