"""What a gas-head trial asks of its plan beside pressure and hold."""

from toadbell.core.answers import Caution
from toadbell.core.plan.bases import holder_of
from toadbell.core.plan.context import PlanContext, caution
from toadbell.core.sheets import VesselSheet

SETTLES = 1800.0
"""Gas is left so long till its temperature has settled, s, at the least; procedures, gas-head."""
SETTLES_OF = 0.2
"""And longer as the cube root of its volume beyond this, m³: as far as warmth has to go into it."""


def settle_time(volume: float | None) -> float:
    """How long to wait after blowing up before the level is marked, s, for a volume of gas, m³.

    >>> settle_time(0.1), settle_time(1.6)
    (1800.0, 3600.0)
    """
    over = 1.0 if volume is None else max(1.0, (volume / SETTLES_OF) ** (1 / 3))
    return 300.0 * round(SETTLES * over / 300.0)


def gas_cautions(sheet: VesselSheet, w: PlanContext) -> list[Caution]:
    """What is not said of a gas holder and matters, and a water seal that blows before the test pressure is there."""
    holder = holder_of(sheet, w.basis)
    if holder is None:
        return []
    found = []
    if holder.unsaid:
        found.append(caution("gas-holder", "pipe"))
    if holder.level_tells and holder.area is None:
        found.append(caution("gas-holder", "area"))
    if not sheet.barometer:
        found.append(caution("barometer"))
    if sheet.relief_set is not None and sheet.relief_set < w.pressure * (1 - 1e-9):
        found.append(caution("seal-blows", at=sheet.relief_set, pressure=w.pressure))
    return found
