"""Fitness for service: the evidence, what it adds up to, and the next dates."""

import datetime

from toadbell.core.judge.answers import Evidence, Fitness, FitnessAnswer, NextDate
from toadbell.core.kinds import KINDS
from toadbell.core.ledger.dates import add_months
from toadbell.core.ledger.evidence import LOOKED, RELIEF, STEAM, TURNED, TrialEvidence, ledger
from toadbell.core.ledger.programme import PROGRAMMES
from toadbell.core.lines import Line
from toadbell.core.phrases import Said, amount, joined, of_scale, put, say

PRESSURELESS: tuple[Fitness, ...] = ("not fit", "not proven")
"""Answers that go with no pressure."""


def fitness(seen: TrialEvidence) -> FitnessAnswer:
    """What the vessel is fit for, by what was seen; the handbook's sum P_w = min(reached/factor, plate, allowable).

    A line that is not met never goes with “fit”, nor does one that its kind asks for and that is not known.
    """
    with of_scale(seen.target):
        return _fitness(seen)


def _fitness(seen: TrialEvidence) -> FitnessAnswer:
    proven, lines = _proven(seen)
    evidence = [line.model_copy(update={"asked": line.code in _asked(seen)}) for line in ledger(seen)]
    answer, why = _answer(seen, proven, evidence)
    most = _held(seen) if answer == "tight" else proven
    pressure = None if answer in PRESSURELESS or most is None else min(most, seen.wanted)
    strong = None if answer == "tight" else pressure
    return FitnessAnswer(
        answer=answer,
        pressure=pressure,
        says=say("fitness.practice", why=why) if seen.practice else why,
        evidence=evidence,
        relief_at_most=strong,
        next_proof=None if strong is None or seen.practice else _proof_by(seen),
        next_dates=[] if strong is None or seen.practice else next_dates(seen),
        lines=lines,
    )


SUSPECT = ("ceiling", "temperature")
"""Lines that, where they are not met, leave nothing proven until the vessel was examined."""
DUE = {"looked": "look inside", "steam": "steam trial", "relief": "relief valve"}
"""What is done between trials, by the code of its line, as the due list calls it."""
OCCASIONS: dict[str, tuple[str, str]] = {
    "fermenter": ("relief valve", "before-use"),
    "chamber": ("proof", "after-change"),
}


def next_dates(seen: TrialEvidence) -> list[NextDate]:
    """What is due next, soonest first; all of it earlier after any knock, mend or change.

    Source: fitness for service, defaults.
    """
    kind = KINDS[seen.kind]
    found = [
        NextDate(
            what=DUE[one.code], on=add_months(seen.on, one.months), says=say("fitness.months-on", months=one.months)
        )
        for one in PROGRAMMES.get(seen.kind, ())
        if one.asked and one.months is not None and one.code in DUE
    ]
    usual = _proof_by(seen) == add_months(seen.on, kind.proof_months)
    says = say("fitness.months-on", months=kind.proof_months) if usual else say("fitness.in-service")
    found.append(NextDate(what="proof", on=_proof_by(seen), says=says))
    if seen.retire is not None:
        found.append(
            NextDate(what="out of service", on=datetime.date(seen.retire, 12, 31), says=say("fitness.by-plate"))
        )
    occasions = (
        [NextDate(what=what, on=None, says=say(f"fitness.{when}")) for what, when in [OCCASIONS[seen.kind]]]
        if seen.kind in OCCASIONS
        else []
    )
    return [*occasions, *sorted(found, key=lambda one: one.on or seen.on)]


def _proof_by(seen: TrialEvidence) -> datetime.date:
    usual = add_months(seen.on, KINDS[seen.kind].proof_months)
    return usual if seen.retire is None else min(usual, datetime.date(seen.retire, 12, 31))


def _proven(seen: TrialEvidence) -> tuple[float | None, list[Line]]:
    if seen.reached is None or seen.factor is None:
        return None, []
    reached = seen.reached - seen.head
    limits = [(reached / seen.factor, joined(amount(reached, "pressure"), f" / {seen.factor:g}"))]
    others = (("plate", seen.plate), ("allowable", seen.allowable), seen.weakest or ("", None))
    limits += [(p, joined(f"{name} ", amount(p, "pressure"))) for name, p in others if p]
    least = min(p for p, _ in limits)
    line = Line(
        figure="pressure",
        symbol="P_w",
        formula="min(reached / factor, plate, allowable, weakest fitted part)",
        numbers=put("{limits:commas}", limits=[text for _, text in limits]),
        value=least,
        unit="Pa",
        shown=amount(least, "pressure"),
        source="fitness for service: the least of what was proven and what may be",
    )
    return least, [line]


def _answer(seen: TrialEvidence, proven: float | None, evidence: list[Evidence]) -> tuple[Fitness, Said]:
    if seen.retire is not None and seen.on.year > seen.retire:
        return "not fit", say("fitness.past-year", year=seen.retire)
    if seen.boundary_leak:
        return "not fit", say("fitness.leaks", where=seen.boundary_leak)
    if seen.looked_unsound:
        return "not fit", say("fitness.unsound", says=seen.looked_unsound)
    if seen.yielding:
        return "not fit", say("fitness.yielded", how=seen.yielding)
    if seen.yielded_before is not None and seen.factor is not None:
        return "not fit", say("fitness.yielded", how=seen.yielded_before)
    if seen.burst is not None:
        return "not fit", say("fitness.burst", says=seen.burst[1])
    if seen.valve is not None:
        return "not proven", say("fitness.valve", says=seen.valve)
    if seen.hot is not None:
        return "not proven", say("fitness.hot", says=seen.hot[1])
    harm = _harm(seen)
    if harm is not None:
        return "not fit", harm
    unproven = _unproven(seen)
    if seen.rigs_own:
        return "not proven", unproven or say("fitness.baseline", says=seen.verdict_says)
    if unproven is not None:
        return "not proven", unproven
    return _strength(seen, proven, evidence) if proven is not None else _tight(seen, evidence)


