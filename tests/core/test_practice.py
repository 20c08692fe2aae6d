"""The catalogue of choices asks for all that a practice holds, and offers what it may hold."""

from __future__ import annotations

from typing import get_args

from tropeion.core.practice import CHOICES, Practice


def test_every_choice_is_asked_once_with_all_its_answers() -> None:
    assert {choice.key for choice in CHOICES} == set(Practice.model_fields)
    assert len(CHOICES) == len(Practice.model_fields)
    for choice in CHOICES:
        field = Practice.model_fields[choice.key]
        assert {option.value for option in choice.options} == set(get_args(field.annotation))
        assert choice.usual == field.default
