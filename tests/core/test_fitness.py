"""What a trial's evidence adds up to: never more than was shown."""

import datetime
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from toadbell.core.judge.fitness import ORDER, Seen, add_months, fitness, less_cautious

SEEN = Seen(
    kind="receiver", wanted=8.5e5, plate=14e5, allowable=9.4e5, allowable_known=True, wall_measured=True, ceiling=26e5, reached=12.75e5,
    target=12.75e5, head=0.0, factor=1.5, held=1800.0, asked=1800.0, verdict="tight", verdict_says="Tight.", boundary_leak=None, rig_leak=None,
    relief_set=8.5e5, retire=None, on=datetime.date(2026, 11, 24),
)  # fmt: skip


def test_a_tight_hold_at_the_target_is_fit_for_what_was_wanted() -> None:
    found = fitness(SEEN)
    assert found.answer == "fit"
    assert found.pressure == 8.5e5
    assert found.relief_at_most == 8.5e5
    assert found.next_proof == datetime.date(2029, 11, 24)


def test_a_target_not_reached_proves_less_and_says_how_much() -> None:
    found = fitness(replace(SEEN, reached=10.5e5))
    assert found.answer == "limited"
    assert found.pressure == pytest.approx(7e5)
    assert "7 bar" in found.says
    assert next(line for line in found.evidence if line.name == "Reached").state == "not met"


def test_the_gauges_own_head_is_not_proven_pressure() -> None:
    assert fitness(replace(SEEN, reached=10.5e5, head=0.3e5)).pressure == pytest.approx(10.2e5 / 1.5)


def test_the_plate_and_the_wall_cap_what_is_proven() -> None:
    assert fitness(replace(SEEN, allowable=8e5)).pressure == 8e5
    assert fitness(replace(SEEN, plate=6e5)).answer == "limited"


@pytest.mark.parametrize(
    ("changes", "answer", "says"),
    [
        ({"verdict": "leaking"}, "not proven", "whose leak"),
        ({"verdict": "cannot-tell"}, "not proven", "could not tell"),
        ({"verdict": None, "reached": None}, "not proven", "No hold"),
        ({"void": True}, "not proven", "No hold"),
        ({"held": 900.0}, "not proven", "cut short"),
        ({"rig_leak": "hose"}, "not proven", "hose"),
        ({"boundary_leak": "seam"}, "not fit", "seam"),
        ({"retire": 2024}, "not fit", "2024"),
        ({"factor": None}, "not proven", "no strength"),
    ],
)
def test_what_is_not_shown_is_not_proven(changes: dict, answer: str, says: str) -> None:
    found = fitness(replace(SEEN, **changes))
    assert found.answer == answer
    assert found.pressure is None
    assert found.next_proof is None
    assert says in found.says


def test_what_is_not_known_is_neither_met_nor_failed() -> None:
    ledger = {line.name: line.state for line in fitness(replace(SEEN, plate=None, wall_measured=False, relief_set=None)).evidence}
    assert ledger["Within the plate"] == "not known"
    assert ledger["Wall bears the wanted pressure"] == "not known"
    assert ledger["Relief set within"] == "not known"
    assert ledger["Looked inside"] == "not known"


@given(st.floats(1e4, 3e6), st.floats(1e4, 3e6), st.floats(1.1, 2.5))
def test_nobody_is_told_more_than_was_reached(reached: float, wanted: float, factor: float) -> None:
    found = fitness(replace(SEEN, reached=reached, wanted=wanted, factor=factor, plate=None, allowable=None))
    assert found.pressure is not None
    assert found.pressure <= reached / factor * (1 + 1e-9)
    assert found.pressure <= wanted


@pytest.mark.parametrize(
    ("chosen", "pressure", "further"),
    [("fit", 8.5e5, False), ("limited", 5e5, False), ("not proven", None, False), ("not fit", None, False), ("fit", 9e5, True)],
)
def test_only_a_less_cautious_decision_goes_further(chosen: str, pressure: float | None, further: bool) -> None:
    assert less_cautious(chosen, pressure, fitness(SEEN)) is further  # type: ignore[arg-type]


@pytest.mark.parametrize("chosen", ["fit", "limited"])
def test_anything_beyond_not_proven_goes_further_than_a_failed_hold(chosen: str) -> None:
    assert less_cautious(chosen, 5e5, fitness(replace(SEEN, verdict="leaking")))  # type: ignore[arg-type]
    assert ORDER[0] == "not fit"


@pytest.mark.parametrize(
    ("day", "months", "then"),
    [
        (datetime.date(2026, 11, 24), 36, datetime.date(2029, 11, 24)),
        (datetime.date(2026, 1, 31), 1, datetime.date(2026, 2, 28)),
        (datetime.date(2027, 12, 31), 2, datetime.date(2028, 2, 29)),
        (datetime.date(2026, 12, 15), 12, datetime.date(2027, 12, 15)),
        (datetime.date(2026, 11, 30), 1, datetime.date(2026, 12, 30)),
    ],
)
def test_next_dates_fall_on_the_same_day(day: datetime.date, months: int, then: datetime.date) -> None:
    assert add_months(day, months) == then
