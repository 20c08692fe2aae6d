"""Single items changed, refused, taken back and done again."""

from __future__ import annotations

import json
import sqlite3
from contextlib import closing
from pathlib import Path

import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from tests.prepared import empty_at, sample_at
from tests.shapes import as_of, first_edition
from tests.thorough import examples
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import KINDS
from tropeion.core.gear.kit import find
from tropeion.core.gear.lenses import Lens
from tropeion.formats import gear_file
from tropeion.store.backup import backup, restore
from tropeion.store.collection import Collection, Edit
from tropeion.store.errors import InUseError, InvalidError, MovedError, StaleError, StoreError


@pytest.fixture
def kept(empty_collection: Collection, sample_gear: Gear) -> Collection:
    empty_collection.replace(sample_gear)
    return empty_collection


def _lens(collection: Collection, id_: str = "kel-55", **changes: object) -> Lens:
    found = find(collection.gear(), "lenses", id_)
    assert isinstance(found, Lens)
    return found.model_copy(update=changes)


def _rename(collection: Collection, name: str, id_: str = "kel-55") -> None:
    version = collection.version("lenses", id_)
    collection.edit([Edit("lenses", id_, _lens(collection, id_, name=name), version)], f"{name} changed")


def test_an_edit_is_seen_at_once_and_after_opening_again(kept: Collection) -> None:
    _rename(kept, "Kelvane with the scratch")
    assert kept.world().lenses["kel-55"].name == "Kelvane with the scratch"
    assert kept.version("lenses", "kel-55") == 2
    with closing(Collection(kept.path)) as again:
        assert again.gear() == kept.gear() == kept.world().gear


def test_an_item_that_changed_since_it_was_read_is_not_overwritten(kept: Collection) -> None:
    mine = _lens(kept, name="Mine")
    _rename(kept, "Theirs")
    with pytest.raises(StaleError) as refused:
        kept.edit([Edit("lenses", "kel-55", mine, 1)], "mine")
    assert refused.value.current == _lens(kept)
    assert (refused.value.version, _lens(kept).name) == (2, "Theirs")


def test_what_comes_back_does_not_pass_for_what_was_read_before(kept: Collection) -> None:
    lens = _lens(kept, "brn-52")
    kept.edit([Edit("lenses", "brn-52", None, 1)], "removed")
    kept.edit([Edit("lenses", "brn-52", lens, 0)], "added again")
    assert kept.version("lenses", "brn-52") == 3


def test_a_mount_with_lenses_cannot_vanish(kept: Collection, sample_gear: Gear) -> None:
    with pytest.raises(InUseError) as refused:
        kept.edit([Edit("mounts", "kelvane", None, 1)], "removed")
    named = {user.id for user in refused.value.users if user.kind == "lenses"}
    assert named >= {lens.id for lens in sample_gear.lenses if lens.mount == "kelvane"}
    assert kept.gear() == sample_gear


def test_a_piece_of_a_saved_rig_cannot_vanish_but_may_go_together_with_it(kept: Collection, sample_gear: Gear) -> None:
    rig = sample_gear.rigs[0]
    piece = rig.adapters[0]
    with pytest.raises(InUseError) as refused:
        kept.edit([Edit("adapters", piece, None, 1)], "removed")
    assert rig.id in {user.id for user in refused.value.users}
    rigs = [one.id for one in sample_gear.rigs if piece in one.adapters]
    kept.edit([Edit("adapters", piece, None, 1), *(Edit("rigs", id_, None, 1) for id_ in rigs)], "both removed")
    assert piece not in kept.world().adapters


def test_a_reference_to_nothing_is_refused_and_nothing_written(kept: Collection, sample_gear: Gear) -> None:
    with pytest.raises(InvalidError, match="no mount has the id 'nowhere'"):
        kept.edit([Edit("lenses", "kel-55", _lens(kept, mount="nowhere"), 1)], "changed")
    assert kept.gear() == sample_gear
    assert [action.title for action in kept.history()] == ["The whole collection replaced"]


