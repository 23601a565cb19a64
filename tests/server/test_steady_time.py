"""A wall clock that is put forward or back in the middle of a run: the run goes on by its own time, and that it
happened is on record.
"""

import datetime
import time
import uuid
from pathlib import Path
from typing import Any

import pytest

from tests.once import MODELS, once
from tests.server.conftest import Logger, Workshop, running
from toadbell.trials import clock
from toadbell.trials.models import Trial

HOUR = 3600.0


class Wall:
    """A wall clock that somebody puts forward or back, and a steady one that time goes by on."""

    def __init__(self) -> None:
        self.shift = 0.0
        self.gone = 0.0

    def wall(self) -> float:
        return time.time() + self.gone + self.shift

    def steady(self) -> float:
        return time.monotonic() + self.gone


@pytest.fixture
def wall(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> Wall:
    found = Wall()
    monkeypatch.setattr(clock, "_LAID", tmp_path / "clock")
    monkeypatch.setattr(clock, "_known", None)
    monkeypatch.setattr(clock, "wall", found.wall)
    monkeypatch.setattr(clock, "steady", found.steady)
    clock.follow_the_wall()
    return found


@pytest.mark.parametrize("step", [-HOUR, 2 * HOUR])
def test_a_hold_is_as_long_as_it_was_whatever_the_wall_says(workshop: Workshop, wall: Wall, step: float) -> None:
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.step(trial, "vent-shut")
    for stage in workshop.get(f"/trials/{trial}/bench")["answer"]["stages"]:
        workshop.read(trial, f"{stage['target'] / 1e5 + 0.02:.3f} bar", "16.0")
        workshop.step(trial, "stage-reached")
        wall.gone += stage["pause"] + 1
    workshop.step(trial, "shut-in")
    for minute in range(10):
        if minute == 5:
            wall.shift += step
        workshop.read(trial, "12.76 bar", "16.0")
        wall.gone += 60
    bench = workshop.get(f"/trials/{trial}/bench")
    assert bench["phase"] == "holding"
    assert bench["clock"]["off"] == pytest.approx(step, abs=1)
    began, until = (
        datetime.datetime.fromisoformat(bench["hold"]["began"]),
        datetime.datetime.fromisoformat(bench["until"]),
    )
    assert (until - began).total_seconds() == pytest.approx(30 * 60)
    now = datetime.datetime.fromisoformat(bench["clock"]["server_now"])
    assert (now - began).total_seconds() == pytest.approx(600, abs=5)
    logged = [line["says"] for line in bench["log"] if line["kind"] == "clock"]
    assert logged == [
        "this machine's clock was put back by 60 min; the run keeps its own time, which nothing was added to or taken "
        "from"
        if step < 0
        else (
            "this machine's clock was put forward by 2 h; the run keeps its own time, which nothing was added to "
            "or taken from"
        )
    ]
    workshop.step(trial, "hold-ended", 409)  # half an hour is not over
    wall.gone += 20 * 60 + 1
    workshop.read(trial, "12.76 bar", "16.0")
    workshop.step(trial, "hold-ended")
    judged = workshop.post(f"/trials/{trial}/judge")
    assert judged["points"][-1]["time"] == pytest.approx(1801, abs=70)


def test_what_is_read_after_a_step_back_is_the_latest_and_comes_to_whoever_watches(
    workshop: Workshop, wall: Wall
) -> None:
    trial = running(workshop)
    workshop.step(trial, "vent-shut")
    workshop.read(trial, "12.75 bar")
    cursor = workshop.get(f"/trials/{trial}/trace")["cursor"]
    wall.shift -= HOUR
    wall.gone += 5
    workshop.read(trial, "13.0 bar")
    assert workshop.get(f"/trials/{trial}/bench")["latest"]["pressure"] == 1_300_000
    (fresh,) = workshop.get(f"/trials/{trial}/trace?after={cursor.replace('+', '%2B')}")["series"]
    assert fresh["pressure"] == [1_300_000]


def test_a_logger_goes_on_across_a_step(workshop: Workshop, wall: Wall) -> None:
    trial = running(workshop)
    logger = Logger(workshop, trial)
    for n, shift in enumerate((0.0, -HOUR, 2 * HOUR)):
        wall.shift = shift
        wall.gone += 10
        assert logger.send([{"id": f"{n}", "pressure": f"{3 + n} bar", "ago": "1 s"}])["stored"] == [f"{n}"]
    (series,) = workshop.get(f"/trials/{trial}/trace")["series"]
    assert series["time"][-1] == pytest.approx(29, abs=2)


def test_the_next_run_takes_the_wall_as_it_was_put_right(workshop: Workshop, wall: Wall) -> None:
    first = running(workshop)
    wall.shift += HOUR
    workshop.get(f"/trials/{first}/bench")
    workshop.step(first, "dumped")
    second = running(workshop)
    begun = Trial.objects.get(pk=second).started_at
    assert begun is not None
    assert begun.timestamp() == pytest.approx(wall.wall(), abs=30)
    assert workshop.get(f"/trials/{second}/bench")["clock"]["off"] == 0


def test_started_again_a_run_goes_on_steadily_and_after_the_machine_was_off_not_behind_what_was_stored(
    wall: Wall, monkeypatch: Any
) -> None:
    before = clock.now()
    wall.shift -= HOUR
    clock.go_on_after(before, on_the_bench=True)
    assert (clock.now() - before).total_seconds() < 60  # the same start of the machine: nothing moved
    assert clock.now() >= before
    monkeypatch.setattr(clock, "boot", lambda: "another")
    clock.go_on_after(before, on_the_bench=True)
    assert clock.now() >= before  # the wall is an hour behind; what was stored is not overtaken
    clock.go_on_after(before, on_the_bench=False)
    assert (before - clock.now()).total_seconds() == pytest.approx(HOUR, abs=60)


def test_the_clock_that_follows_the_wall_is_the_wall(wall: Wall) -> None:
    assert clock.off() == 0
    assert clock.now().timestamp() == pytest.approx(wall.wall(), abs=1)
    assert uuid.UUID(clock.boot()) if Path("/proc/sys/kernel/random/boot_id").exists() else clock.boot()


def test_a_run_that_was_kept_for_a_later_test_goes_on_from_the_moment_it_was_kept(
    workshop: Workshop, wall: Wall
) -> None:
    def read_just_now() -> str:
        trial = running(workshop)
        workshop.step(trial, "vent-shut")
        workshop.read(trial, "1 bar")
        return trial

    key = once("read just now", read_just_now)
    for model in reversed(MODELS):
        model.objects.all().delete()
    wall.gone += HOUR
    assert once("read just now", read_just_now) == key
    trial = Trial.objects.get()
    assert (trial.now() - trial.readings.get().at).total_seconds() < 60
