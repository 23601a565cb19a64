"""What is observed at a run beside pressure and temperature, place by place: a table of instruments, and the map that
the entries of a log make.

A new instrument is a row here, and a panel on the bench.
"""

import datetime
from collections.abc import Iterable
from dataclasses import dataclass

from toadbell.core.run.phases import Entry
from toadbell.core.vessel.soap import GRADES, LEAKS


@dataclass(frozen=True)
class Instrument:
    """Something that observes: what it may show, in words, or the kind of its figure (a key of units.KINDS).

    panel   of the bench that it belongs to
    places  at which it observes; None: the sections of the vessel
    """

    id: str
    panel: str
    words: tuple[str, ...] = ()
    kind: str | None = None
    places: tuple[str, ...] | None = None


_ROUNDS = ("1", "2", "3")
INSTRUMENTS: dict[str, Instrument] = {
    one.id: one
    for one in (
        Instrument("soap", "soap", words=GRADES),
        *(
            Instrument(what, "relief", kind="pressure", places=_ROUNDS)
            for what in ("weep", "lift", "reseat", "highest")
        ),
        Instrument("hand", "relief", words=("free", "stuck"), places=("1",)),
        Instrument("after", "relief", words=("dry", "weeps"), places=("1",)),
    )
}
"""Every instrument beside the gauge and the thermometer."""


@dataclass(frozen=True)
class Observed:
    """What was last observed at a place: a word or a figure (SI), when, and at what pressure, Pa."""

    place: str
    word: str
    value: float | None
    at: datetime.datetime
    pressure: float | None


def observed(entries: Iterable[Entry], what: str) -> dict[str, Observed]:
    """The last of each place, by the entries of a log in order.

    Going back to no pressure takes what was found tight away, for it was found before: what leaked stays till it is
    looked at again.
    """
    found: dict[str, Observed] = {}
    for entry in entries:
        data = entry.data
        if what == "soap" and entry.kind == "gone-back" and not data.get("to"):
            found = {place: one for place, one in found.items() if one.word in LEAKS}
        elif entry.kind == "observed" and data.get("what") == what:
            place = str(data["place"])
            found[place] = Observed(place, str(data.get("word", "")), data.get("value"), entry.at, data.get("pressure"))
    return found
