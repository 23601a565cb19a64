"""Records over the wire."""

import datetime
from typing import Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Router, Schema

from toadbell.core.vessel.drawing import Drawing
from toadbell.shed.drawn import drawn
from toadbell.trials.api import maker_of
from toadbell.trials.bench_api import log_of, trace
from toadbell.trials.bench_shapes import LogLine, Point
from toadbell.trials.judge_api import JudgeOut, judge_out
from toadbell.trials.models import Trial

router = Router()


class RecordOut(Schema):
    """A trial as the page that prints."""

    judge: JudgeOut
    kind: str
    sheet: dict[str, Any]
    shape: Drawing
    core: str
    planned_by: str
    planned_at: datetime.datetime
    started_at: datetime.datetime | None
    trace: list[Point]
    log: list[LogLine]


@router.get("/records/{trial_id}", response=RecordOut)
def record(request: HttpRequest, trial_id: UUID) -> RecordOut:
    """The record of a trial that was started."""
    trial = Trial.objects.select_related("vessel", "planned_by").get(pk=trial_id)
    maker = maker_of(request)
    return RecordOut(
        judge=judge_out(trial, request),
        kind=trial.sheet["kind"],
        sheet=trial.frozen_sheet,
        shape=drawn(trial.sheet),
        core=trial.frozen["core"] if trial.frozen else "",
        planned_by=trial.planned_by.shown_name,
        planned_at=trial.planned_at,
        started_at=trial.started_at,
        trace=trace(trial),
        log=log_of(trial.effective_events(), maker),
    )
