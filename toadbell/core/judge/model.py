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
from toadbell.core.judge.unknowns import ERROR, HOUR, Law, Scaled, Vessel, asked_of, scaled
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
    uneven      how far a reading may be from all this, m³, 1 σ
    pressure    at each point, Pa; `told`: 1 σ of it; `start`: the one the leak is reckoned at
    vessel      what its figures say, and do not
    law         how the leak is taken to behave
    warmth, warmth_error  the same as content and its error by the thermometer, m³; None without one
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
    drift: float = 0.0
    day: float = DAY
    weather: float = 0.0
    pressure: Array = field(default_factory=lambda: np.empty(0))
    told: float = 0.0
    start: float = 1.0
    vessel: Vessel = field(default_factory=Vessel)
    law: Law = "steady"
    warmth: Array | None = None
    warmth_error: Array | None = None
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
        return asked_of(self.vessel, self.warmth is not None, self.law)


@dataclass(frozen=True)
class Weighed:
    """For each guess at what is not known, (guesses,).

    fits      logarithm of how well it explains the log
    leak, sd  mean leak over the hold and its 1 σ, m³/s, as if the compliance were the one reckoned with
    first     the leak at the pressure it was shut in at as a multiple of that: a leak lessens as the pressure falls
    stiffer   the true compliance as a multiple of the one reckoned with: leaks in volume are in proportion to it
    """

    fits: Array
    leak: Array
    sd: Array
    first: Array
    stiffer: Array


def weigh(guesses: Array, seen: Observed) -> Weighed:
    """Each guess (guesses, unknowns) against the log: restricted likelihood, the leak being free, and the leak it
    gives.
    """
    unknown = scaled(guesses, seen.unknown, seen.following, seen.vessel)
    ratio = _ratio(unknown, seen)
    lost = _lost(unknown, seen)
    total, design, observed = _covariance(unknown, seen, ratio), _design(lost, seen), _observed(unknown, seen, ratio)
    unit = statistics.median(seen.error.tolist())
    logs, whitened = _whiten(total / unit**2, design, observed / unit)
    by_column, content = whitened[:, :-1], whitened[:, -1]
    information = by_column @ np.swapaxes(by_column, 1, 2)
    by_content = (by_column @ content[:, :, None])[:, :, 0]
    inverse = np.linalg.inv(information)
    best = (inverse @ by_content[:, :, None])[:, :, 0]
    misfit = (content**2).sum(axis=1) - (best * by_content).sum(axis=1)
    fits = -logs - np.linalg.slogdet(information)[1] / 2 - misfit / 2
    end = lost[:, seen.test.last - 1]
    fits = np.where(end < LEAST_OPEN * seen.span, SHUT, fits)
    scale = unit / seen.span
    first = seen.span / end
    return Weighed(fits, best[:, 0] * scale, np.sqrt(inverse[:, 0, 0]) * scale, first, ratio[:, 0, 0])


def _ratio(unknown: Scaled, seen: Observed) -> Array:
    """The true compliance over the one reckoned with, (guesses, 1, 1): air and give that nobody stated come on top."""
    air = unknown.air * ATMOSPHERE / (ATMOSPHERE + seen.vessel.pressure) ** 2
    return np.asarray(1 + (air + unknown.give) / seen.vessel.compliance)


def _whiten(total: Array, design: Array, observed: Array) -> tuple[Array, Array]:
    """Half of the logarithm of each covariance's determinant, and design and observation as it weighs them, (guesses,
    columns, points).

    One Cholesky factor of the covariance bordered by the columns gives both.
    """
    guesses, n, columns = design.shape
    bordered = np.empty((guesses, n + columns + 1, n + columns + 1))
    bordered[:, :n, :n] = total
    bordered[:, :n, n:-1] = design
    bordered[:, n:, n:] = np.eye(columns + 1) * BORDER
    bordered[:, :n, -1] = observed
    bordered[:, n:, :n] = np.swapaxes(bordered[:, :n, n:], 1, 2)
    factor = np.linalg.cholesky(bordered)
    logs = np.log(np.diagonal(factor[:, :n, :n], axis1=1, axis2=2)).sum(axis=1)
    return logs, factor[:, n:, :n]


def _lost(unknown: Scaled, seen: Observed) -> Array:
    """What was lost up to each point per unit of the leak at the pressure it was shut in at, s, (guesses, points).

    The leak goes with a power of what the pressure is above the one at which it shuts, and begins when it begins.
    """
    shuts = unknown.opens[:, :, 0]
    above = (seen.pressure[None, :] / seen.start - shuts - np.where(shuts > 0, seen.told / seen.start, 0.0)) / (
        1 - shuts
    )
    flow = np.where(above > 0, np.maximum(above, 1e-9) ** unknown.power[:, :, 0], 0.0)
    if not seen.stretches or "begins" in seen.unknown:
        since = seen.time - seen.time[seen.test.first] if seen.stretches else seen.time
        begun = (since[None, :] - unknown.begins[:, :, 0] * seen.span) / (0.02 * seen.span) + 1.0
        flow = flow * np.clip(begun, 0.0, 1.0)
    if seen.stretches:
        return _lost_in_each(flow, seen)
    before = seen.time[:1] * flow[:, :1]
    steps = np.diff(seen.time)[None, :] * (flow[:, 1:] + flow[:, :-1]) / 2
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


