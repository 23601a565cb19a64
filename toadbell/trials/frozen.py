"""The frozen plan of a trial, read once and kept at hand while it is run."""

from toadbell.core.answers import DeriveAnswer
from toadbell.core.sheets import VesselSheet, read_vessel_sheet
from toadbell.trials.models import State, Trial

MOST = 64
_kept: dict[tuple[object, ...], tuple[VesselSheet, DeriveAnswer]] = {}


def plan_of(trial: Trial) -> tuple[VesselSheet, DeriveAnswer]:
    """The frozen sheet and answer; raises NotNow before the plan is frozen. A frozen plan changes only with its trial's version."""
    key = (trial.pk, trial.version, trial.planned_at)
    if trial.state == State.PLANNED or key not in _kept:
        sheet = read_vessel_sheet(trial.frozen_sheet)
        assert trial.frozen is not None
        if len(_kept) >= MOST:
            _kept.clear()
        _kept[key] = sheet, DeriveAnswer.model_validate(trial.frozen["answer"])
    return _kept[key]


def forget() -> None:
    """Read every plan anew: the database under it was changed for another."""
    _kept.clear()
