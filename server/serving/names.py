"""The names under which a server that listens on an address can be reached."""

from __future__ import annotations

import ipaddress
import socket
from collections.abc import Sequence

_LOCAL = ["127.0.0.1", "localhost", "::1"]


def reached_as(host: str, given: Sequence[str]) -> list[str]:
    """The names and addresses, the best one to print first: those given, then what `host` stands for."""
    found = list(given)
    if _is_any(host):
        found += [*_own_addresses(), socket.gethostname()]
    elif host not in _LOCAL:
        found.append(host)
    return list(dict.fromkeys([*found, *([host] if host in _LOCAL else []), *_LOCAL]))


def in_address(name: str) -> str:
    """A name as it stands in an address: IPv6 in brackets."""
    return f"[{name}]" if ":" in name else name


def _is_any(host: str) -> bool:
    try:
        return ipaddress.ip_address(host).is_unspecified
    except ValueError:
        return host == ""


def _own_addresses() -> list[str]:
    """This machine's addresses as others see them: first the one that it would speak from."""
    found = []
    for family, elsewhere in ((socket.AF_INET, "192.0.2.1"), (socket.AF_INET6, "2001:db8::1")):
        try:
            with socket.socket(family, socket.SOCK_DGRAM) as speaking:
                speaking.connect((elsewhere, 9))  # nothing is sent: it only chooses an address
                found.append(speaking.getsockname()[0])
        except OSError:
            continue
    try:
        rows = socket.getaddrinfo(socket.gethostname(), None)
    except OSError:
        rows = []
    return [address for address in dict.fromkeys([*found, *(str(row[4][0]) for row in rows)]) if "%" not in address]
