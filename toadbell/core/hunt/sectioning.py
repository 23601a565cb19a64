"""A rig parted by its valves: which to shut next, and the leak of each hold with some sections open, by the judge's own
model.

Source: procedures, the hunt: sections shut one by one, the leak of each by difference.
"""

import math
from collections.abc import Sequence

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.hunt.differences import Fall, SectionHold
from toadbell.core.judge.hold import Asked, Weighed, unsaid_of, weighed_hold
from toadbell.core.judge.log import Log
from toadbell.core.judge.observations import reading_error
from toadbell.core.physics.water import ROOM, water_compressibility
from toadbell.core.sheets import Circuit, HoldSheet, SheetError
from toadbell.core.vessel.content import content_of


def next_to_shut(circuit: Circuit, held: Sequence[tuple[str, ...]]) -> tuple[str, ...] | None:
    """The valves to shut for the next hold: none of them first, then the farthest section off, then one more each time.

    held  what was open in the holds so far
    None once every section can be told apart.
    """
    order = _outward(circuit)
    held = [tuple(one) for one in held]
    for count in range(len(order), 0, -1):
        kept = order[:count]
        shut = tuple(v.name for v in circuit.valves if sum(name in kept for name in v.between) == 1)
        if circuit.open_with(shut) not in held:
            return shut
    return None


def _outward(circuit: Circuit) -> list[str]:
    """The sections, those nearest to the gauge first."""
    order = [circuit.gauged]
    for one in order:
        for valve in circuit.valves:
            if one in valve.between:
                order += [other for other in valve.between if other not in order]
    return order


def section_hold(
    log: Log,
    whole: HoldSheet,
    circuit: Circuit | None = None,
    open_: tuple[str, ...] = (),
    *,
    settles: bool = False,
) -> SectionHold:
    """The leak of a hold with some sections open, and between what it lies, by itself; and how fast the gauge fell.

    log      its readings
    whole    the sheet of a hold with every section open, which is all there is without a circuit
    settles  it was pumped up shortly before: what flattens out is no leak
    Where the compliance of the whole is known, a part has at least that of its water, and at most what the water of the
    rest leaves of the whole's: which of its walls give more, and where the air is, nobody knows. The band says so.
    Raises SheetError where the volume of a section is not known, or the log cannot be used.
    """
    everything = circuit is None or set(open_) == set(circuit.names)
    share = 1.0 if circuit is None or everything else circuit.share_of(open_)
    if share is None:
        raise SheetError("its leak needs the volume of every section: give them in the plan", "circuit")
    unsaid = unsaid_of(whole)
    known = whole.compliance is not None or whole.medium == "air" or not (unsaid.air or unsaid.give)
    sheet, less, more = whole, 1.0, 1.0
    if share < 1 and known:
        sheet, less, more = _with_bounds(log, whole, share)
    elif share < 1:
        parts = {"volume": share * (whole.volume or 0.0), "trapped_air": None}
        sheet = whole.model_copy(update=parts)
    weighed = weighed_hold(log, sheet, Asked(quick=True), part=not everything)
    band = weighed.found.band(by_gauge=False)
    low, high = less * max(0.0, band["low"]), more * max(0.0, band["high"])
    if not known:
        water = water_compressibility(whole.water_temperature or ROOM, weighed.readings.start)
        less, more = min(1.0, water * (sheet.volume or 0.0) / weighed.medium.compliance), UNKNOWN
    fall = _fall(weighed, less, more, settles=settles)
    return SectionHold(open_, band["estimate"], low, high, fall)


WEATHER, UNSTEADY = 2.0 / 3600, 0.4 / 3600
"""How fast what is inside may warm or cool unseen, and by how much that may differ from one hold to the next, K/s."""
SEEN = 0.03 / 3600
"""And beyond what a thermometer shows of it."""
WIDE = 2.5
"""Half of a fall's band, in standard deviations: readings of one dial err together."""
UNKNOWN = 50.0
"""So many times what it is taken for a compliance may be of which next to nothing is known."""
NEAR = 0.8
"""Down to such a part of the pressure that it began with the fall is looked at: a leak slows as it empties."""
UNSURE = 0.06
"""How far a compliance may be out that was measured by strokes or worked out, as a part of it."""
SETTLES = 0.5
"""Of a fall soon after pumping, read too seldom to see it flatten, so much may be no leak."""


def _fall(weighed: Weighed, less: float, more: float, *, settles: bool) -> Fall:
    """How fast the gauge fell, with the temperature taken out where it was read."""
    r = weighed.readings
    compliance = weighed.medium.compliance
    pressure = r.pressure[r.kept] - (0.0 if r.warm is None else r.warm[r.kept] / compliance)
    near = max(3, int(np.argmax(pressure < NEAR * pressure[0]) or len(pressure)))
    time, pressure = r.log.time[r.kept][:near], pressure[:near]
    error = reading_error(r.pressure[r.kept], r.gauge)
    fall, doubt = _slope(time, pressure, error)
    flattens = 0.0
    if settles and len(time) >= 6:
        half = len(time) // 2
        (early, _), (fall, doubt) = (
            _slope(time[:half], pressure[:half], error),
            _slope(time[half:], pressure[half:], error),
        )
        flattens = abs(early - fall)
    elif settles:
        flattens = SETTLES * max(0.0, fall)
    sags = max(0.0, float(pressure[0] / max(pressure.mean(), 0.1 * pressure[0])) - 1.0)
    per_kelvin = abs(r.content.pressure_per_kelvin(r.start))
    return Fall(
        low=fall - WIDE * doubt - flattens,
        high=max(fall, fall * (1 + sags)) + WIDE * doubt,
        least=less * (1 - UNSURE) * compliance,
        most=more * (1 + UNSURE) * compliance,
        weather=WEATHER * per_kelvin,
        unsteady=(UNSTEADY if r.warm is None else SEEN) * per_kelvin,
    )


def _slope(time: Array, pressure: Array, error: float) -> tuple[float, float]:
    """How fast it falls by least squares, and that with 1 σ of it, Pa/s."""
    away = time - time.mean()
    spread = float(away @ away)
    return -float(away @ pressure) / spread, error / math.sqrt(spread)


def _with_bounds(log: Log, whole: HoldSheet, part: float) -> tuple[HoldSheet, float, float]:
    """The sheet of a part by its share of the whole's compliance, and how much less and more that may be."""
    volume = part * (whole.volume or 0.0)
    if whole.medium == "air":  # of air the volume is all there is to know
        return whole.model_copy(update={"volume": volume}), 1.0, 1.0
    pressure, warm = float(log.pressure[0]), whole.water_temperature or ROOM
    content = content_of(whole.volume or 0.0, whole.shell, whole.trapped_air or 0.0, warm, whole.compliance)
    all_of_it, water = content.compliance(pressure), water_compressibility(warm, pressure)
    shared = part * all_of_it
    rest = water * ((whole.volume or 0.0) - volume)
    sheet = whole.model_copy(update={"volume": volume, "compliance": shared, "trapped_air": 0.0})
    return sheet, min(1.0, water * volume / shared), max(1.0, (all_of_it - rest) / shared)
