"""How hard to attack: a little in every run of the tests, ten times as much by ``make attack``."""

from __future__ import annotations

import multiprocessing
import os
from multiprocessing.context import ForkServerContext

import pytest

# Kills of a kind, and seconds under load.
KILLS = int(os.environ.get("TROPEION_KILLS", "12"))
LOAD_S = float(os.environ.get("TROPEION_LOAD_S", "10"))


@pytest.fixture(scope="session")
def fresh() -> ForkServerContext:
    """Starts processes from one that has loaded everything and done nothing."""
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(["tests.attack.deeds"])
    return context
