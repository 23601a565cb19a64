"""The judgement on a hold: tight, leaking, or cannot tell, and by how much."""

import dataclasses
import math
from pathlib import Path

import numpy as np

from toadbell.core.answers import HoldPoint, JudgeAnswer, LeakEstimate, School
from toadbell.core.bench.compliance import AirContent, Content, content_of, mean_compressibility, water_expansion
from toadbell.core.judge import estimate, verdict
from toadbell.core.judge.log import Array, Log, read_log
from toadbell.core.plan.detect import TELL
from toadbell.core.sheets import AgainstBaseline, HoldSheet, MaxDrop, MaxLeak, SheetError

ROOM = 293.15
BAND = 1.96
"""Standard deviations on each side of a 95 % band."""
LONGEST = 48 * 3600.0


@dataclasses.dataclass(frozen=True)
class Judged:
    """A judgement and what is needed to draw it."""

    answer: JudgeAnswer
    points: list[HoldPoint]


def judge(log: Log, sheet: HoldSheet, *, baseline_folder: Path | None = None) -> JudgeAnswer:
    """What the log of a hold proves against the sheet's acceptance.

    baseline_folder  where a baseline log named in the sheet is looked for
    Raises SheetError where the log or the sheet cannot be used.
    """
    return judge_with_points(log, sheet, baseline_folder=baseline_folder).answer


