"""Draw the demo workshop's placeholder pictures and its one paper. They are drawings and say so: nobody's photos.

usage: .venv/bin/python tools/demo_pictures.py
"""

import io
import sys
from collections.abc import Callable
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont
from reportlab.pdfgen.canvas import Canvas

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))
from toadbell.records.pictures import cleaned  # noqa: E402

DEMO = TOP / "demo"
FONT = ImageFont.truetype(TOP / "toadbell" / "records" / "paper" / "fonts" / "text.ttf", 22)
GROUND, PAPER, INK, RULE, WATER, RUST = "#E7E4D3", "#FBFAF4", "#16302B", "#B9BEA9", "#1877A6", "#A9622B"
Pen = ImageDraw.ImageDraw


def main() -> None:
    """Each picture into its vessel's folder."""
    for path, (draw, says) in PICTURES.items():
        picture = Image.new("RGB", (640, 480), GROUND)
        pen = ImageDraw.Draw(picture)
        draw(pen)
        pen.rectangle((0, 436, 640, 480), fill=PAPER)
        pen.text((16, 446), f"{says} (drawn)", font=FONT, fill=INK)
        out = io.BytesIO()
        picture.save(out, "PNG")
        (DEMO / path).write_bytes(cleaned(out.getvalue()).data)
        print(path)
    (DEMO / "perry-tank" / "plate.pdf").write_bytes(cleaned(_plate()).data)


def _plate() -> bytes:
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(420, 298), invariant=1)
    canvas.rect(20, 20, 380, 258)
    for y, text in (
        (240, "BRITE TANK 60 L"),
        (205, "Greatest pressure 2 bar"),
        (180, "Stainless 304, 1.5 mm"),
        (155, "Made 2015"),
    ):
        canvas.drawString(50, y, text)
    canvas.drawString(50, 50, "Made-up plate of a made-up tank, for the demo workshop.")
    canvas.save()
    return out.getvalue()


def _drops(pen: Pen, x: int, y: int, many: int) -> None:
    for n in range(many):
        top = y + 46 * n
        pen.polygon([(x, top), (x - 9, top + 22), (x + 9, top + 22)], fill=WATER)
        pen.ellipse((x - 9, top + 13, x + 9, top + 31), fill=WATER)


def _shell(pen: Pen) -> None:
    pen.rectangle((0, 60, 640, 230), fill=PAPER, outline=INK, width=4)
    for x in range(20, 640, 44):
        pen.line((x, 64, x - 30, 226), fill=RULE, width=2)


def bush(pen: Pen) -> None:
    _shell(pen)
    pen.rectangle((260, 230, 380, 262), fill=RUST, outline=INK, width=4)
    pen.polygon([(280, 262), (360, 262), (345, 318), (295, 318)], fill=PAPER, outline=INK, width=4)
    _drops(pen, 286, 326, 2)


def spear(pen: Pen) -> None:
    pen.pieslice((120, 150, 520, 620), 180, 360, fill=PAPER, outline=INK, width=4)
    pen.rectangle((280, 90, 360, 170), fill=RUST, outline=INK, width=4)
    pen.line((470, 250, 505, 320), fill="#FFFFFF", width=9)
    _drops(pen, 372, 150, 3)


def end_cap(pen: Pen) -> None:
    pen.rectangle((60, 160, 470, 300), fill="#D9C79A", outline=INK, width=4)
    pen.rectangle((470, 140, 540, 320), fill=RULE, outline=INK, width=4)
    for y in range(90, 380, 32):
        pen.line((470, 170, 620, y), fill=WATER, width=3)


def seam(pen: Pen) -> None:
    _shell(pen)
    pen.line((0, 230, 640, 230), fill=RUST, width=10)
    for n, x in enumerate(range(300, 470, 22)):
        r = 8 + (n * 7) % 13
        pen.ellipse((x - r, 244, x + r, 244 + 2 * r), outline=WATER, width=4)


def cock(pen: Pen) -> None:
    pen.rectangle((0, 260, 640, 436), fill="#5C7FA6", outline=INK, width=4)
    pen.rectangle((280, 160, 360, 260), fill=RUST, outline=INK, width=4)
    pen.rectangle((210, 110, 430, 140), fill=INK)
    for n in range(6):
        pen.ellipse((360 + 16 * n, 170 - 14 * n, 384 + 16 * n, 194 - 14 * n), outline=PAPER, width=4)


def head(pen: Pen) -> None:
    pen.ellipse((120, 20, 520, 420), fill="#C79A63", outline=INK, width=6)
    for x in range(180, 500, 62):
        pen.line((x, 60, x, 380), fill=INK, width=3)
    _drops(pen, 304, 210, 4)


def inside(pen: Pen) -> None:
    pen.ellipse((100, 10, 540, 430), fill=PAPER, outline=INK, width=6)
    pen.chord((106, 16, 534, 424), 55, 125, fill=RUST)
    for n in range(14):
        pen.ellipse((250 + 11 * n, 372 + (n * 17) % 30, 258 + 11 * n, 380 + (n * 17) % 30), fill=INK)


PICTURES: dict[str, tuple[Callable[[Pen], None], str]] = {
    "wharf-receiver/drain-bush.jpg": (bush, "Drain bush, weeping at the thread"),
    "wharf-receiver/inside.jpg": (inside, "Inside by lamp: rust along the bottom"),
    "cider-keg/spear.jpg": (spear, "Spear's seal, and the crease beside it"),
    "skylark/end-cap.jpg": (end_cap, "End cap at 37 bar"),
    "orchard-digester/gas-cock.jpg": (cock, "Gas cock under soap"),
    "lamp-oil-tank/seam.jpg": (seam, "Bottom seam under soap"),
    "vinegar-cask/head.jpg": (head, "Head of the cask, third board"),
}

if __name__ == "__main__":
    main()
