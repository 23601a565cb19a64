"""Is the kit suited to this test? Each finding is a stop or a caution with what to do."""

import datetime

from pydantic import BaseModel

from toadbell.core.answers import Caution, DeriveAnswer, Stop
from toadbell.core.plan.context import TOLERANCE, PlanContext, unit_for
from toadbell.core.plan.detect import accepted_drop
from toadbell.core.sheets import VesselSheet
from toadbell.core.sheets.kit import Gauge, NamedGauge, Pump, Rated, ReliefValve, Thermometer
from toadbell.core.units import write

GAUGE_RANGE = (1.5, 4.0)
"""Full scale as a multiple of the test pressure, least and most (ASME BPVC VIII-1, UG-102)."""
CALIBRATION = datetime.timedelta(days=366)
WORTH_SAYING = 0.025
"""Error of the gauge's class, as a part of the target, from where it takes half of the tolerance band."""


def suits(gauge: Gauge, target: float) -> bool:
    """Is a gauge's full scale right for a target on it (Pa)?"""
    return GAUGE_RANGE[0] * target * (1 - 1e-9) <= gauge.range <= GAUGE_RANGE[1] * target * (1 + 1e-9)


def best_gauge(gauges: list[NamedGauge], target: float) -> str | None:
    """Name of the gauge that serves a target (Pa) best: its range allowed, then the finest reading, then near twice the target."""
    suited = [gauge for gauge in gauges if suits(gauge, target)]
    if not suited:
        return None
    return min(suited, key=lambda g: (g.readable or g.range, abs(g.range - 2 * target))).name


def gauge_error(gauge: Gauge | None) -> float | None:
    """What the gauge's class allows it to be wrong by anywhere on the dial, Pa; None where the class is not known."""
    return None if gauge is None or gauge.accuracy_class is None else gauge.accuracy_class / 100 * gauge.range


def _of_your_own(sheet: VesselSheet, target: float) -> str:
    best = best_gauge(sheet.gauges, target)
    return f" Of your own, {best} would serve." if best else ""


def gauge_stops(sheet: VesselSheet, target: float, unit: str) -> list[Stop]:
    """The gauge must reach 1.5 × the target (Pa); `unit` is the person's pressure unit."""
    gauge = sheet.gauge
    if gauge is None or gauge.range >= GAUGE_RANGE[0] * target * (1 - 1e-9):
        return []
    ends, wanted = write(gauge.range, "pressure", unit), write(GAUGE_RANGE[0] * target, "pressure", unit, figures=3)
    own = _of_your_own(sheet, target)
    return [Stop(code="gauge-too-small", says=f"The gauge ends at {ends}. Fit one that reads to at least {wanted}.{own}")]


def gauge_cautions(sheet: VesselSheet, target: float, unit: str) -> list[Caution]:
    """A gauge too coarse for the target (Pa), of a class that eats the tolerance, or not calibrated within a year."""
    gauge, found = sheet.gauge, []
    if gauge is None:
        return []
    if gauge.range > GAUGE_RANGE[1] * target * (1 + 1e-9):
        reads, twice = write(gauge.range, "pressure", unit), write(2 * target, "pressure", unit, figures=2)
        own = _of_your_own(sheet, target)
        found.append(
            Caution(
                code="gauge-too-coarse",
                says=f"The gauge reads to {reads}, over four times the test pressure. Take one that ends near {twice}: it would tell more.{own}",
            )
        )
    error = gauge_error(gauge)
    if error is not None and error > WORTH_SAYING * target:
        within = write(error, "pressure", unit, figures=2)
        found.append(
            Caution(
                code="gauge-class",
                says=f"By its class the gauge may be {within} out. The level is known no better: compare it, or raise the target by that.",
            )
        )
    on = sheet.date
    if gauge.calibrated is None or (on and on - gauge.calibrated > CALIBRATION):
        found.append(
            Caution(
                code="gauge-not-calibrated",
                says="No calibration of the gauge within a year is on record. Compare it with a second gauge on the day.",
            )
        )
    return found


def pump_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """A source that passes the ceiling (or the band, where no ceiling is known), cannot reach the target, or overshoots by a stroke."""
    pump = sheet.pump
    if pump is None:
        return []
    return [*_reach_cautions(pump, w), *_stroke_cautions(pump, w)]


def _reach_cautions(pump: Pump, w: PlanContext) -> list[Caution]:
    if pump.maximum is None:
        return []
    makes = w.show(pump.maximum, 3)
    if pump.maximum < w.target:
        return [Caution(code="source-too-weak", says=f"The pump makes {makes} at most, and the test asks for more. Take another.")]
    ceiling = w.top.pressure
    limit, name = (ceiling, "the ceiling") if ceiling is not None else (TOLERANCE * w.target, "the test band")
    if pump.maximum <= limit:
        return []
    return [
        Caution(
            code="source-overshoot",
            says=f"The pump can make {makes}, {pump.maximum / limit:.1f} times {name}. Fit a relief or a bypass on the rig, and pump slowly near the top.",
        )
    ]


def _stroke_cautions(pump: Pump, w: PlanContext) -> list[Caution]:
    """One stroke near the top against the width of the test band."""
    if pump.stroke is None or w.content is None:
        return []
    lifts = pump.stroke / w.content.compliance(w.pressure)
    if lifts <= (TOLERANCE - 1) * w.target:
        return []
    return [
        Caution(
            code="stroke-too-coarse",
            says=f"One stroke near the top lifts it by {w.show(lifts, 2)}, and the band is {w.show((TOLERANCE - 1) * w.target, 2)} wide. "
            "Take a smaller pump, or strokes in parts.",
        )
    ]


