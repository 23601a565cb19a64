"""Long jobs over the wire: begun, asked how far they are, stopped; and what they made."""

import datetime
import uuid
from pathlib import Path
from typing import Literal
from uuid import UUID

from django.conf import settings
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from ninja import File, Form, Router, Schema, Status, UploadedFile

from toadbell.core.sheets import SheetError
from toadbell.records import jobs
from toadbell.records.files import sent_from
from toadbell.shed.errors import NotNow

router = Router()


class ItemOut(Schema):
    """A vessel, a trial or a piece of kit of the package, and whether it is new here."""

    what: Literal["vessel", "trial", "kit"]
    id: UUID
    name: str
    mark: Literal["new", "here", "differs"]
    says: str


class PackageOut(Schema):
    """What a package holds and what of it is new; `kept` once it was taken in."""

    title: str
    created: datetime.datetime
    items: list[ItemOut]
    readings: int
    events: int
    attachments: int
    cares: int
    signatures: int = 0
    notes: list[str]
    changes: bool
    kept: bool


class JobOut(Schema):
    """A job: how far it is, 0 to 1, None where that is not known; what it says; what came of it.

    `file` where it made one to be fetched.

    status  what an answer to the whole would have been, where it failed
    name    of what was made, or of the backup made before something was put back
    """

    id: UUID
    what: str
    state: Literal["running", "done", "failed", "stopped"]
    part: float | None
    says: str
    status: int
    name: str | None
    file: str | None
    package: PackageOut | None


class JobIn(Schema):
    """A job without a file: everything carried away, a backup made, or the backup `name` put back."""

    what: Literal["export", "backup", "restore"]
    name: str = ""


def job_out(job: jobs.Job) -> JobOut:
    """A job as it stands."""
    result = job.result or {}
    return JobOut(
        id=job.id,
        what=job.what,
        state=job.state,
        part=job.part,
        says=job.says,
        status=job.status,
        name=result.get("name") or result.get("before"),
        file=f"/api/jobs/{job.id}/file" if job.made and job.state == "done" else None,
        package=PackageOut(**result) if "items" in result else None,
    )


@router.post("/jobs", response={202: JobOut})
def begin(request: HttpRequest, data: JobIn) -> Status[JobOut]:
    """Begin a job."""
    if data.what == "restore" and not data.name:
        raise SheetError("which backup?", "name")
    if "/" in data.name and not getattr(request, "sits_here", False):
        raise NotNow("A backup that lies elsewhere is put back at the workshop's own machine, or sent as a file.")
    return Status(202, job_out(jobs.begin(data.what, name=data.name)))


@router.post("/jobs/with-file", response={202: JobOut})
def begin_with_file(
    request: HttpRequest,
    what: Form[Literal["preview", "import", "restore"]],
    file: UploadedFile = File(...),  # noqa: B008
) -> Status[JobOut]:
    """Begin a job on a file: look what a package holds, take it in whole or not at all, or put a backup from elsewhere
    back.
    """
    upload = settings.DATA_DIR / f"coming-{uuid.uuid4()}.zip"
    with upload.open("wb") as out:
        for piece in file.chunks():
            out.write(piece)
    return Status(202, job_out(jobs.begin(what, upload=upload)))


@router.get("/jobs/{uuid:job_id}", response=JobOut)
def one(request: HttpRequest, job_id: UUID) -> JobOut:
    """How far a job is."""
    return job_out(jobs.find(job_id))


@router.delete("/jobs/{uuid:job_id}", response=JobOut)
def stop(request: HttpRequest, job_id: UUID) -> JobOut:
    """Stop a job; what it did is taken back."""
    job = jobs.find(job_id)
    jobs.stop(job)
    return job_out(job)


@router.get("/jobs/{uuid:job_id}/file", include_in_schema=False)
def made(request: HttpRequest, job_id: UUID) -> HttpResponseBase:
    """What a job made, to be saved."""
    job = jobs.find(job_id)
    if job.state != "done" or not isinstance(job.made, Path):
        raise NotNow("There is nothing to fetch yet.")
    return sent_from(request, job.made, "application/zip", (job.result or {}).get("name", "toad-bell.zip"))
