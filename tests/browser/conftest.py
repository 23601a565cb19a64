"""The real interface in headless Chromium, on a server of its own with a database of its own."""

import os
import re
import socket
import threading
import time
from collections.abc import Iterator
from typing import Any

import pytest
import uvicorn
from django.test import Client
from playwright.sync_api import Page, expect

from tests.server.conftest import Workshop, rewind
from toadbell.shed.models import Maker, Vessel
from toadbell.trials.models import Trial
from tools.serving import LAUNCH

os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
expect.set_options(timeout=15_000)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    """Debian's Chromium, with nothing that calls home."""
    return LAUNCH


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    """A laptop in the workshop."""
    return {"viewport": {"width": 1280, "height": 800}, "service_workers": "block", "locale": "en-GB"}


class Server:
    """The application on a port of its own; it can be stopped and started again."""

    def __init__(self) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = int(probe.getsockname()[1])
        self.url = f"http://127.0.0.1:{self.port}"
        self.answers: Any = "toadbell.site.asgi:application"
        self.stopped = False
        """Was it stopped on purpose? What it was just being asked is then answered with 503."""

    def start(self) -> None:
        """Serve, and wait until it answers."""
        config = uvicorn.Config(
            self.answers,
            host="127.0.0.1",
            port=self.port,
            lifespan="off",
            log_level="error",
            proxy_headers=False,
        )
        self.server = uvicorn.Server(config)
        self.thread = threading.Thread(target=self.server.run, daemon=True)
        self.thread.start()
        deadline = time.monotonic() + 20
        while not self.server.started:
            assert time.monotonic() < deadline
            time.sleep(0.02)

    def stop(self) -> None:
        """Stop serving; connections are cut."""
        self.stopped = True
        self.server.should_exit = self.server.force_exit = True
        self.thread.join(20)


@pytest.fixture
def server(transactional_db: None) -> Iterator[Server]:
    """A server on an empty database."""
    running = Server()
    running.start()
    yield running
    running.stop()


@pytest.fixture
def shop(server: Server, page: Page, request: pytest.FixtureRequest) -> Iterator[Page]:
    """A page for that server, at no address yet. Whatever the browser complains of, and any call to elsewhere, fails
    the test; what is refused in words is nothing to complain of. A test that looks for what is not there is marked so.
    """
    complaints: list[str] = []
    stranger = request.node.get_closest_marker("stranger") is not None
    astray = request.node.get_closest_marker("astray") is not None

    def complain(message: Any) -> None:
        away = "Failed to load resource: net::" in message.text or "ERR_CONNECTION_REFUSED" in message.text
        stopped = server.stopped and "status of 503" in message.text
        unasked = stranger and re.search("status of (401|503)", message.text) is not None
        expected = away or stopped or unasked or (astray and "status of 404" in message.text)
        if message.type == "error" and not expected:
            complaints.append(message.text)

    page.on("console", complain)
    page.on("pageerror", lambda problem: complaints.append(str(problem)))
    page.on(
        "request",
        lambda request: (
            complaints.append(request.url) if not request.url.startswith((server.url, "data:", "blob:")) else None
        ),
    )
    yield page
    assert complaints == []


@pytest.fixture
def at_the_shed(shop: Page, server: Server) -> None:
    """The page stands in the shed."""
    shop.goto(server.url)
    expect(shop.get_by_role("link", name="Toad Bell, the shed")).to_be_visible()


def pause_over(page: Page, trial: Trial, pause: float) -> None:
    """The stage that was just reached stands in the log, its pause (s; the last has none) goes by, and the bench says
    what comes next: the clock is moved only when the server has the step.
    """
    now = page.get_by_test_id("now")
    if pause:
        expect(now).to_have_text(re.compile("^Wait"))
        rewind(str(trial.pk), pause + 1)
        page.reload()
    expect(now).to_have_text(re.compile("^(Raise|Shut in)"))


SHEET = {
    "kind": "receiver",
    "working_pressure": "8.5 bar",
    "plate_pressure": "14 bar",
    "shell": {
        "inside_diameter": "366 mm",
        "length": "800 mm",
        "wall": "3.2 mm",
        "wall_measured": True,
        "material": "carbon-steel",
        "joint_efficiency": 0.7,
        "corrosion": "0.3 mm",
    },
    "ends": [{"form": "ellipsoidal", "wall": "3.5 mm"}, {"form": "ellipsoidal", "wall": "3.5 mm"}],
}
KIT = {
    "basis": "proof-150",
    "water_temperature": "16 degC",
    "gauge": {"range": "25 bar", "division": "0.1 bar"},
    "pump": {"stroke": "12 mL", "maximum": "40 bar"},
    "trapped_air": "0.05 L",
    "pause": "2 s",
    "hold": {"minimum": "10 min"},
    "acceptance": {"max_drop": "0.2 bar", "over": "30 min"},
}


@pytest.fixture
def frozen(server: Server) -> str:
    """The path of a bench with a frozen plan, short pauses and a hold of ten minutes."""
    owner = Maker.local_owner()
    trial = Trial.plan_for(Vessel.hang_up(owner, "Wharf tank", SHEET), owner)
    trial.change_plan({**trial.sheet, **KIT}, 1)
    trial.freeze(owner)
    return f"{server.url}/trials/{trial.id}/bench"


@pytest.fixture
def holding(frozen: str) -> str:
    """The same, raised on a dial and shut in at 12.8 bar a moment ago."""
    workshop, trial = Workshop(Client()), str(Trial.objects.get().pk)
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.step(trial, "vent-shut")
    for pressure in (3.2, 6.4, 8.5, 9.6, 12.8):
        workshop.read(trial, f"{pressure} bar")
        workshop.step(trial, "stage-reached")
    workshop.step(trial, "shut-in")
    return frozen
