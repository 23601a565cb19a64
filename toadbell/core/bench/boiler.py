"""A simulated boiler on its burner: water and steam that stand over each other, the metal, what air was left in, the
heat that goes to the room, two feeds, a valve, an outlet and a glass.

It is advanced on demand from a stored state, a second at a time. What it holds is its mass and its energy, and both are
kept to the last gramme and joule: the temperature is what they come to.
Masses kg, energies J, powers W, pressures Pa gauge, volumes m³, temperatures K, times s.
"""

import math
from dataclasses import dataclass, replace

from toadbell.core.bench.rig_parts import Dial, Probe, chance
from toadbell.core.physics.steam import TRIPLE, Saturated, heat_held, liquid, saturated, saturation, steam_pressure
from toadbell.core.units import ATMOSPHERE

STEP = 1.0
HOTTEST = 583.0
"""Between the triple point and this the temperature is looked for, K."""
A_HAIR = 200.0
"""A valve so near to where it shuts is shut, Pa."""


@dataclass(frozen=True)
class Lifting:
    """A valve: at what it lifts and shuts, Pa, and what it lets out, kg/s per Pa above where it shuts."""

    lifts_at: float
    reseats_at: float
    capacity: float


@dataclass(frozen=True)
class Boiler:
    """A boiler in all its parts.

    volume   of water and steam together; metal  its heat capacity, J/K
    power    of the full fire, as it reaches the water; loss  to the room, W/K
    start    of water and metal; room, feed  of the room and of what is fed
    feeds    what each puts in, kg/s
    valve    None: none there
    scale    what the gauge shows of what is there; sticks_at  above which its needle does not go, Pa
    foot, top  of the glass, as parts of the volume; clear  both its ways are open
    leak     of water while there is pressure, kg/s
    outlet   what the open outlet draws, kg/s per Pa
    """

    volume: float
    metal: float
    power: float
    gauge: Dial
    valve: Lifting | None
    loss: float = 1.0
    start: float = 288.15
    room: float = 288.15
    feed: float = 288.15
    feeds: tuple[float, ...] = (0.01, 0.01)
    probe: Probe | None = None
    scale: float = 1.0
    sticks_at: float | None = None
    foot: float = 0.35
    top: float = 0.65
    clear: bool = True
    leak: float = 0.0
    outlet: float = 1e-9
    seed: int = 1


@dataclass(frozen=True)
class BoilerState:
    """Where the boiler is.

    water, energy  all of the water and steam, and what they and the metal hold, reckoned from the triple point
    temperature    that they come to
    air            left in the steam space, as its pressure × volume / temperature, J/K
    fire           part of the full fire
    feeding        which feeds are on
    fed, out, heat_in, heat_lost, heat_fed, heat_out  since the start, so that nothing goes missing
    """

    time: float = 0.0
    water: float = 0.0
    energy: float = 0.0
    temperature: float = 288.15
    air: float = 0.0
    fire: float = 0.0
    open_to_air: bool = True
    outlet_open: bool = False
    feeding: tuple[bool, ...] = ()
    lifted: bool = False
    probe: float | None = None
    fed: float = 0.0
    out: float = 0.0
    heat_in: float = 0.0
    heat_lost: float = 0.0
    heat_fed: float = 0.0
    heat_out: float = 0.0


def at_start(boiler: Boiler, glass: float = 0.5) -> BoilerState:
    """Cold, vent open, the water at a height in the glass, the fire out."""
    level = boiler.foot + glass * (boiler.top - boiler.foot)
    at = saturated(boiler.start)
    water = level * boiler.volume * at.water_density + (1 - level) * boiler.volume * at.steam_density
    cold = BoilerState(water=water, temperature=boiler.start, feeding=(False,) * len(boiler.feeds))
    energy = held(boiler, water, boiler.start, at)
    return replace(cold, energy=energy, air=_air_at_atmosphere(boiler, water, boiler.start, at))


# -- the state of it --------------------------------------------------------------------------------


