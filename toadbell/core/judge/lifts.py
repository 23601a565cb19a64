"""The lifts of a relief valve in a log, by the sudden fall after each."""

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Lift:
    """A lift seen in a log: when, s, at what pressure, and where it shut again, Pa; None while it has not."""

    time: float
    lift: float
    reseat: float | None


SUDDEN, STANDS = 5.0, 2.0
"""A valve's fall is over in the first so many s after its peak begins it; a fall that stops for the second is over."""
LET_DOWN = 0.5
"""What falls to less than this part of its peak without a stop was let down: no valve shuts so late."""


def lifts_in(times: Sequence[float], pressures: Sequence[float], step: float) -> list[Lift]:
    """The lifts in a log, found by the sudden fall after each: nobody has to hit a key at the right instant.

    times, pressures  s, Pa, in order
    step              smallest that the gauge tells apart, Pa

    A fall is a lift's where it rose till then, goes down by more than four steps and two per cent of the peak in five
    seconds at the most, and stops: there it shut. One reading that jumps is no lift, and what goes on falling was let
    down.
    """
    clean = _without_jumps(pressures, step)
    found: list[Lift] = []
    n = peak = 0
    while n < len(clean):
        if clean[n] >= clean[peak]:
            peak = n
        elif clean[peak] - clean[n] > max(4 * step, 0.02 * clean[peak]):
            end, stopped = _stops(times, clean, n, step)
            valve = times[n] - times[peak] <= SUDDEN and _rose(times, clean, peak, step)
            if valve and clean[end] >= LET_DOWN * clean[peak]:
                found.append(Lift(times[peak], clean[peak], clean[end] if stopped else None))
            n = peak = end
            if not stopped:
                break
        elif times[n] - times[peak] > SUDDEN:
            peak = n
        n += 1
    return found


def _without_jumps(pressures: Sequence[float], step: float) -> list[float]:
    """The readings without such as alone lie over, or under, the two beside them by more than these are apart."""
    clean = list(pressures)
    for n in range(1, len(clean) - 1):
        before, here, after = clean[n - 1], pressures[n], pressures[n + 1]
        apart = abs(after - before) + 2 * step
        if here > max(before, after) + apart or here < min(before, after) - apart:
            clean[n] = (before + after) / 2
    return clean


def _stops(times: Sequence[float], pressures: Sequence[float], begin: int, step: float) -> tuple[int, bool]:
    """Where a fall stops: the lowest, from which on it falls by no more than a step for two seconds, or rises again;
    false where the log ends while it falls.
    """
    lowest = begin
    for n in range(begin + 1, len(pressures)):
        if pressures[n] < pressures[lowest] - step:
            lowest = n
        elif pressures[n] > pressures[lowest] + step or times[n] - times[lowest] >= STANDS:
            return min(range(lowest, n + 1), key=lambda k: pressures[k]), True
    stood = lowest < len(pressures) - 1 or (lowest > begin and pressures[lowest - 1] - pressures[lowest] <= 2 * step)
    return lowest, stood


def _rose(times: Sequence[float], pressures: Sequence[float], peak: int, step: float) -> bool:
    """Did it rise in the seconds before its peak, or begin there?"""
    begin = peak
    while begin > 0 and times[peak] - times[begin - 1] <= SUDDEN:
        begin -= 1
    before = pressures[begin : peak + 1]
    return len(before) < 2 or pressures[peak] - min(before) > step


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
    begin = len(times)
    while begin > 0 and times[-1] - times[begin - 1] <= OVER:
        begin -= 1
    lately = zip(times[begin:], pressures[begin:], strict=True)
    near = [(t, p) for t, p in lately if NEAR * set_pressure <= p <= 1.2 * set_pressure]
    rates = [
        (later[1] - one[1]) / (later[0] - one[0]) / set_pressure
        for n, one in enumerate(near)
        for later in near[n + 1 :]
        if later[0] - one[0] >= 1.0
    ]
    quickest = max(rates, default=0.0)
    return quickest if quickest > QUICKEST * (1 + 1e-9) else None
