"""The vessel as a solid that can be tilted, rolled and filled: levels, heights, what lies below a level.

A solid of revolution is a profile of radii along its axis; it lies with its axis level at tilt 0 and stands on its
first
end at a quarter turn. Angles round the axis are counted from the top as it lies, before it is rolled. Lengths m, angles
rad.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from toadbell.core.arrays import Array

SLICES = 600
UPRIGHT = math.pi / 2


@dataclass(frozen=True)
class Prism:
    """A tank with upright sides that stands level: floor m², tall m."""

    floor: float
    tall: float

    @property
    def volume(self) -> float:
        """What it holds, m³."""
        return self.floor * self.tall

    def below(self, level: float) -> float:
        """Volume below a level above the lowest point, m³."""
        return self.floor * min(max(level, 0.0), self.tall)


@dataclass(frozen=True)
class Revolved:
    """A solid of revolution. Slices of thickness `thick` at `along` (from the first seam) with radius `radius`."""

    along: Array
    radius: Array
    thick: Array
    tilt: float
    roll: float

    @property
    def volume(self) -> float:
        """What it holds, m³."""
        return float((math.pi * self.radius**2 * self.thick).sum())

    @cached_property
    def _rise(self) -> tuple[float, float]:
        """Lowest and highest point over the axis at the first seam, m; of each slice both faces count."""
        sine, cosine = math.sin(self.tilt), abs(math.cos(self.tilt))
        faces = np.concatenate([self.along - self.thick / 2, self.along + self.thick / 2]) * sine
        reach = np.concatenate([self.radius, self.radius]) * cosine
        return float((faces - reach).min()), float((faces + reach).max())

    @property
    def tall(self) -> float:
        """From the lowest to the highest point, m."""
        lowest, highest = self._rise
        return highest - lowest

    def height(self, along: float, out: float, round_: float) -> float:
        """Height of a point above the lowest, m: `along` the axis from the first seam, `out` from the axis, `round_` it
        from the top.
        """
        lowest, _ = self._rise
        return along * math.sin(self.tilt) + out * math.cos(round_ + self.roll) * math.cos(self.tilt) - lowest

    def radius_at(self, along: float) -> float:
        """Inside radius at a place along the axis, m; 0 beyond the ends."""
        return float(np.interp(along, self.along, self.radius, left=0.0, right=0.0))

    def below(self, level: float) -> float:
        """Volume below a level above the lowest point, m³: segments of the slices' circles."""
        lowest, _ = self._rise
        sine, cosine = math.sin(self.tilt), abs(math.cos(self.tilt))
        over_axis = level + lowest - self.along * sine
        if cosine < 1e-9:
            part = np.clip(over_axis / self.thick / abs(sine) + 0.5, 0.0, 1.0)
            return float((math.pi * self.radius**2 * self.thick * part).sum())
        reach = np.clip(over_axis / cosine, -self.radius, self.radius)
        segment = self.radius**2 * (math.pi / 2 + np.arcsin(reach / self.radius)) + reach * np.sqrt(
            self.radius**2 - reach**2
        )
        return float((segment * self.thick).sum())

    def turned(self, tilt: float, roll: float) -> Revolved:
        """The same solid in another attitude."""
        return Revolved(self.along, self.radius, self.thick, tilt, roll)


Solid = Prism | Revolved


def cylinder(
    diameter: float, length: float, ends: tuple[tuple[str, float, float, float], ...], tilt: float, roll: float
) -> Revolved:
    """A cylinder with ends, each given by its form, depth, crown and knuckle radius (m); without an end it is cut off
    square.
    """
    along, radius, thick = _profile(diameter, length, ends)
    return Revolved(along, radius, thick, tilt, roll)


def sphere(diameter: float, tilt: float, roll: float) -> Revolved:
    """A sphere; `along` is from its first pole."""
    along, thick = _slices(0.0, diameter, SLICES + 1)
    return Revolved(
        along, np.sqrt(np.maximum(1e-12, (diameter / 2) ** 2 - (along - diameter / 2) ** 2)), thick, tilt, roll
    )


def cask(bilge: float, head: float, length: float, tilt: float, roll: float) -> Revolved:
    """A cask with staves bent to an elliptical arc: inside diameters at bilge and head. Kepler: π L (2 D² + d²)/12."""
    along, thick = _slices(0.0, length, SLICES + 1)
    square = bilge**2 / 4 - (bilge**2 - head**2) * ((along - length / 2) / length) ** 2
    return Revolved(along, np.sqrt(square), thick, tilt, roll)


def _slices(start: float, stop: float, n: int) -> tuple[Array, Array]:
    edges = np.linspace(start, stop, n + 1)
    return (edges[1:] + edges[:-1]) / 2, np.diff(edges)


@lru_cache(maxsize=256)
def _profile(
    diameter: float, length: float, ends: tuple[tuple[str, float, float, float], ...]
) -> tuple[Array, Array, Array]:
    R, n = diameter / 2, SLICES // 3
    pieces = []
    for side, end in enumerate(ends[:2]):
        form, depth, crown, knuckle = end
        if depth <= 0:
            continue
        out, thick = _slices(0.0, depth, n)
        radius = _end_radius(form, R, depth, crown, knuckle, out)
        along = -out[::-1] if side == 0 else length + out
        pieces.append((along, radius[::-1] if side == 0 else radius, thick))
    body, thick = _slices(0.0, length, n)
    pieces.append((body, np.full(n, R), thick))
    pieces.sort(key=lambda piece: float(piece[0][0]))
    along, radius, thickness = (np.concatenate([piece[i] for piece in pieces]) for i in range(3))
    return along, radius, thickness


def _end_radius(form: str, R: float, depth: float, crown: float, knuckle: float, out: Array) -> Array:
    """Inside radius of a dished end at a distance beyond its seam, m."""
    if form != "torispherical":
        return np.asarray(R * np.sqrt(1 - (out / depth) ** 2))
    join = depth - (crown - crown * (crown - depth) / (crown - knuckle)) if crown > knuckle else depth
    on_knuckle = R - knuckle + np.sqrt(np.maximum(0.0, knuckle**2 - out**2))
    on_crown = np.sqrt(np.maximum(1e-12, crown**2 - (out + crown - depth) ** 2))
    return np.asarray(np.where(out <= join, on_knuckle, on_crown))
