"""Who sits at the other end of a connection on this machine."""

import ipaddress
import os
from pathlib import Path

_TABLES = (Path("/proc/net/tcp"), Path("/proc/net/tcp6"))
_ESTABLISHED = "01"
End = tuple[str, int]


def tells_who() -> bool:
    """Does this system tell which user owns a connection? Linux does."""
    return _TABLES[0].exists()


def same_user(near: End, far: End) -> bool:
    """Is the user who runs this process the one whose connection goes from `near` (the caller's end) to `far`
    (ours)?
    """
    return user_of(near, far) == os.getuid()


def user_of(near: End, far: End, tables: tuple[Path, ...] = _TABLES) -> int | None:
    """Id of the user who owns the end `near` of a connection to `far`; None where the system does not tell.

    Source: proc(5), /proc/net/tcp: addresses as hexadecimal words in the machine's byte order, the user's id in the
    eighth column.
    """
    wanted = (_normal(near), _normal(far))
    for table in tables:
        try:
            lines = table.read_text().splitlines()[1:]
        except OSError:
            continue
        for line in lines:
            words = line.split()
            if words[3] == _ESTABLISHED and (_read(words[1]), _read(words[2])) == wanted:
                return int(words[7])
    return None


def loopback(address: str) -> bool:
    """Is it an address of this machine alone?"""
    try:
        return _plain(ipaddress.ip_address(address)).is_loopback
    except ValueError:
        return False


def _plain(address: ipaddress.IPv4Address | ipaddress.IPv6Address) -> ipaddress.IPv4Address | ipaddress.IPv6Address:
    return getattr(address, "ipv4_mapped", None) or address


def _normal(end: End) -> tuple[str, int] | None:
    try:
        return str(_plain(ipaddress.ip_address(end[0]))), end[1]
    except ValueError:
        return None


def _read(text: str) -> tuple[str, int]:
    address, _, port = text.partition(":")
    data = bytes.fromhex(address)
    turned = b"".join(data[n : n + 4][::-1] for n in range(0, len(data), 4))
    return str(_plain(ipaddress.ip_address(turned))), int(port, 16)
