"""Water, wall and air: what it takes to raise the pressure, and what temperature does to it.

Water properties are IAPWS-95 through CoolProp. Pressures Pa gauge, temperatures K, volumes m³.
"""

import math
from dataclasses import dataclass
from functools import lru_cache

import CoolProp
from CoolProp import AbstractState

from toadbell.core.units import ATMOSPHERE
from toadbell.core.vessel.materials import figures_of
from toadbell.core.vessel_sheet import Shell

_water = AbstractState("HEOS", "Water")
DEFAULT_EXPANSION = 12e-6
"""Linear expansion taken for a wall of unknown material, 1/K: steel's, which leaves the water the larger effect."""


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


def wall_give(form: str, inside_diameter: float, wall: float | None, youngs_modulus: float | None, poisson: float) -> float:
    """Relative growth of the volume per pascal, ε, 1/Pa; 0 where wall or modulus is not known.

    form             "cylinder" (closed, thin) or "sphere"
    inside_diameter  m
    wall             m
    youngs_modulus   Pa
    Source: thin-shell membrane theory; R/(t E)(5/2 − 2ν) and 3R(1 − ν)/(2 t E).
    """
    if not wall or not youngs_modulus:
        return 0.0
    R = inside_diameter / 2
    if form == "sphere":
        return 3 * R * (1 - poisson) / (2 * wall * youngs_modulus)
    return R / (wall * youngs_modulus) * (2.5 - 2 * poisson)


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
        """Kelvins of warming that raise the shut-in vessel from one gauge pressure to another, Pa; None where boiling comes first.

        The mass stays: what the water's density asks for at each temperature, by IAPWS-95, fits into wall and air at the second
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


BOILS = 372.0
"""Water is reckoned as liquid up to here, K."""


@dataclass(frozen=True)
class AirContent:
    """A vessel full of air as something to pump into: volumes are of free air, at standard pressure and the test's temperature.

    volume       m³
    temperature  of the air, K
    """

    volume: float
    temperature: float

    def compliance(self, pressure: float) -> float:
        """Free air to pump in per pascal, V/P_atm, m³/Pa; the same at every pressure."""
        return self.volume / ATMOSPHERE

    trapped_air: float = 0.0
    """None but what is pumped in."""

    def stiff_part(self, pressure: float) -> float:
        """All of it."""
        return self.compliance(pressure)

    def pumped(self, pressure: float) -> float:
        """Free air pumped in from zero to a gauge pressure, m³. Boyle."""
        return self.volume * pressure / ATMOSPHERE

    def swelling(self, pressure: float) -> float:
        """Free air that a kelvin of warming looks like, V P_abs/(P_atm T), m³/K."""
        return self.volume * (pressure + ATMOSPHERE) / ATMOSPHERE / self.temperature

    def pressure_per_kelvin(self, pressure: float) -> float:
        """Rise of pressure per kelvin when shut in, P_abs/T, Pa/K. Gay-Lussac."""
        return (pressure + ATMOSPHERE) / self.temperature

    def warming(self, pressure: float, to: float) -> float | None:
        """Kelvins of warming from one gauge pressure to another, Pa. Gay-Lussac."""
        return max(0.0, self.temperature * (to - pressure) / (pressure + ATMOSPHERE))


def content_of(volume: float, shell: Shell | None, trapped_air: float | None, temperature: float, stated: float | None = None) -> Content:
    """A water-filled vessel with a sheet's shell; without one no give is counted.

    volume, trapped_air  m³
    temperature          K
    stated               measured compliance of water and wall, m³/Pa
    """
    if shell is None:
        return Content(volume, 0.0, DEFAULT_EXPANSION, trapped_air or 0.0, temperature, stated)
    metal = figures_of(shell.material, shell)
    give = wall_give(shell.form, shell.inside_diameter, shell.usual, metal.youngs_modulus, metal.poisson)
    expansion = DEFAULT_EXPANSION if metal.expansion is None else metal.expansion
    return Content(volume, give, expansion, trapped_air or 0.0, temperature, stated)
