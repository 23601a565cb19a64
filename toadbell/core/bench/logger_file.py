"""A logger's CSV file: columns, units, time format and zone recognised as far as they can be, the rest for a person to
say.

Nothing is guessed silently: what was recognised comes back as a recipe that a person may change, and rows that cannot
be
read come back with their line and the reason.
"""

import csv
import datetime
import io
import re
from typing import Any, Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from toadbell.core import units
from toadbell.core.sheets import SheetError

MOST_ROWS = 2_000_000
HEAD_ROWS = 40
"""Lines among which the header is looked for; loggers write their serial number and such first."""
SHOWN_BAD = 50
Role = Literal["time", "date", "elapsed", "pressure", "temperature", "strokes"]
_NAMES: dict[Role, tuple[str, ...]] = {
    "elapsed": ("elapsed", "seconds", "sec", "runtime", "duration"),
    "date": ("date", "datum", "day"),
    "time": ("time", "timestamp", "datetime", "zeit", "clock", "uhrzeit"),
    "pressure": ("pressure", "press", "druck", "p", "gauge"),
    "temperature": ("temperature", "temp", "water", "t"),
    "strokes": ("strokes", "count", "counter"),
}
_KIND = {"elapsed": "time", "pressure": "pressure", "temperature": "temperature"}
_UNIT = re.compile(r"[\[(]\s*([^\])]+?)\s*[\])]|[_ ](bar|psi|mbar|kpa|mpa|degc|°c|°f|degf|s|ms|min)$", re.IGNORECASE)
FORMATS = (
    "%Y-%m-%dT%H:%M:%S",
    "%Y-%m-%d %H:%M:%S",
    "%d.%m.%Y %H:%M:%S",
    "%d/%m/%Y %H:%M:%S",
    "%m/%d/%Y %H:%M:%S",
    "%m/%d/%Y %I:%M:%S %p",
    "%d-%m-%Y %H:%M:%S",
    "%Y/%m/%d %H:%M:%S",
    "%Y-%m-%d %H:%M",
    "%d.%m.%Y %H:%M",
    "%d/%m/%Y %H:%M",
    "%m/%d/%Y %H:%M",
)


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, defer_build=True)


class Column(_Part):
    """A column that is taken: where, as what, in which unit (none for moments and counts)."""

    index: int = Field(ge=0, le=500)
    role: Role
    unit: str | None = Field(default=None, max_length=20)


class Recipe(_Part):
    """How a file is read. header: its line, from 1. time_format: as strptime takes it, “iso”, or “elapsed”; zone: of
    times without one.
    """

    delimiter: Literal[",", ";", "\t"]
    decimal: Literal[".", ","]
    header: int = Field(ge=1, le=HEAD_ROWS)
    columns: list[Column] = Field(max_length=20)
    time_format: str | None = Field(default=None, max_length=60)
    zone: str = Field(default="UTC", max_length=60)


class LoggedRow(_Part):
    """A reading from the file: its line; a moment, or s since the first row; Pa, K, strokes."""

    line: int
    at: datetime.datetime | None
    elapsed: float | None
    pressure: float
    temperature: float | None
    strokes: int | None


class BadRow(_Part):
    """A row that was left out, and why."""

    line: int
    says: str


class Logged(_Part):
    """What a file holds under a recipe. missing: what the recipe still has to say; bad: how many rows were left out,
    the first of them named.
    """

    recipe: Recipe
    titles: list[str]
    missing: list[str]
    rows: list[LoggedRow]
    bad: list[BadRow]
    bad_in_all: int


def recipe_from(data: Any) -> Recipe:
    """A recipe from parsed JSON; raises SheetError naming the field."""
    try:
        return Recipe.model_validate(data)
    except ValidationError as problem:
        first = problem.errors(include_url=False)[0]
        raise SheetError(str(first["msg"]), "recipe." + ".".join(str(part) for part in first["loc"])) from None


