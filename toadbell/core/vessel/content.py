"""What a sheet's vessel is full of, and the air that stays in."""

from toadbell.core.physics.content import AirContent, Content
from toadbell.core.physics.materials import figures_of
from toadbell.core.physics.wall import DEFAULT_EXPANSION, wall_give
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.gas import GasHolder
from toadbell.core.sheets.vessel import Shell
from toadbell.core.units import ATMOSPHERE
from toadbell.core.vessel.openings import Vent


def content_of(
    volume: float, shell: Shell | None, trapped_air: float | None, temperature: float, stated: float | None = None
) -> Content:
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


def gas_in(
    volume: float, temperature: float, holder: GasHolder | None, outer: float = ATMOSPHERE, gives: float = 0.0
) -> AirContent:
    """The air in a vessel of so much, m³, at a temperature, K; of a gas holder with the water that it pushes.

    outer  the air outside, Pa absolute; gives  by how much its sides are known to give, m³/Pa
    """
    if holder is None:
        return AirContent(volume, temperature, gives, outer=outer)
    return AirContent(volume, temperature, holder.pushes + gives, holder.over_water, outdoors=True, outer=outer)


def trapped_air(sheet: VesselSheet, vent: Vent | None) -> float | None:
    """Air left in, m³: as stated, else what stays above the vent; None where neither is known."""
    if sheet.trapped_air is not None:
        return sheet.trapped_air
    return vent.air if vent else None
