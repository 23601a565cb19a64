"""What a trial showed, and the ledger of evidence that it makes: each line met, not met or not known, and what it rests
on.
"""

import datetime
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

from toadbell.core.judge.answers import Evidence
from toadbell.core.judge.relief import lifts_in_time, may_lift_at
from toadbell.core.ledger.dates import add_months
from toadbell.core.ledger.voiding import WATCH_MONTHS
from toadbell.core.lines import Line
from toadbell.core.phrases import Said, amount, joined, say
from toadbell.core.vessel.soap import SoapMap

State = Literal["met", "not met", "not known"]
Rests = Literal["vessel", "plan", "kit", "bench", "hold"]
LOOKED, RELIEF, STEAM, TURNED, BURST = "looked", "relief", "steam", "tightening", "burst"
"""Codes of lines that a kind may ask for."""
SOAPED_AT = 0.5
"""Soaped at less than such a part of the pressure that is to be tight, it proves the one it was soaped at alone."""
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
    boundary_leak  where the vessel's own boundary leaked and was not mended; fitting_leak, of a fitting that stays
                   on in service, and rig_leak, of the test rig, likewise
    burst          what articles of its design bore, and why; None where it is none of burst
    against        how alike it is to the baseline it was held against: alike, not, or not known; None of any other
    rigs_own       it is a baseline: what the rig does by itself
    tries_tightness  the trial holds a pressure to see whether it stays, and is not of a valve alone
    held_on        the day the hold ended, where it is another than `on`, the day of the judgement
    mended         where the vessel or a fitting of it was mended since it was last held tight
    put_right      where the vessel itself leaked in this trial and was mended
    kit            what speaks against the kit; empty where nothing does, None where it is not known
    air            trapped air as found and what is let pass, m³, None where no strokes told
    yielding       what the strokes say of yielding, None where they are silent
    temperature    lowest and highest of the water while it was under pressure
    looked_inside  the day of the last look, and what it showed
    surveyed       the day of the wall's last reading, where one is known
    looked_watch   the last look inside found something to be watched
    looked_unsound  what a look inside found that is not sound
    relief_proven  lift of the relief valve as it was last tried; relief_tried, on which day
    relief_void    why what was tried of the valve does not stand: it was hurt, reset or off since; None where it does
    yielded_before that it yielded in a trial before, and nobody looked at it since; None where not
    yielded_once   that it yielded in a trial before, seen to or not; None where not
    steamed        the day of the last steam trial that was passed
    steam_void     why it does not stand, or not for so much; None where it does
    kit_unknown    what is not known of the kit
    skipped        stages whose pause was not kept, of how many; None where no run was
    stood          down to what the pressure fell during the hold though the verdict is tight, Pa
    hurt           what happened to the vessel since the hold that voids its proof
    valve          what a relief valve's trial says; None where it is none
    soap           what soap showed, section by section; None where it is not asked for
    kept           what was measured of its expansion says: met, not met or not known, and why; None where nothing was
    measures       it is an expansion trial: that it kept no set is asked for
    joint          what a joint's turns say: dry, not dry or not known, and why; None where it is none of tightening
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
    fitting_leak: str | None = None
    mended: str | None = None
    put_right: tuple[str, ...] = ()
    tries_tightness: bool = True
    rigs_own: bool = False
    against: tuple[bool | None, Said] | None = None
    burst: tuple[bool | None, Said] | None = None
    held_on: datetime.date | None = None
    kit: tuple[str, ...] | None = None
    air: tuple[float, float] | None = None
    yielding: str | None = None
    temperature: tuple[float, float] | None = None
    looked_inside: tuple[datetime.date, str] | None = None
    surveyed: datetime.date | None = None
    looked_unsound: str | None = None
    looked_watch: bool = False
    relief_proven: float | None = None
    relief_tried: datetime.date | None = None
    relief_void: Said | None = None
    yielded_before: Said | None = None
    yielded_once: Said | None = None
    steamed: datetime.date | None = None
    steam_void: Said | None = None
    kit_unknown: str | None = None
    skipped: tuple[tuple[str, ...], int] | None = None
    stood: float | None = None
    hurt: str | None = None
    valve: Said | None = None
    hot: tuple[bool | None, Said] | None = None
    steam_failed: str | None = None
    soap: SoapMap | None = None
    kept: tuple[bool | None, Said] | None = None
    measures: bool = False
    joint: tuple[bool | None, Said] | None = None
    practice: bool = False


