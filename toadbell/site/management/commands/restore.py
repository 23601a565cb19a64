"""Put the workshop back as it was in a backup."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from toadbell.core.sheets import SheetError
from toadbell.records import backup
from toadbell.site.prepare import prepare


class Command(BaseCommand):
    """manage.py restore FILE"""

    help = "Put everything back as it was in a backup; how it is now is backed up first"

    def add_arguments(self, parser: ArgumentParser) -> None:
        """The backup's file."""
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Put it back, or say why not."""
        prepare()
        try:
            before = backup.restore_from(options["file"])
        except SheetError as problem:
            raise CommandError(problem.says[:1].upper() + problem.says[1:] + ".") from None
        self.stdout.write(
            f"Everything is as it was in {options['file'].name}. How it was before is in {before}\nIf Toad Bell is running on this folder, start it again."
        )
