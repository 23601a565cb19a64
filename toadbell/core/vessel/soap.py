"""What soap or water shows, section by section: foam that stands is no leak, foam that grows is one.

Source: procedures, tightness.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Protocol

from toadbell.core.phrases import Said, say
from toadbell.core.vessel.sections import Owner, Section

GRADES = ("dry", "still foam", "growing foam", "bubbles", "weep", "drip", "stream")
"""How a section shows, from tight to worst."""
LEAKS = frozenset(GRADES[2:])
"""Grades that are a leak: foam that stands is none, foam that grows is one."""


class Mark(Protocol):
    """How a section showed, and at what pressure, Pa."""

    @property
    def word(self) -> str: ...
    @property
    def pressure(self) -> float | None: ...


@dataclass(frozen=True)
class SoapMap:
    """What soap showed: how many sections there are, which leak (whose, name, grade), which were not marked, and the
    lowest pressure at which one was, Pa.
    """

    sections: int
    leaks: tuple[tuple[Owner, str, str], ...]
    unmarked: tuple[str, ...]
    least: float | None

    def leak_of(self, owner: str) -> Said | None:
        """Where something of this owner leaks, and how."""
        return next(
            (say("section.shows", name=name, shows=grade) for whose, name, grade in self.leaks if whose == owner), None
        )


def soap_map(sections: Sequence[Section], marks: Mapping[str, Mark]) -> SoapMap:
    """The sections with what soap showed at each. What was found dry at no pressure that is known was not looked at."""
    seen = {one.id: mark for one in sections if (mark := marks.get(one.id)) is not None and _tells(mark)}
    return SoapMap(
        sections=len(sections),
        leaks=tuple(
            (one.owner, str(one.name), seen[one.id].word)
            for one in sections
            if one.id in seen and seen[one.id].word in LEAKS
        ),
        unmarked=tuple(str(one.name) for one in sections if one.id not in seen),
        least=min((mark.pressure for mark in seen.values() if mark.pressure is not None), default=None),
    )


def _tells(mark: Mark) -> bool:
    return mark.word in LEAKS or bool(mark.pressure and mark.pressure > 0)
