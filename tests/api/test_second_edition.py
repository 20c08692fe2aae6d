"""What the format's second edition adds: nothing said and said to be nothing are two things, everywhere."""

from __future__ import annotations

import gzip
import json
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import httpx
import pytest

from tests.conftest import Serve
from tests.limits import client_of
from tests.prepared import sample_at
from tests.thorough import EVERYWHERE
from tests.worlds import gear_of, mount, ring
from tropeion.core.gear.adapters import Adapter
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.kinds import Kind
from tropeion.core.gear.kit import MODELS, find, items, selection
from tropeion.core.gear.lenses import Lens
from tropeion.core.gear.mounts import Mount
from tropeion.core.gear.references import check_references
from tropeion.core.gear.world import MountlessError, World
from tropeion.core.practice import Practice
from tropeion.core.routes.match import match
from tropeion.formats import gear_file
from tropeion.formats.any_file import load_any
from tropeion.formats.gear_reading import GearFileError
from tropeion.formats.kit_tables import dump_table

# Every field of which "nothing" and "nothing was said" differ, with what may be said.
SAID: list[tuple[Kind, str, str, list[Any]]] = [
    ("protocols", "kel-data", "powers", [None, [], ["iris"]]),
    ("lenses", "kel-55", "features", [None, [], ["rack-long"]]),
    ("lenses", "kel-55", "marked_focal_lengths_mm", [None, [], [55.0]]),
    ("lenses", "kel-55", "marked_f_numbers", [None, [], [2.2, 4.0]]),
    ("lenses", "kel-55", "marked_distances_m", [None, [], [0.55, 1.0]]),
    ("lenses", "kel-55", "frame_lines", [None, [], ["40", "52"]]),
    ("lenses", "kel-55", "price_used", [None, 0.0, 12.5]),
    ("adapters", "kel-ost-plain", "tolerance_mm", [None, 0.0, 0.03]),
    ("adapters", "kel-ost-plain", "play_mm", [None, 0.0, 0.05]),
    ("adapters", "kel-ost-plain", "frame_lines", [None, [], ["36"]]),
    ("adapters", "kel-ost-plain", "lens_side_features", [None, []]),
    ("mounts", "kelvane", "tolerance_mm", [None, 0.0, 0.01]),
    ("mounts", "kelvane", "play_mm", [None, 0.0, 0.03]),
    ("foils", "film-03", "tolerance_mm", [None, 0.0, 0.001]),
]
EACH = [(kind, id_, field, value) for kind, id_, field, values in SAID for value in values]


@pytest.fixture(scope="module")
def api(serve_long: Serve, tmp_path_factory: pytest.TempPathFactory) -> Iterator[httpx.Client]:
    collection = sample_at(tmp_path_factory.mktemp("second") / "collection.sqlite")
    with client_of(serve_long(collection).address) as client:
        yield client


def with_value(gear: Gear, kind: Kind, id_: str, field: str, value: Any) -> Gear:
    document = json.loads(gear_file.dump(gear))
    item = next(one for one in document[kind] if one["id"] == id_)
    item.pop(field, None)
    item |= {} if value is None else {field: value}
    return gear_file.load(json.dumps(document).encode())


def said(gear: Gear, kind: Kind, id_: str, field: str) -> Any:
    found = getattr(find(gear, kind, id_), field)
    return list(found) if isinstance(found, tuple) else found


@pytest.mark.parametrize(("kind", "id_", "field", "value"), EACH[:: 1 if EVERYWHERE else 3])
def test_nothing_said_and_said_to_be_nothing_stay_two_things(
    sample_gear: Gear, tmp_path: Path, kind: Kind, id_: str, field: str, value: Any
) -> None:
    gear = with_value(sample_gear, kind, id_, field, value)
    assert said(gear, kind, id_, field) == value
    assert said(gear_file.load(gear_file.dump(gear)), kind, id_, field) == value
    for decimal in ("point", "comma"):
        table = dump_table(kind, items(gear, kind), decimal=decimal)
        assert said(load_any(table, sample_gear), kind, id_, field) == value
    with closing(sample_at(tmp_path / "collection.sqlite")) as collection:
        collection.replace(gear)
        assert said(collection.gear(), kind, id_, field) == value


