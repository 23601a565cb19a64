"""A relief valve judged by its trial: three rounds of lift and reseat, then by hand.

Every figure carries what its gauge may be out. What that leaves open is not told, and the gauge that could tell it is
named. Sources: ASME BPVC VIII-1 UG-134 (tolerance of the set pressure); procedures, relief.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from toadbell.core.answers import Answer
from toadbell.core.judge.checks import Check, State, between, state_of
from toadbell.core.lines import Line
from toadbell.core.phrases import Said, Sentence, amount, joined, of_scale, say
from toadbell.core.sheets.kit import Gauge
from toadbell.core.sheets.relief import ReliefSheet

LOW_SET, LOW_TOLERANCE, TOLERANCE = 4.8e5, 0.14e5, 0.03
"""Up to this set pressure (Pa) the tolerance is so many Pa, above it a part of the set; UG-134."""
CODE_BEGINS = 1.03e5
"""The code speaks of vessels from 15 psi on; under it the tolerance is the same part of the set as there, Pa."""
RESEATS = 0.9
"""It shuts again at so much of its set at the least."""
SPREAD = 0.05
"""The rounds lie within so much of the set, or the gauge's step."""
ROUNDS = 3
OVER = 1.1
"""Without a lift at so much of the rating it is stopped, and the valve is bad."""


class BetterGauge(Answer):
    """The gauge that could tell: its range, Pa, class, and the smallest step that has to be told apart, Pa."""

    range: float
    accuracy_class: float
    step: float


class ReliefAnswer(Answer):
    """What a relief trial proves; Pa.

    answer    good; reset, to `reset_to`; bad; or cannot-tell, by `better_gauge` where a gauge could
    lifts_at  mean of the lifts, and by how much the gauge may be out
    highest   that it was raised to in a round without a lift; None where there was none
    """

    answer: Literal["good", "reset", "bad", "cannot-tell"]
    lifts_at: float | None
    doubt: float | None
    highest: float | None
    spread: float | None
    reset_to: float | None
    better_gauge: BetterGauge | None
    says: Sentence
    settle_it: list[Sentence]
    checks: list[Check]
    lines: list[Line]


def tolerance_of(set_pressure: float, makers: float | None) -> float:
    """How far from its set a valve may lift, Pa: its maker's figure, else UG-134's; less for sets under its scope.

    >>> tolerance_of(1.8e5, None), round(tolerance_of(10e5, None)), round(tolerance_of(2200.0, None))
    (14000.0, 30000, 299)
    """
    if makers is not None:
        return makers
    if set_pressure < CODE_BEGINS:
        return LOW_TOLERANCE * set_pressure / CODE_BEGINS
    return LOW_TOLERANCE if set_pressure <= LOW_SET else TOLERANCE * set_pressure


def stops_without_lift(set_pressure: float | None, makers: float | None, rating: float, gauge: Gauge | None) -> float:
    """Where a raising ends that saw no lift, Pa on the gauge: just past where the valve was to come, by so much that
    the gauge can say that it did not; never over 110 % of what the vessel may see, and never at the gauge's end.

    set_pressure, makers, rating  Pa: its set, its maker's tolerance, and the highest that the vessel may see

    >>> gauge = Gauge.model_construct(range=4e5, division=0.04e5, accuracy_class=1.0)
    >>> round(stops_without_lift(1e5, None, 4.4e5, gauge)), round(stops_without_lift(None, None, 4e5, None))
    (119592, 440000)
    """
    limits = [OVER * rating]
    if gauge is not None:
        limits.append(gauge.range - _step_of(gauge))
    if set_pressure is not None:
        most = set_pressure + tolerance_of(set_pressure, makers)
        limits.append(most + (0.0 if gauge is None else _doubt_of(gauge).whole or _step_of(gauge)))
    return min(limits)


SEAL_OVER = 1.5
"""A digester's water seal stands over its working head, up to where its gas head is tried; procedures, gas-head."""


def may_lift_at(kind: str, wanted: float) -> float:
    """The most that a vessel's valve may be set to, Pa: what is wanted of it; a digester's seal stands higher."""
    return SEAL_OVER * wanted if kind == "digester" else wanted


def lifts_in_time(lift: float, wanted: float, limits: Sequence[float]) -> bool:
    """Does a valve guard a vessel that lifts here, Pa: within its tolerance of what is wanted, never over any limit?"""
    return lift <= min([wanted + tolerance_of(wanted, None), *limits]) * (1 + 1e-6)


@dataclass(frozen=True)
class _Doubt:
    """What the gauge leaves open of a figure, Pa, None where its class is not known; and `step`, of a difference."""

    whole: float | None
    step: float


