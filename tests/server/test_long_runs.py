"""Runs of very many readings: a look asks for what is new, says the same as one of all, and draws few of them."""

import datetime
import math
import uuid

import pytest

from tests.server.conftest import Workshop
from tests.server.test_relief import raised
from toadbell.core.judge.lifts import lifts_in
from toadbell.trials.bench.api import LAST_WHOLE, TRACE_POINTS
from toadbell.trials.bench.kept_log import kept_log
from toadbell.trials.models import Reading, Trial

pytestmark = pytest.mark.django_db
STEP = 5e2


def sawtooth(trial: Trial, begin: float, end: float, every: float = 0.2) -> list[Reading]:
    """A valve that lifts every minute: up slowly to 8 bar, and down by a half within a second, where it stands."""
    start = trial.started_at
    assert start is not None
    found = []
    for n in range(int(begin / every), int(end / every)):
        t = n * every
        in_turn = t % 60
        pressure = 8e5 - (8e5 - 6e5) * (1 - in_turn / 55) if in_turn < 55 else max(6e5, 8e5 - 2e5 * (in_turn - 55))
        at = start + datetime.timedelta(seconds=1000 + t)
        found.append(Reading(id=uuid.uuid4(), trial=trial, at=at, pressure=pressure, source="dial"))
    return found


def whole(trial: Trial) -> list[tuple[float, float]]:
    """The lifts in all of its readings, read anew."""
    rows = list(trial.readings.order_by("at").values_list("at", "pressure"))
    assert trial.started_at is not None
    times = [(at - trial.started_at).total_seconds() for at, _ in rows]
    return [(round(one.time, 3), one.lift) for one in lifts_in(times, [p for _, p in rows], STEP)]


def kept(trial: Trial) -> list[tuple[float, float]]:
    return [(round(one.time, 3), one.lift) for one in kept_log(trial).all_lifts(STEP)]


def test_what_a_look_keeps_of_a_run_says_the_same_as_reading_all_of_it(workshop: Workshop) -> None:
    trial = Trial.objects.get(pk=raised(workshop))
    for begin, end in ((0, 400), (400, 430), (430, 431), (431, 1000)):
        Reading.objects.bulk_create(sawtooth(trial, begin, end))
        assert kept(trial) == whole(trial)
    assert len(kept(trial)) >= 15
    late = sawtooth(trial, 0, 1)[0]
    late.at -= datetime.timedelta(seconds=30)
    late.pressure = 9e5
    late.save(force_insert=True)  # from a phone that was out of reach
    assert kept(trial) == whole(trial)
    assert max(kept_log(trial).pressures) == 9e5


def test_of_very_many_readings_few_are_drawn_the_last_among_them_and_none_twice(workshop: Workshop) -> None:
    trial = Trial.objects.get(pk=raised(workshop))
    Reading.objects.bulk_create(sawtooth(trial, 0, 0.2 * 2.5 * TRACE_POINTS))
    told = workshop.get(f"/trials/{trial.pk}/trace")
    times = [t for one in told["series"] for t in one["time"]]
    last = trial.readings.order_by("at").last()
    assert last is not None
    assert trial.started_at is not None
    assert TRACE_POINTS / 2 < len(times) <= TRACE_POINTS + LAST_WHOLE
    assert sum(one["left_out"] for one in told["series"]) + len(times) == trial.readings.count()
    assert max(times) == pytest.approx((last.at - trial.started_at).total_seconds(), abs=1e-3)
    assert len(times) == len(set(times))
    cursor = told["cursor"].replace("+", "%2B")
    assert workshop.get(f"/trials/{trial.pk}/trace?after={cursor}")["series"] == []
    (fresh,) = sawtooth(trial, 0, 0.2)
    fresh.at, fresh.stored_at = last.at + datetime.timedelta(seconds=1), last.stored_at + datetime.timedelta(seconds=1)
    fresh.save(force_insert=True)
    (one,) = workshop.get(f"/trials/{trial.pk}/trace?after={cursor}")["series"]
    assert len(one["time"]) == 1


def test_a_temperature_that_was_not_read_stays_not_known(workshop: Workshop) -> None:
    trial = Trial.objects.get(pk=raised(workshop))
    Reading.objects.bulk_create(sawtooth(trial, 0, 1))
    assert math.isnan(kept_log(trial).temperatures[-1])
