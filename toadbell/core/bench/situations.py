"""Situations for the simulated rig: the rig that fits a plan, with what is wrong with it.

Leaks m³/s, volumes m³, pressures Pa gauge, temperatures K, drifts K/s.
"""

from dataclasses import dataclass
from typing import Literal

from toadbell.core.answers import DeriveAnswer
from toadbell.core.bench import parted
from toadbell.core.bench import rig as simulated
from toadbell.core.bench.boiler import Boiler, Lifting
from toadbell.core.bench.rig_parts import (
    Dial,
    Drum,
    Leak,
    Outside,
    Probe,
    Relief,
    Room,
    Source,
    Wall,
    chance,
)
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.physics.water import ROOM
from toadbell.core.plan.bases import holder_of
from toadbell.core.plan.heating import metal_heat
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.core.sheets.gas import GasHolder
from toadbell.core.vessel.content import content_of, gas_in, trapped_air
from toadbell.core.vessel.openings import vent_of

Valve = Literal["good", "early", "late", "low-seat", "weeps", "spreads", "sticks"]
Steaming = Literal[
    "good",
    "gauge-low",
    "gauge-high",
    "gauge-stuck",
    "valve-late",
    "valve-small",
    "feed-dead",
    "loses-water",
    "glass-shut",
]
DRIP = 0.05e-6 / 60
"""A leak is seen on looking from about a drop a minute, m³/s."""
SEEN = DRIP / 5
"""Somebody who looks closely sees damp from so little on, m³/s."""
DROPS = 20 / 1e-6
"""Drops in a cubic metre."""


@dataclass(frozen=True)
class Situation:
    """What is to be met on the simulated rig.

    leak       at the test pressure, m³/s, of the vessel's own boundary, a fitting of it or the rig; `eased` is what a
               tightening leaves of it
    section    that it is in, where valves part the rig; "" where the gauge is
    air        left in, m³; None for as much as the plan reckons with
    drift      of the room, K/s
    washer     a washer in place of the plan's pump: its maximum, Pa; without a bypass it makes many strokes a second
    yields_at, bursts_at  of the wall, Pa
    relief_at  a relief valve on the rig lifts at, Pa
    sticking   of the dial's needle, Pa
    steam      what is wrong with a boiler that is steamed
    hunt       several leaks at once, to be found one after another
    valve      that is tried, in a relief valve's trial: lifts at its set, early, late, spread, or sticks
    """

    leak: float = 0.0
    owner: Literal["boundary", "fitting", "rig"] = "boundary"
    where: str = "the lower seam"
    eased: float = 1.0
    section: str = ""
    air: float | None = None
    drift: float = 0.0
    washer: float | None = None
    yields_at: float | None = None
    bursts_at: float | None = None
    relief_at: float | None = None
    sticking: float = 0.0
    valve: Valve = "good"
    steam: Steaming = "good"
    hunt: bool = False
    seed: int = 1


VALVES: dict[Valve, tuple[float, float]] = {
    "good": (1.0, 0.95),
    "early": (0.85, 0.93),
    "late": (1.12, 0.95),
    "low-seat": (1.0, 0.8),
    "weeps": (1.0, 0.95),
    "spreads": (1.0, 0.95),
    "sticks": (4.0, 0.95),
}
"""At what part of its set a valve lifts, and at what part of that it is shut again."""
SPREADS = 0.06
"""How much the lifts of a valve that spreads differ, 1 σ, as a part of its set."""
WEEPS_FROM = 0.85
"""From what part of its set a valve weeps that weeps."""


def _tried(situation: Situation, answer: DeriveAnswer, content: AirContent | Content) -> Relief | None:
    """The valve of a relief trial; it empties what it has to in about a second."""
    if answer.procedure != "relief" or answer.relief_set is None:
        return None
    lifts, seats = VALVES[situation.valve]
    at = lifts * answer.relief_set
    capacity = max(1e-9, content.compliance(answer.relief_set) / 0.6)
    return Relief(
        at,
        seats * at,
        capacity,
        spread=SPREADS if situation.valve == "spreads" else 0.0,
        weeps_from=WEEPS_FROM * answer.relief_set if situation.valve == "weeps" else None,
        weeps=capacity / 200,
    )