def recognise(text: str, zone: str = "UTC") -> Recipe:
    """How a file is to be read, as far as can be told. zone: of times that name none, the person's own.

    Raises SheetError where it is no table.
    """
    lines = text.splitlines()[: HEAD_ROWS + 20]
    if not any(line.strip() for line in lines):
        raise SheetError("the file is empty: a logger's file has a header row and a row for each reading")
    delimiter = max((";", "\t", ","), key=lambda mark: _steadiness(lines, mark))
    if _steadiness(lines, delimiter) == 0:
        raise SheetError("this is no table: rows of values parted by commas, semicolons or tabs are needed")
    rows = list(csv.reader(io.StringIO("\n".join(lines)), delimiter=delimiter))
    header = _header_row(rows)
    titles, first = rows[header], rows[header + 1 : header + 6]
    decimal: Literal[".", ","] = (
        ","
        if delimiter != "," and any(re.fullmatch(r"-?\d+,\d+", cell.strip()) for row in first for cell in row)
        else "."
    )
    columns = _columns(titles)
    moment = [
        cell
        for row in first
        for column in columns
        if column.role == "time" and column.index < len(row)
        for cell in [row[column.index]]
    ]
    dated = any(column.role == "date" for column in columns)
    if dated and moment:
        day = next(column.index for column in columns if column.role == "date")
        moment = [
            f"{row[day].strip()} {cell.strip()}" for row, cell in zip(first, moment, strict=False) if day < len(row)
        ]
    time_format = "elapsed" if any(c.role == "elapsed" for c in columns) else _format_of(moment)
    return Recipe(
        delimiter=delimiter,  # type: ignore[arg-type]
        decimal=decimal,
        header=header + 1,
        columns=columns,
        time_format=time_format,
        zone=zone,
    )


def read_logged(text: str, recipe: Recipe) -> Logged:
    """The readings of a file under a recipe; rows that cannot be read are left out and named."""
    lines = io.StringIO(text)
    reader = csv.reader(lines, delimiter=recipe.delimiter)
    titles: list[str] = []
    for _ in range(recipe.header):
        titles = next(reader, [])
    missing = _missing(recipe, titles)
    rows: list[LoggedRow] = []
    bad: list[BadRow] = []
    count = 0
    if not missing:
        take = _Reader(recipe)
        for row in reader:
            if not any(cell.strip() for cell in row):
                continue
            if len(rows) >= MOST_ROWS:
                raise SheetError(f"more than {MOST_ROWS:,} rows: thin the file out to one reading a second or fewer")
            try:
                rows.append(take.row(row, reader.line_num))
            except ValueError as problem:
                count += 1
                if len(bad) < SHOWN_BAD:
                    bad.append(BadRow(line=reader.line_num, says=str(problem)))
    return Logged(recipe=recipe, titles=titles, missing=missing, rows=rows, bad=bad, bad_in_all=count)


def _steadiness(lines: list[str], mark: str) -> int:
    """How many lines have the commonest number of this mark; 0 where it is none."""
    counts = [line.count(mark) for line in lines if line.strip()]
    most = max(set(counts), key=lambda count: (counts.count(count), count), default=0)
    return 0 if most == 0 else counts.count(most) * 10 + most


def _header_row(rows: list[list[str]]) -> int:
    """The first row that names a pressure column; else the first that is as wide as the most."""
    named = next(
        (
            i
            for i, row in enumerate(rows[:HEAD_ROWS])
            if len(row) > 1 and any(_role(cell) == "pressure" for cell in row)
        ),
        None,
    )
    wide = max(len(row) for row in rows)
    return named if named is not None else next(i for i, row in enumerate(rows) if len(row) == wide)


def _role(title: str) -> Role | None:
    words = re.findall(r"[a-zäöü]+", _UNIT.sub("", title).lower().replace("_", " "))
    for role, names in _NAMES.items():
        if any(word in names for word in words):
            return role
    return None


def _columns(titles: list[str]) -> list[Column]:
    found: dict[Role, Column] = {}
    for index, title in enumerate(titles):
        role = _role(title)
        if role is None or role in found:
            continue
        match = _UNIT.search(title.strip())
        unit = (match[1] or match[2]) if match else None
        if role == "time" and unit and unit.lower() in ("s", "ms", "min", "h"):
            role = "elapsed"
        found[role] = Column(index=index, role=role, unit=_known_unit(unit, role))
    return list(found.values())


def _known_unit(unit: str | None, role: Role) -> str | None:
    """The unit as we write it; none where it is none of the right kind."""
    if unit is None or role not in _KIND:
        return None
    for spelling in (
        unit,
        unit.lower(),
        {"kpa": "kPa", "mpa": "MPa", "°c": "degC", "°f": "degF", "c": "degC", "f": "degF"}.get(unit.lower(), unit),
    ):
        try:
            units.to_si(1.0, spelling, _KIND[role])
        except units.QuantityError:
            continue
        return spelling
    return None


