"""Drops or bubbles that were counted: how much leaks, with its band. Volumes m³, times s, rates m³/s."""

import math
from dataclasses import dataclass
from typing import Literal

DROP = (0.035e-6, 0.05e-6, 0.16e-6)
"""What a drop of water holds at the least, usually, at the most; 20 drops to the mL from a nozzle, 28 from a fine one.
A wide wet edge lets larger ones hang: by Tate's law 2 π r γ/(ρ g), six tenths of which fall, 0.16 mL from 12 mm across
and more (γ 0.072 N/m).
"""
BUBBLE = (0.02e-6, 0.07e-6, 0.25e-6)
"""What a bubble of soap at a seam holds: 3 to 8 mm across, 5 mm usually."""
BAND = 0.95


@dataclass(frozen=True)
class Counted:
    """A rate that was counted, and between what it lies (95 %)."""

    rate: float
    low: float
    high: float


def counted(number: int, seconds: float, what: Literal["drops", "bubbles"]) -> Counted:
    """The rate of so many drops or bubbles in so long, by the chance of the count (Poisson) and by how big one is: the
    two half-widths, in the logarithm, add as squares.

    number   that were counted; none is a bound, and not nought
    seconds  over which
    Raises ValueError where that is no time.

    >>> found = counted(10, 30.0, "drops")
    >>> round(found.rate * 3.6e9, 1), round(found.low * 3.6e9), round(found.high * 3.6e9)  # mL/h
    (60.0, 27, 223)
    """
    if not seconds > 0:
        raise ValueError("a count needs the time over which it was made")
    least, usual, most = DROP if what == "drops" else BUBBLE
    from scipy.special import gammaincinv  # asked for when something was counted: it is slow to begin with

    tail = (1 - BAND) / 2
    few, many = float(gammaincinv(number, tail)) if number else 0.0, float(gammaincinv(number + 1, 1 - tail))
    if not number:
        return Counted(0.0, 0.0, many * most / seconds)
    rate = number * usual / seconds
    down = math.hypot(math.log(number / few), math.log(usual / least))
    up = math.hypot(math.log(many / number), math.log(most / usual))
    return Counted(rate, rate * math.exp(-down), rate * math.exp(up))
