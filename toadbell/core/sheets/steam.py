"""The log of a first steam: what gauge, valve and thermometer said, and what feeds, glass and joints did."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from toadbell.core.sheets.fields import Altitude, Height, OuterPressure, Part, Pause, Pressure, Temperature
from toadbell.core.sheets.kit import Gauge, Thermometer, tolerance_told

GlassLevel = Annotated[float, Field(ge=0, le=1)]
"""How high the water stands in the glass, from nought at its foot to one at its top."""


class Reading(Part):
    """What gauge and thermometer showed together.

    pressure     on the gauge
    temperature  of the steam space, or of the shell beside it
    second       on a second gauge beside the first
    time         since the fire was lit
    """

    pressure: Pressure
    second: Pressure | None = None
    temperature: Temperature | None = None
    time: Pause | None = None


class Feed(Part):
    """A way of putting water in under pressure: it works, is slow, or does not."""

    name: str = Field(max_length=80)
    works: Literal["works", "slow", "no"]


class Accumulation(Part):
    """Full fire and the outlet shut: the highest that the gauge came to, and whether it stood there."""

    highest: Pressure
    temperature: Temperature | None = None
    steady: bool = False


class SteamSheet(Part):
    """What a first steam is judged by.

    working_pressure  that the boiler is to work at
    set_pressure      that its valve is to lift at; `tolerance` of its maker, where that is known, and the paper that
                      says so where it is over a tenth of the set
    set_by            by which gauge the valve was set: by this one, by another; not said, it may be this one
    second_gauge      beside the first, where there is one
    thermometer       of the steam space, or (`sits`) of the shell beside it; not said, it may be either
    outer_air         as a barometer showed it there, or (`altitude`) how high the workshop stands
    gauge_height      of the gauge's middle above the water's level: a pipe full of water between shows less
    readings          gauge and thermometer together, on the way up
    lift              what both showed as the valve lifted, or the highest where it did not (`lifted` false)
    reseat            what the gauge showed as it shut
    lowest_glass      the lowest that the water stood in the glass
    blown_down        what the glass did after it was blown: came back, came back slowly, or not
    look              what was seen all round, hot
    """

    procedure: Literal["steam"]
    working_pressure: Pressure
    set_pressure: Pressure | None = None
    tolerance: Pressure | None = None
    tolerance_paper: str | None = Field(default=None, max_length=200)
    set_by: Literal["this gauge", "another gauge"] | None = None
    gauge: Gauge
    second_gauge: Gauge | None = None
    thermometer: Thermometer | None = None
    sits: Literal["steam", "shell"] | None = None
    outer_air: OuterPressure | None = None
    altitude: Altitude | None = None
    gauge_height: Height = 0.0
    readings: list[Reading] = Field(default=[], max_length=5000)
    lift: Reading | None = None
    lifted: bool = True
    reseat: Pressure | None = None
    feeds: list[Feed] = Field(default=[], max_length=6)
    lowest_glass: GlassLevel | None = None
    blown_down: Literal["comes back", "slow", "no"] | None = None
    accumulation: Accumulation | None = None
    look: Literal["dry", "weeps", "leaks"] | None = None

    @model_validator(mode="after")
    def _in_order(self) -> SteamSheet:
        tolerance_told(self.set_pressure, self.tolerance, self.tolerance_paper)
        if self.lift is not None and self.lifted and self.reseat is not None and self.reseat > self.lift.pressure:
            raise ValueError("reseat: it shuts under the pressure at which it lifts; they may be the wrong way round")
        return self
