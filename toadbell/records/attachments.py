"""Pictures and papers kept with a vessel, an opening, or what happened in a trial."""

import datetime
import hashlib
import os
import re
import unicodedata
import uuid
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from django.db import transaction
from django.utils import timezone

from toadbell.core.sheets import SheetError
from toadbell.records.models import Attachment
from toadbell.records.pictures import Clean, cleaned, small
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker, Vessel
from toadbell.trials.models import TAKEN, Event, Trial
from toadbell.trials.models.sealing import must_be_open


@dataclass(frozen=True)
class About:
    """What a picture or paper belongs to: a vessel, one of its openings by name, or something that happened in one of
    its trials.
    """

    vessel: Vessel
    opening: str = ""
    trial: Trial | None = None
    event: Event | None = None


def keep(
    about: About,
    maker: Maker,
    attachment_id: uuid.UUID,
    data: bytes,
    text: str = "",
    name: str = "",
    at: datetime.datetime | None = None,
) -> Attachment:
    """Keep a picture or a paper; the same id sent twice is kept once.

    Raises SheetError where it is neither, NotNow where it belongs nowhere.
    """
    existing = Attachment.objects.filter(pk=attachment_id).first()
    if existing:
        if existing.vessel_id != about.vessel.pk or existing.trial_id != (about.trial.pk if about.trial else None):
            raise NotNow(TAKEN)
        return existing
    if about.opening and about.opening not in {opening.name for opening in about.vessel.read().fittings}:
        raise NotNow(f"{about.vessel.name} has no opening called “{about.opening}”.")
    clean = cleaned(data)
    found = Attachment(
        id=attachment_id,
        kind=clean.kind,
        vessel=about.vessel,
        opening=about.opening,
        trial=about.trial,
        event=about.event,
        text=text.strip()[:500],
        name=safe_name(name),
        size=len(clean.data),
        sha256=hashlib.sha256(clean.data).hexdigest(),
        wide=clean.wide,
        tall=clean.tall,
        pages=clean.pages,
        at=at or timezone.now(),
        by=maker,
    )
    lay_down(found, clean)
    found.save(force_insert=True)
    return found


def keep_at_the_bench(
    trial: Trial,
    maker: Maker,
    photo_id: uuid.UUID,
    data: bytes,
    text: str,
    at: datetime.datetime | None = None,
    leak: uuid.UUID | None = None,
) -> None:
    """Keep a picture with the run, and log it; of a leak that was found, it stays with that leak."""
    existing = Attachment.objects.filter(pk=photo_id).first()
    if existing:
        if existing.trial_id != trial.pk:
            raise NotNow(TAKEN)
        return
    must_be_open([trial.pk])
    found = trial.events.filter(pk=leak, kind="leak").first() if leak else None
    if leak and found is None:
        raise NotNow("The leak that this picture shows is not on this run.")
    if cleaned(data).kind != "photo":
        raise SheetError("at the bench a picture is kept; papers go on the vessel's page", "photo")
    with transaction.atomic():
        where = found.data["where"] if found else ""
        says = text.strip()[:500] or where
        event = trial.log("photo", maker, event_id=photo_id, at=at, photo=str(photo_id), text=says)
        keep(About(trial.vessel, trial=trial, event=found or event), maker, photo_id, data, says, at=at or trial.now())


def lay_down(attachment: Attachment, clean: Clean) -> None:
    """Write the file, and a picture's small copy, so that they are on the disk before anything says they are."""
    Attachment.FOLDER.mkdir(parents=True, exist_ok=True)
    write_whole(attachment.path, clean.data)
    if clean.kind == "photo":
        write_whole(attachment.thumb, small(clean.data))


def write_whole(path: Path, data: bytes) -> None:
    """Write a file so that it is there whole or not at all."""
    lay_whole(path, [data])


def lay_whole(path: Path, pieces: Iterable[bytes]) -> None:
    """The same of something that comes a piece at a time."""
    part = path.with_name(path.name + ".part")
    with part.open("wb") as file:
        for piece in pieces:
            file.write(piece)
        file.flush()
        os.fsync(file.fileno())
    part.replace(path)


def safe_name(name: str) -> str:
    """What a file was called, as plain text: no folders, no controls, no brackets that a page could take for its
    own.
    """
    last = re.split(r"[\\/]", unicodedata.normalize("NFC", name))[-1]
    plain = "".join(c for c in last if unicodedata.category(c)[0] != "C" and c not in "<>:\"|?*&'`")
    return plain.strip(" .")[:120]
