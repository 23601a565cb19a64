"""The logbook: every trial that was started, found again by what is remembered of it."""

import datetime
from collections import Counter, defaultdict
from dataclasses import dataclass
from typing import Any, NamedTuple
from uuid import UUID

from django.db.models import Count, Max
from django.utils import timezone

from toadbell.core.kinds import KINDS
from toadbell.core.phrases import of_scale, read_kept
from toadbell.core.run.log_text import in_words
from toadbell.records.models import Attachment
from toadbell.shed.models import Maker
from toadbell.trials.database_stamp import of_this_database
from toadbell.trials.models import Decision, Event, Source, Trial, Verdict
from toadbell.trials.plan.api import short_trials

UNDECIDED = "undecided"
PRACTICE = "practice"
MOST_KEPT = 20_000
TOGETHER = 200
"""Trials whose events are fetched at a time."""


@dataclass(frozen=True)
class Sought:
    """What is looked for: a vessel, a kind, a year, a tag (or "undecided"), words that all stand somewhere in the
    record.
    """

    vessel: UUID | None = None
    kind: str = ""
    year: int | None = None
    tag: str = ""
    text: str = ""


@dataclass(frozen=True)
class Begun:
    """A trial that was started, as far as the logbook sieves by it."""

    id: UUID
    vessel_id: UUID
    vessel: str
    version: int
    kind: str
    started_at: datetime.datetime
    tag: str


def tag_of(trial: Trial) -> str:
    """The tag that a trial ended in; practice ends in none."""
    return _tag(trial.practice, trial.decision.fitness if hasattr(trial, "decision") else None)


def _tag(practice: bool, fitness: str | None) -> str:
    return PRACTICE if practice else fitness or UNDECIDED


def begun() -> list[Begun]:
    """Every trial that was started, the newest first."""
    columns = (
        "pk",
        "vessel_id",
        "vessel__name",
        "vessel__version",
        "kind",
        "started_at",
        "source",
        "decision__fitness",
    )
    rows = Trial.objects.filter(started_at__isnull=False).order_by("-started_at").values_list(*columns)
    return [
        Begun(trial, vessel, name, version, kind, at, _tag(source == Source.RIG, fitness))
        for trial, vessel, name, version, kind, at, source, fitness in rows
        if at is not None
    ]


def found(trials: list[Begun], sought: Sought, maker: Maker) -> list[tuple[Begun, str]]:
    """Those that answer to it, each with the line in which its words were found ("" where no words are looked for)."""
    words = sought.text.casefold().split()
    kept = [
        trial
        for trial in trials
        if sought.vessel in (None, trial.vessel_id)
        and sought.kind in ("", trial.kind)
        and (sought.year is None or timezone.localtime(trial.started_at).year == sought.year)
        and sought.tag in ("", trial.tag)
    ]
    if not words:
        return [(trial, "") for trial in kept]
    told = _lines(kept, maker)
    return [(trial, line) for trial in kept if (line := _line_with(told[trial.id], words)) is not None]


class _Told(NamedTuple):
    """What a record tells: its lines, and all of it as words are looked for."""

    lines: list[str]
    whole: str


def _line_with(told: _Told, words: list[str]) -> str | None:
    """The line with most of the words; None where not all of them stand in the record."""
    if not all(word in told.whole for word in words):
        return None
    return max(told.lines, key=lambda line: sum(word in line.casefold() for word in words))


_told: dict[tuple[object, ...], _Told] = {}


def _lines(trials: list[Begun], maker: Maker) -> dict[UUID, _Told]:
    """What each record tells, the trial's own words before those of its vessel; written anew where something was added
    to it since.
    """
    stamps = _stamps()
    keys = {
        trial.id: (of_this_database(), trial.id, maker.units, trial.version, stamps.get(trial.id)) for trial in trials
    }
    if len(_told) > MOST_KEPT:
        _told.clear()
    unknown = [trial.id for trial in trials if keys[trial.id] not in _told]
    for at in range(0, len(unknown), TOGETHER):
        for trial, lines in _written(unknown[at : at + TOGETHER], maker):
            _told[keys[trial]] = _Told(lines, "\n".join(lines).casefold())
    return {trial.id: _told[keys[trial.id]] for trial in trials}


_LINES_OF: tuple[tuple[Any, str], ...] = ((Event, "stored_at"), (Attachment, "at"), (Decision, "at"), (Verdict, "at"))
_stamped: dict[tuple[object, ...], dict[UUID, tuple[Any, ...]]] = {}


def _stamps() -> dict[UUID, tuple[Any, ...]]:
    """Of each trial, what changes when a line is added to its record; gathered anew when anything was added
    anywhere.
    """
    texts = tuple(Attachment.objects.exclude(trial=None).order_by("pk").values_list("trial", "text"))
    totals = (
        of_this_database(),
        texts,
        *(tuple(model.objects.aggregate(Count("pk"), Max(at)).values()) for model, at in _LINES_OF),
    )
    stamped = _stamped.get(totals)
    if stamped is None:
        found: dict[UUID, list[Any]] = defaultdict(list)
        for model, moment in _LINES_OF:
            for trial, count, last in model.objects.order_by().values_list("trial").annotate(Count("pk"), Max(moment)):
                found[trial].append((model.__name__, count, last))
        for trial, text in texts:
            found[trial].append(text)
        _stamped.clear()
        stamped = _stamped[totals] = {trial: tuple(parts) for trial, parts in found.items()}
    return stamped


def _written(ids: list[UUID], maker: Maker) -> list[tuple[UUID, list[str]]]:
    """The lines of some trials, all their events fetched at once."""
    trials = short_trials().filter(pk__in=ids).select_related("planned_by")
    events: dict[UUID, list[Event]] = defaultdict(list)
    for event in Event.objects.filter(trial__in=ids).select_related("by"):
        events[event.trial_id].append(event)
    texts: dict[UUID, list[str]] = defaultdict(list)
    for one, text in Attachment.objects.filter(trial__in=ids).values_list("trial", "text"):
        texts[one].append(text)
    says = {
        trial: read_kept(told)
        for trial, told in Verdict.objects.filter(trial__in=ids).values_list("trial", "answer__says")
    }
    return [(trial.pk, _of(trial, events[trial.pk], texts[trial.pk], says.get(trial.pk), maker)) for trial in trials]


def _of(trial: Trial, events: list[Event], texts: list[str], says: str | None, maker: Maker) -> list[str]:
    corrected = {event.data.get("corrects") for event in events if event.kind == "corrected"}
    with of_scale(trial.test_pressure):
        told = [in_words(event.kind, event.data) for event in events if str(event.id) not in corrected] + texts
    if hasattr(trial, "decision"):
        told = [trial.decision.reason, *told, trial.decision.by.shown_name, trial.decision.fitness]
    if says:
        told.append(says)
    kind = KINDS[trial.kind].name if trial.kind in KINDS else trial.kind
    return [*told, trial.vessel.name, kind, trial.planned_by.shown_name, trial.vessel.notes]


def choices(trials: list[Begun]) -> tuple[dict[UUID, str], Counter[str], Counter[int], Counter[str]]:
    """What there is to choose from: vessels by name, kinds, years and tags with how many trials each has."""
    vessels = {trial.vessel_id: trial.vessel for trial in sorted(trials, key=lambda t: t.vessel.casefold())}
    years = Counter(timezone.localtime(trial.started_at).year for trial in trials)
    return vessels, Counter(trial.kind for trial in trials), years, Counter(trial.tag for trial in trials)
