"""What happens to a vessel, practice, pauses and acceptance: over the API, as a browser meets them."""

import datetime

import pytest

from tests.server.conftest import FINE_PUMP, KIT, VESSEL, Workshop, held, pump_up, rewind
from toadbell.core.sheets import read_vessel_sheet
from toadbell.records import due
from toadbell.trials.models import Trial

WELL = {"fitness": "fit", "pressure": "8.5 bar", "reason": ""}


def proven(workshop: Workshop) -> tuple[str, str]:
    """A vessel with a proof that ended in “fit”, and its trial."""
    trial = held(workshop)
    workshop.post(f"/trials/{trial}/judge")
    vessel = workshop.post(f"/trials/{trial}/decision", WELL)["vessel_id"]
    return vessel, trial


def tag(workshop: Workshop, vessel: str) -> tuple[str, float | None]:
    """The tag on the shelf today."""
    row = next(row for row in workshop.get("/trials") if row["vessel_id"] == vessel and row["stands"])
    return row["tag"]["fitness"], row["tag"]["pressure"]


def test_a_dropped_vessel_is_not_proven_from_that_moment_and_nothing_is_due_on_it(workshop: Workshop) -> None:
    vessel, _ = proven(workshop)
    assert tag(workshop, vessel) == ("fit", 8.5e5)
    assert any(one.what == "proof" for one in due.due())
    told = workshop.happened(vessel, "dropped", "off the trolley")
    assert (told["voids"], told["name"]) == ("proof", "Dropped or knocked")
    assert tag(workshop, vessel) == ("not proven", None)
    assert not due.due()
    written = workshop.get(f"/vessels/{vessel}/happened")
    assert [one["what"] for one in written] == ["dropped", "look inside", "relief tried"]
    workshop.post(f"/vessels/{vessel}/happened/{told['id']}/withdrawn", status=200)  # it was another tank
    assert tag(workshop, vessel) == ("fit", 8.5e5)
    assert workshop.get(f"/vessels/{vessel}/happened")[0]["withdrawn"] == "Owner"
    assert "already" in workshop.post(f"/vessels/{vessel}/happened/{told['id']}/withdrawn", status=409)["says"]


def test_what_may_happen_is_a_list_and_no_day_to_come(workshop: Workshop) -> None:
    vessel = workshop.vessel()["id"]
    assert "dropped" in workshop.happened(vessel, "abducted", status=409)["says"]
    later = {"what": "dropped", "on": (datetime.date.today() + datetime.timedelta(days=2)).isoformat(), "text": ""}
    assert "to come" in workshop.post(f"/vessels/{vessel}/happened", later, 409)["says"]


@pytest.mark.parametrize(
    ("changes", "answer", "then"),
    [
        ({"shell": {**VESSEL["shell"], "wall": "2.2 mm"}}, "corrected", "limited"),
        ({"shell": {**VESSEL["shell"], "wall": "3.4 mm"}}, "corrected", "fit"),
        ({"ends": [{"form": "flat", "wall": "3.5 mm"}] * 2}, "changed", "not proven"),
        ({"shell": {**VESSEL["shell"], "material": "copper"}}, "mended", "not proven"),
    ],
)
def test_a_changed_boundary_asks_what_happened_and_the_tag_falls_to_what_stands(
    workshop: Workshop, changes: dict, answer: str, then: str
) -> None:
    vessel, _ = proven(workshop)
    was = workshop.get(f"/vessels/{vessel}")
    body = {"name": was["name"], "sheet": {**was["sheet"], **changes}, "notes": "", "version": was["version"]}
    assert workshop.put(f"/vessels/{vessel}", body, 409)["says"].endswith("What happened to it?")
    assert workshop.get(f"/vessels/{vessel}")["version"] == was["version"]  # nothing was kept
    workshop.put(f"/vessels/{vessel}", {**body, "happened": answer, "happened_text": "as found"})
    assert tag(workshop, vessel)[0] == then


def test_measuring_a_wall_asks_nothing_and_counts_at_once(workshop: Workshop) -> None:
    vessel, _ = proven(workshop)
    was = workshop.get(f"/vessels/{vessel}")
    thin = {**was["sheet"]["shell"], "wall_readings": ["1.6 mm"]}
    workshop.put(
        f"/vessels/{vessel}",
        {"name": was["name"], "sheet": {**was["sheet"], "shell": thin}, "notes": "", "version": was["version"]},
    )
    fitness, pressure = tag(workshop, vessel)
    assert fitness == "limited"
    assert pressure is not None
    assert pressure < 8.5e5


