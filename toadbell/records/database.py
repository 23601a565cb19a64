"""Is a database file whole, ours, and of an age that this Toad Bell reads?

Asked before it is served, and before it takes another's place.
"""

import os
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing
from pathlib import Path

from django.apps import apps
from django.conf import settings
from django.db.migrations.loader import MigrationLoader

OURS = ("shed", "trials", "records")
QUICK = 400_000_000
"""Databases up to so many bytes are read through at every start; larger ones when they are put back, or where asked."""


EMPTY = Path(__file__).with_name("empty.sql")
"""A workshop's database as every migration leaves it, with nobody and nothing in it: `make empty` writes it."""


class Unfit(Exception):
    """A database that cannot be used; the message says what is the matter with it."""


def look_over(path: Path, *, thorough: bool = True) -> None:
    """Raise Unfit where a file is no database, is damaged, is not Toad Bell's, or is a newer one's.

    thorough  read all of it; else its pages are only counted
    """
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as found:
            found.execute("PRAGMA query_only=ON")
            check = found.execute("PRAGMA integrity_check(1)" if thorough else "PRAGMA schema_version").fetchone()
            tables = {name for (name,) in found.execute("SELECT name FROM sqlite_master WHERE type='table'")}
            applied = (
                set(found.execute("SELECT app, name FROM django_migrations").fetchall())
                if "django_migrations" in tables
                else set()
            )
    except sqlite3.DatabaseError as problem:
        raise Unfit("it is damaged, or no database") from problem
    if thorough and check != ("ok",):
        raise Unfit("it is damaged")
    if not any(app in OURS for app, _ in applied) or "shed_vessel" not in tables:
        raise Unfit("it is not Toad Bell's")
    newer = {(app, name) for app, name in applied if app in OURS} - set(MigrationLoader(None).disk_migrations)
    if newer:
        raise Unfit("it was written by a newer Toad Bell: bring this one up to date first")


def begin(path: Path) -> None:
    """Make the database of a new workshop, whole or not at all: what the migrations make step by step, at once. One
    that somebody else made meanwhile stays.
    """
    with tempfile.TemporaryDirectory(dir=path.parent, prefix="coming-") as folder:
        coming = Path(folder) / path.name
        with closing(sqlite3.connect(coming)) as database:
            database.executescript(EMPTY.read_text(encoding="utf-8"))
        if not path.exists() or not path.stat().st_size:
            for left in ("-wal", "-shm", "-journal"):  # of one that was taken away: they would be read into this one
                path.with_name(path.name + left).unlink(missing_ok=True)
            coming.replace(path)


def bring_up(path: Path) -> None:
    """Bring a database that nobody uses up to date, in a process of its own. Raises Unfit where that fails."""
    env = {**os.environ, "TOADBELL_DATABASE": str(path), "TOADBELL_DATA": str(settings.DATA_DIR)}
    command = [sys.executable, str(settings.BASE_DIR / "manage.py"), "migrate", "--verbosity", "0", "--skip-checks"]
    done = subprocess.run(command, env=env, capture_output=True, text=True, check=False)
    if done.returncode:
        last = (done.stderr.strip().splitlines() or ["no reason given"])[-1]
        raise Unfit(f"it could not be brought up to date ({last[:200]})")
    missing = gaps(path)
    if missing:
        raise Unfit(f"{missing[0]} is missing in it")


def gaps(path: Path) -> list[str]:
    """Tables and columns that this Toad Bell reads and the database has not, in words."""
    found = []
    with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as database:
        for model in apps.get_models():
            table = model._meta.db_table
            columns = {row[1] for row in database.execute("SELECT * FROM pragma_table_info(?)", [table])}
            if not columns:
                found.append(f"the table {table}")
                continue
            found += [
                f"the column {table}.{f.column}" for f in model._meta.local_concrete_fields if f.column not in columns
            ]
    return found
