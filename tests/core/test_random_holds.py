"""Over random holds on the simulated rig, wider than any one workshop, the judge is nearly never wrong."""

import functools

import pytest

from toadbell.core.judge.answers import JudgeAnswer
from toadbell.core.judge.hold import judge
from tools.random_holds import RandomHold, random_hold

pytestmark = pytest.mark.xdist_group("random holds")  # made once, by one worker
FIRST, HOLDS = 60_000, 40


@functools.cache
def judged_holds() -> list[tuple[RandomHold, JudgeAnswer]]:
    """Short ones only, for the tests' sake; the study of all lengths is in docs/judge-study.md."""
    found = []
    number = FIRST
    while len(found) < HOLDS:
        hold = random_hold(number, longest=120)
        number += 1
        if len(hold.log.time) >= 5:
            found.append((hold, judge(hold.log, hold.sheet)))
    return found


@pytest.fixture
def judged() -> list[tuple[RandomHold, JudgeAnswer]]:
    """Those, judged once."""
    return judged_holds()


def test_hardly_a_verdict_is_wrong(judged: list[tuple[RandomHold, JudgeAnswer]]) -> None:
    wrong = [
        hold.truth for hold, answer in judged if answer.verdict == ("leaking" if hold.truth.factor < 1 else "tight")
    ]
    assert len(wrong) <= 2, wrong


def test_many_can_be_told_where_there_is_a_thermometer(judged: list[tuple[RandomHold, JudgeAnswer]]) -> None:
    seeing = [answer for hold, answer in judged if hold.truth.instrument.endswith("+T")]
    assert sum(answer.verdict == "cannot-tell" for answer in seeing) < 0.65 * len(seeing)


def test_the_band_covers_what_leaked(judged: list[tuple[RandomHold, JudgeAnswer]]) -> None:
    covered = sum(answer.leak.low <= hold.truth.mean_leak <= answer.leak.high for hold, answer in judged)
    assert covered >= 0.85 * len(judged)


def test_a_plain_leak_and_nothing_else_is_never_cut_out(judged: list[tuple[RandomHold, JudgeAnswer]]) -> None:
    assert sum(bool(answer.steps) for _, answer in judged) <= 1
