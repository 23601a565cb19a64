"""What a hold's readings are made of, as a probability: leak, warmth that follows the room, settling, creeping,
reading.

Everything is reckoned as volume. At each reading the gauge says how much is in the vessel (what had to be pumped in to
stand at that pressure), and the thermometer says by how much the water has outgrown the wall:

    content  = c − q ∫((P − P_s)/(P₀ − P_s))^p dt + v(t) − B (1 − e^(−t/τ_s)) − dissolved air − creep + reading error
    warmth   = o + v(t − lag), nearer to the room + what the probe does alone + reading error

A run may have several stretches that were shut in, a test hold and low holds beside it: each has its own c and its own
settling, all have one v, one leak law. What leaks or is pumped between them is none of theirs.

v is the water following the room with a first-order lag τ: the room begins some degrees away and wanders from there
(Newton's cooling, driven by a random walk), with a small random walk on top for all else that creeps unseen. What is
not known (τ, how far the room is away and how much it wanders, share and lag of the thermometer, the leak's power of
the pressure, settling, the reading's error) has a prior wide enough for workshops; `posterior` weighs it against the
log. Given all that, leak and offsets come out by generalised least squares.
"""

import statistics
from dataclasses import dataclass
from typing import Literal

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.judge.laws import Courses
from toadbell.core.judge.observed import Observed
from toadbell.core.judge.unknowns import ERROR, HOUR, Scaled, scaled
from toadbell.core.judge.warmth import follows, of_the_room, of_the_thermometer
from toadbell.core.units import ATMOSPHERE

WALL_WAVERS = 0.012
"""A thermometer on the wall feels each draught a little that the water does not: so far, K, 1 σ, is any reading from
what the model says.
"""
WEATHER_OVER = 15.6 * HOUR
"""Over so long the outer air's pressure remembers where it was, s (Matérn 3/2): at first it goes √3 σ over that, which
are 100 Pa an hour.
"""
NODES = 16
"""The room's course is reckoned at so many moments, and straight between."""
VAPOUR_RISES = 900.0
"""Air over wet walls becomes damp in so long, s: half of it in ten minutes, nearly all in three quarters of an hour."""
LEAST_OPEN, SHUT = 0.0005, -1e6
"""A leak that was open for less than such a part of the hold leaves nothing to judge it by: no guess."""
BORDER = 1e30
"""Larger than any quadratic form of the columns, so that the bordered matrix stays positive; nothing of it is used."""
ALIKE = 2e-3
"""Courses of a leak are told by what few courses they are made of, but for such a part of the largest."""
AT_ONCE = 64
"""So many guesses are weighed at a time: what belongs to them stays in the processor's own store."""


@dataclass(frozen=True)
class Weighed:
    """For each guess at what is not known, and each course of a leak, (guesses, courses).

    fits      logarithm of how well they explain the log
    leak, sd  mean leak over the hold and its 1 σ, m³/s, as if the compliance were the one reckoned with
    first     (courses,): the leak at the pressure it was shut in at as a multiple of that: a leak lessens as the
              pressure falls
    stiffer   (guesses,): the true compliance as a multiple of the one reckoned with: leaks in volume are in proportion
              to it
    """

    fits: Array
    leak: Array
    sd: Array
    first: Array
    stiffer: Array


def weigh(guesses: Array, seen: Observed, courses: Courses) -> Weighed:
    """Each guess (guesses, unknowns) with each course of a leak against the log: restricted likelihood, the leak being
    free, and the leak it gives.
    """
    lost = _lost(courses, seen)
    ends = lost[:, seen.test.last - 1]
    few, made_of = _made_of(lost / ends[:, None])
    parts = [_weighed(guesses[at : at + AT_ONCE], seen, few, made_of) for at in range(0, len(guesses), AT_ONCE)]
    fits, leak, sd, stiffer = (np.concatenate(column) for column in zip(*parts, strict=True))
    fits = np.where(ends < LEAST_OPEN * seen.span, SHUT, fits)
    return Weighed(fits, leak / seen.span, sd / seen.span, seen.span / ends, stiffer)


