"""Simulated instruments and bodies, each at a socket of its own until it is stopped."""

from __future__ import annotations

import argparse
import signal
import threading

from tropeion.core.gear.world import UnknownIdError
from tropeion.devices.cameras import socket_of
from tropeion.devices.line import CameraServer, LineError
from tropeion.devices.simulated_body import SimulatedBody

from .inputs import RefusedError, database, world_of

__all__ = ["run_device_body"]


def run_device_body(options: argparse.Namespace) -> int:
    world = world_of(options.file)
    try:
        body = world.body(options.body)
    except UnknownIdError as error:
        raise RefusedError(str(error), 2) from None
    stopped = threading.Event()
    # A service manager stops it as politely as Ctrl-C does.
    signal.signal(signal.SIGTERM, lambda *_: stopped.set())
    signal.signal(signal.SIGINT, lambda *_: stopped.set())
    try:
        with CameraServer(socket_of(database(options).parent, body.id), SimulatedBody(body)) as served:
            print(f"{body.name} is at {served.path}  (Ctrl-C stops it)", flush=True)
            stopped.wait()
    except LineError as error:
        raise RefusedError(str(error)) from None
    return 0