@pytest.mark.parametrize(("kind", "id_", "field", "value"), EACH[:: 1 if EVERYWHERE else 3])
def test_so_through_the_api_that_the_forms_use(api: httpx.Client, kind: Kind, id_: str, field: str, value: Any) -> None:
    place = f"/api/v1/kit/{kind}/items/{id_}"
    page = api.get(place).json()
    item = {key: one for key, one in page["item"].items() if key != field} | ({} if value is None else {field: value})
    api.put(place, json={"version": page["version"], "item": item}).raise_for_status()
    assert api.get(place).json()["item"].get(field) == value


def test_every_list_that_may_be_unsaid_is_among_those_tried() -> None:
    """A field added later that is null or a list has to join the list above."""
    found = {
        (kind, name)
        for kind, model in MODELS.items()
        for name, one in model.model_json_schema(by_alias=True)["properties"].items()
        if {"array", "null"} <= {each.get("type") for each in one.get("anyOf", ())}
        # Two numbers that go together are never empty.
        and all("prefixItems" not in each for each in one["anyOf"])
    }
    assert found == {(kind, field) for kind, _, field, values in SAID if [] in values}


def test_a_gear_file_of_the_first_edition_is_read() -> None:
    data = gzip.decompress(Path(__file__).parents[1].joinpath("first_edition", "gear.json.gz").read_bytes())
    document = json.loads(data)
    gear = gear_file.load(data)
    for kind in ("protocols", "mounts", "bodies", "lenses", "adapters", "rigs"):
        assert [one["id"] for one in document[kind]] == [item.id for item in items(gear, kind)]
    # Said then as today; what nobody said is unknown, not nothing.
    ring = find(gear, "adapters", "kel-ost-plain")
    assert isinstance(ring, Adapter)
    assert (ring.tolerance_mm, ring.control_ring, ring.price_used) == (0.03, False, None)
    silent = find(gear, "protocols", "kel-data")
    assert getattr(silent, "powers", ()) is None


def test_a_mount_that_says_nothing_has_what_is_usual() -> None:
    document = {"coupling": "bayonet", "register_mm": 22.4, "name": "Owl", "id": "owl"}
    short, long = (Mount.model_validate({**document, "register_mm": mm}) for mm in (22.4, 46.0))
    assert (short.joint, short.tolerance_or_usual_mm) == ("owl", 0.02)
    assert (short.lens_kind_or_usual, long.lens_kind_or_usual) == ("mirrorless", "reflex")
    told = Mount.model_validate({**document, "interface": "owl-bayonet", "tolerance_mm": 0.0, "lens_kind": "cine"})
    assert (told.joint, told.tolerance_or_usual_mm, told.lens_kind_or_usual) == ("owl-bayonet", 0.0, "cine")


SHORT = {"code": "1", "name": "x", "focal_length_mm": 9, "f_number": 2}
WEAKER = {"kind": "variable", "range_stops": [8, 2]}
REFUSED: dict[str, tuple[str, str, dict[str, Any], str]] = {
    "a part of no mount": ("lenses", "head-75", {"features": ["rack-long"]}, "a lens without a mount"),
    "a generation of no mount": ("lenses", "head-75", {"generation": "kelvane-1"}, "a lens without a mount"),
    "a code of letters": ("lenses", "lis-40", {"code": "10a"}, "code"),
    "a code that is too short": ("mounts", "lisken", {"profiles": [SHORT]}, "1 fields, not 7"),
    "profiles without a code": ("mounts", "lisken", {"code": None}, "how they are read"),
    "a weaker end": ("adapters", "mrw-ost-variable", {"filter_slot": WEAKER}, "weakest"),
    "one piece twice": ("pairs", "gear-with-kel-55", {"b": "gear-64"}, "two pieces"),
    "a piece of nothing": ("pairs", "gear-with-kel-55", {"b": "nothing"}, "has the id 'nothing'"),
    "a rig without a mount": ("rigs", "", {"lens": "head-75"}, "has no mount of its own"),
    "an accessory of nothing": ("rigs", "", {"accessories": ["nothing"]}, "no accessory has the id"),
    "a foil of nothing": ("foils", "brass-02", {"thickness_mm": 0}, "thickness_mm"),
    "a day of nothing": ("lenses", "kel-55", {"price_on": "soon"}, "price_on"),
}