def ledger(seen: TrialEvidence) -> list[Evidence]:
    """Every line of the evidence, in the order in which the job is done; of a valve's trial what bears on the valve."""
    if seen.valve is not None:
        return [_plate(seen), _kit(seen), _relief(seen)]
    if seen.burst is not None:
        return [_kit(seen), _line(BURST, *seen.burst, "bench")]
    if seen.hot is not None:
        return [_plate(seen), _kit(seen), _leak(seen), _line(STEAM, *seen.hot, "bench")]
    return [
        _plate(seen),
        _wall(seen),
        _looked_inside(seen),
        _year(seen),
        _kit(seen),
        _air(seen),
        _temperature(seen),
        *_pauses(seen),
        *_reached(seen),
        *_soap(seen),
        _held(seen),
        _tight(seen),
        _leak(seen),
        *([_line("baseline", *seen.against, "plan")] if seen.against is not None else []),
        *([_line(TURNED, *seen.joint, "bench")] if seen.joint is not None else []),
        _set(seen),
        _line("mend", not (seen.mended or seen.fitting_leak or seen.rig_leak), _open(seen), "bench"),
        _relief(seen),
        *_steam(seen),
    ]


def _or(code: str, form: str, **fact: Any) -> Said:
    """What a line says where its one fact is known, else what it says without."""
    known = next(iter(fact.values()))
    return say(f"evidence.{code}-{form}", **fact) if known else say(f"evidence.{code}-says")


def _plate(seen: TrialEvidence) -> Evidence:
    met = None if seen.plate is None else seen.wanted <= seen.plate
    says = say("evidence.plate-says", wanted=seen.wanted, plate=seen.plate)
    return _line("plate", met, says, "vessel", [_compared("P ≤ P_plate", seen.wanted, seen.plate, "the plate")])


def _wall(seen: TrialEvidence) -> Evidence:
    met = (
        seen.wanted <= seen.allowable
        if seen.allowable is not None and seen.wall_measured and seen.allowable_known
        else None
    )
    says = say(
        "evidence.wall-says" if seen.wall_measured else "evidence.wall-says-unmeasured", allowable=seen.allowable
    )
    source = "design stress, joint and wall less corrosion"
    return _line("wall", met, says, "vessel", [_compared("P ≤ P_allowable", seen.wanted, seen.allowable, source)])


def _looked_inside(seen: TrialEvidence) -> Evidence:
    """A look inside within a year; of a receiver a survey of its wall does in its place (procedures, the ledger)."""
    fresh = seen.looked_inside is not None and (seen.on - seen.looked_inside[0]).days <= 366
    surveyed = seen.kind == "receiver" and seen.surveyed is not None and (seen.on - seen.surveyed).days <= 366
    if surveyed and not fresh and not seen.looked_unsound:
        return _line(LOOKED, True, say("ledger.survey", on=seen.surveyed), "vessel")
    if seen.looked_inside is None:
        return _line(LOOKED, None, say("evidence.unrecorded"), "vessel")
    if seen.looked_watch:
        day, showed = seen.looked_inside
        says = say("ledger.look-watch", on=day, text=showed or "–", months=WATCH_MONTHS)
        return _line(LOOKED, seen.on <= add_months(day, WATCH_MONTHS), says, "vessel")
    day, showed = seen.looked_inside
    says = say("evidence.looked-says-showed" if showed else "evidence.looked-says", on=day, showed=showed)
    return _line(LOOKED, fresh and not seen.looked_unsound, says, "vessel")


def _year(seen: TrialEvidence) -> Evidence:
    if seen.retire is None:
        return _line("year", None, say("evidence.year-unknown"), "vessel")
    return _line("year", seen.on.year <= seen.retire, say("evidence.year-says", year=seen.retire), "vessel")


def _kit(seen: TrialEvidence) -> Evidence:
    if seen.kit:
        return _line("kit", False, say("evidence.kit-against", against=list(seen.kit)), "kit")
    if seen.kit is None or seen.kit_unknown:
        return _line("kit", None, seen.kit_unknown or say("evidence.unknown"), "kit")
    return _line("kit", True, say("evidence.kit-says"), "kit")


