"""Readings of a run on a frozen plan: stored once, acknowledged when on the disk, and watched for overshoot."""

import uuid

from django.db import transaction

from toadbell.core.answers import DeriveAnswer
from toadbell.core.sheets import VesselSheet, read_vessel_sheet
from toadbell.trials.models import Reading, State, Trial

ON_THE_BENCH = (State.RUNNING, State.HELD)
NOT_ON = "This trial is not on the bench."


def plan_of(trial: Trial) -> tuple[VesselSheet, DeriveAnswer]:
    """The frozen sheet and answer; raises NotNow before the plan is frozen."""
    sheet = read_vessel_sheet(trial.frozen_sheet)
    assert trial.frozen is not None
    return sheet, DeriveAnswer.model_validate(trial.frozen["answer"])


def take(trial: Trial, readings: list[Reading]) -> list[uuid.UUID]:
    """Store readings; one above the test band, or above the ceiling, is an event of its own, once."""
    trial.must_be(ON_THE_BENCH, NOT_ON)
    _, answer = plan_of(trial)
    with transaction.atomic():
        stored = trial.take(readings)
        highest = max(readings, key=lambda reading: reading.pressure, default=None)
        if highest is not None:
            _note_overshoot(trial, answer, highest)
    return stored


def _note_overshoot(trial: Trial, answer: DeriveAnswer, reading: Reading) -> None:
    for kind, limit in (("over-ceiling", answer.ceiling.pressure), ("overshoot", answer.target_band[1])):
        if limit is not None and reading.pressure > limit:
            if not trial.events.filter(kind=kind).exists():
                trial.log(kind, trial.planned_by, at=reading.at, pressure=reading.pressure, limit=limit)
            return


def latest(trial: Trial) -> Reading | None:
    """The last reading."""
    return trial.readings.order_by("-at").first()
