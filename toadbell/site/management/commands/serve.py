"""Prepare the database and serve the application on this machine alone."""

import os
import socket
from argparse import ArgumentParser
from typing import Any

import uvicorn
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import CommandError

from toadbell.site.beside import beside
from toadbell.site.command import QuickCommand
from toadbell.site.enter import new_link
from toadbell.site.folder import hold, sweep
from toadbell.site.prepare import prepare
from toadbell.site.who import tells_who
from toadbell.trials import clock
from toadbell.trials.bench.readings import latest_stored, on_the_bench


class Command(QuickCommand):
    """manage.py serve [--port N] [--demo]"""

    help = "Prepare the database and serve Toad Bell on http://127.0.0.1:PORT"

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Port, and whether to hang up the demo workshop."""
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--demo", action="store_true", help="hang up the demo workshop first")

    def handle(self, *args: Any, **options: Any) -> None:
        """Migrate (after a backup), load, say where it is, serve until stopped."""
        port = options["port"]
        if not _free(port):
            raise CommandError(
                f"Port {port} is in use, perhaps by a Toad Bell that runs already. Choose another: make demo "
                f"PORT={port + 1}"
            )
        settings.OPEN_TO_ALL_HERE = settings.OPEN_TO_ALL_HERE or options["demo"]
        lock = hold(settings.DATA_DIR)
        sweep(settings.DATA_DIR)
        with beside() as path:  # it loads what it needs while the database is made ready, and is asked nothing before
            self._make_ready(port, demo=options["demo"])
            os.environ["TOADBELL_BESIDE_AT"], settings.JUDGES_HERE = path, False
            self.stdout.flush()
            uvicorn.run(
                "toadbell.site.asgi:application",
                host="127.0.0.1",
                port=port,
                lifespan="off",
                log_level="warning",
                proxy_headers=False,
                server_header=False,
                timeout_graceful_shutdown=2,
            )
        lock.close()

    def _make_ready(self, port: int, *, demo: bool) -> None:
        prepare()
        clock.go_on_after(latest_stored(), on_the_bench())
        if demo:
            call_command("load_demo")
        self.stdout.write(f"Toad Bell is at http://127.0.0.1:{port}  (Ctrl-C stops it; data in {settings.DATA_DIR})")
        if not demo and not tells_who():
            self.stdout.write(
                f"This system does not tell whose a connection is. Open it by this link, once: {new_link(port)}"
            )


def _free(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
    return True