@pytest.mark.parametrize(
    ("notes", "asks"), [("Dropped off the cart.", True), ("Patched with a plate.", True), ("Painted green.", False)]
)
def test_notes_that_tell_of_harm_ask_what_happened(workshop: Workshop, notes: str, asks: bool) -> None:
    vessel, _ = proven(workshop)
    was = workshop.get(f"/vessels/{vessel}")
    body = {"name": was["name"], "sheet": was["sheet"], "notes": notes, "version": was["version"]}
    workshop.put(f"/vessels/{vessel}", body, 409 if asks else 200)
    if asks:
        workshop.put(f"/vessels/{vessel}", {**body, "happened": "dropped"})
        assert tag(workshop, vessel)[0] == "not proven"


def test_a_vessel_that_nobody_decided_on_is_changed_without_a_question(workshop: Workshop) -> None:
    vessel = workshop.vessel()
    sheet = {**vessel["sheet"], "shell": {**VESSEL["shell"], "wall": "2.4 mm"}}
    workshop.put(f"/vessels/{vessel['id']}", {"name": "Tank", "sheet": sheet, "notes": "", "version": 1})


def test_a_hurt_before_the_decision_leaves_the_hold_proving_nothing(workshop: Workshop) -> None:
    trial = held(workshop)
    judged = workshop.post(f"/trials/{trial}/judge")
    found = Trial.objects.get(pk=trial)
    found.wall_anchor -= datetime.timedelta(days=1)
    found.save()
    care = Trial.objects.get(pk=trial).vessel.note(found.planned_by, "mended", datetime.date.today(), "brazed the seam")
    care.on, care.at = found.now().date(), found.now() + datetime.timedelta(hours=1)
    care.save()
    assert judged["advice"]["answer"] == "fit"
    assert workshop.get(f"/trials/{trial}/judge")["advice"]["answer"] == "not proven"


def test_a_run_on_the_simulated_rig_sets_no_tag_and_no_date_and_is_marked(workshop: Workshop) -> None:
    trial = workshop.ready(**FINE_PUMP)
    workshop.post(f"/trials/{trial}/start", {"source": "rig", "speed": 1})
    pump_up(workshop, trial)
    workshop.step(trial, "shut-in")
    rewind(trial, 1900)
    workshop.get(f"/trials/{trial}/bench")
    workshop.step(trial, "hold-ended", reason="")
    judged = workshop.post(f"/trials/{trial}/judge")
    assert judged["practice"]
    assert judged["advice"]["says"].startswith("Practice")
    assert judged["advice"]["next_proof"] is None
    decided = workshop.post(f"/trials/{trial}/decision", {**WELL, "reason": "it taught me"})
    assert decided["decision"]["next_proof"] is None
    (row,) = workshop.get("/trials")
    assert (row["practice"], row["stands"], row["tag"]) == (True, False, None)
    assert due.due() == []
    logbook = workshop.get("/logbook")
    assert [choice["id"] for choice in logbook["tags"]] == ["practice"]
    assert logbook["rows"][0]["trial"]["practice"]


