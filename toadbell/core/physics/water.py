"""Liquid water. Properties are IAPWS-95's through CoolProp; pressures Pa gauge, temperatures K."""

import math
from functools import lru_cache

import CoolProp
from CoolProp import AbstractState

from toadbell.core.units import ATMOSPHERE

_water = AbstractState("HEOS", "Water")
ROOM = 293.15
"""What water and room are reckoned at where nobody said, K."""
BOILS = 372.0
"""Water is reckoned as liquid up to here, K."""


def water_density(temperature: float, pressure: float = 0.0) -> float:
    """Density of water, kg/m³, at K and Pa gauge."""
    _water.update(CoolProp.PT_INPUTS, pressure + ATMOSPHERE, temperature)
    return float(_water.rhomass())


def water_compressibility(temperature: float, pressure: float = 0.0) -> float:
    """Isothermal compressibility κ of water, 1/Pa, at K and Pa gauge."""
    _water.update(CoolProp.PT_INPUTS, pressure + ATMOSPHERE, temperature)
    return float(_water.isothermal_compressibility())


@lru_cache(maxsize=4096)
def water_expansion(temperature: float, pressure: float = 0.0) -> float:
    """Volume expansion β of water at constant pressure, 1/K; it changes sign near 4 °C."""
    _water.update(CoolProp.PT_INPUTS, pressure + ATMOSPHERE, temperature)
    return float(_water.isobaric_expansion_coefficient())


def mean_compressibility(temperature: float, pressure: float) -> float:
    """Mean compressibility κ̄ from zero to a gauge pressure, 1/Pa: ln(ρ(P)/ρ(0))/P."""
    if pressure <= 0:
        return water_compressibility(temperature)
    return math.log(water_density(temperature, pressure) / water_density(temperature)) / pressure
