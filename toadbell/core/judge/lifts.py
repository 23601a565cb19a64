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
