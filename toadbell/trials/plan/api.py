"""Plans over the wire."""

import datetime
from typing import Literal
from uuid import UUID

from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone
from ninja import Field, Query, Router, Schema, Status

from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.answers import TagNow
from toadbell.core.ledger.deciding import Valve, decided
from toadbell.core.plan.bases import BASES
from toadbell.core.plan.kit import serves
from toadbell.core.sheets import read_kit
from toadbell.core.vessel.drawing import Drawing
from toadbell.shed.drawn import drawn
from toadbell.shed.models import Kit, Maker, Vessel
from toadbell.shed.wire import Gone, WrittenKit, WrittenSheet
from toadbell.trials.judge.baselines import BaselineOut, offered_to
from toadbell.trials.judge.ledger import Standing, decisions, standing_decisions, tag_of
from toadbell.trials.marks import must_be_as_seen, plan_mark
from toadbell.trials.models import State, Trial

router = Router()


class DecisionOut(Schema):
    """What was decided. Pressure Pa."""

    fitness: str
    says: str
    pressure: float | None
    reason: str
    valve: Valve | Literal[""] = Field(description="of a relief valve's own trial: what was decided of the valve")
    less_cautious: bool
    overruled: dict[str, str]
    next_proof: datetime.date | None
    by: str
    at: datetime.datetime


class TrialRow(Schema):
    """A trial in a list.

    Pressures Pa. `stands`: its decision is the one that counts for the vessel, and `tag` what of it still stands.

    practice  it was run on the simulated rig, and proves nothing
    """

    id: UUID
    vessel_id: UUID
    vessel: str
    kind: str
    number: int
    state: State
    basis: str | None
    basis_name: str
    test_pressure: float | None
    planned_at: datetime.datetime
    started_at: datetime.datetime | None
    latest_pressure: float | None
    verdict: str | None
    decision: DecisionOut | None
    stands: bool = False
    practice: bool = False
    tag: TagNow | None = None


class SeenIn(Schema):
    """The mark of what was looked at before this was done."""

    seen: str = Field(max_length=40)


class Missing(Schema):
    """What is still to be entered, and where."""

    field: str
    says: str


class PlanOut(Schema):
    """A plan as it stands."""

    id: UUID
    vessel_id: UUID
    vessel: str
    number: int
    state: State
    version: int
    seen: str
    sheet: WrittenSheet
    answer: DeriveAnswer
    shape: Drawing
    missing: list[Missing]
    copied_from: int | None
    changed: list[str]
    vessel_changes: list[str]
    planned_at: datetime.datetime
    planned_by: str
    started_at: datetime.datetime | None


class CopyOf(Schema):
    """Whose plan to begin with; the vessel's last trial's where none is named."""

    trial: UUID | None = None
    basis: str | None = Field(
        default=None, max_length=40, description="of the kind of trial that is wanted; “” the vessel's own"
    )
    again: bool = Field(
        default=False, description="the next round of the last trial that leaked, from the stage below where it did"
    )
    low: bool = Field(default=False, description="to look for a leak low and slow, with a little air and soap")


class Suit(Schema):
    """A piece of kit from the board, whether it will do for this plan, and why."""

    id: UUID
    kind: str
    name: str
    sheet: WrittenKit
    suited: bool
    best: bool
    says: str


class PlanIn(Schema):
    """A changed plan and the version it was changed from."""

    sheet: WrittenSheet
    version: int = Field(ge=1)


class FollowIn(Schema):
    """Whether what was changed of the vessel is taken into the plan, and the version of the plan that was looked at."""

    take: bool
    version: int = Field(ge=1)


def maker_of(request: HttpRequest) -> Maker:
    """Who is asking."""
    assert isinstance(request.user, Maker)
    return request.user


def decision_out(trial: Trial) -> DecisionOut | None:
    """The decision of a trial that has one."""
    decision = getattr(trial, "decision", None)
    if decision is None:
        return None
    return DecisionOut(
        fitness=decision.fitness,
        says=str(decided(decision.fitness, decision.valve)),
        pressure=decision.pressure,
        reason=decision.reason,
        valve=decision.valve,
        less_cautious=decision.less_cautious,
        overruled=decision.overruled,
        next_proof=decision.next_proof,
        by=decision.by.shown_name,
        at=decision.at,
    )


