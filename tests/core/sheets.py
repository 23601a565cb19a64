"""Sheets that several tests start from, in the open format."""

from typing import Any

from toadbell.core.answers import DeriveAnswer
from toadbell.core.derive import derive
from toadbell.core.phrases import Habit, speaking
from toadbell.core.sheets import VesselSheet, read_vessel_sheet

RECEIVER: dict[str, Any] = {
    "kind": "receiver",
    "working_pressure": "8.5 bar",
    "plate_pressure": "14 bar",
    "basis": "proof-150",
    "water_temperature": "16 degC",
    "shell": {
        "form": "cylinder",
        "inside_diameter": "366 mm",
        "length": "800 mm",
        "wall": "3.2 mm",
        "wall_measured": True,
        "material": "carbon-steel",
        "joint_efficiency": 0.7,
        "corrosion": "0.3 mm",
    },
    "ends": [{"form": "ellipsoidal", "wall": "3.5 mm"}, {"form": "ellipsoidal", "wall": "3.5 mm"}],
    "gauge": {"range": "25 bar", "division": "0.5 bar", "height_above_top": "-0.4 m"},
    "pump": {"stroke": "12 mL", "maximum": "60 bar"},
    "trapped_air": "0.05 L",
    "date": "2026-11-24",
}


def receiver(**changes: Any) -> dict[str, Any]:
    """The receiver's sheet with some keys changed; None takes a key out."""
    return {key: value for key, value in {**RECEIVER, **changes}.items() if value is not None}


def shell(**changes: Any) -> dict[str, Any]:
    """The receiver's shell with some keys changed; None takes a key out."""
    return {key: value for key, value in {**RECEIVER["shell"], **changes}.items() if value is not None}


def derived(**changes: Any) -> DeriveAnswer:
    """What the core makes of the receiver with some keys changed."""
    return derive(read_vessel_sheet(receiver(**changes)))


def codes(says: list[Any]) -> set[str]:
    """The codes of stops or cautions."""
    return {one.code for one in says}


def derived_for(sheet: VesselSheet, pressure: str = "psi", length: str = "in") -> DeriveAnswer:
    """The plan as it is told to a person who reads in these units."""
    with speaking(Habit(pressure, length)):
        return derive(sheet)
