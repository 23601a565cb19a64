"""The log of a hold: a CSV file whose columns carry their units."""

import csv
import datetime
import io
import re
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from toadbell.core import units
from toadbell.core.sheets import SheetError

MAX_LOG_BYTES = 200_000_000
_HEADER = re.compile(r"\s*(?P<name>[\w ]+?)\s*(?:\[(?P<unit>[^\]]+)\])?\s*$")
_COLUMNS = {"elapsed": "time", "pressure": "pressure", "water_temperature": "temperature", "air_temperature": "temperature"}

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
    try:
        if path.stat().st_size > MAX_LOG_BYTES:
            raise SheetError(f"{path.name} is over {MAX_LOG_BYTES // 1_000_000} MB: thin it out to one reading a second or fewer")
        text = path.read_text(encoding="utf-8-sig")
    except UnicodeDecodeError:
        raise SheetError(f"{path.name} is not UTF-8 text: save it as CSV, UTF-8") from None
    except OSError as problem:
        raise SheetError(f"{path} cannot be opened: {problem.strerror}") from None
    return parse_log(text)


def parse_log(text: str) -> Log:
    """The log in a CSV text. Rows out of order are sorted; of a repeated time the last stays.

    Raises SheetError naming the line or the column that is wrong.
    """
    rows = csv.reader(io.StringIO(text))
    header = next(rows, None)
    if not header:
        raise SheetError("the log is empty: a header row such as “elapsed [s],pressure [bar]” is needed")
    columns = _columns(header)
    kept: dict[float, tuple[float, float, float]] = {}
    for row in rows:
        if not any(cell.strip() for cell in row):
            continue
        when, pressure, water, air = _read_row(row, columns, rows.line_num)
        kept[when] = (pressure, water, air)
    if len(kept) < 2:
        raise SheetError(f"the log has {len(kept)} reading{'' if len(kept) == 1 else 's'}: a drop needs at least two")
    times = sorted(kept)
    table = np.array([kept[t] for t in times])
    waters = table[:, 1] if "water_temperature" in columns else None
    airs = table[:, 2] if "air_temperature" in columns else None
    return Log(np.array(times) - times[0], table[:, 0], waters, airs)


@dataclass(frozen=True)
class _Column:
    index: int
    kind: str
    unit: str


def _columns(header: list[str]) -> dict[str, _Column]:
    found: dict[str, _Column] = {}
    for index, title in enumerate(header):
        match = _HEADER.match(title)
        name = match["name"].strip().lower().replace(" ", "_") if match else ""
        if not match or name in found:
            continue
        if name == "time":
            found["time"] = _Column(index, "instant", "")
        elif name in _COLUMNS:
            kind = _COLUMNS[name]
            if not match["unit"]:
                raise SheetError(f"column “{title}” has no unit: write it like “{name} [{_EXAMPLE[kind]}]”")
            _check_unit(title, match["unit"], kind)
            found["time" if name == "elapsed" else name] = _Column(index, kind, match["unit"])
    for needed, example in (("time", "elapsed [s]"), ("pressure", "pressure [bar]")):
        if needed not in found:
            raise SheetError(f"there is no column “{example}” in the header: found {', '.join(header)[:200]}")
    return found


_EXAMPLE = {"time": "s", "pressure": "bar", "temperature": "degC"}


def _check_unit(title: str, unit: str, kind: str) -> None:
    try:
        units.to_si(1.0, unit, kind)
    except units.QuantityError:
        raise SheetError(f"column “{title}”: “{unit}” is no unit of {kind}; write it like [{_EXAMPLE[kind]}]") from None


def _read_row(row: list[str], columns: dict[str, _Column], line: int) -> tuple[float, float, float, float]:
    def value(name: str) -> float:
        column = columns.get(name)
        if column is None or (name.endswith("temperature") and (column.index >= len(row) or not row[column.index].strip())):
            return float("nan")
        cell = row[column.index].strip() if column.index < len(row) else ""
        try:
            if column.kind == "instant":
                moment = datetime.datetime.fromisoformat(cell)
                return moment.replace(tzinfo=moment.tzinfo or datetime.UTC).timestamp()
            si = units.to_si(float(cell.replace(",", ".")), column.unit, column.kind)
        except ValueError:
            si = float("nan")
        if not np.isfinite(si):
            raise SheetError(f"line {line}: “{cell[:40]}” in column {name} is not a {'time' if name == 'time' else 'number'}")
        return si

    return value("time"), value("pressure"), value("water_temperature"), value("air_temperature")
