"""What is due, over the wire and as a calendar."""

import datetime
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Field, Router, Schema, Status
from pydantic import BaseModel

from toadbell.records import due
from toadbell.records.kept_answers import kept_answer, workshop_mark
from toadbell.records.models import CalendarLink
from toadbell.shed.models import Vessel
from toadbell.shed.wire import Day
from toadbell.trials.plan.api import maker_of

router = Router()


class DueItem(BaseModel):
    """Something due on a vessel: a day, or an occasion where there is none; how many days off, below nought where
    overdue.
    """

    vessel_id: UUID
    vessel: str
    what: str
    on: datetime.date | None
    days: int | None
    overdue: bool
    says: str
    by_hand: bool
    done: datetime.date | None
    trial: UUID | None


class DueOut(Schema):
    """All that is due, the soonest first, and where a calendar may subscribe."""

    items: list[DueItem]
    calendar: str


class CareIn(Schema):
    """Something due that was done, on which day, and what was found."""

    what: str = Field(max_length=40)
    on: Day
    text: str = Field(default="", max_length=500)


def _out(request: HttpRequest) -> DueOut:
    today = timezone.localdate()
    items = [
        DueItem(
            vessel_id=one.vessel.pk,
            vessel=one.vessel.name,
            what=one.what,
            on=one.on,
            days=(one.on - today).days if one.on else None,
            overdue=one.overdue(today),
            says=one.says,
            by_hand=one.by_hand,
            done=one.done,
            trial=one.trial,
        )
        for one in due.due()
    ]
    return DueOut(
        items=items,
        calendar=request.build_absolute_uri(f"/api/calendar/{CalendarLink.of(maker_of(request)).secret}.ics"),
    )


@router.get("/due", response=DueOut)
def what_is_due(request: HttpRequest) -> HttpResponse:
    """What is due on every vessel."""
    maker, host = maker_of(request), request.build_absolute_uri("/")
    rests_on = ("due", maker.pk, maker.units, host, CalendarLink.of(maker).secret, workshop_mark(), due.curing_now())
    return kept_answer(request, rests_on, lambda: _out(request))


@router.post("/vessels/{vessel_id}/cares", response={201: DueOut})
def done(request: HttpRequest, vessel_id: UUID, data: CareIn) -> Status[DueOut]:
    """Tick something off that was due."""
    due.care_done(
        Vessel.objects.get(pk=vessel_id), maker_of(request), data.what, data.on, data.text, timezone.localdate()
    )
    return Status(201, _out(request))


@router.post("/calendar", response=DueOut)
def renew(request: HttpRequest) -> DueOut:
    """A new address to subscribe to; the old one is worth nothing from now on."""
    CalendarLink.of(maker_of(request)).renew()
    return _out(request)


@router.get("/due.ics", include_in_schema=False)
def file(request: HttpRequest) -> HttpResponse:
    """What is due, as a file to take into a calendar once."""
    response = HttpResponse(due.calendar(), content_type="text/calendar; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="toad-bell-due.ics"'
    return response


@router.get("/calendar/{secret}.ics", auth=None, include_in_schema=False)
def subscribed(request: HttpRequest, secret: str) -> HttpResponse:
    """What is due, for a calendar that knows the secret and asks again by itself."""
    CalendarLink.objects.get(secret=secret)
    return HttpResponse(due.calendar(), content_type="text/calendar; charset=utf-8")
