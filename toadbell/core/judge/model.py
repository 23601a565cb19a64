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
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.judge.laws import Courses
from toadbell.core.judge.unknowns import ERROR, HOUR, Scaled, Vessel, asked_of, scaled
from toadbell.core.units import ATMOSPHERE

WALL_WAVERS = 0.012
"""A thermometer on the wall feels each draught a little that the water does not: so far, K, 1 σ, is any reading from
what the model says.
"""
DAY = 0.8
"""How far a workshop goes up and down with the day, K, 1 σ."""
WEATHER_OVER = 15.6 * HOUR
"""Over so long the outer air's pressure remembers where it was, s (Matérn 3/2): at first it goes √3 σ over that, which
are 100 Pa an hour.
"""
NODES = 16
"""The room's course is reckoned at so many moments, and straight between."""
LEAST_OPEN, SHUT = 0.0005, -1e6
"""A leak that was open for less than such a part of the hold leaves nothing to judge it by: no guess."""
BORDER = 1e30
"""Larger than any quadratic form of the columns, so that the bordered matrix stays positive; nothing of it is used."""
ALIKE = 2e-3
"""Courses of a leak are told by what few courses they are made of, but for such a part of the largest."""
AT_ONCE = 64
"""So many guesses are weighed at a time: what belongs to them stays in the processor's own store."""


@dataclass(frozen=True)
class Stretch:
    """A stretch that was shut in: its points, from the first to before the last.

    settles  how far what settles in it goes, as a part of what it does in a test hold from no pressure
    uneven   what each of its points may be out, as a part of what one of a test hold alone is: fewer points are more
             readings each
    creeps, dissolves  the same of a wall that creeps, against its sense after coming down, and of air that dissolves
    """

    first: int
    last: int
    role: Literal["low", "test"] = "test"
    settles: float = 1.0
    creeps: float = 1.0
    dissolves: float = 1.0
    uneven: float = 1.0


@dataclass(frozen=True)
class Observed:
    """The readings, averaged to a few dozen points, and what sets the scale of the rest.

    time        s since shut in
    content     m³, at each point
    error       1 σ of each point of the content where a reading's error is the gauge's step, m³
    swelling    by which the water outgrows the wall, m³/K, without its sign
    following   time in which the water follows the room that such a size suggests, s
    inside      what was pumped in to stand there, m³
    creep       slow creeping that nothing explains, m³/√s; `drift` what goes steadily one way and is no leak, m³/s, 1 σ
    day         how far the room goes up and down with the day, K, 1 σ; `weather` what the outer air does to the content
                unread, m³, 1 σ
    uneven      how far a reading may be from all this, m³, 1 σ; `together`: that of a point which stands for several,
                as a part of it
    pressure    at each point, Pa; `told`: 1 σ of it; `start`: the one the leak is reckoned at
    vessel      what its figures say, and do not
    warmth, warmth_error  the same as content and its error by the thermometer, m³; None without one
    astray      the thermometer goes its own way
    offsets     (points, steps): one column of 0 and 1 for each step cut out
    stretches   the test hold and the low holds, on one clock; none where it is a test hold alone
    softer      compliance at each point over that at the pressure of the test hold; none where it is alone
    """

    time: Array
    content: Array
    error: Array
    swelling: float
    following: float
    inside: float
    creep: float
    uneven: float
    together: float = 1.0
    drift: float = 0.0
    day: float = DAY
    weather: float = 0.0
    pressure: Array = field(default_factory=lambda: np.empty(0))
    told: float = 0.0
    start: float = 1.0
    vessel: Vessel = field(default_factory=Vessel)
    warmth: Array | None = None
    warmth_error: Array | None = None
    astray: bool = False
    offsets: Array = field(default_factory=lambda: np.empty((0, 0)))
    stretches: tuple[Stretch, ...] = ()
    softer: Array = field(default_factory=lambda: np.empty(0))

    @property
    def parts(self) -> tuple[Stretch, ...]:
        """Its stretches; all of it where it is a test hold alone."""
        return self.stretches or (Stretch(0, len(self.time)),)

    @property
    def test(self) -> Stretch:
        """The test hold among them."""
        return next(part for part in self.parts if part.role == "test")

    @property
    def span(self) -> float:
        """How long the test hold is, s."""
        return float(self.time[self.test.last - 1] - (self.time[self.test.first] if self.stretches else 0.0))

    @property
    def unknown(self) -> tuple[str, ...]:
        """Names of what is not known."""
        return asked_of(self.vessel, self.warmth is not None, self.astray)


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
    left[:, :, : len(nodes)] = moved[:, :, : len(nodes)] @ _room(unknown, seen, nodes)
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
            total[:, n:, n:] += _wandered(unknown, seen) / unit**2
    return np.asarray(total)


