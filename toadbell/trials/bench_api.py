"""The bench over the wire."""

import dataclasses
import datetime
from collections.abc import Callable
from typing import Any, Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import Field, Router, Schema, Status

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer
from toadbell.core.bench.situations import Situation, look
from toadbell.core.bench.stroke_answers import StrokesAnswer
from toadbell.core.units import QuantityError
from toadbell.core.vessel.drawing import Drawing
from toadbell.shed.drawn import drawn
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.trials import bench, words
from toadbell.trials.api import maker_of
from toadbell.trials.frozen import plan_of
from toadbell.trials.models import Event, Reading, Source, State, Trial
from toadbell.trials.pumped import hold_so_far, strokes_answer, strokes_made
from toadbell.trials.readings import latest, take
from toadbell.trials.rig import catch_up, rig_and_state, work_rig
from toadbell.trials.sources import Device
from toadbell.trials.standing import Standing, findings, standing
from toadbell.trials.steps import ticked

router = Router()
TRACE_POINTS = 600


class Clock(Schema):
    """The trial's time is trial_anchor + (now − wall_anchor) × speed; server_now sets a browser's clock right."""

    server_now: datetime.datetime
    wall_anchor: datetime.datetime | None
    trial_anchor: datetime.datetime | None
    speed: float


class Point(Schema):
    """A reading. Pressure Pa, temperature K."""

    at: datetime.datetime
    pressure: float
    temperature: float | None


class Latest(Point):
    """The last reading, and who read it."""

    source: Source
    name: str


class LogLine(Schema):
    """A line of the log."""

    id: UUID
    at: datetime.datetime
    kind: str
    says: str
    by: str


class SightOut(Schema):
    """What is seen on looking at the simulated rig: which leak, whose, where, how it shows, and drops a minute."""

    number: int
    owner: str
    where: str
    how: str
    drops: float


class RigOut(Schema):
    """The simulated rig's valves and strokes, and what is seen of it."""

    to_go: int
    shut_in: bool
    vent_open: bool
    burst: bool
    lifted: bool
    sights: list[SightOut]


class GuardOut(Schema):
    """A guard that tripped and was not answered."""

    id: UUID
    code: str
    does: str
    says: str
    at: datetime.datetime


class LeakOut(Schema):
    """A leak that was found, where its pin is on the vessel (m along and across), and what was done about it."""

    id: UUID
    at: datetime.datetime
    owner: str
    where: str
    shows: str
    pin: dict[str, float] | None
    mend: str | None


class HoldOut(Schema):
    """The hold as it goes: asked for so many s; Pa since shut-in, and what the temperature explains of it; the judge's view so far."""

    began: datetime.datetime
    ended: datetime.datetime | None
    asked: float
    shut_in: float
    drop: float | None
    drop_from_temperature: float | None
    says: str | None


class HandOut(Schema):
    """Whose hand the run is in, and whether that is this browser's."""

    mine: bool
    name: str


class OpeningTick(Schema):
    """An opening: what to do with it, is it done, is it undone again after."""

    name: str
    do: str
    ready: bool
    undone: bool


class BenchLive(Schema):
    """What changes on the bench as the run goes."""

    id: UUID
    vessel: str
    number: int
    state: State
    source: Source
    clock: Clock
    started_at: datetime.datetime | None
    phase: str
    since: datetime.datetime
    until: datetime.datetime | None
    reached: int
    round: int
    strokes: int
    pumped: StrokesAnswer | None
    hold: HoldOut | None
    guards: list[GuardOut]
    leaks: list[LeakOut]
    hand: HandOut
    now: words.Now
    latest: Latest | None
    readings: int
    log: list[LogLine]
    rig: RigOut | None
    openings: list[OpeningTick]


class BenchOut(BenchLive):
    """Everything the bench shows: the frozen plan and the drawing too."""

    answer: DeriveAnswer
    shape: Drawing


class Series(Schema):
    """The readings of one source: s from the start of the run, Pa, K."""

    id: str
    name: str
    time: list[float]
    pressure: list[float]
    temperature: list[float | None]


