"""Saturated steam and its water.

IAPWS-95, fitted once along the logarithm of the pressure (see `water`); beyond the fit CoolProp is asked.

Pressures Pa gauge, temperatures K.
"""

import json
import math
from functools import cache
from pathlib import Path
from typing import Any

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
