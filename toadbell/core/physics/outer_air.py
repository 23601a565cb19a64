"""The outer air's pressure where a workshop stands, and between what it is where nobody said. Pressures Pa absolute,
altitudes m.

Source: the standard atmosphere, ISO 2533; three kilopascals of weather to either side.
"""

from typing import NamedTuple

from toadbell.core.units import ATMOSPHERE

LOWEST, HIGHEST = 5e4, 1.1e5
"""The outer air's pressure is between these wherever people live."""
UNSAID_UP_TO = 1500.0
"""A workshop of which nobody said how high it stands is taken to stand between the sea and so high."""
WEATHER = 3000.0
"""By so much the weather goes to either side of what is usual at a height."""
READ = 200.0
"""How far a barometer may be out, or the air have gone on since it was read."""


class OuterAir(NamedTuple):
    """What it is, and the least and the most that it may be; `known` where somebody said."""

    pressure: float
    low: float
    high: float
    known: bool


def standard(altitude: float) -> float:
    """The standard atmosphere at a height above the sea.

    >>> round(standard(0.0)), round(standard(1500.0)), round(standard(2240.0))  # ISO 2533: 84 556 Pa at 1500 m
    (101325, 84556, 77155)
    """
    return float(ATMOSPHERE * (1 - 2.25577e-5 * altitude) ** 5.25588)


def outer_air(barometer: float | None = None, altitude: float | None = None) -> OuterAir:
    """By a barometer where one was read, else by the height of the place, else from the sea up to 1500 m.

    >>> outer_air().known, round(outer_air().low), round(outer_air(altitude=2240.0).pressure)
    (False, 81556, 77155)
    """
    if barometer is not None:
        return OuterAir(barometer, barometer - READ, barometer + READ, True)
    if altitude is not None:
        usual = standard(altitude)
        return OuterAir(usual, usual - WEATHER, usual + WEATHER, True)
    return OuterAir(ATMOSPHERE, standard(UNSAID_UP_TO) - WEATHER, ATMOSPHERE + WEATHER, False)
