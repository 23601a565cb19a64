"""A simulated rig: vessel, water, air, wall, pump, valves, leaks, warmth and gauges, by the physics of `compliance`.

It is advanced on demand from a stored state. Time runs on a grid of whole steps and every chance is drawn from the
seed and the second it belongs to, so that the same seed gives the same run however often it is looked at.
Pressures Pa gauge, volumes m³, temperatures K, times s.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from typing import Any

from toadbell.core.bench.rig_parts import Dial, Drum, Leak, Outside, Probe, Relief, Room, Settling, Source, Wall, chance
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.units import ATMOSPHERE

STEP = 1.0
COARSE_STEP = 60.0
"""Step of the grid when a long while is made up, as after a night with the lid shut, s."""
PRESSES = 0.02
"""From such a part of a leak's pressure on a seal is pressed."""
A_HAIR = 1.0
"""A relief valve that has let all but so much go is shut: it would come down to where it shuts for ever, Pa."""
LONG = 6 * 3600.0
WALL_SHARE = 0.1
"""How far the wall is from the water's temperature towards the room's."""


@dataclass(frozen=True)
class Rig:
    """A rig in all its parts.

    stiffness      compliance of water and wall while elastic, m³/Pa
    swelling       volume by which the water outgrows the wall, m³/K, at the temperature it begins with
    swelling_slope how that grows with the temperature, m³/K²
    wall_swelling  volume by which the wall grows, m³/K
    sections       what valves part it into, each with its share of the whole; none where there are no such valves
    trapped_air    m³ at atmosphere
    water          temperature of the water at the start, K
    lag            time in which the water follows the room, s
    drum           that keeps the pressure of a gas holder; none of a vessel that keeps its volume
    """

    stiffness: float
    swelling: float
    trapped_air: float
    source: Source
    gauge: Dial
    water: float
    room: Room
    lag: float = 5000.0
    swelling_slope: float = 0.0
    wall_swelling: float = 0.0
    wall: Wall = field(default_factory=Wall)
    leaks: tuple[Leak, ...] = ()
    relief: Relief | None = None
    probe: Probe | None = None
    settling: Settling = field(default_factory=Settling)
    seed: int = 1
    sections: tuple[tuple[str, float], ...] = ()
    outside: Outside = field(default_factory=Outside)
    drum: Drum | None = None


@dataclass(frozen=True)
class RigState:
    """Where the rig is. `net` is what was pumped in and not lost; `to_go` are strokes still to be made.

    peak       highest pressure seen, Pa: beyond yield the wall does not come back from it
    needle     where the sticking needle stands, Pa
    lifts      how often the relief valve lifted
    tightened  how often each leak was tightened
    shut_at    when it was first shut in, s: from then on it settles
    seals      each leak that was sealed, by its place in the list, and when its seal has cured, s; gone where it was
               pressed before
    open       sections that the gauge still sees; all where none is named
    apart      what shut valves part from them, each with its own state
    probe      where the thermometer is that follows the water slowly, K; None before it is put in
    pumped, leaked, relieved, let_out  volumes since the vent was shut, m³: pumped = net + leaked + relieved + let_out
    """

    time: float = 0.0
    net: float = 0.0
    temperature: float = 0.0
    strokes: int = 0
    to_go: int = 0
    shut_in: bool = False
    open_to_air: bool = True
    peak: float = 0.0
    needle: float = 0.0
    lifted: bool = False
    lifts: int = 0
    burst: bool = False
    tightened: tuple[int, ...] = ()
    shut_at: float | None = None
    probe: float | None = None
    pumped: float = 0.0
    leaked: float = 0.0
    relieved: float = 0.0
    let_out: float = 0.0
    seals: tuple[tuple[int, float], ...] = ()
    open: tuple[str, ...] = ()
    apart: tuple[Apart, ...] = ()


@dataclass(frozen=True)
class Apart:
    """What shut valves part from the gauge: its sections, and how they stand."""

    sections: tuple[str, ...]
    state: RigState


def rig_for(content: Content | AirContent, pressure: float, **parts: object) -> Rig:
    """A rig for a vessel, under water or under air: stiffness and swelling at half the test pressure (Pa), its parts as
    given.
    """
    half, slope, wall = pressure / 2, 0.0, 0.0
    if isinstance(content, Content):
        slope = (content.swelling(half, content.temperature + 1) - content.swelling(half, content.temperature - 1)) / 2
        wall = 3 * content.expansion * content.volume
    return Rig(
        stiffness=content.stiff_part(half),
        swelling=content.swelling(half),
        swelling_slope=slope,
        wall_swelling=wall,
        trapped_air=content.trapped_air,
        **parts,  # type: ignore[arg-type]
    )


