"""Everything at once for some minutes, on this machine alone: what was acknowledged, and what of it is there
afterwards.

Twenty loggers post single readings; five people watch; strangers do all they can at the door to the network; exports
and backups run; the server is killed and begun again; the wall's clock is put forward and back; the disk fills up and
is emptied again (where a small one can be made: that takes root).

usage: python tools/soak.py [MINUTES]      (make soak: ten)
"""

import contextlib
import http.client
import json
import multiprocessing
import os
import random
import shutil
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import Any

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "toadbell.site.settings")
LOGGERS, WATCHERS, EACH_SECOND = 20, 5, 4
KILL_EVERY, FULL_EVERY, FULL_FOR, STEP_EVERY, JOB_EVERY = 45.0, 70.0, 6.0, 30.0, 12.0
DISK = "220m"


class Soak:
    """What is tried, and what was answered."""

    def __init__(self, folder: Path, small_disk: bool) -> None:
        self.folder, self.small_disk = folder, small_disk
        self.acknowledged: dict[str, set[str]] = {}
        self.taken: list[float] = []
        self.looks: list[float] = []
        self.refused: dict[int, int] = {}
        self.counts = dict.fromkeys(
            (
                "kills",
                "steps of the clock",
                "times the disk was full",
                "exports and backups",
                "jobs that failed",
                "attacks of strangers, 20 s each",
            ),
            0,
        )
        self.over = threading.Event()
        self.lock = threading.Lock()
        self.port, self.server, self.trial = 0, None, ""  # type: ignore[assignment]
        self.shift = folder.parent / "shift"
        self.shift.write_text("0")

    # -- the server --------------------------------------------------------------------------------

    def serve(self) -> None:
        """Begin it, with the wall's clock that this soak puts forward and back."""
        from tests.server.test_durability import serve

        os.environ["TOADBELL_WALL_SHIFT"], os.environ["TOADBELL_SHARE_ON_LOOPBACK"] = str(self.shift), "1"
        self.server = serve(self.folder, self.port)

    def kill(self) -> None:
        """Kill it in the middle of whatever it does, and begin it again."""
        self.server.send_signal(signal.SIGKILL)
        self.server.wait()
        self.counts["kills"] += 1
        self.serve()

    # -- those who use it --------------------------------------------------------------------------------

    def logger(self, number: int, token: str, device: str) -> None:
        """One reading after another; what is not acknowledged is sent again, as it was."""
        line = http.client.HTTPConnection("127.0.0.1", self.port, timeout=20)
        mine = self.acknowledged.setdefault(device, set())
        n = 0
        while not self.over.is_set():
            body = json.dumps({"readings": [{"id": f"{n}", "pressure": f"{3 + n % 50 / 100:.2f} bar", "ago": "0 s"}]})
            begun = time.perf_counter()
            try:
                line.request(
                    "POST",
                    "/api/devices/readings",
                    body,
                    {"Content-Type": "application/json", "Authorization": f"Bearer {token}"},
                )
                answer = line.getresponse()
                answer.read()
            except (OSError, http.client.HTTPException):
                line.close()
                time.sleep(0.3)
                continue
            if answer.status == 201:
                mine.add(str(n))
                self.taken.append((time.perf_counter() - begun) * 1000)
                n += 1
            else:
                with self.lock:
                    self.refused[answer.status] = self.refused.get(answer.status, 0) + 1
                time.sleep(0.3)
            time.sleep(random.uniform(0, 2 / EACH_SECOND))

    def watcher(self) -> None:
        """Somebody who looks at the bench, the shed, the logbook."""
        from tests.server.test_durability import Caller

        while not self.over.is_set():
            try:
                caller = Caller(self.port)
                for path in (
                    f"trials/{self.trial}/bench/live",
                    "shed",
                    f"trials/{self.trial}/bench/live",
                    "logbook?text=dry",
                ):
                    begun = time.perf_counter()
                    caller.send("GET", f"/api/{path}")
                    self.looks.append((time.perf_counter() - begun) * 1000)
                    time.sleep(0.4)
            except (OSError, http.client.HTTPException, AssertionError, ValueError):
                time.sleep(0.5)

    def jobs(self) -> None:
        """Exports and backups, one after another."""
        from tests.server.test_durability import Caller

        while not self.over.wait(JOB_EVERY):
            with contextlib.suppress(OSError, http.client.HTTPException, AssertionError, ValueError):
                caller = Caller(self.port)
                begun: Any = caller.send("POST", "/api/jobs", {"what": random.choice(["export", "backup"])})
                while (told := caller.send("GET", f"/api/jobs/{begun['id']}"))["state"] == "running":  # type: ignore[call-overload]
                    time.sleep(0.3)
                self.counts["exports and backups" if told["state"] == "done" else "jobs that failed"] += 1  # type: ignore[call-overload]
                for old in sorted((self.folder / "backups").glob("*.zip"))[:-1]:
                    old.unlink()

    def stranger(self) -> None:
        """All that strangers do at once, at the door to the network, which is opened again as often as it is closed."""
        from tests.server.test_durability import Caller
        from tools.strangers import ADDRESS, ATTACKS, attack

        while not self.over.is_set():
            with contextlib.suppress(OSError, http.client.HTTPException, AssertionError, ValueError):
                told: Any = Caller(self.port).send("POST", "/api/share", {"address": ADDRESS, "minutes": 60})
                port = int(told["url"].rpartition(":")[2])
                at_it = multiprocessing.get_context("spawn").Process(target=attack, args=(list(ATTACKS), port, 20.0))
                at_it.start()
                while at_it.is_alive() and not self.over.wait(0.2):
                    pass
                at_it.kill()
                self.counts["attacks of strangers, 20 s each"] += 1
            self.over.wait(0.5)

    def trouble(self, until: float) -> None:
        """Kills, clocks and full disks, each at its time."""
        next_at = {self.kill: KILL_EVERY, self.step: STEP_EVERY, self.fill: FULL_EVERY}
        begun = time.monotonic()
        due = {act: begun + every for act, every in next_at.items()}
        while time.monotonic() < until:
            act = min(due, key=lambda one: due[one])
            if due[act] > until:
                break
            time.sleep(max(0.0, due[act] - time.monotonic()))
            act()
            due[act] = time.monotonic() + next_at[act]
        time.sleep(max(0.0, until - time.monotonic()))

    def step(self) -> None:
        """The wall's clock put forward or back by up to two hours."""
        self.shift.write_text(str(random.choice([-3600, 7200, -120, 0, 900])))
        self.counts["steps of the clock"] += 1

    def fill(self) -> None:
        """The disk full to its last byte, and emptied again."""
        if not self.small_disk:
            return
        stuffing = self.folder / "stuffing"
        for piece in (1 << 16, 1 << 9):
            with contextlib.suppress(OSError), stuffing.open("ab", buffering=0) as file:
                while file.write(bytes(piece)) == piece:
                    pass
        self.counts["times the disk was full"] += 1
        time.sleep(FULL_FOR)
        stuffing.unlink(missing_ok=True)

    # -- afterwards --------------------------------------------------------------------------------

    def report(self, minutes: float) -> bool:
        """Print what became of it; gives whether all that was acknowledged is there, once."""
        with contextlib.closing(sqlite3.connect(self.folder / "toadbell.sqlite3")) as database:
            rows = database.execute("SELECT device_id, id FROM trials_reading WHERE device_id IS NOT NULL").fetchall()
            whole = database.execute("PRAGMA integrity_check").fetchone()[0]
        kept = [str(uuid.UUID(one)) for _, one in rows]
        sent = {str(uuid.uuid5(uuid.UUID(device), n)) for device, ids in self.acknowledged.items() for n in ids}
        lost, doubled = len(sent - set(kept)), len(kept) - len(set(kept))
        print(f"{minutes:g} minutes, {LOGGERS} loggers, {WATCHERS} watchers")
        for name, count in self.counts.items():
            print(f"{name:40s} {count:8d}")
        print(f"{'refused and sent again, by answer':40s} {self.refused}")
        print(f"{'acknowledged':40s} {len(sent):8d}")
        print(f"{'kept':40s} {len(set(kept)):8d}")
        print(f"{'lost':40s} {lost:8d}")
        print(f"{'doubled':40s} {doubled:8d}")
        print(f"{'the database':40s} {whole:>8s}")
        for name, taken in (("a reading acknowledged", sorted(self.taken)), ("a look answered", sorted(self.looks))):
            if taken:
                at95 = taken[int(0.95 * len(taken))]
                print(
                    f"{name:40s} {taken[len(taken) // 2]:8.0f} ms median {at95:8.0f} ms at 95 % {taken[-1]:8.0f} ms "
                    f"slowest of {len(taken)}"
                )
        return lost == 0 and doubled == 0 and whole == "ok"