def rig_from(sheet: VesselSheet, answer: DeriveAnswer, situation: Situation) -> simulated.Rig:
    """The simulated rig of a plan: its vessel, pump, gauge and thermometer, in the given situation.

    Raises SheetError where the vessel's volume is not known.
    """
    if answer.volume is None:
        raise SheetError("the simulated rig needs the vessel's volume: give its length, or the volume itself", "volume")
    water = sheet.water_temperature or ROOM
    step = (sheet.gauge.readable if sheet.gauge else None) or answer.test_pressure / 200
    air = trapped_air(sheet, vent_of(sheet)) if situation.air is None else situation.air
    holder = holder_of(sheet, answer.basis)
    content = (
        gas_in(answer.volume, water, holder)
        if sheet.medium == "air"
        else content_of(answer.volume, sheet.shell, air, water)
    )
    leaks = (
        [
            Leak(
                situation.leak,
                answer.test_pressure,
                situation.owner,
                situation.where,
                eased=situation.eased,
                section=situation.section,
            )
        ]
        if situation.leak
        else []
    )
    leaks += _hunted(answer) if situation.hunt else []
    leaks = _turned(answer) + leaks if answer.procedure == "tightening" else leaks
    relief = (
        _tried(situation, answer, content)
        if situation.relief_at is None
        else Relief(situation.relief_at, 0.95 * situation.relief_at)
    )
    return simulated.rig_for(
        content,
        answer.test_pressure,
        source=_source(sheet, situation, answer.test_pressure, content),
        gauge=Dial(step, step / 5, situation.sticking),
        probe=Probe(sheet.thermometer.resolution) if sheet.thermometer else None,
        water=water,
        room=Room(water, situation.drift, *((NIGHT, DAY_LONG) if holder else ())),
        wall=Wall(situation.yields_at, bursts_at=_bursts_at(answer, situation)),
        leaks=tuple(leaks),
        relief=relief,
        seed=situation.seed,
        sections=_sections(sheet),
        lag=GAS_FOLLOWS if holder else 5000.0,
        outside=Outside(WEATHER, situation.seed % 6) if holder else Outside(),
        drum=_drum(holder, answer),
    )


STRONGER, SCATTERS = 1.05, 0.04
"""A simulated article bursts so much over what is expected of it, and scatters by such a part, 1 σ."""


def _bursts_at(answer: DeriveAnswer, situation: Situation) -> float | None:
    """Where the simulated wall bursts: as it is asked for; of an article that is taken to failure about as expected."""
    if situation.bursts_at is not None or answer.procedure != "burst":
        return situation.bursts_at
    scatter = 1 + SCATTERS * chance(situation.seed, 0, 7)
    return STRONGER * scatter * (answer.expected_burst or 0.9 * answer.test_pressure)


NIGHT, DAY_LONG, GAS_FOLLOWS, WEATHER = -1.5, 86_400.0, 1200.0, 250.0
"""A gas holder in the shade is so many K colder by midnight, follows the room in so many s, and the outer air goes up
and down by so many Pa.
"""


def _drum(holder: GasHolder | None, answer: DeriveAnswer) -> Drum | None:
    """The drum or the bag of a gas holder, which rises a little under the pressure that the plan asks for."""
    if holder is None or not holder.level_tells or holder.area is None:
        return None
    return Drum(answer.gauge_target, holder.area)


def _sections(sheet: VesselSheet) -> tuple[tuple[str, float], ...]:
    """What valves part the rig into, the gauge's first, each with its share; alike where it is not known."""
    if sheet.circuit is None:
        return ()
    circuit = sheet.circuit
    names = sorted(circuit.names, key=lambda name: name != circuit.gauged)
    shares = [circuit.share_of([name]) for name in names]
    return tuple((name, 1 / len(names) if share is None else share) for name, share in zip(names, shares, strict=True))


EVAPORATES = 2.2e6
"""What a kilogramme of steam takes from the fire, J, about."""
BURNER_PER_VOLUME = 5e5
"""A burner where none is known, W/m³: it brings a small boiler up in a quarter of an hour."""


