"""Pictures and papers over the wire."""

import datetime
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, Schema, Status, UploadedFile

from toadbell.records import attachments
from toadbell.records.files import sent_for_good
from toadbell.records.models import Attachment
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Vessel
from toadbell.shed.wire import Hung, Moment
from toadbell.trials.bench.api import bench_out
from toadbell.trials.bench.shapes import BenchOut
from toadbell.trials.models import Trial
from toadbell.trials.plan.api import maker_of

router = Router()


class AttachmentOut(Schema):
    """A picture or a paper, what it belongs to, and who kept it.

    `event` is the leak or the line of the log that it shows.
    """

    id: UUID
    kind: str
    opening: str
    trial: UUID | None
    event: UUID | None
    text: str
    name: str
    size: int
    wide: int | None
    tall: int | None
    pages: int | None
    at: datetime.datetime
    by: str


class TextIn(Schema):
    """What a picture or paper shows."""

    text: str


def attachment_out(found: Attachment) -> AttachmentOut:
    """An attachment as it goes over the wire."""
    return AttachmentOut(
        id=found.id,
        kind=found.kind,
        opening=found.opening,
        trial=found.trial_id,
        event=found.event_id,
        text=found.text,
        name=found.name,
        size=found.size,
        wide=found.wide,
        tall=found.tall,
        pages=found.pages,
        at=found.at,
        by=found.by.shown_name,
    )


def _hanging(vessel_id: UUID) -> list[AttachmentOut]:
    found = Attachment.objects.filter(vessel_id=vessel_id, taken_down=False).select_related("by")
    return [attachment_out(one) for one in found]


@router.get("/vessels/{vessel_id}/attachments", response=list[AttachmentOut])
def of_vessel(request: HttpRequest, vessel_id: UUID) -> list[AttachmentOut]:
    """Pictures and papers of a vessel, the oldest first."""
    return _hanging(Vessel.objects.get(pk=vessel_id).pk)


@router.post("/vessels/{vessel_id}/attachments", response={201: list[AttachmentOut]})
def keep(
    request: HttpRequest,
    vessel_id: UUID,
    id: Form[UUID],
    text: Form[str] = "",
    opening: Form[str] = "",
    file: UploadedFile = File(...),  # noqa: B008
) -> Status[list[AttachmentOut]]:
    """Keep a picture or a paper with a vessel, or with one of its openings."""
    vessel = Vessel.objects.get(pk=vessel_id)
    attachments.keep(attachments.About(vessel, opening), maker_of(request), id, file.read(), text, file.name or "")
    return Status(201, _hanging(vessel_id))


@router.post("/trials/{trial_id}/photos", response={201: BenchOut})
def keep_photo(
    request: HttpRequest,
    trial_id: UUID,
    id: Form[UUID],
    text: Form[str] = "",
    at: Form[Moment | None] = None,
    leak: Form[UUID | None] = None,
    photo: UploadedFile = File(...),  # noqa: B008
) -> Status[BenchOut]:
    """Keep a picture with the run."""
    trial = Trial.objects.select_related("vessel").get(pk=trial_id)
    attachments.keep_at_the_bench(trial, maker_of(request), id, photo.read(), text, at, leak)
    return Status(201, bench_out(trial, request))


@router.put("/attachments/{attachment_id}", response=AttachmentOut)
def say(request: HttpRequest, attachment_id: UUID, data: TextIn) -> AttachmentOut:
    """Say otherwise what it shows."""
    found = Attachment.objects.select_related("by").get(pk=attachment_id)
    found.text = data.text.strip()[:500]
    found.save(update_fields=["text"])
    return attachment_out(found)


@router.put("/attachments/{attachment_id}/hung", response=AttachmentOut)
def hang(request: HttpRequest, attachment_id: UUID, data: Hung) -> AttachmentOut:
    """Take it down, or hang it up again; what is part of a trial's record stays."""
    found = Attachment.objects.select_related("by").get(pk=attachment_id)
    if found.trial_id is not None:
        raise NotNow("This picture is part of a trial's record, and stays with it.")
    found.taken_down = data.taken_down
    found.save(update_fields=["taken_down"])
    return attachment_out(found)


@router.get("/photos/{attachment_id}", include_in_schema=False)
def photo(request: HttpRequest, attachment_id: UUID, small: bool = False) -> HttpResponse:
    """A picture, or its small copy."""
    found = Attachment.objects.get(pk=attachment_id, kind="photo")
    path = found.thumb if small and found.thumb.exists() else found.path
    return sent_for_good(request, path.read_bytes(), "image/jpeg")


@router.get("/papers/{attachment_id}", include_in_schema=False)
def paper(request: HttpRequest, attachment_id: UUID) -> HttpResponse:
    """A paper, to be saved: a browser does not run it."""
    found = Attachment.objects.get(pk=attachment_id, kind="paper")
    return sent_for_good(request, found.path.read_bytes(), "application/pdf", found.name or found.file_name)
