"""What the log says of the leak: the guesses that `sampling` draws and weighs, as a mixture of normal curves."""

import math
from dataclasses import dataclass, field, fields, replace

import numpy as np

from toadbell.core.arrays import Array, Flags, Places
from toadbell.core.judge.laws import FEW, MANY, Law
from toadbell.core.judge.normal import phi
from toadbell.core.judge.observed import Observed
from toadbell.core.judge.sampling import (
    FULL,
    FULL_ASTRAY,
    QUICK,
    QUICK_ASTRAY,
    Done,
    Kind,
    normal,
    pairs,
    points_of,
    rounds_of,
)
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
    kinds = [Kind(seen, QUICK if quick else FULL)]
    if seen.warmth is not None:
        kinds = [
            replace(kinds[0], usual=1 - WANDERS),
            Kind(replace(seen, astray=True), QUICK_ASTRAY if quick else FULL_ASTRAY, WANDERS),
        ]
    done = [rounds_of(kind, usual) for kind in kinds]
    drawn = _pairs_of(kinds, done, compliance_known)
    weight = normal(drawn.weight)
    most = max(float((np.maximum(drawn.scale, 1.0) * (drawn.leak + 8 * drawn.sd)).max()), usual)
    least = min(float(drawn.sd.min()) / 20, most / 100)
    values = least * np.sinh(np.linspace(0, np.arcsinh(most / least), VALUES))
    by_gauge = _taken_together(weight, drawn.leak, drawn.sd)
    by_volume = _taken_together(weight, drawn.leak * drawn.scale, drawn.sd * drawn.scale)
    leaning = UNSAID_LEANS if seen.vessel.unsaid else 1.0
    steady = drawn.of(drawn.law == 0)
    own, likely = normal(steady.weight), normal(steady.bearing)
    bearing = normal(drawn.bearing)
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
        likeliest=normal(steady.bearing[of_it]) @ guesses[steady.guess[of_it]],
        names=kinds[likelier].seen.unknown,
        several=bool(seen.stretches),
        by_readings=_leak_parts(by_gauge, values, usual, 0.0) if seen.stretches else np.empty(0),
    )


def _pairs_of(kinds: list[Kind], all_done: list[Done], compliance_known: float) -> _Drawn:
    """All pairs of a guess and a course that weigh something."""
    bases = [
        [base + math.log(kind.usual) for base in pairs(done, kind.effort.several)]
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
        _, scatter = points_of(kind.effort.most, kind.effort.guesses, len(kind.seen.unknown))
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
