"""A workshop to call over its API, and a trial brought to any state by the same calls a browser makes."""

import datetime
import json
import uuid
from dataclasses import dataclass
from typing import Any

import pytest
from django.db.models import F
from django.test import Client

from tests.core.sheets import RECEIVER
from tests.once import once
from toadbell.trials.models import Trial

VESSEL = {key: RECEIVER[key] for key in ("kind", "working_pressure", "plate_pressure", "shell", "ends")}
KIT = {
    "water_temperature": "16 degC",
    "gauge": {"range": "25 bar", "division": "0.1 bar"},
    "thermometer": {"resolution": "0.01 degC"},
    "pump": {"stroke": "12 mL", "maximum": "40 bar"},
    "trapped_air": "0.05 L",
    "pause": "1 min",
    "hold": {"minimum": "30 min"},
    "acceptance": {"max_drop": "0.2 bar", "over": "30 min"},
}


_SEEN_AT = {"/freeze": "/plan", "/start": "/bench", "/decision": "/judge"}


@dataclass
class Workshop:
    """The API as a browser calls it."""

    client: Client

    def get(self, path: str, status: int = 200) -> Any:
        """What the server answers; the status is checked.

        Who looks at a bench asks first what has become of it, as a page does.
        """
        if path.endswith("/bench") and status == 200:
            self.client.post(f"/api{path.removesuffix('/bench')}/look")
        answer = self.client.get(f"/api{path}")
        assert answer.status_code == status, answer.content
        return answer.json()

    def send(self, method: str, path: str, body: Any = None, status: int | tuple[int, ...] = (200, 201)) -> Any:
        """Send JSON and get the answer; the status is checked."""
        answer = self.client.generic(method, f"/api{path}", json.dumps(body), content_type="application/json")
        wanted = status if isinstance(status, tuple) else (status,)
        assert answer.status_code in wanted, (answer.status_code, answer.content)
        return answer.json()

    def post(self, path: str, body: Any = None, status: int | tuple[int, ...] = (200, 201)) -> Any:
        """Post JSON; what is frozen, started or decided is what stands there now, unless a test says otherwise."""
        look = next(
            (look for act, look in _SEEN_AT.items() if path.startswith("/trials/") and path.endswith(act)), None
        )
        if look and "seen" not in (body or {}):
            shown = self.client.get(f"/api{path.rpartition('/')[0]}{look}").json()
            body = {**(body or {}), "seen": shown.get("seen", "")}
        return self.send("POST", path, body, status)

    def put(self, path: str, body: Any, status: int | tuple[int, ...] = 200) -> Any:
        """Put JSON."""
        return self.send("PUT", path, body, status)

    def vessel(self, name: str = "Tank", **changes: Any) -> Any:
        """A receiver hung up whose relief valve was tried: all that it asks for but its proof."""
        hung = self.post("/vessels", {"name": name, "sheet": {**VESSEL, **changes}})
        self.happened(hung["id"], "relief tried", "lifts at 8.4 bar")
        self.happened(hung["id"], "look inside", "clean", found="sound")
        return hung

    def happened(self, vessel: str, what: str, text: str = "", status: int = 201, **more: Any) -> Any:
        """Something happened to a vessel today."""
        told = {"what": what, "on": datetime.date.today().isoformat(), "text": text, **more}
        return self.post(f"/vessels/{vessel}/happened", told, status)

    def planned(self, vessel: Any = None, **changes: Any) -> Any:
        """A plan with all its kit."""
        plan = self.post(f"/vessels/{(vessel or self.vessel())['id']}/trials")
        return self.put(
            f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **KIT, **changes}, "version": plan["version"]}
        )

    def ready(self, **changes: Any) -> str:
        """The id of a trial whose plan is frozen."""
        plan = self.planned(**changes)
        return str(self.post(f"/trials/{plan['id']}/freeze")["id"])

    def step(
        self, trial: str, kind: str, status: int | tuple[int, ...] = 201, event: str | None = None, **data: Any
    ) -> Any:
        """A step of the run."""
        return self.post(
            f"/trials/{trial}/steps", {"id": event or str(uuid.uuid4()), "kind": kind, "data": data}, status
        )

    def read(self, trial: str, pressure: str, temperature: str | None = None, status: int = 201) -> Any:
        """A reading from the dial."""
        return self.post(
            f"/trials/{trial}/readings",
            [{"id": str(uuid.uuid4()), "pressure": pressure, "temperature": temperature}],
            status,
        )

    def raised(self, trial: str, to: int = 5) -> Any:
        """A dial run raised through so many stages."""
        self.post(f"/trials/{trial}/start", {"source": "dial"})
        bench = self.step(trial, "vent-shut")
        for stage in bench["answer"]["stages"][:to]:
            target = stage["target"] / 1e5
            self.read(trial, f"{target + min(0.02, 0.02 * target):.3f} bar", "16.0")
            bench = self.step(trial, "stage-reached")
            rewind(trial, stage["pause"] + 1)
        return bench


