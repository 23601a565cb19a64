"""Is it getting worse? Two trials of one vessel held against each other: leak, wall, give under pressure."""

import datetime
import math
from dataclasses import dataclass
from typing import Literal, NamedTuple

from toadbell.core import units
from toadbell.core.answers import Answer
from toadbell.core.judge.verdict import show_leak
from toadbell.core.lines import Line

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
    """One trial, as far as it tells: when; leak at shut-in, m³/s; pressure shut in, Pa; thinnest wall, m; give of water and wall, m³/Pa."""

    on: datetime.date
    leak: Known | None = None
    pressure: float | None = None
    wall: float | None = None
    compliance: Known | None = None


class Change(Answer):
    """How one figure went from the earlier trial to the later: SI; null is not known. `sure` is half of the difference's 95 % band."""

    what: Literal["leak", "wall", "compliance"]
    before: float | None
    after: float | None
    by: float | None
    sure: float | None
    went: Went
    says: str
    lines: list[Line] = []


class TrendAnswer(Answer):
    """Is it getting worse? The answer in a sentence, and each figure for itself."""

    went: Went
    says: str
    changes: list[Change]


def trend(before: Side, after: Side, length_unit: str = "mm") -> TrendAnswer:
    """Hold an earlier trial of a vessel against a later one. length_unit  in which walls are told."""
    changes = [_leak(before, after), _wall(before, after, length_unit), _compliance(before, after)]
    worse = [change for change in changes if change.went == "worse"]
    known = [change for change in changes if change.went != "not known"]
    if worse:
        return TrendAnswer(went="worse", says=f"It is getting worse. {' '.join(change.says for change in worse)}", changes=changes)
    if not known:
        return TrendAnswer(
            went="not known", says="These two trials have nothing in common that could be held against each other.", changes=changes
        )
    went: Went = "better" if any(change.went == "better" for change in known) else "same"
    first = "Nothing says that it is getting worse." if went == "same" else "It is not getting worse."
    says = " ".join([first, *(change.says for change in known if change.went == "better")])
    return TrendAnswer(went=went, says=says, changes=changes)


def _leak(before: Side, after: Side) -> Change:
    if before.leak is None or after.leak is None:
        return _not_known("leak", before.leak, after.leak, "The leak is known only where both holds were judged.")
    by, sd = after.leak.estimate - before.leak.estimate, math.hypot(before.leak.sd, after.leak.sd)
    went = _went(by, sd)
    told = f"{show_leak(before.leak.estimate)} to {show_leak(after.leak.estimate)}"
    says = {
        "worse": f"The leak grew from {told}, more than the two holds' own doubt.",
        "better": f"The leak fell from {told}.",
        "same": f"The leak went from {told}: no more than the two holds' own doubt, {show_leak(SURE * sd)}.",
    }[went]
    if before.pressure and after.pressure and abs(after.pressure / before.pressure - 1) > SAME_PRESSURE:
        says += " They were held at different pressures."
    line = Line(
        figure="leak", symbol="Δq", formula="q₂ − q₁ ± 2 √(s₁² + s₂²)",
        numbers=f"{show_leak(after.leak.estimate)} − {show_leak(before.leak.estimate)} ± {show_leak(SURE * sd)}", value=by, unit="m³/s",
        shown=show_leak(by), source="difference of two independent estimates, 95 %",
    )  # fmt: skip
    return Change(
        what="leak", before=before.leak.estimate, after=after.leak.estimate, by=by, sure=SURE * sd, went=went, says=says, lines=[line]
    )


def _wall(before: Side, after: Side, unit: str) -> Change:
    if before.wall is None or after.wall is None:
        return _not_known("wall", before.wall, after.wall, "The wall was not measured for both.")
    by = after.wall - before.wall
    shown = (units.write(wall, "length", unit, figures=3) for wall in (before.wall, after.wall))
    told = " to ".join(shown)
    went: Went = "worse" if by < -WALL_READ_TO / 2 else "same"
    says = f"The thinnest wall went from {told}." if went == "worse" else f"The thinnest wall stayed, {told}."
    line = Line(
        figure="wall", symbol="Δt", formula="t₂ − t₁", numbers=told.replace(" to ", " → "), value=by, unit="m",
        shown=units.write(by, "length", unit, figures=2), source="the thinnest readings of each trial's sheet",
    )  # fmt: skip
    return Change(what="wall", before=before.wall, after=after.wall, by=by, sure=WALL_READ_TO, went=went, says=says, lines=[line])


def _compliance(before: Side, after: Side) -> Change:
    if before.compliance is None or after.compliance is None:
        says = "How much it gives was not measured by the strokes of both."
        return _not_known("compliance", before.compliance, after.compliance, says)
    by, sd = after.compliance.estimate - before.compliance.estimate, math.hypot(before.compliance.sd, after.compliance.sd)
    went = _went(by, sd)
    first, second, doubt = (
        units.write(value, "compliance", figures=3) for value in (before.compliance.estimate, after.compliance.estimate, SURE * sd)
    )
    says = {
        "worse": f"It gives more under pressure than it did, {second} after {first}: thinner, or stretched.",
        "better": f"It gives less than it did, {second} after {first}.",
        "same": f"It gives as it did, {second} after {first}, within {doubt}.",
    }[went]
    line = Line(
        figure="compliance", symbol="ΔC", formula="C₂ − C₁ ± 2 √(s₁² + s₂²)", numbers=f"{second} − {first} ± {doubt}", value=by, unit="m³/Pa",
        shown=units.write(by, "compliance", figures=2), source="water and wall, the air left in taken out, from the strokes of each",
    )  # fmt: skip
    return Change(
        what="compliance",
        before=before.compliance.estimate,
        after=after.compliance.estimate,
        by=by,
        sure=SURE * sd,
        went=went,
        says=says,
        lines=[line],
    )


def _went(by: float, sd: float) -> Literal["worse", "better", "same"]:
    return "same" if abs(by) <= SURE * sd else "worse" if by > 0 else "better"


def _not_known(what: Literal["leak", "wall", "compliance"], before: Known | float | None, after: Known | float | None, says: str) -> Change:
    first, second = (value.estimate if isinstance(value, Known) else value for value in (before, after))
    return Change(what=what, before=first, after=second, by=None, sure=None, went="not known", says=says)
