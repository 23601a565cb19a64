"""The frozen plan of a trial, read once and kept at hand while it is run."""

from toadbell.core.answers import DeriveAnswer
from toadbell.core.sheets import VesselSheet, read_vessel_sheet
from toadbell.trials.database_stamp import of_this_database
from toadbell.trials.models import State, Trial

MOST = 64
_kept: dict[tuple[object, ...], tuple[VesselSheet, DeriveAnswer]] = {}


def plan_of(trial: Trial) -> tuple[VesselSheet, DeriveAnswer]:
    """The frozen sheet and answer; raises NotNow before the plan is frozen. A frozen plan changes only with its trial's version."""
    key = (of_this_database(), trial.pk, trial.version, trial.planned_at)
    found = None if trial.state == State.PLANNED else _kept.get(key)
    if found is None:
        sheet = read_vessel_sheet(trial.frozen_sheet)
        assert trial.frozen is not None
        if len(_kept) >= MOST:
            _kept.clear()
        found = _kept[key] = sheet, DeriveAnswer.model_validate(trial.frozen["answer"])
    return found
