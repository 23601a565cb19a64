"""Stored energy, and how far away to stand."""

import math

from CoolProp import CoolProp

from toadbell.core.units import ATMOSPHERE

HEAT_RATIO = 1.4
"""Ratio of specific heats of air."""
TNT = 4.27e6
"""Energy of a kilogram of TNT, J (ASME PCC-2, Article 501)."""
NO_HARM = 20.0
"""Scaled distance for no biological effect, m/kg^⅓ (ASME PCC-2, Article 501)."""


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


def water_energy(stiff_compliance: float, trapped_air: float, pressure: float) -> float:
    """Energy in a water-filled vessel: ½ C P² of water and wall (C in m³/Pa), and the trapped air's own, J."""
    return stiff_compliance * pressure**2 / 2 + trapped_air_energy(trapped_air, pressure)


def tnt_equivalent(energy: float) -> float:
    """Mass of TNT with that energy (J), kg."""
    return energy / TNT


def stand_off(tnt: float, scaled_distance: float = NO_HARM) -> float:
    """Distance at which the blast of so much TNT (kg) does no harm, m. Fragments go further. ASME PCC-2, Article 501."""
    return scaled_distance * math.cbrt(2 * tnt)


LEAST_DISTANCES = ((135.5e6, 30.0), (271e6, 60.0))
"""The least distance for a test under air by the energy stored up to each, J and m (ASME PCC-2, Article 501, Mandatory Appendix III)."""


def stand_off_under_air(energy: float) -> float:
    """How far everybody stays from a test under air that stores so much (J), m: by the blast, and never less than the code's least."""
    return max(least_distance(energy), stand_off(tnt_equivalent(energy)))


def least_distance(energy: float) -> float:
    """The code's least distance for a test under air that stores so much (J), m."""
    return next((away for most, away in LEAST_DISTANCES if energy <= most), LEAST_DISTANCES[-1][1])


EFFECTS = {"no harm from the blast": NO_HARM, "eardrums": 12.0, "lungs": 6.0, "deadly": 2.0}
"""Scaled distances by what the blast does nearer than that, m/kg^⅓ (ASME PCC-2, Article 501)."""


def stand_offs(tnt: float) -> dict[str, float]:
    """Distances by effect, m, for the blast of so much TNT (kg)."""
    return {effect: stand_off(tnt, scaled) for effect, scaled in EFFECTS.items()}


def steam_energy(volume: float, pressure: float) -> float:
    """Energy that saturated water gives up flashing isentropically to atmosphere, J.

    volume    of the water, m³
    pressure  gauge, Pa
    Source: IAPWS-95 through CoolProp; internal energies before and after at the same entropy.
    """
    absolute = pressure + ATMOSPHERE
    entropy, before, density = (CoolProp.PropsSI(what, "P", absolute, "Q", 0, "Water") for what in "SUD")
    after = CoolProp.PropsSI("U", "P", ATMOSPHERE, "S", entropy, "Water")
    return float(density * volume * (before - after))