def at_start(rig: Rig) -> RigState:
    """Full of water, vent open."""
    return RigState(temperature=rig.water, tightened=(0,) * len(rig.leaks))


# -- the state of it --------------------------------------------------------------------------------


def grown(rig: Rig, state: RigState) -> float:
    """Volume by which the water outgrew the wall since the start, less what settling took up, m³.

    The wall is a little nearer to the room than the water.
    """
    warmed = state.temperature - rig.water
    wall_ahead = WALL_SHARE * (room_at(rig, state.time) - state.temperature)
    settled = 0.0 if state.shut_at is None else -math.expm1(-(state.time - state.shut_at) / rig.settling.time)
    return (
        rig.swelling * warmed
        + rig.swelling_slope * warmed**2 / 2
        - rig.wall_swelling * wall_ahead
        - rig.settling.volume * settled
    )


def room_at(rig: Rig, time: float) -> float:
    """Temperature of the room, K."""
    room = rig.room
    return room.temperature + room.drift * time + room.swing * math.sin(2 * math.pi * time / room.period)


def yielded(rig: Rig, peak: float) -> float:
    """Volume by which the wall has grown for good after a highest pressure of `peak` (Pa), m³."""
    at = rig.wall.yields_at
    return 0.0 if at is None or peak <= at else rig.stiffness * rig.wall.softening * (peak - at) ** 2 / (2 * at)


def volume_at(rig: Rig, pressure: float, peak: float) -> float:
    """What has to be in to stand at a pressure after a peak (both Pa), m³; the warmth's part counts as in."""
    air = rig.trapped_air * pressure / (ATMOSPHERE + pressure)
    return rig.stiffness * pressure + air + yielded(rig, max(peak, pressure))


def pressure(rig: Rig, state: RigState) -> float:
    """True pressure, Pa: the one at which water, wall and air take up what is in, with what the warmth adds."""
    if state.open_to_air:
        return 0.0
    inside = state.net + grown(rig, state)
    elastic = _elastic_pressure(rig, inside - yielded(rig, state.peak))
    if rig.wall.yields_at is None or elastic <= max(state.peak, rig.wall.yields_at):
        return elastic
    low, high = max(state.peak, rig.wall.yields_at), elastic
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if volume_at(rig, middle, middle) < inside else (low, middle)
    return (low + high) / 2


def _elastic_pressure(rig: Rig, inside: float) -> float:
    """The root of S P + V_a P/(P_atm + P) = inside."""
    if inside <= 0:
        return 0.0
    S, b = rig.stiffness, rig.stiffness * ATMOSPHERE + rig.trapped_air - inside
    return (-b + math.sqrt(b * b + 4 * S * inside * ATMOSPHERE)) / (2 * S)


def flows(rig: Rig, state: RigState) -> list[float]:
    """What runs out of each leak now, m³/s."""
    return _flows(rig, state, pressure(rig, state))


def _flows(rig: Rig, state: RigState, now: float) -> list[float]:
    cured = {which for which, at in state.seals if state.time >= at}
    return [
        0.0
        if (leak.on_the_hose and state.shut_in) or (i in cured and now <= leak.sealed_to)
        else leak.flow(now, state.tightened[i])
        for i, leak in enumerate(rig.leaks)
    ]


# -- time --------------------------------------------------------------------------------


def advance(rig: Rig, state: RigState, until: float) -> RigState:
    """The rig at a later time; an earlier one changes nothing."""
    if until - state.time > LONG:
        state = _march(rig, state, until - LONG / 2, COARSE_STEP)
    return _march(rig, state, until, STEP)


def _with(state: RigState, **changes: Any) -> RigState:
    """The state with some of it changed. A step is taken a hundred thousand times to make up a night, and the library's
    own way goes through every field each time.
    """
    found = object.__new__(RigState)
    found.__dict__.update(state.__dict__, **changes)
    return found


def _march(rig: Rig, state: RigState, until: float, step: float) -> RigState:
    while state.time + step <= until:
        state = _step(rig, state, step)
    return state


