"""One writer, and a process beside: readings are taken whatever takes long, and whatever becomes of the other
process.
"""

import asyncio
import http.client
import json
import os
import signal
import threading
import time
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from tests.server.test_backup import ended
from tests.server.test_durability import Caller, free_port, running_trial, serve
from toadbell.site.door import Door

pytestmark = pytest.mark.xdist_group("door")


@pytest.fixture(scope="module")
def running(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[int, int, str]]:
    """The application with a run on the bench: its port, its process, the trial."""
    folder, port = tmp_path_factory.mktemp("door"), free_port()
    server = serve(folder, port)
    yield port, server.pid, running_trial(Caller(port))
    server.kill()
    server.wait()


class Line:
    """A logger on a connection of its own."""

    def __init__(self, port: int, trial: str, name: str) -> None:
        caller = Caller(port)
        self.token = caller.send("POST", "/api/devices", {"name": name})
        caller.send("POST", f"/api/trials/{trial}/devices/{self.token['id']}", {"on": True})
        self.line = http.client.HTTPConnection("127.0.0.1", port, timeout=20)

    def send(self, body: bytes | Any, token: str | None = None) -> tuple[int, Any]:
        data = body if isinstance(body, bytes) else json.dumps({"readings": body}).encode()
        headers = {"Content-Type": "application/json", "Authorization": f"Bearer {token or self.token['token']}"}
        self.line.request("POST", "/api/devices/readings", data, headers)
        answer = self.line.getresponse()
        return answer.status, json.loads(answer.read())


def test_single_readings_of_many_loggers_at_once_are_each_stored_and_each_answered(
    running: tuple[int, int, str],
) -> None:
    port, _, trial = running
    lines = [Line(port, trial, f"logger {n}") for n in range(12)]
    before = Caller(port).send("GET", f"/api/trials/{trial}/bench")["readings"]
    answers: list[tuple[int, Any]] = []

    def log(line: Line) -> None:
        answers.extend(line.send([{"id": str(n), "pressure": f"3.{n} bar", "ago": "0 s"}]) for n in range(8))

    hands = [threading.Thread(target=log, args=(line,)) for line in lines]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join(60)
    assert [status for status, _ in answers] == [201] * 96
    assert sorted(told["stored"][0] for _, told in answers) == sorted(str(n) for n in range(8) for _ in lines)
    assert Caller(port).send("GET", f"/api/trials/{trial}/bench")["readings"] == before + 96


def test_one_loggers_mistake_is_its_own_also_among_others(running: tuple[int, int, str]) -> None:
    port, _, trial = running
    good, bad = Line(port, trial, "good"), Line(port, trial, "bad")
    told: dict[str, tuple[int, Any]] = {}
    both = threading.Barrier(2)

    def send(name: str, line: Line, rows: Any) -> None:
        both.wait()
        told[name] = line.send(rows)

    hands = [
        threading.Thread(target=send, args=("good", good, [{"id": "1", "pressure": "3 bar"}])),
        threading.Thread(
            target=send, args=("bad", bad, [{"id": "1", "pressure": "3 bar", "at": "2001-01-01T00:00:00Z"}])
        ),
    ]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join(20)
    assert told["good"][0] == 201
    assert (told["bad"][0], "before the run began" in told["bad"][1]["says"]) == (422, True)


@pytest.mark.parametrize(
    ("body", "status", "says"),
    [
        (b"{", 400, "JSON"),
        (b"null", 422, "needed"),
        (b'{"readings": [{"id": "1", "pressure": "1 bar**9**9**9"}]}', 422, "8.3 bar"),
        (b'{"readings": [{"id": "1", "pressure": "3 bar", "ago": "1000000000 h"}]}', 422, "beyond anything"),
        (b'{"readings": [{"id": "", "pressure": "3 bar"}]}', 422, "least 1 character"),
        (b'{"readings": [{"id": "\\ud800", "pressure": "3 bar"}]}', 422, "cannot be kept"),
        (b"[" * 100_000, 400, "JSON"),
        (b" " * 10_000_001, 413, "10 MB"),
    ],
    ids=["cut short", "nothing", "a sum", "an age of the world", "no id", "half a letter", "deeply nested", "too much"],
)
def test_what_no_logger_should_send_is_refused_in_words_and_the_door_stays_open(
    running: tuple[int, int, str], body: bytes, status: int, says: str
) -> None:
    port, _, trial = running
    line = Line(port, trial, "odd")
    answer = line.send(body)
    assert (answer[0], says in answer[1]["says"]) == (status, True), answer
    line.line.close()
    assert line.send([{"id": "after", "pressure": "3 bar"}])[0] == 201
    assert line.send([{"id": "2", "pressure": "3 bar"}], token="tb_wrong")[0] == 401