@pytest.mark.parametrize("case", REFUSED.values(), ids=REFUSED.keys())
def test_what_cannot_be_is_refused_with_its_place(
    sample_gear: Gear, case: tuple[str, str, dict[str, Any], str]
) -> None:
    kind, id_, change, why = case
    document = json.loads(gear_file.dump(sample_gear))
    item = next(one for one in document[kind] if one["id"] == id_ or not id_)
    item |= change
    with pytest.raises(GearFileError) as refusal:
        gear_file.load(json.dumps({**document}).encode())
    assert any(why in str(problem) and str(problem).startswith(kind) for problem in refusal.value.problems), (
        refusal.value.problems
    )


@pytest.mark.parametrize(("given", "kept"), [(40, "40"), (37.5, "37.5"), ("52", "52")])
def test_frame_lines_are_numbers_or_words(given: Any, kept: str) -> None:
    lens = {"id": "a", "name": "A", "focal_length_mm": [40, 40], "f_number": [2, 16], "frame_lines": [given]}
    read = gear_file.load(json.dumps({"format": "tropeion-gear", "version": 1, "lenses": [lens]}).encode())
    assert read.lenses[0].frame_lines == (kept,)


def test_a_lens_without_a_mount_is_kept_and_joined_to_nothing(sample: World, api: httpx.Client) -> None:
    assert {lens.id for lens in sample.gear.lenses} - {lens.id for lens in sample.gear.mounted} == {
        "head-75",
        "barrel-90",
    }
    with pytest.raises(MountlessError, match="Darkroom head 75/4 has no mount of its own"):
        match(sample, "head-75", "o7", Practice())
    answers = [
        api.get("/api/v1/match", params={"lens": "head-75", "body": "o7"}),
        api.get("/api/v1/fits", params={"lens": "head-75"}),
    ]
    for answer in answers:
        assert (answer.status_code, answer.json()["type"]) == (422, "mountless")
        assert answer.json()["kind"] == "lenses"
    fits = api.get("/api/v1/fits", params={"body": "o7"}).raise_for_status().json()["fits"]
    assert "head-75" not in {fit["id"] for fit in fits}
    # A pair of pieces is no joint: what was tried stays a reference that has to hold.
    left = tuple(lens for lens in sample.gear.lenses if lens.id != "kel-55")
    assert any("pairs[5].b" in str(one) for one in check_references(sample.gear.model_copy(update={"lenses": left})))


def test_a_pair_is_taken_along_with_the_pieces_it_names_of_whatever_kind() -> None:
    gear = gear_of(
        {
            "mounts": [mount("front", 45.0), mount("rear", 20.0)],
            "adapters": [ring("joint")],
            "accessories": [{"id": "hood", "name": "H", "kind": "hood"}, {"id": "cage", "name": "C", "kind": "cage"}],
            "pairs": [{"id": "p", "name": "P", "a": "joint", "b": "hood", "verdict": "works"}],
        }
    )
    taken = selection(gear, "pairs", {"p"})
    assert [one.id for one in taken.adapters] == ["joint"]
    assert [one.id for one in taken.accessories] == ["hood"]
    assert check_references(taken) == ()


def test_a_lens_of_one_field_less_is_still_a_lens() -> None:
    bare = Lens.model_validate({"id": "a", "name": "A", "focal_length_mm": (75.0, 75.0), "f_number": (4.0, 16.0)})
    assert bare.mount is None
    assert bare.image_circle_from == "format"
