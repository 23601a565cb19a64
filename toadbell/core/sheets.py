"""The open formats: what a sheet may hold, and how a wrong one is refused.

Values with units are strings; reading a sheet turns them into SI floats. `docs/formats.md` describes them for people.
"""

from __future__ import annotations

import datetime
import json
from pathlib import Path
from typing import Any, Literal, TypeVar

from pydantic import BaseModel, Field, ValidationError, model_validator

from toadbell.core.fields import (
    Air,
    Allowance,
    Compliance,
    Duration,
    FlowRate,
    Kind,
    LeakRate,
    Length,
    Mass,
    Material,
    Part,
    Pause,
    Pressure,
    Stress,
    Temperature,
    Volume,
)
from toadbell.core.kit_sheet import Gauge, NamedGauge, Pump, Thermometer, TorqueWrench

MAX_SHEET_BYTES = 1_000_000
Sheet = TypeVar("Sheet", bound=BaseModel)


class SheetError(ValueError):
    """A sheet cannot be used; the message names the field, what was given and what would be accepted."""

    def __init__(self, says: str, field: str | None = None):
        super().__init__(says if field is None else f"{field}: {says}")
        self.says, self.field = says, field


class Shell(Part):
    """The body: a cylinder or a sphere. `length` is seam to seam, ends not counted."""

    form: Literal["cylinder", "sphere"] = "cylinder"
    inside_diameter: Length
    length: Length | None = None
    wall: Length | None = None
    wall_measured: bool = False
    wall_readings: list[Length] = Field(default=[], max_length=500)
    material: Material = "other"
    yield_strength: Stress | None = None
    design_stress: Stress | None = None
    youngs_modulus: Stress | None = None
    poisson: float | None = Field(default=None, gt=0, lt=0.5)
    expansion: float | None = Field(default=None, ge=0, le=1e-3, description="linear, 1/K")
    joint_efficiency: float = Field(default=0.7, gt=0, le=1)
    corrosion: Allowance = 0.0

    @model_validator(mode="after")
    def _possible(self) -> Shell:
        if self.wall is not None and self.wall >= self.inside_diameter / 2:
            raise ValueError("the wall is thicker than the inside radius: check the wall and the inside diameter")
        return self

    @property
    def thinnest(self) -> float | None:
        """Wall to reckon with, m: the thinnest of the nominal wall and the readings."""
        return min([w for w in (self.wall, *self.wall_readings) if w is not None], default=None)


class End(Part):
    """A closed end of the shell. Crown and knuckle are inside radii of a torispherical end; pitch is of stays."""

    form: Literal["ellipsoidal", "hemispherical", "torispherical", "flat", "stayed"]
    wall: Length | None = None
    material: Material | None = None
    crown: Length | None = None
    knuckle: Length | None = None
    pitch: Length | None = None
    stay_diameter: Length | None = None

    @model_validator(mode="after")
    def _possible(self) -> End:
        if self.knuckle is not None and self.crown is not None and self.knuckle > self.crown:
            raise ValueError("the knuckle radius is larger than the crown radius: they may be the wrong way round")
        if self.form == "stayed" and self.pitch is None:
            raise ValueError("a stayed end needs the pitch of its stays")
        if self.pitch is not None and self.stay_diameter is not None and self.stay_diameter >= self.pitch:
            raise ValueError("the stays are thicker than their pitch: check the pitch and the stay diameter")
        return self


class Tubes(Part):
    """Fire tubes or a flue through the shell, pressed from outside; as long as the shell unless stated."""

    count: int = Field(default=1, ge=1, le=2000)
    outside_diameter: Length
    wall: Length
    length: Length | None = None
    material: Material | None = None

    @model_validator(mode="after")
    def _possible(self) -> Tubes:
        if self.wall >= self.outside_diameter / 2:
            raise ValueError("the tube's wall leaves no bore: check the wall and the outside diameter")
        return self


class Fitting(Part):
    """Something screwed, flanged or clamped on. `sealed_diameter` is what the pressure pushes on."""

    name: str = Field(max_length=80)
    rating: Pressure | None = None
    sealed_diameter: Length | None = None
    stays_on: bool = True


