"""Sidecars on the disk: named, merged, refused; originals are only read, and a kill leaves the old one or the new."""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import subprocess
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import pytest

from tests.logs import PLAIN, entry, jpeg, wall
from tests.terminal import run
from tropeion.formats.xmp import read_fields

CLOCKS = [{"body": "o7", "seconds": -3600}]


def _log(folder: Path, entries: list[dict[str, Any]], **more: Any) -> Path:
    path = folder.with_name("log.json")
    cameras = [{"body": "o7", "make": "Ostrel", "model": "O7"}]
    document = {"version": 1, "cameras": cameras, "clocks": CLOCKS, "entries": entries, **more}
    path.write_text(json.dumps(document))
    return path


def _pictures(folder: Path, taken: Mapping[str, float]) -> None:
    folder.mkdir()
    for name, seconds in taken.items():
        (folder / name).parent.mkdir(exist_ok=True)
        (folder / name).write_bytes(jpeg(wall(seconds)))


def _write(log: Path, folder: Path, *more: str) -> dict[str, dict[str, Any]]:
    answer = run("log", "write", str(log), str(folder), "--gear", "sample", "--json", *more)
    assert answer.returncode == 0, answer.stderr
    return {row["file"]: row for row in json.loads(answer.stdout)["sidecars"]}


def _state(folder: Path) -> dict[str, tuple[str, int]]:
    """What must not change of the pictures: their bytes, and when they were written."""
    return {
        str(path.relative_to(folder)): (hashlib.sha256(path.read_bytes()).hexdigest(), path.stat().st_mtime_ns)
        for path in folder.rglob("*.JPG")
    }


def test_fields_of_a_rig_with_glass(tmp_path: Path) -> None:
    folder = tmp_path / "F"
    _pictures(folder, {"A.JPG": 0, "B.JPG": 300})
    reduced = entry("b", 300, body="lark", lens="kel-55", via=["kel-mrw-plain", "mrw-plm-reducer"], aperture=4.0)
    entries = [entry("a", 0, aperture=5.6, note="by hand", filter="ND 2", mode="24 × 16"), {**reduced, "body": "o7"}]
    before = _state(folder)
    found = _write(_log(folder, entries), folder)
    assert _state(folder) == before
    assert {row["action"] for row in found.values()} == {"new"}
    plain = read_fields((folder / "A.xmp").read_bytes())
    # 55 mm on 24 × 16 mm: 55·43.267/28.84 is 82.5.
    assert plain["exif:FocalLength"] == "550/10"
    assert plain["exif:FNumber"] == "56/10"
    assert plain["exif:FocalLengthIn35mmFilm"] in {"82", "83"}
    assert plain["exifEX:LensModel"] == plain["aux:Lens"] == "Kelvane 55/2.2"
    assert plain["exifEX:LensSpecification"] == ("550/10", "550/10", "22/10", "22/10")
    assert (plain["tropeion:note"], plain["tropeion:filter"]) == ("by hand", "ND 2")
    glass = read_fields((folder / "B.xmp").read_bytes())
    assert glass["tropeion:magnification"] == "0.72"
    assert (glass["exif:FocalLength"], glass["exif:FNumber"]) == ("396/10", "29/10")
    assert (glass["tropeion:focalLengthMarked"], glass["tropeion:apertureMarked"]) == ("55", "4")


def test_what_is_not_known_is_left_out(tmp_path: Path) -> None:
    folder = tmp_path / "F"
    _pictures(folder, {"A.JPG": 0, "B.JPG": 300})
    entries = [entry("a", 0, lens="nobody-knows"), entry("b", 300, lens="kel-28-80")]
    _write(_log(folder, entries), folder)
    nobody = read_fields((folder / "A.xmp").read_bytes())
    assert set(nobody) == {"tropeion:entry", "tropeion:rig", "tropeion:lens", "tropeion:via", "tropeion:wrote"} | {
        "tropeion:magnification"
    }
    # A zoom without its mark has a name, and no focal length.
    zoom = read_fields((folder / "B.xmp").read_bytes())
    assert "exif:FocalLength" not in zoom
    assert zoom["exifEX:LensSpecification"] == ("280/10", "800/10", "35/10", "45/10")


def test_names_of_sidecars(tmp_path: Path) -> None:
    folder = tmp_path / "F"
    _pictures(folder, {"A.JPG": 0, "A.RAW": 0, "B.JPG": 300, "B.TIF": 600, "sub/A.JPG": 900})
    entries = [entry(name, second) for name, second in zip("abcd", (0, 300, 600, 900), strict=True)]
    log = _log(folder, entries)
    stem = _write(log, folder, "--dry-run")
    assert not list(folder.rglob("*.xmp"))
    assert (stem["A.xmp"]["action"], stem["A.xmp"]["pictures"]) == ("new", ["A.JPG", "A.RAW"])
    # Two different frames of one stem.
    assert stem["B.xmp"]["action"] == "refused"
    assert "stem_shared" in stem["B.xmp"]["why"]
    assert "--naming full" in stem["B.xmp"]["why"]
    full = _write(log, folder, "--naming", "full")
    assert {row["action"] for row in full.values()} == {"new"}
    assert set(full) == {"A.JPG.xmp", "A.RAW.xmp", "B.JPG.xmp", "B.TIF.xmp", "sub/A.JPG.xmp"}
    # The one that is there is the one that is merged.
    (folder / "A.RAW.xmp").unlink()
    assert _write(log, folder)["A.JPG.xmp"]["action"] == "same"
    shutil.copy(folder / "A.JPG.xmp", folder / "A.XMP")
    assert "two_sidecars" in _write(log, folder)["A.XMP"]["why"]