def held(boiler: Boiler, water: float, temperature: float, at: Saturated | None = None) -> float:
    """What water, steam and metal hold at a temperature, J."""
    return heat_held(boiler.volume, water, boiler.metal, temperature, at)


def temperature_of(boiler: Boiler, water: float, energy: float, near: float) -> float:
    """The temperature at which water and metal hold so much, K: looked for by secants from one that is near."""
    low, high, guess, step = TRIPLE, HOTTEST, near, 0.5
    at = held(boiler, water, guess) - energy
    for _ in range(40):
        if abs(at) < 1e-7 * max(1.0, abs(energy)):
            break
        low, high = (guess, high) if at < 0 else (low, guess)
        slope = (held(boiler, water, min(guess + step, HOTTEST)) - held(boiler, water, guess)) / step
        then = guess - at / slope
        guess = then if low < then < high else (low + high) / 2
        at = held(boiler, water, guess) - energy
    return guess


def steam_space(boiler: Boiler, state: BoilerState, at: Saturated | None = None) -> float:
    """What of the boiler is not water, m³."""
    at = at or saturated(state.temperature)
    return max(1e-3 * boiler.volume, boiler.volume - liquid(boiler.volume, state.water, at) / at.water_density)


def pressure(boiler: Boiler, state: BoilerState) -> float:
    """True pressure, Pa: of steam and what air was left in; less than nought where it cools with its vent shut."""
    if state.open_to_air:
        return 0.0
    air = state.air * state.temperature / steam_space(boiler, state)
    return steam_pressure(state.temperature) + air


def glass(boiler: Boiler, state: BoilerState) -> float:
    """How high the water stands in the glass, from nought to one; a glass whose ways are shut shows what it did."""
    at = saturated(state.temperature)
    part = liquid(boiler.volume, state.water, at) / at.water_density / boiler.volume
    return min(1.0, max(0.0, (part - boiler.foot) / (boiler.top - boiler.foot)))


def _air_at_atmosphere(boiler: Boiler, water: float, temperature: float, at: Saturated) -> float:
    space = boiler.volume - liquid(boiler.volume, water, at) / at.water_density
    return max(0.0, ATMOSPHERE - at.pressure) * space / temperature


# -- time --------------------------------------------------------------------------------


def advance(boiler: Boiler, state: BoilerState, until: float) -> BoilerState:
    """The boiler at a later time; an earlier one changes nothing."""
    while state.time + STEP <= until:
        state = _step(boiler, state)
    return state


def _step(boiler: Boiler, state: BoilerState) -> BoilerState:
    at, now = saturated(state.temperature), pressure(boiler, state)
    heat = state.fire * boiler.power * STEP
    lost = boiler.loss * (state.temperature - boiler.room) * STEP
    fed = sum(rate for rate, on in zip(boiler.feeds, state.feeding, strict=True) if on) * STEP
    brought = fed * (saturated(boiler.feed).water_energy + max(0.0, now) / 1000)
    steam, lifted = _steam_out(boiler, state, at, now)
    leaked = min(boiler.leak * STEP if now > 0 else 0.0, 0.5 * state.water)
    carried = steam * at.steam_enthalpy + leaked * at.water_enthalpy
    water = state.water + fed - steam - leaked
    energy = state.energy + heat - lost + brought - carried
    warm = temperature_of(boiler, water, energy, state.temperature)
    then = replace(
        state,
        time=state.time + STEP,
        water=water,
        energy=energy,
        temperature=warm,
        lifted=lifted,
        fed=state.fed + fed,
        out=state.out + steam + leaked,
        heat_in=state.heat_in + heat,
        heat_lost=state.heat_lost + lost,
        heat_fed=state.heat_fed + brought,
        heat_out=state.heat_out + carried,
    )
    if then.open_to_air:
        then = replace(then, air=_air_left(boiler, then, steam))
    return replace(then, probe=_followed(boiler, then))


