"""Low and slow: a little air and soap, to find what leaks under water at many bars."""

from toadbell.core.kinds import KINDS
from toadbell.core.physics.air import air_energy
from toadbell.core.physics.materials import NOT_METAL
from toadbell.core.plan.stops import PLASTIC_UNDER_AIR
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel import shape

PRESSURES = (2e5, 1e5, 0.5e5, 0.2e5, 0.1e5, 0.05e5, 0.02e5)
"""Pressures that are tried, the highest first, Pa: bubbles of soap show a leak from a few millibars on."""


def low_pressure(sheet: VesselSheet) -> float | None:
    """The pressure at which to look for a leak with air and soap, Pa.

    Never over the wanted one, nor over what its air may store by its kind; plastic, wood and lay-ups at a low head, or
    within their maker's limit. None where nothing goes, or where it is not known how much it stores.
    """
    volume = shape.volume(sheet)
    if volume is None:
        return None
    soft = bool(sheet.materials & NOT_METAL)
    for pressure in PRESSURES:
        rated = sheet.maker_test_limit is not None and pressure <= sheet.maker_test_limit
        if soft and pressure > PLASTIC_UNDER_AIR and not rated:
            continue
        if pressure <= sheet.working_pressure and air_energy(volume, pressure) <= KINDS[sheet.kind].air_energy_cap:
            return pressure
    return None
