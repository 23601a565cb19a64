"""The log of a hold: a CSV file whose columns carry their units."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np

from toadbell.core.arrays import Array
from toadbell.core.sheets import SheetError
from toadbell.core.table import read_numbers, read_table, read_text

_KINDS = {
    "elapsed": "time",
    "time": "instant",
    "pressure": "pressure",
    "water_temperature": "temperature",
    "air_temperature": "temperature",
    "barometer": "pressure",
    "level": "length",
}
_NEEDED = {"elapsed|time": "elapsed [s]", "pressure": "pressure [bar]"}


@dataclass(frozen=True)
class Log:
    """Readings in order of time. time s from the first; pressure Pa; temperatures K, NaN where not read, None without a
    column.

    barometer  pressure of the outer air, Pa, absolute; between its readings along a straight line
    level      of a drum or a bag that keeps its pressure, m, rising as it fills; between its readings likewise
    began      the first reading on the log's own clock, s; 0 where it tells the time of day
    """

    time: Array
    pressure: Array
    water_temperature: Array | None = None
    air_temperature: Array | None = None
    barometer: Array | None = None
    level: Array | None = None
    began: float = 0.0


def read_log(path: Path) -> Log:
    """The log in a CSV file; raises SheetError naming the line or the column that is wrong."""
    return parse_log(read_text(path))


def parse_log(text: str) -> Log:
    """The log in a CSV text. Rows out of order are sorted; of a repeated time the last stays.

    Raises SheetError naming the line or the column that is wrong.
    """
    columns = read_numbers(text, _KINDS, _NEEDED)
    if columns is None:
        table = read_table(text, _KINDS, _NEEDED)
        rows = [row.values for row in table.rows]
        columns = {name: np.array([row[name] for row in rows]) for name in table.columns}
    clock = columns["elapsed" if "elapsed" in columns else "time"]
    order = np.argsort(clock, kind="stable")
    last = np.append(np.diff(clock[order]) != 0, True) if len(order) else np.zeros(0, dtype=bool)
    kept = order[last]
    if len(kept) < 2:
        raise SheetError(f"the log has {len(kept)} reading{'' if len(kept) == 1 else 's'}: a drop needs at least two")
    times = clock[kept]

    def column(name: str) -> Array | None:
        return columns[name][kept] if name in columns else None

    pressure = columns["pressure"][kept]
    return Log(
        times - times[0],
        pressure,
        column("water_temperature"),
        column("air_temperature"),
        _between(times, column("barometer")),
        _between(times, column("level")),
        began=float(times[0]) if "elapsed" in columns else 0.0,
    )


def _between(times: Array, column: Array | None) -> Array | None:
    """A column read less often than the pressure, filled along straight lines; None where it was read less than
    twice.
    """
    known = np.isfinite(column) if column is not None else np.zeros(0, dtype=bool)
    return None if column is None or known.sum() < 2 else np.interp(times, times[known], column[known])
