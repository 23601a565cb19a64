"""The hold of a run: from when to when, what was read, and the open-format files that `toadbell judge` reads."""

import csv
import datetime
import io
import math
import uuid
from dataclasses import replace
from typing import Any

import numpy as np
from django.conf import settings
from django.db.models import Count, Sum

from toadbell.core.judge.answers import JudgeAnswer
from toadbell.core.judge.hold import Asked, Judged, Weighed, judge_with_points, judged_by, weighed_hold
from toadbell.core.judge.log import Log
from toadbell.core.kinds import KINDS
from toadbell.core.phrases import habit_now
from toadbell.core.plan.bases import holder_of
from toadbell.core.plan.detect import LOW_HOLD
from toadbell.core.procedures import PROCEDURES
from toadbell.core.run.low import STIRS
from toadbell.core.run.observed import observed
from toadbell.core.run.phases import RunState
from toadbell.core.sheets import SheetError, VesselSheet, read_hold_sheet
from toadbell.core.vessel.content import trapped_air
from toadbell.core.vessel.openings import vent_of
from toadbell.shed.errors import NotNow
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.bench.stroke_analysis import strokes_answer
from toadbell.trials.database_stamp import of_this_database
from toadbell.trials.judge.beside import Beside, Held, beside_of, by_level
from toadbell.trials.models import Trial
from toadbell.trials.plan.frozen import plan_of

BETTER_KNOWN = 0.05
"""A compliance that the strokes know so well, half of its 95 % band as a part of it, is better than one reckoned from
the vessel's figures.
"""


def hold_sheet(
    trial: Trial, stands: RunState | None = None, spans: list[tuple[str, float, float]] | None = None
) -> dict[str, Any]:
    """The open-format sheet that `toadbell judge` reads for this trial's hold; spans: its stretches where known.

    Its compliance, and the air left in, are what the strokes measured where they know it better than the vessel's
    figures do.
    """
    plan, (whole, answer) = trial.frozen_sheet, plan_of(trial)
    sheet = {
        key: plan[key]
        for key in ("water_temperature", "shell", "gauge", "thermometer", "acceptance", "altitude")
        if plan.get(key)
    }
    sheet["medium"] = whole.medium
    holder = holder_of(whole, answer.basis)
    if holder is not None:
        own = {} if whole.kind == "digester" else {"fed": False}  # nothing else makes gas
        sheet["holder"] = {**own, **(plan.get("holder") or {})}
    sheet["volume"] = f"{(answer.volume or 0) * 1000:.6g} L"
    sheet["test_pressure"] = f"{answer.gauge_target / 1e5:.8g} bar"
    sheet["hold"] = {"minimum": f"{answer.hold.minimum:.8g} s"}
    air = trapped_air(whole, vent_of(whole))
    if air is not None:
        sheet["trapped_air"] = plan.get("trapped_air") or f"{air * 1e6:.6g} mL"
    told = strokes_answer(trial, stands or run_state(trial)) if whole.medium == "water" else None
    sheet |= _under_air(whole, plan) if whole.medium == "air" else {}
    if told and told.compliance and told.air and told.state in ("straight", "air"):
        measured = told.compliance
        if measured.high - measured.low <= 2 * BETTER_KNOWN * measured.estimate:
            sheet["compliance"] = f"{measured.estimate * 1e6 * 1e5:.6g} mL/bar"
            sheet["trapped_air"] = f"{max(told.air.estimate, 0.0) * 1e6:.6g} mL"
    spans = run_readings(trial, stands)[1] if spans is None else spans
    if spans:
        sheet["holds"] = [
            {"role": role, "from": f"{math.floor(10 * a) / 10:.1f} s", "to": f"{math.ceil(10 * b) / 10:.1f} s"}
            for role, a, b in spans
        ]
    if isinstance(plan.get("acceptance"), dict) and "baseline" in plan["acceptance"]:
        sheet["acceptance"] = {**plan["acceptance"], "baseline": BASELINE_FILE}
    return sheet


def _under_air(whole: VesselSheet, plan: dict[str, Any]) -> dict[str, Any]:
    """What a hold under air hangs on beside its volume: how its sides give, and whether it was closed wet."""
    sheet: dict[str, Any] = {key: plan[key] for key in ("box", "syringe") if plan.get(key)}
    if not KINDS[whole.kind].flat and "shell" not in plan:
        sheet["sides"] = "stiff"
    wet = True if KINDS[whole.kind].wet else whole.wet
    return sheet if wet is None else {**sheet, "wet": wet}


