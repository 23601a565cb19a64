"""The second door: open to the workshop's own network while somebody wants it so, and to nobody before and after."""

import asyncio
import contextlib
import contextvars
import datetime
import logging
import socket
import threading
import time
import uuid
from collections.abc import Coroutine, Generator
from concurrent.futures import Future
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import uvicorn
from django.conf import settings
from django.db import connection
from django.utils import timezone

from toadbell.shed.errors import NotNow
from toadbell.site.share.addresses import addresses

if TYPE_CHECKING:
    from toadbell.site.share.certificate import Certificate

_log = logging.getLogger("django")
FIRST_PORT = 8443
PORTS = range(FIRST_PORT, FIRST_PORT + 20)
OPENS_WITHIN, CLOSES_WITHIN = 10.0, 2.0
MOST_AT_ONCE = 200
"""So many connections are answered at a time: a flood of them does not take the machine from the run."""
LONGEST = datetime.timedelta(hours=24)


class _Quiet(uvicorn.Server):
    """A server beside another: Ctrl-C is for that one."""

    @contextlib.contextmanager
    def capture_signals(self) -> Generator[None]:
        """None of them."""
        yield


@dataclass(frozen=True)
class Opened:
    """The door as it stands open: where, until when, and with which run it closes."""

    address: str
    port: int
    until: datetime.datetime
    trial: uuid.UUID | None
    certificate: "Certificate"

    @property
    def url(self) -> str:
        """What a phone opens."""
        return f"https://{self.address}:{self.port}"


class SecondDoor:
    """Opened and closed from any thread; served by the loop of the first door, which does all the work."""

    def __init__(self) -> None:
        self._loop: asyncio.AbstractEventLoop | None = None
        self._answers: Any = None
        self._server: _Quiet | None = None
        self._serving: Future[None] | None = None
        self._listens: socket.socket | None = None
        self._opened: Opened | None = None
        self._lock = threading.Lock()

    def is_served_by(self, answers: Any, loop: asyncio.AbstractEventLoop) -> None:
        """What answers whoever comes through it, and in which loop."""
        self._answers, self._loop = answers, loop

    @property
    def opened(self) -> Opened | None:
        """As it stands; None where it is closed. What is over by its time counts as closed."""
        now = self._opened
        return now if now is not None and timezone.now() < now.until else None

    def open(self, address: str, minutes: int, trial: uuid.UUID | None = None, port: int | None = None) -> Opened:
        """Open it at an address of this machine, for so many minutes; where it stands open, it is moved there.

        Raises NotNow in words where it cannot be.
        """
        if address not in [one.address for one in addresses()]:
            raise NotNow("This machine has no such address on a network of your own: choose one that it has.")
        with self._lock:
            if self._loop is None or self._loop.is_closed():
                raise NotNow("It can only be opened while Toad Bell is served: start it with make run.")
            until = timezone.now() + min(datetime.timedelta(minutes=max(1, minutes)), LONGEST)
            stands = self._opened
            if (
                stands is not None
                and self.opened is not None
                and (stands.address, port or stands.port)
                == (
                    address,
                    stands.port,
                )
            ):
                self._opened = Opened(address, stands.port, until, trial, stands.certificate)
                return self._opened
            self._shut()
            from toadbell.site.share.certificate import certificate_for  # few open it, and it is slow to begin with

            try:
                certificate = certificate_for(settings.DATA_DIR / "door", address)
            except OSError as problem:
                raise NotNow(f"The certificate could not be written to the data folder: {problem.strerror}.") from None
            listens = self._listens = _listening(address, port)
            config = uvicorn.Config(
                self._answers,
                lifespan="off",
                log_level="critical",
                access_log=False,
                proxy_headers=False,
                server_header=False,
                ssl_certfile=certificate.chain,
                ssl_keyfile=certificate.key,
                limit_concurrency=MOST_AT_ONCE,
                timeout_graceful_shutdown=1,
            )
            self._server = _Quiet(config)
            self._serving = self._begun(self._server.serve(sockets=[listens]))
            deadline = time.monotonic() + OPENS_WITHIN
            while not self._server.started:
                if self._serving.done() or time.monotonic() > deadline:
                    listens.close()
                    raise NotNow("The door to the network could not be opened. Try another address.")
                time.sleep(0.01)
            self._opened = Opened(address, int(listens.getsockname()[1]), until, trial, certificate)
            self._begun(self._close_by_itself(self._server))
            return self._opened

    def _begun(self, work: Coroutine[Any, Any, None]) -> Future[None]:
        """Begin work in the loop, with nothing of the request in it that asks for it: that ends, and this goes on."""
        assert self._loop is not None
        return contextvars.Context().run(asyncio.run_coroutine_threadsafe, work, self._loop)

    def close(self) -> None:
        """Close it: nothing listens beyond this machine any more."""
        with self._lock:
            self._shut()

    def _shut(self) -> None:
        """Whoever closes it waits until nobody can come any more, not for those who are being answered."""
        server, serving, listens = self._server, self._serving, self._listens
        self._opened = self._server = self._serving = self._listens = None
        if server is None or serving is None or listens is None:
            return
        server.should_exit = True
        deadline = time.monotonic() + CLOSES_WITHIN
        while listens.fileno() != -1 and not serving.done() and time.monotonic() < deadline:
            time.sleep(0.01)
        listens.close()

    async def _close_by_itself(self, server: _Quiet) -> None:
        while self._server is server:
            if self.opened is None or await asyncio.to_thread(self._run_is_over):
                server.should_exit = True
                self._opened = None
                return
            await asyncio.sleep(2)

    def _run_is_over(self) -> bool:
        from toadbell.trials.models import State, Trial  # read here: this module is loaded before the models are

        now = self._opened
        if now is None or now.trial is None:
            return False
        try:
            on = (State.PLANNED, State.READY, State.RUNNING, State.HELD, State.JUDGED)
            return not Trial.objects.filter(pk=now.trial, state__in=on).exists()
        finally:
            connection.close()  # of a thread that is asked now and then: it keeps none open


def _listening(address: str, port: int | None) -> socket.socket:
    """A socket at the address: at the port asked for, else at the first that is free."""
    for one in [port] if port is not None else PORTS:
        sock = socket.socket(socket.AF_INET)
        sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            sock.bind((address, one))
        except OSError:
            sock.close()
            continue
        return sock
    raise NotNow(f"Port {port or FIRST_PORT} is in use at {address}. Close what uses it, or choose another address.")


SECOND_DOOR = SecondDoor()
