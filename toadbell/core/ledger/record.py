"""All that is on record of a vessel: the trials that ended in a decision, what happened to it, and its figures."""

import datetime
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from toadbell.core.judge.answers import Fitness
from toadbell.core.ledger.valves import Seat
from toadbell.core.ledger.voiding import HAPPENINGS, Happened, Voids
from toadbell.core.phrases import Said

Proves = Literal["strength", "tightness", "gas-head", "relief", "steam", "baseline", "burst"]
NO_HOLD: tuple[Proves, ...] = ("relief", "steam", "baseline", "burst")
"""What no hold of the vessel's own is proved by: a baseline is of its rig."""
VESSELS_OWN = frozenset({"plate", "wall", "looked", "year", "relief", "steam"})
"""Lines of a trial's evidence that are the vessel's own, and are weighed anew each day."""


@dataclass(frozen=True)
class Ended:
    """A trial that ended in a person's decision.

    on        the day it was begun; decided, when it was decided
    tight     its hold was judged tight; leaking, that it leaks
    pressure  that was decided, Pa
    further   the decision went further than the evidence, for its `reason`; overruled, line by line by their codes
    advised   what the tool would have decided; against, unknown: codes of its lines that were not met, not known
    proof_by  the next proof, as it was decided
    turned    a joint was turned on in it till it was dry
    judged    when its hold was judged: what was written down between that and the decision is weighed; None where it
              was not
    baseline  it was one, of its rig
    seat      the relief valve that its plan told of
    """

    id: str
    number: int
    on: datetime.date
    decided: datetime.datetime
    proves: Proves
    fitness: Fitness
    pressure: float | None
    tight: bool = True
    leaking: bool = False
    further: bool = False
    reason: str = ""
    overruled: Mapping[str, str] = field(default_factory=dict)
    advised: Fitness | None = None
    against: frozenset[str] = frozenset()
    unknown: frozenset[str] = frozenset()
    proof_by: datetime.date | None = None
    turned: bool = False
    baseline: bool = False
    judged: datetime.datetime | None = None
    seat: Seat | None = None

    def void_by(self, happened: Iterable[Happened], voids: tuple[Voids, ...]) -> Happened | None:
        """The last thing that happened since it was begun, was not known when its hold was judged, and voids it; where
        a person went further than that showed, what was not known when they did.
        """
        known = self.decided if self.further or self.judged is None else min(self.judged, self.decided)
        since = [
            one
            for one in happened
            if one.what in HAPPENINGS and HAPPENINGS[one.what].voids in voids and one.at > known and one.on >= self.on
        ]
        return since[-1] if since else None


@dataclass(frozen=True)
class OnRecord:
    """All that is known of a vessel. Pressures Pa, days by the workshop's calendar.

    limits    what it may work at as it is known now, each by its name
    wall      the day of the last survey of its wall, at several places; `wall_measured` where it was, on whatever day
    problem   why its figures cannot be worked out
    happened  to it and done with it, oldest first
    tight_at  the pressure that its kind is to be tight at, where it is less than wanted
    design    what its design proves of it: met, not met or not known; whether it departs from it; and why
    """

    kind: str
    wanted: float | None
    today: datetime.date
    trials: Sequence[Ended] = ()
    happened: Sequence[Happened] = ()
    limits: Sequence[tuple[str, float]] = ()
    plate: float | None = None
    retire: int | None = None
    relief_set: float | None = None
    wall_measured: bool = False
    wall: datetime.date | None = None
    allowable: float | None = None
    problem: str | None = None
    tight_at: float | None = None
    design: tuple[bool | None, bool, Said] | None = None

    @property
    def seats(self) -> list[Seat]:
        """The relief valves that the plans of its trials told of."""
        return [trial.seat for trial in self.trials if trial.seat is not None]


def standing(trials: Iterable[Ended]) -> Ended | None:
    """The trial whose decision counts: the last, but for one that claims no strength and found nothing, after a proof
    or after a trial of strength that ended in “not fit”.
    """
    found: Ended | None = None
    for trial in sorted(trials, key=lambda one: one.number):
        if trial.proves in NO_HOLD and trial.fitness != "not fit":
            continue  # it is of the valve alone, or of what is hot
        if not (found is not None and _outweighs(found) and _proves_nothing(trial)):
            found = trial
    return found


def _outweighs(trial: Ended) -> bool:
    return trial.fitness in ("fit", "limited") or (trial.fitness == "not fit" and trial.proves == "strength")


def _proves_nothing(trial: Ended) -> bool:
    """It claims no strength, and found no leak: that it could not tell takes nothing away."""
    return trial.fitness in ("not proven", "tight") and trial.proves != "strength" and not trial.leaking
