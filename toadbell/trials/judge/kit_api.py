"""What trials showed of what hangs on the kit board: relief valves that were lifted, designs that were burst."""

import datetime
from uuid import UUID

from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Schema

from toadbell.core.judge.burst import BurstAnswer
from toadbell.core.phrases import of_scale
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Kit
from toadbell.trials.bench.steaming import steam_of
from toadbell.trials.judge.designs import proved
from toadbell.trials.judge.judging import valve_of
from toadbell.trials.models import Trial
from toadbell.trials.plan.frozen import plan_of

router = Router()
MOST_TRIED = 20
"""Of more trials than that the last are told."""


class TriedOut(Schema):
    """A trial that a valve was lifted in: of which vessel, on which day, and what it showed."""

    trial: UUID
    vessel: str
    number: int
    on: datetime.date
    practice: bool
    says: str


def tried(valve: Kit) -> list[TriedOut]:
    """The trials that a relief valve was lifted in, the last first: by its name, as their plans were frozen with it."""
    if valve.kind != "relief-valve":
        return []
    trials = Trial.objects.filter(sheet__relief_valve__name=valve.name, started_at__isnull=False)
    found = []
    for trial in trials.select_related("vessel").order_by("-started_at")[:MOST_TRIED]:
        plan, events = plan_of(trial), trial.effective_events()
        with of_scale(plan.answer.test_pressure):
            told = valve_of(trial, plan, events) or steam_of(trial, plan, events)
        if told is not None and trial.started_at is not None:
            found.append(
                TriedOut(
                    trial=trial.pk,
                    vessel=trial.vessel.name,
                    number=trial.number,
                    on=timezone.localdate(trial.started_at),
                    practice=trial.practice,
                    says=told.says,
                )
            )
    return found


@router.get("/kit/{kit_id}/proved", response=BurstAnswer)
def get_proved(request: HttpRequest, kit_id: UUID) -> BurstAnswer:
    """What articles of a design off the kit board bore, of those that were taken to failure."""
    kit = Kit.objects.get(pk=kit_id)
    found = proved(kit.name) if kit.kind == "design" else None
    if found is None:
        raise NotNow("Only of a design is there anything that its articles proved.")
    return found


@router.get("/kit/{kit_id}/tried", response=list[TriedOut])
def get_tried(request: HttpRequest, kit_id: UUID) -> list[TriedOut]:
    """The trials that a relief valve off the kit board was lifted in."""
    return tried(Kit.objects.get(pk=kit_id))
