"""From a run to a verdict and a decision."""

import datetime
from typing import Any

from django.db import transaction
from django.db.models import Max, Min
from django.utils import timezone

import toadbell
from toadbell.core import units
from toadbell.core.answers import DeriveAnswer, StageAnswer
from toadbell.core.documents import keep_advice, keep_points, keep_verdict
from toadbell.core.judge.answers import FitnessAnswer, JudgeAnswer
from toadbell.core.judge.burst import BurstAnswer
from toadbell.core.judge.expansion import ExpansionAnswer
from toadbell.core.judge.hold import Asked
from toadbell.core.judge.relief import ReliefAnswer
from toadbell.core.judge.steam import SteamAnswer
from toadbell.core.judge.tightening import TighteningAnswer
from toadbell.core.ledger import deciding
from toadbell.core.ledger import fitness as fit
from toadbell.core.ledger.evidence import TrialEvidence
from toadbell.core.ledger.since import steam_failed, steam_short, steam_void, valve_void, yielded_unseen
from toadbell.core.ledger.valves import Seat
from toadbell.core.ledger.voiding import (
    UNSOUND,
    WATCH,
    Happened,
    hurt_since,
    last_look,
    last_of,
    relief_lift,
)
from toadbell.core.phrases import Said, put, say
from toadbell.core.plan.bases import BASES, BURST
from toadbell.core.procedures import PROCEDURES, relief
from toadbell.core.procedures.baseline import BASELINE
from toadbell.core.procedures.gas_head import BREATHES, GAS_HEAD
from toadbell.core.run.carried import OWNERS
from toadbell.core.run.observed import observed
from toadbell.core.run.phases import RunState
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.core.vessel.sections import sections_of
from toadbell.core.vessel.soap import SoapMap, soap_map
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Kit, Maker
from toadbell.trials import clock
from toadbell.trials.bench.expanding import expansion_of, joint_of
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.bench.seen import reading_error
from toadbell.trials.bench.steaming import steam_of
from toadbell.trials.bench.stroke_analysis import strokes_answer
from toadbell.trials.judge.baselines import BaselineOut, held_against, keep_with_the_kit
from toadbell.trials.judge.designs import article, burst_of
from toadbell.trials.judge.hold import hold_sheet, judgement
from toadbell.trials.judge.ledger import seats_till
from toadbell.trials.models import Decision, Event, Finding, State, Trial, Verdict
from toadbell.trials.plan.frozen import Plan, plan_of


def judge(trial: Trial, maker: Maker, ignore: float = 0.0, put_back: tuple[float, ...] = ()) -> None:
    """Judge the finished hold and keep the verdict with what it was worked out from, and by which core.

    ignore, put_back  s at the beginning that are left out; times of steps, s, that a person says are none
    """
    trial.must_be((State.HELD, State.JUDGED), "A hold must be finished before it is judged.")
    judged = judgement(trial, asked=Asked(ignore=ignore, put_back=put_back))
    with transaction.atomic():
        Verdict.objects.update_or_create(
            trial=trial,
            defaults={
                "sheet": hold_sheet(trial),
                "asked": {"ignore": ignore, "put_back": list(put_back)},
                "answer": keep_verdict(judged.answer),
                "points": keep_points(judged.points),
                "core": toadbell.__version__,
            },
        )
        keep_with_the_kit(trial, judged.answer)
        trial.enter(State.JUDGED, "judged", maker, verdict=judged.answer.verdict, put_back=len(put_back))


def can_be_judged(trial: Trial) -> bool:
    """Is there enough in the hold's log to judge it? Where not, it is decided all the same: not proven, or not fit."""
    try:
        judgement(trial, asked=Asked(quick=True))
    except (NotNow, SheetError):
        return False
    return True


def advice(trial: Trial, maker: Maker) -> FitnessAnswer:
    """What the tool would decide, with its evidence."""
    return fit.fitness(_seen(trial))


