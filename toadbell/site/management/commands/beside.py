"""The process beside the door; begun by it, and ended with it."""

import contextlib
import os
import sys
import threading
from argparse import ArgumentParser
from pathlib import Path
from typing import Any

import uvicorn

from toadbell.site.command import QuickCommand


class Command(QuickCommand):
    """manage.py beside SOCKET"""

    help = "Answer what the door hands on; begun by the application"

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Where to listen."""
        parser.add_argument("socket", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        """Listen, a little behind the door in the order of the processor."""
        os.nice(5)
        path: Path = options["socket"]
        path.unlink(missing_ok=True)
        threading.Thread(target=_end_with_the_door, args=(path,), daemon=True).start()
        prepared = threading.Timer(LISTS_AFTER, _have_lists_ready)
        prepared.daemon = True
        prepared.start()
        uvicorn.run(
            "toadbell.site.asgi:beside", uds=str(path), lifespan="off", log_level="warning", server_header=False
        )


LISTS_AFTER = 4.0
"""So long after its beginning what is due is worked out, before anybody asks, s."""


def _have_lists_ready() -> None:
    from django.db import Error, connection

    from toadbell.records.due import due

    try:
        due()
    except Error:
        pass  # the database is just being brought up to date: whoever asks first waits
    finally:
        connection.close()


def _end_with_the_door(path: Path) -> None:
    sys.stdin.buffer.read()
    with contextlib.suppress(OSError):
        path.unlink(missing_ok=True)
        path.parent.rmdir()
    os._exit(0)