def _moved(unknown: Scaled, seen: Observed, ratio: Array, nodes: Array, unit: float) -> Array:
    """What moves content and warmth together, (guesses, points, columns), units each: a kelvin of the room at each
    node; then 1 σ of what drifts, and of what settles in each stretch.
    """
    n, count = len(seen.time), len(nodes)
    follows, felt = _follows(seen.time, nodes, unknown.following)
    rows = n if seen.warmth is None else 2 * n
    moved = np.zeros((len(follows), rows, count + 1 + len(seen.parts)))
    swelling = seen.swelling / unit
    moved[:, :n, :count] = (swelling * (1 + unknown.wall) / ratio) * follows - (swelling * unknown.wall / ratio) * felt
    if rows > n:
        towards = unknown.probe - unknown.lag / unknown.following
        moved[:, n:, :count] = (swelling * (1 - towards)) * follows + (swelling * towards) * felt
    moved[:, :n, count] = seen.drift / unit * seen.time
    settled = (unknown.settled * (seen.inside / unit)) * -np.expm1(-_since(seen)[None, :, None] / unknown.settling)
    for k, part in enumerate(seen.parts, count + 1):
        own = slice(part.first, part.last)
        moved[:, own, k] = part.settles * settled[:, own, 0]
    return moved


def _room(unknown: Scaled, seen: Observed, nodes: Array) -> Array:
    """Covariance of the room's course at the nodes, K², (guesses, nodes, nodes)."""
    apart = np.sqrt(3) * nodes / unknown.swinging[:, 0]
    along = unknown.away[:, 0] ** 2 + unknown.room[:, 0] ** 2 * (1 + apart) * np.exp(-apart)
    turn = 2 * np.pi * nodes / (24 * HOUR)
    day = seen.day**2 * (np.outer(np.sin(turn), np.sin(turn)) + np.outer(1 - np.cos(turn), 1 - np.cos(turn)))
    between = np.arange(len(nodes))
    return np.asarray(along[:, np.abs(between[:, None] - between[None, :])] + day)


def _softened(unknown: Scaled, seen: Observed, ratio: Array) -> Array:
    """1 σ of each reading as a volume, (guesses, points): lower down, air that nobody stated makes it softer than
    reckoned.
    """
    if not seen.stretches:
        return seen.error[None, :]
    air = unknown.air[:, :, 0] * ATMOSPHERE / (ATMOSPHERE + seen.pressure[None, :]) ** 2
    own = 1 + (air + unknown.give[:, :, 0]) / (seen.vessel.compliance * seen.softer[None, :])
    return np.asarray(np.maximum(own, 0.2) / ratio[:, :, 0] * seen.error[None, :])


def _wandered(unknown: Scaled, seen: Observed) -> Array:
    """Covariance of what sun, draught and a loose probe do to the thermometer alone: one way, levelling off, and to and
    fro.
    """
    time = seen.time
    one_way = -np.expm1(-time[None, :, None] / unknown.wandering)
    apart = np.abs(time[:, None] - time[None, :])[None] / unknown.wandering
    return np.asarray(
        (unknown.wander * seen.swelling) ** 2 * (one_way @ np.swapaxes(one_way, 1, 2) + 0.1 * np.exp(-apart))
    )


def _follows(time: Array, nodes: Array, following: Array) -> tuple[Array, Array]:
    """The water at each time by the room at each node, (guesses, times, nodes), and the room itself, (times, nodes).

    Newton's cooling, the room straight between nodes that stand evenly.
    """
    every, count = nodes[1] - nodes[0], len(nodes)
    kept, new = _kept(every / following)  # of what it was, and of the straight way, at the end of a step
    back = np.arange(count)[:, None] - np.arange(count)[None, :]
    since = np.exp(-every * np.maximum(back, 0) / following)
    once = np.exp(-every * np.maximum(back - 1, 0) / following)
    own = np.where((back >= 0) & (np.arange(count) > 0), (1 - new) * since, 0.0)
    at_nodes = own + np.where(back >= 1, (new - kept) * once, 0.0)
    before = np.clip((time / every).astype(np.int64), 0, count - 2)
    part = (time - nodes[before])[None, :, None] / every
    kept, new = _kept(part * every / following)
    here, next_ = np.eye(count)[before], np.eye(count)[before + 1]
    found = kept * at_nodes[:, before] + (new - kept + (1 - new) * (1 - part)) * here + (1 - new) * part * next_
    return found, (1 - part[0]) * here + part[0] * next_


def _kept(lags: Array) -> tuple[Array, Array]:
    """After so many of its lags: what is left of what it was, and the mean of that over the way."""
    lags = np.maximum(lags, 1e-9)
    return np.exp(-lags), -np.expm1(-lags) / lags
