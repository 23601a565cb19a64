"""Vessels hung up and changed, plans made, refused, frozen and carried over."""

import json
from pathlib import Path

import pytest
from django.utils import timezone

from tests.server.conftest import KIT, VESSEL, Workshop
from toadbell.core.cli import main
from toadbell.core.documents import read_plan
from toadbell.shed.models import Vessel
from toadbell.trials.models import Trial


def test_a_vessel_keeps_the_words_it_was_entered_with(workshop: Workshop) -> None:
    vessel = workshop.vessel(working_pressure="120psi", plate_pressure="14,0 bar")
    kept = workshop.get(f"/vessels/{vessel['id']}")
    assert kept["sheet"]["working_pressure"] == "120psi"
    assert kept["sheet"]["plate_pressure"] == "14,0 bar"
    assert kept["answer"]["working_pressure"] == pytest.approx(827_370.875)


def test_a_vessel_is_drawn_from_its_own_figures(workshop: Workshop) -> None:
    shape = workshop.vessel()["shape"]
    assert shape["diameter"] == pytest.approx(0.366)
    assert shape["length"] == pytest.approx(0.8)
    assert [end["depth"] for end in shape["ends"]] == pytest.approx([0.0915, 0.0915])


def test_looking_before_keeping_stores_nothing(workshop: Workshop) -> None:
    good = workshop.post("/vessels/look", {"sheet": VESSEL})
    assert good["answer"]["test_pressure"] == 1_275_000
    bad = workshop.post("/vessels/look", {"sheet": {**VESSEL, "working_pressure": "much"}})
    assert bad["field"] == "working_pressure"
    assert "8.3 bar" in bad["says"]
    assert Vessel.objects.count() == 0


def test_a_wrong_sheet_is_refused_with_its_field_and_nothing_is_stored(workshop: Workshop) -> None:
    refusal = workshop.post(
        "/vessels", {"name": "Tank", "sheet": {**VESSEL, "shell": {"inside_diameter": "12 parsnips"}}}, 422
    )
    assert refusal["field"].startswith("shell.inside_diameter")
    assert Vessel.objects.count() == 0


def test_two_windows_do_not_overwrite_each_other(workshop: Workshop) -> None:
    vessel = workshop.vessel()
    workshop.put(f"/vessels/{vessel['id']}", {"name": "First", "sheet": VESSEL, "version": 1})
    late = workshop.put(f"/vessels/{vessel['id']}", {"name": "Second", "sheet": VESSEL, "version": 1}, 412)
    assert "another window" in late["says"]
    assert workshop.get(f"/vessels/{vessel['id']}")["name"] == "First"


def test_a_plan_starts_from_the_vessel_and_says_what_is_missing(workshop: Workshop) -> None:
    plan = workshop.post(f"/vessels/{workshop.vessel()['id']}/trials")
    assert plan["number"] == 1
    assert plan["answer"]["basis"] == "proof-150"
    assert [gap["field"] for gap in plan["missing"]] == ["gauge", "water_temperature"]
    assert plan["answer"]["hold"]["minimum"] == 1800
    refusal = workshop.post(f"/trials/{plan['id']}/freeze", status=409)
    assert "gauge" in refusal["says"]


def test_the_next_plan_takes_the_kit_over(workshop: Workshop) -> None:
    vessel = workshop.vessel()
    workshop.planned(vessel, basis="own", factor=1.4)
    plan = workshop.post(f"/vessels/{vessel['id']}/trials")
    assert plan["number"] == 2
    assert plan["sheet"]["gauge"] == KIT["gauge"]
    assert plan["sheet"]["factor"] == 1.4


def test_a_plan_is_recomputed_as_it_is_changed(workshop: Workshop) -> None:
    plan = workshop.planned(basis="code-130")
    assert plan["answer"]["test_pressure"] == pytest.approx(1_105_000)
    assert plan["version"] == 2


def test_a_plan_changed_elsewhere_is_not_overwritten(workshop: Workshop) -> None:
    plan = workshop.planned()
    body = {"sheet": plan["sheet"], "version": 1}
    assert "another window" in workshop.put(f"/trials/{plan['id']}/plan", body, 412)["says"]


