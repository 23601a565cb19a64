"""What is not known of a hold, each a standard normal number, and what it becomes in its own unit: the priors of the
judge.

Only what can matter is asked: no probe's wandering where there is no thermometer, no air dissolving where there is
none.
"""

from dataclasses import dataclass

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.judge.normal import phi

HOUR = 3600.0
ERROR = 0.42
"""A reading's error as a part of the step that can be told apart, 1 σ: half of rounding (0.29) and half of eye or
noise.
"""
ALWAYS = ("following", "room", "swinging", "away", "wall", "creep", "error", "settled", "settling")
WITH_PROBE, ASTRAY = ("probe", "lag"), ("wander", "wandering")
WITH_AIR = ("dissolved", "dissolving")
WHERE_PLASTIC = ("grows", "grown_from")
AIR_UNSTATED, GIVE_UNKNOWN = "air", "give"
WANDERS = 0.004
"""One thermometer in some hundreds goes so far its own way that nothing else explains it: in the sun, in a draught, or
badly fixed. It is weighed by itself, and so met however seldom it is.
"""


@dataclass(frozen=True)
class Vessel:
    """What the vessel's figures say, and do not say, of what its content may do.

    wall_swelling  by which the wall grows per kelvin, as a part of by how much the water outgrows it
    air            left in, at atmosphere, m³; squeezed: what a cubic metre of it takes up at the pressure held
    air_doubt      1 σ of the air that was stated, m³: matters where it is soft, at a low pressure
    unstated_air   median (m³) and σ of its logarithm of air of which nothing was said; None where it was
    elastic        volume by which the wall has given, m³
    unknown_give   median of the give (m³ of volume per Pa) and σ of its logarithm where it is not known; None where it
                   is
    creeps         part of the elastic volume by which it creeps in a time e times as long, median; 0 where it does not
    narrowest      how little below the pressure it was shut in at a leak may shut and be seen to, as a part of it
    compliance     m³/Pa as reckoned with what is known, at `pressure` (Pa): what is not known comes on top
    several        there are holds at several pressures: how the leak goes with the pressure matters
    """

    wall_swelling: float = 0.17
    air: float = 0.0
    squeezed: float = 0.0
    air_doubt: float = 0.0
    unstated_air: tuple[float, float] | None = None
    elastic: float = 0.0
    unknown_give: tuple[float, float] | None = None
    creeps: float = 0.0
    narrowest: float = 0.002
    compliance: float = 1.0
    pressure: float = 1.0
    several: bool = False

    @property
    def unsaid(self) -> bool:
        """Is its compliance not known?"""
        return self.unstated_air is not None or self.unknown_give is not None


@dataclass(frozen=True)
class Scaled:
    """The unknowns in their own units, each (guesses, 1, 1).

    following, swinging, settling, dissolving, wandering, grown_from, lag  s; room, away, wander K
    wall, probe      how far wall and thermometer are from the water towards the room
    dissolved        part of the air that goes into solution
    grows            part of the wall's elastic volume by which it creeps in a time e times as long
    air, give        left in though not stated, m³; of the wall though not known, m³/Pa
    """

    following: Array
    room: Array
    swinging: Array
    away: Array
    wall: Array
    creep: Array
    error: Array
    settled: Array
    settling: Array
    probe: Array
    lag: Array
    wander: Array
    wandering: Array
    dissolved: Array
    dissolving: Array
    grows: Array
    grown_from: Array
    air: Array
    give: Array


def asked_of(vessel: Vessel, probe: bool, astray: bool) -> tuple[str, ...]:
    """Names of what is not known of a hold, in their order; probe: there is a thermometer, which may go its own way."""
    return (
        *ALWAYS,
        *(WITH_PROBE if probe else ()),
        *(ASTRAY if astray else ()),
        *(WITH_AIR if vessel.air > 0 or vessel.unstated_air else ()),
        *(WHERE_PLASTIC if vessel.creeps > 0 else ()),
        *((AIR_UNSTATED,) if vessel.unstated_air or vessel.air_doubt else ()),
        *((GIVE_UNKNOWN,) if vessel.unknown_give else ()),
    )


def scaled(guesses: Array, names: tuple[str, ...], follows: float, vessel: Vessel) -> Scaled:
    """Standard normal numbers (guesses, names) as the unknowns of a hold.

    follows  time in which the water follows the room that such a size suggests, s
    Without a thermometer the room is a kelvin away at the least, and as far as makes the water drift by 1 K an hour, 1
    σ
    (handbook of the job); so it is taken to be where the thermometer wanders by itself.
    """
    nought = np.zeros((len(guesses), 1, 1))
    z = {name: guesses[:, i, None, None] for i, name in enumerate(names)}

    def of(name: str) -> Array:
        return z.get(name, nought)

    following = follows * np.exp(0.7 * z["following"])
    unseen = np.maximum(1.0, following / HOUR)
    trusted = "probe" in z and "wander" not in z
    away = 0.7 * np.exp(1.2 * z["away"]) if trusted else unseen
    return Scaled(
        following=following,
        room=0.5 * np.exp(0.6 * z["room"]),
        swinging=1.5 * HOUR * np.exp(0.7 * z["swinging"]),
        away=away,
        wall=vessel.wall_swelling * 0.06 * np.exp(0.8 * z["wall"]),
        creep=np.exp(0.8 * z["creep"]),
        error=ERROR * np.exp(0.3 * z["error"]),
        settled=3e-4 * np.exp(1.3 * z["settled"]),
        settling=150.0 * np.exp(0.6 * z["settling"]),
        probe=0.06 * np.exp(0.7 * of("probe")),
        lag=30.0 * np.exp(1.2 * of("lag")),
        wander=0.03 * np.expm1(4.0 * phi(z["wander"])) if "wander" in z else nought,
        wandering=1200.0 * np.exp(0.7 * of("wandering")),
        dissolved=phi(of("dissolved")) ** 2 if "dissolved" in z else nought,
        dissolving=2400.0 * np.exp(0.7 * of("dissolving")),
        grows=vessel.creeps * np.exp(1.0 * of("grows")),
        grown_from=60.0 * np.exp(0.8 * of("grown_from")),
        air=_unstated(of("air"), vessel.unstated_air) + vessel.air_doubt * of("air"),
        give=_unstated(of("give"), vessel.unknown_give),
    )


def _unstated(z: Array, spread: tuple[float, float] | None) -> Array:
    return np.zeros_like(z) if spread is None else spread[0] * np.exp(spread[1] * z)
