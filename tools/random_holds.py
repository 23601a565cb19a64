"""Random holds on the simulated rig, with what was really leaking: for the study of the judge, wider than any one
workshop.
"""

import math
import sys
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

sys.path.insert(0, str(Path(__file__).parents[1]))

from toadbell.core.bench import rig as simulated
from toadbell.core.bench.rig_parts import Dial, Leak, Probe, Room, Settling, Source
from toadbell.core.judge.log import Log
from toadbell.core.sheets import HoldSheet, read_hold_sheet
from toadbell.core.vessel.content import content_of

HOUR, MINUTE, ZERO = 3600.0, 60.0, 273.15
FACTORS = (0.0, 0.0, 0.2, 0.5, 0.8, 1.25, 2.0, 5.0, 20.0)
LENGTHS = (15, 30, 60, 120, 240, 480)
MATERIALS = ("carbon-steel", "stainless-304", "aluminium-6061", "copper")
INSTRUMENTS = ("dial", "dial+T", "logger", "logger+T")
WATER = 4.18e6
"""Heat that a cubic metre of water takes up, J/K."""


@dataclass(frozen=True)
class Truth:
    """What was really so: leak at the start, its mean over the hold, and limit, m³/s; the kit; how long, min; leak over
    limit.

    limit_part  the limit as a part of what was pumped in, an hour
    """

    leak: float
    mean_leak: float
    limit: float
    instrument: str
    minutes: int
    factor: float
    limit_part: float


@dataclass(frozen=True)
class RandomHold:
    """A log, its sheet, and the truth of it; `at` gives the log of only the first so many seconds."""

    log: Log
    sheet: HoldSheet
    truth: Truth
    rig: simulated.Rig

    def until(self, time: float) -> Log:
        """The log as it stood at a time, s."""
        n = int(np.searchsorted(self.log.time, time, side="right"))
        warm = self.log.water_temperature
        return Log(self.log.time[:n], self.log.pressure[:n], None if warm is None else warm[:n])


def random_hold(seed: int, longest: int = LENGTHS[-1], *, low: bool = False) -> RandomHold:
    """A hold drawn by its number, cut off after so many minutes; with a low hold before it and after, if so asked."""
    rng = np.random.default_rng([seed, 41])
    instrument, minutes = str(rng.choice(INSTRUMENTS)), min(longest, int(rng.choice(LENGTHS)))
    vessel = _vessel(rng)
    pressure = float(np.exp(rng.uniform(math.log(3e5), math.log(4e6))))
    dial, every = _gauge(rng, instrument, pressure, minutes)
    probe = _probe(rng) if instrument.endswith("+T") else None
    factor = float(rng.choice(FACTORS))
    water = ZERO + float(rng.uniform(7, 28))
    shell = read_hold_sheet({**vessel["sheet"], "acceptance": {"no_visible_drop": True}}).shell
    content = content_of(vessel["volume_m3"], shell, vessel["air_m3"], water)
    inside = content.compliance(pressure) * pressure
    limit = inside * float(np.exp(rng.uniform(math.log(0.003), math.log(0.1)))) / HOUR
    leak = Leak(limit * factor, pressure, power=float(rng.choice([0.5, 1.0])))
    rig = simulated.rig_for(
        content,
        pressure,
        source=Source(12e-6, 1e7),
        gauge=dial,
        water=water,
        room=_room(rng, water),
        lag=_lag(rng, vessel),
        leaks=(leak,) if factor else (),
        probe=probe,
        settling=_settling(rng, inside),
        seed=seed,
    )
    before = float(rng.uniform(300, 2400))
    holds: list[dict[str, str]] = []
    if low:
        log, leaked, holds = _run(rig, pressure, minutes * MINUTE, every, before, rng)
    else:
        log, leaked = _log(rig, pressure, minutes * MINUTE, every, before)
    gauge = {"range": f"{2 * pressure / 1e5:.6g} bar", "resolution": f"{dial.resolution:.8g} Pa"}
    sheet = {
        **vessel["sheet"],
        "water_temperature": f"{water - ZERO:.1f} degC",
        "gauge": gauge,
        "acceptance": {"max_leak": f"{limit * 3.6e9:.9g} mL/h"},
    }
    if holds:
        sheet["holds"] = holds
    if probe:
        sheet["thermometer"] = {"resolution": f"{probe.resolution:g} delta_degC"}
    return RandomHold(
        log,
        read_hold_sheet(sheet),
        Truth(
            leak.rate, leaked / max(_held(log, holds), 1.0), limit, instrument, minutes, factor, limit * HOUR / inside
        ),
        rig,
    )


def _held(log: Log, holds: list[dict[str, str]]) -> float:
    """How long the test hold was, s."""
    if not holds:
        return float(log.time[-1])
    test = next(one for one in holds if one["role"] == "test")
    return float(test["to"].split()[0]) - float(test["from"].split()[0])


def _vessel(rng: np.random.Generator) -> dict:
    volume = float(np.exp(rng.uniform(math.log(1e-3), math.log(0.3))))
    slender = float(rng.uniform(1.2, 6))
    inside = (4 * volume / math.pi / slender) ** (1 / 3)
    wall = inside * float(np.exp(rng.uniform(math.log(0.006), math.log(0.03))))
    air = 0.0 if rng.random() < 0.5 else volume * float(np.exp(rng.uniform(math.log(3e-5), math.log(2e-3))))
    sheet = {
        "medium": "water",
        "volume": f"{volume * 1000:.6g} L",
        "shell": {
            "inside_diameter": f"{inside * 1000:.5g} mm",
            "wall": f"{wall * 1000:.4g} mm",
            "material": str(rng.choice(MATERIALS)),
        },
        "trapped_air": f"{air * 1000:.6g} L",
    }
    return {"volume_m3": volume, "inside": inside, "air_m3": air, "sheet": sheet}


