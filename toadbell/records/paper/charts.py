"""The course of a run and its hold as drawings, for paper and as SVG.

They draw what the core answered and work nothing out.
"""

import math
import re
from dataclasses import dataclass

from reportlab.graphics import renderSVG
from reportlab.graphics.shapes import Circle, Drawing, Line, Polygon, PolyLine, Rect, String
from reportlab.lib.colors import Color
from reportlab.pdfbase.pdfmetrics import stringWidth

from toadbell.core import units
from toadbell.core.answers import DeriveAnswer
from toadbell.core.judge.answers import HoldPoint, JudgeAnswer
from toadbell.core.judge.verdict import show_leak
from toadbell.records.paper.style import (
    BRASS,
    BRASS_SOFT,
    FIGURES,
    INK,
    PAPER,
    QUIET,
    RULE,
    TEXT,
    VERMILION,
    VERMILION_SOFT,
    WATER,
    WATER_SOFT,
)

Points = list[tuple[float, float]]
SIZE = 7.6


@dataclass(frozen=True)
class Axes:
    """A frame with two scales; its box is left, bottom, right, top in points, its ranges are what is drawn in it."""

    drawing: Drawing
    box: tuple[float, float, float, float]
    across: tuple[float, float]
    up: tuple[float, float]

    def x(self, value: float) -> float:
        """Where a value stands across."""
        left, _, right, _ = self.box
        return left + (value - self.across[0]) / ((self.across[1] - self.across[0]) or 1) * (right - left)

    def y(self, value: float) -> float:
        """Where a value stands upward, kept inside the frame."""
        _, bottom, _, top = self.box
        return min(max(bottom + (value - self.up[0]) / ((self.up[1] - self.up[0]) or 1) * (top - bottom), bottom), top)

    def ruled(self, unit: str, below: str, lines: int = 4, foot: float | None = None) -> None:
        """Level lines with their figures, the time's figures under the frame (or at `foot`), and both units."""
        left, bottom, right, top = self.box
        for tick in ticks(*self.up, lines):
            self.drawing.add(Line(left, self.y(tick), right, self.y(tick), strokeColor=RULE, strokeWidth=0.6))
            self.text(left - 4, self.y(tick) - 2.5, f"{tick:.6g}", "end", face=FIGURES, colour=QUIET)
        foot = bottom if foot is None else foot
        for tick in ticks(*self.across, 7):
            self.text(self.x(tick), foot - 10, f"{tick:.6g}", "middle", face=FIGURES, colour=QUIET)
        self.text(left - 4, top + 3, unit, "end", colour=QUIET)
        self.text(right, foot - 19, below, "end", colour=QUIET)

    def text(
        self,
        x: float,
        y: float,
        says: str,
        anchor: str = "start",
        face: str = TEXT,
        colour: Color = INK,
        size: float = SIZE,
    ) -> None:
        """A word on the chart."""
        self.drawing.add(String(x, y, says, textAnchor=anchor, fontName=face, fontSize=size, fillColor=colour))

    def line(self, points: Points, colour: Color, width: float = 1.2, dashes: list[float] | None = None) -> None:
        """A line through values."""
        if len(points) >= 2:
            flat = [at for x, y in points for at in (self.x(x), self.y(y))]
            self.drawing.add(
                PolyLine(flat, strokeColor=colour, strokeWidth=width, strokeDashArray=dashes, strokeLineJoin=1)
            )

    def area(self, points: Points, colour: Color) -> None:
        """A surface between values."""
        self.drawing.add(
            Polygon([at for x, y in points for at in (self.x(x), self.y(y))], fillColor=colour, strokeColor=None)
        )


def ticks(low: float, high: float, about: int) -> list[float]:
    """Round values between two others, about so many: steps of 1, 2 or 5 times a power of ten."""
    if not high > low:
        return [low]
    rough = (high - low) / about
    power = 10 ** math.floor(math.log10(rough))
    step = next(power * times for times in (1, 2, 5, 10) if power * times >= rough * 0.999)
    first = math.ceil(low / step - 1e-9)
    return [round(n * step, 12) for n in range(first, math.floor(high / step + 1e-9) + 1)]


def course_chart(answer: DeriveAnswer, trace: Points, shift: float, unit: str, width: float, height: float) -> Drawing:
    """The run over the plan. trace  s from the start and Pa; shift  s from the start to where the plan begins; unit  of
    pressures.
    """

    def shown(pressure: float) -> float:
        return units.from_si(pressure, unit, "pressure")

    drawing = Drawing(width, height)
    plan = [((p.time + shift) / 60, shown(p.pressure)) for p in answer.profile]
    read = [(time / 60, shown(pressure)) for time, pressure in trace]
    end = max([time for time, _ in (*plan, *read)], default=1.0)
    axes = Axes(drawing, (38, 24, width - 4, height - 14), (0.0, end), (0.0, 1.08 * max(p for _, p in (*plan, *read))))
    if answer.behind_the_line is not None:
        from_, to = (
            axes.x((time + shift) / 60) for time in (answer.behind_the_line.begins, answer.behind_the_line.ends)
        )
        left, bottom, _, top = axes.box
        drawing.add(Rect(from_, bottom, to - from_, top - bottom, fillColor=BRASS_SOFT, strokeColor=None))
        axes.text(max(from_ + 3, left), top - 8, "nobody near", colour=BRASS)
    axes.ruled(unit, "minutes since the start")
    axes.line(plan, BRASS, 1.1, [4, 3])
    axes.line(read, WATER, 1.8)
    axes.text(width - 6, height - 8, "read", "end", colour=WATER)
    axes.text(width - 6 - stringWidth("read  ", TEXT, SIZE), height - 8, "planned,", "end", colour=BRASS)
    return drawing