FAR_OVER = 1.1
"""Pressed so far over the most that the plan allowed, it bore what nobody reckoned with."""


def _harm(seen: TrialEvidence) -> Said | None:
    """What the trial showed of harm to the vessel or its joint, which no tight hold makes good; None where it showed
    none. Far over its band is told of a proof alone: a gas head breathes, and a late valve lifts over its set.
    """
    if seen.kept is not None and seen.kept[0] is False:
        return say("fitness.set", says=seen.kept[1])
    if seen.joint is not None and seen.joint[0] is False:
        return say("fitness.joint", says=seen.joint[1])
    most = seen.band[1] if seen.band is not None and seen.factor is not None else None
    if most is not None and seen.highest is not None and seen.highest > FAR_OVER * most + seen.slack:
        return say("fitness.far-over", highest=seen.highest, most=most)
    return None


def _held(seen: TrialEvidence) -> float | None:
    """The pressure that was held of what was to be held, at the highest point, Pa."""
    return None if seen.reached is None else min(seen.reached, seen.target) - seen.head


def _tight(seen: TrialEvidence, evidence: list[Evidence]) -> tuple[Fitness, Said]:
    """What a tight hold shows that was never to prove strength: that it is tight at its pressure, and no more."""
    held = _held(seen)
    failed = [line for line in evidence if line.state == "not met"]
    suspect = next((line for line in failed if line.code in SUSPECT), None)
    if suspect:
        return "not proven", say("fitness.suspect", line=suspect.name, says=suspect.says)
    if held is None or held <= 0 or not seen.tries_tightness:
        return "not proven", say("fitness.no-strength")
    but = say("fitness.but", lines=[_not_met(line) for line in failed]) if failed else say("fitness.nothing")
    facts = {"held": min(held, seen.wanted), "on": seen.held_on or seen.on, "but": but}
    unsoaped = next((line for line in evidence if line.code == "soap" and line.state == "not known"), None)
    if unsoaped is not None:
        return "tight", say("fitness.tight-unsoaped", says=unsoaped.says, **facts)
    return "tight", say("fitness.tight", **facts)


def _unproven(seen: TrialEvidence) -> Said | None:
    """Why the trial proves nothing, whatever it reached; None where it does."""
    if seen.void or seen.verdict is None or seen.reached is None:
        return say("fitness.no-hold")
    if seen.verdict == "leaking":
        return say("fitness.hold-leaks")
    if seen.verdict == "cannot-tell":
        why = _why(seen.verdict_says)
        return say("fitness.hold-open", why=why) if why else say("fitness.hold-open-plain")
    if seen.fitting_leak:
        return say("fitness.fitting-leaks", where=seen.fitting_leak)
    if seen.rig_leak:
        return say("fitness.rig-leaks", where=seen.rig_leak)
    if seen.mended:
        return say("fitness.mended", mended=seen.mended)
    if seen.hurt:
        return say("fitness.hurt", hurt=seen.hurt)
    return say("fitness.cut-short") if seen.held < seen.asked * (1 - 1e-6) else None


def _why(verdict: str) -> str:
    """Why the judge cannot tell: what its sentence says after that it cannot."""
    known = verdict.facts.get("why") if isinstance(verdict, Said) else None
    return known or verdict.partition(". ")[2]


def _strength(seen: TrialEvidence, proven: float, evidence: list[Evidence]) -> tuple[Fitness, Said]:
    """What a tight hold of a strength trial proves, and what still keeps it from being fit."""
    failed = [line for line in evidence if line.state == "not met"]
    suspect = next((line for line in failed if line.code in SUSPECT), None)
    if suspect:
        return "not proven", say("fitness.suspect", line=suspect.name, says=suspect.says)
    shown = min(proven, seen.wanted)
    but = say("fitness.but", lines=[_not_met(line) for line in failed]) if failed else say("fitness.nothing")
    if proven < seen.wanted * (1 - 1e-6):
        return "limited", say("fitness.limited-below", proven=shown, wanted=seen.wanted, but=but)
    if failed:
        return "limited", say("fitness.limited", proven=shown, but=but)
    unknown = [line for line in evidence if line.state == "not known"]
    asked = [line.name for line in unknown if line.asked]
    if any(line.code == STEAM and line.name in asked for line in unknown):
        return "limited", say("fitness.steam-next", proven=shown, lines=asked)
    if asked:
        return "limited", say("fitness.unknown-yet", proven=shown, lines=asked)
    advised = [line.name for line in unknown]
    return "fit", say("fitness.fit-unknown", proven=shown, lines=advised) if advised else say(
        "fitness.fit", proven=shown
    )


def _not_met(line: Evidence) -> Said:
    """A line that is not met, to go in a row of others."""
    return say("fitness.not-met", line=line.name, says=line.says)


def _asked(seen: TrialEvidence) -> tuple[str, ...]:
    """Lines without which a kind is never fit."""
    asked = [one.code for one in PROGRAMMES.get(seen.kind, ()) if one.asked]
    return (
        *(code for code in asked if code in (LOOKED, RELIEF, STEAM)),
        *(("set",) if seen.measures else ()),
        *((TURNED,) if seen.joint is not None else ()),
    )
