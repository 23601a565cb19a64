"""A trial carried away, over the wire. Everything carried away, and packages brought back, are jobs."""

import tempfile
from pathlib import Path
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router

from toadbell.records import package
from toadbell.records.files import sent
from toadbell.trials.models import Trial

router = Router()


@router.get("/trials/{trial_id}/package.zip", include_in_schema=False)
def carry_one(request: HttpRequest, trial_id: UUID) -> HttpResponse:
    """One trial with its vessel."""
    trial = Trial.objects.select_related("vessel").get(pk=trial_id)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "package.zip"
        with path.open("wb") as out:
            package.write(out, trial, timezone.now())
        return sent(path.read_bytes(), "application/zip", f"{file_name(trial)}.zip")


def file_name(trial: Trial) -> str:
    """What a file of a trial is called, without its ending."""
    plain = (
        "".join(c if c.isascii() and c.isalnum() else "-" for c in trial.vessel.name.lower()).strip("-")[:80]
        or "vessel"
    )
    return f"{plain}-trial-{trial.number}"