def test_several_are_taken_back_one_by_one_also_after_a_reload(kept: Collection, sample_gear: Gear) -> None:
    for name in ("One", "Two", "Three"):
        _rename(kept, name)
    assert [action.title for action in kept.history()][:3] == ["Three changed", "Two changed", "One changed"]
    with closing(Collection(kept.path)) as again:
        names = []
        for _ in range(3):
            again.undo()
            names.append(again.gear().lenses[0].name)
        assert names == ["Two", "One", sample_gear.lenses[0].name]
        assert again.gear() == sample_gear
        redone = again.redo()
        assert redone is not None
        assert redone.title == "One changed"
        assert again.gear().lenses[0].name == "One"


def test_a_removed_item_comes_back_to_its_place(kept: Collection, sample_gear: Gear) -> None:
    inside = [rig.lens for rig in sample_gear.rigs]
    free = next(lens.id for lens in sample_gear.lenses[1:-1] if lens.id not in inside)
    kept.edit([Edit("lenses", free, None, 1)], "removed")
    assert free not in kept.world().lenses
    kept.undo()
    assert kept.gear() == sample_gear
    assert kept.world().gear == sample_gear


def test_what_was_taken_back_cannot_be_done_again_after_something_else(kept: Collection) -> None:
    _rename(kept, "One")
    kept.undo()
    _rename(kept, "Other")
    assert kept.redo() is None
    assert kept.gear().lenses[0].name == "Other"


def test_a_whole_made_from_an_older_state_does_not_undo_what_was_done_since(
    kept: Collection, sample_gear: Gear
) -> None:
    revision, whole = kept.revision, kept.gear()
    _rename(kept, "Done since")
    with pytest.raises(MovedError):
        kept.replace(whole, since=revision)
    assert kept.gear().lenses[0].name == "Done since"
    assert kept.replace(whole, since=kept.revision) == 1
    assert kept.gear() == sample_gear


def test_every_shelf_is_put_in_order_not_only_the_first(kept: Collection, sample_gear: Gear) -> None:
    kinds = ("mounts", "lenses", "adapters")
    turned = sample_gear.model_copy(update={kind: getattr(sample_gear, kind)[::-1] for kind in kinds})
    assert kept.replace(turned) == 0
    assert kept.gear() == turned


def test_what_is_no_item_is_taken_back_too(kept: Collection, sample_gear: Gear) -> None:
    """A whole replaced in another order and currency, with an item less and one more."""
    lenses = sample_gear.lenses
    another = lenses[3].model_copy(update={"id": "another", "name": "Another"})
    bodies = tuple(reversed(sample_gear.bodies))
    turned = (another, *reversed([one for one in lenses if one.id != "brn-52"]))
    other = sample_gear.model_copy(update={"currency": "CHF", "lenses": turned, "bodies": bodies})
    kept.replace(other)
    assert kept.gear() == other
    kept.undo()
    assert kept.gear() == sample_gear
    kept.redo()
    assert kept.gear() == other
    kept.undo()
    assert kept.gear() == sample_gear


def test_nothing_to_take_back_in_an_empty_collection(empty_collection: Collection) -> None:
    assert empty_collection.undo() is None
    assert empty_collection.redo() is None


@settings(max_examples=examples(25))
@given(steps=st.lists(st.sampled_from(["edit", "undo", "redo", "remove"]), max_size=14))
@example(steps=["edit", "undo", "edit", "undo", "redo"])
@example(steps=["edit", "edit", "undo", "undo", "redo", "edit", "undo", "undo", "redo", "redo"])
def test_undo_and_redo_follow_a_plain_model(
    tmp_path_factory: pytest.TempPathFactory, sample_gear: Gear, steps: list[str]
) -> None:
    """Held against two stacks of whole collections."""
    done: list[Gear] = []
    undone: list[Gear] = []
    with closing(sample_at(tmp_path_factory.mktemp("model") / "collection.sqlite")) as collection:
        done.append(sample_gear)
        for number, step in enumerate(steps):
            if step == "edit":
                _rename(collection, f"Name {number}")
                done.append(collection.gear())
                undone.clear()
            elif step == "remove" and "brn-52" in collection.world().lenses:
                version = collection.version("lenses", "brn-52")
                collection.edit([Edit("lenses", "brn-52", None, version)], "removed")
                done.append(collection.gear())
                undone.clear()
            elif step == "undo" and len(done) > 1:
                collection.undo()
                undone.append(done.pop())
            elif step == "redo":
                assert (collection.redo() is None) == (not undone)
                if undone:
                    done.append(undone.pop())
            assert collection.gear() == done[-1]


