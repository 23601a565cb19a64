"""Everything in one file and back, while the application runs; a backup of its own before each migration; nothing put
back that is damaged.
"""

import hashlib
import http.client
import io
import json
import os
import signal
import sqlite3
import subprocess
import sys
import time
import uuid
import zipfile
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings

from tests.server.conftest import VESSEL
from tests.server.test_attachments import picture
from tests.server.test_durability import Caller, free_port, serve
from toadbell.records.pictures import cleaned

pytestmark = pytest.mark.xdist_group("backup")


def manage(data: Path, *words: str) -> subprocess.CompletedProcess[str]:
    """A command on a data folder."""
    env = {**os.environ, "TOADBELL_DATA": str(data)}
    return subprocess.run(
        [sys.executable, "manage.py", *words],
        cwd=settings.BASE_DIR,
        env=env,
        capture_output=True,
        text=True,
        check=False,
    )


@pytest.fixture(scope="module")
def running(tmp_path_factory: Any) -> Iterator[tuple[Path, Caller, int]]:
    """The application running on a folder of its own, for one test after another."""
    folder, port = tmp_path_factory.mktemp("running"), free_port()
    server = serve(folder, port)
    yield folder, Caller(port), port
    server.send_signal(signal.SIGKILL)
    server.wait()


def with_file(caller: Caller, port: int, path: str, data: bytes, **form: str) -> tuple[int, Any]:
    """Send a form with a file."""
    edge = uuid.uuid4().hex
    parts = [
        f'--{edge}\r\nContent-Disposition: form-data; name="{key}"\r\n\r\n{value}\r\n'.encode()
        for key, value in form.items()
    ]
    parts += [
        f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="f"\r\n'
        "Content-Type: application/octet-stream\r\n\r\n".encode()
    ]
    line = http.client.HTTPConnection("127.0.0.1", port, timeout=30)
    line.request(
        "POST",
        path,
        b"".join(parts) + data + f"\r\n--{edge}--\r\n".encode(),
        {
            "Content-Type": f"multipart/form-data; boundary={edge}",
            "Cookie": "; ".join(f"{k}={v}" for k, v in caller.cookies.items()),
            "X-CSRFToken": caller.cookies["toadbell_csrf"],
        },
    )
    answer = line.getresponse()
    return answer.status, json.loads(answer.read())


def job(caller: Caller, body: dict[str, Any]) -> Any:
    """Begin a job, and wait for what comes of it."""
    told = ended(caller, caller.send("POST", "/api/jobs", body))
    assert told["state"] == "done", told
    return told


def ended(caller: Caller, begun: Any) -> Any:
    deadline = time.monotonic() + 60
    while (told := caller.send("GET", f"/api/jobs/{begun['id']}"))["state"] == "running":
        assert time.monotonic() < deadline
        time.sleep(0.1)
    return told


def names(caller: Caller) -> list[str]:
    return [vessel["name"] for vessel in caller.send("GET", "/api/vessels")]  # type: ignore[arg-type,index]


def test_everything_is_put_back_from_the_page_pictures_too_and_how_it_was_before_is_kept(running: Any) -> None:
    folder, caller, port = running
    vessel = caller.send("POST", "/api/vessels", {"name": "Before", "sheet": VESSEL})
    status, (kept,) = with_file(
        caller, port, f"/api/vessels/{vessel['id']}/attachments", picture((60, 40)), id=str(uuid.uuid4())
    )
    assert status == 201
    job(caller, {"what": "backup"})
    made = caller.send("GET", "/api/backups")["backups"][0]
    assert made["why"] == "asked-for"
    caller.send("POST", "/api/vessels", {"name": "After", "sheet": VESSEL})
    lost = folder / "attachments" / f"{kept['id']}.jpg"
    whole = lost.read_bytes()
    lost.unlink()
    told = job(caller, {"what": "restore", "name": made["name"]})
    again = Caller(port)
    assert "After" not in names(again)
    assert lost.read_bytes() == whole
    job(again, {"what": "restore", "name": told["name"]})
    assert {"Before", "After"} <= set(names(Caller(port)))
    with sqlite3.connect(folder / "toadbell.sqlite3") as database:
        assert database.execute("PRAGMA journal_mode").fetchone() == ("wal",)