def _seen(trial: Trial) -> TrialEvidence:
    sheet, answer = plan = plan_of(trial)
    verdict = Verdict.objects.filter(trial=trial).first()
    told = verdict.read() if verdict else None
    events = trial.effective_events()
    stands = run_state(trial, events)
    slack = reading_error(plan)
    reached, span = _held(told, stands.shut_in, answer) if told else None, stands.hold
    today = timezone.localdate(trial.now())
    happened = [one for one in trial.vessel.happened() if one.on <= today]
    soap = _soaped(plan, events)
    seats = seats_till(trial)
    look, lifted = last_look(happened), relief_lift(happened)
    if reached is not None and abs(reached - answer.gauge_target) <= slack:
        reached = max(reached, answer.gauge_target)
    rated = [(fitting.name, fitting.rating) for fitting in sheet.fittings if fitting.stays_on and fitting.rating]
    return TrialEvidence(
        kind=sheet.kind,
        wanted=sheet.working_pressure,
        plate=sheet.plate_pressure,
        allowable=answer.allowable.pressure,
        allowable_known=answer.allowable.known,
        wall_measured=bool(sheet.shell and sheet.shell.measured),
        ceiling=answer.ceiling.pressure if answer.ceiling.known else None,
        reached=reached,
        target=answer.gauge_target,
        head=answer.gauge_target - answer.test_pressure,
        factor=answer.factor,
        held=((span[1] or trial.now()) - span[0]).total_seconds() if span and verdict else 0.0,
        asked=answer.hold.minimum,
        verdict=told.verdict if told else None,
        verdict_says=told.says if told else "",
        relief_set=sheet.relief_set,
        retire=sheet.retire,
        against=_against(held_against(trial)),
        rigs_own=answer.procedure == BASELINE.id,
        tries_tightness=answer.basis is None or BASES[answer.basis].by not in ("relief", "steam", "burst"),
        on=today,
        held_on=timezone.localdate(span[1]) if span and span[1] else None,
        void=trial.state == State.ABORTED
        or any(e.kind == "guard" and e.data["code"] in ("ceiling", "strokes") for e in events),
        band=(answer.target_band[0], answer.target_band[1]),
        weakest=min(rated, key=lambda one: one[1]) if rated else None,
        kit=_against_kit(sheet, answer),
        kit_unknown=next((c.says for c in answer.cautions if c.code == UNCALIBRATED), None)
        if sheet.gauge and not sheet.gauge.calibrated
        else None,
        slack=slack,
        looked_inside=(look.on, look.text) if look else None,
        surveyed=max((day for day in sheet.survey_days if day <= today), default=None),
        looked_watch=look is not None and look.found == WATCH,
        relief_void=_valve_void(happened, plan, span, seats),
        yielded_before=yielded_unseen(happened, _day_of(trial), trial.started_at) if trial.started_at else None,
        looked_unsound=(look.text or "–") if look and look.found == UNSOUND else None,
        relief_proven=lifted[0] if lifted else None,
        relief_tried=lifted[1] if lifted else None,
        **_steam_stands(happened, sheet.working_pressure, seats),
        hot=_hot(steam_of(trial, plan, events)),
        skipped=skipped_pauses(events, answer),
        stood=told.held_at if told else None,
        hurt=hurt_since(happened, timezone.localtime(span[0])) if span else None,
        practice=trial.practice,
        valve=_says(valve_of(trial, plan, events)),
        soap=soap,
        yielded_once=_yielded_before(happened, trial),
        kept=_kept(expansion_of(trial, plan, events, stands)),
        measures=answer.procedure == "expansion",
        burst=_burst(burst_of(trial, plan, events)),
        joint=_turned(joint_of(trial, plan, events)),
        **_leaks(trial, stands, soap),
        **_under_pressure(trial, stands, answer),
        **_strokes(trial, stands),
    )


def _valve_void(
    happened: list[Happened],
    plan: Plan,
    span: tuple[datetime.datetime, datetime.datetime | None] | None,
    seats: list[Seat],
) -> Said | None:
    """Why what was tried of the relief valve does not stand: for what happened since, or for this very test took it
    off; None where it does.
    """
    last = last_of(happened, "relief tried")
    if last is None:
        return None
    off = plan.sheet.takes_valve_off and span is not None and last.at < (span[1] or span[0])
    return valve_void(happened, last, seats) or (say("evidence.relief-off") if off else None)


