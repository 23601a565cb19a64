"""What strangers on the network can do to a workshop, one thing after another and all at once, each for some seconds:
how long a reading at the desk takes meanwhile, how long a phone that is let in, and by how much the log grows.

usage: python tools/strangers.py [SECONDS]      (make strangers: ten each)
"""

import contextlib
import http.client
import json
import multiprocessing
import os
import socket
import ssl
import subprocess
import sys
import tempfile
import threading
import time
import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Any

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "toadbell.site.settings")
ADDRESS, PHONE, STRANGER = "127.0.0.2", "127.0.0.9", "127.0.3.{n}"
PIECE = b"1000\r\n" + b"x" * 0x1000 + b"\r\n"


def line(port: int, n: int, *, secured: bool = True) -> socket.socket:
    """A line of a stranger at one of their addresses."""
    sock = socket.create_connection((ADDRESS, port), 5, source_address=(STRANGER.format(n=1 + n % 200), 0))
    if not secured:
        return sock
    return ssl._create_unverified_context().wrap_socket(sock, server_hostname=ADDRESS)


def head(path: str, port: int, *more: str) -> bytes:
    """A request without its body."""
    return "\r\n".join([f"POST {path} HTTP/1.1", f"Host: {ADDRESS}:{port}", *more, "", ""]).encode()


def json_without_a_token(port: int, n: int) -> None:
    """Nine megabytes of it."""
    one = line(port, n)
    one.sendall(head("/api/devices/readings", port, "Content-Length: 9000000", "Content-Type: application/json"))
    for _ in range(90):
        one.sendall(b"[" * 100_000)


def silent_lines(port: int, n: int, *, secured: bool = False, many: int = 1100) -> None:
    """Opened, and nothing said."""
    kept = []
    for k in range(many):
        with contextlib.suppress(OSError):
            kept.append(line(port, n + k, secured=secured))
    time.sleep(1)


def silent_secured_lines(port: int, n: int) -> None:
    """The same, after the handshake."""
    silent_lines(port, n, secured=True, many=205)


def chunks(port: int, n: int) -> None:
    """Four hundred megabytes, a piece at a time."""
    one = line(port, n)
    one.sendall(head("/api/join", port, "Transfer-Encoding: chunked", "Content-Type: application/json"))
    for _ in range(100_000):
        one.sendall(PIECE)


def endless_headers(port: int, n: int) -> None:
    """Headers without an end."""
    one = line(port, n)
    one.sendall(f"GET / HTTP/1.1\r\nHost: {ADDRESS}:{port}\r\n".encode())
    for k in range(100_000):
        one.sendall(f"X-{k}: {'a' * 500}\r\n".encode())


def descriptions(port: int, n: int) -> None:
    """Ten asked for, and none waited for."""
    for k in range(10):
        one = line(port, n + k)
        one.sendall(f"GET /api/openapi.json HTTP/1.1\r\nHost: {ADDRESS}:{port}\r\n\r\n".encode())
        one.close()


ATTACKS: dict[str, Callable[[int, int], None]] = {
    "9 MB of JSON without a token": json_without_a_token,
    "1100 silent lines": silent_lines,
    "400 MB in pieces": chunks,
    "205 silent TLS lines": silent_secured_lines,
    "endless headers": endless_headers,
    "ten descriptions, asked and left": descriptions,
}


def attack(names: list[str], port: int, seconds: float) -> None:
    """Again and again, each in two threads: in a process of its own."""
    until = time.monotonic() + seconds

    def again(act: Callable[[int, int], None], n: int) -> None:
        while time.monotonic() < until:
            with contextlib.suppress(OSError):
                act(port, n)
            n += 7

    for n, name in enumerate(names):
        for k in range(2):
            threading.Thread(target=again, args=(ATTACKS[name], 10 * n + k), daemon=True).start()
    time.sleep(seconds)


