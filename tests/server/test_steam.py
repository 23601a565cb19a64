"""A boiler's first steam over the API: from the proof that lets it begin to what stands of it with its boiler."""

from typing import Any

import pytest

from tests.once import once
from tests.server.conftest import Workshop, rewind, run

POT = {
    "kind": "boiler",
    "working_pressure": "2 bar",
    "plate_pressure": None,
    "relief_set": "2 bar",
    "shell": {"inside_diameter": "110 mm", "length": "260 mm", "wall": "3 mm", "material": "copper"},
    "ends": [{"form": "flat", "wall": "6 mm"}, {"form": "flat", "wall": "6 mm"}],
}
GAUGE = {
    "name": "Boiler gauge",
    "range": "4 bar",
    "division": "0.1 bar",
    "resolution": "0.02 bar",
    "class": 1.0,
    "calibrated": "2026-06-01",
}
KIT = {
    "gauge": GAUGE,
    "thermometer": {"resolution": "1 °C"},
    "relief_valve": {"name": "Brass 2", "set_pressure": "2 bar", "set_by": "Test gauge"},
    "altitude": "100 m",
    "burner": "1.2 kW",
    "water_temperature": "15 °C",
    "pause": "1 min",
}
BEFORE = {"water": "half a glass", "feeds": "both delivered", "valve": "eased, free", "whom": "Maren"}


def boiler(workshop: Workshop) -> Any:
    """A pot boiler as it is hung up, nothing proven."""
    sheet = {key: value for key, value in POT.items() if value is not None}
    return workshop.post("/vessels", {"name": "Pot boiler", "sheet": sheet})


def proven(workshop: Workshop) -> str:
    """A pot boiler that passed its cold proof, by its id."""

    def make() -> str:
        hung = boiler(workshop)
        plan = workshop.planned(hung, gauge={**GAUGE, "range": "6 bar"}, pump={"stroke": "1 mL", "maximum": "20 bar"})
        trial = run(workshop, str(workshop.post(f"/trials/{plan['id']}/freeze")["id"]))
        workshop.post(f"/trials/{trial}/judge")
        workshop.post(f"/trials/{trial}/decision", {"fitness": "limited", "pressure": "2 bar", "reason": "cold proof"})
        return str(hung["id"])

    return once(("proven boiler",), make)


def planned(workshop: Workshop, vessel: str, **changes: Any) -> str:
    """Its first steam, frozen."""
    plan = workshop.post(f"/vessels/{vessel}/trials", {"basis": "steam"})
    assert (plan["answer"]["procedure"], plan["answer"]["test_pressure"]) == ("steam", pytest.approx(2e5))
    sheet = {key: value for key, value in {**plan["sheet"], **KIT, **changes}.items() if value is not None}
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": sheet, "version": plan["version"]})
    return str(workshop.post(f"/trials/{plan['id']}/freeze")["id"])


def lit(workshop: Workshop, **changes: Any) -> str:
    """On the bench, lit, its vent shut."""
    trial = planned(workshop, proven(workshop), **changes)
    workshop.post(f"/trials/{trial}/start", {"source": "dial"})
    assert "half a glass" in workshop.step(trial, "vent-shut", status=409)["says"]
    workshop.step(trial, "ready-to-steam", **BEFORE)
    rewind(trial, 500)
    bench = workshop.step(trial, "vent-shut")
    workshop.step(trial, "observed", what="glass", place="1", value=0.5)
    assert bench["phase"] == "raising"
    return trial


UP = (("0.52 bar", "112"), ("1.02 bar", "120.5"), ("1.82 bar", "132"))


def raised(workshop: Workshop, trial: str, up: tuple[tuple[str, str], ...] = UP) -> Any:
    """Up to the last stage under its set."""
    bench = None
    for pressure, temperature in up:
        rewind(trial, 90)
        workshop.read(trial, pressure, temperature)
        bench = workshop.step(trial, "stage-reached")
        rewind(trial, 61)
    return bench


def seen(workshop: Workshop, trial: str, **what: Any) -> Any:
    """What instruments showed: words, parts, or pressures as they are typed."""
    bench = None
    for name, showed in what.items():
        name = name.replace("_", "-")
        said = (
            {"value": showed}
            if isinstance(showed, float)
            else {"text": showed}
            if "bar" in showed
            else {"word": showed}
        )
        bench = workshop.step(trial, "observed", what=name, place="1", **said)
    return bench


