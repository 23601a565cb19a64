"""The run: what was done, where it stands, and what is to be done now."""

import dataclasses
import datetime
import uuid
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.utils import timezone

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer, StageAnswer
from toadbell.core.bench import rig as simulated
from toadbell.core.sheets import VesselSheet
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.trials.models import Event, Source, State, Trial
from toadbell.trials.readings import NOT_ON, ON_THE_BENCH, latest, plan_of
from toadbell.trials.rig import Faults, catch_up, change_rig, rig_of


@dataclass(frozen=True)
class Standing:
    """Where a run stands, from its events.

    reached      stages reached so far
    phase        "filling", "raising", "pausing", "at test", "holding", "held", "released", "dumped" or "over"
    since        when the phase began, the trial's time
    until        when the pause or the hold is over
    """

    reached: int
    phase: str
    since: datetime.datetime
    until: datetime.datetime | None


# -- start -------------------------------------------------------------------------------------------------------------


def start(trial: Trial, maker: Maker, source: str, speed: float, faults: Faults) -> None:
    """Begin the run: the clock starts, and with it the rig where it is simulated."""
    trial.must_be(State.READY, "This trial was started already." if trial.frozen else "Freeze the plan first.")
    sheet, answer = plan_of(trial)
    trial.source = Source(source)
    trial.started_at = trial.wall_anchor = trial.trial_anchor = timezone.now()
    trial.speed = 1.0
    if trial.source == Source.RIG:
        if not 1 <= speed <= 600:
            raise NotNow("The simulated rig runs at 1 to 600 times the clock.")
        trial.speed = speed
        rig = rig_of(sheet, answer, faults)
        trial.rig = {"setup": dataclasses.asdict(rig), "state": dataclasses.asdict(simulated.at_start(rig))}
    trial.enter(State.RUNNING, "started", maker, source=trial.source)


# -- steps -------------------------------------------------------------------------------------------------------------


def standing(trial: Trial, events: list[Event] | None = None) -> Standing:
    """Where the run stands, worked out from its events alone."""
    _, answer = plan_of(trial)
    done = trial.effective_events() if events is None else events
    last = {event.kind: event for event in done}
    since = trial.started_at or timezone.now()
    reached = [event for event in done if event.kind == "stage-reached"]
    if trial.state not in (State.READY, State.RUNNING, State.HELD):
        return Standing(len(reached), "dumped" if trial.state == State.ABORTED else "over", done[-1].at if done else since, None)
    if "released" in last:
        return Standing(len(reached), "released", last["released"].at, None)
    if "hold-ended" in last:
        return Standing(len(reached), "held", last["hold-ended"].at, None)
    if "shut-in" in last:
        began = last["shut-in"].at
        return Standing(len(reached), "holding", began, began + datetime.timedelta(seconds=answer.hold.minimum))
    if reached:
        stage, began = answer.stages[len(reached) - 1], reached[-1].at
        if len(reached) == len(answer.stages):
            return Standing(len(reached), "at test", began, None)
        over = began + datetime.timedelta(seconds=stage.pause)
        if trial.now() < over:
            return Standing(len(reached), "pausing", began, over)
        return Standing(len(reached), "raising", over, None)
    if "vent-shut" in last:
        return Standing(0, "raising", last["vent-shut"].at, None)
    return Standing(0, "filling", since, None)


def act(trial: Trial, maker: Maker, kind: str, event_id: uuid.UUID, data: dict[str, Any]) -> Event:
    """Do a step of the run and log it. The same event sent twice is done once."""
    existing = Event.objects.filter(pk=event_id).first()
    if existing:
        return existing
    with transaction.atomic():
        trial = catch_up(Trial.objects.select_for_update().get(pk=trial.pk))
        if kind not in _STEPS:
            raise NotNow(f"“{kind}” is no step of a run: one of {', '.join(_STEPS)}.")
        return _STEPS[kind](trial, maker, event_id, data)


