"""Either simulated rig, by what hands and eyes do at it: a vessel under pump and water, or a boiler on its burner."""

from collections.abc import Sequence

from toadbell.core.answers import DeriveAnswer
from toadbell.core.bench import boiler, parted, rig
from toadbell.core.bench.boiler import Boiler, BoilerState
from toadbell.core.bench.rig import Rig, RigState
from toadbell.core.bench.situations import Situation, boiler_from, rig_from
from toadbell.core.sheets import VesselSheet

Either = Rig | Boiler
EitherState = RigState | BoilerState


def set_up(sheet: VesselSheet, answer: DeriveAnswer, situation: Situation) -> tuple[Either, EitherState]:
    """The rig of a plan, at rest: a boiler on its burner for a first steam."""
    if answer.procedure == "steam":
        hot = boiler_from(sheet, answer, situation)
        return hot, boiler.at_start(hot)
    cold = rig_from(sheet, answer, situation)
    return cold, rig.at_start(cold)


def advance(on: Either, state: EitherState, until: float) -> EitherState:
    """At a later time, s."""
    if isinstance(on, Boiler) and isinstance(state, BoilerState):
        return boiler.advance(on, state, until)
    assert isinstance(on, Rig)
    assert isinstance(state, RigState)
    return parted.advance(on, state, until)


def read_gauge(on: Either, state: EitherState) -> float:
    """What the gauge shows, Pa."""
    if isinstance(on, Boiler) and isinstance(state, BoilerState):
        return boiler.read_gauge(on, state)
    assert isinstance(on, Rig)
    assert isinstance(state, RigState)
    return rig.read_gauge(parted.seen(on, state), state)


def read_thermometer(on: Either, state: EitherState) -> float | None:
    """What the thermometer shows, K; None without one."""
    if isinstance(on, Boiler) and isinstance(state, BoilerState):
        return boiler.read_thermometer(on, state)
    assert isinstance(on, Rig)
    assert isinstance(state, RigState)
    return rig.read_thermometer(on, state)


def read_gas(on: Either, state: EitherState) -> tuple[float, float | None] | None:
    """What a barometer shows, Pa absolute, and the level of a drum or a bag, m; None of what is no gas holder."""
    if isinstance(on, Boiler) or isinstance(state, BoilerState) or not on.outside.swing:
        return None
    return round(on.outside.pressure(state.time) / 10) * 10.0, rig.read_level(on, state)


NOISY = 0.6
"""From such a part of where it bursts a wall is heard that was never pressed so high."""


def heard(on: Either, state: EitherState) -> bool:
    """Does the wall crack, on its way to where it bursts?"""
    if isinstance(on, Boiler) or isinstance(state, BoilerState) or on.wall.bursts_at is None or state.burst:
        return False
    now = rig.pressure(on, state)
    return now >= NOISY * on.wall.bursts_at and now >= 0.999 * state.peak


def close_vent(on: Either, state: EitherState) -> EitherState:
    """Shut the vent."""
    if isinstance(on, Boiler) and isinstance(state, BoilerState):
        return boiler.set_vent(on, state, False)
    assert isinstance(state, RigState)
    return rig.close_vent(state)


def stop(on: Either, state: EitherState) -> EitherState:
    """Whoever pumps lets go; a fire burns on."""
    return rig.pump(state, 0) if isinstance(state, RigState) else state


def shut_off(on: Either, state: EitherState, shut: bool) -> EitherState:
    """Shut the valve between pump and vessel, or open it; a boiler has none."""
    return rig.set_shut_off(state, shut) if isinstance(state, RigState) else state


def dump(on: Either, state: EitherState) -> EitherState:
    """Let everything go; of a boiler the fire is taken out, and nothing is opened."""
    if isinstance(on, Rig) and isinstance(state, RigState):
        return rig.dump(parted.seen(on, state), state)
    assert isinstance(state, BoilerState)
    return boiler.fire_out(state)


def set_valves(on: Either, state: EitherState, groups: Sequence[Sequence[str]]) -> EitherState:
    """Set the valves that part it: the sections that they leave together, the gauge's first; a boiler has none."""
    if isinstance(on, Rig) and isinstance(state, RigState) and on.sections:
        return parted.set_valves(on, state, groups)
    return state


def seal(on: Either, state: EitherState, where: str, cured_at: float) -> EitherState:
    """Seal the leaks at a place, by its name; the seal has cured at a time, s. A boiler on its burner is not mended."""
    if isinstance(on, Rig) and isinstance(state, RigState):
        for number, leak in enumerate(on.leaks):
            if leak.where.casefold() == where.strip().casefold():
                state = rig.seal(state, number, cured_at)
    return state


def open_vent(on: Either, state: EitherState) -> EitherState:
    """Open the vent of what has come down."""
    if isinstance(on, Boiler) and isinstance(state, BoilerState):
        return boiler.set_vent(on, boiler.fire_out(state), True)
    return dump(on, state)


def come_down(on: Either, state: EitherState, target: float) -> EitherState:
    """Let it down to a pressure, Pa; a boiler comes down by itself, once its fire is out."""
    if isinstance(on, Rig) and isinstance(state, RigState):
        return rig.bleed_to(parted.seen(on, state), state, target)
    assert isinstance(state, BoilerState)
    return boiler.fire_out(state)
