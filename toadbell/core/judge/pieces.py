"""Stretches that were shut in, a test hold and low holds, put on one clock for the model."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.judge.observations import FREE_POINTS
from toadbell.core.judge.observed import Observed, Stretch

LOW_POINTS = 10
"""A low hold is averaged to so many points."""
LEAST_SETTLES = 0.3
"""After a small step, too, seals move: so much of what they do after a large one, at the least."""
AIR_DOUBT, AIR_FLOOR = 0.2, 1e-5
"""1 σ of air that was stated: as a part of it, and of the vessel's volume. It matters where it is soft, low down."""


@dataclass(frozen=True)
class Piece:
    """A stretch: when its first point is on the test hold's clock, s; as the model weighs it alone; at Pa.

    softer    its compliance over that at the test hold's pressure
    readings  that it stands for; as many as its points where nothing is said
    """

    began: float
    seen: Observed
    role: Literal["low", "test"]
    pressure: float
    softer: float
    readings: int | None = None


def on_one_clock(pieces: Sequence[Piece], air_doubt: float = 0.0) -> Observed:
    """All stretches as one, on a clock that begins with the first of them.

    air_doubt  1 σ of the air that was stated, m³
    """
    ordered = sorted(pieces, key=lambda piece: piece.began)
    test = next(piece for piece in ordered if piece.role == "test")
    warm = all(piece.seen.warmth is not None for piece in ordered)
    stretches: list[Stretch] = []
    at, before = 0, 0.0
    for piece in ordered:
        stretches.append(_stretch(piece, at, (piece.pressure - before) / test.pressure, test.pressure))
        at, before = at + len(piece.seen.time), piece.pressure
    each = [piece.seen for piece in ordered]
    return replace(
        test.seen,
        time=np.concatenate([piece.seen.time + (piece.began - ordered[0].began) for piece in ordered]),
        content=np.concatenate([seen.content for seen in each]),
        error=np.concatenate([seen.error for seen in each]),
        pressure=np.concatenate([seen.pressure for seen in each]),
        warmth=np.concatenate([_known(seen.warmth) for seen in each]) if warm else None,
        warmth_error=np.concatenate([_known(seen.warmth_error) for seen in each]) if warm else None,
        offsets=_beside([seen.offsets for seen in each]),
        stretches=tuple(stretches),
        softer=np.concatenate([np.full(len(piece.seen.time), piece.softer) for piece in ordered]),
        vessel=replace(test.seen.vessel, air_doubt=air_doubt, several=True),
    )


def _stretch(piece: Piece, at: int, step: float, test_pressure: float) -> Stretch:
    """One of them in the model's terms; step: how far the pressure was moved to it, as a part of the test pressure."""
    points = len(piece.seen.time)
    usual = min(FREE_POINTS if piece.role == "test" else LOW_POINTS, piece.readings or points)
    uneven = float(np.sqrt(points / max(points, usual)))
    if piece.role == "test":
        return Stretch(at, at + points, uneven=uneven)
    return Stretch(
        at,
        at + points,
        "low",
        settles=max(LEAST_SETTLES, min(1.0, abs(step))),
        creeps=step,
        dissolves=piece.pressure / test_pressure if step > 0 else 0.0,
        uneven=uneven,
    )


def _known(column: Array | None) -> Array:
    assert column is not None
    return column


def _beside(each: Sequence[Array]) -> Array:
    """Columns of steps of each stretch, side by side."""
    rows, columns = sum(len(one) for one in each), sum(one.shape[1] for one in each)
    found = np.zeros((rows, columns))
    row = column = 0
    for one in each:
        found[row : row + len(one), column : column + one.shape[1]] = one
        row, column = row + len(one), column + one.shape[1]
    return found