def test_a_wrong_plan_is_refused_and_the_old_one_stays(workshop: Workshop) -> None:
    plan = workshop.planned()
    refusal = workshop.put(
        f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], "gauge": {"range": "25 apples"}}, "version": 2}, 422
    )
    assert refusal["field"] == "gauge.range"
    assert workshop.get(f"/trials/{plan['id']}/plan")["sheet"]["gauge"] == KIT["gauge"]


def test_a_plan_with_a_stop_is_not_frozen(workshop: Workshop) -> None:
    plan = workshop.planned(gauge={"range": "14 bar", "division": "0.1 bar"})
    assert "gauge ends at 14 bar" in workshop.post(f"/trials/{plan['id']}/freeze", status=409)["says"]


def test_a_frozen_plan_stays_as_it_was_whatever_becomes_of_the_vessel(workshop: Workshop) -> None:
    vessel = workshop.vessel()
    plan = workshop.planned(vessel)
    workshop.post(f"/trials/{plan['id']}/freeze")
    workshop.put(
        f"/vessels/{vessel['id']}", {"name": "Tank", "sheet": {**VESSEL, "working_pressure": "5 bar"}, "version": 1}
    )
    assert workshop.get(f"/trials/{plan['id']}/plan")["answer"]["test_pressure"] == 1_275_000
    assert "frozen" in workshop.put(f"/trials/{plan['id']}/plan", {"sheet": plan["sheet"], "version": 2}, 409)["says"]
    assert "frozen already" in workshop.post(f"/trials/{plan['id']}/freeze", status=409)["says"]


def test_a_plan_frozen_before_a_figure_was_known_of_is_still_read(workshop: Workshop) -> None:
    trial = workshop.ready()
    stored = Trial.objects.get(pk=trial)
    for figure in ("offer", "gauge_error", "gauge_head", "warming_to_ceiling", "stress_ratio"):
        del stored.frozen["answer"][figure]
    del stored.frozen["answer"]["energy"]["stand_offs"]
    stored.save()
    assert workshop.get(f"/trials/{trial}/plan")["answer"]["test_pressure"] == 1_275_000


def test_a_frozen_plan_can_be_opened_until_it_is_started(workshop: Workshop) -> None:
    trial = workshop.ready()
    assert workshop.post(f"/trials/{trial}/thaw")["state"] == "planned"
    workshop.post(f"/trials/{trial}/freeze")
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.post(f"/trials/{trial}/thaw", status=409)


