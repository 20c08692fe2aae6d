"""The worker process, from outside: asked, waited for as long as is allowed, ended and begun anew where it fails."""

from __future__ import annotations

import base64
import json
import os
import select
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import Any, Final

from tropeion.core.log.header import Header

from .folders import Found
from .measuring import PictureMeasured, taken_up
from .work import FILE_WITHIN_S, MEASURED_WITHIN_S

# Beyond what the worker allows itself, before it is ended from outside.
_GRACE_S: Final = 2.0
_START_S: Final = 30.0
_PICTURE_S: Final = 12.0
_BATCH: Final = 64
# Progress is told so often at most.
_MOST_STEPS: Final = 64


def _is_answer(answer: dict[str, Any]) -> bool:
    return "progress" not in answer


class StoppedError(Exception):
    """Whoever asked has called it off."""


class Worker:
    """One process for all that decodes files. Safe to use from several threads; they take turns."""

    def __init__(self) -> None:
        self._turn = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._buffer = b""

    def headers(
        self, root: Path, files: Sequence[Found], stopped: Callable[[], bool] = lambda: False
    ) -> Iterator[tuple[Found, Header | str]]:
        """The header of each file below a root, or why it was not read. Raises StoppedError."""
        by_folder: dict[bytes, list[Found]] = {}
        for file in files:
            by_folder.setdefault(file.path.rpartition(b"/")[0], []).append(file)
        for folder, inside in by_folder.items():
            waiting = inside
            while waiting:
                batch = waiting[:_BATCH]
                done = 0
                asked = {
                    "do": "headers",
                    "root": os.fspath(root),
                    "folder": os.fsdecode(folder),
                    "names": [os.fsdecode(file.path.rpartition(b"/")[2]) for file in batch],
                }
                # To its end, which lets go of the turn.
                for answer in self._ask(asked, len(batch), stopped):
                    yield batch[done], _header_in(answer)
                    done += 1
                waiting = waiting[max(done, 1) :]

    def head(self, data: bytes, *, whole: bool) -> Header | str:
        """The header of the head of a file."""
        asked = {"do": "head", "data": base64.b64encode(data).decode(), "whole": whole}
        return _header_in(self._one(asked))

    def thumbnail(self, root: Path, path: bytes, side: int, place: str | None = None) -> bytes | str:
        """A small JPEG of a picture, or with a ``place`` that part of it as it is; or why there is none."""
        folder, _, name = path.rpartition(b"/")
        asked = {
            "do": "thumbnail",
            "root": os.fspath(root),
            "folder": os.fsdecode(folder),
            "name": os.fsdecode(name),
            "side": side,
            "place": place,
        }
        answer = self._one(asked, _PICTURE_S)
        jpeg = answer.get("jpeg")
        return answer.get("why", "no picture") if jpeg is None else base64.b64decode(jpeg)

    def measure(
        self,
        root: Path,
        path: bytes,
        asked: dict[str, Any],
        stopped: Callable[[], bool] = lambda: False,
        progress: Callable[[float], None] = lambda _: None,
    ) -> PictureMeasured | str:
        """What is measured of a picture below a root, or why nothing is. Raises StoppedError."""
        folder, _, name = path.rpartition(b"/")
        question = {
            "do": "measure",
            "root": os.fspath(root),
            "folder": os.fsdecode(folder),
            "name": os.fsdecode(name),
            **asked,
        }
        answers = self._ask(question, _MOST_STEPS, stopped, within_s=MEASURED_WITHIN_S + _GRACE_S, last=_is_answer)
        found: PictureMeasured | str = "it broke the reader"
        # To its end, which lets go of the turn.
        for answer in answers:
            if "progress" in answer:
                progress(answer["progress"])
            else:
                found = str(answer["why"]) if "why" in answer else taken_up(answer)
        return found

    def _one(self, asked: dict[str, Any], within_s: float | None = None) -> dict[str, Any]:
        (answer,) = self._ask(asked, 1, within_s=within_s)
        return answer

    def _ask(
        self,
        asked: dict[str, Any],
        answers: int,
        stopped: Callable[[], bool] = lambda: False,
        within_s: float | None = None,
        last: Callable[[dict[str, Any]], bool] = lambda _: False,
    ) -> Iterator[dict[str, Any]]:
        """The answers to one question, as many as there are to be, or up to the ``last`` one.

        After one that does not come the worker is ended, and it is the last.
        """
        with self._turn:
            fresh = self._process is None or self._process.poll() is not None
            if fresh:
                self._begin()
            try:
                self._write(json.dumps(asked).encode() + b"\n")
                for number in range(answers):
                    usual_s = FILE_WITHIN_S + _GRACE_S if within_s is None else within_s
                    allowed_s = usual_s + (_START_S if fresh and number == 0 else 0.0)
                    line = self._line(allowed_s, stopped)
                    if line is None:
                        self.end()
                        yield {"why": "it broke the reader, or took too long"}
                        return
                    answer = json.loads(line)
                    # Told before it is taken: whoever asked may want no more.
                    ends = last(answer)
                    yield answer
                    if ends:
                        return
            except BaseException:
                # Answers to what nobody waits for any more must not be taken for others.
                self.end()
                raise

    def _begin(self) -> None:
        # What ended by itself is put away.
        self.end()
        self._buffer = b""
        self._process = subprocess.Popen(
            [sys.executable, "-m", "tropeion.pictures.work"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
        )

    def _write(self, line: bytes) -> None:
        assert self._process is not None
        assert self._process.stdin is not None
        try:
            self._process.stdin.write(line)
            self._process.stdin.flush()
        except OSError:
            # It has ended: no answer comes.
            return

    def _line(self, within_s: float, stopped: Callable[[], bool]) -> bytes | None:
        assert self._process is not None
        assert self._process.stdout is not None
        out = self._process.stdout.fileno()
        until_s = time.monotonic() + within_s
        while b"\n" not in self._buffer:
            if stopped():
                raise StoppedError
            left_s = until_s - time.monotonic()
            if left_s <= 0:
                return None
            if select.select([out], [], [], min(left_s, 0.1))[0]:
                part = os.read(out, 1 << 20)
                if not part:
                    return None
                self._buffer += part
        line, _, self._buffer = self._buffer.partition(b"\n")
        return line

    def end(self) -> None:
        """End the process; the next question begins another."""
        process, self._process = self._process, None
        if process is not None:
            process.kill()
            process.wait()
            for pipe in (process.stdin, process.stdout):
                if pipe is not None:
                    pipe.close()

    def close(self) -> None:
        """End it once nobody waits for it."""
        with self._turn:
            self.end()


def _header_in(answer: dict[str, Any]) -> Header | str:
    header = answer.get("header")
    return str(answer.get("why", "it was not read")) if header is None else Header(**header)
