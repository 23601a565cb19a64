"""The log of an expansion trial: what went in and came back, what a jacket's burette showed, girths by tape."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, model_validator

from toadbell.core.sheets.fields import Air, Length, Part, Pressure, Temperature, Volume
from toadbell.core.sheets.plan import VesselSheet


class WaterRead(Part):
    """Water in, up to the test pressure, and what came back down to none.

    step    what can be told apart on what both were measured with
    by      how what went in was measured: in the same vessel as what came back, or counted in strokes of a pump
    stroke  of that pump
    hose    volume of the water in pump and hose behind the shut-off
    """

    into: Volume
    back: Air | None = None
    step: Volume
    by: Literal["measure", "strokes"] = "measure"
    stroke: Volume | None = None
    hose: Air = 0.0

    @model_validator(mode="after")
    def _counted(self) -> WaterRead:
        if self.by == "strokes" and self.stroke is None:
            raise ValueError("stroke: what one stroke moves is needed to count water in strokes")
        return self


class JacketRead(Part):
    """A jacket's burette before, at the test pressure, and after; it rises as the vessel grows.

    water  in the jacket; as much as the vessel holds where it is not said
    """

    before: Air
    at: Air | None = None
    after: Air | None = None
    step: Volume
    water: Volume | None = None


class LevelRead(Part):
    """The same by the level in a tank of known inside diameter."""

    tank: Length
    before: Length
    at: Length | None = None
    after: Length | None = None
    step: Length
    water: Volume | None = None


class GirthRead(Part):
    """A girth by tape at a marked place: before, at the test pressure, and after."""

    place: str = Field(max_length=80)
    before: Length
    at: Length | None = None
    after: Length | None = None


class Temperatures(Part):
    """Of the water: before it was pumped up, at the test pressure, and as the last of it came back."""

    before: Temperature
    at: Temperature | None = None
    after: Temperature | None = None


class ExpansionSheet(Part):
    """What an expansion trial is judged by.

    vessel       its figures, as in a plan
    pressure     the highest that was held, at the top; `asked` is what it was to be proven at, where that is known
    air_doubt    1 σ of the trapped air, where it is known better or worse than by a fifth: as the strokes told it
    tape         what can be told apart on the tape
    thermometer  what can be told apart on it
    """

    procedure: Literal["expansion"]
    vessel: VesselSheet
    pressure: Pressure
    asked: Pressure | None = None
    water: WaterRead | None = None
    jacket: JacketRead | None = None
    levels: LevelRead | None = None
    girths: list[GirthRead] = Field(default=[], max_length=40)
    air_doubt: Air | None = None
    tape: Length | None = None
    temperatures: Temperatures | None = None

    @model_validator(mode="after")
    def _one_jacket(self) -> ExpansionSheet:
        if self.jacket is not None and self.levels is not None:
            raise ValueError("levels: a jacket is read by its burette or by a tank's level: leave one of the two out")
        if self.girths and self.tape is None:
            raise ValueError("tape: what can be told apart on the tape is needed beside girths")
        return self
