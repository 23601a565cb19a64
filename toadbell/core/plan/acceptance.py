"""The acceptance of a hold: the one that a kind and a pressure ask for, and one that cannot be met or judged said
before the hold.
"""

import math
from typing import Any

from toadbell.core import units
from toadbell.core.answers import Caution, Stop
from toadbell.core.phrases import LOW_HEAD, Said, say
from toadbell.core.plan import detect
from toadbell.core.plan.context import PlanContext, caution, stop
from toadbell.core.sheets import MaxDrop, MaxLeak, NoVisibleDrop, VesselSheet
from toadbell.core.sheets.acceptance import Acceptance, AgainstBaseline
from toadbell.core.vessel import shape

LONGEST = 24 * 3600.0
"""A hold that would have to be longer than this is none that anybody holds, s."""
GAS_A_DAY, NIGHT = 0.02, 14 * 3600.0
"""What gas may lose of its volume a day, and how long it is watched, s: with a thermometer and a barometer nine in ten
such holds are decided at sea level (tools/random_trials.py), of two hours hardly half.
"""
DROP_PART = 0.02
"""A drop that may be seen, as a part of the test pressure, over the hold: what a dial of a common class shows."""


def offered(sheet: VesselSheet, pressure: float, hold: float) -> dict[str, Any]:
    """The acceptance offered for a kind at a test pressure (Pa) and a hold (s), in the open format.

    Gas may lose a fiftieth of its volume a day, little beside what a digester makes, and told in a night; low heads may
    lose a part of themselves; a cooler's gauge may not be seen to move; the rest may fall by a fiftieth over the hold.
    Source: handbook of the job, the hold; procedures, tightness.
    """
    over = units.span(hold)
    if sheet.kind == "cooler":
        return {"no_visible_drop": True}
    volume = shape.volume(sheet)
    if sheet.kind == "digester" and volume is not None:
        return {"max_leak": f"{GAS_A_DAY * volume * 1000:.2g} L/day"}
    if sheet.kind == "enclosure":
        return {"max_drop": _rounded(min(50.0 * hold / 60.0, pressure / 10)), "over": over}
    part = 0.1 if pressure < LOW_HEAD else DROP_PART
    return {"max_drop": _rounded(part * pressure), "over": over}


def accepted(acceptance: Acceptance | None, *, by_day: bool = False) -> Said:
    """What a hold is accepted by, in words; by_day: leaks are told by the day."""
    if isinstance(acceptance, MaxDrop):
        return say("plan.accepted-drop", drop=acceptance.max_drop, over=acceptance.over)
    if isinstance(acceptance, MaxLeak):
        return say("plan.accepted-leak-day" if by_day else "plan.accepted-leak", leak=acceptance.max_leak)
    if isinstance(acceptance, AgainstBaseline):
        return say("plan.accepted-baseline", times=acceptance.times)
    return say("plan.accepted-none" if isinstance(acceptance, NoVisibleDrop) else "plan.accepted-unsaid")


def offered_hold(sheet: VesselSheet, rule_hold: float) -> float:
    """The hold offered for a kind, s: ten minutes for what is tried under a little air, a night for gas, the basis's
    own for the rest.
    """
    return {"cooler": 600.0, "enclosure": 600.0, "sheet-tank": 600.0, "digester": NIGHT}.get(sheet.kind, rule_hold)


def _rounded(pressure: float) -> str:
    """A pressure to allow, rounded down to one figure, in bar or millibar."""
    unit, number = ("bar", pressure / 1e5) if pressure >= 10_000 else ("mbar", max(0.1, pressure / 100))
    step = 10.0 ** math.floor(math.log10(number))
    return f"{math.floor(number / step * (1 + 1e-9)) * step:.3g} {unit}"


def acceptance_stops(sheet: VesselSheet, w: PlanContext) -> list[Stop]:
    """An acceptance that would let everything pass: no hold could be judged by it."""
    wanted = sheet.acceptance
    if not isinstance(wanted, MaxDrop) or wanted.max_drop < w.pressure:
        return []
    return [stop("acceptance-unsuited", drop=wanted.max_drop, instead=_instead(sheet, w))]


def acceptance_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """An acceptance that no hold here can judge, and one that would do."""
    wanted, limit = sheet.acceptance, detect.accepted_leak(sheet, w)
    if wanted is None or limit is None or w.content is None:
        return []
    step = sheet.gauge.readable if sheet.gauge else None
    needed = detect.hold_needed(sheet, w.content, w.pressure, limit)
    if step is None or (needed is not None and needed <= LONGEST):
        return []
    tells = detect.smallest_leak(sheet, w.content, w.pressure, w.hold)
    least = say("plan.nothing") if tells is None else say("plan.least-leak", leak=tells)
    return [caution("acceptance-unsuited", limit=limit, least=least, instead=_instead(sheet, w))]


def _instead(sheet: VesselSheet, w: PlanContext) -> Said:
    """The acceptance that would be offered, in words."""
    one = offered(sheet, w.pressure, w.hold)
    if "no_visible_drop" in one:
        return say("plan.no-drop")
    if "max_leak" in one:
        return say("plan.some-leak", leak=units.read(one["max_leak"], "leak").value)
    drop, over = units.read(one["max_drop"], "pressure").value, units.read(one["over"], "time").value
    return say("plan.drop-over", drop=drop, over=over)
