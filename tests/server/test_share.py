"""The door to the workshop's own network: who comes through it, what goes through it when the line is bad, and that
nothing listens before and after.
"""

import contextlib
import datetime
import os
import socket
import ssl
import subprocess
import sys
import threading
import time
import uuid
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import pytest
from cryptography import x509
from django.conf import settings
from django.utils import timezone

from tests.server.conftest import KIT, VESSEL
from tests.server.hosts import Browser, Net, listening
from tests.server.test_durability import free_port
from toadbell.people.words import new_words
from toadbell.shed.errors import NotNow
from toadbell.site.share.certificate import certificate_for
from toadbell.site.share.listener import SecondDoor
from toadbell.site.who import tells_who

pytestmark = pytest.mark.xdist_group("share")


class Shop:
    """The application on the workshop's machine, and a browser at its desk."""

    def __init__(self, net: Net, folder: Path) -> None:
        self.net, self.folder, self.port = net, folder, free_port()
        self.start()

    def start(self) -> None:
        more = {} if tells_who() else {"TOADBELL_OPEN": "1"}
        self.process = subprocess.Popen(
            [*self.net.at_the_desk, sys.executable, "manage.py", "serve", "--port", str(self.port)],
            cwd=settings.BASE_DIR,
            stdout=subprocess.PIPE,
            text=True,
            env={**os.environ, "TOADBELL_DATA": str(self.folder), "TOADBELL_SHARE_ON_LOOPBACK": "1", **more},
        )
        assert self.process.stdout is not None
        assert "Toad Bell is at" in self.process.stdout.readline()
        self.desk = Browser(self.net, self.port, window="desk")
        soon(lambda: answers(self.desk))

    @property
    def workshop(self) -> Path:
        return self.folder / "door" / "workshop.pem"

    def open(self, **more: Any) -> int:
        """Open the door; gives its port."""
        told = self.desk.send("POST", "/api/share", {"address": self.net.address, "minutes": 30, **more})
        return int(told["url"].rpartition(":")[2])

    def words(self, **whom: Any) -> str:
        return str(self.desk.send("POST", "/api/invitations", whom)["words"])

    def phone(self, port: int, window: str = "phone", **whom: Any) -> Browser:
        """A phone that was let in."""
        found = Browser(self.net, port, self.workshop, window)
        found.ask("GET", "/")
        found.send("POST", "/api/join", {"words": self.words(**whom), "device": "a phone"})
        return found

    def trial(self) -> str:
        """A run on the bench, its vent shut."""
        vessel = self.desk.send("POST", "/api/vessels", {"name": f"Tank {uuid.uuid4().hex[:4]}", "sheet": VESSEL})
        plan = self.desk.send("POST", f"/api/vessels/{vessel['id']}/trials")
        plan = self.desk.send(
            "PUT", f"/api/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **KIT}, "version": 1}
        )
        self.desk.send("POST", f"/api/trials/{plan['id']}/freeze", {"seen": plan["seen"]})
        bench = self.desk.send("GET", f"/api/trials/{plan['id']}/bench")
        self.desk.send("POST", f"/api/trials/{plan['id']}/start", {"source": "dial", "seen": bench["seen"]})
        step(self.desk, plan["id"], "vent-shut")
        return str(plan["id"])

    def holding(self) -> str:
        """A run raised and shut in: its hold has begun."""
        trial = self.trial()
        for stage in self.desk.send("GET", f"/api/trials/{trial}/bench")["answer"]["stages"]:
            read = {"id": str(uuid.uuid4()), "pressure": f"{stage['target'] / 1e5 + 0.01:.3f} bar"}
            self.desk.send("POST", f"/api/trials/{trial}/readings", [read])
            assert step(self.desk, trial, "stage-reached")[0] == 201
        assert step(self.desk, trial, "shut-in")[0] == 201
        return trial


