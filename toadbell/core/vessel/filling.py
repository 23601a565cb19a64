"""Filling, standing full and draining: levels, masses, times. Lengths m, volumes m³, masses kg, times s."""

import math
from functools import lru_cache
from typing import Any

from fluids.geometry import TANK

from toadbell.core.sheets import VesselSheet
from toadbell.core.units import GRAVITY
from toadbell.core.vessel import shape
from toadbell.core.vessel.materials import figures_of

DISCHARGE = 0.6
"""Coefficient of discharge of a drain bush or a short hose."""
_SLICES = 400


def filled_volume(sheet: VesselSheet, level: float) -> float | None:
    """Volume of water below a level above the lowest point, m³; tubes, which stand in it, not taken off."""
    if sheet.box is not None:
        box = sheet.box
        floor = math.pi * box.diameter**2 / 4 if box.diameter else (box.length or 0) * (box.width or 0)
        return floor * min(max(level, 0.0), box.height)
    shell = sheet.shell
    if shell is None:
        return None
    if shell.form == "sphere":
        h = min(max(level, 0.0), shell.inside_diameter)
        return math.pi * h**2 * (3 * shell.inside_diameter / 2 - h) / 3
    if shell.length is None:
        return None
    tank = _tank(sheet)
    return float(tank.V_from_h(min(max(level, 0.0), tank.h_max)))


def inside_area(sheet: VesselSheet) -> float | None:
    """Area wetted when full, m²; None where the shape is not known."""
    if sheet.box is not None:
        box = sheet.box
        if box.diameter:
            return math.pi * box.diameter * (box.diameter / 2 + box.height)
        length, width = box.length or 0, box.width or 0
        return 2 * (length * width + (length + width) * box.height)
    shell = sheet.shell
    if shell is None:
        return None
    if shell.form == "sphere":
        return math.pi * shell.inside_diameter**2
    return None if shell.length is None else float(_tank(sheet).A)


def _tank(sheet: VesselSheet) -> Any:
    """The vessel as fluids draws it."""
    shell = sheet.shell
    assert shell is not None
    ends = tuple((end.form, *shape.torispherical_radii(end, shell.inside_diameter)) for end in sheet.ends)
    return _built(shell.inside_diameter, shell.length or 0.0, sheet.position == "lying", ends)


@lru_cache(maxsize=128)
def _built(D: float, L: float, lying: bool, ends: tuple[tuple[str, float, float], ...]) -> Any:
    sides: dict[str, Any] = {}
    for side, (form, crown, knuckle) in zip("AB", ends, strict=False):
        if form in ("ellipsoidal", "hemispherical"):
            sides[f"side{side}"] = "ellipsoidal" if form == "ellipsoidal" else "spherical"
            sides[f"side{side}_a"] = D / 4 if form == "ellipsoidal" else D / 2
        elif form == "torispherical":
            sides |= {f"side{side}": form, f"side{side}_f": crown / D, f"side{side}_k": knuckle / D}
    return TANK(D=D, L=L, horizontal=lying, **sides)


def empty_mass(sheet: VesselSheet) -> float | None:
    """Mass of the empty vessel, kg: as stated, else of its walls and tubes, fittings and legs not counted; None where not known.

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
    tank, total = _tank(sheet), math.pi * shell.inside_diameter * (shell.length or 0.0) * shell.usual * metal.density
    for side, end in zip((tank.A_sideA, tank.A_sideB), sheet.ends, strict=False):
        total += side * (end.usual or shell.usual) * ((figures_of(end.material, end).density if end.material else None) or metal.density)
    for tube in sheet.tubes:
        section = math.pi * tube.wall * (tube.outside_diameter - tube.wall)
        dense = (figures_of(tube.material, tube).density if tube.material else None) or metal.density
        total += tube.count * section * (tube.length or shell.length or 0.0) * dense
    return total


def fill_time(volume: float, rate: float) -> float:
    """Time to fill a volume (m³) at a rate (m³/s), s."""
    return volume / rate


def drain_time(sheet: VesselSheet) -> float | None:
    """Time to empty through the drain at the lowest point, vent open, s; None where drain or shape is not known.

    Torricelli with C_d = 0.6, summed over slices that grow finer towards the bottom.
    """
    top = shape.height(sheet)
    if sheet.drain is None or top is None or filled_volume(sheet, top) is None:
        return None
    bore = math.pi * sheet.drain.bore**2 / 4
    levels = [top * (i / _SLICES) ** 2 for i in range(_SLICES + 1)]
    volumes = [filled_volume(sheet, level) or 0.0 for level in levels]
    total = 0.0
    for i in range(_SLICES):
        middle = math.sqrt(levels[i]) / 2 + math.sqrt(levels[i + 1]) / 2
        total += (volumes[i + 1] - volumes[i]) / (DISCHARGE * bore * math.sqrt(2 * GRAVITY) * middle)
    return total
