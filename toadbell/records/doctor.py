"""Looks the whole workshop over: is the database sound, every chain whole, every signed record as it was signed?"""

from collections.abc import Iterator
from pathlib import Path

from django.db import connection

from toadbell.records import database
from toadbell.records.holding import why_not
from toadbell.trials.models import Chain, Trial


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
    for trial in Trial.objects.filter(signatures__seal__gt="").select_related("vessel").distinct():
        seal = trial.signatures.exclude(seal="").values_list("seal", flat=True).first()
        against = why_not(trial, str(seal), whole=thorough)
        if against is not None:
            yield f"{_named(trial)}: {against}"


def _named(trial: Trial) -> str:
    return f"{trial.vessel.name}, trial {trial.number}"
