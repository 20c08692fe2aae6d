"""A simulated caliper against its stated error, its line, and any caliper at a port."""

from __future__ import annotations

import contextlib
import os
import signal
import statistics
import subprocess
import sys
import termios
import threading
import tty
from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from serial.tools import list_ports
from serial.tools.list_ports_common import ListPortInfo

from tests.limits import LIMIT_S
from tests.terminal import run
from tropeion.core.bench.quantities import bench_piece, quantity_of
from tropeion.core.bench.series import Caliper, ReadingTaken, series_report
from tropeion.core.gear.world import World
from tropeion.devices.caliper_line import CaliperError, CaliperServer, read_at, reading_in
from tropeion.devices.calipers import Calipers, caliper_link
from tropeion.devices.simulated_caliper import CaliperErrors, MeasuredCopy, SimulatedCaliper, copy_of

EXACT = CaliperErrors(0.0, 0.0, 0.0, 0.0)


class Clock:
    """Seconds that pass when they are told to."""

    now = 0.0

    def __call__(self) -> float:
        return self.now


def closed(copy: MeasuredCopy, errors: CaliperErrors = EXACT, **more: object) -> SimulatedCaliper:
    caliper = SimulatedCaliper(copy, errors=errors, **more)  # type: ignore[arg-type]
    caliper.move_to(0.0)
    return caliper


# The caliper


def test_jaws_stop_at_the_piece_and_open_beyond_it() -> None:
    caliper = SimulatedCaliper(MeasuredCopy(25.0), errors=EXACT)
    assert not caliper.touching
    caliper.move_to(30.0)
    assert (caliper.opening_mm, caliper.touching) == (30.0, False)
    caliper.move_to(3.0)
    assert (caliper.opening_mm, caliper.touching) == (25.0, True)
    inside = SimulatedCaliper(MeasuredCopy(25.0), "inside", EXACT)
    inside.move_to(60.0)
    assert (inside.opening_mm, inside.touching) == (25.0, True)
    with pytest.raises(ValueError, match="from 0 to 200"):
        caliper.move_to(-1.0)


@given(st.floats(5, 80), st.floats(0, 0.3), st.floats(0, 359))
def test_a_wedge_is_read_at_its_places(length: float, wedge: float, towards: float) -> None:
    caliper = closed(MeasuredCopy(length, wedge, towards))
    read = []
    for angle in (0.0, 90.0, 180.0, 270.0):
        caliper.turn_to(angle)
        read.append(caliper.read())
    # Opposite places are together twice the middle, whichever way it leans.
    assert read[0] + read[2] == pytest.approx(2 * length)
    assert read[1] + read[3] == pytest.approx(2 * length)
    assert max(read) - min(read) <= wedge + 1e-9


def test_it_errs_as_it_says() -> None:
    errors = CaliperErrors(zero_mm=0.03, resolution_mm=0.01, repeatability_mm=0.01, warm_mm=0.0)
    caliper = closed(MeasuredCopy(25.0), errors)
    read = [caliper.read() for _ in range(400)]
    assert all(abs(one * 100 - round(one * 100)) < 1e-6 for one in read)
    # 400 readings: the mean within four of its standard errors, the scatter within four of its own.
    scatter = (0.01**2 + 0.01**2 / 12) ** 0.5
    assert statistics.mean(read) == pytest.approx(25.03, abs=4 * scatter / 20)
    assert statistics.stdev(read) == pytest.approx(scatter, abs=4 * scatter / (2 * 400) ** 0.5)
    assert caliper.close_to_zero() == pytest.approx(0.03)


def test_a_warm_hand_makes_it_grow_and_no_more_than_it_says() -> None:
    clock = Clock()
    caliper = closed(MeasuredCopy(25.0), CaliperErrors(0.0, 0.0, 0.0, 0.02), clock=clock)
    lengths = []
    for clock.now in (0.0, 90.0, 180.0, 3600.0):
        lengths.append(caliper.read())
    assert lengths[0] == 25.0
    assert lengths == sorted(lengths)
    # After its time constant 1 − 1/e of it.
    assert lengths[1] == pytest.approx(25.0 + 0.02 * (1 - 2.718281828**-1))
    assert lengths[3] == pytest.approx(25.02)


