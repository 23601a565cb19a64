"""What a hold's readings are made of, as a probability: leak, warmth that follows the room, settling, creeping, reading.

Everything is reckoned as volume. At each reading the gauge says how much is in the vessel (what had to be pumped in to
stand at that pressure), and the thermometer says by how much the water has outgrown the wall:

    content  = c − q ∫(P/P₀)^p dt + v(t) − B (1 − e^(−t/τ_s)) + reading error
    warmth   = o + r v(t − lag) + reading error

v is the water following the room with a first-order lag τ: the room begins some degrees away and wanders from there
(Newton's cooling, driven by a random walk), with a small random walk on top for all else that creeps unseen. What is
not known (τ, how far the room is away and how much it wanders, share and lag of the thermometer, the leak's power of
the pressure, settling, the reading's error) has a prior wide enough for workshops; `posterior` weighs it against the
log. Given all that, leak and offsets come out by generalised least squares.
"""

from dataclasses import dataclass, field

import numpy as np

from toadbell.core.judge.log import Array

HOUR = 3600.0
ERROR = 0.42
"""A reading's error as a part of the step that can be told apart, 1 σ: half of rounding (0.29) and half of eye or noise."""
WALL_WAVERS = 0.012
"""A thermometer on the wall feels each draught a little that the water does not: so far, K, 1 σ, is any reading from what the model says."""
DAY = 0.8
"""How far a workshop goes up and down with the day, K, 1 σ."""
NODES = 16
"""The room's course is reckoned at so many moments, and straight between."""
BORDER = 1e30
"""Larger than any quadratic form of the columns, so that the bordered matrix stays positive; nothing of it is used."""
UNKNOWN = (
    "following", "room", "swinging", "away", "wall", "creep", "share", "lag", "error", "power", "settled", "settling",
)  # fmt: skip
"""What is not known, each a standard normal number before it is scaled by `_scaled`."""


@dataclass(frozen=True)
class Observed:
    """The readings, averaged to a few dozen points, and what sets the scale of the rest.

    time        s since shut in
    content     m³, at each point
    error       1 σ of each point of the content where a reading's error is the gauge's step, m³
    slow, fast  ∫(P/P₀)^½ dt and ∫(P/P₀) dt up to each point, s
    swelling    by which the water outgrows the wall, m³/K, without its sign
    following   time in which the water follows the room that such a size suggests, s
    inside      what was pumped in to stand there, m³
    creep       slow creeping that nothing explains, m³/√s; `drift` what goes steadily one way and is no leak, m³/s, 1 σ
    uneven      how far a reading may be from all this, m³, 1 σ
    warmth, warmth_error  the same as content and its error by the thermometer, m³; None without one
    offsets     (points, steps): one column of 0 and 1 for each step cut out
    """

    time: Array
    content: Array
    error: Array
    slow: Array
    fast: Array
    swelling: float
    following: float
    inside: float
    creep: float
    uneven: float
    drift: float = 0.0
    warmth: Array | None = None
    warmth_error: Array | None = None
    offsets: Array = field(default_factory=lambda: np.empty((0, 0)))


@dataclass(frozen=True)
class Weighed:
    """For each guess at what is not known, (guesses,).

    fits      logarithm of how well it explains the log
    leak, sd  mean leak over the hold and its 1 σ, m³/s
    first     the leak at the first reading as a multiple of that: a leak lessens as the pressure falls
    """

    fits: Array
    leak: Array
    sd: Array
    first: Array


@dataclass(frozen=True)
class Scaled:
    """The unknowns in their own units, each (guesses, 1, 1)."""

    following: Array
    room: Array
    swinging: Array
    away: Array
    wall: Array
    creep: Array
    share: Array
    lag: Array
    error: Array
    power: Array
    settled: Array
    settling: Array


def scaled(guesses: Array, seen: Observed) -> Scaled:
    """Standard normal numbers (guesses, 10) as the unknowns of a hold.

    Without a thermometer the room is a kelvin away at the least, and as far as makes the water drift by 1 K an hour, 1 σ
    (handbook of the job).
    """
    z = {name: guesses[:, i, None, None] for i, name in enumerate(UNKNOWN)}
    following = seen.following * np.exp(0.7 * z["following"])
    away = np.maximum(1.0, following / HOUR) if seen.warmth is None else 0.7 * np.exp(1.2 * z["away"])
    return Scaled(
        following=following,
        room=0.5 * np.exp(0.6 * z["room"]),
        swinging=1.5 * HOUR * np.exp(0.7 * z["swinging"]),
        away=away,
        wall=0.03 * np.exp(0.8 * z["wall"]),
        creep=np.exp(0.8 * z["creep"]),
        share=0.94 + 0.06 * z["share"],
        lag=60.0 + 180.0 * z["lag"],
        error=ERROR * np.exp(0.3 * z["error"]),
        power=0.75 + 0.25 * np.tanh(z["power"]),
        settled=3e-4 * np.exp(1.3 * z["settled"]),
        settling=150.0 * np.exp(0.6 * z["settling"]),
    )


