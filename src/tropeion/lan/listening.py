"""The listener in one's own network: its sockets, its certificate, and why there is none where it failed."""

from __future__ import annotations

import socket
import ssl
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import TYPE_CHECKING

from .addresses import Address, Place, listening_at, names_here
from .paired import Paired

if TYPE_CHECKING:
    from .authority import Authority


@dataclass(slots=True)
class Listening:
    """What stands in the network, or would: ``failed`` says, line by line, what does not."""

    paired: Paired
    names: tuple[str, ...] = ()
    places: tuple[Place, ...] = ()
    authority: Authority | None = None
    context: ssl.SSLContext | None = None
    sockets: list[socket.socket] = field(default_factory=list)
    failed: list[str] = field(default_factory=list)

    @property
    def hosts(self) -> frozenset[str]:
        """The hosts that it answers to."""
        return frozenset((*(place.host.partition("%")[0] for place in self.places), *self.names))


@contextmanager
def listening(folder: Path, addresses: Sequence[Address], port: int) -> Iterator[Listening]:
    """Listen at these addresses, as far as that can be done: what fails leaves the rest as it is.

    ``port`` 0 takes any free one at the first address, and the same at the others.
    """
    found = Listening(Paired(folder))
    try:
        if not addresses:
            found.failed.append(
                "this machine has no address in a network of its own: join one, or name it by --address"
            )
        else:
            _listen(found, folder, addresses, port)
        yield found
    finally:
        for listener in found.sockets:
            listener.close()
        found.paired.close()


def _listen(found: Listening, folder: Path, addresses: Sequence[Address], port: int) -> None:
    # Eight megabytes that a machine without a network of its own does without.
    from .authority import AuthorityError, authority_in, server_certificate, tls_context  # noqa: PLC0415

    try:
        names = names_here()
        authority, _ = authority_in(folder, names)
        found.names = tuple(name for name in names if name in authority.names)
        found.context = tls_context(*server_certificate(authority, addresses, found.names), folder)
    except AuthorityError as error:
        found.failed.append(str(error))
        return
    found.authority = authority
    places = []
    for address in addresses:
        try:
            listener = listening_at(address, port)
        except OSError as error:
            found.failed.append(f"cannot listen at {address}, port {port}: {error.strerror or error}")
            continue
        port = listener.getsockname()[1]
        found.sockets.append(listener)
        places.append(Place(address, port))
    found.places = tuple(places)