def _older(path: Path, gear: Gear, version: str) -> Gear:
    """A database as an older version left it, and what is in it."""
    gear = first_edition(gear)
    with closing(empty_at(path)) as collection:
        collection.replace(gear)
    as_of(path, version)
    return gear


def test_an_older_database_is_kept_and_then_brought_up_to_date(tmp_path: Path, sample_gear: Gear) -> None:
    path = tmp_path / "collection.sqlite"
    gear = _older(path, sample_gear, "0001")
    with closing(Collection(path)) as collection:
        assert collection.gear() == gear
        (action,) = collection.history()
        assert action.items == sum(len(getattr(gear, kind)) for kind in KINDS)
    (spare,) = tmp_path.glob("collection.before-update-from-0001-*.sqlite")
    with closing(sqlite3.connect(spare)) as connection:
        assert connection.execute("SELECT version_num FROM alembic_version").fetchone() == ("0001",)
        assert connection.execute("SELECT count(*) FROM lens").fetchone() == (len(gear.lenses),)


def test_a_damaged_database_is_refused_with_the_way_back(tmp_path: Path, sample_gear: Gear) -> None:
    path, spare = tmp_path / "collection.sqlite", tmp_path / "backup.sqlite"
    sample_at(path).close()
    backup(path, spare)
    data = bytearray(path.read_bytes())
    data[4096 : len(data)] = b"\x5a" * (len(data) - 4096)
    path.write_bytes(data)
    with pytest.raises(StoreError, match=r"is damaged .* 'tropeion restore BACKUP'"):
        Collection(path)
    assert path.read_bytes() == bytes(data)
    kept = restore(path, spare)
    assert kept is not None
    assert kept.read_bytes() == bytes(data)
    with closing(Collection(path)) as collection:
        assert gear_file.dump(collection.gear()) == gear_file.dump(sample_gear)


def test_what_was_taken_back_is_known_after_the_update(tmp_path: Path, sample_gear: Gear) -> None:
    """Of three actions the last two are taken back, and one of them done again."""
    path = tmp_path / "collection.sqlite"
    with closing(empty_at(path)) as collection:
        collection.replace(first_edition(sample_gear))
        for price in (1.0, 2.0):
            lenses = tuple(one.model_copy(update={"price": price}) for one in collection.gear().lenses)
            collection.replace(collection.gear().model_copy(update={"lenses": lenses}), f"all cost {price:g}")
        for turn in (collection.undo, collection.undo, collection.redo):
            turn()
        before = collection.history(), collection.turnable()
    as_of(path, "0003")
    with closing(Collection(path)) as collection:
        assert (collection.history(), collection.turnable()) == before
        assert [(action.title, action.undone) for action in collection.history()] == [
            ("all cost 2", True),
            ("all cost 1", False),
            ("The whole collection replaced", False),
        ]
        collection.redo()
        assert {lens.price for lens in collection.gear().lenses} == {2.0}


def test_names_that_nobody_sees_are_cleaned_by_the_update(tmp_path: Path, sample_gear: Gear) -> None:
    path = tmp_path / "collection.sqlite"
    _older(path, sample_gear, "0001")
    with closing(sqlite3.connect(path)) as connection, connection:
        for table, id_, name in (("lens", "kel-55", "Owl\u200b 55\u202e/2"), ("body", "o7", " \u200b ")):
            set_name = f"UPDATE {table} SET name = ?, document = json_set(document, '$.name', ?) WHERE id = ?"
            connection.execute(set_name, (name, name, id_))
        connection.execute(
            "UPDATE journal SET after = (SELECT document FROM lens WHERE id = 'kel-55') WHERE item_id = 'kel-55'"
        )
    with closing(Collection(path)) as collection:
        assert find(collection.gear(), "lenses", "kel-55").name == "Owl 55/2"
        assert find(collection.gear(), "bodies", "o7").name == "o7"
        # What is taken back and done again is read from the journal.
        collection.undo()
        collection.redo()
        assert find(collection.gear(), "lenses", "kel-55").name == "Owl 55/2"


