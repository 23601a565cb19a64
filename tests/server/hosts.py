"""Two hosts and the line between them: network namespaces where they may be made, else this machine's own loopback."""

import contextlib
import ctypes
import http.client
import json
import os
import shutil
import socket
import ssl
import subprocess
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import Any

_NEWNET = 0x40000000
_LIBC = ctypes.CDLL(None, use_errno=True)


def _ip(*words: str) -> bool:
    return subprocess.run(["ip", *words], capture_output=True).returncode == 0


class Net:
    """The workshop's machine (`desk`), a phone somewhere in the yard, and their network."""

    def __init__(self) -> None:
        name = uuid.uuid4().hex[:6]
        self.desk_space, self.yard_space = f"tb-desk-{name}", f"tb-yard-{name}"
        self.near, self.far = f"tbn{name}", f"tbf{name}"
        self.apart = os.geteuid() == 0 and shutil.which("ip") is not None and self._made()
        self.address = "192.168.77.1" if self.apart else "127.0.0.2"
        self.other = "192.168.77.3" if self.apart else "127.0.0.3"
        """Of a second phone in the yard."""

    def _made(self) -> bool:
        steps = (
            ("netns", "add", self.desk_space),
            ("netns", "add", self.yard_space),
            ("link", "add", self.near, "type", "veth", "peer", "name", self.far),
            ("link", "set", self.near, "netns", self.desk_space),
            ("link", "set", self.far, "netns", self.yard_space),
            ("-n", self.desk_space, "addr", "add", "192.168.77.1/24", "dev", self.near),
            ("-n", self.desk_space, "link", "set", "lo", "up"),
            ("-n", self.yard_space, "addr", "add", "192.168.77.2/24", "dev", self.far),
            ("-n", self.yard_space, "addr", "add", "192.168.77.3/24", "dev", self.far),
            ("-n", self.yard_space, "link", "set", self.far, "up"),
            ("-n", self.desk_space, "link", "set", self.near, "up"),
        )
        made = all(_ip(*step) for step in steps)
        if not made:
            self.close()
        return made

    def close(self) -> None:
        """Take it all down again."""
        for space in (self.desk_space, self.yard_space):
            _ip("netns", "del", space)

    @property
    def at_the_desk(self) -> list[str]:
        """What a command begins with that is to run on the workshop's machine."""
        return ["ip", "netns", "exec", self.desk_space] if self.apart else []

    def cut(self) -> None:
        """The phone is out of reach."""
        assert _ip("-n", self.desk_space, "link", "set", self.near, "down")

    def mend(self) -> None:
        """It is back."""
        assert _ip("-n", self.desk_space, "link", "set", self.near, "up")

    def slow(self) -> bool:
        """From now on 256 kbit/s with a queue that overflows: what does not fit is lost. False where it cannot be."""
        if shutil.which("tc") is None:
            return False
        rule = ("rate", "256kbit", "burst", "3000", "latency", "40ms")
        done = [
            subprocess.run(["tc", "-n", space, "qdisc", "add", "dev", card, "root", "tbf", *rule], capture_output=True)
            for space, card in ((self.desk_space, self.near), (self.yard_space, self.far))
        ]
        return all(one.returncode == 0 for one in done)

    def quick(self) -> None:
        """As it was."""
        for space, card in ((self.desk_space, self.near), (self.yard_space, self.far)):
            subprocess.run(["tc", "-n", space, "qdisc", "del", "dev", card, "root"], capture_output=True)

    @contextlib.contextmanager
    def _inside(self, space: str) -> Iterator[None]:
        """This thread, on that host, until the block ends; what it connects stays there."""
        if not self.apart:
            yield
            return
        with Path("/proc/thread-self/ns/net").open() as here, Path(f"/var/run/netns/{space}").open() as there:
            assert _LIBC.setns(there.fileno(), _NEWNET) == 0
            try:
                yield
            finally:
                assert _LIBC.setns(here.fileno(), _NEWNET) == 0

    def connected(self, near: bool, address: str, port: int, source: str = "") -> socket.socket:
        """A connection from the desk, or from the yard; from one of its addresses."""
        with self._inside(self.desk_space if near else self.yard_space):
            return socket.create_connection((address, port), timeout=15, source_address=(source, 0) if source else None)


class Browser:
    """A browser on one of the hosts, as far as the API can tell: with cookies, the page's token, and its own window."""

    def __init__(self, net: Net, port: int, workshop: Path | None = None, window: str = "", source: str = "") -> None:
        self.net, self.port, self.workshop, self.window = net, port, workshop, window
        self.address = net.address if workshop else "127.0.0.1"
        self.source = source
        self.cookies: dict[str, str] = {}
        self.line: http.client.HTTPConnection | None = None

    @property
    def origin(self) -> str:
        return f"http{'s' if self.workshop else ''}://{self.address}:{self.port}"

    def _line(self) -> http.client.HTTPConnection:
        if self.line is None:
            line = http.client.HTTPConnection(self.address, self.port, timeout=15)
            sock = self.net.connected(self.workshop is None, self.address, self.port, self.source)
            if self.workshop:
                trusts = ssl.create_default_context(cafile=str(self.workshop))
                sock = trusts.wrap_socket(sock, server_hostname=self.address)
            line.sock = sock
            self.line = line
        return self.line

    def ask(self, method: str, path: str, body: Any = None, **headers: str) -> tuple[int, Any]:
        """Status and answer; raises OSError where nobody answers. The next one begins a connection of its own then."""
        told = {
            "Content-Type": "application/json",
            "Cookie": "; ".join(f"{key}={value}" for key, value in self.cookies.items()),
            "X-CSRFToken": self.cookies.get("toadbell_csrf", ""),
            "Origin": self.origin,
            "Host": f"{self.address}:{self.port}",
            "X-Hand": self.window,
            **headers,
        }
        if self.workshop is None:
            self.line = None  # the desk is asked now and then: a line that lies idle is closed meanwhile
        try:
            line = self._line()
            line.request(method, path, json.dumps(body) if body is not None else None, told)
            answer = line.getresponse()
            data = answer.read()
            if answer.will_close:  # the next is opened on its own host, and not wherever this process stands
                self.line = None
        except (OSError, http.client.HTTPException) as problem:
            self.line = None
            raise OSError(str(problem)) from problem
        for cookie in answer.headers.get_all("Set-Cookie") or []:
            name, _, value = cookie.partition(";")[0].partition("=")
            self.cookies[name] = value
        return answer.status, json.loads(data) if data[:1] in (b"{", b"[") else data.decode()

    def send(self, method: str, path: str, body: Any = None) -> Any:
        """The answer of what has to work."""
        status, data = self.ask(method, path, body)
        assert status < 300, (status, data)
        return data


def listening(pid: int) -> set[tuple[str, int]]:
    """Addresses and ports beyond loopback at which anything listens on the host of a process."""
    found = set()
    for line in Path(f"/proc/{pid}/net/tcp").read_text().splitlines()[1:]:
        words = line.split()
        address, _, port = words[1].partition(":")
        told = socket.inet_ntoa(bytes.fromhex(address)[::-1])
        if words[3] == "0A" and told != "127.0.0.1":
            found.add((told, int(port, 16)))
    return found
