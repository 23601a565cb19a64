"""Fitness for service: the evidence, what it adds up to, and the next dates."""

import datetime
from typing import Literal

from toadbell.core import units
from toadbell.core.judge.answers import Evidence, FitnessAnswer, NextDate
from toadbell.core.kinds import KINDS
from toadbell.core.ledger.evidence import LOOKED, RELIEF, STEAM, TrialEvidence, ledger
from toadbell.core.lines import Line

Fitness = Literal["fit", "limited", "not fit", "not proven"]
ORDER: tuple[Fitness, ...] = ("not fit", "not proven", "limited", "fit")
"""From the most cautious to the least."""


def fitness(seen: TrialEvidence, pressure_unit: str = "bar") -> FitnessAnswer:
    """What the vessel is fit for, by what was seen; the handbook's sum P_w = min(reached/factor, plate, allowable).

    A line that is not met never goes with “fit”, nor does one that its kind asks for and that is not known.
    """
    proven, lines = _proven(seen, pressure_unit)
    evidence = ledger(seen, pressure_unit)
    answer, why = _answer(seen, proven, evidence, pressure_unit)
    pressure = None if answer in ("not fit", "not proven") or proven is None else min(proven, seen.wanted)
    return FitnessAnswer(
        answer=answer,
        pressure=pressure,
        says=f"{PRACTICE} {why}" if seen.practice else why,
        evidence=evidence,
        relief_at_most=pressure,
        next_proof=None if pressure is None or seen.practice else _proof_by(seen),
        next_dates=[] if pressure is None or seen.practice else next_dates(seen),
        lines=lines,
    )


PRACTICE = "Practice on the simulated rig: it proves nothing of the vessel. On a real rig it would be:"
ASKED: dict[str, tuple[str, ...]] = {
    "receiver": (LOOKED, RELIEF),
    "boiler": (RELIEF, STEAM),
    "fermenter": (RELIEF,),
}
"""Lines without which a kind is never fit; of a receiver's wall a survey does in place of a look inside (procedures, the ledger)."""
SUSPECT = ("Inside the ceiling", "Warm enough, not too warm")
"""Lines that, where they are not met, leave nothing proven until the vessel was examined."""
DATES: dict[str, tuple[tuple[int, str], ...]] = {
    "boiler": ((12, "steam trial"),),
    "receiver": ((12, "look inside"),),
}
"""Months until what comes before the next proof, by kind."""
OCCASIONS: dict[str, tuple[str, str]] = {
    "fermenter": ("relief valve", "before each use"),
    "chamber": ("proof", "after every change and every ten firings"),
}


def next_dates(seen: TrialEvidence) -> list[NextDate]:
    """What is due next, soonest first; all of it earlier after any knock, mend or change. Source: fitness for service, defaults."""
    kind = KINDS[seen.kind]
    found = [NextDate(what=what, on=add_months(seen.on, months), says=f"{months} months on") for months, what in DATES.get(seen.kind, ())]
    months = (
        "as long as it stays in service" if _proof_by(seen) != add_months(seen.on, kind.proof_months) else f"{kind.proof_months} months on"
    )
    found.append(NextDate(what="proof", on=_proof_by(seen), says=months))
    if seen.retire is not None:
        found.append(NextDate(what="out of service", on=datetime.date(seen.retire, 12, 31), says="by its plate or its maker"))
    occasions = [NextDate(what=what, on=None, says=when) for what, when in [OCCASIONS[seen.kind]]] if seen.kind in OCCASIONS else []
    return [*occasions, *sorted(found, key=lambda one: one.on or seen.on)]


def months_until(kind: str, what: str) -> int | None:
    """How many months after it was done something is due again on a kind of vessel; None where that is no matter of time."""
    return {name: months for months, name in DATES.get(kind, ())}.get(what)


def _proof_by(seen: TrialEvidence) -> datetime.date:
    usual = add_months(seen.on, KINDS[seen.kind].proof_months)
    return usual if seen.retire is None else min(usual, datetime.date(seen.retire, 12, 31))


