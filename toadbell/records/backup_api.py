"""Backups over the wire."""

import datetime
from uuid import UUID

from django.http import HttpRequest
from django.http.response import HttpResponseBase
from ninja import Router, Schema

from toadbell.records import backup
from toadbell.records.files import sent_from
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


def _all() -> BackupsOut:
    found = [BackupOut(name=b.name, why=b.why, at=b.at, size=b.size) for b in backup.listed()]
    on = Trial.objects.filter(state__in=(State.RUNNING, State.HELD)).first()
    return BackupsOut(folder=str(backup.FOLDER), backups=found, running=on.pk if on else None)


@router.get("/backups", response=BackupsOut)
def backups(request: HttpRequest) -> BackupsOut:
    """The backups that lie here."""
    return _all()


@router.get("/backups/{name}", include_in_schema=False)
def one(request: HttpRequest, name: str) -> HttpResponseBase:
    """A backup, to be laid somewhere else."""
    return sent_from(request, backup.by_name(name), "application/zip", name)
