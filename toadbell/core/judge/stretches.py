"""A run with several stretches that were shut in: its log cut into them, and what the model weighs of all together.

Source: procedures, low holds: content(t) = c_k − ∫q(P)dt + v(t) − settling_k for each stretch k, one v(t) for all.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.judge import observations as hd
from toadbell.core.judge.log import Log
from toadbell.core.judge.model import Observed, Stretch
from toadbell.core.judge.preprocess import Asked, Readings, observed, read
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.sheets import HoldSheet, SheetError

MANY = 1000
"""Of more readings than that, fewer points tell as much."""
POINTS_OF_MANY, LOW_POINTS_OF_MANY = 20, 4
LOW_POINTS, FEW_LOW_POINTS = 10, 6
"""A low hold is averaged to so many points; to fewer where the answer has to be quick."""
LEAST_SETTLES = 0.3
"""After a small step, too, seals move: so much of what they do after a large one, at the least."""
AIR_DOUBT, AIR_FLOOR = 0.2, 1e-5
"""1 σ of air that was stated: as a part of it, and of the vessel's volume."""


@dataclass(frozen=True)
class Low:
    """A low hold: when it began on the test hold's clock, s, and its readings."""

    began: float
    readings: Readings


def cut(log: Log, sheet: HoldSheet) -> tuple[Log, list[tuple[float, Log]]]:
    """The test hold of a log, and its low holds, each with when it began, s on the test hold's clock.

    Raises SheetError where the test hold has fewer than two readings.
    """
    if not sheet.holds:
        return log, []
    test = next(one for one in sheet.holds if one.role == "test")
    held = _within(log, test.from_, test.to)
    if held is None:
        raise SheetError("fewer than two readings lie in the test hold: are its times on the log's own clock?", "holds")
    began = log.began + float(held[0])
    lows = [(_within(log, one.from_, one.to)) for one in sheet.holds if one.role == "low"]
    return held[1], [(log.began + low[0] - began, low[1]) for low in lows if low is not None]


def _within(log: Log, since: float, until: float) -> tuple[float, Log] | None:
    """The readings between two moments on the log's own clock, and when the first was taken; None of fewer than two."""
    clock = log.time + log.began
    kept = np.flatnonzero((clock >= since - 1e-6) & (clock <= until + 1e-6))
    if len(kept) < 2:
        return None

    def column(one: Array | None) -> Array | None:
        return None if one is None else one[kept]

    first = float(log.time[kept[0]])
    part = Log(
        log.time[kept] - first,
        log.pressure[kept],
        column(log.water_temperature),
        column(log.air_temperature),
        column(log.barometer),
        began=log.began + first,
    )
    return first, part


def lows_of(logs: Sequence[tuple[float, Log]], sheet: HoldSheet, asked: Asked) -> list[Low]:
    """The low holds as they are read; one that tells nothing is left out."""
    found = []
    for began, log in logs:
        try:
            found.append(Low(began, read(log, sheet, Asked(thermometer=asked.thermometer, quick=asked.quick))))
        except SheetError:
            continue  # without pressure, or empty at once: it says nothing of the drift
    return found


def points_for(r: Readings, lows: Sequence[Low]) -> int:
    """To how many points a test hold is averaged, low holds beside it or none."""
    return POINTS_OF_MANY if lows and len(r.kept) > MANY else hd.MOST_POINTS


def together(test: Observed, r: Readings, lows: Sequence[Low], medium: hd.Medium, *, quick: bool) -> Observed:
    """The test hold with its low holds, on one clock from the first of them on."""
    if not lows:
        return test
    few = len(r.kept) > MANY
    most = FEW_LOW_POINTS if quick else LOW_POINTS_OF_MANY if few else LOW_POINTS
    pieces = sorted(
        [
            (0.0, r, test, "test"),
            *((low.began, low.readings, _seen(low.readings, medium, most), "low") for low in lows),
        ],
        key=lambda piece: piece[0],
    )
    warm = all(seen.warmth is not None for _, _, seen, _ in pieces)
    begun, reference = pieces[0][0], r.content.compliance(r.start)
    stretches: list[Stretch] = []
    at, before = 0, 0.0
    for _, own, seen, role in pieces:
        step = (own.start - before) / r.start
        stretches.append(
            Stretch(
                at,
                at + len(seen.time),
                "test" if role == "test" else "low",
                settles=1.0 if role == "test" else max(LEAST_SETTLES, min(1.0, abs(step))),
                creeps=1.0 if role == "test" else step,
                uneven=_uneven(role, own, len(seen.time)),
                dissolves=1.0 if role == "test" else (own.start / r.start if step > 0 else 0.0),
            )
        )
        at, before = at + len(seen.time), own.start
    volume = r.content.volume
    doubt = 0.0
    if isinstance(r.content, Content) and test.vessel.unstated_air is None:
        doubt = AIR_DOUBT * r.content.trapped_air + AIR_FLOOR * volume
    return replace(
        test,
        time=np.concatenate([seen.time + (when - begun) + _first(own) for when, own, seen, _ in pieces]),
        content=np.concatenate([seen.content for _, _, seen, _ in pieces]),
        error=np.concatenate([seen.error for _, _, seen, _ in pieces]),
        pressure=np.concatenate([seen.pressure for _, _, seen, _ in pieces]),
        warmth=np.concatenate([_known(seen.warmth) for _, _, seen, _ in pieces]) if warm else None,
        warmth_error=np.concatenate([_known(seen.warmth_error) for _, _, seen, _ in pieces]) if warm else None,
        offsets=_beside([seen.offsets for _, _, seen, _ in pieces]),
        stretches=tuple(stretches),
        softer=np.concatenate(
            [np.full(len(seen.time), r.content.compliance(own.start) / reference) for _, own, seen, _ in pieces]
        ),
        vessel=replace(test.vessel, air_doubt=doubt, several=True),
    )


def _uneven(role: str, own: Readings, points: int) -> float:
    """How far each point of a stretch may be out, beside one of a test hold alone: it stands for more readings."""
    usual = min(hd.MOST_POINTS if role == "test" else LOW_POINTS, len(own.kept))
    return float(np.sqrt(points / max(points, usual)))


def _seen(own: Readings, medium: hd.Medium, most: int) -> Observed:
    """A low hold as the model weighs it: its readings' errors by the compliance at its own pressure."""
    compliance = own.content.compliance(own.start)
    content: Content | AirContent = own.content
    swelling = medium.swelling
    if isinstance(content, AirContent):
        swelling = content.swelling(own.start)
    return observed(own, replace(medium, compliance=compliance, swelling=swelling), most)


def _first(own: Readings) -> float:
    """When the first point is that was kept, s after the stretch began: readings before it were left out."""
    return float(own.log.time[own.kept[0]])


def _known(column: Array | None) -> Array:
    assert column is not None
    return column


def _beside(each: list[Array]) -> Array:
    """Columns of steps of each stretch, side by side."""
    rows, columns = sum(len(one) for one in each), sum(one.shape[1] for one in each)
    found = np.zeros((rows, columns))
    row = column = 0
    for one in each:
        found[row : row + len(one), column : column + one.shape[1]] = one
        row, column = row + len(one), column + one.shape[1]
    return found
