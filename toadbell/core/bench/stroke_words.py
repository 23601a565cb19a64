"""What the strokes tell, in words, with the lines of working."""

from toadbell.core import units
from toadbell.core.bench.stroke_answers import Estimate, StrokesAnswer
from toadbell.core.lines import Line, line_of
from toadbell.core.phrases import Said, amount, joined, say
from toadbell.core.plan.pumping import FAILED_RATIO

SOURCE = "Handbook of the job: V (κ + ε) P + V_a P/(P_atm + P); generalised least squares"


def says(answer: StrokesAnswer) -> tuple[Said, list[Said]]:
    """One sentence a person would say, and what to do about it."""
    assert answer.air is not None
    assert answer.air_limit is not None
    if answer.state == "yielding":
        return _yielding(answer), [say("strokes.yielding-do")]
    form = "air-over" if answer.state == "air" else "air-open" if answer.air.high > answer.air_limit else "straight"
    told = say(f"strokes.{form}", air=with_band(answer.air, "mL"), part=answer.air_part, limit=answer.air_limit)
    return told, [] if form == "straight" else [say(f"strokes.{form}-do")]


def _yielding(answer: StrokesAnswer) -> Said:
    lost = say("strokes.lost" if failed(answer) else "strokes.not-lost")
    if answer.onset is None:
        return say("strokes.yielding-ratio", ratio=answer.ratio, lost=lost)
    return say("strokes.yielding", at=answer.onset.pressure, softer=answer.onset.softer - 1, lost=lost)


def with_band(value: Estimate, unit: str) -> str:
    """54 ± 12 mL."""
    kind = "volume"
    number = units.from_si(value.estimate, unit, kind)
    half = (units.from_si(value.high, unit, kind) - units.from_si(value.low, unit, kind)) / 2
    return f"{number:.0f} ± {half:.0f} {unit}" if number >= 10 or half >= 1 else f"{number:.1f} ± {half:.1f} {unit}"


def lines_of(answer: StrokesAnswer, volume: float, readings: int) -> list[Line]:
    """The lines of what was found. volume of the vessel, m³."""
    rows: list[Line] = []
    for figure, symbol, kind, unit, si in (
        ("air", "V_a", "volume", "mL", "m³"),
        ("compliance", "S", "compliance", None, "m³/Pa"),
    ):
        found: Estimate | None = getattr(answer, figure)
        if found is None:
            continue
        low, high = (amount(v, kind, unit, figures=3) for v in (found.low, found.high))
        shown = amount(found.estimate, kind, unit, figures=3)
        numbers = joined(f"{readings}", " readings: ", shown, ", 95 % between ", low, " and ", high)
        rows += line_of(
            figure,
            symbol,
            "fit of V_0 + S P + V_a P/(P + P_atm) to what was pumped",
            numbers,
            found.estimate,
            si,
            shown,
            SOURCE,
        )
    if answer.air_limit is not None:
        litres, part = amount(volume, "volume", "L"), answer.air_limit / volume
        shown = amount(answer.air_limit, "volume", "mL", figures=3)
        rows += line_of(
            "air_limit",
            "V_a,max",
            f"{part:g} V",
            joined(f"{part:g} × ", litres),
            answer.air_limit,
            "m³",
            shown,
            "the guard of the plan",
        )
    if answer.expected_compliance is not None:
        shown = amount(answer.expected_compliance, "compliance", None, figures=3)
        rows += line_of(
            "expected_compliance",
            "S_plan",
            "V (κ_w + ε), or as it was measured",
            amount(volume, "volume", "L"),
            answer.expected_compliance,
            "m³/Pa",
            shown,
            "IAPWS-95 through CoolProp; thin-shell membrane theory",
        )
    if answer.ratio is not None:
        rows += line_of(
            "ratio",
            "r",
            "strokes for the last part ÷ strokes that the part below 65 % says it needs",
            f"{answer.ratio:.2f}",
            answer.ratio,
            "1",
            f"{answer.ratio:.2f}",
            "Handbook of the job: stop over 1.5, failed over 2",
        )
    if answer.onset is not None:
        low, high, at = (
            amount(v, "pressure", figures=3) for v in (answer.onset.low, answer.onset.high, answer.onset.pressure)
        )
        rows += line_of(
            "onset",
            "P_y",
            "from where (P − P_y)²/2P_y fits beyond air, leak and warming",
            joined("95 % between ", low, " and ", high),
            answer.onset.pressure,
            "Pa",
            at,
            SOURCE,
        )
    return rows


def failed(answer: StrokesAnswer) -> bool:
    """Over twice the straight part's strokes a bar is a failed trial."""
    return answer.ratio is not None and answer.ratio_sure and answer.ratio > FAILED_RATIO
