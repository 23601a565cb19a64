"""The whole workshop in one file, and back: the database by SQLite's online backup, with every picture and paper."""

import datetime
import io
import json
import sqlite3
import tempfile
import zipfile
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from django.conf import settings
from django.core.management import call_command
from django.db import connection
from django.db.migrations.loader import MigrationLoader
from django.utils import timezone

import toadbell
from toadbell.core.sheets import SheetError
from toadbell.records.archive import digest, opened
from toadbell.records.attachments import write_whole
from toadbell.records.models import Attachment
from toadbell.trials import frozen, hold, pumped

FOLDER = settings.DATA_DIR / "backups"
DATABASE, ABOUT = "toadbell.sqlite3", "backup.json"
KEPT = 10
"""Backups made by itself that are kept; those a person asked for stay until a person takes them away."""
BY_ITSELF = ("before-migration", "before-restore")
MOST = 20_000_000_000
AS_IT_WAS = "Everything is as it was"


@dataclass(frozen=True)
class Backup:
    """A backup that lies in its folder: its name, why and when it was made, and how large it is, bytes."""

    name: str
    why: str
    at: datetime.datetime
    size: int


def make(why: str = "asked-for") -> Path:
    """Back everything up into one file, and give where it lies. Safe while the application runs."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    now = timezone.now()
    path: Path = FOLDER / f"toad-bell-{now.strftime('%Y%m%d-%H%M%S-%f')}-{why}.zip"
    part = path.with_suffix(".part")
    with tempfile.TemporaryDirectory(dir=FOLDER) as folder:
        copy = Path(folder) / DATABASE
        with closing(sqlite3.connect(copy)) as to:
            connection.ensure_connection()
            connection.connection.backup(to)
            to.execute("PRAGMA journal_mode=DELETE")
            to.isolation_level = None
            to.execute("VACUUM")  # what was deleted long ago takes no room, and goes nowhere
        with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as out:
            sums = {DATABASE: digest(copy.read_bytes())}
            out.write(copy, DATABASE)
            for file in sorted(Attachment.FOLDER.glob("*.*")):
                if file.suffix in (".jpg", ".pdf"):
                    sums[f"attachments/{file.name}"] = digest(file.read_bytes())
                    out.write(file, f"attachments/{file.name}", zipfile.ZIP_STORED)
            out.writestr(
                ABOUT, json.dumps({"made": now.isoformat(), "toadbell": toadbell.__version__, "why": why, "sha256": sums}, indent=1)
            )
    part.replace(path)
    _thin_out()
    return path


def _thin_out() -> None:
    by_itself = [backup for backup in listed() if backup.why in BY_ITSELF]
    for old in by_itself[KEPT:]:
        (FOLDER / old.name).unlink(missing_ok=True)


def listed() -> list[Backup]:
    """The backups that lie here, the latest first."""
    found = []
    for path in sorted(FOLDER.glob("toad-bell-*.zip"), reverse=True):
        day, clock, micro, why = path.stem.removeprefix("toad-bell-").split("-", 3)
        at = datetime.datetime.strptime(f"{day}{clock}{micro}", "%Y%m%d%H%M%S%f").replace(tzinfo=datetime.UTC)
        found.append(Backup(path.name, why, at, path.stat().st_size))
    return found


def by_name(name: str) -> Path:
    """Where the backup of that name lies; raises SheetError where there is none."""
    if name not in {backup.name for backup in listed()}:
        raise SheetError("there is no backup of that name here", "file")
    return Path(FOLDER / name)


def restore(file: IO[bytes]) -> Path:
    """Put everything back as it was in a backup, after a backup of how it is now, whose place is given. Raises SheetError, nothing changed."""
    archive = opened(file, MOST, MOST, AS_IT_WAS)
    if not {DATABASE, ABOUT} <= set(archive.sizes):
        raise _wrong("it is no backup of Toad Bell: a package of records is brought back under Carry and keep")
    try:
        sums = dict(json.loads(archive.read(ABOUT))["sha256"])
    except (ValueError, KeyError, TypeError):
        raise _wrong("what it says of itself cannot be read") from None
    pictures = [name for name in archive.sizes if name not in (DATABASE, ABOUT)]
    if any(not name.startswith("attachments/") or name.count("/") != 1 for name in pictures):
        raise _wrong("there is something in it that is no part of a backup")
    for name in (DATABASE, *pictures):
        if digest(archive.read(name)) != sums.get(name):
            raise _wrong(f"“{name}” is not what its checksum says")
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / DATABASE
        copy.write_bytes(archive.read(DATABASE))
        with closing(sqlite3.connect(copy)) as source:
            _is_ours(source)
            before = make("before-restore")
            Attachment.FOLDER.mkdir(parents=True, exist_ok=True)
            for name in pictures:
                write_whole(Attachment.FOLDER / name.removeprefix("attachments/"), archive.read(name))
            connection.ensure_connection()
            source.backup(connection.connection)
    connection.close()
    frozen.forget()
    hold.forget()
    pumped.forget()
    call_command("migrate", verbosity=0)
    return before


def restore_from(path: Path) -> Path:
    """The same, from a file by its path; raises SheetError where it cannot be read."""
    try:
        data = path.read_bytes()
    except OSError as problem:
        raise SheetError(f"{path} cannot be read: {problem.strerror}", "file") from None
    return restore(io.BytesIO(data))


def _is_ours(source: sqlite3.Connection) -> None:
    try:
        whole = source.execute("PRAGMA integrity_check").fetchone() == ("ok",)
        applied = set(source.execute("SELECT app, name FROM django_migrations").fetchall())
        source.execute("SELECT count(*) FROM trials_trial").fetchone()
    except sqlite3.DatabaseError:
        raise _wrong("the database in it is damaged, or not Toad Bell's") from None
    if not whole:
        raise _wrong("the database in it is damaged")
    known = set(MigrationLoader(None).disk_migrations)
    newer = {(app, name) for app, name in applied if app in ("shed", "trials", "records")} - known
    if newer:
        raise _wrong("it was made by a newer Toad Bell: bring this one up to date first")


def _wrong(says: str) -> SheetError:
    return SheetError(f"{says}. {AS_IT_WAS}", "file")
