"""A first steam judged: three witnesses of the pressure, the valve, what full fire comes to, feeds, glass, the look.

Pressures Pa gauge. Sources: handbook of the job, steam; procedures, steam; ASME BPVC I, PG-67 and VIII-1 UG-125
(a valve holds a boiler under full fire within so much of its working pressure; 110 % here).
"""

from typing import Literal

from toadbell.core.answers import Answer
from toadbell.core.judge.checks import Check, between, state_of
from toadbell.core.judge.relief import RESEATS
from toadbell.core.judge.witnesses import (
    Witness,
    Witnesses,
    heard,
    of_gauge,
    of_shut_valve,
    of_thermometer,
    of_valve,
    valve_tolerance,
)
from toadbell.core.lines import Line
from toadbell.core.phrases import Said, Sentence, amount, of_scale, say
from toadbell.core.physics.outer_air import outer_air
from toadbell.core.physics.steam import steam_pressure
from toadbell.core.physics.water import water_density
from toadbell.core.sheets.kit import Gauge
from toadbell.core.sheets.steam import Reading, SteamSheet
from toadbell.core.units import ATMOSPHERE, GRAVITY

OVER = 1.1
"""With full fire and the outlet shut it comes to no more than so much of its working pressure."""
FEEDS = 2
"""Ways of putting water in that work under pressure, at the least."""
LOWEST_GLASS = 0.1
"""Water that came lower in the glass than that was out of sight, or as good as."""
STOPS = ("witnesses", "lifted", "accumulation")
"""What ends a steaming at once where it is not so."""


class SteamAnswer(Answer):
    """What a first steam proves.

    answer     passed; not-passed; stop, where it may not be steamed again before something is put right; cannot-tell
    witnesses  gauge, valve and thermometer as the valve lifted, or at the highest that was read
    lifts_at   at what the valve lifted, by those that are believed, Pa, and how far that may be out: not known where a
               gauge alone says it, or one by which the valve was set, too
    """

    answer: Literal["passed", "not-passed", "stop", "cannot-tell"]
    witnesses: Witnesses
    lifts_at: float | None
    doubt: float | None
    says: Sentence
    settle_it: list[Sentence]
    checks: list[Check]
    lines: list[Line]


def judge_steam(sheet: SteamSheet) -> SteamAnswer:
    """Passed, not passed, stop, or what would tell."""
    with of_scale(sheet.set_pressure or sheet.working_pressure):
        return _judged(sheet)


def _judged(sheet: SteamSheet) -> SteamAnswer:
    witnesses = witnesses_of(sheet)
    lifts = _true(sheet, witnesses, sheet.lift) if sheet.lift is not None and sheet.lifted else None
    believed = lifts is not None and not witnesses.one_hand and witnesses.state != "alone"
    checks = [
        _witnesses(sheet, witnesses),
        _lifted(sheet, witnesses),
        _set(sheet, lifts, believed=believed),
        _reseats(sheet),
        _accumulation(sheet, witnesses),
        _feeds(sheet),
        _glass(sheet),
        _water(sheet),
        _look(sheet),
    ]
    answer = _answer(checks)
    at = None if lifts is None else (lifts[0] + lifts[1]) / 2
    return SteamAnswer(
        answer=answer,
        witnesses=witnesses,
        lifts_at=at,
        doubt=(lifts[1] - lifts[0]) / 2 if lifts is not None and believed else None,
        says=_says(answer, checks, at),
        settle_it=_settle(sheet, checks, witnesses) if answer != "passed" else [],
        checks=checks,
        lines=_lines(sheet, witnesses, lifts),
    )


def witnesses_of(sheet: SteamSheet) -> Witnesses:
    """Gauge, valve and thermometer as the valve lifted, or at the highest reading that has both; but where two of them
    contradicted each other at any reading before, that is not forgotten.
    """
    both = [one for one in sheet.readings if _has_two(one)] or sheet.readings
    at = sheet.lift or max(both, key=lambda one: one.pressure, default=None)
    seen = [] if at is None else _read(sheet, at)
    if sheet.set_pressure is not None and at is not None:
        lifted = sheet.lift is not None and sheet.lifted
        if lifted:
            seen.append(of_valve(sheet.set_pressure, sheet.tolerance))
        elif sheet.lift is not None or any(one.low > sheet.set_pressure for one in seen):
            seen.append(of_shut_valve(sheet.set_pressure, sheet.tolerance))
    told = _heard(sheet, seen)
    if told.state == "disagree" or told.liar in ("gauge", "valve"):
        return told
    return _contradicted(sheet) or told


