"""A run that does not go straight: guards that trip, leaks found and mended, back and round again, and whose hand is on
it.
"""

import uuid
from typing import Any

import pytest
from django.test import Client

from tests.server.conftest import FINE_PUMP, Workshop, pump_up, rewind
from tests.server.test_bench import on_rig
from toadbell.trials.models import Event, Trial


def dial(workshop: Workshop, to: int = 0, **plan: object) -> str:
    """A run on a dial, raised through so many stages."""
    trial = workshop.ready(**plan)
    workshop.raised(trial, to)
    return trial


def tripped(workshop: Workshop, trial: str) -> list[str]:
    """The guards that stand unanswered."""
    return [guard["code"] for guard in workshop.get(f"/trials/{trial}/bench")["guards"]]


def answer(workshop: Workshop, trial: str, reason: str = "a mistyped reading", status: int = 201) -> dict:  # type: ignore[type-arg]
    """Answer the first guard that stands."""
    guard = workshop.get(f"/trials/{trial}/bench")["guards"][0]["id"]
    found: dict = workshop.step(trial, "guard-answered", status, guard=guard, reason=reason)  # type: ignore[type-arg]
    return found


# -- guards --------------------------------------------------------------------------------


def test_the_guards_are_frozen_with_the_plan(workshop: Workshop) -> None:
    trial = dial(workshop)
    frozen = Trial.objects.get(pk=trial).frozen["answer"]["guards"]
    assert {guard["code"] for guard in frozen} >= {
        "ceiling",
        "overshoot",
        "warming",
        "falling",
        "air",
        "strokes",
        "noise",
        "movement",
        "boundary-leak",
    }


def test_overshoot_trips_once_and_the_ceiling_after_it(workshop: Workshop) -> None:
    trial = dial(workshop, to=4)
    for pressure in ("14 bar", "14.1 bar", "33 bar", "33 bar"):
        workshop.read(trial, pressure)
    assert tripped(workshop, trial) == ["overshoot", "ceiling"]
    assert Event.objects.filter(kind="guard").count() == 2
    assert "suspect" in workshop.get(f"/trials/{trial}/bench")["log"][0]["says"]


def test_a_peak_between_two_readings_of_a_batch_is_not_missed(workshop: Workshop) -> None:
    trial = dial(workshop, to=4)
    workshop.post(
        f"/trials/{trial}/readings", [{"id": str(uuid.uuid4()), "pressure": f"{p} bar"} for p in (12, 15, 12.5)]
    )
    bench = workshop.get(f"/trials/{trial}/bench")
    assert tripped(workshop, trial) == ["overshoot"]
    assert "15 bar" in bench["log"][0]["says"]


def test_nothing_goes_on_while_a_guard_stands_and_then_with_a_reason_that_stays(workshop: Workshop) -> None:
    trial = dial(workshop, to=4)
    workshop.read(trial, "14 bar")
    for step in ("stage-reached", "shut-in"):
        assert "Answer that first" in workshop.step(trial, step, 409)["says"]
    assert "Say what was seen" in answer(workshop, trial, reason=" ", status=422)["says"]
    bench = answer(workshop, trial, reason="let down to 12.8, plugs dry")
    assert bench["guards"] == []
    assert bench["log"][0]["says"] == "gone on after the guard (overshoot): let down to 12.8, plugs dry"
    workshop.read(trial, "14 bar")
    assert tripped(workshop, trial) == []  # still over: that was answered
    workshop.read(trial, "12.8 bar")
    workshop.read(trial, "14 bar")
    assert tripped(workshop, trial) == ["overshoot"]  # over again


def test_a_pressure_that_falls_while_the_pump_goes(workshop: Workshop) -> None:
    trial = dial(workshop)
    workshop.step(trial, "strokes", count=4)
    workshop.read(trial, "3 bar")
    workshop.step(trial, "strokes", count=4)
    workshop.read(trial, "2.4 bar")
    assert tripped(workshop, trial) == ["falling"]


def pump_by(workshop: Workshop, trial: str, air: float, softer_from: float = 99.0) -> None:
    """Stroke by stroke on the dial, as a vessel of 9.7 mL/bar with so much air (mL) would answer; softer above a
    pressure (bar).
    """
    pumped, pressure = 0.0, 0.0
    for _ in range(26):
        pumped += 12.0
        while 9.7 * pressure + air * pressure / (pressure + 1.01325) + max(0.0, pressure - softer_from) * 25 < pumped:
            pressure += 0.002
        workshop.step(trial, "strokes", count=1)
        workshop.read(trial, f"{pressure:.2f} bar")
        if pressure > 11.5 or tripped(workshop, trial):
            return


