"""What a log and its sheet cannot be together: refused, with what is to be checked, before anything is judged.

Pressures Pa, volumes m³.
"""

import numpy as np

from toadbell.core.arrays import Flags
from toadbell.core.judge.log import Log
from toadbell.core.sheets import HoldSheet, SheetError
from toadbell.core.units import ATMOSPHERE
from toadbell.core.vessel import shape

TWICE = 2.0
"""A hold that began at so many times what was to be held is of another vessel, or in another unit."""
NEAR_OUTER = (0.7 * ATMOSPHERE, 1.08 * ATMOSPHERE)
"""The outer air's pressure, wherever people live: what an absolute sensor shows too much."""
MOST_PAST = 0.5
"""A log of which so much lies past the gauge's end is in another unit, or of another gauge."""
OFF_ITS_SHELL = 3.0
"""A volume so many times its shell's, or so small a part of it, is a slip of a unit."""


def must_be_possible(log: Log, sheet: HoldSheet) -> None:
    """Raises SheetError where it began past the gauge's end or was there most of the time, the sensor is absolute, far
    more was held than was to be, or the volume is not that of the shell.
    """
    past = past_the_end(log, sheet)
    if past.any() and (past[0] or past.mean() > MOST_PAST):
        raise SheetError(
            f"a reading of {_bar(float(np.nanmax(log.pressure)))} lies past the end of the gauge, "
            f"{_bar(sheet.gauge.range) if sheet.gauge else ''}: what it shows there is no pressure. Check the unit and "
            "the gauge",
            "pressure",
        )
    begun = float(np.median(log.pressure[: max(1, len(log.pressure) // 20)]))
    asked = sheet.test_pressure
    if asked is not None and not sheet.holds:
        over = begun - asked
        if NEAR_OUTER[0] <= over <= NEAR_OUTER[1] and over > 0.1 * asked:
            raise SheetError(
                f"it began at {_bar(begun)} where {_bar(asked)} was to be held: the outer air more, as a sensor shows "
                "that counts from a vacuum. Take the outer air's pressure off each reading",
                "pressure",
            )
        if begun > TWICE * asked:
            raise SheetError(
                f"it began at {_bar(begun)}, and {_bar(asked)} was to be held: check the unit, and whose log it is",
                "test_pressure",
            )
    held = None if sheet.shell is None or sheet.volume is None else shape.shell_volume(sheet.shell, [])
    if held and sheet.volume and not 1 / OFF_ITS_SHELL <= sheet.volume / held <= 2 * OFF_ITS_SHELL:
        raise SheetError(
            f"{sheet.volume * 1e3:.4g} L is said, and its shell alone holds {held * 1e3:.4g} L: check the unit",
            "volume",
        )


def past_the_end(log: Log, sheet: HoldSheet) -> Flags:
    """Which readings lie past the gauge's end: what it shows there is no pressure, and is left out."""
    if sheet.gauge is None:
        return np.zeros(len(log.time), dtype=bool)
    found: Flags = np.nan_to_num(log.pressure) > sheet.gauge.range * (1 + 1e-9)
    return found


def _bar(pressure: float) -> str:
    return f"{pressure / 1e5:.4g} bar"
