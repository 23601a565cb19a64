"""What is due on each vessel and when: from its last decision, from cares done since, from its wall, and from its
years.
"""

import datetime
import uuid
from dataclasses import dataclass
from typing import TYPE_CHECKING

from django.db.models import Count, Max, QuerySet, Sum
from django.utils import timezone

from toadbell.core.judge.answers import LedgerLine
from toadbell.core.ledger.dates import add_months
from toadbell.core.ledger.fitness import PRESSURELESS
from toadbell.core.ledger.programme import asked_of
from toadbell.core.phrases import say
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.core.vessel.wear import wear_of
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Care, Maker, Vessel
from toadbell.trials.bench.hunt import cures_says
from toadbell.trials.database_stamp import of_this_database
from toadbell.trials.judge.ledger import Standing, decisions, ledger, standing_decisions
from toadbell.trials.models import Decision, Finding

if TYPE_CHECKING:
    from icalendar import Event

WHAT = {
    "proof": "proof",
    "tightness": "tightness",
    "gas-head": "gas head",
    "relief": "relief valve",
    "steam": "steam trial",
    "looked": "look inside",
    "papers": "papers",
}
"""Lines that come due, as the due list calls them."""
BY_HAND = {"look inside": "looked", "steam trial": "steam"}
"""What is ticked off by hand, and the line that it answers."""
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
        *Care.objects.aggregate(Count("pk"), Max("at"), Max("withdrawn")).values(),
    )
    found = _due_by.get(rests_on)
    if found is None:
        _due_by.clear()
        found = _due_by[rests_on] = _all_due()
    curing = _curing()
    return sorted([*found, *curing], key=_soonest) if curing else found


def _soonest(one: Due) -> tuple[bool, datetime.date, str]:
    """Days before occasions, and by name on one day."""
    return one.on is None, one.on or datetime.date.max, one.vessel.name


def forget() -> None:
    """Work it out anew at the next asking: a decision was changed under it, which no maker does."""
    _due_by.clear()
    _kept.clear()


_due_by: dict[tuple[object, ...], list[Due]] = {}


def _all_due() -> list[Due]:
    """Of each vessel what is due, worked out anew for those alone of which something changed."""
    vessels = list(Vessel.on_the_shelf().prefetch_related("cares__by"))
    now = _stamps(vessels)
    changed = [vessel for vessel in vessels if vessel.pk not in _kept or _kept[vessel.pk][0] != now[vessel.pk]]
    own = decisions() if len(changed) > SOME else decisions().filter(trial__vessel__in=changed)
    stand = standing_decisions(own) if changed else {}
    for vessel in changed:
        _kept[vessel.pk] = now[vessel.pk], _of(vessel, stand.get(vessel.pk))
    for gone in _kept.keys() - now.keys():
        _kept.pop(gone)
    return sorted((one for vessel in vessels for one in _kept[vessel.pk][1]), key=_soonest)


SOME = 100
"""Of so many vessels decisions are looked up by their names; of more all of them are."""
_kept: dict[uuid.UUID, tuple[object, list[Due]]] = {}


def _stamps(vessels: list[Vessel]) -> dict[uuid.UUID, object]:
    """Of each vessel, what changes whenever what is due on it may; of a design's vessels every decision counts."""
    day = (of_this_database(), timezone.localdate(), timezone.get_current_timezone_name())
    decided = {
        vessel: rest
        for vessel, *rest in Decision.objects.order_by()
        .values_list("trial__vessel")
        .annotate(Count("pk"), Max("at"), Max("pk"))
    }
    every = repr(sorted(decided.values()))
    return {
        vessel.pk: (
            day,
            vessel.version,
            vessel.name,
            [(care.pk, care.withdrawn) for care in vessel.cares.all()],
            decided.get(vessel.pk),
            every if vessel.sheet.get("design") else "",
        )
        for vessel in vessels
    }


def _of(vessel: Vessel, stands: Standing | None) -> list[Due]:
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
    found = _asked(vessel, stands)
    found += [retired] if retired else []
    worn = _worn(sheet)
    if worn is not None:
        found.append(Due(vessel, "wall at its least", worn, "at the loss seen so far; measure it before then"))
    return found