def step(at: Browser, trial: str, kind: str, **data: Any) -> tuple[int, Any]:
    return at.ask("POST", f"/api/trials/{trial}/steps", {"id": str(uuid.uuid4()), "kind": kind, "data": data})


def answers(at: Browser) -> bool:
    try:
        return at.ask("GET", "/api/me")[0] == 200
    except OSError:
        return False


def soon(true: Callable[[], bool], within: float = 20) -> None:
    deadline = time.monotonic() + within
    while not true():
        assert time.monotonic() < deadline
        time.sleep(0.05)


@pytest.fixture(scope="module")
def net() -> Iterator[Net]:
    made = Net()
    yield made
    made.close()


@pytest.fixture(scope="module")
def shop(net: Net, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Shop]:
    running = Shop(net, tmp_path_factory.mktemp("share"))
    yield running
    running.process.kill()
    running.process.wait()


@pytest.fixture(autouse=True)
def closed_again(request: pytest.FixtureRequest) -> Iterator[None]:
    yield
    if "shop" in request.fixturenames:
        request.getfixturevalue("shop").desk.ask("DELETE", "/api/share")


def test_nothing_listens_beyond_this_machine_before_the_key_is_pressed_and_after(shop: Shop) -> None:
    before = listening(shop.process.pid)
    assert before == set() or not shop.net.apart  # a machine that is shared has others' doors too
    port = shop.open()
    opened = listening(shop.process.pid) - before
    assert {address for address, at in opened if at == port} == {shop.net.address}
    shop.desk.send("DELETE", "/api/share")
    assert (shop.net.address, port) not in listening(shop.process.pid)
    with pytest.raises(OSError, match="refused"):
        Browser(shop.net, port, shop.workshop).ask("GET", "/")


def test_it_closes_with_the_run_it_was_opened_for(shop: Shop) -> None:
    trial = shop.trial()
    port = shop.open(trial=trial)
    assert shop.desk.send("GET", "/api/share")["with_run"]
    step(shop.desk, trial, "dumped")
    soon(lambda: (shop.net.address, port) not in listening(shop.process.pid))
    assert shop.desk.send("GET", "/api/share")["url"] is None


def test_it_is_opened_at_an_address_of_this_machines_own_and_no_other(shop: Shop) -> None:
    for address in ("0.0.0.0", "8.8.8.8", "192.168.250.250", "127.0.0.1", "", "localhost"):
        status, data = shop.desk.ask("POST", "/api/share", {"address": address})
        assert (status, shop.desk.send("GET", "/api/share")["url"]) == (409, None), data


def test_a_phone_comes_by_six_words_over_a_line_it_can_trust_and_sees_the_run_within_a_second(shop: Shop) -> None:
    trial = shop.trial()
    phone = shop.phone(shop.open(), name="Maren Oddy", role="maker")
    assert phone.send("GET", "/api/me")["name"] == "Maren Oddy"
    asked = time.monotonic()
    shop.desk.send("POST", f"/api/trials/{trial}/readings", [{"id": str(uuid.uuid4()), "pressure": "3.2 bar"}])
    seen = phone.send("POST", f"/api/trials/{trial}/look")
    assert (seen["latest"]["pressure"], time.monotonic() - asked < 10) == (320000.0, True)


def test_whoever_does_not_trust_the_workshops_certificate_is_told_so_by_their_own_browser(shop: Shop) -> None:
    port = shop.open()
    sock = shop.net.connected(False, shop.net.address, port)
    with pytest.raises(ssl.SSLCertVerificationError):
        ssl.create_default_context().wrap_socket(sock, server_hostname=shop.net.address)
    phone = Browser(shop.net, port, shop.workshop)
    status, file = phone.ask("GET", "/workshop.crt")
    assert (status, file) == (200, shop.workshop.read_text())
    assert "PRIVATE" not in file


