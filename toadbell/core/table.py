"""Tables in CSV whose columns carry their units, such as “elapsed [s],pressure [bar]”."""

import csv
import datetime
import io
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from toadbell.core import units
from toadbell.core.sheets import SheetError

MAX_LOG_BYTES = 200_000_000
_HEADER = re.compile(r"\s*(?P<name>[\w ]+?)\s*(?:\[(?P<unit>[^\]]+)\])?\s*$")
_EXAMPLE = {"time": "s", "pressure": "bar", "temperature": "degC", "volume": "mL"}


@dataclass(frozen=True)
class Row:
    """A row: its line in the file, and its values in SI by the columns' names; NaN where an optional one is empty."""

    line: int
    values: dict[str, float]


@dataclass(frozen=True)
class Table:
    """The columns that were found, and the rows one after another."""

    columns: set[str]
    rows: Iterator[Row]


@dataclass(frozen=True)
class _Column:
    index: int
    kind: str
    unit: str


def read_text(path: Path) -> str:
    """The text of a log; raises SheetError where it is too large, not UTF-8 or cannot be opened."""
    try:
        if path.stat().st_size > MAX_LOG_BYTES:
            raise SheetError(f"{path.name} is over {MAX_LOG_BYTES // 1_000_000} MB: thin it out to one reading a second or fewer")
        return path.read_text(encoding="utf-8-sig")
    except UnicodeDecodeError:
        raise SheetError(f"{path.name} is not UTF-8 text: save it as CSV, UTF-8") from None
    except OSError as problem:
        raise SheetError(f"{path} cannot be opened: {problem.strerror}") from None


def read_table(text: str, kinds: dict[str, str], needed: dict[str, str]) -> Table:
    """The rows of a CSV text; other columns are passed over.

    kinds   the kind of quantity of each column by its name; "instant" for a moment in ISO 8601, "count" for a plain number
    needed  an example of each column that has to be there; its cells may not be empty

    Raises SheetError naming the line or the column that is wrong.
    """
    rows = csv.reader(io.StringIO(text))
    header = next(rows, None)
    if not header:
        raise SheetError(f"the log is empty: a header row such as “{','.join(needed.values())}” is needed")
    columns = _columns(header, kinds)
    for name, example in needed.items():
        if not any(other in columns for other in name.split("|")):
            raise SheetError(f"there is no column “{example}” in the header: found {', '.join(header)[:200]}")
    must = {other for name in needed for other in name.split("|")}

    def each() -> Iterator[Row]:
        for row in rows:
            if any(cell.strip() for cell in row):
                yield Row(rows.line_num, {name: _value(row, name, columns[name], name in must, rows.line_num) for name in columns})

    return Table(set(columns), each())


def _columns(header: list[str], kinds: dict[str, str]) -> dict[str, _Column]:
    found: dict[str, _Column] = {}
    for index, title in enumerate(header):
        match = _HEADER.match(title)
        name = match["name"].strip().lower().replace(" ", "_") if match else ""
        if not match or name in found or name not in kinds:
            continue
        kind = kinds[name]
        if kind not in ("instant", "count"):
            if not match["unit"]:
                raise SheetError(f"column “{title}” has no unit: write it like “{name} [{_EXAMPLE[kind]}]”")
            _check_unit(title, match["unit"], kind)
        found[name] = _Column(index, kind, match["unit"] or "")
    return found


def _check_unit(title: str, unit: str, kind: str) -> None:
    try:
        units.to_si(1.0, unit, kind)
    except units.QuantityError:
        raise SheetError(f"column “{title}”: “{unit}” is no unit of {kind}; write it like [{_EXAMPLE[kind]}]") from None


def _value(row: list[str], name: str, column: _Column, must: bool, line: int) -> float:
    cell = row[column.index].strip() if column.index < len(row) else ""
    if not cell and not must:
        return float("nan")
    try:
        if column.kind == "instant":
            moment = datetime.datetime.fromisoformat(cell)
            return moment.replace(tzinfo=moment.tzinfo or datetime.UTC).timestamp()
        number = float(cell.replace(",", "."))
        si = number if column.kind == "count" else units.to_si(number, column.unit, column.kind)
    except ValueError:
        si = float("nan")
    if not np.isfinite(si):
        raise SheetError(f"line {line}: “{cell[:40]}” in column {name} is not a {'time' if name in ('time', 'elapsed') else 'number'}")
    return si
