"""Is the kit suited to this test? Each finding is a stop or a caution with what to do."""

import datetime

from toadbell.core.answers import Says
from toadbell.core.kit_sheet import NamedGauge
from toadbell.core.sheets import VesselSheet
from toadbell.core.units import write

GAUGE_RANGE = (1.5, 4.0)
"""Full scale as a multiple of the test pressure, least and most (ASME BPVC VIII-1, UG-102)."""
CALIBRATION = datetime.timedelta(days=366)


def gauge_stops(sheet: VesselSheet, target: float, unit: str) -> list[Says]:
    """The gauge must reach 1.5 × the target (Pa); `unit` is the person's pressure unit."""
    gauge = sheet.gauge
    if gauge is None or gauge.range >= GAUGE_RANGE[0] * target * (1 - 1e-9):
        return []
    wanted = write(GAUGE_RANGE[0] * target, "pressure", unit, figures=3)
    return [
        Says(
            code="gauge-too-small",
            says=f"The gauge ends at {write(gauge.range, 'pressure', unit)}. Fit one that reads to at least {wanted}.",
        )
    ]


def gauge_cautions(sheet: VesselSheet, target: float, unit: str) -> list[Says]:
    """A gauge too coarse for the target (Pa), or not calibrated within a year."""
    gauge, found = sheet.gauge, []
    if gauge is None:
        return []
    if gauge.range > GAUGE_RANGE[1] * target * (1 + 1e-9):
        twice = write(2 * target, "pressure", unit, figures=2)
        found.append(
            Says(
                code="gauge-too-coarse",
                says=f"The gauge reads to {write(gauge.range, 'pressure', unit)}, over four times the test pressure. One that ends near {twice} would tell more.",
            )
        )
    on = sheet.date
    if gauge.calibrated is None or (on and on - gauge.calibrated > CALIBRATION):
        found.append(
            Says(
                code="gauge-not-calibrated",
                says="No calibration of the gauge within a year is on record. Compare it with a second gauge on the day.",
            )
        )
    return found


def pump_cautions(sheet: VesselSheet, ceiling: float | None, unit: str) -> list[Says]:
    """A source that can pass the ceiling (Pa) by itself."""
    if sheet.pump is None or sheet.pump.maximum is None or ceiling is None or sheet.pump.maximum <= ceiling:
        return []
    ratio = sheet.pump.maximum / ceiling
    maximum = write(sheet.pump.maximum, "pressure", unit, figures=3)
    return [
        Says(
            code="source-overshoot",
            says=f"The pump can make {maximum}, {ratio:.1f} times the ceiling. Fit a relief or a bypass on the rig, and pump slowly near the top.",
        )
    ]


def best_gauge(gauges: list[NamedGauge], target: float) -> str | None:
    """Name of the gauge that serves a target (Pa) best: its range allowed, then the finest reading, then near twice the target."""
    allowed = [g for g in gauges if GAUGE_RANGE[0] * target * (1 - 1e-9) <= g.range <= GAUGE_RANGE[1] * target * (1 + 1e-9)]
    if not allowed:
        return None
    return min(allowed, key=lambda g: (g.readable or g.range, abs(g.range - 2 * target))).name


TORQUE_RANGE = (0.2, 1.0)
"""Part of a torque wrench's range in which it tells the torque."""


def wrench_cautions(sheet: VesselSheet) -> list[Says]:
    """A torque wrench too coarse or too small for the torque wanted."""
    wrench = sheet.torque_wrench
    if wrench is None or TORQUE_RANGE[0] * wrench.range <= wrench.wanted <= TORQUE_RANGE[1] * wrench.range:
        return []
    wanted, reach = write(wrench.wanted, "torque"), write(wrench.range, "torque")
    return [
        Says(
            code="wrench-unsuited",
            says=f"{wanted} on a wrench that ends at {reach}: it tells nothing there. Take one on which it is between a fifth and the whole of the range.",
        )
    ]


def thermometer_cautions(sheet: VesselSheet, pressure_per_kelvin: float, unit: str) -> list[Says]:
    """What the temperature may do unseen: without a thermometer, or with one as coarse as the drop that is accepted (Pa/K)."""
    if sheet.thermometer is not None:
        return []
    tenth = write(abs(pressure_per_kelvin) / 10, "pressure", unit, figures=2)
    return [
        Says(
            code="no-thermometer",
            says=f"No thermometer is read. A tenth of a degree moves the needle by {tenth}, and nobody could tell that from a leak.",
        )
    ]
