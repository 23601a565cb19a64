"""The logbook: every trial that was started, found again by what is remembered of it."""

import hashlib
from collections import Counter, defaultdict
from dataclasses import dataclass
from functools import partial
from typing import Any, Literal
from uuid import UUID

from django.db.models import Count, Max
from django.utils import timezone

from toadbell.core.judge.answers import Fitness
from toadbell.core.kinds import KINDS
from toadbell.core.ledger.deciding import Valve, decided
from toadbell.core.phrases import of_scale, read_kept, speaking
from toadbell.core.run.log_text import in_words
from toadbell.records import search
from toadbell.records.models import Attachment
from toadbell.shed.models import Maker
from toadbell.trials.database_stamp import of_this_database
from toadbell.trials.models import Decision, Event, Source, Trial, Verdict
from toadbell.trials.plan.api import short_trials

UNDECIDED = "undecided"
PRACTICE = "practice"


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
    year: int
    tag: str


def tag_of(trial: Trial) -> str:
    """The tag that a trial ended in; practice ends in none."""
    made = getattr(trial, "decision", None)
    return _tag(trial.practice, made and made.fitness, made and made.valve)


def _tag(practice: bool, fitness: Fitness | None, valve: Valve | Literal[""] | None) -> str:
    return PRACTICE if practice else str(decided(fitness, valve or "")) if fitness else UNDECIDED


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
        "decision__valve",
    )
    rows = Trial.objects.filter(started_at__isnull=False).order_by("-started_at").values_list(*columns)
    return [
        Begun(
            trial, vessel, name, version, kind, timezone.localtime(at).year, _tag(source == Source.RIG, fitness, valve)
        )
        for trial, vessel, name, version, kind, at, source, fitness, valve in rows
        if at is not None
    ]


def found(trials: list[Begun], sought: Sought, maker: Maker) -> list[Begun]:
    """Those that answer to it."""
    words = sought.text.casefold().split()
    kept = [
        trial
        for trial in trials
        if sought.vessel in (None, trial.vessel_id)
        and sought.kind in ("", trial.kind)
        and (sought.year is None or trial.year == sought.year)
        and sought.tag in ("", trial.tag)
    ]
    if not words:
        return kept
    where = search.find(_stamped_each(trials), words, maker.units, lambda ids: _written(ids, maker))
    return [trial for trial in kept if trial.id in where]


def write_down() -> None:
    """Have the text of every record ready for whoever looks for words first, in each of the ways that people read."""
    for units in Maker.of_the_workshop().values_list("units", flat=True).distinct():
        maker = Maker.of_the_workshop().filter(units=units)[0]
        with speaking(maker.habit):
            search.find(_stamped_each(begun()), [], units, partial(_written, maker=maker))


def _stamped_each(trials: list[Begun]) -> dict[UUID, str]:
    stamps = _stamps()
    return {trial.id: f"{trial.version} {trial.vessel} {stamps.get(trial.id, '')}" for trial in trials}


def lines_of(trials: list[UUID], text: str, maker: Maker) -> dict[UUID, str]:
    """Of trials that were found, the line with most of the words."""
    words = text.casefold().split()
    return {
        trial: max(lines, key=lambda line: sum(word in line.casefold() for word in words), default="")
        for trial, lines in search.lines_of(trials, maker.units).items()
    }


_LINES_OF: tuple[tuple[Any, str], ...] = ((Event, "stored_at"), (Attachment, "at"), (Decision, "at"), (Verdict, "at"))
_stamped: dict[tuple[object, ...], dict[UUID, str]] = {}


def _stamps() -> dict[UUID, str]:
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
                found[trial].append((model.__name__, count, str(last)))
        for trial, text in texts:
            found[trial].append(text)
        _stamped.clear()
        stamped = _stamped[totals] = {
            trial: hashlib.sha256(repr(parts).encode()).hexdigest() for trial, parts in found.items()
        }
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
    years = Counter(trial.year for trial in trials)
    return vessels, Counter(trial.kind for trial in trials), years, Counter(trial.tag for trial in trials)
