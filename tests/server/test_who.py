"""Who gets in: the user who started it, whoever holds a link of one use, and nobody else of the machine; other sites'
pages neither.
"""

import http.client
import os
import stat
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from django.conf import settings
from django.contrib.sessions.models import Session
from django.test import Client

from tests.server.conftest import Workshop
from tests.server.test_durability import Caller, free_port, serve
from toadbell.site import enter
from toadbell.site.who import loopback, tells_who, user_of

TABLE = """  sl  local_address rem_address   st tx_queue rx_queue tr tm->when retrnsmt   uid  timeout inode
   0: 0100007F:1F90 00000000:0000 0A 00000000:00000000 00:00000000 00000000  1000        0 1 1
   1: 0100007F:D431 0100007F:1F90 01 00000000:00000000 00:00000000 00000000  1007        0 2 1
   2: 0100007F:1F90 0100007F:D431 01 00000000:00000000 00:00000000 00000000  1000        0 3 1
   3: 0100007F:D432 0100007F:1F90 06 00000000:00000000 00:00000000 00000000     0        0 0 3
"""
TABLE6 = """  sl  local_address                         remote_address                        st tx_queue rx_queue tr tm->when retrnsmt   uid
   0: 0000000000000000FFFF00000100007F:D433 0000000000000000FFFF00000100007F:1F90 01 00000000:00000000 00:00000000 00000000  1008 0 4
"""  # noqa: E501

pytestmark = pytest.mark.xdist_group("who")


@pytest.mark.parametrize(
    ("port", "user"),
    [(0xD431, 1007), (0xD433, 1008), (0xD432, None), (0xD440, None)],
    ids=["its own end, not ours", "through the newer protocol", "closed already: nobody's", "no such connection"],
)
def test_the_caller_is_told_by_the_end_of_the_connection_that_is_theirs(
    tmp_path: Path, port: int, user: int | None
) -> None:
    tables = tmp_path / "tcp", tmp_path / "tcp6"
    tables[0].write_text(TABLE)
    tables[1].write_text(TABLE6)
    assert user_of(("127.0.0.1", port), ("127.0.0.1", 0x1F90), tables) == user


@pytest.mark.parametrize(
    ("address", "is_here"),
    [("127.0.0.1", True), ("::1", True), ("::ffff:127.0.0.1", True), ("192.0.2.7", False), ("", False)],
)
def test_only_this_machines_own_addresses_are_near(address: str, is_here: bool) -> None:
    assert loopback(address) is is_here


@pytest.fixture(scope="module")
def running(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[Path, int]]:
    """The application with somebody's own data."""
    folder, port = tmp_path_factory.mktemp("own"), free_port()
    folder.chmod(0o755)
    server = serve(folder, port)
    yield folder, port
    server.kill()
    server.wait()


def asked(port: int, path: str, **headers: str) -> tuple[int, dict[str, str], bytes]:
    line = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
    line.request("GET", path, headers=headers)
    answer = line.getresponse()
    return answer.status, dict(answer.getheaders()), answer.read()


def test_whoever_started_it_has_nothing_to_type_and_begins_no_session(running: tuple[Path, int]) -> None:
    _, port = running
    status, headers, _ = asked(port, "/api/me")
    assert status == 200
    assert "toadbell_session" not in headers.get("set-cookie", "")
    assert Caller(port).send("PUT", "/api/me", {"units": "metric"})["name"] == "Owner"


@pytest.mark.skipif(
    os.getuid() != 0 or not tells_who(),
    reason="another user can only be tried by one who may become them, where the system tells",
)
def test_another_user_of_the_machine_is_a_stranger_until_given_a_link_that_works_once(
    running: tuple[Path, int],
) -> None:
    folder, port = running

    def as_another(path: str, cookie: str = "") -> list[str]:
        """What that user is answered: status, and the cookie that came with it.

        The connection is made as them, and used here.
        """
        uid = os.geteuid()
        line = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
        os.seteuid(65534)  # a socket is owned by whoever makes it
        try:
            line.connect()
        finally:
            os.seteuid(uid)
        line.request("GET", path, headers={"Cookie": cookie})
        answer = line.getresponse()
        answer.read()
        cookies = [cookie.partition(";")[0] for cookie in answer.headers.get_all("Set-Cookie") or []]
        return [str(answer.status), "; ".join(cookies)]

    assert as_another("/api/me")[0] == "401"
    assert as_another("/api/vessels")[0] == "401"
    assert as_another("/")[0] == "200"  # the page that says so
    made = subprocess.run(
        [sys.executable, "manage.py", "link", "--port", str(port)],
        cwd=settings.BASE_DIR,
        env={**os.environ, "TOADBELL_DATA": str(folder)},
        capture_output=True,
        text=True,
        check=True,
    )
    path = made.stdout.strip().rpartition(f":{port}")[2]
    status, cookie = as_another(path)
    assert (status, "toadbell_session=" in cookie) == ("302", True)
    assert as_another("/api/me", cookie)[0] == "200"
    assert as_another(path)[0] == "403"
    assert as_another("/api/me")[0] == "401"


def test_the_data_is_its_owners_alone(running: tuple[Path, int]) -> None:
    folder, port = running
    Caller(port).send("POST", "/api/jobs", {"what": "backup"})
    assert stat.S_IMODE(folder.stat().st_mode) == 0o700
    for path in folder.rglob("*"):
        assert stat.S_IMODE(path.stat().st_mode) & 0o077 == 0, path


@pytest.mark.parametrize("site", ["cross-site", "same-site"])
def test_a_page_of_another_site_is_told_nothing_and_changes_nothing(running: tuple[Path, int], site: str) -> None:
    _, port = running
    for path in ("/api/me", "/api/backups", "/api/shed"):
        status, headers, _ = asked(port, path, **{"Sec-Fetch-Site": site})
        assert status == 403
        assert headers["cross-origin-resource-policy"] == "same-origin"
        assert headers["cross-origin-opener-policy"] == "same-origin"
    assert asked(port, "/", **{"Sec-Fetch-Site": site})[0] == 200  # a link from elsewhere leads in
    assert asked(port, "/api/me", **{"Sec-Fetch-Site": "same-origin"})[0] == 200


def test_a_name_that_is_not_this_machines_gets_a_page_of_ours_in_words(running: tuple[Path, int]) -> None:
    status, _, body = asked(running[1], "/api/me", Host="tank.example")
    assert status == 400
    assert b"This is not how Toad Bell is asked" in body


@pytest.mark.django_db
def test_looking_leaves_no_session_behind(workshop: Workshop) -> None:
    for path in ("/me", "/shed", "/vessels", "/trials", "/kit", "/due", "/logbook", "/backups"):
        workshop.get(path)
    assert Session.objects.count() == 0


@pytest.mark.django_db
def test_with_ones_own_data_a_call_that_no_connection_stands_for_is_a_strangers(settings: object) -> None:
    settings.OPEN_TO_ALL_HERE = False  # type: ignore[attr-defined]
    assert Client().get("/api/me").status_code == 401


@pytest.mark.django_db
def test_a_newer_link_takes_the_older_ones_place(
    settings: object, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    settings.OPEN_TO_ALL_HERE = False  # type: ignore[attr-defined]
    monkeypatch.setattr(enter, "FILE", tmp_path / "link")
    first, second = (enter.new_link(8000).partition(":8000")[2] for _ in range(2))
    client = Client()
    assert client.get(first).status_code == 403
    assert client.get("/api/me").status_code == 401
    assert client.get(second).status_code == 302
    assert client.get("/api/me").json()["name"] == "Owner"