def _air(seen: TrialEvidence) -> Evidence:
    if seen.air is None:
        return _line("air", None, say("evidence.air-unknown"), "bench")
    found, limit = seen.air
    shown = amount(found, "volume", "mL", figures=2)
    numbers = joined(shown, ", ", amount(limit, "volume", "mL", figures=2))
    line = Line(
        figure="air",
        symbol="V_a",
        formula="V_a ≤ V_limit",
        numbers=numbers,
        value=found,
        unit="m³",
        shown=shown,
        source="the strokes: pumped volume against pressure",
    )
    return _line("air", found <= limit, say("evidence.air-says", found=found, limit=limit), "bench", [line])


def _temperature(seen: TrialEvidence) -> Evidence:
    if seen.temperature is None:
        return _line("temperature", None, say("evidence.temperature-unknown"), "bench")
    low, high = seen.temperature
    shown = amount(low, "temperature", figures=3)
    numbers = joined(shown, " to ", amount(high, "temperature", figures=3))
    line = Line(
        figure="temperature",
        symbol="T",
        formula="7 °C ≤ T ≤ 48 °C",
        numbers=numbers,
        value=low,
        unit="K",
        shown=shown,
        source="handbook of the job, medium and temperature",
    )
    inside = low >= COLDEST and high <= HOTTEST
    return _line("temperature", inside, say("evidence.temperature-says", low=low, high=high), "bench", [line])


def _pauses(seen: TrialEvidence) -> list[Evidence]:
    if seen.skipped is None or seen.skipped[1] == 0:
        return []
    names, count = seen.skipped
    says = say("evidence.pauses-skipped", names=list(names)) if names else say("evidence.pauses-says", count=count)
    return [_line("pauses", not names, says, "bench")]


def _reached(seen: TrialEvidence) -> list[Evidence]:
    """How high it was held, that it was not overshot, and that it stayed inside the ceiling."""
    fell = seen.stood is not None and seen.reached is not None and seen.stood < seen.reached - 2 * seen.slack
    form = "evidence.reached-says-stood" if fell else "evidence.reached-says"
    says = say(form, reached=seen.reached, asked=seen.target, stood=seen.stood)
    met = None if seen.reached is None else seen.reached >= seen.target * (1 - 1e-6)
    source = "gauge target of the plan, with its head"
    found = [_line("reached", met, says, "bench", [_compared("P_held ≥ P_target", seen.reached, seen.target, source)])]
    highest = seen.highest if seen.highest is not None else seen.reached
    if seen.band is not None:
        most = seen.band[1]
        over = None if highest is None else highest <= most * (1 + 1e-6) + seen.slack
        lines = [_compared("P_highest ≤ P_target + 5 %", highest, most, "tolerance −0 / +5 %")]
        found.append(_line("overshot", over, say("evidence.overshot-says", highest=highest, most=most), "bench", lines))
    lines = [_compared("P_highest ≤ P_ceiling", highest, seen.ceiling, "0.9 of yield, weakest part or maker's limit")]
    within = None if seen.ceiling is None else (highest or 0) <= seen.ceiling + seen.slack
    return [*found, _line("ceiling", within, say("evidence.ceiling-says", ceiling=seen.ceiling), "plan", lines)]


def _soap(seen: TrialEvidence) -> list[Evidence]:
    if seen.soap is None:
        return []
    soap = seen.soap
    marked = soap.sections - len(soap.unmarked)
    if soap.leaks:
        says = say("evidence.soap-leaks", where=[f"{name}, {grade}" for _, name, grade in soap.leaks])
        return [_line("soap", False, says, "bench")]
    if not marked:
        return [_line("soap", None, say("evidence.soap-none"), "bench")]
    if soap.unmarked:
        says = say("evidence.soap-some", marked=marked, all=soap.sections, unmarked=list(soap.unmarked))
        return [_line("soap", None, says, "bench")]
    if soap.least is None or soap.least < SOAPED_AT * (seen.target - seen.head):
        says = say("evidence.soap-low", all=soap.sections, least=soap.least, asked=seen.target - seen.head)
        return [_line("soap", None, says, "bench")]
    return [_line("soap", True, say("evidence.soap-says", all=soap.sections, least=soap.least), "bench")]


def _held(seen: TrialEvidence) -> Evidence:
    long, asked = (amount(t, "time") for t in (seen.held, seen.asked))
    line = Line(
        figure="held",
        symbol="t",
        formula="t ≥ t_asked",
        numbers=joined(long, ", ", asked),
        value=seen.held,
        unit="s",
        shown=long,
        source="the plan's hold",
    )
    says = say("evidence.held-says", held=seen.held, asked=seen.asked)
    return _line("held", seen.held >= seen.asked * (1 - 1e-6), says, "bench", [line])


