"""Where a run stands, from its log and its frozen plan."""

from toadbell.core.procedures import PROCEDURES
from toadbell.core.run.phases import RunState, course_began, lit_at
from toadbell.core.run.phases import run_state as stands
from toadbell.trials import clock
from toadbell.trials.models import Event, Trial
from toadbell.trials.plan.frozen import plan_of


def run_state(trial: Trial, events: list[Event] | None = None) -> RunState:
    """Where the run stands now."""
    answer = plan_of(trial).answer
    done = trial.effective_events() if events is None else events
    began, state = trial.started_at or clock.now(), trial.state
    has_hold = PROCEDURES[answer.procedure].has_hold
    return stands(done, answer.stages, answer.hold.minimum, state, began, trial.now(), answer.medium, has_hold)  # type: ignore[arg-type]


def course_from(trial: Trial, events: list[Event]) -> float:
    """When the planned course begins, s from the start of the run."""
    fire = plan_of(trial).answer.procedure == "steam"
    began = lit_at(events) if fire else course_began(events)
    return (began - trial.started_at).total_seconds() if began and trial.started_at else 0.0
