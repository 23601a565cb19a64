"""The verdict, and the sentences a person would say."""

from typing import Literal

from toadbell.core import units
from toadbell.core.judge.answers import JudgeAnswer, LeakEstimate
from toadbell.core.lines import Line

CONFIDENCE = 0.975
"""The handbook of the job asks for 97.5 %."""
DOUBTED = 0.995
"""So much is asked where gauge and thermometer contradict each other: one of them is wrong, and nobody knows by how much."""
CONTRADICTS = 0.8
"""Probability that the thermometer went its own way from where they do."""
SO_FAR = 0.995
"""While the hold runs, anyone may look again and again and stop at the first answer he likes: it has to be surer then."""

Verdict = Literal["tight", "leaking", "cannot-tell"]


def decide(below: float, confidence: float = CONFIDENCE) -> Verdict:
    """Tight or leaking when the leak is below the limit, or above, with such a probability, else cannot tell.

    below  probability that the leak is no more than the limit
    """
    if below >= confidence:
        return "tight"
    return "leaking" if below <= 1 - confidence else "cannot-tell"


def show_leak(q: float) -> str:
    """A leak as a person says it: in litres an hour from one on, which is air's way."""
    return units.write(q, "leak", "L/h" if abs(q) * 3600 >= 1e-3 else "mL/h", figures=2)


def as_said(verdict: Verdict, leak: LeakEstimate) -> float:
    """The leak that its equivalents are given for, m³/s: what it is where it leaks, else the most that it may be."""
    return leak.estimate if verdict == "leaking" else leak.high


def sentence(verdict: Verdict, leak: LeakEstimate, limit: float, at: str) -> str:
    """The verdict in a sentence; leaks m³/s; `at` is the pressure that it speaks for, as a person reads it."""
    asked = show_leak(limit)
    if verdict == "tight":
        if leak.high < limit / 50:
            return f"Tight. Held at {at}, no leak shows at all; the limit is {asked}."
        return f"Tight. Held at {at}, it leaks less than {show_leak(min(leak.high, limit))} if at all; the limit is {asked}."
    if verdict == "leaking":
        return f"Leaking. At {at} about {show_leak(leak.estimate)}, at least {show_leak(max(leak.low, limit))}; the limit is {asked}."
    least = "none" if leak.low < limit / 50 else show_leak(leak.low)
    return f"Cannot tell. At {at} the leak is somewhere between {least} and {show_leak(leak.high)}; the limit is {asked}."


FELT = 0.005
"""Degrees that a person would not say, K."""


def seen_sentence(a: JudgeAnswer, unit: str) -> str:
    """What the needle did and what the temperature explains of it, from the figures."""
    moved = units.write(abs(a.drop), "pressure", unit, figures=2)
    over = units.write(a.hold, "time", "min", figures=3) if a.hold < 7200 else units.write(a.hold, "time", "h", figures=3)
    still = abs(a.drop) < 1e-9
    said = f"The needle stood still for {over}." if still else f"The needle {'fell' if a.drop > 0 else 'rose'} {moved} in {over}."
    warm = a.drop_from_temperature
    if warm is None:
        return f"{said} No temperature was read along with it."
    by = units.write(abs(warm), "pressure", unit, figures=2)
    if abs(warm) < 0.02 * max(abs(a.drop), abs(a.limit / a.compliance * a.hold)):
        return f"{said} The temperature hardly changed."
    went = "Cooling" if warm > 0 else "Warming"
    if still or warm * a.drop < 0:
        return f"{said} {went} by itself would have {'lowered' if warm > 0 else 'raised'} it by {by}."
    if abs(abs(warm) - abs(a.drop)) < 0.15 * abs(a.drop):
        return f"{said} {went} accounts for all of that."
    if abs(warm) > abs(a.drop):
        return f"{said} {went} by itself would have done more: {by}."
    return f"{said} {went} accounts for {by} of that."


def school_sentence(answer: JudgeAnswer, thermometer: bool, unit: str) -> str | None:
    """Why the school's plain answer is not the tool's, in a sentence; None where both agree or the school has none."""
    met = answer.school.met
    if met is None or (met and answer.verdict == "tight") or (not met and answer.verdict == "leaking"):
        return None
    drop, K, warm = units.write(abs(answer.drop), "pressure", unit, figures=2), answer.kelvin_to_explain, answer.drop_from_temperature
    degrees = None if K is None or abs(K) < FELT else units.write(abs(K), "temperature_difference", "delta_degC", figures=2)
    went, moved = "cooling" if (K or 0) > 0 else "warming", "rose" if answer.drop < 0 else "fell"
    by_gauge = f"By the gauge alone it would {'pass' if met else 'not pass'}"
    if not met and answer.verdict == "tight":
        if warm is not None and warm * answer.drop > 0 and abs(warm) >= abs(answer.drop) / 2 and degrees:
            return f"{by_gauge}: it {moved} {drop}. That is what {degrees} of {went} does, and the thermometer saw it."
        return f"{by_gauge}: it {moved} {drop}. Settling, or what gauge and thermometer cannot tell, is enough for that."
    if met and answer.verdict == "leaking":
        hid = warm is not None and warm < 0
        if hid and answer.drop <= 0:
            return f"{by_gauge}: the pressure did not fall. Warming held it up while the vessel lost {_lost(answer)}."
        if hid:
            return f"{by_gauge}, with a fall of {drop}. Warming hid the rest: the vessel lost {_lost(answer)}."
        return f"{by_gauge}, but what it lost, {_lost(answer)}, is more than the limit lets pass in that time."
    if not thermometer:
        if degrees is None:
            return f"{by_gauge}. But nobody measured the temperature, and a change too small to feel would hide a leak."
        return f"{by_gauge}. But it {moved} {drop}, and {degrees} of {went}, which nobody measured, does the same."
    return f"{by_gauge}; what gauge and thermometer leave open is more than what is between it and the limit."


