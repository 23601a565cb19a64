"""The kit as a sheet tells of it: what pressure is read from and made with."""

from __future__ import annotations

import re
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from toadbell.core.sheets.burst import ASKED_FACTOR, FactorAsked
from toadbell.core.sheets.fields import (
    Day,
    Duration,
    FlowOrNone,
    Height,
    Length,
    Material,
    Part,
    Pressure,
    Step,
    Temperature,
    Torque,
    Volume,
)

Name = Annotated[str, Field(min_length=1, max_length=80)]

_ENDS = re.compile(r"\s*([\d.,]+)\s*(?:-|–|to|\.\.)\s*([\d.,]+)\s*(\D.*)")
LOWEST_TOLD = 0.2
"""A torque wrench tells a torque from such a part of its range on, where its lowest is not said; ISO 6789."""


class Gauge(Part):
    """What pressure is read from. `class` is the error in per cent of full scale."""

    name: Name | None = None
    range: Pressure
    division: Pressure | None = None
    resolution: Pressure | None = None
    accuracy_class: float | None = Field(default=None, alias="class", ge=0, le=10)
    height_above_top: Height | None = None
    calibrated: Day | None = None

    @property
    def readable(self) -> float | None:
        """Smallest step told apart when reading, Pa: stated, or half of a division."""
        return self.resolution or (self.division / 2 if self.division else None)


class NamedGauge(Gauge):
    """One of several gauges to choose from."""

    name: Name


class Thermometer(Part):
    """What the water or wall temperature is read from. `accuracy` is how far it may be out, where that is known."""

    name: Name | None = None
    resolution: Step
    accuracy: Step | None = None


class Pump(Part):
    """The source of pressure."""

    name: Name | None = None
    stroke: Volume | None = None
    maximum: Pressure | None = None


class TorqueWrench(Part):
    """A wrench and the torque wanted of it: it ends at `range`, and tells from `lowest` on, where that is known.

    Both may be written at once, as they stand on the wrench: `20-200 N m`.
    """

    wanted: Torque
    range: Torque
    lowest: Torque | None = None

    @model_validator(mode="before")
    @classmethod
    def _both_ends(cls, data: Any) -> Any:
        told = _ENDS.fullmatch(str(data.get("range", ""))) if isinstance(data, dict) else None
        if told is None or data.get("lowest") is not None:
            return data
        return {**data, "lowest": f"{told[1]} {told[3]}", "range": f"{told[2]} {told[3]}"}

    @property
    def lowest_told(self) -> float:
        """From where on it tells a torque, N m: what stands on it, else a fifth of its range; ISO 6789."""
        return LOWEST_TOLD * self.range if self.lowest is None else self.lowest


class GirthMark(Part):
    """A place where a tape goes round: its name, and how far along from the first seam."""

    name: str = Field(min_length=1, max_length=40)
    along: Height | None = None


class ExpansionKit(Part):
    """What a vessel's expansion is measured with.

    measure       what can be told apart on the measure that water in and water back are read in
    hose          volume of the water in pump and hose
    burette       what can be told apart on a jacket's burette
    tank, level   inside diameter of a jacket's tank, and what can be told apart of its level
    jacket_water  in the jacket
    tape          what can be told apart on the tape, and `marks` where it goes round
    """

    measure: Volume | None = None
    hose: Volume | None = None
    burette: Volume | None = None
    tank: Length | None = None
    level: Length | None = None
    jacket_water: Volume | None = None
    tape: Length | None = None
    marks: list[GirthMark] = Field(default=[], max_length=6)


WIDEST_TOLERANCE = 0.1
"""A valve that may lift further from its set than so much of it is no valve that a maker sells without saying so."""


def tolerance_told(set_pressure: float | None, tolerance: float | None, paper: str | None) -> None:
    """Raises ValueError where a tolerance is wider than a tenth of the set and no paper is named that says so."""
    if set_pressure is None or tolerance is None or (paper or "").strip():
        return
    if tolerance > WIDEST_TOLERANCE * set_pressure * (1 + 1e-9):
        raise ValueError(
            "tolerance: it is over a tenth of what the valve is set to: name the maker's paper that allows it in "
            "“tolerance_paper”, or leave it empty"
        )