def _made_of(lost: Array) -> tuple[Array, Array]:
    """A few courses (few, points) that all are made of, and how much of each, (courses, few)."""
    if len(lost) == 1:
        return lost, np.ones((1, 1))
    sides, sizes, few = np.linalg.svd(lost, full_matrices=False)
    kept = max(1, int(np.count_nonzero(sizes > ALIKE * sizes[0])))
    return few[:kept], sides[:, :kept] * sizes[:kept]


def _weighed(guesses: Array, seen: Observed, few: Array, made_of: Array) -> tuple[Array, Array, Array, Array]:
    """fits, leak and sd (m³ over the hold), stiffer, of a handful of guesses."""
    unknown = scaled(guesses, seen.unknown, seen.following, seen.vessel)
    ratio = _ratio(unknown, seen)
    unit = statistics.median(seen.error.tolist())
    total, observed = _covariance(unknown, seen, ratio, unit), _observed(unknown, seen, ratio) / unit
    logs, whitened = _whiten(total, _design(few, seen), observed)
    products = whitened @ np.swapaxes(whitened, 1, 2)
    offsets = slice(len(few), -1)
    others = [*range(len(few)), products.shape[1] - 1]
    across = products[:, others, offsets]
    inverse = np.linalg.inv(products[:, offsets, offsets])
    free = products[:, others][:, :, others] - across @ inverse @ np.swapaxes(across, 1, 2)
    known = ((made_of @ free[:, :-1, :-1]) * made_of).sum(axis=2)
    by_content = free[:, -1, :-1] @ made_of.T
    known = np.maximum(known, 1e-12 * known.max(axis=1, keepdims=True))
    best = by_content / known
    constant = logs + np.linalg.slogdet(products[:, offsets, offsets])[1] / 2 + free[:, -1, -1] / 2
    fits = best * by_content / 2 - np.log(known) / 2 - constant[:, None]
    return fits, best * unit, unit / np.sqrt(known), ratio[:, 0, 0]


def _ratio(unknown: Scaled, seen: Observed) -> Array:
    """The true compliance over the one reckoned with, (guesses, 1, 1): air and give that nobody stated come on top."""
    air = unknown.air * ATMOSPHERE / (ATMOSPHERE + seen.vessel.pressure) ** 2
    return np.asarray(1 + (air + unknown.give) / seen.vessel.compliance)


def _whiten(total: Array, design: Array, observed: Array) -> tuple[Array, Array]:
    """Half of the logarithm of each covariance's determinant, and design and observation as it weighs them, (guesses,
    columns, points).

    One Cholesky factor of the covariance bordered by the columns gives both.
    """
    guesses, n = observed.shape
    columns = len(design)
    bordered = np.zeros((guesses, n + columns + 1, n + columns + 1))  # the lower half is all that is read
    bordered[:, :n, :n] = total
    bordered[:, n:-1, :n] = design
    bordered[:, -1, :n] = observed
    own = np.arange(n, n + columns + 1)
    bordered[:, own, own] = BORDER
    factor = np.linalg.cholesky(bordered)
    logs = np.log(np.diagonal(factor[:, :n, :n], axis1=1, axis2=2)).sum(axis=1)
    return logs, factor[:, n:, :n]


