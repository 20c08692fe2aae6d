"""The worked cases of the design, through the public functions."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest

from tests.worlds import body, lens, ring, world_of
from tropeion.core.gear.world import World
from tropeion.core.routes.match import match
from tropeion.formats.match_json import match_document

CASES = json.loads((Path(__file__).parent / "vectors.json").read_text(encoding="utf-8"))["cases"]


def _world(given: dict[str, Any]) -> tuple[World, list[str]]:
    adapters = []
    for number, piece in enumerate(given["adapters_lens_to_body"]):
        more = {k: v for k, v in piece.items() if k not in {"length_mm", "filter_glass_mm", "refractive_index"}}
        if "magnification" in more:
            more["optics"] = "reducer" if more["magnification"] < 1 else "correcting"
        if "filter_glass_mm" in piece:
            more["filter_slot"] = {"glass_mm": piece["filter_glass_mm"], "refractive_index": piece["refractive_index"]}
        adapters.append(ring(f"a{number}", piece["length_mm"], **more))
    the_lens = lens(
        focal_length_mm=[given["focal_length_mm"]] * 2,
        **{
            k: given[k] for k in ("f_number", "min_focus_m", "max_magnification", "past_infinity_mm", "image_circle_mm")
        },
        squeeze=given["squeeze"],
    )
    stabiliser = dict(given["stabiliser"] or {})
    if stabiliser.pop("circle_measured", False):
        the_lens["image_circle_from"] = "measured"
    the_body = body(**{k: given[k] for k in ("sensor_mm", "megapixels", "modes")}, stabiliser=stabiliser or None)
    world = world_of(
        adapters,
        lens_register_mm=given["lens_register_mm"],
        body_register_mm=given["body_register_mm"],
        seat_tolerance_mm=given["seat_tolerance_mm"],
        the_lens=the_lens,
        the_body=the_body,
    )
    return world, [adapter["id"] for adapter in adapters]


def _assert_like(found: object, expected: object, place: str) -> None:
    if isinstance(expected, dict):
        assert isinstance(found, dict), place
        for key, value in expected.items():
            _assert_like(found[key], value, f"{place}.{key}")
    elif isinstance(expected, float | int) and not isinstance(expected, bool):
        assert isinstance(found, float | int), f"{place}: {found!r}"
        # The cases are written to six decimals.
        assert math.isclose(found, expected, rel_tol=2e-9, abs_tol=6e-7), f"{place}: {found!r}, not {expected!r}"
    else:
        assert found == expected, f"{place}: {found!r}, not {expected!r}"


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_worked_case(case: dict[str, Any]) -> None:
    world, via = _world(case["given"])
    (route,) = match_document(match(world, "lens", "body", via=via))["routes"]
    _assert_like(route, case["expect"], case["name"])
