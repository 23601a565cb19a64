"""Sheets from files and from parsed JSON."""

import json
from pathlib import Path
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from toadbell.core.sheets.burst import BurstSheet
from toadbell.core.sheets.errors import SheetError
from toadbell.core.sheets.expansion import ExpansionSheet
from toadbell.core.sheets.fields import Altitude, Part
from toadbell.core.sheets.hold import HoldSheet
from toadbell.core.sheets.kit import KIT
from toadbell.core.sheets.plan import VesselSheet
from toadbell.core.sheets.relief import ReliefSheet
from toadbell.core.sheets.soap import SoapSheet
from toadbell.core.sheets.steam import SteamSheet
from toadbell.core.sheets.tightening import TighteningSheet

MAX_SHEET_BYTES = 1_000_000
Sheet = TypeVar("Sheet", bound=BaseModel)


def read_vessel_sheet(data: Any) -> VesselSheet:
    """A vessel sheet from parsed JSON; raises SheetError naming the field."""
    return _read(VesselSheet, data)


def read_hold_sheet(data: Any) -> HoldSheet:
    """A hold sheet from parsed JSON; raises SheetError naming the field."""
    return _read(HoldSheet, data).with_syringe()


def read_altitude(text: str) -> float:
    """How high a workshop stands, m, from text with its unit; raises SheetError."""
    return _read(_Stands, {"altitude": text}).altitude


class _Stands(Part):
    """A workshop by its height above the sea."""

    altitude: Altitude


def read_soap_sheet(data: Any) -> SoapSheet:
    """The log of a soap map from parsed JSON; raises SheetError naming the field."""
    return _read(SoapSheet, data)


def read_relief_sheet(data: Any) -> ReliefSheet:
    """The log of a relief trial from parsed JSON; raises SheetError naming the field."""
    return _read(ReliefSheet, data)


def read_steam_sheet(data: Any) -> SteamSheet:
    """The log of a first steam from parsed JSON; raises SheetError naming the field."""
    return _read(SteamSheet, data)


def read_expansion_sheet(data: Any) -> ExpansionSheet:
    """The log of an expansion trial from parsed JSON; raises SheetError naming the field."""
    return _read(ExpansionSheet, data)


def read_burst_sheet(data: Any) -> BurstSheet:
    """A design's articles from parsed JSON; raises SheetError naming the field."""
    return _read(BurstSheet, data)


def read_tightening_sheet(data: Any) -> TighteningSheet:
    """The log of a tightening trial from parsed JSON; raises SheetError naming the field."""
    return _read(TighteningSheet, data)


def read_kit(kind: str, data: Any) -> BaseModel:
    """A piece of kit from parsed JSON, by its kind; raises SheetError naming the field."""
    if kind not in KIT:
        raise SheetError(f"“{kind}” is no kind of kit: one of {', '.join(KIT)}", "kind")
    return _read(KIT[kind], data)


def load(path: Path) -> Any:
    """The JSON in a file; raises SheetError where it is none, too large or cannot be opened."""
    try:
        if path.stat().st_size > MAX_SHEET_BYTES:
            raise SheetError(
                f"{path.name} is larger than {MAX_SHEET_BYTES // 1_000_000} MB: a sheet is a few kB of JSON"
            )
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
