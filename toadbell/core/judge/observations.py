"""From a log to what the model weighs: readings as volume, averaged to a few dozen points."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from toadbell.core.arrays import Array, Flags, Places
from toadbell.core.judge.observed import DAY, Observed
from toadbell.core.judge.unknowns import ERROR, HOUR, Vessel
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.physics.water import water_expansion
from toadbell.core.units import ATMOSPHERE

MOST_POINTS, FEW_POINTS = 22, 16
"""A log is averaged to so many points; to fewer where the answer has to be quick."""
FREE_POINTS = 36
"""Of a log's readings so many, at the most, are out each by itself from what the model says of the water."""
EARLIER_FINER = 2.5
"""The points of a long log stand closer at its beginning, e^2.5 times as close as at its end."""
FIRST_ALONE = 2
"""So many readings stand alone at the beginning: a leak that shuts a little lower down shows there and nowhere else."""
SURFACE = 28.0
"""Heat that passes from water to room through a wall in a workshop, W/m²K: still air 8, wet and beside a fan 60."""
LIQUID = 273.16
"""Water is reckoned as liquid down to here, K."""
WATER_HEAT = 4.18e6
"""Heat that a cubic metre of water takes up, J/K."""
STEADY = 30
"""From so many readings on, a reading's error is measured from the log itself."""
CREEP_WARM, CREEP_PART = 0.01, 1.5e-4
"""Slow creeping that nothing explains, over an hour: so many kelvin of the water, and such a part of what was pumped
in, 1 σ.
"""
UNSTIRRED = 0.004
"""Water is not of one temperature throughout: so far, K, 1 σ, is any reading of it from its mean."""
UNEVEN = 2e-5
"""And so far, as a part of what was pumped in, is the content from the model of it."""
WEATHER, BAROMETER = 100.0, 5.0
"""How far the outer air's pressure goes in an hour, Pa, 1 σ, on its way and to and fro; and what a barometer leaves of
it.
"""
OUTER = 900.0
"""How far the outer air's pressure is from where it was after a day or more, Pa, 1 σ / √2: it goes 100 Pa an hour at
first.
"""
DAY_OUTSIDE = 5.0
"""How far gas in a holder out of doors goes up and down with the day, K, 1 σ: in the shade 3, black in the sun 10."""
LAYERS, UNMIXED = 0.12, 0.06
"""Gas out of doors is in layers, and its dampness lags: so far, K, 1 σ, does it go its own way in an hour, and is any
reading of it from its mean.
"""
AIR_FOLLOWS = 1200.0
"""Air in a vessel follows its wall in minutes, the wall the room in a quarter or half of an hour, s."""
NARROWEST = 0.002
"""A leak that shuts nearer to the test pressure than this, as a part of it, or than a gauge can tell, is beyond
telling.
"""
ROUNDED = 1 / math.sqrt(12)


@dataclass(frozen=True)
class Points:
    """Neighbouring readings taken together: where each group begins in the log, and the mean time of each, s."""

    edges: Places
    time: Array


def points_of(time: Array, breaks: Sequence[int] = (), most: int = MOST_POINTS) -> Points:
    """At most so many groups of readings, closer at the beginning; a new one begins at each of `breaks`, by index."""
    n = len(time)
    if n <= most:
        return Points(np.arange(n), time)
    grid = np.expm1(EARLIER_FINER * np.arange(most) / most) / np.expm1(EARLIER_FINER)
    edges = np.unique(np.searchsorted(time, time[0] + grid * (time[-1] - time[0]), side="left"))
    edges = np.union1d(edges, np.array([*range(1, FIRST_ALONE + 1), *breaks], dtype=edges.dtype))
    return Points(edges, averaged(time, edges))


def averaged(column: Array | Flags, edges: Places) -> Array:
    """Mean of each group."""
    return np.asarray(np.add.reduceat(column, edges) / np.diff(np.append(edges, len(column))))


def free_of_each_other(column: Array, edges: Places) -> Array:
    """How many of a group's readings are news: a display that stands still repeats its error of rounding."""
    moved = np.concatenate([[False], np.diff(column) != 0]).astype(float)
    moved[edges] = 0.0
    return np.asarray(1.0 + np.add.reduceat(moved, edges))


