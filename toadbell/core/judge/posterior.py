"""What the log says of the leak: guesses at all that is not known, weighed, as a mixture of normal curves.

The guesses are drawn again around those that explain the log, in a few rounds, first leniently (adaptive importance
sampling with tempering; Cappé and others, Population Monte Carlo, 2004), each with a whole row of courses that a leak
may take. The points are a scrambled Sobol sequence with a fixed seed, so that the same log gives the same answer.
"""

import math
from dataclasses import dataclass, field, fields, replace
from functools import lru_cache

import numpy as np

from toadbell.core.arrays import Array, Flags, Places
from toadbell.core.judge.laws import EVEN, FEW, MANY, Courses, Law, Where, closer, courses
from toadbell.core.judge.model import Observed, Weighed, weigh
from toadbell.core.judge.normal import even_points, phi
from toadbell.core.judge.unknowns import HOUR, WANDERS

VALUES = 500
FINE = 0.4
"""Curves of the mixture that are nearer to each other than such a part of their width are taken together."""
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
    likeliest, names  of what is not known, as far as the log tells it, the leak being a steady one
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
    likeliest: Array
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


def _leak_parts(curves: "_Curves", values: Array, usual: float, leaning: float) -> Array:
    """Probability at each value: the mixture, times a prior by which smaller leaks are more usual than larger, in
    proportion.

    leaning  1 for that; less where little is known of the vessel, for then a small fall of the gauge may be a large
             leak
    """
    edges = np.concatenate([[0.0], (values[1:] + values[:-1]) / 2, [values[-1]]])
    mixture = np.diff(curves.weight @ phi((edges[None, :] - curves.leak[:, None]) / curves.sd[:, None]))
    parts = mixture / (values + usual) ** leaning * np.where(values <= usual, NONE, 1.0)
    if not parts.sum() > 0:  # every guess has more in the vessel than was pumped in: no leak shows at all
        parts[int(np.argmin(np.abs(values - max(0.0, float(curves.leak.max())))))] = 1.0
    return np.asarray(parts / parts.sum())


@dataclass(frozen=True)
class _Curves:
    """Normal curves of the leak, (curves,): how much of the probability each is, its middle and its 1 σ, m³/s."""

    weight: Array
    leak: Array
    sd: Array


def _taken_together(weight: Array, leak: Array, sd: Array) -> _Curves:
    """The same mixture of fewer curves: neighbours as one of the same mean and width."""
    width = np.floor(np.log2(sd) / np.log2(1 + FINE))
    place = np.floor(leak / (FINE * (1 + FINE) ** width))
    order = np.lexsort((place, width))
    new = np.flatnonzero((np.diff(width[order], prepend=np.nan) != 0) | (np.diff(place[order], prepend=np.nan) != 0))
    whole = np.add.reduceat(weight[order], new)
    middle = np.add.reduceat((weight * leak)[order], new) / whole
    square = np.add.reduceat((weight * (sd**2 + leak**2))[order], new) / whole
    return _Curves(whole, middle, np.sqrt(np.maximum(square - middle**2, sd.min() ** 2)))


@dataclass(frozen=True)
class _Drawn:
    """Guesses with the courses that each was weighed with, one after another, (pairs,).

    weight   logarithm of the weight by the readings alone; bearing: with how usual its leak is
    leak, sd  at the pressure that was shut in, m³/s; first: as a multiple of the mean over the hold
    scale    the true compliance as a multiple of the one reckoned with
    law      by its place in LAWS; guess: by its place among the guesses of its kind; astray: 1 where the thermometer is
    """

    weight: Array
    bearing: Array
    leak: Array
    sd: Array
    first: Array
    scale: Array
    law: Places
    guess: Places
    astray: Places

    def of(self, kept: Flags) -> "_Drawn":
        """Some of the pairs."""
        return _Drawn(*(getattr(self, one.name)[kept] for one in fields(self)))