def _lost(courses: Courses, seen: Observed) -> Array:
    """What was lost up to each point per unit of the leak at the pressure it was shut in at, s, (courses, points).

    The leak goes with a power of what the pressure is above the one at which it shuts, and begins when it begins.
    """
    shuts, power = courses.opens[:, None], courses.power[:, None]
    above = (seen.pressure / seen.start - shuts - np.where(shuts > 0, seen.told / seen.start, 0.0)) / (1 - shuts)
    flow = np.where(above > 0, np.maximum(above, 1e-9) ** power, 0.0)
    since = seen.time - seen.time[seen.test.first] if seen.stretches else seen.time
    begun = (since - courses.begins[:, None] * seen.span) / (0.02 * seen.span) + 1.0
    flow = flow * np.where(courses.begins[:, None] < 0, 1.0, np.clip(begun, 0.0, 1.0))
    if seen.stretches:
        return _lost_in_each(flow, seen)
    before = seen.time[:1] * flow[:, :1]
    steps = np.diff(seen.time) * (flow[:, 1:] + flow[:, :-1]) / 2
    found = np.concatenate([before, before + np.cumsum(steps, axis=1)], axis=1)
    return np.maximum(found, 1e-6 * seen.time[-1] * (seen.time > seen.time[0]))


def _lost_in_each(flow: Array, seen: Observed) -> Array:
    """The same in each stretch from its own beginning."""
    found = np.zeros_like(flow)
    for part in seen.parts:
        own, time = flow[:, part.first : part.last], seen.time[part.first : part.last]
        found[:, part.first + 1 : part.last] = np.cumsum(
            np.diff(time)[None, :] * (own[:, 1:] + own[:, :-1]) / 2, axis=1
        )
    end = seen.test.last - 1
    found[:, end] = np.maximum(found[:, end], 1e-6 * seen.span)
    return found


def _observed(unknown: Scaled, seen: Observed, ratio: Array) -> Array:
    """Content and warmth at each point, (guesses, points), content as the compliance reckoned with would have it.

    Less what air dissolving and the wall creeping took up for certain under each guess.
    """
    pressed = seen.pressure[None, :, None]
    content = seen.content[None, :, None] + unknown.air * pressed / (ATMOSPHERE + pressed) + unknown.give * pressed
    content = content + _taken_up(unknown, seen)
    content = (content / ratio)[:, :, 0]
    if seen.warmth is None:
        return np.asarray(content)
    return np.concatenate([content, np.broadcast_to(seen.warmth, content.shape)], axis=1)


def _taken_up(unknown: Scaled, seen: Observed) -> Array:
    """What went into solution, and into the creeping wall, since the vessel was shut in, m³, (guesses, points, 1)."""
    time = _since(seen)[None, :, None]
    squeezed = (seen.vessel.air + unknown.air) * seen.vessel.squeezed
    elastic = seen.vessel.elastic + unknown.give * seen.vessel.pressure
    dissolved = unknown.dissolved * squeezed * -np.expm1(-time / unknown.dissolving)
    crept = unknown.grows * elastic * np.log1p(time / unknown.grown_from)
    if not seen.stretches:
        return np.asarray(dissolved + crept)
    return np.asarray(_each(seen, "dissolves") * dissolved + _each(seen, "creeps") * crept)


def _since(seen: Observed) -> Array:
    """s at each point since its own stretch was shut in."""
    if not seen.stretches:
        return seen.time
    return np.concatenate([seen.time[part.first : part.last] - seen.time[part.first] for part in seen.parts])


def _each(seen: Observed, what: Literal["settles", "creeps", "dissolves", "uneven"]) -> Array:
    """A figure of each stretch at its points, (1, points, 1)."""
    return np.concatenate([np.full(part.last - part.first, getattr(part, what)) for part in seen.parts])[None, :, None]


def _design(few: Array, seen: Observed) -> Array:
    """(columns, points): courses of a leak as parts of the hold's length, offset of content and of warmth, steps."""
    n, parts = len(seen.time), seen.parts
    rows = n if seen.warmth is None else 2 * n
    steps = seen.offsets.shape[1]
    design = np.zeros((len(few) + len(parts) * (1 + (rows > n)) + steps, rows))
    design[: len(few), :n] = -few
    for k, part in enumerate(parts, len(few)):
        design[k, part.first : part.last] = 1.0
        if rows > n:
            design[len(parts) + k, n + part.first : n + part.last] = 1.0
    if steps:
        design[-steps:, :n] = seen.offsets.T
    return design


