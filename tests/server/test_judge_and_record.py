"""From a finished hold to a verdict, a decision and a record that carries it all."""

import datetime
import json
import uuid
from pathlib import Path

import pytest

from tests.server.conftest import FINE_PUMP, Workshop, pump_up, rewind
from toadbell.core.cli import main
from toadbell.core.sheets import read_hold_sheet
from toadbell.trials.hold import hold_sheet
from toadbell.trials.models import Decision, State, Trial, Verdict


def held(workshop: Workshop, drop: float = 0.0, to: int = 5, minutes: int = 30, **plan: object) -> str:
    """A dial run raised, held for so many minutes and ended; the needle falls by so many bar."""
    trial = workshop.ready(**plan)
    workshop.raised(trial, to)
    shut_in = workshop.step(trial, "shut-in")
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


def test_a_tight_hold_is_judged_and_decided_fit(workshop: Workshop) -> None:
    trial = held(workshop)
    judged = workshop.post(f"/trials/{trial}/judge")
    assert judged["verdict"]["verdict"] == "tight"
    assert judged["advice"]["answer"] == "fit"
    assert judged["advice"]["pressure"] == pytest.approx(8.5e5)
    assert len(judged["points"]) == judged["verdict"]["readings"]
    decided = workshop.post(f"/trials/{trial}/decision", {"fitness": "fit", "pressure": "8.5 bar"})
    assert decided["state"] == "closed"
    assert decided["decision"]["less_cautious"] is False
    assert decided["decision"]["next_proof"]


def test_a_leaking_hold_proves_nothing(workshop: Workshop) -> None:
    judged = workshop.post(f"/trials/{held(workshop, drop=1.5)}/judge")
    assert judged["verdict"]["verdict"] == "leaking"
    assert judged["verdict"]["school"]["met"] is False
    assert judged["advice"]["answer"] == "not proven"


def test_a_target_not_reached_is_fit_for_less(workshop: Workshop) -> None:
    trial = held(workshop, to=4)
    judged = workshop.post(f"/trials/{trial}/judge")
    assert judged["advice"]["answer"] == "limited"
    assert judged["advice"]["pressure"] == pytest.approx(9.61e5 / 1.5, rel=0.01)


def test_a_hold_cut_short_is_not_proven(workshop: Workshop) -> None:
    judged = workshop.post(f"/trials/{held(workshop, minutes=10)}/judge")
    assert judged["advice"]["answer"] == "not proven"
    assert "cut short" in judged["advice"]["says"]


def test_a_leak_of_the_vessels_own_fails_it_and_the_rigs_voids_the_hold(workshop: Workshop) -> None:
    for owner, answer in (("boundary", "not fit"), ("rig", "not proven")):
        trial = held(workshop)
        workshop.step(trial, "leak", owner=owner, where="the lower seam")
        assert workshop.post(f"/trials/{trial}/judge")["advice"]["answer"] == answer


def test_going_further_than_the_evidence_asks_for_a_reason_that_stays(workshop: Workshop) -> None:
    trial = held(workshop, drop=1.5)
    workshop.post(f"/trials/{trial}/judge")
    body = {"fitness": "fit", "pressure": "8.5 bar"}
    assert "goes further" in workshop.post(f"/trials/{trial}/decision", body, 409)["says"]
    assert Decision.objects.count() == 0
    decided = workshop.post(f"/trials/{trial}/decision", {**body, "reason": "The hose had come off."})["decision"]
    assert decided["less_cautious"] is True
    assert decided["reason"] == "The hose had come off."


def test_being_more_cautious_needs_no_reason(workshop: Workshop) -> None:
    trial = held(workshop)
    workshop.post(f"/trials/{trial}/judge")
    decided = workshop.post(f"/trials/{trial}/decision", {"fitness": "not proven", "pressure": "8.5 bar"})["decision"]
    assert decided["pressure"] is None
    assert decided["less_cautious"] is False


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ({"fitness": "fit"}, 409),
        ({"fitness": "fit", "pressure": "much"}, 422),
        ({"fitness": "splendid", "pressure": "8 bar"}, 422),
    ],
)
def test_a_decision_that_says_nothing_is_refused(body: dict, status: int, workshop: Workshop) -> None:
    trial = held(workshop)
    workshop.post(f"/trials/{trial}/judge")
    assert workshop.post(f"/trials/{trial}/decision", body, status)["says"]
    assert Trial.objects.get(pk=trial).state == State.JUDGED


def test_nothing_is_judged_or_decided_out_of_turn(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial)
    assert "must be finished" in workshop.post(f"/trials/{trial}/judge", status=409)["says"]
    assert "Judge the hold first" in workshop.post(f"/trials/{trial}/decision", {"fitness": "not fit"}, 409)["says"]
    workshop.step(trial, "shut-in")
    workshop.step(trial, "hold-ended", reason="too cold")
    Trial.objects.get(pk=trial).readings.all().delete()
    assert "two readings" in workshop.post(f"/trials/{trial}/judge", status=409)["says"]


