"""A run's own readings as they came, kept by this process: a look asks for what is new, and not for all again."""

from __future__ import annotations

import datetime
import threading
import uuid
from array import array
from bisect import bisect_left
from dataclasses import dataclass, field

from toadbell.core.judge.lifts import Lift, lifts_in
from toadbell.trials.database_stamp import of_this_database
from toadbell.trials.models import Trial

SURE_AFTER = 120.0
"""A lift so long ago is over, and what came since says nothing other of it, s."""
MOST = 16
"""So many runs are kept at a time."""


@dataclass
class KeptLog:
    """Readings in order of time: s from the run's beginning, Pa gauge, K (NaN where it was not read)."""

    began: datetime.datetime
    times: array[float] = field(default_factory=lambda: array("d"))
    pressures: array[float] = field(default_factory=lambda: array("d"))
    temperatures: array[float] = field(default_factory=lambda: array("d"))
    last: datetime.datetime | None = None
    lifts: list[Lift] = field(default_factory=list)
    looked: tuple[int, float] = (0, 0.0)

    def __len__(self) -> int:
        return len(self.times)

    def since(self, moment: datetime.datetime) -> int:
        """Where the readings since a moment begin."""
        return bisect_left(self.times, (moment - self.began).total_seconds() - 1e-6)

    def all_lifts(self, step: float) -> list[Lift]:
        """The lifts of a relief valve in it, by the smallest step of its gauge, Pa: looked for in what is new, and a
        little before.
        """
        with _one_at_a_time:
            return self._all_lifts(step)

    def _all_lifts(self, step: float) -> list[Lift]:
        upto, by = self.looked
        if by != step or upto > len(self):
            self.lifts, upto = [], 0
        if upto < len(self):
            sure = (self.times[upto - 1] if upto else 0.0) - SURE_AFTER
            begin = bisect_left(self.times, sure - SURE_AFTER)
            fresh = lifts_in(self.times[begin:], self.pressures[begin:], step)
            before = [one for one in self.lifts if one.time < sure]
            self.lifts = [*before, *(one for one in fresh if one.time >= sure)] if upto else fresh
            self.looked = len(self), step
        return self.lifts

    def add(self, at: datetime.datetime, pressure: float, temperature: float | None) -> None:
        """A reading after all that are here."""
        self.times.append((at - self.began).total_seconds())
        self.pressures.append(pressure)
        self.temperatures.append(float("nan") if temperature is None else temperature)
        self.last = at


_kept: dict[tuple[object, uuid.UUID], KeptLog] = {}
_one_at_a_time = threading.Lock()


def kept_log(trial: Trial) -> KeptLog:
    """The readings of a run, whoever took them in but a file's; read anew where one came late."""
    with _one_at_a_time:  # two looks at once would each add what is new
        return _up_to_date(trial)


def _up_to_date(trial: Trial) -> KeptLog:
    key = (of_this_database(), trial.pk)
    rows = trial.readings.filter(imported=None).order_by("at")
    of_files = trial.files.exists()  # without them the index alone counts
    count, found = rows.count() if of_files else trial.readings.count(), _kept.get(key)
    if found is not None and len(found) == count and found.began == _began(trial):
        return found
    if found is not None and found.last is not None and found.began == _began(trial):
        fresh = list(rows.filter(at__gt=found.last).values_list("at", "pressure", "temperature"))
        if len(found) + len(fresh) == count:
            for one in fresh:
                found.add(*one)
            return found
    found = KeptLog(_began(trial))
    for one in rows.values_list("at", "pressure", "temperature").iterator(5000):
        found.add(*one)
    if len(_kept) >= MOST:
        _kept.pop(next(iter(_kept)))
    _kept[key] = found
    return found


def _began(trial: Trial) -> datetime.datetime:
    return trial.started_at or trial.planned_at
