"""Sections of a rig, shut off one after another: the leak of each by difference, with its band.

Each hold has some sections open, and its leak is theirs together. Rates m³/s.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import nnls

BAND = 1.96
"""Half-width of a band of 95 %, in standard deviations."""


@dataclass(frozen=True)
class SectionHold:
    """A hold with some sections open: its leak, and between what it lies (95 %), m³/s."""

    open: tuple[str, ...]
    leak: float
    low: float
    high: float


@dataclass(frozen=True)
class SectionLeak:
    """The leak of a section, and between what it lies (95 %), m³/s; `told` is false where no hold tells it apart."""

    section: str
    leak: float
    low: float
    high: float
    told: bool


def leak_of_each(holds: Sequence[SectionHold]) -> list[SectionLeak]:
    """The leak of every section by the holds that it was open in: least squares with each hold's own doubt, none under
    nought.

    Sections that were only ever open together are not told apart: each may have all of what they have, or nothing.
    Source: the differences of holds, procedures, the hunt.
    """
    names = list(dict.fromkeys(name for hold in holds for name in hold.open))
    if not names:
        return []
    unit = max(max(abs(hold.leak), hold.high - hold.low) for hold in holds) or 1.0
    doubt = np.array([max((hold.high - hold.low) / (2 * BAND * unit), 1e-6) for hold in holds])
    design = np.array([[float(name in hold.open) for name in names] for hold in holds])
    weighed, seen = design / doubt[:, None], np.array([hold.leak / unit for hold in holds]) / doubt
    best = nnls(weighed, seen)[0]
    free, covariance = np.linalg.lstsq(weighed, seen, rcond=None)[0], np.linalg.pinv(weighed.T @ weighed)
    known = np.linalg.pinv(weighed) @ weighed
    found = []
    for n, name in enumerate(names):
        told = bool(known[n, n] > 1 - 1e-6)
        together = min(hold.high for hold in holds if name in hold.open)
        if not told:
            found.append(SectionLeak(name, float(best[n]) * unit, 0.0, max(0.0, together), False))
            continue
        half = BAND * float(np.sqrt(covariance[n, n]))
        low, high = max(0.0, float(free[n]) - half), max(0.0, float(free[n]) + half)
        found.append(SectionLeak(name, float(best[n]) * unit, low * unit, high * unit, True))
    return found
