"""Random trials of the kinds beside the plain hold, each with what was really so: steam, relief by a logger, expansion,
air in vessels whose sides give, gas heads, fed digesters, sections with valves that pass, designs at their limit.

Nothing here is reckoned as the judges reckon it: boiling by Antoine's equation, gas step by step with its vapour, a
shell as two stressed strips, valves that let a part through. Pressures Pa, temperatures K, volumes m³, times s.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from toadbell.core.hunt.differences import SectionHold, leak_of_each
from toadbell.core.judge.burst import judge_burst
from toadbell.core.judge.expansion import judge_expansion
from toadbell.core.judge.hold import Asked, judge
from toadbell.core.judge.lifts import lifts_in
from toadbell.core.judge.log import Log
from toadbell.core.judge.relief import judge_relief
from toadbell.core.judge.steam import judge_steam
from toadbell.core.physics.water import water_density
from toadbell.core.sheets import (
    read_burst_sheet,
    read_expansion_sheet,
    read_hold_sheet,
    read_relief_sheet,
    read_steam_sheet,
)

ATM = 101_325.0
Rng = np.random.Generator


@dataclass(frozen=True)
class Tried:
    """What came of one: really bad, or not; called good, bad, or neither; does its band hold the truth (None: no
    band).
    """

    bad: bool
    good_said: bool
    bad_said: bool
    covered: bool | None = None


def boils(absolute: float) -> float:
    """Boiling by Antoine's equation, 99 to 374 °C, within 0.2 K there; mmHg and °C."""
    mmhg = absolute / 133.322
    if mmhg < 760:
        return 1730.63 / (8.07131 - math.log10(mmhg)) - 233.426 + 273.15
    return 1810.94 / (8.14019 - math.log10(mmhg)) - 244.485 + 273.15


def outer(altitude: float, rng: Rng) -> float:
    """The air at a height by the barometric formula of an even temperature, and its weather."""
    return ATM * math.exp(-altitude / 8434.0) + float(rng.normal(0, 800))


def steam(seed: int) -> Tried:
    """A boiler's first steam: half of the gauges lie, half of the valves were set by the gauge that is read."""
    rng = np.random.default_rng([1, seed])
    working, altitude = float(rng.uniform(1.5, 8)) * 1e5, float(rng.uniform(0, 2500))
    lies = float(rng.uniform(0.75, 0.92)) if rng.random() < 0.5 else 1 + 0.005 * float(rng.normal())
    by_this = bool(rng.random() < 0.5)
    air = outer(altitude, rng)
    lift = working / (lies if by_this else 1.0) * (1 + 0.015 * float(rng.normal()))
    full = lift * float(rng.uniform(1.0, 1.04))
    thermometer, second = rng.random() < 0.7, rng.random() < 0.2
    span, step = 1.6 * working, working / 100

    def read(true: float) -> dict[str, str]:
        at = {"pressure": f"{max(step, round((lies * true + 0.003 * span * rng.normal()) / step) * step):.0f} Pa"}
        if thermometer:
            at["temperature"] = f"{round(boils(true + air) - 273.15 + float(rng.uniform(-0.5, 0.5)))} degC"
        if second:
            at["second"] = f"{max(step, round((true + 0.003 * span * rng.normal()) / step) * step):.0f} Pa"
        return at

    highest = read(full)
    sheet = {
        "procedure": "steam",
        "working_pressure": f"{working} Pa",
        "set_pressure": f"{working} Pa",
        "gauge": {"range": f"{span} Pa", "resolution": f"{step} Pa", "class": 1.0},
        "second_gauge": {"range": f"{span} Pa", "resolution": f"{step} Pa", "class": 1.0} if second else None,
        "thermometer": {"resolution": "1 delta_degC"} if thermometer else None,
        "sits": "steam" if rng.random() < 0.7 else None,
        "set_by": ("this gauge" if by_this else "another gauge") if rng.random() < 0.7 else None,
        "altitude": f"{altitude} m" if altitude > 1500 or rng.random() < 0.5 else None,
        "readings": [read(part * lift) for part in (0.3, 0.6, 0.85)],
        "lift": read(lift),
        "reseat": f"{0.94 * lies * lift:.0f} Pa",
        "feeds": [{"name": "a", "works": "works"}, {"name": "b", "works": "works"}],
        "lowest_glass": 0.4,
        "blown_down": "comes back",
        "accumulation": {"highest": highest["pressure"], "temperature": highest.get("temperature"), "steady": True},
        "look": "dry",
    }
    found = judge_steam(read_steam_sheet({key: value for key, value in sheet.items() if value is not None}))
    known = found.lifts_at is not None and found.doubt is not None
    true_lift = abs((found.lifts_at or 0.0) - lift) <= (found.doubt or 0.0) + 1.0 if known else None
    bad = full > 1.1 * working
    fine = not bad and abs(lies - 1) < 0.02
    return Tried(bad, found.answer == "passed", found.answer in ("stop", "not-passed") and fine, true_lift)


