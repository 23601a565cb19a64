"""The `toadbell` command: what the core answers by itself, and the stand-in for a logger."""

import sys

from toadbell.core import cli as core


def main(arguments: list[str] | None = None) -> int:
    """Run a command; gives the exit code."""
    given = sys.argv[1:] if arguments is None else arguments
    if given[:1] == ["standin"]:
        from toadbell import standin

        return standin.main(given[1:])
    return core.main(given)
