"""What a soap map proves by itself: leaking where foam grows anywhere, tight where every section was marked and none
leaks; else it cannot be told.

Source: procedures, tightness.
"""

from typing import Literal

from toadbell.core.answers import Answer
from toadbell.core.phrases import Sentence, say
from toadbell.core.sheets import SheetError
from toadbell.core.sheets.soap import SoapMark, SoapSheet
from toadbell.core.vessel.sections import Section, sections_of
from toadbell.core.vessel.soap import GRADES, soap_map


class SoapLeak(Answer):
    """A section that leaks: whose it is, and how it shows."""

    section: Sentence
    owner: Literal["boundary", "fitting", "rig"]
    shows: str


class SoapAnswer(Answer):
    """What the soap proves; `pressure` is the lowest at which a section was marked, Pa.

    fails  the vessel itself: a leak of its boundary; one of a fitting or of the rig voids the hold alone
    """

    verdict: Literal["tight", "leaking", "cannot-tell"]
    fails: bool
    leaks: list[SoapLeak]
    unmarked: list[Sentence]
    sections: int
    pressure: float | None
    says: Sentence


class _Mark:
    """A mark as the map reads it."""

    def __init__(self, mark: SoapMark) -> None:
        self.word: str = mark.shows
        self.pressure = mark.pressure


def judge_soap(sheet: SoapSheet) -> SoapAnswer:
    """What a soap map proves. Raises SheetError for a section that the vessel has not."""
    sections = sections_of(sheet.vessel)
    marks = {_section(mark.section, sections).id: _Mark(mark) for mark in sheet.soap}
    found = soap_map(sections, marks)
    leaks = [SoapLeak(section=name, owner=owner, shows=shows) for owner, name, shows in found.leaks]
    if leaks:
        worst = max(leaks, key=lambda one: (one.owner == "boundary", GRADES.index(one.shows)))
        says = say("section.leaking", where=say("section.shows", name=worst.section, shows=worst.shows))
    elif found.unmarked:
        says = say("section.open", unmarked=list(found.unmarked))
    else:
        says = say("section.tight", all=found.sections)
    return SoapAnswer(
        verdict="leaking" if leaks else "cannot-tell" if found.unmarked else "tight",
        fails=any(one.owner == "boundary" for one in leaks),
        leaks=leaks,
        unmarked=list(found.unmarked),
        sections=found.sections,
        pressure=found.least,
        says=says,
    )


def _section(name: str, sections: list[Section]) -> Section:
    wanted = name.strip().casefold()
    for one in sections:
        if wanted in (one.id.casefold(), str(one.name).casefold()):
            return one
    raise SheetError(
        f"“{name}” is no section of this vessel: one of {', '.join(str(s.name) for s in sections)}", "soap"
    )
