"""The gate of the second door: who is asking is looked up before anything that they send is read.

Whoever is let in goes through to the door. A stranger is answered by the process beside, never by the writer's thread,
a few at a time; what they send is counted as it comes, and lies on no disk.
"""

import asyncio
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from http.cookies import CookieError, SimpleCookie
from importlib import import_module
from typing import Any

from django.conf import settings
from django.db import connection

from toadbell.people.models import KEY, SignedIn
from toadbell.site.door import Door, Receive, Scope, Send, bearer, say
from toadbell.site.errors import UNKNOWN_TOKEN
from toadbell.site.middleware import DEVICES
from toadbell.site.share.lines import HEARD_WITHIN, Client, Lines
from toadbell.trials.models.sources import Device

MOST_OF_A_STRANGER = 16_000
"""Bytes that a stranger may send at a time: six words and a name."""
STRANGERS = 4
"""So many of their questions are answered at a time."""
KNOWN_FOR, UNKNOWN_FOR = 5.0, 1.0
"""How long it is remembered that somebody is let in, or not, s: each request is looked at again behind the gate."""
_REMEMBERED = 1000
_LOOKING = ThreadPoolExecutor(1, thread_name_prefix="gate")
"""The one thread that looks up who asks, however often the door is opened."""
CERTIFICATE = "/workshop.crt"


class Gate:
    """The application of the second door."""

    def __init__(self, door: Door, lines: Lines, certificate: Callable[[], bytes | None]) -> None:
        self.door, self.lines, self.certificate = door, lines, certificate
        self.strangers = asyncio.Semaphore(STRANGERS)
        self.remembered: dict[str, tuple[float, bool]] = {}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer an HTTP request from the network."""
        client: Client = tuple(scope["client"] or ("", 0))
        if await self._let_in(scope):
            self.lines.heard(client, friend=True)
            return await self.door(scope, receive, send)
        try:
            return await self._stranger(scope, receive, send, client)
        finally:
            self.lines.answered(client)

    async def _stranger(self, scope: Scope, receive: Receive, send: Send, client: Client) -> None:
        if scope["path"] == DEVICES:
            return await say(send, 401, {"says": UNKNOWN_TOKEN}, close=True)
        try:
            body = await asyncio.wait_for(_whole(scope, receive), HEARD_WITHIN)
        except _TooMuch:
            return await say(send, 413, {"says": "That is more than anybody who is not let in may send."}, close=True)
        except TimeoutError:
            return await say(send, 408, {"says": "It did not come in time."}, close=True)
        self.lines.heard(client)
        if scope["path"] == CERTIFICATE:
            return await self._certificate(send)
        async with self.strangers:
            await self.door.of_a_stranger(scope, _again(body, receive), send)

    async def _certificate(self, send: Send) -> None:
        data = self.certificate()
        if data is None:
            return await say(send, 404, {"says": "The door to the network is closed."})
        headers = [
            (b"content-type", b"application/x-x509-ca-cert"),
            (b"content-disposition", b'attachment; filename="toad-bell-workshop.crt"'),
            (b"content-length", str(len(data)).encode()),
            (b"cache-control", b"no-store"),
        ]
        await send({"type": "http.response.start", "status": 200, "headers": headers})
        await send({"type": "http.response.body", "body": data})

    async def _let_in(self, scope: Scope) -> bool:
        """Does it bring a session of somebody who is let in, or a logger's token?"""
        logger = scope["path"] == DEVICES
        brought = bearer(scope) if logger else _session(scope)
        if not brought or len(brought) > 200:
            return False
        mark, now = f"{logger}{brought}", time.monotonic()
        until, known = self.remembered.get(mark, (0.0, False))
        if now < until:
            return known
        known = await asyncio.get_running_loop().run_in_executor(_LOOKING, _known, brought, logger)
        if len(self.remembered) >= _REMEMBERED:
            self.remembered.clear()
        self.remembered[mark] = (now + (KNOWN_FOR if known else UNKNOWN_FOR), known)
        return known


def _known(brought: str, logger: bool) -> bool:
    """In a thread of the gate's own, with a connection of its own, which only reads."""
    try:
        if logger:
            return Device.with_token(brought) is not None
        store: Any = import_module(settings.SESSION_ENGINE).SessionStore(brought)
        one = SignedIn.objects.select_related("maker", "trial").filter(pk=store.get(KEY)).first()
        return one is not None and one.over is None
    except Exception:  # whatever stands in a cookie: it lets nobody in
        return False
    finally:
        connection.close()


def _session(scope: Scope) -> str | None:
    for name, value in scope["headers"]:
        if name == b"cookie":
            try:
                found = SimpleCookie(value.decode("latin-1")).get(settings.SESSION_COOKIE_NAME)
            except CookieError:
                return None
            return found.value if found else None
    return None


class _TooMuch(Exception):
    """More than a stranger may send."""


async def _whole(scope: Scope, receive: Receive) -> bytes:
    for name, value in scope["headers"]:
        if name == b"content-length" and (not value.isdigit() or int(value) > MOST_OF_A_STRANGER):
            raise _TooMuch
    found = bytearray()
    while True:
        message = await receive()
        if message["type"] == "http.disconnect":
            return b""
        found += message.get("body", b"")
        if len(found) > MOST_OF_A_STRANGER:
            raise _TooMuch
        if not message.get("more_body"):
            return bytes(found)


def _again(body: bytes, receive: Receive) -> Receive:
    """What was read, once more; and then whatever comes after it."""
    given = False

    async def once() -> dict[str, Any]:
        nonlocal given
        if given:
            return await receive()
        given = True
        return {"type": "http.request", "body": body, "more_body": False}

    return once
