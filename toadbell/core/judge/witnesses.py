"""Who is believed of gauge, valve and thermometer: each says a pressure, with how far it may be out.

Under steam the temperature is a pressure too: water boils at one alone. Two that cannot both be right contradict each
other; the one that two others contradict is named, and no other ever is. A gauge and a valve that was set by it are one
witness between them, and a thermometer or a second gauge that says more than the others is never voted down.
Pressures Pa gauge, temperatures K.
Sources: IAPWS-95 (saturation); EN 837-1 (classes of gauges); ASME BPVC VIII-1 UG-134; procedures, steam.
"""

from collections.abc import Sequence
from typing import Literal

from toadbell.core.answers import Answer
from toadbell.core.judge.relief import tolerance_of
from toadbell.core.phrases import Sentence, say
from toadbell.core.physics.outer_air import OuterAir, outer_air
from toadbell.core.physics.steam import saturation, steam_pressure
from toadbell.core.sheets.kit import Gauge, Thermometer
from toadbell.core.units import ATMOSPHERE

Who = Literal["gauge", "valve", "thermometer", "second"]
VALVE_TOLERANCE = 0.05
"""Under steam a valve may lift so far from its set; handbook of the job, steam."""
THERMOMETER_OUT = 1.0
"""A thermometer is taken to be out by so much where nothing better is known of it, K; procedures, steam."""
ON_THE_SHELL = 0.03
"""On the shell it stands short of the steam by up to so much of what it is above the room; a lagged wall's own drop."""
WIDEST_CLASS = 4.0
"""A gauge whose class is not known is taken for the coarsest that is made; EN 837-1."""
ROOM = 293.15


class Witness(Answer):
    """What one of them says: a pressure, Pa, and the least and most that it may be."""

    who: Who
    pressure: float
    low: float
    high: float
    says: Sentence


class Witnesses(Answer):
    """What they say together.

    state     agree; one-lies, `liar`; disagree, and nobody can say who; alone, or none at all
    low, high between which the pressure is, by those that are believed; None where nobody is
    certain   the band of each is known: an agreement within a band that was guessed is none
    one_hand  only gauge and valve speak, and the valve was set by this gauge, or nobody said by which
    """

    seen: list[Witness]
    state: Literal["agree", "one-lies", "disagree", "alone", "none"]
    liar: Who | None
    low: float | None
    high: float | None
    certain: bool
    one_hand: bool
    says: Sentence
    settle_it: list[Sentence]


def gauge_doubt(gauge: Gauge) -> float:
    """How far a gauge may be out, Pa: its class (the coarsest where it is not known) of its range, and its step."""
    accuracy = WIDEST_CLASS if gauge.accuracy_class is None else gauge.accuracy_class
    return accuracy / 100 * gauge.range + (gauge.readable or gauge.range / 100)


def valve_tolerance(set_pressure: float, makers: float | None) -> float:
    """How far from its set a valve may lift under steam, Pa: its maker's figure; else 5 % of it, or UG-134's where that
    is more.

    >>> round(valve_tolerance(5.5e5, None)), round(valve_tolerance(2e5, None))
    (27500, 14000)
    """
    return makers if makers is not None else max(VALVE_TOLERANCE * set_pressure, tolerance_of(set_pressure, None))


def of_gauge(gauge: Gauge, pressure: float, who: Who = "gauge") -> Witness:
    """A gauge, the first or the second, at a pressure that it showed, Pa."""
    doubt = gauge_doubt(gauge)
    return _witness(who, pressure, pressure - doubt, pressure + doubt)


def of_valve(set_pressure: float, makers: float | None) -> Witness:
    """The valve as it lifts, by what it is set to."""
    doubt = valve_tolerance(set_pressure, makers)
    return _witness("valve", set_pressure, set_pressure - doubt, set_pressure + doubt)


def of_shut_valve(set_pressure: float, makers: float | None) -> Witness:
    """The valve while it is shut: no more than it would lift at."""
    most = set_pressure + valve_tolerance(set_pressure, makers)
    says = say("steam.valve-shut-says", high=most)
    return Witness(who="valve", pressure=set_pressure, low=-ATMOSPHERE, high=most, says=says)


def of_thermometer(
    thermometer: Thermometer | None, temperature: float, sits: str | None = None, outer: OuterAir | None = None
) -> Witness:
    """The thermometer: the pressure at which water boils at what it showed (K), and at what it may be out.

    sits   in the steam, or on the shell, where it stands short of it; not said, it may be either
    outer  air that the gauge's nought is: not given, a place between the sea and 1500 m
    """
    outer = outer or outer_air()
    step = thermometer.resolution if thermometer else THERMOMETER_OUT
    out = max(thermometer.accuracy or THERMOMETER_OUT if thermometer else THERMOMETER_OUT, step) + step / 2
    short = 0.0 if sits == "steam" else ON_THE_SHELL * max(0.0, temperature - ROOM)
    middle = temperature + (short / 2 if sits == "shell" else 0.0)
    return _witness(
        "thermometer",
        steam_pressure(middle) + ATMOSPHERE - outer.pressure,
        steam_pressure(temperature - out) + ATMOSPHERE - outer.high,
        steam_pressure(temperature + out + short) + ATMOSPHERE - outer.low,
    )


