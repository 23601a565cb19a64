"""Baselines: what a rig known to be tight did by itself, kept with the kit, and how alike a later hold is to it."""

from typing import Any

from django.db.models import Max, Min
from django.utils import timezone
from ninja import Schema

from toadbell.core.judge.alike import Alike, Conditions, alike
from toadbell.core.judge.answers import JudgeAnswer
from toadbell.core.judge.baseline import no_baseline
from toadbell.core.phrases import put
from toadbell.core.procedures.baseline import BASELINE
from toadbell.core.sheets import SheetError, read_kit, read_vessel_sheet
from toadbell.core.sheets.kit import Baseline
from toadbell.shed.models import Kit
from toadbell.trials.bench.run_state import run_state
from toadbell.trials.models import Trial
from toadbell.trials.plan.frozen import Plan, plan_of

KIND = "baseline"


class BaselineOut(Schema):
    """A baseline off the kit board for a trial: whose hold it was, what its rig did by itself, m³/s, and how alike this
    trial is to it.
    """

    trial: str
    name: str
    leak: float
    most: float
    known_tight: str
    alike: Alike


def keep_with_the_kit(trial: Trial, told: JudgeAnswer) -> None:
    """Hang what a baseline's rig did by itself on the kit board, or write it anew; one that leaks, or was practice, is
    none and is taken down.
    """
    plan = plan_of(trial)
    if plan.answer.procedure != BASELINE.id:
        return
    known = next((kit for kit in Kit.objects.filter(kind=KIND) if kit.sheet.get("trial") == str(trial.pk)), None)
    gauge = plan.sheet.gauge.readable if plan.sheet.gauge else None
    if trial.practice or no_baseline(told, gauge) is not None:
        if known is not None:
            known.hang(True)
        return
    sheet = _sheet(trial, plan, told)
    if known is None:
        on = timezone.localdate(trial.started_at or trial.now())
        name = put("{rig}, {on:day}", rig=(plan.sheet.rig or trial.vessel.name)[:60], on=on)
        Kit.hang_up(KIND, name, sheet, plan.sheet.known_tight or "")
    else:
        known.change(known.name, sheet, known.notes, known.version)
        known.hang(False)


def _sheet(trial: Trial, plan: Plan, told: JudgeAnswer) -> dict[str, Any]:
    now = conditions(trial, plan)
    stands = run_state(trial)
    rows = trial.readings.filter(at__gte=stands.hold[0]) if stands.hold else trial.readings.none()
    warm = rows.aggregate(cold=Min("temperature"), warm=Max("temperature"))
    wanted: dict[str, Any] = {
        "trial": str(trial.pk),
        "on": now.on.isoformat() if now.on else timezone.localdate().isoformat(),
        "hour": now.hour,
        "rig": plan.sheet.rig,
        "place": plan.sheet.place,
        "known_tight": plan.sheet.known_tight or "",
        "medium": now.medium,
        "pressure": f"{now.pressure / 1e5:.8g} bar",
        "volume": None if now.volume is None else f"{now.volume * 1000:.6g} L",
        "step": None if now.gauge is None else f"{now.gauge / 1e5:.6g} bar",
        "coldest": None if warm["cold"] is None else f"{warm['cold'] - 273.15:.2f} degC",
        "warmest": None if warm["warm"] is None else f"{warm['warm'] - 273.15:.2f} degC",
        "hold": f"{told.hold:.0f} s",
        "leak": f"{max(0.0, told.leak.estimate) * 3.6e9:.6g} mL/h",
        "leak_most": f"{max(0.0, told.leak.high) * 3.6e9:.6g} mL/h",
    }
    return {key: value for key, value in wanted.items() if value is not None}


def conditions(trial: Trial, plan: Plan | None = None) -> Conditions:
    """What a trial's hold was held under; of one that is only planned, as far as its plan says."""
    sheet, answer = plan or Plan(read_vessel_sheet(trial.sheet), trial.derived())
    stands = run_state(trial) if trial.started_at else None
    began = stands.hold[0] if stands and stands.hold else None
    warm = None
    if began is not None:
        told = trial.readings.filter(at__gte=began).aggregate(cold=Min("temperature"), warm=Max("temperature"))
        warm = None if told["cold"] is None else (told["cold"] + told["warm"]) / 2
    local = timezone.localtime(began) if began else None
    return Conditions(
        medium=answer.medium,
        pressure=answer.test_pressure,
        volume=answer.volume,
        rig=sheet.rig,
        place=sheet.place,
        gauge=sheet.gauge.readable if sheet.gauge else None,
        temperature=sheet.water_temperature if warm is None else warm,
        hour=None if local is None else local.hour + local.minute / 60,
        on=timezone.localdate(began) if began else timezone.localdate(),
    )


def on_the_board() -> list[tuple[Kit, Baseline]]:
    """Baselines that hang on the kit board and can be read, the newest first."""
    found = []
    for kit in Kit.on_the_board().filter(kind=KIND):
        try:
            sheet = read_kit(KIND, kit.sheet)
        except SheetError:
            continue
        if isinstance(sheet, Baseline):
            found.append((kit, sheet))
    return sorted(found, key=lambda one: one[1].on, reverse=True)


def offered_to(trial: Trial) -> list[BaselineOut]:
    """Every baseline on the board for a trial, those that fit it first."""
    now = conditions(trial, plan_of(trial) if trial.frozen else None)
    found = [_out(kit, sheet, now) for kit, sheet in on_the_board() if sheet.trial != str(trial.pk)]
    return sorted(found, key=lambda one: not one.alike.fits)


def _out(kit: Kit, sheet: Baseline, now: Conditions) -> BaselineOut:
    return BaselineOut(
        trial=sheet.trial,
        name=kit.name,
        leak=sheet.leak,
        most=sheet.leak_most,
        known_tight=sheet.known_tight,
        alike=alike(sheet, now),
    )


def held_against(trial: Trial) -> BaselineOut | None:
    """The baseline off the board that a trial is held against, and how alike they are; None where there is none."""
    wanted = trial.sheet.get("acceptance")
    if not isinstance(wanted, dict) or "baseline" not in wanted:
        return None
    for kit, sheet in on_the_board():
        if sheet.trial == str(wanted["baseline"]):
            return _out(kit, sheet, conditions(trial, plan_of(trial) if trial.frozen else None))
    return None
