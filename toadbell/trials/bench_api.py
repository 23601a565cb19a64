"""The bench over the wire."""

import dataclasses
import datetime
from typing import Any, Literal
from uuid import UUID

from django.http import HttpRequest
from ninja import Field, Router, Schema, Status

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer
from toadbell.core.bench.rig import RigState
from toadbell.core.units import QuantityError
from toadbell.core.vessel.drawing import Drawing
from toadbell.shed.drawn import drawn
from toadbell.shed.models import Maker
from toadbell.trials import bench, words
from toadbell.trials.api import maker_of
from toadbell.trials.models import Event, Reading, Source, State, Trial
from toadbell.trials.readings import latest, plan_of, take
from toadbell.trials.rig import Faults, catch_up, work_rig

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


class LogLine(Schema):
    """A line of the log."""

    id: UUID
    at: datetime.datetime
    kind: str
    says: str
    by: str


class RigOut(Schema):
    """The simulated rig's valves and strokes."""

    strokes: int
    to_go: int
    shut_in: bool
    vent_open: bool


class OpeningTick(Schema):
    """An opening: what to do with it, is it done, is it undone again after."""

    name: str
    do: str
    ready: bool
    undone: bool


class BenchOut(Schema):
    """Everything the bench shows."""

    id: UUID
    vessel: str
    number: int
    state: State
    source: Source
    answer: DeriveAnswer
    shape: Drawing
    clock: Clock
    started_at: datetime.datetime | None
    phase: str
    since: datetime.datetime
    until: datetime.datetime | None
    reached: int
    strokes: int
    shut_in_pressure: float | None
    now: words.Now
    latest: Point | None
    trace: list[Point]
    log: list[LogLine]
    rig: RigOut | None
    openings: list[OpeningTick]


class StartIn(Schema):
    """How to run: on a dial, or on the simulated rig with its faults, written as quantities."""

    source: Source = Source.DIAL
    speed: float = 1.0
    leak: str | None = None
    air: str | None = None
    drift: str | None = Field(default=None, description="of the room, kelvin per hour, such as “-0.5 delta_degC”")
    seed: int = Field(default=1, ge=0, le=2**31)


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
    """A step of the run; its id makes sending it twice the same as once."""

    id: UUID
    kind: str
    data: dict[str, Any] = {}


class RigIn(Schema):
    """A hand on the simulated rig."""

    action: Literal["pump", "stop", "shut", "open"]
    strokes: int = 0


def _find(trial_id: UUID) -> Trial:
    return Trial.objects.select_related("vessel").get(pk=trial_id)


def bench_out(trial: Trial, request: HttpRequest) -> BenchOut:
    """The bench as it stands, the simulated rig brought up to now."""
    maker, trial = maker_of(request), catch_up(trial)
    _, answer = plan_of(trial)
    events = trial.effective_events()
    stands, seen = bench.standing(trial, events), latest(trial)
    rig = RigState(**trial.rig["state"]) if trial.rig else None
    strokes = rig.strokes if rig else sum(e.data["count"] for e in events if e.kind == "strokes")
    shut_in = next((e for e in events if e.kind == "shut-in"), None)
    return BenchOut(
        id=trial.id,
        vessel=trial.vessel.name,
        number=trial.number,
        state=State(trial.state),
        source=Source(trial.source),
        answer=answer,
        shape=drawn(trial.sheet),
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
        strokes=strokes,
        shut_in_pressure=shut_in.data["pressure"] if shut_in else None,
        now=words.now_card(trial, stands, answer, maker, seen.pressure if seen else None, strokes),
        latest=Point(at=seen.at, pressure=seen.pressure, temperature=seen.temperature) if seen else None,
        trace=trace(trial),
        log=list(reversed(log_of(events, maker))),
        rig=RigOut(strokes=rig.strokes, to_go=rig.to_go, shut_in=rig.shut_in, vent_open=rig.open_to_air) if rig else None,
        openings=[OpeningTick(**dataclasses.asdict(one)) for one in bench.ticked(answer, events)],
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


@router.post("/trials/{trial_id}/start", response=BenchOut)
def start(request: HttpRequest, trial_id: UUID, data: StartIn) -> BenchOut:
    """Begin the run."""
    faults = Faults(
        leak=_optional(data.leak, "leak"),
        air=_optional(data.air, "volume") if data.air else None,
        drift=_optional(data.drift, "temperature_difference") / 3600,
        seed=data.seed,
    )
    with Trial.hands_on(trial_id) as trial:
        bench.start(trial, maker_of(request), data.source, data.speed, faults)
    return bench_out(trial, request)


def _optional(text: str | None, kind: str) -> float:
    return units.read(text, kind).value if text else 0.0


@router.post("/trials/{trial_id}/speed", response=BenchOut)
def set_speed(request: HttpRequest, trial_id: UUID, speed: float) -> BenchOut:
    """Hurry the simulated rig's time, or let it go by the clock."""
    with Trial.hands_on(trial_id) as found:
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
        raise bench.NotNow("The simulated rig's logger reads by itself.")
    now = trial.now()
    readings = [
        Reading(
            id=r.id, trial=trial, at=min(r.at or now, now), source=Source.DIAL,
            pressure=units.read(r.pressure, "pressure", default_unit=maker.pressure_unit).value,
            temperature=units.read(r.temperature, "temperature", default_unit="degC").value if r.temperature else None,
        )
        for r in batch
    ]  # fmt: skip
    if any(r.pressure < 0 for r in readings):
        raise QuantityError("a gauge shows no less than zero here")
    return Status(201, ReadingsTaken(stored=take(trial, readings)))


@router.post("/trials/{trial_id}/steps", response={201: BenchOut})
def step(request: HttpRequest, trial_id: UUID, data: StepIn) -> Status[BenchOut]:
    """Do a step of the run."""
    bench.act(_find(trial_id), maker_of(request), data.kind, data.id, data.data)
    return Status(201, bench_out(_find(trial_id), request))


@router.post("/trials/{trial_id}/rig", response=BenchOut)
def rig(request: HttpRequest, trial_id: UUID, data: RigIn) -> BenchOut:
    """Lay hands on the simulated rig."""
    work_rig(_find(trial_id), maker_of(request), data.action, data.strokes)
    return bench_out(_find(trial_id), request)
