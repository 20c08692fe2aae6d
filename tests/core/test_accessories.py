"""What kind of accessory something is: a closed list, whatever words it is written in, and one place that asks."""

from __future__ import annotations

from typing import Any, get_args

import pytest

from tests.worlds import body, lens, ring, world_of
from tropeion.core.gear.accessories import (
    AROUND_THE_LENS,
    BEFORE_THE_LENS,
    BRACES,
    CLAMPED_ON,
    FILTERS,
    SCREWED_ON,
    Accessory,
    AccessoryKind,
    kind_of,
)
from tropeion.core.gear.rig import Rig
from tropeion.core.gear.world import World, compile_world
from tropeion.core.practice import Practice
from tropeion.core.setup.setup import SetUp, set_up_of
from tropeion.formats import gear_file


@pytest.mark.parametrize(
    ("text", "kind"),
    [
        ("Hood", "hood"),
        ("hoods", "hood"),
        ("lens hood", "hood"),
        ("Variable Filter", "variable_filter"),
        ("variable-filter", "variable_filter"),
        ("variable ND filter", "variable_filter"),
        ("Step-up ring", "step_ring"),
        ("gear ring", "gear_ring"),
        ("bracket", "support"),
        ("filters", "filter"),
        ("parasol", "other"),
        ("", "other"),
    ],
)
def test_words_of_ones_own_mean_one_of_the_list(text: str, kind: str) -> None:
    assert kind_of(text) == kind


def test_every_kind_means_itself() -> None:
    assert [kind_of(kind) for kind in get_args(AccessoryKind)] == list(get_args(AccessoryKind))


def test_every_set_of_kinds_is_of_the_list() -> None:
    for some in (FILTERS, SCREWED_ON, BEFORE_THE_LENS, AROUND_THE_LENS, CLAMPED_ON, BRACES):
        assert some < set(get_args(AccessoryKind))


def read(**given: Any) -> Accessory:
    found = gear_file.entry_of("accessories", {"id": "it", "name": "It", **given})
    assert isinstance(found, Accessory)
    return found


def test_the_words_are_kept_where_they_say_more() -> None:
    assert (read(kind="Hood").kind, read(kind="Hood").notes) == ("hood", "")
    parasol = read(kind="parasol", notes="Red.")
    assert (parasol.kind, parasol.notes) == ("other", "Red.\nparasol")
    assert read(kind="other").notes == ""


def set_up(kind: str, **more: Any) -> SetUp:
    made: World = world_of(
        [ring(mass_g=100)],
        the_lens=lens(mass_g=400, length_mm=60, filter_thread_mm=52),
        the_body=body(mass_g=600, depth_mm=40),
    )
    one = Accessory.model_validate({"id": "it", "name": "It", "kind": kind, "mass_g": 150.0, **more})
    return set_up_of(
        compile_world(made.gear.model_copy(update={"accessories": (one,)})),
        Rig("lens", "body", ("ring",), ("it",)),
        Practice(),
    )


@pytest.mark.parametrize(
    "kind", ["hood", "Hood", "filter", "variable filter", "variable_filter", "close-up lens", "cap"]
)
def test_what_is_screwed_on_stands_before_the_lens_and_its_thread_is_asked(kind: str) -> None:
    found = set_up(kind, rear_thread_mm=52)
    with_body = set_up("cage")
    assert found.balance.centre_of_mass_mm is not None
    assert with_body.balance.centre_of_mass_mm is not None
    assert found.balance.centre_of_mass_mm > with_body.balance.centre_of_mass_mm
    assert [(one.b, one.verdict) for one in found.pairs if one.b in {"lens", "body"}] == [
        ("lens", "works"),
        ("body", "works"),
    ]


def test_a_variable_filter_of_the_sample_is_weighed_where_it_is(sample: World) -> None:
    # 18.2 mm if it were carried with the body.
    found = set_up_of(sample, Rig("kel-55", "o7", ("kel-ost-plain",), ("variable-67",)), Practice())
    assert found.balance.centre_of_mass_mm == pytest.approx(23.3, abs=0.05)
    assert {one.verdict for one in found.pairs if one.b == "kel-55"} == {"with_part"}
