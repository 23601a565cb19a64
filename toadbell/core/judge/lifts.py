"""The lifts of a relief valve in a log, by the sudden fall after each."""

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Lift:
    """A lift seen in a log: when, s, at what pressure, and where it shut again, Pa; None while it has not."""

    time: float
    lift: float
    reseat: float | None


def lifts_in(times: Sequence[float], pressures: Sequence[float], step: float) -> list[Lift]:
    """The lifts in a log, found by the sudden fall after each: nobody has to hit a key at the right instant.

    times, pressures  s, Pa, in order
    step              smallest that the gauge tells apart, Pa

    A fall is sudden where it goes down by more than four steps and two per cent of the peak in at most five seconds; it
    shut where the fall ends.
    """
    found: list[Lift] = []
    peak = valley = None
    for n, (time, pressure) in enumerate(zip(times, pressures, strict=True)):
        if valley is not None and found:
            if pressure <= valley:
                valley = pressure
                continue
            if pressure > valley + step or n == len(times) - 1:
                found[-1] = Lift(found[-1].time, found[-1].lift, valley)
                valley, peak = None, (time, pressure)
            continue
        if peak is None or pressure >= peak[1]:
            peak = (time, pressure)
            continue
        if peak[1] - pressure > max(4 * step, 0.02 * peak[1]) and time - peak[0] <= 5.0:
            found.append(Lift(peak[0], peak[1], None))
            valley = pressure
        elif time - peak[0] > 5.0:
            peak = (time, pressure)
    if valley is not None and found:
        found[-1] = Lift(found[-1].time, found[-1].lift, valley)
    return found


NEAR = 0.9
"""From this part of its set on a valve is raised slowly."""
QUICKEST = 0.02
"""…by no more than so much of its set a second; procedures, relief."""
OVER = 10.0
"""What was read in the last so many s is looked at."""


def too_quick(times: Sequence[float], pressures: Sequence[float], set_pressure: float) -> float | None:
    """How quick it rises near the valve's set, as a part of the set a second, where that is too quick; else None.

    times, pressures  s, Pa, in order; readings further apart than ten seconds tell nothing
    set_pressure      Pa
    """
    near = [
        (t, p)
        for t, p in zip(times, pressures, strict=True)
        if times[-1] - t <= OVER and NEAR * set_pressure <= p <= 1.2 * set_pressure
    ]
    rates = [
        (later[1] - one[1]) / (later[0] - one[0]) / set_pressure
        for n, one in enumerate(near)
        for later in near[n + 1 :]
        if later[0] - one[0] >= 1.0
    ]
    quickest = max(rates, default=0.0)
    return quickest if quickest > QUICKEST * (1 + 1e-9) else None