def steamed(workshop: Workshop, trial: str, lift: tuple[str, str] = ("2 bar", "134")) -> Any:
    """Feeds, glass, lift, full fire and the look."""
    workshop.step(trial, "observed", what="feed", place="1", word="works")
    workshop.step(trial, "observed", what="feed", place="2", word="works")
    seen(workshop, trial, blown="comes back")
    workshop.read(trial, *lift)
    seen(workshop, trial, steam_lift=lift[0], steam_reseat="1.9 bar")
    return seen(workshop, trial, full_fire="2.06 bar", stands="stands", hot_look="dry")


def line(workshop: Workshop, vessel: str, code: str = "steam") -> dict[str, Any]:
    """A line of its ledger."""
    return next(one for one in workshop.get(f"/vessels/{vessel}/ledger")["lines"] if one["code"] == code)


def test_a_boiler_that_was_not_proven_cold_may_only_be_practised_on(workshop: Workshop) -> None:
    trial = planned(workshop, boiler(workshop)["id"])
    assert "cold proof comes first" in workshop.get(f"/trials/{trial}/bench")["barred"]
    assert "cold proof" in workshop.post(f"/trials/{trial}/start", {"source": "dial"}, 409)["says"]
    assert workshop.post(f"/trials/{trial}/start", {"source": "rig", "speed": 60})["rig"]["boiler"]["glass"] == 0.5


def test_a_boiler_that_fell_since_its_proof_may_not_be_steamed(workshop: Workshop) -> None:
    vessel = proven(workshop)
    trial = planned(workshop, vessel)
    assert workshop.get(f"/trials/{trial}/bench")["barred"] is None
    workshop.happened(vessel, "dropped", "off the bench")
    assert "voided" in workshop.post(f"/trials/{trial}/start", {"source": "dial"}, 409)["says"]


def test_a_first_steam_that_does_all_it_has_to_stands_with_its_boiler(workshop: Workshop) -> None:
    trial = lit(workshop)
    bench = raised(workshop, trial)
    assert bench["instruments"] == ["steam"]
    assert "Try both feeds" in bench["now"]["detail"]
    assert bench["steam"]["behind"] is not None
    bench = steamed(workshop, trial)
    assert bench["steam"]["judged"]["answer"] == "passed", bench["steam"]["judged"]
    assert bench["steam"]["judged"]["witnesses"]["state"] == "agree"
    said = " ".join(one["says"] for one in bench["log"])
    assert "the valve lifts at 2 bar" in said
    assert "water at 50% of the glass" in said
    workshop.step(trial, "tried")
    assert "Nobody opens anything" in workshop.step(trial, "released", status=409)["says"]
    rewind(trial, 3600)
    workshop.read(trial, "0 bar", "60")
    workshop.step(trial, "released")
    room = workshop.get(f"/trials/{trial}/judge")
    assert (room["steam"]["answer"], room["verdict"]) == ("passed", None)
    workshop.post(f"/trials/{trial}/decision", {"fitness": "not proven", "pressure": None, "reason": "first steam"})
    vessel = room["vessel_id"]
    assert line(workshop, vessel)["state"] == "met"
    assert line(workshop, vessel, "relief")["says"].startswith("lifts at 2 bar")
    assert workshop.get(f"/vessels/{vessel}/ledger")["answer"] == "fit"


def test_a_gauge_that_shows_too_little_is_told_by_the_thermometer_and_stops_it(workshop: Workshop) -> None:
    trial = lit(workshop)
    low = (("0.52 bar", "116"), ("0.56 bar", "118"))
    for pressure, temperature in low:
        rewind(trial, 60)
        workshop.read(trial, pressure, temperature)
    bench = workshop.get(f"/trials/{trial}/bench")
    assert [one["code"] for one in bench["guards"]] == ["witnesses"]
    assert bench["guards"][0]["does"] == "fire"
    assert "cannot both be right" in bench["steam"]["judged"]["says"]
    workshop.step(trial, "guard-answered", guard=bench["guards"][0]["id"], reason="blown dry, raised to see the valve")
    workshop.read(trial, "1.6 bar", "134")
    bench = seen(workshop, trial, steam_lift="1.6 bar")
    assert bench["steam"]["judged"]["witnesses"]["liar"] == "gauge"
    assert bench["steam"]["judged"]["answer"] == "stop"
    workshop.step(trial, "dumped")
    room = workshop.get(f"/trials/{trial}/judge")
    workshop.post(f"/trials/{trial}/decision", {"fitness": "not proven", "pressure": None, "reason": "the gauge lies"})
    found = line(workshop, room["vessel_id"])
    assert (found["state"], "the gauge shows too little" in found["says"]) == ("not met", True)
    ledger = workshop.get(f"/vessels/{room['vessel_id']}/ledger")
    assert (ledger["answer"], "No steam in it but for another trial" in ledger["says"]) == ("not fit", True)
    again = planned(workshop, room["vessel_id"], gauge={**GAUGE, "name": "new one"})
    assert workshop.get(f"/trials/{again}/bench")["barred"] is None  # once it is put right


