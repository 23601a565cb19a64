"""What a drawing of the vessel needs, worked out once: outline, openings, water level, readings; lengths m, angles rad.

Coordinates are the vessel's own: x along its axis from the first seam, v across it, up as it lies before it is tilted.
A low
tank or a drum stands: its x is upward.
"""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict

from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.vessel import Fitting
from toadbell.core.vessel import shape
from toadbell.core.vessel.openings import vent_of
from toadbell.core.vessel.solid import UPRIGHT, Prism, Revolved, Solid

LOOP = 30.0
"""Length over diameter from where a pipe is drawn folded."""
END_POINTS = 28
LEVELS = 25
"""Levels at which the drawing knows how much water is below."""


class _Drawn(BaseModel):
    model_config = ConfigDict(frozen=True, defer_build=True)


class DrawnPoint(_Drawn):
    """A point of the outline: along the axis, and how far from it."""

    x: float
    r: float


class DrawnEnd(_Drawn):
    """An end: its form, how deep it is, and its wall."""

    form: str
    depth: float
    wall: float | None


class DrawnTubes(_Drawn):
    """Tubes through the shell: how many, how wide, how long."""

    count: int
    diameter: float
    length: float


class DrawnOpening(_Drawn):
    """An opening: where (w is towards who looks at the front), which way it points (dx, dv), how far it faces him (1 at
    him, −1 away), and what is in it.
    """

    name: str
    x: float
    v: float
    w: float
    dx: float
    dv: float
    facing: float
    fitted: str | None
    choice: str | None
    ready: bool


class Filled(_Drawn):
    """So much water stands so high above the lowest point, m³ and m."""

    level: float
    volume: float


class DrawnReading(_Drawn):
    """A wall reading with a place on the shell."""

    x: float
    v: float
    wall: float
    date: str | None
    thinnest: bool


class Drawing(_Drawn):
    """The vessel to be drawn. `outline` is half of it, along the axis.

    `level` is how high the water stands when it runs from the vent; None where that is not known.
    """

    kind: str
    form: Literal["cylinder", "sphere", "drum", "box", "cask", "loop", "unknown"]
    plastic: bool
    diameter: float | None
    length: float | None
    width: float | None
    wall: float | None
    thinnest: float | None
    ends: list[DrawnEnd]
    tubes: list[DrawnTubes]
    position: Literal["lying", "standing"]
    tilt: float
    roll: float
    tall: float
    level: float | None
    outline: list[DrawnPoint]
    openings: list[DrawnOpening]
    readings: list[DrawnReading]
    filling: list[Filled]


def drawing_of(sheet: VesselSheet) -> Drawing:
    """The vessel of a sheet as it is to be drawn; of form "unknown" where its shape is not known."""
    solid, shell, vent = shape.solid_of(sheet), sheet.shell, vent_of(sheet)
    form = _form(sheet, solid)
    ends = [
        DrawnEnd(form=end.form, depth=shape.end_depth(end, shell.inside_diameter), wall=end.thinnest)
        for end in sheet.ends
        if shell is not None
    ]
    through = (shell.length if shell else None) or 0.0
    tubes = [DrawnTubes(count=t.count, diameter=t.outside_diameter, length=t.length or through) for t in sheet.tubes]
    upright = isinstance(solid, Prism) or (solid is not None and abs(solid.tilt - UPRIGHT) < 1e-9)
    return Drawing(
        kind=sheet.kind,
        form=form,
        plastic=shell is not None and shell.material in ("pet", "pp", "hdpe"),
        diameter=_across(sheet),
        length=_along(sheet),
        width=sheet.box.width if sheet.box else None,
        wall=shell.usual if shell else None,
        thinnest=shell.thinnest if shell else None,
        ends=ends,
        tubes=tubes,
        position="standing" if upright else "lying",
        tilt=UPRIGHT if isinstance(solid, Prism) else sheet.tilt if solid is None else solid.tilt,
        roll=sheet.roll,
        tall=0.0 if solid is None else solid.tall,
        level=None if solid is None or vent is None else min(vent.height, solid.tall),
        outline=[] if solid is None else [DrawnPoint(x=x, r=r) for x, r in _outline(sheet, solid)],
        openings=[]
        if solid is None
        else [drawn for o in sheet.fittings if (drawn := _opening(sheet, solid, o)) is not None],
        readings=[] if not isinstance(solid, Revolved) else _readings(sheet, solid),
        filling=[]
        if solid is None
        else [Filled(level=z, volume=solid.below(z)) for z in np.linspace(0, solid.tall, LEVELS)],
    )


