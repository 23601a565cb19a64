"""Is the kit suited to this test? Each finding is a stop or a caution with what to do."""

import datetime

from pydantic import BaseModel

from toadbell.core.answers import Caution, DeriveAnswer, Stop
from toadbell.core.phrases import Said, of_scale, say
from toadbell.core.plan.bases import BASES
from toadbell.core.plan.context import TOLERANCE, PlanContext, caution, stop
from toadbell.core.plan.detect import accepted_drop
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.kit import Gauge, NamedGauge, Pump, Rated, ReliefValve, Thermometer

GAUGE_RANGE = (1.5, 4.0)
"""Full scale as a multiple of the test pressure, least and most (ASME BPVC VIII-1, UG-102)."""
CALIBRATION = datetime.timedelta(days=366)
WORTH_SAYING = 0.025
"""Error of the gauge's class, as a part of the target, from where it takes half of the tolerance band."""


def suits(gauge: Gauge, target: float) -> bool:
    """Is a gauge's full scale right for a target on it (Pa)?"""
    return GAUGE_RANGE[0] * target * (1 - 1e-9) <= gauge.range <= GAUGE_RANGE[1] * target * (1 + 1e-9)


def best_gauge(gauges: list[NamedGauge], target: float) -> str | None:
    """Name of the gauge that serves a target (Pa) best: its range allowed, then the finest reading, then near twice the
    target.
    """
    suited = [gauge for gauge in gauges if suits(gauge, target)]
    if not suited:
        return None
    return min(suited, key=lambda g: (g.readable or g.range, abs(g.range - 2 * target))).name


def gauge_error(gauge: Gauge | None) -> float | None:
    """What the gauge's class allows it to be wrong by anywhere on the dial, Pa; None where the class is not known."""
    return None if gauge is None or gauge.accuracy_class is None else gauge.accuracy_class / 100 * gauge.range


def _of_your_own(sheet: VesselSheet, target: float) -> Said:
    best = best_gauge(sheet.gauges, target)
    return say("plan.own-gauge", name=best) if best else say("plan.nothing")


def gauge_stops(sheet: VesselSheet, target: float) -> list[Stop]:
    """The gauge must reach 1.5 × the target (Pa)."""
    gauge = sheet.gauge
    if gauge is None or gauge.range >= GAUGE_RANGE[0] * target * (1 - 1e-9):
        return []
    return [stop("gauge-too-small", ends=gauge.range, wanted=GAUGE_RANGE[0] * target, own=_of_your_own(sheet, target))]


def relief_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """What a relief valve's trial cannot do without, asked before the valve is lifted and not after."""
    tried = BASES[w.basis].by == "relief"
    return [stop("relief-class")] if tried and gauge_error(sheet.gauge) is None else []


def gauge_cautions(sheet: VesselSheet, target: float) -> list[Caution]:
    """A gauge too coarse for the target (Pa), of a class that eats the tolerance, or not calibrated within a year."""
    gauge, found = sheet.gauge, []
    if gauge is None:
        return []
    if gauge.range > GAUGE_RANGE[1] * target * (1 + 1e-9):
        found.append(caution("gauge-too-coarse", reads=gauge.range, twice=2 * target, own=_of_your_own(sheet, target)))
    error = gauge_error(gauge)
    if error is not None and error > WORTH_SAYING * target:
        found.append(caution("gauge-class", within=error))
    on = sheet.date
    if gauge.calibrated is None or (on and on - gauge.calibrated > CALIBRATION):
        found.append(caution("gauge-not-calibrated"))
    return found


def pump_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """A source that passes the ceiling (or the band, where no ceiling is known), cannot reach the target, or overshoots
    by a stroke.
    """
    pump = sheet.pump
    if pump is None:
        return []
    return [*_reach_cautions(pump, w), *_stroke_cautions(pump, w)]


def _reach_cautions(pump: Pump, w: PlanContext) -> list[Caution]:
    if pump.maximum is None:
        return []
    if pump.maximum < w.target:
        return [caution("source-too-weak", makes=pump.maximum)]
    ceiling = w.top.pressure
    limit = ceiling if ceiling is not None else TOLERANCE * w.target
    if pump.maximum <= limit:
        return []
    return [
        caution(
            "source-overshoot", "" if ceiling is not None else "band", makes=pump.maximum, times=pump.maximum / limit
        )
    ]


