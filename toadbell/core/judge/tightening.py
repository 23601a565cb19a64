"""How far a joint has to be turned to be dry: the least turn that was, the step before that was not, and where more
turning stopped helping.

A turn that was dry at less than the pressure asked for is not dry. Source: procedures, tightening.
"""

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from toadbell.core.answers import Answer
from toadbell.core.judge.checks import Check, state_of
from toadbell.core.phrases import Said, Sentence, of_scale, say
from toadbell.core.sheets.tightening import GRADES, TighteningSheet, Turned

GRIPPED = ("bubbles", "weeps", "dry")
"""Showing so it has gripped: what streams, or was blown off, may come off."""
GRIP = 0.5e5
"""A joint that has not gripped yet sees no more, Pa."""
GRIPS_AT: dict[str | None, float] = {"ferrule": 0.25, "flare": 0.125, "gasket": 0.125, "taper": 1.0, None: 1.0}
"""Turned on by less past finger-tight such a joint holds by chance: an olive has to bite, a taper to wedge. Half of
what makers ask for and less; their own figure comes first. Of no known kind it is taken for the one that asks for most.
"""
AT = 0.98
"""Seen at so much of the pressure asked for, it was seen at it."""


class Step(Answer):
    """One turn of the curve: the worst it showed at the highest pressure it was seen at, Pa; bubbles a minute; torque,
    N m.
    """

    turn: float
    shows: str
    pressure: float
    bubbles: float | None
    torque: float | None
    dry: bool


class TighteningAnswer(Answer):
    """What a tightening trial shows.

    answer     found: dry from `least` on; not-dry: nowhere; or cannot-tell
    least      the least turn that was dry at the pressure asked for and stayed so, as a part of a turn
    wet        the greatest turn before it that was not: the least lies between the two; null where none was tried
    margin     how far beyond the least it was tried and stayed dry, as a part of a turn
    worse      the turn from which on more turning made it worse; null where none did
    caution    what is dangerous as it stands: it has not gripped yet
    by_torque  is the torque wrench a measure of it, or the turn alone
    """

    answer: Literal["found", "not-dry", "cannot-tell"]
    least: float | None
    wet: float | None
    margin: float | None
    worse: float | None
    by_torque: bool | None
    caution: Sentence | None
    steps: list[Step]
    says: Sentence
    settle_it: list[Sentence]
    checks: list[Check]


@dataclass(frozen=True)
class _Found:
    """Where it is dry."""

    least: float | None
    wet: float | None
    margin: float | None


def judge_tightening(sheet: TighteningSheet) -> TighteningAnswer:
    """The least turn that is enough, and between what it lies."""
    with of_scale(sheet.target):
        return _judged(sheet)


def _judged(sheet: TighteningSheet) -> TighteningAnswer:
    steps = curve(sheet)
    grip = GRIPS_AT[sheet.joint]
    found, worse = _least(steps, grip), _worse(steps)
    spent = _spent(steps)
    by_torque = _by_torque(sheet)
    checks = [
        *_stayed(spent),
        _dry(steps, found, grip),
        _between(found),
        *_more(worse, found),
        *_wrench(sheet, by_torque),
    ]
    answer: Literal["found", "not-dry", "cannot-tell"] = "found"
    if spent is not None:
        answer, found = "not-dry", _Found(None, None, None)
    elif found.least is None:
        answer = "not-dry" if steps and all(step.shows != "dry" for step in steps) else "cannot-tell"
    return TighteningAnswer(
        answer=answer,
        least=found.least,
        wet=found.wet,
        margin=found.margin,
        worse=worse,
        by_torque=by_torque,
        caution=None if any(step.shows in GRIPPED for step in steps) else say("tightening.not-gripped", most=GRIP),
        steps=steps,
        says=_says(answer, steps, found, worse, spent),
        settle_it=_settle(answer, found, steps, grip, spent),
        checks=checks,
    )


def curve(sheet: TighteningSheet) -> list[Step]:
    """Leak against turn: of each turn the worst that was seen of it at the highest pressures, never what it showed at a
    lower one before it leaked.
    """
    by_turn: dict[float, list[Turned]] = {}
    for seen in sheet.turns:
        by_turn.setdefault(seen.turn, []).append(seen)
    found = []
    for turn, rows in sorted(by_turn.items()):
        leaks = [row for row in rows if row.shows != "dry"]
        told = min(leaks, key=lambda row: GRADES.index(row.shows)) if leaks else max(rows, key=lambda row: row.pressure)
        dry = not leaks and told.pressure >= AT * sheet.target
        torque = next((row.torque for row in reversed(rows) if row.torque is not None), None)
        found.append(
            Step(turn=turn, shows=told.shows, pressure=told.pressure, bubbles=told.bubbles, torque=torque, dry=dry)
        )
    return found


def _spent(steps: list[Step]) -> Step | None:
    """The step at which it was blown off after it had been turned on, or by more than a finger-tight one may see: what
    gripped is torn, and no turn makes it good.
    """
    return next((one for one in steps if one.shows == "blown off" and (one.turn > 0 or one.pressure > GRIP)), None)


def _stayed(spent: Step | None) -> list[Check]:
    """That it never came off under pressure; told only where it did."""
    if spent is None:
        return []
    says = say("tightening.spent", turn=fraction(spent.turn), pressure=spent.pressure)
    return [_check("stayed", False, says)]


