"""A baseline night and the night after: kept with the kit, offered with how alike it is, never proof of a vessel."""

import datetime
from typing import Any

import pytest

from tests.server.conftest import Workshop, rewind
from toadbell.shed.models import Kit
from toadbell.trials.models import Trial

LOOP: dict[str, Any] = {"kind": "pipework", "working_pressure": "3 bar", "volume": "9.9 L"}
KIT: dict[str, Any] = {
    "water_temperature": "14 degC",
    "trapped_air": "1 mL",
    "pause": "0 s",
    "gauge": {"range": "10 bar", "division": "0.1 bar", "resolution": "0.02 bar", "calibrated": "2026-06-01"},
    "thermometer": {"resolution": "0.01 degC"},
    "pump": {"stroke": "0.5 mL", "maximum": "40 bar"},
    "hold": {"minimum": "60 min", "every": "5 min"},
    "acceptance": {"max_leak": "2 mL/h"},
    "rig": "Blue hose rig",
    "place": "Glasshouse",
}
BASELINE = {"procedure": "baseline", "known_tight": "blanked at the manifold, soaped", "tight_at": "3 bar"}


def planned(workshop: Workshop, vessel: str, **kit: Any) -> Any:
    plan = workshop.post(f"/vessels/{vessel}/trials", {"basis": "baseline" if "procedure" in kit else "piping-150"})
    kept = {key: value for key, value in plan["sheet"].items() if key not in ("basis", "procedure", "acceptance")}
    sheet = {**kept, **KIT, **kit}
    return workshop.put(f"/trials/{plan['id']}/plan", {"sheet": sheet, "version": plan["version"]})


def held(workshop: Workshop, trial: str, fell: float = 0.0) -> Any:
    """Frozen, raised through its stages, held for an hour in which it fell by so much, bar; judged."""
    workshop.post(f"/trials/{trial}/freeze")
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.step(trial, "vent-shut")
    top = 0.0
    for stage in workshop.get(f"/trials/{trial}/bench")["answer"]["stages"]:
        top = stage["target"] / 1e5 + 0.02
        workshop.read(trial, f"{top:.3f} bar", "14.00")
        workshop.step(trial, "stage-reached")
    workshop.step(trial, "shut-in")
    for n in range(1, 14):
        rewind(trial, 300)
        workshop.read(trial, f"{top - fell * n / 13:.3f} bar", "14.00")
    for step in ("hold-ended", "came-down", "looked", "released"):
        workshop.step(trial, step)
    return workshop.post(f"/trials/{trial}/judge")


def loop(workshop: Workshop, name: str = "Glasshouse loop") -> str:
    return str(workshop.post("/vessels", {"name": name, "sheet": LOOP})["id"])


def test_a_baseline_night_and_the_night_after(workshop: Workshop) -> None:
    first = loop(workshop)
    night = planned(workshop, first, **BASELINE)
    told = held(workshop, night["id"])
    assert told["advice"]["answer"] == "not proven"
    assert "proves nothing of a vessel" in told["advice"]["says"]
    [kit] = [one for one in workshop.get("/kit") if one["kind"] == "baseline"]
    assert kit["name"].startswith("Blue hose rig, ")
    assert kit["sheet"]["known_tight"] == BASELINE["known_tight"]
    after = planned(workshop, loop(workshop, "Kitchen loop"))
    [offer] = workshop.get(f"/trials/{after['id']}/baselines")
    assert offer["trial"] == night["id"]
    assert offer["alike"]["fits"] is False, "it is proved at half over the pressure that the baseline was held at"
    assert {one["code"]: one["state"] for one in offer["alike"]["checks"]}["rig"] == "met"
    sheet = {**after["sheet"], "acceptance": {"baseline": night["id"], "times": 3}}
    workshop.put(f"/trials/{after['id']}/plan", {"sheet": sheet, "version": after["version"]})
    judged = held(workshop, after["id"])
    assert judged["baseline"]["alike"]["checks"][0]["state"] == "met"
    assert judged["verdict"]["school"]["acceptance"] == "baseline"
    assert judged["accepted"].startswith("at most 3 ×")
    line = next(one for one in judged["advice"]["evidence"] if one["code"] == "baseline")
    assert line["state"] == "not met", "a baseline of another pressure never makes a vessel fit"


def test_a_baseline_is_no_evidence_of_its_vessel(workshop: Workshop) -> None:
    vessel = loop(workshop)
    night = planned(workshop, vessel, **BASELINE)
    held(workshop, night["id"])
    workshop.post(f"/trials/{night['id']}/decision", {"fitness": "not proven", "reason": "the rig alone"})
    assert workshop.get(f"/vessels/{vessel}/ledger")["answer"] == "not proven"
    after = planned(workshop, vessel)
    held(workshop, after["id"])
    workshop.post(f"/trials/{after['id']}/decision", {"fitness": "not proven", "reason": "one more night"})
    ledger = workshop.get(f"/vessels/{vessel}/ledger")
    state = {one["code"]: one["state"] for one in ledger["lines"]}
    assert state["baseline"] == "met"
    assert state["proof"] == "not known"
    assert ledger["answer"] == "not proven"


def test_one_that_leaks_is_no_baseline(workshop: Workshop) -> None:
    night = planned(workshop, loop(workshop), **BASELINE, acceptance={"max_leak": "0.3 mL/h"})
    told = held(workshop, night["id"], fell=1.2)
    assert told["verdict"]["verdict"] == "leaking"
    assert not Kit.objects.filter(kind="baseline", taken_down=False).exists()


def test_judged_anew_it_stays_one_entry_and_taken_down_it_is_not_offered(workshop: Workshop) -> None:
    night = planned(workshop, loop(workshop), **BASELINE)
    held(workshop, night["id"])
    workshop.post(f"/trials/{night['id']}/judge", {"ignore": 300})
    [kit] = [one for one in workshop.get("/kit") if one["kind"] == "baseline"]
    workshop.put(f"/kit/{kit['id']}/hung", {"taken_down": True})
    after = planned(workshop, loop(workshop, "Kitchen loop"))
    assert workshop.get(f"/trials/{after['id']}/baselines") == []


def test_without_saying_how_it_is_known_to_be_tight_it_cannot_be_frozen(workshop: Workshop) -> None:
    plan = planned(workshop, loop(workshop), procedure="baseline")
    assert "known to be tight" in workshop.post(f"/trials/{plan['id']}/freeze", status=409)["says"]


def test_practice_hangs_nothing_on_the_board(workshop: Workshop) -> None:
    night = planned(workshop, loop(workshop), **BASELINE)
    held(workshop, night["id"])
    Kit.objects.filter(kind="baseline").delete()
    Trial.objects.filter(pk=night["id"]).update(source="rig")
    workshop.post(f"/trials/{night['id']}/judge")
    assert not Kit.objects.filter(kind="baseline").exists()


@pytest.mark.parametrize("days", [400])
def test_an_old_baseline_is_said_to_be_old(workshop: Workshop, days: int) -> None:
    night = planned(workshop, loop(workshop), **BASELINE)
    held(workshop, night["id"])
    kit = Kit.objects.get(kind="baseline")
    old = datetime.date.today() - datetime.timedelta(days=days)
    Kit.objects.filter(pk=kit.pk).update(sheet={**kit.sheet, "on": old.isoformat()})
    after = planned(workshop, loop(workshop, "Kitchen loop"))
    [offer] = workshop.get(f"/trials/{after['id']}/baselines")
    assert "age" in offer["alike"]["says"]
