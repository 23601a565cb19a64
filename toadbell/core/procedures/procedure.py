"""What a kind of trial is, as data and pure functions."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Literal

from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.answers import Evidence, JudgeAnswer
from toadbell.core.judge.log import Log
from toadbell.core.ledger.evidence import TrialEvidence
from toadbell.core.run.observed import INSTRUMENTS
from toadbell.core.run.steps import Step
from toadbell.core.sheets import HoldSheet, VesselSheet


@dataclass(frozen=True)
class Observation:
    """What is observed at a trial: its name, the kind of quantity (a key of units.KINDS, or "count"), and how often, s
    (None: as it comes).

    instrument  that observes it place by place (a key of run.observed.INSTRUMENTS), where one does
    """

    name: str
    kind: str
    every: float | None = None
    instrument: str | None = None


@dataclass(frozen=True)
class Procedure:
    """A kind of trial.

    id        as a sheet names it
    proves    what it can prove
    kinds     of vessel that it makes sense for
    plan      the answer of a sheet: pressures, limits, stages, kit, stops, cautions, guards and the lines of working
    steps     that the run is taken through
    observes  what is read and logged on the way
    has_hold  it ends in a hold that is judged
    before    steps that are written down before anything is closed up, by the kind of vessel
    judge     what the log of its hold proves against the acceptance
    evidence  the lines that what was seen gives to the ledger
    """

    id: str
    proves: Literal["strength", "tightness", "valve", "steam", "set", "design", "nothing"]
    kinds: frozenset[str]
    plan: Callable[[VesselSheet], DeriveAnswer]
    steps: tuple[Step, ...]
    observes: tuple[Observation, ...]
    judge: Callable[[Log, HoldSheet], JudgeAnswer]
    evidence: Callable[[TrialEvidence], list[Evidence]]
    has_hold: bool = True
    before: Mapping[str, tuple[str, ...]] = field(default_factory=dict)

    @property
    def instruments(self) -> list[str]:
        """What observes beside gauge and thermometer."""
        return [one.instrument for one in self.observes if one.instrument is not None]

    @property
    def panels(self) -> list[str]:
        """What the bench shows for them."""
        return list(dict.fromkeys(INSTRUMENTS[one].panel for one in self.instruments))
