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
from pathlib import Path
from typing import TYPE_CHECKING, Any

import uvicorn
from django.conf import settings
from django.db import connection
from django.utils import timezone

from toadbell.shed.errors import NotNow
from toadbell.site.share.addresses import addresses
from toadbell.site.share.lines import Lines

if TYPE_CHECKING:
    from toadbell.site.share.certificate import Certificate

_log = logging.getLogger("django")
FIRST_PORT = 8443
PORTS = range(FIRST_PORT, FIRST_PORT + 20)
OPENS_WITHIN, CLOSES_WITHIN = 10.0, 2.0
MOST_AT_ONCE = 200
"""So many connections are answered at a time: a flood of them does not take the machine from the run."""
MOST_OF_A_HEAD = 64_000
"""Bytes of a request's headers."""
LONGEST = datetime.timedelta(hours=24)


class _Quiet(uvicorn.Server):
    """A server beside another: Ctrl-C is for that one. Its lines are counted before they are opened."""

    def __init__(self, config: uvicorn.Config, lines: Lines) -> None:
        super().__init__(config)
        self.lines, self.servers = lines, []
        self.accepting: asyncio.Task[None] | None = None

    @contextlib.contextmanager
    def capture_signals(self) -> Generator[None]:
        """None of them."""
        yield

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        """Take lines from the one socket that is given."""
        await self.lifespan.startup()
        speaks, lines = self.config.http_protocol_class, self.lines

        class Told(speaks):  # type: ignore[misc, valid-type]
            """Tells when its line is no more."""

            def connection_lost(self, exc: Exception | None) -> None:
                """Count it no longer."""
                lines.end(tuple(self.client or ("", 0)))
                super().connection_lost(exc)

        def protocol() -> asyncio.Protocol:
            told: asyncio.Protocol = Told(
                config=self.config, server_state=self.server_state, app_state=self.lifespan.state
            )
            return told

        (listens,) = sockets or []
        listens.listen(128)  # before it is said to be open: whoever comes at once is taken
        self.accepting = asyncio.create_task(lines.accept(listens, protocol, self.config.ssl))
        self.started = True

    async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
        """Take no more."""
        if self.accepting is not None:
            self.accepting.cancel()
        await super().shutdown(sockets)


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
    """Opened and closed from any thread; served by a loop of its own: what strangers do there is not the desk's."""

    def __init__(self) -> None:
        self._loop: asyncio.AbstractEventLoop | None = None
        self._served = False
        self._beside: Path | None = None
        self._server: _Quiet | None = None
        self._serving: Future[None] | None = None
        self._listens: socket.socket | None = None
        self._opened: Opened | None = None
        self._lock = threading.Lock()

    def is_served_by(self, beside: Path | None) -> None:
        """It can be opened from now on. beside  where the other process listens; None where there is none"""
        self._served, self._beside = True, beside

    def _own_loop(self) -> asyncio.AbstractEventLoop:
        """The network's loop, begun with the first opening."""
        if self._loop is None:
            self._loop = asyncio.new_event_loop()
            self._loop.set_exception_handler(_said)
            threading.Thread(target=self._loop.run_forever, name="network", daemon=True).start()
        return self._loop

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
            if not self._served:
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
            lines = Lines()
            config = uvicorn.Config(
                self._gate(lines, certificate),
                http="h11",
                h11_max_incomplete_event_size=MOST_OF_A_HEAD,
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
            self._server = _Quiet(config, lines)
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

    def _gate(self, lines: Lines, certificate: "Certificate") -> Any:
        from toadbell.site.door import Door  # read here: the door knows this one
        from toadbell.site.share.gate import Gate

        door = Door(str(self._beside) if self._beside else None, desk=False)
        return Gate(door, lines, certificate.workshop.read_bytes)

    def _begun(self, work: Coroutine[Any, Any, None]) -> Future[None]:
        """Begin work in the loop, with nothing of the request in it that asks for it: that ends, and this goes on."""
        return contextvars.Context().run(asyncio.run_coroutine_threadsafe, work, self._own_loop())

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


def _said(loop: asyncio.AbstractEventLoop, context: dict[str, Any]) -> None:
    """What goes wrong on a line of the network is a line of the log, and not a page."""
    _log.warning("on a line of the network: %s", str(context.get("exception") or context.get("message"))[:200])


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
