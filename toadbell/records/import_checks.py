"""Can what was brought in be shown at all? Asked before it is kept."""

import logging
from typing import Any

from toadbell.core.sheets import SheetError
from toadbell.shed.drawn import drawn, must_work_out
from toadbell.shed.models import Maker
from toadbell.trials.bench.api import log_of
from toadbell.trials.bench.leaks import leaks_out
from toadbell.trials.bench.rig import rig_and_state
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.bench.steps import ticked
from toadbell.trials.judge import judging
from toadbell.trials.judge.hold import hold_readings, hold_sheet
from toadbell.trials.models import State, Trial
from toadbell.trials.plan.frozen import plan_of

_log = logging.getLogger("django")


def can_be_hung(name: str, sheet: dict[str, Any]) -> None:
    """Draw and work out a vessel as the shelf does. Raises SheetError, naming it, where its sheet cannot be."""
    try:
        must_work_out(sheet)
    except SheetError as wrong:
        raise SheetError(f"the vessel “{name}”: {wrong}. Nothing was taken in", "file") from None


def can_be_shown(trial: Trial) -> None:
    """Lay a trial out as its bench, judge and record do.

    Raises SheetError, naming it, where something in it cannot be understood.
    """
    try:
        drawn(trial.sheet)
        if not trial.frozen:
            return
        _, answer = plan_of(trial)
        events, maker = trial.effective_events(), Maker()
        log_of(events, answer.test_pressure)
        ticked(answer, events)
        leaks_out(trial)
        if trial.state not in (State.PLANNED, State.READY):
            run_state(trial, events)
            hold_readings(trial)
            hold_sheet(trial)
            judging.advice(trial, maker)
        if trial.rig:
            rig_and_state(trial)
    except Exception as problem:  # whatever a file can hold: it is not kept, and said
        _log.info("a trial brought in cannot be shown", exc_info=problem)
        raise SheetError(
            f"{trial.vessel.name}, trial {trial.number}: something that happened in it cannot be understood "
            f"({type(problem).__name__}). "
            "Nothing was taken in",
            "file",
        ) from None
