"""The ledger of a vessel over the API: what it may be used at today, and the way to what it asks for next."""

import datetime
from typing import Any

import pytest
from django.utils import timezone

from tests.server.conftest import VESSEL, Workshop, held


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
        ("digester", "", ("proof", "gas-head")),
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
