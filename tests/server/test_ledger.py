"""The ledger of a vessel over the API: what it may be used at today, and the way to what it asks for next."""

import datetime
from typing import Any

import pytest
from django.utils import timezone

from tests.server.conftest import VESSEL, Workshop, held, run


def ledger(workshop: Workshop, vessel: str) -> tuple[dict[str, Any], dict[str, Any]]:
    """A vessel's ledger, and its lines by their codes."""
    found = workshop.get(f"/vessels/{vessel}/ledger")
    return found, {one["code"]: one for one in found["lines"]}


def proven(workshop: Workshop) -> str:
    """A vessel whose proof ended in “fit”."""
    trial = held(workshop)
    workshop.post(f"/trials/{trial}/judge")
    return str(
        workshop.post(f"/trials/{trial}/decision", {"fitness": "fit", "pressure": "8.5 bar", "reason": ""})["vessel_id"]
    )


def test_a_new_vessels_ledger_names_what_it_asks_for_and_begins_with_its_proof(workshop: Workshop) -> None:
    vessel = workshop.post("/vessels", {"name": "Tank", "sheet": VESSEL})["id"]
    found, lines = ledger(workshop, vessel)
    assert (found["answer"], found["pressure"], found["next"]) == ("not proven", None, "proof")
    assert {code for code, line in lines.items() if line["asked"]} == {"proof", "looked", "relief"}
    assert {line["state"] for line in lines.values() if line["asked"]} == {"not known"}


def test_each_line_is_answered_by_what_it_asks_for_and_opens_what_it_rests_on(workshop: Workshop) -> None:
    vessel = proven(workshop)
    found, lines = ledger(workshop, vessel)
    assert (found["answer"], found["pressure"]) == ("fit", 8.5e5)
    assert {lines[code]["state"] for code in ("proof", "looked", "relief")} == {"met"}
    (row,) = workshop.get("/trials")
    assert lines["proof"]["trial"] == row["id"] == found["trial"]
    assert row["tag"] == {"fitness": "fit", "pressure": 8.5e5, "says": ""}


def test_an_unsound_look_takes_it_out_of_use_and_its_tag_follows_until_a_sound_one(workshop: Workshop) -> None:
    vessel = proven(workshop)
    assert "Write what is not sound" in workshop.happened(vessel, "look inside", found="unsound", status=409)["says"]
    assert "nothing else does" in workshop.happened(vessel, "dropped", "so", found="sound", status=409)["says"]
    workshop.happened(vessel, "look inside", "a crack at the drain bush", found="unsound")
    assert ledger(workshop, vessel)[0]["answer"] == "not fit"
    assert workshop.get("/shed?tag=not%20fit")["found"] == 1
    workshop.happened(vessel, "look inside", "ground out; dye shows none", found="sound")
    assert ledger(workshop, vessel)[0]["answer"] == "fit"


def test_a_paper_is_good_until_its_day(workshop: Workshop) -> None:
    vessel, today = proven(workshop), timezone.localdate()
    yesterday = (today - datetime.timedelta(days=1)).isoformat()
    assert "after its own" in workshop.happened(vessel, "certificate", "club", until=yesterday, status=409)["says"]
    workshop.happened(vessel, "certificate", "club", until=today.isoformat())
    line = ledger(workshop, vessel)[1]["papers"]
    assert (line["state"], line["until"], line["asked"]) == ("met", today.isoformat(), False)
    assert "papers" in {one["what"] for one in workshop.get("/due")["items"]}


@pytest.mark.parametrize(
    ("kind", "basis", "then"),
    [
        ("receiver", "", ("proof", "proof-150")),
        ("receiver", "tight", ("tightness", "tight")),
        ("digester", "", ("gas-head", "gas-head")),
        ("cooler", "", ("tightness", "tight")),
    ],
)
def test_a_plan_begins_with_the_kind_of_trial_that_was_asked_for(
    workshop: Workshop, kind: str, basis: str, then: tuple[str, str]
) -> None:
    sheet = {**VESSEL, "kind": kind}
    vessel = workshop.post("/vessels", {"name": "One", "sheet": sheet})["id"]
    answer = workshop.post(f"/vessels/{vessel}/trials", {"basis": basis})["answer"]
    assert (answer["procedure"], answer["basis"]) == then


def test_a_trial_of_one_kind_takes_over_nothing_from_one_of_another(workshop: Workshop) -> None:
    vessel = proven(workshop)
    tight = workshop.post(f"/vessels/{vessel}/trials", {"basis": "tight"})
    assert (tight["answer"]["procedure"], tight["sheet"].get("gauge")) == ("tightness", None)
    proof = workshop.post(f"/vessels/{vessel}/trials", {"basis": ""})
    assert (proof["answer"]["basis"], proof["copied_from"]) == ("proof-150", 1)
    refused = workshop.post(f"/vessels/{vessel}/trials", {"basis": "gas-head"}, 409)
    assert "no kind of trial for this vessel" in refused["says"]


# -- soap, and what comes before a tank or a cask is closed up ------------------------------------------------

TANK = {
    "kind": "sheet-tank",
    "working_pressure": "50 mbar",
    "box": {"length": "420 mm", "width": "300 mm", "height": "220 mm"},
}
LOW_KIT = {
    "gauge": {"range": "100 mbar", "division": "2 mbar", "resolution": "0.2 mbar", "calibrated": "2026-06-01"},
    "thermometer": {"resolution": "0.1 °C"},
    "pump": {"stroke": "20 mL", "maximum": "1 bar"},
    "pause": "1 min",
    "water_temperature": "16 °C",
    "acceptance": {"max_drop": "5 mbar", "over": "10 min"},
}


