"""The socket of a camera: whose it is, what goes over it, and what happens when it goes."""

from __future__ import annotations

import errno
import json
import os
import signal
import socket
import socketserver
import stat
import subprocess
import sys
import threading
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest

from tests.limits import LIMIT_S, until
from tests.worlds import body
from tropeion.core.gear.bodies import Body
from tropeion.devices import cameras as module
from tropeion.devices import line
from tropeion.devices.cameras import Cameras, socket_of
from tropeion.devices.line import CameraServer, LineError, ask, is_served
from tropeion.devices.protocol import MOST_BYTES, NotDoneError
from tropeion.devices.simulated_body import SimulatedBody

BODY = Body.model_validate_json(json.dumps(body(exposure_modes=["P", "A", "M"])))


@pytest.fixture
def served(tmp_path: Path) -> Iterator[Path]:
    with CameraServer(tmp_path / "devices" / "body.sock", SimulatedBody(BODY)) as server:
        yield server.path


def lines(path: Path, *sent: bytes) -> list[dict[str, Any]]:
    with socket.socket(socket.AF_UNIX) as end:
        end.settimeout(LIMIT_S)
        end.connect(str(path))
        end.sendall(b"\n".join(sent) + b"\n")
        end.shutdown(socket.SHUT_WR)
        with end.makefile("rb") as answers:
            return [json.loads(one) for one in answers]


def test_it_is_its_owners_alone(served: Path) -> None:
    assert stat.S_IMODE(served.stat().st_mode) == 0o600
    assert stat.S_IMODE(served.parent.stat().st_mode) & 0o077 == 0


def test_a_request_a_line_and_an_answer_a_line(served: Path) -> None:
    first, second = lines(served, b'{"id": 4, "do": "exposure", "value": "A"}', b'{"id": 5, "do": "state"}')
    assert (first["id"], first["state"]["exposure"]) == (4, "A")
    assert (second["id"], second["state"]["exposure"]) == (5, "A")


@pytest.mark.parametrize(
    ("sent", "said"),
    [
        (b"not json", "not valid JSON"),
        (b'{"id": 1}', "do: missing"),
        (b'{"id": 1, "do": "fly"}', "do: one of these is wanted"),
        (b'{"id": 1, "do": "state", "more": 2}', "more: unknown field"),
        (b'{"id": -1, "do": "state"}', "id: at least 0 is wanted"),
        (b'{"id": 1, "do": "exposure", "value": "Z"}', "one of P, A, M"),
    ],
)
def test_what_is_wrong_is_said_and_the_line_goes_on(served: Path, sent: bytes, said: str) -> None:
    first, second = lines(served, sent, b'{"id": 9, "do": "state"}')
    assert said in first["error"]
    assert "state" not in first
    assert second["state"]["exposure"] == "P"


def test_a_line_without_end_is_hung_up_on(served: Path) -> None:
    answers = lines(served, b"x" * (MOST_BYTES + 1))
    assert len(answers) == 1
    assert "no longer than" in answers[0]["error"]
    assert ask(served, "state").power


def test_many_at_once_take_turns(served: Path) -> None:
    with ThreadPoolExecutor(8) as pool:
        states = list(pool.map(lambda number: ask(served, "exposure", "PAM"[number % 3]), range(60)))
    # Each sees its own change, whole.
    assert [one.exposure for one in states] == ["PAM"[number % 3] for number in range(60)]


def test_what_it_does_not_do_is_said(served: Path) -> None:
    with pytest.raises(NotDoneError, match="no magnifier"):
        ask(served, "magnifier", 5.0)


def test_a_second_camera_at_one_socket_is_refused(served: Path) -> None:
    with pytest.raises(LineError, match="another camera is at"):
        CameraServer(served, SimulatedBody(BODY))


def test_without_a_camera_it_says_so(tmp_path: Path) -> None:
    with pytest.raises(LineError, match="no camera answers"):
        ask(tmp_path / "nothing.sock", "state")


def test_a_path_too_long_for_a_socket_is_said(tmp_path: Path) -> None:
    with pytest.raises(LineError, match="too long for a socket"):
        CameraServer(tmp_path / ("x" * 120), SimulatedBody(BODY))


def test_what_a_killed_process_left_is_cleared(tmp_path: Path) -> None:
    path = tmp_path / "left.sock"
    with socket.socket(socket.AF_UNIX) as left:
        left.bind(str(path))
    assert path.exists()
    assert not is_served(path)
    with CameraServer(path, SimulatedBody(BODY)):
        assert is_served(path)
    assert not path.exists()


def test_a_file_that_is_no_socket_is_left_alone(tmp_path: Path) -> None:
    path = tmp_path / "mine.txt"
    path.write_text("mine")
    with pytest.raises(LineError, match="cannot make the socket"):
        CameraServer(path, SimulatedBody(BODY))
    assert path.read_text() == "mine"


def test_cameras_start_where_none_is_and_go_with_whoever_started_them(tmp_path: Path) -> None:
    cameras = Cameras(tmp_path)
    assert cameras.ask(BODY, "exposure", "M").exposure == "M"
    assert cameras.ask(BODY, "state").exposure == "M"
    path = socket_of(tmp_path, BODY.id)
    assert is_served(path)
    cameras.close()
    assert not path.exists()


def test_a_body_whose_data_changed_is_another_camera(tmp_path: Path) -> None:
    cameras = Cameras(tmp_path)
    cameras.ask(BODY, "exposure", "M")
    changed = BODY.model_copy(update={"exposure_modes": ("A", "M")})
    assert cameras.ask(changed, "state").exposure == "A"
    cameras.close()


