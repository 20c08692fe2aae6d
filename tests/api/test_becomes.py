"""What a combination becomes, through HTTP and at the terminal: tables, wishes, files."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.terminal import run

Query = dict[str, str | float | bool]


@pytest.fixture(scope="module")
def api(sample_server: Served) -> Iterator[httpx.Client]:
    with client_of(sample_server.address + "/api/v1/becomes") as client:
        yield client


def test_a_lens_over_the_bodies_at_hand_and_over_all(api: httpx.Client) -> None:
    mine = api.get("/lens", params={"lens": "kel-55"}).json()
    every = api.get("/lens", params={"lens": "kel-55", "whose": "all"}).json()
    assert {row["body"] for row in mine["rows"]} < {row["body"] for row in every["rows"]}
    wide = [row["settings"][0]["equivalent_mm"] for row in every["rows"]]
    assert wide == sorted(wide)
    assert every["lenses"] is None
    assert every["names"]["lark"] == "Pellam Lark"
    plain = api.get("/lens", params={"lens": "kel-55", "with_glass": False}).json()
    assert {row["magnification"] for row in plain["rows"]} == {1}


def test_the_reference_goes_along(api: httpx.Client) -> None:
    found = api.get("/lens", params={"lens": "kel-55", "ref": "lark"}).json()
    assert found["reference"] == {"body": "lark", "name": "Pellam Lark", "width_mm": 20, "height_mm": 15}
    row = next(row for row in found["rows"] if row["body"] == "lark" and row["magnification"] == 1)
    assert row["settings"][0]["equivalent_mm"] == pytest.approx(55)
    unknown = api.get("/lens", params={"lens": "kel-55", "ref": "larch"})
    assert unknown.status_code == 404
    assert "lark" in unknown.json()["near"]


def test_lenses_over_a_body_are_a_set(api: httpx.Client) -> None:
    found = api.get("/body", params={"body": "o7"}).json()
    (gap,) = found["lenses"]["gaps"]
    assert found["lenses"]["sentences"][1] == f"Nothing between {gap['from_mm']:.0f} and {gap['to_mm']:.0f} mm."
    assert found["modes"] == ["full", "24 × 16"]
    # Whoever leaves the long one at home has no gap before it any more.
    longest = max(found["lenses"]["spans"], key=lambda one: one["low_mm"])
    fewer = api.get("/body", params={"body": "o7", "without": [longest["row"]]}).json()
    assert fewer["lenses"]["gaps"] == []
    assert len(fewer["rows"]) == len(found["rows"])
    small = api.get("/body", params={"body": "o7", "mode": "24 × 16"}).json()
    assert {row["mode"] for row in small["rows"]} == {"24 × 16"}
    assert api.get("/body", params={"body": "o7", "gap": 1.05}).status_code == 422


def test_film_has_modes_of_its_own(api: httpx.Client) -> None:
    asked = ({"lens": "kel-55", "practice[use]": use} for use in ("still", "film"))
    still, film = (api.get("/lens", params=query).json() for query in asked)
    modes = [{row["mode"] for row in one["rows"] if row["body"] == "vigil"} for one in (still, film)]
    assert modes[0] < modes[1]


def test_a_wish(api: httpx.Client) -> None:
    found = api.get("/wish", params={"body": "o7", "focal_mm": 50, "f_number": 2.8}).json()
    assert found["sentence"] == "You have it."
    (own,) = found["own"]
    assert (own["row"]["lens"], own["set_mm"], own["set_f_number"]) == ("brn-52", 52, 2.8)
    assert [one["row"]["price"] for one in found["buy"]] == sorted(one["row"]["price"] for one in found["buy"])
    assert found["missing"][0] == {
        "mode": "full",
        "magnification": 1,
        "focal_length_mm": 50,
        "f_number": 2.8,
        "image_circle_mm": pytest.approx(43.266615),
    }
    any_depth = api.get("/wish", params={"body": "o7", "focal_mm": 50}).json()
    assert len(any_depth["own"]) > 1
    assert all(one["set_f_number"] is None for one in any_depth["own"])


@pytest.mark.parametrize(
    ("path", "wrong", "place"),
    [
        ("/wish", {"focal_mm": 0}, "focal_mm"),
        ("/wish", {"focal_mm": 50, "f_number": "inf"}, "f_number"),
        ("/wish", {"focal_mm": "nan"}, "focal_mm"),
        ("/rig", {"lens": "kel-55", "guess": -1}, "guess"),
        ("/rig", {"lens": "kel-55", "guess": 5, "quantity": "stops"}, "quantity"),
        ("/closer", {"lens": "kel-55", "more": "ten"}, "more"),
        ("/closer", {"lens": "kel-55", "more": "-1"}, "more"),
        ("/closer", {"lens": "kel-55", "more": "1,2,3,4,5,6,7"}, "more"),
        ("/beside", {"lens": "kel-55", "other_lens": "kel-55"}, "other_body"),
    ],
)
def test_what_cannot_be_is_refused_with_its_place(api: httpx.Client, path: str, wrong: Query, place: str) -> None:
    answer = api.get(path, params={"body": "o7", **wrong})
    assert answer.status_code == 422
    assert place in answer.json()["errors"][0]["place"]


def test_a_rig_and_a_number_that_somebody_came_to(api: httpx.Client) -> None:
    rig: Query = {"lens": "kel-55", "body": "lark", "via": "kel-plm-plain"}
    found = api.get("/rig", params={**rig, "guess": 165}).json()
    assert found["guess"] == {"right": False, "says": "The crop counted twice: 55 mm × 1.73 = 95.2 mm is the view."}
    assert [one["where"] for one in found["mistakes"]] == ["framing", "ring", "stabiliser", "exposure"]
    assert api.get("/rig", params=rig).json()["guess"] is None


def test_closer(api: httpx.Client) -> None:
    asked: Query = {"lens": "kel-55", "body": "o7", "via": "kel-ost-plain", "more": "5, 10"}
    found = api.get("/closer", params=asked).json()
    assert found["rows"][0]["here"]
    assert [row["more_mm"] for row in found["rows"][-2:]] == [5, 10]
    assert {id_ for row in found["rows"] for id_ in row["adapters"]} == set(found["names"])


def test_beside(api: httpx.Client) -> None:
    asked: Query = {
        **{"lens": "kel-55", "body": "o7", "via": "kel-ost-plain", "aperture": 4, "distance_m": 6},
        **{"other_lens": "kel-55", "other_body": "lark", "other_via": "kel-plm-plain"},
    }
    found = api.get("/beside", params=asked).json()
    # 4/1.7307; from 1.7307 times as far.
    assert found["second"]["f_number"] == pytest.approx(2.31125, abs=1e-4)
    assert found["second"]["distance_m"] == pytest.approx(6 * 43.266615 / 25, abs=1e-4)
    assert found["second"]["can_be_set"]


def test_the_references_picture_is_a_picture_of_its_shape(api: httpx.Client) -> None:
    asked: Query = {"mm": 50, "aperture": 2, "subject_m": 11, "distance_m": 8, "lens_m": 1.5}
    shapes = []
    others: list[Query] = [{}, {"width_mm": 20, "height_mm": 15, "rows": "600"}]
    for more in others:
        answer = api.get("/view", params={**asked, **more})
        assert answer.headers["content-type"] == "image/png"
        shapes.append((int.from_bytes(answer.content[16:20]), int.from_bytes(answer.content[20:24])))
    assert shapes == [(450, 300), (800, 600)]
    refused = api.get("/view", params={**asked, "lens_m": 12})
    assert refused.status_code == 422
    assert refused.json()["errors"][0]["place"] == "lens_m"


# As files


def rows_of(data: bytes, delimiter: str = ",") -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(data.decode("utf-8-sig")), delimiter=delimiter))


@pytest.mark.parametrize(("end", "asked"), [("lens", {"lens": "kel-28-80"}), ("body", {"body": "lark"})])
def test_a_table_as_csv_is_the_table(api: httpx.Client, end: str, asked: Query) -> None:
    table = api.get(f"/{end}", params=asked).json()
    answer = api.get(f"/{end}/table", params=asked)
    assert answer.headers["content-type"].startswith("text/csv")
    assert "attachment" in answer.headers["content-disposition"]
    lines = rows_of(answer.content)
    settings = [(row, at) for row in table["rows"] for at in row["settings"]]
    assert len(lines) == len(settings)
    for line, (row, at) in zip(lines, settings, strict=True):
        assert line["body"] == table["names"][row["body"]]
        assert float(line["marked focal length mm"]) == at["marked_mm"]
        assert float(line["equivalent focal length mm"]) == pytest.approx(at["equivalent_mm"], abs=0.005)
        assert line["weight g"] == ("" if row["weight"]["unknown"] else f"{row['weight']['known_g']:g}")


def test_a_spreadsheet_with_decimal_commas_gets_them(api: httpx.Client) -> None:
    answer = api.get("/lens/table", params={"lens": "kel-55", "ref": "lark", "decimal": "comma"})
    first = rows_of(answer.content, ";")[0]
    assert "," in first["equivalent focal length mm"]
    assert next(iter(first)) == "lens (equivalents as on Pellam Lark)"


# At the terminal


def test_the_command_tells_what_the_api_tells(api: httpx.Client, tmp_path: Path) -> None:
    table = tmp_path / "table.csv"
    done = run("becomes", "sample", "--lens", "kel-55", "--json", "--csv", str(table))
    assert done.returncode == 0
    assert json.loads(done.stdout) == api.get("/lens", params={"lens": "kel-55"}).json()
    assert table.read_bytes() == api.get("/lens/table", params={"lens": "kel-55"}).content
    wish = run("becomes", "sample", "--body", "o7", "--view-of", "50", "--depth-as", "2.8", "--json")
    asked: Query = {"body": "o7", "focal_mm": 50, "f_number": 2.8}
    assert json.loads(wish.stdout) == api.get("/wish", params=asked).json()


def test_the_command_prints_for_people() -> None:
    out = run("becomes", "sample", "--body", "o7").stdout.decode()
    assert "Nothing between 140 and 400 mm." in out
    assert "Kelvane 55/2.2 on Ostrel O7 (full), Plain ring KLV–OST: as 55 mm" in out
    wish = run("becomes", "sample", "--body", "o7", "--view-of", "24", "--depth-as", "2.8").stdout.decode()
    assert "Nothing gives it on Ostrel O7; this comes near." in wish
    assert "24 × 16: a lens of 16.0 mm f/1.9, circle 28.8 mm" in wish


@pytest.mark.parametrize(
    ("arguments", "said"),
    [
        (["--lens", "kel-56"], "no lens has the id 'kel-56'"),
        (["--body", "o7", "--view-of", "nan"], "--view-of"),
        (["--body", "o7", "--depth-as", "2"], "--depth-as goes with --view-of"),
        (["--body", "o7", "--ref", "o8"], "no body has the id 'o8'"),
        (["--body", "o7", "--view-of", "24", "--csv", "x.csv"], "--csv writes the table"),
        (["--lens", "kel-55", "--body", "o7"], "not allowed with"),
    ],
)
def test_the_command_refuses_with_its_place(arguments: list[str], said: str) -> None:
    done = run("becomes", "sample", *arguments)
    assert done.returncode == 2
    assert said in done.stderr.decode()
