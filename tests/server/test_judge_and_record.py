"""From a finished hold to a verdict, a decision and a record that carries it all."""

import datetime
import importlib
import json
import re
from pathlib import Path

import pytest
from django.apps import apps

import toadbell
from tests.server.conftest import FINE_PUMP, KIT, VESSEL, Workshop, held, pump_up, rewind, run
from toadbell.core.cli import main
from toadbell.core.documents import keep_verdict
from toadbell.core.sheets import read_hold_sheet
from toadbell.trials.judge.hold import hold_sheet, judgement
from toadbell.trials.models import Decision, State, Trial, Verdict


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


def test_a_hold_below_the_test_pressure_is_never_called_tight(workshop: Workshop) -> None:
    trial = held(workshop, to=4)
    judged = workshop.post(f"/trials/{trial}/judge")
    assert judged["verdict"]["verdict"] == "cannot-tell"
    assert judged["verdict"]["held_at"] == pytest.approx(9.61e5, rel=0.01)
    assert "Raise it to" in judged["verdict"]["says"]
    assert judged["advice"]["answer"] == "not proven"
    assert "Raise it to" in judged["advice"]["says"]


def test_a_hold_cut_short_is_not_proven(workshop: Workshop) -> None:
    judged = workshop.post(f"/trials/{held(workshop, minutes=10)}/judge")
    assert judged["advice"]["answer"] == "not proven"
    assert "cut short" in judged["advice"]["says"]


def test_a_leak_of_the_vessel_fails_it_and_one_of_a_fitting_or_the_rig_voids_the_hold(workshop: Workshop) -> None:
    for owner, answer in (("boundary", "not fit"), ("fitting", "not proven"), ("rig", "not proven")):
        trial = held(workshop)
        workshop.step(trial, "leak", owner=owner, where="the lower seam")
        advice = workshop.post(f"/trials/{trial}/judge")["advice"]
        assert advice["answer"] == answer
        assert "the lower seam" in advice["says"]


def test_a_fitting_mended_after_the_hold_has_to_be_held_again(workshop: Workshop) -> None:
    trial = held(workshop)
    found = workshop.step(trial, "leak", owner="fitting", where="the gauge glass")["leaks"][0]
    assert found["whose"] == "at a fitting of the vessel"
    assert "Release first" in workshop.step(trial, "mended", 409, leak=found["id"], did="its gland nipped up")["says"]
    for step in ("came-down", "looked", "released"):
        workshop.step(trial, step)
    workshop.read(trial, "0 bar")
    workshop.step(trial, "mended", leak=found["id"], did="its gland nipped up a quarter")
    advice = workshop.post(f"/trials/{trial}/judge")["advice"]
    assert advice["answer"] == "not proven"
    assert "has not been held since" in advice["says"]


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
    assert record["ended"].startswith("Dumped. No zero was read after that")


def test_a_dumped_run_whose_zero_was_read_says_so_and_one_that_went_as_planned_says_nothing(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial, to=2)
    workshop.step(trial, "dumped")
    workshop.read(trial, "1.2 bar")
    assert "No zero was read" in workshop.get(f"/records/{trial}")["ended"]
    workshop.read(trial, "0 bar")
    assert workshop.get(f"/records/{trial}")["ended"] == "Dumped. Zero was read after that."
    assert workshop.get(f"/records/{held(workshop)}")["ended"] is None


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
    advice = workshop.post(f"/trials/{trial}/judge")["advice"]
    assert advice["answer"] == "not fit"
    assert "pressed to 40 bar" in advice["says"]


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
    drum = workshop.post(
        "/vessels",
        {
            "name": "Digester",
            "sheet": {
                "kind": "digester",
                "working_pressure": "22 mbar",
                "box": {"diameter": "570 mm", "height": "820 mm"},
            },
        },
    )
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


