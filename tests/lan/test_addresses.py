"""Which addresses are of a network of one's own."""

from __future__ import annotations

import ipaddress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tropeion.lan.addresses import PRIVATE, NotPrivateError, Place, addresses_here, names_here, private_address

NETWORKS = ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8", "fc00::/7", "fe80::/10")


@pytest.mark.parametrize(
    "text",
    ["10.0.0.1", "172.31.255.255", "192.168.1.20", "169.254.7.7", "127.0.0.2", "fd12::5", "[fd12::5]", "fe80::1%2"],
)
def test_allowed(text: str) -> None:
    assert str(private_address(text)) == text.strip("[]")


@pytest.mark.parametrize(
    "text",
    [
        "192.0.2.1",  # documentation
        "198.51.100.7",
        "203.0.113.9",
        "2001:db8::1",
        "198.18.0.1",  # benchmarks
        "100.64.0.1",  # shared by a provider
        "172.32.0.1",
        "11.0.0.1",
        "0.0.0.0",
        "::",
        "::1",
        "::ffff:10.0.0.1",
        "224.0.0.1",
        "255.255.255.255",
        "nave.local",
        "10.0.0",
        "10.0.0.1:8464",
        "",
    ],
)
def test_refused(text: str) -> None:
    with pytest.raises(NotPrivateError):
        private_address(text)


@given(st.ip_addresses())
def test_an_address_is_private_by_the_list_and_nothing_else(
    address: ipaddress.IPv4Address | ipaddress.IPv6Address,
) -> None:
    inside = any(
        address in network for network in map(ipaddress.ip_network, NETWORKS) if network.version == address.version
    )
    try:
        private_address(str(address))
        taken = True
    except NotPrivateError:
        taken = False
    assert taken == inside


def test_what_is_found_here_is_allowed_and_reachable() -> None:
    for address in addresses_here():
        assert private_address(str(address)) == address
        assert not address.is_loopback
    assert [str(network) for network in PRIVATE] == list(NETWORKS)
    assert all(name == name.lower() and " " not in name for name in names_here())


def test_an_address_of_version_six_stands_in_brackets() -> None:
    assert Place(private_address("fd12::5"), 8464).url == "https://[fd12::5]:8464/"
    assert Place(private_address("10.0.0.7"), 8464).url == "https://10.0.0.7:8464/"
