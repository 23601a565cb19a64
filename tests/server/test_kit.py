"""The kit board: hung up, changed, taken down, judged against a plan; plans copied from earlier ones."""

from typing import Any

import pytest

from tests.server.conftest import KIT, VESSEL, Workshop
from toadbell.trials.models import Trial

DIAL = {"range": "25 bar", "division": "0.1 bar", "class": 0.6, "calibrated": "2026-05-01"}


def hang(workshop: Workshop, kind: str, name: str, **sheet: Any) -> Any:
    return workshop.post("/kit", {"kind": kind, "name": name, "sheet": sheet})


def test_kit_keeps_the_words_it_was_entered_with_and_when_its_calibration_ends(workshop: Workshop) -> None:
    hang(workshop, "gauge", "Test gauge", **DIAL)
    kept = workshop.get("/kit")[0]
    assert (kept["name"], kept["sheet"]) == ("Test gauge", DIAL)
    assert kept["calibrated_until"] == "2027-05-02"
    assert not kept["out_of_date"]
    assert hang(workshop, "gauge", "Old dial", range="300 psi")["out_of_date"]


@pytest.mark.parametrize(
    ("kind", "sheet", "field"),
    [
        ("gauge", {}, "range"),
        ("gauge", {"range": "25"}, "range"),
        ("pump", {"stroke": "3 bar"}, "stroke"),
        ("parrot", {}, "kind"),
        ("hose", {"rating": "40 bar", "colour": "red"}, "colour"),
    ],
)
def test_wrong_kit_is_refused_by_the_name_of_its_field(workshop: Workshop, kind: str, sheet: dict, field: str) -> None:
    refusal = workshop.post("/kit", {"kind": kind, "name": "Thing", "sheet": sheet}, 422)
    assert refusal["field"] == field
    assert workshop.get("/kit") == []


def test_two_windows_do_not_overwrite_each_others_kit(workshop: Workshop) -> None:
    kit = hang(workshop, "gauge", "Dial", **DIAL)
    body = {"kind": "gauge", "name": "Dial, left", "sheet": DIAL, "version": 1}
    workshop.put(f"/kit/{kit['id']}", body)
    assert "another window" in workshop.put(f"/kit/{kit['id']}", {**body, "name": "Dial, right"}, 412)["says"]
    assert workshop.get("/kit")[0]["name"] == "Dial, left"


def test_what_is_taken_down_can_be_hung_up_again(workshop: Workshop) -> None:
    kit = hang(workshop, "hose", "Hose", rating="40 bar")
    workshop.put(f"/kit/{kit['id']}/hung", {"taken_down": True})
    assert workshop.get("/kit") == []
    workshop.put(f"/kit/{kit['id']}/hung", {"taken_down": False})
    assert [k["name"] for k in workshop.get("/kit")] == ["Hose"]


def test_each_piece_of_kit_is_judged_for_the_plan(workshop: Workshop) -> None:
    for kind, name, sheet in (
        ("gauge", "Test gauge", DIAL),
        ("gauge", "Boiler dial", {"range": "10 bar", "division": "0.2 bar"}),
        ("gauge", "Washer's dial", {"range": "160 bar", "division": "5 bar"}),
        ("pump", "Hand pump", {"stroke": "12 mL", "maximum": "60 bar"}),
        ("pump", "Bicycle pump", {"maximum": "8 bar"}),
        ("thermometer", "Probe", {"resolution": "0.1 degC"}),
        ("hose", "Red hose", {"rating": "40 bar"}),
        ("plug", "Brass plug", {"rating": "10 bar", "thread": "½ BSP"}),
        ("relief-valve", "Rig relief", {"set_pressure": "14 bar"}),
        ("relief-valve", "Service relief", {"set_pressure": "8.5 bar"}),
        ("wrench", "Wrench", {"range": "100 N m"}),
    ):
        hang(workshop, kind, name, **sheet)
    plan = workshop.planned()
    suits = {s["name"]: s for s in workshop.get(f"/trials/{plan['id']}/kit")}
    assert {name for name, s in suits.items() if not s["suited"]} == {
        "Boiler dial",
        "Washer's dial",
        "Bicycle pump",
        "Brass plug",
    }
    assert [name for name, s in suits.items() if s["best"]] == ["Test gauge"]
    assert suits["Boiler dial"]["says"] == "Ends at 10 bar, 0.78 times the test; 1.5 times is the least."
    assert "times the ceiling" in suits["Hand pump"]["says"]
    assert suits["Probe"]["says"].startswith("One step of it is 0.12 bar")
    assert "take it off for the test" in suits["Service relief"]["says"]


def test_an_unsuited_gauge_is_answered_with_one_from_the_board(workshop: Workshop) -> None:
    hang(workshop, "gauge", "Test gauge", **DIAL)
    plan = workshop.planned(gauge={"range": "14 bar", "division": "0.1 bar"})
    assert plan["answer"]["stops"][0]["says"].endswith("Of your own, Test gauge would serve.")


