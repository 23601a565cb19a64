"""Hang up the demo workshop."""

from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from toadbell.records import demo


class Command(BaseCommand):
    """manage.py load_demo"""

    help = "Hang up the demo workshop; a second time changes nothing"

    def handle(self, *args: Any, **options: Any) -> None:
        """Load what is not there yet, and say how many vessels that was."""
        new = demo.load(settings.BASE_DIR / "demo")
        if new:
            self.stdout.write(f"Otterby Wharf: {new} vessels hung up.")
