"""What the strokes tell, in words, with the lines of working."""

from toadbell.core import units
from toadbell.core.bench.stroke_answers import Estimate, StrokesAnswer
from toadbell.core.lines import Line, line_of
from toadbell.core.plan.pumping import FAILED_RATIO

SOURCE = "Handbook of the job: V (κ + ε) P + V_a P/(P_atm + P); generalised least squares"


def says(answer: StrokesAnswer, pressure_unit: str) -> tuple[str, list[str]]:
    """One sentence a person would say, and what to do about it."""
    assert answer.air is not None
    assert answer.air_part is not None
    assert answer.air_limit is not None
    air = f"Air left in {with_band(answer.air, 'mL')}, {answer.air_part:.2%} of the volume"
    limit = f"{answer.air_limit * 1e6:.3g} mL"
    if answer.state == "yielding":
        return _yielding(answer, pressure_unit)
    if answer.state == "air":
        return f"{air}: over the limit of {limit}.", [
            "Let the pressure go, open the vent at the highest point, and fill until no bubble comes."
        ]
    if answer.air.high > answer.air_limit:
        return f"{air}: whether that is over {limit} cannot be told yet.", [
            "Go on to the next stage: the curve tells air best low down, stiffness high up."
        ]
    return f"{air}: under the limit of {limit}. Straight so far: no sign of yielding.", []


def _yielding(answer: StrokesAnswer, unit: str) -> tuple[str, list[str]]:
    do = ["Stop pumping, dump, and look for a bulge before anything else. The wall may have grown for good: measure its girth."]
    lost = " That is over twice the strokes: this trial has failed." if failed(answer) else ""
    if answer.onset is None:
        return f"The last strokes raise the pressure {answer.ratio:.1f} times less than the straight part says: it is giving way.{lost}", do
    softer = f"{(answer.onset.softer - 1):.0%}"
    at = units.write(answer.onset.pressure, "pressure", unit, figures=3)
    bends = f"The curve bends over from about {at}: {softer} more strokes a bar at the top than water, wall and air need."
    return f"{bends} It is yielding.{lost}", do


def with_band(value: Estimate, unit: str) -> str:
    """54 ± 12 mL."""
    kind = "volume"
    number = units.from_si(value.estimate, unit, kind)
    half = (units.from_si(value.high, unit, kind) - units.from_si(value.low, unit, kind)) / 2
    return f"{number:.0f} ± {half:.0f} {unit}" if number >= 10 or half >= 1 else f"{number:.1f} ± {half:.1f} {unit}"


def lines_of(answer: StrokesAnswer, volume: float, readings: int, pressure_unit: str) -> list[Line]:
    """The lines of what was found. volume of the vessel, m³; pressure_unit in which they speak."""
    per = f"mL/{pressure_unit}"
    rows: list[Line] = []
    for figure, symbol, kind, unit, si in (("air", "V_a", "volume", "mL", "m³"), ("compliance", "S", "compliance", per, "m³/Pa")):
        found: Estimate | None = getattr(answer, figure)
        if found is None:
            continue
        low, high = (units.write(v, kind, unit, figures=3) for v in (found.low, found.high))
        shown = units.write(found.estimate, kind, unit, figures=3)
        numbers = f"{readings} readings: {shown}, 95 % between {low} and {high}"
        rows += line_of(
            figure, symbol, "fit of V_0 + S P + V_a P/(P + P_atm) to what was pumped", numbers, found.estimate, si, shown, SOURCE
        )
    if answer.air_limit is not None:
        litres, part = units.write(volume, "volume", "L"), answer.air_limit / volume
        shown = units.write(answer.air_limit, "volume", "mL", figures=3)
        rows += line_of(
            "air_limit", "V_a,max", f"{part:g} V", f"{part:g} × {litres}", answer.air_limit, "m³", shown, "the guard of the plan"
        )
    if answer.expected_compliance is not None:
        shown = units.write(answer.expected_compliance, "compliance", per, figures=3)
        rows += line_of(
            "expected_compliance", "S_plan", "V (κ_w + ε), or as it was measured", units.write(volume, "volume", "L"), answer.expected_compliance,
            "m³/Pa", shown, "IAPWS-95 through CoolProp; thin-shell membrane theory",
        )  # fmt: skip
    if answer.ratio is not None:
        rows += line_of(
            "ratio", "r", "strokes for the last part ÷ strokes that the part below 65 % says it needs", f"{answer.ratio:.2f}", answer.ratio, "1",
            f"{answer.ratio:.2f}", "Handbook of the job: stop over 1.5, failed over 2",
        )  # fmt: skip
    if answer.onset is not None:
        low, high, at = (
            units.write(v, "pressure", pressure_unit, figures=3) for v in (answer.onset.low, answer.onset.high, answer.onset.pressure)
        )
        rows += line_of(
            "onset", "P_y", "from where (P − P_y)²/2P_y fits beyond air, leak and warming", f"95 % between {low} and {high}", answer.onset.pressure,
            "Pa", at, SOURCE,
        )  # fmt: skip
    return rows


def failed(answer: StrokesAnswer) -> bool:
    """Over twice the straight part's strokes a bar is a failed trial."""
    return answer.ratio is not None and answer.ratio_sure and answer.ratio > FAILED_RATIO
