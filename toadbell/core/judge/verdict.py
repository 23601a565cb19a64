"""The verdict, and the sentences a person would say."""

from typing import Literal

from toadbell.core import units
from toadbell.core.judge.answers import JudgeAnswer, LeakEstimate
from toadbell.core.lines import Line

CONFIDENCE = 0.98
"""The handbook asks for 97.5 %; a little more is asked of the model's own probability, for what no model knows (docs/judge-study.md)."""
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


def sentence(verdict: Verdict, leak: LeakEstimate, limit: float) -> str:
    """The verdict in a sentence; leaks m³/s."""
    asked = show_leak(limit)
    if verdict == "tight":
        if leak.high < limit / 50:
            return f"Tight. No leak shows at all; the limit is {asked}."
        return f"Tight. If it leaks at all, it is less than {show_leak(min(leak.high, limit))}; the limit is {asked}."
    if verdict == "leaking":
        return f"Leaking. About {show_leak(leak.estimate)}, at least {show_leak(max(leak.low, limit))}; the limit is {asked}."
    least = "none" if leak.low < limit / 50 else show_leak(leak.low)
    return f"Cannot tell. The leak is somewhere between {least} and {show_leak(leak.high)}; the limit is {asked}."


def school_sentence(answer: JudgeAnswer, thermometer: bool, unit: str) -> str | None:
    """Why the school's plain answer is not the tool's, in a sentence; None where both agree or the school has none."""
    met = answer.school.met
    if met is None or (met and answer.verdict == "tight") or (not met and answer.verdict == "leaking"):
        return None
    drop, K = units.write(abs(answer.drop), "pressure", unit, figures=2), answer.kelvin_to_explain
    degrees = "a little" if K is None else units.write(abs(K), "temperature_difference", "delta_degC", figures=2)
    went = "cooling" if (K or 0) > 0 else "warming"
    if not met and answer.verdict == "tight":
        return f"By the gauge alone it would not pass: it fell {drop}. That is what {degrees} of {went} does, and the thermometer saw it."
    if met and answer.verdict == "leaking":
        if answer.drop <= 0:
            return f"By the gauge alone it would pass: the pressure did not fall. Warming held it up while the vessel lost {_lost(answer)}."
        return f"By the gauge alone it would pass, with a fall of {drop}. Warming hid the rest: the vessel lost {_lost(answer)}."
    moved = "rose" if answer.drop < 0 else "fell"
    if not thermometer:
        return f"By the gauge alone it would {'pass' if met else 'not pass'}. But it {moved} {drop}, and {degrees} of {went}, which nobody measured, does the same."
    return f"By the gauge alone it would {'pass' if met else 'not pass'}; what gauge and thermometer leave open is more than what is between it and the limit."


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
        _line("leak", "q", "C · (−dP/dt), temperature taken out", f"C = {C}; 95 % from {show_leak(a.leak.low)} to {show_leak(a.leak.high)}",
              a.leak.estimate, "m³/s", show_leak(a.leak.estimate), "Gaussian-process model of leak, warmth, settling and reading; Population Monte Carlo"))  # fmt: skip
    found.append(_line("limit", "q_limit", *limit_from, a.limit, "m³/s", show_leak(a.limit), "the acceptance chosen"))
    found.append(
        _line("confidence", "p", "probability that the leak at shut-in is no more than the limit",
              f"{a.confidence:.1%} of the probability is below {show_leak(a.limit)}; 98 % is asked on either side", a.confidence, "",
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