def relief(seed: int) -> Tried:
    """A valve lifted thrice before a logger, which is let down between rounds and reads a spike now and then."""
    rng = np.random.default_rng([2, seed])
    set_at = float(rng.uniform(1, 10)) * 1e5
    tolerance = 0.14e5 if set_at <= 4.8e5 else 0.03 * set_at
    middle = set_at + tolerance * float(rng.normal(0, 1.2))
    scatter = abs(float(rng.normal(0, 0.012)))
    sticks = rng.random() < 0.15
    lies = 1 + 0.0025 * float(rng.normal()) * 1.6 / 2
    step, every = 0.0005 * set_at, 0.2
    times: list[float] = []
    read: list[float] = []
    lifts, stuck, now = [], 0.0, 0.0

    def note(level: float) -> None:
        nonlocal now
        spike = 8 * step if rng.random() < 0.001 else 0.0
        times.append(now)
        read.append(round((level * lies + 0.3 * step * rng.normal() + spike) / step) * step)
        now += every

    rounds = []
    for number in range(3):
        at = middle * (1 + scatter * float(rng.normal()))
        top = at
        if sticks and number == 0:
            top = set_at + 2.5 * tolerance
            stuck = top
        level = 0.85 * at
        while level < top:
            note(level)
            level += 0.004 * set_at * every
        if sticks and number == 0:
            rounds.append({"highest": f"{max(read[-5:]):.0f} Pa"})
        else:
            lifts.append(at)
            for part in (0.97, 0.95, 0.945, 0.94, *([0.94] * 15)):
                note(part * at)
            level = 0.94 * at
        for part in np.linspace(1.0, 0.05, 12):
            note(part * level)
    rounds += [
        {"lift": f"{one.lift:.0f} Pa", "reseat": f"{one.reseat:.0f} Pa"}
        for one in lifts_in(times, read, step)
        if one.reseat is not None
    ]
    sheet = {
        "procedure": "relief",
        "set_pressure": f"{set_at} Pa",
        "rating": f"{1.5 * set_at} Pa",
        "used_at": f"{0.8 * set_at} Pa",
        "gauge": {"range": f"{1.6 * set_at} Pa", "class": 0.25, "resolution": f"{step} Pa"},
        "rounds": rounds,
        "by_hand": "free",
        "after": "dry",
    }
    found = judge_relief(read_relief_sheet(sheet))
    apart = max(lifts) - min(lifts) > 0.05 * set_at
    late = 0.94 * min(lifts) < 0.9 * set_at  # where it shuts again
    out = any(abs(one - set_at) > tolerance for one in lifts) or bool(stuck) or apart or late
    said_bad = found.answer in ("bad", "reset")
    mean = None
    if found.lifts_at is not None and found.doubt is not None and lifts:
        mean = abs(found.lifts_at - sum(lifts) / len(lifts)) <= found.doubt
    return Tried(out, found.answer == "good", said_bad and not out, mean)


