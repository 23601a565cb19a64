"""A link of one use that lets another browser of this machine in."""

from argparse import ArgumentParser
from typing import Any

from toadbell.site.command import QuickCommand
from toadbell.site.enter import new_link


class Command(QuickCommand):
    """manage.py link [--port N]"""

    help = "Print a link of one use that lets its holder in"

    def add_arguments(self, parser: ArgumentParser) -> None:
        """The port that Toad Bell runs on."""
        parser.add_argument("--port", type=int, default=8000)

    def handle(self, *args: Any, **options: Any) -> None:
        """Make it, and print it."""
        self.stdout.write(f"Open this once, in the browser that is to be let in: {new_link(options['port'])}")
