"""A relief valve's trial over the API: from its plan to what stands of the valve with its vessel."""

import datetime
import io
from typing import Any

import pytest
from pypdf import PdfReader

from tests.server.conftest import Workshop, held, rewind
from toadbell.records import due
from toadbell.trials.models import Trial

FINE = {
    "gauge": {
        "range": "16 bar",
        "division": "0.05 bar",
        "resolution": "5 mbar",
        "class": 0.1,
        "calibrated": "2026-06-01",
    },
    "pump": {"stroke": "5 mL", "maximum": "40 bar"},
    "thermometer": {"resolution": "0.1 °C"},
    "water_temperature": "16 °C",
    "pause": "1 min",
}


def raised(workshop: Workshop, of: str | None = None, **vessel: Any) -> str:
    """A relief trial of a receiver whose valve is set to 8.5 bar, raised to its set. of  a vessel that hangs already"""
    tank = {"id": of} if of else workshop.vessel("Yard tank", relief_set="8.5 bar", **vessel)
    plan = workshop.post(f"/vessels/{tank['id']}/trials", {"basis": "relief"})
    assert (plan["answer"]["procedure"], plan["answer"]["test_pressure"]) == ("relief", pytest.approx(8.5e5))
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **FINE}, "version": plan["version"]})
    trial = str(workshop.post(f"/trials/{plan['id']}/freeze")["id"])
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    bench = workshop.step(trial, "vent-shut")
    for stage in bench["answer"]["stages"]:
        workshop.read(trial, f"{stage['target'] / 1e5 + 0.005:.3f} bar", "16.0")
        bench = workshop.step(trial, "stage-reached")
        rewind(trial, stage["pause"] + 1)
    return trial


def tried(workshop: Workshop, trial: str, lift: str = "8.45 bar", reseat: str = "8.0 bar", hand: bool = True) -> Any:
    """Its three rounds, and by hand; the bench after."""
    bench = None
    for place in ("1", "2", "3"):
        workshop.step(trial, "observed", what="lift", place=place, text=lift)
        bench = workshop.step(trial, "observed", what="reseat", place=place, text=reseat)
    if hand:
        workshop.step(trial, "observed", what="hand", place="1", word="free")
        bench = workshop.step(trial, "observed", what="after", place="1", word="dry")
    return bench


def ended(workshop: Workshop, trial: str, valve: str | None = None, reason: str = "the valve") -> Any:
    """Over, and decided of the valve, as it was found where nothing else is said; the judge's room."""
    workshop.step(trial, "tried")
    workshop.step(trial, "released")
    room = workshop.get(f"/trials/{trial}/judge")
    assert (room["verdict"], room["may_decide"]) == (None, True)
    word = valve or room["valve"]["answer"]
    return workshop.post(f"/trials/{trial}/decision", {"fitness": "not proven", "valve": word, "reason": reason})


def line(workshop: Workshop, vessel: str) -> dict[str, Any]:
    """The ledger's line of the relief valve."""
    lines = workshop.get(f"/vessels/{vessel}/ledger")["lines"]
    return next(one for one in lines if one["code"] == "relief")


def test_three_rounds_that_agree_prove_the_valve_and_stand_with_its_vessel(workshop: Workshop) -> None:
    trial = raised(workshop)
    bench = workshop.get(f"/trials/{trial}/bench")
    assert (bench["instruments"], bench["now"]["step"]) == (["relief"], "tried")
    assert "no-lift" in {one["code"] for one in bench["answer"]["guards"]}
    assert bench["valve"]["judged"]["answer"] == "cannot-tell"
    bench = tried(workshop, trial)
    assert bench["valve"]["judged"]["answer"] == "good"
    assert "it lifts at 8.45 bar" in " ".join(one["says"] for one in bench["log"])
    room = ended(workshop, trial)
    assert room["valve"]["answer"] == "good"
    assert room["advice"]["answer"] == "not proven"
    found = line(workshop, room["vessel_id"])
    assert (found["state"], found["says"].startswith("lifts at 8.45 bar")) == ("met", True)
    assert f"trial {room['number']}" in workshop.get(f"/vessels/{room['vessel_id']}/happened")[0]["text"]


