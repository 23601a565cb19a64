"""Strangers on the network: counted, bounded in bytes and time, and never in the way of who works at the desk."""

import asyncio
import contextlib
import socket
import ssl
import time
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tests.server.hosts import Browser, Net
from tests.server.test_share import Shop, soon
from toadbell.site.share.gate import MOST_OF_A_STRANGER
from toadbell.site.share.lines import IN_ALL, OF_AN_ADDRESS, Line, Lines

pytestmark = pytest.mark.xdist_group("share")


@pytest.fixture(scope="module")
def shop(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Shop]:
    """A workshop with a network of its own, in which a stranger is."""
    net = Net()
    running = Shop(net, tmp_path_factory.mktemp("strangers"))
    yield running
    running.process.kill()
    running.process.wait()
    net.close()


class Stranger:
    """A line from the yard that says what it likes."""

    def __init__(self, shop: Shop, port: int, source: str = "", secured: bool = True) -> None:
        self.sock: socket.socket = shop.net.connected(False, shop.net.address, port, source)
        if secured:
            trusting = ssl._create_unverified_context()
            self.sock = trusting.wrap_socket(self.sock, server_hostname=shop.net.address)

    def says(self, data: bytes) -> None:
        """Send it, as far as anybody takes it."""
        with contextlib.suppress(OSError):
            self.sock.sendall(data)

    def hears(self, within: float = 15.0) -> bytes:
        """All that is answered till the line is closed."""
        self.sock.settimeout(within)
        heard = b""
        with contextlib.suppress(OSError):
            while piece := self.sock.recv(65536):
                heard += piece
        return heard


def head(path: str, address: str, port: int, *more: str) -> bytes:
    """A request without its body."""
    lines = [f"POST {path} HTTP/1.1", f"Host: {address}:{port}", "Content-Type: application/json", *more]
    return "\r\n".join([*lines, "", ""]).encode()


def at_the_desk(shop: Shop, trial: str, times: int = 20) -> list[float]:
    """How long readings take at the desk meanwhile, s, sorted."""
    took = []
    for _ in range(times):
        begun = time.monotonic()
        reading = {"id": str(uuid.uuid4()), "pressure": "3.2 bar"}
        assert shop.desk.ask("POST", f"/api/trials/{trial}/readings", [reading])[0] == 201
        took.append(time.monotonic() - begun)
    return sorted(took)


