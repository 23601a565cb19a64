"""By how much a vessel's own sides give under air: flat ones bulge, lids lift, bellows open, and what they take up
looks like air that left.

Round shells and pipes give next to nothing beside the air in them (a thin plastic one 3 % of it). Flat sides do as much
as the air itself. Volumes m³, pressures Pa gauge.
"""

import math
from dataclasses import dataclass

from toadbell.core.physics.materials import figures_of
from toadbell.core.physics.wall import plate_give, round_plate_give
from toadbell.core.sheets import HoldSheet
from toadbell.core.sheets.vessel import Box

UNKNOWN = (1e-6, 1.5)
"""Growth of a volume of which nothing is known, a part of it per pascal, and σ of its logarithm: from a stiff box
(5e-8) to a lid that lifts (2e-5, twice what the air in it takes up).
"""
RECKONED = 0.5
"""σ of the logarithm of what is reckoned of flat sides: edges turn more or less, seams and ribs stiffen them."""


@dataclass(frozen=True)
class Sides:
    """Growth of the volume per pascal, m³/Pa, the middle of it, and σ of its logarithm."""

    give: float
    spread: float


def sides_of(sheet: HoldSheet, pressure: float) -> Sides | None:
    """What its sides give at a pressure; None where that was measured with the whole, or they are stiff."""
    if sheet.medium != "air" or sheet.compliance is not None or sheet.volume is None:
        return None
    told = sheet.holder is not None and sheet.holder.by is not None  # a stiff container, or it keeps its pressure
    if sheet.sides == "stiff" or sheet.shell is not None or told:
        return None
    reckoned = None if sheet.box is None else box_give(sheet.box, pressure)
    if reckoned is not None:
        return Sides(reckoned, RECKONED)
    return Sides(UNKNOWN[0] * sheet.volume, UNKNOWN[1])


def box_give(box: Box, pressure: float) -> float | None:
    """What the flat sides of a box or a drum give at a pressure, m³/Pa; None where wall or material is not known.

    Source: plates in bending, `physics.wall`.
    """
    if box.wall is None or box.material is None:
        return None
    metal = figures_of(box.material)
    if metal.youngs_modulus is None:
        return None
    stiff = (box.wall, metal.youngs_modulus, metal.poisson, pressure)
    if box.diameter is not None:
        hoop = math.pi / 4 * box.diameter**2 * box.height * box.diameter / (box.wall * metal.youngs_modulus)
        return 2 * round_plate_give(box.diameter, *stiff) + hoop
    long, wide = box.length or 0.0, box.width or 0.0
    faces = ((long, wide), (long, box.height), (wide, box.height))
    return 2 * sum(plate_give(one, other, *stiff) for one, other in faces)
