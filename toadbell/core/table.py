"""Tables in CSV whose columns carry their units, such as “elapsed [s],pressure [bar]”."""

import csv
import datetime
import io
import itertools
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from toadbell.core import units
from toadbell.core.arrays import Array
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
    """Where a column stands, its kind of quantity, and how a number of its unit becomes SI: times `scale`, plus
    `zero`.
    """

    index: int
    kind: str
    scale: float = 1.0
    zero: float = 0.0


def read_text(path: Path) -> str:
    """The text of a log; raises SheetError where it is too large, not UTF-8 or cannot be opened."""
    try:
        if path.stat().st_size > MAX_LOG_BYTES:
            raise SheetError(
                f"{path.name} is over {MAX_LOG_BYTES // 1_000_000} MB: thin it out to one reading a second or fewer"
            )
        return path.read_text(encoding="utf-8-sig")
    except UnicodeDecodeError:
        raise SheetError(f"{path.name} is not UTF-8 text: save it as CSV, UTF-8") from None
    except OSError as problem:
        raise SheetError(f"{path} cannot be opened: {problem.strerror}") from None


def read_table(text: str, kinds: dict[str, str], needed: dict[str, str]) -> Table:
    """The rows of a CSV text; other columns are passed over.

    kinds   the kind of quantity of each column by its name; "instant" for a moment in ISO 8601, "count" for a plain
            number
    needed  an example of each column that has to be there; its cells may not be empty

    Raises SheetError naming the line or the column that is wrong.
    """
    first = text.split("\n", 1)[0]
    rows = csv.reader(io.StringIO(text), delimiter=max(",;\t", key=first.count))
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
                if any(cell.strip() for cell in row[len(header) :]):
                    raise SheetError(
                        f"line {rows.line_num} has {len(row)} cells under {len(header)} titles: with decimal commas, "
                        "put “;” between the columns"
                    )
                yield Row(
                    rows.line_num,
                    {name: _value(row, name, columns[name], name in must, rows.line_num) for name in columns},
                )

    return Table(set(columns), each())


CHUNK = 100_000


def read_numbers(text: str, kinds: dict[str, str], needed: dict[str, str]) -> dict[str, Array] | None:
    """The columns at once where all is plain numbers, as a long logger file is; None where a row has to be looked at by
    itself.

    Arguments and errors are those of `read_table`, which says what is wrong with a row.
    """
    first = text.split("\n", 1)[0]
    rows = csv.reader(io.StringIO(text), delimiter=max(",;\t", key=first.count))
    header = next(rows, [])
    columns = _columns(header, kinds)
    must = {other for name in needed for other in name.split("|")}
    if any(column.kind == "instant" for column in columns.values()) or not all(
        set(name.split("|")) & set(columns) for name in needed
    ):
        return None
    found: dict[str, list[Array]] = {name: [] for name in columns}
    while chunk := list(itertools.islice(rows, CHUNK)):
        if any(len(row) > len(header) for row in chunk):
            return None
        for name, column in columns.items():
            try:
                values = np.array([row[column.index] or "nan" for row in chunk], dtype=np.float64)
            except (ValueError, IndexError):
                return None
            if not (np.isfinite(values).all() or (name not in must and not np.isinf(values).any())):
                return None
            found[name].append(values * column.scale + column.zero)
    return {name: np.concatenate(parts) if parts else np.empty(0) for name, parts in found.items()}


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
            found[name] = _Column(index, kind, *_to_si(title, match["unit"], kind))
        else:
            found[name] = _Column(index, kind)
    return found


def _to_si(title: str, unit: str, kind: str) -> tuple[float, float]:
    """What a number in a column's unit is multiplied with, and what is added, to be SI."""
    try:
        zero = units.to_si(0.0, unit, kind)
        return (units.to_si(1000.0, unit, kind) - zero) / 1000.0, zero
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
        si = number * column.scale + column.zero
    except ValueError:
        si = float("nan")
    if not np.isfinite(si):
        raise SheetError(
            f"line {line}: “{cell[:40]}” in column {name} is not a "
            f"{'time' if name in ('time', 'elapsed') else 'number'}"
        )
    return si
