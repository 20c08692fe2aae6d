"""Every number shows its working, and the working is the number."""

from __future__ import annotations

import math

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match, show_working
from tropeion.core.working import Step, Symbol, Working, formula, tidy
from tropeion.formats.match_json import match_document


def _at(document: dict[str, object], path: str) -> object:
    found: object = document
    for part in path.split("."):
        if not isinstance(found, dict) or part not in found:
            return KeyError
        found = found[part]
    return found


PAIRS = [("kel-55", "o7"), ("mrw-92", "lark"), ("kel-28-80", "o7"), ("brn-52", "corran"), ("qlk-50", "vigil")]


@pytest.mark.parametrize(("lens", "body"), PAIRS)
@pytest.mark.parametrize("practice", [Practice(), Practice(trust="cautious", crop="width", blur="two_pixels")])
def test_the_working_of_a_route_gives_the_numbers_of_its_report(
    sample: World, lens: str, body: str, practice: Practice
) -> None:
    report = match(sample, lens, body, practice)
    for route, written in zip(report.routes, match_document(report)["routes"], strict=True):
        document = {**written, "gap_mm": report.gap_mm}
        steps = show_working(sample, Rig.of(lens, body, route.adapters), practice)
        held = 0
        for step in steps:
            value = _at(document, step.quantity)
            if value is KeyError:
                continue
            # What a report withholds (a stop that the ring does not have) the working still shows.
            if value is not None:
                assert value == step.value, step.quantity
                held += 1
        assert held >= 14


def test_a_term_that_is_computed_links_to_its_step(sample: World) -> None:
    steps = show_working(sample, Rig.of("kel-55", "o7", ["kel-ost-plain"]))
    by_quantity = {step.quantity: step for step in steps}
    step = by_quantity["infinity.probability"]
    linked = {term.sign: term.quantity for term in step.terms if term.quantity}
    assert linked == {
        "s": "infinity.short_end_mm",
        "s_long": "infinity.long_end_mm",
        "c": "circle_of_confusion_mm",
        "K": "magnification",
    }
    for term in step.terms:
        if term.quantity:
            assert term.values == (by_quantity[term.quantity].value,)


def test_every_step_names_its_source_and_its_terms(sample: World) -> None:
    steps = [
        step
        for lens, body in PAIRS
        for route in match(sample, lens, body).routes
        for step in show_working(sample, Rig.of(lens, body, route.adapters))
    ]
    for step in steps:
        assert step.source, step.quantity
        assert step.meaning, step.quantity
        assert step.terms, step.quantity


def test_the_long_end_has_a_working_of_its_own(sample: World) -> None:
    steps = show_working(sample, Rig.of("kel-28-80", "o7", ["kel-ost-lever"]))
    focal = {step.quantity: step.value for step in steps if step.quantity.endswith("focal_length_mm")}
    assert focal == {"focal_length_mm": 28.0, "long_end.focal_length_mm": 80.0}


def test_recording_changes_nothing() -> None:
    @formula("twice", "2·a", "mm", "arithmetic", a=Symbol("a", "mm", "a length"))
    def twice(a: float) -> float:
        """Twice a length."""
        return 2 * a

    working = Working()
    assert working(twice, 3.0) == twice(3.0) == 6.0
    (step,) = working.steps
    assert isinstance(step, Step)
    assert (step.value, step.meaning, step.terms[0].values) == (6.0, "Twice a length", (3.0,))


lengths_mm = st.floats(allow_nan=False) | st.decimals(-1000, 1000, places=7).map(float) | st.integers(-(10**9), 10**9)


@given(lengths_mm)
@example(22.4 + 25.8 - 48.2)
@example(0.0000005)
@example(-0.0000004)
@example(1e15 + 0.5)
@example(math.inf)
def test_a_length_is_rounded_as_it_is_written(mm: float) -> None:
    """To six decimals of its exact value; what is nothing has no sign."""
    found = tidy(mm)
    assert found == round(mm, 6)
    assert found != 0 or math.copysign(1, found) == 1
