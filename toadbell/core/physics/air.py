"""Compressed air, as an ideal gas. Pressures Pa gauge, volumes m³."""

from toadbell.core.units import ATMOSPHERE

HEAT_RATIO = 1.4
"""Ratio of specific heats of air."""


def air_energy(volume: float, pressure: float) -> float:
    """Energy that compressed air gives up expanding isentropically to atmosphere, J.

    volume    of the air at that pressure, m³
    pressure  gauge, Pa
    Source: ASME PCC-2, Article 501, equation for an ideal gas.
    """
    absolute = pressure + ATMOSPHERE
    return absolute * volume / (HEAT_RATIO - 1) * (1 - (ATMOSPHERE / absolute) ** ((HEAT_RATIO - 1) / HEAT_RATIO))


def available_work(volume: float, pressure: float) -> float:
    """What compressed air can do beyond pushing the atmosphere away, J: its isentropic energy less P_atm (V₂ − V₁).

    At millibars the atmosphere takes nearly all of it back: about P² V / (2 k P_atm) is left.
    volume    of the air at that pressure, m³
    pressure  gauge, Pa
    Source: exergy of a closed system that expands isentropically to the atmosphere.
    """
    absolute = pressure + ATMOSPHERE
    grown = volume * ((absolute / ATMOSPHERE) ** (1 / HEAT_RATIO) - 1)
    return air_energy(volume, pressure) - ATMOSPHERE * grown


def trapped_air_energy(trapped_air: float, pressure: float) -> float:
    """Energy of air left in, J; `trapped_air` is its volume at atmosphere, m³; it shrinks with Boyle to P (Pa gauge)."""
    return air_energy(trapped_air * ATMOSPHERE / (ATMOSPHERE + pressure), pressure)
