"""Guesses at all that is not known, drawn again around those that explain the log, in a few rounds, first leniently
(adaptive importance sampling with tempering; Cappé and others, Population Monte Carlo, 2004), each with a whole row of
courses that a leak may take.

The points are a scrambled Sobol sequence with a fixed seed, so that the same log gives the same answer.
"""

import math
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.judge.laws import EVEN, FEW, MANY, Courses, Law, Where, closer, courses
from toadbell.core.judge.model import Weighed, weigh
from toadbell.core.judge.normal import even_points, phi
from toadbell.core.judge.observed import Observed

ENOUGH = 30.0
"""Effective guesses that a round has to stand on."""


class Around:
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
class Round:
    """Guesses (guesses, unknowns) and courses of one round, from what they were drawn, and how they explain the log."""

    guesses: Array
    around: Around
    courses: Courses
    where: Where
    weighed: Weighed
    bearing: Array


@dataclass(frozen=True)
class Effort:
    """How many guesses a round, at least and at most how many rounds, till the answer stands on so many of them; and
    courses of a leak by law.
    """

    guesses: int
    least: int
    most: int
    stands_on: float
    several: dict[Law, int]


FULL, FULL_ASTRAY = Effort(64, 5, 8, 40.0, MANY), Effort(32, 3, 5, 12.0, MANY)
QUICK, QUICK_ASTRAY = Effort(64, 3, 3, 0.0, FEW), Effort(32, 2, 2, 0.0, FEW)
"""With a thermometer that goes its own way, and while a hold runs or a person asks what if."""


@dataclass(frozen=True)
class Kind:
    """What is weighed by itself: how usual it is, and the effort made."""

    seen: Observed
    effort: Effort
    usual: float = 1.0


@dataclass(frozen=True)
class Done:
    """Rounds that were made, and the logarithm of the density with which each (rounds,) would have drawn each of their
    guesses (guesses,).
    """

    rounds: tuple[Round, ...] = ()
    drawn_by: Array = field(default_factory=lambda: np.empty((0, 0)))

    def and_then(self, one: Round) -> "Done":
        """With one more."""
        before = [each.around.density(one.guesses) for each in self.rounds]
        old = np.hstack([self.drawn_by, np.array(before)]) if before else np.empty((0, len(one.guesses)))
        rounds = (*self.rounds, one)
        return Done(rounds, np.vstack([old, one.around.density(np.concatenate([each.guesses for each in rounds]))]))


def rounds_of(kind: Kind, usual: float) -> Done:
    """Guesses and courses, drawn again and again around those that explain the log, till the answer stands on enough of
    them.
    """
    seen, effort = kind.seen, kind.effort
    unknowns = len(seen.unknown)
    points, _ = points_of(effort.most, effort.guesses, unknowns)
    around = Around(np.zeros(unknowns), np.eye(unknowns))
    where: Where = {}
    done = Done()
    for drawn in points:
        if done.rounds:
            guesses, base, fits = _standing(done)
            if len(done.rounds) >= effort.least and _effective(normal(base + fits)) >= effort.stands_on:
                break
            around, where = _proposal(guesses, base, fits), _closer(done, effort.several)
        guesses = around.mean + drawn @ around.root.T
        row = courses(seen.vessel, effort.several, where)
        weighed = weigh(guesses, seen, row)
        bearing = weighed.fits + np.log(weighed.first) + _may_be(weighed, usual)
        done = done.and_then(Round(guesses, around, row, where, weighed, bearing))
    return done


def _standing(done: Done) -> tuple[Array, Array, Array]:
    """All guesses so far; logarithm of the prior of each over the density with which all rounds drew it; and of how it
    explains the log, whatever the course.
    """
    guesses = np.concatenate([one.guesses for one in done.rounds])
    fits = np.concatenate([_log_sum((one.bearing + one.courses.chance).T) for one in done.rounds])
    return guesses, _prior(guesses) - _log_sum(done.drawn_by) + math.log(len(done.rounds)), fits


def _effective(weights: Array) -> float:
    """On how many guesses of equal weight it would stand as well."""
    return float(1 / (weights**2).sum())


def pairs(done: Done, several: dict[Law, int]) -> list[Array]:
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


@lru_cache(maxsize=16)
def points_of(rounds: int, guesses: int, unknowns: int) -> tuple[Array, Array]:
    """Standard normal points, (rounds, guesses, unknowns), and one more of each guess for what no log can tell."""
    drawn = even_points(rounds * guesses, unknowns + 1).reshape(rounds, guesses, unknowns + 1)
    return drawn[:, :, :-1], drawn[:, :, -1]


def _may_be(weighed: Weighed, usual: float) -> Array:
    """Logarithm, nearly, of how usual the leaks are that each guess leads to; those below nought cannot be."""
    likely = weighed.first * np.maximum(weighed.leak, weighed.sd / 2) + usual
    return np.asarray(np.log(np.maximum(1e-12, phi(weighed.leak / weighed.sd)) / likely))


def _prior(guesses: Array) -> Array:
    return np.asarray(-(guesses**2).sum(axis=1) / 2)


def _proposal(guesses: Array, base: Array, fits: Array) -> Around:
    """Mean and root of covariance of the guesses as weighed so far: as sharply as still leaves enough of them.

    base, fits  logarithms of what each weighs by how it was drawn, and by how it explains the log
    """
    low, high = 0.0, 1.0
    weights = normal(base + fits)
    if _effective(weights) < ENOUGH:
        for _ in range(30):
            middle = (low + high) / 2
            weights = normal(base + middle * fits)
            low, high = (middle, high) if _effective(weights) >= ENOUGH else (low, middle)
        weights = normal(base + low * fits)
    mean = weights @ guesses
    away = guesses - mean
    spread = 1.2 * (away * weights[:, None]).T @ away + 0.03 * np.eye(guesses.shape[1])
    return Around(mean, np.asarray(np.linalg.cholesky(spread), dtype=np.float64))


def _closer(done: Done, several: dict[Law, int]) -> Where:
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


def normal(logs: Array) -> Array:
    weights = np.exp(logs - logs.max())
    return np.asarray(weights / weights.sum())
