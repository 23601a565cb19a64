"""The hunt on the bench: whether there is pressure where something is to be mended, what has still to cure, and the
story of each leak of a vessel across its trials.
"""

import datetime
from dataclasses import dataclass
from uuid import UUID

from django.db import models
from django.db.models import Count
from django.utils import timezone

from toadbell.core.hunt.acts import ACTS, Act, Owner, asks_of, told_as
from toadbell.core.hunt.compounds import COMPOUNDS, NEVER, not_before
from toadbell.core.hunt.counts import Counted, counted
from toadbell.core.hunt.shown import Ran, shown
from toadbell.core.hunt.story import found_says, mended_says
from toadbell.core.hunt.where import Place, look_next
from toadbell.core.phrases import Said, say
from toadbell.core.run.phases import ON_THE_BENCH, RunState
from toadbell.core.run.steps import PRESSED
from toadbell.shed.models import Vessel
from toadbell.trials.bench.readings import latest
from toadbell.trials.bench.sections import shut_now
from toadbell.trials.bench.seen import reading_error, zero_read
from toadbell.trials.bench.stretches import weighed
from toadbell.trials.judge.hold import readings_between
from toadbell.trials.models import Event, Finding, Source, State, Trial
from toadbell.trials.plan.frozen import plan_of

STIRS = frozenset({"strokes", "stage-reached", "gone-back", "shut-in", "hold-ended", "came-down", "released", "dumped"})
"""What ends a while in which nothing was done to it."""
LET_GO = ("released", "vent-open", "dumped")
LITTLE = 0.02
"""Under so much of the test pressure nothing is under pressure."""


def under_pressure(trial: Trial, stands: RunState) -> bool:
    """Is there pressure in it, by what was read and done last; or behind a valve that is still shut?"""
    if shut_now(trial.effective_events()):
        return True
    if trial.state not in ON_THE_BENCH or stands.phase not in PRESSED:
        return False
    seen = latest(trial)
    events = trial.effective_events()
    gone = [e.at for e in events if e.kind in LET_GO or (e.kind == "gone-back" and not e.data["to"])]
    known = max([*gone[-1:], *([seen.at] if seen else [])], default=None)
    if any(e.kind == "strokes" and (known is None or e.at > known) for e in events):
        return True  # pumped since, and not read: how much is not known, and not nought
    if seen is None or (gone and gone[-1] >= seen.at):
        return False
    return seen.pressure > LITTLE * plan_of(trial).answer.test_pressure


def zero_unread(trial: Trial) -> bool:
    """Was it released and nothing was read at zero since: of a real rig that is not vented or emptied, somebody's word
    alone says that there is no pressure in it?
    """
    if trial.source == Source.RIG or trial.state not in (*ON_THE_BENCH, State.ABORTED):
        return False
    events = trial.effective_events()
    released = next((e for e in reversed(events) if e.kind in RELEASED), None)
    if released is None or released.kind not in ("released", "dumped", "gone-back"):
        return False
    if released.kind == "gone-back" and (released.data["to"] or released.data["vent"]):
        return False
    return not zero_read(trial, released.at, reading_error(plan_of(trial)))


RELEASED = frozenset({"gone-back", "released", "dumped", "vent-open", "emptied", "dried", "vent-shut"})
"""What says last how pressure left it."""


def way_of(act: str, did: str) -> Act | None:
    """The way of mending that was chosen, or that the words tell of."""
    return ACTS.get(act) or told_as(did)


def told_of(leaks: list[Finding]) -> list[Event]:
    """The entries that tell of some leaks, in the trials before too, oldest first: asked for once."""
    trials = {one.trial_id for leak in leaks for one in _chain(leak)}
    if not trials:
        return []
    told = Event.objects.filter(trial__in=trials, kind__in=("leak", "mended")).select_related("trial")
    return list(told.order_by("at", "stored_at"))


def mends_of(leak: Finding, told: list[Event]) -> list[Event]:
    """What was done about a leak in its own trial, oldest first."""
    return [event for event in told if event.kind == "mended" and event.data.get("leak") == str(leak.pk)]


def times_tightened(leak: Finding, told: list[Event]) -> int:
    """How often a leak was tightened, in this trial and the earlier ones that it was in."""
    done = [event for one in _chain(leak) for event in mends_of(one, told)]
    ways = [way_of(str(event.data.get("act", "")), str(event.data.get("did", ""))) for event in done]
    return sum(way is not None and way.id == "tightened" for way in ways)


def _chain(leak: Finding) -> list[Finding]:
    """A leak with what it was in earlier trials."""
    found, seen = [leak], {leak.pk}
    while found[-1].same is not None and found[-1].same.pk not in seen:
        found.append(found[-1].same)
        seen.add(found[-1].pk)
    return found


def cures_till(trial: Trial, compound: str, at: datetime.datetime) -> datetime.datetime | None:
    """Till when a compound that was put on at a moment cures, at the temperature that is known there."""
    sheet, seen = plan_of(trial).sheet, latest(trial)
    warm = seen.temperature if seen is not None and seen.temperature is not None else sheet.water_temperature
    return not_before(at, compound, warm)


def curing(trial: Trial, events: list[Event]) -> Finding | None:
    """The leak whose seal has still to cure the longest; None where none has, or it was said why it is tried sooner."""
    now, said = trial.now(), [event.at for event in events if event.kind == "tried-sooner"]
    open_ = [
        leak
        for leak in _real_with(trial).filter(trial__vessel=trial.vessel_id, until__gt=now)
        if leak.mended_at is not None and not any(at >= leak.mended_at for at in said)
    ]
    return max(open_, key=lambda leak: leak.until or now, default=None)