def test_a_valve_that_lifts_too_high_is_to_be_reset_and_its_line_falls(workshop: Workshop) -> None:
    trial = raised(workshop)
    assert tried(workshop, trial, lift="9.2 bar", reseat="8.6 bar")["valve"]["judged"]["answer"] == "reset"
    room = ended(workshop, trial)
    assert line(workshop, room["vessel_id"])["state"] == "voided"
    assert "Reset it to" in line(workshop, room["vessel_id"])["says"]


def test_what_cannot_be_told_of_a_valve_changes_nothing_of_what_is_known(workshop: Workshop) -> None:
    trial = raised(workshop)
    bench = tried(workshop, trial, hand=False)
    assert bench["valve"]["judged"]["answer"] == "cannot-tell"
    assert any("by hand" in one for one in bench["valve"]["judged"]["settle_it"])
    room = ended(workshop, trial)
    assert line(workshop, room["vessel_id"])["says"].startswith("lifts at 8.4 bar")  # as it was tried before


def test_it_has_no_hold_and_a_proof_has_no_rounds(workshop: Workshop) -> None:
    trial = raised(workshop)
    assert "no hold" in workshop.step(trial, "shut-in", status=409)["says"]
    assert (
        "rounds 1, 2 and 3"
        in workshop.step(trial, "observed", status=409, what="lift", place="4", text="8 bar")["says"]
    )
    workshop.step(trial, "observed", status=422, what="lift", place="1")
    assert "8 mm" in workshop.step(trial, "observed", status=422, what="lift", place="1", text="8 mm")["says"]
    workshop.step(trial, "observed", what="lift", place="1", text="8.4 bar")
    for what in ("reseat", "weep"):  # typed the wrong way round
        assert (
            "wrong way round"
            in workshop.step(trial, "observed", status=409, what=what, place="1", text="8.6 bar")["says"]
        )
    workshop.step(trial, "observed", status=409, what="lift", place="2", value=-5)
    proof = workshop.ready()
    workshop.raised(proof)
    assert "relief valve" in workshop.step(proof, "tried", status=409)["says"]
    workshop.step(proof, "observed", status=409, what="lift", place="1", text="8 bar")


def test_no_lift_just_past_where_the_valve_was_to_come_calls_for_a_dump(workshop: Workshop) -> None:
    trial = raised(workshop)
    guards = workshop.get(f"/trials/{trial}/bench")["answer"]["guards"]
    limit = next(one["limit"] for one in guards if one["code"] == "no-lift")
    assert limit == pytest.approx(8.5e5 * 1.03 + 16e5 * 0.001 + 500)  # UG-134, the gauge's class and its step
    workshop.step(trial, "observed", what="highest", place="1", text=f"{limit / 1e5 + 0.01:.3f} bar")
    assert workshop.get(f"/trials/{trial}/bench")["valve"]["judged"]["answer"] == "bad"
    workshop.read(trial, f"{limit / 1e5 + 0.01:.3f} bar", "16.0")
    (guard,) = workshop.get(f"/trials/{trial}/bench")["guards"]
    assert (guard["code"], guard["does"]) == ("no-lift", "dump")


def test_lifts_are_seen_in_a_loggers_readings_by_their_fall(workshop: Workshop) -> None:
    trial = raised(workshop)
    began = Trial.objects.get(pk=trial).now()
    rewind(trial, 600)
    falls = [8.50, 8.52, 8.53, 8.55, 8.20, 8.02, 8.01, 8.01, 8.05, 8.10, 8.2, 8.3, 8.44, 8.1, 8.0, 8.0, 8.05]
    readings = [
        {
            "id": f"00000000-0000-7000-8000-{n:012d}",
            "pressure": f"{bar} bar",
            "temperature": None,
            "at": (began + datetime.timedelta(seconds=1 + n)).isoformat(),
        }
        for n, bar in enumerate(falls)
    ]
    workshop.post(f"/trials/{trial}/readings", readings)
    lifts = workshop.get(f"/trials/{trial}/bench")["valve"]["lifts"]
    assert [(round(one["lift"]), round(one["reseat"])) for one in lifts] == [(855_000, 801_000), (844_000, 800_000)]


