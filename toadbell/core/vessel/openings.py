"""The openings: how high each is, which one vents, what air would stay, and how to turn the vessel so that none
does.
"""

import math
from dataclasses import dataclass

from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.vessel import Fitting
from toadbell.core.vessel import shape
from toadbell.core.vessel.solid import Prism, Revolved, Solid

LITTLE_AIR = 0.001
"""Air that may stay, as a part of the volume."""
DEGREE = math.pi / 180
COARSE = 5
"""Degrees between the tilts that are tried first."""


@dataclass(frozen=True)
class Turn:
    """An attitude: tilt and roll, rad, and the air that stays in it, m³."""

    tilt: float
    roll: float
    air: float


@dataclass(frozen=True)
class Vent:
    """The opening that vents, its height and that of the water at it (m), the air that stays (m³), and how to free
    it.
    """

    name: str
    height: float
    air: float
    remedy: Turn | None


def height_of(sheet: VesselSheet, opening: Fitting) -> float | None:
    """Height of an opening's middle above the lowest point as it will be tested, m; None where place or shape is not
    known.
    """
    solid = shape.solid_of(sheet)
    return None if solid is None else _height(solid, sheet, opening)


def vent_of(sheet: VesselSheet) -> Vent | None:
    """The opening marked as vent, else the highest one that has a place; None where no opening has one.

    What lies above its upper edge stays full of air.
    """
    solid = shape.solid_of(sheet)
    if solid is None:
        return None
    placed = [(opening, high) for opening in sheet.fittings if (high := _height(solid, sheet, opening)) is not None]
    if not placed:
        return None
    marked = [pair for pair in placed if pair[0].serves("vent")]
    vent, high = max(marked or placed, key=lambda pair: pair[1])
    air = _air(solid, sheet, vent)
    remedy = None
    if isinstance(solid, Revolved) and air > LITTLE_AIR * solid.volume:
        remedy = _remedy(solid, sheet, vent, air)
    return Vent(vent.name, high, air, remedy)


def _height(solid: Solid, sheet: VesselSheet, opening: Fitting) -> float | None:
    place = opening.place
    if place is None:
        return None
    if isinstance(solid, Prism):
        return solid.tall if place.on == "top" else min(place.up, solid.tall) if place.on == "side" else None
    first, last = float(solid.along[0] - solid.thick[0] / 2), float(solid.along[-1] + solid.thick[-1] / 2)
    if place.on == "end 1":
        return solid.height(_on_end(solid, first, place.out), place.out, place.round)
    if place.on == "end 2":
        return solid.height(_on_end(solid, last, place.out), place.out, place.round)
    if place.on != "shell":
        return None
    return solid.height(place.along, solid.radius_at(place.along), place.round)


def _on_end(solid: Revolved, pole: float, out: float) -> float:
    """Where along the axis an end is so far from the axis, m: the slice nearest to the pole that is as wide."""
    wide = solid.along[solid.radius >= min(out, float(solid.radius.max()))]
    if not len(wide):
        return pole
    return (
        float(wide[abs(wide - pole).argmin()]) if out > float(solid.radius[abs(solid.along - pole).argmin()]) else pole
    )


def _air(solid: Solid, sheet: VesselSheet, vent: Fitting) -> float:
    """Volume above the upper edge of the vent, m³."""
    high = _height(solid, sheet, vent) or 0.0
    on_end = vent.place is not None and vent.place.on in ("end 1", "end 2")
    edge = (vent.bore or 0.0) / 2 * abs(math.cos(solid.tilt)) if isinstance(solid, Revolved) and on_end else 0.0
    return max(0.0, solid.volume - solid.below(high + edge))


def _remedy(solid: Revolved, sheet: VesselSheet, vent: Fitting, air: float) -> Turn | None:
    """The least turn that lets all but a little of the air out; else the one that leaves the least; None where none is
    better.
    """
    rolls = {solid.roll, -(vent.place.round if vent.place else 0.0)}

    def turn(degrees: int, roll: float) -> Turn:
        tilt = degrees * DEGREE
        return Turn(tilt, roll, _air(solid.turned(tilt, roll), sheet, vent))

    def effort(to: Turn) -> float:
        return abs(to.tilt - solid.tilt) + 0.5 * abs(to.roll - solid.roll)

    turns = [turn(degrees, roll) for roll in rolls for degrees in range(-90, 91, COARSE)]
    enough = [to for to in turns if to.air <= LITTLE_AIR * solid.volume]
    if enough:
        near = min(enough, key=effort)
        around = round(near.tilt / DEGREE)
        finer = [turn(degrees, near.roll) for degrees in range(max(-90, around - COARSE), min(90, around + COARSE) + 1)]
        return min((to for to in [near, *finer] if to.air <= LITTLE_AIR * solid.volume), key=effort)
    best = min(turns, key=lambda to: to.air)
    return best if best.air < 0.8 * air else None


def gauge_above_top(sheet: VesselSheet) -> float | None:
    """How far the gauge stands above the highest point, m: as stated, else where the opening is that it goes into; None
    where not known.
    """
    if sheet.gauge is None:
        return None
    if sheet.gauge.height_above_top is not None:
        return sheet.gauge.height_above_top
    at = next((high for o in sheet.fittings if o.serves("gauge") and (high := height_of(sheet, o)) is not None), None)
    top = shape.height(sheet)
    return None if at is None or top is None else at - top