BASELINE_FILE = "baseline.csv"


def baseline_of(trial: Trial) -> Trial | None:
    """The trial whose hold this one is to be held against, by its plan; None where the plan asks for none."""
    wanted = trial.frozen_sheet.get("acceptance")
    if not isinstance(wanted, dict) or "baseline" not in wanted:
        return None
    try:
        return Trial.objects.filter(pk=uuid.UUID(wanted["baseline"]), verdict__isnull=False).first()
    except ValueError:
        return None


def hold_span(trial: Trial, stands: RunState | None = None) -> tuple[datetime.datetime, datetime.datetime] | None:
    """From shut-in to the end of the hold (or now, while it runs); None where there was no hold."""
    stands = stands or run_state(trial)
    return None if stands.hold is None else (stands.hold[0], stands.hold[1] or trial.now())


def hold_readings(trial: Trial, stands: RunState | None = None) -> list[Held]:
    """The readings of the hold, of the source that read it most often; the one that was shut in on opens it."""
    span = hold_span(trial, stands)
    return [] if span is None else readings_between(trial, *span)


def readings_between(trial: Trial, began: datetime.datetime, ended: datetime.datetime) -> list[Held]:
    """The readings of a stretch, of the source that read it most often; the one that it began on opens it."""
    by_source: dict[tuple[Any, ...], list[Held]] = {}
    for reading in _all_between(trial, began - datetime.timedelta(seconds=60), ended):
        by_source.setdefault(reading.source, []).append(reading)
    if not by_source:
        return []
    most = max(by_source.values(), key=lambda readings: sum(r.at >= began for r in readings))
    inside = [reading for reading in most if reading.at >= began]
    before = [reading for reading in most if reading.at < began]
    return [before[-1], *inside] if before and len(inside) < 30 else inside


_read: dict[tuple[Any, ...], list[Held]] = {}
MOST_READ = 8


def _is_all_there_is(trial: Trial, since: datetime.datetime, had: list[Held]) -> bool:
    """Are these the readings up to the last of them, by their number and their sums?"""
    found = trial.readings.filter(at__gte=since, at__lte=had[-1].at).aggregate(
        n=Count("pk"), pressure=Sum("pressure"), warmth=Sum("temperature")
    )
    warmth = sum(one.temperature for one in had if one.temperature is not None)
    return (
        found["n"] == len(had)
        and math.isclose(found["pressure"], sum(one.pressure for one in had), rel_tol=1e-9)
        and math.isclose(found["warmth"] or 0.0, warmth, rel_tol=1e-9)
    )


def _all_between(trial: Trial, since: datetime.datetime, until: datetime.datetime) -> list[Held]:
    """Every reading of a stretch, oldest first. What was read of it before is kept, and only what is new is fetched;
    where something came in between, it is all fetched anew.
    """
    key = (of_this_database(), trial.pk, since)
    had = _read.get(key, [])
    if had and not _is_all_there_is(trial, since, had):
        had = []
    rows = trial.readings.filter(at__gte=since, at__lte=until).order_by("at", "stored_at")
    fresh = (rows.filter(at__gt=had[-1].at) if had else rows).values_list(
        "at", "pressure", "temperature", "source", "device_id", "imported_id"
    )
    found = [*had, *(Held(at, pressure, warm, tuple(source)) for at, pressure, warm, *source in fresh)]
    while len(_read) >= MOST_READ:
        _read.pop(next(iter(_read)), None)
    _read[key] = found
    return found if not found or found[-1].at <= until else [reading for reading in found if reading.at <= until]


BEFORE_IT = datetime.timedelta(seconds=30)
"""A pump or a bleed is worked before it is written down: so long before that a low hold is over."""
STANDS = 0.15
"""And where the gauge has moved by such a part."""
LOW_LASTS, LOW_READ = 240.0, 3
"""A low hold that was shorter, s, or read less often, shows no drift."""


