"""What pieces have in common, as a key: against all that is written of them."""

from __future__ import annotations

import itertools
from typing import Any

import pytest

from tests.random_worlds import world_by_chance
from tests.thorough import examples
from tests.worlds import lens, made, ring
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.agreeing import all_but
from tropeion.core.gear.items import UNJUDGED
from tropeion.core.gear.lenses import Lens


@pytest.mark.parametrize("seed", range(examples(10)))
@pytest.mark.parametrize("left_out", [frozenset(), UNJUDGED, UNJUDGED | {"length_mm", "lens_mount"}], ids=len)
def test_two_pieces_have_a_key_in_common_where_they_are_written_alike(seed: int, left_out: frozenset[str]) -> None:
    gear = world_by_chance(seed).gear
    renamed = [one.model_copy(update={"id": f"{one.id}-too", "owned": 2}) for one in gear.adapters]
    for some in ((*gear.adapters, *renamed), gear.lenses, gear.bodies):
        for one, other in itertools.combinations(some, 2):
            alike = one.model_dump(exclude=set(left_out)) == other.model_dump(exclude=set(left_out))
            assert (all_but(one, left_out) == all_but(other, left_out)) == alike


@pytest.mark.parametrize("says", [{"autofocus": "slow", "aperture": "full"}, {"aperture": "full", "autofocus": "slow"}])
def test_what_is_carried_counts_in_whatever_order_it_is_written(says: dict[str, str]) -> None:
    plain = made(Adapter, ring(link="pass"))
    carries = made(Adapter, ring(link="pass", carries=says))
    assert all_but(carries) == all_but(made(Adapter, ring(link="pass", carries=dict(reversed(says.items())))))
    assert all_but(carries) != all_but(plain)
    assert hash(carries) == hash(made(Adapter, ring(link="pass", carries=says)))


@pytest.mark.parametrize("update", [{"owned": 3}, {"focal_length_mm": (35.0, 35.0)}, {"name": "Another"}], ids=str)
def test_a_copy_has_a_hash_of_its_own(update: dict[str, Any]) -> None:
    one = made(Lens, lens())
    before = hash(one)
    copy = one.model_copy(update=update)
    assert hash(copy) == hash(made(Lens, copy.model_dump(mode="json")))
    assert hash(copy) != before
    assert hash(one) == before
    assert one == made(Lens, lens())
    assert "_hash" not in one.model_dump()
