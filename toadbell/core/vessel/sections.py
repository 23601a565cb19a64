"""What is soaped or looked at one after the other: the rig's own joints, then fittings, then seams.

Source: procedures, the hunt: the rig first, so that its leaks are not read as the vessel's.
"""

from dataclasses import dataclass
from typing import Literal

from toadbell.core.phrases import Said, Sentence, say
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel.drawing import Drawing, drawing_of

Owner = Literal["boundary", "fitting", "rig"]
FIRST: tuple[Owner, ...] = ("rig", "fitting", "boundary")
"""Whose joints are looked at first."""


@dataclass(frozen=True)
class Section:
    """A stretch of seam, a joint or an opening; `x` and `v` are its place on the drawing seen from the front, m, None
    where the shape is not known.
    """

    id: str
    name: Sentence
    owner: Owner
    x: float | None = None
    v: float | None = None


def sections_of(sheet: VesselSheet) -> list[Section]:
    """The sections of a vessel as it stands on the bench, in the order in which they are walked."""
    shape = drawing_of(sheet)
    found = [Section("rig", say("section.rig"), "rig"), *_openings(sheet, shape), *_seams(shape)]
    return sorted(found, key=lambda one: FIRST.index(one.owner))


def _openings(sheet: VesselSheet, shape: Drawing) -> list[Section]:
    drawn = {one.name: one for one in shape.openings}
    found = []
    for opening in sheet.fittings:
        at = drawn.get(opening.name)
        kept = (opening.for_test or "keep") == "keep" and opening.stays_on
        found.append(
            Section(
                f"opening {opening.name}",
                opening.name,
                "fitting" if kept else "rig",
                at.x if at else None,
                at.v if at else None,
            )
        )
    return found


def _seams(shape: Drawing) -> list[Section]:
    places = _PLACES.get(shape.form, {"seams": (0.0, 0.0), "body": (0.0, 0.0)})
    known = shape.form in _PLACES and bool(shape.outline)
    first, last = (shape.outline[0].x, shape.outline[-1].x) if known else (0.0, 0.0)
    long, across = shape.length or last - first, (shape.diameter or 0.0) / 2
    names = places.items()
    found = []
    for code, (along, out) in names:
        if code == "tubes" and not shape.tubes:
            continue
        x = {-1.0: first, 2.0: last}.get(along, along * long)
        upright = shape.position == "standing" and f"section.{code}-standing" in _UPRIGHT
        name: Said = say(f"section.{code}-standing" if upright else f"section.{code}")
        found.append(Section(code, name, "boundary", x if known else None, out * across if known else None))
    return found


_UPRIGHT = frozenset(f"section.{code}-standing" for code in ("end-1", "end-2", "seam-1", "seam-2"))
_PLACES: dict[str, dict[str, tuple[float, float]]] = {
    "cylinder": {
        "end-1": (-1.0, 0.0),
        "seam-1": (0.0, 1.0),
        "long-seam": (0.5, 1.0),
        "seam-2": (1.0, 1.0),
        "end-2": (2.0, 0.0),
        "tubes": (-1.0, -0.5),
    },
    "sphere": {"round-seam": (0.5, 1.0), "body": (0.5, 0.0)},
    "drum": {"bottom-seam": (0.07, 0.0), "side-seam": (0.5, 1.0), "top-seam": (1.0, 0.0)},
    "box": {"bottom-seam": (0.07, 0.0), "corner-1": (0.5, 1.0), "corner-2": (0.5, -1.0), "top-seam": (1.0, 0.0)},
    "cask": {
        "head-1": (0.0, 0.0),
        "chime-1": (0.0, 0.8),
        "staves": (0.5, 0.0),
        "chime-2": (1.0, 0.8),
        "head-2": (1.0, 0.0),
    },
    "loop": {"body": (0.5, 0.0)},
}
"""The seams of each form: where along from the first seam (−1 and 2 are the poles of the ends), and how far out of the
axis, as parts of length and half breadth.
"""
