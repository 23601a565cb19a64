"""Print speeds: the core warm, the server's answers, and what the browser has to fetch.

usage: make bench
"""

import gzip
import http.client
import json
import os
import sys
import tempfile
import threading
import time
import uuid
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import numpy as np

from toadbell.core.judge.log import Log
from toadbell.core.sheets import HoldSheet, HoldStretch

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "toadbell.site.settings")


def main() -> None:
    """Every speed in a line of its own."""
    core_speeds()
    server_speeds()
    browser_weight()
    load()


def measure(name: str, work: Callable[[], object], times: int = 20) -> None:
    """Median and slowest of some runs, after one to warm up."""
    work()
    taken = []
    for _ in range(times):
        begun = time.perf_counter()
        work()
        taken.append((time.perf_counter() - begun) * 1000)
    taken.sort()
    print(f"{name:52s} {taken[len(taken) // 2]:9.2f} ms median {taken[-1]:9.2f} ms slowest of {times}")


def core_speeds() -> None:
    """Long holds, strokes, and an hour of the simulated rig; what is promised is in tools/speeds.py."""
    from tests.core.test_judge import hold, sheet
    from tests.core.test_rig import raised, rig
    from tests.core.test_strokes import raising, random_fill
    from toadbell.core.bench import rig as simulated
    from toadbell.core.bench.rig_parts import Dial
    from toadbell.core.bench.strokes import judge_strokes
    from toadbell.core.judge.hold import judge, judged_by, weighed_hold
    from toadbell.core.judge.preprocess import Asked

    wanted, long = sheet({"max_leak": "2 mL/h"}), hold(minutes=480, every=1)
    assert len(long.time) == 28_801
    measure(
        "a hold of 28,801 readings while it runs, at a look", lambda: judge(long, wanted, asked=Asked(so_far=True)), 8
    )
    whole, low = with_low_holds(long, wanted)
    measure("judge 28,801 readings, low holds among them", lambda: judge(whole, low), 5)
    weighed = weighed_hold(long, wanted, Asked())
    measure("what if the limit were another", lambda: judged_by(weighed, wanted, Asked()), 8)
    what = rig(gauge=Dial(1e3, 1e3))
    state = raised(what)
    fill = random_fill(3)
    log, _ = list(raising(fill))[-1]
    measure("what the strokes tell, after a raising", lambda: judge_strokes(log, fill.sheet), 10)
    measure("an hour of the simulated rig", lambda: simulated.advance(what, state, state.time + 3600), 8)
    assert np.isfinite(state.net)


def with_low_holds(long: Log, wanted: HoldSheet) -> tuple[Log, HoldSheet]:
    """A long hold whose first and last quarter of an hour are low holds, at a fifth of its pressure."""
    end = float(long.time[-1])
    spans = (("low", 0.0, 900.0), ("test", 1200.0, end - 1200), ("low", end - 900, end))
    holds = [{"role": role, "from": f"{since:g} s", "to": f"{until:g} s"} for role, since, until in spans]
    lower = np.where((long.time <= 900) | (long.time >= end - 900), 0.8 * float(long.pressure[0]), 0.0)
    stretches = [HoldStretch.model_validate(one) for one in holds]
    return replace(long, pressure=long.pressure - lower), wanted.model_copy(update={"holds": stretches})


def server_speeds() -> None:
    """The API in process, on the SQLite file with every write on the disk."""
    import django
    from django.test.utils import setup_databases, setup_test_environment, teardown_databases

    django.setup()
    setup_test_environment()
    kept = setup_databases(verbosity=0, interactive=False)
    try:
        from django.test import Client

        from tests.server.conftest import Workshop

        workshop = Workshop(Client())
        trial = workshop.ready()
        workshop.post(f"/trials/{trial}/start", {"source": "dial"})
        measure("POST one reading, on the disk", lambda: workshop.read(trial, "3.2 bar"), 100)
        batch = [{"id": str(uuid.uuid4()), "pressure": "3.2 bar"} for _ in range(500)]
        measure("POST 500 readings again, stored once", lambda: workshop.post(f"/trials/{trial}/readings", batch), 10)
        measure("GET the bench with 600 readings", lambda: workshop.get(f"/trials/{trial}/bench"), 30)
        long = long_hold(workshop)
        for how in ("", "?full=true"):
            measure(
                f"report of a hold of 28,800 readings{', all of it' if how else ''}",
                lambda how=how: got(workshop, f"/records/{long}/report.pdf{how}"),
                5,
            )
        measure("the same carried away as a zip", lambda: got(workshop, f"/trials/{long}/package.zip"), 5)
    finally:
        teardown_databases(kept, verbosity=0)


