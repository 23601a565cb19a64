"""Where a run stands, worked out from its events alone."""

import datetime
from dataclasses import dataclass, field, replace
from typing import Any

from toadbell.core.answers import DeriveAnswer
from toadbell.trials import clock
from toadbell.trials.models import Event, State, Trial
from toadbell.trials.plan.frozen import plan_of

AFTER = ("came-down", "looked", "released", "vent-open", "emptied", "dried")
"""What is done after the hold, in its order."""
_PHASE_AFTER = {
    "came-down": "looking", "looked": "looked", "released": "released", "vent-open": "vented", "emptied": "emptied", "dried": "dried",
}  # fmt: skip


@dataclass(frozen=True)
class RunState:
    """Where a run stands.

    reached      stages reached so far
    phase        "filling", "raising", "pausing", "at test", "holding", "held", "looking", "looked", "released", "vented", "emptied", "dried",
                 "dumped" or "over"
    since        when the phase began, the trial's time
    until        when the pause or the hold is over
    counted      since when strokes count from zero pressure, until when, and how many were made before
    hold         from shut-in to the end of the hold, the end None while it runs; None where none stands
    shut_in      pressure that was shut in, Pa
    round        how often the run went back
    """

    reached: int
    phase: str
    since: datetime.datetime
    until: datetime.datetime | None = None
    counted: tuple[datetime.datetime, datetime.datetime | None, int] | None = None
    hold: tuple[datetime.datetime, datetime.datetime | None] | None = None
    shut_in: float | None = None
    hold_for: float = 0.0
    round: int = 0
    guards: tuple[Event, ...] = field(default=())


def run_state(trial: Trial, events: list[Event] | None = None) -> RunState:
    """Where the run stands now."""
    _, answer = plan_of(trial)
    done = trial.effective_events() if events is None else events
    stands = RunState(0, "filling", trial.started_at or clock.now(), hold_for=answer.hold.minimum)
    for event in done:
        stands = _after(stands, event, answer)
    if trial.state == State.ABORTED:
        return replace(stands, phase="dumped", until=None)
    if trial.state == State.CLOSED:
        return replace(stands, phase="over", until=None)
    if stands.phase == "pausing" and stands.until is not None and trial.now() >= stands.until:
        return replace(stands, phase="raising", since=stands.until, until=None)
    return stands


def _after(stands: RunState, event: Event, answer: DeriveAnswer) -> RunState:
    """Where the run stands after one more event."""
    at, data = event.at, event.data
    if event.kind == "vent-shut":
        return replace(stands, phase="raising", since=at, until=None, reached=0, counted=(at, None, data.get("strokes", 0)))
    if event.kind == "stage-reached":
        return _reached(replace(stands, reached=stands.reached + 1), at, answer)
    if event.kind == "shut-in":
        over = at + datetime.timedelta(seconds=stands.hold_for)
        if stands.counted and stands.counted[1] is None:
            stands = replace(stands, counted=(stands.counted[0], at, stands.counted[2]))
        return replace(stands, phase="holding", since=at, until=over, hold=(at, None), shut_in=data["pressure"])
    if event.kind == "hold-set":
        over = stands.since + datetime.timedelta(seconds=data["seconds"])
        return replace(stands, hold_for=data["seconds"], until=over if stands.phase == "holding" else stands.until)
    if event.kind == "hold-ended" or (event.kind in ("dumped", "released") and stands.hold and stands.hold[1] is None):
        stands = replace(stands, hold=(stands.hold[0], at) if stands.hold else None)
    if event.kind == "gone-back":
        phase = "filling" if data["vent"] else "raising"
        return replace(
            stands, phase=phase, since=at, until=None, reached=data["to"], hold=None, shut_in=None, round=stands.round + 1, guards=(),
            counted=_counted_after(stands, event),
        )  # fmt: skip
    if event.kind == "guard":
        return replace(stands, guards=(*stands.guards, event))
    if event.kind == "guard-answered":
        return replace(stands, guards=tuple(g for g in stands.guards if str(g.id) != data["guard"]))
    then = {"hold-ended": "held", **_PHASE_AFTER}.get(event.kind)
    return stands if then is None else replace(stands, phase=then, since=at, until=None)


def _counted_after(stands: RunState, back: Event) -> tuple[datetime.datetime, datetime.datetime | None, int] | None:
    """Down to nothing the strokes count anew; down to a stage what was let out was not counted, and the curve ends there."""
    if back.data["vent"]:
        return None
    if back.data["to"] == 0:
        return back.at, None, back.data.get("strokes", 0)
    return (stands.counted[0], stands.counted[1] or back.at, stands.counted[2]) if stands.counted else None


def _reached(stands: RunState, at: datetime.datetime, answer: DeriveAnswer) -> RunState:
    if stands.reached >= len(answer.stages):
        return replace(stands, phase="at test", since=at, until=None)
    pause = answer.stages[stands.reached - 1].pause
    return replace(stands, phase="pausing", since=at, until=at + datetime.timedelta(seconds=pause))


def findings(events: list[Event]) -> list[dict[str, Any]]:
    """The leaks that were found, each with what was done about it since: oldest first, as they stand."""
    found: dict[str, dict[str, Any]] = {}
    for event in events:
        if event.kind == "leak":
            found[str(event.id)] = {"id": event.id, "at": event.at, **event.data, "mend": None, "mended_at": None}
        elif event.kind == "mended" and event.data["leak"] in found:
            found[event.data["leak"]] |= {"mend": event.data["did"], "mended_at": event.at}
    return list(found.values())