def _design(lost: Array, seen: Observed) -> Array:
    """(guesses, points, columns): the leak as a part of the hold's length, offset of the content, of the warmth,
    steps.
    """
    n, guesses, parts = len(seen.time), len(lost), seen.parts
    rows = n if seen.warmth is None else 2 * n
    steps = seen.offsets.shape[1]
    design = np.zeros((guesses, rows, 1 + len(parts) * (1 + (rows > n)) + steps))
    end = seen.test.last - 1
    design[:, :n, 0] = -lost / lost[:, end : end + 1]
    for k, part in enumerate(parts):
        design[:, part.first : part.last, 1 + k] = 1.0
        if rows > n:
            design[:, n + part.first : n + part.last, 1 + len(parts) + k] = 1.0
    if steps:
        design[:, :n, -steps:] = seen.offsets
    return design


def _covariance(unknown: Scaled, seen: Observed, ratio: Array) -> Array:
    """Covariance of content and warmth, (guesses, points, points), m⁶."""
    n, nodes = len(seen.time), np.linspace(0, seen.time[-1], NODES)
    apart = np.sqrt(3) * np.abs(nodes[:, None] - nodes[None, :]) / unknown.swinging
    turn = 2 * np.pi * nodes / (24 * HOUR)
    day = seen.day**2 * (np.outer(np.sin(turn), np.sin(turn)) + np.outer(1 - np.cos(turn), 1 - np.cos(turn)))
    room = unknown.away**2 + unknown.room**2 * (1 + apart) * np.exp(-apart) + day
    follows, felt = _follows(seen.time, nodes, unknown.following[:, 0, 0])
    moved = (1 + unknown.wall) * follows - unknown.wall * felt
    moved = moved / ratio
    if seen.warmth is not None:
        towards = unknown.probe - unknown.lag / unknown.following
        moved = np.concatenate([moved, (1 - towards) * follows + towards * felt], axis=1)
    total = seen.swelling**2 * ((moved @ room) @ np.swapaxes(moved, 1, 2))
    creep = (unknown.creep * seen.creep) ** 2
    settled = unknown.settled * seen.inside * -np.expm1(-_since(seen)[None, :, None] / unknown.settling)
    total[:, :n, :n] += creep * np.minimum(seen.time[:, None], seen.time[None, :]) + _settled(settled, seen)
    total[:, :n, :n] += seen.drift**2 * np.outer(seen.time, seen.time)
    if seen.weather:
        away = np.sqrt(3) * np.abs(seen.time[:, None] - seen.time[None, :]) / WEATHER_OVER
        total[:, :n, :n] += seen.weather**2 * (1 + away) * np.exp(-away)
    own = np.arange(n)
    uneven = seen.uneven * _each(seen, "uneven")[:, :, 0] if seen.stretches else seen.uneven
    total[:, own, own] += (unknown.error[:, :, 0] * _softened(unknown, seen, ratio)) ** 2 + uneven**2
    if seen.warmth_error is not None:
        total[:, n + own, n + own] += (ERROR * seen.warmth_error) ** 2 + (WALL_WAVERS * seen.swelling) ** 2
        total[:, n:, n:] += _wandered(unknown, seen)
    return np.asarray(total)


def _settled(settled: Array, seen: Observed) -> Array:
    """Covariance of what settles, by its course (guesses, points, 1): each stretch by itself."""
    if not seen.stretches:
        return np.asarray(settled @ np.swapaxes(settled, 1, 2))
    found = np.zeros((len(settled), len(seen.time), len(seen.time)))
    for part in seen.parts:
        own = part.settles * settled[:, part.first : part.last]
        found[:, part.first : part.last, part.first : part.last] = own @ np.swapaxes(own, 1, 2)
    return found


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

    Newton's cooling, the room straight between nodes.
    """
    every = np.sort(np.concatenate([time, nodes]))
    every = every[
        np.concatenate([[True], np.diff(every) > 0])
    ]  # np.unique loads masked arrays, which nobody needs here
    felt = np.array([np.interp(every, nodes, one) for one in np.eye(len(nodes))]).T
    found = np.zeros((len(following), len(every), len(nodes)))
    for i, step in enumerate(np.diff(every)):
        part = step / following
        kept = np.exp(-part)
        new = -np.expm1(-part) / part
        found[:, i + 1] = (
            kept[:, None] * found[:, i] + (new - kept)[:, None] * felt[i] + (1 - new)[:, None] * felt[i + 1]
        )
    at = np.searchsorted(every, time)
    return found[:, at], felt[at]