class Trace(Schema):
    """Readings to draw, each source by itself; with `cursor` only those stored since are asked for."""

    cursor: str
    series: list[Series]


class StartIn(Schema):
    """How to run: on the real rig, or on the simulated one in a situation, written as quantities."""

    source: Source = Source.DIAL
    speed: float = 1.0
    leak: str | None = None
    owner: Literal["boundary", "rig"] = "boundary"
    where: str = Field(default="the lower seam", max_length=80)
    eased: float = Field(default=1.0, ge=0, le=1)
    air: str | None = None
    drift: str | None = Field(default=None, description="of the room, kelvin per hour, such as “-0.5 delta_degC”")
    washer: str | None = Field(default=None, description="a washer's maximum, such as “120 bar”")
    yields_at: str | None = None
    bursts_at: str | None = None
    relief_at: str | None = None
    sticking: str | None = None
    seed: int = Field(default=1, ge=0, le=2**31)
    hand_name: str = Field(default="", max_length=60)

    def situation(self) -> Situation:
        """What the simulated rig is to meet; raises QuantityError."""
        return Situation(
            leak=_optional(self.leak, "leak") or 0.0,
            owner=self.owner,
            where=self.where,
            eased=self.eased,
            air=_optional(self.air, "volume"),
            drift=(_optional(self.drift, "temperature_difference") or 0.0) / 3600,
            washer=_optional(self.washer, "pressure"),
            yields_at=_optional(self.yields_at, "pressure"),
            bursts_at=_optional(self.bursts_at, "pressure"),
            relief_at=_optional(self.relief_at, "pressure"),
            sticking=_optional(self.sticking, "pressure") or 0.0,
            seed=self.seed,
        )


class ReadingIn(Schema):
    """A reading. The id comes from whoever read it, so that sending twice stores once."""

    id: UUID
    pressure: str = Field(max_length=60)
    temperature: str | None = Field(default=None, max_length=60)
    at: datetime.datetime | None = None


class ReadingsTaken(Schema):
    """The ids that are now on the disk."""

    stored: list[UUID]


class StepIn(Schema):
    """A step of the run; its id makes sending it twice the same as once. `at` where it could not be sent at once."""

    id: UUID
    kind: str
    data: dict[str, Any] = {}
    at: datetime.datetime | None = None


class HandIn(Schema):
    """Who takes the run over: what the hand is called, such as “phone”."""

    name: str = Field(default="", max_length=60)


class RigIn(Schema):
    """A hand on the simulated rig."""

    action: Literal["pump", "stop", "shut", "open", "tighten"]
    strokes: int = 0
    which: int = 0


def _find(trial_id: UUID) -> Trial:
    return Trial.objects.select_related("vessel").get(pk=trial_id)


def _hand(request: HttpRequest) -> str:
    """The browser that asks: each window has an id of its own."""
    return request.headers.get("X-Hand", "")[:40]


def bench_out(trial: Trial, request: HttpRequest) -> BenchOut:
    """The bench as it stands, the simulated rig brought up to now, with the plan it runs on."""
    _, answer = plan_of(trial)
    return BenchOut(**dict(bench_live(trial, request)), answer=answer, shape=drawn(trial.sheet))