def _step_of(gauge: Gauge) -> float:
    return gauge.readable or gauge.range / 100


def _doubt_of(gauge: Gauge) -> _Doubt:
    step = _step_of(gauge)
    own = None if gauge.accuracy_class is None else gauge.accuracy_class / 100 * gauge.range
    return _Doubt(None if own is None else own + step, step)


def judge_relief(sheet: ReliefSheet) -> ReliefAnswer:
    """Good, reset, bad, or what would settle it."""
    with of_scale(sheet.set_pressure or sheet.rating):
        return _judged(sheet)


def _judged(sheet: ReliefSheet) -> ReliefAnswer:
    doubt = _doubt_of(sheet.gauge)
    lifts = [one.lift for one in sheet.rounds if one.lift is not None]
    checks = [
        _lifted(sheet, doubt),
        *_past_the_end(sheet),
        *_medium(sheet),
        _rounds(lifts),
        _rating(sheet, lifts, doubt),
        _set(sheet, lifts, doubt),
        _spread(sheet, lifts, doubt),
        *_weeps(sheet, doubt),
        _reseats(sheet, doubt),
        _by_hand(sheet),
    ]
    state = {one.code: one.state for one in checks}
    better = (
        _better_gauge(sheet, lifts)
        if "not known"
        in (state["set"], state["rating"], state["reseat"], state["lifted"], state.get("weep"), state.get("end"))
        else None
    )
    answer = _answer(state)
    reset_to = _reset_to(sheet) if answer == "reset" else None
    mean = sum(lifts) / len(lifts) if lifts else None
    return ReliefAnswer(
        answer=answer,
        lifts_at=mean,
        doubt=doubt.whole,
        highest=max((one.highest for one in sheet.rounds if one.lift is None and one.highest), default=None),
        spread=max(lifts) - min(lifts) if lifts else None,
        reset_to=reset_to,
        better_gauge=better,
        says=_says(answer, checks, mean, reset_to),
        settle_it=_settle(checks, better) if answer == "cannot-tell" else [],
        checks=checks,
        lines=_lines(sheet, lifts, doubt),
    )


def _answer(state: dict[str, State]) -> Literal["good", "reset", "bad", "cannot-tell"]:
    if "not met" in (state["lifted"], state["spread"], state["reseat"], state["hand"], state.get("weep")):
        return "bad"
    if "not met" in (state["set"], state["rating"]):
        return "reset"
    return "cannot-tell" if "not known" in state.values() else "good"


def _check(code: str, met: bool | None, says: Said) -> Check:
    return Check(code=code, name=say(f"relief.{code}"), state=state_of(met), says=says)


def _lifted(sheet: ReliefSheet, doubt: _Doubt) -> Check:
    """Did it lift each time by what it is set to, and before 110 % of what the vessel may see? A round that went past
    that without a lift stands, whatever later rounds did: a valve that stuck once sticks again.
    """
    stuck = [one.highest for one in sheet.rounds if one.lift is None and one.highest]
    if stuck and max(stuck) >= OVER * sheet.rating:
        return _check("lifted", False, say("relief.stuck", highest=max(stuck), rating=sheet.rating))
    if stuck and sheet.set_pressure is not None:
        most = sheet.set_pressure + tolerance_of(sheet.set_pressure, sheet.tolerance)
        says = say("relief.passed-set", highest=max(stuck), most=most)
        if doubt.whole is not None and max(stuck) - doubt.whole > most:
            return _check("lifted", False, says)
        if max(stuck) + (doubt.whole or 0.0) > most:
            return _check("lifted", None, says)
    if not any(one.lift is not None for one in sheet.rounds):
        return _check("lifted", None, say("relief.no-lift"))
    if any(one.lift is None and one.highest is None for one in sheet.rounds):
        return _check("lifted", None, say("relief.round-empty"))
    return _check("lifted", True, say("relief.did-lift"))


def _past_the_end(sheet: ReliefSheet) -> list[Check]:
    """What was read where the gauge has ended is no figure."""
    read = [at for one in sheet.rounds for at in (one.lift, one.reseat, one.highest) if at is not None]
    if max(read, default=0.0) < sheet.gauge.range * (1 - 1e-9):
        return []
    return [_check("end", None, say("relief.end-says", highest=max(read), range=sheet.gauge.range))]


def _medium(sheet: ReliefSheet) -> list[Check]:
    """Tried on what it was set for: on a liquid it opens otherwise than on gas; not said, it was set for gas."""
    if sheet.medium != "water" or sheet.set_for == "liquid":
        if sheet.medium != "water" and sheet.set_for == "liquid":
            return [_check("medium", None, say("relief.medium-gas"))]
        return []
    return [_check("medium", None, say("relief.medium-liquid" if sheet.set_for else "relief.medium-unsaid"))]