def _least(steps: list[Step], grip: float) -> _Found:
    """The least turn, from where it grips on, from which on all that were tried were dry, or dry as far as they were
    seen.
    """
    last_leak = max((n for n, step in enumerate(steps) if step.shows != "dry"), default=-1)
    dry = [step for step in steps[last_leak + 1 :] if step.dry and step.turn >= grip - 1e-9]
    if not dry:
        return _Found(None, None, None)
    least = dry[0].turn
    wet = steps[last_leak].turn if last_leak >= 0 else None
    return _Found(least, wet, max(step.turn for step in dry) - least)


def _worse(steps: list[Step]) -> float | None:
    """The first turn at which it leaked more than at one before, at no more pressure."""
    for n, step in enumerate(steps):
        for before in steps[:n]:
            more = GRADES.index(step.shows) < GRADES.index(before.shows) or (
                step.shows == before.shows
                and step.bubbles is not None
                and before.bubbles is not None
                and step.bubbles > 1.5 * before.bubbles
            )
            if more and step.pressure <= before.pressure / AT:
                return step.turn
    return None


def _by_torque(sheet: TighteningSheet) -> bool | None:
    """Does the wrench tell the torque that is wanted of it? None without one."""
    wrench = sheet.torque_wrench
    return None if wrench is None else wrench.lowest_told <= wrench.wanted <= wrench.range


def fraction(turn: float) -> str:
    """A part of a turn as people say it.

    >>> fraction(0.25), fraction(1.375), fraction(0), fraction(2)
    ('¼', '1⅜', '0', '2')
    """
    whole, rest = divmod(Fraction(turn).limit_denominator(24), 1)
    signs = {(1, 8): "⅛", (1, 4): "¼", (3, 8): "⅜", (1, 2): "½", (5, 8): "⅝", (3, 4): "¾", (7, 8): "⅞"}
    part = "" if rest == 0 else signs.get((rest.numerator, rest.denominator), f"{rest.numerator}/{rest.denominator}")
    return f"{whole or ''}{part}" or "0"


def _check(code: str, met: bool | None, says: Said) -> Check:
    return Check(code=code, name=say(f"tightening.{code}"), state=state_of(met), says=says)


def _dry(steps: list[Step], found: _Found, grip: float) -> Check:
    if not steps:
        return _check("dry", None, say("tightening.dry-untried"))
    last = steps[-1]
    if found.least is not None:
        form = "tightening.dry-says" if found.margin else "tightening.dry-just"
        return _check("dry", True, say(form, turn=fraction(found.least), margin=fraction(found.margin or 0)))
    if last.shows == "dry" and last.turn < grip - 1e-9:
        says = say("tightening.dry-ungripped", turn=fraction(last.turn), grip=fraction(grip))
        return _check("dry", None, says)
    if last.shows == "dry":
        return _check("dry", None, say("tightening.dry-lower", turn=fraction(last.turn), pressure=last.pressure))
    return _check("dry", False, say("tightening.dry-not", turn=fraction(last.turn), shows=last.shows))


def _between(found: _Found) -> Check:
    if found.least is None:
        return _check("least", None, say("tightening.least-open"))
    if found.wet is None:
        return _check("least", None, say("tightening.least-first", turn=fraction(found.least)))
    return _check("least", True, say("tightening.least-says", wet=fraction(found.wet), turn=fraction(found.least)))


def _more(worse: float | None, found: _Found) -> list[Check]:
    """That more turning made it worse: it stands against a joint that is not dry, and is told of one that is."""
    met = None if found.least is not None else False
    return [] if worse is None else [_check("worse", met, say("tightening.worse-says", turn=fraction(worse)))]


def _wrench(sheet: TighteningSheet, by_torque: bool | None) -> list[Check]:
    wrench = sheet.torque_wrench
    if wrench is None or by_torque is None:
        return []
    form = "tightening.wrench-says" if by_torque else "tightening.wrench-not"
    facts = {"wanted": wrench.wanted, "lowest": wrench.lowest_told, "reach": wrench.range}
    return [_check("wrench", by_torque or None, say(form, **facts))]  # the turn is the measure then


def _says(answer: str, steps: list[Step], found: _Found, worse: float | None, spent: Step | None) -> Said:
    if spent is not None:
        return say("tightening.spent-says", turn=fraction(spent.turn), pressure=spent.pressure)
    if steps and answer == "cannot-tell" and steps[-1].dry:
        return say("tightening.ungripped", turn=fraction(steps[-1].turn))
    if answer == "found" and found.least is not None:
        if found.wet is None:
            return say("tightening.found-first", turn=fraction(found.least))
        return say("tightening.found", wet=fraction(found.wet), turn=fraction(found.least))
    if answer == "not-dry":
        form = "tightening.apart" if worse is not None else "tightening.not-dry"
        return say(form, turn=fraction(steps[-1].turn), shows=steps[-1].shows)
    return say("tightening.cannot-tell" if steps else "tightening.untried")


def _settle(answer: str, found: _Found, steps: list[Step], grip: float, spent: Step | None) -> list[Sentence]:
    ways: list[Sentence] = []
    if spent is not None:
        return [say("tightening.settle-new")]
    if answer == "cannot-tell" and steps and steps[-1].dry:
        return [say("tightening.settle-grip", grip=fraction(grip))]
    if answer == "found" and found.wet is None:
        ways.append(say("tightening.settle-less"))
    if answer == "found" and not found.margin:
        ways.append(say("tightening.settle-margin"))
    if answer != "found" and steps:
        ways.append(say("tightening.settle-on" if steps[-1].shows != "dry" else "tightening.settle-up"))
    return ways
