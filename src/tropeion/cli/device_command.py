"""Simulated instruments and bodies, each at a socket of its own until it is stopped."""

from __future__ import annotations

import argparse
import signal
import threading

from tropeion.core.gear.world import UnknownIdError
from tropeion.devices.caliper_line import CaliperError, CaliperServer
from tropeion.devices.calipers import caliper_link
from tropeion.devices.cameras import socket_of
from tropeion.devices.line import CameraServer, LineError
from tropeion.devices.simulated_body import SimulatedBody
from tropeion.devices.simulated_caliper import MOST_MM, CaliperErrors, MeasuredCopy, SimulatedCaliper

from .inputs import InputRefusedError, database, world_of


def run_device_body(options: argparse.Namespace) -> int:
    world = world_of(options.file)
    try:
        body = world.body(options.body)
    except UnknownIdError as error:
        raise InputRefusedError(str(error), 2) from None
    stopped = _until_stopped()
    try:
        with CameraServer(socket_of(database(options).parent, body.id), SimulatedBody(body)) as served:
            print(f"{body.name} is at {served.path}  (Ctrl-C stops it)", flush=True)
            stopped.wait()
    except LineError as error:
        raise InputRefusedError(str(error)) from None
    return 0


def _until_stopped() -> threading.Event:
    """Set once somebody stops it: a service manager does so as politely as Ctrl-C."""
    stopped = threading.Event()
    signal.signal(signal.SIGTERM, lambda *_: stopped.set())
    signal.signal(signal.SIGINT, lambda *_: stopped.set())
    return stopped


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
    stopped = _until_stopped()
    try:
        with CaliperServer(caliper_link(database(options).parent), caliper) as served:
            print(f"A caliper is at {served.port}, called {served.link}  (Ctrl-C stops it)", flush=True)
            stopped.wait()
    except CaliperError as error:
        raise InputRefusedError(str(error)) from None
    return 0
