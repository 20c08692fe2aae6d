"""The command line, as its users run it."""

from __future__ import annotations

import io
import os
import re
import resource
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager, redirect_stderr, redirect_stdout
from pathlib import Path

import pytest

from tests.limits import LIMIT_S
from tropeion.api.app import WEB_FILES
from tropeion.cli import main

NEEDS_WEB = pytest.mark.skipif(not (WEB_FILES / "index.html").is_file(), reason="the web files are not built")


def _environment(home: Path | None) -> dict[str, str]:
    return {**os.environ, **({"XDG_DATA_HOME": str(home)} if home else {})}


def program(*arguments: str, data: bytes | None = None, home: Path | None = None) -> subprocess.CompletedProcess[bytes]:
    """A command in a process of its own."""
    return subprocess.run(
        [sys.executable, "-m", "tropeion", *arguments],
        input=data,
        capture_output=True,
        timeout=LIMIT_S,
        check=False,
        env=_environment(home),
    )


def run(*arguments: str) -> subprocess.CompletedProcess[bytes]:
    """A command in this process, which spares a start."""
    out, err = (io.TextIOWrapper(io.BytesIO(), "utf-8", write_through=True) for _ in range(2))
    with redirect_stdout(out), redirect_stderr(err):
        try:
            code = main(list(arguments))
        except SystemExit as left:
            code = left.code if isinstance(left.code, int) else 1
    said = [stream.detach() for stream in (out, err)]
    assert all(isinstance(one, io.BytesIO) for one in said)
    return subprocess.CompletedProcess(arguments, code, *(one.getvalue() for one in said))


@contextmanager
def started(*arguments: str, home: Path | None = None, says: str = "", file_bytes: int | None = None) -> Iterator[str]:
    """A server; its address. Besides it says ``says`` and more, or nothing; once it runs no file of its grows further
    than ``file_bytes``."""
    process = subprocess.Popen(
        [sys.executable, "-m", "tropeion", *arguments],
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        # What Python compiles on the way must not be cut off too.
        env=_environment(home) | ({} if file_bytes is None else {"PYTHONDONTWRITEBYTECODE": "1"}),
        text=True,
    )
    try:
        assert process.stdout is not None
        line = process.stdout.readline()
        found = re.search(r"http://127\.0\.0\.1:\d+", line)
        assert found, (line, process.stderr.read() if process.stderr else "")
        if file_bytes is not None:
            resource.prlimit(process.pid, resource.RLIMIT_FSIZE, (file_bytes, file_bytes))
        yield found.group()
    finally:
        process.terminate()
        _, besides = process.communicate(timeout=LIMIT_S)
    assert says in besides if says else besides == ""
