"""What articles taken to failure prove of their design: the burst factor, with what so few of them can tell.

With three or more the lower bound under which one in ten lies, with 95 % confidence, by the non-central t, and never
by less scatter than such articles are known for; fewer prove nothing. Ways of failing are not mixed, an article counts
once, and what departs from its design tells nothing of it. Of several checks the worst is the answer. Source:
procedures, burst; one-sided tolerance limits of a normal law, its σ known or not.
"""

import math
import statistics
from dataclasses import dataclass
from typing import Literal

from toadbell.core.answers import Answer
from toadbell.core.judge.checks import Check, state_of
from toadbell.core.phrases import Said, Sentence, of_scale, say
from toadbell.core.physics.materials import NOT_METAL
from toadbell.core.sheets.burst import Article, BurstSheet

CONTENT, CONFIDENCE = 0.9, 0.95
"""So much of all that are made lies above the bound, with such confidence."""
ENOUGH = 3
"""From so many articles on the bound is reckoned; of fewer the lowest, less a tenth."""
THIN = 0.9
SCATTER, LAY_UP_SCATTER = 0.06, 0.12
"""However alike they failed, they scatter by such a part, 1 σ: of a metal, and of a lay-up or what nobody said."""
FELICITY = 0.95
"""Heard on a reloading below such a part of the highest before, a lay-up was damaged by it; ASTM E1118 practice."""
FAR_UNDER, TOO_FAR_UNDER = 0.8, 2 / 3
"""Failed under such a part of what is expected, something in it is not as it was reckoned: nothing is proven; under the
second it does not bear what it should.
"""
Z_CONTENT, Z_CONFIDENCE = 1.2815515655446004, 1.6448536269514722
"""Standard deviations below the mean under which one in ten lies, and one in twenty."""


class ArticleTold(Answer):
    """An article as it counts: pressures Pa; factor on the wanted pressure.

    whole     it did not fail: it counts as if it had at the highest it saw
    felicity  first noise over the highest pressure before; null where it had none before, or was silent
    """

    name: str
    counts: float
    whole: bool
    mode: str | None
    place: str
    factor: float
    felicity: float | None


class BurstAnswer(Answer):
    """What a design's articles prove. Pressures Pa.

    answer   met, not-met or cannot-tell: do they bear what is asked?
    bound    under which one in ten lies at the most; of fewer than three the lowest less a tenth; null of none
    factor   bound over the wanted pressure; lowest  the least that failed
    thin     there are too few for a bound
    """

    answer: Literal["met", "not-met", "cannot-tell"]
    wanted: float
    asked: float
    expected: float | None
    lowest: float | None
    mean: float | None
    spread: float | None
    bound: float | None
    factor: float | None
    thin: bool
    articles: list[ArticleTold]
    says: Sentence
    settle_it: list[Sentence]
    checks: list[Check]


@dataclass(frozen=True)
class _Counted:
    """What the articles come to, Pa."""

    lowest: float
    mean: float
    spread: float | None
    bound: float


def judge_burst(sheet: BurstSheet) -> BurstAnswer:
    """What the articles of a design prove against what is asked of them."""
    with of_scale(sheet.wanted * sheet.asked):
        return _judged(sheet)


def tolerance_factor(count: int) -> float:
    """How many standard deviations of so many articles the bound lies under their mean.

    >>> round(tolerance_factor(3), 3), round(tolerance_factor(10), 3)
    (6.155, 2.355)
    """
    from scipy.special import nctdtrit  # asked for when something was burst: it is slow to begin with

    root = math.sqrt(count)
    return float(nctdtrit(count - 1, Z_CONTENT * root, CONFIDENCE)) / root


