"""Stretches of a run, each weighed by the judge's model once for every look: what it leaked while it stood."""

import datetime
from typing import Any

from django.conf import settings

from toadbell.core.hunt.differences import SectionHold
from toadbell.core.hunt.sectioning import section_hold
from toadbell.core.phrases import say
from toadbell.core.run.phases import RunState
from toadbell.core.sheets import Circuit, SheetError, read_hold_sheet
from toadbell.shed.errors import NotNow
from toadbell.trials.database_stamp import of_this_database
from toadbell.trials.judge.beside import Held
from toadbell.trials.judge.hold import hold_log, hold_sheet, readings_between
from toadbell.trials.models import Trial

Weighed = tuple[SectionHold | None, str | None]
"""What a stretch leaked; None with why where it cannot be told."""
_kept: dict[Any, tuple[int, Weighed]] = {}
MOST_KEPT = 200
SETTLING = datetime.timedelta(minutes=15)
"""So long after a stroke wall, seals and air may still take up water."""


def weighed(
    trial: Trial,
    stands: RunState,
    began: datetime.datetime,
    ended: datetime.datetime | None,
    parts: tuple[Circuit, tuple[str, ...]] | None = None,
) -> Weighed:
    """What a stretch of a trial leaked, with some sections of a circuit open, or as it is; soon after strokes what
    flattens out is no leak.
    """
    readings = readings_between(trial, began, ended or trial.now())
    if len(readings) < 2:
        return None, say("hunt.sections-few", count=len(readings))
    key = (of_this_database(), trial.pk, began, ended, parts[1] if parts else None)
    kept = _kept.get(key)
    if kept is not None and kept[0] == len(readings):
        return kept[1]
    if not settings.JUDGES_HERE:
        return None, None
    soon = trial.events.filter(kind="strokes", at__gt=began - SETTLING, at__lte=began).exists()
    found = _weigh(trial, stands, readings, parts, settles=soon)
    while len(_kept) >= MOST_KEPT:
        _kept.pop(next(iter(_kept)), None)
    _kept[key] = (len(readings), found)
    return found


def _weigh(
    trial: Trial,
    stands: RunState,
    readings: list[Held],
    parts: tuple[Circuit, tuple[str, ...]] | None,
    *,
    settles: bool,
) -> Weighed:
    try:
        whole = read_hold_sheet({**hold_sheet(trial, stands), "holds": []})
        return section_hold(hold_log(readings), whole, *(parts or (None, ())), settles=settles), None
    except (NotNow, SheetError) as problem:
        return None, str(problem)
