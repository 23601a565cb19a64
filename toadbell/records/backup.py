"""The whole workshop in one file, and back: a copy of the database as it stands, with every picture and paper; a piece
at a time.
"""

import contextlib
import datetime
import json
import re
import sqlite3
import tempfile
import zipfile
from collections.abc import Callable
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import IO

from django.conf import settings
from django.db import connection
from django.utils import timezone

import toadbell
from toadbell.core.run.phases import ON_THE_BENCH
from toadbell.core.sheets import SheetError
from toadbell.people.models import SignedIn
from toadbell.records import database
from toadbell.records.attachments import lay_whole
from toadbell.records.models import Attachment
from toadbell.records.zip_files import Archive, digest_of, opened, pieces_of
from toadbell.shed.errors import NotNow
from toadbell.trials import database_stamp
from toadbell.trials.models import Source, Trial

FOLDER = settings.DATA_DIR / "backups"
DATABASE, ABOUT = "toadbell.sqlite3", "backup.json"
KEPT = 10
"""Backups made by itself that are kept; those a person asked for stay until a person takes them away."""
BY_ITSELF = ("before-migration", "before-restore")
MOST = 200_000_000_000
AS_IT_WAS = "Everything is as it was"
IN_PLACE = "putting it in place"
"""What a job says before it cannot be taken back any more: from then on it is not stopped."""
_NAME = re.compile(r"toad-bell-(\d{8})-(\d{6})-(\d{6})-([a-z-]{1,40})\.zip")
Tell = Callable[[float | None, str], None]
"""How a long job says how far it is: which part is done, 0 to 1 where that is known, and at what it is."""


def silent(part: float | None, says: str) -> None:
    """Nobody asks how far it is."""


@dataclass(frozen=True)
class Backup:
    """A backup that lies in its folder: its name, why and when it was made, and how large it is, bytes."""

    name: str
    why: str
    at: datetime.datetime
    size: int


def make(why: str = "asked-for", tell: Tell = silent) -> Path:
    """Back everything up into one file, and give where it lies.

    Safe while the application runs, which goes on meanwhile.
    """
    FOLDER.mkdir(parents=True, exist_ok=True)
    now = timezone.now()
    path: Path = FOLDER / f"toad-bell-{now.strftime('%Y%m%d-%H%M%S-%f')}-{why}.zip"
    part = path.with_suffix(".part")
    try:
        with tempfile.TemporaryDirectory(dir=FOLDER) as folder:
            copy = Path(folder) / DATABASE
            tell(None, "copying the database")
            copy_of_the_database(copy)
            _without_sessions(copy)
            _pack(part, copy, {"made": now.isoformat(), "toadbell": toadbell.__version__, "why": why}, tell)
        part.replace(path)
    finally:
        part.unlink(missing_ok=True)
    _thin_out()
    return path


def copy_of_the_database(to: Path) -> None:
    """The database as it stands at this moment, without what was deleted long ago; whoever writes meanwhile is not kept
    waiting.
    """
    with closing(
        sqlite3.connect(f"file:{settings.DATABASES['default']['NAME']}?mode=ro", uri=True, timeout=30)
    ) as source:
        source.execute("VACUUM INTO ?", [str(to)])


def _without_sessions(copy: Path) -> None:
    """Whoever comes by a backup gets in by none of the sessions that were open when it was made: nothing of them is
    left in the file, and after it was put back everybody comes again.
    """
    with closing(sqlite3.connect(copy)) as database:
        database.execute("PRAGMA secure_delete=ON")
        if database.execute("SELECT 1 FROM sqlite_master WHERE name='django_session'").fetchone():
            database.execute("DELETE FROM django_session")
            database.commit()


def _pack(part: Path, copy: Path, about: dict[str, str], tell: Tell) -> None:
    files = [(DATABASE, copy)] + [
        (f"attachments/{file.name}", file)
        for file in sorted(Attachment.FOLDER.glob("*.*"))
        if file.suffix in (".jpg", ".pdf") or file.name.endswith(".sealed.zip")
    ]
    whole, done, sums = sum(file.stat().st_size for _, file in files if file.exists()) or 1, 0, {}
    with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as out:
        for name, file in files:
            with contextlib.suppress(FileNotFoundError):  # a picture that was moved away meanwhile
                sums[name] = digest_of(pieces_of(file))
                entry = zipfile.ZipInfo.from_file(file, name)
                entry.compress_type = zipfile.ZIP_DEFLATED if name == DATABASE else zipfile.ZIP_STORED
                with out.open(entry, "w", force_zip64=True) as to:
                    for piece in pieces_of(file):
                        to.write(piece)
                        done += len(piece)
                        tell(done / whole, "packing")
        out.writestr(ABOUT, json.dumps({**about, "sha256": sums}, indent=1))