def curing_now() -> list[uuid.UUID]:
    """Leaks that were sealed with what has not cured yet."""
    return list(_sealed(timezone.now()).values_list("pk", flat=True))


def _sealed(now: datetime.datetime) -> QuerySet[Finding]:
    return Finding.real().filter(until__gt=now, trial__vessel__in=Vessel.on_the_shelf())


def _curing() -> list[Due]:
    """When what leaks were sealed with has cured: not before that are they tried again."""
    now = timezone.now()
    return [
        Due(leak.trial.vessel, "seal cured", timezone.localdate(leak.until), cures_says(leak, now))
        for leak in _sealed(now).select_related("trial__vessel")
        if leak.until
    ]


def _asked(vessel: Vessel, stands: Standing | None) -> list[Due]:
    """What the ledger's lines ask for next; nothing where the vessel may not be used, but for what lapsed."""
    if stands is None or stands.decision.fitness in PRESSURELESS:
        return []
    found = ledger(vessel, stands)
    if found.answer == "not fit":
        return []
    usable = found.answer not in PRESSURELESS
    return [one for line in found.lines if (one := _line(vessel, line, usable)) is not None]


def _line(vessel: Vessel, line: LedgerLine, usable: bool) -> Due | None:
    if line.code == "firings":
        return Due(vessel, "proof", None, say("fitness.after-change")) if usable else None
    if line.code not in WHAT or line.state in ("voided", "not met") or not (usable or line.state == "lapsed"):
        return None
    by_hand, trial = line.write in BY_HAND, uuid.UUID(line.trial) if line.trial else None
    if line.before_use:
        return Due(vessel, WHAT[line.code], None, say("fitness.before-use"), done=line.on, trial=trial)
    if line.state == "not known":
        return Due(vessel, WHAT[line.code], None, say("ledger.open"), by_hand) if line.asked else None
    if line.until is None:
        return None
    return Due(vessel, WHAT[line.code], line.until, _why(vessel, line), by_hand, line.on if line.write else None, trial)


def _why(vessel: Vessel, line: LedgerLine) -> str:
    """Why that day."""
    asked = asked_of(vessel.kind, line.code)
    if asked is not None and asked.months is not None and line.on and line.until == add_months(line.on, asked.months):
        return say("fitness.months-on", months=asked.months)
    return say("ledger.by-paper" if line.code == "papers" else "fitness.in-service")


def _worn(sheet: VesselSheet) -> datetime.date | None:
    """The day on which the wall is down to the least, reckoned from its last dated reading."""
    wear = wear_of(sheet)
    days = sheet.wall_days
    if wear is None or wear.left is None or wear.left > FAR or not days:
        return None
    return max(days) + datetime.timedelta(seconds=wear.left)


def care_done(vessel: Vessel, maker: Maker, what: str, on: datetime.date, text: str, today: datetime.date) -> Care:
    """Write down that something that was due was done; raises NotNow where it is nothing that is ticked off, or not
    yet.
    """
    if what not in BY_HAND or asked_of(vessel.kind, BY_HAND[what]) is None:
        raise NotNow(
            f"“{what[:40]}” is not ticked off by hand here: a proof is done by a trial, and ends in its decision; a "
            "valve's lift is written on the vessel's page."
        )
    if on > today:
        raise NotNow("That day is still to come.")
    return Care.objects.create(vessel=vessel, what=what, on=on, text=text.strip()[:500], by=maker)


def calendar() -> bytes:
    """What is due as a calendar file, each with a reminder a fortnight before."""
    from icalendar import Calendar  # asked for when a calendar asks: it is slow to begin with

    found = Calendar()
    found.add("prodid", "-//Toad Bell//due//EN")
    found.add("version", "2.0")
    found.add("x-wr-calname", "Toad Bell: due")
    found.add("refresh-interval", datetime.timedelta(days=1), parameters={"VALUE": "DURATION"})
    for one in due():
        if one.on is not None:
            found.add_component(_entry(one, one.on))
    return bytes(found.to_ical())


def _entry(one: Due, on: datetime.date) -> "Event":
    from icalendar import Alarm, Event

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
