"""One lens on one body through one ring, judged, and its findings."""

from __future__ import annotations

from typing import Any

from tests.worlds import body, lens, ring, world_of
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.rig.rig_report import Route
from tropeion.core.routes.match import match

GLASS: dict[str, Any] = {"register_in_mm": 45.0, "register_out_mm": 20.0}
LINK = [{"id": "speech", "name": "Speech", "powers": ["iris", "focus"]}]
ELECTRONIC = {
    "focus": "by_wire",
    "aperture": "electronic",
    "iris_at_rest": "stays",
    "protocol": "speech",
    "offers": ["autofocus", "aperture", "identity", "focal_length"],
}


# A rack that shears off a fixed probe, and one that is drawn back.
PARTS: dict[str, Any] = {
    "features": [
        {"id": "rack", "side": "lens", "label": "rack"},
        {"id": "probe", "side": "body", "label": "probe"},
        {"id": "slide", "side": "body", "label": "slide"},
    ],
    "generations": [
        {"id": "old", "label": "I", "lens_features": ["rack"], "body_features": []},
        {"id": "new", "label": "II", "lens_features": [], "body_features": ["probe"]},
        {"id": "between", "label": "I½", "lens_features": [], "body_features": ["probe", "slide"]},
    ],
    "rules": [
        {
            "lens_has": ["rack"],
            "body_has": ["probe"],
            "body_lacks": ["slide"],
            "effect": "damage",
            "text": "The rack shears off the probe.",
        },
        {
            "lens_has": ["rack"],
            "body_has": ["slide"],
            "effect": "safe_after",
            "action": "Draw the probe back.",
            "text": "The rack needs room.",
        },
    ],
}


def only_route(world: World, practice: Practice | None = None, via: str = "ring") -> Route:
    (route,) = match(world, "lens", "body", practice, via=[via] if via else []).routes
    return route


# What the bare rigs of the tests leave unsaid is said on all of them.
UNSAID = frozenset({"not_assessed", "not_told", "clearance_unknown", "tolerance_assumed"})


def codes(route: Route) -> set[str]:
    """What is found, beside what the bare rigs of the tests leave unsaid."""
    return {str(found.code) for found in route.findings} - UNSAID


def rig(length_mm: float = 25.0, *, the_lens: dict[str, Any] | None = None, **adapter: Any) -> Route:
    """A 45 mm register lens on a 20 mm body, through one ring."""
    return only_route(world_of([ring(length_mm=length_mm, **adapter)], the_lens=the_lens or lens(), protocols=LINK))


def electronic(**adapter: Any) -> Route:
    world = world_of(
        [ring(**adapter)], the_lens=lens(**ELECTRONIC), the_body=body(protocols=["speech"]), protocols=LINK
    )
    return only_route(world)
