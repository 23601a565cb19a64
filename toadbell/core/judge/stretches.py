"""A run with several stretches that were shut in: its log cut into them, and what the model weighs of all together.

Source: procedures, low holds: content(t) = c_k − ∫q(P)dt + v(t) − settling_k for each stretch k, one v(t) for all.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.judge import observations as hd
from toadbell.core.judge.answers import LowHold
from toadbell.core.judge.detectability import LowHolds
from toadbell.core.judge.log import Log
from toadbell.core.judge.observed import Observed
from toadbell.core.judge.pieces import AIR_DOUBT, AIR_FLOOR, LOW_POINTS, Piece, on_one_clock
from toadbell.core.judge.preprocess import Asked, Readings, observed, read
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.sheets import HoldSheet, SheetError

MANY = 1000
"""Of more readings than that, fewer points tell as much."""
POINTS_OF_MANY, LOW_POINTS_OF_MANY = 20, 4
FEW_LOW_POINTS = 6
"""To so many a low hold is averaged where the answer has to be quick."""


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
        column(log.level),
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


def low_told(low: Low, compliance: float) -> LowHold:
    """A low hold as the answer tells it; compliance of the test hold, m³/Pa."""
    kept = low.readings.kept
    time, pressure, held = low.readings.log.time[kept], low.readings.pressure[kept], low.readings.held[kept]
    return LowHold(
        began=low.began + float(time[0]),
        ended=low.began + float(time[-1]),
        pressure=low.readings.start,
        fell=float(pressure[0] - pressure[-1]),
        drift=float(held[-1] - held[0]) / float(time[-1] - time[0]) / compliance,
    )


def lows_held(r: Readings, lows: Sequence[Low]) -> LowHolds | None:
    """Low holds that were held, as a plan would name them, for what more of the test hold would tell; None of none."""
    if not lows or r.start <= 0:
        return None

    def long(one: Readings) -> float:
        return float(one.log.time[one.kept[-1]] - one.log.time[one.kept[0]])

    def apart(low: Low) -> float:
        own, test = low.readings.log.time, r.log.time
        return -low.began - float(own[-1]) if low.began < 0 else low.began - float(test[-1])

    return LowHolds(
        part=float(np.mean([low.readings.start for low in lows])) / r.start,
        long=max(1.0, float(np.mean([long(low.readings) for low in lows]))),
        before=any(low.began < 0 for low in lows),
        after=any(low.began > 0 for low in lows),
        between=max(0.0, float(np.mean([apart(low) for low in lows]))),
    )


def points_for(r: Readings, lows: Sequence[Low]) -> int:
    """To how many points a test hold is averaged, low holds beside it or none."""
    return POINTS_OF_MANY if lows and len(r.kept) > MANY else hd.MOST_POINTS


def together(test: Observed, r: Readings, lows: Sequence[Low], medium: hd.Medium, *, quick: bool) -> Observed:
    """The test hold with its low holds, on one clock from the first of them on."""
    if not lows:
        return test
    most = FEW_LOW_POINTS if quick else LOW_POINTS_OF_MANY if len(r.kept) > MANY else LOW_POINTS
    reference = r.content.compliance(r.start)
    pieces = [Piece(_first(r), test, "test", r.start, 1.0, len(r.kept))]
    for low in lows:
        own = low.readings
        softer = r.content.compliance(own.start) / reference
        began = low.began + _first(own)
        pieces.append(Piece(began, _seen(own, medium, most), "low", own.start, softer, len(own.kept)))
    doubt = 0.0
    if isinstance(r.content, Content) and test.vessel.unstated_air is None:
        doubt = AIR_DOUBT * r.content.trapped_air + AIR_FLOOR * r.content.volume
    return on_one_clock(pieces, doubt)


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