def reading_error(pressure: Array, step: float) -> float:
    """1 σ of one reading, in the gauge's unit: measured by how it jitters where there are enough of them, else by its
    step.
    """
    if len(pressure) < STEADY:
        return ERROR * step
    jitter = np.diff(pressure, 2)
    return max(
        ROUNDED * step,
        float(1.4826 * np.median(np.abs(jitter)) / math.sqrt(6)),
        min(float(jitter.std() / math.sqrt(6)), 3 * step),
    )


def swelling_scale(content: Content, pressure: float) -> float:
    """By how much the water outgrows the wall per kelvin, m³/K, within two kelvin of where it is: near 4 °C it changes
    sign.
    """
    at = [content.swelling(pressure, max(LIQUID, content.temperature + away)) for away in (-2.0, 2.0)]
    return math.sqrt((at[0] ** 2 + at[1] ** 2) / 2)


def following_time(content: Content, inside_diameter: float | None) -> float:
    """Time in which the water of such a vessel comes near the room, s: ρ c D/(4 h); Newton's cooling of a long
    cylinder.
    """
    across = inside_diameter or (content.volume / 2.4) ** (1 / 3)
    return WATER_HEAT * across / 4 / SURFACE


def grown(content: Content, temperature: Array, pressure: float) -> Array:
    """Volume by which the water outgrew the wall since the first reading, m³, integrated along the temperatures, K."""
    low, high = float(temperature.min()), float(temperature.max())
    grid = np.linspace(max(LIQUID, low - 0.01), high + 0.01, 41)
    rate = np.array([water_expansion(float(t), pressure) - 3 * content.expansion for t in grid]) * content.volume
    sums = np.concatenate([[0.0], np.cumsum((rate[1:] + rate[:-1]) / 2 * np.diff(grid))])
    at = np.interp(temperature, grid, sums)
    return np.asarray(at - at[0])


@dataclass(frozen=True)
class Medium:
    """What the vessel holds, as the model needs it.

    compliance m³/Pa; inside m³; swelling m³/K, without its sign; following s; creep m³/√s; drift m³/s; uneven m³: how
    far any reading of content or warmth may be from the model, 1 σ; day K: how far it goes up and down with day and
    night; weather m³: what the outer air does to it unread, 1 σ; vapour m³: that rises from wet walls, 1 σ
    """

    compliance: float
    inside: float
    swelling: float
    following: float
    creep: float
    uneven: float
    drift: float = 0.0
    vessel: Vessel = field(default_factory=Vessel)
    day: float = DAY
    weather: float = 0.0
    vapour: float = 0.0


@dataclass(frozen=True)
class Unsaid:
    """What nobody said of a vessel. air: none or some is left in; give: of its wall, by its material's modulus (Pa)
    where that is known.

    creeps  the wall may creep
    sides   of a vessel under air: what they give, m³/Pa, the middle of it and σ of its logarithm; None where they are
            stiff, or it was measured
    vapour  free air that the vapour from its walls looks like, m³, 1 σ
    """

    air: bool = False
    give: bool = False
    modulus: float | None = None
    creeps: bool = False
    sides: tuple[float, float] | None = None
    vapour: float = 0.0


def medium_of(
    content: Content | AirContent,
    pressure: float,
    diameter: float | None,
    *,
    barometer: bool = False,
    unsaid: Unsaid | None = None,
) -> Medium:
    """Water or air at a pressure, Pa gauge. barometer: the outer air's pressure was read along with the gauge; unsaid:
    of the vessel.
    """
    compliance, inside = content.compliance(pressure), content.pumped(pressure)
    if isinstance(content, AirContent):
        weather = (BAROMETER if barometer else WEATHER) * compliance
        swelling = content.swelling(pressure)
        unread = content.outdoors and not barometer
        creep = math.hypot(weather, LAYERS * swelling if content.outdoors else 0.0)
        return Medium(
            compliance,
            inside,
            swelling,
            AIR_FOLLOWS,
            creep / math.sqrt(HOUR),
            (UNMIXED if content.outdoors else 0.02) * swelling,
            0.0 if unread else weather / HOUR,
            _under_air(content, pressure, unsaid or Unsaid()),
            vapour=unsaid.vapour if unsaid else 0.0,
            day=DAY_OUTSIDE if content.outdoors else DAY,
            weather=OUTER * compliance if unread else 0.0,
        )
    swelling = swelling_scale(content, pressure)
    creep = math.hypot(CREEP_WARM * swelling, CREEP_PART * inside) / math.sqrt(HOUR)
    vessel = vessel_of(content, pressure, swelling, unsaid or Unsaid())
    uneven = math.hypot(UNSTIRRED * swelling, UNEVEN * inside)
    return Medium(compliance, inside, swelling, following_time(content, diameter), creep, uneven, vessel=vessel)


