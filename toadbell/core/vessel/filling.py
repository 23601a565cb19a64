"""Filling, standing full and draining: levels, masses, times. Lengths m, volumes m³, masses kg, times s."""

import math
from functools import lru_cache
from typing import Any

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
    return None if shell.length is None else float(_tank(sheet).A)


def _cask_area(of: Cask) -> float:
    """Staves as a solid of revolution, by the trapezium rule along the arc, and the two heads."""
    x = np.linspace(-of.length / 2, of.length / 2, 401)
    r = np.sqrt(of.bilge**2 / 4 - (of.bilge**2 - of.head**2) * (x / of.length) ** 2)
    staves = np.pi * (r[1:] + r[:-1]) * np.hypot(np.diff(x), np.diff(r))
    return float(staves.sum() + math.pi * of.head**2 / 2)


def _tank(sheet: VesselSheet) -> Any:
    """The vessel as fluids draws it."""
    shell = sheet.shell
    assert shell is not None
    ends = tuple((end.form, *shape.torispherical_radii(end, shell.inside_diameter)) for end in sheet.ends)
    return _built(shell.inside_diameter, shell.length or 0.0, ends)


@lru_cache(maxsize=128)
def _built(D: float, L: float, ends: tuple[tuple[str, float, float], ...]) -> Any:
    sides: dict[str, Any] = {}
    for side, (form, crown, knuckle) in zip("AB", ends, strict=False):
        if form in ("ellipsoidal", "hemispherical"):
            sides[f"side{side}"] = "ellipsoidal" if form == "ellipsoidal" else "spherical"
            sides[f"side{side}_a"] = D / 4 if form == "ellipsoidal" else D / 2
        elif form == "torispherical":
            sides |= {f"side{side}": form, f"side{side}_f": crown / D, f"side{side}_k": knuckle / D}
    from fluids.geometry import TANK  # loads slowly, and few ask for an area

    return TANK(D=D, L=L, horizontal=True, **sides)


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
    tank, total = _tank(sheet), math.pi * shell.inside_diameter * (shell.length or 0.0) * shell.usual * metal.density
    for side, end in zip((tank.A_sideA, tank.A_sideB), sheet.ends, strict=False):
        total += (
            side
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
