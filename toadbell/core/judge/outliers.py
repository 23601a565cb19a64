"""Steps in a log, and settling: what is no leak that goes on, found and named so that it can be cut out in the open."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from toadbell.core.arrays import Array

MOST_STEPS = 6
CLEAR = 4.0
"""A jump shows from so many of the gauge's steps."""
ODD = 8.0
"""And from so many times what the readings jitter by; one reading by itself from so many of the gauge's steps."""
WINDOW = 5
FEWEST = 6
"""In fewer readings nothing can be told apart."""
SETTLES_WITHIN = 400.0
"""Creeping wall and seals, and air going into solution, are done within minutes: time constant, s; the room is not."""


@dataclass(frozen=True)
class Found:
    """A step in a log.

    kind   "jump": all later readings are higher or lower by so much; "reading": one reading stands apart
    index  of the first reading after the jump, or of the reading itself
    time   s from the log's beginning; by  Pa, downwards negative
    """

    kind: Literal["jump", "reading"]
    index: int
    time: float
    by: float


def find_steps(time: Array, pressure: Array, step: float, warming: float) -> list[Found]:
    """Jumps and lone readings that no leak, warmth or settling explains, in order of time.

    time s, pressure Pa, (readings,); step is what can be told apart on the gauge, Pa; warming: how fast warmth that
    begins
    or ends between two readings may move the pressure, Pa/s.
    """
    if len(time) < FEWEST:
        return []
    alone = _alone(time, pressure, step)
    kept = np.setdiff1d(np.arange(len(time)), [found.index for found in alone])
    jumps = _jumps(time[kept], pressure[kept], step, warming)
    jumps = [Found("jump", int(kept[found.index]), found.time, found.by) for found in jumps]
    largest = sorted([*alone, *jumps], key=lambda found: -abs(found.by))[:MOST_STEPS]
    return sorted(largest, key=lambda found: found.index)


def _alone(time: Array, pressure: Array, step: float) -> list[Found]:
    """Readings far from the line between their neighbours, which agree with each other."""
    between = pressure[:-2] + (pressure[2:] - pressure[:-2]) * (time[1:-1] - time[:-2]) / (time[2:] - time[:-2])
    off = pressure[1:-1] - between
    odd = np.abs(off) > max(ODD * step, ODD * _jitter(off))
    agree = np.abs(pressure[2:] - pressure[:-2]) < np.abs(off) / 3
    return [Found("reading", int(i) + 1, float(time[i + 1]), float(off[i])) for i in np.flatnonzero(odd & agree)]


def _jumps(time: Array, pressure: Array, step: float, warming: float) -> list[Found]:
    """Changes between two readings beyond what the rates before and after would make.

    Not in the first minutes, where settling is steep; at the very end only where it is plain, for nothing follows that
    would tell.
    """
    if len(time) < FEWEST:
        return []
    gaps, changes = np.diff(time), np.diff(pressure)
    rates = changes / gaps
    before, after = _running(rates, -1), _running(rates, 1)
    before, after = np.where(np.isnan(before), after, before), np.where(np.isnan(after), before, after)
    low, high = np.minimum(before, after) * gaps, np.maximum(before, after) * gaps
    beyond = np.where(changes > high, changes - high, np.where(changes < low, changes - low, 0.0))
    clear = max(CLEAR * step, ODD * _jitter(changes - (low + high) / 2)) + warming * gaps
    clear[:2] = np.inf
    clear[-2:] *= 2
    odd = np.abs(beyond) > clear
    return [Found("jump", int(i) + 1, float(time[i + 1]), float(beyond[i])) for i in np.flatnonzero(odd)]


def _running(rates: Array, side: int) -> Array:
    """Median of the rates of WINDOW gaps before (−1) or after (1) each gap."""
    padded = np.concatenate([np.full(WINDOW, np.nan), rates, np.full(WINDOW, np.nan)])
    windows = np.lib.stride_tricks.sliding_window_view(padded, WINDOW)
    chosen = windows[: len(rates)] if side < 0 else windows[WINDOW + 1 : WINDOW + 1 + len(rates)]
    found = np.full(len(rates), np.nan)
    some = ~np.isnan(chosen).all(axis=1)
    found[some] = np.nanmedian(chosen[some], axis=1)
    return found


def _jitter(values: Array) -> float:
    """1 σ by the median of how far they are from their median, which a few odd ones do not move."""
    return float(1.4826 * np.median(np.abs(values - np.median(values))))


def settled_after(time: Array, content: Array, error: float) -> float:
    """How long the content went on flattening after shut-in, s; 0 where it did not.

    time s, content m³ with the warmth taken out, (points,); error 1 σ of a point, m³. An exponential beside a straight
    line,
    least squares, its time constant tried from half a minute to SETTLES_WITHIN.
    """
    span = float(time[-1] - time[0])
    if len(time) < 8 or span < 600:
        return 0.0
    best = (0.0, 0.0)
    straight = np.column_stack([np.ones_like(time), time - time[0]])
    plain = _misfit(straight, content, error)[0]
    for tau in np.geomspace(30, min(SETTLES_WITHIN, span / 6), 8):
        if np.count_nonzero(time - time[0] < 3 * tau) < 4:
            continue
        misfit, coefficients = _misfit(np.column_stack([straight, np.exp(-(time - time[0]) / tau)]), content, error)
        if coefficients[2] > 4 * error and plain - misfit > best[0]:
            best = (plain - misfit, float(tau))
    gain, tau = best
    misfit_after = plain - gain
    return 3 * tau if gain > 30 and misfit_after < 3 * len(time) else 0.0


def _misfit(columns: Array, content: Array, error: float) -> tuple[float, Array]:
    coefficients: Array = np.asarray(np.linalg.lstsq(columns, content, rcond=None)[0], dtype=np.float64)
    return float((((content - columns @ coefficients) / error) ** 2).sum()), coefficients