def judge_with_points(log: Log, sheet: HoldSheet, *, baseline_folder: Path | None = None) -> Judged:
    """The same, with the corrected pressure and the fit at each reading."""
    span = float(log.time[-1])
    content = _content(log, sheet)
    pressure = float(np.median(log.pressure[: max(1, len(log.pressure) // 10)]))
    gauge_step = _gauge_step(log, sheet)
    temperature = log.water_temperature
    seen = temperature is not None and np.isfinite(temperature).sum() >= 2 and sheet.medium == "water"
    warmth = _warmth(content, log, pressure) if seen and isinstance(content, Content) else np.zeros_like(log.time)
    held = _content_at(content, log.pressure)
    time, inside, taken_out, counts = estimate.thin(log.time, held - warmth, warmth)
    swelling = content.swelling(pressure)
    thermometer = sheet.thermometer.resolution if sheet.thermometer else 0.1
    kit = estimate.Kit(content.compliance(pressure) * gauge_step, thermometer if seen else None, swelling)
    fit, wandering = estimate.fit_leak(time, inside, counts, kit, taken_out if seen else None)
    limit = _limit(sheet, content, pressure, gauge_step, span, baseline_folder)
    every = span / max(1, len(log.time) - 1)
    warmth_rate = float(taken_out[-1] / span) if seen else 0.0
    needed = _more_hold(fit, limit, span, every, kit, wandering, warmth_rate)
    drop = float(log.pressure[0] - log.pressure[-1])
    C = content.compliance(pressure)
    answer = JudgeAnswer(
        verdict=verdict.decide(fit.q, fit.sd, limit),
        leak=LeakEstimate(estimate=fit.q, low=fit.q - BAND * fit.sd, high=fit.q + BAND * fit.sd),
        limit=limit,
        school=School(acceptance=next(iter(type(sheet.acceptance).model_fields)), met=_school_met(sheet, drop, span, C, gauge_step, limit)),
        drop=drop,
        drop_from_temperature=-float(warmth[-1] / C) if seen else None,
        hold=span,
        smallest_leak_to_tell=TELL * fit.sd,
        more_hold_needed=needed,
        signature=_signature(fit, warmth, C, drop, gauge_step, seen),
        steps=[],
        excluded_until=0.0,
        compliance=C,
        pressure_rate=fit.q / C,
        temperature_rate_to_explain=fit.q / swelling if swelling else None,
        readings=len(log.time),
        says="",
        settle_it=[],
        lines=[],
    )
    words = verdict.in_words(answer, thermometer=seen)
    answer = answer.model_copy(update=words)
    return Judged(answer, _points(log, warmth, C, time, inside, fit, seen))


def _content(log: Log, sheet: HoldSheet) -> Content | AirContent:
    temperature = sheet.water_temperature
    if temperature is None and log.water_temperature is not None:
        temperature = float(np.nanmedian(log.water_temperature))
    if sheet.medium == "air":
        if sheet.volume is None:
            raise SheetError("an air hold needs the volume of the vessel", "volume")
        return AirContent(sheet.volume, temperature or ROOM)
    volume = sheet.volume if sheet.volume is not None else (sheet.compliance or 0.0) / (mean_compressibility(temperature or ROOM, 0.0))
    return content_of(volume, sheet.shell, sheet.trapped_air, temperature or ROOM, sheet.compliance)


def _gauge_step(log: Log, sheet: HoldSheet) -> float:
    """Smallest step told apart, Pa: stated, else the smallest step seen in the log, else 0.5 % of the pressure."""
    stated = sheet.gauge.readable if sheet.gauge else None
    if stated:
        return stated
    steps = np.abs(np.diff(np.unique(log.pressure)))
    return float(steps.min()) if len(steps) else 0.005 * float(np.abs(log.pressure).max() or 1.0)


def _content_at(content: Content | AirContent, pressure: Array) -> Array:
    """Volume pumped in to stand at each pressure, m³, by interpolation between exact points."""
    low, high = max(0.0, float(pressure.min())), max(1.0, float(pressure.max()))
    grid = np.linspace(low, high * (1 + 1e-12), 33) if high > low else np.array([low, low + 1.0])
    return np.interp(pressure, grid, [content.pumped(p) for p in grid])


def _warmth(content: Content, log: Log, pressure: float) -> Array:
    """Volume by which the water outgrew the wall since the first reading, m³, integrated along the logged temperatures.

    The sign is that of the pressure: warming fills the vessel.
    """
    assert log.water_temperature is not None
    known = np.isfinite(log.water_temperature)
    water = np.interp(log.time, log.time[known], log.water_temperature[known])
    low, high = float(water.min()), float(water.max())
    grid = np.linspace(low - 0.01, high + 0.01, 41)
    rate = np.array([water_expansion(t, pressure) - 3 * content.expansion for t in grid]) * content.volume
    grown = np.concatenate([[0.0], np.cumsum((rate[1:] + rate[:-1]) / 2 * np.diff(grid))])
    at = np.interp(water, grid, grown)
    return np.asarray(at - at[0])


def _limit(sheet: HoldSheet, content: Content | AirContent, pressure: float, step: float, span: float, folder: Path | None) -> float:
    """The acceptance as a leak, m³/s."""
    wanted = sheet.acceptance
    if isinstance(wanted, MaxLeak):
        return wanted.max_leak
    if isinstance(wanted, MaxDrop):
        if wanted.max_drop >= pressure:
            raise SheetError("a drop of that size would empty the vessel: allow less than the pressure held", "acceptance.max_drop")
        return (content.pumped(pressure) - content.pumped(pressure - wanted.max_drop)) / wanted.over
    if isinstance(wanted, AgainstBaseline):
        if folder is None or Path(wanted.baseline).name != wanted.baseline:
            raise SheetError("the baseline must be a file beside the sheet", "acceptance.baseline")
        plain = sheet.model_copy(update={"acceptance": MaxLeak.model_construct(max_leak=1.0)})
        known = judge(read_log(folder / wanted.baseline), plain)
        return max(wanted.times * known.leak.estimate, content.compliance(pressure) * step / span)
    return content.compliance(pressure) * step / span


def _school_met(sheet: HoldSheet, drop: float, span: float, C: float, step: float, limit: float) -> bool | None:
    """The school's own plain answer: what a person would say who looks at the drop alone."""
    if isinstance(sheet.acceptance, MaxDrop):
        return bool(drop / span * sheet.acceptance.over <= sheet.acceptance.max_drop * (1 + 1e-9)) if span else None
    if isinstance(sheet.acceptance, MaxLeak | AgainstBaseline):
        return bool(C * drop / span <= limit) if span else None
    return bool(drop < step)


def _more_hold(
    fit: estimate.Fit, limit: float, span: float, every: float, kit: estimate.Kit, wandering: float, warmth: float
) -> float | None:
    """Further s of hold until the same leak could be told from the limit; 0 when it can be now; None when never."""
    away = abs(limit - fit.q)
    if away >= BAND * fit.sd:
        return 0.0
    scale = fit.sd / estimate.leak_sd(span, every, kit, wandering, warmth)
    length = span * 1.25
    while length <= max(LONGEST, 2 * span):
        if BAND * scale * estimate.leak_sd(length, every, kit, wandering, warmth) <= away:
            return math.ceil((length - span) / 60) * 60.0
        length *= 1.25
    return None


def _signature(fit: estimate.Fit, warmth: Array, C: float, drop: float, step: float, seen: bool):  # type: ignore[no-untyped-def]
    if seen and abs(warmth[-1] / C) > max(step, abs(drop) / 2):
        return "thermal"
    if abs(fit.q) > BAND * fit.sd:
        return "steady"
    return "none"


def _points(log: Log, warmth: Array, C: float, time: Array, inside: Array, fit: estimate.Fit, seen: bool) -> list[HoldPoint]:
    thinned = estimate.thin(log.time, log.pressure, warmth if log.water_temperature is None else log.water_temperature)
    pressures, temperatures = thinned[1], thinned[2]
    start = float(log.pressure[0])
    base = fit.line[0]
    corrected = pressures - np.interp(time, log.time, warmth) / C
    return [
        HoldPoint(
            time=float(time[i]),
            pressure=float(pressures[i]),
            corrected=float(corrected[i]) if seen else None,
            fit=start + float(fit.line[i] - base) / C,
            low=start + float(-(fit.q + BAND * fit.sd) * time[i]) / C,
            high=start + float(-(fit.q - BAND * fit.sd) * time[i]) / C,
            temperature=float(temperatures[i]) if log.water_temperature is not None and np.isfinite(temperatures[i]) else None,
        )
        for i in range(len(time))
    ]