def test_the_board_is_frozen_with_the_plan(workshop: Workshop) -> None:
    kit = hang(workshop, "gauge", "Test gauge", **DIAL)
    trial = workshop.ready()
    workshop.put(
        f"/kit/{kit['id']}", {"kind": "gauge", "name": "Test gauge", "sheet": {"range": "4 bar"}, "version": 1}
    )
    assert Trial.objects.get(pk=trial).frozen_sheet["gauges"] == [{**DIAL, "name": "Test gauge"}]
    assert workshop.get(f"/trials/{trial}/plan")["answer"]["best_gauge"] == "Test gauge"


OPENINGS = [
    {
        "name": "outlet",
        "fitted": "outlet",
        "for_test": "vent",
        "rating": "40 bar",
        "place": {"on": "shell", "along": "400 mm"},
    }
]


def test_the_next_plan_says_what_changed_since(workshop: Workshop) -> None:
    vessel = workshop.vessel(fittings=[{k: v for k, v in OPENINGS[0].items() if k not in ("for_test", "rating")}])
    first = workshop.planned(vessel, fittings=[{**OPENINGS[0], "ready": True}])
    assert first["changed"] == []
    workshop.put(
        f"/vessels/{vessel['id']}",
        {"name": "Tank", "sheet": {**vessel["sheet"], "working_pressure": "8 bar"}, "version": 1},
    )
    second = workshop.post(f"/vessels/{vessel['id']}/trials")
    assert second["copied_from"] == 1
    assert second["changed"] == [
        "wanted pressure: 8.5 bar → 8 bar",
        "air still inside after venting: no longer said, it was 0.05 L",  # each filling has its own air
    ]
    assert second["sheet"]["fittings"] == OPENINGS  # what was done with it is carried over, that it is ready is not


def test_any_earlier_plan_may_be_copied_and_no_other_vessels(workshop: Workshop) -> None:
    vessel = workshop.vessel()
    first = workshop.planned(vessel, basis="own", factor=1.4)
    workshop.planned(vessel, basis="code-130", factor=None)
    third = workshop.post(f"/vessels/{vessel['id']}/trials", {"trial": first["id"]})
    assert (third["number"], third["copied_from"], third["sheet"]["factor"]) == (3, 1, 1.4)
    workshop.post(f"/vessels/{workshop.vessel('Other')['id']}/trials", {"trial": first["id"]}, 404)


def test_a_drum_under_air_needs_no_shell_and_no_water_to_be_planned(workshop: Workshop) -> None:
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
    assert [gap["field"] for gap in plan["missing"]] == ["gauge"]
    assert plan["shape"]["form"] == "drum"
    kit = {
        key: value
        for key, value in KIT.items()
        if key not in ("water_temperature", "trapped_air", "gauge", "acceptance")
    }
    sheet = {**plan["sheet"], **kit, "gauge": {"range": "100 mbar", "division": "1 mbar"}}
    changed = workshop.put(f"/trials/{plan['id']}/plan", {"sheet": sheet, "version": 1})
    assert changed["answer"]["stops"] == []
    assert workshop.post(f"/trials/{plan['id']}/freeze")["state"] == "ready"


def test_a_drawing_has_its_openings_where_they_are(workshop: Workshop) -> None:
    place = [
        {"name": "outlet", "place": {"on": "shell", "along": "400 mm"}},
        {"name": "port", "place": {"on": "end 2", "out": "100 mm"}},
        {"name": "flank", "place": {"on": "shell", "along": "0.2 m", "round": "90 deg"}},
        {"name": "somewhere"},
    ]
    shape = workshop.vessel(
        fittings=place,
        shell={**VESSEL["shell"], "wall_readings": [{"wall": "2.6 mm", "along": "0.3 m", "round": "180 deg"}]},
    )["shape"]
    drawn = {o["name"]: o for o in shape["openings"]}
    assert set(drawn) == {"outlet", "port", "flank"}
    assert (drawn["outlet"]["x"], drawn["outlet"]["v"], drawn["outlet"]["dv"]) == pytest.approx((0.4, 0.183, 1))
    assert drawn["port"]["x"] > 0.8
    assert (drawn["port"]["v"], drawn["port"]["dx"]) == pytest.approx((0.1, 1))
    assert drawn["flank"]["facing"] == pytest.approx(1)
    assert shape["readings"] == [
        {"x": 0.3, "v": pytest.approx(-0.183), "wall": pytest.approx(0.0026), "date": None, "thinnest": True}
    ]
    assert shape["level"] == pytest.approx(0.366)
    xs, radii = zip(*((p["x"], p["r"]) for p in shape["outline"]), strict=True)
    assert (xs[0], xs[-1], max(radii)) == pytest.approx((-0.0915, 0.8915, 0.183), rel=1e-4)