def test_too_much_air_asks_for_the_vent_again_and_venting_clears_it(workshop: Workshop) -> None:
    trial = dial(workshop)
    pump_by(workshop, trial, air=500)
    bench = workshop.get(f"/trials/{trial}/bench")
    assert [guard["does"] for guard in bench["guards"]] == ["vent"]
    assert bench["pumped"]["state"] == "air"
    assert bench["pumped"]["air"]["estimate"] == pytest.approx(5e-4, rel=0.15)
    bench = workshop.step(trial, "gone-back", to=0, vent=True, why="air left in")
    assert bench["phase"] == "filling"
    assert bench["guards"] == []
    bench = workshop.step(trial, "vent-shut")
    assert bench["strokes"] == 0
    pump_by(workshop, trial, air=40)
    assert tripped(workshop, trial) == []
    assert workshop.get(f"/trials/{trial}/bench")["pumped"]["state"] == "straight"


def test_strokes_that_no_longer_raise_the_pressure_stop_the_run(workshop: Workshop) -> None:
    trial = dial(workshop)
    pump_by(workshop, trial, air=40, softer_from=9.0)
    assert tripped(workshop, trial) == ["strokes"]
    assert "yielding" in workshop.get(f"/trials/{trial}/bench")["log"][0]["says"]


def test_shut_in_and_warming_towards_the_ceiling(workshop: Workshop) -> None:
    trial = dial(workshop, to=5)
    workshop.step(trial, "shut-in")
    rewind(trial, 300)
    workshop.read(trial, "13 bar")
    workshop.read(trial, "22.5 bar")
    assert "warming" in tripped(workshop, trial)


@pytest.mark.parametrize("what", ["noise", "movement"])
def test_what_is_heard_or_seen_trips_by_a_key(what: str, workshop: Workshop) -> None:
    trial = dial(workshop, to=2)
    bench = workshop.step(trial, "odd", what=what, text="from the far end")
    assert [guard["code"] for guard in bench["guards"]] == [what]
    assert "from the far end" in " ".join(line["says"] for line in bench["log"][:2])
    assert "noise, or movement" in workshop.step(trial, "odd", 422, what="smell")["says"]


def test_a_leak_of_the_vessels_own_trips_and_one_of_the_rig_does_not(workshop: Workshop) -> None:
    trial = dial(workshop, to=2)
    workshop.step(trial, "leak", owner="rig", where="hose tail", shows="drip", pin={"x": 0.4, "v": -0.18})
    assert tripped(workshop, trial) == []
    bench = workshop.step(trial, "leak", owner="boundary", where="lower seam")
    assert tripped(workshop, trial) == ["boundary-leak"]
    assert [(leak["where"], leak["pin"]) for leak in bench["leaks"]] == [
        ("hose tail", {"x": 0.4, "v": -0.18, "view": "front", "seen": "seen from the front"}),
        ("lower seam", None),
    ]
    sideways = {"pin": {"x": 0.1, "v": 0.0, "view": "below"}}
    for wrong in ({"shows": "gush"}, {"pin": {"x": "left"}}, {"pin": {"x": 1}}, sideways):
        workshop.step(trial, "leak", 422, owner="rig", where="plug", **wrong)


def test_our_own_pages_get_a_refusal_as_an_answer_and_others_its_status(workshop: Workshop) -> None:
    trial = dial(workshop, to=1)
    step = {"id": str(uuid.uuid4()), "kind": "vent-open", "data": {}}

    def asked(**headers: str) -> Any:
        path = f"/api/trials/{trial}/steps"
        return workshop.client.post(path, step, content_type="application/json", headers=headers)

    plain, ours = asked(), asked(**{"X-Refusals": "answer"})
    assert (plain.status_code, ours.status_code, ours["X-Refused"]) == (409, 200, "409")
    assert plain.json() == ours.json()
    assert "X-Refused" not in plain
    assert workshop.get(f"/trials/{trial}/bench")["phase"] != "vented"


@pytest.mark.parametrize(("view", "seen"), [("back", "seen from behind"), ("end 2", "seen at the right end")])
def test_a_pin_keeps_the_side_from_which_it_is_seen(workshop: Workshop, view: str, seen: str) -> None:
    trial = dial(workshop, to=2)
    pin = {"x": 0.1, "v": -0.05, "view": view}
    bench = workshop.step(trial, "leak", owner="fitting", where="a plug", pin=pin)
    assert bench["leaks"][0]["pin"] == pin | {"seen": seen}


