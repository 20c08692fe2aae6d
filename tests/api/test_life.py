"""What starts and stops with the server."""

from __future__ import annotations

import signal
import subprocess
import sys
from pathlib import Path
from urllib.request import urlopen

from tests.limits import LIMIT_S


def test_the_program_ends_in_order_when_it_is_told_to(tmp_path: Path) -> None:
    """SQLite takes its log away when the last connection to the file is closed."""
    log = tmp_path / "demo.sqlite-wal"
    command = [sys.executable, "-m", "tropeion", "demo", "--data", str(tmp_path), "--port", "0"]
    with subprocess.Popen(command, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True) as program:
        assert program.stdout is not None
        address = program.stdout.readline().split()[3]
        with urlopen(f"{address}api/v1/kit/lenses", timeout=LIMIT_S) as answer:
            assert answer.status == 200
        assert log.exists()
        program.send_signal(signal.SIGTERM)
        _, errors = program.communicate(timeout=LIMIT_S)
    assert errors == ""
    assert (tmp_path / "demo.sqlite").exists()
    assert not log.exists()
