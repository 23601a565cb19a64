"""Compressed air, as an ideal gas. Pressures Pa gauge, volumes m³."""

import math

from toadbell.core.units import ATMOSPHERE

HEAT_RATIO = 1.4
"""Ratio of specific heats of air."""


def air_energy(volume: float, pressure: float) -> float:
    """Energy that compressed air gives up expanding isentropically to atmosphere, J.

    volume    of the air at that pressure, m³
    pressure  gauge, Pa
    Source: ASME PCC-2, Article 501, equation for an ideal gas.

    >>> round(air_energy(0.097, 12.75e5) / 1000)  # kJ: 1376 kPa × 97 L / 0.4 × (1 − (101.3 / 1376)^0.2857)
    175
    """
    absolute = pressure + ATMOSPHERE
    return absolute * volume / (HEAT_RATIO - 1) * (1 - (ATMOSPHERE / absolute) ** ((HEAT_RATIO - 1) / HEAT_RATIO))


def available_work(volume: float, pressure: float) -> float:
    """What compressed air can do beyond pushing the atmosphere away, J: its isentropic energy less P_atm (V₂ − V₁).

    At millibars the atmosphere takes nearly all of it back: about P² V / (2 k P_atm) is left.
    volume    of the air at that pressure, m³
    pressure  gauge, Pa
    Source: exergy of a closed system that expands isentropically to the atmosphere.

    >>> round(available_work(1.0, 45e2))  # J of a cubic metre at 45 mbar; P² V / 2 k P_atm makes 71
    70
    """
    absolute = pressure + ATMOSPHERE
    grown = volume * ((absolute / ATMOSPHERE) ** (1 / HEAT_RATIO) - 1)
    return air_energy(volume, pressure) - ATMOSPHERE * grown


def trapped_air_energy(trapped_air: float, pressure: float) -> float:
    """Energy of air left in, J; `trapped_air` is its volume at atmosphere, m³; it shrinks with Boyle to P (Pa gauge).

    >>> round(trapped_air_energy(50e-6, 12.75e5), 1)  # J of 50 mL, which are 3.68 mL at 12.75 bar
    6.7
    """
    return air_energy(trapped_air * ATMOSPHERE / (ATMOSPHERE + pressure), pressure)


def vapour(temperature: float) -> float:
    """Pressure of water's vapour in air that is as damp as it can be, Pa absolute, at so many K from 0 to 60 °C.

    Source: Magnus's form with the coefficients of the WMO guide to instruments, over liquid water.

    >>> round(vapour(293.15))  # Pa at 20 °C
    2333
    """
    celsius = temperature - 273.15
    return 611.2 * math.exp(17.62 * celsius / (243.12 + celsius))
