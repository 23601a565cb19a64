"""Reading zip files from elsewhere: nothing is unpacked to a path, and nothing is believed before it was counted."""

import hashlib
import re
import stat
import zipfile
import zlib
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from toadbell.core.sheets import SheetError

MOST_FILES = 500_000
MOST_TIMES = 300
"""How many times smaller than its content a file may be packed; text of readings is ten to thirty times."""
SMALL = 1_000_000
PIECE = 1 << 20
"""So many bytes are held at a time."""
_UNREADABLE = (zipfile.BadZipFile, OSError, EOFError, NotImplementedError, RuntimeError, ValueError, zlib.error)
_PLAIN = re.compile(r"[a-z0-9][a-z0-9_.-]*(/[a-z0-9][a-z0-9_.-]*)*\Z")


@dataclass(frozen=True)
class Archive:
    """A zip file that was looked over: plain names, plain files, no more than was allowed."""

    zip: zipfile.ZipFile
    sizes: dict[str, int]
    so: str

    def read(self, name: str) -> bytes:
        """A file's content; raises SheetError where it is not there, is cut short, or is not what its list says."""
        if name not in self.sizes:
            raise self._wrong(f"“{name}” is named in its list and is not there")
        most = self.sizes[name]
        try:
            with self.zip.open(name) as file:
                data = file.read(most + 1)
        except _UNREADABLE:
            raise self._wrong(f"“{name}” is damaged or cut short") from None
        if len(data) != most:
            raise self._wrong(f"“{name}” is not as long as the zip says")
        return data

    def chunks(self, name: str) -> Iterator[bytes]:
        """A file's content a piece at a time, whatever its size; raises SheetError as `read` does."""
        if name not in self.sizes:
            raise self._wrong(f"“{name}” is named in its list and is not there")
        seen = 0
        try:
            with self.zip.open(name) as file:
                while piece := file.read(PIECE):
                    seen += len(piece)
                    if seen > self.sizes[name]:
                        break
                    yield piece
        except _UNREADABLE:
            raise self._wrong(f"“{name}” is damaged or cut short") from None
        if seen != self.sizes[name]:
            raise self._wrong(f"“{name}” is not as long as the zip says")

    def digest(self, name: str) -> str:
        """SHA-256 of a file, as a data package writes it."""
        return digest_of(self.chunks(name))

    def lay(self, name: str, path: Path) -> None:
        """Write a file where it is wanted."""
        with path.open("wb") as out:
            for piece in self.chunks(name):
                out.write(piece)

    def _wrong(self, says: str) -> SheetError:
        return SheetError(f"{says}. {self.so}", "file")


def opened(file: IO[bytes], most_one: int, most_all: int, so: str = "Nothing was taken in") -> Archive:
    """Look a zip over before anything is read. Raises SheetError.

    most_one, most_all  bytes unpacked that one file, and all, may have
    so                  what is said of the state of things where it is refused
    """
    try:
        return _looked_over(file, most_one, most_all, so)
    except _Wrong as wrong:
        raise SheetError(f"{wrong}. {so}", "file") from None


class _Wrong(Exception):
    """What is wrong with a zip."""


def _looked_over(file: IO[bytes], most_one: int, most_all: int, so: str) -> Archive:
    try:
        found = zipfile.ZipFile(file)
        entries = found.infolist()
    except (zipfile.BadZipFile, OSError, EOFError, ValueError, NotImplementedError):
        raise _Wrong("it is no zip, or it was cut short on the way") from None
    if len(entries) > MOST_FILES:
        raise _Wrong(f"it holds {len(entries)} files, and {MOST_FILES} is the most")
    sizes: dict[str, int] = {}
    for entry in entries:
        _look_over(entry, most_one)
        if entry.filename in sizes:
            raise _Wrong(f"“{entry.filename}” is in it twice")
        sizes[entry.filename] = entry.file_size
    if sum(sizes.values()) > most_all:
        raise _Wrong(f"it says it unpacks to {_size(sum(sizes.values()))}, and {_size(most_all)} is the most")
    return Archive(found, sizes, so)


def _look_over(entry: zipfile.ZipInfo, most: int) -> None:
    shown = f"“{entry.filename[:80]}”" if entry.filename.isprintable() else "a file whose name holds control letters"
    if not _PLAIN.match(entry.filename) or len(entry.filename) > 200:
        raise _Wrong(
            f"{shown} is no name that belongs in it: nothing is written outside, and only plain names are taken"
        )
    mode = entry.external_attr >> 16
    if mode and not stat.S_ISREG(mode) and stat.S_IFMT(mode):
        raise _Wrong(f"{shown} is a link or a device, not a file")
    if entry.flag_bits & 0x1:
        raise _Wrong(f"{shown} is locked with a password")
    if entry.compress_type not in (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED):
        raise _Wrong(f"{shown} is packed in a way that is not read here")
    if entry.file_size > most:
        raise _Wrong(f"{shown} says it unpacks to {_size(entry.file_size)}, and {_size(most)} is the most")
    if entry.file_size > SMALL and entry.file_size > MOST_TIMES * max(entry.compress_size, 1):
        raise _Wrong(f"{shown} would swell to {entry.file_size // max(entry.compress_size, 1)} times its size")


def digest(data: bytes) -> str:
    """SHA-256 as a data package writes it."""
    return digest_of([data])


def digest_of(pieces: Iterable[bytes]) -> str:
    """The same of something that comes a piece at a time."""
    found = hashlib.sha256()
    for piece in pieces:
        found.update(piece)
    return f"sha256:{found.hexdigest()}"


def pieces_of(path: Path) -> Iterator[bytes]:
    """A file on this machine, a piece at a time."""
    with path.open("rb") as file:
        while piece := file.read(PIECE):
            yield piece


def _size(count: int) -> str:
    return f"{count / 1e9:.1f} GB" if count >= 1e9 else f"{count / 1e6:.0f} MB" if count >= 1e6 else f"{count} bytes"