def test_a_camera_that_is_there_first_is_taken(tmp_path: Path) -> None:
    path = socket_of(tmp_path, BODY.id)
    with CameraServer(path, SimulatedBody(BODY)):
        ask(path, "exposure", "A")
        cameras = Cameras(tmp_path)
        assert cameras.ask(BODY, "state").exposure == "A"
        cameras.close()
        # What it did not start it does not put away.
        assert is_served(path)


class Clock:
    """Seconds that pass when they are told to."""

    now = 0.0

    def __call__(self) -> float:
        return self.now


def bodies(count: int) -> list[Body]:
    return [BODY.model_copy(update={"id": f"b{number}"}) for number in range(count)]


def test_to_look_at_a_camera_switches_none_on(tmp_path: Path) -> None:
    with closing(Cameras(tmp_path)) as cameras:
        fresh = cameras.state(BODY)
        assert not cameras.on
        assert not socket_of(tmp_path, BODY.id).exists()
        assert cameras.ask(BODY, "state") == fresh
        cameras.ask(BODY, "exposure", "M")
        assert cameras.state(BODY).exposure == "M"
        with CameraServer(socket_of(tmp_path, "b0"), SimulatedBody(bodies(1)[0])):
            ask(socket_of(tmp_path, "b0"), "exposure", "A")
            assert cameras.state(bodies(1)[0]).exposure == "A"
        assert list(cameras.on) == [BODY.id]


def test_the_longest_unused_of_eight_cameras_goes_when_a_ninth_is_begun(tmp_path: Path) -> None:
    with closing(Cameras(tmp_path)) as cameras:
        nine = bodies(9)
        for one in nine[:8]:
            cameras.ask(one, "exposure", "M")
        # Looked at again: now the second is the longest unused.
        assert cameras.state(nine[0]).exposure == "M"
        cameras.ask(nine[8], "state")
        assert cameras.on == ("b2", "b3", "b4", "b5", "b6", "b7", "b0", "b8")
        assert not socket_of(tmp_path, "b1").exists()
        assert cameras.state(nine[0]).exposure == "M"


def test_a_camera_that_nobody_touched_for_ten_minutes_is_off(tmp_path: Path) -> None:
    clock = Clock()
    with closing(Cameras(tmp_path, clock)) as cameras:
        first, second = bodies(2)
        cameras.ask(first, "exposure", "M")
        clock.now = 500.0
        cameras.ask(second, "state")
        clock.now = 599.0
        assert cameras.state(first).exposure == "M"
        clock.now = 1100.0
        cameras.state(BODY)
        assert list(cameras.on) == ["b0"]
        clock.now = 1199.0
        assert cameras.state(first).exposure == "P"
        assert not cameras.on


def test_they_go_by_themselves(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "IDLE_S", 0.2)
    with closing(Cameras(tmp_path)) as cameras:
        for one in bodies(2):
            cameras.ask(one, "state")
        until(lambda: cameras.on, lambda on: on == ())
        assert not list((tmp_path / "devices").iterdir())


class Waits(threading.Event):
    """Counts how often it was waited for, and waits hardly."""

    count = 0

    def wait(self, timeout: float | None = None) -> bool:
        assert timeout == line.WITHOUT_FILES_S
        self.count += 1
        return super().wait(0.01)


def test_without_a_free_descriptor_a_camera_waits_and_says_so_once(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    tries = []

    def none_left(server: socketserver.UnixStreamServer) -> tuple[socket.socket, str]:
        tries.append(server)
        raise OSError(errno.EMFILE, "Too many open files")

    path = tmp_path / "camera.sock"
    with CameraServer(path, SimulatedBody(BODY)) as server, socket.socket(socket.AF_UNIX) as waiting:
        waits = server._server._wait = Waits()
        with monkeypatch.context() as held:
            held.setattr(socketserver.UnixStreamServer, "get_request", none_left)
            waiting.connect(str(path))
            until(lambda: len(tries), lambda count: count >= 3)
        assert ask(path, "state").body == BODY.id
    # Each time that there was none it waited before it tried again, and it complained once.
    assert waits.count == len(tries)
    assert capsys.readouterr().err.count("no more files") == 1


def test_the_command_serves_one_until_it_is_stopped(tmp_path: Path) -> None:
    command = [sys.executable, "-m", "tropeion", "device", "body", "sample", "--body", "lark", "--data", str(tmp_path)]
    with subprocess.Popen(command, stdout=subprocess.PIPE, text=True) as running:
        assert running.stdout is not None
        said = running.stdout.readline()
        path = socket_of(tmp_path, "lark")
        assert said == f"Pellam Lark is at {path}  (Ctrl-C stops it)\n"
        assert ask(path, "state").body == "lark"
        again = subprocess.run(command, capture_output=True, text=True, check=False)
        assert (again.returncode, "another camera is at" in again.stderr) == (1, True)
        os.kill(running.pid, signal.SIGTERM)
        assert running.wait(LIMIT_S) == 0
    assert not path.exists()


def test_the_command_refuses_a_body_that_is_not_there(tmp_path: Path) -> None:
    command = [sys.executable, "-m", "tropeion", "device", "body", "sample", "--body", "larch", "--data", str(tmp_path)]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    assert done.returncode == 2
    assert "no body has the id 'larch'; near it: lark" in done.stderr
