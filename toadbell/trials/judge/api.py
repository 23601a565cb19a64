"""The judge over the wire."""

import datetime
from typing import Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone
from ninja import Field, Router, Schema, Status

from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.answers import Fitness, FitnessAnswer, HoldPoint, JudgeAnswer, LedgerAnswer
from toadbell.core.judge.burst import BurstAnswer
from toadbell.core.judge.expansion import ExpansionAnswer
from toadbell.core.judge.hold import Asked
from toadbell.core.judge.inherit import Inherits
from toadbell.core.judge.relief import ReliefAnswer
from toadbell.core.judge.settings import settings_under
from toadbell.core.judge.steam import SteamAnswer
from toadbell.core.judge.tightening import TighteningAnswer
from toadbell.core.ledger.deciding import Decidable, Valve, choices
from toadbell.core.phrases import of_scale, put
from toadbell.core.plan.acceptance import accepted
from toadbell.core.procedures.gas_head import GAS_HEAD
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Vessel
from toadbell.shed.wire import WrittenAcceptance
from toadbell.trials.bench.expanding import expansion_of, joint_of
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.bench.steaming import steam_of
from toadbell.trials.judge import hold, judging
from toadbell.trials.judge.baselines import BaselineOut, held_against
from toadbell.trials.judge.designs import burst_of, of_its_design
from toadbell.trials.judge.ledger import ledger_now
from toadbell.trials.marks import mark_of, must_be_as_seen
from toadbell.trials.models import State, Trial, Verdict
from toadbell.trials.plan.api import DecisionOut, decision_out, maker_of
from toadbell.trials.plan.frozen import plan_of

router = Router()


class AskedOut(Schema):
    """How the log was read when it was judged: s at the beginning left out, times of steps put back, s."""

    ignore: float = 0.0
    put_back: list[float] = []


class OtherHold(Schema):
    """An earlier hold of the same vessel, to lay over this one: s, and Pa below its first pressure, temperature taken
    out where it was read.
    """

    id: UUID
    number: int
    on: datetime.date
    verdict: str
    leak: float
    baseline: bool
    times: list[float]
    drops: list[float]


class JudgeIn(Schema):
    """How to read the log: s at the beginning to leave out, times of steps to put back, s."""

    ignore: float = Field(default=0.0, ge=0, le=86_400)
    put_back: list[float] = Field(default=[], max_length=20)


class WhatIfIn(JudgeIn):
    """What if: another acceptance, in the open format, the thermometer left out, minutes ignored."""

    thermometer: bool = True
    acceptance: WrittenAcceptance | None = None


class WhatIfOut(Schema):
    """The answer to that. Nothing of it is kept."""

    verdict: JudgeAnswer
    points: list[HoldPoint]


class StretchOut(Schema):
    """A stretch of the run that was shut in, on the test hold's clock, s; by how much the gauge had moved since it
    began, Pa.
    """

    role: Literal["low", "test"]
    time: list[float]
    moved: list[float]


class JudgeOut(Schema):
    """The judge's room: the verdict, the hold to draw, the evidence and the decision.

    practice    it was run on the simulated rig, and proves nothing
    may_decide  it is judged, or let go, or there is too little in its log to be judged at all
    settings    what relief valve and switch are set to after a proof, in words
    offer       the pressure that the decision begins with, written and never rounded up
    """

    id: UUID
    vessel_id: UUID
    vessel: str
    number: int
    state: State
    plan: DeriveAnswer
    practice: bool
    may_decide: bool
    held_pressure: float | None
    verdict: JudgeAnswer | None
    points: list[HoldPoint]
    stretches: list[StretchOut] = []
    advice: FitnessAnswer
    offer: str
    valve: ReliefAnswer | None
    steam: SteamAnswer | None
    expansion: ExpansionAnswer | None
    joint: TighteningAnswer | None
    baseline: BaselineOut | None
    burst: BurstAnswer | None
    inherits: Inherits | None
    settings: str
    choices: list[Decidable]
    decision: DecisionOut | None
    accepted: str
    asked: AskedOut | None
    core: str | None
    seen: str
    others: list[OtherHold]


class DecisionIn(Schema):
    """A person's decision on what was seen; the pressure is written as a quantity."""

    seen: str = Field(max_length=40)
    fitness: Fitness
    pressure: str | None = Field(default=None, max_length=60)
    reason: str = Field(default="", max_length=4000)
    valve: Valve | None = Field(default=None, description="of a relief valve's own trial: what the valve is")
    overruled: dict[str, str] = Field(
        default={}, max_length=40, description="why it goes beyond a line of the evidence, by the line's code"
    )