def test_doubtful_ones_only_where_that_is_asked(tmp_path: Path) -> None:
    folder = tmp_path / "F"
    folder.mkdir()
    (folder / "A.JPG").write_bytes(jpeg(wall(0), focal_mm=300.0))
    log = _log(folder, [entry("a", 0)])
    assert _write(log, folder) == {}
    assert _write(log, folder, "--also-doubtful")["A.xmp"]["action"] == "new"


def test_what_cannot_be_written_is_refused_and_nothing_else_suffers(tmp_path: Path) -> None:
    folder, outside = tmp_path / "F", tmp_path / "outside.xmp"
    _pictures(
        folder, {name: 300.0 * number for number, name in enumerate(("A.JPG", "B.JPG", "C.JPG", "D.JPG", "E.JPG"))}
    )
    entries = [entry(f"e{number}", 300 * number) for number in range(5)]
    outside.write_text("not to be touched")
    (folder / "A.xmp").symlink_to(outside)
    (folder / "B.xmp").write_text("<a/>")
    os.mkfifo(folder / "C.xmp")
    (folder / "D.xmp").write_text('<!DOCTYPE a [<!ENTITY e SYSTEM "file:///etc/passwd">]><a>&e;</a>')
    found = _write(_log(folder, entries), folder)
    assert {file: row["action"] for file, row in found.items()} == {
        **dict.fromkeys(("A.xmp", "B.xmp", "C.xmp", "D.xmp"), "refused"),
        "E.xmp": "new",
    }
    assert [found[f"{name}.xmp"]["why"] for name in "ABCD"] == [
        "a link: only regular files are opened",
        "no XMP: there is no rdf:RDF in it",
        "a pipe: only regular files are opened",
        "it has a DOCTYPE, which XMP has not",
    ]
    assert outside.read_text() == "not to be touched"
    assert (folder / "B.xmp").read_text() == "<a/>"
    assert [path.name for path in folder.iterdir() if path.name.startswith(".")] == []


def test_what_a_killed_program_left_is_cleared_away(tmp_path: Path) -> None:
    folder = tmp_path / "F"
    _pictures(folder, {"A.JPG": 0})
    # A number that no process has.
    (folder / ".A.xmp.4194305.tropeion-part").write_text("half")
    _write(_log(folder, [entry("a", 0)]), folder)
    assert {path.name for path in folder.iterdir()} == {"A.JPG", "A.xmp"}


def test_another_program_reads_all_of_them(tmp_path: Path) -> None:
    """One call of Debian's reader for all sidecars."""
    folder = tmp_path / "F"
    _pictures(folder, {f"A{number}.JPG": 300.0 * number for number in range(5)})
    entries = [
        entry(f"e{number}", 300 * number, aperture=stop, note=note)
        for number, (stop, note) in enumerate(
            ((2.2, ""), (2.8, "ä & <b>"), (None, "日本"), (16.0, '"quoted"'), (8.0, "two\nlines"))
        )
    ]
    entries[4] |= {"lens": "kel-28-80", "focal_length_mm": 35.0}
    _write(_log(folder, entries), folder)
    names = [str(folder / f"A{number}.xmp") for number in range(5)]
    read = subprocess.run(["exiftool", "-j", "-n", "-G1", "-struct", *names], capture_output=True, check=True)
    found = json.loads(read.stdout)
    assert len(found) == 5
    for number, row in enumerate(found):
        assert "ExifTool:Warning" not in row, row
        assert row["XMP-tropeion:Entry"] == f"e{number}"
        assert row.get("XMP-tropeion:Note") == (entries[number]["note"] or None)
        assert row.get("XMP-exif:FNumber") == entries[number]["aperture"]
        assert row["XMP-tropeion:Via"] == ",".join(PLAIN)
    assert [row["XMP-exif:FocalLength"] for row in found] == [55, 55, 55, 55, 35]
    assert found[4]["XMP-exifEX:LensInfo"] == "28 80 3.5 4.5"


@pytest.mark.parametrize("field", ["FNumber", "exif:FNumber"])
def test_a_field_of_others_is_taken_where_that_is_asked(tmp_path: Path, field: str) -> None:
    folder = tmp_path / "F"
    _pictures(folder, {"A.JPG": 0})
    log = _log(folder, [entry("a", 0, aperture=4.0)])
    _write(log, folder)
    theirs = (folder / "A.xmp").read_text().replace("<exif:FNumber>40/10", "<exif:FNumber>28/10")
    (folder / "A.xmp").write_text(theirs)
    kept = _write(log, folder)["A.xmp"]
    assert kept["action"] in {"same", "merged"}
    assert kept["kept"] == [{"field": "exif:FNumber", "was": "28/10", "ours": "40/10"}]
    taken = _write(log, folder, "--overwrite", field)["A.xmp"]
    assert taken["changes"] == [{"field": "exif:FNumber", "was": "28/10", "becomes": "40/10"}]
    refused = run("log", "write", str(log), str(folder), "--overwrite", "Nonsense")
    assert refused.returncode == 2
    assert b"there is no field 'Nonsense'" in refused.stderr
