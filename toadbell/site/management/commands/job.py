"""A long job in a process of its own; says how far it is on standard output, a line of JSON at a time."""

import json
import os
import signal
import sys
import threading
from argparse import ArgumentParser
from typing import Any

from toadbell.records import jobs
from toadbell.site.command import QuickCommand


class Command(QuickCommand):
    """manage.py job KIND FILE"""

    help = "Do a long job; begun by the application"

    def add_arguments(self, parser: ArgumentParser) -> None:
        """What to do, and with which file."""
        parser.add_argument("what")
        parser.add_argument("file")

    def handle(self, *args: Any, **options: Any) -> None:
        """Do it; it ends with whoever began it."""
        signal.signal(signal.SIGTERM, lambda *_: sys.exit(1))  # so that what it did is taken back on the way out
        threading.Thread(target=_end_with_the_other, daemon=True).start()
        jobs.do([options["what"], options["file"]], lambda line: print(json.dumps(line), flush=True))


def _end_with_the_other() -> None:
    sys.stdin.read()
    os._exit(1)