def posterior(seen: Observed, compliance_known: float, *, quick: bool = False) -> Posterior:
    """The leak by the readings.

    compliance_known  1 σ of the compliance as a part of it: the log cannot tell it, and the leak is in proportion to it
    """
    usual = USUAL * seen.inside / HOUR
    kinds = [_Kind(seen, QUICK if quick else FULL)]
    if seen.warmth is not None:
        kinds = [
            replace(kinds[0], usual=1 - WANDERS),
            _Kind(replace(seen, astray=True), QUICK_ASTRAY if quick else FULL_ASTRAY, WANDERS),
        ]
    done = [_rounds(kind, usual) for kind in kinds]
    drawn = _pairs_of(kinds, done, compliance_known)
    weight = _normal(drawn.weight)
    most = max(float((np.maximum(drawn.scale, 1.0) * (drawn.leak + 8 * drawn.sd)).max()), usual)
    least = min(float(drawn.sd.min()) / 20, most / 100)
    values = least * np.sinh(np.linspace(0, np.arcsinh(most / least), VALUES))
    by_gauge = _taken_together(weight, drawn.leak, drawn.sd)
    by_volume = _taken_together(weight, drawn.leak * drawn.scale, drawn.sd * drawn.scale)
    leaning = UNSAID_LEANS if seen.vessel.unsaid else 1.0
    steady = drawn.of(drawn.law == 0)
    own, likely = _normal(steady.weight), _normal(steady.bearing)
    bearing = _normal(drawn.bearing)
    astray = float(likely @ steady.astray)
    likelier = int(astray > 0.5)
    guesses = np.concatenate([one.guesses for one in done[likelier].rounds])
    of_it = steady.astray == likelier
    return Posterior(
        values=values,
        parts=_leak_parts(by_volume, values, usual, leaning),
        by_gauge=_leak_parts(by_gauge, values, usual, leaning),
        sd=float(np.sqrt(own @ (steady.sd**2 + (steady.leak - own @ steady.leak) ** 2))),
        fed=float(own @ phi(-steady.leak / steady.sd)),
        wanders=astray,
        laws={law: float(bearing[drawn.law == number].sum()) for number, law in enumerate(FEW if quick else MANY)},
        lessens=float(likely @ (1 / steady.first)),
        likeliest=_normal(steady.bearing[of_it]) @ guesses[steady.guess[of_it]],
        names=kinds[likelier].seen.unknown,
        several=bool(seen.stretches),
        by_readings=_leak_parts(by_gauge, values, usual, 0.0) if seen.stretches else np.empty(0),
    )


class _Around:
    """Guesses are drawn around a mean (unknowns,) by a root of covariance (unknowns, unknowns)."""

    def __init__(self, mean: Array, root: Array):
        self.mean, self.root = mean, root
        self._undo = np.linalg.inv(root)
        self._volume = float(np.log(np.diag(root)).sum())

    def density(self, guesses: Array) -> Array:
        """Logarithm of the density with which such guesses are drawn."""
        z = (guesses - self.mean) @ self._undo.T
        return np.asarray(-(z**2).sum(axis=1) / 2 - self._volume)


@dataclass(frozen=True)
class _Round:
    """Guesses (guesses, unknowns) and courses of one round, from what they were drawn, and how they explain the log."""

    guesses: Array
    around: _Around
    courses: Courses
    where: Where
    weighed: Weighed
    bearing: Array


@dataclass(frozen=True)
class _Effort:
    """How many guesses a round, at least and at most how many rounds, till the answer stands on so many of them; and
    courses of a leak by law.
    """

    guesses: int
    least: int
    most: int
    stands_on: float
    several: dict[Law, int]


FULL, FULL_ASTRAY = _Effort(64, 5, 8, 40.0, MANY), _Effort(32, 3, 5, 12.0, MANY)
QUICK, QUICK_ASTRAY = _Effort(64, 3, 3, 0.0, FEW), _Effort(32, 2, 2, 0.0, FEW)
"""With a thermometer that goes its own way, and while a hold runs or a person asks what if."""


@dataclass(frozen=True)
class _Kind:
    """What is weighed by itself: how usual it is, and the effort made."""

    seen: Observed
    effort: _Effort
    usual: float = 1.0


@dataclass(frozen=True)
class _Done:
    """Rounds that were made, and the logarithm of the density with which each (rounds,) would have drawn each of their
    guesses (guesses,).
    """

    rounds: tuple[_Round, ...] = ()
    drawn_by: Array = field(default_factory=lambda: np.empty((0, 0)))

    def and_then(self, one: _Round) -> "_Done":
        """With one more."""
        before = [each.around.density(one.guesses) for each in self.rounds]
        old = np.hstack([self.drawn_by, np.array(before)]) if before else np.empty((0, len(one.guesses)))
        rounds = (*self.rounds, one)
        return _Done(rounds, np.vstack([old, one.around.density(np.concatenate([each.guesses for each in rounds]))]))


def _rounds(kind: _Kind, usual: float) -> _Done:
    """Guesses and courses, drawn again and again around those that explain the log, till the answer stands on enough of
    them.
    """
    seen, effort = kind.seen, kind.effort
    unknowns = len(seen.unknown)
    points, _ = _points(effort.most, effort.guesses, unknowns)
    around = _Around(np.zeros(unknowns), np.eye(unknowns))
    where: Where = {}
    done = _Done()
    for drawn in points:
        if done.rounds:
            guesses, base, fits = _standing(done)
            if len(done.rounds) >= effort.least and _effective(_normal(base + fits)) >= effort.stands_on:
                break
            around, where = _proposal(guesses, base, fits), _closer(done, effort.several)
        guesses = around.mean + drawn @ around.root.T
        row = courses(seen.vessel, effort.several, where)
        weighed = weigh(guesses, seen, row)
        bearing = weighed.fits + np.log(weighed.first) + _may_be(weighed, usual)
        done = done.and_then(_Round(guesses, around, row, where, weighed, bearing))
    return done


def _standing(done: _Done) -> tuple[Array, Array, Array]:
    """All guesses so far; logarithm of the prior of each over the density with which all rounds drew it; and of how it
    explains the log, whatever the course.
    """
    guesses = np.concatenate([one.guesses for one in done.rounds])
    fits = np.concatenate([_log_sum((one.bearing + one.courses.chance).T) for one in done.rounds])
    return guesses, _prior(guesses) - _log_sum(done.drawn_by) + math.log(len(done.rounds)), fits


