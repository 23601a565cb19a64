"""What is read of a gas holder beside its gauge: barometer, outside temperature, and the level of a drum or a bag."""

import datetime
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.plan.bases import holder_of
from toadbell.core.procedures.gas_head import course_of
from toadbell.trials.models import Trial
from toadbell.trials.plan.frozen import Plan, plan_of

Span = tuple[datetime.datetime, datetime.datetime]


class Held(NamedTuple):
    """A reading of the hold: when, Pa, K, and who read it."""

    at: datetime.datetime
    pressure: float
    temperature: float | None
    source: tuple[Any, ...]


BARE = datetime.timedelta(hours=1)
"""At its ends a hold may be so long without what is read along, or a tenth of it: more would be guessed."""
JUST_BEFORE = datetime.timedelta(minutes=2)


@dataclass(frozen=True)
class Beside:
    """What each instrument showed over a run, oldest first, SI."""

    courses: dict[str, list[tuple[datetime.datetime, float]]] = field(default_factory=dict)

    @property
    def count(self) -> int:
        """How much there is of it."""
        return sum(len(course) for course in self.courses.values())

    def along(self, what: str, readings: Sequence[Held]) -> Array | None:
        """An instrument's figures at each reading, straight between its own; None where it was read less than twice, or
        not as far as the readings go.
        """
        course, first, last = self.courses.get(what, []), readings[0].at, readings[-1].at
        bare = max(BARE, (last - first) / 10)
        if len(course) < 2 or course[0][0] > first + bare or course[-1][0] < last - bare:
            return None
        return np.interp(
            [(one.at - first).total_seconds() for one in readings],
            [(at - first).total_seconds() for at, _ in course],
            [value for _, value in course],
        )


def by_its_level(plan: Plan) -> bool:
    """Is what is lost told by a level: of a drum or a bag that keeps its pressure?"""
    holder = holder_of(plan.sheet, plan.answer.basis)
    return holder is not None and holder.level_tells


def beside_of(trial: Trial) -> Beside:
    """What was read beside the gauge of a gas holder; nothing of any other trial."""
    plan = plan_of(trial)
    holder = holder_of(plan.sheet, plan.answer.basis)
    if holder is None:
        return Beside()
    events = trial.effective_events()
    kept = ("barometer", "outside", *(("gas-level",) if holder.level_tells else ()))
    return Beside({what: course_of(events, what) for what in kept})


def by_level(trial: Trial, held: list[Held], span: Span | None) -> list[Held]:
    """The readings of a hold; of a drum or a bag one for each time its level was read, with what the gauge and the
    thermometer showed about then.
    """
    levels = beside_of(trial).courses.get("gas-level")
    if not levels or not held or span is None:
        return held
    first = held[0].at

    def seconds(at: datetime.datetime) -> float:
        return (at - first).total_seconds()

    inside = [at for at, _ in levels if span[0] - JUST_BEFORE <= at <= span[1]]
    warm = [(seconds(one.at), one.temperature) for one in held if one.temperature is not None]

    def read(at: datetime.datetime) -> Held:
        pressure = np.interp(seconds(at), [seconds(one.at) for one in held], [one.pressure for one in held])
        temperature = np.interp(seconds(at), [t for t, _ in warm], [w for _, w in warm]) if len(warm) > 1 else None
        return Held(at, float(pressure), None if temperature is None else float(temperature), held[0].source)

    return [read(at) for at in inside]
