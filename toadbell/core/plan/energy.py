"""Stored energy, and how far away to stand."""

import math

from toadbell.core.phrases import LOW_HEAD
from toadbell.core.physics.air import air_energy, available_work, trapped_air_energy

TNT = 4.27e6
"""Energy of a kilogram of TNT, J (ASME PCC-2, Article 501)."""
NO_HARM = 20.0
"""Scaled distance for no biological effect, m/kg^⅓ (ASME PCC-2, Article 501)."""


def water_energy(stiff_compliance: float, trapped_air: float, pressure: float) -> float:
    """Energy in a water-filled vessel: ½ C P² of water and wall (C in m³/Pa), and the trapped air's own, J."""
    return stiff_compliance * pressure**2 / 2 + trapped_air_energy(trapped_air, pressure)


def stored_under_air(volume: float, pressure: float) -> float:
    """What air in a volume (m³) can do at a pressure (Pa), J: at a low head what the atmosphere leaves of it."""
    return available_work(volume, pressure) if pressure < LOW_HEAD else air_energy(volume, pressure)


def tnt_equivalent(energy: float) -> float:
    """Mass of TNT with that energy (J), kg.

    >>> round(tnt_equivalent(175.4e3), 4)  # kg: 175.4 kJ / 4.27 MJ
    0.0411
    """
    return energy / TNT


def stand_off(tnt: float, scaled_distance: float = NO_HARM) -> float:
    """Distance at which the blast of so much TNT (kg) does no harm, m. Fragments go further. ASME PCC-2, Article 501.

    >>> round(stand_off(0.0411), 1)  # m: 20 × ∛(2 × 0.0411)
    8.7
    """
    return scaled_distance * math.cbrt(2 * tnt)


LEAST_DISTANCES = ((135.5e6, 30.0), (271e6, 60.0))
"""The least distance for a test under air by the energy stored up to each, J and m (ASME PCC-2, Article 501, Mandatory
Appendix III).
"""


def stand_off_under_air(energy: float) -> float:
    """How far everybody stays from a test under air that stores so much (J), m: by the blast, and never less than the
    code's least.
    """
    return max(least_distance(energy), stand_off(tnt_equivalent(energy)))


def least_distance(energy: float) -> float:
    """The code's least distance for a test under air that stores so much (J), m."""
    return next((away for most, away in LEAST_DISTANCES if energy <= most), LEAST_DISTANCES[-1][1])


EFFECTS = {"no harm from the blast": NO_HARM, "eardrums": 12.0, "lungs": 6.0, "deadly": 2.0}
"""Scaled distances by what the blast does nearer than that, m/kg^⅓ (ASME PCC-2, Article 501)."""


def stand_offs(tnt: float) -> dict[str, float]:
    """Distances by effect, m, for the blast of so much TNT (kg)."""
    return {effect: stand_off(tnt, scaled) for effect, scaled in EFFECTS.items()}