def _real_with(trial: Trial) -> models.QuerySet[Finding]:
    """Leaks that count for a trial: those of real runs; of practice its own alone."""
    return Finding.of(trial) if trial.practice else Finding.real()


def cures_says(leak: Finding, now: datetime.datetime) -> Said:
    """What cures till when, in words."""
    assert leak.until is not None
    event = leak.trial.events.filter(kind="mended", data__leak=str(leak.pk)).order_by("-at").first()
    compound = str(event.data.get("compound", "")) if event else ""
    name = say(f"hunt.{compound}") if compound in COMPOUNDS() else say("hunt.seal")
    if leak.mended_at is not None and leak.until - leak.mended_at >= NEVER:
        return say("hunt.too-cold", where=leak.where, compound=name)
    local = timezone.localtime(leak.until)
    until = f"{local.day} {local:%B, %H:%M}"
    return say("hunt.cures", where=leak.where, compound=name, until=until, left=(leak.until - now).total_seconds())


def rate_of(leak: Finding) -> Counted | None:
    """What was counted of a leak, as a rate with its band, m³/s; None where nothing was."""
    if leak.count is None or not leak.over:
        return None
    return counted(leak.count, leak.over, "drops" if leak.shows in ("damp", "weep", "drip", "stream") else "bubbles")


@dataclass(frozen=True)
class Told:
    """A line of a leak's story: in which trial, when, and what was seen or done."""

    id: UUID
    trial: int
    at: datetime.datetime
    says: Said


def story_of(leak: Finding, told: list[Event]) -> list[Told]:
    """Everything that was seen of a leak and done about it, oldest first, across the trials that it was in."""
    found = []
    for one in reversed(_chain(leak)):
        mine = [event for event in told if event.pk == one.pk] + mends_of(one, told)
        found += [Told(event.trial_id, event.trial.number, event.at, _line(event)) for event in mine]
    return [*found, *dry_since(leak, told)]


def _line(event: Event) -> Said:
    return found_says(event.data) if event.kind == "leak" else mended_says(event.data)


def dry_since(leak: Finding, told: list[Event]) -> list[Told]:
    """When it was dry since it was mended: the first trial of the vessel that was held tight at what it leaked at; none
    where nothing was done about it, or nothing was held so far.
    """
    if leak.mended_at is None and not mends_of(leak, told):
        return []
    since = Trial.objects.filter(vessel=leak.trial.vessel_id, number__gte=leak.trial.number, verdict__called="tight")
    for trial in since.select_related("verdict").order_by("number"):
        at = trial.test_pressure
        if at is not None and at >= (leak.pressure or 0.0) and not trial.practice:
            return [Told(trial.pk, trial.number, trial.verdict.at, say("hunt.story-dry", pressure=at))]
    return []


def asks(owner: Owner, act: Act, leak: Finding | None = None) -> Said:
    """What a mend voids and asks for, this time included."""
    times = times_tightened(leak, told_of([leak])) + 1 if leak is not None and act.id == "tightened" else 1
    return asks_of(act, owner, times)


def threads(vessel: Vessel) -> list[Finding]:
    """The leaks of a vessel as they were found last, each once, the latest first: an earlier one goes with the later
    that it is.
    """
    found = Finding.real().filter(trial__vessel=vessel).select_related("trial", "same").order_by("-at")
    earlier = {one.same_id for one in found if one.same_id}
    return [one for one in found if one.pk not in earlier]


def places(trial: Trial, stands: RunState, events: list[Event]) -> list[Place]:
    """Where to look next in a trial, the likeliest place first."""
    rows = _real_with(trial).values_list("where").annotate(times=Count("id"))
    return look_next(plan_of(trial).sheet, touched(trial), dict(rows), shown(_ran(trial, stands, events)))


def touched(trial: Trial) -> list[str]:
    """What was mended on a vessel since it was last held tight, in this trial and those before, the latest last; of
    practice in itself alone.
    """
    of_its_kind = Trial.objects.filter(pk=trial.pk) if trial.practice else Trial.objects.exclude(source=Source.RIG)
    since = of_its_kind.filter(vessel=trial.vessel_id, number__lte=trial.number)
    tight = since.filter(verdict__called="tight", number__lt=trial.number).order_by("-number").first()
    if tight is not None:
        since = since.filter(number__gt=tight.number)
    mends = Event.objects.filter(kind="mended", trial__in=since).order_by("at", "stored_at")
    return [str(where) for where in mends.values_list("data__where", flat=True) if where]


def _ran(trial: Trial, stands: RunState, events: list[Event]) -> list[Ran]:
    """How it leaked while it stood: in the pauses of its stages, and in its hold."""
    found = []
    for n, event in enumerate(events):
        if event.kind not in ("stage-reached", "shut-in"):
            continue
        ended = next((later.at for later in events[n + 1 :] if later.kind in STIRS), None)
        leak = weighed(trial, stands, event.at, ended)[0]
        warm = [one.temperature for one in readings_between(trial, event.at, ended or trial.now()) if one.temperature]
        if leak is not None and event.data.get("pressure"):
            mean = sum(warm) / len(warm) if warm else None
            found.append(Ran(float(event.data["pressure"]), leak.low, leak.high, mean))
    return found