def test_more_than_a_stranger_may_say_is_refused_before_it_is_sent(shop: Shop) -> None:
    port, address = shop.open(), shop.net.address
    long = Stranger(shop, port)
    long.says(head("/api/join", address, port, "Content-Length: 9000000"))
    assert b" 413 " in long.hears()[:20]
    chunked = Stranger(shop, port)
    chunked.says(head("/api/vessels", address, port, "Transfer-Encoding: chunked"))
    piece = b"1000\r\n" + b"x" * 0x1000 + b"\r\n"
    for _ in range(MOST_OF_A_STRANGER // 0x1000 + 2):
        chunked.says(piece)
    assert b" 413 " in chunked.hears()[:20]
    logger = Stranger(shop, port)
    logger.says(head("/api/devices/readings", address, port, "Content-Length: 9000000"))
    assert b" 401 " in logger.hears()[:20]
    assert not list(shop.folder.glob("*.upload*"))


def test_of_one_address_a_few_lines_are_open_and_the_others_are_closed_unheard(shop: Shop) -> None:
    port = shop.open()
    kept = [Stranger(shop, port) for _ in range(OF_AN_ADDRESS)]
    with pytest.raises(OSError, match=r"."):
        Stranger(shop, port).sock.do_handshake()  # type: ignore[attr-defined]
    other = Browser(shop.net, port, shop.workshop, source=shop.net.other)
    assert other.ask("GET", "/api/who")[0] == 200  # another address has its own
    for one in kept:
        one.sock.close()
    soon(lambda: answered(shop, port))


def answered(shop: Shop, port: int) -> bool:
    try:
        return Browser(shop.net, port, shop.workshop).ask("GET", "/api/who")[0] == 200
    except OSError:
        return False


def test_headers_without_an_end_are_not_read_to_the_end(shop: Shop) -> None:
    port = shop.open()
    one = Stranger(shop, port)
    one.says(f"GET / HTTP/1.1\r\nHost: {shop.net.address}:{port}\r\n".encode())
    for n in range(200):
        one.says(f"X-{n}: {'a' * 1000}\r\n".encode())
    assert one.hears()[:12] in (b"", b"HTTP/1.1 400", b"HTTP/1.1 431")


def test_the_description_is_for_whoever_is_let_in(shop: Shop) -> None:
    port = shop.open()
    assert Browser(shop.net, port, shop.workshop).ask("GET", "/api/openapi.json")[0] == 401
    phone = shop.phone(port, name="Hanne Brill", role="watcher")
    assert "paths" in phone.ask("GET", "/api/openapi.json")[1]


def test_while_strangers_do_all_of_it_at_once_the_desk_is_heard_and_a_phone_comes_through(shop: Shop) -> None:
    trial, port, address = shop.trial(), shop.open(), shop.net.address
    phone = shop.phone(port, name="Maren Oddy", role="maker")
    log = shop.folder / "stranger.log"
    held: list[Any] = []
    with contextlib.suppress(OSError):
        for n in range(2 * IN_ALL):
            one = Stranger(shop, port, shop.net.other, secured=n % 2 == 0)
            one.says(head("/api/join", address, port, "Content-Length: 15000") + b"{" * 900)
            held.append(one)
    took = at_the_desk(shop, trial)
    asked = phone.ask("POST", f"/api/trials/{trial}/look")
    assert asked[0] == 200
    assert took[len(took) // 2] < 1.0  # a bound that no machine under test misses; the figures are in make soak
    assert not log.exists() or log.stat().st_size < 100_000
    for one in held:
        one.sock.close()


def test_a_line_on_which_nothing_whole_comes_in_time_is_closed() -> None:
    """Silent, and dripping: the same, for it is the whole request that is waited for."""

    async def tried() -> tuple[bytes, int]:
        lines = Lines(of_an_address=2, in_all=3, heard_within=0.2)
        listens = socket.create_server(("127.0.0.1", 0))
        accepting = asyncio.create_task(lines.accept(listens, asyncio.Protocol, None))
        reader, writer = await asyncio.open_connection(*listens.getsockname())
        for _ in range(3):
            writer.write(b"X")
            await asyncio.sleep(0.02)
        heard = await asyncio.wait_for(reader.read(), 5)
        accepting.cancel()
        listens.close()
        return heard, len(lines.open)

    assert asyncio.run(tried()) == (b"", 0)


def test_room_is_kept_for_addresses_from_which_somebody_came_who_is_let_in() -> None:
    async def tried(friend: bool) -> bool:
        lines = Lines(of_an_address=8, in_all=4)
        lines.open |= {("10.0.0.1", n): Line(("10.0.0.1", n)) for n in range(3)}
        if friend:
            lines.heard(("127.0.0.1", 1), friend=True)
        listens = socket.create_server(("127.0.0.1", 0))
        accepting = asyncio.create_task(lines.accept(listens, asyncio.Protocol, None))
        reader, _ = await asyncio.open_connection(*listens.getsockname())
        with contextlib.suppress(TimeoutError, ConnectionError):
            return await asyncio.wait_for(reader.read(1), 0.5) != b""
        accepting.cancel()
        listens.close()
        return len(lines.open) == 4

    assert [asyncio.run(tried(friend)) for friend in (False, True)] == [False, True]


def test_lines_are_counted_off_again(tmp_path: Path) -> None:
    lines = Lines()
    loop = asyncio.new_event_loop()
    for port in range(5):
        lines._begin(("10.0.0.1", port), loop)
    lines.end(("10.0.0.1", 3))
    lines.end(("10.0.0.1", 3))
    assert (lines.count["10.0.0.1"], len(lines.open)) == (4, 4)
    loop.close()
