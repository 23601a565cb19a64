"""The report of a trial as PDF, A4 or Letter: two pages, or all of it.

It shows what the record holds and works nothing out.
"""

import io
from typing import Any, Literal

from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import KeepInFrame, PageBreak, SimpleDocTemplate

from toadbell.records.paper.pieces import day
from toadbell.records.paper.sheet import Sheet
from toadbell.records.paper.style import BOLD, HEADING, INK, QUIET, TEXT
from toadbell.records.record import RecordOut
from toadbell.shed.models import Maker

SIZES = {"A4": A4, "Letter": LETTER}
MARGIN = 15 * mm
FOOT = "Own-use record. Not a certificate."


def report(record: RecordOut, maker: Maker, paper: Literal["A4", "Letter"] = "A4", full: bool = False) -> bytes:
    """The report as a PDF file. full  with every line of working, the log and all pictures; else two pages."""
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out,
        pagesize=SIZES[paper],
        leftMargin=MARGIN,
        rightMargin=MARGIN,
        topMargin=16 * mm,
        bottomMargin=17 * mm,
        invariant=1,
        title=f"{record.judge.vessel}, trial {record.judge.number}",
        author=record.judge.decision.by if record.judge.decision else record.planned_by,
        subject=FOOT,
        creator="Toad Bell",
        lang="en-GB",
    )
    sheet = Sheet(record, maker, document.width - 12)
    if full:
        story = [*sheet.first_page(), *sheet.working(), PageBreak(), *sheet.second_page(full=True), *sheet.appendix()]
    else:
        tall = document.height - 12
        pages = [
            KeepInFrame(document.width - 12, tall, page, mode="shrink")
            for page in (sheet.first_page(), sheet.second_page(full=False))
        ]
        story = [pages[0], PageBreak(), pages[1]]
    document.build(story, canvasmaker=_numbered(record))
    return out.getvalue()


def _numbered(record: RecordOut) -> Any:
    """A canvas that writes head and foot on each page, with how many pages there are."""
    head = f"{record.judge.vessel} · trial {record.judge.number} · {day(record.started_at)}"

    class Numbered(Canvas):
        def __init__(self, *args: Any, **kwargs: Any) -> None:
            super().__init__(*args, **kwargs)
            self._pages: list[dict[str, Any]] = []

        def showPage(self) -> None:
            self._pages.append(dict(self.__dict__))
            self._startPage()

        def save(self) -> None:
            for page in self._pages:
                self.__dict__.update(page)
                self._furniture(len(self._pages))
                super().showPage()
            super().save()

        def _furniture(self, pages: int) -> None:
            wide, tall = self._pagesize
            self.setStrokeColor(INK)
            self.setLineWidth(1)
            self.line(MARGIN, 13 * mm, wide - MARGIN, 13 * mm)
            self.setFillColor(INK)
            self.setFont(BOLD, 8)
            self.drawString(MARGIN, 9.2 * mm, FOOT)
            self.setFont(TEXT, 7.4)
            self.setFillColor(QUIET)
            self.drawString(
                MARGIN + stringWidth(FOOT, BOLD, 8) + 6,
                9.2 * mm,
                "Local codes, the club's inspector and the maker come first.",
            )
            self.drawString(MARGIN, 5.8 * mm, f"Worked out by Toad Bell's core {record.core}; trial {record.judge.id}")
            self.drawRightString(wide - MARGIN, 9.2 * mm, f"page {self._pageNumber} of {pages}")
            self.setFont(HEADING, 8.4)
            self.drawString(MARGIN, tall - 11 * mm, "Toad Bell")
            self.setFont(TEXT, 8)
            self.drawRightString(wide - MARGIN, tall - 11 * mm, head)

    return Numbered
