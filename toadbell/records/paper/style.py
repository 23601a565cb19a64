"""Type and colours of paper: the application's own, with the signs of formulas from a face that has them."""

import re
from functools import cache
from pathlib import Path
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.enums import TA_RIGHT
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Paragraph

_FONTS = Path(__file__).parent / "fonts"
TEXT, BOLD, FIGURES, HEADING, SIGNS = "Atkinson-Text", "Atkinson-Bold", "Atkinson-Mono", "Bricolage-Bold", "Signs"
for _name, _file in ((TEXT, "text"), (BOLD, "bold"), (FIGURES, "figures"), (HEADING, "heading"), (SIGNS, "signs")):
    pdfmetrics.registerFont(TTFont(_name, _FONTS / f"{_file}.ttf"))
pdfmetrics.registerFontFamily(TEXT, normal=TEXT, bold=BOLD, italic=TEXT, boldItalic=BOLD)

INK, QUIET, RULE = HexColor("#16302B"), HexColor("#56675F"), HexColor("#CFD3C4")
WATER, WATER_SOFT, BRASS, BRASS_SOFT = (
    HexColor("#1877A6"),
    HexColor("#CFE3EC"),
    HexColor("#A97716"),
    HexColor("#F3E7CB"),
)
MOSS, VERMILION, VERMILION_SOFT, PAPER = (
    HexColor("#4B7A2B"),
    HexColor("#C8401C"),
    HexColor("#F6DCD2"),
    HexColor("#FFFFFF"),
)

BODY = ParagraphStyle("body", fontName=TEXT, fontSize=9.2, leading=12, textColor=INK)
SMALL = ParagraphStyle("small", BODY, fontSize=8, leading=10.2)
FAINT = ParagraphStyle("faint", SMALL, textColor=QUIET)
FIGURE = ParagraphStyle("figure", BODY, fontName=FIGURES, fontSize=8.4, leading=10.6)
RIGHT = ParagraphStyle("right", FIGURE, alignment=TA_RIGHT)
RIGHT_FAINT = ParagraphStyle("right-faint", FAINT, alignment=TA_RIGHT)
LEAD = ParagraphStyle("lead", BODY, fontName=BOLD, fontSize=11, leading=14)
TITLE = ParagraphStyle("title", BODY, fontName=HEADING, fontSize=22, leading=25)
PART = ParagraphStyle("part", BODY, fontName=HEADING, fontSize=12, leading=15, spaceBefore=7, spaceAfter=2)


@cache
def _letters(face: str) -> frozenset[int]:
    return frozenset(pdfmetrics.getFont(face).face.charToGlyph)


def marked(text: str, face: str = TEXT) -> str:
    """Text as mark-up: escaped, indices set low, signs that the face lacks set in one that has them."""
    runs = re.split(r"(_[A-Za-z]+)", text)
    return "".join(
        f"<sub>{_signed(run[1:], face)}</sub>" if run[:1] == "_" and len(run) > 1 else _signed(run, face)
        for run in runs
    )


def _signed(text: str, face: str) -> str:
    out, known = [], _letters(face)
    for own, run in re.findall(r"([\x00-\x7f]+)|([^\x00-\x7f])", text):
        sign = run and ord(run) not in known
        out.append(f'<font name="{SIGNS}">{escape(run)}</font>' if sign else escape(own or run))
    return "".join(out)


def para(text: str, style: ParagraphStyle = BODY, bold: str = "") -> Paragraph:
    """A paragraph, with some words in bold before it."""
    head = f'<font name="{BOLD}">{marked(bold, BOLD)}</font> ' if bold else ""
    return Paragraph(head + marked(text, style.fontName), style)
