"""The catalogue of choices asks for all that a practice holds, and offers what it may hold."""

from __future__ import annotations

import itertools
from typing import get_args

import pytest

from tests.worlds import details
from tropeion.core.gear.world import World
from tropeion.core.practice import CHOICES, Practice
from tropeion.core.routes.match import match


def test_every_choice_is_asked_once_with_all_its_answers() -> None:
    assert {choice.key for choice in CHOICES} == set(Practice.model_fields)
    assert len(CHOICES) == len(Practice.model_fields)
    for choice in CHOICES:
        field = Practice.model_fields[choice.key]
        assert {option.value for option in choice.options} == set(get_args(field.annotation))
        assert choice.usual == field.default


def answered(world: World, lens_id: str, body_id: str, practice: Practice) -> tuple[object, ...]:
    """What somebody is told of a pair: routes and their order, sentences, findings, steps, what would have to exist."""
    report = match(world, lens_id, body_id, practice)
    told = [
        (
            route.adapters,
            route.grade,
            route.sentence,
            route.purpose,
            route.becomes,
            [one.text for one in route.findings],
        )
        for route in report.routes
    ]
    steps = [step.text for route in report.routes[:1] for step in details(route).steps]
    return report.sentence, told, steps, [need.text for need in report.would_need]


@pytest.mark.parametrize(
    ("key", "value"),
    [(choice.key, option.value) for choice in CHOICES for option in choice.options if option.value != choice.usual],
)
def test_every_choice_changes_answers(sample: World, key: str, value: str) -> None:
    """Counted over the pairs of the sample, as far as the third that changes."""
    usual = Practice(pieces="2") if key != "pieces" else Practice()
    other = usual.model_copy(update={key: value})
    # Lenses that are met with glass, of more than one focal length, or heavy are asked about first.
    first = {"glass": "brn-52", "zooms": "kel-28-80", "heavy": "tol-140"}.get(key)
    lenses = sorted(sample.gear.mounted, key=lambda lens: lens.id != first)
    pairs = [(lens.id, body.id) for lens in lenses for body in sample.gear.bodies]
    changed = (pair for pair in pairs if answered(sample, *pair, usual) != answered(sample, *pair, other))
    least = 2 if key == "glass" else 3
    assert len(list(itertools.islice(changed, least))) == least
