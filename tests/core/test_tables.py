"""The tables that the core begins with say what the libraries say that they were made from."""

import numpy as np
import pytest
from CoolProp.CoolProp import PropsSI
from scipy.special import ndtr
from scipy.stats import norm

from toadbell.core import units
from toadbell.core.judge.normal import DIMENSIONS, MOST_POINTS, even_points, phi
from toadbell.core.physics import steam, water
from toadbell.core.units import ATMOSPHERE
from tools import tables

PLACES = [
    (t, p) for t in (273.16, 277.13, 285.0, 300.0, 321.15, 350.0, 372.0) for p in (0.0, 1e5, 8.5e5, 2.5e6, 1.3e7, 4e7)
]


@pytest.mark.parametrize(("temperature", "pressure"), [*PLACES, (300.0, 9e7), (372.9, 2e5)])
def test_water_is_iapws_95s(temperature: float, pressure: float) -> None:
    def library(what: str) -> float:
        return float(PropsSI(what, "T", temperature, "P", pressure + ATMOSPHERE, "Water"))

    assert water.water_density(temperature, pressure) == pytest.approx(library("D"), rel=1e-11)
    assert water.water_compressibility(temperature, pressure) == pytest.approx(
        library("ISOTHERMAL_COMPRESSIBILITY"), rel=1e-8
    )
    expansion = library("ISOBARIC_EXPANSION_COEFFICIENT")
    assert water.water_expansion(temperature, pressure) == pytest.approx(expansion, rel=1e-8, abs=1e-11)


@pytest.mark.parametrize("pressure", [0.0, 0.35e5, 5.5e5, 1.6e6, 9.8e6, 1.5e7])
def test_steam_is_iapws_95s(pressure: float) -> None:
    absolute = pressure + ATMOSPHERE
    assert steam.saturation(pressure) == pytest.approx(PropsSI("T", "P", absolute, "Q", 0, "Water"), rel=1e-10)
    entropy, before, density = (PropsSI(what, "P", absolute, "Q", 0, "Water") for what in "SUD")
    flashed = 0.003 * density * (before - PropsSI("U", "P", ATMOSPHERE, "S", entropy, "Water"))
    assert steam.steam_energy(0.003, pressure) == pytest.approx(flashed, rel=1e-6, abs=1e-3)


def test_every_unit_kept_is_the_librarys() -> None:
    kept = tables.unit_table()
    assert len(kept) > 80
    for name, kinds in kept.items():
        for kind, (scale, offset) in kinds.items():
            assert units.from_si(scale + offset, name, kind) == pytest.approx(1, rel=1e-12)


def test_a_unit_that_is_not_kept_is_asked_of_the_library() -> None:
    assert "kN/m**2" not in tables.unit_table()
    assert units.read("2 kN/m**2", "pressure").value == pytest.approx(2000)
    with pytest.raises(units.QuantityError, match="no length that can be read"):
        units.read("2 kN/m**2", "length")


def test_the_normal_sum_is_right_into_its_tails() -> None:
    z = np.linspace(-8.9, 8.9, 100_003)
    assert np.abs(phi(z) - ndtr(z)).max() < 1e-13
    assert phi(np.array([[-50.0, 50.0]])).tolist() == [[phi(-9.0), phi(9.0)]]


def test_the_judges_points_are_a_scrambled_sobol_sequence() -> None:
    drawn = tables.points()
    for dimensions in DIMENSIONS:
        even = np.clip(drawn[str(dimensions)][:256] / 2.0**30, 1e-6, 1 - 1e-6)
        assert np.allclose(even_points(256, dimensions), norm.ppf(even), rtol=0, atol=1e-12)
    assert even_points(MOST_POINTS, 12).shape == (MOST_POINTS, 12)
