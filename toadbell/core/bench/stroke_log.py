"""The stroke log in a CSV file: what was pumped, and what the gauge showed."""

from pathlib import Path

import numpy as np

from toadbell.core.bench.strokes import StrokeLog
from toadbell.core.sheets import SheetError, VesselSheet
from toadbell.core.table import read_table, read_text

_KINDS = {
    "strokes": "count",
    "pumped": "volume",
    "pressure": "pressure",
    "elapsed": "time",
    "time": "instant",
    "water_temperature": "temperature",
}
_NEEDED = {"strokes|pumped": "strokes", "pressure": "pressure [bar]"}


def read_stroke_log(path: Path, sheet: VesselSheet) -> StrokeLog:
    """Readings while raising, in the order of the file: strokes so far (or `pumped` with its unit) and pressure; time
    and water's
    temperature where they are there.

    Raises SheetError naming the line or the column that is wrong, or the pump's stroke where strokes have to be turned
    into a volume.
    """
    table = read_table(read_text(path), _KINDS, _NEEDED)
    rows = list(table.rows)
    if not rows:
        raise SheetError("the log has no readings: a stroke log has one after each stroke or few")
    metered = "pumped" in table.columns
    stroke = sheet.pump.stroke if sheet.pump else None
    if not metered and stroke is None:
        raise SheetError("the pump's displacement is needed: give its stroke, such as “12 mL”", "pump.stroke")
    made = [row.values["pumped" if metered else "strokes"] for row in rows]
    for before, after, row in zip(made, made[1:], rows[1:], strict=False):
        if after < before:
            raise SheetError(
                f"line {row.line}: the strokes go back: the column counts what was pumped since the vent was shut"
            )
    clock = next((name for name in ("elapsed", "time") if name in table.columns), None)
    times = None if clock is None else np.array([row.values[clock] for row in rows])
    if times is not None and not np.isfinite(times).all():
        raise SheetError(f"a row has no time: fill the column {clock}, or leave it out")
    warm = np.array([row.values["water_temperature"] for row in rows]) if "water_temperature" in table.columns else None
    pressure = np.array([row.values["pressure"] for row in rows])
    return StrokeLog(
        pressure,
        np.array(made) * (1.0 if metered else stroke or 0.0),
        None if times is None else times - times[0],
        warm,
    )