def test_a_stranger_of_the_network_is_told_nothing_and_wrong_words_have_to_wait(shop: Shop) -> None:
    stranger = Browser(shop.net, shop.open(), shop.workshop, source=shop.net.other)
    stranger.ask("GET", "/")
    assert {stranger.ask("GET", f"/api/{path}")[0] for path in ("me", "vessels", "people", "logbook")} == {401}
    words = shop.words(name="A guest", role="watcher")
    said = [stranger.ask("POST", "/api/join", {"words": new_words()}) for _ in range(6)]
    assert {status for status, _ in said} == {409}
    assert "Too many wrong words" in said[-1][1]["says"]
    assert stranger.ask("POST", "/api/join", {"words": words})[0] == 409
    assert stranger.ask("GET", "/api/me")[0] == 401


def test_a_name_that_was_made_to_lead_here_is_answered_nothing(shop: Shop) -> None:
    phone = Browser(shop.net, shop.open(), shop.workshop)
    for host in ("evil.example", "localhost", "127.0.0.1", f"{shop.net.address}.evil.example"):
        assert phone.ask("GET", "/", Host=host)[0] == 400
    assert shop.desk.ask("GET", "/api/me", Host="evil.example")[0] == 400


def test_who_sits_at_the_machine_is_nobody_when_coming_in_from_the_network(shop: Shop) -> None:
    near = Browser(shop.net, shop.open(), shop.workshop)
    near.net = shop.net
    assert near.ask("GET", "/api/me")[0] == 401  # the owner's own user, but through the other door


def test_a_phone_that_is_shut_out_is_so_on_the_line_it_has_open(shop: Shop) -> None:
    phone = shop.phone(shop.open(), name="Hanne Brill", role="watcher")
    assert phone.ask("GET", "/api/vessels")[0] == 200
    one = next(one for one in shop.desk.send("GET", "/api/signed-in") if one["person"] == "Hanne Brill")
    shop.desk.send("POST", f"/api/signed-in/{one['id']}/end")
    assert phone.ask("GET", "/api/vessels")[0] == 401


def test_the_run_is_taken_over_from_the_yard_and_back(shop: Shop) -> None:
    trial = shop.trial()
    phone = shop.phone(shop.open(), name="Tobit Lisk", role="maker")
    assert step(phone, trial, "gone-back", to=0)[0] == 409
    phone.send("POST", f"/api/trials/{trial}/hand", {"name": "a phone", "how": "ask"})
    shop.desk.send("POST", f"/api/trials/{trial}/hand", {"how": "give"})
    assert step(shop.desk, trial, "gone-back", to=0)[0] == 409
    held = shop.desk.send("GET", f"/api/trials/{trial}/bench")["hand"]
    assert (held["mine"], held["name"]) == (False, "Tobit Lisk on a phone")
    shop.desk.send("POST", f"/api/trials/{trial}/hand", {"name": "a laptop"})
    assert shop.desk.send("GET", f"/api/trials/{trial}/bench")["hand"]["mine"]


def test_a_logger_hands_in_over_the_network_with_its_token_alone(shop: Shop) -> None:
    trial = shop.trial()
    logger = Browser(shop.net, shop.open(), shop.workshop)
    token = shop.desk.send("POST", "/api/devices", {"name": "yard logger"})
    shop.desk.send("POST", f"/api/trials/{trial}/devices/{token['id']}", {"on": True})
    batch = {"readings": [{"id": "boot1-1", "pressure": "3.25 bar", "ago": "0 s"}]}
    path = "/api/devices/readings"
    assert logger.ask("POST", path, batch, Authorization=f"Bearer {token['token']}")[0] == 201
    assert logger.ask("POST", path, batch, Authorization="Bearer tb_wrong")[0] == 401
    assert logger.ask("GET", "/api/devices", Authorization=f"Bearer {token['token']}")[0] == 401


def handed_in(phone: Browser, trial: str, ids: list[str], acknowledged: set[str]) -> None:
    """Send what was not acknowledged, a reading at a time, as a phone's outbox does; stop where nobody answers."""
    for one in ids:
        if one in acknowledged:
            continue
        try:
            status, _ = phone.ask("POST", f"/api/trials/{trial}/readings", [{"id": one, "pressure": "3.2 bar"}])
        except OSError:
            return
        if status == 201:
            acknowledged.add(one)