def expansion(seed: int) -> Tried:
    """Water in and water back of a thin cylinder that kept up to a quarter, with air left in."""
    rng = np.random.default_rng([3, seed])
    across, thin = float(rng.uniform(0.1, 0.5)), float(rng.uniform(80, 200))
    wall, long = across / thin, across * float(rng.uniform(1.5, 4))
    volume, pressure = math.pi / 4 * across**2 * long, float(rng.uniform(8, 30)) * 1e5
    real_wall = wall * (1 + 0.02 * float(rng.normal()))
    hoop = pressure * across / (2 * real_wall)
    wider, longer = (hoop - 0.3 * hoop / 2) / 200e9, (hoop / 2 - 0.3 * hoop) / 200e9
    elastic = volume * ((1 + wider) ** 2 * (1 + longer) - 1) * (1 + 0.03 * float(rng.normal()))
    kept = float(rng.uniform(0, 0.25))
    set_ = kept / (1 - kept) * elastic
    warm = float(rng.uniform(281, 313))
    took = volume * (water_density(warm, pressure) / water_density(warm, 0.0) - 1)
    air = float(rng.choice([0.0, 1.0])) * volume * 3e-3 * float(rng.exponential())
    said = float(rng.uniform(0.5, 1.0)) * air if rng.random() < 0.5 else None
    drift = float(rng.normal(0, 0.08))
    beta = 1e-4 * (0.9 + 0.098 * (warm - 281)) - 3.6e-5
    step = 0.002 * (elastic + took)
    into = took + elastic + set_ + air * pressure / (pressure + ATM)
    back = took + elastic + air * pressure / (pressure + ATM) + volume * beta * drift

    def told(value: float) -> str:
        return f"{round(value / step) * step * 1e6:.4f} mL"

    shell = {
        "inside_diameter": f"{across} m",
        "length": f"{long} m",
        "wall": f"{wall} m",
        "wall_measured": bool(rng.random() < 0.7),
        "material": "carbon-steel",
    }
    vessel = {
        "kind": "receiver",
        "working_pressure": f"{pressure / 1.5} Pa",
        "shell": shell,
        "volume": f"{volume * 1000} L",
    }
    vessel |= {"water_temperature": "16 degC", "thermometer": {"resolution": "0.02 delta_degC"}}
    if said is not None:
        vessel["trapped_air"] = f"{said * 1e6:.3f} mL"
    sheet = {
        "procedure": "expansion",
        "vessel": vessel,
        "pressure": f"{pressure} Pa",
        "water": {"into": told(into), "back": told(back), "step": f"{step * 1e6} mL"},
    }
    if rng.random() < 0.8:
        first = round(warm - 273.15, 2)
        after = round(warm - 273.15 + drift, 2)
        sheet["temperatures"] = {"before": f"{first} degC", "at": f"{first} degC", "after": f"{after} degC"}
    found = judge_expansion(read_expansion_sheet(sheet))
    held = None
    if found.ratio is not None and found.ratio.low is not None and found.ratio.high is not None:
        held = found.ratio.low <= kept <= found.ratio.high
    bad = kept > 0.10
    return Tried(bad, found.answer == "met", found.answer == "not met" and not bad and real_wall > 0.97 * wall, held)


