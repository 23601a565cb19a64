"""A simulated rig: vessel, water, trapped air, leak, temperature, pump and gauge, by the physics of `compliance`.

It is advanced on demand from a stored state. Time runs on a grid of whole steps and every chance is drawn from the
seed and the second it belongs to, so that the same seed gives the same run however often it is looked at.
Pressures Pa gauge, volumes m³, temperatures K, times s.
"""

import math
from dataclasses import dataclass, replace

import numpy as np

from toadbell.core.bench.compliance import AirContent, Content
from toadbell.core.units import ATMOSPHERE

STEP = 1.0
COARSE_STEP = 60.0
"""Step of the grid when a long while is made up, as after a night with the lid shut, s."""
LONG = 6 * 3600.0
SECONDS_PER_STROKE = 2.0


@dataclass(frozen=True)
class Rig:
    """What the rig is made of; none of it changes during a run.

    stiffness      compliance of water and wall, m³/Pa
    swelling       volume by which water outgrows the wall, m³/K
    trapped_air    m³ at atmosphere
    stroke         m³
    pump_maximum   Pa
    leak           m³/s at `leak_at` (Pa), in proportion to the pressure
    water          temperature of the water at the start, K
    room           temperature of the room at the start, K
    room_drift     K/s
    lag            time in which the water follows the room, s
    resolution     smallest step of the gauge, Pa
    noise          of a reading, 1 σ, Pa
    thermometer    smallest step of the thermometer, K; None without one
    """

    stiffness: float
    swelling: float
    trapped_air: float
    stroke: float
    pump_maximum: float
    leak: float
    leak_at: float
    water: float
    room: float
    room_drift: float
    lag: float
    resolution: float
    noise: float
    thermometer: float | None
    seed: int


@dataclass(frozen=True)
class RigState:
    """Where the rig is. `net` is the volume pumped in and not lost; `to_go` are strokes still to be made."""

    time: float = 0.0
    net: float = 0.0
    temperature: float = 0.0
    strokes: int = 0
    to_go: int = 0
    shut_in: bool = False
    open_to_air: bool = True


def rig_for(content: Content | AirContent, pressure: float, **particulars: float | int | None) -> Rig:
    """A rig for a vessel, under water or under air: stiffness and swelling at half the test pressure (Pa), the rest as given."""
    return Rig(
        stiffness=content.stiff_part(pressure / 2),
        swelling=content.swelling(pressure / 2),
        trapped_air=content.trapped_air,
        leak_at=pressure,
        **particulars,  # type: ignore[arg-type]
    )


def at_start(rig: Rig) -> RigState:
    """Full of water, vent open."""
    return RigState(temperature=rig.water)


def pressure(rig: Rig, state: RigState) -> float:
    """True pressure, Pa: the root of S P + V_a P/(P_atm + P) = what is in, with what the warmth adds."""
    if state.open_to_air:
        return 0.0
    inside = state.net + rig.swelling * (state.temperature - rig.water)
    if inside <= 0:
        return 0.0
    S, b = rig.stiffness, rig.stiffness * ATMOSPHERE + rig.trapped_air - inside
    return (-b + math.sqrt(b * b + 4 * S * inside * ATMOSPHERE)) / (2 * S)


def advance(rig: Rig, state: RigState, until: float) -> RigState:
    """The rig at a later time; an earlier one changes nothing."""
    if until - state.time > LONG:
        state = _march(rig, state, until - LONG / 2, COARSE_STEP)
    return _march(rig, state, until, STEP)


def _march(rig: Rig, state: RigState, until: float, step: float) -> RigState:
    while state.time + step <= until:
        state = _step(rig, state, step)
    return state


def _step(rig: Rig, state: RigState, step: float) -> RigState:
    room = rig.room + rig.room_drift * state.time
    temperature = state.temperature + (room - state.temperature) * -math.expm1(-step / rig.lag)
    now = pressure(rig, state)
    net = state.net - rig.leak * now / rig.leak_at * step
    strokes, to_go = state.strokes, state.to_go
    if to_go and state.time % SECONDS_PER_STROKE < step:
        made = min(to_go, max(1, int(step / SECONDS_PER_STROKE)))
        strokes, to_go = strokes + made, to_go - made
        if not state.open_to_air and not state.shut_in and now < rig.pump_maximum:
            net += made * rig.stroke
    if state.open_to_air:
        net = -rig.swelling * (temperature - rig.water)
    return replace(state, time=state.time + step, net=net, temperature=temperature, strokes=strokes, to_go=to_go)


def pump(state: RigState, strokes: int) -> RigState:
    """Make so many strokes from now on, one every two seconds; 0 stops the pump."""
    return replace(state, to_go=state.to_go + strokes if strokes else 0)


def close_vent(state: RigState) -> RigState:
    """Shut the vent: from now on pumping raises the pressure."""
    return replace(state, open_to_air=False)


def set_shut_off(state: RigState, shut: bool) -> RigState:
    """Shut the valve between pump and vessel, or open it."""
    return replace(state, shut_in=shut, to_go=0 if shut else state.to_go)


def dump(state: RigState) -> RigState:
    """Let everything go: vent and dump open, pump still."""
    return replace(state, net=0.0, to_go=0, shut_in=False, open_to_air=True)


def bleed_to(rig: Rig, state: RigState, target: float) -> RigState:
    """Let water out until the pressure has come down to the target, Pa."""
    if pressure(rig, state) <= target:
        return state
    inside = rig.stiffness * target + rig.trapped_air * target / (ATMOSPHERE + target)
    return replace(state, net=inside - rig.swelling * (state.temperature - rig.water), to_go=0, shut_in=False)


def read_gauge(rig: Rig, state: RigState) -> float:
    """What the gauge shows, Pa: the truth with noise, to the nearest step."""
    shaken = pressure(rig, state) + (0.0 if state.open_to_air else _chance(rig, state, 1) * rig.noise)
    return max(0.0, round(shaken / rig.resolution) * rig.resolution)


def read_thermometer(rig: Rig, state: RigState) -> float | None:
    """What the thermometer shows, K; None without one."""
    if rig.thermometer is None:
        return None
    celsius = round((state.temperature - 273.15) / rig.thermometer) * rig.thermometer
    return celsius + 273.15


def _chance(rig: Rig, state: RigState, what: int) -> float:
    return float(np.random.default_rng([rig.seed, int(state.time), what]).standard_normal())
