"""A program killed while it writes a sidecar leaves the old one or the new one, and the next run clears up."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from tests.logs import entry, jpeg, wall
from tests.terminal import run
from tests.thorough import some
from tropeion.formats.xmp import read_fields

# Ends as a kill would at the n-th call of one function of the system, before it or after it.
KILLED = """
import os, sys
name, at, after = sys.argv[1], int(sys.argv[2]), sys.argv[3] == "after"
real, calls = getattr(os, name), 0

def call(*arguments, **more):
    global calls
    part = any(isinstance(one, bytes) and one.endswith(b"part") for one in arguments) or name in {"fsync", "fchmod"}
    calls += part
    if part and calls == at and not after:
        os._exit(9)
    done = real(*arguments, **more)
    if part and calls == at:
        os._exit(9)
    return done

setattr(os, name, call)
from tropeion.cli import main
sys.exit(main(sys.argv[4:]))
"""
PLACES = [
    (name, at, when)
    for name, at in (("open", 1), ("fchmod", 1), ("fsync", 1), ("fsync", 2), ("link", 1), ("unlink", 1), ("rename", 1))
    for when in ("before", "after")
]


@pytest.mark.parametrize(("name", "at", "when"), some(PLACES, [("link", 1, "after")]))
def test_whenever_it_is_killed_the_old_one_or_the_new_one_is_there(
    tmp_path: Path, name: str, at: int, when: str
) -> None:
    folder, log = tmp_path / "F", tmp_path / "log.json"
    folder.mkdir()
    (folder / "A.JPG").write_bytes(jpeg(wall(0)))
    document = {
        "cameras": [{"body": "o7", "make": "Ostrel", "model": "O7"}],
        "clocks": [{"body": "o7", "seconds": -3600}],
        "entries": [entry("a", 0, aperture=4.0)],
    }
    arguments = ["log", "write", str(log), str(folder), "--gear", "sample"]
    before = None
    if name == "rename":
        # Over one that is there already.
        log.write_text(json.dumps(document))
        assert run(*arguments).returncode == 0
        before = (folder / "A.xmp").read_bytes()
        document["entries"] = [entry("a", 0, aperture=8.0)]
    log.write_text(json.dumps(document))
    killed = subprocess.run([sys.executable, "-c", KILLED, name, str(at), when, *arguments], check=False)
    assert killed.returncode == 9
    sidecar = folder / "A.xmp"
    stop = "80/10" if before is not None else "40/10"
    there = sidecar.read_bytes() if sidecar.exists() else None
    assert there == before or (there is not None and read_fields(there)["exif:FNumber"] == stop)
    assert run(*arguments).returncode == 0
    assert read_fields(sidecar.read_bytes())["exif:FNumber"] == stop
    assert {path.name for path in folder.iterdir()} == {"A.JPG", "A.xmp"}