def ready(workshop: Workshop, sheet: dict[str, Any]) -> str:
    """A tightness trial of a vessel, ready to run."""
    vessel = workshop.post("/vessels", {"name": "Motor tank", "sheet": sheet})["id"]
    plan = workshop.post(f"/vessels/{vessel}/trials", {"basis": "tight"})
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **LOW_KIT}, "version": 1})
    return str(workshop.post(f"/trials/{plan['id']}/freeze")["id"])


@pytest.mark.parametrize(
    ("sheet", "kind", "told"),
    [
        (TANK, "gas-free", {"how": "washed", "long": "two days", "checked": "meter", "whom": "Maren"}),
        (
            {
                "kind": "cask",
                "working_pressure": "50 mbar",
                "cask": {"bilge": "400 mm", "head": "340 mm", "length": "520 mm"},
            },
            "swelled",
            {"long": "a week", "water": "2 L at 70 °C"},
        ),
    ],
    ids=["tank", "cask"],
)
def test_nothing_is_closed_up_before_it_is_made_ready_and_that_is_written_down(
    workshop: Workshop, sheet: dict[str, Any], kind: str, told: dict[str, str]
) -> None:
    trial = ready(workshop, sheet)
    bench = workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    assert (bench["needs"], bench["now"]["step"]) == ([kind], kind)
    workshop.step(trial, "vent-shut", status=409)
    field = next(iter(told))
    workshop.step(trial, kind, status=422, **{**told, field: " "})
    bench = workshop.step(trial, kind, **told)
    assert (bench["needs"], bench["now"]["step"]) == ([], "vent-shut")
    assert all(text in bench["log"][0]["says"] for text in told.values())
    workshop.step(trial, "vent-shut")


def test_soap_is_marked_under_pressure_alone_and_foam_that_grows_on_a_seam_fails_the_vessel(workshop: Workshop) -> None:
    trial = ready(workshop, {**TANK, "kind": "enclosure", "working_pressure": "12 mbar"})
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    dry = {"what": "soap", "place": "rig", "word": "dry"}
    assert "no pressure" in workshop.step(trial, "observed", status=409, **dry)["says"]
    workshop.step(trial, "vent-shut")
    workshop.read(trial, "3 mbar", "16.0")
    bench = workshop.step(trial, "observed", **dry)
    assert bench["instruments"] == ["soap"]
    (mark,) = bench["observed"]
    assert (mark["place"], mark["word"], mark["leaks"], mark["pressure"]) == ("rig", "dry", False, pytest.approx(300))
    assert "no section" in workshop.step(trial, "observed", status=409, **{**dry, "place": "handle"})["says"]
    workshop.step(trial, "observed", **{**dry, "place": "bottom-seam", "word": "growing foam"})
    seam = {**dry, "place": "bottom-seam"}
    assert "nothing was mended since" in workshop.step(trial, "observed", status=409, **seam)["says"]
    workshop.step(trial, "leak", owner="rig", where="Hose", shows="bubbles")
    hose = workshop.get(f"/trials/{trial}/bench")["leaks"][-1]["id"]
    workshop.step(trial, "mended", leak=hose, did="screwed tighter")  # another leak's mend is none of this one
    assert "nothing was mended since" in workshop.step(trial, "observed", status=409, **seam)["says"]
    bench = workshop.step(trial, "observed", **seam, why="a splash, wiped off and soaped again")
    assert "instead of growing foam: a splash" in bench["log"][0]["says"]
    workshop.step(trial, "observed", **{**seam, "word": "growing foam"})
    workshop.step(trial, "dumped")
    judged = workshop.get(f"/trials/{trial}/judge")
    assert judged["advice"]["answer"] == "not fit"
    assert "Bottom seam, growing foam" in judged["advice"]["says"]
    told = workshop.get(f"/trials/{trial}/soap.json")
    assert [one["shows"] for one in told["soap"]] == ["dry", "growing foam"]
    proof = held(workshop)
    assert "not soaped" in workshop.client.get(f"/api/trials/{proof}/soap.json").json()["says"]


def test_a_decision_that_goes_further_says_why_line_by_line_and_the_ledger_keeps_it(workshop: Workshop) -> None:
    vessel = workshop.post("/vessels", {"name": "Bare tank", "sheet": VESSEL})  # no valve tried, no look inside
    trial = run(workshop, workshop.ready(vessel=vessel))
    judged = workshop.post(f"/trials/{trial}/judge")
    assert judged["advice"]["answer"] == "limited"
    asked = {line["code"] for line in judged["advice"]["evidence"] if line["asked"] and line["state"] == "not known"}
    assert asked == {"looked", "relief"}
    bold = {"fitness": "fit", "pressure": "8.5 bar", "reason": "", "overruled": {"looked": "scoped by the club"}}
    assert "Write down why" in workshop.post(f"/trials/{trial}/decision", bold, 409)["says"]
    whole = {**bold, "overruled": {**bold["overruled"], "relief": "new, its paper is in the drawer", "moon": "full"}}
    decided = workshop.post(f"/trials/{trial}/decision", whole)["decision"]
    assert decided["overruled"] == {"looked": "scoped by the club", "relief": "new, its paper is in the drawer"}
    found, lines = ledger(workshop, vessel["id"])
    assert found["answer"] == "fit"
    assert {code: lines[code]["overruled"] for code in asked} == decided["overruled"]
    workshop.happened(vessel["id"], "relief-reset", "spring changed")
    assert ledger(workshop, vessel["id"])[0]["answer"] == "limited"
