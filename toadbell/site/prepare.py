"""The database looked over and brought up to date before it is served, with nothing lost on the way."""

import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path

from django.conf import settings
from django.core.management import CommandError, call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.db.utils import DatabaseError

from toadbell.records import backup, database, workshop_key
from toadbell.records.models import CalendarLink
from toadbell.shed.models import Maker
from toadbell.site.folder import make_private


def prepare() -> None:
    """Look the database over, bring it up to date after a backup where there is something to lose, and make the local
    owner.

    Raises CommandError in words, with nothing changed, where it cannot be used.
    """
    folder: Path = settings.DATA_DIR
    make_private(folder)
    path: Path = settings.DATABASE
    try:
        if path.exists() and path.stat().st_size:
            database.look_over(path, thorough=path.stat().st_size <= database.QUICK)
            _bring_up(path)
        else:
            database.begin(path)
        missing = database.gaps(path)
        if missing:
            raise database.Unfit(f"{missing[0]} is missing in it")
    except database.Unfit as wrong:
        raise CommandError(
            f"The database {path} cannot be used: {wrong}. It was left as it is. To go back to a backup: "
            f"make restore FILE={backup.FOLDER}/toad-bell-….zip"
        ) from None
    except (OSError, sqlite3.Error, DatabaseError) as problem:
        raise CommandError(
            f"The data folder {folder} cannot be written to, or its disk is full ({problem}). Mend that, and start "
            "again."
        ) from None
    CalendarLink.of(Maker.local_owner())
    try:
        workshop_key.own_public()
    except (OSError, ValueError) as problem:
        raise CommandError(
            f"The key by which this workshop vouches for signatures cannot be used ({problem}). Put back "
            f"{workshop_key.NAME} in {folder}, or move it away: a new one is made, and the old one stays known."
        ) from None
    call_command("clearsessions")


def _bring_up(path: Path) -> None:
    """On a copy, which takes its place when it is whole: a migration that fails changes nothing."""
    executor = MigrationExecutor(connection)
    if not executor.migration_plan(executor.loader.graph.leaf_nodes()):
        return
    backup.make("before-migration")
    with tempfile.TemporaryDirectory(dir=settings.DATA_DIR, prefix="coming-") as folder:
        coming = Path(folder) / path.name
        backup.copy_of_the_database(coming)
        database.bring_up(coming)
        with closing(sqlite3.connect(coming)) as source:
            connection.ensure_connection()
            source.backup(connection.connection)
    connection.close()
