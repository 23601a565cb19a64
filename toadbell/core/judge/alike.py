"""How alike a hold is to the baseline that it is held against: rig, place, hour, warmth, pressure, size.

A baseline tells what this rig and place do by themselves; under other conditions it tells less, and the difference is
said. Source: procedures, baseline.
"""

import datetime
from dataclasses import dataclass

from toadbell.core.answers import Answer
from toadbell.core.judge.checks import Check, state_of
from toadbell.core.phrases import Said, Sentence, say
from toadbell.core.sheets.kit import Baseline

PRESSURE, SIZE = 0.15, 0.2
"""Pressures and volumes that differ by no more than such a part are alike."""
WARMTH = 5.0
"""Temperatures that differ by no more, K, are alike."""
HOURS = 3.0
"""Begun within so many hours of the same hour of the day, the sun stands alike."""
GROWS_OLD = 366
"""After so many days hoses, seals and weather are others."""


@dataclass(frozen=True)
class Conditions:
    """What a hold was, or is to be held under; what is not known is None.

    pressure Pa, volume m³, temperature K; hour of the day it begins, 0 to 24
    """

    medium: str
    pressure: float
    volume: float | None = None
    rig: str | None = None
    place: str | None = None
    gauge: float | None = None
    temperature: float | None = None
    hour: float | None = None
    on: datetime.date | None = None


class Alike(Answer):
    """How alike two holds are, line by line, and in a sentence; `fits`: one may be held against the other, as all of it
    is known and alike.
    """

    fits: bool
    says: Sentence
    checks: list[Check]


def alike(baseline: Baseline, now: Conditions) -> Alike:
    """How alike a hold is to a baseline; what is not known of either is said, and never taken for alike."""
    checks = [
        _same("rig", baseline.rig, now.rig),
        _same("place", baseline.place, now.place),
        _same("medium", baseline.medium, now.medium),
        _near("pressure", baseline.pressure, now.pressure, PRESSURE),
        _near("volume", baseline.volume, now.volume, SIZE),
        _gauge(baseline, now),
        _warm(baseline, now),
        _hour(baseline, now),
        _age(baseline, now),
    ]
    unlike = [one.name for one in checks if one.state == "not met"]
    open_ = [one.name for one in checks if one.state == "not known"]
    if unlike:
        says = say("alike.unlike", names=unlike)
    else:
        says = say("alike.open", names=open_) if open_ else say("alike.all")
    return Alike(fits=not unlike and not open_, says=says, checks=checks)


def _check(code: str, met: bool | None, says: Said) -> Check:
    return Check(code=code, name=say(f"alike.{code}"), state=state_of(met), says=says)


def _same(code: str, then: str | None, now: str | None) -> Check:
    met = None if not then or not now else then.strip().casefold() == now.strip().casefold()
    return _check(code, met, say("alike.words", then=then or say("alike.unsaid"), now=now or say("alike.unsaid")))


def _near(code: str, then: float | None, now: float | None, part: float) -> Check:
    met = None if then is None or now is None else abs(now / then - 1) <= part
    return _check(code, met, say(f"alike.{code}-says", then=then, now=now))


def _gauge(baseline: Baseline, now: Conditions) -> Check:
    """A finer gauge tells as much; a coarser one does not."""
    then = baseline.step
    met = None if then is None or now.gauge is None else now.gauge <= then * (1 + 1e-9)
    return _check("gauge", met, say("alike.gauge-says", then=then, now=now.gauge))


def _warm(baseline: Baseline, now: Conditions) -> Check:
    then = None if baseline.coldest is None or baseline.warmest is None else (baseline.coldest + baseline.warmest) / 2
    met = None if then is None or now.temperature is None else abs(now.temperature - then) <= WARMTH
    return _check("warmth", met, say("alike.warmth-says", then=then, now=now.temperature))


def _hour(baseline: Baseline, now: Conditions) -> Check:
    then = baseline.hour
    apart = None if then is None or now.hour is None else abs(now.hour - then) % 24
    met = None if apart is None else min(apart, 24 - apart) <= HOURS
    facts = {"then": _clock(then), "now": _clock(now.hour)}
    return _check("hour", met, say("alike.words", **facts))


def _clock(hour: float | None) -> str | Said:
    return say("alike.unsaid") if hour is None else f"{int(hour):02d}:{round(hour % 1 * 60) % 60:02d}"


def _age(baseline: Baseline, now: Conditions) -> Check:
    days = None if now.on is None else (now.on - baseline.on).days
    return _check("age", None if days is None else 0 <= days <= GROWS_OLD, say("alike.age-says", on=baseline.on))
