"""A first steam on the bench: what it proves so far, how far behind it is, what its readings trip, and whether it may
begin.
"""

import datetime
import math

from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.steam import SteamAnswer
from toadbell.core.ledger.before_a_proof import may_steam, may_take_gas
from toadbell.core.plan.heating import reached_at
from toadbell.core.procedures import PROCEDURES, steam
from toadbell.core.procedures.tightness import TIGHTNESS
from toadbell.core.run.guard import gauge_stuck
from toadbell.core.run.observed import observed
from toadbell.core.run.phases import RunState, lit_at
from toadbell.core.sheets.steam import Reading as Read
from toadbell.trials.bench.kept_log import kept_log
from toadbell.trials.judge.ledger import ledger_now
from toadbell.trials.models import Event, Finding, Reading, Trial
from toadbell.trials.plan.frozen import Plan, plan_of

MOST_READINGS = 400
"""Of more readings than that every so manieth is judged, and the highest."""
LAST = 60
"""Readings that are looked at for a gauge that stands."""
TWICE = 2
"""Gauge and thermometer have to contradict each other so often in a row."""
LIGHT = 0.2e5
"""Under that the gauge has hardly left its stop, Pa."""


def barred(trial: Trial) -> str | None:
    """Why steam, or gas near its full pressure, may not be let in: its cold proof does not stand.

    None where it may, and for other trials.
    """
    answer = plan_of(trial).answer
    if answer.procedure == "steam":
        return may_steam(ledger_now(trial.vessel), answer.working_pressure)
    if answer.procedure == TIGHTNESS.id and answer.medium == "air":
        return may_take_gas(ledger_now(trial.vessel), answer.test_pressure, answer.working_pressure)
    return None


def steam_of(trial: Trial, plan: Plan, events: list[Event]) -> SteamAnswer | None:
    """What a first steam proves so far; None for any other trial."""
    if plan.answer.procedure != "steam":
        return None
    seen = {what: observed(events, what) for what in PROCEDURES["steam"].instruments}
    leaking = Finding.of(trial).exclude(owner="rig").filter(mended_at=None).exists()
    return steam.judged(plan.sheet, plan.answer, seen, _readings(trial, events), leaking)


def _readings(trial: Trial, events: list[Event]) -> list[Read]:
    """Gauge and thermometer since the vent was shut, till the fire was out."""
    began = next((event.at for event in reversed(events) if event.kind == "vent-shut"), None)
    if began is None:
        return []
    over = next((event.at for event in reversed(events) if event.kind in ("tried", "dumped")), None)
    kept = kept_log(trial)
    begin = kept.since(began)
    end = len(kept) if over is None else kept.since(over + datetime.timedelta(microseconds=2))
    if begin >= end:
        return []
    highest = max(range(begin, end), key=lambda n: kept.pressures[n])
    zero = (began - kept.began).total_seconds()
    return [
        Read.model_construct(
            pressure=kept.pressures[n],
            temperature=None if math.isnan(kept.temperatures[n]) else kept.temperatures[n],
            time=max(0.0, kept.times[n] - zero),
        )
        for n in (*range(begin, end, max(1, (end - begin) // MOST_READINGS)), highest)
        if kept.pressures[n] > 0
    ]


def behind(trial: Trial, answer: DeriveAnswer, events: list[Event], stands: RunState) -> float | None:
    """How far it is behind the soonest that its burner could bring it up, s; None where that is not known, or nothing
    shows pressure yet.
    """
    lit = lit_at(events)
    seen = trial.readings.filter(imported=None).order_by("-at").first()
    if answer.heating is None or lit is None or seen is None or stands.phase not in ("raising", "pausing"):
        return None
    if seen.pressure <= LIGHT or seen.at < lit:
        return None
    return (seen.at - lit).total_seconds() - reached_at(answer.heating, seen.pressure)


def tripped_by(trial: Trial, plan: Plan, stands: RunState, before: Reading | None, live: list[Reading]) -> str | None:
    """The guard that fresh readings trip beside the heights: gauge and thermometer that contradict each other twice
    running, or a gauge that stands.
    """
    if stands.phase not in ("raising", "pausing", "at test"):
        return None
    pairs = [one for one in ([before] if before else []) + live if one.pressure >= LIGHT][-TWICE:]
    if len(pairs) == TWICE and all(steam.cannot_both_be(plan.sheet, one.pressure, one.temperature) for one in pairs):
        return "witnesses"
    lifted = any(
        event.kind == "observed" and event.data.get("what") == "steam-lift" for event in trial.effective_events()
    )
    if lifted:
        return None  # the valve holds it where it is
    rows = trial.readings.filter(at__gte=stands.since, imported=None).order_by("-at")[:LAST]
    found = list(reversed(rows.values_list("at", "pressure", "temperature")))
    times = [(at - found[0][0]).total_seconds() for at, _, _ in found]
    step = (plan.sheet.gauge.readable if plan.sheet.gauge else None) or 0.005 * plan.answer.test_pressure
    stuck = gauge_stuck(times, [p for _, p, _ in found], [t for _, _, t in found], step)
    return "gauge-stuck" if stuck else None