def _vent_shut(trial: Trial, maker: Maker, event_id: uuid.UUID, data: dict[str, Any]) -> Event:
    trial.must_be(State.RUNNING, NOT_ON)
    if standing(trial).phase != "filling":
        raise NotNow("The vent is shut already.")
    change_rig(trial, lambda rig, state: simulated.close_vent(state))
    return trial.log("vent-shut", maker, event_id=event_id)


def _stage_reached(trial: Trial, maker: Maker, event_id: uuid.UUID, data: dict[str, Any]) -> Event:
    trial.must_be(State.RUNNING, NOT_ON)
    sheet, answer = plan_of(trial)
    stands, seen = standing(trial), latest(trial)
    if stands.phase not in ("raising", "pausing") or stands.reached >= len(answer.stages):
        raise NotNow("There is no stage to reach now.")
    stage = answer.stages[stands.reached]
    short = reading_error(sheet, answer)
    if seen is None or seen.pressure < stage.target - short:
        last = "nothing was read yet" if seen is None else f"the last reading is {show(seen.pressure, maker)}"
        raise NotNow(f"{show(stage.target, maker)} is to be reached and {last}. Pump on and read again.")
    change_rig(trial, lambda rig, state: simulated.pump(state, 0))
    return trial.log("stage-reached", maker, event_id=event_id, stage=stands.reached, name=stage.name, pressure=seen.pressure)


def reading_error(sheet: VesselSheet, answer: DeriveAnswer) -> float:
    """How far short of a target a reading may be and still be it, Pa: what the gauge can tell, else half a per cent."""
    return (sheet.gauge.readable if sheet.gauge else None) or 0.005 * answer.test_pressure


def _shut_in(trial: Trial, maker: Maker, event_id: uuid.UUID, data: dict[str, Any]) -> Event:
    trial.must_be(State.RUNNING, NOT_ON)
    seen, stands = latest(trial), standing(trial)
    if stands.phase in ("filling", "holding"):
        raise NotNow("The vent is still open." if stands.phase == "filling" else "It is shut in already.")
    if seen is None or seen.pressure <= 0:
        raise NotNow("There is no pressure to hold: log a reading first.")
    change_rig(trial, lambda rig, state: simulated.set_shut_off(state, True))
    return trial.log("shut-in", maker, event_id=event_id, pressure=seen.pressure)


def _end_hold(trial: Trial, maker: Maker, event_id: uuid.UUID, data: dict[str, Any]) -> Event:
    trial.must_be(State.RUNNING, NOT_ON)
    stands = standing(trial)
    if stands.phase != "holding":
        raise NotNow("No hold is running.")
    reason = str(data.get("reason") or "").strip()[:500]
    if stands.until and trial.now() < stands.until and not reason:
        raise NotNow("The hold is not over. To end it early, say why: the reason stays on the record.")
    return trial.enter(State.HELD, "hold-ended", maker, event_id=event_id, reason=reason)


def _release(trial: Trial, maker: Maker, event_id: uuid.UUID, data: dict[str, Any]) -> Event:
    trial.must_be(State.HELD, "Release comes after the hold; to let go now, dump.")
    if standing(trial).phase == "released":
        raise NotNow("It is released already.")
    change_rig(trial, lambda rig, state: simulated.dump(state))
    return trial.log("released", maker, event_id=event_id)


def _note(trial: Trial, maker: Maker, event_id: uuid.UUID, data: dict[str, Any]) -> Event:
    text = str(data.get("text") or "").strip()[:4000]
    if not text:
        raise NotNow("An empty note says nothing: write a word or two.")
    return trial.log("note", maker, event_id=event_id, text=text)


