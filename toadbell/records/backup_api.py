"""Backups over the wire."""

import datetime
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema, Status, UploadedFile

from toadbell.records import backup
from toadbell.records.files import sent
from toadbell.trials.models import State, Trial

router = Router()


class BackupOut(Schema):
    """A backup that lies on this machine; bytes."""

    name: str
    why: str
    at: datetime.datetime
    size: int


class BackupsOut(Schema):
    """The backups, the latest first, in which folder they lie, and a trial that is on the bench now."""

    folder: str
    backups: list[BackupOut]
    running: UUID | None


class RestoredOut(Schema):
    """What was put back, and the backup of how it was before."""

    before: str


def _all() -> BackupsOut:
    found = [BackupOut(name=b.name, why=b.why, at=b.at, size=b.size) for b in backup.listed()]
    on = Trial.objects.filter(state__in=(State.RUNNING, State.HELD)).first()
    return BackupsOut(folder=str(backup.FOLDER), backups=found, running=on.pk if on else None)


@router.get("/backups", response=BackupsOut)
def backups(request: HttpRequest) -> BackupsOut:
    """The backups that lie here."""
    return _all()


@router.post("/backups", response={201: BackupsOut})
def back_up(request: HttpRequest) -> Status[BackupsOut]:
    """Back everything up now."""
    backup.make()
    return Status(201, _all())


@router.get("/backups/{name}", include_in_schema=False)
def one(request: HttpRequest, name: str) -> HttpResponse:
    """A backup, to be laid somewhere else."""
    return sent(backup.by_name(name).read_bytes(), "application/zip", name)


@router.post("/restore", response=RestoredOut)
def restore_file(request: HttpRequest, file: UploadedFile = File(...)) -> RestoredOut:  # noqa: B008
    """Put everything back as it was in a backup from elsewhere."""
    assert file.file is not None
    return RestoredOut(before=backup.restore(file.file).name)


@router.post("/backups/{name}/restore", response=RestoredOut)
def restore(request: HttpRequest, name: str) -> RestoredOut:
    """Put everything back as it was in a backup that lies here."""
    return RestoredOut(before=backup.restore_from(backup.by_name(name)).name)
