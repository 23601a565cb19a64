"""Where to look next, in its order and why: what was touched since it was last dry, the rig's own joints, fittings, and
last the vessel's seams; among each what was the culprit most often before. What the log shows of it goes before that:
what gapes under pressure, or what has a gland.

Source: handbook of the job, finding leaks; procedures, the hunt.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from toadbell.core.hunt.shown import Shown
from toadbell.core.phrases import Said, say
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel.sections import sections_of

MOST = 6
"""More places than that are no order any more."""


POINTS_TO: dict[Shown, frozenset[str]] = {
    "opens": frozenset({"hand-hole", "plug", "sight-glass", "relief-valve"}),
    "gapes": frozenset({"hand-hole", "plug", "sight-glass"}),
    "warm": frozenset({"sight-glass", "gauge", "outlet", "feed"}),
}
"""What sits in an opening that a log points to: what is clamped on a gasket, a valve that is set; what has a gland or
is of two metals.
"""


@dataclass(frozen=True)
class Place:
    """A place to look at, and why it comes where it does."""

    name: str
    why: Said


def look_next(
    sheet: VesselSheet, touched: Sequence[str], culprits: Mapping[str, int], log: Sequence[Shown] = ()
) -> list[Place]:
    """The places to look at, the likeliest first.

    touched   names of what was mended or opened since it was last dry, the latest last
    culprits  how often each place leaked in this workshop, by its name
    log       what the log shows of the leak
    """
    found: dict[str, Place] = {}
    for name in reversed(touched):
        found.setdefault(name, Place(name, say("hunt.look-touched")))
    for what in log:
        for fitting in sheet.fittings:
            if fitting.fitted in POINTS_TO[what]:
                found.setdefault(fitting.name, Place(fitting.name, say(f"hunt.look-{what}")))
    order: tuple[tuple[Literal["rig", "fitting", "boundary"], str], ...] = (
        ("rig", "hunt.look-rig"),
        ("fitting", "hunt.look-fitting"),
        ("boundary", "hunt.look-seam"),
    )
    for owner, why in order:
        places = [str(section.name) for section in sections_of(sheet) if section.owner == owner]
        for name in sorted(places, key=lambda one: -culprits.get(one, 0)):
            often = culprits.get(name, 0)
            found.setdefault(
                name, Place(name, say("hunt.look-often", why=say(why), times=often) if often else say(why))
            )
    return list(found.values())[:MOST]