def _leak(trial: Trial, maker: Maker, event_id: uuid.UUID, data: dict[str, Any]) -> Event:
    owner, where = data.get("owner"), str(data.get("where") or "").strip()[:200]
    if owner not in ("boundary", "rig") or not where:
        raise NotNow("Say where it leaks, and whether that is the vessel's own or the rig's.")
    return trial.log("leak", maker, event_id=event_id, owner=owner, where=where)


def _strokes(trial: Trial, maker: Maker, event_id: uuid.UUID, data: dict[str, Any]) -> Event:
    count = data.get("count")
    if not isinstance(count, int) or not 1 <= count <= 5000:
        raise NotNow("Say how many strokes, 1 to 5000.")
    return trial.log("strokes", maker, event_id=event_id, count=count)


def _dump(trial: Trial, maker: Maker, event_id: uuid.UUID, data: dict[str, Any]) -> Event:
    trial.must_be(ON_THE_BENCH, "There is nothing to dump: this trial is not on the bench.")
    change_rig(trial, lambda rig, state: simulated.dump(state))
    if trial.state == State.HELD:
        return trial.log("released", maker, event_id=event_id, dumped=True)
    return trial.enter(State.ABORTED, "dumped", maker, event_id=event_id)


def _take_back(trial: Trial, maker: Maker, event_id: uuid.UUID, data: dict[str, Any]) -> Event:
    """A dump key pressed by mistake: the record is put right, what water ran out is not."""
    dumped = trial.events.filter(kind="dumped").order_by("-at").first()
    if trial.state != State.ABORTED or dumped is None or trial.source == Source.RIG:
        raise NotNow("There is no dump on record that can be taken back. On the simulated rig the water is gone: plan the next trial.")
    return trial.enter(State.RUNNING, "corrected", maker, event_id=event_id, corrects=str(dumped.id), says="it was not dumped")


@dataclasses.dataclass(frozen=True)
class Ticked:
    """An opening on the bench: what to do with it, whether it is done, and whether it is undone again after."""

    name: str
    do: str
    ready: bool
    undone: bool


def ticked(answer: DeriveAnswer, events: list[Event]) -> list[Ticked]:
    """The openings of a frozen plan as they were ticked off since."""
    now = {(opening.name, "ready"): opening.ready for opening in answer.openings}
    now |= {(event.data["name"], event.data["what"]): event.data["done"] for event in events if event.kind == "opening"}
    return [Ticked(o.name, o.do, now[(o.name, "ready")], now.get((o.name, "undone"), False)) for o in answer.openings]


def _opening(trial: Trial, maker: Maker, event_id: uuid.UUID, data: dict[str, Any]) -> Event:
    trial.must_be(
        (State.READY, State.RUNNING, State.HELD, State.JUDGED, State.ABORTED),
        "Openings are ticked off from the frozen plan to the decision.",
    )
    _, answer = plan_of(trial)
    name, what, done = data.get("name"), data.get("what"), data.get("done")
    if name not in {opening.name for opening in answer.openings}:
        raise NotNow(f"There is no opening “{name}” in this plan.")
    if what not in ("ready", "undone") or not isinstance(done, bool):
        raise NotNow("An opening is ticked as “ready” or “undone”, and is done or is not.")
    return trial.log("opening", maker, event_id=event_id, name=name, what=what, done=done)


_STEPS = {
    "vent-shut": _vent_shut,
    "opening": _opening,
    "stage-reached": _stage_reached,
    "shut-in": _shut_in,
    "hold-ended": _end_hold,
    "released": _release,
    "note": _note,
    "leak": _leak,
    "strokes": _strokes,
    "dumped": _dump,
    "not-dumped": _take_back,
}


def show(pressure: float, maker: Maker, figures: int = 4) -> str:
    """A pressure in the person's unit."""
    return units.write(pressure, "pressure", maker.pressure_unit, figures=figures)


def next_stage(answer: DeriveAnswer, stands: Standing) -> StageAnswer | None:
    """The stage that is to be reached next."""
    return answer.stages[stands.reached] if stands.reached < len(answer.stages) else None