TORQUE_RANGE = (0.2, 1.0)
"""Part of a torque wrench's range in which it tells the torque."""


def wrench_cautions(sheet: VesselSheet) -> list[Caution]:
    """A torque wrench too coarse or too small for the torque wanted."""
    wrench = sheet.torque_wrench
    if wrench is None or TORQUE_RANGE[0] * wrench.range <= wrench.wanted <= TORQUE_RANGE[1] * wrench.range:
        return []
    wanted, reach = write(wrench.wanted, "torque"), write(wrench.range, "torque")
    return [
        Caution(
            code="wrench-unsuited",
            says=f"{wanted} on a wrench that ends at {reach}: it tells nothing there. Take one on which it is between a fifth and the whole of the range.",
        )
    ]


def thermometer_cautions(sheet: VesselSheet, w: PlanContext, pressure_per_kelvin: float) -> list[Caution]:
    """What the temperature may do unseen: without a thermometer, or with one coarser than the drop that is accepted (Pa/K)."""
    if sheet.thermometer is None:
        tenth = write(abs(pressure_per_kelvin) / 10, "pressure", w.pressure_unit, figures=2)
        return [
            Caution(
                code="no-thermometer",
                says=f"No thermometer is read. A tenth of a degree moves the needle by {tenth}, and nobody could tell that from a leak. "
                "Read one, on the wall under foam or in the water.",
            )
        ]
    drop = accepted_drop(sheet, w)
    unseen = sheet.thermometer.resolution * abs(pressure_per_kelvin)
    if drop is None or unseen <= drop:
        return []
    step, moved = (
        write(sheet.thermometer.resolution, "temperature_difference", "delta_degC"),
        write(unseen, "pressure", w.pressure_unit, figures=2),
    )
    accepted = write(drop, "pressure", w.pressure_unit, figures=2)
    return [
        Caution(
            code="thermometer-too-coarse",
            says=f"The thermometer reads to {step}, which is {moved} on the gauge; only {accepted} may be lost. Read a finer one, or hold longer.",
        )
    ]


def serves(kind: str, part: BaseModel, plan: DeriveAnswer, unit: str, on: datetime.date) -> tuple[bool, str]:
    """Will a piece of kit do for a plan, and why or why not in a sentence; `on` is the day of the test."""
    unit = unit_for(plan.test_pressure, unit)
    if isinstance(part, Gauge):
        return _gauge_serves(part, plan.gauge_target, unit, on)
    if isinstance(part, Pump):
        return _pump_serves(part, plan, unit)
    if isinstance(part, Thermometer):
        moved = write(part.resolution * abs(plan.pressure_per_kelvin or 0.0), "pressure", unit, figures=2)
        return plan.pressure_per_kelvin is not None, f"One step of it is {moved} on the gauge."
    if isinstance(part, Rated):
        least = TOLERANCE * plan.gauge_target
        does = part.rating >= least
        return (
            does,
            f"Rated {write(part.rating, 'pressure', unit)}; {'enough for' if does else 'it must bear'} {write(least, 'pressure', unit)}.",
        )
    if isinstance(part, ReliefValve):
        return _relief_serves(part, plan, unit)
    return True, "Use it between a fifth and the whole of its range."


def _gauge_serves(gauge: Gauge, target: float, unit: str, on: datetime.date) -> tuple[bool, str]:
    times, ends = gauge.range / target, write(gauge.range, "pressure", unit)
    if times < GAUGE_RANGE[0]:
        return False, f"Ends at {ends}, {times:.2g} times the test; 1.5 times is the least."
    if times > GAUGE_RANGE[1]:
        return False, f"Reads to {ends}, {times:.2g} times the test; 4 times is the most."
    old = gauge.calibrated is None or on - gauge.calibrated > CALIBRATION
    due = "not calibrated within a year: compare it on the day." if old else "calibrated."
    return True, f"Reads to {ends}, {times:.2g} times the test; {due}"


def _pump_serves(pump: Pump, plan: DeriveAnswer, unit: str) -> tuple[bool, str]:
    if pump.maximum is not None and pump.maximum < plan.gauge_target:
        return False, f"Makes {write(pump.maximum, 'pressure', unit)} at most."
    strokes = f"{plan.pump.volume / pump.stroke:.2g} strokes to the top" if pump.stroke and plan.pump.volume else "its stroke is not known"
    ceiling = plan.ceiling.pressure
    if pump.maximum is not None and ceiling is not None and pump.maximum > ceiling:
        return (
            True,
            f"{strokes[0].upper()}{strokes[1:]}; it can make {pump.maximum / ceiling:.1f} times the ceiling: a relief or a bypass on the rig.",
        )
    return True, f"{strokes[0].upper()}{strokes[1:]}."


def _relief_serves(valve: ReliefValve, plan: DeriveAnswer, unit: str) -> tuple[bool, str]:
    lifts = f"Lifts at {write(valve.set_pressure, 'pressure', unit)}"
    ceiling = plan.ceiling.pressure
    if valve.set_pressure <= plan.working_pressure:
        return True, f"{lifts}: for service; take it off for the test."
    if valve.set_pressure > plan.target_band[1] and (ceiling is None or valve.set_pressure <= ceiling):
        return True, f"{lifts}: on the rig it keeps the test under the ceiling."
    return False, f"{lifts}: too high for service, and it would lift during the test or not before the ceiling."
