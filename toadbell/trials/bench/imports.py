"""A logger's file taken into a trial: previewed, put right by hand, and kept as a source of its own."""

import datetime
import hashlib
import uuid

from django.db import transaction

from toadbell.core.bench.logger_file import Logged, Recipe, read_logged, recognise
from toadbell.core.sheets import SheetError
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.trials.models import Reading, Source, State, Trial
from toadbell.trials.models.sources import ImportedFile

MOST_BYTES = 8_000_000


def preview(text: str, recipe: Recipe | None, zone: str) -> Logged:
    """What a file holds, read by the person's recipe or by what is recognised."""
    if len(text) > MOST_BYTES:
        raise SheetError(
            f"a file of more than {MOST_BYTES // 1_000_000} MB: thin it out to one reading a second or fewer"
        )
    return read_logged(text, recipe or recognise(text, zone))


@transaction.atomic
def take_in(
    trial: Trial, maker: Maker, name: str, text: str, recipe: Recipe, begins: datetime.datetime | None
) -> ImportedFile:
    """Store a file's readings on a trial, once.

    begins  when a file that counts seconds began; the run's own beginning where it is not said
    """
    trial.must_be(
        (State.RUNNING, State.HELD), "A file is taken in while the trial is on the bench, before it is judged."
    )
    if trial.rig:
        raise NotNow("The simulated rig reads for itself: a file belongs to a run on a real one.")
    found = preview(text, recipe, recipe.zone)
    if found.missing:
        raise SheetError(found.missing[0], "recipe")
    if not found.rows:
        raise NotNow("There is no row in this file that can be read. Nothing was stored.")
    digest = hashlib.sha256(text.encode()).hexdigest()
    if ImportedFile.objects.filter(trial=trial, sha256=digest).exists():
        raise NotNow("This file was taken in already: its readings are here.")
    start = begins or trial.started_at
    assert start is not None
    file = ImportedFile.objects.create(
        trial=trial,
        name=name.strip()[:200] or "a file",
        sha256=digest,
        recipe=recipe.model_dump(),
        rows=len(found.rows),
        refused=[bad.model_dump() for bad in found.bad],
        by=maker,
    )
    first = found.rows[0].elapsed or 0.0
    Reading.objects.bulk_create(
        [
            Reading(
                id=uuid.uuid5(file.id, str(row.line)),
                trial=trial,
                source=Source.FILE,
                imported=file,
                pressure=max(0.0, row.pressure),
                at=row.at or start + datetime.timedelta(seconds=(row.elapsed or 0.0) - first),
                temperature=row.temperature,
                strokes=row.strokes,
            )
            for row in found.rows
        ],
        batch_size=2000,
    )
    trial.log("imported", maker, name=file.name, rows=file.rows, refused=found.bad_in_all)
    return file