def _steam_stands(happened: list[Happened], wanted: float, seats: list[Seat]) -> dict[str, Any]:
    """What is on record of a boiler's steam: the day of the last that was passed, the one that was not, and why what
    was passed does not stand for what is wanted, Pa.
    """
    last, failed = last_of(happened, "steam trial"), steam_failed(happened)
    void = None if last is None else steam_void(happened, last, seats) or steam_short(last, wanted)
    return {
        "steamed": last.on if last else None,
        "steam_failed": (failed.text or "–") if failed else None,
        "steam_void": void,
    }


UNCALIBRATED = "gauge-not-calibrated"
SPEAKS_AGAINST_KIT = ("gauge-too-coarse", "gauge-class", UNCALIBRATED)
COOLS_BY = 0.05
"""A hold may cool by as much as the test band is wide, as a part of the target, and still be held at what was shut in.
"""


def _against_kit(sheet: VesselSheet, answer: DeriveAnswer) -> tuple[str, ...] | None:
    """What speaks against the gauge; that nothing is known of its calibration does not, and is said as not known."""
    if sheet.gauge is None:
        return None
    known = sheet.gauge.calibrated is not None
    return tuple(c.says for c in answer.cautions if c.code in SPEAKS_AGAINST_KIT and (known or c.code != UNCALIBRATED))


def _held(verdict: JudgeAnswer, shut_in: float | None, answer: DeriveAnswer) -> float | None:
    """What was held, on the gauge, Pa: what was shut in, but for a hold that fell from it by more than the test band is
    wide.
    """
    lowest = verdict.held_at
    least = answer.gauge_target * (1 - COOLS_BY)
    if answer.procedure == GAS_HEAD.id:  # it goes down by night, and proves what is wanted as long as it is over that
        least = answer.working_pressure + answer.gauge_target - answer.test_pressure
    if shut_in is None or lowest is None or lowest >= shut_in - (answer.gauge_target - least):
        return shut_in
    return float(lowest)


SKIPPED = 0.9
"""A pause counts as kept from so much of it on."""


def skipped_pauses(events: list[Event], answer: DeriveAnswer) -> tuple[tuple[str, ...], int]:
    """Names of the stages whose pause was not kept in the last raising, and at how many it was asked for so far; a
    stage jumped over was not paused at.
    """
    raised: list[Event] = []
    for event in events:
        if event.kind == "gone-back":
            raised = raised[: event.data["to"]]
        elif event.kind in ("stage-reached", "shut-in"):
            raised.append(event)
    asked, skipped = 0, []
    for stage, reached, then in zip(answer.stages, raised, raised[1:], strict=False):
        if stage.pause <= 0:
            continue
        asked += 1
        gap = (then.at - reached.at).total_seconds()
        jumped = then.kind == "stage-reached" and reached.data.get("pressure", 0.0) >= _target_after(answer, stage) * (
            1 - 1e-6
        )
        if gap < SKIPPED * stage.pause or jumped:
            skipped.append(stage.name)
    return tuple(skipped), asked


def _target_after(answer: DeriveAnswer, stage: StageAnswer) -> float:
    """The target of the stage after one, Pa."""
    return next((other.target for other in answer.stages if other.target > stage.target), float("inf"))


def valve_of(trial: Trial, plan: Plan, events: list[Event]) -> ReliefAnswer | None:
    """What a relief valve's trial proves; None for any other."""
    if plan.answer.procedure != "relief":
        return None
    seen = {what: observed(events, what) for what in PROCEDURES["relief"].instruments}
    highest = trial.readings.aggregate(high=Max("pressure"))["high"]
    return relief.judged(plan.sheet, plan.answer, seen, highest)


def _says(valve: ReliefAnswer | None) -> Said | None:
    return None if valve is None else Said(valve.says) if not isinstance(valve.says, Said) else valve.says