@given(st.text(min_size=1, max_size=20), st.floats(10, 60), st.floats(0.01, 0.2))
def test_the_invented_copy_is_the_same_each_time_and_within_its_tolerance(
    what: str, nominal: float, tolerance: float
) -> None:
    first = copy_of(what, nominal, tolerance)
    assert first == copy_of(what, nominal, tolerance)
    assert abs(first.length_mm - nominal) <= tolerance


def test_what_the_bench_makes_of_its_readings_holds_what_it_measured(sample: World) -> None:
    """Two hundred copies measured at four places: the interval of two uncertainties holds nearly all of them."""
    piece = bench_piece(sample, "adapters", "kel-ost-plain")
    quantity = quantity_of(piece, "length")
    held = 0
    for number in range(200):
        copy = MeasuredCopy(25.8 + 0.0003 * number, 0.01, 7.0 * number)
        caliper = closed(copy, CaliperErrors(0.02, 0.01, 0.008, 0.004), seed=number)
        read = []
        for angle in (0.0, 90.0, 180.0, 270.0):
            caliper.turn_to(angle)
            read.append(caliper.read())
        told = series_report(piece, quantity, ReadingTaken(tuple(read), caliper=Caliper(caliper.close_to_zero())))
        held += abs(told.measured.mean_mm - copy.length_mm) <= 2 * told.measured.standard_uncertainty_mm
    assert held >= 190


# Its line


@pytest.fixture
def served(tmp_path: Path) -> Iterator[CaliperServer]:
    with CaliperServer(tmp_path / "devices" / "caliper", closed(MeasuredCopy(25.83))) as server:
        yield server


def test_a_program_reads_it_at_its_port(served: CaliperServer) -> None:
    assert read_at(str(served.link)) == pytest.approx(25.83)
    served.caliper.move_to(40.0)
    assert read_at(served.port) == pytest.approx(40.0)


def test_a_line_has_its_settings_of_before_afterwards() -> None:
    master, slave = os.openpty()
    try:
        before = termios.tcgetattr(slave)
        os.write(master, b"+25.83 mm\n")
        with pytest.raises(CaliperError, match="nothing comes"):
            read_at(os.ttyname(slave), patience_s=0.05)
        assert termios.tcgetattr(slave) == before
    finally:
        os.close(master)
        os.close(slave)


def test_only_ports_that_are_listed_or_named_are_read(
    tmp_path: Path, served: CaliperServer, monkeypatch: pytest.MonkeyPatch
) -> None:
    with CaliperServer(tmp_path / "elsewhere" / "caliper", closed(MeasuredCopy(40.0))) as other:
        unknown = Calipers(tmp_path)
        assert unknown.ports()[0] == (str(served.link), "simulated, started apart")
        assert unknown.read_at(str(served.link)) == unknown.read_at(served.port) == pytest.approx(25.83)
        with pytest.raises(CaliperError, match="not known"):
            unknown.read_at(other.port)
        named = Calipers(tmp_path, [str(other.link)])
        assert (str(other.link), "named at the start") in named.ports()
        assert named.read_at(other.port) == pytest.approx(40.0)
        monkeypatch.setattr(list_ports, "comports", lambda: [ListPortInfo(other.port)])
        assert unknown.read_at(other.port) == pytest.approx(40.0)


def said(server: CaliperServer, *lines: bytes) -> list[str]:
    line = os.open(server.port, os.O_RDWR | os.O_NOCTTY)
    try:
        tty.setraw(line)
        answers = []
        for one in lines:
            os.write(line, one + b"\r\n")
            found = b""
            while not found.endswith(b"\n"):
                found += os.read(line, 256)
            answers.append(found.decode().strip())
        return answers
    finally:
        os.close(line)


def test_its_jaws_are_moved_over_the_line(served: CaliperServer) -> None:
    opened, turned, closed_, state, wrong, unknown = said(
        served, b"JAWS 30", b"PLACE 90", b"CLOSED", b"STATE", b"JAWS wide", b"OPEN"
    )
    assert opened == "OK opening=30.0000 shows=30.0000 touching=0 place=0"
    assert turned.endswith("place=90")
    assert closed_ == "+0.0000 mm"
    assert state.startswith("OK opening=30.0000")
    assert wrong.startswith("ERROR could not convert")
    assert unknown.startswith("ERROR OPEN: READ, JAWS mm")


