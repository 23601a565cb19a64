"""The addresses that this machine has on networks of people's own."""

import ipaddress
import socket
from dataclasses import dataclass

import psutil
from django.conf import settings

_SHARED = ipaddress.ip_network("100.64.0.0/10")
_TO_OTHERS = ("docker", "veth", "br-", "virbr", "vmnet", "vboxnet")
"""Networks between a machine and its own guests: no phone is on them, so they come last."""


@dataclass(frozen=True)
class Address:
    """An address of this machine, and the name of the network's card that has it."""

    address: str
    card: str


def addresses() -> list[Address]:
    """Where phones of the same network reach this machine, the likeliest first.

    Those alone that no router hands on to the internet: a workshop is opened to its own network, not to the world.
    """
    up = {name for name, state in psutil.net_if_stats().items() if state.isup}
    found = [
        Address(one.address, card)
        for card, has in psutil.net_if_addrs().items()
        for one in has
        if one.family == socket.AF_INET and card in up and _own_network(one.address)
    ]
    if settings.SHARE_ON_LOOPBACK:
        found.append(Address("127.0.0.2", "this machine alone, to try it out"))
    return sorted(found, key=lambda one: (one.card.startswith(_TO_OTHERS), one.address.startswith("127.")))


def _own_network(address: str) -> bool:
    found = ipaddress.ip_address(address)
    return (found.is_private or found in _SHARED) and not found.is_loopback and not found.is_unspecified


def local_name() -> str:
    """What this machine may be called on its own network; "" where it has no name that is one."""
    name = socket.gethostname().partition(".")[0].lower()
    fits = name.isascii() and name.replace("-", "").isalnum() and name != "localhost" and len(name) < 64
    return f"{name}.local" if fits else ""
