"""The leak and its uncertainty: a straight line through what is in the vessel, with what may have disturbed it.

Everything is reckoned as volume, not pressure: what was pumped in to stand at each reading, less what the temperature
explains, falls in a straight line when there is a leak. Disturbances: the reading's resolution, the thermometer's, a
random walk that no thermometer saw, a share of the temperature's part that is wrong because the wall is not the water,
and without a thermometer a steady drift that cannot be told from a leak.
"""

from dataclasses import dataclass

import numpy as np

from toadbell.core.judge.log import Array

HOUR = 3600.0
WALL_IS_NOT_WATER = 0.10
"""Share of the temperature's part that may be wrong, 1 σ."""
UNSEEN_DRIFT = 1.0 / HOUR
"""Drift that nobody saw without a thermometer, K/s, 1 σ."""
WANDERING = {True: 0.01, False: 0.05}
"""Least random walk of the water's temperature that goes unseen, K/√h, with a thermometer and without."""
MOST_POINTS = 240
PLANNED_POINTS = 40
"""Points that stand for the readings of a hold that is only planned: enough for its standard deviation to two figures."""


@dataclass(frozen=True)
class Kit:
    """What the readings can tell.

    gauge     step told apart on the gauge as a volume, m³
    thermometer  step of the thermometer, K; None without one
    swelling  m³/K
    """

    gauge: float
    thermometer: float | None
    swelling: float


@dataclass(frozen=True)
class Fit:
    """A straight line with its uncertainty. q m³/s; fitted volumes and their 1 σ, m³."""

    q: float
    sd: float
    line: Array
    line_sd: Array


def thin(time: Array, *columns: Array) -> tuple[Array, ...]:
    """Average neighbours so that at most MOST_POINTS are left; also gives how many went into each, last."""
    n = len(time)
    if n <= MOST_POINTS:
        return (time, *columns, np.ones(n))
    edges = np.linspace(0, n, MOST_POINTS + 1).astype(int)
    counts = np.diff(edges).astype(float)
    return (*(np.add.reduceat(column, edges[:-1]) / counts for column in (time, *columns)), counts)


def covariance(time: Array, counts: Array, kit: Kit, wandering: float, drift: float, warmth: Array | None) -> Array:
    """Covariance of the volumes at the readings, m⁶.

    time       s
    counts     how many readings were averaged in each point
    wandering  random walk of the unseen temperature, K/√s
    drift      unseen steady drift, K/s, 1 σ
    warmth     the temperature's part as taken out, m³, or None
    """
    white = kit.gauge**2 / 12 / np.sqrt(counts)
    if kit.thermometer:
        white = white + (kit.swelling * kit.thermometer) ** 2 / 12 / np.sqrt(counts)
    total = np.diag(white) + (kit.swelling * wandering) ** 2 * np.minimum.outer(time, time)
    total += (kit.swelling * drift) ** 2 * np.outer(time, time)
    if warmth is not None:
        total += WALL_IS_NOT_WATER**2 * np.outer(warmth, warmth)
    return np.asarray(total)


def straight_line(time: Array, content: Array, total: Array) -> tuple[Fit, float]:
    """Generalised least squares of content = c − q t; also the restricted log-likelihood of the covariance."""
    X = np.column_stack([np.ones_like(time), -time])
    factor = np.linalg.cholesky(total)
    A, y = np.linalg.solve(factor, X), np.linalg.solve(factor, content)
    information = A.T @ A
    inverse = np.linalg.inv(information)
    best = inverse @ (A.T @ y)
    left = y - A @ best
    likelihood = -np.log(np.diag(factor)).sum() - np.linalg.slogdet(information)[1] / 2 - left @ left / 2
    line_sd = np.sqrt(np.einsum("ij,jk,ik->i", X, inverse, X))
    return Fit(float(best[1]), float(np.sqrt(inverse[1, 1])), X @ best, line_sd), float(likelihood)


def fit_leak(time: Array, content: Array, counts: Array, kit: Kit, warmth: Array | None) -> tuple[Fit, float]:
    """The leak, with the wandering's strength weighed by how well it explains the log; also that strength, K/√s."""
    seen = warmth is not None
    least = WANDERING[seen] / np.sqrt(HOUR)
    drift = 0.0 if seen else _unseen_drift(time, content, kit)
    fits = []
    for wandering in least * np.geomspace(1, 300, 12):
        fit, likelihood = straight_line(time, content, covariance(time, counts, kit, wandering, drift, warmth))
        fits.append((likelihood, wandering, fit))
    weights = np.exp(np.array([f[0] for f in fits]) - max(f[0] for f in fits))
    weights /= weights.sum()
    q = float(sum(w * f[2].q for w, f in zip(weights, fits, strict=True)))
    variance = float(sum(w * (f[2].sd ** 2 + (f[2].q - q) ** 2) for w, f in zip(weights, fits, strict=True)))
    _, strength, chosen = max(fits, key=lambda f: f[0])
    return Fit(q, variance**0.5, chosen.line, chosen.line_sd), float(strength)


def _unseen_drift(time: Array, content: Array, kit: Kit) -> float:
    """Without a thermometer: 1 K/h, or more where the log rises, which no leak can do. K/s, 1 σ."""
    slope = float(np.polyfit(time, content, 1)[0])
    rising = slope / abs(kit.swelling) if kit.swelling else 0.0
    return max(UNSEEN_DRIFT, rising)


def leak_sd(hold: float, every: float, kit: Kit, wandering: float | None = None, warmth_rate: float = 0.0) -> float:
    """What the standard deviation of the leak would be after a hold of so long, m³/s.

    hold, every  s
    wandering    K/√s; the least where nothing is known yet
    warmth_rate  temperature's part per second expected, m³/s
    """
    readings = int(max(2.0, hold // every + 1))
    n = min(PLANNED_POINTS, readings)
    time = np.linspace(0, hold, n)
    seen = kit.thermometer is not None
    strength = WANDERING[seen] / np.sqrt(HOUR) if wandering is None else wandering
    warmth = warmth_rate * time if seen else None
    total = covariance(time, np.full(n, readings / n), kit, strength, 0.0 if seen else UNSEEN_DRIFT, warmth)
    return straight_line(time, np.zeros(n), total)[0].sd