def trial_row(trial: Trial, stand: dict[UUID, Standing] | None = None) -> TrialRow:
    """A trial as a row of a list. stand  the decisions that stand, by vessel, where that is asked for."""
    counts = stand.get(trial.vessel_id) if stand is not None else None
    stands = counts is not None and counts.decision.trial_id == trial.pk
    running = trial.state in (State.RUNNING, State.HELD)
    seen = trial.readings.order_by("-at").first() if running else None
    return TrialRow(
        id=trial.id,
        vessel_id=trial.vessel_id,
        vessel=trial.vessel.name,
        kind=trial.kind,
        number=trial.number,
        state=State(trial.state),
        basis=trial.basis,
        basis_name=BASES[trial.basis].name if trial.basis in BASES else "",
        test_pressure=trial.test_pressure,
        planned_at=trial.planned_at,
        started_at=trial.started_at,
        latest_pressure=seen.pressure if seen else None,
        verdict=trial.verdict.called if hasattr(trial, "verdict") else None,
        decision=decision_out(trial),
        stands=stands,
        practice=trial.practice,
        tag=tag_of(trial.vessel, counts) if counts is not None and stands else None,
    )


def plan_out(trial: Trial, maker: Maker) -> PlanOut:
    """A plan with its answer in the person's units."""
    return PlanOut(
        id=trial.id,
        vessel_id=trial.vessel_id,
        vessel=trial.vessel.name,
        number=trial.number,
        state=State(trial.state),
        version=trial.version,
        seen=plan_mark(trial),
        sheet=trial.sheet,
        answer=trial.derived(),
        shape=drawn(trial.sheet),
        missing=[Missing(**gap) for gap in trial.missing()],
        copied_from=trial.copied_from.number if trial.copied_from else None,
        changed=trial.changed_since(),
        vessel_changes=trial.vessel_changes(),
        planned_at=trial.planned_at,
        planned_by=trial.planned_by.shown_name,
        started_at=trial.started_at,
    )


@router.get("/trials", response=list[TrialRow])
def trials(request: HttpRequest, vessel: UUID | None = None, page: int = Query(1, ge=1, le=100_000)) -> list[TrialRow]:
    """Trials, the newest first, a page at a time; of one vessel where one is named."""
    found = short_trials()
    stand = standing_decisions(decisions() if vessel is None else decisions().filter(trial__vessel=vessel))
    if vessel is not None:
        found = found.filter(vessel=vessel)
    return [trial_row(trial, stand) for trial in found[PAGE * (page - 1) : PAGE * page]]


PAGE = 100
"""Trials on a page of a list."""


def short_trials() -> QuerySet[Trial]:
    """Trials with as much of each as a row of a list shows; what is long is left where it lies."""
    long = (
        "sheet",
        "vessel_sheet",
        "frozen",
        "rig",
        "verdict__answer",
        "verdict__sheet",
        "verdict__points",
        "decision__advice",
    )
    return (
        Trial.objects.select_related("vessel", "verdict", "decision__by")
        .prefetch_related("vessel__cares__by")
        .defer(*long)
    )


@router.post("/vessels/{vessel_id}/trials", response={201: PlanOut})
def plan(request: HttpRequest, vessel_id: UUID, data: CopyOf | None = None) -> Status[PlanOut]:
    """Begin a plan for a vessel, with what its last trial, or the one named, was planned with."""
    maker = maker_of(request)
    asked = data or CopyOf()
    vessel = Vessel.objects.get(pk=vessel_id)
    if asked.again:
        trial = Trial.plan_again(vessel, maker)
    else:
        trial = Trial.plan_low(vessel, maker) if asked.low else Trial.plan_for(vessel, maker, asked.trial, asked.basis)
    return Status(201, plan_out(trial, maker))