def weigh(guesses: Array, seen: Observed) -> Weighed:
    """Each guess (guesses, 10) against the log: restricted likelihood, the leak being free, and the leak it gives."""
    unknown = scaled(guesses, seen)
    total, design, observed = _covariance(unknown, seen), _design(unknown, seen), _observed(seen)
    unit = float(np.median(seen.error))
    logs, whitened = _whiten(total / unit**2, design, observed / unit)
    by_column, content = whitened[:, :-1], whitened[:, -1]
    information = by_column @ np.swapaxes(by_column, 1, 2)
    by_content = (by_column @ content[:, :, None])[:, :, 0]
    inverse = np.linalg.inv(information)
    best = (inverse @ by_content[:, :, None])[:, :, 0]
    misfit = (content**2).sum(axis=1) - (best * by_content).sum(axis=1)
    fits = -logs - np.linalg.slogdet(information)[1] / 2 - misfit / 2
    scale = unit / seen.time[-1]
    first = seen.time[-1] / _lost(unknown, seen)[:, -1]
    return Weighed(fits, best[:, 0] * scale, np.sqrt(inverse[:, 0, 0]) * scale, first)


def _whiten(total: Array, design: Array, observed: Array) -> tuple[Array, Array]:
    """Half of the logarithm of each covariance's determinant, and design and observation as it weighs them, (guesses, columns, points).

    One Cholesky factor of the covariance bordered by the columns gives both.
    """
    guesses, n, columns = design.shape
    bordered = np.empty((guesses, n + columns + 1, n + columns + 1))
    bordered[:, :n, :n] = total
    bordered[:, :n, n:-1] = design
    bordered[:, :n, -1] = observed[:, 0]
    bordered[:, n:, :n] = np.swapaxes(bordered[:, :n, n:], 1, 2)
    bordered[:, n:, n:] = np.eye(columns + 1) * BORDER
    factor = np.linalg.cholesky(bordered)
    logs = np.log(np.diagonal(factor[:, :n, :n], axis1=1, axis2=2)).sum(axis=1)
    return logs, factor[:, n:, :n]


def _lost(unknown: Scaled, seen: Observed) -> Array:
    """What was lost up to each point per unit of the first leak, s, (guesses, points)."""
    return seen.slow + (unknown.power[:, :, 0] - 0.5) / 0.5 * (seen.fast - seen.slow)


def _observed(seen: Observed) -> Array:
    both = seen.content if seen.warmth is None else np.concatenate([seen.content, seen.warmth])
    return np.asarray(both[:, None])


def _design(unknown: Scaled, seen: Observed) -> Array:
    """(guesses, points, columns): the leak as a part of the hold's length, offset of the content, of the warmth, steps."""
    n, guesses = len(seen.time), len(unknown.power)
    rows = n if seen.warmth is None else 2 * n
    steps = seen.offsets.shape[1]
    design = np.zeros((guesses, rows, 2 + (rows > n) + steps))
    lost = _lost(unknown, seen)
    design[:, :n, 0] = -lost / lost[:, -1:]
    design[:, :n, 1] = 1.0
    if rows > n:
        design[:, n:, 2] = 1.0
    if steps:
        design[:, :n, -steps:] = seen.offsets
    return design


def _covariance(unknown: Scaled, seen: Observed) -> Array:
    """Covariance of content and warmth, (guesses, points, points), m⁶."""
    n, nodes = len(seen.time), np.linspace(0, seen.time[-1], NODES)
    apart = np.sqrt(3) * np.abs(nodes[:, None] - nodes[None, :]) / unknown.swinging
    turn = 2 * np.pi * nodes / (24 * HOUR)
    day = DAY**2 * (np.outer(np.sin(turn), np.sin(turn)) + np.outer(1 - np.cos(turn), 1 - np.cos(turn)))
    room = unknown.away**2 + unknown.room**2 * (1 + apart) * np.exp(-apart) + day
    follows, felt = _follows(seen.time, nodes, unknown.following[:, 0, 0])
    moved = (1 + unknown.wall) * follows - unknown.wall * felt
    if seen.warmth is not None:
        behind = unknown.lag / unknown.following
        moved = np.concatenate([moved, unknown.share * ((1 + behind) * follows - behind * felt)], axis=1)
    total = seen.swelling**2 * ((moved @ room) @ np.swapaxes(moved, 1, 2))
    creep = (unknown.creep * seen.creep) ** 2
    settled = unknown.settled * seen.inside * -np.expm1(-seen.time[None, :, None] / unknown.settling)
    total[:, :n, :n] += creep * np.minimum(seen.time[:, None], seen.time[None, :]) + settled @ np.swapaxes(settled, 1, 2)
    total[:, :n, :n] += seen.drift**2 * np.outer(seen.time, seen.time)
    own = np.arange(n)
    total[:, own, own] += (unknown.error[:, :, 0] * seen.error) ** 2 + seen.uneven**2
    if seen.warmth_error is not None:
        total[:, n + own, n + own] += (ERROR * seen.warmth_error) ** 2 + (WALL_WAVERS * seen.swelling) ** 2
    return np.asarray(total)


def _follows(time: Array, nodes: Array, following: Array) -> tuple[Array, Array]:
    """The water at each time by the room at each node, (guesses, times, nodes), and the room itself, (times, nodes).

    Newton's cooling, the room straight between nodes.
    """
    every = np.union1d(time, nodes)
    felt = np.array([np.interp(every, nodes, one) for one in np.eye(len(nodes))]).T
    found = np.zeros((len(following), len(every), len(nodes)))
    for i, step in enumerate(np.diff(every)):
        part = step / following
        kept = np.exp(-part)
        new = -np.expm1(-part) / part
        found[:, i + 1] = kept[:, None] * found[:, i] + (new - kept)[:, None] * felt[i] + (1 - new)[:, None] * felt[i + 1]
    at = np.searchsorted(every, time)
    return found[:, at], felt[at]
