"""From a run to a verdict and a decision."""

import csv
import datetime
import io
from typing import Any

import numpy as np
from django.db import transaction
from django.utils import timezone

import toadbell
from toadbell.core import units
from toadbell.core.answers import FitnessAnswer, JudgeAnswer
from toadbell.core.judge import fitness as fit
from toadbell.core.judge.hold import Judged, judge_with_points
from toadbell.core.judge.log import Log
from toadbell.core.plan.derive import trapped_air
from toadbell.core.sheets import read_hold_sheet
from toadbell.core.vessel.openings import vent_of
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.trials.bench import reading_error
from toadbell.trials.models import Decision, Reading, State, Trial, Verdict
from toadbell.trials.readings import plan_of


def hold_sheet(trial: Trial) -> dict[str, Any]:
    """The open-format sheet that `toadbell judge` reads for this trial's hold."""
    plan, (whole, answer) = trial.frozen_sheet, plan_of(trial)
    sheet = {key: plan[key] for key in ("water_temperature", "shell", "gauge", "thermometer", "acceptance") if plan.get(key)}
    sheet["medium"] = whole.medium
    sheet["volume"] = f"{(answer.volume or 0) * 1000:.6g} L"
    sheet["test_pressure"] = f"{answer.test_pressure / 1e5:.6g} bar"
    air = trapped_air(whole, vent_of(whole))
    if air:
        sheet["trapped_air"] = plan.get("trapped_air") or f"{air * 1e6:.6g} mL"
    return sheet


def hold_span(trial: Trial) -> tuple[datetime.datetime, datetime.datetime] | None:
    """From shut-in to the end of the hold (or now, while it runs); None where there was no hold."""
    events = {event.kind: event for event in trial.effective_events()}
    if "shut-in" not in events:
        return None
    end = events.get("hold-ended") or events.get("dumped")
    return events["shut-in"].at, end.at if end else trial.now()


def hold_readings(trial: Trial) -> list[Reading]:
    """The readings of the hold; the one that was shut in on opens it."""
    span = hold_span(trial)
    if span is None:
        return []
    inside = list(trial.readings.filter(at__gte=span[0], at__lte=span[1]).order_by("at"))
    before = trial.readings.filter(at__lt=span[0], at__gte=span[0] - datetime.timedelta(seconds=60)).order_by("-at").first()
    return [before, *inside] if before and len(inside) < 30 else inside


def hold_log(readings: list[Reading]) -> Log:
    """Readings as the judge takes them."""
    if len(readings) < 2:
        raise NotNow("A hold needs two readings at the least: one at shut-in and one at its end.")
    start = readings[0].at
    temperatures = np.array([np.nan if r.temperature is None else r.temperature for r in readings])
    return Log(
        np.array([(r.at - start).total_seconds() for r in readings]),
        np.array([r.pressure for r in readings]),
        temperatures if np.isfinite(temperatures).sum() >= 2 else None,
    )


def hold_csv(trial: Trial) -> str:
    """The hold's readings in the open format."""
    readings, out = hold_readings(trial), io.StringIO()
    rows = csv.writer(out)
    rows.writerow(["elapsed [s]", "pressure [bar]", "water_temperature [degC]"])
    for r in readings:
        warm = "" if r.temperature is None else f"{r.temperature - 273.15:.3f}"
        rows.writerow([f"{(r.at - readings[0].at).total_seconds():.1f}", f"{r.pressure / 1e5:.6g}", warm])
    return out.getvalue()


def judgement(trial: Trial) -> Judged:
    """The judge's answer on the hold as it stands; nothing is stored."""
    return judge_with_points(hold_log(hold_readings(trial)), read_hold_sheet(hold_sheet(trial)))


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
    events, span = trial.effective_events(), hold_span(trial)
    leaks = {
        owner: next((e.data["where"] for e in events if e.kind == "leak" and e.data["owner"] == owner), None)
        for owner in ("boundary", "rig")
    }
    shut_in = next((e for e in events if e.kind == "shut-in"), None)
    reached = shut_in.data["pressure"] if shut_in and verdict else None
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
        held=(span[1] - span[0]).total_seconds() if span and verdict else 0.0,
        asked=answer.hold.minimum,
        verdict=judged.verdict if judged else None,
        verdict_says=judged.says if judged else "",
        boundary_leak=leaks["boundary"],
        rig_leak=leaks["rig"],
        relief_set=sheet.relief_set,
        retire=sheet.retire,
        on=trial.now().date(),
        void=trial.state == State.ABORTED or any(e.kind == "over-ceiling" for e in events),
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
