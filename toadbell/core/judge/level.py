"""What pressure a hold speaks for: where it was shut in, what it fell or rose by, and what of that nothing explains.

A slope alone can deceive: a hold far below the test pressure, or one that fell and then stood, is as steady as a tight
one.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from toadbell.core.judge.observations import UNSTATED_AIR, Medium, averaged
from toadbell.core.judge.preprocess import Readings
from toadbell.core.judge.stretches import Low
from toadbell.core.judge.unknowns import HOUR
from toadbell.core.phrases import Said, say
from toadbell.core.sheets import HoldSheet, NoVisibleDrop

TOLD = 1.5
"""A reading is at a pressure when it is no more of the gauge's steps away than this."""
SETTLES = 0.01
"""A shut-in vessel settles by no more than such a part of what was pumped in: wall, seals and the heat of pumping
together.
"""
CREEPS = 0.3
"""And a plastic one by such a part of its wall's elastic give."""
NOT_THE_WATER = 0.3
"""The thermometer may be so far, as a part of what it moved, from what the water did."""
UNSEEN, UNSEEN_RATE = 1.0, 1.0 / HOUR
"""Where no temperature is known, water may warm by a kelvin, and by one more an hour, and no more is put down to it."""
WEATHER = 500.0
"""What the outer air's pressure may do meanwhile to a hold under air, Pa."""
FAR_WEATHER = 2.5
"""And so many times what it does unread in a day or more, at the most."""
LEAST_HOLD = 600.0
"""A shorter hold proves nothing by its gauge not moving, s: the least of any school here (ASME B31.3 §345, ten
minutes).
"""


@dataclass(frozen=True)
class Level:
    """What a hold's pressure was like. Pressures Pa, times s.

    held_at      the lowest that the judged stretch stood at
    asked        what was to be held; None where nobody said
    short        by how much it was shut in below that, beyond what the gauge can tell; else 0
    fallen       by how much it fell though neither leak, logged warmth nor settling explains it; else 0
    risen        by how much it rose, or failed to fall, though no warmth explains it; else 0
    rose         did the gauge itself rise meanwhile
    warm_known   was a temperature read
    least        the least hold that would count, where this one was too short for its acceptance; else None
    """

    held_at: float
    asked: float | None
    short: float
    fallen: float
    risen: float
    rose: bool
    warm_known: bool
    least: float | None

    @property
    def silent(self) -> bool:
        """Must it not be called tight?"""
        return bool(self.short or self.fallen or self.risen or self.least)


def level_of(r: Readings, medium: Medium, leak: float, sheet: HoldSheet, lows: Sequence[Low] = ()) -> Level:
    """What is to be said of a hold's level.

    leak  what it is told to leak, m³/s
    lows  low holds beside it, which show how the water drifted where no thermometer did
    """
    time, pressure = r.log.time[r.kept], r.head[r.kept]
    C, asked = medium.compliance, sheet.test_pressure
    few = max(1, len(pressure) // 20)
    first, last = float(np.median(pressure[:few])), float(np.median(pressure[-few:]))
    at_once = max(1, min(3, few))
    begun = max(first, float(pressure[:at_once].max()))
    lost = float(r.held[r.kept[:at_once]].mean() - r.held[r.kept[-few:]].mean()) + C * sum(
        s.by for s in r.steps if s.kind == "jump" and s.by > 0
    )
    grown = 0.0 if r.warm is None else float(r.warm[r.kept[-few:]].mean() - r.warm[r.kept[:at_once]].mean())
    span = float(time[-1] - time[0])
    unsure = 2 * r.gauge * C
    if sheet.medium == "air":
        unsure += max(WEATHER * C, FAR_WEATHER * medium.weather)
    unsure += NOT_THE_WATER * abs(grown) + (0.5 * r.probe if r.warm is not None else 0.0) * medium.swelling
    drift = _drift(lows, span) if r.warm is None else None
    if drift is not None:
        grown, unsure = drift[0], unsure + drift[1]
    fallen = (lost + grown - leak * span - _settling(medium, sheet) - unsure) / C
    may_warm = 0.0 if r.warm is not None or drift is not None else (UNSEEN + UNSEEN_RATE * span) * medium.swelling
    risen = (-lost - grown - may_warm - unsure) / C
    asked_for = sheet.hold.minimum if sheet.hold else LEAST_HOLD
    brief = isinstance(sheet.acceptance, NoVisibleDrop) and span < asked_for * (1 - 1e-6) - 1.0
    least = averaged(pressure, np.arange(0, len(pressure), few)).min() if len(pressure) >= 2 * few else pressure.min()
    return Level(
        held_at=float(min(least, last)),
        asked=asked,
        short=0.0 if asked is None else _beyond(asked - begun, TOLD * r.gauge),
        fallen=_beyond(fallen, 0.0),
        risen=_beyond(risen, 0.0),
        rose=last - first > 2 * r.gauge,
        warm_known=r.warm is not None,
        least=asked_for if brief else None,
    )


def _drift(lows: Sequence[Low], span: float) -> tuple[float, float] | None:
    """By how much the water grew over a hold of so long as the low holds show it, and how far that may be out, m³; None
    without one.
    """
    rates, doubts = [], []
    for low in lows:
        own = low.readings
        lasted = float(own.log.time[own.kept[-1]] - own.log.time[own.kept[0]])
        rates.append(float(own.held[own.kept[-1]] - own.held[own.kept[0]]) / lasted)
        doubts.append(own.content.compliance(own.start) * own.gauge / lasted)
    if not rates:
        return None
    between = (max(rates) - min(rates)) / 2
    return float(np.mean(rates)) * span, (between + float(np.mean(doubts)) / math.sqrt(len(rates))) * span


def _beyond(by: float, told: float) -> float:
    return float(by) if by > told * (1 + 1e-9) else 0.0


def _settling(medium: Medium, sheet: HoldSheet) -> float:
    """The most that settling may take up, m³: wall, seals and heat of pumping; the air there may be, going into
    solution; creep.
    """
    if sheet.medium == "air":
        return SETTLES * medium.inside
    vessel = medium.vessel
    air = vessel.air + (vessel.unstated_air[0] / UNSTATED_AIR[0] * 0.03 if vessel.unstated_air else 0.0)
    elastic = vessel.elastic + (vessel.unknown_give[0] * 3 * vessel.pressure if vessel.unknown_give else 0.0)
    return SETTLES * medium.inside + air * vessel.squeezed + (CREEPS * elastic if vessel.creeps else 0.0)


def against(level: Level, limit: float) -> Said | None:
    """Why a hold says nothing of being tight, and what to do, in a sentence or two; None where nothing stands against
    it.

    limit  the leak, m³/s, that a gauge that does not move stands for over the least hold
    """
    asked = level.asked
    again = say("hold.no-again") if asked is None else say("hold.again", asked=asked)
    if level.short:
        return say("hold.short", at=(asked or 0.0) - level.short, asked=asked or 0.0, again=again)
    if level.risen:
        form = "unseen" if not level.warm_known else "rose" if level.rose else "should"
        return say("hold.risen", what=say(f"hold.risen-{form}", by=level.risen))
    if level.fallen:
        form = "hold.fallen" if level.warm_known else "hold.fallen-unread"
        return say(form, by=level.fallen, again=say("hold.again-plain") if asked is None else again)
    return say("hold.too-brief", least=level.least, limit=limit) if level.least else None