def low_spans(trial: Trial, stands: RunState) -> list[tuple[datetime.datetime, datetime.datetime]]:
    """The low holds of the round that is judged, before its hold and after it, as far as they have gone."""
    if stands.hold is None:
        return []
    planned = plan_of(trial).answer.hold.low
    events, long = trial.effective_events(), planned.long if planned else LOW_HOLD
    round_ = max((n for n, event in enumerate(events) if event.kind == "gone-back"), default=-1)
    found = []
    for n, event in enumerate(events):
        if event.kind == "low-hold" and n > round_:
            ended = next((later.at - BEFORE_IT for later in events[n + 1 :] if later.kind in STIRS), trial.now())
            found.append((event.at, min(ended, event.at + datetime.timedelta(seconds=long))))
    return found


def run_readings(trial: Trial, stands: RunState | None = None) -> tuple[list[Held], list[tuple[str, float, float]]]:
    """The readings that are judged, oldest first: of the hold, and of its low holds by the same source; and the
    stretches, each from and to s from the first of them. None but the hold's where there was no low hold.
    """
    stands = stands or run_state(trial)
    held = by_level(trial, hold_readings(trial, stands), hold_span(trial, stands))
    if not held:
        return [], []
    lows = []
    for began, ended in low_spans(trial, stands):
        own = [one for one in readings_between(trial, began, ended) if one.source == held[0].source]
        if len(own) > 1 and own[0].at < began and not _stands(own[0], own[1]):
            own = own[1:]  # it was read, then let down, then begun
        own = own[: next((n for n, one in enumerate(own) if not _stands(one, own[0])), len(own))]
        if len(own) >= LOW_READ and (own[-1].at - own[0].at).total_seconds() >= LOW_LASTS:
            lows.append(own)
    if not lows:
        return held, []
    each = sorted([("test", held), *(("low", own) for own in lows)], key=lambda one: one[1][0].at)
    first = each[0][1][0].at
    spans = [(role, (own[0].at - first).total_seconds(), (own[-1].at - first).total_seconds()) for role, own in each]
    return [one for _, own in each for one in own], spans


def _stands(reading: Held, first: Held) -> bool:
    """Is a reading of a low hold near where it began? Pumped on, or let down, it is none any more."""
    return abs(reading.pressure - first.pressure) <= STANDS * first.pressure


def hold_log(readings: list[Held], beside: Beside | None = None) -> Log:
    """Readings as the judge takes them, with what was read beside them."""
    if len(readings) < 2:
        raise NotNow("A hold needs two readings at the least: one at shut-in and one at its end.")
    start, beside = readings[0].at, beside or Beside()
    temperatures = np.array([np.nan if r.temperature is None else r.temperature for r in readings])
    return Log(
        np.array([(r.at - start).total_seconds() for r in readings]),
        np.array([r.pressure for r in readings]),
        temperatures if np.isfinite(temperatures).sum() >= 2 else None,
        beside.along("outside", readings),
        beside.along("barometer", readings),
        beside.along("gas-level", readings),
    )


_COLUMNS = {
    "outside": ("air_temperature [degC]", lambda value: f"{value - 273.15:.3f}"),
    "barometer": ("barometer [hPa]", lambda value: f"{value / 100:.2f}"),
    "gas-level": ("level [mm]", lambda value: f"{value * 1000:.2f}"),
}
"""What is read beside pressure and temperature, as columns of the open format."""


def hold_csv(trial: Trial, stands: RunState | None = None) -> str:
    """The hold's readings in the open format."""
    readings, out = run_readings(trial, stands)[0], io.StringIO()
    beside = beside_of(trial)
    along = {what: column for what in _COLUMNS if (column := beside.along(what, readings)) is not None}
    rows = csv.writer(out)
    rows.writerow(["elapsed [s]", "pressure [bar]", "water_temperature [degC]", *(_COLUMNS[what][0] for what in along)])
    for n, r in enumerate(readings):
        warm = "" if r.temperature is None else f"{r.temperature - 273.15:.3f}"
        more = [_COLUMNS[what][1](float(column[n])) for what, column in along.items()]
        rows.writerow([f"{(r.at - readings[0].at).total_seconds():.1f}", f"{r.pressure / 1e5:.6g}", warm, *more])
    return out.getvalue()


def judgement(trial: Trial, stands: RunState | None = None, asked: Asked | None = None) -> Judged:
    """The judge's answer on the hold as it stands; nothing is stored. Raises NotNow, SheetError."""
    asked = replace(asked or Asked(), baseline=_baseline_leak(trial), offer_low=True)
    readings, spans = run_readings(trial, stands)
    return judge_with_points(
        hold_log(readings, beside_of(trial)), read_hold_sheet(hold_sheet(trial, stands, spans)), asked=asked
    )


