"""A loop parted by its valves at the bench; what was touched is looked at first; the next round stands ready."""

from typing import Any

import pytest

from tests.server.conftest import Workshop, pump_up, rewind

LOOP = {
    "sections": [{"name": name, "volume": "3 L"} for name in ("pump", "coil", "tower", "header")],
    "valves": [
        {"name": "A", "between": ["pump", "coil"]},
        {"name": "B", "between": ["coil", "tower"]},
        {"name": "C", "between": ["tower", "header"]},
        {"name": "D", "between": ["header", "pump"]},
    ],
}


def practised(workshop: Workshop, **more: Any) -> str:
    """The loop on the simulated rig, pumped up through all its stages, with 300 mL/h out of the tower."""
    trial = workshop.ready(circuit=LOOP, pump={"stroke": "5 mL", "maximum": "40 bar"})
    told = {"source": "rig", "leak": "300 mL/h", "owner": "rig", "where": "the sight tube", "section": "tower", **more}
    workshop.post(f"/trials/{trial}/start", told)
    pump_up(workshop, trial)
    return trial


def pressed(workshop: Workshop) -> str:
    """The loop on a real rig, read at its second stage."""
    trial = workshop.ready(circuit=LOOP)
    workshop.raised(trial, 2)
    return trial


def held(workshop: Workshop, trial: str, shut: list[str], minutes: int = 10) -> Any:
    """A hold with some valves shut."""
    workshop.step(trial, "valves", shut=shut)
    rewind(trial, 60 * minutes)
    return workshop.get(f"/trials/{trial}/bench")["circuit"]


def test_a_loop_of_four_sections_shows_which_one_leaks(workshop: Workshop) -> None:
    trial = practised(workshop)
    circuit = held(workshop, trial, [])
    for _ in LOOP["sections"][1:]:
        circuit = held(workshop, trial, circuit["next_shut"])
    assert circuit["next_shut"] is None
    assert circuit["says"] == "Leaking for certain: tower."
    leaks = {one["name"]: one for one in circuit["sections"]}
    assert leaks["tower"]["low"] * 3.6e9 > 20
    assert all(leaks[name]["low"] == 0 for name in ("pump", "coil", "header"))
    assert [one["gauged"] for one in circuit["sections"]] == [True, False, False, False]


def test_what_is_behind_a_shut_valve_is_not_held_raised_mended_or_let_go(workshop: Workshop) -> None:
    trial = pressed(workshop)
    leak = workshop.step(trial, "leak", owner="rig", where="the sight tube")["leaks"][0]["id"]
    workshop.step(trial, "valves", shut=["A", "D"])
    for kind, data in (("shut-in", {}), ("gone-back", {"to": 0, "vent": True})):
        assert "behind A and D keeps its pressure" in workshop.step(trial, kind, status=409, **data)["says"]
    assert "Release first" in workshop.step(trial, "mended", 409, leak=leak, act="tightened")["says"]
    bench = workshop.step(trial, "dumped")  # whoever lets go is never asked first
    assert "what is behind A and D, which was shut, keeps its pressure" in bench["log"][0]["says"]
    assert "Release first" in workshop.step(trial, "mended", 409, leak=leak, act="tightened")["says"]
    workshop.step(trial, "valves", shut=[])
    assert "before zero was read" in workshop.step(trial, "mended", 409, leak=leak, act="tightened")["says"]
    workshop.read(trial, "0 bar")
    workshop.step(trial, "mended", leak=leak, act="tightened")


@pytest.mark.parametrize(
    ("shut", "status", "says"),
    [(["Z"], 409, "“Z” is no valve of this plan"), ("A", 422, "a list of their names"), (None, 422, "a list")],
)
def test_valves_that_are_none_are_refused(workshop: Workshop, shut: Any, status: int, says: str) -> None:
    trial = pressed(workshop)
    assert says in workshop.step(trial, "valves", status=status, shut=shut)["says"]


def test_a_plan_without_valves_has_no_sections_to_hold(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial, 1)
    assert "names no sections" in workshop.step(trial, "valves", status=409, shut=[])["says"]
    assert workshop.get(f"/trials/{trial}/bench")["circuit"] is None


def leaked(workshop: Workshop, owner: str) -> dict[str, Any]:
    """A trial that leaked at its third stage, was let go and mended; the trial's bench."""
    trial = workshop.ready()
    workshop.raised(trial, 3)
    bench = workshop.step(trial, "leak", owner=owner, where="drain bush", shows="drip")
    leak = bench["leaks"][0]["id"]
    workshop.step(trial, "gone-back", to=0, vent=True, why="to mend it")
    done: dict[str, Any] = workshop.step(trial, "mended", leak=leak, act="re-seated")
    workshop.step(trial, "dumped")
    return done


@pytest.mark.parametrize(("owner", "left_out"), [("fitting", 2), ("boundary", 0)])
def test_the_next_round_is_planned_from_the_stage_below_where_it_leaked(
    workshop: Workshop, owner: str, left_out: int
) -> None:
    before = leaked(workshop, owner)["answer"]
    vessel = workshop.get("/vessels")[0]["id"]
    plan = workshop.post(f"/vessels/{vessel}/trials", {"again": True})
    targets = [stage["target"] for stage in before["stages"]]
    assert [stage["target"] for stage in plan["answer"]["stages"]] == pytest.approx(targets[left_out:])
    assert plan["answer"]["test_pressure"] == before["test_pressure"]


def test_what_was_touched_is_listed_before_anything_leaks_again(workshop: Workshop) -> None:
    leaked(workshop, "fitting")
    vessel = workshop.get("/vessels")[0]["id"]
    plan = workshop.post(f"/vessels/{vessel}/trials", {"again": True})
    trial = workshop.post(f"/trials/{plan['id']}/freeze")["id"]
    look = workshop.get(f"/trials/{trial}/bench")["look_next"]
    assert look == [{"name": "drain bush", "why": "touched since it was last dry"}]


def test_a_vessel_that_never_leaked_has_no_next_round(workshop: Workshop) -> None:
    vessel = workshop.vessel()["id"]
    assert "No leak was found" in workshop.post(f"/vessels/{vessel}/trials", {"again": True}, 409)["says"]


def test_a_seal_on_the_simulated_rig_cures_with_its_time(workshop: Workshop) -> None:
    trial = workshop.ready()
    told = {"source": "rig", "leak": "300 mL/h", "owner": "rig", "where": "gauge union"}
    workshop.post(f"/trials/{trial}/start", told)
    assert sights(workshop, trial) == ["gauge union"]
    leak = workshop.step(trial, "leak", owner="rig", where="gauge union", shows="drip")["leaks"][0]["id"]
    workshop.step(trial, "gone-back", to=0, vent=True, why="to seal it")
    workshop.step(trial, "mended", leak=leak, act="re-sealed", compound="thread-sealant")
    rewind(trial, 60 * 3600)
    assert sights(workshop, trial) == []


def sights(workshop: Workshop, trial: str) -> list[str]:
    """Where the simulated rig is seen to leak, pumped up a little."""
    workshop.step(trial, "vent-shut")
    workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 3})
    rewind(trial, 10)
    return [one["where"] for one in workshop.get(f"/trials/{trial}/bench")["rig"]["sights"]]
