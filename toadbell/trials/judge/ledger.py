"""The ledger of each vessel: which decision stands for it, what of that still stands today, and what is to be done
next.
"""

import datetime
import uuid
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, replace

from django.db.models import F, QuerySet
from django.utils import timezone
from pydantic import ValidationError

from toadbell.core.judge.answers import LedgerAnswer, TagNow
from toadbell.core.ledger.record import Ended, OnRecord, Proves, standing
from toadbell.core.ledger.standing import ledger_of, tag_now
from toadbell.core.ledger.valves import Seat
from toadbell.core.plan.bases import BASES, TIGHT, test_pressure
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.core.sheets.kit import FittedValve
from toadbell.shed.drawn import shelved
from toadbell.shed.models import Vessel
from toadbell.trials.judge.designs import stands_by_design
from toadbell.trials.models import Decision, Trial


@dataclass(frozen=True)
class Standing:
    """The decision that stands for a vessel, and all the trials of it that were decided."""

    decision: Decision
    ended: tuple[Ended, ...]


def decisions() -> QuerySet[Decision]:
    """Every decision with as much of its trial as tells which of them stands; what is long is left where it lies."""
    long = (
        "advice",
        "trial__sheet",
        "trial__vessel_sheet",
        "trial__frozen",
        "trial__rig",
        "trial__verdict__answer",
        "trial__verdict__sheet",
        "trial__verdict__points",
    )
    fitted = F("trial__frozen__sheet__relief_valve")
    return Decision.objects.select_related("trial__verdict").defer(*long).annotate(fitted_valve=fitted)


def standing_decisions(decisions: Iterable[Decision]) -> dict[uuid.UUID, Standing]:
    """By vessel, the decision that stands. Practice on the simulated rig neither proves nor takes away."""
    told: dict[uuid.UUID, list[Decision]] = defaultdict(list)
    for decision in decisions:
        if not decision.trial.practice:
            told[decision.trial.vessel_id].append(decision)
    found = {}
    for vessel, all_of_it in told.items():
        ended = [_ended(decision) for decision in all_of_it]
        counts = standing(ended)
        if counts is not None:
            found[vessel] = Standing(all_of_it[ended.index(counts)], tuple(ended))
    return found


def _ended(decision: Decision) -> Ended:
    trial = decision.trial
    verdict = getattr(trial, "verdict", None)
    began = timezone.localtime(trial.started_at or decision.at)
    return Ended(
        id=str(trial.pk),
        number=trial.number,
        on=began.date(),
        decided=timezone.localtime(decision.at),
        proves=_proves(trial.basis),
        fitness=decision.fitness,  # type: ignore[arg-type]
        pressure=decision.pressure,
        tight=verdict is not None and verdict.called == "tight",
        leaking=verdict is not None and verdict.called == "leaking",
        further=decision.less_cautious,
        reason=decision.reason,
        overruled=decision.overruled,
        proof_by=decision.next_proof,
        baseline=decision.trial.basis == "baseline",
        judged=timezone.localtime(verdict.at) if verdict is not None else None,
        seat=seat_of(trial.number, began, getattr(decision, "fitted_valve", None)),
        turned=decision.trial.basis in BASES and BASES[decision.trial.basis].by == "tightening",
    )


def seat_of(number: int, began: datetime.datetime, valve: object) -> Seat | None:
    """The relief valve that a trial's frozen sheet tells of, with its number and when it was begun; None where none."""
    if not isinstance(valve, dict):
        return None
    try:
        return Seat(number, began.date(), began, FittedValve.model_validate(valve))
    except ValidationError:
        return None


def seats_till(trial: Trial) -> list[Seat]:
    """The relief valves that the plans of a vessel's trials told of, this trial's own the last."""
    decided = decisions().filter(trial__vessel=trial.vessel_id, trial__number__lt=trial.number)
    before = [_ended(one).seat for one in decided if not one.trial.practice]
    own = (
        seat_of(trial.number, timezone.localtime(trial.started_at), trial.frozen_sheet.get("relief_valve"))
        if trial.started_at
        else None
    )
    return [seat for seat in (*before, own) if seat is not None]


def _proves(basis: str) -> Proves:
    """What a trial on a basis proves; one that is not known is taken for a proof, which the most may rest on."""
    rule = BASES.get(basis)
    if rule is None or rule.strength:
        return "strength"
    if rule.by in ("relief", "steam", "baseline", "burst"):
        return rule.by
    return "gas-head" if rule.column else "tightness"


def ledger(vessel: Vessel, stands: Standing | None) -> LedgerAnswer:
    """A vessel's programme and what it adds up to today."""
    return _worked_out(vessel, stands, stands.ended if stands else ())[0]


def ledger_now(vessel: Vessel) -> LedgerAnswer:
    """The same, with its decisions looked up: of a vessel of which none stands, too, for a baseline or a valve's trial
    is on record all the same.
    """
    own = [one for one in decisions().filter(trial__vessel=vessel) if not one.trial.practice]
    stands = standing_decisions(own).get(vessel.pk)
    return _worked_out(vessel, stands, tuple(_ended(one) for one in own))[0]


def tag_of(vessel: Vessel, stands: Standing) -> TagNow:
    """The tag that hangs on a vessel today: its ledger's answer."""
    found, counts = _worked_out(vessel, stands, stands.ended)
    return tag_now(found, counts)


def _worked_out(vessel: Vessel, stands: Standing | None, ended: tuple[Ended, ...]) -> tuple[LedgerAnswer, Ended | None]:
    counts = None
    if stands is not None:
        counts = next(one for one in ended if one.id == str(stands.decision.trial_id))
        if counts.fitness == "limited" or counts.further:
            whole = _with_advice(counts, stands.decision)
            ended, counts = tuple(whole if one is counts else one for one in ended), whole
    found = shelved(vessel.kind, vessel.sheet)
    limits = [found.limit, ("the plate", found.plate)]
    record = OnRecord(
        kind=vessel.kind,
        wanted=found.working_pressure,
        today=timezone.localdate(),
        trials=ended,
        happened=vessel.happened(),
        limits=[(name, limit) for name, limit in limits if limit is not None],
        plate=found.plate,
        retire=found.retire,
        problem=found.problem,
        design=stands_by_design(vessel),
        allowable=found.limit[1] if found.limit_known else None,
    )
    return ledger_of(_with_sheet(record, vessel)), counts


def _with_advice(ended: Ended, decision: Decision) -> Ended:
    """With what the tool held against it, where that is asked for: it is long."""
    advice = decision.advice if isinstance(decision.advice, dict) else {}
    lines = [line for line in advice.get("evidence", []) if isinstance(line, dict)]
    codes = {
        state: frozenset(str(line.get("code", "")) for line in lines if line.get("state") == state)
        for state in ("not met", "not known")
    }
    return replace(ended, advised=advice.get("answer"), against=codes["not met"], unknown=codes["not known"])


def _with_sheet(record: OnRecord, vessel: Vessel) -> OnRecord:
    try:
        sheet = vessel.read()
    except SheetError:
        return record
    shell = sheet.shell
    return replace(
        record,
        relief_set=sheet.relief_set,
        wall_measured=bool(shell and shell.measured),
        wall=max(sheet.survey_days, default=None),
        tight_at=_tight_at(sheet),
    )


def _tight_at(sheet: VesselSheet) -> float | None:
    """The pressure that its kind is to be tight at, Pa; None where that cannot be worked out."""
    try:
        return test_pressure(TIGHT, sheet.model_copy(update={"tight_at": None}))
    except SheetError:
        return None