def test_the_simulated_pump_is_let_go_when_a_washer_overshoots(workshop: Workshop) -> None:
    trial = on_rig(workshop, washer="120 bar")
    workshop.step(trial, "vent-shut")
    workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 400})
    rewind(trial, 1)
    bench = workshop.get(f"/trials/{trial}/bench")
    assert [guard["code"] for guard in bench["guards"]] in (["overshoot"], ["ceiling"])
    assert bench["rig"]["to_go"] == 0
    assert bench["latest"]["pressure"] < 40e5
    assert "before you pump on" in workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 1}, 409)["says"]


# -- back and round again --------------------------------------------------------------------------------


def test_a_rig_leak_is_pinned_released_tightened_and_gone_round_again(workshop: Workshop) -> None:
    trial = on_rig(workshop, leak="600 mL/h", owner="rig", where="hose tail", eased="0", speed=600)
    workshop.step(trial, "vent-shut")
    workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 8})
    rewind(trial, 1)
    bench = workshop.get(f"/trials/{trial}/bench")
    assert [(s["where"], s["how"]) for s in bench["rig"]["sights"]] == [("hose tail", "drip")]
    assert "Release before tightening" in workshop.post(f"/trials/{trial}/rig", {"action": "tighten"}, 409)["says"]
    leak = str(uuid.uuid4())
    workshop.step(trial, "leak", event=leak, owner="rig", where="hose tail", shows="drip")
    bench = workshop.step(trial, "gone-back", to=0, why="hose tail drips")
    assert (bench["phase"], bench["reached"], bench["round"]) == ("raising", 0, 1)
    workshop.post(f"/trials/{trial}/rig", {"action": "tighten", "which": 0})
    bench = workshop.step(trial, "mended", leak=leak, did="tightened an eighth")
    assert bench["leaks"][0]["mend"] == "tightened an eighth"
    workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 8})
    rewind(trial, 1)
    assert workshop.get(f"/trials/{trial}/bench")["rig"]["sights"] == []


def test_going_back_from_a_hold_voids_it_and_the_next_one_counts(workshop: Workshop) -> None:
    trial = dial(workshop, to=5)
    workshop.step(trial, "shut-in")
    bench = workshop.step(trial, "gone-back", to=4, why="plug 2 weeps")
    assert (bench["phase"], bench["reached"], bench["hold"]) == ("raising", 4, None)
    workshop.read(trial, "12.9 bar")
    workshop.step(trial, "stage-reached")
    bench = workshop.step(trial, "shut-in")
    assert bench["hold"]["shut_in"] == pytest.approx(12.9e5)
    workshop.step(trial, "hold-ended", reason="dark")
    assert workshop.step(trial, "gone-back", to=0)["state"] == "running"  # a leak seen after the hold: round again


@pytest.mark.parametrize("data", [{"to": 9}, {"to": -1}, {"to": True}, {"to": "look"}, {"to": 1, "vent": True}, {}])
def test_going_back_to_nowhere_is_refused(workshop: Workshop, data: dict) -> None:  # type: ignore[type-arg]
    trial = dial(workshop, to=2)
    assert workshop.step(trial, "gone-back", (409, 422), **data)["says"]
    assert workshop.get(f"/trials/{trial}/bench")["reached"] == 2


def test_a_mend_names_a_leak_that_was_found(workshop: Workshop) -> None:
    trial = dial(workshop, to=1)
    assert "which leak" in workshop.step(trial, "mended", 409, leak=str(uuid.uuid4()), did="tightened")["says"]


# -- the hold and after --------------------------------------------------------------------------------


def test_a_hold_is_lengthened_and_tells_what_the_temperature_did(workshop: Workshop) -> None:
    trial = dial(workshop, to=5)
    began = workshop.step(trial, "shut-in")
    rewind(trial, 1200)
    for pressure, warm in (("12.80", "16.0"), ("12.66", "15.9")):
        workshop.read(trial, pressure, warm)
    bench = workshop.step(trial, "hold-set", seconds=3600)
    assert bench["hold"]["asked"] == 3600
    assert bench["until"] > began["until"]
    assert bench["hold"]["drop"] == pytest.approx(0.14e5, rel=0.3)
    assert bench["hold"]["drop_from_temperature"] > 0
    assert "lengthened" in workshop.step(trial, "hold-set", 409, seconds=60)["says"]
    assert "up to a week" in workshop.step(trial, "hold-set", 422, seconds=1e9)["says"]


