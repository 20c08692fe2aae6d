"""Processes for attacks, which begin with everything loaded."""

from __future__ import annotations

import multiprocessing
from multiprocessing.context import ForkServerContext

import pytest


@pytest.fixture(scope="session")
def fresh() -> ForkServerContext:
    """Starts processes from one that has loaded everything and done nothing."""
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(["tests.attack.deeds", "tests.attack.hand_overs"])
    return context