def beside_of(server: int) -> int:
    """The process beside a door."""
    (found,) = [
        int(entry)
        for entry in os.listdir("/proc")
        if entry.isdigit() and _parent(entry) == server and b"beside" in Path(f"/proc/{entry}/cmdline").read_bytes()
    ]
    return found


def _parent(process: str) -> int | None:
    try:
        return int(Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[1])
    except OSError:
        return None


@pytest.mark.skipif(not Path("/proc/self/stat").exists(), reason="this system does not list its processes there")
def test_readings_are_taken_while_the_process_beside_is_gone_and_it_is_begun_again(
    running: tuple[int, int, str],
) -> None:
    port, server, trial = running
    line, caller = Line(port, trial, "steady"), Caller(port)
    gone = beside_of(server)
    os.kill(gone, signal.SIGSTOP)  # it hangs: nothing that is asked of it comes back
    begun = time.monotonic()
    assert line.send([{"id": "1", "pressure": "3 bar"}])[0] == 201
    caller.send("POST", f"/api/trials/{trial}/readings", [{"id": str(uuid.uuid4()), "pressure": "3.1 bar"}])
    caller.send(
        "POST", f"/api/trials/{trial}/steps", {"id": str(uuid.uuid4()), "kind": "note", "data": {"text": "all dry"}}
    )
    assert time.monotonic() - begun < 15
    os.kill(gone, signal.SIGKILL)
    assert line.send([{"id": "2", "pressure": "3 bar"}])[0] == 201
    deadline = time.monotonic() + 40
    while True:
        try:
            assert Caller(port).send("GET", f"/api/trials/{trial}/bench")["log"][0]["says"] == "all dry"
            break
        except (AssertionError, OSError, http.client.HTTPException):
            assert time.monotonic() < deadline
            time.sleep(0.3)
    assert beside_of(server) != gone


def test_a_job_runs_beside_readings_and_what_it_made_is_fetched(running: tuple[int, int, str]) -> None:
    port, _, trial = running
    caller, line = Caller(port), Line(port, trial, "through it all")
    begun = caller.send("POST", "/api/jobs", {"what": "export"})
    taken = 0
    while caller.send("GET", f"/api/jobs/{begun['id']}")["state"] == "running":
        assert line.send([{"id": f"n{taken}", "pressure": "3 bar"}])[0] == 201
        taken += 1
    told = ended(caller, begun)
    assert (told["state"], taken > 0) == ("done", True)
    fetch = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
    fetch.request("GET", told["file"])
    answer = fetch.getresponse()
    assert (answer.status, answer.read(2)) == (200, b"PK")
    assert told["name"] in (answer.getheader("content-disposition") or "")
    assert "started again meanwhile" in refused(caller, f"/api/jobs/{uuid.uuid4()}")


def refused(caller: Caller, path: str) -> str:
    try:
        caller.send("GET", path)
    except AssertionError as told:
        return str(told)
    raise AssertionError("it was answered")


def test_who_waits_while_it_is_stopped_is_told_so_and_sees_no_failure(tmp_path: Path) -> None:
    told: list[dict[str, Any]] = []
    scope = {"type": "http", "method": "GET", "path": "/api/vessels", "raw_path": b"/api/vessels", "query_string": b""}

    async def receive() -> dict[str, Any]:
        return await asyncio.get_running_loop().create_future()

    async def send(message: dict[str, Any]) -> None:
        told.append(message)

    async def stopped_while_waiting() -> None:
        waits = asyncio.create_task(Door(str(tmp_path / "never begun"))({**scope, "headers": []}, receive, send))
        await asyncio.sleep(0)
        waits.cancel()
        await waits

    asyncio.run(stopped_while_waiting())
    assert told[0]["status"] == 503
    assert "Toad Bell was stopped" in json.loads(told[1]["body"])["says"]
