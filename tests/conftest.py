"""What the tests share: the sample world, and a real server on a real port."""

from __future__ import annotations

import gc
import socket
import threading
from collections.abc import Iterator, Sequence
from contextlib import ExitStack, closing, contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

import pytest
import uvicorn
from hypothesis import settings

from tests import prepared
from tests.limits import LIMIT_S
from tests.prepared import sample_at
from tests.thorough import EVERYWHERE, examples
from tropeion.api.app import WEB_FILES, create_app
from tropeion.api.server import Network, Server, config_of
from tropeion.core.gear.gear import Gear
from tropeion.core.gear.world import World
from tropeion.store.collection import Collection

# The machines are slow and noisy; a late example is not a wrong one.
settings.register_profile("steady", deadline=None, derandomize=True, max_examples=examples(60))
settings.load_profile("steady")

# What a test makes is small beside what the process keeps; looking through that every 700 objects is a tenth of it all.
gc.set_threshold(50_000, 20, 20)


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """What is marked ``attack`` runs in ``make attack`` alone."""
    left = [] if EVERYWHERE else [item for item in items if item.get_closest_marker("attack")]
    if left:
        config.hook.pytest_deselected(items=left)
        items[:] = [item for item in items if item not in set(left)]


@pytest.fixture(scope="session")
def sample_gear() -> Gear:
    return prepared.sample_gear()


@pytest.fixture(scope="session")
def sample() -> World:
    return prepared.sample_world()


@dataclass(frozen=True)
class Served:
    """A running server and the collection behind it."""

    address: str
    collection: Collection


class Serve(Protocol):
    """Starts a server over a collection."""

    def __call__(self, collection: Collection, *, demo: bool = False, pictures: Sequence[Path] = ()) -> Served: ...


class SignallingServer(Server):
    """A server that says when it listens."""

    def __init__(self, config: uvicorn.Config, network: Network | None = None) -> None:
        super().__init__(config, network)
        self.listening = threading.Event()

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        await super().startup(sockets)
        self.listening.set()


def loopback_listener(port: int = 0) -> socket.socket:
    """A socket on the machine itself."""
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    listener.bind(("127.0.0.1", port))
    return listener


@contextmanager
def running(config: uvicorn.Config) -> Iterator[str]:
    """A server of one's own; its address."""
    listener = loopback_listener()
    server = SignallingServer(config)
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listener]}, daemon=True)
    thread.start()
    assert server.listening.wait(LIMIT_S)
    yield f"http://127.0.0.1:{listener.getsockname()[1]}"
    server.should_exit = True
    thread.join(LIMIT_S)


@contextmanager
def _serving() -> Iterator[Serve]:
    with ExitStack() as servers:

        def start(collection: Collection, *, demo: bool = False, pictures: Sequence[Path] = ()) -> Served:
            web = WEB_FILES if (WEB_FILES / "index.html").is_file() else None
            servers.callback(collection.close)
            app = create_app(collection, web, demo=demo, picture_roots=pictures)
            return Served(servers.enter_context(running(config_of(app))), collection)

        yield start


@pytest.fixture
def serve() -> Iterator[Serve]:
    """Starts servers for one test: a world that nobody asks any more is let go."""
    with _serving() as start:
        yield start


@pytest.fixture(scope="session")
def serve_long() -> Iterator[Serve]:
    """Starts servers for many tests; stops them all at the end."""
    with _serving() as start:
        yield start


@pytest.fixture(scope="session")
def sample_server(serve_long: Serve, tmp_path_factory: pytest.TempPathFactory) -> Served:
    """The sample world, served; tests that write take a server of their own."""
    collection = sample_at(tmp_path_factory.mktemp("sample") / "demo.sqlite")
    return serve_long(collection)


@pytest.fixture(scope="session")
def demo_server(serve_long: Serve, tmp_path_factory: pytest.TempPathFactory) -> Served:
    """The demo: the sample world with its gallery."""
    collection = sample_at(tmp_path_factory.mktemp("demo") / "demo.sqlite")
    return serve_long(collection, demo=True)


@pytest.fixture(scope="session")
def own_server(serve_long: Serve, tmp_path_factory: pytest.TempPathFactory) -> Served:
    """A server for tests that write: each begins with a collection that nobody has touched."""
    return serve_long(prepared.empty_at(tmp_path_factory.mktemp("own") / "collection.sqlite"))


@pytest.fixture
def empty_collection(tmp_path: Path) -> Iterator[Collection]:
    with closing(prepared.empty_at(tmp_path / "collection.sqlite")) as collection:
        yield collection
