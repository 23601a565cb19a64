"""Is the kit suited to this test? Each finding is a stop or a caution with what to do."""

import datetime

from toadbell.core.answers import Says
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
