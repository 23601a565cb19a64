"""The log of a hold: a CSV file whose columns carry their units."""

from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from toadbell.core.sheets import SheetError
from toadbell.core.table import read_table, read_text

_KINDS = {
    "elapsed": "time", "time": "instant", "pressure": "pressure", "water_temperature": "temperature", "air_temperature": "temperature",
}  # fmt: skip
_NEEDED = {"elapsed|time": "elapsed [s]", "pressure": "pressure [bar]"}

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Log:
    """Readings in order of time. time s from the first; pressure Pa; temperatures K, NaN where not read, None without a column."""

    time: Array
    pressure: Array
    water_temperature: Array | None = None
    air_temperature: Array | None = None


def read_log(path: Path) -> Log:
    """The log in a CSV file; raises SheetError naming the line or the column that is wrong."""
    return parse_log(read_text(path))


def parse_log(text: str) -> Log:
    """The log in a CSV text. Rows out of order are sorted; of a repeated time the last stays.

    Raises SheetError naming the line or the column that is wrong.
    """
    table = read_table(text, _KINDS, _NEEDED)
    clock = "elapsed" if "elapsed" in table.columns else "time"
    kept = {row.values[clock]: row.values for row in table.rows}
    if len(kept) < 2:
        raise SheetError(f"the log has {len(kept)} reading{'' if len(kept) == 1 else 's'}: a drop needs at least two")
    times = sorted(kept)

    def column(name: str) -> Array | None:
        return np.array([kept[t][name] for t in times]) if name in table.columns else None

    pressure = column("pressure")
    assert pressure is not None
    return Log(np.array(times) - times[0], pressure, column("water_temperature"), column("air_temperature"))