def bench_live(trial: Trial, request: HttpRequest) -> BenchLive:
    """The bench as it stands, the simulated rig brought up to now."""
    maker, trial = maker_of(request), catch_up(trial)
    _, answer = plan_of(trial)
    events = trial.effective_events()
    stands, seen = standing(trial, events), latest(trial)
    strokes = strokes_made(trial, stands, events)
    return BenchLive(
        id=trial.id,
        vessel=trial.vessel.name,
        number=trial.number,
        state=State(trial.state),
        source=Source(trial.source),
        clock=Clock(
            server_now=datetime.datetime.now(datetime.UTC),
            wall_anchor=trial.wall_anchor,
            trial_anchor=trial.trial_anchor,
            speed=trial.speed,
        ),
        started_at=trial.started_at,
        phase=stands.phase,
        since=stands.since,
        until=stands.until,
        reached=stands.reached,
        round=stands.round,
        strokes=strokes,
        pumped=strokes_answer(trial, stands, maker.pressure_unit),
        hold=_hold_out(trial, stands),
        guards=[GuardOut(id=g.id, at=g.at, **{key: g.data[key] for key in ("code", "does", "says")}) for g in stands.guards],
        leaks=[LeakOut(**{"shows": "weep", "pin": None, **leak}) for leak in findings(events)],
        hand=HandOut(mine=trial.hand in ("", _hand(request)), name=trial.hand_name),
        now=words.now_card(trial, stands, answer, maker, seen.pressure if seen else None, strokes),
        latest=_latest_out(seen) if seen else None,
        readings=trial.readings.count(),
        log=list(reversed(log_of(events, maker))),
        rig=_rig_out(trial) if trial.rig else None,
        openings=[OpeningTick(**dataclasses.asdict(one)) for one in ticked(answer, events)],
    )


def _latest_out(seen: Reading) -> Latest:
    return Latest(at=seen.at, pressure=seen.pressure, temperature=seen.temperature, source=Source(seen.source), name=source_name(seen))


def source_name(reading: Reading) -> str:
    """Who read it, in words."""
    if reading.device is not None:
        return reading.device.name
    if reading.imported is not None:
        return reading.imported.name
    return _SOURCES[reading.source]


def _hold_out(trial: Trial, stands: Standing) -> HoldOut | None:
    if stands.hold is None or stands.shut_in is None:
        return None
    judged = hold_so_far(trial, stands)
    return HoldOut(
        began=stands.hold[0], ended=stands.hold[1], asked=stands.hold_for, shut_in=stands.shut_in, drop=judged.drop if judged else None,
        drop_from_temperature=judged.drop_from_temperature if judged else None, says=judged.says if judged else None,
    )  # fmt: skip


def _rig_out(trial: Trial) -> RigOut:
    rig, state = rig_and_state(trial)
    sights = [SightOut(**dataclasses.asdict(sight)) for sight in look(rig, state)]
    return RigOut(
        to_go=state.to_go, shut_in=state.shut_in, vent_open=state.open_to_air, burst=state.burst, lifted=state.lifted, sights=sights
    )


def log_of(events: list[Event], maker: Maker) -> list[LogLine]:
    """The log, oldest first."""
    return [LogLine(id=e.id, at=e.at, kind=e.kind, says=says, by=e.by.shown_name) for e, says in words.log_lines(events, maker)]


