"""The hold of a run: from when to when, what was read, and the open-format files that `toadbell judge` reads."""

import csv
import datetime
import io
from typing import Any, NamedTuple

import numpy as np

from toadbell.core.judge.hold import Judged, judge_with_points
from toadbell.core.judge.log import Log
from toadbell.core.plan.derive import trapped_air
from toadbell.core.sheets import read_hold_sheet
from toadbell.core.vessel.openings import vent_of
from toadbell.shed.errors import NotNow
from toadbell.trials.frozen import plan_of
from toadbell.trials.models import Trial
from toadbell.trials.standing import Standing, standing


def hold_sheet(trial: Trial) -> dict[str, Any]:
    """The open-format sheet that `toadbell judge` reads for this trial's hold."""
    plan, (whole, answer) = trial.frozen_sheet, plan_of(trial)
    sheet = {key: plan[key] for key in ("water_temperature", "shell", "gauge", "thermometer", "acceptance") if plan.get(key)}
    sheet["medium"] = whole.medium
    sheet["volume"] = f"{(answer.volume or 0) * 1000:.6g} L"
    sheet["test_pressure"] = f"{answer.test_pressure / 1e5:.6g} bar"
    air = trapped_air(whole, vent_of(whole))
    if air:
        sheet["trapped_air"] = plan.get("trapped_air") or f"{air * 1e6:.6g} mL"
    return sheet


def hold_span(trial: Trial, stands: Standing | None = None) -> tuple[datetime.datetime, datetime.datetime] | None:
    """From shut-in to the end of the hold (or now, while it runs); None where there was no hold."""
    stands = stands or standing(trial)
    return None if stands.hold is None else (stands.hold[0], stands.hold[1] or trial.now())


class Held(NamedTuple):
    """A reading of the hold: when, Pa, K, and who read it."""

    at: datetime.datetime
    pressure: float
    temperature: float | None
    source: tuple[Any, ...]


def hold_readings(trial: Trial, stands: Standing | None = None) -> list[Held]:
    """The readings of the hold, of the source that read it most often; the one that was shut in on opens it."""
    span = hold_span(trial, stands)
    if span is None:
        return []
    rows = trial.readings.filter(at__gte=span[0] - datetime.timedelta(seconds=60), at__lte=span[1]).order_by("at")
    by_source: dict[tuple[Any, ...], list[Held]] = {}
    for at, pressure, warm, *source in rows.values_list("at", "pressure", "temperature", "source", "device_id", "imported_id"):
        by_source.setdefault(tuple(source), []).append(Held(at, pressure, warm, tuple(source)))
    if not by_source:
        return []
    most = max(by_source.values(), key=lambda readings: sum(r.at >= span[0] for r in readings))
    inside = [reading for reading in most if reading.at >= span[0]]
    before = [reading for reading in most if reading.at < span[0]]
    return [before[-1], *inside] if before and len(inside) < 30 else inside


def hold_log(readings: list[Held]) -> Log:
    """Readings as the judge takes them."""
    if len(readings) < 2:
        raise NotNow("A hold needs two readings at the least: one at shut-in and one at its end.")
    start = readings[0].at
    temperatures = np.array([np.nan if r.temperature is None else r.temperature for r in readings])
    return Log(
        np.array([(r.at - start).total_seconds() for r in readings]),
        np.array([r.pressure for r in readings]),
        temperatures if np.isfinite(temperatures).sum() >= 2 else None,
    )


def hold_csv(trial: Trial) -> str:
    """The hold's readings in the open format."""
    readings, out = hold_readings(trial), io.StringIO()
    rows = csv.writer(out)
    rows.writerow(["elapsed [s]", "pressure [bar]", "water_temperature [degC]"])
    for r in readings:
        warm = "" if r.temperature is None else f"{r.temperature - 273.15:.3f}"
        rows.writerow([f"{(r.at - readings[0].at).total_seconds():.1f}", f"{r.pressure / 1e5:.6g}", warm])
    return out.getvalue()


def judgement(trial: Trial, stands: Standing | None = None) -> Judged:
    """The judge's answer on the hold as it stands; nothing is stored."""
    return judge_with_points(hold_log(hold_readings(trial, stands)), read_hold_sheet(hold_sheet(trial)))
