"""The door of the application: one writer that never waits, and beside it a process that answers whatever may take
long.

Readings, and what moves a run on, are done here, in one thread on one kept connection: SQLite lets one writer in at a
time, and short
work one after another is the quickest. Readings of loggers that arrive together are stored with one commit. Everything
else, every
look and every long answer, is asked of the process beside, which shares the database and nothing else; while it is
slow, or gone,
readings are taken all the same.
"""

import asyncio
import json
import logging
import re
import time
from collections.abc import AsyncIterator, Awaitable, Callable
from pathlib import Path
from typing import Any

import httpx
from asgiref.sync import sync_to_async
from django.core.handlers.asgi import ASGIHandler
from django.db import OperationalError
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from pydantic import ValidationError

from toadbell.core.sheets import SheetError
from toadbell.shed.errors import NotNow
from toadbell.shed.wire import Unkept, kept_json
from toadbell.site.errors import UNKNOWN_TOKEN, disk_says, first_of, in_sentence
from toadbell.site.middleware import DEVICES
from toadbell.site.share.listener import SECOND_DOOR
from toadbell.trials.bench.device_api import BatchIn, taken_out
from toadbell.trials.bench.devices import Batch, Sent, Taken, hand_in_together
from toadbell.trials.models.sources import Device

Scope = dict[str, Any]
Receive = Callable[[], Awaitable[dict[str, Any]]]
Send = Callable[[dict[str, Any]], Awaitable[None]]
_log = logging.getLogger("django")
MOST_BYTES = 10_000_000
BEGINS_WITHIN = 20.0
"""So many s a question waits for the process beside to begin."""
TOGETHER = 100
"""So many batches go into one commit at the most."""
STOPPED = "Toad Bell was stopped before this was answered. Send it again when it is back; nothing is stored twice."
CALLER = "x-toadbell-caller"
"""In which the process beside is told who is at the other end: only this process can reach it."""
_OURS = re.compile(r"/api/trials/[0-9a-f-]{36}/(readings|steps|hand|stop|start|speed|rig|devices/[0-9a-f-]{36})")
_AT_THE_DOOR = re.compile(r"/api/(share|invitations)|/workshop\.crt")
"""What is about the door itself, which the process beside knows nothing of."""
_OF_THE_CONNECTION = {
    b"connection",
    b"keep-alive",
    b"transfer-encoding",
    b"upgrade",
    b"te",
    b"trailer",
    b"proxy-connection",
}
_OF_THE_ANSWER = _OF_THE_CONNECTION | {b"date", b"server"}
Answer = tuple[int, dict[str, Any]]


class Door:
    """The application as the server sees it.

    beside  where the other process listens; None where everything is done here
    desk    it is the one of this machine, and not of the network
    """

    def __init__(self, beside: str | None, *, desk: bool = True) -> None:
        self.desk = desk
        self.own = InOneThread()
        self.loggers = Loggers()
        self.beside = Beside(beside) if beside else None

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer an HTTP request."""
        if scope["type"] != "http":
            raise ValueError(f"only HTTP is served here, not {scope['type']}")
        if sum(name == b"host" for name, _ in scope["headers"]) > 1:
            return await say(send, 400, {"says": "It was asked for by two names at once."})
        begun = False

        async def sent(message: dict[str, Any]) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            await self._answer(scope, receive, sent)
        except asyncio.CancelledError:  # the server is being stopped: that is no fault, and is said as what it is
            if begun:
                raise
            await say(send, 503, {"says": STOPPED})

    async def _answer(self, scope: Scope, receive: Receive, send: Send) -> None:
        if self.desk:
            SECOND_DOOR.is_served_by(self.beside.path if self.beside else None)
        path, post = scope["path"], scope["method"] == "POST"
        if post and path == DEVICES:
            await self.loggers.answer(scope, receive, send)
        elif (
            self.beside
            and path.startswith("/api/")
            and not ((post and _OURS.fullmatch(path)) or _AT_THE_DOOR.fullmatch(path))
        ):
            await self.beside.answer(scope, receive, send)
        else:
            await self.own(scope, receive, send)

    async def of_a_stranger(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer somebody of the network who is not let in: beside, never in the writer's thread."""
        await (self.beside.answer if self.beside else self.own)(scope, receive, send)


class Straight(ASGIHandler):
    """A request's whole way, middleware and view, in one thread without a turn back to the loop.

    Nothing here is asynchronous but the server itself. Django's own handler goes back to the loop between middleware
    and view, and the thread waits for it meanwhile: with one thread for all that came to a standstill now and then,
    under load, and every other request with it.
    """

    def load_middleware(self, is_async: bool = False) -> None:
        """Middleware as it is where nothing is asynchronous."""
        super().load_middleware(is_async=False)

    async def get_response_async(self, request: HttpRequest) -> HttpResponseBase:
        """The answer, worked out in a thread."""
        return await sync_to_async(self.get_response, thread_sensitive=True)(request)


