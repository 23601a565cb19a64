"""The guards of a plan: frozen with it, and tripping on what they watch, not a hair before."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.sheets import RECEIVER
from toadbell.core.answers import Guard
from toadbell.core.derive import derive
from toadbell.core.run.guard import falls_while_pumping, over_limit, warms_to
from toadbell.core.sheets import read_vessel_sheet

ANSWER = derive(read_vessel_sheet(RECEIVER))
GUARDS = ANSWER.guards


def guard(code: str) -> Guard:
    return next(g for g in GUARDS if g.code == code)


def test_every_abort_rule_of_a_water_test_is_in_the_plan_with_its_limit() -> None:
    assert {g.code for g in GUARDS} == {
        "ceiling",
        "overshoot",
        "warming",
        "falling",
        "air",
        "strokes",
        "noise",
        "movement",
        "boundary-leak",
    }
    assert guard("ceiling").limit == pytest.approx(ANSWER.ceiling.pressure, rel=1e-3)  # as the gauge reads it
    assert guard("overshoot").limit == ANSWER.target_band[1]
    assert guard("air").limit == pytest.approx(0.001 * (ANSWER.volume or 0))
    assert all(g.says.endswith(".") for g in GUARDS)


def test_under_air_there_are_no_strokes_to_watch_and_without_a_ceiling_none_is_made_up() -> None:
    drum = derive(read_vessel_sheet({"kind": "digester", "working_pressure": "22 mbar", "volume": "210 L"}))
    assert {g.code for g in drum.guards}.isdisjoint({"air", "strokes", "ceiling"})
    warming = next(g for g in drum.guards if g.code == "warming")
    assert warming.limit == pytest.approx(1.1 * drum.gauge_target)


def test_where_little_energy_is_stored_more_air_is_let_pass() -> None:
    cask = derive(
        read_vessel_sheet({"kind": "cask", "working_pressure": "0.2 bar", "volume": "28 L", "medium": "water"})
    )
    assert cask.energy.water is not None
    assert cask.energy.water < 10
    assert next(g for g in cask.guards if g.code == "air").limit == pytest.approx(0.005 * 0.028)


@given(st.floats(0, 1e7))
def test_a_pressure_trips_the_ceiling_before_the_overshoot_and_neither_below(pressure: float) -> None:
    tripped = over_limit(GUARDS, pressure)
    if pressure > guard("ceiling").limit:  # type: ignore[operator]
        assert tripped == guard("ceiling")
    elif pressure > guard("overshoot").limit:  # type: ignore[operator]
        assert tripped == guard("overshoot")
    else:
        assert tripped is None


@pytest.mark.parametrize(
    ("pressures", "strokes", "falls"),
    [
        ([5e5, 4e5], [10, 12], True),
        ([5e5, 4e5], [10, 10], False),  # it fell, but nobody pumped: a leak in a pause
        ([5e5, 4.9e5], [10, 12], False),  # no more than the gauge's own step
        ([5e5, 6e5, 5.2e5], [10, 12, 14], True),
        ([5e5, 6e5, 7e5], [10, 12, 14], False),
        ([5e5], [10], False),
    ],
)
def test_falling_while_pumping(pressures: list[float], strokes: list[int], falls: bool) -> None:
    assert falls_while_pumping(pressures, strokes, step=1e4) is falls


def test_warming_is_called_half_way_to_the_ceiling_or_when_a_quarter_of_an_hour_would_reach_it() -> None:
    minutes = [60.0 * m for m in range(11)]
    slow = [1.3e6 + 20 * t for t in minutes]
    fast = [1.3e6 + 900 * t for t in minutes]
    assert not warms_to(2e6, 1.28e6, minutes, slow, step=1e4)
    assert warms_to(2e6, 1.28e6, minutes, [p + 3.5e5 for p in slow], step=1e4)
    assert warms_to(2e6, 1.28e6, minutes[:6], fast[:6], step=1e4)
    assert not warms_to(2e6, 1.28e6, minutes, list(reversed(fast)), step=1e4)
    assert not warms_to(2e6, 1.28e6, [0.0], [1.9e6], step=1e4)