def _format_of(moments: list[str]) -> str | None:
    """The one format that reads most of these; none where several do and mean different days."""
    cells = [cell.strip() for cell in moments if cell.strip()]
    if not cells:
        return None
    if sum(_iso(cell) for cell in cells) * 2 > len(cells):
        return "iso"
    fits = {form: [cell for cell in cells if _fits(cell, form)] for form in FORMATS}
    most = max(len(read) for read in fits.values())
    if most * 2 <= len(cells):
        return None
    best = [form for form, read in fits.items() if len(read) == most]
    meant = {tuple(datetime.datetime.strptime(cell, form) for cell in fits[form]) for form in best}
    return best[0] if len(meant) == 1 else None


def _iso(cell: str) -> bool:
    try:
        datetime.datetime.fromisoformat(cell)
    except ValueError:
        return False
    return len(cell) > 10


def _fits(cell: str, form: str) -> bool:
    try:
        datetime.datetime.strptime(cell, form)
    except ValueError:
        return False
    return True


def _missing(recipe: Recipe, titles: list[str]) -> list[str]:
    """What the recipe still has to say."""
    roles = {column.role: column for column in recipe.columns}
    found = [
        f"Which column holds the {name}?"
        for name, options in (("time", ("time", "elapsed")), ("pressure", ("pressure",)))
        if not any(o in roles for o in options)
    ]
    for role, kind in _KIND.items():
        column = roles.get(role)  # type: ignore[call-overload]
        if column is None:
            continue
        try:
            units.to_si(1.0, column.unit or "", kind)
        except units.QuantityError:
            title = titles[column.index] if column.index < len(titles) else f"column {column.index + 1}"
            found.append(f"In which unit is “{title}”?")
    if "time" in roles and not recipe.time_format:
        found.append("Is it day or month first? Choose how the times are written.")
    try:
        ZoneInfo(recipe.zone)
    except (ZoneInfoNotFoundError, ValueError):
        found.append(f"“{recipe.zone}” is no time zone: write it like Europe/Lisbon, or UTC.")
    return found


class _Reader:
    """Reads rows under a recipe that is complete."""

    def __init__(self, recipe: Recipe):
        self.recipe, self.zone = recipe, ZoneInfo(recipe.zone)
        self.roles = {column.role: column for column in recipe.columns}

    def row(self, cells: list[str], line: int) -> LoggedRow:
        """One row; raises ValueError with the reason it cannot be read."""
        pressure = self.number(cells, "pressure")
        if pressure is None:
            raise ValueError("no pressure")
        strokes = self.number(cells, "strokes")
        elapsed = self.number(cells, "elapsed")
        at = None if "elapsed" in self.roles else self.moment(cells)
        if at is None and elapsed is None:
            raise ValueError("no time")
        warm = self.number(cells, "temperature")
        return LoggedRow(
            line=line,
            at=at,
            elapsed=elapsed,
            pressure=pressure,
            temperature=warm,
            strokes=None if strokes is None else int(strokes),
        )

    def cell(self, cells: list[str], role: Role) -> str:
        """The text under a role, empty where there is none."""
        column = self.roles.get(role)
        return cells[column.index].strip() if column and column.index < len(cells) else ""

    def number(self, cells: list[str], role: Role) -> float | None:
        """The value under a role in SI; None where it is empty."""
        text = self.cell(cells, role)
        if not text:
            return None
        plain = text.replace(" ", "").replace(",", ".") if self.recipe.decimal == "," else text.replace(" ", "")
        try:
            value = float(plain)
        except ValueError:
            raise ValueError(f"“{text[:30]}” is no {role}") from None
        if value != value or abs(value) == float("inf"):
            raise ValueError(f"“{text[:30]}” is no {role}")
        return units.to_si(value, self.roles[role].unit or "", _KIND[role]) if role in _KIND else value

    def moment(self, cells: list[str]) -> datetime.datetime | None:
        """When, in UTC."""
        text = " ".join(part for part in (self.cell(cells, "date"), self.cell(cells, "time")) if part)
        if not text:
            return None
        form = self.recipe.time_format or "iso"
        try:
            found = datetime.datetime.fromisoformat(text) if form == "iso" else datetime.datetime.strptime(text, form)
        except ValueError:
            raise ValueError(f"“{text[:30]}” is no time as the others are") from None
        return (found if found.tzinfo else found.replace(tzinfo=self.zone)).astimezone(datetime.UTC)