class InOneThread(Straight):
    """Every request's work in one thread, on one kept connection."""

    async def __call__(self, scope: Any, receive: Any, send: Any) -> None:
        """Answer an HTTP request."""
        await self.handle(scope, receive, send)


# -- loggers --------------------------------------------------------------------------------


class Loggers:
    """What loggers hand in: gathered while the commit before is on its way to the disk, then stored with the next."""

    def __init__(self) -> None:
        self.waiting: list[tuple[str, BatchIn, asyncio.Future[Answer]]] = []
        self.at_work: asyncio.Task[None] | None = None

    async def answer(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Take a batch, and acknowledge it when it is on the disk."""
        token = bearer(scope)
        if token is None:
            return await say(send, 401, {"says": UNKNOWN_TOKEN}, close=True)
        try:
            body = await _body(receive)
            batch = BatchIn.model_validate(kept_json(body or b"null"))
        except _TooMuch:
            return await say(
                send,
                413,
                {"says": "That is too much at a time: 10 MB at the most. Send it in smaller parts, the oldest first."},
            )
        except ValidationError as wrong:
            says, field = first_of(wrong.errors(include_url=False))
            return await say(send, 422, {"says": says, "field": field})
        except Unkept as unkept:
            return await say(send, 422, {"says": str(unkept)})
        except (ValueError, RecursionError):
            return await say(send, 400, {"says": "What was sent could not be read as JSON."})
        done: asyncio.Future[Answer] = asyncio.get_running_loop().create_future()
        self.waiting.append((token, batch, done))
        if self.at_work is None or self.at_work.done():
            self.at_work = asyncio.create_task(self._store())
        return await say(send, *await done)

    async def _store(self) -> None:
        """Store what waits, and what came meanwhile, until nothing waits.

        One batch of a device at a time: its counter goes on from the last.
        """
        while self.waiting:
            now: list[tuple[str, BatchIn, asyncio.Future[Answer]]] = []
            tokens: set[str] = set()
            for one in self.waiting[:]:
                if one[0] not in tokens and len(now) < TOGETHER:
                    tokens.add(one[0])
                    now.append(one)
                    self.waiting.remove(one)
            answers = await sync_to_async(_store_together, thread_sensitive=True)(
                [(token, batch) for token, batch, _ in now]
            )
            for (_, _, done), answer in zip(now, answers, strict=True):
                if not done.done():
                    done.set_result(answer)


def _store_together(handed: list[tuple[str, BatchIn]]) -> list[Answer]:
    try:
        devices = Device.with_tokens({token for token, _ in handed})
        known = [(n, devices[token], batch) for n, (token, batch) in enumerate(handed) if token in devices]
        batches = [
            Batch(device, [Sent(**one.dict()) for one in batch.readings], batch.sent) for _, device, batch in known
        ]
        told = dict(zip((n for n, _, _ in known), hand_in_together(batches), strict=True))
    except OperationalError as problem:
        _log.error("the database at the loggers' door: %s", problem)
        return [(507, {"says": disk_says(problem)})] * len(handed)
    except Exception:
        _log.exception("unforeseen at the loggers' door")
        if len(handed) > 1:  # whatever it was, it is one batch's: the others are taken
            return [_store_together([one])[0] for one in handed]
        return [
            (
                500,
                {
                    "says": (
                        "Something went wrong here that we did not foresee. Nothing of this batch was stored; send "
                        "it again."
                    )
                },
            )
        ]
    return [_worded(told[n]) if n in told else (401, {"says": UNKNOWN_TOKEN}) for n in range(len(handed))]


def _worded(answer: Taken | NotNow | SheetError) -> Answer:
    if isinstance(answer, Taken):
        return 201, taken_out(answer).model_dump(mode="json")
    if isinstance(answer, NotNow):
        return 409, {"says": str(answer)}
    return 422, {"says": in_sentence(answer.says), "field": answer.field}


def bearer(scope: Scope) -> str | None:
    """The token that a logger brings; None where it brings none."""
    for name, value in scope["headers"]:
        if name == b"authorization":
            kind, _, token = value.decode("latin-1").partition(" ")
            return token.strip() if kind.lower() == "bearer" and token.strip() else None
    return None


class _TooMuch(Exception):
    """A body longer than is taken at a time."""


async def _body(receive: Receive) -> bytes:
    found = bytearray()
    while True:
        message = await receive()
        if message["type"] == "http.disconnect":
            raise ValueError("cut short")
        found += message.get("body", b"")
        if len(found) > MOST_BYTES:
            raise _TooMuch
        if not message.get("more_body"):
            return bytes(found)


async def say(send: Send, status: int, data: dict[str, Any], *, close: bool = False) -> None:
    """Answer with a sentence. close  the line is closed after it: what else was being sent is not waited for"""
    body = json.dumps({"field": None, **data} if status >= 400 else data).encode()
    headers = [
        (b"content-type", b"application/json; charset=utf-8"),
        (b"content-length", str(len(body)).encode()),
        (b"cache-control", b"no-store"),
        (b"x-content-type-options", b"nosniff"),
        (b"cross-origin-resource-policy", b"same-origin"),
        *([(b"connection", b"close")] if close else []),
    ]
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": body})


# -- beside --------------------------------------------------------------------------------


class Beside:
    """The process beside, asked over a socket that only this user's processes can open."""

    def __init__(self, path: str) -> None:
        transport = httpx.AsyncHTTPTransport(
            uds=path, limits=httpx.Limits(max_connections=None, max_keepalive_connections=20)
        )
        self.path = Path(path)
        self.client = httpx.AsyncClient(transport=transport, timeout=None, follow_redirects=False)

    async def answer(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Hand a request on, and its answer back, a piece at a time; one that nobody waits for any more is let go."""
        query = scope["query_string"].decode("latin-1")
        url = httpx.URL("http://beside").copy_with(
            raw_path=scope["raw_path"] + (b"?" + query.encode("latin-1") if query else b"")
        )
        headers = [(n, v) for n, v in scope["headers"] if n not in _OF_THE_CONNECTION and n != CALLER.encode()]
        caller = json.dumps([scope.get("client"), scope.get("server"), scope.get("scheme", "http")])
        gone, whole = asyncio.Event(), asyncio.Event()
        request = self.client.build_request(
            scope["method"],
            url,
            headers=[*headers, (CALLER.encode(), caller.encode())],
            content=_pieces(receive, gone, whole) if _has_body(scope) else None,
        )
        asking = asyncio.create_task(self._answer(request, send))
        leaving = asyncio.create_task(_left(receive, gone, whole, _has_body(scope)))
        try:
            await asyncio.wait({asking, leaving}, return_when=asyncio.FIRST_COMPLETED)
        finally:
            asking.cancel()
            leaving.cancel()
        await asyncio.gather(asking, leaving, return_exceptions=True)

    async def _listening(self) -> None:
        """Wait a little where it is just being begun."""
        deadline = time.monotonic() + BEGINS_WITHIN
        while not self.path.exists() and time.monotonic() < deadline:
            await asyncio.sleep(0.02)

    async def _answer(self, request: httpx.Request, send: Send) -> None:
        try:
            await self._listening()
            response = await self.client.send(request, stream=True)
        except httpx.HTTPError as problem:
            _log.error("the process beside does not answer: %s", problem)
            says = (
                "This part of Toad Bell is being started again. Readings are taken all the same; try again in a moment."
            )
            return await say(send, 503, {"says": says})
        try:
            headers = [(n.lower(), v) for n, v in response.headers.raw if n.lower() not in _OF_THE_ANSWER]
            await send({"type": "http.response.start", "status": response.status_code, "headers": headers})
            async for piece in response.aiter_raw():
                await send({"type": "http.response.body", "body": piece, "more_body": True})
            await send({"type": "http.response.body", "body": b""})
        except httpx.HTTPError as problem:
            _log.error("an answer from beside was cut short: %s", problem)
        finally:
            await response.aclose()


def _has_body(scope: Scope) -> bool:
    return any(n in (b"content-length", b"transfer-encoding") and v != b"0" for n, v in scope["headers"])


async def _pieces(receive: Receive, gone: asyncio.Event, whole: asyncio.Event) -> AsyncIterator[bytes]:
    while True:
        message = await receive()
        if message["type"] == "http.disconnect":
            gone.set()
            return
        if message.get("body"):
            yield message["body"]
        if not message.get("more_body"):
            whole.set()
            return


async def _left(receive: Receive, gone: asyncio.Event, whole: asyncio.Event, body: bool) -> None:
    """Until whoever asked has gone."""
    if body:
        both = [asyncio.create_task(gone.wait()), asyncio.create_task(whole.wait())]
        try:
            await asyncio.wait(both, return_when=asyncio.FIRST_COMPLETED)
        finally:
            for one in both:
                one.cancel()
        if gone.is_set():
            return
    while (await receive())["type"] != "http.disconnect":
        pass


class FromTheDoor:
    """In the process beside: whoever asked is who the door says it is."""

    def __init__(self) -> None:
        self.answers: Any = Straight()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer a request that the door handed on."""
        told = next((value for name, value in scope["headers"] if name == CALLER.encode()), b'[null, null, "http"]')
        client, server, scheme = json.loads(told)
        rest = [(name, value) for name, value in scope["headers"] if name != CALLER.encode()]
        await self.answers(
            {**scope, "client": client, "server": server, "scheme": scheme, "headers": rest}, receive, send
        )