class MaxLeak(Part):
    """The leak may be no more than this."""

    max_leak: LeakRate


class MaxDrop(Part):
    """The gauge may fall no more than this over that time."""

    max_drop: Pressure
    over: Duration


class NoVisibleDrop(Part):
    """Nothing may be seen to move on the gauge."""

    no_visible_drop: Literal[True]


class AgainstBaseline(Part):
    """No more than so many times the leak of a hold of the same rig known to be tight."""

    baseline: str = Field(max_length=300)
    times: float = Field(default=2, gt=0, le=10)


Acceptance = MaxLeak | MaxDrop | NoVisibleDrop | AgainstBaseline


class Drain(Part):
    """What the water leaves by: the bore, and the pipe or hose it runs in."""

    bore: Length


class EditedStage(Part):
    """A stage as a person set it: the pressure on the gauge, and the pause at it."""

    target: Pressure
    pause: Pause = 180.0
    name: str | None = Field(default=None, max_length=40)


class Box(Part):
    """A low tank with flat sides, inside sizes; or a drum, by its diameter and height in place of length and width."""

    length: Length | None = None
    width: Length | None = None
    diameter: Length | None = None
    height: Length

    @model_validator(mode="after")
    def _possible(self) -> Box:
        if (self.diameter is None) == (self.length is None or self.width is None):
            raise ValueError("a low tank is given by length, width and height, or by diameter and height")
        return self


class Proven(Part):
    """A design that was proven, and that this vessel departs from: its sizes and the pressure proven."""

    inside_diameter: Length
    wall: Length
    pressure: Pressure


class Hold(Part):
    """How long to hold, and how often to read."""

    minimum: Duration
    every: Duration | None = None


class VesselSheet(Part):
    """Everything `derive` reads. Only kind and working pressure are required; what is absent is not known."""

    kind: Kind
    working_pressure: Pressure
    plate_pressure: Pressure | None = None
    relief_set: Pressure | None = None
    maker_test_limit: Pressure | None = None
    basis: str | None = None
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
    proven: Proven | None = None
    empty_mass: Mass | None = None
    fill_rate: FlowRate | None = None
    drain: Drain | None = None
    proven_before: Pressure | None = None
    tubes: list[Tubes] = Field(default=[], max_length=20)
    position: Literal["lying", "standing"] = "lying"
    volume: Volume | None = None
    fittings: list[Fitting] = Field(default=[], max_length=60)
    gauge: Gauge | None = None
    thermometer: Thermometer | None = None
    pump: Pump | None = None
    trapped_air: Air | None = None
    raising: Literal["quarters", "half-then-tenths", "single"] | None = None
    stages: list[EditedStage] = Field(default=[], max_length=40)
    gauges: list[NamedGauge] = Field(default=[], max_length=40)
    torque_wrench: TorqueWrench | None = None
    pause: Pause | None = None
    hold: Hold | None = None
    acceptance: Acceptance | None = None
    made: int | None = Field(default=None, ge=1800, le=2200)
    retire: int | None = Field(default=None, ge=1800, le=2200)
    date: datetime.date | None = None

    @model_validator(mode="after")
    def _possible(self) -> VesselSheet:
        targets = [stage.target for stage in self.stages]
        if targets != sorted(set(targets)):
            raise ValueError("stages: the stages must rise, each above the one before")
        if self.shell and self.shell.form == "cylinder" and self.shell.length is None and self.volume is None:
            raise ValueError("shell.length: a cylinder needs its length, seam to seam, or the vessel its volume")
        if self.tubes and self.shell is None:
            raise ValueError("tubes: tubes go through a shell, and none is given")
        if any(t.outside_diameter >= self.shell.inside_diameter for t in self.tubes if self.shell):
            raise ValueError("tubes: a tube is as wide as the shell: check its outside diameter")
        if self.basis == "own" and self.factor is None:
            raise ValueError("factor: the basis “own” needs a factor, such as 1.4")
        if self.water_temperature is not None and not 273.15 <= self.water_temperature <= 373.15:
            raise ValueError("water_temperature: water is a liquid between 0 and 100 °C only")
        return self