SAID = {"this gauge": False, "another gauge": True}
"""By which gauge a valve was set, where no name is given."""


class FittedValve(Part):
    """The relief valve of a plan, as far as it is known: what it is set to, how far its maker lets it be off, and
    when it was last seen to.

    set_by           the gauge that it was set by, by its name, or who set it where that was no gauge of the shop's
    tolerance_paper  of the maker, that allows more than a tenth
    set_for          what it was set on: on a liquid it lifts otherwise than on gas
    maker, bore, number  that tell it from another in the same hole
    """

    name: Name | None = None
    set_pressure: Pressure | None = None
    tolerance: Pressure | None = None
    tolerance_paper: str | None = Field(default=None, max_length=200)
    set_by: Name | None = None
    set_for: Literal["gas", "liquid"] | None = None
    maker: Name | None = None
    bore: Length | None = None
    number: Name | None = None
    proven: Day | None = None

    @model_validator(mode="after")
    def _let(self) -> FittedValve:
        tolerance_told(self.set_pressure, self.tolerance, self.tolerance_paper)
        return self

    def set_by_another(self, gauge: Gauge | None) -> bool | None:
        """Was it set by another gauge than this? None where nobody said, or the gauge has no name."""
        if self.set_by in SAID:
            return SAID[self.set_by]
        if not self.set_by or gauge is None or not gauge.name:
            return None
        return self.set_by.strip().casefold() != gauge.name.strip().casefold()


class ReliefValve(FittedValve):
    """A relief valve on the kit board: what it is set to is known."""

    set_pressure: Pressure


class Rated(Part):
    """A hose, a plug or a valve: its thread, and what it may see."""

    rating: Pressure
    thread: str | None = Field(default=None, max_length=40)


class Wrench(Part):
    """A torque wrench by the end of its range."""

    range: Torque


class Baseline(Part):
    """What a rig that is known to be tight did by itself: which rig, where, when and under what, what it lost, and how
    it is known to be tight.

    trial    whose hold it was
    hour     of the day at which the hold began, 0 to 24
    step     what could be told apart on its gauge
    leak     that it showed by itself, at the most `leak_most`
    """

    trial: str = Field(max_length=40)
    on: Day
    hour: Annotated[float, Field(ge=0, le=24)] | None = None
    rig: Name | None = None
    place: Name | None = None
    known_tight: str = Field(max_length=400)
    medium: Literal["water", "air"]
    pressure: Pressure
    volume: Volume | None = None
    step: Pressure | None = None
    coldest: Temperature | None = None
    warmest: Temperature | None = None
    hold: Duration
    leak: FlowOrNone
    leak_most: FlowOrNone


class Design(Part):
    """A design that several articles share: its sizes, what it is made of, how it is closed, and what is asked of it.

    asked        times the wanted pressure that it has to bear
    end_wall     of its closed ends, as thick as the wall where that is not said
    temperature  the hottest that it is for; cold where that is not said
    welded       there are welds in what bears the pressure
    burst        the day its first article was burst: from then on it stays as it is
    """

    wanted: Pressure
    asked: FactorAsked = ASKED_FACTOR
    inside_diameter: Length
    wall: Length
    material: Material
    layup: str | None = Field(default=None, max_length=200)
    closure: str | None = Field(default=None, max_length=200)
    end_wall: Length | None = None
    temperature: Temperature | None = None
    welded: bool = False
    burst: Day | None = None


Particulars = Gauge | Pump | Thermometer | ReliefValve | Rated | Wrench | Baseline | Design

KIT: dict[str, type[Part]] = {
    "gauge": Gauge,
    "pump": Pump,
    "thermometer": Thermometer,
    "relief-valve": ReliefValve,
    "hose": Rated,
    "plug": Rated,
    "wrench": Wrench,
    "baseline": Baseline,
    "design": Design,
}
"""What hangs on the kit board, and what is told of each."""
