"""Looks the whole workshop over: is the database sound, every chain whole, every signed record as it was signed?"""

import json
from collections.abc import Iterator
from pathlib import Path

from django.conf import settings
from django.db import connection

from toadbell.records import database
from toadbell.records.holding import why_not
from toadbell.records.models import Attachment
from toadbell.records.sealed import ENDING
from toadbell.trials.models import Chain, Signature, Trial


def found_wrong(*, thorough: bool = True) -> Iterator[str]:
    """What is wrong, a sentence each; none where all is well.

    thorough  read every page of the database, and hold every signed record against its package row by row
    """
    try:
        path = Path(connection.settings_dict["NAME"])
        database.look_over(path, thorough=thorough)
    except database.Unfit as wrong:
        yield f"The database {path} cannot be used: {wrong}."
        return
    for chain in Chain.objects.select_related("trial__vessel").iterator():
        broken = chain.broken()
        if broken is not None:
            yield f"{_named(chain.trial)}: {broken}"
    for trial in Trial.objects.filter(chain=None, events__isnull=False).select_related("vessel").distinct():
        yield f"{_named(trial)}: its chain is gone, and nobody can tell whether an entry was changed."
    seals = set(Signature.objects.exclude(seal="").values_list("seal", flat=True))
    for path in sorted(Attachment.FOLDER.glob(f"*{ENDING}")):
        if path.name.removesuffix(ENDING) not in seals:
            yield f"{path.name}: a record was signed of which no signature is here any more."
    for trial in Trial.objects.filter(signatures__seal__gt="").select_related("vessel").distinct():
        seal = trial.signatures.exclude(seal="").values_list("seal", flat=True).first()
        against = why_not(trial, str(seal), whole=thorough)
        if against is not None:
            yield f"{_named(trial)}: {against}"


FOUND = "looked-over.json"
"""In the data folder: what was wrong when the workshop was looked over last."""


def keep_found(wrong: list[str]) -> None:
    """Keep what was found, for the pages to say it."""
    part = Path(settings.DATA_DIR) / f"{FOUND}.part"
    part.write_text(json.dumps(wrong))
    part.replace(part.with_suffix(""))


def found_last() -> list[str]:
    """What was found wrong the last time; none where nothing was, or nobody looked yet."""
    try:
        kept = json.loads((Path(settings.DATA_DIR) / FOUND).read_text())
    except (OSError, ValueError):
        return []
    return [str(one) for one in kept] if isinstance(kept, list) else []


def _named(trial: Trial) -> str:
    return f"{trial.vessel.name}, trial {trial.number}"
