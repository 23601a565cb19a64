"""The `toadbell` command: what the core answers by itself, the stand-in for a logger, and the doctor."""

import sys

from toadbell.core import cli as core


def main(arguments: list[str] | None = None) -> int:
    """Run a command; gives the exit code."""
    given = sys.argv[1:] if arguments is None else arguments
    if given[:1] == ["standin"]:
        from toadbell import standin

        return standin.main(given[1:])
    if given[:1] == ["doctor"]:
        return _doctor(given[1:])
    return core.main(given)


def _doctor(given: list[str]) -> int:
    import os

    from django.core.management import execute_from_command_line

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "toadbell.site.settings")
    execute_from_command_line(["toadbell", "doctor", *given])  # ends the program where anything is wrong
    return 0