def _under_air(content: AirContent, pressure: float, unsaid: Unsaid) -> Vessel:
    """What is not known of a vessel under air: by how much its sides give, as free air."""
    give = None
    if unsaid.sides is not None:
        give = (unsaid.sides[0] * (content.outer + 2 * pressure) / ATMOSPHERE, unsaid.sides[1])
    return Vessel(pressure=pressure, compliance=content.compliance(pressure), unknown_give=give)


UNSTATED_AIR = (4e-3, 1.0)
"""Air left in where nobody said: the middle of it as a part of the volume, and σ of its logarithm; one in forty has
over 3 %.
"""
ANY_GIVE = (1e-8, 1.7)
"""Give of a wall of which nothing is known, 1/Pa, and σ of its logarithm: from thin steel (4e-10) to thin plastic
(3e-7).
"""
GIVE_BY_MODULUS = (95.0, 0.8)
"""And of a known material without a wall: times 1/E, a cylinder with R/t of 50, from 10 to 250."""
CREEPS = 0.008
"""Part of its elastic give by which a plastic wall creeps in a time e times as long; textbook creep of thermoplastics,
J ∝ t^0.01 to t^0.1.
"""


def vessel_of(content: Content, pressure: float, swelling: float, unsaid: Unsaid) -> Vessel:
    """What the vessel's figures say, and do not say, at a pressure (Pa); swelling of its water over its wall, m³/K."""
    volume = content.volume
    middle, spread = GIVE_BY_MODULUS
    give = (middle / unsaid.modulus, spread) if unsaid.modulus else ANY_GIVE
    return Vessel(
        wall_swelling=min(0.5, 3 * content.expansion * volume / swelling),
        air=content.trapped_air,
        squeezed=ATMOSPHERE / (ATMOSPHERE + pressure),
        unstated_air=(UNSTATED_AIR[0] * volume, UNSTATED_AIR[1]) if unsaid.air else None,
        elastic=content.give * volume * pressure,
        unknown_give=(give[0] * volume, give[1]) if unsaid.give else None,
        creeps=CREEPS if unsaid.creeps else 0.0,
        compliance=content.compliance(pressure),
        pressure=pressure,
    )


def observed(
    points: Points,
    pressure: Array,
    held: Array,
    warm: Array | None,
    errors: tuple[Array, Array | None],
    medium: Medium,
    offsets: Array | None = None,
) -> Observed:
    """The readings as the model weighs them.

    pressure Pa, held and warm m³ at each reading; errors of content and warmth at each point, m³, 1 σ;
    offsets (points, steps)
    """
    edges, time = points.edges, points.time - points.time[0]
    together = math.sqrt(len(edges) / min(max(len(edges), FREE_POINTS), len(pressure)))
    level = averaged(pressure, edges)
    told = float(np.median(errors[0])) / medium.compliance * ERROR
    start = max(float(np.median(pressure[: max(1, len(pressure) // 10)])), float(level[0]), 1.0)
    vessel = replace(medium.vessel, narrowest=min(0.5, max(NARROWEST, 3 * told / start)))
    return Observed(
        time=time,
        content=averaged(held, edges),
        error=errors[0],
        swelling=medium.swelling,
        following=medium.following,
        inside=medium.inside,
        creep=medium.creep,
        uneven=medium.uneven,
        together=together,
        drift=medium.drift,
        day=medium.day,
        weather=medium.weather,
        vapour=medium.vapour,
        pressure=level,
        told=told,
        start=start,
        vessel=vessel,
        warmth=None if warm is None else averaged(warm, edges),
        warmth_error=errors[1],
        offsets=np.empty((len(time), 0)) if offsets is None else offsets,
    )