def test_a_line_cut_in_mid_hold_loses_nothing_and_doubles_nothing(shop: Shop) -> None:
    if not shop.net.apart:
        pytest.skip("a line is only cut between two hosts, which may not be made here")
    trial = shop.holding()
    before = shop.desk.send("GET", f"/api/trials/{trial}/bench")["readings"]
    phone = shop.phone(shop.open(), name="Pascoe Wren", role="maker")
    ids, acknowledged = [str(uuid.uuid4()) for _ in range(40)], set[str]()
    sending = threading.Thread(target=handed_in, args=(phone, trial, ids, acknowledged))
    sending.start()
    soon(lambda: len(acknowledged) > 5)
    shop.net.cut()
    try:
        sending.join(60)
        assert 5 < len(acknowledged) < 40
        assert step(shop.desk, trial, "note", text="the run goes on at the desk meanwhile")[0] == 201
    finally:
        shop.net.mend()
    soon(lambda: (handed_in(phone, trial, ids, acknowledged), len(acknowledged) == 40)[1], 60)
    handed_in(phone, trial, ids, set())  # and everything once more
    assert shop.desk.send("GET", f"/api/trials/{trial}/bench")["readings"] == before + 40


def test_a_slow_line_that_loses_packets_is_slow_and_nothing_worse(shop: Shop) -> None:
    if not (shop.net.apart and shop.net.slow()):
        pytest.skip("a line is only slowed between two hosts, where the system's queues can be set")
    try:
        trial = shop.trial()
        phone = shop.phone(shop.open(), name="Nell Ash", role="maker")
        ids, acknowledged = [str(uuid.uuid4()) for _ in range(10)], set[str]()
        phone.send("GET", f"/api/trials/{trial}/bench")  # far more than the queue holds at once
        soon(lambda: (handed_in(phone, trial, ids, acknowledged), len(acknowledged) == 10)[1], 60)
    finally:
        shop.net.quick()
    assert shop.desk.send("GET", f"/api/trials/{trial}/bench")["readings"] == 10


def test_what_a_phone_was_acknowledged_survives_a_kill_and_the_door_is_closed_after(net: Net, tmp_path: Path) -> None:
    own = Shop(net, tmp_path / "killed")
    try:
        trial = own.trial()
        phone = own.phone(own.open(), name="Maren Oddy", role="maker")
        ids, acknowledged = [str(uuid.uuid4()) for _ in range(200)], set[str]()
        sending = threading.Thread(target=handed_in, args=(phone, trial, ids, acknowledged))
        sending.start()
        soon(lambda: len(acknowledged) > 10)
        own.process.kill()
        own.process.wait(20)
        sending.join(30)
        own.start()
        kept = own.desk.send("GET", f"/api/trials/{trial}/trace")["series"][0]["time"]
        assert len(acknowledged) <= len(kept) <= len(acknowledged) + 1
        assert (net.address, 8443) not in listening(own.process.pid)
        phone.port = own.open()
        assert phone.ask("GET", "/api/me")[0] == 200  # let in for good, it still is
    finally:
        own.process.kill()
        own.process.wait()


# -- the certificate ------------------------------------------------------------------------


def shake_hands(*sides: ssl.SSLObject) -> None:
    for side in sides * 6:
        with contextlib.suppress(ssl.SSLWantReadError):
            side.do_handshake()


def test_the_workshops_certificate_vouches_for_no_site_of_the_internet(tmp_path: Path) -> None:
    made = certificate_for(tmp_path, "8.8.8.8")
    offered, trusts = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER), ssl.create_default_context(cafile=str(made.workshop))
    offered.load_cert_chain(made.chain, made.key)
    there, back = ssl.MemoryBIO(), ssl.MemoryBIO()
    server = offered.wrap_bio(there, back, server_side=True)
    client = trusts.wrap_bio(back, there, server_hostname="8.8.8.8")
    with pytest.raises(ssl.SSLCertVerificationError, match="permitted subtree"):
        shake_hands(client, server)


