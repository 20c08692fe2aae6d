"""The line of a caliper: one that is simulated, on a pseudo-terminal of its own; and any at a serial port.

``docs/caliper-protocol.md`` lists what goes over it: lines of text, a reading is a number and its unit.
"""

from __future__ import annotations

import contextlib
import math
import os
import re
import select
import stat
import termios
import threading
import tty
from collections.abc import Iterator
from pathlib import Path
from types import TracebackType
from typing import Final, Self

import serial

from .simulated_caliper import SimulatedCaliper

MOST_BYTES: Final = 256
PATIENCE_S: Final = 1.5
BAUD: Final = 9600
MM_IN_AN_INCH: Final = 25.4
_NUMBER = re.compile(rb"^\s*([+-]?\s?\d{1,4}(?:\.\d{1,6})?)\s*(mm|in|\")?\s*$", re.IGNORECASE)


class CaliperError(Exception):
    """No caliper answers, or what it sends is no reading; in words."""


def reading_in(line: bytes) -> float:
    """A reading in mm. Raises CaliperError for a line that is none."""
    match = _NUMBER.match(line)
    if match is None:
        shown = line[:40].decode("ascii", "replace").strip()
        raise CaliperError(f"“{shown}” is no reading: a number and its unit, +25.83 mm")
    value = float(match[1].replace(b" ", b""))
    unit = (match[2] or b"mm").lower()
    return value * (1.0 if unit == b"mm" else MM_IN_AN_INCH)


class CaliperServer:
    """A simulated caliper at a pseudo-terminal, until it is closed; ``link`` is a name that stays the same."""

    def __init__(self, link: Path, caliper: SimulatedCaliper) -> None:
        """Raises CaliperError where the name is taken by something else."""
        if link.exists() and not link.is_symlink():
            raise CaliperError(f"{link} is there already, and is no caliper's")
        self.link, self.caliper = link, caliper
        self._master, self._slave = os.openpty()
        tty.setraw(self._slave)
        os.set_blocking(self._master, False)
        self.port = os.ttyname(self._slave)
        try:
            link.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
            # The name is moved over what a killed one left behind.
            fresh = link.with_name(f"{link.name}.{os.getpid()}")
            fresh.unlink(missing_ok=True)
            fresh.symlink_to(self.port)
            fresh.replace(link)
        except OSError as error:
            os.close(self._master)
            os.close(self._slave)
            raise CaliperError(f"cannot name the caliper {link}: {error.strerror}") from None
        self._wake_read, self._wake_write = os.pipe()
        self._thread = threading.Thread(target=self._serve, daemon=True)
        self._thread.start()

    def _serve(self) -> None:
        buffer = b""
        while True:
            ready, _, _ = select.select([self._master, self._wake_read], [], [])
            if self._wake_read in ready:
                return
            try:
                buffer += os.read(self._master, MOST_BYTES)
            except OSError:
                continue
            *lines, buffer = re.split(rb"[\r\n]+", buffer)
            buffer = buffer[-MOST_BYTES:]
            for line in lines:
                if line.strip():
                    self._say(self._answer(line.strip()))

    def _say(self, text: str) -> None:
        # Without a reader, output beyond the line's buffer is lost, as on a real device.
        with contextlib.suppress(OSError):
            os.write(self._master, f"{text}\r\n".encode())

    def _answer(self, line: bytes) -> str:
        verb, _, said = line.decode("ascii", "replace").partition(" ")
        try:
            match verb.upper():
                case "READ":
                    return f"{self.caliper.read():+.4f} mm"
                case "JAWS":
                    self.caliper.move_to(_finite(said))
                case "PLACE":
                    self.caliper.turn_to(_finite(said))
                case "CLOSED":
                    return f"{self.caliper.close_to_zero():+.4f} mm"
                case "STATE":
                    pass
                case _:
                    return f"ERROR {verb[:20]}: READ, JAWS mm, PLACE deg, CLOSED or STATE"
        except ValueError as error:
            return f"ERROR {error}"
        state = self.caliper.state()
        return (
            f"OK opening={state.opening_mm:.4f} shows={state.shows_mm:.4f}"
            f" touching={int(state.touching)} place={state.place_deg:g}"
        )

    def close(self) -> None:
        """Stop serving and take the name away."""
        os.write(self._wake_write, b"x")
        self._thread.join()
        if self.link.is_symlink() and os.readlink(self.link) == self.port:
            self.link.unlink()
        for end in (self._master, self._slave, self._wake_read, self._wake_write):
            os.close(end)

    def __enter__(self) -> Self:
        return self

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, at: TracebackType | None) -> None:
        self.close()


def _finite(text: str) -> float:
    value = float(text)
    if not math.isfinite(value):
        raise ValueError("a number is wanted")
    return value


@contextlib.contextmanager
def _as_it_was(device: Path) -> Iterator[None]:
    """Whatever is set meanwhile, the line has its settings of before afterwards. Raises OSError for what has none."""
    held = os.open(device, os.O_RDWR | os.O_NOCTTY | os.O_NONBLOCK)
    try:
        try:
            before = termios.tcgetattr(held)
        except termios.error as error:
            raise OSError(*error.args) from None
        try:
            yield
        finally:
            with contextlib.suppress(termios.error):
                termios.tcsetattr(held, termios.TCSANOW, before)
    finally:
        os.close(held)


def read_at(port: str, *, patience_s: float = PATIENCE_S) -> float:
    """One reading of the caliper at a port, in mm: it is asked, or its data button is pressed meanwhile.

    Raises CaliperError where there is none, it is no serial port, another program holds it, or nothing comes.
    """
    try:
        real = Path(port).resolve(strict=True)
        device = real.is_relative_to("/dev") and stat.S_ISCHR(real.stat().st_mode)
    except OSError as error:
        raise CaliperError(f"{port}: {error.strerror or 'no such port'}") from None
    except ValueError:
        raise CaliperError("a port is a path, as /dev/ttyUSB0") from None
    if not device:
        raise CaliperError(f"{port} is no serial port: one under /dev is wanted, as /dev/ttyUSB0")
    try:
        with (
            _as_it_was(real),
            serial.Serial(str(real), BAUD, timeout=patience_s, write_timeout=patience_s, exclusive=True) as line,
        ):
            line.reset_input_buffer()
            line.write(b"READ\r\n")
            data: bytes = line.read_until(b"\n", MOST_BYTES)
    except (serial.SerialException, OSError, ValueError) as error:
        raise CaliperError(f"{port} cannot be read: {error}") from None
    if not data.strip():
        raise CaliperError(f"nothing comes from {port}: press the caliper's data button once more")
    return reading_in(data)
