"""The gas-head trial: a digester or gas-holder blown up to one and a half times the head of its gas, left till its
temperature has settled, and watched for hours.

Pressure by a column of water; of a drum or a bag that keeps its pressure the level tells what is lost. The outer air's
pressure matters at so little: a barometer read along is worth more than a finer column.
"""

import datetime
from collections.abc import Sequence
from dataclasses import replace

from toadbell.core.phrases import Said, say
from toadbell.core.procedures.procedure import Observation
from toadbell.core.procedures.proof import PROOF
from toadbell.core.run.phases import Entry

GAS_HEAD = replace(
    PROOF,
    id="gas-head",
    proves="tightness",
    kinds=frozenset({"digester", "sheet-tank"}),
    observes=(
        Observation("pressure", "pressure"),
        Observation("gas temperature", "temperature"),
        Observation("barometer", "pressure", instrument="barometer"),
        Observation("outside temperature", "temperature", instrument="outside"),
        Observation("level of drum or bag", "length", instrument="gas-level"),
        Observation("soap map", "words", instrument="soap"),
    ),
    before={"sheet-tank": ("gas-free",)},
)
BREATHES = 1.25
"""Shut in for hours a gas head goes up with the day: to so much of its target it is no overshoot of the pump's."""
LOWEST_AIR, HIGHEST_AIR = 5e4, 1.1e5
"""The outer air's pressure is between these wherever people live, Pa absolute."""


def contradicts(what: str, value: float | None) -> Said | None:
    """Why a figure cannot be; None where it can. SI."""
    if value is None:
        return say("step.gas-figure")
    if what == "barometer" and not LOWEST_AIR <= value <= HIGHEST_AIR:
        return say("step.gas-barometer", least=LOWEST_AIR, most=HIGHEST_AIR)
    if what == "outside" and not 223.15 <= value <= 333.15:
        return say("step.gas-outside")
    return None


def course_of(entries: Sequence[Entry], what: str) -> list[tuple[datetime.datetime, float]]:
    """What an instrument showed over the run, oldest first: when, and how much, SI."""
    return [
        (entry.at, float(entry.data["value"]))
        for entry in entries
        if entry.kind == "observed" and entry.data.get("what") == what and entry.data.get("value") is not None
    ]