def _heard(sheet: SteamSheet, seen: list[Witness]) -> Witnesses:
    return heard(seen, certain=sheet.gauge.accuracy_class is not None, one_hand=sheet.set_by != "another gauge")


def _has_two(at: Reading) -> bool:
    return at.temperature is not None or at.second is not None


PERSISTS = 2
"""A thermometer that says less at one reading lags; at so many it contradicts."""


def _contradicted(sheet: SteamSheet) -> Witnesses | None:
    """Who contradicted each other at a reading; None where nobody did. That the gauge showed less than another counts
    the first time, that it showed more from the second on: a thermometer lags behind a quick fire.
    """
    more: list[Witnesses] = []
    for at in [*sheet.readings, *_full(sheet)]:
        seen = _read(sheet, at)
        told = _heard(sheet, seen)
        if told.state != "disagree":
            continue
        gauge, others = seen[0], seen[1:]
        if any(one.low > gauge.high for one in others):
            return told
        more.append(told)
    return more[-1] if len(more) >= PERSISTS or (more and sheet.lift is None) else None


def _full(sheet: SteamSheet) -> list[Reading]:
    """What full fire came to, as a reading."""
    full = sheet.accumulation
    if full is None:
        return []
    return [Reading.model_construct(pressure=full.highest, temperature=full.temperature, second=None, time=None)]


def _read(sheet: SteamSheet, at: Reading) -> list[Witness]:
    """Gauges and thermometer at a reading; the water that stands in the gauge's pipe is added to what it shows."""
    seen = [of_gauge(sheet.gauge, at.pressure + column(sheet.gauge_height))]
    if at.second is not None:
        second = sheet.second_gauge or sheet.gauge.model_copy(update={"accuracy_class": None})
        seen.append(of_gauge(second, at.second, "second"))
    if at.temperature is not None:
        outer = outer_air(sheet.outer_air, sheet.altitude)
        seen.append(of_thermometer(sheet.thermometer, at.temperature, sheet.sits, outer))
    return seen


def column(height: float) -> float:
    """What the water in the pipe to a gauge so far above (m) takes from what it shows, Pa."""
    return water_density(293.15) * GRAVITY * height


def _true(sheet: SteamSheet, told: Witnesses, at: Reading | None) -> tuple[float, float] | None:
    """Between what the steam was, by gauge and thermometer so far as they are believed; None where nobody is."""
    if at is None or told.state == "disagree":
        return None
    seen = [one for one in _read(sheet, at) if one.who != told.liar]
    low, high = max((one.low for one in seen), default=None), min((one.high for one in seen), default=None)
    return None if low is None or high is None or low > high else (low, high)


def _check(code: str, met: bool | None, says: Said | Sentence) -> Check:
    return Check(code=code, name=say(f"steam.check-{code}"), state=state_of(met), says=says)


def _witnesses(sheet: SteamSheet, told: Witnesses) -> Check:
    """They agree, or the one that does not is a thermometer that says less; two that disagree alone are none, and
    neither are two that one hand set: a third has to keep the pressure under what full fire may come to by itself.
    """
    lift = sheet.lift
    if told.state == "agree" and sheet.thermometer is not None and lift is not None and lift.temperature is None:
        return _check("witnesses", None, say("steam.unread"))
    if told.state == "agree" and told.certain and sheet.set_by != "another gauge":
        thirds = [one for one in told.seen if one.who in ("thermometer", "second")]
        best = min(thirds, key=lambda one: one.high, default=None)
        if best is not None and best.high > OVER * sheet.working_pressure:
            says = say("steam.third-wide", says=best.says, most=OVER * sheet.working_pressure)
            return _check("witnesses", None, says)
    agree = True if told.certain and not told.one_hand else None
    met = {"agree": agree, "one-lies": told.liar in ("thermometer", "second"), "disagree": False}
    return _check("witnesses", met.get(told.state), told.says)


def _lifted(sheet: SteamSheet, told: Witnesses) -> Check:
    if sheet.set_pressure is None:
        return _check("lifted", None, say("steam.set-unknown"))
    if sheet.lift is None:
        return _check("lifted", None, say("steam.no-lift"))
    if sheet.lifted:
        return _check("lifted", True, say("steam.did-lift"))
    most = sheet.set_pressure + valve_tolerance(sheet.set_pressure, sheet.tolerance)
    true = _true(sheet, told, sheet.lift)
    late = true is not None and true[0] > most
    says = say("steam.late" if late else "steam.not-yet", pressure=sheet.lift.pressure, most=most)
    return _check("lifted", False if late else None, says)