def air(seed: int) -> Tried:
    """Air in a vessel whose sides give, closed up dry or wet, gas by gas law step by step."""
    rng = np.random.default_rng([4, seed])
    volume, head = float(rng.uniform(5, 200)) * 1e-3, float(rng.uniform(10, 60)) * 100
    gives = volume * (1e-5 * float(rng.lognormal(-1, 1)) if rng.random() < 0.6 else 0.0)
    limit = float(rng.uniform(0.02, 0.3)) * volume * head / ATM / 3600  # of what was blown in, an hour
    leak = limit * math.exp(float(rng.uniform(-2.5, 1.5)))
    wet = rng.random() < 0.3
    every, length = 60.0, float(rng.choice([1800, 3600, 7200]))
    time = np.arange(0, length + 1, every)
    drift, base = float(rng.normal(0, 0.3)) / 3600, 291.0
    warm = base + drift * time
    rises = (0.5 * 2060.0 if wet else 0.0) * -np.expm1(-time / float(rng.uniform(600, 1200)))
    gas = (ATM + head) * (volume + gives * head) / base
    column = np.empty(len(time))
    for n in range(len(time)):
        low, high = 0.0, 3 * head
        for _ in range(50):
            middle = (low + high) / 2
            fits = (ATM + middle - rises[n]) * (volume + gives * middle) < gas * warm[n]
            low, high = (middle, high) if fits else (low, middle)
        column[n] = low
        gas -= leak * ATM / base * math.sqrt(max(low, 0.0) / head) * every
    step = 10.0
    said = rng.random()
    sheet: dict[str, object] = {
        "medium": "air",
        "volume": f"{volume * 1000} L",
        "test_pressure": f"{head} Pa",
        "gauge": {"range": "200 mbar", "resolution": f"{step} Pa"},
        "thermometer": {"resolution": "0.05 delta_degC"},
        "acceptance": {"max_leak": f"{limit * 3.6e9} mL/h"},
    }
    if said < 0.4 and gives:
        rise = 0.2 * head
        takes = rise * (volume + gives * (ATM + 2 * head)) / ATM
        sheet["syringe"] = {"volume": f"{takes * 1e6 * (1 + 0.02 * float(rng.normal())):.4f} mL", "rise": f"{rise} Pa"}
    elif not gives and said < 0.6:
        sheet["sides"] = "stiff"
    if rng.random() < 0.7 or wet:
        sheet["wet"] = bool(wet)
    log = Log(
        time,
        np.round((column + 0.3 * step * rng.normal(size=len(time))) / step) * step,
        None,
        np.round((warm + 0.01 * rng.normal(size=len(time))) / 0.05) * 0.05,
    )
    found = judge(log, read_hold_sheet(sheet), asked=Asked(quick=True))
    held = found.leak.low <= leak <= found.leak.high  # at the pressure it was shut in at
    bad = leak > limit
    return Tried(bad, found.verdict == "tight", found.verdict == "leaking" and not bad, held)


def gas_head(seed: int, *, fed: bool = False, hours: float = 24.0, altitude: float | None = None) -> Tried:
    """A digester's gas over a night and a day at 0 to 2500 m; fed, it makes gas and stands level while it leaks."""
    rng = np.random.default_rng([6 if fed else 5, seed])
    height = float(rng.uniform(0, 2500)) if altitude is None else altitude
    volume, head, every = float(rng.uniform(100, 1500)) * 1e-3, float(rng.uniform(20, 45)) * 100, 120.0
    time = np.arange(0, hours * 3600 + 1, every)
    swing, phase = abs(float(rng.normal(0, 4))), float(rng.uniform(0, 2 * math.pi))
    warm = 288 + swing * np.sin(2 * math.pi * time / 86_400 + phase)
    usual = ATM * math.exp(-height / 8434.0)
    going = np.zeros(len(time))
    for n in range(1, len(time)):
        going[n] = going[n - 1] * (1 - every / 36_000) + math.sqrt(2 * every / 36_000) * 60 / 3600 * float(rng.normal())
    weather = usual + float(rng.normal(0, 600)) + np.cumsum(going) * every
    damp = 611.2 * np.exp(17.62 * (warm - 273.15) / (243.12 + warm - 273.15))
    limit = 0.02 * volume / 86_400 * float(rng.uniform(0.5, 2))
    loss = limit * (math.exp(float(rng.uniform(-2, 2))) if rng.random() < 0.75 else 0.0)
    makes = loss * float(rng.uniform(0.7, 1.3)) if fed else 0.0
    gas = (weather[0] + head - damp[0]) * volume / warm[0]
    column = np.empty(len(time))
    for n in range(len(time)):
        column[n] = gas * warm[n] / volume + damp[n] - weather[n]
        gas -= (loss * column[n] / head - makes) * ATM / 288 * every
    read = slice(None, None, 15)
    barometer = rng.random() < 0.7
    sheet: dict[str, object] = {
        "medium": "air",
        "volume": f"{volume * 1000} L",
        "test_pressure": f"{head} Pa",
        "gauge": {"range": "200 mbar", "resolution": "10 Pa"},
        "thermometer": {"resolution": "0.1 delta_degC"},
        "holder": {"by": "container", **({} if fed and rng.random() < 0.5 else {"fed": fed})},
        "acceptance": {"max_leak": f"{limit * 86_400 * 1000} L/day"},
    }
    if not barometer and rng.random() < 0.5:
        sheet["altitude"] = f"{height} m"
    log = Log(
        time[read],
        np.round((column[read] + 3 * rng.normal(size=len(time[read]))) / 10) * 10,
        np.round((288 + (warm[read] - 288) * float(rng.normal(1, 0.04))) * 10) / 10,
        None,
        np.round(weather[read] / 100) * 100 if barometer else None,
    )
    found = judge(log, read_hold_sheet(sheet), asked=Asked(quick=True))
    held = None if fed else found.leak.low <= loss <= found.leak.high
    bad = loss > limit
    return Tried(bad, found.verdict == "tight", found.verdict == "leaking" and not bad and not fed, held)