def test_nobody_gets_in_by_what_lies_in_a_backup(running: Any) -> None:
    folder, caller = running[0], Caller(running[2])
    session = f"session{uuid.uuid4().hex}"
    with closing(sqlite3.connect(folder / "toadbell.sqlite3")) as database:
        database.execute("INSERT INTO django_session VALUES (?, ?, '2030-01-01 00:00:00')", [session, "of-" + session])
        database.commit()
    token = caller.send("POST", "/api/devices", {"name": "tank logger"})["token"]  # type: ignore[index,call-overload]
    made = job(caller, {"what": "backup"})["name"]
    with zipfile.ZipFile(folder / "backups" / made) as archive:
        whole = b"".join(archive.read(name) for name in archive.namelist())
    key = (folder / "signing-key.pem").read_bytes().split(b"\n")[1]
    for secret in (session.encode(), str(token).encode(), key, (folder / "secret-key").read_bytes().strip()):
        assert secret not in whole


def test_the_same_by_command_while_it_runs(running: Any) -> None:
    folder, _, port = running
    told = manage(folder, "backup").stdout
    file = told.partition("make restore FILE=")[2].strip()
    Caller(port).send("POST", "/api/vessels", {"name": "Later", "sheet": VESSEL})
    assert manage(folder, "restore", file).returncode == 0
    assert "Later" not in names(Caller(port))


def test_a_workshop_that_was_once_much_larger_is_put_back_too(running: Any) -> None:
    folder, _, port = running
    caller = Caller(port)
    with sqlite3.connect(folder / "toadbell.sqlite3") as database:
        database.execute("CREATE TABLE filler (x)")
        database.execute("INSERT INTO filler VALUES (zeroblob(40000000))")
        database.execute("DROP TABLE filler")
    database.close()
    name = job(caller, {"what": "backup"})["name"]
    assert (folder / "backups" / name).stat().st_size < 5_000_000
    assert job(caller, {"what": "restore", "name": name})["name"]


@pytest.mark.parametrize(
    ("harm", "says"),
    [
        ("cut", "no zip"),
        ("changed", "checksum"),
        ("other", "no backup of Toad Bell"),
        ("escape", "no name that belongs"),
        ("garbage", "damaged, or no database"),
        ("newer", "newer Toad Bell"),
        ("a table missing", "the table trials_verdict is missing"),
        ("a migration that fails", "could not be brought up to date"),
    ],
)
def test_what_is_no_backup_or_a_damaged_one_is_refused_and_changes_nothing(running: Any, harm: str, says: str) -> None:
    folder, _, port = running
    caller = Caller(port)
    before = names(caller)
    name = job(caller, {"what": "backup"})["name"]
    good = (folder / "backups" / name).read_bytes()
    status, begun = with_file(caller, port, "/api/jobs/with-file", harmed(good, harm, folder), what="restore")
    assert status == 202
    told = ended(caller, begun)
    assert (told["status"], says in told["says"]) == (422, True), told
    assert told["says"].endswith("Everything is as it was.")
    assert names(caller) == before
    assert caller.send("GET", "/api/backups")["backups"][0]["name"] == name


HARMED = {
    "newer": ["INSERT INTO django_migrations (app, name, applied) VALUES ('trials', '9999_later', '2030-01-01')"],
    "a table missing": ["DROP TABLE trials_verdict"],
    "a migration that fails": [
        "DELETE FROM django_migrations WHERE app='trials' AND name='0006_lists'",
        "DROP TABLE trials_verdict",
    ],
}


