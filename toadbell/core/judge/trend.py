"""Is it getting worse? Two trials of one vessel held against each other: leak, wall, give under pressure."""

import datetime
import math
from dataclasses import dataclass
from typing import Literal, NamedTuple

from toadbell.core.answers import Answer
from toadbell.core.judge.verdict import show_leak
from toadbell.core.lines import Line
from toadbell.core.phrases import Said, Sentence, amount, joined, say

Went = Literal["worse", "better", "same", "not known"]
SURE = 2.0
"""A difference counts where it is more than so many times its own standard deviation: 95 %."""
BAND_IN_SD = 1.96
SAME_PRESSURE = 0.05
"""Holds nearer to each other than this part of the pressure are held at the same one."""
WALL_READ_TO = 0.1e-3
"""What a wall gauge is read to, m: half of it is no loss."""


class Known(NamedTuple):
    """A figure with its 95 % band, SI."""

    estimate: float
    low: float
    high: float

    @property
    def sd(self) -> float:
        """Standard deviation that the band speaks of."""
        return (self.high - self.low) / (2 * BAND_IN_SD)


@dataclass(frozen=True)
class Side:
    """One trial, as far as it tells: when; leak at shut-in, m³/s; pressure shut in, Pa; thinnest wall, m; give of water
    and wall, m³/Pa.
    """

    on: datetime.date
    leak: Known | None = None
    pressure: float | None = None
    wall: float | None = None
    compliance: Known | None = None


class Change(Answer):
    """How one figure went from the earlier trial to the later: SI; null is not known.

    `sure` is half of the difference's 95 % band.
    """

    what: Literal["leak", "wall", "compliance"]
    before: float | None
    after: float | None
    by: float | None
    sure: float | None
    went: Went
    says: Sentence
    lines: list[Line] = []


class TrendAnswer(Answer):
    """Is it getting worse? The answer in a sentence, and each figure for itself."""

    went: Went
    says: Sentence
    changes: list[Change]


def trend(before: Side, after: Side) -> TrendAnswer:
    """Hold an earlier trial of a vessel against a later one."""
    changes = [_leak(before, after), _wall(before, after), _compliance(before, after)]
    worse = [change.says for change in changes if change.went == "worse"]
    better = [change.says for change in changes if change.went == "better"]
    if worse:
        return TrendAnswer(went="worse", says=say("trend.worse", changes=worse), changes=changes)
    if all(change.went == "not known" for change in changes):
        return TrendAnswer(went="not known", says=say("trend.nothing-common"), changes=changes)
    says = say("trend.better", changes=better) if better else say("trend.same")
    return TrendAnswer(went="better" if better else "same", says=says, changes=changes)


def _leak(before: Side, after: Side) -> Change:
    if before.leak is None or after.leak is None:
        return _not_known("leak", before.leak, after.leak, say("trend.leak-unjudged"))
    was, now = before.leak.estimate, after.leak.estimate
    by, sd = now - was, math.hypot(before.leak.sd, after.leak.sd)
    went = _went(by, sd)
    other = before.pressure and after.pressure and abs(after.pressure / before.pressure - 1) > SAME_PRESSURE
    apart = say("trend.apart" if other else "trend.not-apart")
    line = Line(
        figure="leak",
        symbol="Δq",
        formula="q₂ − q₁ ± 2 √(s₁² + s₂²)",
        numbers=joined(show_leak(now), " − ", show_leak(was), " ± ", show_leak(SURE * sd)),
        value=by,
        unit="m³/s",
        shown=show_leak(by),
        source="difference of two independent estimates, 95 %",
    )
    says = say(f"trend.leak-{went}", before=was, after=now, doubt=SURE * sd, apart=apart)
    return Change(what="leak", before=was, after=now, by=by, sure=SURE * sd, went=went, says=says, lines=[line])


def _wall(before: Side, after: Side) -> Change:
    if before.wall is None or after.wall is None:
        return _not_known("wall", before.wall, after.wall, say("trend.wall-unmeasured"))
    by = after.wall - before.wall
    went: Went = "worse" if by < -WALL_READ_TO / 2 else "same"
    line = Line(
        figure="wall",
        symbol="Δt",
        formula="t₂ − t₁",
        numbers=joined(amount(before.wall, "length", figures=3), " → ", amount(after.wall, "length", figures=3)),
        value=by,
        unit="m",
        shown=amount(by, "length", figures=2),
        source="the thinnest readings of each trial's sheet",
    )
    says = say(f"trend.wall-{went}", before=before.wall, after=after.wall)
    return Change(
        what="wall", before=before.wall, after=after.wall, by=by, sure=WALL_READ_TO, went=went, says=says, lines=[line]
    )


def _compliance(before: Side, after: Side) -> Change:
    if before.compliance is None or after.compliance is None:
        return _not_known("compliance", before.compliance, after.compliance, say("trend.compliance-unmeasured"))
    was, now = before.compliance.estimate, after.compliance.estimate
    by, sd = now - was, math.hypot(before.compliance.sd, after.compliance.sd)
    went = _went(by, sd)
    first, second, doubt = (amount(value, "compliance", figures=3) for value in (was, now, SURE * sd))
    line = Line(
        figure="compliance",
        symbol="ΔC",
        formula="C₂ − C₁ ± 2 √(s₁² + s₂²)",
        numbers=joined(second, " − ", first, " ± ", doubt),
        value=by,
        unit="m³/Pa",
        shown=amount(by, "compliance", figures=2),
        source="water and wall, the air left in taken out, from the strokes of each",
    )
    says = say(f"trend.compliance-{went}", before=was, after=now, doubt=SURE * sd)
    return Change(what="compliance", before=was, after=now, by=by, sure=SURE * sd, went=went, says=says, lines=[line])


def _went(by: float, sd: float) -> Literal["worse", "better", "same"]:
    return "same" if abs(by) <= SURE * sd else "worse" if by > 0 else "better"


def _not_known(
    what: Literal["leak", "wall", "compliance"], before: Known | float | None, after: Known | float | None, says: Said
) -> Change:
    first, second = (value.estimate if isinstance(value, Known) else value for value in (before, after))
    return Change(what=what, before=first, after=second, by=None, sure=None, went="not known", says=says)
