"""What the log says of the leak: guesses at all that is not known, weighed, as a mixture of normal curves.

The guesses are drawn again around those that explain the log, in a few rounds, first leniently (adaptive importance
sampling with tempering; Cappé and others, Population Monte Carlo, 2004). The points are a scrambled Sobol sequence with
a
fixed seed, so that the same log gives the same answer.
"""

import math
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.judge.model import Observed, Weighed, weigh
from toadbell.core.judge.normal import even_points, phi
from toadbell.core.judge.unknowns import HOUR, LAWS, RARE, Law, wanders

GUESSES, ROUNDS = 256, 6
QUICK_GUESSES, QUICK_ROUNDS = 64, 4
"""While a hold runs, and while a person asks what if."""
VALUES = 500
USUAL = 1e-5
"""Below this part of what was pumped in, an hour, a leak is not told from none by any workshop's gauge."""
UNSAID_LEANS = 0.5
"""How far that leaning goes where the vessel's compliance is not known."""
NONE = 10.0
"""And none at all is so many times as usual again: of the vessels that are held, about half leak nothing that any gauge
would tell.
"""
BAND = 0.99
"""What the 95 % band holds of the model's own probability: that much covered the truth in 92 to 95 of 100 holds where
it was measured.
"""
ENOUGH = 30.0
"""Effective guesses that a round has to stand on."""


@dataclass(frozen=True)
class Posterior:
    """The leak at the pressure that was shut in, m³/s, as a density at each of a row of values, none below nought.

    parts     of the probability that belong to each value, the leak as a volume
    by_gauge  the same, the compliance taken as reckoned: what a limit on the fall of the gauge is held against
    sd        1 σ of the leak by the readings alone, m³/s
    fed       probability that more is in the vessel than was shut in: no leak, but a gain
    wanders   probability that the thermometer went its own way
    laws      probability of each law of leaking
    weights, guesses, names  of what is not known, by how well they explain the log, the leak being a steady one
    lessens   the mean leak over the hold as a part of the one at shut-in
    several   there were low holds
    by_readings  the same parts by the readings alone, every leak being as likely before; of low holds
    """

    values: Array
    parts: Array
    by_gauge: Array
    sd: float
    fed: float
    wanders: float
    laws: dict[Law, float]
    lessens: float
    weights: Array
    guesses: Array
    names: tuple[str, ...]
    several: bool = False
    by_readings: Array = field(default_factory=lambda: np.empty(0))

    def readings_say(self, leak: float) -> float:
        """The probability by the readings alone that the leak was no more than so much, m³/s; 1 without low holds."""
        return _below(self.values, self.by_readings, leak) if len(self.by_readings) else 1.0

    def below(self, leak: float, *, by_gauge: bool) -> float:
        """The probability that the leak was no more than so much, m³/s."""
        return _below(self.values, self.by_gauge if by_gauge else self.parts, leak)

    def band(self, *, by_gauge: bool) -> dict[str, float]:
        """Median, and the narrowest band that holds BAND of the probability, m³/s: estimate, low, high.

        With low holds a leak is known so well that it matters when: down from shut-in to the mean over the hold.
        """
        found = _band(self.values, self.by_gauge if by_gauge else self.parts)
        return {**found, "low": found["low"] * min(1.0, self.lessens)} if self.several else found


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


def _leak_parts(weights: Array, leak: Array, sd: Array, values: Array, usual: float, leaning: float) -> Array:
    """Probability at each value: the mixture, times a prior by which smaller leaks are more usual than larger, in
    proportion.

    leaning  1 for that; less where little is known of the vessel, for then a small fall of the gauge may be a large
             leak
    """
    edges = np.concatenate([[0.0], (values[1:] + values[:-1]) / 2, [values[-1]]])
    mixture = weights @ np.diff(phi((edges[None, :] - leak[:, None]) / sd[:, None]), axis=1)
    parts = mixture / (values + usual) ** leaning * np.where(values <= usual, NONE, 1.0)
    if not parts.sum() > 0:  # every guess has more in the vessel than was pumped in: no leak shows at all
        parts[int(np.argmin(np.abs(values - max(0.0, float(leak.max())))))] = 1.0
    return np.asarray(parts / parts.sum())


@dataclass(frozen=True)
class _Drawn:
    """Guesses under one law, (guesses,): logarithm of the weight of each by the readings alone, and with how usual its
    leak is.
    """

    weight: Array
    bearing: Array
    leak: Array
    sd: Array
    first: Array
    scale: Array
    guesses: Array