def _hot(steamed: SteamAnswer | None) -> tuple[bool | None, Said] | None:
    """What a first steam adds to the evidence: met, not met or not known, and why."""
    if steamed is None:
        return None
    met = {"passed": True, "cannot-tell": None}.get(steamed.answer, False)
    return met, Said(steamed.says) if not isinstance(steamed.says, Said) else steamed.says


def _yielded_before(happened: list[Happened], trial: Trial) -> Said | None:
    """That it yielded before this trial was begun, in words."""
    if trial.started_at is None:
        return None
    before = (_day_of(trial), trial.started_at)
    found = last_of([one for one in happened if (one.on, one.at) < before], "yielded")
    return None if found is None else found.says


def _kept(grown: ExpansionAnswer | None) -> tuple[bool | None, Said] | None:
    """What its expansion adds to the evidence: met, not met or not known, and why."""
    if grown is None:
        return None
    met = {"met": True, "cannot-tell": None}.get(grown.answer, False)
    return met, Said(grown.says) if not isinstance(grown.says, Said) else grown.says


def _turned(joint: TighteningAnswer | None) -> tuple[bool | None, Said] | None:
    """What a joint's turns add to the evidence."""
    if joint is None:
        return None
    met = {"found": True, "not-dry": False}.get(joint.answer)
    return met, Said(joint.says) if not isinstance(joint.says, Said) else joint.says


def _against(told: BaselineOut | None) -> tuple[bool | None, Said] | None:
    """How alike a trial is to the baseline it was held against; what is not known of both is never taken for alike."""
    if told is None:
        return None
    states = {one.state for one in told.alike.checks}
    met = False if "not met" in states else None if "not known" in states else True
    return met, told.alike.says if isinstance(told.alike.says, Said) else Said(told.alike.says)


def _burst(told: BurstAnswer | None) -> tuple[bool | None, Said] | None:
    """What an article that was taken to failure, with others of its design, adds to the evidence."""
    if told is None:
        return None
    met = {"met": True, "not-met": False}.get(told.answer)
    return met, told.says if isinstance(told.says, Said) else Said(told.says)


def _note_off_and_yielded(trial: Trial, maker: Maker, tool: FitnessAnswer) -> None:
    """What a trial that held a pressure did to the vessel's other evidence: its valve was off, or it yielded."""
    plan = plan_of(trial)
    if trial.practice or trial.started_at is None or not PROCEDURES[plan.answer.procedure].has_hold:
        return
    if plan.sheet.takes_valve_off:
        trial.vessel.note(maker, "relief off", _day_of(trial), f"trial {trial.number}")
    kept = next((one for one in tool.evidence if one.code == "set"), None)
    if kept is not None and kept.state == "not met" and _seen(trial).yielded_before is None:  # it did so in this one
        trial.vessel.note(maker, "yielded", _day_of(trial), f"trial {trial.number}: {kept.says}")


def _note_burst(trial: Trial, maker: Maker) -> None:
    """An article that was taken to failure is spent: that stands with it."""
    found = article(trial)
    if plan_of(trial).answer.procedure != BURST or trial.practice or found is None:
        return
    at = put("{x:pressure 3}", x=found.failed or found.highest)
    if plan_of(trial).sheet.design:
        Kit.was_burst(str(plan_of(trial).sheet.design), _day_of(trial))
    trial.vessel.note(maker, "over-pressed", _day_of(trial), f"taken to {at} in trial {trial.number}, to failure")


def _day_of(trial: Trial) -> datetime.date:
    """The day a run was begun, never after today: the machine's clock may have been put back since."""
    today = timezone.localdate()
    return min(timezone.localdate(trial.started_at), today) if trial.started_at else today


