"""Water, wall and air: against tables, against a second method, and against common sense."""

import CoolProp.CoolProp as water
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.sheets import derived
from toadbell.core.physics.content import Content
from toadbell.core.physics.wall import wall_give
from toadbell.core.physics.water import mean_compressibility, water_compressibility, water_density, water_expansion
from toadbell.core.units import ATMOSPHERE

RECEIVER = Content(volume=0.097, give=5.4e-10, expansion=12e-6, trapped_air=5e-5, temperature=289.15)


def test_waters_compressibility_at_20_degrees_is_the_tabled_one() -> None:
    assert water_compressibility(293.15) == pytest.approx(4.589e-10, rel=2e-3)


def test_water_swells_twice_as_fast_at_20_degrees_as_at_12_and_shrinks_below_4() -> None:
    assert water_expansion(293.15) == pytest.approx(2.068e-4, rel=5e-3)
    assert water_expansion(293.15) / water_expansion(285.15) == pytest.approx(1.87, abs=0.1)
    assert water_expansion(275.15) < 0 < water_expansion(279.15)


def test_the_mean_compressibility_is_what_the_densities_integrate_to() -> None:
    pressures = np.linspace(0, 5e6, 2001)
    kappas = np.array(
        [water.PropsSI("ISOTHERMAL_COMPRESSIBILITY", "T", 285.0, "P", p + ATMOSPHERE, "Water") for p in pressures]
    )
    integral = float(((kappas[1:] + kappas[:-1]) / 2 * np.diff(pressures)).sum()) / 5e6
    assert mean_compressibility(285.0, 5e6) == pytest.approx(integral, rel=1e-6)
    assert mean_compressibility(285.0, 0.0) == water_compressibility(285.0)


def test_a_closed_steel_cylinder_gives_more_than_its_water() -> None:
    give = wall_give("cylinder", 0.366, 0.0032, 200e9, 0.3)
    assert give == pytest.approx(0.183 / (0.0032 * 200e9) * 1.9)
    assert give > water_compressibility(289.15)


def test_a_sphere_gives_less_than_a_cylinder_and_an_unknown_wall_nothing() -> None:
    assert wall_give("sphere", 0.366, 0.0032, 200e9, 0.3) < wall_give("cylinder", 0.366, 0.0032, 200e9, 0.3)
    assert wall_give("cylinder", 0.366, None, 200e9, 0.3) == 0
    assert wall_give("cylinder", 0.366, 0.0032, None, 0.3) == 0


@pytest.mark.parametrize("pressure", [1e4, 1e5, 5e5, 1.275e6, 4e6])
def test_compliance_is_the_slope_of_the_pumped_volume(pressure: float) -> None:
    step = pressure * 1e-3
    slope = (RECEIVER.pumped(pressure + step) - RECEIVER.pumped(pressure - step)) / (2 * step)
    assert RECEIVER.compliance(pressure) == pytest.approx(slope, rel=2e-3)


def test_a_millilitre_leak_shows_as_a_tenth_of_a_bar_on_the_receiver() -> None:
    assert 1e-6 / RECEIVER.compliance(1.275e6) == pytest.approx(1e4, rel=0.02)


def test_shut_in_and_warming_the_stiff_tank_gains_over_a_bar_a_degree() -> None:
    assert 1.0e5 < RECEIVER.pressure_per_kelvin(1.275e6) < 1.5e5


def test_a_measured_compliance_is_used_instead_of_the_computed_one() -> None:
    stated = Content(0.097, 5.4e-10, 12e-6, 0.0, 289.15, stated=9.2e-11)
    assert stated.compliance(1e6) == 9.2e-11
    assert stated.pumped(1e6) == pytest.approx(9.2e-5)


@settings(max_examples=40)
@given(st.floats(0, 1e-3), st.floats(1e-6, 1e-3), st.floats(1e4, 5e6))
def test_more_trapped_air_never_lowers_the_strokes_nor_raises_the_stiffness(
    air: float, more: float, pressure: float
) -> None:
    little, much = (Content(0.05, 4e-10, 12e-6, a, 288.0) for a in (air, air + more))
    assert much.pumped(pressure) > little.pumped(pressure)
    assert much.compliance(pressure) > little.compliance(pressure)
    assert abs(much.pressure_per_kelvin(pressure)) < abs(little.pressure_per_kelvin(pressure))


def test_strokes_on_the_plan_are_the_pumped_volume_over_the_stroke() -> None:
    answer = derived()
    assert answer.pump.strokes == pytest.approx(answer.pump.volume / 12e-6)
    last = answer.stages[-1]
    assert last.strokes == pytest.approx(answer.pump.strokes, rel=0.01)
    assert sum(stage.strokes_from_last for stage in answer.stages) == pytest.approx(last.strokes)


def test_density_of_water_is_a_kilogram_a_litre_nearly() -> None:
    assert water_density(277.15) == pytest.approx(1000, abs=0.1)