@contextlib.contextmanager
def place() -> Iterator[tuple[Path, bool]]:
    """A folder on a small disk of its own where one can be made, else one among others."""
    top = Path(tempfile.mkdtemp(prefix="soak-"))
    folder = top / "data"
    folder.mkdir()
    small = (
        os.getuid() == 0
        and subprocess.run(
            ["mount", "-t", "tmpfs", "-o", f"size={DISK}", "tmpfs", str(folder)], capture_output=True, check=False
        ).returncode
        == 0
    )
    try:
        yield folder, small
    finally:
        if small:
            subprocess.run(["umount", str(folder)], check=False)
        shutil.rmtree(top, ignore_errors=True)


def main() -> int:
    """Soak it, and say what became of it."""
    import django

    django.setup()
    from tests.server.test_durability import Caller, free_port, running_trial

    minutes = float(sys.argv[1]) if len(sys.argv) > 1 else 10.0
    with place() as (folder, small):
        soak = Soak(folder, small)
        soak.port = free_port()
        soak.serve()
        try:
            caller = Caller(soak.port)
            soak.trial = running_trial(caller)
            hands = [threading.Thread(target=soak.watcher) for _ in range(WATCHERS)] + [
                threading.Thread(target=soak.jobs),
                threading.Thread(target=soak.stranger),
            ]
            for n in range(LOGGERS):
                made: Any = caller.send("POST", "/api/devices", {"name": f"logger {n}"})
                caller.send("POST", f"/api/trials/{soak.trial}/devices/{made['id']}", {"on": True})
                hands.append(threading.Thread(target=soak.logger, args=(n, made["token"], made["id"])))
            for hand in hands:
                hand.start()
            soak.trouble(time.monotonic() + 60 * minutes)
            soak.over.set()
            for hand in hands:
                hand.join(60)
        finally:
            soak.over.set()
            soak.server.kill()
            soak.server.wait()
        if not small:
            print("no small disk could be made here (that takes root): the disk was never full")
        return 0 if soak.report(minutes) else 1


if __name__ == "__main__":
    sys.exit(main())
