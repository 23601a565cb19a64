"""Records carried away and brought back, over the wire."""

import datetime
import io
from typing import IO, Literal
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Router, Schema, Status, UploadedFile

from toadbell.core.sheets import SheetError
from toadbell.records import package
from toadbell.records.files import sent
from toadbell.records.take_in import Taken, take_in
from toadbell.trials.models import Trial

router = Router()
MOST_BYTES = 500_000_000


class ItemOut(Schema):
    """A vessel, a trial or a piece of kit of the package, and whether it is new here."""

    what: Literal["vessel", "trial", "kit"]
    id: UUID
    name: str
    mark: Literal["new", "here", "differs"]
    says: str


class TakenOut(Schema):
    """What a package holds and what of it is new; `kept` once it was taken in."""

    title: str
    created: datetime.datetime
    items: list[ItemOut]
    readings: int
    events: int
    attachments: int
    cares: int
    notes: list[str]
    changes: bool
    kept: bool


@router.get("/package.zip", include_in_schema=False)
def carry_all(request: HttpRequest) -> HttpResponse:
    """Everything: vessels, kit, trials, pictures and papers."""
    now = timezone.now()
    return sent(_packed(None, now), "application/zip", f"toad-bell-{now.date().isoformat()}.zip")


@router.get("/trials/{trial_id}/package.zip", include_in_schema=False)
def carry_one(request: HttpRequest, trial_id: UUID) -> HttpResponse:
    """One trial with its vessel."""
    trial = Trial.objects.select_related("vessel").get(pk=trial_id)
    return sent(_packed(trial, timezone.now()), "application/zip", f"{file_name(trial)}.zip")


def _packed(trial: Trial | None, at: datetime.datetime) -> bytes:
    out = io.BytesIO()
    package.write(out, trial, at)
    return out.getvalue()


def file_name(trial: Trial) -> str:
    """What a file of a trial is called, without its ending."""
    plain = "".join(c if c.isascii() and c.isalnum() else "-" for c in trial.vessel.name.lower()).strip("-") or "vessel"
    return f"{plain}-trial-{trial.number}"


@router.post("/package/preview", response=TakenOut)
def preview(request: HttpRequest, file: UploadedFile = File(...)) -> TakenOut:  # noqa: B008
    """Look what a package holds; nothing is kept."""
    return _taken_out(take_in(_no_larger(file), dry=True), kept=False)


@router.post("/package", response={201: TakenOut})
def bring_back(request: HttpRequest, file: UploadedFile = File(...)) -> Status[TakenOut]:  # noqa: B008
    """Take a package in, whole or not at all."""
    return Status(201, _taken_out(take_in(_no_larger(file), dry=False), kept=True))


def _no_larger(file: UploadedFile) -> IO[bytes]:
    if (file.size or 0) > MOST_BYTES:
        raise SheetError(f"it is larger than {MOST_BYTES // 1_000_000} MB. Nothing was taken in", "file")
    assert file.file is not None
    return file.file


def _taken_out(taken: Taken, kept: bool) -> TakenOut:
    items = [ItemOut(what=i.what, id=i.id, name=i.name, mark=i.mark, says=i.says) for i in taken.items]
    return TakenOut(
        title=taken.title, created=taken.created, items=items, readings=taken.readings, events=taken.events, attachments=taken.attachments,
        cares=taken.cares, notes=taken.notes, changes=taken.changes, kept=kept,
    )  # fmt: skip