def _stroke_cautions(pump: Pump, w: PlanContext) -> list[Caution]:
    """One stroke near the top against the width of the test band."""
    if pump.stroke is None or w.content is None:
        return []
    lifts, band = pump.stroke / w.content.compliance(w.pressure), (TOLERANCE - 1) * w.target
    return [] if lifts <= band else [caution("stroke-too-coarse", lifts=lifts, band=band)]


def wrench_cautions(sheet: VesselSheet) -> list[Caution]:
    """A torque wrench too coarse or too small for the torque wanted."""
    wrench = sheet.torque_wrench
    if wrench is None or wrench.lowest_told <= wrench.wanted <= wrench.range:
        return []
    return [caution("wrench-unsuited", wanted=wrench.wanted, lowest=wrench.lowest_told, reach=wrench.range)]


def thermometer_cautions(sheet: VesselSheet, w: PlanContext, pressure_per_kelvin: float) -> list[Caution]:
    """What the temperature may do unseen: without a thermometer, or with one coarser than the drop that is accepted
    (Pa/K).
    """
    if sheet.thermometer is None:
        return [caution("no-thermometer", tenth=abs(pressure_per_kelvin) / 10)]
    step, drop = sheet.thermometer.resolution, accepted_drop(sheet, w)
    unseen = step * abs(pressure_per_kelvin)
    return (
        []
        if drop is None or unseen <= drop
        else [caution("thermometer-too-coarse", step=step, moved=unseen, accepted=drop)]
    )


def serves(part: BaseModel, plan: DeriveAnswer, on: datetime.date) -> tuple[bool, Said]:
    """Will a piece of kit do for a plan, and why or why not in a sentence; `on` is the day of the test."""
    with of_scale(plan.test_pressure):
        if isinstance(part, Gauge):
            return _gauge_serves(part, plan.gauge_target, on)
        if isinstance(part, Pump):
            return _pump_serves(part, plan)
        if isinstance(part, Thermometer):
            moved = part.resolution * abs(plan.pressure_per_kelvin or 0.0)
            return plan.pressure_per_kelvin is not None, say("plan.serves-thermometer", moved=moved)
        if isinstance(part, Rated):
            least = TOLERANCE * plan.gauge_target
            does = part.rating >= least
            return does, say(
                "plan.serves-rated" if does else "plan.serves-rated-too-little", rating=part.rating, least=least
            )
        if isinstance(part, ReliefValve):
            return _relief_serves(part, plan)
        return True, say("plan.serves-wrench")


def _gauge_serves(gauge: Gauge, target: float, on: datetime.date) -> tuple[bool, Said]:
    times = gauge.range / target
    if times < GAUGE_RANGE[0]:
        return False, say("plan.serves-gauge-short", ends=gauge.range, times=times)
    if times > GAUGE_RANGE[1]:
        return False, say("plan.serves-gauge-coarse", ends=gauge.range, times=times)
    old = gauge.calibrated is None or on - gauge.calibrated > CALIBRATION
    return True, say("plan.serves-gauge-old" if old else "plan.serves-gauge", ends=gauge.range, times=times)


def _pump_serves(pump: Pump, plan: DeriveAnswer) -> tuple[bool, Said]:
    if pump.maximum is not None and pump.maximum < plan.gauge_target:
        return False, say("plan.serves-pump-weak", most=pump.maximum)
    strokes = plan.pump.volume / pump.stroke if pump.stroke and plan.pump.volume else None
    ceiling = plan.ceiling.pressure
    times = (
        pump.maximum / ceiling if pump.maximum is not None and ceiling is not None and pump.maximum > ceiling else None
    )
    form = f"plan.serves-pump{'' if strokes else '-unknown'}{'' if times is None else '-strong'}"
    return True, say(form, strokes=strokes, times=times)


def _relief_serves(valve: ReliefValve, plan: DeriveAnswer) -> tuple[bool, Said]:
    lifts, ceiling = valve.set_pressure, plan.ceiling.pressure
    if lifts <= plan.working_pressure:
        return True, say("plan.serves-relief-service", lifts=lifts)
    if lifts > plan.target_band[1] and (ceiling is None or lifts <= ceiling):
        return True, say("plan.serves-relief-rig", lifts=lifts)
    return False, say("plan.serves-relief-neither", lifts=lifts)
