"""What was pumped: the core's instrument of strokes on a run as it goes."""

import bisect
import datetime
import itertools
import time
import uuid
from collections.abc import Callable
from typing import Any

import numpy as np
from django.db.models import IntegerField, Max, Min, Sum
from django.db.models.fields.json import KT
from django.db.models.functions import Cast

from toadbell.core.bench.stroke_answers import StrokesAnswer
from toadbell.core.bench.strokes import StrokeLog, judge_strokes
from toadbell.core.phrases import habit_now
from toadbell.core.run.phases import RunState
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.trials.database_stamp import of_this_database
from toadbell.trials.models import Event, Trial
from toadbell.trials.plan.frozen import plan_of

_told: dict[uuid.UUID, tuple[tuple[object, int], StrokesAnswer | None, float, int]] = {}


def strokes_made(trial: Trial, stands: RunState, events: list[Event]) -> int:
    """Strokes since the vent was shut, or since the pressure was let go."""
    return strokes_in_all(trial, events) - (stands.counted[2] if stands.counted else 0)


def strokes_in_all(trial: Trial, events: list[Event] | None = None) -> int:
    """Every stroke of the run: as the simulated pump counts them, else as they were logged."""
    if trial.rig:
        return int(trial.rig["state"].get("strokes", 0))  # a boiler has no pump
    counted = trial.readings.filter(imported=None).order_by("-at").values_list("strokes", flat=True).first() or 0
    if events is None:
        return max(counted, strokes_logged(trial))
    return max(counted, sum(event.data["count"] for event in events if event.kind == "strokes"))


def strokes_logged(trial: Trial, by: datetime.datetime | None = None) -> int:
    """How many strokes were logged in the run, by a moment where one is given."""
    rows = trial.events.filter(kind="strokes")
    if by is not None:
        rows = rows.filter(at__lte=by)
    return int(rows.aggregate(made=Sum(Cast(KT("data__count"), IntegerField())))["made"] or 0)


def strokes_by(trial: Trial, moments: list[datetime.datetime]) -> Callable[[datetime.datetime], int]:
    """How many strokes were logged in the run by each of some moments: what was before them is summed once."""
    if not moments:
        return lambda moment: 0
    first, last = min(moments), max(moments)
    before = strokes_logged(trial, first)
    made = [
        (at, data["count"])
        for at, data in trial.events.filter(kind="strokes", at__gt=first, at__lte=last).values_list("at", "data")
    ]
    at = [moment for moment, _ in made]
    sums = list(itertools.accumulate((count for _, count in made), initial=before))
    return lambda moment: sums[bisect.bisect_right(at, moment)]


def strokes_answer(trial: Trial, stands: RunState, within: float = 0.0) -> StrokesAnswer | None:
    """What the strokes tell so far; None where there are none, or where the sheet cannot tell.

    within  an answer of the same raising that is so many s old will do, where somebody only looks
    """
    sheet, _ = plan_of(trial)
    if stands.counted is None or sheet.pump is None or sheet.pump.stroke is None:
        return None
    since, until, before = stands.counted
    same, now = (of_this_database(), stands.counted, habit_now()), time.monotonic()
    told = _told.get(trial.pk)
    if told and told[1] is not None and told[0][0] == same and now - told[2] < within and _hardly_more(trial, told[3]):
        return told[1]
    rows = trial.readings.filter(at__gte=since, strokes__isnull=False, imported=None)
    if until is not None:
        rows = rows.filter(at__lte=until)
    key = (same, rows.count())
    if told and told[0] == key:
        _told[trial.pk] = (key, told[1], now, told[3])
        return told[1]
    # The first and the last reading at each count tell all there is, however often a logger reads.
    ends = rows.order_by().values("strokes").annotate(first=Min("at"), last=Max("at"))
    moments = {at for one in ends for at in (one["first"], one["last"])}
    table = list(rows.filter(at__in=moments).order_by("at").values_list("at", "pressure", "temperature", "strokes"))
    answer = None
    if len(table) >= 2 and (table[-1][3] or 0) > before:
        answer = _judged(table, before, sheet.pump.stroke, sheet)
    _told[trial.pk] = (key, answer, now, table[-1][3] or 0 if table else 0)
    return answer


def _hardly_more(trial: Trial, than: int) -> bool:
    """Were hardly any strokes made since there were so many?"""
    made = trial.readings.filter(imported=None).order_by("-at").values_list("strokes", flat=True).first() or 0
    return made <= 1.02 * than


def _judged(table: list[Any], before: int, stroke: float, sheet: VesselSheet) -> StrokesAnswer | None:
    warm = np.array([np.nan if row[2] is None else row[2] for row in table])
    log = StrokeLog(
        np.array([row[1] for row in table]),
        np.maximum.accumulate(np.array([(row[3] - before) * stroke for row in table])),
        np.array([(row[0] - table[0][0]).total_seconds() for row in table]),
        warm if np.isfinite(warm).all() else None,
    )
    try:
        return judge_strokes(log, sheet)
    except SheetError:
        return None