def _judged(sheet: BurstSheet) -> BurstAnswer:
    counted = _once([one for one in sheet.articles if one.departs is None])
    sheet = sheet.model_copy(update={"articles": counted + [one for one in sheet.articles if one.departs is not None]})
    told = [_told(one, sheet.wanted) for one in counted]
    scatter = SCATTER if sheet.material is not None and sheet.material not in NOT_METAL else LAY_UP_SCATTER
    found = _counted(told, scatter)
    factor = None if found is None else found.bound / sheet.wanted
    alike = _alike(told)
    failures = len(alike)
    thin = failures < ENOUGH
    checks = [
        _borne(sheet, told, found, factor),
        *_departs(sheet),
        _number(failures),
        *_modes(told, alike),
        *_leaks(sheet),
        *_noises(told),
        *_against_expected(sheet, told),
    ]
    states = {one.state for one in checks}
    answer: Literal["met", "not-met", "cannot-tell"] = (
        "not-met" if "not met" in states else "cannot-tell" if "not known" in states else "met"
    )
    return BurstAnswer(
        answer=answer,
        wanted=sheet.wanted,
        asked=sheet.asked,
        expected=sheet.expected,
        lowest=found.lowest if found else None,
        mean=found.mean if found else None,
        spread=found.spread if found else None,
        bound=found.bound if found else None,
        factor=factor,
        thin=thin,
        articles=told,
        says=_says(answer, sheet, found, factor, len(told), checks),
        settle_it=_settle(answer, sheet, told),
        checks=checks,
    )


def _told(one: Article, wanted: float) -> ArticleTold:
    counts = one.highest if one.failed is None else one.failed
    heard = one.noise is not None and one.before is not None
    return ArticleTold(
        name=one.name,
        counts=counts,
        whole=one.failed is None,
        mode=one.mode,
        place=one.place,
        factor=counts / wanted,
        felicity=one.noise / one.before if heard and one.noise and one.before else None,
    )


def _once(articles: list[Article]) -> list[Article]:
    """Each article once, by its name, as the worst that was told of it."""
    found: dict[str, Article] = {}
    for one in articles:
        name = one.name.strip().casefold()
        known = found.get(name)
        if known is None or (one.failed or one.highest) < (known.failed or known.highest):
            found[name] = one
    return list(found.values())


def _alike(told: list[ArticleTold]) -> list[ArticleTold]:
    """Those that failed as the lowest of them did: another way of failing is another law."""
    failed = sorted((one for one in told if not one.whole), key=lambda one: one.counts)
    return [one for one in failed if one.mode == failed[0].mode]


def _counted(told: list[ArticleTold], scatter: float) -> _Counted | None:
    """What they come to. Only those that failed tell how far they scatter, and those that failed as the lowest did; one
    let go whole only lowers the lowest.

    scatter  that they have at the least, as a part, 1 σ
    """
    if not told:
        return None
    failed, lowest = [one.counts for one in _alike(told)], min(one.counts for one in told)
    mean = statistics.fmean(failed or [lowest])
    usual = mean * (1 - (Z_CONTENT + Z_CONFIDENCE / math.sqrt(max(1, len(failed)))) * scatter)
    if len(failed) < ENOUGH:
        return _Counted(lowest, mean, None, max(0.0, min(THIN * lowest, usual)))
    spread = statistics.stdev(failed)
    bound = min(usual, mean - tolerance_factor(len(failed)) * spread, lowest)
    return _Counted(lowest, mean, max(spread, scatter * mean), max(0.0, bound))


def _check(code: str, met: bool | None, says: Said) -> Check:
    return Check(code=code, name=say(f"burst.{code}"), state=state_of(met), says=says)


def _borne(sheet: BurstSheet, told: list[ArticleTold], found: _Counted | None, factor: float | None) -> Check:
    if found is None or factor is None:
        return _check("factor", None, say("burst.factor-none"))
    lowest = min(told, key=lambda one: one.factor)
    failed_low = any(not one.whole and one.factor < sheet.asked * (1 - 1e-9) for one in told)
    met = False if failed_low else True if factor >= sheet.asked * (1 - 1e-9) else None
    form = "burst.factor-whole" if lowest.whole else "burst.factor-says"
    return _check("factor", met, say(form, lowest=lowest.factor, bound=factor, asked=sheet.asked))


