"""Where a run stands, worked out from its log alone."""

import datetime
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal, Protocol
from uuid import UUID

from toadbell.core.answers import StageAnswer

Phase = Literal[
    "filling",
    "raising",
    "pausing",
    "at test",
    "holding",
    "held",
    "looking",
    "looked",
    "released",
    "vented",
    "emptied",
    "dried",
    "dumped",
    "over",
]
State = Literal["planned", "ready", "running", "held", "judged", "closed", "aborted"]
ON_THE_BENCH: tuple[State, ...] = ("running", "held")
AFTER = ("came-down", "looked", "released", "vent-open", "emptied", "dried")
"""What is done after the hold, in its order, under water."""
WATER_ALONE = frozenset({"vent-open", "emptied", "dried"})
"""What of it is done with water alone: air has gone when it is let go."""


def after_the_hold(medium: str, has_hold: bool = True) -> tuple[str, ...]:
    """What is done after a hold under a medium, in its order; after a trial without one there is no look."""
    steps = AFTER if medium == "water" else tuple(step for step in AFTER if step not in WATER_ALONE)
    return steps if has_hold else tuple(step for step in steps if step not in ("came-down", "looked"))


_PHASE_AFTER: dict[str, Phase] = {
    "came-down": "looking",
    "looked": "looked",
    "released": "released",
    "vent-open": "vented",
    "emptied": "emptied",
    "dried": "dried",
    "hold-ended": "held",
    "tried": "looked",
}


class Entry(Protocol):
    """An entry of the log: what was done, when, and what came with it."""

    @property
    def id(self) -> UUID: ...
    @property
    def at(self) -> datetime.datetime: ...
    @property
    def kind(self) -> str: ...
    @property
    def data(self) -> dict[str, Any]: ...


Span = tuple[datetime.datetime, datetime.datetime | None]
AS_GOOD_AS_OVER = datetime.timedelta(seconds=1)
"""A clock that shows whole seconds shows nought by then."""


@dataclass(frozen=True)
class RunState:
    """Where a run stands.

    reached      stages reached so far
    phase        what is being done
    since        when the phase began, the trial's time
    until        when the pause or the hold is over
    counted      since when strokes count from zero pressure, until when, and how many were made before
    hold         from shut-in to the end of the hold, the end None while it runs; None where none stands
    shut_in      pressure that was shut in, Pa
    hold_for     how long the hold is to be, s
    round        how often the run went back
    guards       those that tripped and were not answered
    medium       "water" or "air"
    has_hold     the kind of trial has a hold: a relief valve's has none
    """

    reached: int
    phase: Phase
    since: datetime.datetime
    until: datetime.datetime | None = None
    counted: tuple[datetime.datetime, datetime.datetime | None, int] | None = None
    hold: Span | None = None
    shut_in: float | None = None
    hold_for: float = 0.0
    round: int = 0
    guards: tuple[Entry, ...] = field(default=())
    medium: str = "water"
    has_hold: bool = True

    @property
    def over_from(self) -> datetime.datetime | None:
        """From when on a hold that runs is as good as over, and ends without a reason; None where none runs."""
        return self.until - AS_GOOD_AS_OVER if self.phase == "holding" and self.until else None


def run_state(
    entries: Iterable[Entry],
    stages: Sequence[StageAnswer],
    hold_for: float,
    state: State,
    began: datetime.datetime,
    now: datetime.datetime,
    medium: str = "water",
    has_hold: bool = True,
) -> RunState:
    """Where a run stands now.

    entries   of its log in order, without those that were taken back
    stages    of its frozen plan
    hold_for  the hold that the plan asks for, s
    state     of the trial
    began     when the run began; now  the trial's time
    medium    that the vessel is filled with
    has_hold  the kind of trial has one
    """
    stands = RunState(0, "filling", began, hold_for=hold_for, medium=medium, has_hold=has_hold)
    for entry in entries:
        stands = after(stands, entry, stages)
    if state == "aborted":
        return replace(stands, phase="dumped", until=None)
    if state == "closed":
        return replace(stands, phase="over", until=None)
    if stands.phase == "pausing" and stands.until is not None and now >= stands.until:
        return replace(stands, phase="raising", since=stands.until, until=None)
    return stands


