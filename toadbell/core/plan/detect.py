"""Before the hold: what the acceptance means as a leak, and the smallest leak that this kit can tell."""

from toadbell.core.bench.compliance import Content
from toadbell.core.judge.estimate import Kit, leak_sd
from toadbell.core.sheets import MaxDrop, MaxLeak, VesselSheet

TELL = 2.8
"""Standard deviations at which a leak is told from none with 97.5 % confidence four times in five."""


def accepted_leak(sheet: VesselSheet, content: Content, pressure: float) -> float | None:
    """The plan's acceptance as a leak, m³/s, at the test pressure (Pa); None where it is none that can be reckoned yet."""
    wanted = sheet.acceptance
    if isinstance(wanted, MaxLeak):
        return wanted.max_leak
    if isinstance(wanted, MaxDrop) and wanted.max_drop < pressure:
        return (content.pumped(pressure) - content.pumped(pressure - wanted.max_drop)) / wanted.over
    return None


def smallest_leak(sheet: VesselSheet, content: Content, pressure: float, hold: float, every: float) -> float | None:
    """The smallest leak that gauge and thermometer can tell from none in a hold, m³/s; None without a gauge's division.

    pressure  Pa; hold, every  s
    """
    step = sheet.gauge.readable if sheet.gauge else None
    if step is None or sheet.medium == "air":
        return None
    thermometer = sheet.thermometer.resolution if sheet.thermometer else None
    kit = Kit(content.compliance(pressure) * step, thermometer, content.swelling(pressure))
    return TELL * leak_sd(hold, every, kit)
