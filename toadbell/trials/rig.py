"""The simulated rig of a trial: kept with it, advanced on demand, read through the same door as any other."""

import dataclasses
import datetime
import uuid
from collections.abc import Callable
from dataclasses import dataclass

from django.db import transaction

from toadbell.core.answers import DeriveAnswer
from toadbell.core.bench import rig as simulated
from toadbell.core.bench.compliance import AirContent, content_of
from toadbell.core.plan.derive import trapped_air
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel.openings import vent_of
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.trials.models import Reading, Source, Trial
from toadbell.trials.readings import NOT_ON, ON_THE_BENCH, take

RIG_EVERY = 10.0
"""The rig's logger reads every so many s of the trial's time."""
MOST_MADE_UP = 3000
"""Readings that are made up for at the most after a long while away."""


@dataclass(frozen=True)
class Faults:
    """What is wrong with a simulated rig. leak m³/s at the test pressure; air m³, None for as much as the plan reckons with; drift K/s of the room."""

    leak: float = 0.0
    air: float | None = None
    drift: float = 0.0
    seed: int = 1


def rig_of(sheet: VesselSheet, answer: DeriveAnswer, faults: Faults) -> simulated.Rig:
    """The simulated rig that fits a plan: its vessel, pump, gauge and thermometer, with the given faults."""
    if answer.volume is None:
        raise NotNow("The simulated rig needs the vessel's volume: give its length, or the volume itself.")
    water = sheet.water_temperature or 293.15
    step = (sheet.gauge.readable if sheet.gauge else None) or answer.test_pressure / 200
    air = trapped_air(sheet, vent_of(sheet)) if faults.air is None else faults.air
    wet = content_of(answer.volume, sheet.shell, air, water)
    return simulated.rig_for(
        AirContent(answer.volume, water) if sheet.medium == "air" else wet,
        answer.test_pressure,
        stroke=(sheet.pump.stroke if sheet.pump else None) or 12e-6,
        pump_maximum=(sheet.pump.maximum if sheet.pump else None) or 6e6,
        leak=faults.leak,
        water=water,
        room=water,
        room_drift=faults.drift,
        lag=600.0 + 40_000 * answer.volume,
        resolution=step,
        noise=step / 4,
        thermometer=sheet.thermometer.resolution if sheet.thermometer else None,
        seed=faults.seed,
    )


def catch_up(trial: Trial) -> Trial:
    """Bring the simulated rig to the trial's now, and store what its logger read on the way."""
    if trial.source != Source.RIG or trial.state not in ON_THE_BENCH:
        return trial
    with transaction.atomic():
        trial = Trial.objects.select_for_update().get(pk=trial.pk)
        if trial.rig and trial.state in ON_THE_BENCH:
            _move_rig(trial)
    return trial


def _move_rig(trial: Trial) -> tuple[simulated.Rig, simulated.RigState]:
    assert trial.rig is not None
    assert trial.started_at is not None
    rig, state = simulated.Rig(**trial.rig["setup"]), simulated.RigState(**trial.rig["state"])
    now = (trial.now() - trial.started_at).total_seconds()
    gap = max(RIG_EVERY, RIG_EVERY * round((now - state.time) / MOST_MADE_UP / RIG_EVERY))
    due, readings = (state.time // RIG_EVERY + 1) * RIG_EVERY, []
    while due <= now:
        state = simulated.advance(rig, state, due)
        readings.append(_rig_reading(trial, rig, state))
        due += gap
    state = simulated.advance(rig, state, now)
    if readings:
        take(trial, readings)
    _keep_rig(trial, state)
    return rig, state


def _keep_rig(trial: Trial, state: simulated.RigState) -> None:
    assert trial.rig is not None
    trial.rig = {**trial.rig, "state": dataclasses.asdict(state)}
    trial.save(update_fields=["rig"])


def _rig_reading(trial: Trial, rig: simulated.Rig, state: simulated.RigState) -> Reading:
    assert trial.started_at is not None
    return Reading(
        id=uuid.uuid5(trial.id, f"rig {state.time:.0f}"),
        trial=trial,
        at=trial.started_at + datetime.timedelta(seconds=state.time),
        pressure=simulated.read_gauge(rig, state),
        temperature=simulated.read_thermometer(rig, state),
        source=Source.RIG,
    )


def work_rig(trial: Trial, maker: Maker, action: str, strokes: int = 0, target: float | None = None) -> None:
    """Lay hands on the simulated rig: "pump", "stop", "shut", "open" (the valve to the pump)."""
    if trial.source != Source.RIG:
        raise NotNow("This run is on a real rig: the pump is in your hands.")
    with transaction.atomic():
        trial = Trial.objects.select_for_update().get(pk=trial.pk)
        trial.must_be(ON_THE_BENCH, NOT_ON)
        _, state = _move_rig(trial)
        if action == "pump":
            if state.open_to_air:
                raise NotNow("The vent is open: water would run out of it. Shut the vent first.")
            if state.shut_in:
                raise NotNow("The vessel is shut off from the pump. Open the shut-off first.")
            if not 1 <= strokes <= 500:
                raise NotNow("Pump 1 to 500 strokes at a time.")
            trial.log("strokes", maker, count=strokes)
            state = simulated.pump(state, strokes)
        elif action == "stop":
            state = simulated.pump(state, 0)
        else:
            state = simulated.set_shut_off(state, action == "shut")
        _keep_rig(trial, state)


def change_rig(trial: Trial, change: Callable[[simulated.Rig, simulated.RigState], simulated.RigState]) -> None:
    """Do something to the rig at the trial's now; nothing where the rig is a real one."""
    if trial.source == Source.RIG and trial.rig:
        rig, state = _move_rig(trial)
        _keep_rig(trial, change(rig, state))