def rewind(trial: str, seconds: float) -> None:
    """Let so much of the wall's time have gone by since the run began."""
    moved = Trial.objects.filter(pk=trial).update(wall_anchor=F("wall_anchor") - datetime.timedelta(seconds=seconds))
    assert moved == 1


def pump_up(workshop: Workshop, trial: str) -> None:
    """Pump the simulated rig up through all stages, a few strokes at a time and one at a time near the end of each;
    what they did is looked at before the next. Its clock goes as the wall's does.
    """
    for stage in workshop.step(trial, "vent-shut")["answer"]["stages"]:
        seen, gained = _shown(workshop, trial), 0.0
        while seen < stage["target"]:
            few = 5 if 0 < 8 * gained < stage["target"] - seen else 1
            workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": few})
            rewind(trial, 4 * few)
            before, seen = seen, _shown(workshop, trial)
            gained = (seen - before) / few
        workshop.step(trial, "stage-reached")
        rewind(trial, stage["pause"] + 1)


def _shown(workshop: Workshop, trial: str) -> float:
    latest = workshop.get(f"/trials/{trial}/bench")["latest"]
    return float(latest["pressure"]) if latest else 0.0


def held(workshop: Workshop, drop: float = 0.0, to: int = 5, minutes: int = 30, **plan: object) -> str:
    """A dial run raised, held for so many minutes and ended; the needle falls by so many bar."""
    key = ("held", drop, to, minutes, json.dumps(plan, sort_keys=True))
    return once(key, lambda: run(workshop, workshop.ready(**plan), drop, to, minutes))


def run(workshop: Workshop, trial: str, drop: float = 0.0, to: int = 5, minutes: int = 30) -> str:
    """The run of it."""
    workshop.raised(trial, to)
    low = {"reason": "the plug weeps above it"} if to < 5 else {}
    shut_in = workshop.step(trial, "shut-in", **low)
    began = datetime.datetime.fromisoformat(shut_in["since"])
    rewind(trial, 60 * minutes)
    top = shut_in["hold"]["shut_in"] / 1e5
    readings = [
        {
            "id": str(uuid.uuid5(uuid.UUID(trial), str(minute))),
            "pressure": f"{top - drop * minute / minutes:.2f} bar",
            "temperature": "16.00",
            "at": (began + datetime.timedelta(minutes=minute)).isoformat(),
        }
        for minute in range(0, minutes + 1, 2)
    ]
    workshop.post(f"/trials/{trial}/readings", readings)
    workshop.step(trial, "hold-ended", reason="" if minutes >= 30 else "rain")
    return trial


def running(workshop: Workshop) -> str:
    """A run on the real rig."""
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    return trial


class Logger:
    """A device with its token, as it posts."""

    def __init__(self, workshop: Workshop, trial: str | None, name: str = "tank logger"):
        made = workshop.post("/devices", {"name": name})
        self.id, self.token = made["id"], made["token"]
        if trial:
            workshop.post(f"/trials/{trial}/devices/{self.id}", {"on": True})

    def send(self, readings: list[dict[str, Any]], status: int = 201, token: str | None = None, **more: Any) -> Any:
        answer = Client().post(
            "/api/devices/readings",
            json.dumps({"readings": readings, **more}),
            content_type="application/json",
            headers={"authorization": f"Bearer {token or self.token}"},
        )
        assert answer.status_code == status, answer.content
        return answer.json()


FINE_PUMP = {"pump": {"stroke": "2 mL", "maximum": "40 bar"}, "pause": "1 s"}


@pytest.fixture
def workshop(db: None) -> Workshop:
    """An empty workshop, the local owner signed in by itself."""
    return Workshop(Client())