def test_its_name_goes_with_it_and_what_a_killed_one_left_is_taken(tmp_path: Path) -> None:
    link = tmp_path / "devices" / "caliper"
    link.parent.mkdir()
    link.symlink_to("/dev/pts/99999")
    with CaliperServer(link, closed(MeasuredCopy(20.0))) as server:
        assert os.readlink(link) == server.port
    assert not link.is_symlink()
    link.write_text("mine")
    with pytest.raises(CaliperError, match="is there already"):
        CaliperServer(link, closed(MeasuredCopy(20.0)))
    assert link.read_text() == "mine"


@pytest.mark.parametrize(
    ("line", "mm"),
    [
        (b"+25.83 mm\r\n", 25.83),
        (b" 25.83\n", 25.83),
        (b"- 0.02 mm", -0.02),
        (b"+1.0170 in", 25.8318),
        (b'1.0170"', 25.8318),
        (b"0012.345MM", 12.345),
    ],
)
def test_a_reading_is_a_number_and_its_unit(line: bytes, mm: float) -> None:
    assert reading_in(line) == pytest.approx(mm)


@pytest.mark.parametrize("line", [b"", b"twelve", b"25.83 kg", b"1e3", b"25,83", b"99999.0", b"\xff\xfe"])
def test_what_is_no_reading_is_quoted(line: bytes) -> None:
    with pytest.raises(CaliperError, match="is no reading"):
        reading_in(line)


def test_what_is_no_port_is_refused(tmp_path: Path) -> None:
    plain = tmp_path / "file"
    plain.write_text("25.83 mm\n")
    for port, why in (
        (str(plain), "is no serial port"),
        (str(tmp_path / "gone"), "No such file"),
        ("/dev/null", "cannot be read"),
    ):
        with pytest.raises(CaliperError, match=why):
            read_at(port, patience_s=0.2)
    with pytest.raises(CaliperError, match="a port is a path"):
        read_at("\0")


def test_a_caliper_that_says_nothing_wants_its_button() -> None:
    master, slave = os.openpty()
    try:
        tty.setraw(slave)
        with pytest.raises(CaliperError, match="press the caliper's data button"):
            read_at(os.ttyname(slave), patience_s=0.2)
    finally:
        os.close(master)
        os.close(slave)


def test_the_bench_keeps_one_caliper_and_puts_it_away(tmp_path: Path) -> None:
    calipers = Calipers(tmp_path)
    made: list[int] = []

    def about(length: float) -> SimulatedCaliper:
        made.append(1)
        return closed(MeasuredCopy(length))

    read = [calipers.about("ring", lambda: about(25.0), lambda one: one.read()) for _ in range(2)]
    assert (read, len(made)) == ([25.0, 25.0], 1)
    assert calipers.about("body", lambda: about(22.0), lambda one: one.read()) == 22.0
    assert read_at(calipers.port) == pytest.approx(22.0)
    calipers.close()
    assert not Path(calipers.port).is_symlink()


def test_many_hands_take_turns(tmp_path: Path) -> None:
    calipers = Calipers(tmp_path)
    found: list[float] = []

    def work(length: float) -> None:
        for _ in range(20):
            found.append(
                calipers.about(str(length), lambda: closed(MeasuredCopy(length)), lambda one: one.read()) - length
            )

    threads = [threading.Thread(target=work, args=(float(length),)) for length in (20, 25, 30)]
    for one in threads:
        one.start()
    for one in threads:
        one.join()
    calipers.close()
    # Nobody ever reads what is between somebody else's jaws.
    assert found == [0.0] * 60


def test_the_command_serves_one_until_it_is_stopped(tmp_path: Path) -> None:
    command = [sys.executable, "-m", "tropeion", "device", "caliper", "--length", "25.83", "--data", str(tmp_path)]
    with subprocess.Popen([*command, "--repeatability", "0", "--warm", "0"], stdout=subprocess.PIPE) as process:
        try:
            assert process.stdout is not None
            assert b"A caliper is at /dev/" in process.stdout.readline()
            assert read_at(str(caliper_link(tmp_path))) == pytest.approx(25.83)
        finally:
            with contextlib.suppress(ProcessLookupError):
                process.send_signal(signal.SIGTERM)
        assert process.wait(LIMIT_S) == 0
    assert not caliper_link(tmp_path).is_symlink()


def test_the_command_refuses_what_no_caliper_is() -> None:
    done = run("device", "caliper", "--length", "900")
    assert (done.returncode, done.stdout) == (2, b"")
    assert b"--length: from 0 to 200 mm" in done.stderr