def _covariance(unknown: Scaled, seen: Observed, ratio: Array, unit: float) -> Array:
    """Covariance of content and warmth, (guesses, points, points), as multiples of unit², m⁶."""
    n, nodes = len(seen.time), np.linspace(0, seen.time[-1], NODES)
    moved = _moved(unknown, seen, ratio, nodes, unit)
    left = moved.copy()
    left[:, :, : len(nodes)] = moved[:, :, : len(nodes)] @ of_the_room(unknown, seen, nodes)
    total = left @ np.swapaxes(moved, 1, 2)
    creep = (unknown.creep * (seen.creep / unit)) ** 2
    content = total[:, :n, :n]
    content += creep * np.minimum(seen.time[:, None], seen.time[None, :])
    if seen.weather:
        away = np.sqrt(3) * np.abs(seen.time[:, None] - seen.time[None, :]) / WEATHER_OVER
        content += (seen.weather / unit) ** 2 * (1 + away) * np.exp(-away)
    own_ = np.arange(n)
    uneven = seen.uneven * (_each(seen, "uneven")[:, :, 0] if seen.stretches else seen.together)
    reading = unknown.error[:, :, 0] * _softened(unknown, seen, ratio)
    total[:, own_, own_] += (reading / unit) ** 2 + (uneven / unit) ** 2
    if seen.warmth_error is not None:
        errors = (ERROR * seen.warmth_error) ** 2 + (WALL_WAVERS * seen.together * seen.swelling) ** 2
        total[:, n + own_, n + own_] += errors / unit**2
        if seen.astray:
            total[:, n:, n:] += of_the_thermometer(unknown, seen) / unit**2
    return np.asarray(total)


def _moved(unknown: Scaled, seen: Observed, ratio: Array, nodes: Array, unit: float) -> Array:
    """What moves content and warmth together, (guesses, points, columns), units each: a kelvin of the room at each
    node; then 1 σ of what drifts, and of what settles in each stretch.
    """
    n, count = len(seen.time), len(nodes)
    water, felt = follows(seen.time, nodes, unknown.following)
    rows = n if seen.warmth is None else 2 * n
    moved = np.zeros((len(water), rows, count + 2 + len(seen.parts)))
    swelling = seen.swelling / unit
    moved[:, :n, :count] = (swelling * (1 + unknown.wall) / ratio) * water - (swelling * unknown.wall / ratio) * felt
    if rows > n:
        towards = unknown.probe - unknown.lag / unknown.following
        moved[:, n:, :count] = (swelling * (1 - towards)) * water + (swelling * towards) * felt
    moved[:, :n, count] = seen.drift / unit * seen.time
    moved[:, :n, -1] = seen.vapour / unit * -np.expm1(-seen.time / VAPOUR_RISES)
    settled = (unknown.settled * (seen.inside / unit)) * -np.expm1(-_since(seen)[None, :, None] / unknown.settling)
    for k, part in enumerate(seen.parts, count + 1):
        own = slice(part.first, part.last)
        moved[:, own, k] = part.settles * settled[:, own, 0]
    return moved


def _softened(unknown: Scaled, seen: Observed, ratio: Array) -> Array:
    """1 σ of each reading as a volume, (guesses, points): lower down, air that nobody stated makes it softer than
    reckoned.
    """
    if not seen.stretches:
        return seen.error[None, :]
    air = unknown.air[:, :, 0] * ATMOSPHERE / (ATMOSPHERE + seen.pressure[None, :]) ** 2
    own = 1 + (air + unknown.give[:, :, 0]) / (seen.vessel.compliance * seen.softer[None, :])
    return np.asarray(np.maximum(own, 0.2) / ratio[:, :, 0] * seen.error[None, :])
