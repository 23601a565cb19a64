"""What takes long to bring about is brought about once: its rows are kept, and put back for each test that begins with
them, at the moment of the run at which they were kept: a reading is no older for having waited.
"""

import datetime
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

from django.db import models, transaction

from toadbell.records.models import Attachment
from toadbell.shed.models import Care, Kit, Maker, Vessel
from toadbell.trials import clock
from toadbell.trials.database_stamp import another_database
from toadbell.trials.models import Decision, Device, Event, Finding, ImportedFile, Reading, Trial, Verdict

MODELS: tuple[type[models.Model], ...] = (
    Maker,
    Vessel,
    Kit,
    Care,
    Trial,
    Device,
    ImportedFile,
    Reading,
    Event,
    Finding,
    Verdict,
    Decision,
    Attachment,
)
Made = TypeVar("Made")
_kept: dict[object, tuple[list[list[models.Model]], dict[str, bytes], Any, datetime.datetime]] = {}


def once(key: object, make: Callable[[], Made]) -> Made:
    """What `make` gives, with every row and file that it left; made the first time only, in a workshop that is empty
    but for its owner.
    """
    if any(model.objects.exists() for model in MODELS if model is not Maker):  # type: ignore[attr-defined]
        return make()
    folder = Path(Attachment.FOLDER)
    if key not in _kept:
        made = make()
        rows = [list(model.objects.all()) for model in MODELS]  # type: ignore[attr-defined]
        files = {path.name: path.read_bytes() for path in folder.glob("*")} if folder.exists() else {}
        _kept[key] = rows, files, made, clock.now()
        return made
    rows, files, made, when = _kept[key]
    waited, _kept[key] = clock.now() - when, (rows, files, made, clock.now())
    with transaction.atomic():  # a page that is open already asks who it is meanwhile
        Maker.objects.all().delete()
        for model, found in zip(MODELS, rows, strict=True):
            for row in found:
                row._state.adding = True
                if isinstance(row, Trial) and row.wall_anchor is not None:
                    row.wall_anchor += waited
            model.objects.bulk_create(found, batch_size=400)  # type: ignore[attr-defined]
    for name, data in files.items():
        folder.mkdir(parents=True, exist_ok=True)
        (folder / name).write_bytes(data)
    another_database()
    return made  # type: ignore[no-any-return]
