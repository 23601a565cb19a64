"""Saturated steam and its water.

IAPWS-95, fitted once along the logarithm of the pressure (see `water`); beyond the fit CoolProp is asked.

Pressures Pa gauge, temperatures K.
"""

import json
import math
from functools import cache
from pathlib import Path
from typing import Any, NamedTuple

from toadbell.core.physics.water import chebyshev
from toadbell.core.units import ATMOSPHERE


def saturation(pressure: float) -> float:
    """Temperature of steam at a gauge pressure (Pa), K.

    >>> round(saturation(0.0), 2)  # 99.97 °C at one atmosphere
    373.12
    >>> round(saturation(5.5e5) - 273.15, 1)  # steam tables: 161.99 °C at 6.5 bar absolute, which is 13 mbar less
    162.1
    """
    absolute = pressure + ATMOSPHERE
    if _fitted(absolute):
        return chebyshev(_fit()["saturation"], _part(absolute))
    return float(_library()("T", "P", absolute, "Q", 0, "Water"))


def steam_pressure(temperature: float) -> float:
    """Pressure at which water boils at a temperature (K, from its triple point to 310 °C), Pa gauge; under 100 °C it is
    less than nought.

    Raises ValueError for temperatures outside of that.
    Source: IAPWS-95.

    >>> round(steam_pressure(435.14) / 1e5, 2)  # steam tables: 6.5 bar absolute at 161.99 °C
    5.49
    """
    return math.exp(_along("ln_pressure", temperature)) - ATMOSPHERE


class Saturated(NamedTuple):
    """Water and steam that stand over each other: internal energies J/kg, densities kg/m³, pressure Pa absolute."""

    pressure: float
    water_energy: float
    steam_energy: float
    water_density: float
    steam_density: float

    @property
    def steam_enthalpy(self) -> float:
        """What a kilogramme of steam carries off, J."""
        return self.steam_energy + self.pressure / self.steam_density

    @property
    def water_enthalpy(self) -> float:
        """What a kilogramme of its water carries off, J."""
        return self.water_energy + self.pressure / self.water_density


def saturated(temperature: float) -> Saturated:
    """Water and steam at a temperature, K.

    Raises ValueError outside of 273.16 to 584 K.
    Source: IAPWS-95.

    >>> round((saturated(373.12).steam_enthalpy - saturated(373.12).water_enthalpy) / 1e3)  # steam tables: 2256.5 kJ/kg
    2256
    """
    return Saturated(
        math.exp(_along("ln_pressure", temperature)),
        _along("water_energy", temperature),
        _along("steam_energy", temperature),
        math.exp(_along("water_ln_density", temperature)),
        math.exp(_along("steam_ln_density", temperature)),
    )


TRIPLE = 273.16
"""What is held is reckoned from here, K."""


def liquid(volume: float, water: float, at: Saturated) -> float:
    """What of the water in a closed volume is not steam, kg: the two fill it together."""
    steam = (volume - water / at.water_density) / (1 / at.steam_density - 1 / at.water_density)
    return min(water, max(0.0, water - steam))


def heat_held(volume: float, water: float, metal: float, temperature: float, at: Saturated | None = None) -> float:
    """What water, its steam and the metal round them hold, J above the triple point.

    volume  of the two together, m³
    water   all of it, kg
    metal   its heat capacity, J/K

    >>> round(heat_held(3e-3, 1.5, 0.0, 373.12) / 1.5e3)  # steam tables: 417.5 kJ/kg, and a little steam over it
    420
    """
    at = at or saturated(temperature)
    wet = liquid(volume, water, at)
    return wet * at.water_energy + (water - wet) * at.steam_energy + metal * (temperature - TRIPLE)


def _along(what: str, temperature: float) -> float:
    low, high = _fit()["temperature"]
    if not low <= temperature <= high:
        raise ValueError(f"no steam is known here at {temperature:.0f} K")
    return chebyshev(_fit()[what], 2 * (temperature - low) / (high - low) - 1)


def steam_energy(volume: float, pressure: float) -> float:
    """Energy that saturated water gives up flashing isentropically to atmosphere, J.

    volume    of the water, m³
    pressure  gauge, Pa
    Source: internal energies before and after at the same entropy.

    >>> round(steam_energy(1e-3, 5.5e5) / 1000)  # kJ of a litre at 5.5 bar
    35
    """
    absolute = pressure + ATMOSPHERE
    if _fitted(absolute):
        return volume * chebyshev(_fit()["flash_energy"], _part(absolute))
    props = _library()
    entropy, before, density = (props(what, "P", absolute, "Q", 0, "Water") for what in "SUD")
    return float(density * volume * (before - props("U", "P", ATMOSPHERE, "S", entropy, "Water")))


@cache
def _fit() -> dict[str, Any]:
    found: dict[str, Any] = json.loads(Path(__file__).with_name("steam.json").read_text(encoding="utf-8"))
    return found


def _fitted(absolute: float) -> bool:
    low, high = _fit()["absolute_pressure"]
    return bool(low <= absolute <= high)


def _part(absolute: float) -> float:
    low, high = (math.log(end) for end in _fit()["absolute_pressure"])
    return 2 * (math.log(absolute) - low) / (high - low) - 1


def _library() -> Any:
    from CoolProp.CoolProp import PropsSI

    return PropsSI
