"""What each kind of vessel is asked for before it is fit for service, line by line, and how long each line holds.

Source: procedures, the ledger.
"""

from dataclasses import dataclass
from typing import Literal

from toadbell.core.kinds import KINDS
from toadbell.core.phrases import Said, say

Code = Literal[
    "proof",
    "tightness",
    "tightening",
    "gas-head",
    "relief",
    "steam",
    "looked",
    "year",
    "firings",
    "plate",
    "wall",
    "papers",
    "baseline",
    "design",
]
FIRINGS = 10
"""Firings that a chamber's proof is good for."""


@dataclass(frozen=True)
class Asked:
    """A line of a programme.

    code    of what it is
    asked   without it the vessel is never fit; otherwise it is said, and does not stop
    months  it holds for; None: for good, or until the occasion
    before  it is done before each use, whatever its date
    basis   of the trial that answers it
    write   the happening that answers it
    """

    code: Code
    asked: bool = True
    months: int | None = None
    before: bool = False
    basis: str | None = None
    write: str | None = None

    @property
    def name(self) -> Said:
        """As people call it."""
        return say(f"ledger.{self.code}")


def _proof(kind: str) -> Asked:
    return Asked("proof", months=KINDS[kind].proof_months, basis="")


def _tight(kind: str) -> Asked:
    return Asked("tightness", months=KINDS[kind].proof_months, basis="tight")


_RELIEF = Asked("relief", months=12, write="relief tried")
_LOOKED = Asked("looked", months=12, write="look inside")
_PAPERS = Asked("papers", asked=False, write="certificate")
_PLATE = Asked("plate", asked=False)
_WALL = Asked("wall", asked=False)
_ADVISED_LOOK = Asked("looked", asked=False, months=12, write="look inside")

PROGRAMMES: dict[str, tuple[Asked, ...]] = {
    "boiler": (
        _proof("boiler"),
        _RELIEF,
        Asked("steam", months=12, basis="steam", write="steam trial"),
        _PLATE,
        _WALL,
        _ADVISED_LOOK,
        _PAPERS,
    ),
    "receiver": (_proof("receiver"), _LOOKED, _RELIEF, Asked("year", asked=False), _PLATE, _WALL, _PAPERS),
    "fermenter": (
        _proof("fermenter"),
        Asked("tightness", before=True, basis="tight"),
        Asked("relief", before=True, write="relief tried"),
        _PLATE,
        _PAPERS,
    ),
    "chamber": (_proof("chamber"), Asked("firings", basis=""), _WALL, Asked("design", asked=False)),
    "digester": (Asked("gas-head", months=12, basis="gas-head"), Asked("relief", months=12, write="relief tried")),
    "pipework": (_proof("pipework"), Asked("baseline", asked=False, months=12, basis="baseline")),
    "joint": (Asked("tightening", basis="tightening"), _proof("joint")),
    **{kind: (_tight(kind),) for kind in ("sheet-tank", "cooler", "enclosure", "cask")},
}
"""By kind of vessel, in the order in which it is done."""


OFFERS = {
    "gas-head": frozenset({"digester", "sheet-tank"}),
    "relief": frozenset({"boiler", "receiver", "fermenter", "digester"}),
    "steam": frozenset({"boiler"}),
    "tightening": frozenset({"joint", "pipework"}),
    "baseline": frozenset(KINDS),
    "burst": frozenset({"chamber", "receiver", "joint", "pipework"}),
}
"""Kinds of trial that are for some kinds of vessel alone."""


def offered(kind: str) -> list[tuple[str, str]]:
    """The kinds of trial that a kind of vessel may be put to, its own first: each by its basis and its code."""
    own = KINDS[kind].basis
    found = [(own, own) if own in ("tight", "gas-head") else ("", "proof"), ("tight", "tight")]
    found += [(code, code) for code, kinds in OFFERS.items() if kind in kinds]
    if found[0][1] != "proof":
        found.append(("proof-150", "proof"))
    return list(dict.fromkeys(found))


def asked_of(kind: str, code: str) -> Asked | None:
    """The line of a kind's programme; None where it has none such."""
    return next((one for one in PROGRAMMES.get(kind, ()) if one.code == code), None)
