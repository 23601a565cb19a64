"""What all commands of Toad Bell's own are."""

from typing import ClassVar

from django.core.management.base import BaseCommand


class QuickCommand(BaseCommand):
    """A command that begins with its work: every page is looked over by `manage.py check` and by the tests."""

    requires_system_checks: ClassVar[list[str]] = []  # type: ignore[misc]
