"""What is due on each vessel and when: from its last decision, from cares done since, from its wall, and from its
years.
"""

import datetime
import uuid
from dataclasses import dataclass, replace

from django.db.models import Count, Max, Sum
from django.utils import timezone
from icalendar import Alarm, Calendar, Event

from toadbell.core.judge.answers import NextDate
from toadbell.core.ledger.fitness import add_months, months_until
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.core.vessel.wear import wear_of
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Care, Maker, Vessel
from toadbell.trials.database_stamp import of_this_database
from toadbell.trials.judge.current_decision import decisions, standing_decisions, tag_of
from toadbell.trials.models import Decision

FAR = 30 * 365.25 * 86_400
"""Times further off than this are no date, s."""


@dataclass(frozen=True)
class Due:
    """Something due on a vessel.

    `on` is None where it is an occasion; `done` when it was last done; `trial` whose decision asked for it.

    by_hand  it is done between trials and ticked off, not by another trial
    """

    vessel: Vessel
    what: str
    on: datetime.date | None
    says: str
    by_hand: bool = False
    done: datetime.date | None = None
    trial: uuid.UUID | None = None

    def overdue(self, today: datetime.date) -> bool:
        """Is its day gone by?"""
        return self.on is not None and self.on < today


def due() -> list[Due]:
    """All that is due, the soonest first, occasions last; worked out anew when anything of it changed, and each day."""
    rests_on = (
        of_this_database(),
        timezone.localdate(),
        timezone.get_current_timezone_name(),
        *Vessel.objects.aggregate(Count("pk"), Sum("version"), Max("hung_up")).values(),
        *Decision.objects.aggregate(Count("pk"), Max("at"), Max("pk")).values(),
        *Care.objects.aggregate(Count("pk"), Max("at")).values(),
    )
    found = _due_by.get(rests_on)
    if found is None:
        _due_by.clear()
        found = _due_by[rests_on] = _all_due()
    return found


def forget() -> None:
    """Work it out anew at the next asking: a decision was changed under it, which no maker does."""
    _due_by.clear()


_due_by: dict[tuple[object, ...], list[Due]] = {}


def _all_due() -> list[Due]:
    cares: dict[tuple[uuid.UUID, str], Care] = {}
    for care in Care.objects.order_by("on", "at"):
        cares[care.vessel_id, care.what] = care
    stand = standing_decisions(decisions())
    advice = Decision.objects.in_bulk([decision.pk for decision in stand.values()])
    stand = {vessel: _with_advice(decision, advice) for vessel, decision in stand.items()}
    found = [
        one
        for vessel in Vessel.on_the_shelf().prefetch_related("cares__by")
        for one in _of(vessel, stand.get(vessel.pk), cares)
    ]
    return sorted(found, key=lambda one: (one.on is None, one.on or datetime.date.max, one.vessel.name))


def _with_advice(decision: Decision, whole: dict[int, Decision]) -> Decision:
    decision.advice = whole[decision.pk].advice
    return decision


def _of(vessel: Vessel, decision: Decision | None, cares: dict[tuple[uuid.UUID, str], Care]) -> list[Due]:
    try:
        sheet = vessel.read()
    except SheetError:
        return []
    retired = (
        Due(vessel, "out of service", datetime.date(sheet.retire, 12, 31), "by its plate or its maker")
        if sheet.retire
        else None
    )
    if retired and retired.overdue(timezone.localdate()):
        return [retired]
    found = [
        _after_care(one, cares.get((vessel.pk, one.what)))
        for one in _decided(vessel, decision)
        if one.what != "out of service"
    ]
    found += [retired] if retired else []
    worn = _worn(sheet)
    if worn is not None:
        found.append(Due(vessel, "wall at its least", worn, "at the loss seen so far; measure it before then"))
    return found


def _decided(vessel: Vessel, decision: Decision | None) -> list[Due]:
    """What the last decision asks for; nothing where the vessel may not be used."""
    if decision is None or tag_of(vessel, decision).fitness not in ("fit", "limited"):
        return []
    dates = decision.read_advice().next_dates
    if decision.next_proof and not any(one.what == "proof" for one in dates):
        dates = [*dates, NextDate(what="proof", on=decision.next_proof, says="by its kind")]
    return [
        Due(
            vessel,
            one.what,
            one.on,
            one.says,
            months_until(vessel.sheet["kind"], one.what) is not None,
            trial=decision.trial_id,
        )
        for one in dates
    ]


def _after_care(one: Due, care: Care | None) -> Due:
    """The next time, where it was done since."""
    months = months_until(one.vessel.sheet["kind"], one.what)
    if care is None or months is None or one.on is None:
        return one
    return replace(one, on=max(one.on, add_months(care.on, months)), done=care.on)


def _worn(sheet: VesselSheet) -> datetime.date | None:
    """The day on which the wall is down to the least, reckoned from its last dated reading."""
    wear = wear_of(sheet)
    days = [reading.date for reading in sheet.shell.wall_readings if reading.date] if sheet.shell else []
    if wear is None or wear.left is None or wear.left > FAR or not days:
        return None
    return max(days) + datetime.timedelta(seconds=wear.left)


def care_done(vessel: Vessel, maker: Maker, what: str, on: datetime.date, text: str, today: datetime.date) -> Care:
    """Write down that something that was due was done; raises NotNow where it is nothing that is ticked off, or not
    yet.
    """
    if months_until(vessel.sheet["kind"], what) is None:
        raise NotNow(
            f"“{what[:40]}” is not ticked off by hand here: a proof is done by a trial, and ends in its decision."
        )
    if on > today:
        raise NotNow("That day is still to come.")
    return Care.objects.create(vessel=vessel, what=what, on=on, text=text.strip()[:500], by=maker)


def calendar() -> bytes:
    """What is due as a calendar file, each with a reminder a fortnight before."""
    found = Calendar()
    found.add("prodid", "-//Toad Bell//due//EN")
    found.add("version", "2.0")
    found.add("x-wr-calname", "Toad Bell: due")
    found.add("refresh-interval", datetime.timedelta(days=1), parameters={"VALUE": "DURATION"})
    for one in due():
        if one.on is not None:
            found.add_component(_entry(one, one.on))
    return bytes(found.to_ical())


def _entry(one: Due, on: datetime.date) -> Event:
    event, alarm = Event(), Alarm()
    event.add("uid", f"{one.vessel.pk}-{one.what.replace(' ', '-')}@toad-bell")
    event.add("dtstamp", datetime.datetime(on.year, on.month, on.day, tzinfo=datetime.UTC) - datetime.timedelta(days=1))
    event.add("dtstart", on)
    event.add("dtend", on + datetime.timedelta(days=1))
    event.add("summary", f"{one.vessel.name}: {one.what}")
    event.add(
        "description",
        f"{one.says[:1].upper()}{one.says[1:]}. Sooner after any knock, mend or change. Own-use record, not a "
        "certificate.",
    )
    event.add("transp", "TRANSPARENT")
    alarm.add("action", "DISPLAY")
    alarm.add("description", f"{one.vessel.name}: {one.what} in two weeks")
    alarm.add("trigger", datetime.timedelta(days=-14))
    event.add_component(alarm)
    return event