def long_hold(workshop) -> str:  # type: ignore[no-untyped-def]
    """A judged and decided hold of eight hours, read every second by its dial."""
    from tests.server.conftest import held
    from toadbell.trials.models import Reading, Trial

    trial = Trial.objects.get(pk=held(workshop, minutes=480))
    span = list(trial.readings.order_by("at").values_list("at", "pressure"))
    first, last = trial.events.get(kind="shut-in").at, span[-1][0]
    wave = np.random.default_rng(7).normal(0, 500, 28_800)
    step = (last - first) / 28_800
    Reading.objects.bulk_create(
        Reading(
            id=uuid.uuid4(),
            trial=trial,
            at=first + (n + 0.5) * step,
            pressure=12.75e5 + wave[n],
            temperature=289.15,
            source="dial",
        )
        for n in range(28_800)
    )
    workshop.post(f"/trials/{trial.pk}/judge")
    workshop.post(
        f"/trials/{trial.pk}/decision", {"fitness": "fit", "pressure": "8.5 bar", "reason": "read every second"}
    )
    return str(trial.pk)


def got(workshop, path: str) -> None:  # type: ignore[no-untyped-def]
    """Fetch a file to its end."""
    answer = workshop.client.get(f"/api{path}")
    assert answer.status_code == 200
    assert answer.content


DEVICES, WATCHERS, SECONDS, EACH = 20, 5, 60, 10


def load() -> None:
    """Twenty devices at ten readings a second, a batch a second each, and five watchers, for a minute, on a server with
    its own database.
    """
    from tests.server.test_durability import Caller, free_port, running_trial, serve

    with tempfile.TemporaryDirectory() as folder:
        disk_by_itself(Path(folder))
        port = free_port()
        server = serve(Path(folder), port)
        try:
            caller = Caller(port)
            trial = running_trial(caller)
            tokens = []
            for n in range(DEVICES):
                device = caller.send("POST", "/api/devices", {"name": f"logger {n}"})
                caller.send("POST", f"/api/trials/{trial}/devices/{device['id']}", {"on": True})
                tokens.append(device["token"])
            posts, looks, sent = play_load(port, trial, tokens)
            for name, taken in (
                ("a batch of ten from one of twenty devices", posts),
                ("the bench, looked at by one of five", looks),
            ):
                taken.sort()
                at95, slowest = taken[int(0.95 * len(taken))], taken[-1]
                print(
                    f"{name:52s} {taken[len(taken) // 2]:9.1f} ms median {at95:9.1f} ms at 95 % {slowest:9.1f} ms "
                    f"slowest of {len(taken)}"
                )
            kept = Caller(port).send("GET", f"/api/trials/{trial}/bench")["readings"]
            print(f"{'readings sent and stored once':52s} {sent:9d} sent {kept:9d} stored")
        finally:
            server.kill()
            server.wait(10)


def disk_by_itself(folder: Path) -> None:
    """What the disk takes to keep 8 kB with nothing else going on: no acknowledged batch can be quicker."""
    taken = []
    with (folder / "probe").open("wb") as file:
        for _ in range(200):
            at = time.perf_counter()
            file.write(bytes(8192))
            file.flush()
            os.fsync(file.fileno())
            taken.append((time.perf_counter() - at) * 1000)
            time.sleep(0.02)
    taken.sort()
    print(
        f"{'the disk alone, to keep 8 kB':52s} {taken[100]:9.1f} ms median {taken[190]:9.1f} ms at 95 % "
        f"{taken[-1]:9.1f} ms slowest of 200"
    )


def play_load(port: int, trial: str, tokens: list[str]) -> tuple[list[float], list[float], int]:
    """Let devices and watchers go for a minute; gives what each answer took, ms, and how many readings were sent."""
    from tests.server.test_durability import Caller

    posts: list[float] = []
    looks: list[float] = []
    begun = time.monotonic()

    def device(number: int, token: str) -> None:
        connection = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
        for second in range(SECONDS):
            time.sleep(max(0.0, begun + second + number / len(tokens) - time.monotonic()))
            batch = [
                {
                    "id": f"{second}-{n}",
                    "pressure": f"{3 + n / 100:.3f} bar",
                    "temperature": "16.2 degC",
                    "ago": f"{n / 10} s",
                }
                for n in range(EACH)
            ]
            at = time.perf_counter()
            connection.request(
                "POST",
                "/api/devices/readings",
                json.dumps({"readings": batch}),
                {"Content-Type": "application/json", "Authorization": f"Bearer {token}"},
            )
            answer = connection.getresponse()
            answer.read()
            assert answer.status == 201, answer.status
            posts.append((time.perf_counter() - at) * 1000)

    def watcher() -> None:
        caller = Caller(port)
        while time.monotonic() < begun + SECONDS:
            at = time.perf_counter()
            caller.send("GET", f"/api/trials/{trial}/bench/live")
            looks.append((time.perf_counter() - at) * 1000)
            time.sleep(0.7)

    hands = [threading.Thread(target=device, args=pair) for pair in enumerate(tokens)] + [
        threading.Thread(target=watcher) for _ in range(WATCHERS)
    ]
    for hand in hands:
        hand.start()
    for hand in hands:
        hand.join()
    return posts, looks, len(tokens) * SECONDS * EACH


def browser_weight() -> None:
    """What the first page fetches, gzipped."""
    for kind in ("js", "css"):
        size = sum(
            len(gzip.compress(path.read_bytes())) for path in (TOP / "web" / "dist" / "assets").glob(f"*.{kind}")
        )
        print(f"{'browser application, ' + kind + ' gzipped':52s} {size / 1000:9.1f} kB")


if __name__ == "__main__":
    main()
