"""Stored energy and the distance to keep: against figures worked from the published forms."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.sheets import derived
from toadbell.core.physics import air
from toadbell.core.plan import energy


def test_92_litres_of_air_at_8_5_bar_store_over_a_hundred_kilojoules() -> None:
    # P_abs V/(k-1) (1 - (P_atm/P_abs)^(2/7)): 951325 × 0.092 / 0.4 × (1 − 0.5273)
    assert air.air_energy(0.092, 850_000) == pytest.approx(103_400, rel=2e-3)


def test_at_no_pressure_nothing_is_stored() -> None:
    assert air.air_energy(1.0, 0.0) == 0
    assert energy.water_energy(1e-10, 1e-4, 0.0) == 0


def test_the_stand_off_is_twenty_scaled_metres() -> None:
    assert energy.stand_off(energy.tnt_equivalent(4.27e6)) == pytest.approx(20 * 2 ** (1 / 3))


def test_water_stores_about_a_thousandth_of_what_air_does() -> None:
    stored = derived().energy
    assert stored.water < stored.air_at_test / 1000
    assert stored.air_at_working < stored.air_at_test


@given(st.floats(1e-6, 1e-3), st.floats(1e4, 1e7))
def test_air_left_in_adds_to_what_the_water_stores(left: float, pressure: float) -> None:
    assert energy.water_energy(1e-10, left, pressure) > energy.water_energy(1e-10, 0.0, pressure)
    assert air.trapped_air_energy(left, pressure) < air.air_energy(left, pressure)
