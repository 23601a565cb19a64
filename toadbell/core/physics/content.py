"""What a vessel is full of, as something to pump into: water and wall with the air left in, or air.

Pressures Pa gauge, temperatures K, volumes m³.
"""

from dataclasses import dataclass

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.physics.air import vapour
from toadbell.core.physics.water import (
    BOILS,
    mean_compressibility,
    water_compressibility,
    water_density,
    water_expansion,
)
from toadbell.core.units import ATMOSPHERE


@dataclass(frozen=True)
class Content:
    """A water-filled vessel as something to pump into.

    volume       m³
    give         ε of the wall, 1/Pa
    expansion    linear expansion of the wall, 1/K
    trapped_air  m³ at atmosphere
    temperature  of the water, K
    stated       measured compliance, m³/Pa, used instead of water and wall where given
    """

    volume: float
    give: float
    expansion: float
    trapped_air: float
    temperature: float
    stated: float | None = None

    def stiff_part(self, pressure: float) -> float:
        """Compliance of water and wall alone at a pressure, m³/Pa."""
        if self.stated is not None:
            return self.stated
        return self.volume * (water_compressibility(self.temperature, pressure) + self.give)

    def compliance(self, pressure: float) -> float:
        """Volume to pump in per pascal at a gauge pressure, m³/Pa; handbook of the job, C(P)."""
        return self.stiff_part(pressure) + self.trapped_air * ATMOSPHERE / (ATMOSPHERE + pressure) ** 2

    def pumped(self, pressure: float) -> float:
        """Volume pumped in from zero to a gauge pressure, m³."""
        air = self.trapped_air * pressure / (pressure + ATMOSPHERE)
        if self.stated is not None:
            return self.stated * pressure + air
        return self.volume * (mean_compressibility(self.temperature, pressure) + self.give) * pressure + air

    def swelling(self, pressure: float, temperature: float | None = None) -> float:
        """Volume by which the water outgrows the wall per kelvin, V (β − 3α), m³/K."""
        return self.volume * (water_expansion(temperature or self.temperature, pressure) - 3 * self.expansion)

    def pressure_per_kelvin(self, pressure: float) -> float:
        """Rise of pressure per kelvin when shut in, Pa/K."""
        return self.swelling(pressure) / self.compliance(pressure)

    def warming(self, pressure: float, to: float) -> float | None:
        """Kelvins of warming that raise the shut-in vessel from one gauge pressure to another, Pa; None where boiling
        comes first.

        The mass stays: what the water's density asks for at each temperature, by IAPWS-95, fits into wall and air at
        the second
        pressure. So it goes along temperature and pressure, through the water's densest point and on.
        """
        if to <= pressure:
            return 0.0
        mass = water_density(self.temperature, pressure) * (self.volume - self._air(pressure, self.temperature))

        def spare(temperature: float) -> float:
            grown = self.give * (to - pressure) + 3 * self.expansion * (temperature - self.temperature)
            room = self.volume * (1 + grown) - self._air(to, temperature)
            return water_density(temperature, to) * room - mass

        low = self.temperature
        while low + 0.5 <= BOILS and spare(low + 0.5) > 0:
            low += 0.5
        if low + 0.5 > BOILS:
            return None
        high = low + 0.5
        for _ in range(20):
            middle = (low + high) / 2
            low, high = (middle, high) if spare(middle) > 0 else (low, middle)
        return high - self.temperature

    def _air(self, pressure: float, temperature: float) -> float:
        """What the trapped air takes up at a gauge pressure and a temperature, m³."""
        return self.trapped_air * ATMOSPHERE / (ATMOSPHERE + pressure) * temperature / self.temperature


@dataclass(frozen=True)
class AirContent:
    """A vessel full of air as something to pump into: volumes are of free air, at standard pressure and the test's
    temperature.

    volume       without pressure, m³
    temperature  of the air, K
    pushes       by how much its volume grows as it pushes water up a pipe, or its sides out, m³/Pa
    outer        the air outside, Pa absolute
    damp         it stands over water, and is as damp as it can be
    outdoors     it sees day and night, and a weather of hours to days
    """

    volume: float
    temperature: float
    pushes: float = 0.0
    damp: bool = False
    outdoors: bool = False
    outer: float = ATMOSPHERE

    def compliance(self, pressure: float) -> float:
        """Free air to pump in per pascal, m³/Pa: V/P_atm, the same at every pressure, where it pushes nothing."""
        return (self.volume + self.pushes * (self.outer + 2 * pressure)) / ATMOSPHERE

    trapped_air: float = 0.0
    """None but what is pumped in."""

    def stiff_part(self, pressure: float) -> float:
        """All of it."""
        return self.compliance(pressure)

    def pumped(self, pressure: float) -> float:
        """Free air pumped in from zero to a gauge pressure, m³. Boyle."""
        return (self.volume * pressure + self.pushes * pressure * (self.outer + pressure)) / ATMOSPHERE

    def grows(self, pressure: float, temperature: Array) -> Array:
        """Free air that warming from the first temperature (K) to each looks like, m³: the gas by Gay-Lussac, and the
        vapour that the water gives off.
        """
        inside, first = self.volume + self.pushes * pressure, float(temperature[0])
        grown = (pressure + self.outer) * (temperature - first) / self.temperature
        if self.damp:
            grown = grown + np.array([vapour(float(one)) for one in temperature]) - vapour(first)
        return np.asarray(inside * grown / ATMOSPHERE)

    def swelling(self, pressure: float) -> float:
        """Free air that a kelvin of warming looks like, V P_abs/(P_atm T), m³/K."""
        per_kelvin = (pressure + self.outer) / self.temperature
        if self.damp:
            per_kelvin += vapour(self.temperature + 0.5) - vapour(self.temperature - 0.5)
        return (self.volume + self.pushes * pressure) * per_kelvin / ATMOSPHERE

    def pressure_per_kelvin(self, pressure: float) -> float:
        """Rise of pressure per kelvin when shut in, Pa/K: P_abs/T where it is dry and pushes no water. Gay-Lussac."""
        return self.swelling(pressure) / self.compliance(pressure)

    def warming(self, pressure: float, to: float) -> float | None:
        """Kelvins of warming from one gauge pressure to another, Pa. Gay-Lussac."""
        return max(0.0, (to - pressure) / self.pressure_per_kelvin(pressure))
