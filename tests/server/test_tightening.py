"""A joint turned on by eighths, from plan to what its vessel's ledger says."""

from typing import Any

import pytest

from tests.server.conftest import Workshop, rewind

JOINT = {"kind": "joint", "working_pressure": "3 bar", "volume": "0.3 L"}
KIT: dict[str, Any] = {
    "procedure": "tightening",
    "water_temperature": "16 degC",
    "trapped_air": "0 L",
    "gauge": {"range": "10 bar", "division": "0.1 bar", "resolution": "0.05 bar"},
    "pump": {"stroke": "0.01 mL", "maximum": "20 bar"},
    "thermometer": {"resolution": "0.01 degC"},
    "joint": "ferrule",
    "torque_wrench": {"wanted": "15 N m", "range": "20-200 N m"},
    "acceptance": {"max_leak": "2 mL/h"},
    "pause": "0 s",
    "hold": {"minimum": "10 min"},
}


def begun(workshop: Workshop) -> tuple[str, str]:
    """A joint hung up, its trial planned, frozen and begun with the vent shut; the ids of both."""
    joint = workshop.post("/vessels", {"name": "Sluice joint", "sheet": JOINT})
    plan = workshop.post(f"/vessels/{joint['id']}/trials")
    plan = workshop.put(f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **KIT}, "version": plan["version"]})
    assert plan["answer"]["stages"][0]["target"] == pytest.approx(0.5e5)
    assert "wrench-unsuited" in {one["code"] for one in plan["answer"]["cautions"]}
    workshop.post(f"/trials/{plan['id']}/freeze")
    workshop.post(f"/trials/{plan['id']}/start", {"source": "dial"})
    workshop.step(plan["id"], "vent-shut")
    return joint["id"], plan["id"]


def seen(workshop: Workshop, trial: str, part: int, word: str, pressure: str, status: int = 201) -> Any:
    """The gauge is read, and how it shows at a part of a turn written down."""
    workshop.read(trial, pressure)
    return workshop.step(trial, "observed", status, what="turn", place=str(part), word=word)


def let_go(workshop: Workshop, trial: str) -> None:
    workshop.step(trial, "gone-back", to=0, vent=False, why="to turn it on")


def turned_dry(workshop: Workshop, trial: str) -> Any:
    """Streaming, bubbling, then dry; raised through its stages, held and let go."""
    seen(workshop, trial, 0, "blown off", "0.3 bar")
    let_go(workshop, trial)
    seen(workshop, trial, 2, "bubbles", "4.5 bar")
    let_go(workshop, trial)
    for stage in workshop.get(f"/trials/{trial}/bench")["answer"]["stages"]:
        workshop.read(trial, f"{stage['target'] / 1e5 + 0.02:.2f} bar")
        workshop.step(trial, "stage-reached")
    bench = seen(workshop, trial, 3, "dry", "4.55 bar")
    workshop.step(trial, "shut-in")
    for _ in range(6):
        rewind(trial, 120)
        workshop.read(trial, "4.55 bar", "16.00")
    workshop.step(trial, "hold-ended", reason="")
    for step in ("came-down", "looked", "released"):
        workshop.step(trial, step)
    return bench


def test_a_joint_dry_between_a_quarter_and_three_eighths(workshop: Workshop) -> None:
    joint, trial = begun(workshop)
    bench = turned_dry(workshop, trial)
    assert bench["joint"]["says"] == "Dry between ¼ and ⅜ of a turn past finger-tight."
    assert bench["joint"]["by_torque"] is False
    assert any("¼ of a turn: bubbles" in entry["says"] for entry in bench["log"])
    judged = workshop.post(f"/trials/{trial}/judge")
    line = next(one for one in judged["advice"]["evidence"] if one["name"] == "Turned on till it was dry")
    assert line["state"] == "met"
    before = workshop.get(f"/vessels/{joint}/ledger")
    assert {one["name"]: one["state"] for one in before["lines"]}["Turned on till it was dry"] == "not known"
    advice = judged["advice"]
    workshop.post(
        f"/trials/{trial}/decision", {"fitness": advice["answer"], "pressure": judged["offer"] or None, "reason": "dry"}
    )
    after = {one["name"]: one["state"] for one in workshop.get(f"/vessels/{joint}/ledger")["lines"]}
    assert after["Turned on till it was dry"] == ("met" if advice["answer"] in ("fit", "limited") else "not known")
    assert advice["answer"] in ("fit", "limited")


def test_it_is_let_go_before_it_is_turned_on(workshop: Workshop) -> None:
    _, trial = begun(workshop)
    assert "a shot" in workshop.get(f"/trials/{trial}/bench")["joint"]["caution"]
    seen(workshop, trial, 1, "stream", "0.5 bar")
    refusal = seen(workshop, trial, 2, "bubbles", "0.5 bar", 409)
    assert "Let the pressure go before it is turned on" in refusal["says"]
    seen(workshop, trial, 1, "stream", "0.6 bar")  # the same turn may be looked at again
    let_go(workshop, trial)
    bench = seen(workshop, trial, 2, "bubbles", "0.5 bar")
    assert bench["joint"]["caution"] is None
    assert bench["joint"]["answer"] == "not-dry"


def test_a_reading_from_before_it_was_let_go_is_no_pressure_it_was_dry_at(workshop: Workshop) -> None:
    _, trial = begun(workshop)
    assert "read the gauge first" in workshop.step(trial, "observed", 409, what="turn", place="0", word="dry")["says"]
    seen(workshop, trial, 2, "bubbles", "4.5 bar")
    let_go(workshop, trial)
    refusal = workshop.step(trial, "observed", 409, what="turn", place="3", word="dry")
    assert "read the gauge first" in refusal["says"]
    assert workshop.get(f"/trials/{trial}/bench")["joint"]["least"] is None


def test_a_joint_that_was_never_seen_dry_is_not_fit(workshop: Workshop) -> None:
    _, trial = begun(workshop)
    seen(workshop, trial, 2, "weeps", "4.5 bar")
    workshop.step(trial, "dumped")
    advice = workshop.get(f"/trials/{trial}/judge")["advice"]
    line = next(one for one in advice["evidence"] if one["name"] == "Turned on till it was dry")
    assert line["state"] == "not met"
    assert advice["answer"] not in ("fit", "limited")


def test_on_the_simulated_rig_three_eighths_cure_it(workshop: Workshop) -> None:
    joint = workshop.post("/vessels", {"name": "Sluice joint", "sheet": JOINT})
    plan = workshop.post(f"/vessels/{joint['id']}/trials")
    plan = workshop.put(f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **KIT}, "version": plan["version"]})
    trial = plan["id"]
    workshop.post(f"/trials/{trial}/freeze")
    workshop.post(f"/trials/{trial}/start", {"source": "rig"})
    workshop.step(trial, "vent-shut")
    sights = []
    for _ in range(4):
        for _ in range(12):
            workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 1})
            rewind(trial, 3)
            bench = workshop.get(f"/trials/{trial}/bench")
            if bench["latest"] and bench["latest"]["pressure"] > 4.4e5:
                break
        sights.append([sight["how"] for sight in bench["rig"]["sights"]])
        let_go(workshop, trial)
        workshop.post(f"/trials/{trial}/rig", {"action": "tighten", "which": 0})
    assert sights[0]
    assert sights[-1] == []
