"""What happens to a vessel between its trials: what it voids of the evidence, and what still stands of its tag.

Source: procedures, the ledger: mends, changes, knocks, frost and reset valves.
"""

import datetime
import re
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from toadbell.core import units
from toadbell.core.phrases import Said, say

Voids = Literal["all", "proof", "relief", "tightness", "nothing"]


@dataclass(frozen=True)
class Happening:
    """Something that may happen, by the word that is kept, and what it voids."""

    id: str
    voids: Voids

    @property
    def name(self) -> Said:
        """As people call it."""
        return say(f"happening.{self.id.replace(' ', '-')}")

    @property
    def asks(self) -> Said:
        """What it asks for."""
        return say(f"happening.{self.id.replace(' ', '-')}-asks")

    @property
    def means(self) -> Said:
        """What it does to the tag, and what it asks for."""
        return say(f"happening.falls-{self.voids}", asks=self.asks)


HAPPENINGS: dict[str, Happening] = {
    each.id: each
    for each in (
        Happening("dropped", "proof"),
        Happening("mended", "proof"),
        Happening("changed", "all"),
        Happening("frozen", "proof"),
        Happening("overheated", "proof"),
        Happening("over-pressed", "all"),
        Happening("not approved", "all"),
        Happening("yielded", "all"),
        Happening("relief-reset", "relief"),
        Happening("relief off", "relief"),
        Happening("refitted", "tightness"),
        Happening("corrected", "nothing"),
        Happening("look inside", "nothing"),
        Happening("relief tried", "nothing"),
        Happening("steam trial", "nothing"),
        Happening("steam failed", "nothing"),
        Happening("certificate", "nothing"),
        Happening("fired", "nothing"),
    )
}
"""What may happen to a vessel, by the word that is kept."""
LIFTS = "lifts at "
VALVE, OTHER = FITTED = ("valve", "other")
"""Which fitting was taken out: the relief valve, or another."""
_BY_TRIAL = re.compile(r"^trial \d+: |; (good|passed|under steam) in trial \d+")
EXAMINED = ("look inside", "mended", "changed", "certificate")
"""What shows that somebody looked at a vessel that yielded, measured it, or mended it."""
HARM = (
    "drop",
    "knock",
    "dent",
    "fell",
    "crash",
    "patch",
    "braz",
    "weld",
    "solder",
    "crack",
    "bulg",
    "froze",
    "frost",
    "overheat",
    "boiled dry",
    "burst",
)
"""Beginnings of words by which people tell of harm and mends."""


def tells_of_harm(before: str, after: str) -> bool:
    """Does a text tell of harm, or of a mend, that it did not tell of before?"""
    return any(after.lower().count(word) > before.lower().count(word) for word in HARM)


@dataclass(frozen=True)
class Happened:
    """Something that happened: on which day, and when it was written down.

    found  by a look inside: “sound”, “watch” or “unsound”; of a fitting that was taken out: whether it was the relief
           “valve” or another
    until  a paper is good
    """

    what: str
    on: datetime.date
    at: datetime.datetime
    text: str
    found: str = ""
    until: datetime.date | None = None

    def after(self, moment: datetime.datetime) -> bool:
        """Did it happen after a moment: on a later day, or on that day and written down later?"""
        return self.on > moment.date() or (self.on == moment.date() and self.at > moment)

    @property
    def of_the_valve(self) -> bool:
        """May it be of the relief valve: reset, or a fitting of which nobody said that it was another?"""
        return self.what == "relief-reset" or (self.what == "refitted" and self.found != OTHER)

    @property
    def by_trial(self) -> bool:
        """Was it found by a trial, and not written down by a person?"""
        return bool(_BY_TRIAL.search(self.text))

    @property
    def says(self) -> Said:
        """What happened and when, in words."""
        name = HAPPENINGS[self.what].name if self.what in HAPPENINGS else self.what
        return say("fitness.happened-text" if self.text else "fitness.happened", what=name, on=self.on, text=self.text)


def _asks(one: Happened) -> Said:
    """What happened, and what it asks for."""
    return say("fitness.tag-asks", happened=one.says, asks=HAPPENINGS[one.what].asks)


FOUND = ("sound", "watch", "unsound")
"""What a look inside may find."""
WATCH, UNSOUND = FOUND[1:]
WATCH_MONTHS = 6
"""A look that says “watch” is good for so long."""


def last_look(happened: Iterable[Happened]) -> Happened | None:
    """The last look inside."""
    return last_of(happened, "look inside")


def last_of(happened: Iterable[Happened], *what: str) -> Happened | None:
    """The latest of some things that may happen, by its day."""
    return max((one for one in happened if one.what in what), key=lambda one: (one.on, one.at), default=None)


def lift_of(tried: Happened) -> float | None:
    """At what a relief valve lifted as it was tried, Pa; None where nothing of it was written."""
    if not tried.text.startswith(LIFTS):
        return None
    try:
        return units.read(tried.text.removeprefix(LIFTS).split(";")[0].strip(), "pressure").value
    except units.QuantityError:
        return None


def relief_lift(happened: Iterable[Happened]) -> tuple[float, datetime.date] | None:
    """At what the relief valve lifted as it was last tried, Pa, and the day; None where it was not, or was reset since,
    or nothing was written.
    """
    last = last_of(happened, "relief tried", "relief-reset", "relief off")
    lifts = lift_of(last) if last is not None and last.what == "relief tried" else None
    return None if last is None or lifts is None else (lifts, last.on)


def hurt_since(happened: Iterable[Happened], moment: datetime.datetime) -> Said | None:
    """What voids a proof since a moment, in words; None where nothing does."""
    voided = [
        one
        for one in happened
        if one.what in HAPPENINGS and HAPPENINGS[one.what].voids in ("all", "proof") and one.after(moment)
    ]
    return _asks(voided[-1]) if voided else None