def sections(seed: int) -> list[Tried]:
    """A loop parted by valves of which one in four lets a part through, held whole and with one more section off."""
    rng = np.random.default_rng([7, seed])
    names = [f"s{n}" for n in range(int(rng.integers(3, 6)))]
    truth = {name: 0.0 if rng.random() < 0.6 else float(rng.exponential(20)) for name in names}
    doubt = float(rng.uniform(0.5, 3))
    passes = {name: float(rng.uniform(0.1, 1.0)) if rng.random() < 0.25 else 0.0 for name in names}
    holds = []
    for count in range(len(names), 0, -1):
        kept = names[:count]
        through = passes[names[count]] if count < len(names) else 0.0
        leak = sum(truth[one] for one in kept) + through * sum(truth[one] for one in names[count:])
        read = leak + doubt * float(rng.normal())
        holds.append(SectionHold(tuple(kept), read, read - 1.96 * doubt, read + 1.96 * doubt))
    limit = 3 * doubt
    found = []
    for one in leak_of_each(holds):
        bad = truth[one.section] > limit
        tight, accused = one.high <= limit and one.told, one.low > 0.0 and one.told
        covered = one.low - 1e-9 <= truth[one.section] <= one.high + 1e-9
        found.append(Tried(bad, tight, accused and truth[one.section] == 0.0, covered))
    return found


def design(seed: int) -> Tried:
    """Articles of a design whose tenth of a hundred bears exactly what is asked, or a hair less."""
    rng = np.random.default_rng([8, seed])
    scatter, count = float(rng.uniform(0.02, 0.06)), int(rng.integers(3, 8))
    asked, wanted = 2.0, 50e5
    mean = asked * wanted * 0.999 / (1 - 1.2816 * scatter)
    failed = mean * (1 + scatter * rng.normal(size=count))
    articles = [
        {"name": f"{n}", "highest": f"{at} Pa", "failed": f"{at} Pa", "mode": "hoop split"}
        for n, at in enumerate(failed)
    ]
    sheet = {"procedure": "burst", "wanted": f"{wanted} Pa", "material": "aluminium-6061", "articles": articles}
    found = judge_burst(read_burst_sheet(sheet))
    return Tried(True, found.answer == "met", False, None)


KINDS: dict[str, Callable[[int], Tried | list[Tried]]] = {
    "first steam": steam,
    "relief by a logger": relief,
    "expansion with air": expansion,
    "air, sides that give, vapour": air,
    "gas head, 0 to 2500 m": gas_head,
    "gas head, fed": lambda seed: gas_head(seed, fed=True),
    "sections, valves that pass": sections,
    "designs at their limit": design,
}
"""Every kind by its name in the table."""
