"""The bench over the wire."""

import dataclasses
import datetime
from collections import Counter
from uuid import UUID

from django.db.models import Count, F, Max, Q, QuerySet, Window
from django.db.models.functions import RowNumber
from django.http import HttpRequest
from ninja import Body, Router, Status

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.expansion import expands
from toadbell.core.judge.lifts import too_quick
from toadbell.core.phrases import of_scale, read_kept, say
from toadbell.core.physics.materials import LAY_UPS
from toadbell.core.plan.detect import LOW_HOLD
from toadbell.core.plan.prepare import before_beginning
from toadbell.core.procedures import PROCEDURES, relief
from toadbell.core.run.headline import worst_last
from toadbell.core.run.log_text import log_lines
from toadbell.core.run.low import LowStands, low_stands
from toadbell.core.run.now import now_card
from toadbell.core.run.observed import leaks_unmended, observed
from toadbell.core.run.phases import ON_THE_BENCH, RunState, after_the_hold
from toadbell.core.run.steps import allowed
from toadbell.core.units import QuantityError
from toadbell.core.vessel.sections import sections_of
from toadbell.core.vessel.soap import LEAKS
from toadbell.shed.drawn import drawn
from toadbell.shed.errors import NotNow
from toadbell.shed.wire import Moment
from toadbell.trials import clock
from toadbell.trials.bench import tending
from toadbell.trials.bench.expanding import expansion_out, joint_of
from toadbell.trials.bench.hunt import (
    cures_says,
    curing,
    places,
    touched,
)
from toadbell.trials.bench.kept_log import kept_log
from toadbell.trials.bench.leaks import compounds, earlier, leaks_out, ways
from toadbell.trials.bench.readings import kept_otherwise, latest, may_be_read, take
from toadbell.trials.bench.rig import catch_up, work_rig
from toadbell.trials.bench.rig_out import rig_out
from toadbell.trials.bench.run_state import course_from, run_state
from toadbell.trials.bench.sections import circuit_out
from toadbell.trials.bench.seen import seen_of
from toadbell.trials.bench.shapes import (
    AfterStep,
    BenchLive,
    BenchOut,
    Clock,
    GuardOut,
    HandIn,
    HandOut,
    HoldOut,
    Latest,
    LiftOut,
    LogLine,
    LowOut,
    ObservedOut,
    OpeningTick,
    PlaceOut,
    ReadingIn,
    ReadingsTaken,
    RigIn,
    SectionOut,
    Series,
    StartIn,
    SteamOut,
    StepIn,
    StopIn,
    Trace,
    ValveOut,
)
from toadbell.trials.bench.steaming import barred, behind, steam_of
from toadbell.trials.bench.steps import still_needed, ticked
from toadbell.trials.bench.stroke_analysis import strokes_answer, strokes_by, strokes_made
from toadbell.trials.judge.beside import by_its_level
from toadbell.trials.judge.designs import burst_of
from toadbell.trials.judge.hold import hold_so_far
from toadbell.trials.marks import frozen_mark, must_be_as_seen
from toadbell.trials.models import Event, Reading, Source, State, Trial
from toadbell.trials.models.sources import Device
from toadbell.trials.plan.api import maker_of
from toadbell.trials.plan.frozen import plan_of

router = Router()
TRACE_POINTS = 4000
"""So many readings at the most are sent to be drawn; of more, evenly picked ones and the last of all."""
LAST_WHOLE = 400
"""So many of the last are all sent: they are read as a table, too."""
RAISED_ON = 1.15
"""Read so many times higher than the low hold's pressure, it was raised on, and the low hold left out."""
LOOKS_ALIKE = 2.0
"""What the strokes tell is not weighed anew for every look of everybody who watches, s."""


def _find(trial_id: UUID) -> Trial:
    return Trial.objects.select_related("vessel").get(pk=trial_id)


def _hand(request: HttpRequest) -> str:
    """The browser that asks: each window has an id of its own."""
    return request.headers.get("X-Hand", "")[:40]


def _called(request: HttpRequest, device: str) -> str:
    """What a hand is called where others see it: who it is, and on what, where they signed in."""
    signed_in = request.user.is_authenticated and request.session.get("_auth_user_id")
    return f"{maker_of(request).shown_name} on {device}" if signed_in and device else device


