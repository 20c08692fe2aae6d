"""A server with a listener in the network, at 127.0.0.2, never at a real interface; it is stopped and started."""

from __future__ import annotations

import ipaddress
import ssl
import threading
from collections.abc import Iterator, Sequence
from contextlib import ExitStack, contextmanager
from pathlib import Path

import httpx
import uvicorn

from tests.conftest import SignallingServer, loopback_listener
from tests.limits import LIMIT_S, client_of
from tropeion.api.app import WEB_FILES, create_app, lan_gate_of
from tropeion.api.gates import COOKIE
from tropeion.api.server import config_of, network_of
from tropeion.lan.listening import Listening, listening
from tropeion.store.collection import Collection

ADDRESSES = ("127.0.0.2",)


class LanServer:
    """A collection, served on the machine and in the network."""

    def __init__(
        self,
        path: Path,
        addresses: Sequence[str] = ADDRESSES,
        *,
        most_from_one: int = 24,
        handshake_within_s: float = 10,
    ) -> None:
        self.path = path
        self._addresses = tuple(ipaddress.ip_address(address) for address in addresses)
        self._most_from_one, self._handshake_within_s = most_from_one, handshake_within_s
        self._ports = {"machine": 0, "network": 0}
        self._stack = ExitStack()
        self._pairing = threading.Lock()
        self.found: Listening | None = None

    def start(self) -> None:
        """At the ports of the last time."""
        collection = Collection(self.path)
        self._stack.callback(collection.close)
        listener = loopback_listener(self._ports["machine"])
        self._stack.callback(listener.close)
        found = self._stack.enter_context(listening(self.path.parent, self._addresses, self._ports["network"]))
        gate = lan_gate_of(found)
        network = network_of(found, gate, handshake_within_s=self._handshake_within_s)
        if network is not None:
            network.slots = type(network.slots)(network.slots.most, self._most_from_one)
        web = WEB_FILES if (WEB_FILES / "index.html").is_file() else None
        app = create_app(collection, web, demo=True, lan_gate=gate)
        server = SignallingServer(config_of(app), network)
        thread = threading.Thread(target=server.run, kwargs={"sockets": [listener]}, daemon=True)
        thread.start()
        assert server.listening.wait(LIMIT_S)
        self._ports["machine"] = listener.getsockname()[1]
        self._ports["network"] = found.places[0].port if found.places else 0
        self.found = found
        self._stack.callback(self._end, server, thread)

    @staticmethod
    def _end(server: uvicorn.Server, thread: threading.Thread) -> None:
        server.should_exit = True
        thread.join(LIMIT_S)
        assert not thread.is_alive()

    def stop(self) -> None:
        """Nobody answers any more."""
        self._stack.close()
        self._stack = ExitStack()

    @property
    def machine(self) -> str:
        """The address on the machine itself."""
        return f"http://127.0.0.1:{self._ports['machine']}"

    @property
    def port(self) -> int:
        """The port in the network."""
        return self._ports["network"]

    def at(self, address: str = ADDRESSES[0]) -> str:
        """An address in the network."""
        return f"https://{address}:{self.port}"

    @property
    def listening(self) -> Listening:
        """What listens in the network."""
        assert self.found is not None
        return self.found

    def trusting(self) -> ssl.SSLContext:
        """What a phone trusts that has installed the authority, and nothing else."""
        assert self.listening.authority is not None
        context = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
        context.load_verify_locations(cadata=self.listening.authority.der)
        return context

    def stranger(self, address: str = ADDRESSES[0]) -> httpx.Client:
        """A device that was not let in."""
        return httpx.Client(base_url=self.at(address), verify=self.trusting(), timeout=LIMIT_S)

    def code(self, may: str = "log") -> str:
        """A code, made on the machine."""
        with client_of(self.machine) as machine:
            return str(machine.post("/api/v1/lan/code", json={"may": may}).json()["code"])

    @contextmanager
    def phone(self, name: str = "Phone", may: str = "log") -> Iterator[httpx.Client]:
        """A device that was let in, with its cookie."""
        with self.stranger() as client:
            # One code is open at a time.
            with self._pairing:
                answer = client.post("/api/v1/lan/pair", json={"code": self.code(may), "name": name})
            assert answer.status_code == 200, answer.text
            assert client.cookies.get(COOKIE)
            yield client


@contextmanager
def lan_server(
    path: Path, addresses: Sequence[str] = ADDRESSES, *, most_from_one: int = 24, handshake_within_s: float = 10
) -> Iterator[LanServer]:
    """A server in the network, while it is needed."""
    server = LanServer(path, addresses, most_from_one=most_from_one, handshake_within_s=handshake_within_s)
    server.start()
    try:
        yield server
    finally:
        server.stop()
