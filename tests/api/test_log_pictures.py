"""Pictures over HTTP: known by number alone, read with progress, told, settled, written beside."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest
from PIL import Image

from tests.api.answers import good
from tests.conftest import Serve
from tests.limits import client_of, until
from tests.logs import entry, jpeg, wall
from tests.prepared import begin_anew, sample_at
from tropeion.formats.xmp import read_fields
from tropeion.pictures.worker import Worker

STEPS = (0, 97, 171, 300, 488, 590)


@pytest.fixture(scope="module")
def root(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("pictures")
    (folder / "nave").mkdir()
    for number, step in enumerate(STEPS):
        (folder / "nave" / f"A{number}.JPG").write_bytes(
            jpeg(wall(step - 420), focal_mm=300.0 if number == 5 else 55.0)
        )
    (folder / "nave" / "notes.txt").write_text("hello")
    return folder


@pytest.fixture(scope="module")
def client(root: Path, serve_long: Serve, tmp_path_factory: pytest.TempPathFactory) -> Iterator[httpx.Client]:
    served = serve_long(sample_at(tmp_path_factory.mktemp("log") / "collection.sqlite"), pictures=[root])
    with client_of(served.address + "/api/v1") as asks:
        # Numbers are given out as they are asked for: the root has the first.
        assert [one["number"] for one in good(asks.get("/log/sources"))] == [1]
        yield asks


@pytest.fixture
def own(client: httpx.Client, root: Path) -> httpx.Client:
    """The sample with six entries, and no sidecar yet."""
    import_ = {"entries": [entry(f"e{number}", step, aperture=4.0) for number, step in enumerate(STEPS)]}
    for kind in ("log_entries", "assignments", "clocks", "camera_signs"):
        for page in good(client.get(f"/records/{kind}")):
            good(client.post(f"/records/{kind}/{page['record']['id']}/strike", json={"reason": "anew"}))
    good(client.post("/log/file", params={"take": "replace"}, content=json.dumps(import_)))
    for sidecar in root.rglob("*.xmp"):
        sidecar.unlink()
    return client


def _read(own: httpx.Client, number: int = 1) -> dict[str, Any]:
    begun = good(own.post(f"/log/folders/{number}/read"))
    done = until(lambda: good(own.get(f"/log/readings/{begun['id']}")), lambda work: work["state"] != "working")
    assert isinstance(done, dict)
    return done


def _told(own: httpx.Client) -> dict[str, Any]:
    report = good(own.get("/log/folders/1/pictures"))
    assert isinstance(report, dict)
    return report


def _signed(own: httpx.Client) -> None:
    good(own.post("/log/cameras", json={"body": "o7", "make": "Ostrel", "model": "O7"}))


def test_a_folder_is_read_its_camera_asked_about_once_and_its_pictures_told(own: httpx.Client) -> None:
    assert [(one["number"], one["dropped"]) for one in good(own.get("/log/sources"))][:1] == [(1, False)]
    done = _read(own)
    assert (done["state"], done["done"], done["total"]) == ("done", 7, 7)
    report = _told(own)
    assert report["unread"] == [{"file": "nave/notes.txt", "why": "no picture by its first bytes"}]
    assert report["unknown_cameras"] == [{"make": "Ostrel", "model": "O7", "serial": "", "pictures": 6}]
    _signed(own)
    told = _told(own)
    assert told["unknown_cameras"] == []
    assert [row["entry"] for row in told["pictures"]] == [f"e{number}" for number in range(6)]
    (offset,) = told["offsets"]
    assert (offset["seconds"], offset["known_from"]) == (-3180.0, "matched")
    assert offset["says"] == "7 min slow, by the taps that its pictures match"
    (doubt,) = [row for row in told["pictures"] if row["state"] == "doubtful"]
    assert (doubt["files"], doubt["doubts"]) == (["nave/A5.JPG"], ["focal_length"])
    assert doubt["why"] == ["The file says 300 mm, the body should have said 55 mm."]


def test_no_address_carries_a_path(own: httpx.Client) -> None:
    paths = good(own.get("/openapi.json"))["paths"]
    in_the_log = {path: operations for path, operations in paths.items() if path.startswith("/api/v1/log/")}
    names = {
        parameter["name"]
        for operations in in_the_log.values()
        for operation in operations.values()
        for parameter in operation.get("parameters", [])
    }
    assert len(in_the_log) > 15
    assert names & {"path", "file", "folder", "root", "name"} == set()
    for number in ("0", "-1", "..", "999999"):
        assert own.get(f"/log/folders/{number}").status_code in {404, 422}
        assert own.get(f"/log/pictures/{number}/thumbnail").status_code in {404, 422}


def test_a_thumbnail_is_made_anew(own: httpx.Client) -> None:
    _read(own)
    row = _told(own)["pictures"][0]
    small = own.get(f"/log/pictures/{row['number']}/thumbnail")
    assert (small.status_code, small.headers["content-type"]) == (200, "image/jpeg")
    assert b"Ostrel" not in small.content


def test_a_part_of_a_picture_is_shown_pixel_for_pixel(own: httpx.Client) -> None:
    _read(own)
    number = _told(own)["pictures"][0]["number"]
    whole = Image.open(io.BytesIO(own.get(f"/log/pictures/{number}/thumbnail").content))
    for place in ("centre", "top_left", "top_right", "bottom_left", "bottom_right"):
        part = own.get(f"/log/pictures/{number}/crop", params={"place": place})
        assert (part.status_code, part.headers["content-type"]) == (200, "image/jpeg")
        crop = Image.open(io.BytesIO(part.content))
        assert max(crop.size) <= 320
        # The pictures of the tests are smaller than a part: nothing is made larger.
        assert crop.width <= max(whole.width, 320)
    assert own.get(f"/log/pictures/{number}/crop", params={"place": "middle"}).status_code == 422
    assert own.get("/log/pictures/999999/crop", params={"place": "centre"}).status_code == 404


@pytest.mark.parametrize(
    ("place", "corner"),
    [("top_left", (0, 0)), ("top_right", (400, 0)), ("bottom_left", (0, 200)), ("bottom_right", (400, 200))],
)
def test_where_a_part_is(tmp_path: Path, place: str, corner: tuple[int, int]) -> None:
    picture = Image.new("RGB", (720, 520), (20, 20, 20))
    picture.paste((230, 40, 40), (corner[0], corner[1], corner[0] + 320, corner[1] + 320))
    picture.save(tmp_path / "A.JPG", quality=95)
    worker = Worker()
    try:
        part = worker.thumbnail(tmp_path, b"A.JPG", 320, place)
        other = worker.thumbnail(tmp_path, b"A.JPG", 320, "centre")
    finally:
        worker.close()
    assert isinstance(part, bytes)
    assert isinstance(other, bytes)
    crop = Image.open(io.BytesIO(part))
    assert crop.size == (320, 320)
    for at in ((10, 10), (310, 10), (10, 310), (310, 310)):
        red, green, _ = crop.getpixel(at)  # type: ignore[misc]
        assert red > 180 > green
    assert Image.open(io.BytesIO(other)).size == (320, 320)


def test_a_picture_of_the_log_is_laid_out_to_be_measured(own: httpx.Client, root: Path) -> None:
    _read(own)
    row = _told(own)["pictures"][0]
    laid = good(own.post(f"/measured/pictures/log/{row['number']}"))
    assert laid["name"] == row["files"][0]
    assert own.get(f"/measured/pictures/{laid['id']}/view").headers["content-type"] == "image/jpeg"
    work = good(own.post("/measured/work", json={"what": "edges", "picture": laid["id"]}))
    while work["state"] == "working":
        work = good(own.get(f"/measured/work/{work['id']}"))
    whole = root / row["files"][0]
    assert (work["state"], work["answer"]["picture"]["size"]) == ("done", whole.stat().st_size)
    assert own.post("/measured/pictures/log/999999").status_code == 404


def test_the_clock_is_stated_photographed_and_struck_out_again(own: httpx.Client) -> None:
    _read(own)
    _signed(own)
    shown = {"body": "o7", "file": "nave/A0.JPG", "shows": "2026-11-21T14:00:05+01:00"}
    kept = good(own.post("/log/folders/1/clocks", json=shown))
    (offset,) = _told(own)["offsets"]
    assert (offset["known_from"], offset["seconds"]) == ("photographed", -3175.0)
    # It holds for the day of these pictures: on another outing the clock may run otherwise.
    assert (kept["clock"]["since"], kept["clock"]["until"]) == ("2026-11-21T00:00:00", "2026-11-21T23:59:59.999999")
    stated = good(own.post("/log/folders/1/clocks", json={"body": "o7", "seconds": -3180}))
    assert _told(own)["offsets"][0]["known_from"] == "stated"
    for record in (stated["record"], kept["record"]):
        good(own.post(f"/records/clocks/{record}/strike", json={"reason": ""}))
    assert _told(own)["offsets"][0]["known_from"] == "matched"
    refused = own.post("/log/folders/1/clocks", json={"body": "o7"})
    assert (refused.status_code, "state the seconds" in refused.text) == (422, True)


def test_a_doubt_is_settled_in_one_step_and_taken_back(own: httpx.Client) -> None:
    _read(own)
    _signed(own)
    rows = _told(own)["pictures"]
    doubt = next(row for row in rows if row["state"] == "doubtful")
    settled = {"files": doubt["files"], "taken_at": doubt["taken_at"], "body": "o7", "entry": "e5"}
    assert good(own.post("/log/assignments", json={"settled": [settled]})) == {"settled": 1}
    assert [row["state"] for row in _told(own)["pictures"]] == ["matched"] * 6
    none = [{**settled, "entry": None}, {**settled, "files": rows[0]["files"], "taken_at": rows[0]["taken_at"]}]
    assert good(own.post("/log/assignments", json={"settled": none})) == {"settled": 2}
    assert {row["state"] for row in _told(own)["pictures"]} == {"matched", "none"}
    # Both at once, and what was settled before stands again.
    good(own.post("/undo"))
    assert [row["state"] for row in _told(own)["pictures"]] == ["matched"] * 6


def test_sidecars_are_told_first_and_then_written(own: httpx.Client, root: Path) -> None:
    _read(own)
    _signed(own)

    def asked(**how: Any) -> dict[str, Any]:
        begun = good(own.post("/log/folders/1/sidecars", json=how))
        work = until(lambda: good(own.get(f"/log/readings/{begun['id']}")), lambda one: one["state"] != "working")
        assert isinstance(work, dict)
        return work

    look = asked()
    assert {row["action"] for row in look["sidecars"]} == {"new"}
    assert list(root.rglob("*.xmp")) == []
    done = asked(dry_run=False)
    assert [row["file"] for row in done["sidecars"]] == [f"nave/A{number}.xmp" for number in range(5)]
    assert read_fields((root / "nave" / "A0.xmp").read_bytes())["exif:FNumber"] == "40/10"
    assert {row["action"] for row in asked(dry_run=False)["sidecars"]} == {"same"}
    assert len(asked(dry_run=False, also_doubtful=True)["sidecars"]) == 6
    refused = own.post("/log/folders/1/sidecars", json={"overwrite": ["nonsense"]})
    assert (refused.status_code, refused.json()["errors"][0]["place"]) == (422, "overwrite")
    table = own.get("/log/folders/1/table").text.splitlines()
    assert (len(table), table[1].split(",")[0]) == (7, "nave/A0.JPG")


def test_dropped_pictures_get_a_zip_and_their_sidecars_are_merged(own: httpx.Client) -> None:
    _signed(own)
    drop = good(own.post("/log/drops"))
    files = {f"B{number}.JPG": jpeg(wall(step - 420)) for number, step in enumerate(STEPS)}
    theirs = b'<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">'
    theirs += b'<rdf:Description rdf:about="" xmlns:q="urn:q" q:kept="yes"/></rdf:RDF></x:xmpmeta>'
    for name, data in {**files, "B0.xmp": theirs, "no.txt": b"hello"}.items():
        head = json.dumps({"name": name, "size": len(data)}).encode()
        answer = good(own.post(f"/log/drops/{drop['number']}/files", content=head + b"\n" + data))
        assert answer["why"] == ("no picture by its first bytes" if name == "no.txt" else None)
    zipped = own.get(f"/log/folders/{drop['number']}/sidecars")
    with zipfile.ZipFile(io.BytesIO(zipped.content)) as packed:
        assert sorted(packed.namelist()) == [f"B{number}.xmp" for number in range(6)]
        merged = packed.read("B0.xmp")
    assert b'q:kept="yes"' in merged
    assert read_fields(merged)["tropeion:entry"] == "e0"
    assert own.post(f"/log/folders/{drop['number']}/sidecars", json={"dry_run": False}).status_code == 422
    first = good(own.get(f"/log/folders/{drop['number']}/pictures"))["pictures"][0]["number"]
    assert own.get(f"/log/pictures/{first}/thumbnail").status_code == 404


@pytest.mark.parametrize(
    ("body", "said"),
    [
        (b"no line at all", "a line with name and size comes first"),
        (b'{"name": "A.JPG"}\nx', "a line with name and size comes first"),
        (b'{"name": "..", "size": 3}\nabc', "it has no name"),
        (b'{"name": "A.JPG", "size": 9999999}\n' + bytes(512 * 1024 + 1), "at most 512 KB of a picture are sent"),
    ],
)
def test_what_is_no_dropped_file_is_refused(own: httpx.Client, body: bytes, said: str) -> None:
    drop = good(own.post("/log/drops"))
    refused = own.post(f"/log/drops/{drop['number']}/files", content=body)
    assert refused.status_code == 422
    assert said in refused.text
    assert own.post("/log/drops/1/files", content=b'{"name": "A", "size": 1}\nx').status_code == 404


def test_a_file_that_breaks_the_reader_does_not_take_the_server_along(own: httpx.Client, root: Path) -> None:
    broken = root / "broken"
    broken.mkdir(exist_ok=True)
    good_jpeg = jpeg(wall(0))
    for number in range(0, 200, 7):
        (broken / f"{number:03d}.JPG").write_bytes(good_jpeg[:40] + bytes([number]) * 30 + good_jpeg[70:])
    try:
        below = next(one for one in good(own.get("/log/folders/1"))["folders"] if one["name"].endswith("/broken"))
        done = _read(own, below["number"])
        assert (done["state"], done["total"]) == ("done", len(range(0, 200, 7)))
        assert good(own.get("/start"))["lenses"] > 0
    finally:
        for path in broken.iterdir():
            path.unlink()


def test_begin_anew_leaves_the_index_alone_and_it_can_be_deleted(serve: Serve, root: Path, tmp_path: Path) -> None:
    collection = sample_at(tmp_path / "collection.sqlite")
    served = serve(collection, pictures=[root])
    with client_of(served.address + "/api/v1") as asks:
        assert good(asks.get("/log/sources"))[0]["read_at"] is None
        _read(asks)
        assert len(_told(asks)["pictures"]) == 6
        assert (tmp_path / "pictures.sqlite").is_file()
        # It is no part of a backup, and none of the collection.
        assert b"A0.JPG" not in asks.get("/backup").content
        begin_anew(collection, sample=True)
        assert len(_told(asks)["pictures"]) == 6
    for beside in tmp_path.glob("pictures.sqlite*"):
        beside.unlink()
    again = serve(sample_at(tmp_path / "again.sqlite"), pictures=[root])
    with client_of(again.address + "/api/v1") as asks:
        assert good(asks.get("/log/sources"))[0]["read_at"] is None
