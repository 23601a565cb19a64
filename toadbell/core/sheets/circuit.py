"""What valves split a rig into: its sections, the valve between each two, and where the gauge sits."""

from __future__ import annotations

from collections.abc import Collection
from typing import Annotated

from pydantic import Field, StringConstraints, model_validator

from toadbell.core.sheets.fields import Part, Volume

Named = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]


class CircuitSection(Part):
    """A stretch between valves, and how much it holds; not known where nobody says."""

    name: Named
    volume: Volume | None = None


class CircuitValve(Part):
    """A valve, and the two sections that it parts."""

    name: Named
    between: Annotated[list[Named], Field(min_length=2, max_length=2)]


class Circuit(Part):
    """The sections of a rig and the valves between them; the gauge sits on the first section, where nothing else is
    said.
    """

    sections: list[CircuitSection] = Field(min_length=2, max_length=12)
    valves: list[CircuitValve] = Field(min_length=1, max_length=24)
    gauge_on: Named | None = None

    @model_validator(mode="after")
    def _hangs_together(self) -> Circuit:
        names = self.names
        if len(set(names)) < len(names):
            raise ValueError("sections: two sections have the same name: give each its own")
        valves = [valve.name for valve in self.valves]
        if len(set(valves)) < len(valves):
            raise ValueError("valves: two valves have the same name: give each its own")
        for valve in self.valves:
            unknown = [name for name in valve.between if name not in names]
            if unknown:
                raise ValueError(f"valves: “{valve.name}” sits beside “{unknown[0]}”, which is no section")
            if valve.between[0] == valve.between[1]:
                raise ValueError(f"valves: “{valve.name}” has the same section on both sides")
        if self.gauge_on is not None and self.gauge_on not in names:
            raise ValueError(f"gauge_on: “{self.gauge_on}” is no section")
        apart = [name for name in names if name not in self.open_with(())]
        if apart:
            raise ValueError(f"valves: no valve leads to “{apart[0]}”")
        return self

    @property
    def names(self) -> list[str]:
        """The sections by their names."""
        return [section.name for section in self.sections]

    @property
    def gauged(self) -> str:
        """The section that the gauge sits on."""
        return self.gauge_on or self.sections[0].name

    def open_with(self, shut: Collection[str]) -> tuple[str, ...]:
        """The sections that the gauge still sees when some valves are shut, in the order of the sheet."""
        return self.joined_to(self.gauged, shut)

    def joined_to(self, section: str, shut: Collection[str]) -> tuple[str, ...]:
        """A section and those that no shut valve parts from it, in the order of the sheet."""
        found = [section]
        for one in found:
            for valve in self.valves:
                if valve.name not in shut and one in valve.between:
                    found += [other for other in valve.between if other not in found]
        return tuple(name for name in self.names if name in found)

    def groups(self, shut: Collection[str]) -> list[tuple[str, ...]]:
        """What the valves that are shut leave together: the gauge's first."""
        found = [self.open_with(shut)]
        for name in self.names:
            if not any(name in group for group in found):
                found.append(self.joined_to(name, shut))
        return found

    def share_of(self, sections: Collection[str]) -> float | None:
        """What part of all that the rig holds some sections hold; None where one's volume is not known."""
        volumes = [section.volume for section in self.sections]
        if any(volume is None for volume in volumes):
            return None
        total = sum(volume or 0.0 for volume in volumes)
        return sum(s.volume or 0.0 for s in self.sections if s.name in sections) / total if total else None
