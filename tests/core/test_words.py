"""The glossary: each word once, each where it is asked; and the words that it replaces are gone from the sentences."""

from __future__ import annotations

import json
import re
from collections import Counter
from collections.abc import Iterator
from typing import get_args

import pytest
from pydantic import BaseModel

from tests.worlds import details
from tropeion.core.catalogue import CATALOGUE
from tropeion.core.data_tables import read_table
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.world import World
from tropeion.core.practice import CHOICES
from tropeion.core.routes.match import match
from tropeion.core.words import TERMS, GlossaryTerm, Topic, Word, capital, whole, word


def test_every_word_has_one_term_and_every_term_a_topic() -> None:
    assert Counter(term.key for term in TERMS) == dict.fromkeys(get_args(Word), 1)
    assert {term.topic for term in TERMS} == set(get_args(Topic))
    for key in get_args(Word):
        assert word(key)


TERM = {"key": "rig", "term": "rig", "topic": "kit", "means": "A lens, its adapters and a body."}


@pytest.mark.parametrize(
    ("terms", "said"),
    [
        ([TERM], "the glossary lacks"),
        ([{**TERM, "topic": "sundries"}], "Input should be"),
        ([{**TERM, "meaning": "another"}], "unexpected"),
        ([{"key": "rig"}], "Field required"),
    ],
)
def test_a_glossary_that_is_not_whole_is_refused(terms: list[dict[str, str]], said: str) -> None:
    with pytest.raises(ValueError, match=said):
        whole(read_table(json.dumps(terms).encode(), GlossaryTerm))


def test_a_term_that_is_told_twice_is_refused() -> None:
    rig = next(term for term in TERMS if term.key == "rig")
    assert whole(TERMS) == TERMS
    with pytest.raises(ValueError, match=r"tells twice \['rig'\]"):
        whole((*TERMS, rig))


def test_no_two_terms_go_by_one_name() -> None:
    names = [name.lower() for term in TERMS for name in (term.term, *term.also.split(", ")) if name]
    assert [name for name, count in Counter(names).items() if count > 1] == []


@pytest.mark.parametrize("means", [term.means for term in TERMS], ids=[term.key for term in TERMS])
def test_a_term_is_told_in_a_sentence_or_a_few(means: str) -> None:
    assert means[0].isupper()
    assert means.endswith(".")
    assert 20 < len(means) < 300


def models_of(model: type[BaseModel], seen: set[type[BaseModel]]) -> Iterator[type[BaseModel]]:
    """A model and all that stand within it."""
    if model in seen:
        return
    seen.add(model)
    yield model
    for field in model.model_fields.values():
        held: list[object] = [field.annotation]
        while held:
            one = held.pop()
            held += get_args(one)
            if isinstance(one, type) and issubclass(one, BaseModel):
                yield from models_of(one, seen)


def test_a_term_explains_fields_that_exist_and_no_field_is_explained_twice() -> None:
    asked = {name for model in models_of(Gear, set()) for name in model.model_fields}
    explained = [field for term in TERMS for field in term.fields]
    assert [field for field in explained if field not in asked] == []
    assert [field for field, count in Counter(explained).items() if count > 1] == []


# What nobody in the trade says, or says of something else; "register" stands beside the usual term, never alone.
NOT_OURS = re.compile(
    r"\bbeaten\b|\bstrange lens|\bat home\b|\bway(?:s)? of\b|\bhad for\b|\bone has it for\b|\bthe metal\b"
    r"|\bregisters?\b|\bpractices?\b|\bretired?\b|\blanguage of (?:its|the) contacts\b|\bopening of the mount\b",
    re.IGNORECASE,
)


def test_the_replaced_words_are_gone_from_every_template() -> None:
    for code, kind in CATALOGUE.items():
        for text in (kind.text, kind.headline, kind.gives_up):
            assert not NOT_OURS.search(text or ""), (code, text)
            # What the glossary says is filled in when the module is read.
            assert "{word." not in (text or "")


def test_each_preference_says_in_a_line_what_it_changes() -> None:
    for choice in CHOICES:
        assert 15 < len(choice.changes) < 160
        for text in (choice.question, choice.changes, *(option.label for option in choice.options)):
            assert not NOT_OURS.search(text), text


PAIRS = [
    *[("kel-55", body) for body in ("o7", "lark", "vigil", "nave", "stave-3", "corran", "bell", "verge")],
    *[
        ("grm-98", "o7"),
        ("brn-52", "corran"),
        ("tub-400", "o7"),
        ("qlk-50", "vigil"),
        ("mrw-92", "o7"),
        ("ost-30", "nave"),
    ],
]


@pytest.mark.parametrize(("lens", "body"), PAIRS)
def test_the_replaced_words_are_gone_from_what_is_said_of_a_pair(sample: World, lens: str, body: str) -> None:
    report = match(sample, lens, body)
    said = [report.sentence, *report.warnings]
    for need in report.would_need:
        said += [need.text, *need.search_for]
    for route in report.routes:
        said += [route.sentence, route.purpose, route.becomes, *(finding.text for finding in route.findings)]
    for route in report.routes[:8]:
        told = details(route)
        said += [step.text for step in told.steps]
    assert len(said) > 2
    assert [text for text in said if NOT_OURS.search(text)] == []


def test_only_the_first_letter_is_made_a_capital() -> None:
    assert capital("full-frame equivalent 55 mm, f/2.2") == "Full-frame equivalent 55 mm, f/2.2"
    assert capital("") == ""
