"""What a simulated rig is made of; none of it changes during a run.

Pressures Pa gauge, volumes m³, temperatures K, times s.
"""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from toadbell.core.units import ATMOSPHERE

PATCH_HOLDS = 0.9
"""A patch on the vessel's own wall holds to such a part of the pressure that the leak is known at."""


@dataclass(frozen=True)
class Wall:
    """How the wall gives beyond its elastic range.

    yields_at   pressure at which the first of it yields, Pa; None: never
    softening   the wall's compliance grows by so many times that of water and wall for each part of `yields_at` above
                it
    bursts_at   Pa; None: never
    """

    yields_at: float | None = None
    softening: float = 5.0
    bursts_at: float | None = None


@dataclass(frozen=True)
class Source:
    """Where the pressure comes from.

    kind        "hand": a stroke at a time up to `maximum`; "washer": many a second, its bypass opens at `maximum`;
                "air-over-water": flows in proportion to what is missing to `maximum`
    stroke      m³
    maximum     Pa
    per_second  strokes in a second
    scatter     how much one stroke differs from another, 1 σ, as a part of it
    back_leak   through its valves while the shut-off is open, m³/s per Pa
    """

    stroke: float
    maximum: float
    kind: Literal["hand", "washer", "air-over-water"] = "hand"
    per_second: float = 0.5
    scatter: float = 0.0
    back_leak: float = 0.0


@dataclass(frozen=True)
class Relief:
    """A relief valve on the rig: Pa at which it lifts and at which it is shut again; m³/s it lets out per Pa above
    that.

    spread      how much one lift differs from another, 1 σ, as a part of it
    weeps_from  Pa from which it weeps before it lifts, None where it does not; `weeps` m³/s per Pa above that
    """

    lifts_at: float
    reseats_at: float
    capacity: float = 1e-9
    spread: float = 0.0
    weeps_from: float | None = None
    weeps: float = 0.0


@dataclass(frozen=True)
class Leak:
    """A leak: m³/s at the pressure `at` (Pa), growing with a power of the pressure, none below `opens_at`.

    owner       "boundary", "fitting" (of the vessel) or "rig"
    eased       what one tightening leaves of it: 0 cures it, 1 does nothing
    on_the_hose beyond the shut-off valve: shut in, it no longer empties the vessel
    spoilt_by   so many tightenings help; each one more makes it worse by as much
    section     of the rig that it is in, by its name; "" where the gauge is
    """

    rate: float
    at: float
    owner: Literal["boundary", "fitting", "rig"] = "boundary"
    where: str = "a seam"
    power: float = 1.0
    opens_at: float = 0.0
    eased: float = 1.0
    on_the_hose: bool = False
    spoilt_by: int | None = None
    section: str = ""

    @property
    def sealed_to(self) -> float:
        """The pressure up to which a seal of it holds, Pa: one from outside of the vessel's own wall seldom holds."""
        return PATCH_HOLDS * self.at if self.owner == "boundary" else math.inf

    def flow(self, pressure: float, tightened: int) -> float:
        """What runs out at a pressure (Pa) after so many tightenings, m³/s."""
        if pressure <= self.opens_at or pressure <= 0:
            return 0.0
        helped = tightened if self.spoilt_by is None else min(tightened, self.spoilt_by)
        worse = (tightened - helped) if self.eased > 0 else 0
        left = self.eased**helped / max(self.eased, 0.05) ** worse
        return float(self.rate * (pressure / self.at) ** self.power * left)


@dataclass(frozen=True)
class Dial:
    """A gauge. resolution Pa; noise of a reading, 1 σ, Pa; sticking: how far the needle stays behind, Pa; bias: its
    class error, Pa.
    """

    resolution: float
    noise: float = 0.0
    sticking: float = 0.0
    bias: float = 0.0


@dataclass(frozen=True)
class Probe:
    """A thermometer. resolution and bias K; on_the_wall: how far it sits from the water towards the room, 0 to 1; lag:
    how it follows, s.
    """

    resolution: float
    bias: float = 0.0
    on_the_wall: float = 0.0
    lag: float = 0.0


@dataclass(frozen=True)
class Settling:
    """What creeping wall and seals, and air going into solution, take up once the vessel is shut in: m³ in the end, and
    the time it takes, s.
    """

    volume: float = 0.0
    time: float = 180.0


@dataclass(frozen=True)
class Room:
    """The air of the room: K at the start, drift K/s, and a swing of so many K over a period, s."""

    temperature: float
    drift: float = 0.0
    swing: float = 0.0
    period: float = 86_400.0


@dataclass(frozen=True)
class Drum:
    """A drum or a bag that rises at a pressure (Pa), and its area, m²: from there on its level tells what is in it."""

    rises_at: float
    area: float


WEATHER_PERIOD = 31 * 3600.0
"""The simulated outer air goes up and down over so long, s."""


@dataclass(frozen=True)
class Outside:
    """The outer air: how far it goes up and down, Pa, and where it is in that at first, rad."""

    swing: float = 0.0
    at_first: float = 0.0

    def pressure(self, time: float) -> float:
        """Pa absolute after so many s."""
        return ATMOSPHERE + self.swing * math.sin(2 * math.pi * time / WEATHER_PERIOD + self.at_first)


def chance(seed: int, number: int, what: int) -> float:
    """A chance of the seed and the second it belongs to: normal, of width one."""
    return float(np.random.default_rng([seed, number, what]).standard_normal())
