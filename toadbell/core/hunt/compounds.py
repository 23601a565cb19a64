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
    """What a leak is sealed or joined with: hours to cure at temperatures (°C), the coldest first, and who says so.

    least  colder than that, °C, it never cures
    """

    id: str
    hours: tuple[tuple[float, float], ...]
    source: str
    least: float | None = None

    @property
    def name(self) -> Said:
        """As people call it."""
        return say(f"hunt.{self.id}")

    def cures_in(self, temperature: float) -> float:
        """Time to cure at a temperature, K, s; infinite where it is too cold for it.

        Between two of its temperatures along the logarithm of the time; colder than the coldest it doubles every 10 K
        down to its least, and warmer than the warmest is no quicker.

        >>> round(COMPOUNDS()["thread-sealant"].cures_in(295.15) / 3600)
        24
        """
        at, points = temperature - 273.15, self.hours
        if points[0][1] == 0:
            return 0.0
        if self.least is not None and at < self.least:
            return math.inf
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
        name: Compound(
            name, tuple(sorted((float(t), float(h)) for t, h in one["hours"].items())), one["source"], one.get("least")
        )
        for name, one in told.items()
    }


NEVER = datetime.timedelta(days=3653)
"""As good as never: what is too cold to cure is put on anew, or warmed, and written down again."""


def not_before(done: datetime.datetime, compound: str, temperature: float | None) -> datetime.datetime | None:
    """When it may be tried again; None where nothing has to cure.

    compound     its id; one that is not named, or nobody knows, waits as long as the slowest of all
    temperature  that it cures at, K; unknown is taken for the coldest of its table, which takes the longest
    What is too cold for it never cures: ten years.
    """
    known = COMPOUNDS().get(compound)
    waits = max(_cures(one, temperature) for one in ([known] if known else COMPOUNDS().values()))
    if waits <= 0:
        return None
    return done + (NEVER if math.isinf(waits) else datetime.timedelta(seconds=waits))


def _cures(compound: Compound, temperature: float | None) -> float:
    coldest = max(compound.hours[0][0], -math.inf if compound.least is None else compound.least) + 273.15
    return compound.cures_in(coldest if temperature is None else temperature)
