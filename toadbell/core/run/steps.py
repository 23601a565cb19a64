"""The one table of steps of a run: what each carries, from which states and phases it may be done, and whose hand it
needs.

What it is called, and what is said where it cannot be done, stands in the room of phrases under its id (`step.…`).
"""

from collections.abc import Sequence
from dataclasses import dataclass

from toadbell.core.answers import StageAnswer
from toadbell.core.phrases import Said, read_kept, say
from toadbell.core.run import carried
from toadbell.core.run.phases import ON_THE_BENCH, WATER_ALONE, Phase, RunState, State

PRESSED: frozenset[Phase] = frozenset({"raising", "pausing", "at test", "holding", "held", "looking", "looked"})
"""Phases in which there is pressure."""
LOW: frozenset[Phase] = frozenset({"raising", "pausing", "looking", "looked", "held"})
"""Phases in which a low hold may be begun."""
ANY: frozenset[Phase] = frozenset()
BEFORE_A_DECISION: tuple[State, ...] = ("ready", "running", "held", "judged", "aborted")
EVERY: tuple[State, ...] = ("planned", "ready", "running", "held", "judged", "closed", "aborted")


@dataclass(frozen=True)
class Step:
    """A step of a run.

    id          as it is sent, and logged
    carries     what comes with it
    states      of the trial in which it may be done
    phases      of the run in which it may be done; ANY is every one
    hand        it moves the run on, and asks for the hand that holds it; else it is anybody's
    no_guard    nothing goes on while a guard stands
    stages      it asks for a stage that is still to be reached
    logged_as   under which other kinds it may stand in the log
    held        it belongs to a trial with a hold; False: to one without; None: to both
    """

    id: str
    carries: type[carried.Carried] = carried.Nothing
    states: tuple[State, ...] = ("running",)
    phases: frozenset[Phase] = ANY
    hand: bool = True
    no_guard: bool = False
    stages: bool = False
    logged_as: tuple[str, ...] = ()
    held: bool | None = None

    @property
    def label(self) -> Said:
        """What stands on its key."""
        return say(f"step.{self.id}-label")


def _phases(*phases: Phase) -> frozenset[Phase]:
    return frozenset(phases)


_AFTER: tuple[State, ...] = ("held", "judged")
STEPS: dict[str, Step] = {
    step.id: step
    for step in (
        Step("vent-shut", phases=_phases("filling")),
        Step("stage-reached", phases=_phases("raising", "pausing"), no_guard=True, stages=True),
        Step("gone-back", carried.GoneBack, ON_THE_BENCH, PRESSED),
        Step("low-hold", carried.Nothing, ON_THE_BENCH, LOW, no_guard=True, held=True),
        Step("shut-in", carried.ShutIn, phases=_phases("raising", "pausing", "at test"), no_guard=True, held=True),
        Step("hold-set", carried.HoldSet, phases=_phases("holding"), held=True),
        Step("hold-ended", carried.HoldEnded, phases=_phases("holding"), held=True),
        Step("tried", phases=_phases("raising", "pausing", "at test"), held=False),
        Step("came-down", states=_AFTER, phases=_phases("held", "looking", "looked"), held=True),
        Step("looked", states=_AFTER, phases=_phases("held", "looking"), held=True),
        Step("released", states=_AFTER, phases=_phases("held", "looking", "looked")),
        Step("vent-open", states=_AFTER, phases=_phases("released")),
        Step("emptied", states=_AFTER, phases=_phases("vented")),
        Step("dried", states=_AFTER, phases=_phases("emptied")),
        Step("guard-answered", carried.GuardAnswered, EVERY),
        Step("not-dumped", states=("aborted",), logged_as=("corrected",)),
        Step("dumped", states=ON_THE_BENCH, hand=False, logged_as=("released",)),
        Step("odd", carried.Odd, ON_THE_BENCH, hand=False, logged_as=("note",)),
        Step("stop-called", carried.Called, ON_THE_BENCH, hand=False, logged_as=("guard",)),
        Step("opening", carried.OpeningTicked, BEFORE_A_DECISION, hand=False),
        Step("strokes", carried.Strokes, EVERY, hand=False),
        Step("gas-free", carried.GasFree, ("ready", "running"), _phases("filling"), hand=False),
        Step("swelled", carried.Swelled, ("ready", "running"), _phases("filling"), hand=False),
        Step("tried-sooner", carried.TriedSooner, ("ready", "running"), _phases("filling", "raising"), hand=False),
        Step("ready-to-steam", carried.ReadyToSteam, ("ready", "running"), _phases("filling"), hand=False),
        Step("observed", carried.ObservedAt, ON_THE_BENCH, PRESSED, hand=False),
        Step("measured", carried.ObservedAt, (*ON_THE_BENCH, "judged"), hand=False, logged_as=("observed",)),
        Step("valves", carried.ValvesSet, (*ON_THE_BENCH, "aborted"), (PRESSED - {"holding"}) | {"released", "dumped"}),
        Step("leak", carried.Leak, EVERY, hand=False),
        Step("mended", carried.Mended, EVERY, hand=False),
        Step("note", carried.Noted, EVERY, hand=False),
    )
}
"""Every step of a run, the only list of them."""


def refused(step: Step, state: State, stands: RunState, stages: Sequence[StageAnswer]) -> Said | None:
    """Why a step cannot be done now; None where it can."""
    if state not in step.states:
        return say(f"step.{step.id}-state" if step.states != ("running",) else "step.not-on")
    if step.held is not None and step.held != stands.has_hold:
        return say("step.no-hold" if step.held else "step.only-valve")
    if step.id in WATER_ALONE and stands.medium != "water":
        return say("step.water-alone")
    if step.phases and stands.phase not in step.phases:
        return say(_too_soon(step, stands.phase))
    if step.stages and stands.reached >= len(stages):
        return say(f"step.{step.id}-phase")
    if step.no_guard and stands.guards:
        return say("step.guard-stands", guard=read_kept(stands.guards[-1].data["says"]))
    return None


_ORDER: tuple[Phase, ...] = ("held", "looking", "looked", "released", "vented", "emptied", "dried")


def _too_soon(step: Step, phase: Phase) -> str:
    """What is said of a phase that a step cannot be done in: what comes before it, or that it was done already."""
    if step.states == _AFTER and phase in _ORDER:
        first = min(_ORDER.index(one) for one in step.phases)
        return f"step.{step.id}-phase" if _ORDER.index(phase) < first else "step.done-already"
    return f"step.{step.id}-open" if phase == "filling" and step.id == "shut-in" else f"step.{step.id}-phase"


def allowed(state: State, stands: RunState, stages: Sequence[StageAnswer]) -> list[str]:
    """The steps that may be done now, by their ids: what the bench shows keys for."""
    return [step.id for step in STEPS.values() if refused(step, state, stands, stages) is None]
