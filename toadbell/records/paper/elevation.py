"""The vessel drawn to scale as it was tested, its openings numbered, its leaks pinned."""

import math

from reportlab.graphics.shapes import Circle, Drawing, Line, Polygon, Rect, String
from reportlab.lib.colors import Color

from toadbell.core.vessel import drawing as drawn
from toadbell.records.paper.style import BOLD, BRASS, INK, PAPER, RULE, TEXT, VERMILION, WATER_SOFT
from toadbell.trials.bench.shapes import LeakOut

ROOM = 26.0
"""Points left free round the vessel for openings and pins."""
GROUND = 18.0
"""How far over the ground the vessel stands, so that openings below find room."""


def elevation(shape: drawn.Drawing, order: list[str], leaks: list[LeakOut], width: float, height: float) -> Drawing:
    """The vessel in a space of so many points, with the pins of its leaks; openings are numbered by their place in
    `order`, all by name.
    """
    sheet = Drawing(width, height)
    if not shape.outline or shape.form == "loop":
        return _not_to_scale(sheet, shape, leaks)
    sine, cosine = math.sin(shape.tilt), math.cos(shape.tilt)

    def turned(x: float, v: float) -> tuple[float, float]:
        return x * cosine - v * sine, x * sine + v * cosine

    around = [turned(p.x, p.r) for p in shape.outline] + [turned(p.x, -p.r) for p in reversed(shape.outline)]
    left, right = min(x for x, _ in around), max(x for x, _ in around)
    low, high = min(z for _, z in around), max(z for _, z in around)
    base = 8.0 if shape.form in ("drum", "box") else GROUND + 12
    scale = min((width - 2 * ROOM) / (right - left), (height - ROOM - base - 2) / (high - low))
    shift = (width - (right - left) * scale) / 2

    def at(x: float, v: float) -> tuple[float, float]:
        a, b = turned(x, v)
        return shift + (a - left) * scale, base + (b - low) * scale

    sheet.add(Line(6, 8, width - 6, 8, strokeColor=INK, strokeWidth=1))
    for hatch in range(8, int(width) - 8, 7):
        sheet.add(Line(hatch, 8, hatch - 4, 4, strokeColor=RULE, strokeWidth=0.8))
    for part in (0.25, 0.75) if shape.form not in ("drum", "box") else ():
        foot = shift + (right - left) * scale * part
        sheet.add(Line(foot, 8, foot, base + (high - low) * scale * 0.25, strokeColor=INK, strokeWidth=0.9))
    flat = [c for x, z in around for c in (shift + (x - left) * scale, base + (z - low) * scale)]
    sheet.add(
        Polygon(
            flat, fillColor=WATER_SOFT if shape.level else PAPER, strokeColor=INK, strokeWidth=1.5, strokeLineJoin=1
        )
    )
    for opening in shape.openings:
        x, y = at(opening.x, opening.v)
        ox, oy = at(opening.x + opening.dx, opening.v + opening.dv)
        far = math.hypot(ox - x, oy - y) or 1.0
        out = 11.0 if abs(opening.facing) <= 0.72 else 0.0
        _dot(sheet, x + (ox - x) / far * out, y + (oy - y) / far * out, str(order.index(opening.name) + 1), INK)
    for number, leak in enumerate(leaks, 1):
        if leak.pin and leak.pin.view == "front":
            _pin(sheet, *at(leak.pin.x, leak.pin.v), number, leak)
    return sheet


def _not_to_scale(sheet: Drawing, shape: drawn.Drawing, leaks: list[LeakOut]) -> Drawing:
    """A long pipe drawn folded, or a vessel whose shape is not known."""
    width, height = sheet.width, sheet.height
    if shape.form == "loop":
        rows = 5
        for row in range(rows):
            y = 26 + row * (height - 52) / (rows - 1)
            sheet.add(Line(20, y, width - 20, y, strokeColor=INK, strokeWidth=2.2))
            if row < rows - 1:
                x = width - 20 if row % 2 == 0 else 20
                sheet.add(Line(x, y, x, y + (height - 52) / (rows - 1), strokeColor=INK, strokeWidth=2.2))
        says = "drawn folded, not to scale"
    else:
        sheet.add(
            Rect(
                30,
                24,
                width - 60,
                height - 56,
                fillColor=None,
                strokeColor=INK,
                strokeWidth=1.2,
                strokeDashArray=[4, 3],
            )
        )
        says = "its shape is not on record"
    sheet.add(String(width / 2, 6, says, textAnchor="middle", fontName=TEXT, fontSize=7.6, fillColor=INK))
    return sheet


def _dot(sheet: Drawing, x: float, y: float, mark: str, colour: Color) -> None:
    sheet.add(Circle(x, y, 6, fillColor=colour, strokeColor=PAPER, strokeWidth=0.6))
    sheet.add(String(x, y - 2.8, mark, textAnchor="middle", fontName=BOLD, fontSize=7.6, fillColor=PAPER))


def _pin(sheet: Drawing, x: float, y: float, number: int, leak: LeakOut) -> None:
    """Square where it is of the vessel itself, round elsewhere; its number is that of the list of leaks."""
    own = leak.owner == "boundary"
    tone = VERMILION if own else BRASS
    sheet.add(Line(x, y, x, y + 13, strokeColor=tone, strokeWidth=1.2))
    sheet.add(Circle(x, y, 1.8, fillColor=tone, strokeColor=None))
    if own:
        sheet.add(Rect(x - 5.5, y + 12, 11, 11, fillColor=tone, strokeColor=None))
    else:
        sheet.add(Circle(x, y + 17.5, 6, fillColor=tone, strokeColor=None))
    sheet.add(String(x, y + 14.8, str(number), textAnchor="middle", fontName=BOLD, fontSize=7.6, fillColor=PAPER))
