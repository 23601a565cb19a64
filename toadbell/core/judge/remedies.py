"""What would settle a hold that cannot be told, in numbers."""

from dataclasses import dataclass, replace

from toadbell.core.judge.answers import JudgeAnswer
from toadbell.core.judge.detectability import CERTAIN, Guess, Kit, LowHolds, leak_sd
from toadbell.core.phrases import Said, say

USUAL: Guess = {}
"""Of a hold with another thermometer nothing is known yet: it is taken to be as most are."""
THERMOMETERS = (0.1, 0.02)
"""Thermometers that can be had, by what they resolve, K."""


@dataclass(frozen=True)
class SoFar:
    """A hold as it stands, for what more would tell.

    sd, every  1 σ of its leak, m³/s, and s between readings
    kit        it was read with
    guess      what is not known, as far as the log has told it
    low        low holds beside it; None where there were none
    """

    sd: float
    every: float
    kit: Kit
    guess: Guess
    low: LowHolds | None = None


def settle_it(answer: JudgeAnswer, so_far: SoFar, *, offer_low: bool) -> list[Said]:
    """Ways to an answer, each with its figures; none where there is one.

    offer_low  low holds may be among them
    """
    if answer.verdict != "cannot-tell":
        return []
    found = []
    if answer.more_hold_needed:
        found.append(say("hold.hold-on", more=answer.more_hold_needed))
    away = abs(answer.limit - answer.leak.estimate)
    if offer_low:
        found += _low_holds(answer, so_far, away)
    if so_far.kit.medium.weather:
        found.append(say("hold.read-barometer"))
    found += _thermometer(answer, so_far, away)
    finer = replace(so_far.kit, gauge=so_far.kit.gauge / 5)
    if not _tells(answer, so_far, so_far, away) and _tells(answer, so_far, replace(so_far, kit=finer), away):
        if answer.level_scale is None:
            found.append(say("hold.finer-gauge", step=finer.gauge))
        else:
            found.append(say("hold.finer-level", step=finer.gauge * answer.level_scale))
    if not found:
        found.append(say("hold.steadier"))
    return found


def _low_holds(answer: JudgeAnswer, so_far: SoFar, away: float) -> list[Said]:
    """A low hold after such a hold, or one on both sides, where that would tell."""
    had = so_far.low or LowHolds(before=False, after=False)
    if had.before and had.after:
        return []
    after, both = replace(had, after=True), replace(had, before=True, after=True)
    for planned in (after, both):
        if _tells(answer, so_far, replace(so_far, low=planned), away):
            form = "hold.low-hold-after" if planned is after else "hold.low-holds-both"
            return [say(form, long=planned.long, at=planned.part * so_far.kit.medium.vessel.pressure)]
    return []


def _thermometer(answer: JudgeAnswer, so_far: SoFar, away: float) -> list[Said]:
    """The first thermometer with which the same hold would tell; at least that one is needed where there is none."""
    kit = so_far.kit
    better = [step for step in THERMOMETERS if kit.thermometer is None or step < kit.thermometer]
    for step in better:
        if CERTAIN * leak_sd(answer.hold, so_far.every, replace(kit, thermometer=step), USUAL, so_far.low) <= away:
            return [say("hold.thermometer", step=step)]
    if kit.thermometer is None:
        return [say("hold.read-temperature")]
    return []


def _tells(answer: JudgeAnswer, now: SoFar, then: SoFar, away: float) -> bool:
    """Would a hold as it would be then tell, by how much it tells now?"""

    def spread(one: SoFar) -> float:
        return leak_sd(answer.hold, one.every, one.kit, one.guess, one.low)

    return CERTAIN * now.sd / spread(now) * spread(then) <= away
