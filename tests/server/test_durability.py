"""A reading that was acknowledged is on the disk, whatever becomes of the server."""

import http.client
import json
import os
import random
import signal
import socket
import sqlite3
import subprocess
import sys
import threading
import time
import uuid
from pathlib import Path

import pytest
from django.conf import settings

from tests.server.conftest import KIT, VESSEL
from toadbell.site.who import tells_who


def free_port() -> int:
    """A port that nobody listens on; below those that the system gives to whoever calls out, and no other worker's."""
    worker = int(os.environ.get("PYTEST_XDIST_WORKER", "gw0")[2:])
    while True:
        port = 8 * random.randrange(1500, 4000) + worker % 8
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) != 0:
                return port


class Caller:
    """A browser, as far as the API can tell."""

    def __init__(self, port: int) -> None:
        self.line = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
        self.cookies: dict[str, str] = {}
        self.send("GET", "/api/me")

    def send(self, method: str, path: str, body: object = None) -> dict:
        headers = {"Content-Type": "application/json", "Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items())}
        headers["X-CSRFToken"] = self.cookies.get("toadbell_csrf", "")
        self.line.request(method, path, json.dumps(body) if body is not None else None, headers)
        answer = self.line.getresponse()
        for cookie in answer.headers.get_all("Set-Cookie") or []:
            name, _, value = cookie.partition(";")[0].partition("=")
            self.cookies[name] = value
        data = json.loads(answer.read())
        assert answer.status < 300, data
        return data


def serve(data: Path, port: int) -> subprocess.Popen[str]:
    """The application as `make run` starts it; ready when it has said where it is."""
    server = subprocess.Popen(
        [sys.executable, "manage.py", "serve", "--port", str(port)],
        cwd=settings.BASE_DIR,
        stdout=subprocess.PIPE,
        text=True,
        env={**os.environ, "TOADBELL_DATA": str(data), **({} if tells_who() else {"TOADBELL_OPEN": "1"})},
    )
    assert server.stdout is not None
    said = server.stdout.readline()
    assert f"http://127.0.0.1:{port}" in said
    deadline = time.monotonic() + 20
    while time.monotonic() < deadline:
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return server
        time.sleep(0.05)
    raise AssertionError("the server did not open its port")


def running_trial(caller: Caller) -> str:
    vessel = caller.send("POST", "/api/vessels", {"name": "Tank", "sheet": VESSEL})
    plan = caller.send("POST", f"/api/vessels/{vessel['id']}/trials")
    plan = caller.send("PUT", f"/api/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **KIT}, "version": 1})
    caller.send("POST", f"/api/trials/{plan['id']}/freeze", {"seen": plan["seen"]})
    bench = caller.send("GET", f"/api/trials/{plan['id']}/bench")
    caller.send("POST", f"/api/trials/{plan['id']}/start", {"source": "dial", "seen": bench["seen"]})
    caller.send("POST", f"/api/trials/{plan['id']}/steps", {"id": str(uuid.uuid4()), "kind": "vent-shut"})
    return str(plan["id"])


def test_every_acknowledged_reading_outlives_a_kill(tmp_path: Path) -> None:
    port = free_port()
    server = serve(tmp_path, port)
    try:
        trial = running_trial(Caller(port))
        acknowledged: list[str] = []
        enough = threading.Event()

        def log_readings() -> None:
            caller = Caller(port)
            try:
                while True:
                    batch = [{"id": str(uuid.uuid4()), "pressure": f"{3 + i / 100:.2f} bar"} for i in range(25)]
                    acknowledged.extend(caller.send("POST", f"/api/trials/{trial}/readings", batch)["stored"])
                    if len(acknowledged) >= 200:
                        enough.set()
            except (OSError, http.client.HTTPException):
                return  # the server is gone, in the middle of a batch

        loggers = [threading.Thread(target=log_readings) for _ in range(3)]
        for logger in loggers:
            logger.start()
        assert enough.wait(60)
        server.send_signal(signal.SIGKILL)
        server.wait(10)
        for logger in loggers:
            logger.join(30)
        with sqlite3.connect(tmp_path / "toadbell.sqlite3") as database:
            kept = {str(uuid.UUID(row[0])) for row in database.execute("SELECT id FROM trials_reading")}
        assert len(acknowledged) >= 200
        assert set(acknowledged) <= kept
        server = serve(tmp_path, port)
        bench = Caller(port).send("GET", f"/api/trials/{trial}/bench")
        assert bench["state"] == "running"
        assert bench["phase"] == "raising"
        assert bench["readings"] == len(kept)
    finally:
        server.kill()
        server.wait(10)
        if server.stdout:
            server.stdout.close()


def test_a_port_in_use_is_said_with_how_to_choose_another(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        told = subprocess.run(
            [sys.executable, "manage.py", "serve", "--port", str(port)],
            cwd=settings.BASE_DIR,
            env={**os.environ, "TOADBELL_DATA": str(tmp_path)},
            capture_output=True,
            text=True,
            timeout=60,
        )
    assert told.returncode != 0
    assert f"make demo PORT={port + 1}" in told.stderr


@pytest.mark.parametrize("threads", [6])
def test_readings_from_several_hands_at_once_are_all_stored(threads: int, tmp_path: Path) -> None:
    port = free_port()
    server = serve(tmp_path, port)
    try:
        trial = running_trial(Caller(port))
        failed: list[BaseException] = []

        def log_readings() -> None:
            try:
                caller = Caller(port)
                for _ in range(15):
                    caller.send(
                        "POST", f"/api/trials/{trial}/readings", [{"id": str(uuid.uuid4()), "pressure": "3 bar"}]
                    )
            except BaseException as problem:
                failed.append(problem)

        hands = [threading.Thread(target=log_readings) for _ in range(threads)]
        for hand in hands:
            hand.start()
        for hand in hands:
            hand.join(60)
        assert not failed
        with sqlite3.connect(tmp_path / "toadbell.sqlite3") as database:
            assert database.execute("SELECT count(*) FROM trials_reading").fetchone()[0] == threads * 15
    finally:
        server.kill()
        server.wait(10)
        if server.stdout:
            server.stdout.close()
