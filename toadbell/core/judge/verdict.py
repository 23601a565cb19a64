"""The verdict, and the sentence a person would say."""

from statistics import NormalDist
from typing import Any, Literal

from toadbell.core import units
from toadbell.core.answers import JudgeAnswer
from toadbell.core.lines import Line

CONFIDENCE = 0.975


def decide(q: float, sd: float, limit: float) -> Literal["tight", "leaking", "cannot-tell"]:
    """Tight or leaking when the leak (m³/s, mean and 1 σ) is on one side of the limit with 97.5 %, else cannot tell."""
    below = NormalDist(q, sd).cdf(limit) if sd > 0 else float(q < limit)
    if below >= CONFIDENCE:
        return "tight"
    return "leaking" if below <= 1 - CONFIDENCE else "cannot-tell"


def in_words(answer: JudgeAnswer, *, thermometer: bool) -> dict[str, Any]:
    """The sentence, what would settle it, and the lines of working."""
    return {"says": _says(answer), "settle_it": _settle(answer, thermometer), "lines": _lines(answer, thermometer)}


def _leak(q: float) -> str:
    return units.write(q, "leak", "mL/h", figures=2)


def _says(a: JudgeAnswer) -> str:
    limit = _leak(a.limit)
    if a.verdict == "tight":
        if a.leak.high <= 0:
            return f"Tight. No leak shows at all; the limit is {limit}."
        return f"Tight. If it leaks at all, it is less than {_leak(a.leak.high)}; the limit is {limit}."
    if a.verdict == "leaking":
        return f"Leaking. About {_leak(a.leak.estimate)}, at least {_leak(a.leak.low)}; the limit is {limit}."
    low = _leak(max(0.0, a.leak.low))
    return f"Cannot tell. The leak is somewhere from {low} to {_leak(max(0.0, a.leak.high))}; the limit is {limit}."


def _settle(a: JudgeAnswer, thermometer: bool) -> list[str]:
    if a.verdict != "cannot-tell":
        return []
    found = []
    if a.more_hold_needed:
        found.append(f"Hold for {units.write(a.more_hold_needed, 'time', 'min', figures=3)} more.")
    if not thermometer:
        found.append("Read the water's temperature: without it, cooling or warming cannot be told from a leak.")
    if not a.more_hold_needed:
        found.append("A longer hold alone will not tell. A finer gauge, a thermometer that reads to 0.01 °C, or a steadier place may.")
    return found


def _lines(a: JudgeAnswer, thermometer: bool) -> list[Line]:
    drop, warm = units.write(a.drop, "pressure", figures=3), a.drop_from_temperature
    found = [
        Line(figure="drop", symbol="ΔP", formula="P_first − P_last", numbers=f"over {units.write(a.hold, 'time', 'min', figures=3)}", value=a.drop,
             unit="Pa", shown=drop, source="the readings")
    ]  # fmt: skip
    if thermometer and warm is not None:
        found.append(
            Line(figure="drop_from_temperature", symbol="ΔP_T", formula="−∫ V (β_w − 3α) dT / C", numbers="along the logged temperatures",
                 value=warm, unit="Pa", shown=units.write(warm, "pressure", figures=3), source="β_w: IAPWS-95 through CoolProp"))  # fmt: skip
    found.append(
        Line(figure="leak", symbol="q", formula="C · (−dP/dt), temperature taken out",
             numbers=f"C = {units.write(a.compliance, 'compliance', figures=3)}; 95 % from {_leak(a.leak.low)} to {_leak(a.leak.high)}",
             value=a.leak.estimate, unit="m³/s", shown=_leak(a.leak.estimate),
             source="generalised least squares with a random walk for what nobody saw"))  # fmt: skip
    found.append(
        Line(figure="limit", symbol="q_limit", formula="the acceptance as a leak", numbers=a.school.acceptance.replace("_", " "), value=a.limit,
             unit="m³/s", shown=_leak(a.limit), source="the plan"))  # fmt: skip
    return found
