"""The logbook: every trial that was started, found again by what is remembered of it."""

from collections import Counter
from dataclasses import dataclass
from uuid import UUID

from toadbell.core.vessel.kinds import KINDS
from toadbell.shed.models import Maker
from toadbell.trials.models import Trial
from toadbell.trials.words import event_in_words

UNDECIDED = "undecided"
PRACTICE = "practice"


@dataclass(frozen=True)
class Sought:
    """What is looked for: a vessel, a kind, a year, a tag (or "undecided"), words that all stand somewhere in the record."""

    vessel: UUID | None = None
    kind: str = ""
    year: int | None = None
    tag: str = ""
    text: str = ""


def tag_of(trial: Trial) -> str:
    """The tag that a trial ended in; practice ends in none."""
    if trial.practice:
        return PRACTICE
    return trial.decision.fitness if hasattr(trial, "decision") else UNDECIDED


def begun() -> list[Trial]:
    """Every trial that was started, the newest first."""
    return list(
        Trial.objects.filter(started_at__isnull=False)
        .select_related("vessel", "planned_by", "verdict", "decision__by")
        .order_by("-started_at")
    )


def found(trials: list[Trial], sought: Sought, maker: Maker) -> list[tuple[Trial, str]]:
    """Those that answer to it, each with the line in which its words were found ("" where no words are looked for)."""
    words = sought.text.casefold().split()
    kept = [
        trial
        for trial in trials
        if sought.vessel in (None, trial.vessel_id)
        and sought.kind in ("", trial.sheet["kind"])
        and (sought.year is None or (trial.started_at and trial.started_at.year == sought.year))
        and sought.tag in ("", tag_of(trial))
    ]
    if not words:
        return [(trial, "") for trial in kept]
    return [(trial, line) for trial in kept if (line := _line_with(trial, words, maker)) is not None]


def _line_with(trial: Trial, words: list[str], maker: Maker) -> str | None:
    """The line with most of the words; None where not all of them stand in the record."""
    lines = _lines(trial, maker)
    whole = "\n".join(lines).casefold()
    if not all(word in whole for word in words):
        return None
    return max(lines, key=lambda line: sum(word in line.casefold() for word in words))


def _lines(trial: Trial, maker: Maker) -> list[str]:
    """What the record tells, the trial's own words before those of its vessel."""
    told = [event_in_words(event, maker) for event in trial.effective_events()] + [one.text for one in trial.attachments.all()]
    if hasattr(trial, "decision"):
        told = [trial.decision.reason, *told, trial.decision.by.shown_name, trial.decision.fitness]
    if hasattr(trial, "verdict"):
        told.append(trial.verdict.answer["says"])
    return [*told, trial.vessel.name, KINDS[trial.sheet["kind"]].name, trial.planned_by.shown_name, trial.vessel.notes]


def choices(trials: list[Trial]) -> tuple[dict[UUID, str], Counter[str], Counter[int], Counter[str]]:
    """What there is to choose from: vessels by name, kinds, years and tags with how many trials each has."""
    vessels = {trial.vessel_id: trial.vessel.name for trial in sorted(trials, key=lambda t: t.vessel.name.casefold())}
    years = Counter(trial.started_at.year for trial in trials if trial.started_at)
    return vessels, Counter(trial.sheet["kind"] for trial in trials), years, Counter(tag_of(trial) for trial in trials)
