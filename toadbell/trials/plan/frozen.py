"""The frozen plan of a trial, read once for each habit of reading and kept at hand while it is run."""

from typing import NamedTuple

from toadbell.core.answers import DeriveAnswer
from toadbell.core.documents import read_plan
from toadbell.core.phrases import habit_now
from toadbell.core.sheets import VesselSheet, read_vessel_sheet
from toadbell.trials.database_stamp import of_this_database
from toadbell.trials.models import State, Trial

MOST = 64


class Plan(NamedTuple):
    """A frozen plan: its sheet as it is read, and its answer, said to whoever listens."""

    sheet: VesselSheet
    answer: DeriveAnswer


_kept: dict[tuple[object, ...], Plan] = {}


def plan_of(trial: Trial) -> Plan:
    """The frozen plan; raises NotNow before it is frozen. It changes only with its trial's version."""
    key = (of_this_database(), trial.pk, trial.version, trial.planned_at, habit_now())
    found = None if trial.state == State.PLANNED else _kept.get(key)
    if found is None:
        sheet = read_vessel_sheet(trial.frozen_sheet)
        assert trial.frozen is not None
        if len(_kept) >= MOST:
            _kept.clear()
        found = _kept[key] = Plan(sheet, read_plan(trial.frozen).answer)
    return found
