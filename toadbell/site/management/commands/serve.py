"""Prepare the database and serve the application on this machine alone."""

import contextlib
import os
import resource
import socket
import subprocess
import sys
import threading
import time
from argparse import ArgumentParser
from typing import Any

import uvicorn
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from django.utils import timezone

from toadbell.people.api import InvitationIn, invite
from toadbell.shed.errors import NotNow
from toadbell.shed.models import Maker
from toadbell.site.beside import beside
from toadbell.site.command import QuickCommand
from toadbell.site.enter import new_link
from toadbell.site.folder import hold, sweep
from toadbell.site.prepare import prepare
from toadbell.site.share.addresses import addresses
from toadbell.site.share.listener import SECOND_DOOR
from toadbell.site.who import tells_who
from toadbell.trials import clock
from toadbell.trials.bench.readings import latest_stored, on_the_bench

LOOKED_OVER_AFTER = 20.0
"""So long after the start chains and seals are looked over, in a process that gives way to all else, s."""
FOUR_HOURS = 240
"""How long it is open to the network where nobody says otherwise, minutes."""


class Command(QuickCommand):
    """manage.py serve [--port N] [--demo] [--share [ADDRESS]]"""

    help = "Prepare the database and serve Toad Bell on http://127.0.0.1:PORT"

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Port, and whether to hang up the demo workshop."""
        parser.add_argument("--port", type=int, default=8000)
        parser.add_argument("--demo", action="store_true", help="hang up the demo workshop first")
        parser.add_argument(
            "--share",
            nargs="?",
            const="",
            metavar="ADDRESS",
            help="open it to the workshop's own network for four hours, and say the words that let a phone in",
        )

    def handle(self, *args: Any, **options: Any) -> None:
        """Migrate (after a backup), load, say where it is, serve until stopped."""
        port = options["port"]
        if not _free(port):
            raise CommandError(
                f"Port {port} is in use, perhaps by a Toad Bell that runs already. Choose another: make demo "
                f"PORT={port + 1}"
            )
        _have_room()
        settings.OPEN_TO_ALL_HERE = settings.OPEN_TO_ALL_HERE or options["demo"]
        lock = hold(settings.DATA_DIR)
        sweep(settings.DATA_DIR)
        with beside() as path:  # it loads what it needs while the database is made ready, and is asked nothing before
            self._make_ready(demo=options["demo"])
            os.environ["TOADBELL_BESIDE_AT"], settings.JUDGES_HERE = path, False
            from toadbell.site.asgi import application  # once the database is as this release reads it
            from toadbell.site.warming import warm

            warm(application, port)
            self._say_where(port, demo=options["demo"])
            share = options["share"]
            if share is not None:
                share = self._where(share)
            self.stdout.flush()
            config = uvicorn.Config(
                "toadbell.site.asgi:application",
                host="127.0.0.1",
                port=port,
                lifespan="off",
                log_level="warning",
                proxy_headers=False,
                server_header=False,
                timeout_graceful_shutdown=2,
            )
            server = uvicorn.Server(config)
            look = threading.Timer(LOOKED_OVER_AFTER, _look_over)
            look.daemon = True
            look.start()
            if share is not None:
                threading.Thread(target=self._share, args=(server, share), daemon=True).start()
            server.run()
        lock.close()

    def _where(self, asked: str) -> str:
        """The address to open it at; ends in words where there is none, or not the one asked for."""
        there = [one.address for one in addresses()]
        if not there:
            raise CommandError("This machine is on no network of your own just now: there is nothing to open it to.")
        if asked and asked not in there:
            raise CommandError(
                f"This machine has no address {asked} on a network of your own. It has {', '.join(there)}."
            )
        return asked or there[0]

    def _share(self, server: uvicorn.Server, address: str) -> None:
        """Once it is served: open the second door, and say the words for the owner's first phone."""
        import httpx

        while not server.started:
            if server.should_exit:
                return
            time.sleep(0.02)
        try:
            httpx.get(f"http://127.0.0.1:{server.config.port}/api/who", timeout=20)  # from then on it knows its loop
            now = SECOND_DOOR.open(address, FOUR_HOURS)
            told = invite(Maker.local_owner(), InvitationIn(person=Maker.local_owner().uid), now.url)
        except (NotNow, httpx.HTTPError) as problem:
            self.stderr.write(f"It is not open to the network: {problem}")
            return
        finally:
            connection.close()
        lines = [
            f"Open to the network at {now.url} until {timezone.localtime(now.until):%H:%M} (closes by itself).",
            f"On the phone, open {now.url}/join and type, within ten minutes: {told.words}",
            f"Its certificate is of this workshop's own making: {now.certificate.fingerprint}",
            "Other phones: Bring a phone, on the bench or at People.",
        ]
        self.stdout.write("\n".join(lines))
        self.stdout.flush()

    def _make_ready(self, *, demo: bool) -> None:
        prepare()
        clock.go_on_after(latest_stored(), on_the_bench())
        if demo:
            call_command("load_demo")

    def _say_where(self, port: int, *, demo: bool) -> None:
        self.stdout.write(f"Toad Bell is at http://127.0.0.1:{port}  (Ctrl-C stops it; data in {settings.DATA_DIR})")
        if not demo and not tells_who():
            self.stdout.write(
                f"This system does not tell whose a connection is. Open it by this link, once: {new_link(port)}"
            )


FILES = 8192
"""So many files and lines may be open at a time, where the system lets it: an ordinary limit is a thousand."""


def _have_room() -> None:
    """Raise the limit of open files, as far as the system lets it."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    wanted = FILES if hard == resource.RLIM_INFINITY else min(FILES, hard)
    if soft != resource.RLIM_INFINITY and soft < wanted:
        with contextlib.suppress(ValueError, OSError):
            resource.setrlimit(resource.RLIMIT_NOFILE, (wanted, hard))


def _look_over() -> None:
    command = ["nice", "-n", "19", sys.executable, str(settings.BASE_DIR / "manage.py"), "doctor", "--quick"]
    with contextlib.suppress(OSError):
        subprocess.Popen(command, stdin=subprocess.DEVNULL)  # it says what is wrong itself


def _free(port: int) -> bool:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", port))
        except OSError:
            return False
    return True
