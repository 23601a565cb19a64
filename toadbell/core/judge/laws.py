"""How a leak may go with pressure and time: all the while, only above some pressure, only from some moment on.

None of it has to do with what the water does, so a whole row of such courses is held against each guess at that, with
one
factor of its covariance for all of them. Where the log tells when a leak begins, or at what pressure it shuts, the next
row
stands closer there.
"""

from dataclasses import dataclass
from statistics import NormalDist
from typing import Literal

import numpy as np

from toadbell.core.arrays import Array, Places
from toadbell.core.judge.unknowns import Vessel

Law = Literal["steady", "shuts", "begins"]
LAWS: dict[Law, float] = {"steady": 0.63, "shuts": 0.35, "begins": 0.02}
"""How leaks behave, and how usual each is: all the while; only above some pressure, as a crack or a lip that is pressed
open; only
from some moment on."""
MANY: dict[Law, int] = {"steady": 8, "shuts": 24, "begins": 10}
FEW: dict[Law, int] = {"steady": 5, "shuts": 10}
"""So many courses of each are tried at a time; and where the answer has to be quick."""
LATEST = 0.9
"""What begins in the last tenth of a hold cannot be told by any reading of it."""
ENDS = 2.0
"""How far leaks keep to the ends between a hole and a crack."""
TAILS = 0.55
"""The steady ones reach further into what is unusual than evenly: those at the ends stand for more of it."""
ANYWHERE = 0.3
"""So much of a later row still stands evenly over all that may be."""
GOLDEN = 0.6180339887498949
"""Steps of the golden ratio around a circle leave no gap: they pair what shuts or begins somewhere with a power."""


@dataclass(frozen=True)
class Courses:
    """A row of courses of a leak, (courses,).

    law      of each, by its place in LAWS
    power    of the pressure that it goes with: a hole's root, a crack's one
    opens    pressure at which it shuts, as a part of the one it was shut in at; 0 where it does not
    begins   when, as a part of the hold; below nought where it always did
    chance   natural logarithm of how usual each is, over how many of its kind stand there
    at       where each stands between 0 and 1 in the row of its law; how usual is even over that
    """

    law: Places
    power: Array
    opens: Array
    begins: Array
    chance: Array
    at: Array


@dataclass(frozen=True)
class Density:
    """Where a row is set closer: a density between 0 and 1 that is even between edges."""

    edges: Array
    height: Array

    def of(self, at: Array) -> Array:
        """The density there."""
        return np.asarray(self.height[np.clip(np.searchsorted(self.edges, at, "right") - 1, 0, len(self.height) - 1)])

    def spread(self, count: int) -> Array:
        """So many places, each standing for as much of it."""
        sums = np.concatenate([[0.0], np.cumsum(self.height * np.diff(self.edges))])
        return np.interp((np.arange(count) + 0.5) / count, sums / sums[-1], self.edges)


EVEN = Density(np.array([0.0, 1.0]), np.array([1.0]))
Where = dict[Law, Density]
"""Density by law; even where nothing is said."""


def courses(vessel: Vessel, several: dict[Law, int], where: Where) -> Courses:
    """So many of each law, closer where it is said; how usual one is does not hang on where they were set."""
    each = []
    for number, (law, count) in enumerate(several.items()):
        density = where.get(law, EVEN)
        at = density.spread(count)
        turned = (np.arange(count) * GOLDEN + 0.5) % 1.0 if law != "steady" else at
        z = normal_of(np.asarray(turned, dtype=np.float64))
        share = np.full(count, 1.0 / count)
        if law == "steady":
            z = z / TAILS**0.5
            bounds = np.concatenate([[0.0], _sums((z[1:] + z[:-1]) / 2), [1.0]])
            share = np.diff(bounds)
        each.append(
            (
                np.full(count, number),
                power(z, vessel),
                1 - vessel.narrowest**at if law == "shuts" else np.zeros(count),
                LATEST * at if law == "begins" else np.full(count, -1.0),
                np.log(LAWS[law] * share),
                at,
            )
        )
    return Courses(*(np.concatenate(column) for column in zip(*each, strict=True)))


def closer(at: Array, fits: Array) -> Density:
    """Where the next row of a law is to stand: by how well the courses so far explain the log.

    at, fits  (courses,) of all rows so far, in any order; rows may stand on the same places
    """
    places, which = np.unique(at.round(9), return_inverse=True)
    known = np.bincount(which, fits) / np.bincount(which)
    ends = np.concatenate([[known[0]], known, [known[-1]]])
    smooth = (ends[:-2] + 2 * ends[1:-1] + ends[2:]) / 4
    edges = np.concatenate([[0.0], (places[1:] + places[:-1]) / 2, [1.0]])
    whole = float(smooth @ np.diff(edges))
    return Density(edges, ANYWHERE + (1 - ANYWHERE) * (smooth / whole if whole > 0 else np.ones_like(smooth)))


def power(z: Array, vessel: Vessel) -> Array:
    """With what power of the pressure it leaks, by a standard normal number: from a hole's root to a fine crack's one,
    seldom hardly at all; where it matters, most leaks are one or the other.
    """
    ends = ENDS if vessel.several else 1.0
    return np.asarray(0.75 + 0.25 * np.tanh(ends * z) - 0.5 * np.clip(-z - 1.5, 0.0, 1.0))


def normal_of(parts: Array) -> Array:
    """The standard normal numbers below which such parts lie."""
    return np.array([NormalDist().inv_cdf(part) for part in parts.tolist()])


def _sums(z: Array) -> Array:
    return np.array([NormalDist().cdf(one) for one in z.tolist()])
