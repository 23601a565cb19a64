"""Records over the wire: the logbook, a record, two trials side by side."""

import datetime
from collections import Counter
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Field, Query, Router, Schema
from pydantic import BaseModel

from toadbell.core.judge.answers import HoldPoint, JudgeAnswer
from toadbell.core.judge.trend import TrendAnswer, trend
from toadbell.core.kinds import KINDS
from toadbell.records import comparing, logbook
from toadbell.records.kept_answers import kept_answer, workshop_mark
from toadbell.records.models import Attachment
from toadbell.records.record import RecordOut, record_of
from toadbell.shed.models import Maker
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.judge.api import OtherHold, other_hold
from toadbell.trials.models import Trial
from toadbell.trials.plan.api import TrialRow, maker_of, short_trials, trial_row
from toadbell.trials.plan.frozen import plan_of

router = Router()
PAGE = 60
"""Trials on a page of the logbook."""


class SoughtIn(Schema):
    """What is looked for in the logbook."""

    vessel: UUID | None = None
    kind: str = Field(default="", max_length=40)
    year: int | None = None
    tag: str = Field(default="", max_length=40)
    text: str = Field(default="", max_length=200)
    page: int = Field(default=1, ge=1, le=100_000)


class LogbookRow(Schema):
    """A trial that answers to it, and the line in which the words were found."""

    trial: TrialRow
    line: str


class LogbookChoice(BaseModel):
    """Something to look for, and how many trials have it."""

    id: str
    name: str
    count: int


class LogbookOut(Schema):
    """A page of the logbook, the newest first, how many trials answer to it, how many trials there are in all, and what
    may be looked for.
    """

    rows: list[LogbookRow]
    found: int
    in_all: int
    vessels: list[LogbookChoice]
    kinds: list[LogbookChoice]
    years: list[LogbookChoice]
    tags: list[LogbookChoice]


class WallSeen(Schema):
    """A wall reading with its place: m along the shell, rad round it, m thick."""

    along: float
    round: float
    wall: float
    date: datetime.date | None


class ComparedSide(Schema):
    """One of the two trials: s and Pa; wall readings as they were known on its day."""

    id: UUID
    number: int
    on: datetime.date
    verdict: JudgeAnswer | None
    points: list[HoldPoint]
    shut_in: float | None
    walls: list[WallSeen]
    fitness: str


class CompareOut(Schema):
    """Two trials of one vessel, the earlier first, its hold as it is laid over the later one, and whether it is getting
    worse.
    """

    vessel_id: UUID
    vessel: str
    kind: str
    before: ComparedSide
    after: ComparedSide
    laid: OtherHold | None
    trend: TrendAnswer
    others: list[TrialRow]


@router.get("/logbook", response=LogbookOut)
def the_logbook(request: HttpRequest, sought: Query[SoughtIn]) -> HttpResponse:
    """Trials that were started, found by what is remembered of them."""
    maker = maker_of(request)
    texts = list(Attachment.objects.exclude(trial=None).order_by("pk").values_list("text", flat=True))
    rests_on = ("logbook", maker.pk, maker.units, sought, texts, workshop_mark())
    return kept_answer(request, rests_on, lambda: _logbook(sought, maker))


def _logbook(sought: SoughtIn, maker: Maker) -> LogbookOut:
    trials = logbook.begun()
    vessels, kinds, years, tags = logbook.choices(trials)
    rows = logbook.found(trials, logbook.Sought(**sought.dict(exclude={"page"})), maker)
    counts = Counter(trial.vessel_id for trial in trials)
    shown = rows[PAGE * (sought.page - 1) : PAGE * sought.page]
    ids = [trial.id for trial in shown]
    lines = logbook.lines_of(ids, sought.text, maker) if sought.text.split() else {}
    whole = {trial.pk: trial for trial in short_trials().filter(pk__in=ids)}
    return LogbookOut(
        rows=[LogbookRow(trial=trial_row(whole[one]), line=lines.get(one, "")) for one in ids if one in whole],
        found=len(rows),
        in_all=len(trials),
        vessels=[LogbookChoice(id=str(key), name=name, count=counts[key]) for key, name in vessels.items()],
        kinds=[
            LogbookChoice(id=key, name=KINDS[key].name if key in KINDS else key, count=count)
            for key, count in sorted(kinds.items())
        ],
        years=[
            LogbookChoice(id=str(key), name=str(key), count=count) for key, count in sorted(years.items(), reverse=True)
        ],
        tags=[LogbookChoice(id=key, name=key, count=count) for key, count in sorted(tags.items())],
    )


@router.get("/records/{trial_id}", response=RecordOut)
def record(request: HttpRequest, trial_id: UUID) -> RecordOut:
    """The record of a trial that was started."""
    return record_of(Trial.objects.select_related("vessel", "planned_by").get(pk=trial_id), request)


@router.get("/compare", response=CompareOut)
def compare(request: HttpRequest, one: UUID, other: UUID) -> CompareOut:
    """Two trials of one vessel side by side."""
    trials = Trial.objects.select_related("vessel", "verdict", "decision__by")
    before, after = comparing.in_order(trials.get(pk=one), trials.get(pk=other))
    rest = trials.filter(vessel=after.vessel, started_at__isnull=False).order_by("number")
    return CompareOut(
        vessel_id=after.vessel_id,
        vessel=after.vessel.name,
        kind=after.sheet["kind"],
        before=_side(before),
        after=_side(after),
        laid=other_hold(before.verdict) if hasattr(before, "verdict") else None,
        trend=trend(comparing.side_of(before), comparing.side_of(after)),
        others=[trial_row(trial) for trial in rest],
    )


def _side(trial: Trial) -> ComparedSide:
    sheet, _ = plan_of(trial)
    day = timezone.localdate(trial.started_at)
    return ComparedSide(
        id=trial.id,
        number=trial.number,
        on=day,
        verdict=trial.verdict.read() if hasattr(trial, "verdict") else None,
        points=comparing.points_of(trial),
        shut_in=run_state(trial).shut_in,
        walls=[WallSeen(**wall) for wall in comparing.walls(sheet, day)],
        fitness=logbook.tag_of(trial),
    )
