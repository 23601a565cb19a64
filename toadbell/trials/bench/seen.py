"""What is open on a run, as its readings, its leaks and its log show: what the headline of the bench goes by."""

import datetime
from collections.abc import Sequence

from toadbell.core.phrases import Said
from toadbell.core.run.headline import Seen
from toadbell.core.run.log_text import ended_says
from toadbell.core.run.phases import RunState
from toadbell.trials.bench.guards import may_rise
from toadbell.trials.models import Event, Finding, Reading, Source, Trial
from toadbell.trials.plan.frozen import Plan

RAISED = frozenset({"raising", "pausing", "at test", "holding"})
"""Phases of which every reading since the vessel was closed, or let go, tells: pressure does not go by itself."""


def seen_of(trial: Trial, plan: Plan, stands: RunState, events: Sequence[Event], latest: Reading | None) -> Seen:
    """What is open on a run. latest  the last reading of its own sources"""
    error = reading_error(plan)
    let_go = next((e.at for e in reversed(events) if e.kind in ("vent-shut", "gone-back")), None)
    since = let_go if stands.phase in RAISED else stands.since
    fresh = latest is not None and (since is None or latest.at >= since)
    over = ended_at(events)
    return Seen(
        read=latest.pressure if latest is not None and fresh else None,
        error=error,
        leaks=tuple(dict.fromkeys(leak.where for leak in _open_leaks(trial))),
        failed=any(e.kind == "observed" and e.data.get("what") == "failure" for e in events),
        zero=over is not None and (trial.source == Source.RIG or zero_read(trial, over, error)),
        may_rise=may_rise(plan.answer, stands),
    )


def reading_error(plan: Plan) -> float:
    """How far short of a target a reading may be and still be it, Pa: what the gauge can tell, else half a per cent."""
    return (plan.sheet.gauge.readable if plan.sheet.gauge else None) or 0.005 * plan.answer.test_pressure


def ended(trial: Trial, plan: Plan, events: Sequence[Event]) -> Said | None:
    """How a run ended that was dumped or failed, and whether its zero was read; None of one that went as planned."""
    over = ended_at(events)
    if over is None:
        return None
    dumped = any(event.kind == "dumped" or event.data.get("dumped") for event in events)
    zero = trial.source == Source.RIG or zero_read(trial, over, reading_error(plan))
    return ended_says(dumped, plan.answer.procedure == "steam", zero)


def ended_at(events: Sequence[Event]) -> datetime.datetime | None:
    """When the run was dumped, or it was written down that it failed; None where neither was."""
    return next((e.at for e in reversed(events) if _ends(e)), None)


def _ends(event: Event) -> bool:
    failed = event.kind == "observed" and event.data.get("what") == "failure"
    return event.kind == "dumped" or failed or (event.kind == "released" and bool(event.data.get("dumped")))


def zero_read(trial: Trial, since: datetime.datetime, error: float) -> bool:
    """Was zero read since?"""
    return trial.readings.filter(at__gte=since, pressure__lte=error, imported=None).exists()


def _open_leaks(trial: Trial) -> list[Finding]:
    """Leaks of the vessel itself that nothing was done about, whichever round found them."""
    return list(Finding.of(trial).filter(owner="boundary", mended_at=None))
