"""What the judge answers: a hold's verdict, its points to draw, and fitness.

SI numbers under keys that name no unit; not known is null.
"""

import datetime
from typing import Literal

from pydantic import Field

from toadbell.core.answers import Answer
from toadbell.core.lines import Line
from toadbell.core.phrases import Sentence

Fitness = Literal["fit", "limited", "tight", "not fit", "not proven"]
"""What a vessel is fit for; `tight` claims no strength."""


class LeakEstimate(Answer):
    """A leak and its 95 % band, m³/s.

    from_none  the band begins so far under the limit that its low end is told as none
    """

    estimate: float
    low: float
    high: float
    from_none: bool = False


class AcceptanceCheck(Answer):
    """The chosen acceptance and its own plain answer; null where it cannot be worked out."""

    acceptance: str
    met: bool | None


class HoldPoint(Answer):
    """Readings of the hold, taken together where they are many: s; Pa as read; K.

    corrected is Pa with the temperature taken out, null where none was read; fit, low and high are what the leak alone
    and
    its 95 % band make of the first pressure; limit what the limit would; cut: the point was left out of the judgement.
    """

    time: float
    pressure: float
    corrected: float | None
    fit: float | None
    low: float | None
    high: float | None
    limit: float | None
    temperature: float | None
    cut: bool = False


class StepFound(Answer):
    """Something in the log that is no leak going on: s from its beginning, Pa, downwards negative.

    kind  "jump": all later readings stand higher or lower; "reading": one stands apart
    put_back  a person said that it is none, and it was judged with the rest
    """

    kind: Literal["jump", "reading"]
    time: float
    by: float
    says: Sentence
    put_back: bool = False


class LowHold(Answer):
    """A low hold beside the test hold: from when to when on the test hold's clock, s; shut in at Pa; what it fell by,
    Pa; and what such a drift does to the test hold, Pa/s, upwards positive.
    """

    began: float
    ended: float
    pressure: float
    fell: float
    drift: float = 0.0


class JudgeAnswer(Answer):
    """What a hold proves. Leaks m³/s, pressures Pa, times s.

    leak        at shut-in, when the pressure was highest, with its 95 % band
    confidence  probability that the leak at shut-in is no more than the limit
    held_at     lowest pressure of the stretch that is judged: the one the verdict speaks for, Pa; null in answers of
                before
    laws        how probable it is that the leak goes on steadily, shuts below the test pressure, or began during the
                hold
    pressure_rate, drops_a_minute  of the mean leak where it leaks, else of the most that it may be; Pa/s, 1/min
    low_holds   that were judged along with the test hold; left out where there was none
    smallest_alone  smallest leak that the test hold alone could tell, m³/s; left out without low holds
    by_day      a leak is told by the day, as of a gas holder; left out where it is not
    outer_air   by how much the outer air rose over a hold of gas, Pa, taken out of `drop`; left out where not read
    level_scale  metres of level that a pascal of drop and steps stands for, where gas is held by its level; else left
                 out
    of_make     at most such a part of the gas that the digester makes is lost; left out where that is not known
    kelvin_to_explain  change of the water's temperature that would make the same drop, cooling positive; null where
                       unknown
    """

    verdict: Literal["tight", "leaking", "cannot-tell"]
    low_holds: list[LowHold] = Field(default=[], exclude_if=lambda value: not value)
    smallest_alone: float | None = Field(default=None, exclude_if=lambda value: value is None)
    leak: LeakEstimate
    limit: float
    confidence: float
    school: AcceptanceCheck
    drop: float
    drop_from_temperature: float | None
    hold: float
    smallest_leak_to_tell: float
    more_hold_needed: float | None
    signature: Literal["steady", "settling", "thermal", "step", "none"]
    steps: list[StepFound]
    excluded_until: float
    compliance: float
    compliance_from: Literal["measured", "computed"]
    pressure_rate: float
    drops_a_minute: float
    kelvin_to_explain: float | None
    readings: int
    by_day: bool = Field(default=False, exclude_if=lambda value: not value)
    outer_air: float | None = Field(default=None, exclude_if=lambda value: value is None)
    level_scale: float | None = Field(default=None, exclude_if=lambda value: value is None)
    of_make: float | None = Field(default=None, exclude_if=lambda value: value is None)
    held_at: float | None = None
    laws: dict[str, float] = {}
    says: Sentence
    seen_says: Sentence = ""
    school_says: Sentence | None
    settle_it: list[Sentence]
    notes: list[Sentence]
    lines: list[Line]


class Evidence(Answer):
    """One line of the ledger, what it rests on, where that is to be seen, and the lines of working where it is a
    sum.

    asked  its kind is never fit without it
    """

    code: str = ""
    name: Sentence
    asked: bool = False
    state: Literal["met", "not met", "not known"]
    says: Sentence
    rests_on: Literal["vessel", "plan", "kit", "bench", "hold"] = "plan"
    lines: list[Line] = []


LineState = Literal["met", "not met", "not known", "lapsed", "voided"]
"""How a line of a vessel's programme stands today."""


class LedgerLine(Answer):
    """A line of a vessel's programme as it stands today.

    asked       without it the vessel is never fit; otherwise it is advised
    on, until   the day of what it rests on, and the day on which that lapses
    before_use  it is done anew before each use
    trial       that it rests on
    overruled   the reason for which a person went further than it
    basis       of the trial that answers it, "" the kind's own; write: the happening that does
    """

    code: str
    name: Sentence
    asked: bool
    state: LineState
    says: Sentence
    on: datetime.date | None = None
    until: datetime.date | None = None
    before_use: bool = False
    trial: str | None = None
    overruled: str = ""
    basis: str | None = None
    write: str | None = None


class TrialOffer(Answer):
    """A kind of trial that a vessel may be put to: the basis it is planned with, its name and what it proves."""

    basis: str
    name: Sentence
    proves: Sentence


class LedgerAnswer(Answer):
    """What a vessel may be used at today, Pa, why that is not as it was decided, and what is to be done next.

    next   code of the line that is to be seen to next; plan: basis of the trial that is asked for first, if any is
    trial  whose decision counts
    cold   what it may see by its proof, whatever its steam trial found, Pa; None where it may see nothing
    cold_why  why it may see nothing, or less
    """

    answer: Fitness
    pressure: float | None
    says: Sentence
    why: Sentence
    next_says: Sentence
    next: str | None
    plan: str | None
    lines: list[LedgerLine]
    offers: list[TrialOffer]
    trial: str | None
    cold: float | None = None
    cold_why: Sentence = ""


class TagNow(Answer):
    """What of a decision still stands: tag, pressure Pa, and why it is less than was decided ("" where it is not)."""

    fitness: Fitness
    pressure: float | None
    says: Sentence


class NextDate(Answer):
    """What is due next and by when; `on` is null where it is not a date but an occasion, which `says` names."""

    what: str
    on: datetime.date | None
    says: Sentence


class FitnessAnswer(Answer):
    """What the evidence adds up to; pressures Pa."""

    answer: Fitness
    pressure: float | None
    says: Sentence
    evidence: list[Evidence]
    relief_at_most: float | None
    next_proof: datetime.date | None
    next_dates: list[NextDate] = []
    lines: list[Line]
