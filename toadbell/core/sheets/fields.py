"""The kinds of field that sheets are made of: text with a unit in, SI float out, or a refusal that says what would
do.
"""

import datetime
import re
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, GetJsonSchemaHandler, WithJsonSchema

from toadbell.core import units
from toadbell.core.kinds import KINDS
from toadbell.core.physics.materials import MATERIALS


def _quantity(kind: str, *, least: float | None = None, above: float | None = None) -> BeforeValidator:
    def read(value: Any) -> float:
        if isinstance(value, int | float) and not isinstance(value, bool):
            raise ValueError(f"{value:g} has no unit: write it like {units.KINDS[kind].examples}")
        si = units.read(value, kind).value
        if above is not None and si <= above:
            raise ValueError(f"“{value}” must be more than {above:g}")
        if least is not None and si < least:
            raise ValueError(f"“{value}” must be at least {least:g}")
        return si

    return BeforeValidator(read)


def _written(kind: str) -> WithJsonSchema:
    """How a quantity is described to whoever writes a sheet: as text with its unit."""
    return WithJsonSchema({"type": "string", "description": f"such as {units.KINDS[kind].examples}"})


Pressure = Annotated[float, _quantity("pressure", above=0), _written("pressure")]
Length = Annotated[float, _quantity("length", above=0), _written("length")]
Allowance = Annotated[float, _quantity("length", least=0), _written("length")]
Height = Annotated[float, _quantity("length"), _written("length")]
Volume = Annotated[float, _quantity("volume", above=0), _written("volume")]
Air = Annotated[float, _quantity("volume", least=0), _written("volume")]
Temperature = Annotated[float, _quantity("temperature", above=0), _written("temperature")]
Step = Annotated[float, _quantity("temperature_difference", above=0), _written("temperature_difference")]
Duration = Annotated[float, _quantity("time", above=0), _written("time")]
Pause = Annotated[float, _quantity("time", least=0), _written("time")]
LeakRate = Annotated[float, _quantity("leak", above=0), _written("leak")]
Compliance = Annotated[float, _quantity("compliance", above=0), _written("compliance")]
Torque = Annotated[float, _quantity("torque", above=0), _written("torque")]
Angle = Annotated[float, _quantity("angle"), _written("angle")]
Density = Annotated[float, _quantity("density", above=0), _written("density")]
Mass = Annotated[float, _quantity("mass", above=0), _written("mass")]
FlowRate = Annotated[float, _quantity("leak", above=0), _written("leak")]
FlowOrNone = Annotated[float, _quantity("leak", least=0), _written("leak")]
Power = Annotated[float, _quantity("power", above=0), _written("power")]
Stress = Annotated[float, _quantity("stress", above=0), _written("stress")]

_MATERIAL_NAMES = ", ".join(MATERIALS)


def _material(value: Any) -> str:
    if value not in MATERIALS:
        raise ValueError(f"“{value}” is not a known material: one of {_MATERIAL_NAMES}")
    return str(value)


def _kind(value: Any) -> str:
    if value not in KINDS:
        raise ValueError(f"“{value}” is not a kind of vessel: one of {', '.join(KINDS)}")
    return str(value)


Material = Annotated[str, BeforeValidator(_material)]
Kind = Annotated[str, BeforeValidator(_kind)]


def _within(least: float, most: float, what: str) -> AfterValidator:
    """A figure that cannot lie outside of what is met on this earth."""

    def read(value: float) -> float:
        if not least <= value <= most:
            raise ValueError(what)
        return value

    return AfterValidator(read)


Altitude = Annotated[Height, _within(-430.0, 5500.0, "nobody works lower than 430 m under the sea or over 5,500 m")]
"""How high above the sea a workshop stands."""
OuterPressure = Annotated[
    Pressure,
    _within(5e4, 1.1e5, "the outer air's pressure is between 500 and 1,100 mbar, as it stands and not at sea level"),
]
"""What a barometer shows where it stands, absolute."""


EARLIEST, LATEST = datetime.date(1800, 1, 1), datetime.date(2200, 1, 1)
"""Days outside of these are slips of a finger, and reckoning with them runs off the calendar."""
_DAY = re.compile(r"\d{4}-\d{2}-\d{2}", re.ASCII)


def _day(value: Any) -> datetime.date:
    if isinstance(value, str) and _DAY.fullmatch(value):
        try:
            value = datetime.date.fromisoformat(value)
        except ValueError:
            raise ValueError(f"“{value}” is no day of the calendar") from None
    if not isinstance(value, datetime.date) or isinstance(value, datetime.datetime):
        raise ValueError(f"“{str(value)[:40]}” is no day: write it as year, month and day, such as 2026-03-14")
    if not EARLIEST <= value <= LATEST:
        raise ValueError(f"{value.isoformat()} is no day that is met here: check the year")
    return value


Day = Annotated[datetime.date, BeforeValidator(_day)]
"""A day without a time: years, months and days as they are written, the same everywhere."""


class Part(BaseModel):
    """A part of a sheet: no other keys than its own, no number that is none."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False, defer_build=True)

    @classmethod
    def __get_pydantic_json_schema__(cls, schema: Any, handler: GetJsonSchemaHandler) -> Any:
        """As it is described to whoever writes one: what has a default may be left out."""
        described = handler(schema)
        for field in handler.resolve_ref_schema(described).get("properties", {}).values():
            field.pop("default", None)
        return described
