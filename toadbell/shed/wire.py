"""What may come over the wire: moments with their zone, days, names; and bodies that can be kept as they are."""

import datetime
import json
import re
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Schema
from ninja.parser import Parser
from pydantic import AfterValidator, StringConstraints, TypeAdapter

from toadbell.core.sheets import Acceptance, VesselSheet
from toadbell.core.sheets.fields import EARLIEST, LATEST, Day
from toadbell.core.sheets.kit import Particulars

__all__ = ["Day", "KeptParser", "Moment", "Name", "Unkept", "in_reach", "kept_json"]

NO_ZONE = "a time needs its zone, such as 2026-03-14T09:30:00Z or 2026-03-14T10:30:00+01:00"


def in_reach(moment: datetime.datetime) -> datetime.datetime:
    """A moment that a calendar can reckon with; raises ValueError in words."""
    if moment.tzinfo is None or moment.utcoffset() is None:
        raise ValueError(NO_ZONE)
    if not EARLIEST.year < moment.year < LATEST.year:
        raise ValueError(f"the year {moment.year} is none that is met here: check the time")
    return moment


Moment = Annotated[datetime.datetime, AfterValidator(in_reach)]
"""A moment with its zone, within a century or two of now."""
Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1)]
"""A name that says something."""

_CONTROL = re.compile(rb"\\u(?:00(?:0[0-8bcef]|1[0-9a-f]|7f)|[dD][89a-fA-F])", re.IGNORECASE)
_BARE = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ud800-\udfff]")


class Unkept(ValueError):
    """A text holds what could not be written down."""

    def __init__(self) -> None:
        super().__init__(
            "There is a character in a text that cannot be kept: half of a pair, or a control letter. Take it out and "
            "send it again; "
            "nothing was stored."
        )


class KeptParser(Parser):
    """Bodies as JSON, refused where a text in them could not be written down and read again as it came."""

    def parse_body(self, request: HttpRequest) -> Any:
        """The body's data. Raises ValueError: no JSON, or Unkept."""
        return kept_json(request.body)


def kept_json(body: bytes) -> Any:
    """A body's data, all of whose texts can be written down as they came. Raises ValueError: no JSON, or Unkept."""
    data = json.loads(body)
    if _CONTROL.search(body) and _holds_unkept(data):
        raise Unkept
    return data


def _holds_unkept(data: Any) -> bool:
    if isinstance(data, str):
        return _BARE.search(data) is not None
    if isinstance(data, dict):
        return any(_holds_unkept(part) for pair in data.items() for part in pair)
    return isinstance(data, list) and any(_holds_unkept(part) for part in data)


class Hung(Schema):
    """Whether it is taken down."""

    taken_down: bool


class _AsWritten:
    """A sheet over the wire as it was written: any JSON object, described as the sheet that the core reads."""

    def __init__(self, sheet: Any) -> None:
        self.sheet = sheet

    def __get_pydantic_json_schema__(self, schema: Any, handler: Any) -> Any:
        return handler(TypeAdapter(self.sheet).core_schema)


WrittenSheet = Annotated[dict[str, Any], _AsWritten(VesselSheet)]
"""A vessel's or a plan's sheet in the words and units that it was entered in.

The core reads it, and says what is wrong with it.
"""
WrittenKit = Annotated[dict[str, Any], _AsWritten(Particulars)]
"""The particulars of a piece of kit, likewise."""
WrittenAcceptance = Annotated[dict[str, Any], _AsWritten(Acceptance)]
"""What a hold may lose, likewise."""


class Gone(Schema):
    """What was taken away, in words."""

    says: str
