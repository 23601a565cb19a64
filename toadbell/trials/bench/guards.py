"""The guards of a frozen plan, watching every reading as it is stored."""

import time

from toadbell.core.answers import DeriveAnswer, Guard
from toadbell.core.phrases import Said
from toadbell.core.procedures.gas_head import BREATHES, GAS_HEAD
from toadbell.core.run import guard as rules
from toadbell.core.run.phases import RunState
from toadbell.core.sheets import VesselSheet
from toadbell.shed.models import Maker
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.bench.steaming import tripped_by
from toadbell.trials.bench.stroke_analysis import strokes_answer
from toadbell.trials.models import Reading, Trial
from toadbell.trials.plan.frozen import plan_of

PUMPING = ("raising", "pausing", "at test")


def watch(trial: Trial, fresh: list[Reading]) -> None:
    """Look at readings that were just stored, and log each guard that they trip."""
    live = [reading for reading in fresh if reading.imported_id is None]
    if not live:
        return
    sheet, answer = plan_of(trial)
    before = trial.readings.filter(at__lt=live[0].at, imported=None).order_by("-at").first()
    stands = run_state(trial)
    if stands.phase == "dumped":
        return  # it is released already
    _by_height(trial, answer, before, live, may_rise(answer, stands))
    if answer.procedure == "steam":
        code = tripped_by(trial, plan_of(trial), stands, before, live)
        found = guard_of(answer, code) if code else None
        if found is not None and not _answered(trial, found.code, stands):
            trip(trial, found, live[-1])
        return
    if stands.phase == "holding":
        _warming(trial, sheet, answer, stands, live[-1])
    elif stands.phase in PUMPING and stands.counted:
        if _pumped_on(before, live):
            _falling(trial, sheet, answer, [before, *live] if before else live)
        _strokes(trial, answer, stands, live[-1])


def trip(trial: Trial, found: Guard, reading: Reading | None, maker: Maker | None = None) -> None:
    """Log a guard, once while it stands unanswered."""
    stands = run_state(trial)
    if any(event.data["code"] == found.code for event in stands.guards):
        return
    trial.log(
        "guard",
        maker or trial.planned_by,
        at=reading.at if reading else None,
        code=found.code,
        does=found.does,
        says=_kept(found.says),
        limit=found.limit,
        pressure=reading.pressure if reading else None,
    )


def _kept(says: str) -> object:
    """A guard's sentence as it stands in the log: said anew to each who reads it."""
    return says.kept() if isinstance(says, Said) else says


def guard_of(answer: DeriveAnswer, code: str) -> Guard | None:
    """A guard of the frozen plan by its code."""
    return next((one for one in answer.guards if one.code == code), None)


def may_rise(answer: DeriveAnswer, stands: RunState) -> float:
    """How far over its band it may rise by itself now, as a multiple: a gas head by day, while it is shut in."""
    if answer.procedure != GAS_HEAD.id or stands.phase != "holding":
        return 1.0
    return BREATHES * answer.gauge_target / answer.target_band[1]


def _by_height(trial: Trial, answer: DeriveAnswer, before: Reading | None, live: list[Reading], rise: float) -> None:
    """Over the band or the ceiling, however short: every reading counts, not the last alone."""
    was = rules.over_limit(answer.guards, before.pressure / rise) if before else None
    for reading in live:
        now = rules.over_limit(answer.guards, reading.pressure / rise)
        if now is not None and (was is None or (now.limit or 0.0) > (was.limit or 0.0)):
            trip(trial, now, reading)
        was = now


def _pumped_on(before: Reading | None, live: list[Reading]) -> bool:
    counts = [reading.strokes or 0 for reading in ([before] if before else []) + live]
    return counts[-1] > counts[0]


def _step(sheet: VesselSheet, answer: DeriveAnswer) -> float:
    return (sheet.gauge.readable if sheet.gauge else None) or 0.005 * answer.test_pressure


def _falling(trial: Trial, sheet: VesselSheet, answer: DeriveAnswer, readings: list[Reading]) -> None:
    counted = [reading for reading in readings if reading.strokes is not None]
    pressures, strokes = [r.pressure for r in counted], [r.strokes or 0 for r in counted]
    found = guard_of(answer, "falling")
    if found and rules.falls_while_pumping(pressures, strokes, _step(sheet, answer)):
        trip(trial, found, counted[-1])


def _warming(trial: Trial, sheet: VesselSheet, answer: DeriveAnswer, stands: RunState, last: Reading) -> None:
    found = guard_of(answer, "warming")
    if found is None or found.limit is None or stands.hold is None or _answered(trial, "warming", stands):
        return
    rows = list(
        trial.readings.filter(at__gte=stands.hold[0], imported=None).order_by("-at").values_list("at", "pressure")[:600]
    )[::-1]
    times, pressures = [(at - rows[0][0]).total_seconds() for at, _ in rows], [pressure for _, pressure in rows]
    if rules.warms_to(found.limit, answer.gauge_target, times, pressures, _step(sheet, answer)):
        trip(trial, found, last)


LOOKED_EVERY = 1.0
"""A raising that a logger follows is weighed so often, s; what is read from a dial is weighed each time."""
_looked: dict[object, tuple[int, float]] = {}


def _strokes(trial: Trial, answer: DeriveAnswer, stands: RunState, last: Reading) -> None:
    """Weigh the raising where strokes were made since it was weighed last."""
    made, now = last.strokes or 0, time.monotonic()
    before = _looked.get(trial.pk)
    often = last.device_id is not None and before is not None and now - before[1] < LOOKED_EVERY
    if before and made >= before[0] and (made == before[0] or often):
        return
    _looked[trial.pk] = made, now
    told = strokes_answer(trial, stands)
    found = rules.by_strokes(answer.guards, told) if told else None
    if found is not None and not _answered(trial, found.code, stands):
        trip(trial, found, last)


def _answered(trial: Trial, code: str, stands: RunState) -> bool:
    """Was this guard answered already on this round: somebody has seen it and gone on with a reason."""
    since = stands.counted[0] if stands.counted else stands.since
    tripped = {str(e.id) for e in trial.events.filter(kind="guard", at__gte=since) if e.data["code"] == code}
    return any(e.data["guard"] in tripped for e in trial.events.filter(kind="guard-answered", at__gte=since))
