"""The room's course, the water that follows it, and what a thermometer does alone, as a probability."""

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.judge.observed import Observed
from toadbell.core.judge.unknowns import HOUR, Scaled


def of_the_room(unknown: Scaled, seen: Observed, nodes: Array) -> Array:
    """Covariance of the room's course at the nodes, K², (guesses, nodes, nodes)."""
    apart = np.sqrt(3) * nodes / unknown.swinging[:, 0]
    along = unknown.away[:, 0] ** 2 + unknown.room[:, 0] ** 2 * (1 + apart) * np.exp(-apart)
    turn = 2 * np.pi * nodes / (24 * HOUR)
    day = seen.day**2 * (np.outer(np.sin(turn), np.sin(turn)) + np.outer(1 - np.cos(turn), 1 - np.cos(turn)))
    between = np.arange(len(nodes))
    return np.asarray(along[:, np.abs(between[:, None] - between[None, :])] + day)


def of_the_thermometer(unknown: Scaled, seen: Observed) -> Array:
    """Covariance of what sun, draught and a loose probe do to the thermometer alone: one way, levelling off, and to and
    fro.
    """
    time = seen.time
    one_way = -np.expm1(-time[None, :, None] / unknown.wandering)
    apart = np.abs(time[:, None] - time[None, :])[None] / unknown.wandering
    return np.asarray(
        (unknown.wander * seen.swelling) ** 2 * (one_way @ np.swapaxes(one_way, 1, 2) + 0.1 * np.exp(-apart))
    )


def follows(time: Array, nodes: Array, following: Array) -> tuple[Array, Array]:
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
