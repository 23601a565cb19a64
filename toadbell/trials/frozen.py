"""The frozen plan of a trial, read once."""

from toadbell.core.answers import DeriveAnswer
from toadbell.core.sheets import VesselSheet, read_vessel_sheet
from toadbell.trials.models import Trial


def plan_of(trial: Trial) -> tuple[VesselSheet, DeriveAnswer]:
    """The frozen sheet and answer; raises NotNow before the plan is frozen."""
    sheet = trial.frozen_sheet
    assert trial.frozen is not None
    kept = trial.__dict__.get("_plan")
    if kept is None or kept[0] is not sheet:
        kept = (sheet, read_vessel_sheet(sheet), DeriveAnswer.model_validate(trial.frozen["answer"]))
        trial.__dict__["_plan"] = kept
    return kept[1], kept[2]
