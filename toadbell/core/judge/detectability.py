"""What a kit can tell: the spread of the leak after a hold that is only planned, or that goes on as it is."""

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.judge.laws import courses
from toadbell.core.judge.model import weigh
from toadbell.core.judge.normal import even_points
from toadbell.core.judge.observations import FREE_POINTS, MOST_POINTS, Medium, Unsaid, medium_of
from toadbell.core.judge.observed import Observed
from toadbell.core.judge.pieces import LOW_POINTS, Piece, on_one_clock
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.units import ATMOSPHERE

TELL = 2.8
"""Standard deviations at which a leak is told from none with 97.5 % confidence four times in five."""
LONGEST = 48 * 3600.0
PLANNED, PLANNED_POINTS = 24, 12
"""Guesses at what is not known that a plan is reckoned with, and to how many points its readings are taken together."""
PLANNED_COURSES = 5
"""And ways in which a leak may go with the pressure."""
CERTAIN = 1.96
"""Standard deviations on one side of which lie 97.5 %."""


@dataclass(frozen=True)
class Kit:
    """Gauge, thermometer and vessel, as they tell a leak.

    gauge        what can be told apart on it, Pa
    thermometer  the same, K; None without one
    medium       in the vessel
    """

    gauge: float
    thermometer: float | None
    medium: Medium


Guess = dict[str, float]
"""What is not known by its name, as far as a log has told it, in standard normal numbers."""


def kit_of(
    content: Content | AirContent,
    pressure: float,
    gauge: float,
    thermometer: float | None,
    diameter: float | None,
    unsaid: Unsaid | None = None,
    *,
    barometer: bool = False,
) -> Kit:
    """A kit on a vessel at a pressure, Pa gauge; gauge Pa, thermometer K, diameter m; unsaid: of the vessel; barometer:
    the outer air's pressure is read along.
    """
    return Kit(gauge, thermometer, medium_of(content, pressure, diameter, barometer=barometer, unsaid=unsaid))


@dataclass(frozen=True)
class LowHolds:
    """Low holds beside a test hold, as they are planned: at such a part of the test pressure, so long each, s; one
    before, one after, or both.

    between  what it takes to raise, and to come down, s
    """

    part: float = 0.2
    long: float = 600.0
    before: bool = True
    after: bool = True
    between: float = 300.0


@lru_cache(maxsize=512)
def planned_sd(hold: float, every: float, kit: Kit, low_holds: LowHolds | None = None) -> float:
    """1 σ of the leak after a hold that is only planned, m³/s: the mean over all that may be, as the judge finds it.

    hold, every  its length, and how often it is read, s
    low_holds    beside it; none of a vessel under air, which is not reckoned here
    """
    return _spread(hold, every, kit, None, low_holds, PLANNED_POINTS)


def leak_sd(hold: float, every: float, kit: Kit, guess: Guess, low_holds: LowHolds | None = None) -> float:
    """The same after what a log has told."""
    return _spread(hold, every, kit, guess, low_holds, MOST_POINTS)


def _spread(hold: float, every: float, kit: Kit, guess: Guess | None, low_holds: LowHolds | None, most: int) -> float:
    readings = max(2.0, hold // every + 1)
    n = int(min(most, readings))
    time, counts = np.linspace(0, hold, n), readings / n
    medium = kit.medium
    pressure = medium.vessel.pressure
    seen = Observed(
        time=time,
        content=np.zeros(n),
        error=np.full(n, medium.compliance * kit.gauge / np.sqrt(counts)),
        pressure=np.full(n, pressure),
        start=pressure,
        vessel=medium.vessel,
        swelling=medium.swelling,
        following=medium.following,
        inside=medium.inside,
        creep=medium.creep,
        uneven=medium.uneven,
        together=float(np.sqrt(n / min(FREE_POINTS, readings))),
        drift=medium.drift,
        day=medium.day,
        weather=medium.weather,
        offsets=np.empty((n, 0)),
    )
    if kit.thermometer is not None:
        noise = np.full(n, medium.swelling * kit.thermometer / np.sqrt(counts))
        seen = replace(seen, warmth=np.zeros(n), warmth_error=noise)
    if low_holds is not None:
        seen = _with_low(seen, kit, low_holds, every)
    row = courses(seen.vessel, {"steady": PLANNED_COURSES}, {})
    found = weigh(_guesses(seen, guess), seen, row)
    return float((found.sd * found.first).mean(axis=0) @ np.exp(row.chance) / np.exp(row.chance).sum())


def _guesses(seen: Observed, guess: Guess | None) -> Array:
    """What is not known, (guesses, unknowns): as a log has told it, else evenly as the judge takes it to be."""
    if guess is not None:
        return np.array([[guess.get(name, 0.0) for name in seen.unknown]])
    return even_points(PLANNED, len(seen.unknown) + 1)[:, :-1]


def _with_low(test: Observed, kit: Kit, low: LowHolds, every: float) -> Observed:
    """A planned test hold with its low holds."""
    vessel, medium = test.vessel, kit.medium
    pressure = low.part * vessel.pressure
    squeezed = vessel.air * ATMOSPHERE
    softer = 1 + squeezed / medium.compliance * (
        1 / (ATMOSPHERE + pressure) ** 2 - 1 / (ATMOSPHERE + vessel.pressure) ** 2
    )
    readings = max(2.0, low.long // every + 1)
    n = int(min(LOW_POINTS, readings))
    counts = readings / n
    own = replace(
        test,
        time=np.linspace(0, low.long, n),
        content=np.zeros(n),
        error=np.full(n, softer * medium.compliance * kit.gauge / np.sqrt(counts)),
        pressure=np.full(n, pressure),
        warmth=None if test.warmth is None else np.zeros(n),
        warmth_error=None
        if kit.thermometer is None
        else np.full(n, medium.swelling * kit.thermometer / np.sqrt(counts)),
    )
    span = float(test.time[-1])
    pieces = [Piece(0.0, test, "test", vessel.pressure, 1.0)]
    if low.before:
        pieces.append(Piece(-low.between - low.long, own, "low", pressure, softer))
    if low.after:
        pieces.append(Piece(span + low.between, own, "low", pressure, softer))
    return on_one_clock(pieces)


def more_hold(
    away: float, sd: float, span: float, every: float, kit: Kit, guess: Guess, low_holds: LowHolds | None = None
) -> float | None:
    """Further s of hold until a leak could be told from a limit that is `away` from it; 0 when it can be now; None when
    never.

    away, sd   m³/s, sd as the hold so far leaves it; span, every  s
    low_holds  that were held beside it so far
    """
    if away >= CERTAIN * sd:
        return 0.0
    scale = sd / leak_sd(span, every, kit, guess, low_holds)
    length = span * 1.15
    while length <= max(LONGEST, 2 * span):
        if CERTAIN * scale * leak_sd(length, every, kit, guess, low_holds) <= away:
            return float(np.ceil((length - span) / 60) * 60)
        length *= 1.15
    return None
