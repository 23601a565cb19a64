"""A package from elsewhere, file by file: held against its list and its checksums, and read as what it should be."""

import codecs
import contextlib
import csv
import datetime
import math
from collections.abc import Callable, Iterator
from typing import IO, Any, TypeVar
from uuid import UUID

from pydantic import BaseModel, ValidationError

from toadbell.core.sheets import SheetError
from toadbell.records.cells import bare_cell
from toadbell.records.package import LIST
from toadbell.records.package_shapes import FORMAT, LATER, TABLES, PackageList
from toadbell.records.zip_files import Archive, digest, opened
from toadbell.shed.models import Vessel

MOST_ONE = 20_000_000_000
MOST_ALL = 100_000_000_000
MOST_AT_ONCE = 200_000_000
"""A file that is read whole (all but tables) may have so many bytes."""
Shape = TypeVar("Shape", bound=BaseModel)


class PackageReader:
    """One package on its way in. Raises SheetError wherever something is not as it should be."""

    def __init__(self, file: IO[bytes]) -> None:
        self.archive: Archive = opened(file, MOST_ONE, MOST_ALL)
        if LIST not in self.archive.sizes:
            raise wrong("it has no datapackage.json: it is not one that was carried away from here")
        self.listed = shaped(self.archive.read(LIST), PackageList, LIST)
        if self.listed.toadbell.get("format") != FORMAT:
            raise wrong(
                f"it is of format {self.listed.toadbell.get('format')}, and this Toad Bell reads format {FORMAT}: "
                "bring it up to date"
            )
        paths = [resource.path for resource in self.listed.resources]
        extra = set(self.archive.sizes) - {LIST} - set(paths)
        if extra or len(set(paths)) != len(paths):
            raise wrong(f"“{min(extra)}” lies in it and is not in its list" if extra else "its list names a file twice")
        self.known = {resource.path: resource for resource in self.listed.resources}

    def check(self) -> None:
        """Hold every file against its checksum."""
        for path, resource in self.known.items():
            if path not in self.archive.sizes:
                raise wrong(f"“{path}” is named in its list and is not there")
            if self.archive.sizes[path] != resource.bytes or self.archive.digest(path) != resource.hash:
                raise _changed(path)

    def data(self, path: str) -> bytes:
        """A file, held against its checksum."""
        if self.archive.sizes.get(path, 0) > MOST_AT_ONCE:
            raise wrong(f"“{path}” is larger than {MOST_AT_ONCE // 1_000_000} MB")
        data, resource = self.archive.read(path), self.known[path]
        if len(data) != resource.bytes or digest(data) != resource.hash:
            raise _changed(path)
        return data

    def shape(self, path: str, shape: type[Shape]) -> Shape:
        """A JSON file as what it should be."""
        return shaped(self.data(path), shape, path)

    def rows(self, path: str, name: str) -> Iterator[dict[str, str]]:
        """Rows of a table, by its columns' names."""
        try:
            found = csv.reader(_lines(self.archive.chunks(path)), strict=True)
            columns = [one["name"] for one in TABLES[name]]
            head = next(found, None)
            if head == columns[: len(columns) - len(LATER.get(name, ()))]:
                columns = head
            if head != columns:
                raise wrong(f"“{path}” should begin with the columns {', '.join(columns)}")
            for line, row in enumerate(found, 2):
                if len(row) != len(columns):
                    raise wrong(f"“{path}”, row {line}: {len(row)} values where {len(columns)} belong")
                told = {key: bare_cell(value) for key, value in zip(columns, row, strict=True)}
                yield dict.fromkeys(LATER.get(name, ()), "") | told
        except (UnicodeDecodeError, csv.Error):
            raise wrong(f"“{path}” is no table that can be read") from None


def _lines(pieces: Iterator[bytes]) -> Iterator[str]:
    """Lines of a text that comes a piece at a time. Raises UnicodeDecodeError."""
    decode, rest = codecs.getincrementaldecoder("utf-8")(), ""
    for piece in pieces:
        *whole, rest = (rest + decode.decode(piece)).split("\n")
        yield from (line + "\n" for line in whole)
    rest += decode.decode(b"", final=True)
    if rest:
        yield rest


def _changed(path: str) -> SheetError:
    return wrong(f"“{path}” is not what its checksum says: it was changed or damaged on the way")


@contextlib.contextmanager
def of(what: str) -> Iterator[None]:
    """Whatever is wrong inside is said of `what`."""
    try:
        yield
    except SheetError as bad:
        raise bad if bad.field == "file" else wrong(f"{what}: {bad}") from None
    except ValidationError as bad:
        raise wrong(f"{what}: {first(bad, 'a value')}") from None
    except (ValueError, KeyError, TypeError, OverflowError, RecursionError, Vessel.DoesNotExist):
        raise wrong(f"{what}: a value in it cannot be read") from None


def shaped(data: bytes, shape: type[Shape], path: str) -> Shape:
    """A JSON file as what it should be."""
    try:
        return shape.model_validate_json(data)
    except ValidationError as bad:
        raise wrong(first(bad, path)) from None


def first(bad: ValidationError, path: str) -> str:
    """The first thing that is wrong with a file, in words."""
    found = bad.errors()[0]
    where = ".".join(str(part) for part in found["loc"])
    return f"“{path}”{f', {where}' if where else ''}: {found['msg'].lower()}"


def uuid_of(text: str, path: str) -> UUID:
    """An id of a row."""
    with of(f"“{path}”"):
        return UUID(text)
    raise AssertionError


def maybe(text: str, read: Callable[[str], Any]) -> Any:
    """A value, or None where nothing is written."""
    return read(text) if text else None


def number(text: str) -> float:
    """A number that is one."""
    value = float(text)
    if not math.isfinite(value):
        raise ValueError(text)
    return value


def count(text: str) -> int:
    """A count, none below nought."""
    value = int(text)
    if not 0 <= value < 2**31:
        raise ValueError(text)
    return value


def moment(text: str) -> datetime.datetime:
    """A time with its zone."""
    at = datetime.datetime.fromisoformat(text)
    if at.tzinfo is None:
        raise ValueError(text)
    return at


def wrong(says: str) -> SheetError:
    """What is wrong, and that nothing came of it."""
    return SheetError(f"{says}. Nothing was taken in", "file")