def _weeps(sheet: ReliefSheet, doubt: _Doubt) -> list[Check]:
    """It first wept above the pressure used, or at 90 % of its set: else it weeps at work."""
    wept = [one.weep for one in sheet.rounds if one.weep is not None]
    if not wept or sheet.set_pressure is None:
        return []
    least = max(RESEATS * sheet.set_pressure, sheet.used_at or 0.0)
    says = say("relief.weep-says", weep=min(wept), least=least)
    if doubt.whole is None:
        return [_check("weep", None, says)]
    return [_check("weep", between(min(wept) - doubt.whole, min(wept) + doubt.whole, least, float("inf")), says)]


def _rounds(lifts: list[float]) -> Check:
    enough = len(lifts) >= ROUNDS
    return _check("rounds", True if enough else None, say("relief.rounds-says", count=len(lifts), asked=ROUNDS))


def _rating(sheet: ReliefSheet, lifts: list[float], doubt: _Doubt) -> Check:
    if not lifts:
        return _check("rating", None, say("relief.no-lift"))
    says = say("relief.rating-says", lift=max(lifts), rating=sheet.rating)
    if doubt.whole is None:
        return _check("rating", None, say("relief.class-unknown"))
    return _check("rating", between(max(lifts) - doubt.whole, max(lifts) + doubt.whole, 0.0, sheet.rating), says)


def _set(sheet: ReliefSheet, lifts: list[float], doubt: _Doubt) -> Check:
    if sheet.set_pressure is None:
        return _check("set", None, say("relief.set-unknown"))
    if not lifts:
        return _check("set", None, say("relief.no-lift"))
    if doubt.whole is None:
        return _check("set", None, say("relief.class-unknown"))
    tolerance = tolerance_of(sheet.set_pressure, sheet.tolerance)
    least, most = sheet.set_pressure - tolerance, sheet.set_pressure + tolerance
    each = [between(one - doubt.whole, one + doubt.whole, least, most) for one in lifts]
    met = False if False in each else None if None in each else True
    says = say("relief.set-says", low=min(lifts), high=max(lifts), least=least, most=most, doubt=doubt.whole)
    return _check("set", met, says)


def _spread(sheet: ReliefSheet, lifts: list[float], doubt: _Doubt) -> Check:
    """The gauge's own error is the same each time: only its step counts between two readings of it."""
    if len(lifts) < 2:
        return _check("spread", None, say("relief.rounds-says", count=len(lifts), asked=ROUNDS))
    spread, let = max(lifts) - min(lifts), SPREAD * (sheet.set_pressure or max(lifts))
    most = max(let if sheet.tolerance is None else min(let, 2 * sheet.tolerance), doubt.step)
    met = True if spread <= most * (1 + 1e-9) else False if spread - 2 * doubt.step > most else None
    return _check("spread", met, say("relief.spread-says", spread=spread, most=most))


def _reseats(sheet: ReliefSheet, doubt: _Doubt) -> Check:
    """It shuts at 90 % of its set or more, and above the pressure used, else it weeps at work."""
    seats = [one.reseat for one in sheet.rounds if one.reseat is not None]
    if not seats or len(seats) < len([one for one in sheet.rounds if one.lift is not None]):
        return _check("reseat", None, say("relief.no-reseat"))
    if sheet.set_pressure is None:
        return _check("reseat", None, say("relief.set-unknown"))
    if doubt.whole is None:
        return _check("reseat", None, say("relief.class-unknown"))
    least = max(RESEATS * sheet.set_pressure, sheet.used_at or 0.0)
    low = min(seats)
    met = between(low - doubt.whole, low + doubt.whole, least, float("inf"))
    return _check("reseat", met, say("relief.reseat-says", reseat=low, least=least))


def _by_hand(sheet: ReliefSheet) -> Check:
    if sheet.by_hand == "stuck":
        return _check("hand", False, say("relief.hand-stuck"))
    if sheet.after == "weeps":
        return _check("hand", False, say("relief.hand-weeps"))
    if sheet.by_hand is None or sheet.after is None:
        return _check("hand", None, say("relief.hand-unknown"))
    return _check("hand", True, say("relief.hand-free"))


def _reset_to(sheet: ReliefSheet) -> float:
    """Where to set it: what it is to lift at, and never over what the vessel may see."""
    return min(sheet.set_pressure or sheet.rating, sheet.rating)


