"""The sheet of a plan: the vessel and everything that is wanted of it."""

from __future__ import annotations

import datetime
import math
from typing import Any, Literal

from pydantic import Field, model_validator

from toadbell.core.kinds import KINDS
from toadbell.core.sheets.acceptance import Acceptance
from toadbell.core.sheets.burst import FactorAsked
from toadbell.core.sheets.circuit import Circuit
from toadbell.core.sheets.fields import (
    Air,
    Altitude,
    Angle,
    Day,
    Duration,
    FlowRate,
    Kind,
    Length,
    Mass,
    Part,
    Pause,
    Power,
    Pressure,
    Temperature,
    Volume,
)
from toadbell.core.sheets.gas import GasHolder, Syringe
from toadbell.core.sheets.kit import ExpansionKit, FittedValve, Gauge, NamedGauge, Pump, Thermometer, TorqueWrench
from toadbell.core.sheets.tightening import JointKind
from toadbell.core.sheets.vessel import Box, Cask, Drain, End, Fitting, Proven, Shell, Tubes

HIGHEST = 2e8
"""Pressures above this are refused, Pa: with any factor the test stays within what is known of water."""
SURVEY = 3
"""From so many readings of one day on a wall was surveyed."""
STEAM_ENDS = 21.9e6
"""Gauge pressure up to which there is steam, Pa: water's critical point, 22.06 MPa absolute (IAPWS-95)."""


ProcedureId = Literal[
    "proof", "tightness", "relief", "steam", "expansion", "tightening", "gas-head", "baseline", "burst"
]


class EditedStage(Part):
    """A stage as a person set it: the pressure on the gauge, and the pause at it."""

    target: Pressure
    pause: Pause = 180.0
    name: str | None = Field(default=None, max_length=40)


class Hold(Part):
    """How long to hold, and how often to read."""

    minimum: Duration
    every: Duration | None = None


