"""Places in the menus: stills and film apart, short and full menus apart."""

from __future__ import annotations

import json
from typing import Any

import pytest

from tests.worlds import body
from tropeion.core.gear.bodies import Body
from tropeion.core.practice import Practice
from tropeion.core.rig.menus import place_of, stabiliser_mode_of, turns_to_film
from tropeion.core.written import short_name


def made(settings: list[dict[str, Any]], **more: Any) -> Body:
    return Body.model_validate_json(json.dumps(body(settings=settings, **more)))


def at(where: str, **more: str) -> dict[str, str]:
    return {"for": "peaking", "where": where, "value": "on", **more}


@pytest.mark.parametrize(
    ("settings", "practice", "place"),
    [
        ([at("A")], {}, "A: on"),
        ([], {}, ""),
        # The place for this use alone comes before one for both.
        ([at("A"), at("B", use="film")], {"use": "film"}, "B: on"),
        ([at("A"), at("B", use="film")], {"use": "still"}, "A: on"),
        ([at("B", use="film")], {"use": "still"}, ""),
        # What the menus at hand do not show says which menus do.
        ([at("A", menu="full")], {"menu": "short"}, "full menus: A: on"),
        ([at("A", menu="full")], {"menu": "full"}, "A: on"),
        ([at("A", menu="short")], {"menu": "full"}, "short menus: A: on"),
        ([at("A", menu="full"), at("B", menu="short")], {"menu": "short"}, "B: on"),
        ([at("A", menu="full"), at("B", menu="short")], {"menu": "full"}, "A: on"),
    ],
)
def test_where_a_setting_is(settings: list[dict[str, Any]], practice: dict[str, str], place: str) -> None:
    found = made(settings, exposure_modes=["P", "M"])
    assert place_of(found, "peaking", Practice.model_validate(practice)) == place


def test_a_body_that_films_alone_has_its_places_whatever_is_asked() -> None:
    assert place_of(made([at("B", use="film")], exposure_modes=["M"]), "peaking", Practice(use="still")) == "B: on"


@pytest.mark.parametrize(
    ("more", "turns"),
    [
        ({}, False),
        ({"settings": [at("A", use="film")], "exposure_modes": ["P", "M"]}, True),
        ({"settings": [at("A", use="film"), at("B", use="still")]}, True),
        # All that is known of it is film: there is nothing to turn.
        ({"settings": [at("A", use="film")], "exposure_modes": ["M"]}, False),
        ({"settings": [at("A", use="film"), at("B", use="still")], "kind": "film"}, False),
    ],
)
def test_which_bodies_turn_to_film(more: dict[str, Any], turns: bool) -> None:
    assert turns_to_film(Body.model_validate_json(json.dumps(body(**more)))) is turns


def test_a_body_that_takes_no_film_keeps_its_mode_for_stills() -> None:
    steady = {"stabiliser": {"travel_mm": 2.0, "modes": ["still", "panning"]}}
    assert stabiliser_mode_of(made([], **steady), Practice(use="film")) == "still"
    films = made([at("A", use="film")], exposure_modes=["P"], **steady)
    assert stabiliser_mode_of(films, Practice(use="film")) is None
    assert stabiliser_mode_of(made([]), Practice()) is None


@pytest.mark.parametrize(
    ("most", "at_mm", "name"),
    [
        (None, None, "Kelvane 55/2.2 + Plain ring KLV–OST"),
        (0, None, "Kelvane 55/2.2 + Plain ring KLV–OST"),
        (14, None, "55/2.2+KLV–OST"),
        (12, None, "55/2.2+KLV"),
        (8, None, "55/2.2"),
        (3, None, "55"),
        (20, 55.0, "55 at 55+KLV–OST"),
        (8, 55.0, "55 at 55"),
        (6, 55.0, "55 mm"),
    ],
)
def test_a_name_within_what_a_body_holds(most: int | None, at_mm: float | None, name: str) -> None:
    assert short_name("Kelvane 55/2.2", ["Plain ring KLV–OST"], most, at_mm) == name


def test_a_bare_lens_has_its_figures() -> None:
    assert short_name("Lisken 40/2", [], 6) == "40/2"
    assert short_name("Soft portrait", [], 6) == "Soft p"
