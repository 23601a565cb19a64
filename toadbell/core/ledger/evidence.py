"""What a trial showed, and the ledger of evidence that it makes: each line met, not met or not known, and what it rests on."""

import datetime
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

from toadbell.core import units
from toadbell.core.judge.answers import Evidence
from toadbell.core.lines import Line

State = Literal["met", "not met", "not known"]
Rests = Literal["vessel", "plan", "kit", "bench", "hold"]
LOOKED, RELIEF, STEAM = "Looked inside", "Relief proven, set within", "Steam trial"
"""Names of lines that a kind may ask for."""
COLDEST, HOTTEST = 280.15, 321.15
"""No test below 7 °C, none above 48 °C, K; handbook of the job, medium and temperature."""


@dataclass(frozen=True)
class TrialEvidence:
    """What a trial showed. Pressures Pa gauge, times s, temperatures K; None is not known.

    band           of the plan's gauge target, lowest and highest
    head           what the gauge reads above the highest point
    slack          what the gauge cannot tell, Pa: an overshoot of no more is none
    weakest        name and rating of the weakest part that stays on
    reached        highest pressure held, on the gauge; `highest` the highest there was at all
    factor         of the basis, None where it proves no strength
    held, asked    length of the hold, and that of the plan
    verdict        of the judge, None where the hold was not judged
    boundary_leak  where the vessel's own boundary leaked and was not mended; rig_leak, of the rig, likewise
    mended         where the vessel itself was mended since it was last held tight
    kit            what speaks against the kit; empty where nothing does, None where it is not known
    air            trapped air as found and what is let pass, m³, None where no strokes told
    yielding       what the strokes say of yielding, None where they are silent
    temperature    lowest and highest of the water while it was under pressure
    looked_inside  the day of the last look, and what it showed
    relief_proven  lift of the relief valve as it was last tried
    steamed        the day of the last steam trial
    kit_unknown    what is not known of the kit
    skipped        stages whose pause was not kept, of how many; None where no run was
    stood          down to what the pressure fell during the hold though the verdict is tight, Pa
    hurt           what happened to the vessel since the hold that voids its proof
    practice       it was the simulated rig: it proves nothing
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
    band: tuple[float, float] | None = None
    highest: float | None = None
    slack: float = 0.0
    weakest: tuple[str, float] | None = None
    mended: str | None = None
    kit: tuple[str, ...] | None = None
    air: tuple[float, float] | None = None
    yielding: str | None = None
    temperature: tuple[float, float] | None = None
    looked_inside: tuple[datetime.date, str] | None = None
    relief_proven: float | None = None
    steamed: datetime.date | None = None
    kit_unknown: str | None = None
    skipped: tuple[tuple[str, ...], int] | None = None
    stood: float | None = None
    hurt: str | None = None
    practice: bool = False


def ledger(seen: TrialEvidence, unit: str) -> list[Evidence]:
    """Every line of the evidence, in the order in which the job is done."""

    def show(p: float | None) -> str:
        return "not known" if p is None else units.write(p, "pressure", unit)

    return [
        _line("Within the plate", None if seen.plate is None else seen.wanted <= seen.plate, f"wanted {show(seen.wanted)}, plate {show(seen.plate)}", "vessel",
              [_compared("P ≤ P_plate", seen.wanted, seen.plate, unit, "the plate")]),
        _line("Wall bears the wanted pressure",
              seen.wanted <= seen.allowable if seen.allowable is not None and seen.wall_measured and seen.allowable_known else None,
              f"allowable {show(seen.allowable)}{'' if seen.wall_measured else ', wall not measured'}", "vessel",
              [_compared("P ≤ P_allowable", seen.wanted, seen.allowable, unit, "design stress, joint and wall less corrosion")]),
        _looked_inside(seen),
        _line("Not past its year", None if seen.retire is None else seen.on.year <= seen.retire,
              "no year is known" if seen.retire is None else f"in service until {seen.retire}", "vessel"),
        _kit(seen),
        _air(seen),
        _temperature(seen),
        *_pauses(seen),
        *_reached(seen, unit),
        _line("Held long enough", seen.held >= seen.asked * (1 - 1e-6), f"{_minutes(seen.held)}, {_minutes(seen.asked)} asked", "bench",
              [Line(figure="held", symbol="t", formula="t ≥ t_asked", numbers=f"{_minutes(seen.held)}, {_minutes(seen.asked)}", value=seen.held, unit="s",
                    shown=_minutes(seen.held), source="the plan's hold")]),
        _line("Hold judged tight", None if seen.verdict in (None, "cannot-tell") else seen.verdict == "tight", seen.verdict_says or "not judged", "hold"),
        _line("No leak of the vessel's own", False if seen.boundary_leak else None if seen.reached is None else True, seen.boundary_leak or "none was logged", "bench"),
        _line("No permanent set", False if seen.yielding else None, seen.yielding or "girth or water given back not measured", "bench"),
        _line("No open mend", seen.mended is None and seen.rig_leak is None, _open(seen), "bench"),
        _relief(seen, show),
        *_steam(seen),
    ]  # fmt: skip


def _kit(seen: TrialEvidence) -> Evidence:
    if seen.kit:
        return _line("Kit suited and calibrated", False, " ".join(seen.kit), "kit")
    if seen.kit is None or seen.kit_unknown:
        return _line("Kit suited and calibrated", None, seen.kit_unknown or "not known", "kit")
    return _line("Kit suited and calibrated", True, "nothing speaks against it", "kit")


def _pauses(seen: TrialEvidence) -> list[Evidence]:
    if seen.skipped is None or seen.skipped[1] == 0:
        return []
    names, count = seen.skipped
    says = f"not kept at {', '.join(names)}" if names else f"kept at {count} stage{'' if count == 1 else 's'}"
    return [_line("Paused at each stage", not names, says, "bench")]


def _reached(seen: TrialEvidence, unit: str) -> list[Evidence]:
    shown, asked = (
        "not known" if seen.reached is None else units.write(seen.reached, "pressure", unit),
        units.write(seen.target, "pressure", unit),
    )
    lines = [_compared("P_held ≥ P_target", seen.reached, seen.target, unit, "gauge target of the plan, with its head")]
    found = [
        _line(
            "Reached",
            None if seen.reached is None else seen.reached >= seen.target * (1 - 1e-6),
            f"{shown} held, {asked} asked{_stood(seen, unit)}",
            "bench",
            lines,
        )
    ]
    highest = seen.highest if seen.highest is not None else seen.reached
    if seen.band is not None:
        most = units.write(seen.band[1], "pressure", unit)
        over = None if highest is None else highest <= seen.band[1] * (1 + 1e-6) + seen.slack
        at = "not known" if highest is None else units.write(highest, "pressure", unit)
        lines = [_compared("P_highest ≤ P_target + 5 %", highest, seen.band[1], unit, "tolerance −0 / +5 %")]
        found.append(_line("Not overshot", over, f"highest {at}, at most {most}", "bench", lines))
    ceiling = "not known" if seen.ceiling is None else units.write(seen.ceiling, "pressure", unit)
    lines = [_compared("P_highest ≤ P_ceiling", highest, seen.ceiling, unit, "0.9 of yield, weakest part or maker's limit")]
    found.append(
        _line(
            "Inside the ceiling",
            None if seen.ceiling is None else (highest or 0) <= seen.ceiling + seen.slack,
            f"ceiling {ceiling}",
            "plan",
            lines,
        )
    )
    return found


def _stood(seen: TrialEvidence, unit: str) -> str:
    if seen.stood is None or seen.reached is None or seen.stood >= seen.reached - 2 * seen.slack:
        return ""
    return f"; it went down to {units.write(seen.stood, 'pressure', unit)} meanwhile"


def _looked_inside(seen: TrialEvidence) -> Evidence:
    if seen.looked_inside is None:
        return _line(LOOKED, None, "not on record", "vessel")
    day, showed = seen.looked_inside
    return _line(LOOKED, (seen.on - day).days <= 366, f"{day.day} {day:%B %Y}{f': {showed}' if showed else ''}", "vessel")


def _air(seen: TrialEvidence) -> Evidence:
    if seen.air is None:
        return _line("Air out", None, "no strokes told", "bench")
    found, limit = (units.write(v, "volume", "mL", figures=2) for v in seen.air)
    line = Line(figure="air", symbol="V_a", formula="V_a ≤ V_limit", numbers=f"{found}, {limit}", value=seen.air[0], unit="m³", shown=found,
                source="the strokes: pumped volume against pressure")  # fmt: skip
    return _line("Air out", seen.air[0] <= seen.air[1], f"{found} left in, {limit} let pass", "bench", [line])


def _temperature(seen: TrialEvidence) -> Evidence:
    if seen.temperature is None:
        return _line("Warm enough, not too warm", None, "no temperature was read", "bench")
    low, high = (units.write(t, "temperature", figures=3) for t in seen.temperature)
    line = Line(figure="temperature", symbol="T", formula="7 °C ≤ T ≤ 48 °C", numbers=f"{low} to {high}", value=seen.temperature[0], unit="K", shown=low,
                source="handbook of the job, medium and temperature")  # fmt: skip
    inside = seen.temperature[0] >= COLDEST and seen.temperature[1] <= HOTTEST
    return _line("Warm enough, not too warm", inside, f"{low} to {high} under pressure", "bench", [line])


def _relief(seen: TrialEvidence, show: Callable[[float | None], str]) -> Evidence:
    if seen.relief_set is not None and seen.relief_set > seen.wanted * (1 + 1e-6):
        return _line(RELIEF, False, f"set at {show(seen.relief_set)}, over {show(seen.wanted)}", "vessel")
    if seen.relief_proven is None:
        return _line(RELIEF, None, f"set at {show(seen.relief_set)}; its lift is not on record", "vessel")
    return _line(RELIEF, seen.relief_proven <= seen.wanted * (1 + 1e-6), f"lifts at {show(seen.relief_proven)}", "vessel")


def _steam(seen: TrialEvidence) -> list[Evidence]:
    if seen.kind != "boiler":
        return []
    if seen.steamed is None:
        return [_line(STEAM, None, "not on record", "vessel")]
    return [_line(STEAM, (seen.on - seen.steamed).days <= 366, f"{seen.steamed.day} {seen.steamed:%B %Y}", "vessel")]


def _open(seen: TrialEvidence) -> str:
    if seen.mended is not None:
        return f"mended and not held since: {seen.mended}"
    return f"of the rig, not mended: {seen.rig_leak}" if seen.rig_leak else "none"


def _minutes(t: float) -> str:
    return units.write(t, "time", "min", figures=3)


def _compared(formula: str, one: float | None, other: float | None, unit: str, source: str) -> Line | None:
    """Two pressures side by side; None where one is not known."""
    if one is None or other is None:
        return None
    shown = units.write(one, "pressure", unit)
    return Line(figure="evidence", symbol=formula.split()[0], formula=formula, numbers=f"{shown}, {units.write(other, 'pressure', unit)}", value=one,
                unit="Pa", shown=shown, source=source)  # fmt: skip


def _line(name: str, met: bool | None, says: str, rests_on: Rests, lines: Sequence[Line | None] = ()) -> Evidence:
    state: State = "not known" if met is None else "met" if met else "not met"
    return Evidence(name=name, state=state, says=says, rests_on=rests_on, lines=[line for line in lines if line is not None])