def test_a_valves_trial_takes_nothing_away_from_the_proof_before(workshop: Workshop) -> None:
    proof = held(workshop, relief_set="8.5 bar")
    workshop.post(f"/trials/{proof}/judge")
    fit = {"fitness": "fit", "pressure": "8.5 bar", "reason": ""}
    vessel = workshop.post(f"/trials/{proof}/decision", fit)["vessel_id"]
    sheet = workshop.get(f"/vessels/{vessel}")
    body = {
        "name": "Tank",
        "sheet": {**sheet["sheet"], "relief_set": "8.5 bar"},
        "notes": "",
        "version": sheet["version"],
    }
    workshop.put(f"/vessels/{vessel}", body)
    plan = workshop.post(f"/vessels/{vessel}/trials", {"basis": "relief"})
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **FINE}, "version": plan["version"]})
    trial = str(workshop.post(f"/trials/{plan['id']}/freeze")["id"])
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    workshop.step(trial, "vent-shut")
    workshop.step(trial, "observed", what="lift", place="1", text="8.45 bar")
    ended(workshop, trial)
    stands = {row["id"]: row["stands"] for row in workshop.get("/trials")}
    assert (stands[proof], stands[trial]) == (True, False)
    assert next(one for one in due.due() if one.what == "proof").trial is not None


def on_the_rig(workshop: Workshop, valve: str) -> tuple[str, Any]:
    """A valve set to 8.5 bar tried on the simulated rig, till it lifted three times or an alarm came; the bench."""
    tank = workshop.vessel("Yard tank", relief_set="8.5 bar")
    plan = workshop.post(f"/vessels/{tank['id']}/trials", {"basis": "relief"})
    slow = {**FINE, "pump": {"stroke": "0.5 mL", "maximum": "40 bar"}}  # under 2 % of the set a second
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **slow}, "version": plan["version"]})
    trial = str(workshop.post(f"/trials/{plan['id']}/freeze")["id"])
    workshop.post(f"/trials/{trial}/start", {"source": "rig", "speed": 1, "valve": valve})
    bench = workshop.step(trial, "vent-shut")
    for _ in range(80):
        strokes = 30 if (bench["latest"] or {"pressure": 0})["pressure"] < 7.5e5 else 6
        workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": strokes})
        rewind(trial, 2 * strokes + 6)
        bench = workshop.get(f"/trials/{trial}/bench")
        if len([one for one in bench["valve"]["lifts"] if one["reseat"] is not None]) >= 3 or bench["guards"]:
            return trial, bench
    raise AssertionError("it neither lifted three times nor was it stopped")


@pytest.mark.parametrize(("valve", "answer"), [("good", "good"), ("low-seat", "bad")])
def test_a_valve_is_tried_on_the_simulated_rig_whose_lifts_are_found_in_its_readings(
    workshop: Workshop, valve: str, answer: str
) -> None:
    trial, bench = on_the_rig(workshop, valve)
    for n, one in enumerate(bench["valve"]["lifts"][:3]):
        workshop.step(trial, "observed", what="lift", place=str(n + 1), value=one["lift"])
        workshop.step(trial, "observed", what="reseat", place=str(n + 1), value=one["reseat"])
    workshop.step(trial, "observed", what="hand", place="1", word="free")
    bench = workshop.step(trial, "observed", what="after", place="1", word="dry")
    assert bench["valve"]["judged"]["answer"] == answer


@pytest.mark.parametrize("valve", ["late", "sticks"])
def test_a_valve_that_does_not_come_is_stopped_just_over_its_set_and_is_bad(workshop: Workshop, valve: str) -> None:
    _, bench = on_the_rig(workshop, valve)
    assert [one["code"] for one in bench["guards"]] == ["no-lift"]
    assert bench["latest"]["pressure"] < 1.07 * 8.5e5  # a stroke's worth past its alarm
    assert bench["valve"]["judged"]["answer"] == "bad"


