"""Filling, standing full and draining: levels, masses, times. Lengths m, volumes m³, masses kg, times s."""

import math

import numpy as np

from toadbell.core.physics.materials import figures_of
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.vessel import Cask
from toadbell.core.units import GRAVITY
from toadbell.core.vessel import shape

DISCHARGE = 0.6
"""Coefficient of discharge of a drain bush or a short hose."""
_SLICES = 120


def filled_volume(sheet: VesselSheet, level: float) -> float | None:
    """Volume of water below a level above the lowest point, m³; tubes, which stand in it, not taken off."""
    solid = shape.solid_of(sheet)
    return None if solid is None else solid.below(level)


def inside_area(sheet: VesselSheet) -> float | None:
    """Area wetted when full, m²; None where the shape is not known."""
    if sheet.box is not None:
        box = sheet.box
        if box.diameter:
            return math.pi * box.diameter * (box.diameter / 2 + box.height)
        length, width = box.length or 0, box.width or 0
        return 2 * (length * width + (length + width) * box.height)
    if sheet.cask is not None:
        return _cask_area(sheet.cask)
    shell = sheet.shell
    if shell is None:
        return None
    if shell.form == "sphere":
        return math.pi * shell.inside_diameter**2
    if shell.length is None:
        return None
    flat = math.pi * shell.inside_diameter**2 / 4
    ends = [shape.end_area(end, shell.inside_diameter) for end in sheet.ends[:2]]
    return math.pi * shell.inside_diameter * shell.length + sum(ends) + flat * (2 - len(ends))


def _cask_area(of: Cask) -> float:
    """Staves as a solid of revolution, by the trapezium rule along the arc, and the two heads."""
    x = np.linspace(-of.length / 2, of.length / 2, 401)
    r = np.sqrt(of.bilge**2 / 4 - (of.bilge**2 - of.head**2) * (x / of.length) ** 2)
    staves = np.pi * (r[1:] + r[:-1]) * np.hypot(np.diff(x), np.diff(r))
    return float(staves.sum() + math.pi * of.head**2 / 2)


def empty_mass(sheet: VesselSheet) -> float | None:
    """Mass of the empty vessel, kg: as stated, else of its walls and tubes, fittings and legs not counted; None where
    not known.

    Each wall by its area inside, which is a few per cent light on a thick one.
    """
    if sheet.empty_mass is not None:
        return sheet.empty_mass
    shell, area = sheet.shell, inside_area(sheet)
    metal = None if shell is None else figures_of(shell.material, shell)
    if shell is None or metal is None or shell.usual is None or area is None or metal.density is None:
        return None
    if shell.form == "sphere":
        return area * shell.usual * metal.density
    total = math.pi * shell.inside_diameter * (shell.length or 0.0) * shell.usual * metal.density
    for end in sheet.ends[:2]:
        total += (
            shape.end_area(end, shell.inside_diameter)
            * (end.usual or shell.usual)
            * ((figures_of(end.material, end).density if end.material else None) or metal.density)
        )
    for tube in sheet.tubes:
        section = math.pi * tube.wall * (tube.outside_diameter - tube.wall)
        dense = (figures_of(tube.material, tube).density if tube.material else None) or metal.density
        total += tube.count * section * (tube.length or shell.length or 0.0) * dense
    return total


def fill_time(volume: float, rate: float) -> float:
    """Time to fill a volume (m³) at a rate (m³/s), s."""
    return volume / rate


def drain_bore(sheet: VesselSheet) -> float | None:
    """Bore that the water leaves by, m: as stated, else of the opening that drains in the test or in service; None
    where not known.
    """
    if sheet.drain is not None:
        return sheet.drain.bore
    bored = [opening for opening in sheet.fittings if opening.bore]
    in_test = [opening.bore for opening in bored if opening.for_test == "drain"]
    in_service = [opening.bore for opening in bored if opening.fitted == "drain"]
    return next(iter(in_test + in_service), None)


def drain_time(sheet: VesselSheet) -> float | None:
    """Time to empty through the drain at the lowest point, vent open, s; None where drain or shape is not known.

    Torricelli with C_d = 0.6, summed over slices that grow finer towards the bottom.
    """
    solid, through = shape.solid_of(sheet), drain_bore(sheet)
    if through is None or solid is None:
        return None
    bore = math.pi * through**2 / 4
    levels = [solid.tall * (i / _SLICES) ** 2 for i in range(_SLICES + 1)]
    volumes = [solid.below(level) for level in levels]
    total = 0.0
    for i in range(_SLICES):
        middle = math.sqrt(levels[i]) / 2 + math.sqrt(levels[i + 1]) / 2
        total += (volumes[i + 1] - volumes[i]) / (DISCHARGE * bore * math.sqrt(2 * GRAVITY) * middle)
    return total
