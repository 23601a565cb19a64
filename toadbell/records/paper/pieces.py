"""Small pieces of a report: headings, tables, the tag, and figures in words."""

import datetime
from functools import partial
from typing import Any

from django.utils import timezone
from reportlab.graphics.shapes import Circle, Drawing, Line, Polygon, Rect, String
from reportlab.platypus import Flowable, Table

from toadbell.records.paper.style import (
    BODY,
    BOLD,
    BRASS,
    FAINT,
    FIGURES,
    INK,
    MOSS,
    PART,
    QUIET,
    RULE,
    TEXT,
    VERMILION,
    WATER,
    para,
)

Laid = partial(Table, hAlign="LEFT")
"""A table that begins where the text does, also on a page that was drawn smaller."""
TONES = {"fit": MOSS, "limited": BRASS, "tight": WATER, "not fit": VERMILION, "not proven": QUIET}
VALVE_TONES = {"good": MOSS, "reset": BRASS, "bad": VERMILION, "cannot-tell": QUIET}
NO_PADDING = [
    ("LEFTPADDING", (0, 0), (-1, -1), 0),
    ("RIGHTPADDING", (0, 0), (-1, -1), 0),
    ("TOPPADDING", (0, 0), (-1, -1), 0),
    ("BOTTOMPADDING", (0, 0), (-1, -1), 0),
]
TIGHT = [
    ("LEFTPADDING", (0, 0), (-1, -1), 0),
    ("RIGHTPADDING", (0, 0), (-1, -1), 8),
    ("TOPPADDING", (0, 0), (-1, -1), 0.6),
    ("BOTTOMPADDING", (0, 0), (-1, -1), 0.6),
]


def part(title: str) -> list[Flowable]:
    """A part's heading over its rule."""
    return [
        Laid(
            [[para(title, PART)]],
            ["100%"],
            style=[("LINEBELOW", (0, 0), (-1, -1), 1, INK), *NO_PADDING],
            spaceBefore=5,
            spaceAfter=3,
        )
    ]


def facts(rows: list[tuple[str, str]], width: float, names: float = 0.38) -> Table:
    """Names and values, one under the other."""
    return Laid(
        [[para(name, FAINT), para(value, BODY)] for name, value in rows],
        [names * width, (1 - names) * width],
        style=[("VALIGN", (0, 0), (-1, -1), "TOP"), *TIGHT],
    )


def in_columns(rows: list[tuple[str, str]], width: float) -> Table:
    """The same in two columns."""
    half = -(-len(rows) // 2)
    return Laid(
        [[facts(rows[:half], width / 2, 0.42), facts(rows[half:], width / 2, 0.42)]],
        [width / 2] * 2,
        style=[("VALIGN", (0, 0), (-1, -1), "TOP"), *NO_PADDING],
    )


def table(rows: list[list[Any]], widths: list[float]) -> Table:
    """Rows between hair lines."""
    return Laid(
        rows, widths, style=[("VALIGN", (0, 0), (-1, -1), "TOP"), ("LINEBELOW", (0, 0), (-1, -1), 0.5, RULE), *TIGHT]
    )


def tag(fitness: str, figure: str, day: str) -> Drawing:
    """The workshop tag: its shape says the same as its colour and its words."""
    w, h, c, tone = 146.0, 54.0, 13.0, TONES[fitness]
    tag = Drawing(w, h)
    corners = {
        "fit": [c, 1, w - 1, 1, w - 1, h - 1, c, h - 1, 1, h - c, 1, c],
        "limited": [1, 1, w - 1, 1, w - 1, h - c, w - c, h - 1, 1, h - 1],
        "tight": [c, 1, w - c, 1, w - 1, h / 2, w - c, h - 1, c, h - 1, 1, h / 2],
    }.get(fitness, [1, 1, w - 1, 1, w - 1, h - 1, 1, h - 1])
    tag.add(
        Polygon(
            corners,
            fillColor=None,
            strokeColor=tone,
            strokeWidth=1.5,
            strokeDashArray=[4, 3] if fitness == "not proven" else None,
        )
    )
    if fitness == "fit":
        tag.add(Circle(13, h / 2, 4, fillColor=None, strokeColor=tone, strokeWidth=1.4))
    if fitness == "not fit":
        tag.add(Line(1, 1, w - 1, h - 1, strokeColor=tone, strokeWidth=0.8))
    left = {"fit": 26, "tight": 20}.get(fitness, 12)
    tag.add(String(left, h - 18, fitness, fontName=BOLD, fontSize=11, fillColor=tone))
    tag.add(String(left, h - 33, figure if figure != "not known" else "", fontName=FIGURES, fontSize=11, fillColor=INK))
    tag.add(String(left, h - 46, day, fontName=TEXT, fontSize=8, fillColor=QUIET))
    return tag


def of_the_valve(valve: str, says: str, day: str) -> Drawing:
    """What hangs on a relief valve after its own test: none of the vessel's shapes, for it says nothing about it."""
    w, h, tone = 146.0, 54.0, VALVE_TONES[valve]
    tag = Drawing(w, h)
    tag.add(Rect(1, 1, w - 2, h - 2, rx=h / 2 - 1, ry=h / 2 - 1, fillColor=None, strokeColor=tone, strokeWidth=1.5))
    tag.add(String(18, h - 19, says, fontName=BOLD, fontSize=10, fillColor=tone))
    tag.add(String(18, h - 32, "the valve alone", fontName=TEXT, fontSize=8, fillColor=QUIET))
    tag.add(String(18, h - 44, day, fontName=TEXT, fontSize=8, fillColor=QUIET))
    return tag


def per_cent(part: float) -> str:
    """A probability, no surer than it can be."""
    return "over 99.9 %" if part > 0.999 else "under 0.1 %" if part < 0.001 else f"{100 * part:.3g} %"


def day(at: datetime.datetime | datetime.date | str | None) -> str:
    """A day in words."""
    if at is None:
        return "not begun"
    if isinstance(at, datetime.datetime):
        at = timezone.localdate(at)
    day = datetime.date.fromisoformat(at) if isinstance(at, str) else at
    return f"{day.day} {day.strftime('%B %Y')}"


def clock(at: datetime.datetime | None, began: datetime.datetime | None) -> str:
    """Time since the start."""
    if at is None or began is None:
        return "–"
    seconds = int((at - began).total_seconds())
    return f"{'−' if seconds < 0 else ''}{abs(seconds) // 3600}:{abs(seconds) % 3600 // 60:02d}:{abs(seconds) % 60:02d}"


def moment(at: datetime.datetime | None) -> str:
    """A day and a time in words, and in which zone."""
    if at is None:
        return "not begun"
    here = timezone.localtime(at)
    return f"{day(at)} at {here:%H:%M} ({timezone.get_current_timezone_name()})"
