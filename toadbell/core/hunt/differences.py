"""Sections of a rig, shut off one after another: the leak of each by difference, with its band.

Each hold has some sections open, and its leak is theirs together. Rates m³/s.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import linprog, nnls

from toadbell.core.arrays import Array

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
    """The leak of every section by the holds that it was open in: the least and the most that every hold's band leaves
    it, none under nought; the likeliest by least squares with each hold's own doubt.

    Sections that were only ever open together are not told apart: each may have all of what they have, or nothing. Nor
    is anything told by holds that contradict each other.
    Source: the differences of holds, procedures, the hunt.
    """
    names = list(dict.fromkeys(name for hold in holds for name in hold.open))
    if not names:
        return []
    unit = max(max(abs(hold.leak), hold.high - hold.low) for hold in holds) or 1.0
    design = np.array([[float(name in hold.open) for name in names] for hold in holds])
    doubt = np.array([max((hold.high - hold.low) / (2 * BAND * unit), 1e-6) for hold in holds])
    best = nnls(design / doubt[:, None], np.array([hold.leak / unit for hold in holds]) / doubt)[0]
    known = np.linalg.pinv(design) @ design
    found = []
    for n, name in enumerate(names):
        bounds = _between(holds, design, unit, n)
        if bounds is None:
            found.append(SectionLeak(name, float(best[n]) * unit, 0.0, max(hold.high for hold in holds), False))
            continue
        low, high = bounds
        leak = min(max(float(best[n]) * unit, low), high)
        found.append(SectionLeak(name, leak, low, high, bool(known[n, n] > 1 - 1e-6)))
    return found


def contradict(holds: Sequence[SectionHold]) -> bool:
    """Is there no leak of each section that every hold could be right with, a little out of its band by chance?

    A part seemed to leak more than the whole did: it changed meanwhile, or a valve that was shut lets through.
    """
    names = list(dict.fromkeys(name for hold in holds for name in hold.open))
    design = np.array([[float(name in hold.open) for name in names] for hold in holds])
    unit = max((hold.high for hold in holds), default=0.0) or 1.0
    return bool(names) and _between(holds, design, unit, 0) is None


CHANCE = 0.6
"""So far beyond its band, as a part of half of it, a hold may be by chance: 1.6 × 1.96 σ, one in six hundred."""


def _between(holds: Sequence[SectionHold], design: Array, unit: float, n: int) -> tuple[float, float] | None:
    """The least and the most of one section, m³/s; None where the holds contradict each other."""
    above, below = np.array([hold.high / unit for hold in holds]), np.array([hold.low / unit for hold in holds])
    half = np.maximum((above - below) / 2, 1e-9)
    sides = np.vstack([design, -design])
    slack = linprog(
        np.append(np.zeros(design.shape[1]), 1.0),
        A_ub=np.hstack([sides, -np.concatenate([half, half])[:, None]]),
        b_ub=np.concatenate([above, -below]),
        bounds=(0, None),
    )
    if slack.status or slack.fun > CHANCE:
        return None
    wider = half * (slack.fun + 1e-9 if slack.fun > 0 else 0.0)
    limits = {"A_ub": sides, "b_ub": np.concatenate([above + wider, wider - below]), "bounds": (0, None)}
    one = np.eye(design.shape[1])[n]
    least, most = linprog(one, **limits), linprog(-one, **limits)
    if least.status or most.status:
        return None
    return max(0.0, float(least.fun)) * unit, max(0.0, -float(most.fun)) * unit