def trace(trial: Trial) -> list[Point]:
    """The readings for drawing: all of them, or evenly picked where there are very many; always the last."""
    rows = list(trial.readings.order_by("at").values_list("at", "pressure", "temperature"))
    every = max(1, len(rows) // TRACE_POINTS)
    picked = rows[::every] + (rows[-1:] if len(rows) % every != 1 and every > 1 else [])
    return [Point(at=at, pressure=pressure, temperature=temperature) for at, pressure, temperature in picked]


@router.get("/trials/{trial_id}/bench", response=BenchOut)
def get_bench(request: HttpRequest, trial_id: UUID) -> BenchOut:
    """The bench as it stands."""
    return bench_out(_find(trial_id), request)


@router.get("/trials/{trial_id}/bench/live", response=BenchLive)
def get_live(request: HttpRequest, trial_id: UUID) -> BenchLive:
    """What has changed: asked every moment by everybody who watches."""
    return bench_live(Trial.objects.select_related("vessel").defer("sheet", "frozen").get(pk=trial_id), request)


@router.post("/trials/{trial_id}/start", response=BenchOut)
def start(request: HttpRequest, trial_id: UUID, data: StartIn) -> BenchOut:
    """Begin the run."""
    with Trial.hands_on(trial_id) as trial:
        bench.start(trial, maker_of(request), data.source, data.speed, data.situation(), _hand(request), data.hand_name)
    return bench_out(trial, request)


def _optional(text: str | None, kind: str) -> float | None:
    return units.read(text, kind).value if text and text.strip() else None


@router.get("/trials/{trial_id}/trace", response=Trace)
def get_trace(request: HttpRequest, trial_id: UUID, after: datetime.datetime | None = None) -> Trace:
    """The readings, each source by itself; those stored after a cursor where one is given."""
    trial = _find(trial_id)
    rows = trial.readings.order_by("at")
    if after is not None:
        rows = rows.filter(stored_at__gt=after)
    begun = (trial.started_at or trial.planned_at).timestamp()
    series: dict[str, Series] = {}
    cursor = after
    names = {str(d.pk): d.name for d in Device.objects.filter(readings__trial=trial).distinct()} | {
        str(f.pk): f.name for f in trial.files.all()
    }
    for at, p, warm, stored, source, device, file in rows.values_list(
        "at", "pressure", "temperature", "stored_at", "source", "device_id", "imported_id"
    ):
        key = str(device or file or source)
        one = series.setdefault(
            key, Series(id=key, name=names.get(key, _SOURCES.get(source, source)), time=[], pressure=[], temperature=[])
        )
        one.time.append(round(at.timestamp() - begun, 3))
        one.pressure.append(p)
        one.temperature.append(warm)
        cursor = stored if cursor is None or stored > cursor else cursor
    return Trace(cursor=cursor.isoformat() if cursor else "", series=list(series.values()))


_SOURCES = {"dial": "typed from the dial", "rig": "the rig's gauge"}


@router.post("/trials/{trial_id}/hand", response=BenchOut)
def take_over(request: HttpRequest, trial_id: UUID, data: HandIn) -> BenchOut:
    """Take the run into this hand."""
    with Trial.hands_on(trial_id) as trial:
        bench.take_over(trial, maker_of(request), _hand(request), data.name)
    return bench_out(_find(trial_id), request)


@router.post("/trials/{trial_id}/speed", response=BenchOut)
def set_speed(request: HttpRequest, trial_id: UUID, speed: float) -> BenchOut:
    """Hurry the simulated rig's time, or let it go by the clock."""
    with Trial.hands_on(trial_id) as found:
        bench.must_hold(found, _hand(request))
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
    now, strokes = trial.now(), _strokes_then(trial)
    readings = [
        Reading(
            id=r.id, trial=trial, at=min(r.at or now, now), source=Source.DIAL, strokes=strokes(r.at or now),
            pressure=units.read(r.pressure, "pressure", default_unit=maker.pressure_unit).value,
            temperature=units.read(r.temperature, "temperature", default_unit="degC").value if r.temperature else None,
        )
        for r in batch
    ]  # fmt: skip
    if any(r.pressure < 0 for r in readings):
        raise QuantityError("a gauge shows no less than zero here")
    take(trial, readings)
    return Status(201, ReadingsTaken(stored=[reading.id for reading in readings]))


def _strokes_then(trial: Trial) -> Callable[[datetime.datetime], int]:
    """How many strokes were made in the run by a moment, by those that were logged."""
    made = [(e.at, e.data["count"]) for e in trial.effective_events() if e.kind == "strokes"]
    return lambda moment: sum(count for at, count in made if at <= moment)


@router.post("/trials/{trial_id}/steps", response={201: BenchOut})
def step(request: HttpRequest, trial_id: UUID, data: StepIn) -> Status[BenchOut]:
    """Do a step of the run."""
    bench.act(_find(trial_id), maker_of(request), data.kind, data.id, data.data, data.at, _hand(request))
    return Status(201, bench_out(_find(trial_id), request))


@router.post("/trials/{trial_id}/rig", response=BenchOut)
def rig(request: HttpRequest, trial_id: UUID, data: RigIn) -> BenchOut:
    """Lay hands on the simulated rig."""
    trial = _find(trial_id)
    bench.must_hold(trial, _hand(request))
    work_rig(trial, maker_of(request), data.action, data.strokes, data.which)
    return bench_out(_find(trial_id), request)
