"""Liquid water. Properties are IAPWS-95's; pressures Pa gauge, temperatures K.

The library that has them takes half a second to begin with. So the logarithm of the density was fitted once, by
Chebyshev
polynomials of temperature and pressure (`make tables`), to 2e-13 of itself; compressibility and expansion are its
slopes.
Beyond the fit the library itself is asked.
"""

import json
import math
from collections.abc import Sequence
from functools import cache, lru_cache
from pathlib import Path
from typing import Any

from toadbell.core.units import ATMOSPHERE

ROOM = 293.15
"""What water and room are reckoned at where nobody said, K."""
BOILS = 372.0
"""Water is reckoned as liquid up to here, K."""


def water_density(temperature: float, pressure: float = 0.0) -> float:
    """Density of water, kg/m³, at K and Pa gauge.

    >>> round(water_density(293.15), 2)  # IAPWS-95: 998.21 kg/m³ at 20 °C and one atmosphere
    998.21
    """
    if not _fitted(temperature, pressure):
        return float(_library(temperature, pressure).rhomass())
    return math.exp(chebyshev(_along_pressure(temperature), _part(pressure, _fit()["pressure"])))


@lru_cache(maxsize=4096)
def water_compressibility(temperature: float, pressure: float = 0.0) -> float:
    """Isothermal compressibility κ of water, 1/Pa, at K and Pa gauge: (∂ ln ρ/∂P)_T.

    >>> round(water_compressibility(293.15) * 1e12, 1)  # IAPWS-95: 4.589e-10 1/Pa at 20 °C and one atmosphere
    458.9
    """
    if not _fitted(temperature, pressure):
        return float(_library(temperature, pressure).isothermal_compressibility())
    low, high = _fit()["pressure"]
    return chebyshev(slope(_along_pressure(temperature)), _part(pressure, (low, high))) * 2 / (high - low)


@lru_cache(maxsize=4096)
def water_expansion(temperature: float, pressure: float = 0.0) -> float:
    """Volume expansion β of water at constant pressure, 1/K: −(∂ ln ρ/∂T)_P; it changes sign near 4 °C.

    >>> round(water_expansion(293.15) * 1e6, 1)  # IAPWS-95: 2.068e-4 1/K at 20 °C and one atmosphere
    206.8
    """
    if not _fitted(temperature, pressure):
        return float(_library(temperature, pressure).isobaric_expansion_coefficient())
    low, high = _fit()["temperature"]
    at = _part(pressure, _fit()["pressure"])
    rows = [chebyshev(row, at) for row in _fit()["ln_density"]]
    return -chebyshev(slope(rows), _part(temperature, (low, high))) * 2 / (high - low)


def mean_compressibility(temperature: float, pressure: float) -> float:
    """Mean compressibility κ̄ from zero to a gauge pressure, 1/Pa: ln(ρ(P)/ρ(0))/P.

    >>> round(mean_compressibility(293.15, 1e7) * 1e12, 1)  # to 100 bar: a little under the 458.9 at nought
    453.1
    """
    if pressure <= 0:
        return water_compressibility(temperature)
    return math.log(water_density(temperature, pressure) / water_density(temperature)) / pressure


# -- the fit --------------------------------------------------------------------------------


def chebyshev(coefficients: Sequence[float], x: float) -> float:
    """Sum of c_k T_k(x) for x from −1 to 1, by Clenshaw's recurrence.

    >>> chebyshev([1.0, 2.0, 3.0], 0.5)  # 1 + 2 · 0.5 + 3 · (2 · 0.5² − 1)
    0.5
    """
    one, two = 0.0, 0.0
    for c in reversed(coefficients[1:]):
        one, two = c + 2 * x * one - two, one
    return coefficients[0] + x * one - two


def slope(coefficients: Sequence[float]) -> list[float]:
    """Coefficients of the derivative of a sum of Chebyshev polynomials: c'_(k−1) = c'_(k+1) + 2 k c_k.

    >>> slope([1.0, 2.0, 3.0])  # 2 T_0 + 3 · 4 T_1
    [2.0, 12.0]
    """
    n = len(coefficients)
    found = [0.0] * (n + 1)
    for k in range(n - 1, 0, -1):
        found[k - 1] = found[k + 1] + 2 * k * coefficients[k]
    found[0] /= 2
    return found[: n - 1]


@cache
def _fit() -> dict[str, Any]:
    found: dict[str, Any] = json.loads(Path(__file__).with_name("water.json").read_text(encoding="utf-8"))
    return found


def _fitted(temperature: float, pressure: float) -> bool:
    (cold, warm), (low, high) = _fit()["temperature"], _fit()["pressure"]
    return bool(cold <= temperature <= warm and low <= pressure <= high)


def _part(value: float, ends: Sequence[float]) -> float:
    """Where a value lies between two ends, from −1 to 1."""
    return 2 * (value - ends[0]) / (ends[1] - ends[0]) - 1


@lru_cache(maxsize=256)
def _along_pressure(temperature: float) -> list[float]:
    """Coefficients of the logarithm of the density along the pressure, at a temperature."""
    at = _part(temperature, _fit()["temperature"])
    return [chebyshev(column, at) for column in zip(*_fit()["ln_density"], strict=True)]


def _library(temperature: float, pressure: float) -> Any:
    """IAPWS-95 itself, through CoolProp."""
    import CoolProp

    state = _state()
    state.update(CoolProp.PT_INPUTS, pressure + ATMOSPHERE, temperature)
    return state


@cache
def _state() -> Any:
    from CoolProp import AbstractState

    return AbstractState("HEOS", "Water")
