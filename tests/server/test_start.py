"""What stands in the way of a start is said in a sentence with what to do, and nothing is touched; what is only untidy
is passed over.
"""

import sqlite3
import time
import zipfile
from contextlib import closing
from pathlib import Path

import pytest

from tests.server.test_backup import ended, job, manage, with_file
from tests.server.test_durability import Caller, free_port, serve
from toadbell.records.database import begin, gaps, look_over
from tools.empty import EMPTY, migrated

STORED = Path(__file__).parents[1] / "stored"
RELEASES = sorted(path.name for path in STORED.iterdir())


def said(folder: Path, *words: str) -> str:
    """What a start that cannot be says."""
    told = manage(folder, "serve", "--port", str(free_port()), *words)
    assert told.returncode != 0
    assert "Traceback" not in told.stderr
    return told.stderr + told.stdout


def put_in_place(folder: Path, release: str) -> Path:
    """The database of a release, as it lay."""
    with zipfile.ZipFile(STORED / release / "backup.zip") as found:
        found.extract("toadbell.sqlite3", folder)
    return folder / "toadbell.sqlite3"


def content(path: Path) -> list[str]:
    with closing(sqlite3.connect(path)) as database:
        return list(database.iterdump())


def change(path: Path, *statements: str) -> None:
    with closing(sqlite3.connect(path)) as database:
        for statement in statements:
            database.execute(statement)
        database.commit()


def test_a_new_workshop_begins_as_the_migrations_would_have_left_it() -> None:
    assert migrated() == EMPTY.read_text(encoding="utf-8"), "a migration was added: make empty"


def test_what_is_left_of_a_database_that_was_taken_away_is_not_read_into_the_new_one(tmp_path: Path) -> None:
    path = tmp_path / "toadbell.sqlite3"
    begin(path)
    log = path.with_name(f"{path.name}-wal")
    with closing(sqlite3.connect(path)) as database:
        database.execute("PRAGMA journal_mode=WAL")
        database.execute("CREATE TABLE strays (what TEXT)")
        database.commit()
        left = log.read_bytes()
    assert left
    path.unlink()
    log.write_bytes(left)
    begin(path)
    look_over(path)
    assert gaps(path) == []
    assert not any("strays" in line for line in content(path))


def test_a_file_that_is_no_database_is_left_as_it_is_and_that_is_said(tmp_path: Path) -> None:
    path = tmp_path / "toadbell.sqlite3"
    path.write_bytes(b"not a database at all" * 500)
    told = said(tmp_path)
    assert "damaged, or no database" in told
    assert "make restore FILE=" in told
    assert path.read_bytes().startswith(b"not a database")


def test_from_a_database_that_cannot_be_used_there_is_a_way_back_and_it_is_kept_aside(tmp_path: Path) -> None:
    path = tmp_path / "toadbell.sqlite3"
    path.write_bytes(b"not a database at all" * 500)
    told = manage(tmp_path, "restore", str(tmp_path / "none.zip"))
    assert "cannot be read" in told.stderr
    assert path.read_bytes().startswith(b"not a database")  # nothing to go back to: it stays where it was
    told = manage(tmp_path, "restore", str(STORED / RELEASES[0] / "backup.zip"))
    assert told.returncode == 0, told.stderr
    (aside,) = tmp_path.glob("unusable-*.sqlite3")
    assert aside.read_bytes().startswith(b"not a database")
    with closing(sqlite3.connect(path)) as database:
        assert database.execute("SELECT first_name FROM shed_maker WHERE username='owner'").fetchone() == (
            "Maren Oddy",
        )


@pytest.mark.parametrize(
    ("harm", "says"),
    [
        (
            "INSERT INTO django_migrations (app, name, applied) VALUES ('trials', '9999_later', '2030-01-01')",
            "newer Toad Bell",
        ),
        ("DROP TABLE trials_verdict", "could not be brought up to date"),
        ("DROP TABLE records_attachment", "the table records_attachment is missing"),
        ("DELETE FROM django_migrations", "not Toad Bell's"),
    ],
)
def test_a_database_that_this_one_cannot_read_is_left_as_it_is_and_that_is_said(
    tmp_path: Path, harm: str, says: str
) -> None:
    path = put_in_place(tmp_path, RELEASES[0])
    change(path, harm)
    before = content(path)
    assert says in said(tmp_path)
    assert content(path) == before
    assert not list(tmp_path.glob("coming-*"))


def test_a_damaged_database_is_told_at_the_start_not_in_the_middle_of_a_run(tmp_path: Path) -> None:
    path = put_in_place(tmp_path, RELEASES[0])
    whole = bytearray(path.read_bytes())
    whole[8 * 4096 : 40 * 4096] = bytes(32 * 4096)
    path.write_bytes(whole)
    assert "damaged" in said(tmp_path)


def test_two_on_one_folder_would_be_two_writers_and_the_second_is_told_so(tmp_path: Path) -> None:
    server = serve(tmp_path, free_port())
    try:
        assert "runs on" in said(tmp_path)
    finally:
        server.kill()
        server.wait()


def test_a_folder_that_cannot_be_used_is_said(tmp_path: Path) -> None:
    (tmp_path / "in the way").write_text("a file")
    assert "cannot be used" in said(tmp_path / "in the way" / "data")
    (tmp_path / "secret-key").mkdir()
    assert "cannot be read or written" in said(tmp_path)