def test_a_valve_off_the_kit_board_brings_its_makers_tolerance_and_gets_its_history_there(workshop: Workshop) -> None:
    valve = {"set_pressure": "8.5 bar", "tolerance": "0.6 bar"}
    hung = workshop.post("/kit", {"kind": "relief-valve", "name": "Brass 8.5", "sheet": valve})
    assert workshop.get(f"/kit/{hung['id']}/tried") == []
    trial = raised(workshop, relief_valve={**valve, "name": "Brass 8.5"})
    judged = tried(workshop, trial, lift="8.0 bar", reseat="7.8 bar")["valve"]["judged"]
    assert judged["answer"] == "good"  # by its maker's figure; by the code's it would be reset
    ended(workshop, trial)
    history = workshop.get(f"/kit/{hung['id']}/tried")
    assert [(one["vessel"], one["practice"]) for one in history] == [("Yard tank", False)]
    assert history[0]["says"].startswith("Good. It lifts at 8 bar")
    board = next(one for one in workshop.get("/kit") if one["id"] == hung["id"])
    assert board["sheet"]["proven"] == history[0]["on"]


def test_a_valve_that_is_set_to_something_else_than_the_vessel_says_is_refused(workshop: Workshop) -> None:
    tank = workshop.vessel("Yard tank", relief_set="8.5 bar")
    plan = workshop.post(f"/vessels/{tank['id']}/trials", {"basis": "relief"})
    sheet = {**plan["sheet"], **FINE, "relief_valve": {"name": "Brass 6", "set_pressure": "6 bar"}}
    refused = workshop.put(f"/trials/{plan['id']}/plan", {"sheet": sheet, "version": plan["version"]}, 422)
    assert refused["field"] == "relief_set"


def test_a_quick_rise_near_its_set_is_said_at_once(workshop: Workshop) -> None:
    trial = raised(workshop)
    began = Trial.objects.get(pk=trial).now()
    rewind(trial, 600)
    quick = [
        {
            "id": f"00000000-0000-7000-8000-{n:012d}",
            "pressure": f"{bar} bar",
            "temperature": None,
            "at": (began + datetime.timedelta(seconds=60 + n)).isoformat(),
        }
        for n, bar in enumerate((7.7, 8.0, 8.3))
    ]
    workshop.post(f"/trials/{trial}/readings", quick)
    assert "Too quick: 4% of its set" in workshop.get(f"/trials/{trial}/bench")["valve"]["too_quick"]


def test_a_plan_with_another_valve_takes_down_what_was_tried_of_the_one_before(workshop: Workshop) -> None:
    """Tried good as number 0417; a proof a while later is planned with number 0418."""
    valve = {"name": "Brass 8.5", "set_pressure": "8.5 bar", "number": "0417"}
    first = raised(workshop, relief_valve=valve)
    tried(workshop, first)
    vessel = ended(workshop, first)["vessel_id"]
    assert line(workshop, vessel)["state"] == "met"
    plan = workshop.post(f"/vessels/{vessel}/trials", {"copy": first})
    other = {**plan["sheet"], "relief_valve": {**valve, "number": "0418"}}
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": other, "version": plan["version"]})
    second = str(workshop.post(f"/trials/{plan['id']}/freeze")["id"])
    workshop.post(f"/trials/{second}/start", {"source": "dial"})
    shown = next(
        one for one in workshop.get(f"/trials/{second}/judge")["advice"]["evidence"] if one["code"] == "relief"
    )
    assert (shown["state"], "0418" in shown["says"]) == ("not known", True)
    workshop.step(second, "vent-shut")
    workshop.read(second, "1 bar")
    workshop.step(second, "dumped")
    stopped = {"fitness": "not proven", "valve": "cannot-tell", "reason": "stopped"}
    workshop.post(f"/trials/{second}/decision", stopped)
    assert (line(workshop, vessel)["state"], "0418" in line(workshop, vessel)["says"]) == ("voided", True)