def stretches_out(trial: Trial) -> list[StretchOut]:
    """The test hold and the low holds that were judged with it, each from its own beginning; evenly picked where there
    are very many readings.
    """
    readings, spans = hold.run_readings(trial)
    if not spans:
        return []
    first = readings[0].at
    began = next(since for role, since, _ in spans if role == "test")
    found = []
    for role, since, until in spans:
        own = [one for one in readings if since <= (one.at - first).total_seconds() <= until]
        own = own[:: max(1, len(own) // STRETCH_POINTS)]
        times = [(one.at - first).total_seconds() - began for one in own]
        moved = [one.pressure - own[0].pressure for one in own]
        found.append(StretchOut(role=role, time=times, moved=moved))  # type: ignore[arg-type]
    return found


STRETCH_POINTS = 120


def judge_out(trial: Trial, request: HttpRequest) -> JudgeOut:
    """The judge's room as it stands."""
    _, plan = plan_of(trial)
    verdict = Verdict.objects.filter(trial=trial).first()
    decision = getattr(trial, "decision", None)
    advice = decision.read_advice() if decision else judging.advice(trial, maker_of(request))
    stands, valve = run_state(trial), judging.valve_of(trial, plan_of(trial), trial.effective_events())
    return JudgeOut(
        id=trial.id,
        vessel_id=trial.vessel_id,
        vessel=trial.vessel.name,
        number=trial.number,
        state=State(trial.state),
        plan=plan,
        practice=trial.practice,
        may_decide=trial.state in (State.JUDGED, State.ABORTED)
        or (trial.state == State.HELD and not judging.can_be_judged(trial)),
        held_pressure=stands.shut_in,
        verdict=verdict.read() if verdict else None,
        points=verdict.hold_points() if verdict else [],
        stretches=stretches_out(trial) if verdict and verdict.read().low_holds else [],
        advice=advice,
        offer=_offer(plan, advice),
        valve=valve,
        steam=steam_of(trial, plan_of(trial), trial.effective_events()),
        expansion=expansion_of(trial, plan_of(trial), trial.effective_events(), stands),
        joint=joint_of(trial, plan_of(trial), trial.effective_events()),
        baseline=held_against(trial),
        burst=burst_of(trial, plan_of(trial), trial.effective_events()),
        inherits=of_its_design(plan_of(trial).sheet),
        settings=_settings(trial, plan, advice),
        choices=choices(advice, valve.answer if valve else None),
        decision=decision_out(trial),
        accepted=_accepted(trial, plan),
        asked=AskedOut(**verdict.asked) if verdict else None,
        core=verdict.core if verdict else None,
        seen=_judged_mark(verdict, advice),
        others=_others(trial),
    )


def _accepted(trial: Trial, plan: DeriveAnswer) -> str:
    with of_scale(plan.test_pressure):
        return accepted(plan_of(trial).sheet.acceptance, by_day=plan.procedure == GAS_HEAD.id)


def _settings(trial: Trial, plan: DeriveAnswer, advice: FitnessAnswer) -> str:
    """What a receiver's relief valve and switch are set to, by what was proven; "" where there are none to set."""
    if trial.kind != "receiver" or advice.relief_at_most is None or trial.practice:
        return ""
    with of_scale(plan.test_pressure):
        return settings_under(advice.relief_at_most, plan.working_pressure).says


def _offer(plan: DeriveAnswer, advice: FitnessAnswer) -> str:
    with of_scale(plan.test_pressure):
        return put("{x:pressure 4 down}", x=plan.working_pressure if advice.pressure is None else advice.pressure)


def _judged_mark(verdict: Verdict | None, advice: FitnessAnswer) -> str:
    """Of the verdict and the evidence that a decision rests on."""
    return mark_of(verdict and [verdict.answer, verdict.asked], advice.model_dump(mode="json"))


def _others(trial: Trial) -> list[OtherHold]:
    """Holds of the same vessel that were judged before, the latest first."""
    known = hold.baseline_of(trial)
    earlier = (
        Verdict.objects.filter(trial__vessel=trial.vessel, trial__number__lt=trial.number)
        .select_related("trial")
        .order_by("-trial__number")[:12]
    )
    return [other_hold(verdict, verdict.trial == known) for verdict in earlier]


def other_hold(verdict: Verdict, baseline: bool = False) -> OtherHold:
    """A judged hold as it is laid over another."""
    told, points = verdict.read(), [point for point in verdict.hold_points() if not point.cut]
    values = [point.pressure if point.corrected is None else point.corrected for point in points]
    return OtherHold(
        id=verdict.trial.pk,
        number=verdict.trial.number,
        on=timezone.localdate(verdict.trial.started_at or verdict.at),
        verdict=told.verdict,
        leak=told.leak.estimate,
        baseline=baseline,
        times=[point.time for point in points],
        drops=[values[0] - value for value in values],
    )


@router.get("/vessels/{vessel_id}/ledger", response=LedgerAnswer)
def get_ledger(request: HttpRequest, vessel_id: UUID) -> LedgerAnswer:
    """What a vessel may be used at today: its programme line by line, and what is to be done next."""
    vessel = Vessel.objects.prefetch_related("cares__by").get(pk=vessel_id)
    return ledger_now(vessel)


def _find(trial_id: UUID) -> Trial:
    return Trial.objects.select_related("vessel").get(pk=trial_id)


@router.get("/trials/{trial_id}/judge", response=JudgeOut)
def get_judge(request: HttpRequest, trial_id: UUID) -> JudgeOut:
    """The judge's room as it stands."""
    return judge_out(_find(trial_id), request)


@router.post("/trials/{trial_id}/judge", response=JudgeOut)
def judge_it(request: HttpRequest, trial_id: UUID, data: JudgeIn | None = None) -> JudgeOut:
    """Judge the finished hold; again where it was read wrongly."""
    asked = data or JudgeIn()
    with Trial.locked(trial_id) as trial:
        judging.judge(trial, maker_of(request), asked.ignore, tuple(asked.put_back))
    return judge_out(_find(trial_id), request)


@router.post("/trials/{trial_id}/judge/what-if", response=WhatIfOut)
def what_if(request: HttpRequest, trial_id: UUID, data: WhatIfIn) -> WhatIfOut:
    """What the answer would be; the record stays as it is."""
    trial = _find(trial_id)
    trial.must_be((State.HELD, State.JUDGED, State.CLOSED), "A hold must be finished before one can ask what if.")
    asked = Asked(ignore=data.ignore, thermometer=data.thermometer, put_back=tuple(data.put_back))
    found = hold.what_if(trial, asked, data.acceptance)
    return WhatIfOut(verdict=found.answer, points=found.points)


@router.post("/trials/{trial_id}/decision", response={201: JudgeOut})
def decide(request: HttpRequest, trial_id: UUID, data: DecisionIn) -> Status[JudgeOut]:
    """Write the decision."""
    with Trial.locked(trial_id) as trial:
        if not hasattr(trial, "decision"):
            now = _judged_mark(Verdict.objects.filter(trial=trial).first(), judging.advice(trial, maker_of(request)))
            must_be_as_seen(now, data.seen, "The verdict or the evidence")
        judging.decide(trial, maker_of(request), data.fitness, data.pressure, data.reason, data.overruled, data.valve)
    return Status(201, judge_out(_find(trial_id), request))


@router.get("/trials/{trial_id}/hold.csv", include_in_schema=False)
def hold_csv(request: HttpRequest, trial_id: UUID) -> HttpResponse:
    """The hold's readings, as `toadbell judge` reads them."""
    return HttpResponse(hold.hold_csv(_find(trial_id)), content_type="text/csv; charset=utf-8")


@router.get("/trials/{trial_id}/hold.json", include_in_schema=False)
def hold_json(request: HttpRequest, trial_id: UUID) -> HttpResponse:
    """The hold's sheet, as `toadbell judge` reads it."""
    return JsonResponse(hold.hold_sheet(_find(trial_id)), json_dumps_params={"indent": 1, "ensure_ascii": False})


@router.get("/trials/{trial_id}/soap.json", include_in_schema=False)
def soap_json(request: HttpRequest, trial_id: UUID) -> HttpResponse:
    """The soap map, as `toadbell judge` reads it."""
    return JsonResponse(hold.soap_sheet(_find(trial_id)), json_dumps_params={"indent": 1, "ensure_ascii": False})


@router.get("/trials/{trial_id}/baseline.csv", include_in_schema=False)
def baseline_csv(request: HttpRequest, trial_id: UUID) -> HttpResponse:
    """The hold that this one is held against, by the name its sheet gives it."""
    known = hold.baseline_of(_find(trial_id))
    if known is None:
        raise NotNow("The plan asks for no baseline.")
    return HttpResponse(hold.hold_csv(known), content_type="text/csv; charset=utf-8")
