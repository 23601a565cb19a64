"""Where a run's low holds stand: one before the test hold, one after it; begun, going, over, or left out."""

import datetime
from collections.abc import Sequence
from dataclasses import dataclass

from toadbell.core.run.phases import Entry

STIRS = frozenset(
    {"strokes", "stage-reached", "shut-in", "gone-back", "low-hold", "came-down", "released", "dumped", "valves"}
)
"""Entries that end a low hold."""


@dataclass(frozen=True)
class LowStands:
    """The low holds of the round that goes on.

    going          the one that goes on now, by when it began; None where none does
    before, after  was one begun before the test hold, and after it
    pumped         was anything pumped since the stage that stands was reached
    """

    going: datetime.datetime | None = None
    before: bool = False
    after: bool = False
    pumped: bool = False


def low_stands(entries: Sequence[Entry]) -> LowStands:
    """Where they stand by the log; what came before the run last went back is of another round."""
    back = max((n for n, entry in enumerate(entries) if entry.kind == "gone-back"), default=-1)
    found = LowStands()
    for n, entry in enumerate(entries[back + 1 :], back + 1):
        if entry.kind == "low-hold":
            held = any(before.kind == "hold-ended" for before in entries[back + 1 : n])
            ended = any(later.kind in STIRS for later in entries[n + 1 :])
            found = LowStands(
                going=None if ended else entry.at, before=found.before or not held, after=found.after or held
            )
        elif entry.kind in ("strokes", "stage-reached"):
            found = LowStands(found.going, found.before, found.after, pumped=entry.kind == "strokes")
    return found