RANGES = (0.1, 0.16, 0.25, 0.4, 0.6, 1, 1.6, 2.5, 4, 6, 10, 16, 25, 40, 60, 100, 160, 250)
"""Ranges that gauges are made in, bar; EN 837-1."""
READS_TO = 1.5
"""A gauge reads to so much of what is read from it; handbook of the job, gauges."""
CLASSES = (1.6, 1.0, 0.6, 0.25, 0.1)
"""Classes of gauges, per cent of their range; EN 837-1."""


def _better_gauge(sheet: ReliefSheet, lifts: Sequence[float]) -> BetterGauge | None:
    """The plainest gauge whose doubt is smaller than the narrowest margin; None where no gauge could tell."""
    margin = _margin(sheet, lifts)
    if margin is None or margin <= 0:
        return None
    needed = max(OVER * sheet.rating, READS_TO * (sheet.set_pressure or sheet.rating))
    span = next((one * 1e5 for one in RANGES if one * 1e5 >= needed), None)
    if span is None:
        return None
    for accuracy_class in CLASSES:
        step = span / 500 if accuracy_class <= 0.25 else span / 200
        if accuracy_class / 100 * span + step < margin:
            return BetterGauge(range=span, accuracy_class=accuracy_class, step=step)
    return None


def _margin(sheet: ReliefSheet, lifts: Sequence[float]) -> float | None:
    """How near the nearest figure lies to a limit that it has to keep, Pa."""
    margins = [abs(sheet.rating - max(lifts))] if lifts else []
    if sheet.set_pressure is not None:
        tolerance = tolerance_of(sheet.set_pressure, sheet.tolerance)
        margins += [abs(tolerance - abs(one - sheet.set_pressure)) for one in lifts]
        seats = [one.reseat for one in sheet.rounds if one.reseat is not None]
        margins += [abs(one - max(RESEATS * sheet.set_pressure, sheet.used_at or 0.0)) for one in seats]
    return min(margins, default=None)


def _says(answer: str, checks: list[Check], mean: float | None, reset_to: float | None) -> Said:
    failed = [say("relief.but", name=one.name, says=one.says) for one in checks if one.state == "not met"]
    if answer == "good":
        return say("relief.good", lifts=mean)
    if answer == "reset":
        return say("relief.reset", lifts=mean, to=reset_to, why=failed)
    if answer == "bad":
        return say("relief.bad", why=failed)
    open_ = next(one for one in checks if one.state == "not known")
    return say("relief.cannot-tell", why=say("relief.but", name=open_.name, says=open_.says))


def _settle(checks: list[Check], better: BetterGauge | None) -> list[Sentence]:
    """What would settle what is open."""
    open_ = {
        one.code: one.says.code if isinstance(one.says, Said) else "" for one in checks if one.state == "not known"
    }
    ways = {
        "settle-rounds": bool({"lifted", "rounds", "spread"} & set(open_)),
        "settle-end": "end" in open_,
        "settle-medium": "medium" in open_,
        "settle-hand": "hand" in open_,
        "settle-set": "relief.set-unknown" in open_.values(),
        "settle-class": "relief.class-unknown" in open_.values(),
        "settle-reseat": open_.get("reseat") == "relief.no-reseat",
    }
    found: list[Sentence] = [say(f"relief.{way}") for way, asked in ways.items() if asked]
    if better is not None:
        gauge = {"range": better.range, "accuracy": better.accuracy_class, "step": better.step}
        found.append(say("relief.settle-gauge", **gauge))
    return found


def _lines(sheet: ReliefSheet, lifts: list[float], doubt: _Doubt) -> list[Line]:
    lines = []
    if sheet.set_pressure is not None:
        tolerance = tolerance_of(sheet.set_pressure, sheet.tolerance)
        source = "the valve's maker" if sheet.tolerance is not None else "ASME BPVC VIII-1, UG-134"
        lines.append(_line("tolerance", "ΔP", "0.14 bar up to 4.8 bar, 3 % above", tolerance, source))
    if lifts:
        mean = sum(lifts) / len(lifts)
        numbers = joined("(", amount(sum(lifts), "pressure"), f") / {len(lifts)}")
        lines.append(_line("lift", "P_l", "mean of the lifts", mean, "the rounds", numbers))
    if doubt.whole is not None:
        source = "the gauge's class and its smallest step"
        lines.append(_line("doubt", "u", "class × range + step", doubt.whole, source))
    return lines


def _line(figure: str, symbol: str, formula: str, value: float, source: str, numbers: str = "") -> Line:
    shown = amount(value, "pressure")
    return Line(
        figure=figure,
        symbol=symbol,
        formula=formula,
        numbers=numbers or shown,
        value=value,
        unit="Pa",
        shown=shown,
        source=source,
    )