def _step(rig: Rig, state: RigState, step: float) -> RigState:
    """One step of the grid: warmth, leaks and valves, strokes; then the needle."""
    temperature = state.temperature + (room_at(rig, state.time) - state.temperature) * -math.expm1(-step / rig.lag)
    if rig.probe is not None and rig.probe.lag:
        state = _with(state, probe=_followed(rig, state, step))
    before = pressure(rig, state)
    made = (
        min(state.to_go, max(0, _strokes_by(rig, state.time + step) - _strokes_by(rig, state.time)))
        if state.to_go
        else 0
    )
    if state.open_to_air:
        still = _with(
            state,
            time=state.time + step,
            temperature=temperature,
            strokes=state.strokes + made,
            to_go=state.to_go - made,
            needle=0.0,
        )
        return _with(still, net=yielded(rig, still.peak) - grown(rig, still))
    leaked = min(sum(_flows(rig, state, before)) * step, max(0.0, volume_at(rig, before, state.peak)))
    if not state.shut_in:
        leaked += rig.source.back_leak * before * step
    delivered = _delivered(rig, state, before, made)
    state = _with(
        state,
        time=state.time + step,
        temperature=temperature,
        net=state.net + delivered - leaked,
        strokes=state.strokes + made,
        to_go=state.to_go - made,
        pumped=state.pumped + delivered,
        leaked=state.leaked + leaked,
    )
    return _settle(rig, _relieve(rig, state, step))


def _strokes_by(rig: Rig, time: float) -> int:
    """Strokes that a pump which never rests would have made by then."""
    return math.floor(time * rig.source.per_second + 1e-9)


def _delivered(rig: Rig, state: RigState, now: float, made: int) -> float:
    """What so many strokes bring into the vessel, m³: none past the shut-off, none above the source's maximum."""
    if not made or state.shut_in:
        return 0.0
    source = rig.source
    scatter = (
        sum(chance(rig.seed, state.strokes + n, 2) for n in range(made)) * source.scatter if source.scatter else 0.0
    )
    wanted = max(0.0, (made + scatter) * source.stroke)
    if source.kind == "air-over-water":
        wanted *= max(0.0, 1 - now / source.maximum)
    room = volume_at(rig, source.maximum, state.peak) - volume_at(rig, now, state.peak)
    return min(wanted, max(0.0, room))


def _relieve(rig: Rig, state: RigState, step: float) -> RigState:
    """The relief valve: it lifts, lets out what it can, and is shut again below its reseating pressure."""
    if rig.relief is None:
        return state
    valve, now = rig.relief, pressure(rig, state)
    lifts_at = valve.lifts_at
    if valve.spread:  # never under where it shuts, or it would not shut at all
        lifts_at = max(1.02 * valve.reseats_at, lifts_at * (1 + valve.spread * chance(rig.seed, state.lifts, 3)))
    lifted = now >= lifts_at or (state.lifted and now > valve.reseats_at + A_HAIR)
    if not lifted:
        wept = 0.0 if valve.weeps_from is None else max(0.0, valve.weeps * (now - valve.weeps_from) * step)
        return _with(state, lifted=False, net=state.net - wept, relieved=state.relieved + wept)
    state = state if state.lifted else _with(state, lifts=state.lifts + 1)
    down_to = volume_at(rig, now, state.peak) - volume_at(rig, rig.relief.reseats_at, state.peak)
    out = min(rig.relief.capacity * (now - rig.relief.reseats_at) * step, down_to)
    return _with(state, net=state.net - out, relieved=state.relieved + out, lifted=True)


def _settle(rig: Rig, state: RigState) -> RigState:
    """Peak, needle, and whether it burst."""
    now = pressure(rig, state)
    state = _with(state, peak=max(state.peak, now), needle=_needle(rig, state, now))
    if state.seals:  # one that is pressed before it has cured is blown out
        stays = (one for one in state.seals if state.time >= one[1] or now <= PRESSES * rig.leaks[one[0]].at)
        state = _with(state, seals=tuple(stays))
    if rig.wall.bursts_at is not None and now >= rig.wall.bursts_at:
        return _with(dump(rig, state), burst=True)
    return state


def _needle(rig: Rig, state: RigState, now: float) -> float:
    return min(max(state.needle, now - rig.gauge.sticking), now + rig.gauge.sticking)


# -- hands --------------------------------------------------------------------------------


def pump(state: RigState, strokes: int) -> RigState:
    """Make so many strokes from now on, in the pump's time; 0 stops it."""
    return replace(state, to_go=state.to_go + strokes if strokes else 0)


def close_vent(state: RigState) -> RigState:
    """Shut the vent: from now on pumping raises the pressure. A burst vessel stays open."""
    return replace(state, open_to_air=state.burst, pumped=state.net, leaked=0.0, relieved=0.0, let_out=0.0)


def set_shut_off(state: RigState, shut: bool) -> RigState:
    """Shut the valve between pump and vessel, or open it."""
    shut_at = state.time if shut and state.shut_at is None else state.shut_at
    return replace(state, shut_in=shut, to_go=0 if shut else state.to_go, shut_at=shut_at)