@pytest.mark.parametrize(
    "decision",
    [
        {"fitness": "fit", "pressure": "8.5 bar"},
        {"fitness": "limited", "pressure": "1 bar"},
        {"fitness": "tight", "pressure": "1 bar"},
        {"fitness": "not proven"},
        {"fitness": "fit", "pressure": "8.5 bar", "valve": "good"},
        {"fitness": "not fit", "valve": "good"},
    ],
)
def test_a_trial_of_the_valve_is_decided_of_the_valve_and_never_of_its_vessel(
    workshop: Workshop, decision: dict[str, str]
) -> None:
    trial = raised(workshop)
    tried(workshop, trial)
    workshop.step(trial, "tried")
    workshop.step(trial, "released")
    says = workshop.post(f"/trials/{trial}/decision", {"reason": "it is mine", **decision}, 409)["says"]
    assert "valve" in says
    assert workshop.get(f"/trials/{trial}/judge")["decision"] is None


def test_a_proof_is_not_decided_of_a_valve(workshop: Workshop) -> None:
    trial = held(workshop)
    workshop.post(f"/trials/{trial}/judge")
    says = workshop.post(f"/trials/{trial}/decision", {"fitness": "not proven", "valve": "good", "reason": "x"}, 409)
    assert "own test" in says["says"]


@pytest.mark.parametrize("seen", [True, False])
def test_who_doubts_a_valve_is_followed_whatever_its_trial_found(workshop: Workshop, seen: bool) -> None:
    trial = raised(workshop)
    tried(workshop, trial, hand=seen)
    room = ended(workshop, trial, "bad", "It chattered on the way down.")
    assert (room["decision"]["valve"], room["decision"]["less_cautious"]) == ("bad", False)
    found = line(workshop, room["vessel_id"])
    assert (found["state"] == "met", "chattered" in found["says"]) == (False, True)
    logged = [one["says"] for one in workshop.get(f"/records/{trial}")["log"]]
    assert logged[-1] == "decided: valve bad"


def test_who_calls_a_valve_good_that_was_not_seen_to_be_says_why_and_proves_nothing_by_it(workshop: Workshop) -> None:
    trial = raised(workshop)
    tried(workshop, trial, hand=False)
    workshop.step(trial, "tried")
    workshop.step(trial, "released")
    assert workshop.get(f"/trials/{trial}/judge")["valve"]["answer"] == "cannot-tell"
    bold = {"fitness": "not proven", "valve": "good"}
    assert "Write down why" in workshop.post(f"/trials/{trial}/decision", bold, 409)["says"]
    room = workshop.post(f"/trials/{trial}/decision", {**bold, "reason": "It always was."})
    assert room["decision"]["less_cautious"] is True
    assert line(workshop, room["vessel_id"])["says"].startswith("lifts at 8.4 bar")  # as it was tried before


def test_a_vessel_that_was_seen_to_leak_while_its_valve_was_tested_is_not_fit(workshop: Workshop) -> None:
    trial = raised(workshop)
    workshop.step(trial, "dumped")
    room = workshop.post(f"/trials/{trial}/decision", {"fitness": "not fit", "reason": "The seam sprayed."})
    assert (room["decision"]["fitness"], room["decision"]["valve"], room["decision"]["says"]) == (
        "not fit",
        "",
        "not fit",
    )
    assert workshop.get(f"/vessels/{room['vessel_id']}/ledger")["answer"] == "not fit"


def test_what_was_decided_of_a_valve_is_looked_for_and_compared(workshop: Workshop) -> None:
    trials, vessel = [], None
    for lift in ("8.45 bar", "8.46 bar"):
        trials.append(raised(workshop, of=vessel))
        tried(workshop, trials[-1], lift=lift)
        vessel = ended(workshop, trials[-1])["vessel_id"]
    found = workshop.get("/logbook?tag=valve good")
    assert [row["trial"]["id"] for row in found["rows"]] == trials[::-1]
    compared = workshop.get(f"/compare?one={trials[0]}&other={trials[1]}")
    assert [compared[side]["fitness"] for side in ("before", "after")] == ["valve good", "valve good"]


def test_the_paper_hangs_its_tag_on_the_valve_and_claims_nothing_of_the_vessel(workshop: Workshop) -> None:
    trial = raised(workshop)
    tried(workshop, trial)
    ended(workshop, trial)
    told = (
        PdfReader(io.BytesIO(workshop.client.get(f"/api/records/{trial}/report.pdf").content)).pages[0].extract_text()
    )
    assert ("valve good" in told, "the valve alone" in told) == (True, True)
