"""No sentence of a validator reaches a reader: what is wrong, and what would be right, in words."""

from __future__ import annotations

from typing import Any

import pytest
from pydantic import ValidationError

from tests.worlds import lens, mount
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.refusals import worded

WRONG: list[tuple[type[Any], dict[str, Any], str]] = [
    (Lens, lens(min_focus_m="near"), "a number is wanted"),
    (Lens, lens(price=-1), "at least 0 is wanted"),
    (Lens, lens(name=""), "it is empty"),
    (Lens, lens(name="x" * 500), "at most 120 characters fit"),
    (Lens, lens(owned=1.5), "a whole number is wanted"),
    (Lens, lens(focus="by_magic"), "one of these is wanted"),
    (Lens, lens(colour="red"), "unknown field"),
    (Lens, {key: value for key, value in lens().items() if key != "name"}, "missing"),
    (Mount, mount("m", 45.0, positions=0), "at least 1 is wanted"),
    (Mount, mount("m", 45.0, locking="perhaps"), "yes or no is wanted"),
    (Mount, mount("m", 45.0, coupling="screw"), "a screw mount gives its thread"),
]


@pytest.mark.parametrize(("model", "given", "said"), WRONG, ids=[said for _, _, said in WRONG])
def test_what_is_wrong_is_said_in_words(model: type[Any], given: dict[str, Any], said: str) -> None:
    with pytest.raises(ValidationError) as caught:
        model.model_validate(given)
    words = [worded(one) for one in caught.value.errors()]
    assert any(one.startswith(said) for one in words), words
    assert not any("nput should" in one or "Field required" in one for one in words)


def test_what_is_no_json_is_said_to_be_none() -> None:
    with pytest.raises(ValidationError) as caught:
        Lens.model_validate_json("{")
    assert [worded(one) for one in caught.value.errors()] == ["not valid JSON"]
