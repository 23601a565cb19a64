"""Back the workshop up into one file."""

from typing import Any

from toadbell.records import backup
from toadbell.site.command import QuickCommand
from toadbell.site.prepare import prepare


class Command(QuickCommand):
    """manage.py backup"""

    help = "Back everything up into one file; safe while the application runs"

    def handle(self, *args: Any, **options: Any) -> None:
        """Make it, and say where it lies."""
        prepare()
        path = backup.make()
        self.stdout.write(
            f"Everything is in {path} ({path.stat().st_size / 1e6:.1f} MB). To put it back: make restore FILE={path}"
        )
