"""Readings of a run on a frozen plan: stored once, acknowledged when on the disk, and watched by the guards."""

import datetime
import uuid

from django.db import transaction

from toadbell.core import units
from toadbell.core.phrases import say
from toadbell.core.run.phases import ON_THE_BENCH
from toadbell.shed.errors import NotNow
from toadbell.trials.bench.guards import watch
from toadbell.trials.bench.seen import reading_error, zero_read
from toadbell.trials.models import Reading, Source, State, Stored, Trial
from toadbell.trials.models.sealing import must_be_open
from toadbell.trials.plan.frozen import plan_of


def take(trial: Trial, readings: list[Reading]) -> Stored:
    """Store readings and let the guards look at them; says what became of each."""
    if not may_be_read(trial):
        raise NotNow(say("step.not-on"))
    with transaction.atomic():
        if trial.state == State.ABORTED:
            must_be_open([trial.pk])
        stored = trial.take(readings)
        if stored.fresh:
            trial.notice_the_clock()
            watch(trial, sorted(stored.fresh, key=lambda reading: reading.at))
    return stored


def may_be_read(trial: Trial) -> bool:
    """May readings be added: while it is on the bench, and after a dump until zero was read?"""
    if trial.state in ON_THE_BENCH:
        return True
    if trial.state != State.ABORTED or trial.source == Source.RIG:
        return False
    dumped = trial.events.filter(kind="dumped").order_by("-at").values_list("at", flat=True).first()
    return dumped is not None and not zero_read(trial, dumped, reading_error(plan_of(trial)))


def kept_otherwise(stored: Stored) -> str | None:
    """What was kept under ids that were sent again with other figures, in words; None where there are none."""
    if not stored.differs:
        return None
    told = [
        f"{units.write(kept.pressure, 'pressure', 'bar', figures=5)} ({str(one)[:8]})"
        for one, kept in stored.differs.items()
    ]
    more = f" and {len(told) - 3} more" if len(told) > 3 else ""
    return (
        "Sent under an id that stands for another reading: kept is what was sent first, "
        f"{', '.join(told[:3])}{more}. Give each reading an id of its own."
    )


def on_the_bench() -> bool:
    """Is any run on the bench?"""
    return Trial.objects.filter(state__in=ON_THE_BENCH).exists()


def on_the_bench_ids() -> list[uuid.UUID]:
    """The runs on the bench."""
    return list(Trial.objects.filter(state__in=ON_THE_BENCH).values_list("pk", flat=True))


def latest_stored() -> datetime.datetime | None:
    """When the last reading of a run on the bench was stored."""
    found = (
        Reading.objects.filter(trial__state__in=ON_THE_BENCH).order_by("-stored_at").values_list("stored_at", flat=True)
    )
    return found.first()


def latest(trial: Trial) -> Reading | None:
    """The last reading of the run's own sources; a file that was imported is no live source."""
    return trial.readings.filter(imported=None).order_by("-at").first()
