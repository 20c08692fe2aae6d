"""What a wheel carries."""

from __future__ import annotations

import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

from tropeion.api.app import WEB_FILES

ROOT = Path(__file__).parent.parent


@pytest.mark.skipif(not (WEB_FILES / "index.html").is_file(), reason="the web files are not built")
def test_a_wheel_carries_the_web_files_and_runs_without_the_checkout(tmp_path: Path) -> None:
    subprocess.run(
        [sys.executable, "-m", "hatchling", "build", "-t", "wheel", "-d", str(tmp_path)],
        cwd=ROOT,
        check=True,
        capture_output=True,
    )
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
