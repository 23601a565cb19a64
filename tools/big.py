"""A big workshop, and how quick its pages are, how much memory its long jobs take, and what a reading waits meanwhile.

usage: python tools/big.py [READINGS]      (5 million by default, on 500 vessels and 2000 trials; a part of `make
bench`)
"""

import contextlib
import http.client
import json
import os
import sqlite3
import sys
import tempfile
import threading
import time
import uuid
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "toadbell.site.settings")
STORED = TOP / "tests" / "stored"
VESSELS, TRIALS = 500, 2000


def build(folder: Path, readings: int) -> None:
    """Lay a big workshop down: one of a release's, its vessel and its decided trial many times over."""
    from tests.server.test_backup import manage

    with zipfile.ZipFile(sorted(STORED.iterdir())[-1] / "backup.zip") as found:
        found.extract("toadbell.sqlite3", folder)
    told = manage(folder, "backup")  # brings it up to date
    assert told.returncode == 0, told.stderr
    with contextlib.closing(sqlite3.connect(folder / "toadbell.sqlite3")) as database:
        database.execute("PRAGMA synchronous=OFF")
        (pattern,) = database.execute("SELECT trial_id FROM trials_decision").fetchone()
        (home,) = database.execute("SELECT vessel_id FROM trials_trial WHERE id=?", [pattern]).fetchone()
        database.execute("UPDATE trials_trial SET state='aborted' WHERE state='running'")
        for n in range(VESSELS):
            vessel = _id(1, n)
            _again(database, "shed_vessel", "id=?", [home], id=vessel, name=f"Tank {n:03d}")
            for m in range(TRIALS // VESSELS):
                _trial(database, pattern, vessel, n * (TRIALS // VESSELS) + m, m + 1)
        _readings(database, readings)
        database.commit()


def _trial(database: sqlite3.Connection, pattern: str, vessel: str, n: int, number: int) -> None:
    trial = _id(2, n)
    _again(database, "trials_trial", "id=?", [pattern], id=trial, vessel_id=vessel, number=number, copied_from_id=None)
    for k, (event,) in enumerate(
        database.execute("SELECT id FROM trials_event WHERE trial_id=?", [pattern]).fetchall()
    ):
        _again(database, "trials_event", "id=?", [event], id=_id(3, n * 1000 + k), trial_id=trial)
    for table in ("trials_verdict", "trials_decision"):
        _again(database, table, "trial_id=?", [pattern], id=10_000 + n, trial_id=trial)


def _readings(database: sqlite3.Connection, readings: int) -> None:
    each = readings // TRIALS

    def rows() -> Iterator[tuple[Any, ...]]:
        for n in range(TRIALS):
            trial = _id(2, n)
            for k in range(each):
                at = f"2026-11-{1 + k % 25:02d} {k // 3600 % 24:02d}:{k // 60 % 60:02d}:{k % 60:02d}.{n % 1000:03d}000"
                yield _id(4, n * each + k), trial, at, 1_275_000.0 - k, 289.15, k // 10, "dial", at

    database.executemany(
        "INSERT INTO trials_reading (id, trial_id, at, pressure, temperature, strokes, source, stored_at) VALUES "
        "(?,?,?,?,?,?,?,?)",
        rows(),
    )


def _again(database: sqlite3.Connection, table: str, where: str, values: list[Any], **other: Any) -> None:
    columns = [row[1] for row in database.execute("SELECT * FROM pragma_table_info(?)", [table])]
    shown = ", ".join("?" if column in other else f'"{column}"' for column in columns)
    named = ", ".join(f'"{column}"' for column in columns)
    given = [other[column] for column in columns if column in other]
    database.execute(f"INSERT INTO {table} ({named}) SELECT {shown} FROM {table} WHERE {where}", [*given, *values])


def _id(kind: int, n: int) -> str:
    return f"{kind:08x}{0:08x}{n:016x}"


# -- measured --------------------------------------------------------------------------------


class Memory(threading.Thread):
    """The most memory that any process a server begins takes, bytes, and the server's own."""

    def __init__(self, top: int) -> None:
        super().__init__(daemon=True)
        self.top, self.most, self.over = top, 0, threading.Event()

    def run(self) -> None:
        """Look ten times a second."""
        while not self.over.wait(0.1):
            for process in _under(self.top):
                with contextlib.suppress(OSError, StopIteration, ValueError):
                    if b"job" in Path(f"/proc/{process}/cmdline").read_bytes():
                        lines = Path(f"/proc/{process}/status").read_text().splitlines()
                        self.most = max(
                            self.most, int(next(one for one in lines if one.startswith("VmHWM")).split()[1]) * 1024
                        )


def _under(top: int) -> list[int]:
    parents = {}
    for entry in os.listdir("/proc"):
        if entry.isdigit():
            with contextlib.suppress(OSError, ValueError, IndexError):
                parents[int(entry)] = int(Path(f"/proc/{entry}/stat").read_text().rpartition(")")[2].split()[1])
    found, more = {top}, True
    while more:
        new = {child for child, parent in parents.items() if parent in found} - found
        found |= new
        more = bool(new)
    return sorted(found)


class Reader(threading.Thread):
    """Somebody who reads a dial four times a second, and how long each reading waits."""

    def __init__(self, port: int, token: str) -> None:
        super().__init__(daemon=True)
        self.port, self.token, self.taken, self.over = port, token, [], threading.Event()  # type: ignore[var-annotated]

    def run(self) -> None:
        """Post until told to stop."""
        line = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        while not self.over.wait(0.25):
            body = json.dumps({"readings": [{"id": str(uuid.uuid4()), "pressure": "3.2 bar", "ago": "0 s"}]})
            begun = time.perf_counter()
            line.request(
                "POST",
                "/api/devices/readings",
                body,
                {"Content-Type": "application/json", "Authorization": f"Bearer {self.token}"},
            )
            answer = line.getresponse()
            answer.read()
            assert answer.status == 201, answer.status
            self.taken.append((time.perf_counter() - begun) * 1000)

    def says(self) -> str:
        """Median, at 95 %, slowest; ms."""
        taken = sorted(self.taken) or [0.0]
        middle, at95, slowest = taken[len(taken) // 2], taken[int(0.95 * len(taken))], taken[-1]
        return f"{middle:6.0f} / {at95:6.0f} / {slowest:6.0f} ms of {len(taken)}"


def main() -> None:
    """Build it, serve it, measure it."""
    import django

    django.setup()
    from tests.server.test_durability import Caller, free_port, running_trial, serve

    readings = int(sys.argv[1]) if len(sys.argv) > 1 else 5_000_000
    with tempfile.TemporaryDirectory() as top:
        folder = Path(top)
        begun = time.perf_counter()
        build(folder, readings)
        size = (folder / "toadbell.sqlite3").stat().st_size
        print(
            f"{VESSELS} vessels, {TRIALS} trials, {readings:,} readings, {size / 1e6:.0f} MB; made in "
            f"{time.perf_counter() - begun:.0f} s"
        )
        port = free_port()
        server = serve(folder, port)
        try:
            caller: Any = Caller(port)
            trial = running_trial(caller)
            device = caller.send("POST", "/api/devices", {"name": "logger"})
            caller.send("POST", f"/api/trials/{trial}/devices/{device['id']}", {"on": True})
            past = str(uuid.UUID(_id(2, 7)))
            with contextlib.closing(sqlite3.connect(folder / "toadbell.sqlite3")) as database:
                judged = str(
                    uuid.UUID(database.execute("SELECT trial_id FROM trials_decision ORDER BY id").fetchone()[0])
                )
            for path in (
                "shed",
                "shed?page=5",
                "due",
                "logbook",
                "logbook?text=dry",
                "kit",
                f"trials/{past}/plan",
                f"trials/{past}/judge",
                f"records/{past}",
                f"trials/{trial}/bench",
                f"trials/{trial}/bench/live",
            ):
                page(caller, path)
            for what in ("judge", "pdf", "search", "export", "backup", "preview", "restore"):
                long(caller, port, server.pid, device["token"], what, folder, trial, judged)
        finally:
            server.kill()
            server.wait()


def page(caller: Any, path: str) -> None:
    """How long a page's answer takes: the first time, and warm."""
    taken = []
    for _ in range(6):
        begun = time.perf_counter()
        caller.send("GET", f"/api/{path}")
        taken.append((time.perf_counter() - begun) * 1000)
    name = path.partition("/")[0] + "/…/" + path.rpartition("/")[2] if "/" in path else path
    print(f"GET {name:36s} {taken[0]:8.0f} ms first {sorted(taken[1:])[2]:8.0f} ms warm")


def long(caller: Any, port: int, server: int, token: str, what: str, folder: Path, trial: str, past: str) -> None:
    """A long answer or job: how long it takes, its memory, and what a reading waits meanwhile."""
    if what == "restore":  # nothing is put back under a run
        type(caller)(port).send("POST", f"/api/trials/{trial}/steps", {"id": str(uuid.uuid4()), "kind": "dumped"})
    memory, reader = Memory(server), Reader(port, token)
    memory.start()
    if what != "restore":
        reader.start()
    begun = time.perf_counter()
    caller = type(caller)(port)  # one that idled is closed by now
    if what in ("judge", "pdf", "search"):
        for _ in range(8):
            path = {
                "judge": f"trials/{past}/judge/what-if",
                "pdf": f"records/{past}/report.pdf?full=true",
                "search": f"logbook?text={uuid.uuid4()}",
            }[what]
            _fetch(
                caller, "POST" if what == "judge" else "GET", f"/api/{path}", {"ignore": 0} if what == "judge" else None
            )
        taken = (time.perf_counter() - begun) / 8
    else:
        told = _job(caller, port, what, folder)
        taken = time.perf_counter() - begun
        if told["state"] != "done":
            print(f"{what}: {told['says']}")
    memory.over.set()
    reader.over.set()
    if what != "restore":
        reader.join(60)
    size = f"{memory.most / 1e6:6.0f} MB" if memory.most else ""
    print(f"{what:12s} {taken:8.1f} s {size:10s} a reading meanwhile {reader.says() if what != 'restore' else '–'}")


def _fetch(caller: Any, method: str, path: str, body: Any) -> None:
    line = http.client.HTTPConnection("127.0.0.1", caller.line.port, timeout=600)
    headers = {
        "Content-Type": "application/json",
        "X-CSRFToken": caller.cookies["toadbell_csrf"],
        "Cookie": f"toadbell_csrf={caller.cookies['toadbell_csrf']}",
    }
    line.request(method, path, json.dumps(body) if body is not None else None, headers)
    answer = line.getresponse()
    answer.read()
    assert answer.status == 200, answer.status


def _job(caller: Any, port: int, what: str, folder: Path) -> Any:
    from tests.server.test_backup import with_file

    made = folder.parent / f"{folder.name}-package.zip"
    if what == "preview":
        told = with_file(caller, port, "/api/jobs/with-file", made.read_bytes(), what="preview")[1]
        made.unlink()
    elif what == "restore":
        told = caller.send(
            "POST", "/api/jobs", {"what": "restore", "name": caller.send("GET", "/api/backups")["backups"][0]["name"]}
        )
    else:
        told = caller.send("POST", "/api/jobs", {"what": what})
    while told["state"] == "running":
        time.sleep(0.5)
        told = type(caller)(port).send("GET", f"/api/jobs/{told['id']}")
    if what == "export" and told["file"]:
        line = http.client.HTTPConnection("127.0.0.1", port, timeout=600)
        line.request("GET", told["file"])
        answer = line.getresponse()
        with made.open("wb") as out:
            while piece := answer.read(1 << 20):
                out.write(piece)
    return told


if __name__ == "__main__":
    main()
