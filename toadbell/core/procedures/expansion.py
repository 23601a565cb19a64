"""The expansion trial: a proof under water at which what goes in, and what comes back, is measured too.

It is planned, raised and held as a proof is, and shows beside its strength that the vessel came back, and what its mean
wall is. A proof's own strokes are its water in: whoever measures what comes back has an expansion trial at no cost.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.expansion import EXPANDING, ExpansionAnswer, judge_expansion
from toadbell.core.phrases import Said, say
from toadbell.core.plan.target import asked_pressure
from toadbell.core.procedures.proof import PROOF
from toadbell.core.run.observed import INSTRUMENTS, Observed
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.core.sheets.expansion import (
    ExpansionSheet,
    GirthRead,
    JacketRead,
    LevelRead,
    Temperatures,
    WaterRead,
)
from toadbell.core.sheets.kit import ExpansionKit

EXPANSION = replace(PROOF, id="expansion", kinds=EXPANDING)
MEASURE, BURETTE, LEVEL, TAPE = 10e-6, 1e-6, 1e-3, 1e-3
"""What can be told apart on a jug, a burette, a level and a tape of which nothing was said, m³ and m."""

Seen = Mapping[str, Mapping[str, Observed]]


@dataclass(frozen=True)
class Raised:
    """What the run itself tells of an expansion.

    pressure   the highest there was at the top, Pa; None where nothing was read yet
    strokes    that brought it there; None where none were counted
    air        trapped air that the strokes told, and 1 σ of it, m³; None where they did not
    before, at temperature of the water before it was pumped up and as it was shut in, K
    """

    pressure: float | None
    strokes: int | None = None
    air: tuple[float, float] | None = None
    before: float | None = None
    at: float | None = None


def expansion_sheet(
    sheet: VesselSheet, seen: Seen, raised: Raised, asked: float | None = None
) -> ExpansionSheet | None:
    """What was measured, as its judge reads it; None where nothing of it was."""
    kit = sheet.expansion or ExpansionKit.model_construct(marks=[])
    water, jacket, levels = _water(sheet, kit, seen, raised), None, None
    burette, level = (_three(seen, what) for what in ("burette", "level"))
    if burette:
        jacket = JacketRead.model_construct(**burette, step=kit.burette or BURETTE, water=kit.jacket_water)
    elif level and kit.tank is not None:
        levels = LevelRead.model_construct(**level, tank=kit.tank, step=kit.level or LEVEL, water=kit.jacket_water)
    girths = _girths(kit, seen)
    if raised.pressure is None or raised.pressure <= 0:
        return None
    if water is None and jacket is None and levels is None and not girths:
        return None
    return ExpansionSheet.model_construct(
        procedure="expansion",
        vessel=sheet if raised.air is None else sheet.model_copy(update={"trapped_air": raised.air[0]}),
        pressure=raised.pressure,
        asked=asked,
        air_doubt=raised.air[1] if raised.air else None,
        water=water,
        jacket=jacket,
        levels=levels,
        girths=girths,
        tape=kit.tape or TAPE,
        temperatures=_temperatures(seen, raised),
    )


def judge_log(sheet: ExpansionSheet) -> ExpansionAnswer:
    """The judgement on a log by itself: where it does not say what was to be proven, by the vessel's kind."""
    if sheet.asked is not None:
        return judge_expansion(sheet)
    try:
        return judge_expansion(sheet.model_copy(update={"asked": asked_pressure(sheet.vessel)[1]}))
    except SheetError:
        return judge_expansion(sheet)


def judged(sheet: VesselSheet, answer: DeriveAnswer, seen: Seen, raised: Raised) -> ExpansionAnswer | None:
    """What was measured so far proves; None where nothing was, and the trial is none of expansion."""
    told = expansion_sheet(sheet, seen, raised, answer.test_pressure)
    if told is None:
        if answer.procedure != EXPANSION.id:
            return None
        told = ExpansionSheet.model_construct(
            procedure="expansion",
            vessel=sheet,
            pressure=raised.pressure or answer.test_pressure,
            water=None,
            jacket=None,
            levels=None,
            air_doubt=None,
            girths=[],
            tape=None,
            temperatures=None,
        )
    return judge_expansion(told)


def contradicts(seen: Seen, what: str, place: str, value: float) -> Said | None:
    """Why a figure cannot be, beside what was written before; None where it can. m³ and m."""
    if value < 0 or (value == 0 and what in ("water-in", "girth")):
        return say("step.measured-figure")
    if what == "level" and value == 0:
        return say("step.measured-figure")
    into = _value(seen, "water-in", "1")
    if what == "water-back" and into is not None and value > 2 * into:
        return say("step.measured-back-over", value=value, into=into)
    mark = place.split(" ")[0]
    before = _value(seen, what, f"{mark} before") if what == "girth" else None
    if before is not None and not 0.8 * before <= value <= 1.5 * before:
        return say("step.measured-girth-far", value=value, before=before)
    return None


def _water(sheet: VesselSheet, kit: ExpansionKit, seen: Seen, raised: Raised) -> WaterRead | None:
    """Water in by the measure, else by the strokes of the raising, where something was measured coming back."""
    into, back = _value(seen, "water-in", "1"), _value(seen, "water-back", "1")
    step, stroke = kit.measure or MEASURE, sheet.pump.stroke if sheet.pump else None
    if into is not None:
        return WaterRead.model_construct(
            into=into, back=back, step=step, by="measure", stroke=None, hose=kit.hose or 0.0
        )
    if back is None or not raised.strokes or stroke is None:
        return None
    counted = raised.strokes * stroke
    return WaterRead.model_construct(
        into=counted, back=back, step=step, by="strokes", stroke=stroke, hose=kit.hose or 0.0
    )


def _temperatures(seen: Seen, raised: Raised) -> Temperatures | None:
    back = seen.get("water-back", {}).get("1")
    if raised.before is None:
        return None
    return Temperatures.model_construct(before=raised.before, at=raised.at, after=back.temperature if back else None)


def _three(seen: Seen, what: str) -> dict[str, Any]:
    """Before, at and after of an instrument; empty where it was not read before."""
    found = {place: _value(seen, what, place) for place in ("before", "at", "after")}
    return found if found["before"] is not None else {}


def _girths(kit: ExpansionKit, seen: Seen) -> list[GirthRead]:
    found = []
    for number, name in enumerate(marks_of(kit), 1):
        before, at, after = (_value(seen, "girth", f"{number} {when}") for when in ("before", "at", "after"))
        if before is not None:
            found.append(GirthRead.model_construct(place=name, before=before, at=at, after=after))
    return found


def marks_of(kit: ExpansionKit | None) -> list[str]:
    """Names of the places where the tape goes round: as they are marked, else one, in the middle."""
    marks = kit.marks if kit else []
    return [mark.name for mark in marks] or [str(say("expansion.mark-middle"))]


def _value(seen: Seen, what: str, place: str) -> float | None:
    found = seen.get(what, {}).get(place)
    return found.value if found else None


INSTRUMENTS_OF_IT = tuple(one.id for one in INSTRUMENTS.values() if one.panel == EXPANSION.id)
"""What it is read with."""
