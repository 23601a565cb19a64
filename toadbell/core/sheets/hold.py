"""The sheet of a hold: everything its judge reads beside the log."""

from __future__ import annotations

import itertools
from typing import Literal

from pydantic import Field, model_validator

from toadbell.core.sheets.acceptance import Acceptance, MaxDrop
from toadbell.core.sheets.fields import (
    Air,
    Altitude,
    Compliance,
    Duration,
    Part,
    Pause,
    Pressure,
    Temperature,
    Volume,
)
from toadbell.core.sheets.gas import GasHolder, Syringe
from toadbell.core.sheets.kit import Gauge, Thermometer
from toadbell.core.sheets.plan import Hold
from toadbell.core.sheets.vessel import Box, Shell


class HoldStretch(Part):
    """A stretch that was shut in, from when to when on the log's own clock: the test hold, or a low hold beside it."""

    role: Literal["low", "test"]
    from_: Pause = Field(alias="from")
    to: Duration

    @model_validator(mode="after")
    def _forward(self) -> HoldStretch:
        if self.to <= self.from_:
            raise ValueError("to: a hold ends after it begins")
        return self


class HoldSheet(Part):
    """Everything `judge` needs beside the log.

    shell, box  its form: a shell is stiff under air, flat sides give by their wall
    sides       stiff, though neither is given: of pipes, bottles, casks; not said, they may give
    syringe     by which the compliance under air was measured
    wet         its walls were wet as it was closed on the air of the room: vapour rises for half an hour
    altitude    of the workshop, where the log has no barometer
    """

    medium: Literal["water", "air"] = "water"
    volume: Volume | None = None
    shell: Shell | None = None
    box: Box | None = None
    sides: Literal["stiff"] | None = None
    syringe: Syringe | None = None
    wet: bool | None = None
    altitude: Altitude | None = None
    compliance: Compliance | None = None
    trapped_air: Air | None = None
    water_temperature: Temperature | None = None
    test_pressure: Pressure | None = None
    hold: Hold | None = None
    gauge: Gauge | None = None
    thermometer: Thermometer | None = None
    holder: GasHolder | None = None
    holds: list[HoldStretch] = Field(default=[], max_length=12)
    acceptance: Acceptance

    @model_validator(mode="after")
    def _enough(self) -> HoldSheet:
        if self.volume is None and self.compliance is None:
            raise ValueError("volume: the volume of the vessel is needed, or its measured compliance")
        if self.syringe is not None and (self.medium != "air" or self.compliance is not None):
            raise ValueError(
                "syringe: air from a syringe tells what a vessel under air takes up: leave one of them out"
            )
        if self.holder is not None and self.medium != "air":
            raise ValueError("holder: gas is held under air alone: leave it out, or give “air” as the medium")
        if self.holder is not None and self.holder.level_tells and isinstance(self.acceptance, MaxDrop):
            raise ValueError("acceptance: a drum or a bag keeps its pressure: say what it may lose, such as 5 L/day")
        if self.holds and sum(one.role == "test" for one in self.holds) != 1:
            raise ValueError("holds: exactly one of them is the test hold")
        ordered = sorted(self.holds, key=lambda one: one.from_)
        if any(later.from_ < earlier.to - 1e-6 for earlier, later in itertools.pairwise(ordered)):
            raise ValueError("holds: two of them overlap: give each its own times")
        return self

    def with_syringe(self) -> HoldSheet:
        """The same with the compliance that a syringe measured, m³ of free air per pascal."""
        if self.syringe is None:
            return self
        return self.model_copy(update={"compliance": self.syringe.volume / self.syringe.rise})
