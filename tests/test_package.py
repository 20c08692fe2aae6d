"""What a wheel and a source archive carry."""

from __future__ import annotations

import json
import re
import subprocess
import sys
import tarfile
import zipfile
from pathlib import Path

import pytest

from tropeion.api.app import WEB_FILES

ROOT = Path(__file__).parent.parent


def build(target: str, folder: Path) -> None:
    subprocess.run(
        [sys.executable, "-m", "hatchling", "build", "-t", target, "-d", str(folder)],
        cwd=ROOT,
        check=True,
        capture_output=True,
    )


@pytest.mark.attack
def test_a_source_archive_carries_the_sources_and_the_tests_and_nothing_of_the_browser(tmp_path: Path) -> None:
    build("sdist", tmp_path)
    (archive,) = tmp_path.glob("*.tar.gz")
    with tarfile.open(archive) as opened:
        names = {name.partition("/")[2] for name in opened.getnames()}
    tops = {name.partition("/")[0] for name in names}
    assert "web" not in tops
    assert {"src", "tests", "tools", "docs", "pyproject.toml", "README.md", "LICENSE"} <= tops
    assert {"src/tropeion/core/findings.py", "tests/core/vectors.json", "tests/test_package.py"} <= names
    assert not [name for name in names if name.endswith((".tsx", ".sqlite", ".pyc"))]


@pytest.mark.skipif(not (WEB_FILES / "index.html").is_file(), reason="the web files are not built")
def test_a_wheel_carries_the_licences_of_what_is_bundled(tmp_path: Path) -> None:
    build("wheel", tmp_path)
    (wheel,) = tmp_path.glob("*.whl")
    with zipfile.ZipFile(wheel) as archive:
        licences = archive.read("tropeion/web_dist/licences.md").decode()
        own = [name for name in archive.namelist() if name.endswith("licenses/LICENSE")]
    assert len(own) == 1
    told = {
        name: (licence, text)
        for name, licence, text in re.findall(r"^## (\S+) - \S+ \((\S+)\)\n(.*?)(?=^## |\Z)", licences, re.M | re.S)
    }
    bundled = json.loads((ROOT / "web/package.json").read_text())["dependencies"]
    assert bundled.keys() <= told.keys()
    for name in bundled:
        licence, text = told[name]
        assert licence in {"MIT", "ISC", "OFL-1.1"}
        assert "copyright" in text.lower(), name
    fonts = [told[name] for name in bundled if name.startswith("@fontsource")]
    assert fonts
    assert all(licence == "OFL-1.1" and "SIL OPEN FONT LICENSE" in text.upper() for licence, text in fonts)


@pytest.mark.skipif(not (WEB_FILES / "index.html").is_file(), reason="the web files are not built")
@pytest.mark.attack
def test_a_wheel_carries_the_web_files_and_runs_without_the_checkout(tmp_path: Path) -> None:
    build("wheel", tmp_path)
    (wheel,) = tmp_path.glob("*.whl")
    installed = tmp_path / "installed"
    with zipfile.ZipFile(wheel) as archive:
        archive.extractall(installed)
    names = {str(path.relative_to(installed)) for path in installed.rglob("*") if path.is_file()}
    assert "tropeion/web_dist/index.html" in names
    assert any(name.startswith("tropeion/web_dist/assets/") and name.endswith(".woff2") for name in names)
    assert "tropeion/store/migrations/versions/v0001_collection.py" in names
    assert "tropeion/py.typed" in names
    (entry_points,) = installed.glob("*.dist-info/entry_points.txt")
    assert "tropeion = tropeion.cli:main" in entry_points.read_text()
    # Only what is in the wheel is on the path of the package here.
    done = subprocess.run(
        [
            sys.executable,
            "-c",
            f"import sys; sys.path.insert(0, {str(installed)!r}); import tropeion.cli as cli;"
            f"assert cli.__file__.startswith({str(installed)!r}), cli.__file__;"
            "sys.exit(cli.main(['match', 'sample', '--lens', 'kel-55', '--body', 'o7']))",
        ],
        cwd=tmp_path,
        capture_output=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr
    assert b"Reaches infinity" in done.stdout
