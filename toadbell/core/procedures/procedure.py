"""What a kind of trial is, as data and pure functions."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.answers import Evidence, JudgeAnswer
from toadbell.core.judge.log import Log
from toadbell.core.ledger.evidence import TrialEvidence
from toadbell.core.run.steps import Step
from toadbell.core.sheets import HoldSheet, VesselSheet


@dataclass(frozen=True)
class Observation:
    """What is observed at a trial: its name, the kind of quantity (a key of units.KINDS, or "count"), and how often, s
    (None: as it comes).
    """

    name: str
    kind: str
    every: float | None = None


@dataclass(frozen=True)
class Procedure:
    """A kind of trial.

    id        as a sheet names it
    proves    what it can prove
    kinds     of vessel that it makes sense for
    plan      the answer of a sheet: pressures, limits, stages, kit, stops, cautions, guards and the lines of working
    steps     that the run is taken through
    observes  what is read and logged on the way
    judge     what the log of its hold proves against the acceptance
    evidence  the lines that what was seen gives to the ledger
    """

    id: str
    proves: Literal["strength", "tightness", "valve", "set", "design", "nothing"]
    kinds: frozenset[str]
    plan: Callable[[VesselSheet], DeriveAnswer]
    steps: tuple[Step, ...]
    observes: tuple[Observation, ...]
    judge: Callable[[Log, HoldSheet], JudgeAnswer]
    evidence: Callable[[TrialEvidence], list[Evidence]]