def bench_out(trial: Trial, request: HttpRequest) -> BenchOut:
    """The bench as it stands, with the plan it runs on."""
    sheet, answer = plan_of(trial)
    return BenchOut(
        **dict(bench_live(trial, request)),
        answer=answer,
        shape=drawn(trial.sheet),
        seen=frozen_mark(trial),
        after=_after_steps(answer),
        mending=say("leak.mend-cask" if sheet.kind == "cask" else "leak.mend-any"),
        instruments=[one for one in PROCEDURES[answer.procedure].panels if one != "expansion" or expands(sheet)],
        barred=barred(trial),
        begin=list(before_beginning(sheet, answer.procedure, answer.test_pressure)),
        ways=ways(sheet),
        compounds=compounds(sheet),
        earlier=earlier(trial),
        at_the_pin=say("hunt.composite") if sheet.materials & LAY_UPS else None,
        sections=[SectionOut(**dataclasses.asdict(one)) for one in sections_of(sheet)],
    )


def _after_steps(answer: DeriveAnswer) -> list[AfterStep]:
    said = {"looked": "looked-air"} if answer.medium != "water" else {}
    has_hold = PROCEDURES[answer.procedure].has_hold
    steps = ("hold-ended" if has_hold else "tried", *after_the_hold(answer.medium, has_hold))
    if answer.procedure == "steam":
        said = {kind: f"{kind}-steam" for kind in ("tried", "released", "vent-open")}
    return [AfterStep(kind=kind, says=say(f"step.after-{said.get(kind, kind)}")) for kind in steps]


def bench_live(trial: Trial, request: HttpRequest) -> BenchLive:
    """The bench as it stands."""
    _, answer = plan_of(trial)
    events = trial.effective_events()
    stands, seen = run_state(trial, events), latest(trial)
    strokes, hold = strokes_made(trial, stands, events), _hold_out(trial, stands, seen)
    needs = still_needed(trial, plan_of(trial), events)
    cure = curing(trial, events) if "tried-sooner" in needs else None
    cures = cures_says(cure, trial.now()) if cure else ""
    unmended = leaks_unmended(events)
    low = low_stands(events)
    if seen is not None and answer.hold.low is not None and seen.pressure > RAISED_ON * answer.hold.low.pressure:
        low = dataclasses.replace(low, pumped=True)
    return BenchLive(
        id=trial.id,
        vessel=trial.vessel.name,
        vessel_id=trial.vessel_id,
        number=trial.number,
        state=State(trial.state),
        source=Source(trial.source),
        clock=Clock(
            server_now=clock.now(),
            wall_anchor=trial.wall_anchor,
            trial_anchor=trial.trial_anchor,
            speed=trial.speed,
            off=clock.off() if trial.state in ON_THE_BENCH else 0.0,
        ),
        started_at=trial.started_at,
        phase=stands.phase,
        since=stands.since,
        until=stands.until,
        over_from=stands.over_from,
        reached=stands.reached,
        round=stands.round,
        course_from=course_from(trial, events),
        strokes=strokes,
        pumped=strokes_answer(trial, stands, within=LOOKS_ALIKE),
        hold=hold,
        guards=[
            GuardOut(id=g.id, at=g.at, code=g.data["code"], does=g.data["does"], says=read_kept(g.data["says"]))
            for g in worst_last(stands.guards)
            if stands.phase not in ("dumped", "over")  # what they asked for is done; the log has them
        ],
        leaks=leaks_out(trial),
        hand=HandOut(
            mine=trial.hand in ("", _hand(request)),
            name=trial.hand_name,
            asked=(trial.asked_name or "another window") if trial.asked_hand else None,
            asking=bool(trial.asked_hand) and trial.asked_hand == _hand(request),
        ),
        now=now_card(
            stands,
            answer,
            dial=trial.source == Source.DIAL,
            now=trial.now(),
            strokes=strokes,
            needs=needs,
            cures=cures,
            low=low,
            seen=seen_of(trial, plan_of(trial), stands, events, seen),
        ),
        reads=may_be_read(trial),
        allowed=_allowed(trial, stands, answer),
        latest=_latest_out(seen) if seen else None,
        readings=trial.readings.count(),
        log=list(reversed(log_of(events, answer.test_pressure))),
        rig=rig_out(trial, stands) if trial.rig else None,
        openings=[OpeningTick(**dataclasses.asdict(one)) for one in ticked(answer, events)],
        observed=[
            ObservedOut(
                what=what,
                leaks=what == "soap" and one.word in LEAKS,
                unmended=what == "soap" and one.place in unmended,
                **dataclasses.asdict(one),
            )
            for what in PROCEDURES[answer.procedure].instruments
            for one in observed(events, what).values()
        ],
        needs=needs,
        valve=_valve_out(trial, events),
        steam=_steam_out(trial, events, stands),
        expansion=expansion_out(trial, events, stands),
        burst=burst_of(trial, plan_of(trial), events) if trial.started_at else None,
        gas_by_level=by_its_level(plan_of(trial)),
        joint=joint_of(trial, plan_of(trial), events),
        look_next=_look_next(trial, stands, events, hold),
        circuit=circuit_out(trial, stands, events),
        low=_low_out(answer, low),
        low_offer=_low_offer(answer, stands, hold, low),
    )