class VesselSheet(Part):
    """Everything `derive` reads. Only kind and working pressure are required; what is absent is not known."""

    kind: Kind
    procedure: ProcedureId | None = None
    working_pressure: Pressure
    plate_pressure: Pressure | None = None
    relief_set: Pressure | None = None
    maker_test_limit: Pressure | None = None
    basis: str | None = None
    tight_at: Pressure | None = None
    factor: float | None = Field(default=None, ge=1, le=4)
    reason: str | None = Field(default=None, max_length=2000)
    shield: bool = False
    stand_off: Length | None = None
    base: Literal["wanted", "plate", "relief"] = "wanted"
    medium: Literal["water", "air"] = "water"
    water_temperature: Temperature | None = None
    minimum_temperature: Temperature | None = None
    design_temperature: Temperature | None = None
    shell: Shell | None = None
    ends: list[End] = Field(default=[], max_length=2)
    box: Box | None = None
    cask: Cask | None = None
    proven: Proven | None = None
    empty_mass: Mass | None = None
    fill_rate: FlowRate | None = None
    drain: Drain | None = None
    proven_before: Pressure | None = None
    tubes: list[Tubes] = Field(default=[], max_length=20)
    position: Literal["lying", "standing"] = "lying"
    tilt: Angle = Field(default=0.0, ge=-math.pi / 2, le=math.pi / 2)
    roll: Angle = 0.0
    volume: Volume | None = None
    fittings: list[Fitting] = Field(default=[], max_length=60)
    circuit: Circuit | None = None
    gauge: Gauge | None = None
    thermometer: Thermometer | None = None
    pump: Pump | None = None
    burner: Power | None = None
    relief_valve: FittedValve | None = None
    relief_pot: Volume | None = None
    trapped_air: Air | None = None
    raising: Literal["quarters", "half-then-tenths", "single"] | None = None
    raising_by: Pressure | None = None
    stages: list[EditedStage] = Field(default=[], max_length=40)
    gauges: list[NamedGauge] = Field(default=[], max_length=500)
    torque_wrench: TorqueWrench | None = None
    joint: JointKind | None = None
    expansion: ExpansionKit | None = None
    holder: GasHolder | None = None
    syringe: Syringe | None = None
    wet: bool | None = None
    barometer: bool = False
    altitude: Altitude | None = None
    rig: str | None = Field(default=None, max_length=80)
    place: str | None = Field(default=None, max_length=80)
    design: str | None = Field(default=None, max_length=80)
    layup: str | None = Field(default=None, max_length=200)
    closure: str | None = Field(default=None, max_length=200)
    burst_factor: FactorAsked | None = None
    known_tight: str | None = Field(default=None, max_length=400)
    pause: Pause | None = None
    hold: Hold | None = None
    low_holds: Duration | None = None
    acceptance: Acceptance | None = None
    made: int | None = Field(default=None, ge=1800, le=2200)
    retire: int | None = Field(default=None, ge=1800, le=2200)
    date: Day | None = None

    @model_validator(mode="before")
    @classmethod
    def _medium_of_the_kind(cls, data: Any) -> Any:
        if isinstance(data, dict) and "medium" not in data and data.get("kind") in KINDS:
            return {**data, "medium": KINDS[data["kind"]].medium}
        return data

    @model_validator(mode="after")
    def _possible(self) -> VesselSheet:
        of_valve, lifts = self.relief_valve.set_pressure if self.relief_valve else None, self.relief_set
        if of_valve is not None and lifts is not None and abs(of_valve - lifts) > 0.01 * lifts:
            raise ValueError(
                "relief_set: the valve off the kit board is set to another pressure: one of the two is wrong"
            )
        if self.raising_by is not None and self.raising is not None:
            raise ValueError(
                "raising_by: raised every so much, it is raised in no other style: leave one of the two out"
            )
        targets = [stage.target for stage in self.stages]
        if targets != sorted(set(targets)):
            raise ValueError("stages: the stages must rise, each above the one before")
        if self.shell and self.shell.form == "cylinder" and self.shell.length is None and self.volume is None:
            raise ValueError("shell.length: a cylinder needs its length, seam to seam, or the vessel its volume")
        if self.tubes and self.shell is None:
            raise ValueError("tubes: tubes go through a shell, and none is given")
        if any(t.outside_diameter >= self.shell.inside_diameter for t in self.tubes if self.shell):
            raise ValueError("tubes: a tube is as wide as the shell: check its outside diameter")
        self._ends_fit()
        if self.basis == "own" and self.factor is None:
            raise ValueError("factor: the basis “own” needs a factor, such as 1.4")
        if self.tight_at is not None and self.tight_at > self.working_pressure * (1 + 1e-9):
            raise ValueError("tight_at: a tightness trial is held at the wanted pressure or below it")
        self._within_reason()
        if self.water_temperature is not None and not 273.15 <= self.water_temperature <= 373.15:
            raise ValueError("water_temperature: water is a liquid between 0 and 100 °C only")
        return self

    @property
    def materials(self) -> set[str]:
        """What shell, ends and tubes are made of, or a low tank."""
        if self.shell is None:
            return {self.box.material} if self.box and self.box.material else set()
        others = [*(end.material for end in self.ends), *(tube.material for tube in self.tubes)]
        return {self.shell.material, *(material for material in others if material)}

    @property
    def wall_days(self) -> list[datetime.date]:
        """The days on which the shell's wall was measured, as far as they are known."""
        return [reading.date for reading in self.shell.wall_readings if reading.date] if self.shell else []

    @property
    def survey_days(self) -> list[datetime.date]:
        """The days on which the shell's wall was measured at several places: one reading is no survey."""
        days = self.wall_days
        return sorted({day for day in days if days.count(day) >= SURVEY})

    @property
    def takes_valve_off(self) -> bool:
        """Does the plan put something else where the relief valve sits?"""
        return any(one.fitted == "relief-valve" and one.for_test not in (None, "keep") for one in self.fittings)

    def _within_reason(self) -> None:
        """What no vessel here can be: pressures of another world, steam past its critical point, more air than
        vessel.
        """
        for name in ("working_pressure", "plate_pressure", "relief_set"):
            pressure = getattr(self, name)
            if pressure is not None and pressure > HIGHEST:
                raise ValueError(
                    f"{name}: {pressure / 1e5:,.0f} bar is more than the 2,000 bar that is worked out here: check the "
                    "unit"
                )
        if self.kind == "boiler" and self.working_pressure > STEAM_ENDS:
            raise ValueError(
                f"working_pressure: a boiler at {self.working_pressure / 1e5:.0f} bar is past water's critical point "
                "(219 bar gauge): there is "
                "no steam to raise above it. Check the unit"
            )
        if self.trapped_air is not None and self.volume is not None and self.trapped_air > self.volume:
            raise ValueError("trapped_air: more air is left in than the vessel holds: check both volumes")

    def _ends_fit(self) -> None:
        """A dished end has to reach across the shell."""
        if self.ends and self.shell is None:
            raise ValueError("ends: ends close a shell, and none is given")
        if self.ends and self.shell and self.shell.form == "sphere":
            raise ValueError("ends: a sphere has none: leave them out, or make the shell a cylinder")
        for number, end in enumerate(self.ends):
            radius = self.shell.inside_diameter / 2 if self.shell else 0.0
            if end.wall is not None and end.form != "stayed" and end.wall >= 2 * radius:
                raise ValueError(f"ends.{number}.wall: the end is thicker than the shell is wide: check its wall")
            if end.form == "torispherical" and end.crown is not None and end.crown < radius * (1 - 1e-9):
                raise ValueError(
                    f"ends.{number}.crown: a crown radius under half of the inside diameter does not reach across the "
                    "shell"
                )
            if end.form == "torispherical" and end.knuckle is not None and end.knuckle > radius:
                raise ValueError(
                    f"ends.{number}.knuckle: a knuckle radius over half of the inside diameter leaves no crown"
                )


def boundary_of(sheet: VesselSheet) -> tuple[Any, ...]:
    """What bears the pressure: kind, shell, ends, tubes, box, cask, volume and plate, without what is only measured of
    it.
    """
    shell = (
        None if sheet.shell is None else sheet.shell.model_copy(update={"wall_readings": [], "wall_measured": False})
    )
    ends = [end.model_copy(update={"wall_readings": []}) for end in sheet.ends]
    return sheet.kind, shell, ends, sheet.tubes, sheet.box, sheet.cask, sheet.plate_pressure, sheet.maker_test_limit