def test_a_dumped_run_can_be_decided_and_stands_on_record(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial, to=2)
    workshop.step(trial, "dumped")
    room = workshop.get(f"/trials/{trial}/judge")
    assert room["verdict"] is None
    assert room["advice"]["answer"] == "not proven"
    workshop.post(f"/trials/{trial}/decision", {"fitness": "not proven", "reason": "Hose let go."})
    record = workshop.get(f"/records/{trial}")
    assert record["judge"]["decision"]["reason"] == "Hose let go."
    assert "dumped" in [line["kind"] for line in record["log"]]


def test_a_run_that_passed_the_ceiling_is_suspect(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial)
    workshop.read(trial, "40 bar")
    guard = workshop.get(f"/trials/{trial}/bench")["guards"][0]["id"]
    workshop.step(trial, "guard-answered", guard=guard, reason="let down again at once")
    workshop.read(trial, "12.8 bar")
    workshop.step(trial, "shut-in")
    rewind(trial, 1900)
    workshop.read(trial, "12.8 bar")
    workshop.step(trial, "hold-ended")
    assert workshop.post(f"/trials/{trial}/judge")["advice"]["answer"] == "not proven"


def test_judging_twice_gives_the_same_verdict_and_keeps_one(workshop: Workshop) -> None:
    trial = held(workshop, drop=0.1)
    first = workshop.post(f"/trials/{trial}/judge")["verdict"]
    again = workshop.post(f"/trials/{trial}/judge")["verdict"]
    assert first == again
    assert Verdict.objects.count() == 1


def test_the_hold_downloads_as_files_that_judge_to_the_same_verdict(
    workshop: Workshop, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    trial = held(workshop, drop=0.3)
    stored = workshop.post(f"/trials/{trial}/judge")["verdict"]
    for name in ("hold.csv", "hold.json"):
        (tmp_path / name).write_bytes(workshop.client.get(f"/api/trials/{trial}/{name}").content)
    assert main(["judge", str(tmp_path / "hold.csv"), "--sheet", str(tmp_path / "hold.json"), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["verdict"] == stored["verdict"]
    assert answer["leak"]["estimate"] == pytest.approx(stored["leak"]["estimate"], rel=1e-3)
    assert answer["says"] == stored["says"]


def test_the_record_holds_the_plan_the_run_the_hold_and_the_decision(workshop: Workshop) -> None:
    trial = held(workshop)
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(f"/trials/{trial}/decision", {"fitness": "fit", "pressure": "8.5 bar", "reason": "Dry all round."})
    record = workshop.get(f"/records/{trial}")
    assert record["sheet"]["date"]
    assert record["core"]
    assert {"test_pressure", "ceiling", "allowable"} <= {line["figure"] for line in record["judge"]["plan"]["lines"]}
    kinds = [line["kind"] for line in record["log"]]
    assert kinds[0] == "frozen"
    assert kinds[-1] == "decided"
    assert kinds.count("stage-reached") == 5
    assert len(record["trace"]) == Trial.objects.get(pk=trial).readings.count()
    row = next(r for r in workshop.get("/trials") if r["id"] == trial)
    assert row["decision"]["fitness"] == "fit"


def test_a_leak_on_the_simulated_rig_is_found_by_the_judge(workshop: Workshop) -> None:
    trial = workshop.ready(**FINE_PUMP)
    workshop.post(f"/trials/{trial}/start", {"source": "rig", "leak": "60 mL/h"})
    pump_up(workshop, trial)
    workshop.step(trial, "shut-in")
    rewind(trial, 1900)
    workshop.step(trial, "hold-ended")
    verdict = workshop.post(f"/trials/{trial}/judge")["verdict"]
    assert verdict["verdict"] == "leaking"
    assert verdict["leak"]["estimate"] * 3.6e9 == pytest.approx(57, rel=0.15)


def test_a_hold_under_air_is_judged_as_one_though_nobody_said_the_medium(workshop: Workshop) -> None:
    drum = workshop.post("/vessels", {"name": "Digester", "sheet": {"kind": "digester", "working_pressure": "22 mbar", "box": {"diameter": "570 mm", "height": "820 mm"}}})  # fmt: skip
    plan = workshop.post(f"/vessels/{drum['id']}/trials")
    kit = {
        "gauge": {"range": "100 mbar", "division": "1 mbar"},
        "hold": {"minimum": "30 min"},
        "acceptance": {"max_drop": "3 mbar", "over": "30 min"},
    }
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **kit}, "version": 1})
    trial = workshop.post(f"/trials/{plan['id']}/freeze")["id"]
    sheet = hold_sheet(Trial.objects.get(pk=trial))
    assert sheet["medium"] == "air"
    assert "trapped_air" not in sheet
    assert read_hold_sheet(sheet).volume == pytest.approx(0.2092, rel=1e-3)


def test_the_air_that_stays_above_the_vent_softens_the_hold_that_is_judged(workshop: Workshop) -> None:
    port = [{"name": "Port", "for_test": "vent", "place": {"on": "shell", "along": "400 mm", "round": "60 deg"}}]
    plan = workshop.planned(fittings=port, trapped_air=None)
    trial = workshop.post(f"/trials/{plan['id']}/freeze")["id"]
    stays = workshop.get(f"/trials/{trial}/plan")["answer"]["vent"]["air"]
    assert stays > 1e-3
    assert read_hold_sheet(hold_sheet(Trial.objects.get(pk=trial))).trapped_air == pytest.approx(stays, rel=1e-4)