def _tight(seen: TrialEvidence) -> Evidence:
    met = None if seen.verdict in (None, "cannot-tell") else seen.verdict == "tight"
    says = say("evidence.tight-says", verdict=seen.verdict_says) if seen.verdict_says else say("evidence.tight-unknown")
    return _line("tight", met, says, "hold")


def _leak(seen: TrialEvidence) -> Evidence:
    met = False if seen.boundary_leak else None if seen.reached is None else True
    if not seen.boundary_leak and seen.put_right:
        return _line("leak", met, say("evidence.leak-put-right", where=list(seen.put_right)), "bench")
    return _line("leak", met, _or("leak", "where", where=seen.boundary_leak), "bench")


def _set(seen: TrialEvidence) -> Evidence:
    """That it kept no set: by what it gave and kept, else by its strokes, which can only speak against it."""
    if seen.yielded_before is not None:
        return _line("set", False, seen.yielded_before, "vessel")
    if seen.yielding:
        again = seen.yielded_once
        says = (
            _or("set", "yielding", yielding=seen.yielding)
            if again is None
            else say("evidence.set-yields-again", yielding=seen.yielding, happened=again)
        )
        return _line("set", False, says, "bench")
    if seen.kept is not None:
        return _line("set", seen.kept[0], seen.kept[1], "bench")
    return _line("set", None, say("evidence.set-says"), "bench")


def _relief(seen: TrialEvidence) -> Evidence:
    most = may_lift_at(seen.kind, seen.wanted)
    if seen.relief_set is not None and seen.relief_set > most * (1 + 1e-6):
        return _line(RELIEF, False, say("evidence.relief-over", set=seen.relief_set, wanted=most), "vessel")
    if seen.relief_proven is not None and seen.relief_void is not None:
        return _line(RELIEF, None, seen.relief_void, "vessel")
    if seen.relief_proven is None:
        return _line(RELIEF, None, say("evidence.relief-unproven", set=seen.relief_set), "vessel")
    if seen.relief_tried is not None and (seen.on - seen.relief_tried).days > 366:
        says = say("evidence.relief-long-ago", lifts=seen.relief_proven, on=seen.relief_tried)
        return _line(RELIEF, False, says, "vessel")
    return _line(
        RELIEF,
        lifts_in_time(seen.relief_proven, most, [p for p in (seen.plate, seen.allowable) if p]),
        say("evidence.relief-lifts", lifts=seen.relief_proven),
        "vessel",
    )


def _steam(seen: TrialEvidence) -> list[Evidence]:
    if seen.kind != "boiler":
        return []
    if seen.steam_failed:
        return [_line(STEAM, False, say("evidence.steam-failed", text=seen.steam_failed), "vessel")]
    if seen.steamed is None:
        return [_line(STEAM, None, say("evidence.unrecorded"), "vessel")]
    if seen.steam_void is not None:
        return [_line(STEAM, None, seen.steam_void, "vessel")]
    return [_line(STEAM, (seen.on - seen.steamed).days <= 366, say("evidence.steam-says", on=seen.steamed), "vessel")]


def _open(seen: TrialEvidence) -> Said:
    if seen.mended is not None:
        return say("evidence.mend-unheld", mended=seen.mended)
    if seen.fitting_leak is not None:
        return say("evidence.mend-fitting", where=seen.fitting_leak)
    return say("evidence.mend-rig", where=seen.rig_leak) if seen.rig_leak else say("evidence.mend-says")


def _compared(formula: str, one: float | None, other: float | None, source: str) -> Line | None:
    """Two pressures side by side; None where one is not known."""
    if one is None or other is None:
        return None
    shown = amount(one, "pressure")
    numbers = joined(shown, ", ", amount(other, "pressure"))
    return Line(
        figure="evidence",
        symbol=formula.split()[0],
        formula=formula,
        numbers=numbers,
        value=one,
        unit="Pa",
        shown=shown,
        source=source,
    )


def _line(code: str, met: bool | None, says: str, rests_on: Rests, lines: Sequence[Line | None] = ()) -> Evidence:
    state: State = "not known" if met is None else "met" if met else "not met"
    shown = [line for line in lines if line is not None]
    return Evidence(code=code, name=say(f"evidence.{code}"), state=state, says=says, rests_on=rests_on, lines=shown)