def _set(sheet: SteamSheet, lifts: tuple[float, float] | None, *, believed: bool) -> Check:
    """Within its tolerance by the middle of what is believed, and not so far out that the band speaks against it; what
    a gauge alone says, or one that set the valve, can only speak against it.
    """
    if sheet.set_pressure is None:
        return _check("set", None, say("steam.set-unknown"))
    if lifts is None:
        return _check("set", None, say("steam.no-true-lift" if sheet.lift and sheet.lifted else "steam.no-lift"))
    tolerance = valve_tolerance(sheet.set_pressure, sheet.tolerance)
    least, most = sheet.set_pressure - tolerance, sheet.set_pressure + tolerance
    middle = (lifts[0] + lifts[1]) / 2
    met = False if lifts[1] < least or lifts[0] > most else True if least <= middle <= most else None
    if lifts[1] > OVER * sheet.working_pressure and met:
        met = None  # it may have come over what the boiler may see
    if not believed and met is not False:
        return _check("set", None, say("steam.set-unbelieved", middle=middle))
    says = say("steam.set-says", middle=middle, doubt=(lifts[1] - lifts[0]) / 2, least=least, most=most)
    return _check("set", met, says)


def _reseats(sheet: SteamSheet) -> Check:
    """By the same gauge, whose own error is the same both times: its step alone counts."""
    if sheet.lift is None or not sheet.lifted or sheet.reseat is None:
        return _check("reseat", None, say("steam.no-reseat"))
    step = _step(sheet.gauge)
    least = RESEATS * sheet.lift.pressure
    met = between(sheet.reseat - step, sheet.reseat + step, least, float("inf"))
    return _check("reseat", met, say("relief.reseat-says", reseat=sheet.reseat, least=least))


def _step(gauge: Gauge) -> float:
    return gauge.readable or gauge.range / 100


def _accumulation(sheet: SteamSheet, told: Witnesses) -> Check:
    """Full fire, outlet shut: the highest of all that was read, with what it may be out, by those that are believed;
    and that it stood there.
    """
    full, most = sheet.accumulation, OVER * sheet.working_pressure
    each = [*sheet.readings, *([sheet.lift] if sheet.lift is not None else []), *_full(sheet)]
    true = [_true(sheet, told, one) for one in each]
    shown = max((one.pressure for one in each), default=0.0)
    if None in true and shown > most:
        return _check("accumulation", False, say("steam.accumulation-says", highest=shown, most=most))
    known = [one for one in true if one is not None]
    low, high = max((one[0] for one in known), default=0.0), max((one[1] for one in known), default=shown)
    if low > most:
        return _check("accumulation", False, say("steam.accumulation-says", highest=low, most=most))
    if full is None:
        return _check("accumulation", None, say("steam.no-accumulation"))
    if None in true:
        return _check("accumulation", None, say("steam.accumulation-says", highest=shown, most=most))
    met = True if high <= most else None
    if met and not full.steady:
        return _check("accumulation", None, say("steam.not-steady", highest=full.highest))
    return _check("accumulation", met, say("steam.accumulation-says", highest=high, most=most))


def _feeds(sheet: SteamSheet) -> Check:
    """Two that work at pressure; one that is slow may not keep up with the fire."""
    if not sheet.feeds:
        return _check("feeds", None, say("steam.no-feeds"))
    works = [one.name for one in sheet.feeds if one.works == "works"]
    bad = [one.name for one in sheet.feeds if one.works == "no"]
    slow = [one.name for one in sheet.feeds if one.works == "slow"]
    if len(works) >= FEEDS:
        return _check("feeds", True, say("steam.feeds-work", names=works))
    if bad and len(works) + len(slow) < FEEDS:
        return _check("feeds", False, say("steam.feeds-bad", names=bad))
    return _check("feeds", None, say("steam.feeds-slow", names=slow) if slow else say("steam.feeds-one", names=works))


def _glass(sheet: SteamSheet) -> Check:
    """Blown down, the water comes back at once: both its ways are open."""
    if sheet.blown_down is None:
        return _check("glass", None, say("steam.glass-unknown"))
    return _check("glass", sheet.blown_down == "comes back", say(f"steam.glass-{sheet.blown_down.replace(' ', '-')}"))


def _water(sheet: SteamSheet) -> Check:
    """The water was never out of sight."""
    if sheet.lowest_glass is None:
        return _check("water", None, say("steam.water-unknown"))
    low = sheet.lowest_glass < LOWEST_GLASS
    return _check("water", not low, say("steam.water-low" if low else "steam.water-seen", part=sheet.lowest_glass))


