"""Is a hold of a rig that is said to be tight a baseline at all?

One that surely leaks would hide every leak that is held against it. Source: procedures, baseline.
"""

from toadbell.core.judge.answers import JudgeAnswer
from toadbell.core.phrases import Said, say

SHOWS = 0.1
"""A leak that is certain and moved the gauge by less than such a part of its step is next to none."""


def no_baseline(told: JudgeAnswer, step: float | None) -> Said | None:
    """Why it is none: it leaks for certain, or fell by more than the gauge's step (Pa) with the warmth taken out; None
    where it may be one.
    """
    next_to_none = 0.0 if step is None else SHOWS * step * told.compliance / told.hold
    if told.verdict == "leaking" or told.leak.low > next_to_none:
        return say("alike.leaks", low=told.leak.low)
    fell = told.drop - (told.drop_from_temperature or 0.0)
    if step is not None and fell > step * (1 + 1e-6):
        return say("alike.fell", by=fell, step=step)
    return None