def _note_steam(trial: Trial, maker: Maker) -> None:
    """What a first steam found stands with the vessel: passed, with its valve's lift; or not passed, and why."""
    found = steam_of(trial, plan_of(trial), trial.effective_events())
    if found is None or trial.practice or found.answer == "cannot-tell":
        return
    on = _day_of(trial)
    state = {one.code: one.state for one in found.checks}
    lifts = "" if found.lifts_at is None else put("lifts at {x:pressure 3}", x=found.lifts_at)
    if lifts and all(state[code] == "met" for code in ("lifted", "set", "reseat")):  # whatever the gauge showed
        trial.vessel.note(maker, "relief tried", on, f"{lifts}; under steam in trial {trial.number}")
        _note_on_the_board(trial, on)
    if found.answer == "passed":
        trial.vessel.note(maker, "steam trial", on, f"{lifts}; passed in trial {trial.number}")
    else:
        why = "; ".join(one.says.rstrip(".") for one in found.checks if one.state == "not met")
        trial.vessel.note(maker, "steam failed", on, f"trial {trial.number}: {why}")


def _note_on_the_board(trial: Trial, on: datetime.date) -> None:
    """The valve's own entry on the kit board, where it hangs there, was seen to lift."""
    valve = trial.frozen_sheet.get("relief_valve")
    if isinstance(valve, dict) and valve.get("name"):
        Kit.lifted(str(valve["name"]), on)


def _contradicts(trial: Trial, valve: ReliefAnswer) -> bool:
    """Does a trial that cannot tell speak against the lift that is on record: it lifted elsewhere than the gauge may be
    out, or went past it without?
    """
    known = relief_lift(trial.vessel.happened())
    if known is None:
        return False
    doubt = (valve.doubt or DOUBT * known[0]) + DOUBT / 2 * known[0]
    elsewhere = valve.lifts_at is not None and abs(valve.lifts_at - known[0]) > doubt
    lifted = next(one.state for one in valve.checks if one.code == "lifted")
    return elsewhere or (lifted == "not known" and valve.highest is not None and valve.highest > known[0] + doubt)


DOUBT = 0.05
"""How far a gauge of which nothing is known may be out, as a part of what it shows."""


def _note_valve(trial: Trial, maker: Maker, decision: Decision) -> None:
    """What a relief trial found of the valve stands with the vessel: its lift, where somebody decided that it is good
    too; or that it is to be seen to, by what was found or what was decided.
    """
    valve = valve_of(trial, plan_of(trial), trial.effective_events())
    if valve is None or trial.practice:
        return
    on, doubted = _day_of(trial), decision.valve in ("reset", "bad")
    if doubted and valve.answer in ("good", "cannot-tell"):
        why = decision.reason or "no reason written"
        trial.vessel.note(maker, "relief-reset", on, f"trial {trial.number}, decided by {maker.shown_name}: {why}")
    elif valve.answer == "good":
        if decision.valve == "good" and valve.lifts_at is not None:
            lifts = put("lifts at {x:pressure}", x=valve.lifts_at)
            trial.vessel.note(maker, "relief tried", on, f"{lifts}; good in trial {trial.number}")
            _note_on_the_board(trial, on)
    elif valve.answer != "cannot-tell" or _contradicts(trial, valve):
        trial.vessel.note(maker, "relief-reset", on, f"trial {trial.number}: {valve.says}")


def _soaped(plan: Plan, events: list[Event]) -> SoapMap | None:
    """What soap showed, where the kind of trial asks for it."""
    if "soap" not in PROCEDURES[plan.answer.procedure].instruments:
        return None
    return soap_map(sections_of(plan.sheet), observed(events, "soap"))


def _leaks(trial: Trial, stands: RunState, soap: SoapMap | None) -> dict[str, Any]:
    """Leaks that stand, pinned or shown by soap, and a mend of the vessel itself that no hold followed."""
    found = list(Finding.of(trial))
    held_from = stands.hold[0] if stands.hold else None
    mends = [leak for leak in found if leak.owner != "rig" and leak.mended_at is not None]
    unproven = [
        leak for leak in mends if held_from is None or (leak.mended_at is not None and leak.mended_at >= held_from)
    ]
    where = {
        owner: next((leak.where for leak in found if leak.owner == owner and not leak.mend), None)
        or (soap.leak_of(owner) if soap else None)
        for owner in OWNERS
    }
    return {
        "boundary_leak": where["boundary"],
        "fitting_leak": where["fitting"],
        "rig_leak": where["rig"],
        "put_right": tuple(dict.fromkeys(leak.where for leak in mends if leak.owner == "boundary")),
        "mended": f"{unproven[0].where}, {unproven[0].mend}" if unproven else None,
    }