def _gauge(rng: np.random.Generator, instrument: str, pressure: float, minutes: int) -> tuple[Dial, float]:
    """Gauge, and how often it is read, s."""
    if instrument.startswith("logger"):
        step = float(rng.choice([200.0, 1000.0, 5000.0]))
        return Dial(step, step * float(rng.choice([0.1, 0.6, 1.5]))), float(rng.choice([10, 30, 60]))
    step = pressure * float(np.exp(rng.uniform(math.log(0.003), math.log(0.02))))
    return Dial(step, step * float(rng.uniform(0.05, 0.6))), max(
        1.0, round(minutes * MINUTE / int(rng.integers(5, 16)))
    )


def _probe(rng: np.random.Generator) -> Probe:
    return Probe(
        float(rng.choice([0.01, 0.02, 0.1, 0.1, 0.5])),
        float(rng.normal(0, 0.5)),
        float(rng.uniform(0, 0.15)),
        float(rng.choice([0, 60, 300])),
    )


def _room(rng: np.random.Generator, water: float) -> Room:
    """A room nearly as warm as the water, or far from it; still, or with a heater that comes and goes."""
    scale = float(np.exp(rng.uniform(math.log(0.2), math.log(4))))
    return Room(
        water + float(rng.normal(0, scale)),
        float(rng.normal(0, 0.4)) / HOUR,
        float(rng.exponential(0.4)),
        float(rng.uniform(20, 500)) * MINUTE,
    )


def _lag(rng: np.random.Generator, vessel: dict) -> float:
    """A vessel in air that moves little, or beside a fan, or wet: 8 to 60 W/m²K from its surface, s."""
    return float(WATER * vessel["inside"] / 4 / np.exp(rng.uniform(math.log(8), math.log(60))))


def _settling(rng: np.random.Generator, inside: float) -> Settling:
    """In two of three none to speak of, else up to half a hundredth of what was pumped in, over some minutes."""
    if rng.random() < 0.67:
        return Settling()
    return Settling(inside * float(np.exp(rng.uniform(math.log(3e-4), math.log(5e-3)))), float(rng.uniform(60, 400)))


def _log(rig: simulated.Rig, pressure: float, length: float, every: float, before: float) -> tuple[Log, float]:
    """The rig stands, filled, for `before`; then it is brought to the pressure, shut in, and read until it is nearly
    empty.
    """
    state = simulated.close_vent(simulated.advance(rig, simulated.at_start(rig), before))
    inside = simulated.volume_at(rig, pressure, 0.0) - simulated.grown(rig, state)
    state = simulated.set_shut_off(replace(state, net=inside, needle=pressure), True)
    times, pressures, temperatures = np.arange(0, length + 0.5, every), [], []
    for time in times:
        state = simulated.advance(rig, state, before + float(time))
        if simulated.pressure(rig, state) < pressure / 3:
            break
        pressures.append(simulated.read_gauge(rig, state))
        temperatures.append(simulated.read_thermometer(rig, state))
    times = times[: len(pressures)]
    return Log(
        times, np.array(pressures), None if rig.probe is None else np.array(temperatures, dtype=float)
    ), state.leaked


LOW_MINUTES, LOW_PARTS = (10, 12, 15), (0.15, 0.3)


def _run(
    rig: simulated.Rig, pressure: float, length: float, every: float, before: float, rng: np.random.Generator
) -> tuple[Log, float, list[dict[str, str]]]:
    """A low hold, the test hold and a low hold again, with a few minutes between; what leaked in the test hold, and the
    stretches.
    """
    state = simulated.close_vent(simulated.advance(rig, simulated.at_start(rig), before))
    long, low = float(rng.choice(LOW_MINUTES)) * MINUTE, pressure * float(rng.uniform(*LOW_PARTS))
    rows: list[tuple[float, float, float | None]] = []
    holds, leaked, began = [], 0.0, before
    for role, at, lasts in (("low", low, long), ("test", pressure, length), ("low", low, long)):
        inside = simulated.volume_at(rig, at, 0.0) - simulated.grown(rig, state)
        state = replace(simulated.set_shut_off(state, True), net=inside, needle=at, shut_at=state.time)
        lost = state.leaked
        step = min(every, 120.0) if role == "low" else every
        last = 0.0
        for time in np.arange(0, lasts + 0.5, step):
            state = simulated.advance(rig, state, began + float(time))
            if simulated.pressure(rig, state) < at / 3:
                break
            warm = simulated.read_thermometer(rig, state)
            rows.append((state.time - before, simulated.read_gauge(rig, state), warm))
            last = float(time)
        leaked = state.leaked - lost if role == "test" else leaked
        holds.append({"role": role, "from": f"{began - before:g} s", "to": f"{began - before + max(last, 1.0):g} s"})
        began = state.time + float(rng.uniform(120, 400))
        state = simulated.advance(rig, state, began)
    times, pressures, warmths = zip(*rows, strict=True)
    warm = None if rig.probe is None else np.array(warmths, dtype=float)
    return Log(np.array(times), np.array(pressures), warm), leaked, holds
