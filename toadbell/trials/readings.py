"""Readings of a run on a frozen plan: stored once, acknowledged when on the disk, and watched by the guards."""

import uuid

from django.db import transaction

from toadbell.trials.guards import watch
from toadbell.trials.models import Reading, State, Trial

ON_THE_BENCH = (State.RUNNING, State.HELD)
NOT_ON = "This trial is not on the bench."


def take(trial: Trial, readings: list[Reading]) -> set[uuid.UUID]:
    """Store readings and let the guards look at them; gives the ids that were stored already, which are passed over."""
    trial.must_be(ON_THE_BENCH, NOT_ON)
    with transaction.atomic():
        known = trial.take(readings)
        fresh = sorted((reading for reading in readings if reading.id not in known), key=lambda reading: reading.at)
        if fresh:
            watch(trial, fresh)
    return known


def latest(trial: Trial) -> Reading | None:
    """The last reading of the run's own sources; a file that was imported is no live source."""
    return trial.readings.filter(imported=None).order_by("-at").first()
