"""How long what a leak was sealed with takes to cure, by temperature; not before that is it tried again.

Temperatures K, times s.
"""

import datetime
import itertools
import math
import tomllib
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from toadbell.core.phrases import Said, say

COLD_DOUBLES = 10.0
"""Beyond its table a cure takes twice as long for each so many K colder; Arrhenius' rule of thumb."""


@dataclass(frozen=True)
class Compound:
    """What a leak is sealed or joined with: hours to cure at temperatures (°C), the coldest first, and who says so."""

    id: str
    hours: tuple[tuple[float, float], ...]
    source: str

    @property
    def name(self) -> Said:
        """As people call it."""
        return say(f"hunt.{self.id}")

    def cures_in(self, temperature: float) -> float:
        """Time to cure at a temperature, K, s.

        Between two of its temperatures along the logarithm of the time; colder than the coldest it doubles every 10 K,
        and warmer than the warmest is no quicker.

        >>> round(COMPOUNDS()["thread-sealant"].cures_in(295.15) / 3600)
        24
        """
        at, points = temperature - 273.15, self.hours
        if points[0][1] == 0:
            return 0.0
        if at <= points[0][0]:
            return 3600 * points[0][1] * 2 ** ((points[0][0] - at) / COLD_DOUBLES)
        for (cold, long), (warm, short) in itertools.pairwise(points):
            if at <= warm:
                part = (at - cold) / (warm - cold)
                return 3600 * math.exp((1 - part) * math.log(long) + part * math.log(short))
        return 3600 * points[-1][1]


@cache
def COMPOUNDS() -> dict[str, Compound]:
    """Every compound by its id."""
    told = tomllib.loads(Path(__file__).with_name("compounds.toml").read_text(encoding="utf-8"))
    return {
        name: Compound(name, tuple(sorted((float(t), float(h)) for t, h in one["hours"].items())), one["source"])
        for name, one in told.items()
    }


def not_before(done: datetime.datetime, compound: str, temperature: float | None) -> datetime.datetime | None:
    """When it may be tried again; None where nothing has to cure, or nobody knows the compound.

    temperature  that it cures at, K; unknown is taken for the coldest of its table, which takes the longest
    """
    found = COMPOUNDS().get(compound)
    if found is None:
        return None
    at = temperature if temperature is not None else found.hours[0][0] + 273.15
    wait = found.cures_in(at)
    return done + datetime.timedelta(seconds=wait) if wait > 0 else None