class Phone:
    """A phone that is let in, over a line of its own."""

    def __init__(self, port: int, words: str) -> None:
        self.port, self.cookies = port, {}  # type: ignore[var-annotated]
        self.ask("GET", "/")
        assert self.ask("POST", "/api/join", {"words": words, "device": "a phone"}) == 201

    def ask(self, method: str, path: str, body: Any = None) -> int:
        """Its status; each on a line of its own, as after a screen was locked."""
        context = ssl._create_unverified_context()
        kept = http.client.HTTPSConnection(ADDRESS, self.port, timeout=20, source_address=(PHONE, 0), context=context)
        told = {
            "Content-Type": "application/json",
            "Cookie": "; ".join(f"{key}={value}" for key, value in self.cookies.items()),
            "X-CSRFToken": self.cookies.get("toadbell_csrf", ""),
            "Referer": f"https://{ADDRESS}:{self.port}/",
        }
        kept.request(method, path, None if body is None else json.dumps(body), told)
        answer = kept.getresponse()
        answer.read()
        for cookie in answer.headers.get_all("Set-Cookie") or []:
            name, _, value = cookie.partition(";")[0].partition("=")
            self.cookies[name] = value
        kept.close()
        return answer.status


def measured(act: Callable[[], None], seconds: float, rest: float) -> list[float]:
    """How long it takes again and again, ms, sorted."""
    took, until = [], time.monotonic() + seconds
    while time.monotonic() < until:
        begun = time.perf_counter()
        act()
        took.append((time.perf_counter() - begun) * 1000)
        time.sleep(rest)
    return sorted(took)


def main() -> int:
    """Do all of it, and print the table."""
    import django

    django.setup()
    from tests.server.test_durability import Caller, free_port, running_trial

    seconds = float(sys.argv[1]) if len(sys.argv) > 1 else 10.0
    folder, port = Path(tempfile.mkdtemp(prefix="strangers-")), free_port()
    log = (folder / "log").open("w")
    env = {**os.environ, "TOADBELL_DATA": str(folder / "data"), "TOADBELL_SHARE_ON_LOOPBACK": "1", "TOADBELL_OPEN": "1"}
    command = [sys.executable, "manage.py", "serve", "--port", str(port)]
    server = subprocess.Popen(command, cwd=TOP, env=env, stdout=log, stderr=log)
    try:
        while "Toad Bell is at" not in (folder / "log").read_text():
            time.sleep(0.1)
        while True:
            with contextlib.suppress(OSError):
                socket.create_connection(("127.0.0.1", port), 1).close()
                break
            time.sleep(0.1)
        desk = Caller(port)
        trial = running_trial(desk)
        there: Any = desk.send("POST", "/api/share", {"address": ADDRESS, "minutes": 60})
        far = int(there["url"].rpartition(":")[2])
        invited: Any = desk.send("POST", "/api/invitations", {"name": "Maren Oddy", "role": "maker"})
        phone = Phone(far, invited["words"])

        def reads() -> None:
            reading = {"id": str(uuid.uuid4()), "pressure": "3.2 bar"}
            desk.send("POST", f"/api/trials/{trial}/readings", [reading])

        lost: list[str] = []

        def looks() -> None:
            with contextlib.suppress(OSError, http.client.HTTPException):
                if phone.ask("POST", f"/api/trials/{trial}/look") == 200:
                    return
            lost.append("a look")

        print("| strangers do | a reading at the desk: median, at 95 %, slowest", end=" ")
        print("| a phone's look: median, slowest | not answered | log |")
        print("| --- | --- | --- | ---: | ---: |")
        for name, acts in [("nothing", []), *((one, [one]) for one in ATTACKS), ("all of it at once", list(ATTACKS))]:
            before, done = (folder / "log").stat().st_size, []
            lost.clear()
            attacker = multiprocessing.get_context("spawn").Process(target=attack, args=(acts, far, seconds))
            if acts:
                attacker.start()
                time.sleep(1.5)
            looking = threading.Thread(target=lambda: done.append(measured(looks, seconds - 2, 0.3)))  # noqa: B023
            looking.start()
            took = measured(reads, seconds - 2, 0.1)
            looking.join()
            if acts:
                attacker.kill()
                attacker.join()
            grew = ((folder / "log").stat().st_size - before) / 1000
            (seen,) = done
            at95 = took[int(0.95 * len(took))]
            print(
                f"| {name} | {took[len(took) // 2]:.0f}, {at95:.0f}, {took[-1]:.0f} ms | {seen[len(seen) // 2]:.0f}, "
                f"{seen[-1]:.0f} ms | {len(lost)} of {len(seen)} | {grew:.0f} kB |",
                flush=True,
            )
    finally:
        server.kill()
        server.wait()
    return 0


if __name__ == "__main__":
    sys.exit(main())
