"""The pressure of the test, and what the gauge must read for it."""

from toadbell.core.physics.water import ROOM, water_density
from toadbell.core.plan import bases
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.core.units import GRAVITY
from toadbell.core.vessel.openings import gauge_above_top


def asked_pressure(sheet: VesselSheet) -> tuple[str, float]:
    """The basis of a plan and its test pressure at the highest point, Pa; raises SheetError where it cannot be worked
    out.
    """
    basis = bases.chosen_basis(sheet)
    pressure = bases.test_pressure(basis, sheet)
    if pressure is None:
        raise SheetError(f"“{basis}” cannot be worked out. {bases.applies(basis, sheet)[1]}", "basis")
    return basis, pressure


def gauge_head(sheet: VesselSheet) -> float:
    """What the gauge must read above the pressure at the highest point, Pa: ρ g (z_top − z_gauge)."""
    above = gauge_above_top(sheet)
    density = water_density(sheet.water_temperature or ROOM)
    return 0.0 if above is None or sheet.medium == "air" else -density * GRAVITY * above