@router.get("/trials/{trial_id}/kit", response=list[Suit])
def suited_kit(request: HttpRequest, trial_id: UUID) -> list[Suit]:
    """What hangs on the kit board, and whether each will do for this plan."""
    trial = Trial.objects.get(pk=trial_id)
    answer = trial.derived()
    found = []
    for one in Kit.on_the_board().exclude(kind__in=("baseline", "design")):
        if not one.readable:
            continue
        suited, says = serves(read_kit(one.kind, one.sheet), answer, timezone.localdate())
        best = one.kind == "gauge" and one.name == answer.best_gauge
        found.append(
            Suit(id=one.id, kind=one.kind, name=one.name, sheet=one.sheet, suited=suited, best=best, says=says)
        )
    return found


@router.get("/trials/{trial_id}/baselines", response=list[BaselineOut])
def baselines(request: HttpRequest, trial_id: UUID) -> list[BaselineOut]:
    """What rigs known tight did by themselves, and how alike this trial is to each."""
    return offered_to(Trial.objects.select_related("vessel").get(pk=trial_id))


@router.get("/trials/{trial_id}/plan", response=PlanOut)
def get_plan(request: HttpRequest, trial_id: UUID) -> PlanOut:
    """A plan."""
    return plan_out(Trial.objects.select_related("vessel", "planned_by").get(pk=trial_id), maker_of(request))


@router.delete("/trials/{trial_id}", response=Gone)
def throw_away(request: HttpRequest, trial_id: UUID) -> Gone:
    """Throw away a plan that was never run."""
    with Trial.locked(trial_id) as trial:
        name = f"The plan of {trial.vessel.name}'s trial {trial.number}"
        trial.throw_away()
    return Gone(says=f"{name} was thrown away.")


@router.put("/trials/{trial_id}/plan", response=PlanOut)
def change_plan(request: HttpRequest, trial_id: UUID, data: PlanIn) -> PlanOut:
    """Change a plan that is not frozen."""
    with Trial.locked(trial_id) as trial:
        trial.change_plan(data.sheet, data.version)
    return plan_out(trial, maker_of(request))


@router.post("/trials/{trial_id}/freeze", response=PlanOut)
def freeze(request: HttpRequest, trial_id: UUID, data: SeenIn) -> PlanOut:
    """Freeze a plan as it was seen; what stands in the way is said."""
    with Trial.locked(trial_id) as trial:
        trial.must_be(State.PLANNED, "This plan is frozen already.")
        must_be_as_seen(plan_mark(trial), data.seen, "The plan, or the gauges on the board,")
        trial.freeze(maker_of(request))
    return plan_out(trial, maker_of(request))


@router.post("/trials/{trial_id}/vessel", response=PlanOut)
def follow_the_vessel(request: HttpRequest, trial_id: UUID, data: FollowIn) -> PlanOut:
    """Take what was changed of the vessel since into an open plan, or leave it."""
    with Trial.locked(trial_id) as trial:
        trial.follow_the_vessel(data.version, take=data.take)
    return plan_out(trial, maker_of(request))


@router.post("/trials/{trial_id}/thaw", response=PlanOut)
def thaw(request: HttpRequest, trial_id: UUID) -> PlanOut:
    """Open a frozen plan that was not started."""
    with Trial.locked(trial_id) as trial:
        trial.thaw(maker_of(request))
    return plan_out(trial, maker_of(request))


@router.get("/trials/{trial_id}/sheet.json", include_in_schema=False)
def sheet(request: HttpRequest, trial_id: UUID) -> HttpResponse:
    """The plan's sheet in the open format, to keep or to give to `toadbell derive`."""
    trial = Trial.objects.select_related("vessel").get(pk=trial_id)
    name = (
        "".join(c if c.isascii() and c.isalnum() else "-" for c in trial.vessel.name.lower()).strip("-")[:80]
        or "vessel"
    )
    response = JsonResponse(trial.sheet, json_dumps_params={"indent": 1, "ensure_ascii": False})
    response["Content-Disposition"] = f'attachment; filename="{name}-trial-{trial.number}.json"'
    return response