def _number(count: int) -> Check:
    return _check("number", True if count >= ENOUGH else None, say("burst.number-says", count=count, enough=ENOUGH))


def _modes(told: list[ArticleTold], alike: list[ArticleTold]) -> list[Check]:
    """That they failed in one way: told where they did not, or where nobody said how."""
    failed = [one for one in told if not one.whole]
    if failed and alike[0].mode is None:
        return [_check("modes", None, say("burst.modes-unsaid"))]
    if len(alike) == len(failed):
        return []
    says = say("burst.modes-says", count=len(alike), all=len(failed), mode=alike[0].mode)
    return [_check("modes", None if len(alike) < ENOUGH else True, says)]


def _departs(sheet: BurstSheet) -> list[Check]:
    """Articles that are not of the design: they were burst, and tell nothing of it."""
    other = [one for one in sheet.articles if one.departs is not None]
    return [_check("design", None, say("burst.departs", name=one.name, departs=one.departs)) for one in other[:1]]


def _leaks(sheet: BurstSheet) -> list[Check]:
    """Of each that leaked before it failed, that it did so above what it is to work at."""
    leaked = [(one.leak, one.name) for one in sheet.articles if one.leak is not None and one.departs is None]
    if not leaked:
        return []
    at, name = min(leaked)
    met = at > sheet.wanted
    return [_check("leak", met, say("burst.leak-says" if met else "burst.leak-low", at=at, name=name))]


def _noises(told: list[ArticleTold]) -> list[Check]:
    """Of each that was heard on a reloading, whether the loading before had damaged it."""
    heard = [one for one in told if one.felicity is not None]
    if not heard:
        return []
    worst = min(heard, key=lambda one: one.felicity or 0.0)
    ratio = worst.felicity or 0.0
    met = ratio >= FELICITY
    return [
        _check(
            "felicity", met, say("burst.felicity-says" if met else "burst.felicity-low", ratio=ratio, name=worst.name)
        )
    ]


def _against_expected(sheet: BurstSheet, told: list[ArticleTold]) -> list[Check]:
    """Of those that failed, how near the lowest came to what is expected; one let go whole failed nothing."""
    lowest = min((one.counts for one in told if not one.whole), default=None)
    if sheet.expected is None or lowest is None:
        return []
    part = lowest / sheet.expected
    form = "burst.expected-under" if part < FAR_UNDER else "burst.expected-says"
    met = False if part < TOO_FAR_UNDER else None if part < FAR_UNDER else True
    return [_check("expected", met, say(form, lowest=lowest, expected=sheet.expected, part=part))]


def _says(
    answer: str, sheet: BurstSheet, found: _Counted | None, factor: float | None, count: int, checks: list[Check]
) -> Said:
    """The answer in words: by the factor where that decides it, else by the check that does."""
    if found is None or factor is None:
        return say("burst.none")
    facts = {"count": count, "factor": factor, "lowest": found.lowest, "asked": sheet.asked, "wanted": sheet.wanted}
    deciding = [one for one in checks if one.state == ("not met" if answer == "not-met" else "not known")]
    if answer == "met" or deciding[0].code == "factor":
        return say(f"burst.{answer}-thin" if answer == "cannot-tell" and _few(checks) else f"burst.{answer}", **facts)
    return (
        say("burst.few", **facts) if deciding[0].code == "number" else say(f"burst.{answer}-why", why=deciding[0].says)
    )


def _few(checks: list[Check]) -> bool:
    return any(one.code == "number" and one.state == "not known" for one in checks)


def _settle(answer: str, sheet: BurstSheet, told: list[ArticleTold]) -> list[Sentence]:
    if answer != "cannot-tell":
        return []
    ways: list[Sentence] = [say("burst.settle-more" if told else "burst.settle-first")]
    if any(one.whole and one.factor < sheet.asked for one in told):
        ways.append(say("burst.settle-on"))
    lowest = min((one.counts for one in told), default=None)
    if lowest is not None:
        ways.append(say("burst.settle-less", most=THIN * lowest / sheet.asked))
    return ways
