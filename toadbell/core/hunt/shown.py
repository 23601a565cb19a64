"""What a log shows of a leak by how it ran at other pressures and at other warmth: it gapes as it is pressed, it is dry
below a pressure, it shows only when warm.

Source: handbook of the job, finding leaks: a thread leaks at every pressure, a gasket from where it gapes, a gland when
it is warm.
"""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

Shown = Literal["gapes", "opens", "warm"]
MORE_THAN_PROPORTIONAL = 1.3
"""A leak that grows faster than the pressure to this power gapes: a hole's grows with its root, a crack's with it."""
DRY = 0.1
"""Under this part of what it would be in proportion it is dry."""
ALIKE = 0.1
"""Pressures that differ by less than this part are the same."""
WARMER = 3.0
"""Water that is warmer by so much may show what was not there before, K."""


@dataclass(frozen=True)
class Ran:
    """How it ran over a while: at a pressure, Pa, so much, between what, m³/s; how warm it was, K, where that is
    known.
    """

    pressure: float
    low: float
    high: float
    temperature: float | None = None


def shown(ran: Sequence[Ran]) -> list[Shown]:
    """What some stretches show together, only what their bands leave no doubt of."""
    found: list[Shown] = []
    for below, above in itertools.permutations(ran, 2):
        if above.pressure > below.pressure * (1 + ALIKE) and below.pressure > 0:
            ratio = above.pressure / below.pressure
            if below.high < DRY * above.low / ratio:
                found.append("opens")
            elif below.high * ratio**MORE_THAN_PROPORTIONAL < above.low:
                found.append("gapes")
        if _warmed(below, above):
            found.append("warm")
    return [one for one in ("opens", "gapes", "warm") if one in found]


def _warmed(cold: Ran, warm: Ran) -> bool:
    """Did the warmer of two at the same pressure leak, and the colder surely less?"""
    if cold.temperature is None or warm.temperature is None:
        return False
    alike = abs(warm.pressure - cold.pressure) <= ALIKE * max(warm.pressure, cold.pressure)
    return alike and warm.temperature - cold.temperature >= WARMER and cold.high < warm.low
