"""The record of a trial: everything that a page or a paper shows of it, gathered once."""

import datetime

from django.http import HttpRequest
from ninja import Schema

from toadbell.core.judge.answers import NextDate
from toadbell.core.kinds import KINDS
from toadbell.core.phrases import Sentence
from toadbell.core.vessel.drawing import Drawing
from toadbell.core.vessel.facts import Fact
from toadbell.records.attachments_api import AttachmentOut, attachment_out
from toadbell.records.models import Attachment
from toadbell.records.signing_api import SigningOut, signing_of
from toadbell.shed.drawn import drawn, worked_out
from toadbell.shed.wire import WrittenSheet
from toadbell.trials.bench.api import log_of
from toadbell.trials.bench.leaks import leaks_out
from toadbell.trials.bench.run_state import course_from, run_state
from toadbell.trials.bench.sections import circuit_out
from toadbell.trials.bench.seen import ended
from toadbell.trials.bench.shapes import CircuitOut, LeakOut, LogLine, Point
from toadbell.trials.judge.api import JudgeOut, judge_out
from toadbell.trials.models import Event, Trial
from toadbell.trials.plan.frozen import plan_of

TRACE_POINTS = 900


class StageReached(Schema):
    """A stage of the plan, and when and at what pressure it was reached; Pa. `at` is None where it was not."""

    id: str
    name: str
    target: float
    pressure: float | None
    at: datetime.datetime | None


class RecordOut(Schema):
    """A trial as the page that prints.

    course_from  when the planned course begins, s from the start
    ended        how it ended where it was dumped or failed, and whether its zero was read
    """

    judge: JudgeOut
    kind: str
    kind_name: str
    sheet: WrittenSheet
    shape: Drawing
    facts: list[Fact]
    core: str
    planned_by: str
    planned_at: datetime.datetime
    started_at: datetime.datetime | None
    course_from: float
    ran_by: list[str]
    source: str
    trace: list[Point]
    readings: int
    stages: list[StageReached]
    log: list[LogLine]
    ended: Sentence | None
    leaks: list[LeakOut]
    circuit: CircuitOut | None
    attachments: list[AttachmentOut]
    next_dates: list[NextDate]
    signing: SigningOut


def record_of(trial: Trial, request: HttpRequest) -> RecordOut:
    """The record of a trial whose plan is frozen, in the asking person's units. Raises NotNow before that."""
    events = trial.effective_events()
    judged = judge_out(trial, request)
    pictures = Attachment.objects.filter(vessel=trial.vessel, taken_down=False).select_related("by")
    points, count = traced(trial)
    return RecordOut(
        judge=judged,
        kind=trial.sheet["kind"],
        kind_name=KINDS[trial.sheet["kind"]].name,
        sheet=trial.frozen_sheet,
        shape=drawn(trial.sheet),
        facts=list(worked_out(trial.frozen_sheet).facts),
        core=trial.frozen["core"] if trial.frozen else "",
        planned_by=trial.planned_by.shown_name,
        planned_at=trial.planned_at,
        started_at=trial.started_at,
        course_from=course_from(trial, events),
        ran_by=list(
            dict.fromkeys(event.by.shown_name for event in events if trial.started_at and event.at >= trial.started_at)
        ),
        source=trial.get_source_display(),
        trace=points,
        readings=count,
        stages=_stages(judged, events),
        log=log_of(events, trial.test_pressure),
        ended=ended(trial, plan_of(trial), events),
        leaks=leaks_out(trial),
        circuit=circuit_out(trial, run_state(trial, events), events),
        attachments=[attachment_out(one) for one in pictures.filter(trial=None) | pictures.filter(trial=trial)],
        next_dates=judged.advice.next_dates if judged.decision and judged.decision.pressure is not None else [],
        signing=signing_of(trial, request),
    )


def traced(trial: Trial) -> tuple[list[Point], int]:
    """The readings to draw, whoever read them, evenly picked where there are very many, and how many there are."""
    rows = list(trial.readings.order_by("at").values_list("at", "pressure", "temperature"))
    every = max(1, -(-len(rows) // TRACE_POINTS))
    picked = rows[::every] + (rows[-1:] if (len(rows) - 1) % every else [])
    return [Point(at=at, pressure=pressure, temperature=warm) for at, pressure, warm in picked], len(rows)


def _stages(judged: JudgeOut, events: list[Event]) -> list[StageReached]:
    reached = {event.data["stage"]: event for event in events if event.kind == "stage-reached"}
    return [
        StageReached(
            id=stage.id,
            name=stage.name,
            target=stage.target,
            pressure=reached[i].data["pressure"] if i in reached else None,
            at=reached[i].at if i in reached else None,
        )
        for i, stage in enumerate(judged.plan.stages)
    ]
