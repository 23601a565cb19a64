"""The speeds that are promised, in a table: now, at the last release, and as they are meant to be.

usage: python tools/speeds.py [--keep]      (in `make bench`; --keep writes docs/speeds.json as a release is made)

What takes longer by a fifth than at the last release is marked; exit 1 where anything does. A machine that does
something else beside measures that.
"""

import datetime
import json
import os
import subprocess
import sys
import tempfile
import time
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

os.environ["OPENBLAS_NUM_THREADS"] = "1"

import numpy as np

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "toadbell.site.settings")
KEPT = TOP / "docs" / "speeds.json"
SLOWER = 1.2

GOALS: dict[str, tuple[float, str]] = {
    "derive from a cold shell": (2.5, "× numpy"),
    "judge 12 readings from a cold shell": (3.5, "× numpy"),
    "judge 240 readings from a cold shell": (4, "× numpy"),
    "judge 360 readings from a cold shell": (4, "× numpy"),
    "judge 6 readings": (40, "ms"),
    "judge 60 readings": (60, "ms"),
    "judge 3000 readings": (120, "ms"),
    "judge 28,801 readings": (300, "ms"),
    "derive: receiver": (10, "ms"),
    "derive: digester": (10, "ms"),
    "derive: boiler": (10, "ms"),
    "derive: cooler": (10, "ms"),
    "a look at a running hold": (40, "ms"),
    "a look at a running hold that is judged anew": (40, "ms"),
    "PUT a changed plan": (40, "ms"),
    "a mark moved on the glass until the test follows": (60, "ms"),
    "first paint of the shed": (500, "ms"),
    "scripts before the shed stands": (95, "kB"),
    "scripts before the bench stands": (150, "kB"),
    "start on a workshop": (2, "s"),
    "second start of the demo": (3, "s"),
    "memory of the door": (120, "MB"),
    "memory of the process beside": (120, "MB"),
}
"""Each figure's goal and unit."""


def main() -> int:
    """Measure, print the table, and keep it where that is asked."""
    print(f"two busy processes would show here: load {os.getloadavg()[0]:.2f} on {os.cpu_count()} processors")
    from tools.page_speeds import page

    found = {**cold(), **core(), **server(), **page(), **weight(), **start()}
    kept = json.loads(KEPT.read_text()) if KEPT.exists() else {}
    print(f"{'':46s} {'now':>9s} {'release':>9s} {'goal':>9s}")
    slower = 0
    for name, (goal, unit) in GOALS.items():
        was = kept.get(name)
        worse = was is not None and found[name] > SLOWER * was
        slower += worse
        shown = f"{was:9.2f}" if was is not None else f"{'—':>9s}"
        mark = "  slower by a fifth" if worse else "" if found[name] <= goal else "  over its goal"
        print(f"{name:46s} {found[name]:9.2f} {shown} {goal:9.2f} {unit}{mark}")
    if "--keep" in sys.argv:
        KEPT.write_text(json.dumps({name: round(found[name], 2) for name in GOALS}, indent=1) + "\n")
    return 1 if slower else 0


def best(work: Callable[[], object], times: int = 9, least: Callable[[], float] = time.process_time) -> float:
    """The quickest of some runs after one to warm up, s of processor: what else the machine does adds, and never
    takes.
    """
    work()
    found = []
    for _ in range(times):
        begun = least()
        work()
        found.append(least() - begun)
    return min(found)


def cold() -> dict[str, float]:
    """The command line as multiples of importing numpy alone, taken in turns so that both meet the same machine."""
    from tests.core.sheets import RECEIVER
    from tests.core.test_judge import hold

    python, toadbell = str(TOP / ".venv/bin/python"), str(TOP / ".venv/bin/toadbell")
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        (folder / "vessel.json").write_text(json.dumps(RECEIVER))
        sheet = {
            "volume": "97 L",
            "compliance": "10 mL/bar",
            "water_temperature": "16 degC",
            "gauge": {"range": "25 bar", "resolution": "2 kPa"},
            "thermometer": {"resolution": "0.01 degC"},
            "acceptance": {"max_leak": "2 mL/h"},
        }
        (folder / "hold.json").write_text(json.dumps(sheet))
        commands = {"": [python, "-c", "import numpy"]}
        commands["derive from a cold shell"] = [toadbell, "derive", str(folder / "vessel.json"), "--json"]
        for count, (minutes, every) in {12: (55, 300), 240: (239, 60), 360: (359, 60)}.items():
            log = hold(minutes=minutes, every=every)
            assert log.water_temperature is not None
            rows = zip(log.time, log.pressure, log.water_temperature - 273.15, strict=True)
            lines = ["elapsed [s],pressure [Pa],water_temperature [degC]", *(f"{t},{p},{w:.2f}" for t, p, w in rows)]
            (folder / f"{count}.csv").write_text("\n".join(lines) + "\n")
            commands[f"judge {count} readings from a cold shell"] = [
                *(toadbell, "judge", str(folder / f"{count}.csv"), "--sheet", str(folder / "hold.json"), "--json")
            ]
        taken: dict[str, list[float]] = {name: [] for name in commands}
        for _ in range(7):
            for name, command in commands.items():
                begun = time.perf_counter()
                subprocess.run(command, check=True, capture_output=True)
                taken[name].append(time.perf_counter() - begun)
    return {name: min(times) / min(taken[""]) for name, times in taken.items() if name}