def _effective(weights: Array) -> float:
    """On how many guesses of equal weight it would stand as well."""
    return float(1 / (weights**2).sum())


def _pairs(done: _Done, several: dict[Law, int]) -> list[Array]:
    """For each round, the logarithm of the prior of each of its guesses and courses over the density with which all
    rounds together drew them, (guesses, courses).
    """
    found, first = [], 0
    for one in done.rounds:
        by_guess = done.drawn_by[:, first : first + len(one.guesses)]
        by_course = np.log([_density(one.courses, each.where, several) for each in done.rounds])
        highest = by_guess.max(axis=0)
        proposed = np.log(np.exp(by_guess - highest).T @ np.exp(by_course)) + highest[:, None]
        found.append(_prior(one.guesses)[:, None] + one.courses.chance - proposed - math.log(len(one.guesses)))
        first += len(one.guesses)
    return found


def _density(row: Courses, where: Where, several: dict[Law, int]) -> Array:
    """With what density a row would have been set somewhere."""
    found = np.ones(len(row.at))
    for number, law in enumerate(several):
        own = row.law == number
        found[own] = where.get(law, EVEN).of(row.at[own])
    return found


def _pairs_of(kinds: list[_Kind], all_done: list[_Done], compliance_known: float) -> _Drawn:
    """All pairs of a guess and a course that weigh something."""
    bases = [
        [base + math.log(kind.usual) for base in _pairs(done, kind.effort.several)]
        for kind, done in zip(kinds, all_done, strict=True)
    ]
    bearings = [
        [one.bearing + base for one, base in zip(done.rounds, own, strict=True)]
        for done, own in zip(all_done, bases, strict=True)
    ]
    laws = all_done[0].rounds[0].courses.law
    highest = np.max([bearing.max(axis=0) for own in bearings for bearing in own], axis=0)
    highest = np.array([highest[laws == law].max() for law in range(len(kinds[0].effort.several))])
    found = []
    for astray, (kind, done) in enumerate(zip(kinds, all_done, strict=True)):
        _, scatter = _points(kind.effort.most, kind.effort.guesses, len(kind.seen.unknown))
        scale = np.exp(compliance_known * scatter)
        for number, one in enumerate(done.rounds):
            base, bearing, weighed = bases[astray][number], bearings[astray][number], one.weighed
            pair = np.nonzero(bearing > highest[laws] - math.log(1e4))
            guess, course = pair
            ahead = weighed.first[course]
            found.append(
                _Drawn(
                    weight=(weighed.fits + base)[pair] + np.log(ahead),
                    bearing=bearing[pair],
                    leak=weighed.leak[pair] * ahead,
                    sd=weighed.sd[pair] * ahead,
                    first=ahead,
                    scale=(scale[number] * weighed.stiffer)[guess],
                    law=laws[course],
                    guess=guess + number * kind.effort.guesses,
                    astray=np.full(len(guess), astray),
                )
            )
    return _Drawn(*(np.concatenate([getattr(one, each.name) for one in found]) for each in fields(_Drawn)))


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


def _proposal(guesses: Array, base: Array, fits: Array) -> _Around:
    """Mean and root of covariance of the guesses as weighed so far: as sharply as still leaves enough of them.

    base, fits  logarithms of what each weighs by how it was drawn, and by how it explains the log
    """
    low, high = 0.0, 1.0
    weights = _normal(base + fits)
    if _effective(weights) < ENOUGH:
        for _ in range(30):
            middle = (low + high) / 2
            weights = _normal(base + middle * fits)
            low, high = (middle, high) if _effective(weights) >= ENOUGH else (low, middle)
        weights = _normal(base + low * fits)
    mean = weights @ guesses
    away = guesses - mean
    spread = 1.2 * (away * weights[:, None]).T @ away + 0.03 * np.eye(guesses.shape[1])
    return _Around(mean, np.asarray(np.linalg.cholesky(spread), dtype=np.float64))


def _closer(done: _Done, several: dict[Law, int]) -> Where:
    """Where the next row of courses is to stand closer, by all so far."""
    found: Where = {}
    weighing = [one.bearing + (_prior(one.guesses) - one.around.density(one.guesses))[:, None] for one in done.rounds]
    highest = max(float(one.max()) for one in weighing)
    fits = [np.exp(one - highest).sum(axis=0) for one in weighing]
    for number, law in enumerate(several):
        if law == "steady":
            continue
        own = done.rounds[0].courses.law == number
        at = np.concatenate([one.courses.at[own] for one in done.rounds])
        found[law] = closer(at, np.concatenate([fit[own] for fit in fits]))
    return found


def _log_sum(logs: Array) -> Array:
    """Logarithm of the sum of what these are the logarithms of, along the first axis."""
    highest = logs.max(axis=0)
    return np.asarray(highest + np.log(np.exp(logs - highest).sum(axis=0)))


def _normal(logs: Array) -> Array:
    weights = np.exp(logs - logs.max())
    return np.asarray(weights / weights.sum())
