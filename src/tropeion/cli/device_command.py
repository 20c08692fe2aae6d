"""Simulated instruments and bodies, each at a socket of its own until it is stopped."""

from __future__ import annotations

import argparse
import contextlib
import os
import signal
from collections.abc import Callable, Iterator
from datetime import datetime, timedelta
from pathlib import Path
from typing import Final

from tropeion.core.camera.signed import signed_by
from tropeion.core.camera.state import CameraState
from tropeion.core.gear.bodies import Body
from tropeion.core.gear.world import UnknownIdError
from tropeion.devices.caliper_line import CaliperError, CaliperServer
from tropeion.devices.calipers import caliper_link
from tropeion.devices.cameras import socket_of
from tropeion.devices.line import CameraServer, LineError
from tropeion.devices.protocol import NotDoneError
from tropeion.devices.simulated_body import SimulatedBody
from tropeion.devices.simulated_caliper import MOST_MM, CaliperErrors, MeasuredCopy, SimulatedCaliper
from tropeion.formats.simulated_picture import simulated_jpeg, view_of

from .inputs import InputRefusedError, database, world_of, write_whole

# Ctrl-C, and what a service manager sends.
_STOPS: Final = (signal.SIGINT, signal.SIGTERM)


def run_device_body(options: argparse.Namespace) -> int:
    world = world_of(options.file)
    try:
        body = world.body(options.body)
    except UnknownIdError as error:
        raise InputRefusedError(str(error), 2) from None
    taken = None if options.pictures is None else _keeping(body, options.pictures, options.clock_off)
    try:
        with (
            _stops() as until_stopped,
            CameraServer(socket_of(database(options).parent, body.id), SimulatedBody(body, taken)) as served,
        ):
            print(f"{body.name} is at {served.path}  (Ctrl-C stops it)", flush=True)
            until_stopped()
    except LineError as error:
        raise InputRefusedError(str(error)) from None
    return 0


def _keeping(body: Body, folder: Path, clock_off_s: float) -> Callable[[CameraState], None]:
    """Writes each frame into a folder, signed by a clock that is off by so much."""
    if not folder.is_dir():
        raise InputRefusedError(f"--pictures {folder}: there is no such folder", 2)
    if body.kind == "film":
        raise InputRefusedError(f"{body.name} takes film: it writes no files", 2)
    if not abs(clock_off_s) <= 4e9:
        raise InputRefusedError("--clock-off: seconds, at most 4 billion either way", 2)

    def keep(state: CameraState) -> None:
        taken = datetime.now() + timedelta(seconds=clock_off_s)
        data = simulated_jpeg(view_of(body, state), signed_by(body, state, taken))
        used = [int(name.stem[1:]) for name in folder.glob("F[0-9][0-9][0-9][0-9].JPG")]
        try:
            write_whole(folder / f"F{max(used, default=0) + 1:04d}.JPG", data)
        except InputRefusedError as error:
            raise NotDoneError(str(error)) from None

    return keep


@contextlib.contextmanager
def _stops() -> Iterator[Callable[[], None]]:
    """A wait for Ctrl-C or for a service manager's word; what comes before the wait is kept for it.

    By a pipe which the signal itself writes to, on whichever thread it arrives: a handler that sets an Event can
    deadlock with the wait it interrupts, and a blocked signal still ends the process on a library's thread.
    """
    stopped, stop = os.pipe()
    os.set_blocking(stop, False)
    for one in _STOPS:
        signal.signal(one, lambda *_: None)
    signal.set_wakeup_fd(stop)
    try:
        yield lambda: _wait_for(stopped)
    finally:
        signal.set_wakeup_fd(-1)
        for one in _STOPS:
            signal.signal(one, signal.SIG_DFL)
        os.close(stop)
        os.close(stopped)


def _wait_for(stopped: int) -> None:
    os.read(stopped, 1)


def run_device_caliper(options: argparse.Namespace) -> int:
    for name, least, most in (
        ("length", 0.0, MOST_MM),
        ("wedge", 0.0, 10.0),
        ("zero", -10.0, 10.0),
        ("resolution", 0.0, 1.0),
        ("repeatability", 0.0, 1.0),
        ("warm", 0.0, 1.0),
    ):
        if not least <= getattr(options, name) <= most:
            raise InputRefusedError(f"--{name}: from {least:g} to {most:g} mm", 2)
    errors = CaliperErrors(options.zero, options.resolution, options.repeatability, options.warm)
    caliper = SimulatedCaliper(MeasuredCopy(options.length, options.wedge), errors=errors)
    caliper.move_to(0.0)
    try:
        with _stops() as until_stopped, CaliperServer(caliper_link(database(options).parent), caliper) as served:
            print(f"A caliper is at {served.port}, called {served.link}  (Ctrl-C stops it)", flush=True)
            until_stopped()
    except CaliperError as error:
        raise InputRefusedError(str(error)) from None
    return 0