def test_the_frozen_sheet_is_a_file_that_derives_to_the_same_plan(
    workshop: Workshop, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    trial = workshop.ready()
    answer = workshop.client.get(f"/api/trials/{trial}/sheet.json")
    assert 'filename="tank-trial-1.json"' in answer["Content-Disposition"]
    (tmp_path / "plan.json").write_bytes(answer.content)
    assert main(["derive", str(tmp_path / "plan.json"), "--json"]) == 0
    derived = json.loads(capsys.readouterr().out)
    stored = json.loads(read_plan(Trial.objects.get(pk=trial).frozen).answer.model_dump_json())
    assert derived["gauge_target"] == stored["gauge_target"]
    assert derived["stages"] == stored["stages"]
    assert derived["ceiling"] == stored["ceiling"]


def test_the_plan_speaks_in_the_makers_units(workshop: Workshop) -> None:
    workshop.put("/me", {"units": "imperial"})
    lines = workshop.planned()["answer"]["lines"]
    assert "psi" in lines[0]["shown"]


def test_a_plan_never_run_is_thrown_away_and_one_that_was_run_stays(workshop: Workshop) -> None:
    vessel = workshop.vessel()
    first = workshop.planned(vessel)["id"]
    second = workshop.post(f"/vessels/{vessel['id']}/trials", {"trial": first})["id"]
    frozen = workshop.post(f"/trials/{first}/freeze")["id"]
    assert "trial 1 was thrown away" in workshop.send("DELETE", f"/trials/{frozen}")["says"]
    assert [row["id"] for row in workshop.get("/trials")] == [second]
    assert workshop.get(f"/trials/{second}/plan")["copied_from"] is None
    seen = workshop.ready()
    workshop.step(seen, "leak", owner="boundary", where="lower seam", shows="weep")
    assert "written down with this plan" in workshop.send("DELETE", f"/trials/{seen}", status=409)["says"]
    run = workshop.ready()
    workshop.raised(run, to=1)
    assert "was run" in workshop.send("DELETE", f"/trials/{run}", status=409)["says"]
    assert workshop.get(f"/trials/{run}/bench")["reached"] == 1


def test_a_vessel_of_which_nothing_is_on_record_is_taken_away_and_one_with_records_stays(workshop: Workshop) -> None:
    new = workshop.post("/vessels", {"name": "Mistyped", "sheet": VESSEL})
    assert workshop.send("DELETE", f"/vessels/{new['id']}")["says"] == "Mistyped was taken off the shelf."
    workshop.get(f"/vessels/{new['id']}", 404)
    back = workshop.post("/vessels", {"id": new["id"], "name": "Mistyped", "sheet": VESSEL})
    assert back["id"] == new["id"]  # at the address it had
    assert "already" in workshop.post("/vessels", {"id": new["id"], "name": "Twice", "sheet": VESSEL}, 409)["says"]
    workshop.send("DELETE", f"/vessels/{new['id']}")
    tried = workshop.vessel("Tried")
    assert "they stay with it" in workshop.send("DELETE", f"/vessels/{tried['id']}", status=409)["says"]
    planned = workshop.post("/vessels", {"name": "Planned", "sheet": VESSEL})
    workshop.planned(planned)
    workshop.send("DELETE", f"/vessels/{planned['id']}", status=409)
    assert workshop.get("/shed")["in_all"] == 2


def test_a_vessel_is_retired_with_its_records_and_hung_up_again(workshop: Workshop) -> None:
    tried = workshop.vessel("Tried")
    planned = workshop.planned(tried)["id"]
    hung = f"/vessels/{tried['id']}/hung"
    retired = workshop.put(hung, {"taken_down": True})
    assert retired["retired_on"] == str(timezone.localdate())
    shed = workshop.get("/shed")
    assert (shed["in_all"], shed["retired"], shed["rows"], shed["to_do"]) == (0, 1, [], [])
    assert [row["name"] for row in workshop.get("/shed?tag=retired")["rows"]] == ["Tried"]
    assert [row["id"] for row in workshop.get("/trials")] == [planned]
    says = workshop.post(f"/vessels/{tried['id']}/trials", status=409)["says"]
    assert says == "Tried is retired. Hang it up again first, on its page."
    workshop.post(f"/trials/{planned}/freeze")
    assert "is retired" in workshop.post(f"/trials/{planned}/start", {"source": "dial"}, 409)["says"]
    assert workshop.put(hung, {"taken_down": False})["retired_on"] is None
    workshop.post(f"/trials/{planned}/start", {"source": "dial"})
    assert "on the bench" in workshop.put(hung, {"taken_down": True}, 409)["says"]
    assert workshop.get("/shed")["in_all"] == 1


def test_vessels_are_found_by_name_kind_and_tag_in_the_order_asked_for(workshop: Workshop) -> None:
    for name in ("Zinc tank", "amber tank", "Bottle"):
        workshop.post("/vessels", {"name": name, "sheet": {**VESSEL, "retire": 2001} if name == "Bottle" else VESSEL})
    keg = {"kind": "fermenter", "working_pressure": "1 bar", "volume": "19 L"}
    workshop.post("/vessels", {"name": "Number 9", "sheet": keg})

    def names(**sought: str) -> list[str]:
        query = "&".join(f"{key}={value.replace(' ', '%20')}" for key, value in sought.items())
        return [row["name"] for row in workshop.get(f"/shed?{query}")["rows"]]

    assert names() == ["Zinc tank", "amber tank", "Bottle", "Number 9"]
    assert names(order="name") == ["amber tank", "Bottle", "Number 9", "Zinc tank"]
    assert names(order="due")[0] == "Bottle"
    assert names(text="keg") == ["Number 9"]
    assert names(text="tank", order="name") == ["amber tank", "Zinc tank"]
    assert names(tag="not fit") == ["Bottle"]
    assert names(tag="fit") == []
    workshop.get("/shed?order=colour", 422)


def test_a_plan_picks_up_what_was_changed_of_its_vessel_while_it_is_open(workshop: Workshop) -> None:
    vessel = workshop.vessel()
    plan = workshop.post(f"/vessels/{vessel['id']}/trials")
    assert plan["vessel_changes"] == []
    sheet = {**plan["sheet"], **KIT, "pause": "7 min"}
    plan = workshop.put(f"/trials/{plan['id']}/plan", {"sheet": sheet, "version": plan["version"]})
    thinner = {**VESSEL, "shell": {**VESSEL["shell"], "wall": "3.0 mm"}, "plate_pressure": "12 bar"}
    workshop.put(
        f"/vessels/{vessel['id']}", {"name": "Tank", "sheet": thinner, "notes": "", "version": vessel["version"]}
    )
    changed = workshop.get(f"/trials/{plan['id']}/plan")
    assert changed["sheet"]["shell"]["wall"] == VESSEL["shell"]["wall"], "nothing is taken over unasked"
    assert any("3.0 mm" in line for line in changed["vessel_changes"])
    assert any("12 bar" in line for line in changed["vessel_changes"])
    assert "changed since" in workshop.post(f"/trials/{plan['id']}/freeze", status=409)["says"]
    stale = workshop.post(f"/trials/{plan['id']}/vessel", {"take": True, "version": 1}, status=412)
    assert "another window" in stale["says"]
    taken = workshop.post(f"/trials/{plan['id']}/vessel", {"take": True, "version": plan["version"]})
    assert (taken["sheet"]["shell"]["wall"], taken["sheet"]["plate_pressure"]) == ("3.0 mm", "12 bar")
    assert taken["sheet"]["pause"] == "7 min", "what is the plan's own stays"
    assert taken["vessel_changes"] == []
    workshop.post(f"/trials/{plan['id']}/freeze")


def test_a_change_of_the_vessel_can_be_left_and_is_not_asked_again(workshop: Workshop) -> None:
    vessel = workshop.vessel()
    plan = workshop.post(f"/vessels/{vessel['id']}/trials")
    workshop.put(
        f"/vessels/{vessel['id']}",
        {
            "name": "Tank",
            "sheet": {**VESSEL, "plate_pressure": "12 bar"},
            "notes": "",
            "version": vessel["version"],
        },
    )
    left = workshop.post(f"/trials/{plan['id']}/vessel", {"take": False, "version": plan["version"]})
    assert left["vessel_changes"] == []
    assert left["sheet"]["plate_pressure"] == VESSEL["plate_pressure"]
    assert workshop.get(f"/trials/{plan['id']}/plan")["vessel_changes"] == []


def test_stages_are_named_by_what_they_are_after_they_were_retyped(workshop: Workshop) -> None:
    vessel = workshop.vessel()
    plan = workshop.post(f"/vessels/{vessel['id']}/trials")
    stages = [
        {"target": "3 bar", "name": "look"},
        {"target": "6.4 bar", "name": "60%"},
        {"target": "10 bar", "name": "listen at the seam"},
    ]
    told = workshop.put(
        f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], "stages": stages}, "version": plan["version"]}
    )
    assert [one["name"] for one in told["answer"]["stages"]] == ["look", "half", "listen at the seam", "test"]


def test_pump_vent_and_gauge_may_sit_on_one_tee(workshop: Workshop) -> None:
    boss = {"name": "Boss", "thread": "½ BSP", "for_test": "tee", "place": {"on": "shell", "along": "400 mm"}}
    vessel = workshop.vessel(fittings=[boss])
    plan = workshop.post(f"/vessels/{vessel['id']}/trials")
    codes = {one["code"] for one in plan["answer"]["cautions"]}
    assert "openings-missing" not in codes
    assert any("tee" in one["what"] for one in plan["answer"]["gather"])
    assert plan["answer"]["vent"]["name"] == "Boss"