def test_a_certificate_is_kept_while_it_serves_and_made_anew_when_it_soon_ends(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    first = certificate_for(tmp_path, "192.168.1.5")
    assert certificate_for(tmp_path, "192.168.1.5").fingerprint == first.fingerprint
    leaf = x509.load_pem_x509_certificate(first.chain.read_bytes())
    assert leaf.not_valid_after_utc - leaf.not_valid_before_utc < datetime.timedelta(days=398)
    assert {path.stat().st_mode & 0o077 for path in tmp_path.iterdir()} == {0}
    monkeypatch.setattr("toadbell.site.share.certificate.SOON", datetime.timedelta(days=395))
    assert certificate_for(tmp_path, "192.168.1.5").fingerprint != first.fingerprint


# -- its time -------------------------------------------------------------------------------


@pytest.fixture
def door(settings: Any, tmp_path: Path) -> Iterator[SecondDoor]:
    """A door of its own."""
    settings.SHARE_ON_LOOPBACK, settings.DATA_DIR = True, tmp_path
    made = SecondDoor()
    made.is_served_by(None)
    yield made
    made.close()


def reached(port: int) -> bool:
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.2", port)) == 0


def test_it_closes_by_itself_when_its_time_is_over(door: SecondDoor, monkeypatch: pytest.MonkeyPatch) -> None:
    opened = door.open("127.0.0.2", 10)
    assert reached(opened.port)
    later = timezone.now() + datetime.timedelta(minutes=10, seconds=1)
    monkeypatch.setattr(timezone, "now", lambda: later)
    assert door.opened is None
    soon(lambda: not reached(opened.port))


def test_it_is_open_for_a_day_at_the_most_and_opened_again_it_stays_where_it_was(door: SecondDoor) -> None:
    first = door.open("127.0.0.2", 60 * 24 * 7)
    assert first.until - timezone.now() <= datetime.timedelta(hours=24)
    again = door.open("127.0.0.2", 10)
    assert (again.port, again.until < first.until) == (first.port, True)
    door.close()
    assert not reached(first.port)


def test_a_port_that_is_taken_is_passed_over_and_one_that_was_asked_for_is_refused_in_words(door: SecondDoor) -> None:
    with socket.socket() as other:
        other.bind(("127.0.0.2", 0))
        other.listen()
        taken = other.getsockname()[1]
        with pytest.raises(NotNow, match=f"Port {taken} is in use"):
            door.open("127.0.0.2", 10, port=taken)
    assert door.opened is None
    with pytest.raises(NotNow, match="no such address"):
        door.open("203.0.113.9", 10)


def test_one_set_of_words_lets_in_one_phone_however_many_bring_them_at_once(shop: Shop) -> None:
    port = shop.open()
    phones = [Browser(shop.net, port, shop.workshop, f"phone {n}") for n in range(6)]
    for one in phones:
        one.ask("GET", "/")
    words = shop.words(name="Wren Mallow", role="watcher")
    brought = {"words": words, "device": "a phone"}
    with ThreadPoolExecutor(len(phones)) as together:
        said = list(together.map(lambda one: one.ask("POST", "/api/join", brought), phones))
    assert sorted(status for status, _ in said) == [201, *[409] * (len(phones) - 1)]
    assert sum(one.ask("GET", "/api/me")[0] == 200 for one in phones) == 1


def test_who_asks_by_two_names_at_once_is_answered_nothing(shop: Shop) -> None:
    sock = shop.net.connected(True, "127.0.0.1", shop.port)
    sock.sendall(b"GET /api/me HTTP/1.1\r\nHost: 127.0.0.1\r\nHost: elsewhere.example\r\nConnection: close\r\n\r\n")
    assert sock.recv(64).split(b" ")[1] == b"400"