def test_without_a_thermometer_a_late_valve_and_a_high_gauge_are_not_told_apart(workshop: Workshop) -> None:
    trial = lit(workshop, thermometer=None)
    raised(workshop, trial, tuple((pressure, "") for pressure, _ in UP))
    workshop.read(trial, "2.16 bar")
    workshop.read(trial, "2.25 bar")
    bench = workshop.get(f"/trials/{trial}/bench")
    assert {one["code"] for one in bench["guards"]} == {"late-valve", "over-steam"}
    told = bench["steam"]["judged"]
    assert (told["answer"], told["witnesses"]["state"], told["witnesses"]["liar"]) == ("stop", "disagree", None)
    assert any("thermometer" in one for one in told["settle_it"])


def test_water_that_sinks_out_of_sight_stops_it(workshop: Workshop) -> None:
    trial = lit(workshop)
    bench = seen(workshop, trial, glass=0.05)
    assert [one["code"] for one in bench["guards"]] == ["low-water"]
    assert "Fire out first" in bench["guards"][0]["says"]
    assert "0 to 1" in workshop.step(trial, "observed", what="glass", place="1", value=7, status=422)["says"]


def test_under_steam_nothing_is_let_go_by_hand(workshop: Workshop) -> None:
    trial = lit(workshop)
    raised(workshop, trial, UP[:1])
    assert "gone-back" not in workshop.get(f"/trials/{trial}/bench")["allowed"]
    assert "nothing is let go by hand" in workshop.step(trial, "gone-back", status=409, to=0, vent=True)["says"]


def test_a_gauge_that_stands_while_it_warms_is_called(workshop: Workshop) -> None:
    trial = lit(workshop)
    for temperature in ("106", "109", "113"):
        rewind(trial, 60)
        workshop.read(trial, "0.1 bar", temperature)
    assert "gauge-stuck" in {one["code"] for one in workshop.get(f"/trials/{trial}/bench")["guards"]}


def test_it_is_practised_on_a_simulated_boiler(workshop: Workshop) -> None:
    trial = planned(workshop, boiler(workshop)["id"])
    workshop.post(f"/trials/{trial}/start", {"source": "rig", "speed": 1, "steam": "gauge-low"})
    workshop.step(trial, "ready-to-steam", **BEFORE)
    workshop.post(f"/trials/{trial}/rig", {"action": "fire", "part": 1.0})
    rewind(trial, 900)
    bench = workshop.get(f"/trials/{trial}/bench")
    assert bench["latest"]["temperature"] == pytest.approx(373.15, abs=1)
    workshop.step(trial, "vent-shut")
    rewind(trial, 120)
    bench = workshop.get(f"/trials/{trial}/bench")
    assert bench["latest"]["pressure"] > 0.2e5
    assert bench["rig"]["boiler"]["fire"] == 1.0
    before = bench["rig"]["boiler"]["glass"]
    workshop.post(f"/trials/{trial}/rig", {"action": "feed", "which": 1})
    rewind(trial, 60)
    assert workshop.get(f"/trials/{trial}/bench")["rig"]["boiler"]["glass"] > before
    assert "no fire" not in workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 2}, 409)["says"]
    workshop.step(trial, "dumped")
    assert workshop.get(f"/trials/{trial}/bench")["now"]["says"] == "Fire out."


def test_a_fitting_that_leaks_under_steam_is_not_dry_whatever_was_written(workshop: Workshop) -> None:
    trial = lit(workshop)
    raised(workshop, trial)
    assert steamed(workshop, trial)["steam"]["judged"]["answer"] == "passed"
    bench = workshop.step(trial, "leak", owner="fitting", where="gauge siphon", shows="weep")
    assert bench["steam"]["judged"]["answer"] == "not-passed"
