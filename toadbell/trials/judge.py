"""From a run to a verdict and a decision."""

from django.db import transaction
from django.utils import timezone

import toadbell
from toadbell.core import units
from toadbell.core.answers import FitnessAnswer, JudgeAnswer
from toadbell.core.judge import fitness as fit
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.trials.frozen import plan_of
from toadbell.trials.hold import hold_sheet, judgement
from toadbell.trials.models import Decision, State, Trial, Verdict
from toadbell.trials.standing import findings, standing
from toadbell.trials.steps import reading_error


def judge(trial: Trial, maker: Maker) -> None:
    """Judge the finished hold and keep the verdict with what it was worked out from."""
    trial.must_be((State.HELD, State.JUDGED), "A hold must be finished before it is judged.")
    judged = judgement(trial)
    with transaction.atomic():
        Verdict.objects.update_or_create(
            trial=trial,
            defaults={
                "sheet": hold_sheet(trial),
                "answer": judged.answer.model_dump(mode="json"),
                "points": [point.model_dump(mode="json") for point in judged.points],
                "core": toadbell.__version__,
            },
        )
        trial.enter(State.JUDGED, "judged", maker, verdict=judged.answer.verdict)


def advice(trial: Trial, maker: Maker) -> FitnessAnswer:
    """What the tool would decide, with its evidence."""
    return fit.fitness(_seen(trial), maker.pressure_unit)


def _seen(trial: Trial) -> fit.Seen:
    sheet, answer = plan_of(trial)
    verdict = Verdict.objects.filter(trial=trial).first()
    judged = JudgeAnswer.model_validate(verdict.answer) if verdict else None
    events = trial.effective_events()
    stands = standing(trial, events)
    open_leaks = [leak for leak in findings(events) if leak["owner"] == "boundary" or leak["mend"] is None]
    leaks = {owner: next((leak["where"] for leak in open_leaks if leak["owner"] == owner), None) for owner in ("boundary", "rig")}
    reached = stands.shut_in if verdict else None
    span = stands.hold
    if reached is not None and abs(reached - answer.gauge_target) <= reading_error(sheet, answer):
        reached = max(reached, answer.gauge_target)
    return fit.Seen(
        kind=sheet.kind,
        wanted=sheet.working_pressure,
        plate=sheet.plate_pressure,
        allowable=answer.allowable.pressure,
        allowable_known=answer.allowable.known,
        wall_measured=bool(sheet.shell and (sheet.shell.wall_measured or sheet.shell.wall_readings)),
        ceiling=answer.ceiling.pressure if answer.ceiling.known else None,
        reached=reached,
        target=answer.gauge_target,
        head=answer.gauge_target - answer.test_pressure,
        factor=answer.factor,
        held=((span[1] or trial.now()) - span[0]).total_seconds() if span and verdict else 0.0,
        asked=answer.hold.minimum,
        verdict=judged.verdict if judged else None,
        verdict_says=judged.says if judged else "",
        boundary_leak=leaks["boundary"],
        rig_leak=leaks["rig"],
        relief_set=sheet.relief_set,
        retire=sheet.retire,
        on=trial.now().date(),
        void=trial.state == State.ABORTED or any(e.kind == "guard" and e.data["code"] in ("ceiling", "strokes") for e in events),
    )


def decide(trial: Trial, maker: Maker, chosen: fit.Fitness, pressure: str | None, reason: str) -> Decision:
    """Keep a person's decision. More cautious than the tool's is free; less cautious asks for a reason, which stays."""
    trial.must_be((State.JUDGED, State.ABORTED), "Judge the hold first; a decision rests on its verdict.")
    tool = advice(trial, maker)
    limit = units.read(pressure, "pressure", default_unit=maker.pressure_unit).value if pressure else None
    if chosen in ("fit", "limited") and limit is None:
        raise NotNow("Say for what pressure it is fit.")
    if chosen in ("not fit", "not proven"):
        limit = None
    further = fit.less_cautious(chosen, limit, tool)
    if further and not reason.strip():
        raise NotNow(f"That goes further than the evidence: {tool.says} Write down why; the reason stays on the record.")
    months = fit.add_months(trial.now().date(), fit.KINDS[trial.frozen_sheet["kind"]].proof_months) if limit else None
    with transaction.atomic():
        decision = Decision.objects.create(
            trial=trial, fitness=chosen, pressure=limit, reason=reason.strip(), less_cautious=further, by=maker, at=min(trial.now(), timezone.now()),
            advice=tool.model_dump(mode="json"), next_proof=months,
        )  # fmt: skip
        trial.enter(State.CLOSED, "decided", maker, fitness=chosen)
    return decision
