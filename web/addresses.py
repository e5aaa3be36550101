"""Whose address a request comes from, where proxies that are trusted stand between."""

from __future__ import annotations

import ipaddress
from collections.abc import Mapping, Sequence
from typing import Any

Network = ipaddress.IPv4Network | ipaddress.IPv6Network


def networks(named: Sequence[str]) -> list[Network]:
    """The networks of some addresses, or of ranges such as 10.0.0.0/8."""
    return [ipaddress.ip_network(network) for network in named]


def is_trusted(address: str, trusted: Sequence[Network]) -> bool:
    return is_address(address) and any(ipaddress.ip_address(address) in network for network in trusted)


def is_address(text: str) -> bool:
    try:
        ipaddress.ip_address(text)
    except ValueError:
        return False
    return True


def client_address(meta: Mapping[str, Any], trusted: Sequence[Network]) -> str:
    """The client's address: the nearest that no trusted proxy has, where a trusted proxy says it; else whoever connected."""
    near = str(meta.get("REMOTE_ADDR") or "")
    if not is_trusted(near, trusted):
        return near
    hops = [hop.strip() for hop in str(meta.get("HTTP_X_FORWARDED_FOR") or "").split(",") if hop.strip()]
    client = next((hop for hop in reversed(hops) if not is_trusted(hop, trusted)), None)
    return client if client is not None and is_address(client) else near