def _form(
    sheet: VesselSheet, solid: Solid | None
) -> Literal["cylinder", "sphere", "drum", "box", "cask", "loop", "unknown"]:
    if sheet.box is not None:
        return "drum" if sheet.box.diameter else "box"
    if sheet.cask is not None:
        return "cask"
    if solid is None or sheet.shell is None:
        return "unknown"
    if sheet.shell.form == "sphere":
        return "sphere"
    return "loop" if (sheet.shell.length or 0.0) > LOOP * sheet.shell.inside_diameter else "cylinder"


def _across(sheet: VesselSheet) -> float | None:
    if sheet.box is not None:
        return sheet.box.diameter or sheet.box.length
    return sheet.cask.bilge if sheet.cask else sheet.shell.inside_diameter if sheet.shell else None


def _along(sheet: VesselSheet) -> float | None:
    if sheet.box is not None:
        return sheet.box.height
    return sheet.cask.length if sheet.cask else sheet.shell.length if sheet.shell else None


def _outline(sheet: VesselSheet, solid: Solid) -> list[tuple[float, float]]:
    if isinstance(solid, Prism):
        half = (_across(sheet) or 0.0) / 2
        return [(0.0, half), (solid.tall, half)]
    first, last = float(solid.along[0] - solid.thick[0] / 2), float(solid.along[-1] + solid.thick[-1] / 2)
    shell = sheet.shell
    if shell is None or shell.form == "sphere":
        at = (first + last) / 2 - (last - first) / 2 * np.cos(np.linspace(0, math.pi, 2 * END_POINTS))
    else:
        quarter = np.sin(np.linspace(0, math.pi / 2, END_POINTS))
        length = shell.length or 0.0
        at = np.concatenate([first * quarter[::-1], length + (last - length) * quarter])
    points = [(float(x), solid.radius_at(float(np.clip(x, solid.along[0], solid.along[-1])))) for x in at]
    dished = shell is None or shell.form == "sphere" or bool(sheet.ends)
    if dished and sheet.cask is None:
        closed = [
            first < -1e-9 or (shell is not None and shell.form == "sphere"),
            last > (shell.length or 0.0) + 1e-9 if shell else False,
        ]
        if closed[0]:
            points[0] = (first, 0.0)
        if closed[1] or (shell is not None and shell.form == "sphere"):
            points[-1] = (last, 0.0)
    return points


def _opening(sheet: VesselSheet, solid: Solid, opening: Fitting) -> DrawnOpening | None:
    place = opening.place
    if place is None:
        return None

    def drawn(x: float, v: float, dx: float, dv: float, facing: float = 0.0, w: float = 0.0) -> DrawnOpening:
        return DrawnOpening(
            name=opening.name,
            x=x,
            v=v,
            w=w,
            dx=dx,
            dv=dv,
            facing=facing,
            fitted=opening.fitted,
            choice=opening.for_test,
            ready=opening.ready,
        )

    if isinstance(solid, Prism):
        half = (_across(sheet) or 0.0) / 2
        if place.on == "top":
            return drawn(solid.tall, max(-half, min(half, place.along)), 1.0, 0.0)
        return drawn(min(place.up, solid.tall), -half, 0.0, -1.0)
    turn = place.round + solid.roll
    if place.on in ("end 1", "end 2"):
        first = place.on == "end 1"
        pole = float(solid.along[0] - solid.thick[0] / 2) if first else float(solid.along[-1] + solid.thick[-1] / 2)
        wide = solid.along[solid.radius >= place.out]
        x = pole if not len(wide) else float(wide[0] if first else wide[-1])
        return drawn(
            x, place.out * math.cos(turn), -1.0 if first else 1.0, 0.0, math.sin(turn) * 0.2, place.out * math.sin(turn)
        )
    across = solid.radius_at(place.along)
    up = math.copysign(1.0, math.cos(turn))
    return drawn(place.along, across * math.cos(turn), 0.0, up, math.sin(turn), across * math.sin(turn))


def _readings(sheet: VesselSheet, solid: Revolved) -> list[DrawnReading]:
    shell = sheet.shell
    if shell is None:
        return []
    return [
        DrawnReading(
            x=reading.along,
            v=solid.radius_at(reading.along) * math.cos(reading.round + solid.roll),
            wall=reading.wall,
            date=reading.date.isoformat() if reading.date else None,
            thinnest=reading.wall == shell.thinnest,
        )
        for reading in shell.wall_readings
        if reading.along is not None
    ]