def _under_pressure(trial: Trial, stands: RunState, answer: DeriveAnswer) -> dict[str, Any]:
    """Highest pressure of the run, and between what temperatures the water was; of a gas head that goes up with the day
    while it is shut in, as far as it may, the highest that it was pumped to.
    """
    rows = trial.readings.filter(at__gte=stands.counted[0]) if stands.counted else trial.readings.none()
    told = rows.aggregate(high=Max("pressure"), cold=Min("temperature"), warm=Max("temperature"))
    if answer.procedure == GAS_HEAD.id and stands.hold and (told["high"] or 0.0) <= BREATHES * answer.gauge_target:
        told |= rows.filter(at__lte=stands.hold[0]).aggregate(high=Max("pressure"))
    return {
        "highest": told["high"],
        "temperature": None if told["cold"] is None else (told["cold"], told["warm"]),
    }


def _strokes(trial: Trial, stands: RunState) -> dict[str, Any]:
    told = strokes_answer(trial, stands)
    if told is None:
        return {}
    return {
        "air": (max(0.0, told.air.estimate), told.air_limit) if told.air and told.air_limit else None,
        "yielding": told.says if told.state == "yielding" else None,
    }


def decide(
    trial: Trial,
    maker: Maker,
    chosen: fit.Fitness,
    pressure: str | None,
    reason: str,
    overruled: dict[str, str] | None = None,
    valve: deciding.Valve | None = None,
) -> Decision:
    """Keep a person's decision. More cautious than the tool's is free; less cautious asks for a reason, which stays.

    overruled  why it goes beyond a line of the evidence, by the line's code
    valve      what a relief valve is after its own trial, which says nothing else but that the vessel is not fit
    """
    unjudged = trial.state == State.HELD and not can_be_judged(trial)
    if not unjudged:
        trial.must_be((State.JUDGED, State.ABORTED), "Judge the hold first; a decision rests on its verdict.")
    tool = advice(trial, maker)
    limit = units.read(pressure, "pressure", default_unit=maker.pressure_unit).value if pressure else None
    if chosen in fit.PRESSURELESS:
        limit = None
    elif limit is None:
        raise NotNow("Say for what pressure it is fit, or tight.")
    of_valve = valve_of(trial, plan_of(trial), trial.effective_events())
    found = of_valve.answer if of_valve else None
    if no := deciding.refused(found, chosen, valve):
        raise NotNow(no)
    further = deciding.goes_further(chosen, limit, valve, tool, found)
    why = {line.code: (overruled or {}).get(line.code, "").strip()[:1000] for line in deciding.in_the_way(tool)}
    if further and not reason.strip() and (valve or not (why and all(why.values()))):
        raise NotNow(
            f"That goes further than the evidence: {tool.says} Write down why; the reason stays on the record."
        )
    dated = limit is not None and chosen != "tight" and not trial.practice
    proof = (
        next((due.on for due in fit.next_dates(_seen(trial)) if due.what == "proof" and due.on), None)
        if dated
        else None
    )
    with transaction.atomic():
        decision = Decision.objects.create(
            trial=trial,
            fitness=chosen,
            pressure=limit,
            reason=reason.strip(),
            valve=valve or "",
            less_cautious=further,
            overruled={code: text for code, text in why.items() if text} if further else {},
            by=maker,
            at=min(trial.now(), clock.now()),
            advice=keep_advice(tool),
            next_proof=proof,
        )
        said = {"fitness": chosen, "valve": valve} if valve else {"fitness": chosen}
        trial.enter(State.CLOSED, "decided", maker, at=None, event_id=None, **said)
        _note_off_and_yielded(trial, maker, tool)
        _note_valve(trial, maker, decision)
        _note_steam(trial, maker)
        _note_burst(trial, maker)
    return decision
