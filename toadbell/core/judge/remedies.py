"""What would settle a hold that cannot be told, in numbers."""

from dataclasses import replace

from toadbell.core.judge.answers import JudgeAnswer
from toadbell.core.judge.detectability import CERTAIN, Guess, Kit, leak_sd
from toadbell.core.phrases import Said, say

THERMOMETERS = (0.1, 0.02)
"""Thermometers that can be had, by what they resolve, K."""


def settle_it(answer: JudgeAnswer, sd: float, every: float, kit: Kit, guess: Guess) -> list[Said]:
    """Ways to an answer, each with its figures; none where there is one.

    sd, every  of the hold so far: 1 σ of the leak, m³/s, and s between readings
    guess      what is not known, as far as the log has told it
    """
    if answer.verdict != "cannot-tell":
        return []
    found = []
    if answer.more_hold_needed:
        found.append(say("hold.hold-on", more=answer.more_hold_needed))
    away = abs(answer.limit - answer.leak.estimate)
    found += _thermometer(answer, every, kit, guess, away)
    finer = replace(kit, gauge=kit.gauge / 5)
    if not _tells(answer, every, kit, guess, away, sd) and _tells(answer, every, finer, guess, away, sd, kit):
        found.append(say("hold.finer-gauge", step=finer.gauge))
    if not found:
        found.append(say("hold.steadier"))
    return found


def _thermometer(answer: JudgeAnswer, every: float, kit: Kit, guess: Guess, away: float) -> list[Said]:
    """The first thermometer with which the same hold would tell; at least that one is needed where there is none."""
    better = [step for step in THERMOMETERS if kit.thermometer is None or step < kit.thermometer]
    for step in better:
        if CERTAIN * leak_sd(answer.hold, every, replace(kit, thermometer=step)) <= away:
            return [say("hold.thermometer", step=step)]
    if kit.thermometer is None:
        return [say("hold.read-temperature")]
    return []


def _tells(
    answer: JudgeAnswer, every: float, kit: Kit, guess: Guess, away: float, sd: float, now: Kit | None = None
) -> bool:
    scale = sd / leak_sd(answer.hold, every, now or kit, guess)
    return CERTAIN * scale * leak_sd(answer.hold, every, kit, guess) <= away
