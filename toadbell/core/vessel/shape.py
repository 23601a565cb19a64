"""The vessel's shape: what it holds and how high it stands. All lengths in m, volumes in m³."""

import math

from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.vessel import Box, End, Shell
from toadbell.core.vessel.solid import UPRIGHT, Prism, Solid, cask, cylinder, sphere

FLANGED_KNUCKLE = 0.06
"""Knuckle radius of a common flanged and dished end, as a part of its crown radius (ASME BPVC VIII-1 UG-32)."""


def torispherical_radii(end: End, inside_diameter: float) -> tuple[float, float]:
    """Crown and knuckle radius of a torispherical end, m; where not stated, crown D and knuckle 6 % of it."""
    crown = end.crown or inside_diameter
    return crown, end.knuckle or FLANGED_KNUCKLE * crown


def end_depth(end: End, inside_diameter: float) -> float:
    """Depth of an end beyond its seam, m."""
    radius = inside_diameter / 2
    if end.form == "hemispherical":
        return radius
    if end.form == "ellipsoidal":
        return radius / 2
    if end.form == "torispherical":
        crown, knuckle = torispherical_radii(end, inside_diameter)
        return crown - math.sqrt(max(0.0, (crown - knuckle) ** 2 - (radius - knuckle) ** 2))
    return 0.0


def end_volume(end: End, inside_diameter: float) -> float:
    """Volume of an end beyond its seam, m³. Source: solids of revolution; fluids.geometry for the torispherical."""
    if end.form == "hemispherical":
        return math.pi * inside_diameter**3 / 12
    if end.form == "ellipsoidal":
        return math.pi * inside_diameter**3 / 24
    if end.form == "torispherical":
        return _torispherical_volume(end, inside_diameter)
    return 0.0


def end_area(end: End, inside_diameter: float) -> float:
    """Inside area of an end beyond its seam, m²; inside_diameter m. Source: solids of revolution (half an oblate
    spheroid; a cap and a part of a torus).
    """
    radius = inside_diameter / 2
    if end.form == "hemispherical":
        return 2 * math.pi * radius**2
    if end.form == "ellipsoidal":
        eccentric = math.sqrt(3) / 2
        return math.pi * radius**2 * (1 + math.atanh(eccentric) / eccentric / 4)
    if end.form == "torispherical":
        crown, knuckle = torispherical_radii(end, inside_diameter)
        if crown <= knuckle:
            return 2 * math.pi * radius**2
        join = math.asin((radius - knuckle) / (crown - knuckle))
        bent = (radius - knuckle) * (math.pi / 2 - join) + knuckle * math.cos(join)
        return 2 * math.pi * (crown**2 * (1 - math.cos(join)) + knuckle * bent)
    return math.pi * radius**2


def _torispherical_volume(end: End, inside_diameter: float) -> float:
    """Crown cap and knuckle as solids of revolution, by Simpson's rule over the depth."""
    crown, knuckle = torispherical_radii(end, inside_diameter)
    depth, radius = end_depth(end, inside_diameter), inside_diameter / 2
    join = depth - (crown - crown * (crown - depth) / (crown - knuckle)) if crown > knuckle else depth

    def area(height: float) -> float:
        if height <= join:
            across = radius - knuckle + math.sqrt(max(0.0, knuckle**2 - height**2))
        else:
            across = math.sqrt(max(0.0, crown**2 - (height + crown - depth) ** 2))
        return math.pi * across**2

    n = 2000
    heights = [depth * i / n for i in range(n + 1)]
    weights = [1, *([4, 2] * n)[: n - 1], 1]
    return sum(w * area(h) for w, h in zip(weights, heights, strict=True)) * depth / n / 3


def volume(sheet: VesselSheet) -> float | None:
    """What the vessel holds, m³: as stated, else from its shape; None where the shape is not known."""
    if sheet.volume is not None:
        return sheet.volume
    if sheet.box is not None:
        return box_volume(sheet.box)
    if sheet.cask is not None:
        return math.pi * sheet.cask.length * (2 * sheet.cask.bilge**2 + sheet.cask.head**2) / 12
    if sheet.shell is None:
        return None
    whole = shell_volume(sheet.shell, sheet.ends)
    return None if whole is None else whole - tube_volume(sheet)


def tube_volume(sheet: VesselSheet) -> float:
    """What fire tubes and flues take up inside the shell, m³."""
    through = (sheet.shell.length if sheet.shell else None) or 0.0
    return sum(t.count * math.pi * t.outside_diameter**2 / 4 * (t.length or through) for t in sheet.tubes)


def box_volume(box: Box) -> float:
    """Volume of a low tank or a drum, m³."""
    floor = math.pi * box.diameter**2 / 4 if box.diameter else (box.length or 0.0) * (box.width or 0.0)
    return floor * box.height


def shell_volume(shell: Shell, ends: list[End]) -> float | None:
    """Volume of shell and ends, m³; None for a cylinder without a length."""
    if shell.form == "sphere":
        return math.pi * shell.inside_diameter**3 / 6
    if shell.length is None:
        return None
    body = math.pi * shell.inside_diameter**2 / 4 * shell.length
    return body + sum(end_volume(end, shell.inside_diameter) for end in ends)


def solid_of(sheet: VesselSheet) -> Solid | None:
    """The vessel as a solid in the attitude of its test; None where the shape is not known."""
    if sheet.box is not None:
        return Prism(box_volume(sheet.box) / sheet.box.height, sheet.box.height)
    tilt, roll = (UPRIGHT if sheet.position == "standing" else sheet.tilt), sheet.roll
    if sheet.cask is not None:
        return cask(sheet.cask.bilge, sheet.cask.head, sheet.cask.length, tilt, roll)
    shell = sheet.shell
    if shell is None:
        return None
    if shell.form == "sphere":
        return sphere(shell.inside_diameter, tilt, roll)
    if shell.length is None:
        return None
    ends = tuple(
        (end.form, end_depth(end, shell.inside_diameter), *torispherical_radii(end, shell.inside_diameter))
        for end in sheet.ends
    )
    return cylinder(shell.inside_diameter, shell.length, ends, tilt, roll)


def height(sheet: VesselSheet) -> float | None:
    """Height of the water from the lowest to the highest point as it will be tested, m; None where not known."""
    solid = solid_of(sheet)
    if solid is not None:
        return solid.tall
    lying = sheet.shell is not None and sheet.position == "lying" and not sheet.tilt
    return sheet.shell.inside_diameter if lying and sheet.shell else None
