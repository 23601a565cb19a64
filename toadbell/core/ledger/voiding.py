"""What happens to a vessel between its trials: what it voids of the evidence, and what still stands of its tag.

Source: procedures, the ledger: mends, changes, knocks, frost and reset valves.
"""

import datetime
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from toadbell.core import units
from toadbell.core.judge.answers import Fitness, TagNow
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
        Happening("relief-reset", "relief"),
        Happening("refitted", "tightness"),
        Happening("corrected", "nothing"),
        Happening("look inside", "nothing"),
        Happening("relief tried", "nothing"),
        Happening("steam trial", "nothing"),
    )
}
"""What may happen to a vessel, by the word that is kept."""
LIFTS = "lifts at "
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
    """Something that happened: on which day, and when it was written down."""

    what: str
    on: datetime.date
    at: datetime.datetime
    text: str

    def after(self, moment: datetime.datetime) -> bool:
        """Did it happen after a moment: on a later day, or on that day and written down later?"""
        return self.on > moment.date() or (self.on == moment.date() and self.at > moment)

    @property
    def says(self) -> Said:
        """What happened and when, in words."""
        name = HAPPENINGS[self.what].name if self.what in HAPPENINGS else self.what
        return say("fitness.happened-text" if self.text else "fitness.happened", what=name, on=self.on, text=self.text)


@dataclass(frozen=True)
class Decided:
    """A decision that stood: its tag and pressure (Pa), and when it was made."""

    fitness: Fitness
    pressure: float | None
    at: datetime.datetime


def tag_now(
    decided: Decided,
    happened: Iterable[Happened],
    limits: Iterable[tuple[str, float]],
    retire: int | None,
    today: datetime.date,
) -> TagNow:
    """What of a decision still stands.

    limits  what the vessel may work at as it is known now, each by its name, Pa
    """
    if decided.fitness in ("not fit", "not proven"):
        return TagNow(fitness=decided.fitness, pressure=None, says=say("fitness.nothing"))
    if retire is not None and today.year > retire:
        return TagNow(fitness="not fit", pressure=None, says=say("fitness.tag-past-year", year=retire))
    since = [one for one in happened if one.after(decided.at) and one.what in HAPPENINGS]
    void = ("all", "proof", "tightness") if decided.fitness == "tight" else ("all", "proof")
    voided = [one for one in since if HAPPENINGS[one.what].voids in void]
    if voided:
        return TagNow(fitness="not proven", pressure=None, says=_asks(voided[-1]))
    name, least = min(limits, key=lambda one: one[1], default=("", None))
    if least is not None and decided.pressure is not None and least < decided.pressure * (1 - 1e-6):
        if least <= 0:
            return TagNow(fitness="not fit", pressure=None, says=say("fitness.tag-no-pressure", name=name))
        kept: Fitness = "tight" if decided.fitness == "tight" else "limited"
        return TagNow(fitness=kept, pressure=least, says=say("fitness.tag-least", name=name, most=least))
    asked = [
        one
        for one in since
        if decided.fitness != "tight"
        and HAPPENINGS[one.what].voids in ("relief", "tightness")
        and not _answered(one, since)
    ]
    if asked:
        return TagNow(fitness="limited", pressure=decided.pressure, says=_asks(asked[-1]))
    return TagNow(fitness=decided.fitness, pressure=decided.pressure, says=say("fitness.nothing"))


def _asks(one: Happened) -> Said:
    """What happened, and what it asks for."""
    return say("fitness.tag-asks", happened=one.says, asks=HAPPENINGS[one.what].asks)


def _answered(one: Happened, since: list[Happened]) -> bool:
    """Was a reset valve tried since?"""
    return one.what == "relief-reset" and any(other.what == "relief tried" and other.at > one.at for other in since)


def last_look(happened: Iterable[Happened]) -> tuple[datetime.date, str] | None:
    """The day of the last look inside and what was seen."""
    looks = [one for one in happened if one.what == "look inside"]
    return (looks[-1].on, looks[-1].text) if looks else None


def relief_lift(happened: Iterable[Happened]) -> float | None:
    """At what the relief valve lifted as it was last tried, Pa; None where it was not, or was reset since, or nothing
    was written.
    """
    told = [one for one in happened if one.what in ("relief tried", "relief-reset")]
    if not told or told[-1].what == "relief-reset" or not told[-1].text.startswith(LIFTS):
        return None
    try:
        return units.read(told[-1].text.removeprefix(LIFTS).split(";")[0].strip(), "pressure").value
    except units.QuantityError:
        return None


def hurt_since(happened: Iterable[Happened], moment: datetime.datetime) -> Said | None:
    """What voids a proof since a moment, in words; None where nothing does."""
    voided = [
        one
        for one in happened
        if one.what in HAPPENINGS and HAPPENINGS[one.what].voids in ("all", "proof") and one.after(moment)
    ]
    return _asks(voided[-1]) if voided else None
