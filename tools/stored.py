"""Write tests/stored/<release>: a workshop as this release keeps it, its database and its package, which every later
one must open.

usage: .venv/bin/python tools/stored.py    once, as a release is made
"""

import os
import shutil
import sys
import tempfile
from pathlib import Path

TOP = Path(__file__).parents[1]
sys.path.insert(0, str(TOP))
FOLDER = Path(tempfile.mkdtemp())
os.environ |= {"TOADBELL_DATA": str(FOLDER), "DJANGO_SETTINGS_MODULE": "toadbell.site.settings"}

import django  # noqa: E402

django.setup()

from django.conf import settings  # noqa: E402
from django.core.management import call_command  # noqa: E402
from django.test import Client  # noqa: E402
from django.utils import timezone  # noqa: E402

import toadbell  # noqa: E402
from tests.server.conftest import Workshop, held  # noqa: E402
from toadbell.records import backup, package  # noqa: E402


def main() -> None:
    """A vessel proven and decided, a run on the bench with a leak that was mended, a frozen plan and one that is being
    made.
    """
    settings.OPEN_TO_ALL_HERE, settings.JOBS_BESIDE, settings.ALLOWED_HOSTS = True, False, ["testserver"]
    call_command("migrate", verbosity=0)
    workshop = Workshop(Client())
    workshop.put("/me", {"units": "metric", "name": "Maren Oddy", "zone": "Europe/London"})
    proven = held(workshop)
    workshop.step(proven, "leak", owner="rig", where="the hose", shows="drip", pin={"x": 0.1, "v": 0.2})
    leak = next(line["id"] for line in workshop.get(f"/trials/{proven}/bench")["leaks"])
    workshop.step(proven, "mended", leak=leak, did="tightened")
    workshop.happened(workshop.get("/vessels")[0]["id"], "look inside", "dry")
    workshop.post(f"/trials/{proven}/judge", {})
    workshop.post(
        f"/trials/{proven}/decision",
        {"fitness": "fit", "pressure": "8.5 bar", "reason": "the inspector looked inside too"},
    )
    running = workshop.ready()
    workshop.raised(running, to=2)
    workshop.step(running, "note", text="old run, still on the bench")
    workshop.ready()
    workshop.planned()
    to = TOP / "tests" / "stored" / toadbell.__version__
    to.mkdir(parents=True, exist_ok=True)
    (to / "backup.zip").write_bytes(backup.make().read_bytes())
    with (to / "package.zip").open("wb") as file:
        package.write(file, None, timezone.now())
    shutil.rmtree(FOLDER)
    for path in sorted(to.iterdir()):
        print(f"{path.relative_to(TOP)}: {path.stat().st_size / 1000:.0f} kB")


if __name__ == "__main__":
    main()
