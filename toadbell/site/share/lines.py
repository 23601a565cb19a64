"""Lines from the network: counted before anything is said on them, and closed where nobody makes themselves known."""

import asyncio
import contextlib
import socket
import ssl
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, field

Client = tuple[str, int]
OF_AN_ADDRESS, IN_ALL, KEPT_FREE = 8, 64, 16
"""So many lines are open at a time: a browser opens six; and of all so many are kept free for addresses from which
somebody came who is let in.
"""
OF_FRIENDS = 32
"""From such an address: several phones may share one, behind a repeater."""
HANDSHAKE, HEARD_WITHIN = 10.0, 15.0
"""How long the handshake may take, and how long it may take till a request is whole, s."""


@dataclass
class Line:
    """A line that is open: from where; `heard` where a whole request came on it, or one of somebody who is let in."""

    client: Client
    heard: bool = False
    transport: asyncio.Transport | None = None
    due: asyncio.TimerHandle | None = field(default=None, repr=False)

    def close(self) -> None:
        """At once, with nothing said."""
        if self.transport is not None:
            self.transport.abort()


class Lines:
    """Every line of the second door. All of it happens in the network's loop."""

    def __init__(
        self, of_an_address: int = OF_AN_ADDRESS, in_all: int = IN_ALL, heard_within: float = HEARD_WITHIN
    ) -> None:
        self.of_an_address, self.in_all, self.heard_within = of_an_address, in_all, heard_within
        self.open: dict[Client, Line] = {}
        self.count: Counter[str] = Counter()
        self.of_friends: set[str] = set()

    async def accept(
        self, listens: socket.socket, protocol: Callable[[], asyncio.Protocol], secured: ssl.SSLContext | None
    ) -> None:
        """Take lines as they come where somebody listens, till this is cancelled; one too many is closed before a word
        is said on it.
        """
        loop = asyncio.get_running_loop()
        listens.setblocking(False)
        opening: set[asyncio.Task[None]] = set()
        while True:
            try:
                sock, (address, port, *_) = await loop.sock_accept(listens)
            except OSError:  # no file is left, or whoever came is gone again
                await asyncio.sleep(0.05)
                continue
            friend = address in self.of_friends
            room = self.in_all if friend else self.in_all - min(KEPT_FREE, self.in_all // 4)
            if len(self.open) >= room or self.count[address] >= (OF_FRIENDS if friend else self.of_an_address):
                sock.close()
                continue
            line = self._begin((address, port), loop)
            task = loop.create_task(self._open(line, sock, protocol, secured))
            opening.add(task)
            task.add_done_callback(opening.discard)

    async def _open(
        self, line: Line, sock: socket.socket, protocol: Callable[[], asyncio.Protocol], secured: ssl.SSLContext | None
    ) -> None:
        patience = {"ssl_handshake_timeout": HANDSHAKE, "ssl_shutdown_timeout": 1.0} if secured else {}
        try:
            transport, _ = await asyncio.get_running_loop().connect_accepted_socket(
                protocol, sock, ssl=secured, **patience
            )
        except (TimeoutError, OSError, ssl.SSLError):
            self.end(line.client)
            with contextlib.suppress(OSError):
                sock.close()
            return
        line.transport = transport
        if line.client not in self.open:  # it took too long
            transport.abort()

    def _begin(self, client: Client, loop: asyncio.AbstractEventLoop) -> Line:
        line = self.open[client] = Line(client)
        self.count[client[0]] += 1
        line.due = loop.call_later(self.heard_within, self._late, line)
        return line

    def _late(self, line: Line) -> None:
        if not line.heard:
            self.end(line.client)
            line.close()

    def end(self, client: Client) -> None:
        """A line is no more."""
        line = self.open.pop(client, None)
        if line is not None:
            self.count[client[0]] -= 1
            if line.due is not None:
                line.due.cancel()

    def heard(self, client: Client, *, friend: bool = False) -> None:
        """A whole request came on a line, or one of somebody who is let in: a friend."""
        if client in self.open:
            self.open[client].heard = True
        if friend:
            self.of_friends.add(client[0])

    def answered(self, client: Client) -> None:
        """A stranger was answered: the next whole request has to come as soon as the first."""
        line = self.open.get(client)
        if line is not None:
            line.heard = False
            if line.due is not None:
                line.due.cancel()
            line.due = asyncio.get_running_loop().call_later(self.heard_within, self._late, line)