def _look(sheet: SteamSheet) -> Check:
    if sheet.look is None:
        return _check("look", None, say("steam.look-unknown"))
    return _check("look", sheet.look == "dry", say(f"steam.look-{sheet.look}"))


def _answer(checks: list[Check]) -> Literal["passed", "not-passed", "stop", "cannot-tell"]:
    bad = [one.code for one in checks if one.state == "not met"]
    if set(bad) & set(STOPS):
        return "stop"
    if bad:
        return "not-passed"
    return "cannot-tell" if any(one.state == "not known" for one in checks) else "passed"


def _says(answer: str, checks: list[Check], lifts: float | None) -> Said:
    against = [say("relief.but", name=one.name, says=_unstopped(one)) for one in checks if one.state == "not met"]
    if answer == "passed":
        return say("steam.passed", lifts=lifts)
    if answer in ("stop", "not-passed"):
        return say(f"steam.{answer}", why=against)
    open_ = [one.name for one in checks if one.state == "not known"]
    return say("steam.cannot-tell", names=open_)


def _unstopped(one: Check) -> str:
    return say("steam.unstopped", says=one.says)


def _thermal(told: Witnesses) -> bool:
    return any(one.who == "thermometer" for one in told.seen)


def _settle(sheet: SteamSheet, checks: list[Check], told: Witnesses) -> list[Sentence]:
    """What would tell what is open, in the order in which it is done."""
    found: list[Sentence] = list(told.settle_it)
    if _thermal(told) and not outer_air(sheet.outer_air, sheet.altitude).known:
        found.append(say("steam.outer-unsaid"))
    found += [say(f"steam.settle-{one.code}") for one in checks if one.state == "not known" and one.code != "witnesses"]
    open_ = {one.code for one in checks if one.state == "not known"}
    if "witnesses" in open_ and told.certain and told.state == "agree" and sheet.set_by != "another gauge":
        found += [
            say("steam.settle-set-by"),
            *([say("steam.settle-sits")] if _thermal(told) and not sheet.sits else []),
        ]
    if told.state in ("agree", "one-lies") and not told.certain:
        found.append(say("relief.settle-class"))
    return found


def _lines(sheet: SteamSheet, told: Witnesses, lifts: tuple[float, float] | None) -> list[Line]:
    lines = []
    at = sheet.lift or next((one for one in reversed(sheet.readings) if one.temperature is not None), None)
    if at is not None and at.temperature is not None:
        says = amount(at.temperature, "temperature", figures=4)
        outer = outer_air(sheet.outer_air, sheet.altitude)
        boils = steam_pressure(at.temperature) + ATMOSPHERE - outer.pressure
        lines.append(_line("saturation", "P_sat", "P_sat(T) − P_outer", says, boils, "IAPWS-95"))
        shown = say("steam.band", low=outer.low, high=outer.high)
        source = (
            "a barometer" if sheet.outer_air is not None else "ISO 2533" if outer.known else "0 to 1500 m, ISO 2533"
        )
        lines.append(_line("outer_air", "P_outer", source, shown, outer.pressure, "physics, steam"))
    if sheet.set_pressure is not None:
        tolerance = valve_tolerance(sheet.set_pressure, sheet.tolerance)
        source = "the valve's maker" if sheet.tolerance is not None else "handbook, steam; ASME BPVC VIII-1, UG-134"
        formula = "5 % of the set, at least 0.14 bar"
        lines.append(_line("tolerance", "ΔP", formula, amount(tolerance, "pressure"), tolerance, source))
    for one in told.seen:
        band = say("steam.band", low=max(0.0, one.low), high=one.high)
        source = {"gauge": "class × range + step", "valve": "its set, and its tolerance"}.get(one.who, "IAPWS-95")
        lines.append(_line(one.who, f"P_{one.who[0]}", source, band, one.pressure, "procedures, steam"))
    if lifts is not None:
        middle = (lifts[0] + lifts[1]) / 2
        band = say("steam.band", low=max(0.0, lifts[0]), high=lifts[1])
        lines.append(_line("lift", "P_l", "what those that are believed have in common", band, middle, "this trial"))
    return lines


def _line(figure: str, symbol: str, formula: str, numbers: str, value: float, source: str) -> Line:
    return Line(
        figure=figure,
        symbol=symbol,
        formula=formula,
        numbers=numbers,
        value=value,
        unit="Pa",
        shown=amount(value, "pressure"),
        source=source,
    )
