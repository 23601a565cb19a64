"""Two trials of one vessel, as far as each tells, to be held against each other."""

import datetime
from typing import Any

from django.utils import timezone

from toadbell.core.judge.answers import HoldPoint
from toadbell.core.judge.trend import Known, Side
from toadbell.core.sheets import VesselSheet
from toadbell.shed.errors import NotNow
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.bench.stroke_analysis import strokes_answer
from toadbell.trials.models import Trial, Verdict
from toadbell.trials.plan.frozen import plan_of


def in_order(one: Trial, other: Trial) -> tuple[Trial, Trial]:
    """The earlier and the later; raises NotNow where they are not two trials of one vessel that were both started."""
    if one.pk == other.pk or one.vessel_id != other.vessel_id:
        raise NotNow("Two different trials of one vessel are held against each other.")
    if one.started_at is None or other.started_at is None:
        raise NotNow("A trial that was never started tells nothing yet.")
    return (one, other) if one.started_at <= other.started_at else (other, one)


def side_of(trial: Trial) -> Side:
    """What a trial tells of the vessel."""
    sheet, _ = plan_of(trial)
    stands = run_state(trial)
    told = strokes_answer(trial, stands) if sheet.medium == "water" else None
    leak = compliance = None
    if hasattr(trial, "verdict"):
        found = trial.verdict.read().leak
        leak = Known(found.estimate, found.low, found.high)
    if told and told.compliance and told.state != "yielding":
        compliance = Known(told.compliance.estimate, told.compliance.low, told.compliance.high)
    return Side(_day(trial), leak, stands.shut_in, thinnest_at(sheet, _day(trial)), compliance)


def thinnest_at(sheet: VesselSheet, day: datetime.date) -> float | None:
    """The thinnest of the last survey by that day, m; of readings without a date where there is no other."""
    readings = sheet.shell.wall_readings if sheet.shell else []
    days = [reading.date for reading in readings if reading.date and reading.date <= day]
    last = max(days) if days else None
    return min((reading.wall for reading in readings if reading.date == last), default=None)


def walls(sheet: VesselSheet, day: datetime.date) -> list[dict[str, Any]]:
    """The last survey by that day: along the shell and thickness, m."""
    readings = sheet.shell.wall_readings if sheet.shell else []
    days = [reading.date for reading in readings if reading.date and reading.date <= day]
    last = max(days) if days else None
    return [
        {"along": reading.along, "round": reading.round, "wall": reading.wall, "date": reading.date}
        for reading in readings
        if reading.along is not None and reading.date == last
    ]


def points_of(trial: Trial) -> list[HoldPoint]:
    """The hold as it was judged."""
    verdict = Verdict.objects.filter(trial=trial).first()
    return verdict.hold_points() if verdict else []


def _day(trial: Trial) -> datetime.date:
    assert trial.started_at is not None
    return timezone.localdate(trial.started_at)
