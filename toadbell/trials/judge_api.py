"""The judge over the wire."""

from typing import Any, Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse, JsonResponse
from ninja import Field, Router, Schema, Status

from toadbell.core.answers import DeriveAnswer, FitnessAnswer, HoldPoint, JudgeAnswer
from toadbell.trials import hold, judge
from toadbell.trials.api import DecisionOut, decision_out, maker_of
from toadbell.trials.frozen import plan_of
from toadbell.trials.models import State, Trial, Verdict
from toadbell.trials.standing import standing

router = Router()


class JudgeOut(Schema):
    """The judge's room: the verdict, the hold to draw, the evidence and the decision."""

    id: UUID
    vessel: str
    number: int
    state: State
    plan: DeriveAnswer
    held_pressure: float | None
    verdict: JudgeAnswer | None
    points: list[HoldPoint]
    advice: FitnessAnswer
    decision: DecisionOut | None
    acceptance: dict[str, Any]


class DecisionIn(Schema):
    """A person's decision; the pressure is written as a quantity."""

    fitness: Literal["fit", "limited", "not fit", "not proven"]
    pressure: str | None = None
    reason: str = Field(default="", max_length=4000)


def judge_out(trial: Trial, request: HttpRequest) -> JudgeOut:
    """The judge's room as it stands."""
    _, plan = plan_of(trial)
    verdict = Verdict.objects.filter(trial=trial).first()
    decision = getattr(trial, "decision", None)
    advice = FitnessAnswer.model_validate(decision.advice) if decision else judge.advice(trial, maker_of(request))
    return JudgeOut(
        id=trial.id,
        vessel=trial.vessel.name,
        number=trial.number,
        state=State(trial.state),
        plan=plan,
        held_pressure=standing(trial).shut_in,
        verdict=JudgeAnswer.model_validate(verdict.answer) if verdict else None,
        points=[HoldPoint.model_validate(point) for point in verdict.points] if verdict else [],
        advice=advice,
        decision=decision_out(trial),
        acceptance=trial.frozen_sheet["acceptance"],
    )


def _find(trial_id: UUID) -> Trial:
    return Trial.objects.select_related("vessel").get(pk=trial_id)


@router.get("/trials/{trial_id}/judge", response=JudgeOut)
def get_judge(request: HttpRequest, trial_id: UUID) -> JudgeOut:
    """The judge's room as it stands."""
    return judge_out(_find(trial_id), request)


@router.post("/trials/{trial_id}/judge", response=JudgeOut)
def judge_it(request: HttpRequest, trial_id: UUID) -> JudgeOut:
    """Judge the finished hold."""
    with Trial.hands_on(trial_id) as trial:
        judge.judge(trial, maker_of(request))
    return judge_out(_find(trial_id), request)


@router.post("/trials/{trial_id}/decision", response={201: JudgeOut})
def decide(request: HttpRequest, trial_id: UUID, data: DecisionIn) -> Status[JudgeOut]:
    """Write the decision."""
    with Trial.hands_on(trial_id) as trial:
        judge.decide(trial, maker_of(request), data.fitness, data.pressure, data.reason)
    return Status(201, judge_out(_find(trial_id), request))


@router.get("/trials/{trial_id}/hold.csv", include_in_schema=False)
def hold_csv(request: HttpRequest, trial_id: UUID) -> HttpResponse:
    """The hold's readings, as `toadbell judge` reads them."""
    return HttpResponse(hold.hold_csv(_find(trial_id)), content_type="text/csv; charset=utf-8")


@router.get("/trials/{trial_id}/hold.json", include_in_schema=False)
def hold_json(request: HttpRequest, trial_id: UUID) -> HttpResponse:
    """The hold's sheet, as `toadbell judge` reads it."""
    return JsonResponse(hold.hold_sheet(_find(trial_id)), json_dumps_params={"indent": 1, "ensure_ascii": False})
