"""Before the hold: what the acceptance means as a leak, and the smallest leak that this kit can tell.

A hold under air is reckoned like one under water, its volumes being of free air.
"""

import math

from toadbell.core.answers import Detectable
from toadbell.core.judge.detectability import LONGEST, TELL, kit_of, leak_sd
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.plan.context import PlanContext
from toadbell.core.sheets import MaxDrop, MaxLeak, NoVisibleDrop, VesselSheet


def accepted_drop(sheet: VesselSheet, w: PlanContext) -> float | None:
    """What the pressure may lose over the hold by the acceptance, temperature taken out, Pa; None where it cannot be
    reckoned yet.
    """
    wanted = sheet.acceptance
    if isinstance(wanted, NoVisibleDrop):
        return sheet.gauge.readable if sheet.gauge else None
    if isinstance(wanted, MaxDrop):
        return wanted.max_drop * w.hold / wanted.over
    if isinstance(wanted, MaxLeak) and w.content is not None:
        return wanted.max_leak * w.hold / w.content.compliance(w.pressure)
    return None


def accepted_leak(sheet: VesselSheet, w: PlanContext) -> float | None:
    """The plan's acceptance as a leak at the test pressure, m³/s; None where it is none that can be reckoned yet.

    A drop that may not be seen is one step of the gauge over the hold.
    """
    wanted = sheet.acceptance
    if isinstance(wanted, MaxLeak):
        return wanted.max_leak
    if w.content is None:
        return None
    if isinstance(wanted, MaxDrop) and wanted.max_drop < w.pressure:
        return (w.content.pumped(w.pressure) - w.content.pumped(w.pressure - wanted.max_drop)) / wanted.over
    step = sheet.gauge.readable if sheet.gauge else None
    if isinstance(wanted, NoVisibleDrop) and step is not None:
        return w.content.compliance(w.pressure) * step / w.hold
    return None


def smallest_leak(sheet: VesselSheet, content: Content | AirContent, pressure: float, hold: float) -> float | None:
    """The smallest leak that gauge and thermometer can tell from none in a hold, m³/s; None without a gauge's division.

    pressure  Pa; hold  s
    """
    step = sheet.gauge.readable if sheet.gauge else None
    if step is None:
        return None
    thermometer = sheet.thermometer.resolution if sheet.thermometer else None
    kit = kit_of(content, pressure, step, thermometer, sheet.shell.inside_diameter if sheet.shell else None)
    return TELL * leak_sd(hold, reading_interval(sheet, hold), kit)


def reading_interval(sheet: VesselSheet, hold: float) -> float:
    """How often to read in a hold of so long, s: as asked, else some fifteen readings, every 10 s to 5
    min.
    """
    asked = sheet.hold.every if sheet.hold else None
    if asked:
        return asked
    every = max(10.0, min(300.0, hold / 15))
    step = 60.0 if every >= 60 else 5.0
    return step * math.floor(every / step + 0.5)


TIMES = (900.0, 1800.0, 3600.0, 7200.0, 14_400.0, 28_800.0)
"""Holds for which the smallest leak that can be told is worked out, s."""


def curve(sheet: VesselSheet, content: Content | AirContent, pressure: float) -> list[Detectable]:
    """The smallest leak that the kit can tell against the length of the hold; empty where the gauge is not known."""
    found = [(time, smallest_leak(sheet, content, pressure, time)) for time in TIMES]
    return [Detectable(time=time, leak=leak) for time, leak in found if leak is not None]


def hold_needed(
    sheet: VesselSheet, content: Content | AirContent, pressure: float, limit: float | None
) -> float | None:
    """The shortest hold, s, in which a leak of `limit` (m³/s) can be told from none; None where no hold of two days
    can.
    """
    if limit is None:
        return None
    time = 300.0
    while time <= LONGEST:
        leak = smallest_leak(sheet, content, pressure, time)
        if leak is None:
            return None
        if leak <= limit:
            return time
        step = 300.0 if time < 7200 else 1800.0 if time < 21_600 else 3600.0
        time = step * math.floor(time * 1.2 / step + 1)
    return None
