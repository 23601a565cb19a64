"""Make the fonts that reports embed: the application's own faces at fixed weights, with the signs of formulas from a
sans that has them.

usage: python tools/fonts.py FOLDER_OF_DEJAVU    (needs fonttools[woff]; web/node_modules set up)
"""

import sys
from pathlib import Path

from fontTools import merge, subset
from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

ROOT = Path(__file__).parents[1]
TO = ROOT / "toadbell" / "records" / "paper" / "fonts"
FACES = {
    "text": ("atkinson-hyperlegible-next", 400),
    "bold": ("atkinson-hyperlegible-next", 700),
    "figures": ("atkinson-hyperlegible-mono", 400),
    "heading": ("bricolage-grotesque", 700),
}
LETTERS = [
    *range(0x20, 0x7F),
    *range(0xA0, 0x180),
    0x2010,
    0x2013,
    0x2014,
    *range(0x2018, 0x201F),
    0x2022,
    0x2026,
    0x20AC,
    0x2212,
]
SIGNS = [
    *range(0x391, 0x3CA),
    0x304,
    0x2032,
    0x2033,
    0x2044,
    *range(0x2070, 0x209C),
    *range(0x2150, 0x215F),
    *range(0x2190, 0x2194),
    0x2202,
    0x2206,
    0x2211,
    0x2212,
    0x221A,
    0x221E,
    0x222B,
    0x2248,
    0x2260,
    0x2264,
    0x2265,
    0x25CB,
    0x25CF,
    0x2713,
]


def main(dejavu: Path) -> None:
    """Write each face, and the signs, as a TrueType file, with their licences."""
    for name, (family, weight) in FACES.items():
        folder = ROOT / "web" / "node_modules" / "@fontsource-variable" / family
        parts, have = [], set[int]()
        for reach in ("latin", "latin-ext"):
            font = TTFont(folder / "files" / f"{family}-{reach}-wght-normal.woff2")
            instancer.instantiateVariableFont(font, {"wght": weight}, inplace=True)
            letters = [c for c in LETTERS if c in font.getBestCmap() and c not in have]
            have |= set(letters)
            parts.append(_cut(font, letters, TO / f".{len(parts)}.ttf"))
        found = merge.Merger(options=merge.Options(drop_tables=["GSUB", "GPOS", "GDEF", "DSIG", "STAT", "gasp"])).merge(
            parts
        )
        for record in found["name"].names:
            if record.nameID in (1, 4, 6, 16):
                record.string = f"ToadBell-{name}"
        found.save(TO / f"{name}.ttf")
        (TO / f"{family}.LICENSE.txt").write_text((folder / "LICENSE").read_text())
    _cut(TTFont(dejavu / "ttf" / "DejaVuSans.ttf"), SIGNS, TO / "signs.ttf")
    (TO / "signs.LICENSE.txt").write_text((dejavu / "LICENSE").read_text())
    for part in TO.glob(".*.ttf"):
        part.unlink()


def _cut(font: TTFont, letters: list[int], to: Path) -> str:
    options = subset.Options(hinting=False, layout_features=[], name_IDs=["*"], notdef_outline=True)
    cutter = subset.Subsetter(options)
    cutter.populate(unicodes=letters)
    cutter.subset(font)
    font.flavor = None
    font.save(to)
    return str(to)


if __name__ == "__main__":
    main(Path(sys.argv[1]))
