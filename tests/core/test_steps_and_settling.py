"""What in a log is no leak that goes on: found, named, cut out in the open, and put back where a person says so."""

import numpy as np
import pytest

from tests.core.test_judge import C, hold, sheet
from toadbell.core.judge.hold import Asked, judge, judge_with_points
from toadbell.core.judge.log import Log
from toadbell.core.judge.outliers import find_steps

LIMIT = {"max_leak": "2 mL/h"}


def changed(log: Log, at: int, by: float, only: bool = False) -> Log:
    """The log with all readings from one on higher or lower by so many Pa; or only that one."""
    pressure = log.pressure.copy()
    pressure[at : at + 1 if only else None] += by
    return Log(log.time, pressure, log.water_temperature)


def logger(minutes: int = 60) -> Log:
    return hold(minutes=minutes, every=10)


@pytest.mark.parametrize(
    "log", [hold(minutes=30, every=300), hold(), logger()], ids=["six readings", "each minute", "logger"]
)
def test_nothing_is_found_in_a_quiet_hold(log: Log) -> None:
    found = judge(log, sheet(LIMIT))
    assert found.steps == []
    assert found.excluded_until == 0.0


@pytest.mark.parametrize(
    ("by", "word"),
    [(0.6e5, "pumped"), (-0.6e5, "slipped"), (2e5, "gauge was touched or changed")],
    ids=["re-pump", "slip", "another gauge"],
)
@pytest.mark.parametrize("log", [hold(), logger()], ids=["each minute", "logger"])
def test_a_jump_is_found_where_it_is_named_and_cut_out(log: Log, by: float, word: str) -> None:
    at = len(log.time) // 3
    found = judge(changed(log, at, by), sheet(LIMIT))
    (step,) = found.steps
    assert step.kind == "jump"
    assert step.time == log.time[at]
    assert step.by == pytest.approx(by, rel=0.1)
    assert word in step.says
    assert found.signature == "step"
    assert found.verdict == ("tight" if by > 0 else "cannot-tell")  # what slipped away is not held any more
    assert any("cut out" in note for note in found.notes)  # never silently


def test_one_mistyped_reading_is_left_out() -> None:
    clean, mistyped = hold(leak_ml_h=6), changed(hold(leak_ml_h=6), 20, 1e5, only=True)
    found = judge_with_points(mistyped, sheet(LIMIT))
    (step,) = found.answer.steps
    assert (step.kind, step.time) == ("reading", 1200.0)
    assert "mistyped" in step.says
    assert found.points[20].cut
    assert found.answer.leak.estimate == pytest.approx(judge(clean, sheet(LIMIT)).leak.estimate, rel=0.1)


def test_what_was_cut_out_is_put_back_by_hand() -> None:
    log = changed(hold(), 20, -0.6e5)
    back = judge(log, sheet(LIMIT), asked=Asked(put_back=(1200.0,)))
    assert [step.put_back for step in back.steps] == [True]
    assert back.drop == pytest.approx(0.6e5, abs=5e3)
    assert back.verdict != "tight"


def test_a_leak_is_no_step_and_a_room_that_begins_to_cool_is_none() -> None:
    assert judge(hold(leak_ml_h=60), sheet({"max_leak": "2 mL/h"})).steps == []
    time = np.arange(0, 7201, 600.0)
    turned = np.round((1.275e6 - np.where(time > 3600, (time - 3600) * 40e3 / 600, 0)) / 5000) * 5000
    assert judge(Log(time, turned), sheet(LIMIT, thermometer=False)).steps == []


def test_six_readings_at_the_least_are_needed_to_tell_a_step() -> None:
    assert find_steps(np.arange(5) * 60.0, np.array([1e6, 1e6, 1e6, 1.2e6, 1.2e6]), 1e3, 0.0) == []


def settling(part: float = 0.004, tau: float = 150.0, leak_ml_h: float = 0.0) -> Log:
    log = hold(leak_ml_h=leak_ml_h, every=10)
    return Log(log.time, log.pressure - part * 1.275e6 * -np.expm1(-log.time / tau), log.water_temperature)


def test_the_first_minutes_settling_is_recognised_and_said_to_be_that_or_a_leak_that_shut() -> None:
    found = judge(settling(part=0.004), sheet(LIMIT))
    assert found.signature == "settling"
    assert any("leak that shut" in note for note in found.notes)
    assert judge(settling(part=0.0005), sheet(LIMIT)).verdict == "tight"
    much = judge(settling(part=0.02), sheet(LIMIT))
    assert much.verdict != "tight"
    assert any("settled" in note for note in found.notes)


@pytest.mark.parametrize("part", [0.004, 0.01, 0.02])
def test_a_tight_vessel_that_settles_much_is_never_said_to_leak(part: float) -> None:
    found = judge(settling(part=part), sheet(LIMIT))
    assert found.verdict == "cannot-tell"
    assert found.leak.low == 0


def test_a_leak_behind_the_settling_is_still_told() -> None:
    found = judge(settling(leak_ml_h=8), sheet(LIMIT))
    assert found.verdict == "leaking"
    assert found.leak.low < 8e-6 / 3600 < found.leak.high


def test_minutes_may_be_ignored_without_changing_the_log() -> None:
    log = hold()
    found = judge_with_points(log, sheet(LIMIT), asked=Asked(ignore=600))
    assert found.answer.hold == 3000
    assert found.answer.excluded_until == 600
    assert [point.cut for point in found.points[:11]] == [True] * 10 + [False]
    assert len(log.time) == 61


def test_a_vessel_that_empties_is_judged_by_the_time_before() -> None:
    time = np.arange(0, 3601, 60.0)
    found = judge(Log(time, np.maximum(0.0, 1.275e6 * (1 - time / 1800))), sheet(LIMIT, thermometer=False))
    assert any("all but emptied" in note for note in found.notes)
    assert found.hold < 1800
    assert found.drop * C / found.hold > 2e-6 / 3600