def _witness(who: Who, pressure: float, low: float, high: float) -> Witness:
    least = max(low, -ATMOSPHERE)
    says = say(f"steam.{who}-says", pressure=pressure, low=max(0.0, least), high=high)
    return Witness(who=who, pressure=pressure, low=least, high=high, says=says)


def contradict(one: Witness, other: Witness) -> bool:
    """Can the two not both be right?"""
    return one.high < other.low or other.high < one.low


def says_more(one: Witness, others: Sequence[Witness]) -> bool:
    """Does it say more than any of the others allows?"""
    return all(one.low > other.high for other in others)


def heard(seen: Sequence[Witness], *, certain: bool = True, one_hand: bool = False) -> Witnesses:
    """What they say together; at most one of each.

    certain   the gauge's class is known
    one_hand  the valve was set by this gauge, or nobody knows by which: the two are one witness while they agree
    """
    against = {one.who: [other for other in seen if other is not one and contradict(one, other)] for one in seen}
    liar = _liar(seen, against, one_hand)
    trusted = [one for one in seen if one.who != liar]
    low, high = max((one.low for one in trusted), default=None), min((one.high for one in trusted), default=None)
    if liar is not None:
        state: Literal["agree", "one-lies", "disagree", "alone", "none"] = "one-lies"
    elif any(against.values()):
        state, low, high = "disagree", None, None
    else:
        state = "agree" if len(seen) > 1 else "alone" if seen else "none"
    alone = state == "agree" and one_hand and {one.who for one in seen} == {"gauge", "valve"}
    return Witnesses(
        seen=list(seen),
        state=state,
        liar=liar,
        low=low,
        high=high,
        certain=certain,
        one_hand=alone,
        says=say("steam.one-hand", low=low, high=high) if alone else _says(seen, state, liar, low, high, certain),
        settle_it=_settle(seen, state, alone),
    )


def _liar(seen: Sequence[Witness], against: dict[Who, list[Witness]], one_hand: bool) -> Who | None:
    """Who is contradicted by all the others, two at the least that do not share one error, and none of them by another;
    None where nobody, and where it says more than they do and no hand set it: that is never voted down.
    """
    for one in seen:
        others = [other for other in seen if other is not one]
        if len(others) < 2 or len(against[one.who]) < len(others):
            continue
        if any(contradict(other, another) for other in others for another in others):
            continue
        shared = one_hand and {other.who for other in others} == {"gauge", "valve"}
        if shared or (one.who in ("thermometer", "second") and says_more(one, others)):
            continue
        return one.who
    return None


def _says(
    seen: Sequence[Witness], state: str, liar: Who | None, low: float | None, high: float | None, certain: bool
) -> Sentence:
    names = [say(f"steam.{one.who}") for one in seen]
    if liar is not None and low is not None and high is not None:
        wrong = next(one for one in seen if one.who == liar)
        over = wrong.pressure > (low + high) / 2
        form = f"steam.liar-{liar}-{'high' if over else 'low'}"
        others = [say(f"steam.{one.who}") for one in seen if one.who != liar]
        return say(form, pressure=wrong.pressure, names=others, low=max(0.0, low), high=high)
    if state == "disagree":
        return say("steam.disagree", says=[one.says for one in seen])
    if state == "agree":
        return say("steam.agree" if certain else "steam.agree-by-guess", names=names, low=low, high=high)
    return say(f"steam.{state}", names=names)


def _settle(seen: Sequence[Witness], state: str, alone: bool) -> list[Sentence]:
    """What tells which of them is wrong, or gives them a third that no hand set."""
    there = {one.who for one in seen}
    if (state == "agree" or state == "one-lies") and not alone:
        return []
    found = [say("steam.settle-cold")] if state == "disagree" else []
    if "thermometer" not in there:
        at = next((one.pressure for one in seen), None)
        found.append(say("steam.settle-thermometer", temperature=None if at is None else saturation(max(0.0, at))))
    if "thermometer" in there and state == "disagree":
        found.append(say("steam.settle-ice"))
    if {"gauge", "thermometer"} <= there and state == "disagree":
        found.append(say("steam.settle-air"))
    if "gauge" in there and "second" not in there and state != "none":
        found.append(say("steam.settle-gauge"))
    return list(found)