def _look_next(trial: Trial, stands: RunState, events: list[Event], hold: HoldOut | None) -> list[PlaceOut]:
    """Where to look next, where the hold leaks and whose leak it is has not been found; before that, what was touched
    since it was last dry.
    """
    if any(event.kind == "leak" for event in events):
        return []
    if hold is not None and hold.verdict == "leaking":
        return [PlaceOut(name=one.name, why=one.why) for one in places(trial, stands, events)]
    if trial.state not in (State.READY, State.RUNNING):
        return []
    return [PlaceOut(name=one, why=say("hunt.look-touched")) for one in dict.fromkeys(reversed(touched(trial)))]


def _low_out(answer: DeriveAnswer, low: LowStands) -> LowOut | None:
    if low.going is None:
        return None
    long = answer.hold.low.long if answer.hold.low else LOW_HOLD
    return LowOut(began=low.going, until=low.going + datetime.timedelta(seconds=long))


def _low_offer(answer: DeriveAnswer, stands: RunState, hold: HoldOut | None, low: LowStands) -> str | None:
    """What a low hold now would do for a hold that cannot be told, before the vessel is let go."""
    may = stands.phase in ("held", "looking", "looked") and not low.after and answer.hold.low is not None
    if not may or hold is None or hold.verdict != "cannot-tell" or answer.hold.low is None:
        return None
    return say("now.low-offer", long=answer.hold.low.long, at=answer.hold.low.pressure)


def _allowed(trial: Trial, stands: RunState, answer: DeriveAnswer) -> list[str]:
    """The steps that may be done now; under steam nothing is let go by hand."""
    found = allowed(trial.state, stands, answer.stages)  # type: ignore[arg-type]
    return [one for one in found if one != "gone-back"] if answer.procedure == "steam" else found


def _valve_out(trial: Trial, events: list[Event]) -> ValveOut | None:
    """Of a relief valve's trial: what its rounds prove so far, and the lifts that its readings show."""
    sheet, answer = plan_of(trial)
    if answer.procedure != "relief":
        return None
    kept = kept_log(trial)
    step = (sheet.gauge.readable if sheet.gauge else None) or 0.005 * answer.test_pressure
    found = [LiftOut(time=one.time, lift=one.lift, reseat=one.reseat) for one in kept.all_lifts(step)]
    seen = {what: observed(events, what) for what in PROCEDURES["relief"].instruments}
    rate = too_quick(kept.times, kept.pressures, answer.relief_set) if answer.relief_set and len(kept) else None
    return ValveOut(
        judged=relief.judged(sheet, answer, seen, max(kept.pressures, default=None)),
        too_quick=None if rate is None else say("relief.too-quick", rate=rate),
        lifts=found,
    )


def _steam_out(trial: Trial, events: list[Event], stands: RunState) -> SteamOut | None:
    plan = plan_of(trial)
    judged = steam_of(trial, plan, events)
    if judged is None:
        return None
    return SteamOut(judged=judged, behind=behind(trial, plan.answer, events, stands))


def _latest_out(seen: Reading) -> Latest:
    return Latest(
        at=seen.at,
        pressure=seen.pressure,
        temperature=seen.temperature,
        source=Source(seen.source),
        name=source_name(seen),
    )


def source_name(reading: Reading) -> str:
    """Who read it, in words."""
    if reading.device is not None:
        return reading.device.name
    if reading.imported is not None:
        return reading.imported.name
    return _SOURCES[reading.source]


