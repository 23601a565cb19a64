"""The vessel as a sheet tells of it: shell, ends, tubes, low tanks, fittings, drain."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, model_validator

from toadbell.core.sheets.fields import Allowance, Angle, Day, Density, Height, Length, Material, Part, Pressure, Stress


class OwnFigures(Part):
    """Figures of a metal that a person knows better than the table: from a certificate, the maker or a test.

    `welded`: false where no weld is near; some metals are softer beside one, and are taken to be where nobody says.
    """

    yield_strength: Stress | None = None
    ultimate: Stress | None = None
    design_stress: Stress | None = None
    youngs_modulus: Stress | None = None
    poisson: float | None = Field(default=None, gt=0, lt=0.5)
    expansion: float | None = Field(default=None, ge=0, le=1e-3, description="linear, 1/K")
    density: Density | None = None
    welded: bool | None = None


class WallReading(Part):
    """A wall as measured: where along from the first seam, where round from the top as it lies, and when."""

    wall: Length
    along: Height | None = None
    round: Angle = 0.0
    date: Day | None = None


def _bare_wall(value: Any) -> Any:
    return {"wall": value} if isinstance(value, str | int | float) else value


class _OrBare:
    """A reading, or the bare wall."""

    def __get_pydantic_json_schema__(self, schema: Any, handler: Any) -> Any:
        return {"anyOf": [handler(schema), {"type": "string"}]}


class Walled(OwnFigures):
    """A part with a wall: its nominal thickness, and what was measured here and there."""

    wall: Length | None = None
    wall_readings: list[Annotated[WallReading, BeforeValidator(_bare_wall), _OrBare()]] = Field(
        default=[], max_length=500
    )

    @property
    def thinnest(self) -> float | None:
        """Wall to reckon with, m: the thinnest of the nominal wall and the readings."""
        return min([w for w in (self.wall, *self._read) if w is not None], default=None)

    @property
    def usual(self) -> float | None:
        """Wall that the give is reckoned with, m: the nominal one, else the mean of the readings."""
        if self.wall is not None or not self.wall_readings:
            return self.wall
        return sum(self._read) / len(self._read)

    @property
    def _read(self) -> list[float]:
        return [reading.wall for reading in self.wall_readings]


class Shell(Walled):
    """The body: a cylinder or a sphere. `length` is seam to seam, ends not counted."""

    form: Literal["cylinder", "sphere"] = "cylinder"
    inside_diameter: Length
    length: Length | None = None
    wall_measured: bool = False
    material: Material = "other"
    joint_efficiency: float = Field(default=0.7, gt=0, le=1)
    corrosion: Allowance = 0.0

    @model_validator(mode="after")
    def _possible(self) -> Shell:
        if max((self.wall or 0.0, *self._read)) >= self.inside_diameter / 2:
            raise ValueError("the wall is thicker than the inside radius: check the wall and the inside diameter")
        return self

    @property
    def measured(self) -> bool:
        """Was the wall measured, all of it or here and there?"""
        return self.wall_measured or bool(self.wall_readings)


class End(Walled):
    """A closed end of the shell. Crown and knuckle are inside radii of a torispherical end; pitch is of stays.

    `attachment` is UG-34's factor C of a flat end's rim.
    """

    form: Literal["ellipsoidal", "hemispherical", "torispherical", "flat", "stayed"]
    material: Material | None = None
    crown: Length | None = None
    knuckle: Length | None = None
    attachment: float = Field(default=0.33, ge=0.1, le=1)
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


class Tubes(OwnFigures):
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


class Place(Part):
    """Where an opening is.

    On the shell: along from the first seam, round from the top as it lies. On an end: out from the axis.

    On a low tank: its top, or a side so far up.
    """

    on: Literal["shell", "end 1", "end 2", "top", "side"] = "shell"
    along: Height = 0.0
    round: Angle = 0.0
    out: Allowance = 0.0
    up: Allowance = 0.0


FITTED = (
    "relief-valve",
    "pressure-switch",
    "gauge",
    "sight-glass",
    "regulator",
    "outlet",
    "feed",
    "check-valve",
    "drain",
    "plug",
    "hand-hole",
    "breather",
    "other",
)
"""What may sit in an opening in service."""
FOR_TEST = ("keep", "take-off", "blank", "vent", "drain", "pump", "gauge", "tee")
"""What may be done with an opening for the test; a tee carries pump, vent and gauge at once."""
ON_A_TEE = ("vent", "pump", "gauge")


class Fitting(Part):
    """An opening and what closes it.

    `rating` is of what is in it during the test; `sealed_diameter` is what the pressure pushes on.
    """

    name: str = Field(min_length=1, max_length=80)
    rating: Pressure | None = None
    sealed_diameter: Length | None = None
    stays_on: bool = True
    thread: str | None = Field(default=None, max_length=40)
    fitted: Literal[FITTED] | None = None  # type: ignore[valid-type]
    for_test: Literal[FOR_TEST] | None = None  # type: ignore[valid-type]
    bore: Length | None = None
    place: Place | None = None
    ready: bool = False

    def serves(self, role: str) -> bool:
        """Is it the vent, the pump's or the gauge's opening: for itself, or with the others on a tee?"""
        return self.for_test == role or (self.for_test == "tee" and role in ON_A_TEE)


class Drain(Part):
    """What the water leaves by: the bore, and the pipe or hose it runs in."""

    bore: Length


class Box(Part):
    """A low tank with flat sides, inside sizes; or a drum, by its diameter and height in place of length and width.

    Its wall is the thinnest of its faces'.
    """

    length: Length | None = None
    width: Length | None = None
    diameter: Length | None = None
    height: Length
    wall: Length | None = None
    material: Material | None = None

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


class Cask(Part):
    """A cask by its inside diameters at bilge and head, and the length between the heads."""

    bilge: Length
    head: Length
    length: Length

    @model_validator(mode="after")
    def _possible(self) -> Cask:
        if self.head > self.bilge:
            raise ValueError("the head is wider than the bilge: they may be the wrong way round")
        return self
