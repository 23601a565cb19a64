"""The shed's shelf over the wire: a page of vessels, each with where its trials stand, and what is to be done and was
done lately.

What did not change is not sent again: the answer carries a mark of what it rests on (ETag), worked out without it.
"""

import datetime
from typing import Any, Literal
from uuid import UUID

from django.db.models import Max, Q, QuerySet
from django.db.models.functions import Lower
from django.http import HttpRequest, HttpResponse
from ninja import Field, Query, Router, Schema

from toadbell.core.kinds import KINDS
from toadbell.core.run.phases import ON_THE_BENCH
from toadbell.core.vessel.drawing import Drawing
from toadbell.records.due import due
from toadbell.records.kept_answers import kept_answer, workshop_mark
from toadbell.shed.drawn import shelved
from toadbell.shed.models import Maker, Vessel
from toadbell.trials.judge.ledger import Standing, decisions, standing_decisions, tag_of
from toadbell.trials.models import Reading, State, Trial
from toadbell.trials.plan.api import TrialRow, maker_of, short_trials, trial_row

router = Router()
PAGE = 60
"""Vessels on a page of the shelf."""
TO_DO, LATELY = 12, 4


class ShelfRow(Schema):
    """A vessel on the shelf.

    Pa, m³. `past`: past its years; `problem`: why it cannot be worked out; `stands`: the trial whose decision counts.
    """

    id: UUID
    name: str
    kind: str
    shape: Drawing
    working_pressure: float | None
    volume: float | None
    retire: int | None
    past: bool
    problem: str | None
    stands: TrialRow | None
    latest: TrialRow | None
    practised: bool


class ShedOut(Schema):
    """A page of the shelf; what is on the bench, to be done, and was decided lately, of the whole workshop."""

    rows: list[ShelfRow]
    page: int
    pages: int
    found: int
    in_all: int
    retired: int
    running: list[TrialRow]
    to_do: list[TrialRow]
    to_do_in_all: int
    lately: list[TrialRow]


class Sought(Schema):
    """Which vessels, and in what order: words of name or kind, the tag as it hangs today or those retired; by the day
    hung, name or what is due.
    """

    page: int = Field(default=1, ge=1, le=100_000)
    text: str = Field(default="", max_length=120)
    tag: Literal["", "fit", "limited", "tight", "not fit", "not proven", "retired"] = ""
    order: Literal["hung", "name", "due"] = "hung"


@router.get("/shed", response=ShedOut)
def shed(request: HttpRequest, sought: Query[Sought]) -> HttpResponse:
    """A page of the shelf, of the vessels that are looked for where any are."""
    maker = maker_of(request)
    on = Trial.objects.filter(state__in=ON_THE_BENCH).values_list("pk", flat=True)
    read = [Reading.objects.filter(trial=trial).aggregate(Max("stored_at")) for trial in on]
    rests_on = ("shed", maker.pk, maker.units, sought, workshop_mark(), read)
    return kept_answer(request, rests_on, lambda: _shed(maker, sought))


_written: dict[str, bytes] = {}
MOST_WRITTEN = 24
"""Pages that are kept as they were written last."""


def _looked_for(sought: Sought) -> QuerySet[Vessel]:
    found = Vessel.objects.filter(retired_on__isnull=False) if sought.tag == "retired" else Vessel.on_the_shelf()
    for word in sought.text.split():
        kinds = [kind.id for kind in KINDS.values() if word.lower() in kind.name.lower()]
        found = found.filter(Q(name__icontains=word) | Q(sheet__kind__in=kinds))
    if sought.tag not in ("", "retired"):
        stand = standing_decisions(decisions())
        hung = [vessel.pk for vessel in found.prefetch_related("cares__by") if _fitness(vessel, stand) == sought.tag]
        found = found.filter(pk__in=hung)
    return found.order_by(Lower("name"), "hung_up") if sought.order == "name" else found


def _fitness(vessel: Vessel, stand: dict[UUID, Standing]) -> str:
    """The tag of a vessel as it hangs today."""
    if shelved(vessel.kind, vessel.sheet).past:
        return "not fit"
    return tag_of(vessel, stand[vessel.pk]).fitness if vessel.pk in stand else "not proven"


def _soonest_first(found: QuerySet[Vessel]) -> list[UUID]:
    """Vessels by what is due on them, the soonest first; those with no day last, by name."""
    days: dict[UUID, datetime.date] = {}
    for one in due():
        if one.on is not None:
            days[one.vessel.pk] = min(one.on, days.get(one.vessel.pk, one.on))
    named = found.order_by(Lower("name")).values_list("pk", flat=True)
    return sorted(named, key=lambda pk: days.get(pk, datetime.date.max))


def _page(sought: Sought, found: QuerySet[Vessel], page: int) -> list[Vessel]:
    on_page = slice(PAGE * (page - 1), PAGE * page)
    if sought.order != "due":
        return list(found.prefetch_related("cares__by")[on_page])
    order = _soonest_first(found)[on_page]
    known = Vessel.objects.prefetch_related("cares__by").in_bulk(order)
    return [known[pk] for pk in order]


def _shed(maker: Maker, sought: Sought) -> ShedOut:
    named = _looked_for(sought)
    found = named.count()
    pages = max(1, -(-found // PAGE))
    page = min(sought.page, pages)
    hung = _page(sought, named, page)
    stand = standing_decisions(decisions().filter(trial__vessel__in=hung))
    latest = dict(Trial.objects.filter(vessel__in=hung).values_list("vessel").annotate(Max("number")))
    wanted = Q(pk__in=[one.decision.trial_id for one in stand.values()])
    for vessel, number in latest.items():
        wanted |= Q(vessel=vessel, number=number)
    shown = {trial.pk: trial_row(trial, stand) for trial in short_trials().filter(wanted)} if latest else {}
    newest = {(row.vessel_id, row.number): row for row in shown.values()}
    practised = set(
        Trial.objects.filter(vessel__in=hung, source="rig", started_at__isnull=False).values_list("vessel", flat=True)
    )
    todo = short_trials().filter(state__in=(State.PLANNED, State.READY, State.JUDGED), vessel__retired_on__isnull=True)
    return ShedOut(
        rows=[
            _row(
                vessel,
                shown.get(stand[vessel.pk].decision.trial_id) if vessel.pk in stand else None,
                newest,
                latest,
                vessel.pk in practised,
            )
            for vessel in hung
        ],
        page=page,
        pages=pages,
        found=found,
        in_all=Vessel.on_the_shelf().count(),
        retired=Vessel.objects.filter(retired_on__isnull=False).count(),
        running=[trial_row(trial) for trial in short_trials().filter(state__in=ON_THE_BENCH)[:TO_DO]],
        to_do=[trial_row(trial) for trial in todo[:TO_DO]],
        to_do_in_all=todo.count(),
        lately=[
            trial_row(trial)
            for trial in short_trials().filter(decision__isnull=False).order_by("-decision__at")[:LATELY]
        ],
    )


def _row(
    vessel: Vessel, stands: TrialRow | None, newest: dict[Any, TrialRow], latest: dict[Any, int], practised: bool
) -> ShelfRow:
    found = shelved(vessel.kind, vessel.sheet)
    return ShelfRow(
        id=vessel.pk,
        name=vessel.name,
        kind=vessel.kind,
        shape=found.shape,
        working_pressure=found.working_pressure,
        volume=found.volume,
        retire=found.retire,
        past=found.past,
        problem=found.problem,
        stands=stands,
        latest=newest.get((vessel.pk, latest.get(vessel.pk, 0))),
        practised=practised,
    )