def test_stages_run_through_without_their_pauses_are_seen_and_never_fit(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    bench = workshop.step(trial, "vent-shut")
    for stage in bench["answer"]["stages"]:
        workshop.read(trial, f"{stage['target'] / 1e5 + 0.02:.3f} bar", "16.0")
        bench = workshop.step(trial, "stage-reached")
    assert any("pause before it cut short" in line["says"] for line in bench["log"])
    workshop.step(trial, "shut-in")
    rewind(trial, 1900)
    workshop.read(trial, "12.80 bar", "16.0")
    workshop.step(trial, "hold-ended", reason="")
    advice = workshop.post(f"/trials/{trial}/judge")["advice"]
    line = next(line for line in advice["evidence"] if line["name"] == "Paused at each stage")
    assert line["state"] == "not met"
    assert advice["answer"] != "fit"


def test_no_answer_says_fit_beside_a_line_that_is_not_met(workshop: Workshop) -> None:
    _, trial = proven(workshop)
    advice = workshop.get(f"/trials/{trial}/judge")["advice"]
    assert advice["answer"] == "fit"
    assert not [line for line in advice["evidence"] if line["state"] == "not met"]
    coarse = held(workshop, gauge={"range": "45 bar", "division": "0.5 bar", "class": 2.5})
    judged = workshop.post(f"/trials/{coarse}/judge")["advice"]
    assert "not met" in {line["state"] for line in judged["evidence"]}
    assert judged["answer"] != "fit"


def test_a_hold_with_too_little_read_to_be_judged_is_decided_all_the_same(workshop: Workshop) -> None:
    trial = workshop.ready()
    workshop.raised(trial)
    workshop.step(trial, "shut-in")
    rewind(trial, 1900)
    workshop.step(trial, "hold-ended", reason="")
    room = workshop.get(f"/trials/{trial}/judge")
    assert room["verdict"] is None
    if not room["may_decide"]:
        pytest.fail("neither judged nor decided: the run ends nowhere")
    said = workshop.post(
        f"/trials/{trial}/decision", {"fitness": "not proven", "pressure": None, "reason": "nobody read the gauge"}
    )
    assert said["decision"]["fitness"] == "not proven"


LOW = {"kind": "digester", "working_pressure": "22 mbar", "box": {"diameter": "570 mm", "height": "820 mm"}}


@pytest.mark.parametrize(
    ("sheet", "accepted"),
    [
        (LOW, {"max_leak": "4.2 L/day"}),  # a fiftieth of 209 L
        (
            {"kind": "enclosure", "working_pressure": "12 mbar", "volume": "3.2 L"},
            {"max_drop": "1 mbar", "over": "10 min"},
        ),
        ({"kind": "cooler", "working_pressure": "0.3 bar", "volume": "2 L"}, {"no_visible_drop": True}),
        (VESSEL, {"max_drop": "0.2 bar", "over": "30 min"}),
    ],
    ids=["digester", "enclosure", "cooler", "receiver"],
)
def test_the_acceptance_offered_is_the_kinds_and_its_pressures(workshop: Workshop, sheet: dict, accepted: dict) -> None:
    vessel = workshop.post("/vessels", {"name": "One", "sheet": sheet})
    plan = workshop.post(f"/vessels/{vessel['id']}/trials")
    assert plan["sheet"]["acceptance"] == accepted
    assert "acceptance-unsuited" not in {s["code"] for s in plan["answer"]["stops"]}
    drop = read_vessel_sheet(plan["sheet"]).acceptance
    assert getattr(drop, "max_drop", 0.0) < plan["answer"]["test_pressure"]


def test_a_low_hold_is_decided_to_the_end(workshop: Workshop) -> None:
    vessel = workshop.post("/vessels", {"name": "Drum", "sheet": LOW})
    plan = workshop.post(f"/vessels/{vessel['id']}/trials")
    kit = {"gauge": {"range": "100 mbar", "division": "1 mbar"}, "thermometer": KIT["thermometer"], "pause": "1 min"}
    assert plan["sheet"]["hold"] == {"minimum": "840 min"}  # a night
    kit["hold"] = {"minimum": "2 h"}
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": {**plan["sheet"], **kit}, "version": 1})
    trial = workshop.post(f"/trials/{plan['id']}/freeze")["id"]
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    for stage in workshop.step(trial, "vent-shut")["answer"]["stages"]:
        workshop.read(trial, f"{stage['target'] / 100:.1f} mbar", "16.0")
        workshop.step(trial, "stage-reached")
        rewind(trial, stage["pause"] + 1)
    workshop.step(trial, "shut-in")
    for _ in range(12):
        rewind(trial, 601)
        workshop.read(trial, "33.0 mbar", "16.0")
    workshop.step(trial, "hold-ended", reason="")
    judged = workshop.post(f"/trials/{trial}/judge")
    assert judged["verdict"]["verdict"] in ("tight", "cannot-tell")
    assert judged["may_decide"]
    closed = workshop.post(
        f"/trials/{trial}/decision", {"fitness": "not proven", "pressure": None, "reason": "soap next"}
    )
    assert closed["state"] == "closed"