def test_what_if_answers_and_leaves_the_record_as_it_is(workshop: Workshop) -> None:
    trial = held(workshop)
    kept = workshop.post(f"/trials/{trial}/judge")
    before = Verdict.objects.get(trial=trial)
    harder = workshop.post(f"/trials/{trial}/judge/what-if", {"acceptance": {"max_leak": "0.001 mL/h"}})["verdict"]
    assert harder["limit"] == pytest.approx(0.001e-6 / 3600)
    assert harder["verdict"] != "tight"
    assert harder["leak"] == pytest.approx(kept["verdict"]["leak"], rel=0.05)
    blind = workshop.post(f"/trials/{trial}/judge/what-if", {"thermometer": False})["verdict"]
    assert blind["drop_from_temperature"] is None
    assert blind["leak"]["high"] > kept["verdict"]["leak"]["high"]
    later = workshop.post(f"/trials/{trial}/judge/what-if", {"ignore": 600})
    assert later["verdict"]["hold"] == pytest.approx(1200)
    after = Verdict.objects.get(trial=trial)
    assert (after.answer, after.asked, after.at) == (before.answer, before.asked, before.at)
    assert workshop.get(f"/trials/{trial}/judge")["verdict"] == kept["verdict"]


def test_what_if_with_nonsense_is_refused_in_words(workshop: Workshop) -> None:
    trial = held(workshop)
    assert workshop.post(f"/trials/{trial}/judge/what-if", {"acceptance": {"max_leak": "two"}}, 422)["says"]
    assert "Fewer than two" in workshop.post(f"/trials/{trial}/judge/what-if", {"ignore": 3600}, 422)["says"]
    running = workshop.ready()
    assert "finished" in workshop.post(f"/trials/{running}/judge/what-if", {}, 409)["says"]


def knocked(workshop: Workshop) -> str:
    """A hold in which somebody touched the valve after a quarter of an hour: half a bar at once."""
    trial = held(workshop)
    for reading in (
        Trial.objects.get(pk=trial)
        .readings.order_by("at")
        .filter(at__gte=_shut_in(trial) + datetime.timedelta(minutes=15))
    ):
        reading.pressure -= 0.5e5
        reading.save()
    return trial


def _shut_in(trial: str) -> datetime.datetime:
    return Trial.objects.get(pk=trial).events.get(kind="shut-in").at


def test_a_step_is_cut_out_in_the_open_and_put_back_by_hand(workshop: Workshop) -> None:
    trial = knocked(workshop)
    judged = workshop.post(f"/trials/{trial}/judge")["verdict"]
    (step,) = judged["steps"]
    assert "fell" in step["says"]
    assert judged["verdict"] == "tight"
    again = workshop.post(f"/trials/{trial}/judge", {"put_back": [step["time"]]})
    assert again["verdict"]["steps"][0]["put_back"] is True
    assert again["verdict"]["verdict"] != "tight"
    assert again["asked"]["put_back"] == [step["time"]]
    assert Verdict.objects.get(trial=trial).asked == {"ignore": 0.0, "put_back": [step["time"]]}
    events = Trial.objects.get(pk=trial).events.filter(kind="judged").order_by("at", "pk")
    assert sorted(event.data.get("put_back", 0) for event in events) == [0, 1]


def test_the_verdict_is_kept_with_its_core_and_is_worked_out_again_to_the_byte(workshop: Workshop) -> None:
    trial = held(workshop)
    kept = [json.dumps(workshop.post(f"/trials/{trial}/judge")["verdict"]) for _ in range(2)]
    assert kept[0] == kept[1]
    verdict = Verdict.objects.get(trial=trial)
    assert verdict.core == toadbell.__version__
    assert judge_again(verdict) == verdict.answer


def judge_again(verdict: Verdict) -> dict:
    return keep_verdict(judgement(verdict.trial).answer)


