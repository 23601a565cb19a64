"""Leaks followed over days: released before they are mended, not tried before they are cured, and told whole."""

from typing import Any

import pytest

from tests.server.conftest import VESSEL, Workshop, rewind, running
from toadbell.trials.models import Finding, Trial


def leaking(workshop: Workshop, trial: str, **more: Any) -> str:
    """Raised to the first stage, where something leaks; the leak's id."""
    workshop.step(trial, "vent-shut")
    workshop.read(trial, "4.0 bar", "16.0")
    told = {"owner": "rig", "where": "gauge union", "shows": "drip", **more}
    return str(workshop.step(trial, "leak", **told)["leaks"][0]["id"])


def let_go(workshop: Workshop, trial: str) -> None:
    """Down to nothing, the vent open."""
    workshop.step(trial, "gone-back", to=0, vent=True, why="to mend it")


def leak_of(bench: Any) -> dict[str, Any]:
    """The one leak."""
    (found,) = bench["leaks"]
    return dict(found)


def test_nothing_is_mended_under_pressure(workshop: Workshop) -> None:
    trial = running(workshop)
    leak = leaking(workshop, trial)
    refused = workshop.step(trial, "mended", 409, leak=leak, act="tightened", did="an eighth")
    assert refused["says"].startswith("Release first: nothing is tightened under pressure")
    assert "Release first" in workshop.step(trial, "mended", 409, leak=leak, did="welded over")["says"]
    let_go(workshop, trial)
    bench = workshop.step(trial, "mended", leak=leak, act="tightened", did="an eighth")
    assert leak_of(bench)["mend"] == "tightened; an eighth"
    assert leak_of(bench)["times_tightened"] == 1
    assert any(one["says"] == "gauge union: tightened; an eighth" for one in bench["log"])


def test_a_seal_is_not_tried_before_it_has_cured_but_for_a_reason(workshop: Workshop) -> None:
    trial = running(workshop)
    leak = leaking(workshop, trial)
    let_go(workshop, trial)
    bench = workshop.step(trial, "mended", leak=leak, act="re-sealed", compound="thread-sealant")
    assert bench["now"]["says"] == "Wait till it has cured."
    assert "gauge union: thread sealant cures till" in bench["now"]["detail"]
    assert "not cured yet" in workshop.step(trial, "vent-shut", status=409)["says"]
    assert "why" in workshop.step(trial, "tried-sooner", status=422, why=" ")["says"]
    workshop.step(trial, "tried-sooner", why="a day in the sun, hard to the nail")
    assert workshop.step(trial, "vent-shut")["phase"] == "raising"


def test_what_is_practised_is_no_leak_of_the_vessel(workshop: Workshop) -> None:
    practised = workshop.ready()
    workshop.post(f"/trials/{practised}/start", {"source": "rig", "speed": 60})
    leak = leaking_on_the_rig(workshop, practised)
    workshop.step(practised, "gone-back", to=0, vent=True, why="to mend it")
    workshop.step(practised, "mended", leak=leak, act="re-sealed", compound="epoxy")
    vessel = str(Trial.objects.get(pk=practised).vessel_id)
    assert workshop.get(f"/vessels/{vessel}/leaks") == []
    assert [one for one in workshop.get("/due")["items"] if one["what"] == "seal cured"] == []
    assert "tried-sooner" in workshop.get(f"/trials/{practised}/bench")["needs"]  # the run itself waits for it
    workshop.step(practised, "dumped")
    plan = workshop.post(f"/vessels/{vessel}/trials")
    workshop.post(f"/trials/{plan['id']}/freeze")
    real = workshop.get(f"/trials/{plan['id']}/bench")
    assert (real["needs"], real["earlier"], real["look_next"]) == ([], [], [])


def leaking_on_the_rig(workshop: Workshop, trial: str) -> str:
    """A leak that was written down on the simulated rig."""
    workshop.step(trial, "vent-shut")
    told = {"owner": "rig", "where": "gauge union", "shows": "drip"}
    return str(workshop.step(trial, "leak", **told)["leaks"][0]["id"])


def test_zero_is_read_before_anything_is_mended_that_was_released_by_hand(workshop: Workshop) -> None:
    trial = running(workshop)
    leak = leaking(workshop, trial)
    bench = workshop.step(trial, "gone-back", to=0, vent=False, why="to mend it")
    assert "log the zero" in bench["now"]["says"]
    assert "before zero was read" in workshop.step(trial, "mended", 409, leak=leak, act="tightened")["says"]
    workshop.read(trial, "0.9 bar")
    workshop.step(trial, "mended", 409, leak=leak, act="tightened")
    workshop.read(trial, "0 bar")
    workshop.step(trial, "mended", leak=leak, act="tightened")


def test_a_seal_that_cures_is_on_the_due_list_till_then(workshop: Workshop) -> None:
    trial = running(workshop)
    leak = leaking(workshop, trial)
    let_go(workshop, trial)
    workshop.step(trial, "mended", leak=leak, act="re-sealed", compound="thread-sealant")
    due = [one for one in workshop.get("/due")["items"] if one["what"] == "seal cured"]
    assert [one["vessel"] for one in due] == ["Tank"]
    assert "gauge union: thread sealant cures till" in due[0]["says"]