def posterior(seen: Observed, compliance_known: float, *, quick: bool = False) -> Posterior:
    """The leak by the readings.

    compliance_known  1 σ of the compliance as a part of it: the log cannot tell it, and the leak is in proportion to it
    """
    usual = USUAL * seen.inside / HOUR
    laws: dict[Law, _Drawn] = {"steady": _drawn(seen, compliance_known, usual, quick)}
    laws |= {
        law: _drawn(replace(seen, law=law), compliance_known, usual, quick)
        for law in LAWS
        if law != "steady" and not (quick and law == "begins")
    }
    weight = _normal(np.concatenate([drawn.weight + math.log(LAWS[law]) for law, drawn in laws.items()]))
    leak, sd, scale = (
        np.concatenate([getattr(each, name) for each in laws.values()]) for name in ("leak", "sd", "scale")
    )
    most = max(float((np.maximum(scale, 1.0) * (leak + 8 * sd)).max()), usual)
    least = min(float(sd.min()) / 20, most / 100)
    values = least * np.sinh(np.linspace(0, np.arcsinh(most / least), VALUES))
    steady = laws["steady"]
    leaning = UNSAID_LEANS if seen.vessel.unsaid else 1.0
    own = _normal(steady.weight)
    middle = own @ steady.leak
    likely = _normal(steady.bearing)
    return Posterior(
        values=values,
        parts=_leak_parts(weight, leak * scale, sd * scale, values, usual, leaning),
        by_gauge=_leak_parts(weight, leak, sd, values, usual, leaning),
        sd=float(np.sqrt(own @ (steady.sd**2 + (steady.leak - middle) ** 2))),
        fed=float(own @ phi(-steady.leak / steady.sd)),
        wanders=float(likely @ wanders(steady.guesses, seen.unknown)),
        laws=_shares(laws),
        lessens=float(likely @ (1 / steady.first)),
        weights=likely,
        guesses=steady.guesses,
        names=seen.unknown,
        several=bool(seen.stretches),
        by_readings=_leak_parts(weight, leak, sd, values, usual, 0.0) if seen.stretches else np.empty(0),
    )


def _shares(laws: dict[Law, _Drawn]) -> dict[Law, float]:
    """Probability of each law, with how usual its leaks are."""
    logs = np.array([_evidence(drawn.bearing) + math.log(LAWS[law]) for law, drawn in laws.items()])
    return dict(zip(laws, _normal(logs).tolist(), strict=True))


def _evidence(logs: Array) -> float:
    return float(np.logaddexp.reduce(logs))


def _drawn(seen: Observed, compliance_known: float, usual: float, quick: bool) -> _Drawn:
    """Guesses under the law of the hold, drawn again and again around those that explain the log."""
    rounds, guesses = (QUICK_ROUNDS, QUICK_GUESSES) if quick else (ROUNDS, GUESSES)
    names = seen.unknown
    points, scatter = _points(rounds, guesses, len(names))
    wide = np.diag([RARE.get(name, 1.0) for name in names])
    drawn, fits, found = [points[0] @ wide], [], []
    proposals = [(np.zeros(len(names)), wide)]
    for round_ in range(rounds):
        weighed = weigh(drawn[-1], seen)
        fits.append(weighed.fits + np.log(weighed.first) + _may_be(weighed, usual))
        found.append(weighed)
        if round_ + 1 < rounds:
            mean, root = _proposal(np.concatenate(drawn), np.concatenate(fits), proposals)
            proposals.append((mean, root))
            drawn.append(mean + points[round_ + 1] @ root.T)
    every = np.concatenate(drawn)
    base = _prior(every) - _proposed(every, proposals)
    leak, sd, first, stiffer, alone = (
        np.concatenate([getattr(each, name) for each in found]) for name in ("leak", "sd", "first", "stiffer", "fits")
    )
    bearing = np.concatenate(fits) + base
    kept = bearing > bearing.max() - math.log(1e4)
    scale = np.exp(compliance_known * scatter.ravel()) * stiffer
    return _Drawn(
        weight=(alone + np.log(first) + base)[kept],
        bearing=bearing[kept],
        leak=(leak * first)[kept],
        sd=(sd * first)[kept],
        first=first[kept],
        scale=scale[kept],
        guesses=every[kept],
    )


@lru_cache(maxsize=16)
def _points(rounds: int, guesses: int, unknowns: int) -> tuple[Array, Array]:
    """Standard normal points, (rounds, guesses, unknowns), and one more of each guess for what no log can tell."""
    drawn = even_points(rounds * guesses, unknowns + 1).reshape(rounds, guesses, unknowns + 1)
    return drawn[:, :, :-1], drawn[:, :, -1]


def _may_be(weighed: Weighed, usual: float) -> Array:
    """Logarithm, nearly, of how usual the leaks are that each guess leads to; those below nought cannot be."""
    likely = weighed.first * np.maximum(weighed.leak, weighed.sd / 2) + usual
    return np.asarray(np.log(np.maximum(1e-12, phi(weighed.leak / weighed.sd)) / likely))


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
