"""Look the whole workshop over, and say what is wrong."""

from argparse import ArgumentParser
from typing import Any

from django.core.management.base import CommandError
from django.db import DatabaseError

from toadbell.records import doctor, logbook
from toadbell.site.command import QuickCommand

SHOWN = 20
"""So many lines are said in the terminal after a start."""


class Command(QuickCommand):
    """manage.py doctor [--quick]"""

    help = "Look over the database, the chains of its records and all that was signed"

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Whether to read all of it; after a start the text of the records is made ready to be searched, too."""
        parser.add_argument("--quick", action="store_true", help="chains and seals alone, as at every start")

    def handle(self, *args: Any, **options: Any) -> None:
        """Say what is wrong, a line each; ends with 1 where anything is."""
        wrong = []
        for says in doctor.found_wrong(thorough=not options["quick"]):
            wrong.append(says)
            if len(wrong) <= SHOWN or not options["quick"]:
                self.stderr.write(says)
        try:
            doctor.keep_found(wrong)
            if options["quick"] and not wrong:
                logbook.write_down()
        except (OSError, DatabaseError) as problem:  # a full disk, or one that is gone: the next start tries again
            self.stderr.write(f"What was found could not be kept for the pages to say: {problem}")
        if options["quick"] and len(wrong) > SHOWN:
            self.stderr.write(f"And {len(wrong) - SHOWN} more: toadbell doctor says them all.")
        if wrong:
            many = "thing is" if len(wrong) == 1 else "things are"
            raise CommandError(f"{len(wrong)} {many} wrong. Nothing was changed.")
        if not options["quick"]:
            self.stdout.write("All is well: the database is sound, every chain is whole, and what was signed stands.")
