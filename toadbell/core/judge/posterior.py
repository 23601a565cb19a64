"""What the log says of the leak: guesses at all that is not known, weighed, as a mixture of normal curves.

The guesses are drawn again around those that explain the log, in a few rounds, first leniently (adaptive importance
sampling with tempering; Cappé and others, Population Monte Carlo, 2004). The points are a scrambled Sobol sequence with a
fixed seed, so that the same log gives the same answer.
"""

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.special import ndtr, ndtri
from scipy.stats import qmc

from toadbell.core.judge.log import Array
from toadbell.core.judge.model import HOUR, UNKNOWN, Observed, Weighed, weigh

GUESSES, ROUNDS = 256, 6
QUICK_GUESSES, QUICK_ROUNDS = 80, 5
"""While a hold runs, and while a person asks what if."""
VALUES = 500
USUAL = 1e-5
"""Below this part of what was pumped in, an hour, a leak is not told from none by any workshop's gauge."""
BAND = 0.98
"""What the 95 % band holds of the model's own probability: that much covered the truth in 92 to 95 of 100 holds where it was measured."""
ENOUGH = 30.0
"""Effective guesses that a round has to stand on."""


@dataclass(frozen=True)
class Posterior:
    """The leak, m³/s, as a density at each of a row of values, none below nought; its mean over the hold, and at its beginning.

    parts  of the probability that belong to each value of `mean`
    first_parts  the same of `first`
    sd     1 σ of the mean leak by the readings alone, m³/s
    weights, guesses  of what is not known, by how well they explain the log
    """

    values: Array
    mean: Array
    first: Array
    sd: float
    weights: Array
    guesses: Array

    def first_below(self, leak: float) -> float:
        """The probability that the leak at the first reading was no more than so much, m³/s."""
        return _below(self.values, self.first, leak)

    def band(self) -> dict[str, float]:
        """Median, and the narrowest band that holds BAND of the probability, m³/s: estimate, low, high."""
        return _band(self.values, self.mean)

    def first_band(self) -> dict[str, float]:
        """The same of the leak at the first reading."""
        return _band(self.values, self.first)


def _below(values: Array, parts: Array, leak: float) -> float:
    edges = np.concatenate([[0.0], (values[1:] + values[:-1]) / 2, [values[-1]]])
    return float(np.interp(leak, edges, np.concatenate([[0.0], np.cumsum(parts)])))


def _band(values: Array, parts: Array, part: float = BAND) -> dict[str, float]:
    edges = np.concatenate([[0.0], (values[1:] + values[:-1]) / 2, [values[-1]]])
    density = parts / np.diff(edges)
    order = np.argsort(-density)
    kept = order[: int(np.searchsorted(np.cumsum(parts[order]), part)) + 1]
    median = float(np.interp(0.5, np.cumsum(parts), values))
    return {"estimate": median, "low": float(edges[kept.min()]), "high": float(edges[kept.max() + 1])}


def _leak_parts(weights: Array, leak: Array, sd: Array, values: Array, usual: float) -> Array:
    """Probability at each value: the mixture, times a prior by which smaller leaks are more usual than larger, in proportion."""
    edges = np.concatenate([[0.0], (values[1:] + values[:-1]) / 2, [values[-1]]])
    mixture = weights @ np.diff(ndtr((edges[None, :] - leak[:, None]) / sd[:, None]), axis=1)
    parts = mixture / (values + usual)
    if not parts.sum() > 0:  # every guess has more in the vessel than was pumped in: no leak shows at all
        parts[int(np.argmin(np.abs(values - max(0.0, float(leak.max())))))] = 1.0
    return np.asarray(parts / parts.sum())