def test_what_was_said_once_is_said_after_the_update(tmp_path: Path, sample_gear: Gear) -> None:
    path = tmp_path / "collection.sqlite"
    with closing(empty_at(path)) as collection:
        collection.replace(sample_gear)
    with closing(sqlite3.connect(path)) as connection, connection:
        for id_, kind in (("variable-67", "Variable filter"), ("rods-200", "Poles")):
            set_kind = "UPDATE accessory SET document = json_set(document, '$.kind', ?, '$.notes', '') WHERE id = ?"
            connection.execute(set_kind, (kind, id_))
        unsaid = (
            "UPDATE lens SET document = json_remove(document, '$.focus', '$.aperture') WHERE id IN ('kel-55', 'kel-85')"
        )
        connection.execute(unsaid)
        connection.execute(
            "UPDATE lens SET document = json_set(document, '$.assumed', json('[\"focus\"]')) WHERE id = 'kel-85'"
        )
        for table in (
            "log_entry",
            "assignment",
            "clock",
            "camera_signs",
            "film_roll",
            "trial",
            "piece_event",
            "deed",
            "review",
            "measurement",
        ):
            connection.execute(f"DROP TABLE {table}")
        connection.execute("UPDATE alembic_version SET version_num = '0009'")
    with closing(Collection(path)) as collection:
        known = {one.id: (one.kind, one.notes) for one in collection.gear().accessories}
        lenses = collection.world().lenses
    # It was a ring by leaving it out, unless that was assumed.
    assert (lenses["kel-55"].focus, lenses["kel-55"].aperture) == ("ring", "ring")
    assert (lenses["kel-85"].focus, lenses["kel-85"].aperture) == (None, "ring")
    assert known["variable-67"] == ("variable_filter", "")
    assert known["rods-200"] == ("other", "Poles")


OLD_SHAPES = ["fork", "peg", "collar", "cut_collar", "cam", "window", "bevel", "tongue", "dot", "scale", "contacts"]


def test_a_mount_of_ones_own_with_the_old_shapes_opens_and_works(tmp_path: Path, sample_gear: Gear) -> None:
    path = tmp_path / "collection.sqlite"
    features = [
        {"id": f"part-{number}", "side": "lens", "label": "part", "look_at": {"view": "rear", "shape": shape}}
        for number, shape in enumerate(OLD_SHAPES)
    ]
    with closing(empty_at(path)) as collection:
        collection.replace(first_edition(sample_gear))
    with closing(sqlite3.connect(path)) as connection, connection:
        (document,) = connection.execute("SELECT document FROM mount WHERE id = 'brannoch'").fetchone()
        older = json.dumps({**json.loads(document), "features": features})
        connection.execute("UPDATE mount SET document = ? WHERE id = 'brannoch'", (older,))
        connection.execute("UPDATE journal SET after = ? WHERE item_id = 'brannoch'", (older,))
    as_of(path, "0004")
    with closing(Collection(path)) as collection:
        mount = collection.world().mounts["brannoch"]
        shapes = [feature.look_at.shape for feature in mount.features if feature.look_at]
        # What was none of the shapes that changed is drawn as before; a part drawn before is drawn still.
        assert shapes[-2:] == ["scale", "contacts"]
        assert len(shapes) == len(OLD_SHAPES)
        assert not {*shapes[:-2]} & {*OLD_SHAPES}
        collection.undo()
        collection.redo()
        assert collection.world().mounts["brannoch"] == mount
    assert list(tmp_path.glob("collection.before-update-from-0004-*.sqlite"))
