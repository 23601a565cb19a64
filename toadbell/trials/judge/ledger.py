"""The ledger of each vessel: which decision stands for it, what of that still stands today, and what is to be done
next.
"""

import uuid
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, replace

from django.db.models import QuerySet
from django.utils import timezone

from toadbell.core.judge.answers import LedgerAnswer, TagNow
from toadbell.core.ledger.record import Ended, OnRecord, Proves, standing
from toadbell.core.ledger.standing import ledger_of, tag_now
from toadbell.core.plan.bases import BASES, TIGHT, test_pressure
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.shed.drawn import shelved
from toadbell.shed.models import Vessel
from toadbell.trials.judge.designs import stands_by_design
from toadbell.trials.models import Decision


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
    return Decision.objects.select_related("trial__verdict").defer(*long)


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
    return Ended(
        id=str(trial.pk),
        number=trial.number,
        on=timezone.localdate(trial.started_at or decision.at),
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
        turned=decision.trial.basis in BASES and BASES[decision.trial.basis].by == "tightening",
    )


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
    return _worked_out(vessel, stands)[0]


def tag_of(vessel: Vessel, stands: Standing) -> TagNow:
    """The tag that hangs on a vessel today: its ledger's answer."""
    found, counts = _worked_out(vessel, stands)
    return tag_now(found, counts)


def _worked_out(vessel: Vessel, stands: Standing | None) -> tuple[LedgerAnswer, Ended | None]:
    counts = None
    ended = stands.ended if stands else ()
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