def boiler_from(sheet: VesselSheet, answer: DeriveAnswer, situation: Situation) -> Boiler:
    """The simulated boiler of a plan for its first steam, with what is wrong with it.

    Raises SheetError where its volume or its valve's set is not known.
    """
    if answer.volume is None or answer.relief_set is None:
        raise SheetError("the simulated boiler needs its volume, and what its relief valve is set to", "volume")
    wrong, lifts_at = situation.steam, answer.relief_set
    power = sheet.burner or BURNER_PER_VOLUME * answer.volume
    rate = power / EVAPORATES
    band = 0.05 * lifts_at
    step = (sheet.gauge.readable if sheet.gauge else None) or answer.test_pressure / 200
    lifts_at *= 1.2 if wrong == "valve-late" else 1.0
    feed = 4 * rate
    return Boiler(
        volume=answer.volume,
        metal=metal_heat(sheet) or 0.0,
        power=power,
        gauge=Dial(step, step / 5),
        valve=Lifting(lifts_at, 0.95 * lifts_at, rate / (0.6 * band) / (8 if wrong == "valve-small" else 1)),
        loss=0.1 * power / 120,
        start=sheet.water_temperature or ROOM,
        room=sheet.water_temperature or ROOM,
        feed=sheet.water_temperature or ROOM,
        feeds=(feed, 0.0 if wrong == "feed-dead" else feed),
        probe=Probe(sheet.thermometer.resolution) if sheet.thermometer else None,
        scale={"gauge-low": 0.8, "gauge-high": 1.25}.get(wrong, 1.0),
        sticks_at=0.3 * answer.relief_set if wrong == "gauge-stuck" else None,
        clear=wrong != "glass-shut",
        leak=answer.volume * 150 / 600 if wrong == "loses-water" else 0.0,
        outlet=rate / answer.relief_set,
        seed=situation.seed,
    )


def _hunted(answer: DeriveAnswer) -> list[Leak]:
    """Four leaks of an evening: one that a turn cures, one that comes with the pressure, one that too much tightening
    spoils, and one of the vessel's own fittings.
    """
    at, ml_h = answer.test_pressure, 1e-6 / 3600
    return [
        Leak(240 * ml_h, at, "rig", "the hose tail", eased=0.0),
        Leak(90 * ml_h, at, "rig", "the gauge union", power=2.0, eased=0.2),
        Leak(60 * ml_h, at, "rig", "the blank's washer", eased=0.4, spoilt_by=2),
        Leak(40 * ml_h, at, "fitting", "the drain bush", opens_at=0.5 * at, eased=0.1),
    ]


def _turned(answer: DeriveAnswer) -> list[Leak]:
    """A joint that empties itself in some forty seconds finger-tight, is dry from three eighths of a turn on, and leaks
    more again beyond a turn and a quarter.
    """
    rate = max(4 * SEEN, (answer.compliance or 0.0) * answer.test_pressure / 40)
    eased = min(0.6, (1.5 * SEEN / rate) ** 0.5)  # a quarter of a turn leaves half as much again as can be seen
    return [Leak(rate, answer.test_pressure, "fitting", "the joint", eased=eased, spoilt_by=10)]


UP_IN = 250
"""A pot is brought up to a relief valve's set in so many strokes: a compressor behind a regulator, opened by a hair."""


USUAL_MOST = 6e6
"""A hand pump of which nothing is said makes so much, Pa, or twice what it is to reach."""


def _source(sheet: VesselSheet, situation: Situation, aim: float, content: AirContent | Content) -> Source:
    stroke = (sheet.pump.stroke if sheet.pump else None) or 12e-6
    if isinstance(content, AirContent) and sheet.relief_pot is not None:
        stroke = content.pumped(aim) / UP_IN
    if situation.washer is not None:
        return Source(max(stroke, 10e-6), situation.washer, "washer", per_second=4.0)
    most = (sheet.pump.maximum if sheet.pump else None) or max(USUAL_MOST, 2 * aim)
    return Source(stroke, most, scatter=0.01)


@dataclass(frozen=True)
class Sight:
    """What somebody sees who looks at the rig: which leak, whose, where, and how it shows; drops a minute."""

    number: int
    owner: str
    where: str
    how: str
    drops: float


def look(rig: simulated.Rig, state: simulated.RigState) -> list[Sight]:
    """The leaks that can be seen now, in the words for how a leak shows."""
    found = []
    for number, (leak, flow) in enumerate(zip(rig.leaks, parted.flows(rig, state), strict=True)):
        if flow >= SEEN:
            found.append(Sight(number, leak.owner, leak.where, shows_as(flow), flow * DROPS * 60))
    return found


def shows_as(flow: float) -> str:
    """How a leak of so many m³/s shows on dry metal: damp, weep, drip or stream."""
    drops = flow * DROPS * 60
    return next(
        word for most, word in ((1, "damp"), (5, "weep"), (300, "drip"), (float("inf"), "stream")) if drops < most
    )
