"""Sheets drawn and worked out, each once: a bench is asked for its own every second, and the shelf for hundreds.

Whatever a sheet can hold, the answer is a drawing and figures, or a sentence that says what cannot be worked out.
"""

import datetime
import json
import logging
from functools import lru_cache
from typing import Any, NamedTuple

from django.utils import timezone

from toadbell.core.answers import DeriveAnswer
from toadbell.core.derive import derive
from toadbell.core.kinds import KINDS
from toadbell.core.phrases import Habit, habit_now, speaking
from toadbell.core.sheets import SheetError, read_vessel_sheet
from toadbell.core.vessel.drawing import Drawing, drawing_of
from toadbell.core.vessel.facts import Fact, as_entered, facts_of

_log = logging.getLogger("django")
KEPT = 64
"""Sheets whose answers are kept at hand."""


class WorkedOut(NamedTuple):
    """What the core makes of a sheet; `problem` and the `field` it is about where it makes nothing of it."""

    shape: Drawing | None
    answer: DeriveAnswer | None
    problem: SheetError | None = None
    facts: tuple[Fact, ...] = ()


def worked_out(sheet: Any) -> WorkedOut:
    """A sheet in the open format drawn and derived, in a person's units; never raises."""
    try:
        whole = json.dumps(sheet, sort_keys=True)
    except (TypeError, ValueError) as problem:
        return WorkedOut(None, None, SheetError(f"it is no sheet: {problem}"))
    return _worked_out(whole, habit_now(), timezone.localdate())


@lru_cache(maxsize=KEPT)
def _worked_out(sheet: str, habit: Habit, today: datetime.date) -> WorkedOut:
    """today  a plan without a day of its own is of today, and its cautions with it"""
    shape: Drawing | None = None
    facts: tuple[Fact, ...] = ()
    try:
        read = read_vessel_sheet(json.loads(sheet))
        read = read if read.date else read.model_copy(update={"date": today})
        shape = drawing_of(read)
        with speaking(habit):
            facts = tuple(facts_of(read))
            return WorkedOut(shape, derive(read), None, facts)
    except SheetError as wrong:
        return WorkedOut(shape, None, wrong, facts or _as_entered(sheet))
    except Exception as problem:  # whatever a sheet can hold that no check foresaw
        _log.warning("a sheet cannot be worked out", exc_info=problem)
        return WorkedOut(shape, None, SheetError(UNFORESEEN), facts or _as_entered(sheet))


def _as_entered(sheet: str) -> tuple[Fact, ...]:
    return tuple(as_entered(json.loads(sheet)))


UNFORESEEN = (
    "it cannot be worked out: a figure in it is beyond what is reckoned with here. Check its sizes, pressures and units"
)


def must_work_out(sheet: dict[str, Any]) -> DeriveAnswer:
    """The answer of a sheet that can be drawn and worked out; raises SheetError where it cannot: what cannot be shown
    is not kept.
    """
    found = worked_out(sheet)
    if found.answer is None or found.shape is None:
        raise found.problem or SheetError(UNFORESEEN)
    return found.answer


class Shelved(NamedTuple):
    """What the shelf and the due list need of a vessel: a little of what is worked out, kept for thousands. Pa, m³.

    past   is it past its years
    limit  what sets the highest pressure that it may work at, and that pressure
    limit_known  all that it rests on is known
    """

    shape: Drawing
    working_pressure: float | None
    volume: float | None
    plate: float | None
    retire: int | None
    past: bool
    limit: tuple[str, float | None]
    limit_known: bool
    problem: str | None


def shelved(kind: str, sheet: Any) -> Shelved:
    """A vessel as it stands on the shelf today; never raises."""
    try:
        whole = json.dumps(sheet, sort_keys=True)
    except (TypeError, ValueError):
        whole = ""
    return _shelved(kind, whole, timezone.localdate())


@lru_cache(maxsize=5000)
def _shelved(kind: str, whole: str, today: datetime.date) -> Shelved:
    found = _worked_out.__wrapped__(whole, Habit(), today)
    shape, answer = found.shape or not_drawn(kind), found.answer
    if answer is None:
        return Shelved(shape, None, None, None, None, False, ("", None), False, str(found.problem))
    retire = read_vessel_sheet(json.loads(whole)).retire
    past = any(stop.code == PAST for stop in answer.stops)
    limit = (answer.allowable.set_by, answer.allowable.pressure)
    known, most = answer.allowable.known, answer.working_pressure
    return Shelved(shape, most, answer.volume, answer.plate_pressure, retire, past, limit, known, None)


PAST = "past-retirement"


def not_drawn(kind: str) -> Drawing:
    """What hangs on the shelf in place of a vessel that cannot be drawn: one of whom nothing is known but its kind."""
    return drawing_of(read_vessel_sheet({"kind": kind if kind in KINDS else "receiver", "working_pressure": "1 bar"}))


def drawn(sheet: dict[str, Any]) -> Drawing:
    """The drawing of a sheet in the open format; raises SheetError where there is none."""
    found = worked_out(sheet)
    if found.shape is None:
        raise found.problem or SheetError(UNFORESEEN)
    return found.shape
