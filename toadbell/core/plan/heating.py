"""How long a boiler takes to come up on its fire: what heat water, steam and metal take, over what the burner gives.

Nothing is lost to the room, so it is the soonest. Temperatures K, times s, pressures Pa gauge.
"""

import numpy as np

from toadbell.core.answers import Heating, ProfilePoint
from toadbell.core.physics.materials import SPECIFIC_HEAT
from toadbell.core.physics.steam import heat_held, saturation, steam_pressure
from toadbell.core.physics.water import ROOM, water_density
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel import filling, shape

HALF_A_GLASS = 0.5
"""A boiler at half a glass is taken to be half full."""
POINTS = 60


def metal_heat(sheet: VesselSheet) -> float | None:
    """Heat capacity of a vessel's metal, J/K; None where its mass or what it is made of is not known."""
    mass = filling.empty_mass(sheet)
    heat = SPECIFIC_HEAT.get(sheet.shell.material) if sheet.shell else None
    return None if mass is None or heat is None else mass * heat


def heating(sheet: VesselSheet, to: float | None = None) -> Heating | None:
    """How it comes up, to the pressure at which its valve lifts (`to`, Pa) or its working pressure.

    None where burner or volume are not known.

    Metal that is not known takes nothing up: it is said, and the time is the soonest all the more.
    """
    volume = shape.volume(sheet)
    if sheet.burner is None or volume is None:
        return None
    start = sheet.water_temperature or ROOM
    water, metal = HALF_A_GLASS * volume * water_density(start), metal_heat(sheet)
    top = saturation(max(to or 0.0, sheet.working_pressure))
    cold = heat_held(volume, water, metal or 0.0, start)
    points = []
    for n in range(POINTS + 1):
        at = start + (top - start) * n / POINTS
        took = (heat_held(volume, water, metal or 0.0, at) - cold) / sheet.burner
        points.append(ProfilePoint(time=took, pressure=max(0.0, steam_pressure(at))))
    at_work = (heat_held(volume, water, metal or 0.0, saturation(sheet.working_pressure)) - cold) / sheet.burner
    return Heating(water=water, metal=metal, power=sheet.burner, soonest=at_work, curve=points)


def reached_at(heated: Heating, pressure: float) -> float:
    """When it comes to a pressure (Pa), s: between the points of its curve."""
    return float(np.interp(pressure, [one.pressure for one in heated.curve], [one.time for one in heated.curve]))