def dump(rig: Rig, state: RigState) -> RigState:
    """Let everything go: vent and dump open, pump still."""
    return replace(_let_out(state, yielded(rig, state.peak) - grown(rig, state)), shut_in=False, open_to_air=True)


def bleed_to(rig: Rig, state: RigState, target: float) -> RigState:
    """Let water out until the pressure has come down to the target, Pa; the vent stays shut, also at zero."""
    if pressure(rig, state) <= target:
        return state
    return replace(_let_out(state, volume_at(rig, target, state.peak) - grown(rig, state)), shut_in=False)


def _let_out(state: RigState, left: float) -> RigState:
    return replace(state, net=left, let_out=state.let_out + state.net - left, to_go=0)


A_LITTLE, OF_WHAT_IS_OVER = 0.02, 0.25
"""What a bleed valve that is opened for a moment lets out: as a part of the pressure that the rig is to reach, and of
what it stands above that.
"""


def bleed(rig: Rig, state: RigState, target: float) -> RigState:
    """Let a little out: of a rig that is to reach the target, Pa. What was shut off from the pump stays so."""
    now = pressure(rig, state)
    after = bleed_to(rig, state, max(0.0, now - max(A_LITTLE * target, OF_WHAT_IS_OVER * (now - target))))
    return replace(after, shut_in=state.shut_in)


def strokes_to(rig: Rig, state: RigState, target: float) -> int:
    """So many whole strokes of its source bring it to a pressure, Pa, and not past it; none where it stands there."""
    missing = volume_at(rig, target, state.peak) - state.net - grown(rig, state)
    return max(0, math.floor(missing / rig.source.stroke))


def stroke_raises(rig: Rig, state: RigState) -> float:
    """By how much the next stroke raises the pressure, Pa."""
    return pressure(rig, replace(state, net=state.net + rig.source.stroke)) - pressure(rig, state)


def tighten(state: RigState, which: int) -> RigState:
    """Tighten the joint at a leak, by its place in the rig's list."""
    turns = list(state.tightened)
    turns[which] += 1
    return replace(state, tightened=tuple(turns))


def seal(state: RigState, which: int, cured_at: float) -> RigState:
    """Seal a leak, by its place in the rig's list; its seal has cured at a time, s."""
    others = tuple(one for one in state.seals if one[0] != which)
    return replace(state, seals=(*others, (which, cured_at)))


# -- eyes --------------------------------------------------------------------------------


def read_gauge(rig: Rig, state: RigState) -> float:
    """What the gauge shows, Pa: the needle with its bias and noise, to the nearest step."""
    gauge = rig.gauge
    if state.open_to_air:
        return 0.0
    there = _needle(rig, state, pressure(rig, state)) - _stands_out(rig, state)
    shown = (
        (there if rig.drum is None else min(there, rig.drum.rises_at))
        + gauge.bias
        + (chance(rig.seed, int(state.time), 1) * gauge.noise if gauge.noise else 0.0)
    )
    return max(0.0, round(shown / gauge.resolution) * gauge.resolution)


def read_level(rig: Rig, state: RigState) -> float | None:
    """The level of a drum or a bag over where it began to rise, m, to the millimetre; None without one.

    What is in it beyond its pressure lifts it: the gas that a stiff container would hold at a higher one.
    """
    if rig.drum is None:
        return None
    beyond = max(0.0, pressure(rig, state) - _stands_out(rig, state) - rig.drum.rises_at)
    grown = rig.stiffness * ATMOSPHERE * beyond / (ATMOSPHERE + rig.drum.rises_at)
    return round(grown / rig.drum.area / 1e-3) * 1e-3


def _stands_out(rig: Rig, state: RigState) -> float:
    """How far the outer air is over what it was at first, Pa: a gauge shows so much less."""
    return rig.outside.pressure(state.time) - rig.outside.pressure(0.0)


def read_thermometer(rig: Rig, state: RigState) -> float | None:
    """What the thermometer shows, K; None without one."""
    probe = rig.probe
    if probe is None:
        return None
    there = (_there(rig, state) if state.probe is None else state.probe) + probe.bias
    return round((there - 273.15) / probe.resolution) * probe.resolution + 273.15


def _there(rig: Rig, state: RigState) -> float:
    """Temperature where the thermometer sits, K."""
    assert rig.probe is not None
    return state.temperature + rig.probe.on_the_wall * (room_at(rig, state.time) - state.temperature)


def _followed(rig: Rig, state: RigState, step: float) -> float:
    """Where a slow thermometer is after a step, K."""
    assert rig.probe is not None
    there = _there(rig, state)
    return there if state.probe is None else state.probe + (there - state.probe) * -math.expm1(-step / rig.probe.lag)