def _hold_out(trial: Trial, stands: RunState, seen: Reading | None) -> HoldOut | None:
    if stands.hold is None or stands.shut_in is None:
        return None
    judged = hold_so_far(trial, stands)
    return HoldOut(
        began=stands.hold[0],
        ended=stands.hold[1],
        asked=stands.hold_for,
        shut_in=stands.shut_in,
        drop=stands.shut_in - seen.pressure if seen else None,
        drop_from_temperature=judged.drop_from_temperature if judged else None,
        verdict=judged.verdict if judged else None,
        more=(judged.more_hold_needed or None) if judged else None,
        says=judged.says if judged else None,
    )


def log_of(events: list[Event], test_pressure: float | None) -> list[LogLine]:
    """The log, oldest first, of a trial of some test pressure, Pa."""
    with of_scale(test_pressure):
        return [LogLine(id=e.id, at=e.at, kind=e.kind, says=says, by=e.by.shown_name) for e, says in log_lines(events)]


@router.get("/trials/{trial_id}/bench", response=BenchOut)
def get_bench(request: HttpRequest, trial_id: UUID) -> BenchOut:
    """The bench as it stands."""
    return bench_out(_find(trial_id), request)


@router.get("/trials/{trial_id}/bench/live", response=BenchLive)
def get_live(request: HttpRequest, trial_id: UUID) -> BenchLive:
    """What has changed: asked every moment by everybody who watches."""
    return bench_live(
        Trial.objects.select_related("vessel").defer("sheet", "vessel_sheet", "frozen").get(pk=trial_id), request
    )


@router.post("/trials/{trial_id}/look", response=BenchLive)
def look_on(request: HttpRequest, trial_id: UUID) -> BenchLive:
    """What has changed, the simulated rig brought up to now: what the bench asks every moment while something is on
    it.
    """
    trial = catch_up(Trial.objects.select_related("vessel").get(pk=trial_id))
    if trial.state in ON_THE_BENCH:
        trial.notice_the_clock()
    return bench_live(trial, request)


@router.post("/trials/{trial_id}/start", response=BenchOut)
def start(request: HttpRequest, trial_id: UUID, data: StartIn) -> BenchOut:
    """Begin the run."""
    with Trial.locked(trial_id) as trial:
        if trial.state == State.READY:
            must_be_as_seen(frozen_mark(trial), data.seen, "The plan")
        tending.start(
            trial,
            maker_of(request),
            data.source,
            data.speed,
            data.situation(),
            _hand(request),
            _called(request, data.hand_name),
        )
    return bench_out(trial, request)


@router.get("/trials/{trial_id}/trace", response=Trace)
def get_trace(request: HttpRequest, trial_id: UUID, after: Moment | None = None) -> Trace:
    """The readings, each source by itself; those stored after a cursor where one is given."""
    trial = _find(trial_id)
    rows, whole = _to_draw(trial, after)
    begun = (trial.started_at or trial.planned_at).timestamp()
    series: dict[str, Series] = {}
    cursor = whole or after
    names = {str(d.pk): d.name for d in Device.objects.filter(readings__trial=trial).distinct()} | {
        str(f.pk): f.name for f in trial.files.all()
    }
    for at, p, warm, source, device, file in rows.values_list(
        "at", "pressure", "temperature", "source", "device_id", "imported_id"
    ):
        key = str(device or file or source)
        one = series.setdefault(
            key, Series(id=key, name=names.get(key, _SOURCES.get(source, source)), time=[], pressure=[], temperature=[])
        )
        one.time.append(round(at.timestamp() - begun, 3))
        one.pressure.append(p)
        one.temperature.append(warm)
    if sum(len(one.time) for one in series.values()) >= TRACE_POINTS / 2:
        _count_left_out(series, trial, after)
    return Trace(cursor=cursor.isoformat() if cursor else "", series=list(series.values()))


def _count_left_out(series: dict[str, Series], trial: Trial, after: datetime.datetime | None) -> None:
    """Say of each source how many of its readings were left out."""
    rows = trial.readings.all() if after is None else trial.readings.filter(stored_at__gt=after)
    each = rows.order_by().values_list("source", "device_id", "imported_id").annotate(count=Count("id"))
    whole: Counter[str] = Counter()
    for source, device, file, count in each:
        whole[str(device or file or source)] += count
    for key, one in series.items():
        one.left_out = max(0, whole[key] - len(one.time))


