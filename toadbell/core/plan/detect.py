"""Before the hold: what the acceptance means as a leak, and the smallest leak that this kit can tell.

A hold under air is reckoned like one under water, its volumes being of free air.
"""

import math

from toadbell.core.answers import Detectable, LowHoldsAnswer
from toadbell.core.judge.detectability import LONGEST, TELL, LowHolds, kit_of, planned_sd
from toadbell.core.phrases import say
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.plan.context import PlanContext
from toadbell.core.sheets import MaxDrop, MaxLeak, NoVisibleDrop, VesselSheet
from toadbell.core.sheets.gas import LEVEL_STEP
from toadbell.core.units import ATMOSPHERE


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


def smallest_leak(
    sheet: VesselSheet, content: Content | AirContent, pressure: float, hold: float, low: LowHolds | None = None
) -> float | None:
    """The smallest leak that gauge and thermometer can tell from none in a hold, m³/s; None without a gauge's division.

    pressure  Pa; hold  s; low  low holds beside it
    """
    step = _told(sheet, content, pressure)
    if step is None:
        return None
    thermometer = sheet.thermometer.resolution if sheet.thermometer else None
    across = sheet.shell.inside_diameter if sheet.shell else None
    kit = kit_of(content, pressure, step, thermometer, across, barometer=sheet.barometer)
    return TELL * planned_sd(hold, reading_interval(sheet, hold), kit, low)


def _told(sheet: VesselSheet, content: Content | AirContent, pressure: float) -> float | None:
    """What can be told apart, Pa: on the gauge, or of a drum's or a bag's level as a pressure; None where unknown."""
    holder = sheet.holder
    if not isinstance(content, AirContent) or holder is None or not holder.level_tells:
        return sheet.gauge.readable if sheet.gauge else None
    if holder.area is None:
        return None
    told = holder.area * (holder.level or LEVEL_STEP)
    return told * (ATMOSPHERE + pressure) / ATMOSPHERE / content.compliance(pressure)


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


LOW_HOLD = 600.0
"""How long a low hold is where nobody says, s."""


def low_holds(
    sheet: VesselSheet, content: Content | AirContent | None, pressure: float, hold: float, first: float, head: float
) -> LowHoldsAnswer | None:
    """What low holds before and after the test hold would tell, or tell; None where they are not reckoned: under air,
    without a gauge's division, or where no stage is low enough.

    first  pressure of the first stage, at which the first of them would be, Pa on the gauge; head  between gauge and
           top, Pa
    """
    alone = None if content is None else smallest_leak(sheet, content, pressure, hold)
    part = (first - head) / pressure
    if not isinstance(content, Content) or alone is None or not 0.05 <= part <= LOW_ENOUGH:
        return None
    low = LowHolds(part=part, long=sheet.low_holds or LOW_HOLD)
    told = smallest_leak(sheet, content, pressure, hold, low)
    return LowHoldsAnswer(
        long=low.long,
        pressure=first,
        smallest_leak=told,
        detect=curve(sheet, content, pressure, low),
        chosen=sheet.low_holds is not None,
        offer=None,
    )


LOW_ENOUGH = 0.4
"""Up to such a part of the test pressure a hold is low: above, it leaks nearly as the test hold does."""


def offered(low: LowHoldsAnswer | None, alone: float | None, limit: float | None) -> LowHoldsAnswer | None:
    """The same with the sentence that offers them, where they decide what the hold alone cannot; limit, alone  m³/s."""
    if low is None or low.chosen or limit is None or alone is None or low.smallest_leak is None:
        return low
    if not low.smallest_leak <= limit < alone:
        return low
    says = say("plan.low-holds-offer", alone=alone, told=low.smallest_leak, long=low.long, at=low.pressure, limit=limit)
    return low.model_copy(update={"offer": says})


def curve(
    sheet: VesselSheet, content: Content | AirContent, pressure: float, low: LowHolds | None = None
) -> list[Detectable]:
    """The smallest leak that the kit can tell against the length of the hold; empty where the gauge is not known."""
    found = [(time, smallest_leak(sheet, content, pressure, time, low)) for time in TIMES]
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
