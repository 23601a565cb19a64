"""What would settle a hold that cannot be told, in numbers."""

from dataclasses import replace

from toadbell.core import units
from toadbell.core.judge.answers import JudgeAnswer
from toadbell.core.judge.detectability import CERTAIN, Guess, Kit, leak_sd

THERMOMETERS = (0.1, 0.02)
"""Thermometers that can be had, by what they resolve, K."""


def settle_it(answer: JudgeAnswer, sd: float, every: float, kit: Kit, guess: Guess) -> list[str]:
    """Ways to an answer, each with its figures; none where there is one.

    sd, every  of the hold so far: 1 σ of the leak, m³/s, and s between readings
    guess      what is not known, as far as the log has told it
    """
    if answer.verdict != "cannot-tell":
        return []
    found = []
    if answer.more_hold_needed:
        found.append(f"Hold for {_long(answer.more_hold_needed)} more.")
    away = abs(answer.limit - answer.leak.estimate)
    found += _thermometer(answer, every, kit, guess, away)
    finer = replace(kit, gauge=kit.gauge / 5)
    if not _tells(answer, every, kit, guess, away, sd) and _tells(answer, every, finer, guess, away, sd, kit):
        found.append(f"A gauge on which {units.write(finer.gauge, 'pressure', figures=2)} can be told apart would tell in the same time.")
    if not found:
        found.append(
            "A longer hold alone will not tell. Hold again in a steadier place, shaded and out of the draught, with a thermometer on the wall."
        )
    return found


def _long(time: float) -> str:
    """A length of time as a person says it: in minutes up to two hours, then in hours."""
    return units.write(time, "time", "min", figures=3) if time <= 7200 else units.write(time, "time", "h", figures=2)


def _thermometer(answer: JudgeAnswer, every: float, kit: Kit, guess: Guess, away: float) -> list[str]:
    """The first thermometer with which the same hold would tell; at least that one is needed where there is none."""
    better = [step for step in THERMOMETERS if kit.thermometer is None or step < kit.thermometer]
    for step in better:
        if CERTAIN * leak_sd(answer.hold, every, replace(kit, thermometer=step)) <= away:
            return [f"A thermometer that shows {step:g} °C, on the wall under foam or in the water, would tell in the same time."]
    if kit.thermometer is None:
        return ["Read the water's temperature: without it, cooling or warming cannot be told from a leak."]
    return []


def _tells(answer: JudgeAnswer, every: float, kit: Kit, guess: Guess, away: float, sd: float, now: Kit | None = None) -> bool:
    scale = sd / leak_sd(answer.hold, every, now or kit, guess)
    return CERTAIN * scale * leak_sd(answer.hold, every, kit, guess) <= away