def _to_draw(trial: Trial, after: datetime.datetime | None) -> tuple[QuerySet[Reading], datetime.datetime | None]:
    """The readings to draw, those stored after a moment where one is given, in order of time; and when the last of all
    of them was stored.
    """
    rows = trial.readings.all() if after is None else trial.readings.filter(stored_at__gt=after)
    told = rows.aggregate(count=Count("id"), last=Max("stored_at"))
    if told["count"] > TRACE_POINTS:
        every = -(-told["count"] // TRACE_POINTS)
        numbered = rows.annotate(nth=Window(RowNumber(), order_by="at"))
        rows = numbered.annotate(rest=F("nth") % every).filter(Q(rest=1) | Q(nth__gt=told["count"] - LAST_WHOLE))
    return rows.order_by("at"), told["last"]


_SOURCES = {"dial": "typed from the dial", "rig": "the rig's gauge"}


@router.post("/trials/{trial_id}/hand", response=BenchOut)
def take_over(request: HttpRequest, trial_id: UUID, data: HandIn) -> BenchOut:
    """Take the run into this hand, ask for it, hand it over or keep it."""
    maker, hand = maker_of(request), _hand(request)
    with Trial.locked(trial_id) as trial:
        if data.how == "take":
            tending.take_over(trial, maker, hand, _called(request, data.name))
        elif data.how == "ask":
            tending.ask_for(trial, maker, hand, _called(request, data.name))
        else:
            tending.answer_asked(trial, maker, hand, give=data.how == "give")
    return bench_out(_find(trial_id), request)


@router.post("/trials/{trial_id}/stop", response=BenchOut)
def call_stop(request: HttpRequest, trial_id: UUID, data: StopIn) -> BenchOut:
    """Call stop: whoever sees the run may, and everybody hears who called."""
    tending.act(_find(trial_id), maker_of(request), "stop-called", data.id, {"text": data.text})
    return bench_out(_find(trial_id), request)


@router.post("/trials/{trial_id}/speed", response=BenchOut)
def set_speed(request: HttpRequest, trial_id: UUID, speed: float) -> BenchOut:
    """Hurry the simulated rig's time, or let it go by the clock."""
    with Trial.locked(trial_id) as found:
        tending.must_hold(found, _hand(request))
        trial = catch_up(found)
        trial.set_speed(speed)
    return bench_out(trial, request)


@router.post("/trials/{trial_id}/readings", response={201: ReadingsTaken})
def take_readings(request: HttpRequest, trial_id: UUID, batch: list[ReadingIn]) -> Status[ReadingsTaken]:
    """Store readings; those already stored are passed over. What is acknowledged is on the disk."""
    if len(batch) > 5000:
        raise QuantityError("send at most 5000 readings at a time")
    trial, maker = _find(trial_id), maker_of(request)
    if trial.source == Source.RIG:
        raise NotNow("The simulated rig's logger reads by itself.")
    now = trial.now()
    strokes = strokes_by(trial, [min(r.at or now, now) for r in batch])
    readings = [
        Reading(
            id=r.id,
            trial=trial,
            at=min(r.at or now, now),
            source=Source.DIAL,
            strokes=strokes(min(r.at or now, now)),
            pressure=units.read(r.pressure, "pressure", default_unit=maker.pressure_unit).value,
            temperature=units.read(r.temperature, "temperature", default_unit="degC").value if r.temperature else None,
        )
        for r in batch
    ]
    if any(r.pressure < 0 for r in readings):
        raise QuantityError("a gauge shows no less than zero here")
    stored = take(trial, readings)
    kept = list(dict.fromkeys(reading.id for reading in readings))
    return Status(201, ReadingsTaken(stored=kept, differs=list(stored.differs), says=kept_otherwise(stored)))


@router.post("/trials/{trial_id}/steps", response={201: BenchOut})
def step(request: HttpRequest, trial_id: UUID, data: Body[StepIn]) -> Status[BenchOut]:
    """Do a step of the run."""
    tending.act(_find(trial_id), maker_of(request), data.kind, data.id, data.data, data.at, _hand(request))
    return Status(201, bench_out(_find(trial_id), request))


@router.post("/trials/{trial_id}/rig", response=BenchOut)
def rig(request: HttpRequest, trial_id: UUID, data: RigIn) -> BenchOut:
    """Lay hands on the simulated rig."""
    trial = _find(trial_id)
    tending.must_hold(trial, _hand(request))
    work_rig(trial, maker_of(request), data.action, data.strokes, data.which, data.part)
    return bench_out(_find(trial_id), request)
