"""What lies in a data package, file by file: written and read by the same shapes.

People are named by an id that is theirs everywhere.
"""

import datetime
import json
from typing import Any, Literal
from uuid import UUID

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, field_validator, model_validator

from toadbell.core.documents import upgraded
from toadbell.core.judge.answers import Fitness
from toadbell.core.ledger.deciding import Valve
from toadbell.trials.models import Source, State

FORMAT = 1


class _Shape(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    def as_bytes(self) -> bytes:
        """The file that this is."""
        return as_json(self.model_dump(mode="json", by_alias=True, exclude_none=False))


def as_json(data: Any) -> bytes:
    """JSON as it lies in a package: a line each of what lies at its top, in the order it was written, UTF-8."""
    if isinstance(data, dict):
        lines, ends = [f"{_plain(name)}: {_plain(value)}" for name, value in data.items()], "{}"
    elif isinstance(data, list):
        lines, ends = [_plain(value) for value in data], "[]"
    else:
        return f"{_plain(data)}\n".encode()
    body = ",\n ".join(lines)
    return f"{ends[0]}\n {body}\n{ends[1]}\n".encode() if lines else f"{ends}\n".encode()


def _plain(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False, allow_nan=False)


class Resource(_Shape):
    """A file of the package: where, what, how long, its checksum, and for a table what its columns are."""

    name: str
    path: str
    format: Literal["json", "csv", "jpg", "pdf", "zip"]
    mediatype: str
    bytes: int
    hash: str
    type: Literal["table"] | None = None
    encoding: Literal["utf-8"] | None = None
    schema_: dict[str, Any] | None = Field(default=None, alias="schema")


class PackageList(BaseModel):
    """datapackage.json: what is in it and when it was made."""

    schema_: str = Field(default="https://datapackage.org/profiles/2.0/datapackage.json", alias="$schema")
    name: Literal["toad-bell-records"] = "toad-bell-records"
    title: str = Field(max_length=200)
    created: AwareDatetime
    toadbell: dict[Literal["format"], int]
    resources: list[Resource] = Field(max_length=500_000)


class VesselFile(_Shape):
    """vessels/ID/vessel.json"""

    id: UUID
    name: str = Field(min_length=1, max_length=120)
    notes: str = Field(max_length=500_000)
    sheet: dict[str, Any]
    version: int = Field(ge=1)
    hung_up: AwareDatetime
    by: UUID
    retired_on: datetime.date | None = None


class KitFile(_Shape):
    """One piece of kit.json"""

    id: UUID
    kind: str
    name: str = Field(min_length=1, max_length=80)
    notes: str
    sheet: dict[str, Any]
    version: int = Field(ge=1)
    taken_down: bool
    hung_up: AwareDatetime


class FrozenPart(_Shape):
    """The plan as frozen: sheet and answer, by which core.

    One of an older release is brought up to today's schema as it is read.
    """

    schema_: int = Field(alias="schema")
    sheet: dict[str, Any]
    answer: dict[str, Any]
    core: str = Field(max_length=20)

    @model_validator(mode="before")
    @classmethod
    def _of_today(cls, stored: Any) -> Any:
        return upgraded("plan", stored)


class VerdictPart(_Shape):
    """The verdict as it was computed."""

    sheet: dict[str, Any]
    asked: dict[str, Any]
    answer: dict[str, Any]
    points: list[dict[str, Any]]
    core: str = Field(max_length=20)
    at: AwareDatetime

    @field_validator("answer", mode="before")
    @classmethod
    def _of_today(cls, stored: Any) -> Any:
        return upgraded("verdict", stored)


class DecisionPart(_Shape):
    """What a person decided. Pressure Pa."""

    fitness: Fitness
    pressure: float | None
    reason: str
    valve: Valve | Literal[""] = ""
    less_cautious: bool
    overruled: dict[str, str] = {}
    advice: dict[str, Any]
    next_proof: datetime.date | None
    by: UUID
    at: AwareDatetime

    @field_validator("advice", mode="before")
    @classmethod
    def _of_today(cls, stored: Any) -> Any:
        return upgraded("advice", stored)


class DevicePart(_Shape):
    """A logger that read for the trial; its token stays where it was."""

    id: UUID
    name: str = Field(max_length=80)
    made_at: AwareDatetime
    by: UUID


class LoggedPart(_Shape):
    """A logger's file that was taken in."""

    id: UUID
    name: str = Field(max_length=200)
    sha256: str = Field(max_length=64)
    recipe: dict[str, Any]
    rows: int = Field(ge=0)
    refused: list[dict[str, Any]]
    at: AwareDatetime
    by: UUID


class TrialFile(_Shape):
    """trials/ID/trial.json"""

    id: UUID
    vessel: UUID
    number: int = Field(ge=1, le=100_000)
    state: State
    planned_at: AwareDatetime
    planned_by: UUID
    copied_from: UUID | None
    version: int = Field(ge=1)
    sheet: dict[str, Any]
    frozen: FrozenPart | None
    source: Source
    practice: bool = False
    started_at: AwareDatetime | None
    wall_anchor: AwareDatetime | None
    trial_anchor: AwareDatetime | None
    speed: float = Field(ge=0, le=600)
    rig: dict[str, Any] | None
    devices: list[DevicePart]
    files: list[LoggedPart]
    verdict: VerdictPart | None
    decision: DecisionPart | None


def _field(name: str, kind: str, says: str, **more: Any) -> dict[str, Any]:
    return {"name": name, "type": kind, "description": says, **more}


_ID = _field("id", "string", "its own, everywhere", format="uuid")
TABLES: dict[str, list[dict[str, Any]]] = {
    "people": [_ID, _field("name", "string", "as it stands on records")],
    "readings": [
        _ID,
        _field("time", "datetime", "when it was read, UTC", format="any"),
        _field("pressure [Pa]", "number", "gauge", unit="Pa"),
        _field("water_temperature [K]", "number", "of the water, where it was read", unit="K"),
        _field("strokes", "integer", "made so far, where they were counted"),
        _field("source", "string", "dial, rig (the simulated one), device or file"),
        _field("device", "string", "id of the logger"),
        _field("file", "string", "id of the file it came in"),
        _field("stored_at", "datetime", "when it was on the disk, UTC", format="any"),
    ],
    "events": [
        _ID,
        _field("time", "datetime", "when it happened, UTC", format="any"),
        _field("kind", "string", "what happened"),
        _field("by", "string", "id of who said so"),
        _field("says", "string", "the same in words"),
        _field("data", "object", "what came with it, JSON; SI numbers"),
        _field("stored_at", "datetime", "when it was on the disk, UTC", format="any"),
    ],
    "attachments": [
        _ID,
        _field("kind", "string", "photo or paper"),
        _field("vessel", "string", "id"),
        _field("opening", "string", "name of the vessel's opening it shows"),
        _field("trial", "string", "id"),
        _field("event", "string", "id of the leak or log line it shows"),
        _field("text", "string", "what it shows"),
        _field("name", "string", "what the file was called"),
        _field("time", "datetime", "when, UTC", format="any"),
        _field("by", "string", "id of who kept it"),
        _field("taken_down", "boolean", "no longer shown"),
    ],
    "cares": [
        _ID,
        _field("vessel", "string", "id"),
        _field("what", "string", "what was done"),
        _field("on", "date", "the day"),
        _field("text", "string", "what was found"),
        _field("by", "string", "id of who did it"),
        _field("time", "datetime", "when it was written down, UTC", format="any"),
        _field("found", "string", "by a look inside: sound, watch or unsound"),
        _field("until", "date", "a paper is good"),
        _field("withdrawn", "datetime", "when it was taken back, UTC", format="any"),
        _field("withdrawn_by", "string", "id of who took it back"),
    ],
    "signatures": [
        _ID,
        _field("trial", "string", "id"),
        _field("role", "string", "witness or inspector"),
        _field("name", "string", "as it stands on the record"),
        _field("of", "string", "id of whom it was asked of"),
        _field("asked_by", "string", "id of who asked"),
        _field("asked_at", "datetime", "when it was asked, UTC", format="any"),
        _field("how", "string", "own: their own phone; here: the workshop's machine; paper"),
        _field("saw", "object", "what they saw, ids of stages and hold, JSON"),
        _field("remarks", "string", "in their words"),
        _field("approved", "boolean", "by an inspector"),
        _field("signed_at", "datetime", "when, UTC; empty where it is not signed", format="any"),
        _field("written_by", "string", "id of whose session wrote it"),
        _field("seal", "string", "SHA-256 of the sealed package that was signed, sealed/<seal>.zip"),
        _field("key", "string", "public key of the workshop that vouches for this row, Ed25519, hexadecimal"),
        _field("vouched", "string", "its signature over the row without these two columns, hexadecimal"),
    ],
    "beside": [
        _ID,
        _field("trial", "string", "id"),
        _field("text", "string", "written beside the sealed record"),
        _field("by", "string", "id of who wrote it"),
        _field("at", "datetime", "when, UTC", format="any"),
        _field("key", "string", "as in signatures.csv"),
        _field("vouched", "string", "as in signatures.csv"),
    ],
}
LATER = {
    "cares": ("found", "until", "withdrawn", "withdrawn_by"),
    "signatures": ("key", "vouched"),
    "beside": ("key", "vouched"),
}
"""Columns at a table's end that packages of earlier releases are without."""
"""Columns of the tables, as the package's list describes them."""