def hold_chart(points: list[HoldPoint], verdict: JudgeAnswer, unit: str, width: float, height: float) -> Drawing:
    """The hold: as read, with the temperature taken out, fit and band, the limit as a wedge, temperature beneath."""

    def shown(pressure: float) -> float:
        return units.from_si(pressure, unit, "pressure")

    drawing = Drawing(width, height)
    warm = [(p.time / 60, p.temperature - 273.15) for p in points if p.temperature is not None]
    seen = any(p.corrected is not None for p in points)
    foot = 54 if warm else 0
    first, last = points[0], points[-1]
    values = [v for p in points for v in (p.pressure, p.corrected, p.high, p.low) if v is not None]
    limits = [(p.time / 60, shown(p.limit)) for p in points if p.limit is not None]
    low, high = min(values), max(values)
    if limits:
        low = max(min(low, last.limit or low), low - 2 * (high - low) - 0.002 * first.pressure)
    spare = 0.1 * (high - low or first.pressure * 0.01)
    axes = Axes(
        drawing,
        (44, 26 + foot, width - 4, height - 12),
        (0.0, last.time / 60),
        (shown(low - spare), shown(high + spare)),
    )
    if limits:
        top = limits[0][1]
        axes.area([limits[0], (limits[-1][0], top), limits[-1]], VERMILION_SOFT)
    band = [(p.time / 60, shown(p.high)) for p in points if p.high is not None]
    band += [(p.time / 60, shown(p.low)) for p in reversed(points) if p.low is not None]
    if len(band) > 3:
        axes.area(band, WATER_SOFT)
    axes.ruled(unit, "minutes since shut-in", 5, foot=26)
    axes.line(limits, VERMILION, 1.0, [5, 3])
    axes.line([(p.time / 60, shown(p.pressure)) for p in points], QUIET if seen else WATER, 1.4)
    axes.line([(p.time / 60, shown(p.fit)) for p in points if p.fit is not None], WATER, 1.6)
    if seen and len(points) <= 120:
        for p in points:
            if p.corrected is not None:
                at = axes.x(p.time / 60), axes.y(shown(p.corrected))
                drawing.add(Circle(*at, 1.7, fillColor=PAPER if p.cut else WATER, strokeColor=WATER, strokeWidth=0.6))
    for index, step in enumerate(verdict.steps, 1):
        _flag(axes, step.time / 60, index)
    _words(axes, verdict, seen)
    if warm:
        _temperature(drawing, warm, width, last.time / 60)
    return drawing


def _flag(axes: Axes, at: float, number: int) -> None:
    x, top = axes.x(at), axes.box[3]
    axes.drawing.add(Line(x, axes.box[1], x, top, strokeColor=BRASS, strokeWidth=0.9, strokeDashArray=[2, 3]))
    axes.drawing.add(Rect(x - 5, top - 6, 10, 10, fillColor=BRASS, strokeColor=None))
    axes.text(x, top - 3.5, str(number), "middle", colour=PAPER)


def _words(axes: Axes, verdict: JudgeAnswer, seen: bool) -> None:
    """What is what, above the frame, each word in the colour of its line."""
    told = [("as read", QUIET if seen else WATER), ("temperature taken out", WATER)] if seen else [("as read", WATER)]
    told += [("shaded: what a leak alone may have done", WATER), (f"the limit, {show_leak(verdict.limit)}", VERMILION)]
    x = axes.box[0] + 2
    for word, colour in told:
        axes.text(x, axes.box[3] + 4, word, colour=colour)
        x += stringWidth(word, TEXT, SIZE) + 10


def _temperature(drawing: Drawing, warm: Points, width: float, end: float) -> None:
    low, high = min(t for _, t in warm), max(t for _, t in warm)
    half, middle = max(0.06, (high - low) / 2), (low + high) / 2
    axes = Axes(drawing, (44, 30, width - 4, 60), (0.0, end), (middle - half, middle + half))
    for value in {round(low, 2), round(high, 2)} if high - low >= half else {round(high, 2)}:
        drawing.add(Line(axes.box[0], axes.y(value), axes.box[2], axes.y(value), strokeColor=RULE, strokeWidth=0.6))
        axes.text(axes.box[0] - 4, axes.y(value) - 2.5, f"{value:.2f}", "end", face=FIGURES, colour=QUIET)
    axes.line(warm, BRASS, 1.4)
    axes.text(width - 4, 65, "water, °C", "end", colour=BRASS)


def svg(drawing: Drawing) -> str:
    """The drawing as an SVG file of its own, in the application's type where it is at hand."""
    found: str = renderSVG.drawToString(drawing)
    found = re.sub(r"<!DOCTYPE[^>]*>", "", found)
    return found.replace("Atkinson-Text", "'Atkinson Hyperlegible Next', sans-serif").replace(
        "Atkinson-Mono", "'Atkinson Hyperlegible Mono', monospace"
    )