def test_the_drain_does_not_come_before_the_vent(workshop: Workshop) -> None:
    trial = dial(workshop, to=5)
    workshop.step(trial, "shut-in")
    workshop.step(trial, "hold-ended", reason="rain")
    assert "vacuum" in workshop.step(trial, "emptied", 409)["says"]
    workshop.step(trial, "released")
    assert "vacuum" in workshop.step(trial, "emptied", 409)["says"]
    workshop.step(trial, "vent-open")
    assert workshop.step(trial, "emptied")["now"]["says"] == "Dry it inside."
    assert "already" in workshop.step(trial, "released", 409)["says"]


def test_the_simulated_rig_comes_down_to_the_look(workshop: Workshop) -> None:
    trial = workshop.ready(**FINE_PUMP)
    workshop.post(f"/trials/{trial}/start", {"source": "rig"})
    pump_up(workshop, trial)
    workshop.step(trial, "shut-in")
    workshop.step(trial, "hold-ended", reason="seen enough")
    look = workshop.step(trial, "came-down")["answer"]["hold"]["look_pressure"]
    rewind(trial, 15)
    assert workshop.get(f"/trials/{trial}/bench")["latest"]["pressure"] == pytest.approx(look, rel=0.03)
    workshop.step(trial, "looked")
    workshop.step(trial, "released")
    rewind(trial, 15)
    assert workshop.get(f"/trials/{trial}/bench")["latest"]["pressure"] == 0


def test_a_step_that_could_not_be_sent_at_once_keeps_its_own_time(workshop: Workshop) -> None:
    trial = dial(workshop)
    rewind(trial, 600)
    begun = Trial.objects.get(pk=trial).started_at
    then = (Trial.objects.get(pk=trial).now()).isoformat()
    rewind(trial, 300)
    workshop.post(
        f"/trials/{trial}/steps", {"id": str(uuid.uuid4()), "kind": "note", "data": {"text": "seen then"}, "at": then}
    )
    assert Event.objects.get(kind="note").at.isoformat() == then
    workshop.post(
        f"/trials/{trial}/steps",
        {"id": str(uuid.uuid4()), "kind": "note", "data": {"text": "too old"}, "at": "2001-01-01T00:00:00Z"},
    )
    assert Event.objects.filter(kind="note").order_by("at").first().at == begun  # type: ignore[union-attr]


# -- one hand --------------------------------------------------------------------------------


def test_one_hand_moves_the_run_others_watch_and_write_until_they_take_it_over(workshop: Workshop) -> None:
    first, second = (Workshop(Client(headers={"x-hand": name})) for name in ("one", "two"))
    trial = workshop.ready()
    first.post(f"/trials/{trial}/start", {"source": "dial", "hand_name": "laptop"})
    assert first.get(f"/trials/{trial}/bench")["hand"] == {
        "mine": True,
        "name": "laptop",
        "asked": None,
        "asking": False,
    }
    assert second.get(f"/trials/{trial}/bench")["hand"] == {
        "mine": False,
        "name": "laptop",
        "asked": None,
        "asking": False,
    }
    assert "another hand (laptop)" in second.step(trial, "vent-shut", 409)["says"]
    second.step(trial, "note", text="from the wall")
    second.read(trial, "0.1 bar")
    second.post(f"/trials/{trial}/hand", {"name": "phone"})
    second.step(trial, "vent-shut")
    assert "another hand (phone)" in first.step(trial, "stage-reached", 409)["says"]
    assert first.step(trial, "dumped")["state"] == "aborted"  # to let go is anybody's
    assert "in another hand now: phone" in " ".join(line["says"] for line in first.get(f"/trials/{trial}/bench")["log"])


def test_the_rigs_pump_obeys_the_hand_that_holds_the_run(workshop: Workshop) -> None:
    trial = workshop.ready()
    Workshop(Client(headers={"x-hand": "one"})).post(f"/trials/{trial}/start", {"source": "rig"})
    other = Workshop(Client(headers={"x-hand": "two"}))
    assert "another hand" in other.post(f"/trials/{trial}/rig", {"action": "stop"}, 409)["says"]
    assert "another hand" in other.post(f"/trials/{trial}/speed?speed=60", status=409)["says"]
