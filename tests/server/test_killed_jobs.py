"""What is put back or taken in and killed half-way, at whatever moment, was never begun or was done whole."""

import json
import os
import sqlite3
import subprocess
import sys
import time
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings

from tests.server.conftest import VESSEL
from tests.server.test_backup import job, names, running
from tests.server.test_durability import Caller

__all__ = ["running"]
pytestmark = pytest.mark.xdist_group("backup")
READ, PLACE = "backing up", "putting it in place"


def done(folder: Path, what: str, file: object, killed_at: str = "", after: float = 0.0) -> int:
    """A job in a process of its own, killed so many seconds after it said what it does; how it ended."""
    command = [sys.executable, "manage.py", "job", what, str(file)]
    env = {**os.environ, "TOADBELL_DATA": str(folder)}
    with subprocess.Popen(
        command, cwd=settings.BASE_DIR, env=env, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    ) as doing:
        assert doing.stdout is not None
        for line in doing.stdout:
            if killed_at and killed_at in json.loads(line).get("says", ""):
                time.sleep(after)
                doing.kill()
                return doing.wait()
        return doing.wait()


def sound(folder: Path) -> bool:
    with closing(sqlite3.connect(folder / "toadbell.sqlite3")) as database:
        return bool(database.execute("PRAGMA integrity_check").fetchone() == ("ok",))


def test_a_restore_that_is_killed_leaves_the_workshop_as_it_was_or_as_it_was_put_back(running: Any) -> None:
    folder, caller, port = running
    caller.send("POST", "/api/vessels", {"name": "Kept", "sheet": VESSEL})
    with closing(sqlite3.connect(folder / "toadbell.sqlite3")) as database:  # so that putting it in place takes a while
        database.execute("CREATE TABLE filler (x)")
        database.executemany("INSERT INTO filler VALUES (?)", [(os.urandom(20_000),) for _ in range(500)])
        database.commit()
    made = job(caller, {"what": "backup"})["name"]
    then = set(names(caller))
    for stage, after in ((READ, 0.05), (PLACE, 0), (PLACE, 0.04)):
        caller.send("POST", "/api/vessels", {"name": "Later", "sheet": VESSEL})
        now = set(names(caller))
        assert done(folder, "restore", made, stage, after) in (0, -9)
        caller = Caller(port)
        assert set(names(caller)) in ({*now}, {*then}), (stage, after)
        assert set(names(caller)) == now or stage == PLACE
        assert sound(folder)
    assert set(names(caller)) >= then
    job(Caller(port), {"what": "restore", "name": made})
    assert set(names(Caller(port))) == then


def test_a_package_whose_taking_in_is_killed_came_whole_or_not_at_all(running: Any, tmp_path: Path) -> None:
    folder, _, port = running
    caller = Caller(port)
    without = job(caller, {"what": "backup"})["name"]
    kept = set(names(caller))
    new = {f"Tank {n}" for n in range(40)}
    for name in new:
        caller.send("POST", "/api/vessels", {"name": name, "sheet": VESSEL})
    package = tmp_path / "all.zip"
    assert done(folder, "export", package) == 0
    job(Caller(port), {"what": "restore", "name": without})
    for stage, after in (("checking it", 0.1), (PLACE, 0), (PLACE, 0.02)):
        assert done(folder, "import", package, stage, after) in (0, -9)
        caller = Caller(port)
        assert set(names(caller)) in (kept, kept | new), (stage, after)
        assert sound(folder)
    assert done(folder, "import", package) == 0
    assert sorted(names(Caller(port))) == sorted(kept | new)