def what_if(trial: Trial, asked: Asked, acceptance: dict[str, Any] | None) -> Judged:
    """The answer if it had been read, or accepted, otherwise.

    Nothing is stored; what was weighed is kept for the next question.
    """
    (readings, spans), beside = run_readings(trial), beside_of(trial)
    sheet = hold_sheet(trial, spans=spans)
    asked = replace(asked, baseline=_baseline_leak(trial), offer_low=True, quick=not _as_recorded(trial, asked))
    key = (
        of_this_database(),
        trial.pk,
        len(readings),
        readings[-1].at if readings else None,
        beside.count,
        asked.ignore,
        asked.thermometer,
        asked.put_back,
        sheet.get("compliance"),
    )
    read = read_hold_sheet(sheet if acceptance is None else {**sheet, "acceptance": acceptance})
    weighed = _weighed.get(key)
    if weighed is None:
        while len(_weighed) >= MOST_WEIGHED:
            _weighed.pop(next(iter(_weighed)), None)
        weighed = _weighed[key] = weighed_hold(hold_log(readings, beside), read, asked)
    return judged_by(weighed, read, asked)


def _as_recorded(trial: Trial, asked: Asked) -> bool:
    """Is the log to be read as it was for the verdict on record?"""
    own = trial.verdict.asked if hasattr(trial, "verdict") else {}
    return (
        asked.thermometer and asked.ignore == own.get("ignore", 0.0) and list(asked.put_back) == own.get("put_back", [])
    )


_weighed: dict[tuple[Any, ...], Weighed] = {}
MOST_WEIGHED = 64


def _baseline_leak(trial: Trial) -> float | None:
    """What the baseline leaked, m³/s; raises NotNow where the plan asks for one that is not there."""
    wanted = trial.frozen_sheet.get("acceptance")
    if not isinstance(wanted, dict) or "baseline" not in wanted:
        return None
    known = baseline_of(trial)
    if known is None:
        raise NotNow("The hold that this one is to be held against is not judged. Judge it first.")
    return known.verdict.read().leak.estimate


_held: dict[uuid.UUID, tuple[object, int, JudgeAnswer | None]] = {}
LOOK_AGAIN = 1.1
"""A running hold is judged anew when its readings have grown by so much: each of a few, each tenth of many."""


def hold_so_far(trial: Trial, stands: RunState) -> JudgeAnswer | None:
    """The judge's answer on the hold as it stands; None where there is none, or too little of it.

    Surer until it has lasted as long as was planned; from then on as it would be judged if it ended now.
    """
    if stands.hold is None:
        return None
    early = stands.hold[1] is None and trial.now() < stands.hold[0] + datetime.timedelta(seconds=stands.hold_for)
    seen = trial.events.filter(at__gte=stands.hold[0], kind="observed")  # a level, a barometer
    count = trial.readings.filter(at__gte=stands.hold[0]).count() + seen.count()
    kept = _held.get(trial.pk)
    same = (of_this_database(), stands.hold, early, habit_now())
    if kept and kept[0] == same and kept[1] <= count <= kept[1] * LOOK_AGAIN:
        return kept[2]
    if not settings.JUDGES_HERE:
        return None
    try:
        answer = judgement(trial, stands, Asked(so_far=early, quick=True)).answer
    except (NotNow, SheetError):
        answer = None
    _held[trial.pk] = (same, count, answer)
    return answer


def soap_sheet(trial: Trial) -> dict[str, Any]:
    """The soap map in the open format; raises NotNow where the kind of trial asks for none."""
    plan = plan_of(trial)
    if "soap" not in PROCEDURES[plan.answer.procedure].instruments:
        raise NotNow("This kind of trial is not soaped section by section.")
    marks = observed(trial.effective_events(), "soap").values()
    return {
        "procedure": plan.answer.procedure,
        "vessel": trial.frozen_sheet,
        "soap": [
            {
                "section": mark.place,
                "shows": mark.word,
                **({"pressure": f"{mark.pressure / 1e5:.6g} bar"} if mark.pressure and mark.pressure > 0 else {}),
            }
            for mark in marks
        ],
    }
