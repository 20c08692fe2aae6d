"""`tropeion log`, as its users run it, over the sample's pictures and over what no folder should hold."""

from __future__ import annotations

import json
import os
from pathlib import Path
from typing import Any

import pytest

from tests.logs import entry, jpeg, log_of, wall
from tests.terminal import run
from tropeion.formats.log_file import dump_log, load_log
from tropeion.formats.xmp import read_fields
from tropeion.pictures.sample_pictures import make_sample_pictures
from tropeion.sample import log_bytes


@pytest.fixture(scope="module")
def outing(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The pictures of the sample outing, small."""
    folder = tmp_path_factory.mktemp("outing")
    make_sample_pictures(folder / "pictures", rows=24)
    (folder / "log.json").write_bytes(log_bytes())
    return folder


def _json(*arguments: str) -> dict[str, Any]:
    done = run("log", *arguments, "--json")
    assert done.returncode == 0, done.stderr.decode()
    found = json.loads(done.stdout)
    assert isinstance(found, dict)
    return found


def test_the_sample_outing_has_its_three_doubts(outing: Path) -> None:
    found = _json("match", str(outing / "log.json"), str(outing / "pictures"), "--gear", "sample")
    offsets = {row["body"]: row for row in found["offsets"]}
    assert {body: (row["from"], row["certain"]) for body, row in offsets.items()} == {
        "o7": ("matched", True),
        "lark": ("matched", True),
    }
    # Seven minutes slow, beside the hour of the zone.
    assert offsets["o7"]["seconds"] == pytest.approx(420 - 3600, abs=3)
    doubts = {row["file"]: row["doubts"] for row in found["pictures"] if row["state"] == "doubtful"}
    assert sorted(doubts.values()) == [["near_change"], ["other_lens"], ["stale_entry"]]
    assert (len(found["pictures"]), found["unread"], found["warnings"]) == (115, [], [])
    assert {row["state"] for row in found["pictures"]} == {"matched", "doubtful"}
    assert sum(row["file"].startswith("windchest-21/") for row in found["pictures"]) == 36


def test_the_same_in_words_and_as_a_table(outing: Path) -> None:
    arguments = ("match", str(outing / "log.json"), str(outing / "pictures"), "--gear", "sample")
    said = run("log", *arguments).stdout.decode().splitlines()
    assert any(line.startswith("o7: -318") and line.endswith("s, matched") for line in said)
    assert sum("(stale_entry)" in line for line in said) == 1
    table = run("log", *arguments, "--csv").stdout.decode().splitlines()
    assert len(table) == 116
    assert "Kelvane 55/2.2" in table[-1] or "Kelvane" in table[-1]


def test_without_any_collection_ids_stay_as_they_are(outing: Path, tmp_path: Path) -> None:
    found = _json("match", str(outing / "log.json"), str(outing / "pictures"), "--data", str(tmp_path / "none"))
    assert sum(row["state"] == "matched" for row in found["pictures"]) > 100
    assert not (tmp_path / "none").exists()


def test_what_no_folder_should_hold_is_named_and_the_rest_is_told(tmp_path: Path) -> None:
    folder = tmp_path / "F"
    folder.mkdir()
    log = tmp_path / "log.json"
    log.write_bytes(dump_log(log_of([entry("a", 0)], clocks=[{"body": "o7", "seconds": -3600}])))
    (folder / "A.JPG").write_bytes(jpeg(wall(0)))
    os.mkfifo(folder / "P.JPG")
    (folder / "two\nlines.JPG").write_bytes(b"hello")
    Path(os.fsdecode(os.path.join(os.fsencode(folder), b"\xff.JPG"))).write_bytes(jpeg(wall(40)))
    with (folder / "S.JPG").open("wb") as sparse:
        sparse.truncate(2 * 1024**3)
    found = _json("match", str(log), str(folder))
    assert {row["file"]: row["state"] for row in found["pictures"]} == {"A.JPG": "matched", "\\xff.JPG": "none"}
    assert {row["file"] for row in found["unread"]} == {"P.JPG", "S.JPG", "two\nlines.JPG"}
    # In words a name stays in its line.
    lines = run("log", "match", str(log), str(folder)).stdout.decode().splitlines()
    assert "unread: two\\nlines.JPG: no picture by its first bytes" in lines


@pytest.mark.parametrize(
    ("log", "folder", "said"),
    [
        ("none.json", "F", "cannot read"),
        ("bad.json", "F", "entries[0].at (a)"),
        ("log.json", "nowhere", "no such file or directory"),
    ],
)
def test_what_is_not_there_or_wrong_is_refused_with_its_place(tmp_path: Path, log: str, folder: str, said: str) -> None:
    (tmp_path / "F").mkdir()
    (tmp_path / "log.json").write_bytes(dump_log(log_of([entry("a", 0)])))
    (tmp_path / "bad.json").write_text(json.dumps({"entries": [{**entry("a", 0), "at": "noon"}]}))
    done = run("log", "match", str(tmp_path / log), str(tmp_path / folder), "--json")
    assert (done.returncode, done.stdout) == (2, b"")
    assert said in done.stderr.decode()


def test_a_date_to_come_is_told_in_a_match_and_refused_in_an_import(tmp_path: Path) -> None:
    log = tmp_path / "log.json"
    log.write_text(json.dumps({"entries": [{**entry("a", 0), "at": "2099-01-01T00:00:00Z"}]}))
    (tmp_path / "F").mkdir()
    found = _json("match", str(log), str(tmp_path / "F"))
    assert found["warnings"] == ["entries[0] (a): 2099-01-01T00:00:00Z is yet to come"]
    done = run("log", "import", str(log), "--data", str(tmp_path / "data"))
    assert done.returncode == 2
    assert "yet to come" in done.stderr.decode()
    assert not (tmp_path / "data").exists()


def test_in_and_out_nothing_is_lost_and_twice_is_once(tmp_path: Path) -> None:
    log, data = tmp_path / "log.json", str(tmp_path / "data")
    log.write_bytes(log_bytes())
    dry = run("log", "import", str(log), "--data", data, "--dry-run")
    assert dry.stdout.decode().splitlines()[0] == "120 new"
    first = run("log", "import", str(log), "--data", data)
    assert first.stdout.decode().splitlines() == ["120 new", "0 same", "0 other"]
    again = run("log", "import", str(log), "--data", data)
    assert again.stdout.decode().splitlines() == ["0 new", "120 same", "0 other"]
    back = load_log(run("log", "export", "--data", data).stdout)
    sent = load_log(log_bytes())
    assert (set(back.entries), back.rolls, set(back.cameras)) == (set(sent.entries), sent.rolls, set(sent.cameras))
    written = tmp_path / "out.csv"
    assert run("log", "export", str(written), "--csv", "--data", data).returncode == 0
    assert len(written.read_text().splitlines()) == 97
    # What says otherwise stays unless that is asked.
    log.write_bytes(log_bytes().replace(b'"aperture": 5.6', b'"aperture": 6.3', 1))
    other = run("log", "import", str(log), "--data", data).stdout.decode()
    assert "1 other" in other
    assert "--replace takes what says otherwise" in other
    assert b"6.3" not in run("log", "export", "--data", data).stdout
    run("log", "import", str(log), "--data", data, "--replace")
    assert b"6.3" in run("log", "export", "--data", data).stdout


def test_sidecars_beside_the_sample_are_written_once(outing: Path) -> None:
    arguments = ("write", str(outing / "log.json"), str(outing / "pictures"), "--gear", "sample")
    dry = _json(*arguments, "--dry-run")
    assert {row["action"] for row in dry["sidecars"]} == {"new"}
    assert list(outing.rglob("*.xmp")) == []
    assert len(_json(*arguments)["sidecars"]) == 112
    assert {row["action"] for row in _json(*arguments)["sidecars"]} == {"same"}
    first = read_fields((outing / "pictures" / "nave" / "F0001.xmp").read_bytes())
    assert (first["exifEX:LensModel"], first["exif:FNumber"]) == ("Kelvane 55/2.2", "56/10")


@pytest.mark.parametrize("command", ["serve", "demo"])
def test_a_folder_of_pictures_that_is_not_there_ends_the_start(tmp_path: Path, command: str) -> None:
    done = run(command, "--pictures", str(tmp_path / "nowhere"), "--data", str(tmp_path / "data"), "--port", "0")
    assert done.returncode == 2
    assert "there is no such folder" in done.stderr.decode()
    assert not (tmp_path / "data").exists()