def _thin_out() -> None:
    by_itself = [backup for backup in listed() if backup.why in BY_ITSELF]
    for old in by_itself[KEPT:]:
        (FOLDER / old.name).unlink(missing_ok=True)


def listed() -> list[Backup]:
    """The backups that lie here, the latest first; whatever else lies there is left alone."""
    found = []
    for path in sorted(FOLDER.glob("toad-bell-*.zip"), reverse=True):
        match = _NAME.fullmatch(path.name)
        if match is None or not path.is_file():
            continue
        day, clock, micro, why = match.groups()
        with contextlib.suppress(ValueError):
            at = datetime.datetime.strptime(f"{day}{clock}{micro}", "%Y%m%d%H%M%S%f").replace(tzinfo=datetime.UTC)
            found.append(Backup(path.name, why, at, path.stat().st_size))
    return found


def by_name(name: str) -> Path:
    """Where the backup of that name lies; raises SheetError where there is none."""
    if name not in {backup.name for backup in listed()}:
        raise SheetError("there is no backup of that name here", "file")
    return Path(FOLDER / name)


def restore(file: IO[bytes], tell: Tell = silent) -> Path:
    """Put everything back as it was in a backup, after a backup of how it is now, whose place is given.

    Raises SheetError, or NotNow while a trial is on the bench; nothing is changed then.
    """
    nothing_on_the_bench("put back")
    archive = opened(file, MOST, MOST, AS_IT_WAS)
    pictures = _checked(archive, tell)
    with tempfile.TemporaryDirectory(dir=settings.DATA_DIR, prefix="coming-") as folder:
        copy = Path(folder) / DATABASE
        tell(None, "reading the database in it through")
        archive.lay(DATABASE, copy)
        try:
            database.look_over(copy)
            database.bring_up(copy)
        except database.Unfit as bad:
            raise _wrong(f"the database in it cannot be used: {bad}") from None
        tell(None, "backing up how it is now")
        before = make("before-restore")
        Attachment.FOLDER.mkdir(parents=True, exist_ok=True)
        for name in pictures:
            lay_whole(Attachment.FOLDER / name.removeprefix("attachments/"), archive.chunks(name))
        tell(None, IN_PLACE)
        with closing(sqlite3.connect(copy)) as source:
            connection.ensure_connection()
            source.backup(connection.connection)
    connection.close()
    SignedIn.shut_everybody_out()
    database_stamp.another_database()
    return before


def _checked(archive: Archive, tell: Tell) -> list[str]:
    """The pictures of a backup all of whose files are what it says they are."""
    if not {DATABASE, ABOUT} <= set(archive.sizes):
        raise _wrong("it is no backup of Toad Bell: a package of records is brought back under Carry and keep")
    try:
        if archive.sizes[ABOUT] > 200_000_000:
            raise ValueError
        sums = dict(json.loads(archive.read(ABOUT))["sha256"])
    except (ValueError, KeyError, TypeError):
        raise _wrong("what it says of itself cannot be read") from None
    pictures = [name for name in archive.sizes if name not in (DATABASE, ABOUT)]
    if any(not name.startswith("attachments/") or name.count("/") != 1 for name in pictures):
        raise _wrong("there is something in it that is no part of a backup")
    for number, name in enumerate((DATABASE, *pictures)):
        tell(number / (len(pictures) + 1), "checking it")
        if archive.digest(name) != sums.get(name):
            raise _wrong(f"“{name}” is not what its checksum says")
    return pictures


def nothing_on_the_bench(what: str) -> None:
    """Nothing that would stop a run on a real rig."""
    on = Trial.objects.filter(state__in=ON_THE_BENCH).exclude(source=Source.RIG).select_related("vessel").first()
    if on:
        raise NotNow(
            f"{on.vessel.name} is on the bench: let its run end, or let go, before anything is {what}. {AS_IT_WAS}."
        )


def restore_from(path: Path, tell: Tell = silent) -> Path:
    """The same, from a file by its path; raises SheetError where it cannot be read."""
    try:
        with path.open("rb") as file:
            return restore(file, tell)
    except OSError as problem:
        raise SheetError(f"{path} cannot be read: {problem.strerror}", "file") from None


def _wrong(says: str) -> SheetError:
    return SheetError(f"{says}. {AS_IT_WAS}", "file")
