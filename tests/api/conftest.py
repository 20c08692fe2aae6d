"""A server with the sample collection, for tests that write."""

from __future__ import annotations

from collections.abc import Iterator

import httpx
import pytest

from tests.conftest import Served
from tests.limits import client_of
from tests.prepared import begin_anew


@pytest.fixture
def own(own_server: Served) -> Iterator[httpx.Client]:
    begin_anew(own_server.collection, sample=True)
    with client_of(own_server.address + "/api/v1") as client:
        yield client
