"""What the bench shows of the simulated rig: its valves and strokes, and what is seen of it."""

import dataclasses
import math
from typing import Any

from toadbell.core.bench import either
from toadbell.core.bench.boiler import Boiler, BoilerState, glass
from toadbell.core.bench.rig import Rig, RigState, pressure, stroke_raises, strokes_to
from toadbell.core.bench.situations import look
from toadbell.core.phrases import say
from toadbell.core.run.now import PASSED
from toadbell.core.run.phases import RunState
from toadbell.trials.bench.rig import rig_and_state
from toadbell.trials.bench.shapes import BoilerOut, RigOut, SightOut
from toadbell.trials.models import Trial
from toadbell.trials.plan.frozen import Plan, plan_of


def rig_out(trial: Trial, stands: RunState) -> RigOut:
    """The rig of a trial as a person before it sees it; `stands`: where the run is."""
    rig, state = rig_and_state(trial)
    if isinstance(rig, Boiler) and isinstance(state, BoilerState):
        return _boiler_out(rig, state)
    assert isinstance(rig, Rig)
    assert isinstance(state, RigState)
    gas = either.read_gas(rig, state)
    sights = [SightOut(**dataclasses.asdict(sight)) for sight in look(rig, state)]
    return RigOut(
        to_go=state.to_go,
        shut_in=state.shut_in,
        vent_open=state.open_to_air,
        burst=state.burst,
        lifted=state.lifted,
        sights=sights,
        joints=[leak.where for leak in rig.leaks],
        went_in=state.pumped if state.pumped > 0 else None,
        barometer=gas[0] if gas else None,
        level=gas[1] if gas else None,
        heard=either.heard(rig, state),
        came_back=state.let_out if state.open_to_air and state.pumped > 0 else None,
        **_strokes_of_its_own(rig, state, stands, plan_of(trial)),
    )


def _strokes_of_its_own(rig: Rig, state: RigState, stands: RunState, plan: Plan) -> dict[str, Any]:
    """How many strokes of the simulated pump lead to the stage that is to be reached, where the plan does not know it:
    of another pump, or to raise it again; and that one alone goes past it.
    """
    stages, again = plan.answer.stages, stands.phase == "at test"
    if state.open_to_air or not (again or stands.phase in ("raising", "pausing")):
        return {}
    target = stages[min(stands.reached, len(stages) - 1)].target
    by, there = stroke_raises(rig, state), pressure(rig, state)
    over = there < target and there + by > max(target * PASSED, target + rig.gauge.resolution)
    says = say("strokes.stroke-over", by=by, target=target) if over else None
    pump = plan.sheet.pump
    planned = (
        pump is not None and pump.stroke is not None and math.isclose(pump.stroke, rig.source.stroke, rel_tol=0.01)
    )
    return {"to_stage": None if planned and not again else strokes_to(rig, state, target), "stroke_says": says}


def _boiler_out(rig: Boiler, state: BoilerState) -> RigOut:
    return RigOut(
        to_go=0,
        shut_in=False,
        vent_open=state.open_to_air,
        burst=False,
        lifted=state.lifted,
        sights=[],
        boiler=BoilerOut(
            fire=state.fire,
            feeding=list(state.feeding),
            outlet_open=state.outlet_open,
            glass=round(glass(rig, state), 2),
            blown="comes back" if rig.clear else "no",
        ),
    )
