"""One line of a derivation: what a figure is, how it was worked out, and by whose rule."""

from pydantic import BaseModel, ConfigDict, Field

from toadbell.core.phrases import Sentence


class Line(BaseModel):
    """A line of working, the same in the browser, on paper and at the command line."""

    model_config = ConfigDict(frozen=True, defer_build=True)

    figure: str = Field(description="key of the answer that this line explains, e.g. test_pressure")
    symbol: str = Field(description="P_t")
    formula: str = Field(description="in symbols, 1.5 × P_b")
    numbers: Sentence = Field(description="the formula with its numbers, 1.5 × 8.5 bar; `with` in the open format")
    value: float = Field(description="SI")
    unit: str = Field(description="the SI unit of value")
    shown: Sentence = Field(description="the value in the person's unit, 12.75 bar")
    source: str = Field(description="the rule or the book it comes from")


def line_of(
    figure: str, symbol: str, formula: str, numbers: str, value: float | None, unit: str, shown: str, source: str
) -> list[Line]:
    """One line, or none where the figure is not known; the arguments are those of Line."""
    if value is None:
        return []
    return [
        Line(
            figure=figure,
            symbol=symbol,
            formula=formula,
            numbers=numbers,
            value=value,
            unit=unit,
            shown=shown,
            source=source,
        )
    ]