def test_strokes_that_know_the_compliance_better_are_judged_by(workshop: Workshop) -> None:
    trial = workshop.ready(**FINE_PUMP, hold={"minimum": "10 min"})
    workshop.post(f"/trials/{trial}/start", {"source": "rig", "rig": {"leak": "0 mL/h"}})
    pump_up(workshop, trial)
    workshop.step(trial, "shut-in")
    rewind(trial, 660)
    workshop.get(f"/trials/{trial}/bench")
    workshop.step(trial, "hold-ended")
    judged = workshop.post(f"/trials/{trial}/judge")
    assert judged["verdict"]["compliance_from"] == "measured"
    assert any("strokes measured" in note for note in judged["verdict"]["notes"])
    assert judged["verdict"]["compliance"] == pytest.approx(judged["plan"]["compliance"], rel=0.1)
    ledger = {line["name"]: line for line in judged["advice"]["evidence"]}
    assert ledger["Air out"]["state"] == "met"
    assert ledger["Air out"]["lines"][0]["shown"].endswith("mL")


def test_each_line_of_the_evidence_says_where_it_is_to_be_seen(workshop: Workshop) -> None:
    trial = held(workshop)
    ledger = {line["name"]: line for line in workshop.post(f"/trials/{trial}/judge")["advice"]["evidence"]}
    assert {
        name: ledger[name]["rests_on"]
        for name in ("Within the plate", "Kit suited and calibrated", "Reached", "Hold judged tight")
    } == {
        "Within the plate": "vessel",
        "Kit suited and calibrated": "kit",
        "Reached": "bench",
        "Hold judged tight": "hold",
    }
    assert ledger["Kit suited and calibrated"]["state"] == "not known"  # nobody said when the gauge was calibrated
    assert "Compare it" in ledger["Kit suited and calibrated"]["says"]
    assert ledger["Warm enough, not too warm"]["state"] == "met"
    assert ledger["Not overshot"]["state"] == "met"
    assert ledger["Reached"]["lines"]


def test_a_mend_of_the_vessel_voids_the_hold_that_went_before_it(workshop: Workshop) -> None:
    trial = held(workshop)
    bench = workshop.step(trial, "leak", owner="boundary", where="the lower seam")
    workshop.step(trial, "came-down")
    workshop.step(trial, "looked")
    workshop.step(trial, "released")
    workshop.read(trial, "0 bar")
    workshop.step(trial, "mended", leak=bench["leaks"][0]["id"], did="brazed over")
    advice = workshop.post(f"/trials/{trial}/judge")["advice"]
    assert advice["answer"] == "not proven"
    assert "voids" in advice["says"]


def test_a_hold_is_held_against_an_earlier_one(workshop: Workshop) -> None:
    first = held(workshop, drop=0.4)
    base = workshop.post(f"/trials/{first}/judge")["verdict"]["leak"]["estimate"]
    vessel = Trial.objects.get(pk=first).vessel_id
    plan = workshop.post(f"/vessels/{vessel}/trials")
    sheet = {**plan["sheet"], **KIT, "acceptance": {"baseline": first, "times": 3}}
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": sheet, "version": plan["version"]})
    second = str(workshop.post(f"/trials/{plan['id']}/freeze")["id"])
    run(workshop, second)
    judged = workshop.post(f"/trials/{second}/judge")
    assert judged["verdict"]["school"]["acceptance"] == "baseline"
    assert judged["verdict"]["limit"] == pytest.approx(3 * base)
    (other,) = judged["others"]
    assert (other["number"], other["baseline"]) == (1, True)
    assert other["drops"][0] == 0.0
    assert other["drops"][-1] == pytest.approx(0.4e5, rel=0.2)
    assert workshop.client.get(f"/api/trials/{second}/hold.json").json()["acceptance"]["baseline"] == "baseline.csv"
    assert workshop.client.get(f"/api/trials/{second}/baseline.csv").content.startswith(b"elapsed [s]")


def test_a_verdict_of_an_earlier_core_keeps_what_it_said(workshop: Workshop) -> None:
    trial = held(workshop)
    workshop.post(f"/trials/{trial}/judge")
    verdict = Verdict.objects.get(trial=trial)
    new = {"at_start", "confidence", "compliance_from", "drops_a_minute", "kelvin_to_explain", "school_says", "notes"}
    verdict.answer = {k: v for k, v in verdict.answer.items() if k not in new} | {
        "temperature_rate_to_explain": 1e-5,
        "says": "Tight, it said.",
    }
    verdict.points = [{k: v for k, v in point.items() if k not in ("limit", "cut")} for point in verdict.points]
    verdict.save()
    importlib.import_module("toadbell.trials.migrations.0004_verdict_asked").with_what_is_new(apps, None)
    seen = workshop.get(f"/trials/{trial}/judge")
    assert seen["verdict"]["says"] == "Tight, it said."
    assert seen["verdict"]["kelvin_to_explain"] == pytest.approx(1e-5 * seen["verdict"]["hold"])


