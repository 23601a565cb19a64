"""A logger's file at the bench, over the wire."""

import datetime
from typing import Any
from uuid import UUID

from django.http import HttpRequest
from ninja import Field, Router, Schema, Status

from toadbell.core.bench.logger_file import BadRow, Logged, LoggedRow, Recipe, recipe_from
from toadbell.shed.wire import Moment
from toadbell.trials.bench import imports
from toadbell.trials.bench.api import bench_out
from toadbell.trials.bench.shapes import BenchOut
from toadbell.trials.models import Trial
from toadbell.trials.plan.api import maker_of

router = Router()
SHOWN_ROWS = 8


class PreviewIn(Schema):
    """A file's text, the person's time zone, and how to read it where that was put right by hand."""

    text: str = Field(max_length=imports.MOST_BYTES)
    zone: str = Field(default="UTC", max_length=60)
    recipe: dict[str, Any] | None = None


class ImportIn(Schema):
    """A file to take in, as it was previewed. begins: when a file that counts seconds began."""

    name: str = Field(max_length=200)
    text: str = Field(max_length=imports.MOST_BYTES)
    recipe: dict[str, Any]
    begins: Moment | None = None


class PreviewOut(Schema):
    """What a file holds: its first rows, how many in all, those left out, and what is still to be said."""

    recipe: Recipe
    titles: list[str]
    missing: list[str]
    rows: list[LoggedRow]
    rows_in_all: int
    bad: list[BadRow]
    bad_in_all: int
    first: datetime.datetime | None
    last: datetime.datetime | None
    seconds: float | None


def _preview_out(found: Logged) -> PreviewOut:
    ends = (found.rows[0], found.rows[-1]) if found.rows else None
    span = None
    if ends:
        a, b = ends
        span = (b.at - a.at).total_seconds() if a.at and b.at else (b.elapsed or 0.0) - (a.elapsed or 0.0)
    return PreviewOut(
        recipe=found.recipe,
        titles=found.titles,
        missing=found.missing,
        rows=found.rows[:SHOWN_ROWS],
        rows_in_all=len(found.rows),
        bad=found.bad,
        bad_in_all=found.bad_in_all,
        first=ends[0].at if ends else None,
        last=ends[1].at if ends else None,
        seconds=span,
    )


@router.post("/trials/{trial_id}/imports/preview", response=PreviewOut)
def preview(request: HttpRequest, trial_id: UUID, data: PreviewIn) -> PreviewOut:
    """Look into a logger's file; nothing is stored."""
    return _preview_out(imports.preview(data.text, recipe_from(data.recipe) if data.recipe else None, data.zone))


@router.post("/trials/{trial_id}/imports", response={201: BenchOut})
def take_in(request: HttpRequest, trial_id: UUID, data: ImportIn) -> Status[BenchOut]:
    """Take a logger's file into the trial."""
    with Trial.locked(trial_id) as trial:
        imports.take_in(trial, maker_of(request), data.name, data.text, recipe_from(data.recipe), data.begins)
    return Status(201, bench_out(trial, request))
