"""The simulated rig of a trial: kept with it, advanced on demand, its logger's readings taken through the same door as
any other's.
"""

import dataclasses
import datetime
import math
import uuid
from collections.abc import Callable

from django.db import transaction
from pydantic import TypeAdapter

from toadbell.core.bench import boiler, either, parted
from toadbell.core.bench import rig as simulated
from toadbell.core.bench.boiler import Boiler, BoilerState
from toadbell.core.bench.either import Either, EitherState
from toadbell.core.bench.rig import Rig, RigState
from toadbell.core.bench.situations import Situation
from toadbell.core.phrases import read_kept, say
from toadbell.core.run.guard import over_limit
from toadbell.core.run.phases import ON_THE_BENCH
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.trials.bench.readings import take
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.models import Reading, Source, Trial
from toadbell.trials.plan.frozen import plan_of

RIG_EVERY = 10.0
"""The rig's logger reads every so many s of the trial's time; every second while the pump goes or a valve lifts."""
MOST_MADE_UP = 3000
"""Readings that are made up for at the most after a long while away."""
_COLD = TypeAdapter(Rig), TypeAdapter(RigState)
_HOT = TypeAdapter(Boiler), TypeAdapter(BoilerState)


def set_up(trial: Trial, situation: Situation, speed: float) -> None:
    """Put the rig of the plan on the bench, at rest, its clock so many times as fast as the wall's."""
    if not 1 <= speed <= 600:
        raise NotNow("The simulated rig runs at 1 to 600 times the clock.")
    trial.speed = speed
    rig, state = either.set_up(*plan_of(trial), situation)
    kind = "boiler" if isinstance(rig, Boiler) else "rig"
    trial.rig = {"kind": kind, "setup": dataclasses.asdict(rig), "state": dataclasses.asdict(state)}


def rig_and_state(trial: Trial) -> tuple[Either, EitherState]:
    """The trial's rig as it was kept: a vessel under its pump, or a boiler on its burner."""
    assert trial.rig is not None
    setup, state = trial.rig["setup"], trial.rig["state"]
    if trial.rig.get("kind") == "boiler":
        return _HOT[0].validate_python(setup), _HOT[1].validate_python(state)
    return _COLD[0].validate_python(setup), _COLD[1].validate_python(state)


def catch_up(trial: Trial) -> Trial:
    """Bring the simulated rig to the trial's now, and store what its logger read on the way."""
    if trial.source != Source.RIG or trial.state not in ON_THE_BENCH:
        return trial
    with transaction.atomic():
        trial = Trial.objects.select_for_update().select_related("vessel", "planned_by").get(pk=trial.pk)
        if trial.rig and trial.state in ON_THE_BENCH:
            _move_rig(trial)
    return trial


def _move_rig(trial: Trial) -> tuple[Either, EitherState]:
    assert trial.started_at is not None
    rig, state = rig_and_state(trial)
    _, answer = plan_of(trial)
    now = (trial.now() - trial.started_at).total_seconds()
    gap = max(RIG_EVERY, RIG_EVERY * round((now - state.time) / MOST_MADE_UP / RIG_EVERY))
    readings = []
    while (due := _due(state, gap)) <= now:
        state = either.advance(rig, state, due)
        readings.append(_reading(trial, rig, state))
        if _hurries(state) and over_limit(answer.guards, readings[-1].pressure):
            state = either.stop(rig, state)  # whoever stands at the pump lets go when the bell is hard
    state = either.advance(rig, state, now)
    _keep_rig(trial, state)
    if readings:
        take(trial, readings)
    return rig, state