def add_months(day: datetime.date, months: int) -> datetime.date:
    """The same day so many months on, or the month's last."""
    year, month = divmod(day.year * 12 + day.month - 1 + months, 12)
    last = (datetime.date(year + month // 11, (month + 1) % 12 + 1, 1) - datetime.timedelta(days=1)).day
    return datetime.date(year, month + 1, min(day.day, last))


def less_cautious(chosen: Fitness, chosen_pressure: float | None, answer: FitnessAnswer) -> bool:
    """Does a person's decision go further than the tool's answer? Pressure in Pa."""
    if ORDER.index(chosen) > ORDER.index(answer.answer):
        return True
    return chosen_pressure is not None and (answer.pressure is None or chosen_pressure > answer.pressure * (1 + 1e-6))


def _proven(seen: TrialEvidence, unit: str) -> tuple[float | None, list[Line]]:
    if seen.reached is None or seen.factor is None:
        return None, []
    reached = seen.reached - seen.head
    limits = [(reached / seen.factor, f"{units.write(reached, 'pressure', unit)} / {seen.factor:g}")]
    others = (("plate", seen.plate), ("allowable", seen.allowable), seen.weakest or ("", None))
    limits += [(p, f"{name} {units.write(p, 'pressure', unit)}") for name, p in others if p]
    least = min(limits)[0]
    line = Line(
        figure="pressure", symbol="P_w", formula="min(reached / factor, plate, allowable, weakest fitted part)",
        numbers=", ".join(text for _, text in limits), value=least, unit="Pa", shown=units.write(least, "pressure", unit),
        source="fitness for service: the least of what was proven and what may be",
    )  # fmt: skip
    return least, [line]


def _answer(seen: TrialEvidence, proven: float | None, evidence: list[Evidence], unit: str) -> tuple[Fitness, str]:
    if seen.retire is not None and seen.on.year > seen.retire:
        return "not fit", f"It was to be taken out of service by {seen.retire}."
    if seen.boundary_leak:
        return "not fit", f"The vessel itself leaks: {seen.boundary_leak}."
    if seen.yielding:
        return "not fit", f"It gave for good: {seen.yielding}"
    if seen.void or seen.verdict is None or seen.reached is None:
        return "not proven", "No hold was finished and judged."
    if seen.verdict == "leaking":
        return "not proven", "The hold leaks, and whose leak it is has not been found. Find it, mend it, go round again."
    if seen.verdict == "cannot-tell":
        return "not proven", f"The hold could not tell a leak from none. {seen.verdict_says.partition('. ')[2]}".strip()
    if seen.rig_leak:
        return "not proven", f"The rig leaked ({seen.rig_leak}): mend it and hold again."
    if seen.mended:
        return "not proven", f"The vessel was mended ({seen.mended}) and has not been held since: that voids what went before."
    if seen.hurt:
        return "not proven", seen.hurt
    if seen.held < seen.asked * (1 - 1e-6):
        return "not proven", "The hold was cut short."
    if proven is None:
        return "not proven", "This trial shows leaks. It proves no strength."
    return _strength(seen, proven, evidence, unit)


def _strength(seen: TrialEvidence, proven: float, evidence: list[Evidence], unit: str) -> tuple[Fitness, str]:
    """What a tight hold of a strength trial proves, and what still keeps it from being fit."""
    failed = [line for line in evidence if line.state == "not met"]
    suspect = next((line for line in failed if line.name in SUSPECT), None)
    if suspect:
        return "not proven", f"{suspect.name}: not so, {suspect.says}. Have it examined, then prove it anew."
    shown = units.write(min(proven, seen.wanted), "pressure", unit, figures=3)
    if proven < seen.wanted * (1 - 1e-6):
        return "limited", f"Proven for {shown}, not for the {units.write(seen.wanted, 'pressure', unit)} wanted.{_but(failed)}"
    if failed:
        return "limited", f"Proven for {shown}.{_but(failed)}"
    unknown = [line.name for line in evidence if line.state == "not known" and line.name in _asked(seen)]
    if STEAM in unknown:
        return "limited", f"Proven cold for {shown}: fit for its steam trial. Not known yet: {_listed(unknown)}."
    if unknown:
        return "limited", f"Proven for {shown}. Not known yet: {_listed(unknown)}. Do it, and write it down on the vessel's page."
    advised = [line.name for line in evidence if line.state == "not known"]
    return "fit", f"Proven for {shown}.{f' Not known: {_listed(advised)}.' if advised else ''}"


def _but(failed: list[Evidence]) -> str:
    return "".join(f" Not met: {line.name.lower()} ({line.says.rstrip('.')})." for line in failed)


def _asked(seen: TrialEvidence) -> tuple[str, ...]:
    asked = ASKED.get(seen.kind, ())
    return tuple(name for name in asked if not (name == LOOKED and seen.wall_measured))


def _listed(names: list[str]) -> str:
    low = [name[0].lower() + name[1:] for name in names]
    return low[0] if len(low) == 1 else f"{', '.join(low[:-1])} and {low[-1]}"
