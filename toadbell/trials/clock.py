"""The time that runs go by: the machine's own steady clock, which nobody puts forward or back, laid beside the wall's
once.

A wall clock that is put right in the middle of a hold would lengthen or shorten it, and the judge would see a leak of
another size.
So while anything is on the bench time goes on steadily; that the wall's clock was put forward or back is seen, logged
and said.
"""

import datetime
import json
import os
import time
from pathlib import Path
from typing import NamedTuple

from django.conf import settings

STEP = 2.0
"""The wall's clock may be off by so many s before it counts as having been put forward or back; it is drawn right by
less all the time.
"""
_LAID = settings.DATA_DIR / "clock"
_BOOT = Path("/proc/sys/kernel/random/boot_id")
_FAKE = os.environ.get("TOADBELL_WALL_SHIFT")
"""A file that holds s by which the wall's clock is shifted: how a step is tried without putting the machine's clock
wrong.
"""


class _Beside(NamedTuple):
    """How the wall's clock lay beside the steady one: of which start of the machine, and by how many s."""

    boot: str
    offset: float


def now() -> datetime.datetime:
    """Now, as the runs on this machine count it. Every process agrees."""
    return datetime.datetime.fromtimestamp(steady() + _beside().offset, datetime.UTC)


def off() -> float:
    """By how many s the wall's clock is ahead of the runs' by now; 0 while nobody has put it forward or back."""
    found = wall() - steady() - _beside().offset
    return found if abs(found) > STEP else 0.0


def follow_the_wall() -> None:
    """Lay the two beside each other anew: where nothing is on the bench, and after the machine was started."""
    _lay(_Beside(boot(), wall() - steady()))


def go_on_after(latest: datetime.datetime | None, on_the_bench: bool) -> None:
    """At the start of the application.

    A run of this start of the machine goes on steadily; else the wall's clock is taken.

    latest  the last thing that was stored: time does not go back behind it
    """
    kept = _read()
    if on_the_bench and kept is not None and kept.boot == boot():
        return
    least = latest.timestamp() if latest and on_the_bench else 0.0
    _lay(_Beside(boot(), max(wall(), least) - steady()))


def steady() -> float:
    """The machine's steady clock, s; it goes on while the machine sleeps, where the system has such a one."""
    return time.clock_gettime(time.CLOCK_BOOTTIME) if hasattr(time, "CLOCK_BOOTTIME") else time.monotonic()


def wall() -> float:
    """The wall's clock, s since 1970."""
    if _FAKE:
        try:
            return time.time() + float(Path(_FAKE).read_text())
        except (OSError, ValueError):
            return time.time()
    return time.time()


def boot() -> str:
    """Which start of the machine this is."""
    try:
        return _BOOT.read_text().strip()
    except OSError:
        return f"process {os.getppid()}"


_known: tuple[int, _Beside] | None = None


def _beside() -> _Beside:
    """As it was laid, read again where another process laid it anew."""
    global _known
    try:
        stamp = _LAID.stat().st_mtime_ns
    except OSError:
        stamp = 0
    if _known is None or _known[0] != stamp:
        _known = stamp, _read() or _Beside(boot(), wall() - steady())
    return _known[1]


def _read() -> _Beside | None:
    try:
        found = json.loads(_LAID.read_text())
        return _Beside(str(found["boot"]), float(found["offset"]))
    except (OSError, ValueError, KeyError, TypeError):
        return None


def _lay(beside: _Beside) -> None:
    part = _LAID.with_name(f"clock-{os.getpid()}.part")
    part.write_text(json.dumps(beside._asdict()))
    part.replace(_LAID)