def core() -> dict[str, float]:
    """Plans and verdicts, warm, ms."""
    from tests.core.sheets import RECEIVER
    from tests.core.test_judge import hold, sheet
    from toadbell.core.derive import derive
    from toadbell.core.judge.hold import judge
    from toadbell.core.sheets import read_vessel_sheet

    wanted = sheet({"max_leak": "2 mL/h"})
    found = {}
    for name, log in {
        "6": hold(minutes=30, every=360),
        "60": hold(minutes=59, every=60),
        "3000": hold(minutes=50, every=1),
        "28,801": hold(minutes=480, every=1),
    }.items():
        found[f"judge {name} readings"] = 1000 * best(lambda log=log: judge(log, wanted), 5)
    sheets = {"receiver": RECEIVER}
    demo = {"digester": "orchard-digester", "boiler": "coots-pot-boiler", "cooler": "launch-cooler"}
    for name, folder in demo.items():
        hung = json.loads((TOP / "demo" / folder / "vessel.json").read_text())["sheet"]
        sheets[name] = {**hung, **json.loads((TOP / "demo" / folder / "trial-1.json").read_text())["plan"]}
    for name, data in sheets.items():
        vessel = read_vessel_sheet(data)
        found[f"derive: {name}"] = 1000 * best(lambda vessel=vessel: derive(vessel), 15)
    return found


@contextmanager
def workshop() -> Iterator[Any]:
    """The API in process, on the SQLite file with every write on the disk."""
    import django
    from django.test.utils import setup_databases, setup_test_environment, teardown_databases

    django.setup()
    setup_test_environment()
    kept = setup_databases(verbosity=0, interactive=False)
    try:
        from django.conf import settings
        from django.test import Client

        from tests.server.conftest import Workshop

        settings.OPEN_TO_ALL_HERE = True
        yield Workshop(Client())
    finally:
        teardown_databases(kept, verbosity=0)


def server() -> dict[str, float]:
    """What the bench and the plan board ask for, ms."""
    with workshop() as shop:
        from tests.server.conftest import rewind
        from toadbell.trials.judge import hold
        from toadbell.trials.models import Reading, Trial

        plan = shop.planned()

        def change() -> None:
            version = shop.get(f"/trials/{plan['id']}/plan")["version"]
            shop.put(f"/trials/{plan['id']}/plan", {"sheet": plan["sheet"], "version": version})

        put = best(change) - best(lambda: shop.get(f"/trials/{plan['id']}/plan"))
        trial = shop.ready()
        shop.raised(trial)
        began = datetime.datetime.fromisoformat(shop.step(trial, "shut-in")["since"])
        rewind(trial, 29 * 60)
        noise = np.random.default_rng(1).normal(0, 500, 60)
        Reading.objects.bulk_create(
            Reading(
                id=uuid.uuid4(),
                trial=Trial.objects.get(pk=trial),
                at=began + datetime.timedelta(seconds=28 * n),
                pressure=12.75e5 + noise[n],
                temperature=289.15,
                source="dial",
            )
            for n in range(60)
        )

        def look() -> None:
            assert shop.client.post(f"/api/trials/{trial}/look").status_code == 200

        def look_anew() -> None:
            hold._held.clear()
            look()

        return {
            "PUT a changed plan": 1000 * put,
            "a look at a running hold": 1000 * best(look),
            "a look at a running hold that is judged anew": 1000 * best(look_anew),
        }


def weight() -> dict[str, float]:
    """Scripts that a room needs before it stands, gzipped, kB: its own piece with all that it imports."""
    assets = TOP / "web" / "dist" / "assets"

    def with_imports(name: str, seen: set[str]) -> set[str]:
        if name not in seen:
            seen.add(name)
            text = (assets / name).read_text(encoding="utf-8")
            for other in assets.glob("*.js"):
                if f'from"./{other.name}"' in text or f'import"./{other.name}"' in text:
                    with_imports(other.name, seen)
        return seen

    def size(room: str) -> float:
        entry = next(path.name for path in assets.glob("index-*.js") if path.with_name(path.name + ".gz").exists())
        own = next(path.name for path in assets.glob(f"{room}-*.js"))
        names = with_imports(own, with_imports(entry, set()))
        packed = [assets / f"{name}.gz" for name in names]
        return sum((path if path.exists() else path.with_suffix("")).stat().st_size for path in packed) / 1000

    return {"scripts before the shed stands": size("Shed"), "scripts before the bench stands": size("Bench")}


def start() -> dict[str, float]:
    """The server on a workshop: till it answers, s, and what it and the process beside keep, MB."""
    import psutil

    from tests.server.test_durability import free_port, serve

    with tempfile.TemporaryDirectory() as name:
        folder, taken, kept = Path(name), [], (0.0, 0.0)
        for _ in range(3):
            at, port = time.perf_counter(), free_port()
            process = serve(folder, port)
            taken.append(time.perf_counter() - at)
            time.sleep(3)  # the process beside has loaded by then what it loads
            own = psutil.Process(process.pid)
            kept = own.memory_info().rss / 1e6, max(one.memory_info().rss for one in own.children()) / 1e6
            process.terminate()
            process.wait(10)
    return {"start on a workshop": min(taken), "memory of the door": kept[0], "memory of the process beside": kept[1]}


if __name__ == "__main__":
    raise SystemExit(main())
