"""Put the workshop back as it was in a backup."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import CommandError
from django.db import connection
from django.utils import timezone

from toadbell.core.sheets import SheetError
from toadbell.records import backup
from toadbell.shed.errors import NotNow
from toadbell.site.command import QuickCommand
from toadbell.site.prepare import prepare


class Command(QuickCommand):
    """manage.py restore FILE"""

    help = "Put everything back as it was in a backup; how it is now is backed up first"

    def add_arguments(self, parser: ArgumentParser) -> None:
        """The backup's file."""
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Put it back, or say why not."""
        aside = _ready()
        try:
            before = backup.restore_from(options["file"])
        except (SheetError, NotNow) as problem:
            if aside:
                connection.close()
                _move(aside, settings.DATABASE)
            says = getattr(problem, "says", str(problem))
            raise CommandError(says[:1].upper() + says[1:] + ("" if says.endswith(".") else ".")) from None
        was = f"The database that could not be used lies in {aside}" if aside else f"How it was before is in {before}"
        self.stdout.write(f"Everything is as it was in {options['file'].name}. {was}")


def _ready() -> Path | None:
    """A database that a backup can take the place of; where the one that lies here cannot be used, it is laid aside,
    and where is given.
    """
    try:
        prepare()
        return None
    except CommandError:
        if not settings.DATABASE.exists():
            raise
    connection.close()
    aside = Path(settings.DATABASE.with_name(f"unusable-{timezone.now():%Y%m%d-%H%M%S}.sqlite3"))
    _move(settings.DATABASE, aside)
    prepare()
    return aside


def _move(one: Path, to: Path) -> None:
    """A database with what belongs to it."""
    for end in ("-wal", "-shm", ""):
        part = one.with_name(one.name + end)
        to.with_name(to.name + end).unlink(missing_ok=True)
        if part.exists():
            part.replace(to.with_name(to.name + end))
