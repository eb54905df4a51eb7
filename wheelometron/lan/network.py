"""The addresses that this machine has in local networks."""

from __future__ import annotations

import socket
from ipaddress import ip_address, ip_network

import ifaddr

NETWORKS = tuple([ip_network(item) for item in ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "127.0.0.0/8")])
"""Private addresses (RFC 1918) and loopback."""


def is_local(address: str) -> bool:
    """Whether it is a private address or loopback.

    >>> is_local("192.168.1.20"), is_local("127.0.0.1"), is_local("203.0.113.9"), is_local("somewhere")
    (True, True, False, False)
    """
    try:
        return any(ip_address(address) in network for network in NETWORKS)
    except ValueError:
        return False


def local_addresses() -> list[str]:
    """Private IPv4 addresses of this machine, but for its own loopback."""
    every = [item.ip for adapter in ifaddr.get_adapters() for item in adapter.ips if isinstance(item.ip, str)]
    return list(dict.fromkeys([item for item in every if is_local(item) and not ip_address(item).is_loopback]))


def host_name() -> str:
    """What this machine is called, without its domain."""
    return socket.gethostname().partition(".")[0].lower() or "localhost"
