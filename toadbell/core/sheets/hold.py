"""The sheet of a hold: everything its judge reads beside the log."""

from __future__ import annotations

from typing import Literal

from pydantic import model_validator

from toadbell.core.sheets.acceptance import Acceptance
from toadbell.core.sheets.fields import Air, Compliance, Part, Pressure, Temperature, Volume
from toadbell.core.sheets.kit import Gauge, Thermometer
from toadbell.core.sheets.plan import Hold
from toadbell.core.sheets.vessel import Shell


class HoldSheet(Part):
    """Everything `judge` needs beside the log."""

    medium: Literal["water", "air"] = "water"
    volume: Volume | None = None
    shell: Shell | None = None
    compliance: Compliance | None = None
    trapped_air: Air | None = None
    water_temperature: Temperature | None = None
    test_pressure: Pressure | None = None
    hold: Hold | None = None
    gauge: Gauge | None = None
    thermometer: Thermometer | None = None
    acceptance: Acceptance

    @model_validator(mode="after")
    def _enough(self) -> HoldSheet:
        if self.volume is None and self.compliance is None:
            raise ValueError("volume: the volume of the vessel is needed, or its measured compliance")
        return self