class HoldShell(Part):
    """As much of the shell as the wall's give needs."""

    form: Literal["cylinder", "sphere"] = "cylinder"
    inside_diameter: Length
    wall: Length | None = None
    material: Material = "other"
    youngs_modulus: Stress | None = None
    poisson: float | None = Field(default=None, gt=0, lt=0.5)
    expansion: float | None = Field(default=None, ge=0, le=1e-3)
    length: Length | None = None
    wall_measured: bool = False
    wall_readings: list[Length] = Field(default=[], max_length=500)
    joint_efficiency: float = 0.7
    corrosion: Allowance = 0.0


class HoldSheet(Part):
    """Everything `judge` needs beside the log."""

    medium: Literal["water", "air"] = "water"
    volume: Volume | None = None
    shell: HoldShell | None = None
    compliance: Compliance | None = None
    trapped_air: Air = 0.0
    water_temperature: Temperature | None = None
    test_pressure: Pressure | None = None
    gauge: Gauge | None = None
    thermometer: Thermometer | None = None
    acceptance: Acceptance

    @model_validator(mode="after")
    def _enough(self) -> HoldSheet:
        if self.volume is None and self.compliance is None:
            raise ValueError("volume: the volume of the vessel is needed, or its measured compliance")
        return self


def read_vessel_sheet(data: Any) -> VesselSheet:
    """A vessel sheet from parsed JSON; raises SheetError naming the field."""
    return _read(VesselSheet, data)


def read_hold_sheet(data: Any) -> HoldSheet:
    """A hold sheet from parsed JSON; raises SheetError naming the field."""
    return _read(HoldSheet, data)


def load(path: Path) -> Any:
    """The JSON in a file; raises SheetError where it is none, too large or cannot be opened."""
    try:
        if path.stat().st_size > MAX_SHEET_BYTES:
            raise SheetError(f"{path.name} is larger than {MAX_SHEET_BYTES // 1_000_000} MB: a sheet is a few kB of JSON")
        return json.loads(path.read_text(encoding="utf-8-sig"))
    except OSError as problem:
        raise SheetError(f"{path} cannot be opened: {problem.strerror}") from None
    except (ValueError, RecursionError) as problem:
        if isinstance(problem, SheetError):
            raise
        raise SheetError(f"{path.name} is not JSON: {problem}") from None


def _read(model: type[Sheet], data: Any) -> Sheet:
    if not isinstance(data, dict):
        raise SheetError("a sheet is a JSON object, such as {“kind”: “receiver”, “working_pressure”: “8.5 bar”}")
    try:
        return model.model_validate(data)
    except ValidationError as problem:
        raise _as_sheet_error(problem, model) from None


def _as_sheet_error(problem: ValidationError, model: type[BaseModel]) -> SheetError:
    """The first thing that is wrong, in words. Of a choice of forms, the one that came nearest speaks."""
    errors = problem.errors(include_url=False)
    first = next((e for e in errors if e["type"] not in ("missing", "extra_forbidden")), errors[0])
    where = ".".join(str(p) for p in first["loc"] if str(p) not in _CHOICES)
    says = first["msg"].removeprefix("Value error, ")
    if first["type"] == "extra_forbidden":
        says = f"there is no such key in this sheet; {_known_keys(model, where)}"
    elif first["type"] == "missing":
        says = "this is needed and was not given"
    elif first["type"] == "literal_error":
        says = f"“{first['input']}” is not one of {first['ctx']['expected']}"
    elif first["type"] != "value_error":
        says = f"{says[0].lower()}{says[1:]}, not “{str(first['input'])[:60]}”"
    head, colon, rest = says.partition(": ")
    if not where and colon and " " not in head:
        where, says = head, rest
    return SheetError(says, where or None)


_CHOICES = {"MaxLeak", "MaxDrop", "NoVisibleDrop", "AgainstBaseline"}


def _known_keys(model: type[BaseModel], where: str) -> str:
    return f"known are {', '.join(model.model_fields)}" if "." not in where else "see docs/formats.md"
