"""What the plan says may be asked for can be asked for: no offer of one room is refused by another."""

from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from tests.core.sheets import codes, derived, shell

WALLS = st.floats(1.0, 4.0)


@given(wall=WALLS, wanted=st.floats(5, 120), plate=st.none() | st.floats(4, 60), factor=st.floats(1.5, 2.0))
def test_what_a_plan_offers_instead_is_stopped_by_nothing_that_it_said(
    wall: float, wanted: float, plate: float | None, factor: float
) -> None:
    def planned(bar: float) -> Any:
        return derived(
            shell=shell(wall=f"{wall} mm"),
            working_pressure=f"{bar} bar",
            plate_pressure=None if plate is None else f"{plate} bar",
            factor=factor,
            basis="own",
            reason="as the club asks",
            relief_set=None,
            trapped_air=None,
        )

    first = planned(wanted)
    over = {"above-ceiling", "above-plate", "above-allowable"}
    if first.offer is None or not codes(first.stops) & over:
        return
    again = planned(first.offer / 1e5)
    assert not codes(again.stops) & over, again.stops
    for one in first.stops:
        if "Ask for no more than" in one.says:
            assert f"{first.offer / 1e5:.3g}" in one.says


@given(bar=st.floats(0.05, 12), litres=st.floats(0.5, 400))
def test_how_far_everybody_stays_under_air_is_one_distance_on_every_plan_of_a_vessel(bar: float, litres: float) -> None:
    asked = {"working_pressure": f"{bar} bar", "basis": "tight", "factor": None, "shell": None, "ends": None}
    plans = [
        derived(**asked, kind="enclosure", volume=f"{litres} L", medium=medium, tight_at=f"{bar} bar", trapped_air=None)
        for medium in ("water", "air")
    ]
    wet, dry = (plan.energy for plan in plans)
    assert wet.air_at_test == dry.air_at_test
    assert wet.stand_off_air == dry.stand_off_air == dry.stand_off
    assert wet.stand_off_air >= wet.stand_off
