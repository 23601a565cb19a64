"""What is done about a leak, as a table: what each needs to stand before, and what it voids and asks for.

Sources: handbook of the job, finding and mending leaks; procedures, the hunt.
"""

from dataclasses import dataclass
from typing import Literal

from toadbell.core.phrases import Said, say

Owner = Literal["boundary", "fitting", "rig"]


@dataclass(frozen=True)
class Act:
    """A way of mending.

    hot         with a flame or an arc: nothing that holds vapour is near
    structural  of the boundary's own strength: what was proven before is void
    words       by which people tell of it
    seals       with a compound that may have to cure
    for_wood    of casks alone
    """

    id: str
    words: tuple[str, ...]
    hot: bool = False
    structural: bool = False
    seals: bool = False
    for_wood: bool = False

    @property
    def name(self) -> Said:
        """As people call it."""
        return say(f"hunt.{self.id}")


ACTS: dict[str, Act] = {
    act.id: act
    for act in (
        Act("tightened", ("tighten", "turned", "nipped")),
        Act("re-seated", ("re-seat", "reseat", "seated anew")),
        Act("re-sealed", ("re-seal", "reseal", "sealed", "taped"), seals=True),
        Act("replaced", ("replaced", "new washer", "renewed")),
        Act("soldered", ("solder",), hot=True, structural=True, seals=True),
        Act("brazed", ("braz",), hot=True, structural=True),
        Act("welded", ("weld",), hot=True, structural=True),
        Act("patched", ("patch",), structural=True, seals=True),
        Act(
            "ground",
            ("ground", "lapped"),
        ),
        Act("pegged", ("peg",), seals=True, for_wood=True),
        Act("wedged", ("wedge", "rush"), seals=True, for_wood=True),
    )
}
"""Every way of mending, by its id."""
TAKEN_APART_AT = 3
"""The third time that it is tightened it is taken apart instead."""


def told_as(text: str) -> Act | None:
    """The way of mending that a sentence tells of, the most dangerous first; None where it tells of none.

    >>> told_as("soldered, bottom seam, 40 mm").id
    'soldered'
    """
    low = text.lower()
    found = [act for act in ACTS.values() if any(word in low for word in act.words)]
    return max(found, key=lambda act: (act.hot, act.structural), default=None)


def asks_of(act: Act, owner: Owner, times: int = 1) -> Said:
    """What a mend voids, and what it asks for, in a sentence.

    times  so often was this leak tightened by now, this time too
    """
    if act.id == "tightened" and times >= TAKEN_APART_AT:
        return say("hunt.apart", times=times)
    if owner == "boundary" and act.structural:
        return say("hunt.asks-proof", act=act.name)
    if owner == "boundary":
        return say("hunt.asks-boundary", act=act.name)
    return say("hunt.asks-fitting" if owner == "fitting" else "hunt.asks-rig", act=act.name)
