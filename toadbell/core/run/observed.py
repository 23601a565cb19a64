"""What is observed at a run beside pressure and temperature, place by place: a table of instruments, and the map that
the entries of a log make.

A new instrument is a row here, and a panel on the bench.
"""

import datetime
from collections.abc import Iterable
from dataclasses import dataclass

from toadbell.core.phrases import read_kept
from toadbell.core.run.phases import Entry
from toadbell.core.sheets.burst import MODES as BURST_MODES
from toadbell.core.sheets.tightening import GRADES as JOINT_GRADES
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
EIGHTHS = 8
"""Parts of a turn that a joint is turned on by."""
_TURNS = tuple(str(part) for part in range(4 * EIGHTHS + 1))
_WHEN = ("before", "at", "after")
_PLACES = ("middle", "seam", "end 1", "end 2", "closure", "opening", "not known")
"""Where an article fails."""
_MARKS = tuple(f"{mark} {when}" for mark in range(1, 7) for when in _WHEN)
STEAM_FIGURES = ("steam-lift", "steam-reseat", "full-fire")
"""Pressures of a first steam: at the lift, where the valve shut, the highest under full fire."""
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
        *(Instrument(what, "expansion", kind="volume", places=("1",)) for what in ("water-in", "water-back")),
        Instrument("burette", "expansion", kind="volume", places=_WHEN),
        Instrument("level", "expansion", kind="length", places=_WHEN),
        Instrument("girth", "expansion", kind="length", places=_MARKS),
        Instrument("turn", "tightening", words=JOINT_GRADES, places=_TURNS),
        Instrument("torque", "tightening", kind="torque", places=_TURNS),
        Instrument("barometer", "gas", kind="pressure", places=("1",)),
        Instrument("outside", "gas", kind="temperature", places=("1",)),
        Instrument("gas-level", "gas", kind="length", places=("1",)),
        Instrument("noise", "burst", words=("crack",), places=("1",)),
        Instrument("first-leak", "burst", words=("weep", "drip", "stream"), places=("1",)),
        Instrument("failure", "burst", words=BURST_MODES, kind="pressure", places=_PLACES),
        Instrument("glass", "steam", places=("1",)),
        Instrument("feed", "steam", words=("works", "slow", "no"), places=("1", "2")),
        Instrument("blown", "steam", words=("comes back", "slow", "no"), places=("1",)),
        *(Instrument(what, "steam", kind="pressure", places=("1",)) for what in STEAM_FIGURES),
        Instrument("stands", "steam", words=("stands", "rises"), places=("1",)),
        Instrument("hot-look", "steam", words=("dry", "weeps", "leaks"), places=("1",)),
        Instrument("sits", "steam", words=("steam", "shell"), places=("1",)),
    )
}
"""Every instrument beside the gauge and the thermometer."""


CORRECTED_WITHIN = 10.0
"""A glass that is written again within so long was mistyped before, s."""


@dataclass(frozen=True)
class Observed:
    """What was last observed at a place: a word or a figure (SI; of a glass its part), when, and at what pressure, Pa,
    and temperature, K.
    """

    place: str
    word: str
    value: float | None
    at: datetime.datetime
    pressure: float | None
    temperature: float | None = None


def observed(entries: Iterable[Entry], what: str) -> dict[str, Observed]:
    """The last of each place, by the entries of a log in order.

    Going back to no pressure takes what was found tight away, for it was found before: what leaked stays till it is
    looked at again, at no less pressure than it leaked at.
    """
    found: dict[str, Observed] = {}
    leaked: dict[str, float] = {}
    for entry in entries:
        data = entry.data
        if what == "soap" and entry.kind == "gone-back" and not data.get("to"):
            found = {place: one for place, one in found.items() if one.word in LEAKS}
        elif entry.kind == "observed" and data.get("what") == what:
            place = str(data["place"])
            if what == "glass":
                found.update(_lowest(found, entry.at, float(data.get("value") or 0.0)))
            read = data.get("pressure"), data.get("temperature")
            seen = Observed(place, str(data.get("word", "")), data.get("value"), entry.at, *read)
            if what != "soap" or _tells(seen, leaked):
                found[place] = seen
    return found


def leaks_unmended(entries: Iterable[Entry]) -> dict[str, Observed]:
    """The soap marks that show a leak, by place, where that leak was not mended since: none of them is taken back by a
    mark of no leak unless somebody says why. A mend is of the section that its leak was pinned at, by name.
    """
    told = list(entries)
    pinned = {str(entry.id): _named(entry.data.get("where")) for entry in told if entry.kind == "leak"}
    names, mended = {}, {}
    for entry in told:
        if entry.kind == "observed" and entry.data.get("what") == "soap":
            names[str(entry.data["place"])] = _named(read_kept(entry.data.get("name", "")))
        elif entry.kind == "mended" and str(entry.data.get("leak")) in pinned:
            mended[pinned[str(entry.data["leak"])]] = entry.at
    leaks = {place: one for place, one in observed(told, "soap").items() if one.word in LEAKS}
    return {place: one for place, one in leaks.items() if not one.at < mended.get(names.get(place, ""), one.at)}


def _named(where: object) -> str:
    return str(where or "").strip().lower()


AS_HIGH = 0.9
"""A section is looked at again at the pressure it leaked at, or so near to it."""


def _tells(seen: Observed, leaked: dict[str, float]) -> bool:
    """Does a mark tell how its section stands? One that is no leak says nothing of a pressure above, where it leaked.

    leaked  the highest pressure at which each section leaked that was not found dry there since, Pa; kept up
    """
    highest = leaked.get(seen.place, 0.0)
    if seen.word in LEAKS:
        leaked[seen.place] = max(highest, seen.pressure or 0.0)
        return True
    if (seen.pressure or 0.0) < AS_HIGH * highest:
        return False
    leaked.pop(seen.place, None)
    return True


def _lowest(found: dict[str, Observed], at: datetime.datetime, value: float) -> dict[str, Observed]:
    """The lowest that the water stood in the glass so far, under a place of its own; but for what was mistyped."""
    lowest, last = found.get("lowest"), found.get("1")
    mistyped = last is not None and (at - last.at).total_seconds() <= CORRECTED_WITHIN
    if (
        lowest is None
        or lowest.value is None
        or value <= lowest.value
        or (mistyped and last is not None and last.at == lowest.at)
    ):
        return {"lowest": Observed("lowest", "", value, at, None)}
    return {}