def test_stray_files_an_emptied_key_and_halves_of_killed_jobs_stop_nothing(tmp_path: Path) -> None:
    put_in_place(tmp_path, RELEASES[0])
    (tmp_path / "secret-key").write_text("")
    backups = tmp_path / "backups"
    backups.mkdir()
    for name in ("toad-bell-of-mine.zip", "toad-bell-20261126-999999-000000-x.zip", "notes.txt"):
        (backups / name).write_text("stray")
    halves = [
        backups / "toad-bell-20261126-100000-000000-asked-for.part",
        tmp_path / "coming-1.zip",
        tmp_path / "tmpabcd1234.upload.zip",
    ]
    for half in halves:
        half.write_text("half")
    (backups / "tmpabcdefgh").mkdir()
    port = free_port()
    server = serve(tmp_path, port)
    try:
        caller = Caller(port)
        found = caller.send("GET", "/api/backups")["backups"]
        assert [one["why"] for one in found] == ["before-migration"]
        assert (backups / "notes.txt").read_text() == "stray"
        assert not any(half.exists() for half in halves)
        assert not (backups / "tmpabcdefgh").exists()
        assert len((tmp_path / "secret-key").read_text()) >= 32
    finally:
        server.kill()
        server.wait()


@pytest.mark.parametrize("release", RELEASES)
def test_every_releases_database_opens_with_all_that_was_in_it_and_its_run_goes_on(
    tmp_path: Path, release: str
) -> None:
    put_in_place(tmp_path, release)
    port = free_port()
    server = serve(tmp_path, port)
    try:
        caller = Caller(port)
        assert caller.send("GET", "/api/me")["name"] == "Maren Oddy"
        shed = caller.send("GET", "/api/shed")
        opened_everywhere(caller)
        (on,) = shed["running"]
        before = caller.send("GET", f"/api/trials/{on['id']}/bench")["readings"]
        caller.send(
            "POST",
            f"/api/trials/{on['id']}/readings",
            [{"id": "019f0000-0000-7000-8000-000000000001", "pressure": "3.2 bar"}],
        )
        bench = caller.send("GET", f"/api/trials/{on['id']}/bench")
        assert (bench["phase"], bench["readings"], bench["log"][0]["says"]) == (
            "raising",
            before + 1,
            "old run, still on the bench",
        )
        (stands,) = [row["stands"] for row in shed["rows"] if row["stands"]]
        assert (stands["decision"]["fitness"], stands["decision"]["pressure"], stands["verdict"]) == (
            "fit",
            850_000,
            "tight",
        )
    finally:
        server.kill()
        server.wait()


def opened_everywhere(caller: Caller) -> None:
    """Every room, of everything that hangs there."""
    for path in ("shed", "vessels", "trials", "kit", "due", "logbook", "logbook?text=dry", "backups"):
        caller.send("GET", f"/api/{path}")
    for trial in caller.send("GET", "/api/trials"):  # type: ignore[union-attr]
        caller.send("GET", f"/api/trials/{trial['id']}/plan")
        if trial["started_at"]:
            for path in (f"trials/{trial['id']}/bench", f"trials/{trial['id']}/judge", f"records/{trial['id']}"):
                caller.send("GET", f"/api/{path}")


@pytest.mark.parametrize("release", [RELEASES[0], RELEASES[-1]])
def test_the_oldest_and_the_newest_releases_backup_and_package_are_taken_in(tmp_path: Path, release: str) -> None:
    port = free_port()
    server = serve(tmp_path, port)
    try:
        caller = Caller(port)
        for what, file in (("preview", "package.zip"), ("import", "package.zip"), ("preview", "package.zip")):
            status, begun = with_file(
                caller, port, "/api/jobs/with-file", (STORED / release / file).read_bytes(), what=what
            )
            assert status == 202
            told = ended(caller, begun)
            assert (told["state"], told["status"]) == ("done", 200), told
        assert told["package"]["changes"] is False  # all of it is here now
        opened_everywhere(caller)
        for trial in caller.send("GET", "/api/shed")["running"]:
            caller.send(
                "POST",
                f"/api/trials/{trial['id']}/steps",
                {"id": "019f0000-0000-7000-8000-000000000002", "kind": "dumped"},
            )
        status, begun = with_file(
            caller, port, "/api/jobs/with-file", (STORED / release / "backup.zip").read_bytes(), what="restore"
        )
        assert ended(caller, begun)["state"] == "done"
        again = Caller(port)
        assert again.send("GET", "/api/me")["name"] == "Maren Oddy"
        opened_everywhere(again)
    finally:
        server.kill()
        server.wait()


def test_nothing_is_put_back_while_a_run_is_on_the_bench_and_a_job_can_be_stopped(tmp_path: Path) -> None:
    put_in_place(tmp_path, RELEASES[0])
    port = free_port()
    server = serve(tmp_path, port)
    try:
        caller = Caller(port)
        name = job(caller, {"what": "backup"})["name"]
        told = ended(caller, caller.send("POST", "/api/jobs", {"what": "restore", "name": name}))
        assert (told["status"], "is on the bench" in told["says"]) == (409, True)
        begun = caller.send("POST", "/api/jobs", {"what": "backup"})
        caller.send("DELETE", f"/api/jobs/{begun['id']}")
        stopped = ended(caller, begun)
        listed = [one["name"] for one in caller.send("GET", "/api/backups")["backups"]]
        assert stopped["state"] == "stopped" or stopped["name"] in listed
        deadline = time.monotonic() + 10
        while list((tmp_path / "backups").glob("*.part")):
            assert time.monotonic() < deadline
            time.sleep(0.1)
    finally:
        server.kill()
        server.wait()