def harmed(good: bytes, harm: str, folder: Path) -> bytes:
    """A backup with something wrong."""
    if harm == "cut":
        return good[:-200]
    source = zipfile.ZipFile(io.BytesIO(good))
    files = {name: source.read(name) for name in source.namelist()}
    if harm == "changed":
        files["toadbell.sqlite3"] = files["toadbell.sqlite3"][:-1] + b"?"
    if harm == "other":
        del files["backup.json"]
    if harm == "escape":
        files["../../x"] = b""
    if harm in ("garbage", *HARMED):
        path = folder / "other.sqlite3"
        path.write_bytes(b"not a database at all" * 500 if harm == "garbage" else files["toadbell.sqlite3"])
        if harm in HARMED:
            with closing(sqlite3.connect(path)) as database:
                for statement in HARMED[harm]:
                    database.execute(statement)
                database.commit()
        files["toadbell.sqlite3"] = path.read_bytes()
        about = json.loads(files["backup.json"])
        about["sha256"]["toadbell.sqlite3"] = f"sha256:{hashlib.sha256(files['toadbell.sqlite3']).hexdigest()}"
        files["backup.json"] = json.dumps(about).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as to:
        for name, data in files.items():
            to.writestr(name, data)
    return out.getvalue()


def test_an_older_workshop_is_backed_up_by_itself_and_its_pictures_come_along(tmp_path: Path) -> None:
    for app, name in (("trials", "0004_verdict_asked"), ("sessions", "0001"), ("auth", "0012")):
        assert manage(tmp_path, "migrate", app, name).returncode == 0
    maker, vessel, trial, photo = 1, uuid.uuid4().hex, uuid.uuid4().hex, uuid.uuid4()
    now = "2026-11-01 10:00:00"
    rows: dict[str, dict[str, Any]] = {
        "shed_maker": {
            "id": maker,
            "password": "!",
            "is_superuser": 0,
            "username": "owner",
            "first_name": "Maren Oddy",
            "last_name": "",
            "email": "",
            "is_staff": 0,
            "is_active": 1,
            "date_joined": now,
            "units": "metric",
        },
        "shed_vessel": {
            "id": vessel,
            "name": "Old tank",
            "sheet": json.dumps(VESSEL),
            "notes": "",
            "version": 1,
            "hung_up": now,
            "hung_up_by_id": maker,
        },
        "trials_trial": {
            "id": trial,
            "number": 1,
            "state": "planned",
            "sheet": json.dumps(VESSEL),
            "version": 1,
            "planned_at": now,
            "source": "dial",
            "speed": 1.0,
            "planned_by_id": maker,
            "vessel_id": vessel,
            "hand": "",
            "hand_name": "",
        },
        "trials_photo": {"id": photo.hex, "wide": 60, "tall": 40, "at": now, "by_id": maker, "trial_id": trial},
    }
    with sqlite3.connect(tmp_path / "toadbell.sqlite3") as database:
        for table, row in rows.items():
            database.execute(
                f"INSERT INTO {table} ({', '.join(row)}) VALUES ({', '.join('?' * len(row))})", list(row.values())
            )
    database.close()
    (tmp_path / "photos").mkdir()
    (tmp_path / "photos" / f"{photo}.jpg").write_bytes(cleaned(picture((60, 40))).data)
    port = free_port()
    server = serve(tmp_path, port)
    try:
        caller = Caller(port)
        assert caller.send("GET", "/api/me")["name"] == "Maren Oddy"
        (kept,) = caller.send("GET", f"/api/vessels/{uuid.UUID(vessel)}/attachments")
        assert (kept["id"], kept["by"], kept["trial"]) == (str(photo), "Maren Oddy", str(uuid.UUID(trial)))
    finally:
        server.send_signal(signal.SIGKILL)
        server.wait()
    assert (tmp_path / "attachments" / f"{photo}.jpg").exists()
    (made,) = (tmp_path / "backups").glob("*before-migration.zip")
    assert zipfile.ZipFile(made).testzip() is None


def test_a_file_that_is_not_there_is_said_by_the_command(tmp_path: Path) -> None:
    told = manage(tmp_path, "restore", str(tmp_path / "none.zip"))
    assert told.returncode == 1
    assert "cannot be read" in told.stderr
    assert "Traceback" not in told.stderr