def test_after_its_time_a_seal_is_cured(workshop: Workshop) -> None:
    trial = running(workshop)
    leak = leaking(workshop, trial)
    let_go(workshop, trial)
    workshop.step(trial, "mended", leak=leak, act="re-sealed", compound="thread-sealant")
    rewind(trial, 40 * 3600)  # a day at 22 °C, more at 16
    bench = workshop.get(f"/trials/{trial}/bench")
    assert bench["needs"] == []
    assert workshop.step(trial, "vent-shut")["phase"] == "raising"


def test_what_was_counted_stands_as_a_rate_with_its_band(workshop: Workshop) -> None:
    trial = running(workshop)
    leaking(workshop, trial, count=10, seconds=30, found="dry paper")
    found = leak_of(workshop.get(f"/trials/{trial}/bench"))
    assert found["rate"]["rate"] * 3.6e9 == pytest.approx(60)
    assert found["rate"]["low"] < found["rate"]["rate"] < found["rate"]["high"]
    assert (found["found"], found["pressure"]) == ("dry paper", pytest.approx(4e5))
    told = {"owner": "rig", "where": "hose", "shows": "drip", "count": 4}
    assert "so many drops" in workshop.step(trial, "leak", status=422, **told)["says"]


def test_a_leak_that_comes_again_in_another_trial_is_one_leak_with_one_story(workshop: Workshop) -> None:
    vessel = workshop.vessel()
    plan = workshop.planned(vessel)
    first = str(workshop.post(f"/trials/{plan['id']}/freeze")["id"])
    workshop.post(f"/trials/{first}/start", {"source": "dial"})
    leak = leaking(workshop, first)
    let_go(workshop, first)
    for did in ("an eighth", "another eighth"):
        workshop.step(first, "mended", leak=leak, act="tightened", did=did)
    workshop.step(first, "dumped")
    workshop.post(f"/trials/{first}/decision", {"fitness": "not proven", "pressure": None, "reason": "again"})
    plan = workshop.planned(vessel)
    second = str(workshop.post(f"/trials/{plan['id']}/freeze")["id"])
    workshop.post(f"/trials/{second}/start", {"source": "dial"})
    bench = workshop.get(f"/trials/{second}/bench")
    assert [one["says"] for one in bench["earlier"]] == ["gauge union, trial 1"]
    again = leaking(workshop, second, same=leak)
    assert leak_of(workshop.get(f"/trials/{second}/bench"))["times_tightened"] == 2
    let_go(workshop, second)
    bench = workshop.step(second, "mended", leak=again, act="tightened")
    story = [(one["trial"], one["says"]) for one in leak_of(bench)["story"]]
    assert [number for number, _ in story] == [1, 1, 1, 2, 2]
    event = Trial.objects.get(pk=second).events.filter(kind="mended").latest("stored_at")
    assert event.data["asks"]["code"] == "hunt.apart"  # the third time
    (told,) = workshop.get(f"/vessels/{vessel['id']}/leaks")
    assert (told["number"], len(told["story"]), told["open"]) == (2, 5, False)


def test_a_mend_of_the_vessel_itself_voids_what_was_proven(workshop: Workshop) -> None:
    trial = running(workshop)
    leak = leaking(workshop, trial, owner="boundary", where="lower seam")
    let_go(workshop, trial)
    workshop.step(trial, "mended", leak=leak, act="brazed", did="20 mm")
    vessel = str(Trial.objects.get(pk=trial).vessel_id)
    happened = workshop.get(f"/vessels/{vessel}/happened")
    assert any(one["what"] == "mended" and "lower seam" in one["text"] for one in happened)


def test_leaks_are_brought_in_with_their_story(workshop: Workshop) -> None:
    trial = running(workshop)
    leak = leaking(workshop, trial, count=6, seconds=30)
    let_go(workshop, trial)
    workshop.step(trial, "mended", leak=leak, act="re-sealed", compound="epoxy")
    before = Finding.objects.get(pk=leak)
    kept = (before.count, before.over, before.until, before.pressure)
    Finding.objects.all().delete()
    Finding.from_log(Trial.objects.get(pk=trial))
    after = Finding.objects.get(pk=leak)
    assert (after.count, after.over, after.until, after.pressure) == kept


def test_a_leak_is_looked_for_low_and_slow_at_what_its_air_may_store(workshop: Workshop) -> None:
    tank = workshop.vessel("Small tank", shell={**VESSEL["shell"], "length": "300 mm"})
    plan = workshop.post(f"/vessels/{tank['id']}/trials", {"low": True})
    assert (plan["answer"]["procedure"], plan["answer"]["medium"]) == ("tightness", "air")
    assert plan["answer"]["test_pressure"] <= 2e5
    assert not any(stop["code"] == "air-energy" for stop in plan["answer"]["stops"])


def test_pumped_and_not_read_is_not_taken_for_no_pressure(workshop: Workshop) -> None:
    trial = running(workshop)
    leak = leaking(workshop, trial)
    let_go(workshop, trial)
    workshop.step(trial, "vent-shut")
    workshop.step(trial, "strokes", count=3)
    assert "Release first" in workshop.step(trial, "mended", 409, leak=leak, act="tightened")["says"]
