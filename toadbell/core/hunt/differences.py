"""Sections of a rig, shut off one after another: the leak of each by difference, with its band.

Each hold has some sections open, and its leak is theirs together, and as much of the others' as a valve lets through
that does not shut. What warms or cools one section warms all: a hold that hardly falls shows how little of the others'
fall can be the weather's. Rates m³/s, falls Pa/s.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from toadbell.core.arrays import Array

CHANCE = 0.6
"""So far beyond its band, as a part of half of it, a hold may be by chance: 1.6 × 1.96 σ, one in six hundred."""
FURTHER = 0.75
"""What leaves the worst of the holds so much further off than the likeliest does, as a part of half of its band, is
nearly as likely: of two holds that lie apart by chance χ² gives 0.71.
"""


@dataclass(frozen=True)
class Fall:
    """How fast the gauge fell while some sections were open, between what (95 %), Pa/s.

    least, most  the compliance of what was open, m³/Pa
    weather      the most that warmth may make of a fall, common to all holds, Pa/s
    unsteady     and by how much that may differ from hold to hold, Pa/s
    """

    low: float
    high: float
    least: float
    most: float
    weather: float
    unsteady: float


@dataclass(frozen=True)
class SectionHold:
    """A hold with some sections open: its leak, and between what it lies (95 %), m³/s, judged by itself; and its
    fall.
    """

    open: tuple[str, ...]
    leak: float
    low: float
    high: float
    fall: Fall | None = None


@dataclass(frozen=True)
class SectionLeak:
    """The leak of a section, and between what it lies (95 %), m³/s; `told` is false where no hold tells it apart."""

    section: str
    leak: float
    low: float
    high: float
    told: bool


def leak_of_each(holds: Sequence[SectionHold]) -> list[SectionLeak]:
    """The leak of every section by the holds that it was open in: the least and the most that is nearly as likely as
    the likeliest, none under nought, with one weather for all, and both where every valve shuts and where any may let
    through; the likeliest by least squares.

    Sections that were only ever open together are not told apart: each may have all of what they have, or nothing. Nor
    is anything told by holds that contradict each other.
    Source: the differences of holds, procedures, the hunt.
    """
    if not holds:
        return []
    rows, passing = _rows(holds), _rows(holds, passes=True)
    known = np.linalg.pinv(rows.open) @ rows.open
    best = rows.likeliest()
    found = []
    for n, name in enumerate(rows.names):
        bounds = [one for one in (rows.between(n), passing.between(n)) if one is not None]
        if not bounds:
            most = max(hold.high for hold in holds)
            found.append(SectionLeak(name, float(best[n]), 0.0, most, False))
            continue
        low, high = min(one[0] for one in bounds), max(one[1] for one in bounds)
        found.append(SectionLeak(name, min(max(float(best[n]), low), high), low, high, bool(known[n, n] > 1 - 1e-6)))
    return found


def contradict(holds: Sequence[SectionHold]) -> bool:
    """Is there no leak of each section that every hold could be right with, a little out of its band by chance?

    A part seemed to leak more than the whole did: it changed meanwhile, or a valve that was shut lets through.
    """
    return bool(holds) and _rows(holds).between(0) is None


@dataclass(frozen=True)
class _Rows:
    """What the holds leave, as rows of leaks and the weather (Pa/s, the last column): at the least and at the most,
    each with half of its band's width; all in a unit of their own.
    """

    names: list[str]
    unit: float
    open: Array
    sides: Array
    limits: Array
    half: Array
    middle: Array
    weather: float

    def likeliest(self) -> Array:
        """The leaks that fit best, none under nought."""
        from scipy.optimize import lsq_linear, nnls  # asked for when a rig was parted: it is slow to begin with

        count = len(self.half) // 2
        weighed = self.sides[:count] / self.half[:count, None]
        if not self.weather:
            return np.asarray(nnls(weighed[:, :-1], self.middle / self.half[:count])[0]) * self.unit
        wide = [0.0] * len(self.names) + [-self.weather], [np.inf] * len(self.names) + [self.weather]
        return np.asarray(lsq_linear(weighed, self.middle / self.half[:count], wide).x[:-1]) * self.unit

    def between(self, n: int) -> tuple[float, float] | None:
        """The least and the most of one section, m³/s: whatever leaves every hold within its band, or, where they
        contradict each other by chance, three quarters of half of one further than the likeliest; None where they
        contradict each other otherwise.
        """
        from scipy.optimize import linprog

        bounds = [(0.0, None)] * len(self.names) + [(-self.weather, self.weather)]
        slack = linprog(
            np.append(np.zeros(self.sides.shape[1]), 1.0),
            A_ub=np.hstack([self.sides, -self.half[:, None]]),
            b_ub=self.limits,
            bounds=[*bounds, (0.0, None)],
        )
        if slack.status or slack.fun > CHANCE:
            return None
        beyond = max(0.0, float(slack.fun))
        within = self.limits + self.half * (beyond + FURTHER * min(1.0, beyond / 0.05))
        one = np.eye(self.sides.shape[1])[n]
        least, most = (linprog(way * one, A_ub=self.sides, b_ub=within, bounds=bounds) for way in (1, -1))
        if least.status or most.status:
            return None
        return max(0.0, float(least.fun)) * self.unit, max(0.0, -float(most.fun)) * self.unit


def _rows(holds: Sequence[SectionHold], *, passes: bool = False) -> _Rows:
    """The holds as rows; passes: a shut valve may let through, so a hold has what is open at the least, and at the most
    what all have.
    """
    names = list(dict.fromkeys(name for hold in holds for name in hold.open))
    design = np.array([[float(name in hold.open) for name in names] for hold in holds])
    unit = max(max(abs(hold.leak), hold.high - hold.low) for hold in holds) or 1.0
    falls = [(row, hold.fall) for row, hold in zip(design, holds, strict=True) if hold.fall is not None]
    scale = max((unit / fall.most for _, fall in falls), default=1.0)
    upper, lower, middle = [], [], []
    for row, hold in zip(design, holds, strict=True):
        upper.append((*row, 0.0, hold.high / unit))
        lower.append((*-(np.ones_like(row) if passes else row), 0.0, -hold.low / unit))
        middle.append(hold.leak / unit)
    for row, fall in falls:
        warm = scale / unit
        upper.append((*row, fall.most * warm, fall.most * (fall.high + fall.unsteady) / unit))
        through = np.ones_like(row) if passes else row
        lower.append((*-through, -fall.least * warm, -fall.least * (fall.low - fall.unsteady) / unit))
        middle.append((fall.least + fall.most) / 2 * (fall.low + fall.high) / 2 / unit)
    above, below = np.array(upper), np.array(lower)
    half = np.maximum((above[:, -1] + below[:, -1]) / 2, 1e-9)
    return _Rows(
        names=names,
        unit=unit,
        open=design,
        sides=np.vstack([above[:, :-1], below[:, :-1]]),
        limits=np.concatenate([above[:, -1], below[:, -1]]),
        half=np.concatenate([half, half]),
        middle=np.array(middle),
        weather=max((fall.weather for _, fall in falls), default=0.0) / scale,
    )