def _lost(answer: JudgeAnswer) -> str:
    return units.write(answer.leak.estimate * answer.hold, "volume", "mL", figures=2)


def lines(a: JudgeAnswer, limit_from: tuple[str, str], unit: str) -> list[Line]:
    """The lines of working. limit_from: formula and numbers of the limit; unit: of pressure, as the person reads it."""
    drop, warm = units.write(a.drop, "pressure", unit, figures=3), a.drop_from_temperature
    minutes = units.write(a.hold, "time", "min", figures=3)
    found = [_line("drop", "ΔP", "P_first − P_last", f"over {minutes}", a.drop, "Pa", drop, "the readings")]
    if warm is not None:
        found.append(
            _line("drop_from_temperature", "ΔP_T", "−∫ V (β_w − 3α) dT / C", "along the logged temperatures", warm, "Pa",
                  units.write(warm, "pressure", unit, figures=3), "β_w: IAPWS-95 through CoolProp"))  # fmt: skip
    C = units.write(a.compliance, "compliance", figures=3)
    found.append(
        _line("compliance", "C", "V (κ_w + ε) + V_a P_atm/(P_atm + P)²" if a.compliance_from == "computed" else "measured",
              f"{a.compliance_from}", a.compliance, "m³/Pa", C, "handbook of the job, water, wall and air"))  # fmt: skip
    found.append(
        _line("leak", "q", "C · (−dP/dt) at shut-in, temperature taken out", f"C = {C}; 95 % from {show_leak(a.leak.low)} to {show_leak(a.leak.high)}",
              a.leak.estimate, "m³/s", show_leak(a.leak.estimate), "Gaussian-process model of leak, warmth, settling and reading; Population Monte Carlo"))  # fmt: skip
    if a.held_at is not None:
        found.append(_line("held_at", "P_held", "lowest of the stretch that is judged", f"over {minutes}", a.held_at, "Pa",
                           units.write(a.held_at, "pressure", unit), "the readings"))  # fmt: skip
    found.append(_line("limit", "q_limit", *limit_from, a.limit, "m³/s", show_leak(a.limit), "the acceptance chosen"))
    found.append(
        _line("confidence", "p", "probability that the leak at shut-in is no more than the limit",
              f"{a.confidence:.1%} of the probability is below {show_leak(a.limit)}; 97.5 % is asked on either side", a.confidence, "",
              f"{a.confidence:.1%}", "handbook of the job, the hold"))  # fmt: skip
    if a.smallest_leak_to_tell is not None:
        found.append(
            _line("smallest_leak_to_tell", "q_tell", "2.8 σ_q", f"after {minutes}", a.smallest_leak_to_tell, "m³/s",
                  show_leak(a.smallest_leak_to_tell), "told from none four times in five"))  # fmt: skip
    said = show_leak(as_said(a.verdict, a.leak))
    found += [
        _line("drops_a_minute", "n", "20 drops/mL · q", said, a.drops_a_minute, "1/min", f"{a.drops_a_minute:.2g} drops/min",
              "handbook of the job: 1 mL is 20 drops"),
        _line("pressure_rate", "dP/dt", "q / C", f"{said} / {C}", a.pressure_rate, "Pa/s",
              f"{units.write(a.pressure_rate * 3600, 'pressure', unit, figures=2)}/h", "handbook of the job, water, wall and air"),
    ]  # fmt: skip
    if a.kelvin_to_explain is not None:
        found.append(
            _line("kelvin_to_explain", "ΔT", "C ΔP / (V (β_w − 3α))", f"{C} × {drop}", a.kelvin_to_explain, "K",
                  units.write(a.kelvin_to_explain, "temperature_difference", "delta_degC", figures=2), "handbook of the job, temperature at constant mass"))  # fmt: skip
    return found


def _line(figure: str, symbol: str, formula: str, numbers: str, value: float, unit: str, shown: str, source: str) -> Line:
    return Line(figure=figure, symbol=symbol, formula=formula, numbers=numbers, value=value, unit=unit, shown=shown, source=source)
