"""Saturated steam and its water. IAPWS-95 through CoolProp; pressures Pa gauge, temperatures K."""

from CoolProp.CoolProp import PropsSI

from toadbell.core.units import ATMOSPHERE


def saturation(pressure: float) -> float:
    """Temperature of steam at a gauge pressure (Pa), K."""
    return float(PropsSI("T", "P", pressure + ATMOSPHERE, "Q", 0, "Water"))


def steam_energy(volume: float, pressure: float) -> float:
    """Energy that saturated water gives up flashing isentropically to atmosphere, J.

    volume    of the water, m³
    pressure  gauge, Pa
    Source: IAPWS-95 through CoolProp; internal energies before and after at the same entropy.
    """
    absolute = pressure + ATMOSPHERE
    entropy, before, density = (PropsSI(what, "P", absolute, "Q", 0, "Water") for what in "SUD")
    after = PropsSI("U", "P", ATMOSPHERE, "S", entropy, "Water")
    return float(density * volume * (before - after))
