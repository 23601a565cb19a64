"""Fitness for service: the evidence, what it adds up to, and the next dates."""

import datetime
from dataclasses import dataclass
from typing import Literal

from toadbell.core import units
from toadbell.core.answers import Evidence, FitnessAnswer
from toadbell.core.lines import Line
from toadbell.core.vessel.kinds import KINDS

State = Literal["met", "not met", "not known"]
Fitness = Literal["fit", "limited", "not fit", "not proven"]
ORDER: tuple[Fitness, ...] = ("not fit", "not proven", "limited", "fit")
"""From the most cautious to the least."""


@dataclass(frozen=True)
class Seen:
    """What a trial showed. Pressures Pa gauge, times s; None is not known.

    reached        highest pressure held, on the gauge
    target         gauge target of the plan
    factor         of the basis, None where it proves no strength
    head           what the gauge reads above the highest point
    held, asked    length of the hold, and that of the plan
    verdict        of the judge, None where the hold was not judged
    rig_leak_open  a leak of the rig was found and not mended
    """

    kind: str
    wanted: float
    plate: float | None
    allowable: float | None
    allowable_known: bool
    wall_measured: bool
    ceiling: float | None
    reached: float | None
    target: float
    head: float
    factor: float | None
    held: float
    asked: float
    verdict: str | None
    verdict_says: str
    boundary_leak: str | None
    rig_leak: str | None
    relief_set: float | None
    retire: int | None
    on: datetime.date
    void: bool = False


def fitness(seen: Seen, pressure_unit: str = "bar") -> FitnessAnswer:
    """What the vessel is fit for, by what was seen; the handbook's sum P_w = min(reached/factor, plate, allowable)."""
    ledger = _ledger(seen, pressure_unit)
    proven, lines = _proven(seen, pressure_unit)
    answer, why = _answer(seen, proven, pressure_unit)
    pressure = None if answer in ("not fit", "not proven") or proven is None else min(proven, seen.wanted)
    return FitnessAnswer(
        answer=answer,
        pressure=pressure,
        says=why,
        evidence=ledger,
        relief_at_most=pressure,
        next_proof=None if pressure is None else add_months(seen.on, KINDS[seen.kind].proof_months),
        lines=lines,
    )


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


def _proven(seen: Seen, unit: str) -> tuple[float | None, list[Line]]:
    if seen.reached is None or seen.factor is None:
        return None, []
    reached = seen.reached - seen.head
    limits = [(reached / seen.factor, f"{units.write(reached, 'pressure', unit)} / {seen.factor:g}")]
    limits += [(p, f"{name} {units.write(p, 'pressure', unit)}") for name, p in (("plate", seen.plate), ("allowable", seen.allowable)) if p]
    least = min(limits)[0]
    line = Line(
        figure="pressure", symbol="P_w", formula="min(reached / factor, plate, allowable)", numbers=", ".join(text for _, text in limits),
        value=least, unit="Pa", shown=units.write(least, "pressure", unit), source="fitness for service: the least of what was proven and what may be",
    )  # fmt: skip
    return least, [line]


def _answer(seen: Seen, proven: float | None, unit: str) -> tuple[Fitness, str]:
    if seen.retire is not None and seen.on.year > seen.retire:
        return "not fit", f"It was to be taken out of service by {seen.retire}."
    if seen.boundary_leak:
        return "not fit", f"The vessel itself leaks: {seen.boundary_leak}."
    if seen.void or seen.verdict is None or seen.reached is None:
        return "not proven", "No hold was finished and judged."
    if seen.verdict == "leaking":
        return "not proven", "The hold leaks, and whose leak it is has not been found. Find it, mend it, go round again."
    if seen.verdict == "cannot-tell":
        return "not proven", "The hold could not tell a leak from none."
    if seen.rig_leak:
        return "not proven", f"The rig leaked ({seen.rig_leak}): mend it and hold again."
    if seen.held < seen.asked * (1 - 1e-6):
        return "not proven", "The hold was cut short."
    if proven is None:
        return "not proven", "This trial shows leaks. It proves no strength."
    if proven < seen.wanted * (1 - 1e-6):
        return (
            "limited",
            f"Proven for {units.write(proven, 'pressure', unit, figures=3)}, not for the {units.write(seen.wanted, 'pressure', unit)} wanted.",
        )
    return "fit", f"Proven for {units.write(seen.wanted, 'pressure', unit)}."


def _ledger(seen: Seen, unit: str) -> list[Evidence]:
    def show(p: float | None) -> str:
        return "not known" if p is None else units.write(p, "pressure", unit)

    def minutes(t: float) -> str:
        return units.write(t, "time", "min", figures=3)

    return [
        _line("Reached", None if seen.reached is None else seen.reached >= seen.target * (1 - 1e-6), f"{show(seen.reached)}, {show(seen.target)} asked"),
        _line("Held long enough", seen.held >= seen.asked * (1 - 1e-6), f"{minutes(seen.held)}, {minutes(seen.asked)} asked"),
        _line("Inside the ceiling", None if seen.ceiling is None else (seen.reached or 0) <= seen.ceiling, f"ceiling {show(seen.ceiling)}"),
        _line("Hold judged tight", None if seen.verdict in (None, "cannot-tell") else seen.verdict == "tight", seen.verdict_says or "not judged"),
        _line("No leak of the vessel's own", seen.boundary_leak is None, seen.boundary_leak or "none was logged"),
        _line("Within the plate", None if seen.plate is None else seen.wanted <= seen.plate, f"plate {show(seen.plate)}"),
        _line("Wall bears the wanted pressure",
              seen.wanted <= seen.allowable if seen.allowable is not None and seen.wall_measured and seen.allowable_known else None,
              f"allowable {show(seen.allowable)}{'' if seen.wall_measured else ', wall not measured'}"),
        _line("Not past its year", None if seen.retire is None else seen.on.year <= seen.retire,
              "no year is known" if seen.retire is None else f"in service until {seen.retire}"),
        _line("Relief set within", None if seen.relief_set is None else seen.relief_set <= seen.wanted * (1 + 1e-6), f"relief {show(seen.relief_set)}"),
        _line("Looked inside", None, "not on record"),
    ]  # fmt: skip


def _line(name: str, met: bool | None, says: str) -> Evidence:
    state: State = "not known" if met is None else "met" if met else "not met"
    return Evidence(name=name, state=state, says=says)
