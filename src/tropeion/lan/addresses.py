"""The addresses of one's own network: those that no router carries to the outside."""

from __future__ import annotations

import ipaddress
import socket
from typing import Final

import psutil

from tropeion.core.frozen import frozen

Network = ipaddress.IPv4Network | ipaddress.IPv6Network
Address = ipaddress.IPv4Address | ipaddress.IPv6Address

# RFC 1918, 3927 and 1122; RFC 4193 and 4291. Python's ``is_private`` also takes documentation and benchmark ranges.
PRIVATE: Final[tuple[Network, ...]] = tuple(
    ipaddress.ip_network(text)
    for text in (
        "10.0.0.0/8",
        "172.16.0.0/12",
        "192.168.0.0/16",
        "169.254.0.0/16",
        "127.0.0.0/8",
        "fc00::/7",
        "fe80::/10",
    )
)


class NotPrivateError(ValueError):
    """An address that is not one of a network of one's own."""


def private_address(text: str) -> Address:
    """The address that ``text`` writes. Raises NotPrivateError for any that is not of a network of one's own."""
    try:
        address = ipaddress.ip_address(text.strip().removeprefix("[").removesuffix("]"))
    except ValueError:
        raise NotPrivateError(f"{text!r} is no address: write one like 192.168.0.7, not a name") from None
    if not any(address in network for network in PRIVATE):
        ranges = ", ".join(str(network) for network in PRIVATE)
        raise NotPrivateError(f"{address} is no address of a network of your own: allowed are {ranges}")
    return address


def addresses_here() -> tuple[Address, ...]:
    """The addresses of this machine by which a phone can reach it.

    Loopback is for this machine alone, and no browser opens a link-local address of version 6, which needs a zone.
    """
    up = {name for name, stands in psutil.net_if_stats().items() if stands.isup}
    found: dict[Address, None] = {}
    for name, ends in psutil.net_if_addrs().items():
        for end in ends if name in up else ():
            if end.family not in {socket.AF_INET, socket.AF_INET6}:
                continue
            try:
                address = private_address(end.address)
            except NotPrivateError:
                continue
            if not address.is_loopback and not (address.version == 6 and address.is_link_local):
                found[address] = None
    return tuple(found)


def names_here() -> tuple[str, ...]:
    """The names by which this machine may be found in its network."""
    name = socket.gethostname().partition(".")[0].lower()
    fit = name.isascii() and name != "localhost" and all(part.isalnum() for part in name.split("-")) and len(name) < 60
    return (name, f"{name}.local") if fit else ()


@frozen
class Place:
    """Where a listener stands."""

    address: Address
    port: int

    @property
    def host(self) -> str:
        """As an address of a page names it."""
        return f"[{self.address}]" if self.address.version == 6 else str(self.address)

    @property
    def url(self) -> str:
        return f"https://{self.host}:{self.port}/"


def listening_at(address: Address, port: int) -> socket.socket:
    """A socket that listens there; ``port`` 0 takes any free one. Raises OSError."""
    family = socket.AF_INET6 if address.version == 6 else socket.AF_INET
    listener = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    try:
        listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        if family == socket.AF_INET6:
            listener.setsockopt(socket.IPPROTO_IPV6, socket.IPV6_V6ONLY, 1)
        found = socket.getaddrinfo(str(address), port, family, socket.SOCK_STREAM, 0, socket.AI_NUMERICHOST)
        listener.bind(found[0][4])
        listener.listen(128)
    except (OSError, OverflowError) as error:
        listener.close()
        if isinstance(error, OSError):
            raise
        raise OSError(str(error)) from None
    return listener
