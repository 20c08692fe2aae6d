"""What an item names is read off its fields; whoever needs it (checks, users, selections, storage) derives it."""

from __future__ import annotations

import pytest

from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import KINDS, Kind
from tropeion.core.gear.kit import MODELS, find, items, needs_of, users_of
from tropeion.core.gear.naming import named_in, named_parts
from tropeion.core.gear.references import check_references
from tropeion.store.tables import DOCUMENTED, TABLES


def test_each_place_is_where_the_name_stands(sample_gear: Gear) -> None:
    lens = find(sample_gear, "lenses", "kel-55")
    named = {one.place: (one.id, one.ref.kinds) for one in named_in(lens)}
    assert named["mount"] == ("kelvane", ("mounts",))
    parts = {one.place: (one.id, one.mount) for one in named_parts(lens)}
    assert parts["generation"] == ("kelvane-1", "kelvane")
    mount = find(sample_gear, "mounts", "kelvane")
    assert all(one.mount is None for one in named_parts(mount))
    places = {one.place for one in named_parts(mount)}
    assert {"generations[0].lens_features[0]", "rules[0].lens_has[0]"} <= places


def test_users_and_needs_are_two_sides_of_one_thing(sample_gear: Gear) -> None:
    for kind in KINDS:
        for entry in items(sample_gear, kind):
            for kinds, id_ in needs_of(entry):
                held = [one for one in kinds if any(item.id == id_ for item in items(sample_gear, one))]
                users = {(user.kind, user.id) for one in held for user in users_of(sample_gear, one, id_)}
                assert (kind, entry.id) in users


@pytest.mark.parametrize("kind", KINDS)
def test_a_name_that_leads_nowhere_is_found_wherever_it_stands(sample_gear: Gear, kind: Kind) -> None:
    """Every item that something needs is taken out once: each holder's places are told, and nothing else."""
    for entry in items(sample_gear, kind):
        users = users_of(sample_gear, kind, entry.id)
        left = tuple(one for one in items(sample_gear, kind) if one.id != entry.id)
        problems = check_references(sample_gear.model_copy(update={kind: left}))
        told = {problem.place.split("]")[0] + "]" for problem in problems if "has the id" in problem.message}
        order = {one: [each.id for each in (left if one == kind else items(sample_gear, one))] for one in KINDS}
        assert told == {f"{user.kind}[{order[user.kind].index(user.id)}]" for user in users}


def test_columns_are_fields_and_keys_are_names() -> None:
    """A column of its own is a field of the model; a foreign key one that names an item of the table it leads to."""
    for kind, row in TABLES.items():
        model = MODELS[kind]
        for column in row.__table__.columns:
            if column.name in DOCUMENTED:
                continue
            field = column.name.removesuffix("_id")
            assert field in model.model_fields
            for key in column.foreign_keys:
                target = next(one for one in KINDS if TABLES[one].__tablename__ == key.column.table.name)
                assert _names(model.model_fields[field]) == (target,)


def _names(field: object) -> tuple[str, ...]:
    marks = [*getattr(field, "metadata", ())]
    for argument in getattr(getattr(field, "annotation", None), "__args__", ()):
        marks += getattr(argument, "__metadata__", ())
    return next(mark.kinds for mark in marks if hasattr(mark, "kinds"))