def course_began(entries: Iterable[Entry]) -> datetime.datetime | None:
    """When the planned course begins: as the vent was shut last, or the run went back; filling takes as long as it
    takes. None before that.
    """
    return next((entry.at for entry in reversed(list(entries)) if entry.kind in ("vent-shut", "gone-back")), None)


def lit_at(entries: Iterable[Entry]) -> datetime.datetime | None:
    """When a boiler's fire was lit: as it was written down to be ready. None before that."""
    return next((entry.at for entry in reversed(list(entries)) if entry.kind == "ready-to-steam"), None)


def after(stands: RunState, entry: Entry, stages: Sequence[StageAnswer]) -> RunState:
    """Where the run stands after one more entry."""
    at, data = entry.at, entry.data
    if entry.kind == "vent-shut":
        return replace(
            stands, phase="raising", since=at, until=None, reached=0, counted=(at, None, data.get("strokes", 0))
        )
    if entry.kind == "stage-reached":
        return _reached(replace(stands, reached=stands.reached + 1), at, stages)
    if entry.kind == "shut-in":
        over = at + datetime.timedelta(seconds=stands.hold_for)
        if stands.counted and stands.counted[1] is None:
            stands = replace(stands, counted=(stands.counted[0], at, stands.counted[2]))
        return replace(stands, phase="holding", since=at, until=over, hold=(at, None), shut_in=data["pressure"])
    if entry.kind == "hold-set":
        over = stands.since + datetime.timedelta(seconds=data["seconds"])
        return replace(stands, hold_for=data["seconds"], until=over if stands.phase == "holding" else stands.until)
    if entry.kind == "hold-ended" or (entry.kind in ("dumped", "released") and stands.hold and stands.hold[1] is None):
        stands = replace(stands, hold=(stands.hold[0], at) if stands.hold else None)
    if entry.kind == "gone-back":
        return _gone_back(stands, entry)
    if entry.kind == "guard":
        return replace(stands, guards=(*stands.guards, entry))
    if entry.kind == "guard-answered":
        return replace(stands, guards=tuple(guard for guard in stands.guards if str(guard.id) != data["guard"]))
    then = _PHASE_AFTER.get(entry.kind)
    return stands if then is None else replace(stands, phase=then, since=at, until=None)


def _gone_back(stands: RunState, back: Entry) -> RunState:
    """Down to a stage, or to nothing. Whatever was held is void, and the guards of that round with it."""
    return replace(
        stands,
        phase="filling" if back.data["vent"] else "raising",
        since=back.at,
        until=None,
        reached=back.data["to"],
        hold=None,
        shut_in=None,
        round=stands.round + 1,
        guards=(),
        counted=_counted_after(stands, back),
    )


def _counted_after(stands: RunState, back: Entry) -> tuple[datetime.datetime, datetime.datetime | None, int] | None:
    """Down to nothing the strokes count anew; down to a stage what was let out was not counted, and the curve ends
    there.
    """
    if back.data["vent"]:
        return None
    if back.data["to"] == 0:
        return back.at, None, back.data.get("strokes", 0)
    return (stands.counted[0], stands.counted[1] or back.at, stands.counted[2]) if stands.counted else None


def _reached(stands: RunState, at: datetime.datetime, stages: Sequence[StageAnswer]) -> RunState:
    if stands.reached >= len(stages):
        return replace(stands, phase="at test", since=at, until=None)
    pause = stages[stands.reached - 1].pause
    return replace(stands, phase="pausing", since=at, until=at + datetime.timedelta(seconds=pause))