def _due(state: EitherState, gap: float) -> float:
    return math.floor(state.time) + 1.0 if _hurries(state) else (state.time // RIG_EVERY) * RIG_EVERY + gap


def _hurries(state: EitherState) -> bool:
    """Does the pressure move by the second: strokes are made, or a valve blows from a vessel under its pump?"""
    return isinstance(state, RigState) and (state.to_go > 0 or state.lifted)


def _keep_rig(trial: Trial, state: EitherState) -> None:
    assert trial.rig is not None
    trial.rig = {**trial.rig, "state": dataclasses.asdict(state)}
    trial.save(update_fields=["rig"])


def _reading(trial: Trial, rig: Either, state: EitherState) -> Reading:
    assert trial.started_at is not None
    return Reading(
        id=uuid.uuid5(trial.id, f"rig {state.time:.0f}"),
        trial=trial,
        at=trial.started_at + datetime.timedelta(seconds=state.time),
        pressure=either.read_gauge(rig, state),
        temperature=either.read_thermometer(rig, state),
        strokes=state.strokes if isinstance(state, RigState) else None,
        source=Source.RIG,
    )


def work_rig(trial: Trial, maker: Maker, action: str, strokes: int = 0, which: int = 0, part: float = 0.0) -> None:
    """Lay hands on the simulated rig: "pump", "stop", "shut", "open" (the valve to the pump), "bleed" (a little out),
    "tighten" (a leak by its number); of a boiler "fire" (a part of the full one), "feed" (one by its number, on or off)
    and "outlet".
    """
    if trial.source != Source.RIG:
        raise NotNow("This run is on a real rig: the pump is in your hands.")
    with transaction.atomic():
        trial = Trial.objects.select_for_update().get(pk=trial.pk)
        trial.must_be(ON_THE_BENCH, say("step.not-on"))
        rig, state = _move_rig(trial)
        if isinstance(rig, Boiler) and isinstance(state, BoilerState):
            _keep_rig(trial, _fire(rig, state, action, which, part))
        elif isinstance(rig, Rig) and isinstance(state, RigState):
            _keep_rig(trial, _pumped(trial, maker, rig, state, action, strokes, which))


def _pumped(trial: Trial, maker: Maker, rig: Rig, state: RigState, action: str, strokes: int, which: int) -> RigState:
    if action == "pump":
        return _pump(trial, maker, state, strokes)
    if action == "stop":
        return simulated.pump(state, 0)
    if action == "tighten":
        return _tighten(rig, state, which)
    if action == "bleed":
        if state.open_to_air:
            raise NotNow("The vent is open: there is nothing to let out.")
        trial.log("note", maker, text="A little was let out.")  # in a hold it would look like a leak
        return simulated.bleed(rig, state, plan_of(trial).answer.test_pressure)
    if action not in ("shut", "open"):
        raise NotNow("This rig has a pump, and no fire.")
    return simulated.set_shut_off(state, action == "shut")


def _fire(rig: Boiler, state: BoilerState, action: str, which: int, part: float) -> BoilerState:
    if action == "fire":
        return boiler.set_fire(state, part)
    if action == "outlet":
        return boiler.set_outlet(state, not state.outlet_open)
    if action == "feed" and 0 <= which < len(rig.feeds):
        return boiler.set_feed(state, which, not state.feeding[which])
    raise NotNow("A boiler has a fire, two feeds and an outlet.")


def _pump(trial: Trial, maker: Maker, state: RigState, strokes: int) -> RigState:
    if state.open_to_air:
        raise NotNow(
            "It burst: there is nothing left to pump up."
            if state.burst
            else "The vent is open: water would run out of it. Shut the vent first."
        )
    if state.shut_in:
        raise NotNow("The vessel is shut off from the pump. Open the shut-off first.")
    if not 1 <= strokes <= 500:
        raise NotNow("Pump 1 to 500 strokes at a time.")
    guards = run_state(trial).guards
    if guards:
        raise NotNow(say("step.guard-stands-pump", guard=read_kept(guards[-1].data["says"])))
    trial.log("strokes", maker, count=strokes)
    return simulated.pump(state, strokes)


def _tighten(rig: Rig, state: RigState, which: int) -> RigState:
    if not 0 <= which < len(rig.leaks):
        raise NotNow("There is no such leak on the rig.")
    stands = max(simulated.pressure(parted.seen(rig, state), state), parted.trapped(rig, state))
    if stands > 0.02 * rig.leaks[which].at:
        raise NotNow("Release before tightening: go back to no pressure first.")
    return simulated.tighten(state, which)


def change_rig(trial: Trial, change: Callable[[Either, EitherState], EitherState]) -> None:
    """Do something to the rig at the trial's now; nothing where the rig is a real one."""
    if trial.source == Source.RIG and trial.rig:
        rig, state = _move_rig(trial)
        _keep_rig(trial, change(rig, state))
