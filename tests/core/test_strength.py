"""Strength against the printed forms, each worked by hand."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.sheets import derived, shell
from toadbell.core.physics.materials import MATERIALS, design_stress_at
from toadbell.core.vessel import strength


def test_cylinder_hoop_as_printed_in_ug27() -> None:
    # 108 MPa, E 0.7, 2.9 mm of wall left on 183 mm: 219.24e3 / (0.183 + 0.00174)
    assert strength.cylinder_hoop(108e6, 0.7, 0.0029, 0.183) == pytest.approx(1.18675e6, rel=1e-4)


def test_cylinder_lengthwise_bears_about_twice_the_hoop() -> None:
    hoop, ends = strength.cylinder_hoop(100e6, 1, 0.003, 0.2), strength.cylinder_ends(100e6, 1, 0.003, 0.2)
    assert ends == pytest.approx(2 * 100e6 * 0.003 / (0.2 - 0.0012))
    assert 2 < ends / hoop < 2.05


def test_sphere_as_printed_in_ug27() -> None:
    assert strength.sphere(138e6, 0.85, 0.0022, 0.110) == pytest.approx(4.673307e6, rel=1e-6)


def test_ellipsoidal_end_as_printed_in_ug32() -> None:
    assert strength.ellipsoidal_end(184.5e6, 1, 0.0035, 0.366) == pytest.approx(2 * 184.5e6 * 0.0035 / 0.3667)


def test_torispherical_end_with_a_six_per_cent_knuckle_has_the_factor_of_1_77() -> None:
    # M = (3 + sqrt(1/0.06)) / 4 = 1.7706
    assert strength.torispherical_end(100e6, 1, 0.003, 0.3, 0.018) == pytest.approx(
        2 * 100e6 * 0.003 / (0.3 * 1.77062 + 0.0006), rel=1e-5
    )


def test_flat_end_as_printed_in_ug34() -> None:
    assert strength.flat_end(55.8e6, 1, 0.012, 0.165) == pytest.approx(894_365, rel=1e-5)


@pytest.mark.parametrize(("wall", "C"), [(0.008, 2.1), (0.011, 2.1), (0.012, 2.2)])
def test_stayed_plate_takes_its_constant_from_the_plates_thickness(wall: float, C: float) -> None:
    assert strength.stayed_plate(100e6, wall, 0.1) == pytest.approx(100e6 * C * (wall / 0.1) ** 2)


def test_end_force_on_a_21_mm_plug_at_12_75_bar_is_45_kilograms_force() -> None:
    assert strength.end_force(1.275e6, 0.021) == pytest.approx(441.6, abs=0.1)
    assert strength.end_force(1.275e6, 0.021) / 9.80665 == pytest.approx(45.0, abs=0.1)


def test_the_thinnest_reading_sets_ceiling_and_allowable() -> None:
    thick, thin = derived(), derived(shell=shell(wall_readings=["3.1 mm", "2.6 mm", "2.9 mm"]))
    assert thin.ceiling.pressure == pytest.approx(184.5e6 * 0.0026 / (0.183 + 0.6 * 0.0026))
    assert thin.allowable.pressure == pytest.approx(108e6 * 0.7 * 0.0023 / (0.183 + 0.6 * 0.0023))
    assert thin.ceiling.pressure < thick.ceiling.pressure


def test_under_air_the_ceiling_is_eight_tenths_of_yield() -> None:
    wet, dry = derived(), derived(medium="air")
    assert dry.ceiling.pressure == pytest.approx(wet.ceiling.pressure * 0.8 / 0.9)


def test_a_wall_rusted_through_may_work_at_nothing() -> None:
    assert derived(shell=shell(wall="0.2 mm")).allowable.pressure == 0


def test_the_weakest_part_sets_the_ceiling_and_is_named() -> None:
    flat = derived(ends=[{"form": "flat", "wall": "8 mm"}, {"form": "ellipsoidal", "wall": "3.5 mm"}])
    assert flat.ceiling.set_by.startswith("flat end 1")
    plug = derived(fittings=[{"name": "drain plug", "rating": "16 bar", "stays_on": True}])
    assert plug.ceiling.pressure == 1_600_000
    assert "drain plug" in plug.ceiling.set_by


def test_a_part_that_is_taken_off_limits_nothing() -> None:
    assert derived(fittings=[{"name": "sight glass", "rating": "10 bar", "stays_on": False}]).ceiling.pressure > 3e6


def test_a_measured_yield_strength_replaces_the_tables() -> None:
    assert derived(shell=shell(yield_strength="250 MPa")).ceiling.pressure == pytest.approx(
        0.9 * 250e6 * 0.0032 / (0.183 + 0.00192)
    )


@given(st.floats(min_value=0.5, max_value=20), st.floats(min_value=0.1, max_value=10))
def test_more_wall_never_lowers_a_limit(wall: float, more: float) -> None:
    thin, thick = (
        derived(shell=shell(wall=f"{w} mm"), ends=[{"form": "ellipsoidal", "wall": "30 mm"}])
        for w in (wall, wall + more)
    )
    assert thick.ceiling.pressure >= thin.ceiling.pressure
    assert thick.allowable.pressure >= thin.allowable.pressure


def test_stainless_and_copper_weaken_with_heat_and_steel_does_not() -> None:
    def ratio(material: str) -> float:
        return derived(
            shell=shell(material=material), basis="code-130", water_temperature="20 degC", design_temperature="160 degC"
        ).stress_ratio

    assert ratio("carbon-steel") == 1
    assert 1.3 < ratio("stainless-304") < 1.4
    assert 1.2 < ratio("copper") < 1.5


def test_beyond_its_table_a_strength_is_not_known() -> None:
    assert design_stress_at("copper", 273.15 + 300) is None
    assert design_stress_at("wood", 293.15) is None


def test_every_material_is_either_ductile_with_a_yield_or_marked_as_without_warning() -> None:
    for name, material in MATERIALS.items():
        assert (material.yield_strength is None) == material.brittle_or_creeping, name
        assert material.yield_strength is None or material.design_stress < material.yield_strength < material.ultimate
        assert 0.2 < material.poisson < 0.5
        assert material.youngs_modulus is None or math.isfinite(material.youngs_modulus)