def _steam_out(boiler: Boiler, state: BoilerState, at: Saturated, now: float) -> tuple[float, bool]:
    """What steam leaves in a step, kg, by the vent, the valve and the outlet; and whether the valve is up."""
    if state.open_to_air:
        return _down_to(boiler, state, 0.0, at), False
    out = min(boiler.outlet * max(0.0, now) * STEP, _down_to(boiler, state, 0.0, at)) if state.outlet_open else 0.0
    valve = boiler.valve
    if valve is None:
        return out, False
    lifted = now >= valve.lifts_at or (state.lifted and now > valve.reseats_at + A_HAIR)
    if lifted:
        most = _down_to(boiler, state, valve.reseats_at, at)
        out += min(valve.capacity * (now - valve.reseats_at) * STEP, most)
    return out, lifted


def _down_to(boiler: Boiler, state: BoilerState, target: float, at: Saturated) -> float:
    """What steam has to leave for it to come down to a pressure, Pa, kg; none where it is there already."""
    over = state.energy - held(boiler, state.water, saturation(max(0.0, target)))
    return max(0.0, over / (at.steam_enthalpy - at.water_enthalpy))


def _air_left(boiler: Boiler, state: BoilerState, steam: float) -> float:
    """With the vent open the air fills what the steam leaves of an atmosphere; steam that blows takes it along."""
    at = saturated(state.temperature)
    if steam > 0:
        return state.air * math.exp(-steam / (at.steam_density * steam_space(boiler, state, at)))
    return _air_at_atmosphere(boiler, state.water, state.temperature, at)


def _followed(boiler: Boiler, state: BoilerState) -> float | None:
    probe = boiler.probe
    if probe is None or not probe.lag:
        return None
    there = state.temperature + probe.on_the_wall * (boiler.room - state.temperature)
    return there if state.probe is None else state.probe + (there - state.probe) * -math.expm1(-STEP / probe.lag)


# -- hands --------------------------------------------------------------------------------


def set_fire(state: BoilerState, part: float) -> BoilerState:
    """So much of the full fire, from nought to one."""
    return replace(state, fire=min(1.0, max(0.0, part)))


def fire_out(state: BoilerState) -> BoilerState:
    """The fire out, and the feeds off."""
    return replace(state, fire=0.0, feeding=(False,) * len(state.feeding))


def set_vent(boiler: Boiler, state: BoilerState, is_open: bool) -> BoilerState:
    """Open the vent, or shut it; what is over the atmosphere blows off through it."""
    return replace(state, open_to_air=is_open)


def set_outlet(state: BoilerState, is_open: bool) -> BoilerState:
    """Open the steam outlet, or shut it."""
    return replace(state, outlet_open=is_open)


def set_feed(state: BoilerState, which: int, on: bool) -> BoilerState:
    """Put a feed on or off, by its place in the boiler's list."""
    feeding = list(state.feeding)
    feeding[which] = on
    return replace(state, feeding=tuple(feeding))


# -- eyes --------------------------------------------------------------------------------


def read_gauge(boiler: Boiler, state: BoilerState) -> float:
    """What the gauge shows, Pa: what it makes of what is there, to its nearest step."""
    gauge = boiler.gauge
    shown = boiler.scale * pressure(boiler, state) + gauge.bias
    if boiler.sticks_at is not None:
        shown = min(shown, boiler.sticks_at)
    if state.open_to_air:
        return 0.0
    shown += chance(boiler.seed, int(state.time), 1) * gauge.noise if gauge.noise else 0.0
    return max(0.0, round(shown / gauge.resolution) * gauge.resolution)


def read_thermometer(boiler: Boiler, state: BoilerState) -> float | None:
    """What the thermometer shows, K; None without one."""
    probe = boiler.probe
    if probe is None:
        return None
    there = state.temperature + probe.on_the_wall * (boiler.room - state.temperature)
    there = (there if state.probe is None else state.probe) + probe.bias
    return round((there - 273.15) / probe.resolution) * probe.resolution + 273.15