def posterior(seen: Observed, compliance_known: float, *, quick: bool = False) -> Posterior:
    """The leak by the readings.

    compliance_known  1 σ of the compliance as a part of it: the log cannot tell it, and the leak is in proportion to it
    """
    rounds, guesses = (QUICK_ROUNDS, QUICK_GUESSES) if quick else (ROUNDS, GUESSES)
    points, scatter = _points(rounds, guesses)
    usual = USUAL * seen.inside / HOUR
    drawn, fits, rounds_seen = [points[0]], [], []
    proposals = [(np.zeros(points.shape[2]), np.eye(points.shape[2]))]
    for round_ in range(rounds):
        weighed = weigh(drawn[-1], seen)
        fits.append(weighed.fits + _may_be(weighed, usual))
        rounds_seen.append(weighed)
        if round_ + 1 < rounds:
            mean, root = _proposal(np.concatenate(drawn), np.concatenate(fits), proposals)
            proposals.append((mean, root))
            drawn.append(mean + points[round_ + 1] @ root.T)
    every = np.concatenate(drawn)
    weights = _normal(np.concatenate([each.fits for each in rounds_seen]) + _prior(every) - _proposed(every, proposals))
    leak, sd, first = (np.concatenate([getattr(each, name) for each in rounds_seen]) for name in ("leak", "sd", "first"))
    scale = np.exp(compliance_known * scatter.ravel())
    leak, sd = leak * scale, sd * scale
    bearing = _normal(np.concatenate(fits) + _prior(every) - _proposed(every, proposals))
    kept = bearing > bearing.max() * 1e-4
    weights, leak, sd, first, every = weights[kept], leak[kept], sd[kept], first[kept], every[kept]
    most = max(float((np.maximum(first, 1.0) * (leak + 8 * sd)).max()), usual)
    least = min(float(sd.min()) / 20, most / 100)
    values = least * np.sinh(np.linspace(0, np.arcsinh(most / least), VALUES))
    mean = _leak_parts(weights, leak, sd, values, usual)
    middle = weights @ leak / weights.sum()
    spread = float(np.sqrt(weights @ (sd**2 + (leak - middle) ** 2) / weights.sum()))
    return Posterior(
        values, mean, _leak_parts(weights, leak * first, sd * first, values, usual), spread, bearing[kept] / bearing[kept].sum(), every
    )


@lru_cache(maxsize=8)
def _points(rounds: int, guesses: int) -> tuple[Array, Array]:
    """Standard normal points, (rounds, guesses, unknowns), and one more of each guess for what no log can tell."""
    sobol = qmc.Sobol(len(UNKNOWN) + 1, scramble=True, bits=30, rng=np.random.default_rng(7))
    even = sobol.random_base2(math.ceil(math.log2(rounds * guesses)))[: rounds * guesses]
    drawn = ndtri(np.clip(even, 1e-6, 1 - 1e-6)).reshape(rounds, guesses, len(UNKNOWN) + 1)
    return drawn[:, :, :-1], drawn[:, :, -1]


def _may_be(weighed: Weighed, usual: float) -> Array:
    """Logarithm, nearly, of how usual the leaks are that each guess leads to; those below nought cannot be."""
    likely = np.maximum(weighed.leak, weighed.sd / 2) + usual
    return np.asarray(np.log(np.maximum(1e-12, ndtr(weighed.leak / weighed.sd)) / likely))


def _prior(guesses: Array) -> Array:
    return np.asarray(-(guesses**2).sum(axis=1) / 2)


def _proposed(guesses: Array, proposals: list[tuple[Array, Array]]) -> Array:
    """Logarithm of the density with which the guesses were drawn, all rounds together."""
    each = []
    for mean, root in proposals:
        z = np.linalg.solve(root, (guesses - mean).T)
        each.append(-(z**2).sum(axis=0) / 2 - np.log(np.diag(root)).sum())
    return np.asarray(np.logaddexp.reduce(np.array(each), axis=0) - np.log(len(proposals)))


def _proposal(guesses: Array, fits: Array, proposals: list[tuple[Array, Array]]) -> tuple[Array, Array]:
    """Mean and root of covariance of the guesses as weighed so far: as sharply as still leaves enough of them."""
    base = _prior(guesses) - _proposed(guesses, proposals)
    low, high = 0.0, 1.0
    weights = _normal(base + fits)
    if 1 / (weights**2).sum() < ENOUGH:
        for _ in range(30):
            middle = (low + high) / 2
            weights = _normal(base + middle * fits)
            low, high = (middle, high) if 1 / (weights**2).sum() >= ENOUGH else (low, middle)
        weights = _normal(base + low * fits)
    mean = weights @ guesses
    away = guesses - mean
    spread = 1.2 * (away * weights[:, None]).T @ away + 0.03 * np.eye(guesses.shape[1])
    return mean, np.asarray(np.linalg.cholesky(spread), dtype=np.float64)


def _normal(logs: Array) -> Array:
    weights = np.exp(logs - logs.max())
    return np.asarray(weights / weights.sum())