def test_all_of_a_trial_is_told_to_an_imperial_reader_in_psi(workshop: Workshop) -> None:
    trial = held(workshop, drop=0.1)
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(
        f"/trials/{trial}/decision", {"fitness": "limited", "pressure": "8 bar", "reason": "the look is not done"}
    )
    workshop.put("/me", {"units": "imperial"})
    bench, judge = workshop.get(f"/trials/{trial}/bench"), workshop.get(f"/trials/{trial}/judge")
    told = [
        *(guard["says"] for guard in bench["answer"]["guards"]),
        *(caution["says"] for caution in bench["answer"]["cautions"]),
        *(line["says"] for line in bench["log"]),
        *(line["shown"] for line in [*bench["answer"]["lines"], *judge["verdict"]["lines"]] if line["unit"] == "Pa"),
        bench["hold"]["says"],
        judge["verdict"]["says"],
        judge["verdict"]["seen_says"],
        judge["advice"]["says"],
        *(line["says"] for line in judge["advice"]["evidence"]),
    ]
    assert [text for text in told if re.search(r"\d bar\b", text)] == []
    assert len([text for text in told if " psi" in text]) > 20
    workshop.put("/me", {"units": "metric"})
    assert "bar" in workshop.get(f"/trials/{trial}/judge")["verdict"]["says"]


KEG = {**VESSEL["shell"], "inside_diameter": "215 mm", "length": "500 mm"}


def gas_tried(workshop: Workshop, vessel: dict, pressure: str, **plan: object) -> str:
    """A tightness trial: four hours under gas on a dial, let go."""
    tried = workshop.planned(
        vessel,
        procedure="tightness",
        basis=None,
        factor=None,
        medium="air",
        tight_at=pressure,
        gauge={"range": "2.5 bar", "division": "0.02 bar"},
        hold={"minimum": "4 h"},
        acceptance={"max_drop": "0.1 bar", "over": "4 h"},
        **plan,
    )
    trial = run(workshop, str(workshop.post(f"/trials/{tried['id']}/freeze")["id"]), to=9, minutes=240)
    for step in ("looked", "released"):
        workshop.step(trial, step)
    return trial


def test_a_fermenter_held_four_hours_at_its_gas_is_tagged_tight_and_a_drop_takes_the_tag(workshop: Workshop) -> None:
    keg = workshop.vessel("Keg", kind="fermenter", shell=KEG)
    trial = gas_tried(workshop, keg, "0.8 bar")
    bench = workshop.get(f"/trials/{trial}/bench")
    assert "vent-open" not in bench["allowed"]
    assert [step["kind"] for step in bench["after"]] == ["hold-ended", "came-down", "looked", "released"]
    assert [line["says"] for line in bench["log"] if line["kind"] in ("vent-shut", "looked")] == [
        "soaped and looked all round",
        "closed up, all shut",
    ]
    judged = workshop.post(f"/trials/{trial}/judge")
    assert judged["advice"]["answer"] == "tight"
    assert judged["offer"] == "0.8 bar"
    workshop.post(f"/trials/{trial}/decision", {"fitness": "tight", "pressure": "0.8 bar"})
    [row] = workshop.get("/shed")["rows"]
    assert (row["stands"]["tag"]["fitness"], row["stands"]["tag"]["pressure"]) == ("tight", pytest.approx(0.8e5))
    assert workshop.get("/shed?tag=tight")["found"] == 1
    again = workshop.post(f"/vessels/{keg['id']}/trials")[
        "answer"
    ]  # the next is of the same kind, at the same pressure
    assert (again["procedure"], again["medium"], again["test_pressure"]) == ("tightness", "air", pytest.approx(0.8e5))
    workshop.happened(keg["id"], "dropped", "off the bench onto stone")
    [row] = workshop.get("/shed")["rows"]
    assert row["stands"]["tag"]["fitness"] == "not proven"


