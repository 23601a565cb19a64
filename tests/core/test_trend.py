"""Is it getting worse?

Told where the difference is more than the two trials' own doubt, and left open where it is not.
"""

import datetime
import math

import pytest
from hypothesis import given
from hypothesis import strategies as some

from toadbell.core.judge.trend import Known, Side, trend

ML_H = 1e-6 / 3600
FIRST, LATER = datetime.date(2025, 5, 1), datetime.date(2026, 5, 1)


def leaking(rate: float, doubt: float, on: datetime.date = LATER, pressure: float = 12.75e5) -> Side:
    """A hold with such a leak and half-band, mL/h."""
    return Side(on, leak=Known(rate * ML_H, (rate - doubt) * ML_H, (rate + doubt) * ML_H), pressure=pressure)


@pytest.mark.parametrize(
    ("before", "after", "went", "says"),
    [
        ((0.5, 0.3), (3.0, 0.4), "worse", "It is getting worse. The leak grew from 0.5 mL/h to 3 mL/h"),
        ((0.5, 0.3), (0.8, 0.4), "same", "Nothing says that it is getting worse."),
        ((3.0, 0.4), (0.5, 0.3), "better", "It is not getting worse. The leak fell from 3 mL/h to 0.5 mL/h."),
    ],
)
def test_a_leak_grew_only_where_it_is_more_than_the_holds_own_doubt(
    before: tuple[float, float], after: tuple[float, float], went: str, says: str
) -> None:
    told = trend(leaking(*before, on=FIRST), leaking(*after))
    assert told.went == went
    assert told.says.startswith(says)


def test_the_line_of_the_difference_is_the_sum_of_squares() -> None:
    change = trend(leaking(1.0, 0.3), leaking(2.0, 0.4)).changes[0]
    assert change.by == pytest.approx(1.0 * ML_H)
    assert change.sure == pytest.approx(2 * math.hypot(0.3, 0.4) / 1.96 * ML_H)
    assert change.lines[0].value == change.by


def test_holds_at_different_pressures_are_said_to_be() -> None:
    assert "different pressures" in trend(leaking(1.0, 0.3, pressure=9e5), leaking(1.0, 0.3)).changes[0].says


@pytest.mark.parametrize(("after", "went"), [(2.6e-3, "worse"), (2.7e-3, "same"), (2.75e-3, "same")])
def test_a_thinner_wall_is_worse(after: float, went: str) -> None:
    told = trend(Side(FIRST, wall=2.7e-3), Side(LATER, wall=after))
    assert told.went == went
    assert told.changes[1].says.startswith("The thinnest wall")


def test_a_vessel_that_gives_more_than_it_did_is_worse() -> None:
    told = trend(
        Side(FIRST, compliance=Known(9e-11, 8.8e-11, 9.2e-11)),
        Side(LATER, compliance=Known(11e-11, 10.8e-11, 11.2e-11)),
    )
    assert told.went == "worse"
    assert "11 mL/bar after 9 mL/bar" in told.says


def test_what_is_not_known_of_both_is_not_told() -> None:
    told = trend(Side(FIRST, wall=2.7e-3), leaking(1.0, 0.3))
    assert told.went == "not known"
    assert [change.went for change in told.changes] == ["not known"] * 3
    assert (told.changes[1].before, told.changes[1].after) == (2.7e-3, None)


@given(some.floats(0, 20), some.floats(0.01, 5), some.floats(0, 20), some.floats(0.01, 5))
def test_turned_round_worse_is_better(a: float, da: float, b: float, db: float) -> None:
    one, other = leaking(a, da), leaking(b, db)
    turned = {"worse": "better", "better": "worse", "same": "same"}
    assert trend(other, one).changes[0].went == turned[trend(one, other).changes[0].went]