POT = {**VESSEL["shell"], "inside_diameter": "80 mm", "length": "150 mm"}
GAS = {"procedure": "tightness", "basis": None, "factor": None, "medium": "air"}


def test_gas_near_the_full_pressure_waits_for_a_cold_proof_and_less_of_it_may_look_for_leaks(
    workshop: Workshop,
) -> None:
    pot = workshop.vessel("Pot", shell=POT)

    def begun(at: str, status: int, source: str = "dial") -> object:
        plan = workshop.planned(pot, **GAS, tight_at=at)
        trial = str(workshop.post(f"/trials/{plan['id']}/freeze")["id"])
        told = workshop.post(f"/trials/{trial}/start", {"source": source, "speed": 1}, status)
        if status == 200:
            workshop.step(trial, "dumped")
        return told

    assert "A cold proof under water comes first. Up to 4.25 bar" in begun("8.5 bar", 409)["says"]
    assert "No gas at this pressure" in begun("4.3 bar", 409)["says"]
    begun("4.2 bar", 200)
    begun("8.5 bar", 200, "rig")
    proof = workshop.planned(pot, procedure=None, basis="proof-150", medium="water", tight_at=None)
    proved = run(workshop, str(workshop.post(f"/trials/{proof['id']}/freeze")["id"]))
    workshop.post(f"/trials/{proved}/judge")
    workshop.post(f"/trials/{proved}/decision", {"fitness": "limited", "pressure": "6 bar", "reason": "for now"})
    assert "it may see 6 bar" in begun("8.5 bar", 409)["says"]
    begun("6 bar", 200)


def test_a_tight_trial_does_not_lift_what_a_trial_of_strength_ended_in(workshop: Workshop) -> None:
    tank = workshop.vessel("Yielded", shell=KEG)
    proved = run(workshop, str(workshop.post(f"/trials/{workshop.planned(tank)['id']}/freeze")["id"]))
    workshop.post(f"/trials/{proved}/judge")
    workshop.post(f"/trials/{proved}/decision", {"fitness": "not fit", "reason": "It bulged."})
    trial = gas_tried(workshop, tank, "0.8 bar")
    workshop.post(f"/trials/{trial}/judge")
    workshop.post(f"/trials/{trial}/decision", {"fitness": "tight", "pressure": "0.8 bar"})
    [row] = workshop.get("/shed")["rows"]
    assert (row["stands"]["id"], row["stands"]["tag"]["fitness"]) == (proved, "not fit")


def test_more_than_tight_asks_for_a_reason_and_a_tight_trial_takes_no_proof_away(workshop: Workshop) -> None:
    tank = workshop.vessel("Proven", shell=KEG)
    proved = run(workshop, str(workshop.post(f"/trials/{workshop.planned(tank)['id']}/freeze")["id"]))
    workshop.post(f"/trials/{proved}/judge")
    reason = "Relief tried elsewhere."
    workshop.post(f"/trials/{proved}/decision", {"fitness": "fit", "pressure": "8.5 bar", "reason": reason})
    trial = gas_tried(workshop, tank, "0.8 bar")
    workshop.post(f"/trials/{trial}/judge")
    refused = workshop.post(f"/trials/{trial}/decision", {"fitness": "fit", "pressure": "0.8 bar"}, 409)["says"]
    assert "goes further than the evidence: Tight at 0.8 bar" in refused
    assert "fit, or tight" in workshop.post(f"/trials/{trial}/decision", {"fitness": "tight"}, 409)["says"]
    workshop.post(f"/trials/{trial}/decision", {"fitness": "tight", "pressure": "0.8 bar"})
    [row] = workshop.get("/shed")["rows"]
    assert (row["stands"]["id"], row["stands"]["tag"]["fitness"]) == (proved, "fit")
