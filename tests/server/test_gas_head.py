"""A digester held for a night: its column, the barometer beside it, a drum's level, and what its ledger says after."""

from pathlib import Path
from typing import Any

import pytest

from tests.server.conftest import Workshop, rewind
from toadbell.core.judge.hold import judge
from toadbell.core.judge.log import read_log
from toadbell.core.sheets import read_hold_sheet
from toadbell.trials.judge.hold import hold_sheet
from toadbell.trials.models import Trial

DIGESTER: dict[str, Any] = {
    "kind": "digester",
    "working_pressure": "22 cm water",
    "volume": "600 L",
    "relief_set": "36 cm water",
    "fittings": [
        {"name": name, "fitted": fitted, "for_test": test, "thread": "½ BSP"}
        for name, fitted, test in (
            ("Gas cock", "outlet", "gauge"),
            ("Feed pipe", "feed", "pump"),
            ("Overflow", "drain", "blank"),
        )
    ],
}
KIT: dict[str, Any] = {
    "water_temperature": "15 degC",
    "gauge": {"range": "100 mbar", "division": "1 mbar", "resolution": "0.1 mbar", "calibrated": "2026-06-01"},
    "pump": {"stroke": "0.5 L", "maximum": "0.1 bar"},
    "thermometer": {"resolution": "0.1 degC"},
    "holder": {"by": "container", "makes": "250 L/day", "fed": False},
    "barometer": True,
    "hold": {"minimum": "10 h", "every": "30 min"},
    "acceptance": {"max_leak": "25 L/day"},
    "pause": "0 s",
}
TARGET = 1.5 * 0.22 * 9806.65


def begun(workshop: Workshop, **kit: Any) -> tuple[str, str]:
    """A digester hung up, its trial planned, frozen and raised to its target; the ids of both."""
    vessel = workshop.post("/vessels", {"name": "Yard digester", "sheet": DIGESTER})
    plan = workshop.post(f"/vessels/{vessel['id']}/trials")
    sheet = {**plan["sheet"], **KIT, **kit}
    plan = workshop.put(f"/trials/{plan['id']}/plan", {"sheet": sheet, "version": plan["version"]})
    assert plan["answer"]["procedure"] == "gas-head"
    workshop.post(f"/trials/{plan['id']}/freeze")
    workshop.post(f"/trials/{plan['id']}/start", {"source": "dial"})
    workshop.step(plan["id"], "vent-shut")
    for stage in plan["answer"]["stages"]:
        workshop.read(plan["id"], f"{stage['target'] / 100 + 0.2:.2f} mbar", "15.0")
        workshop.step(plan["id"], "stage-reached")
    return vessel["id"], plan["id"]


def beside(workshop: Workshop, trial: str, what: str, text: str, status: int | tuple[int, ...] = 201) -> Any:
    return workshop.step(trial, "observed", status, what=what, place="1", text=text)


def a_night(workshop: Workshop, trial: str, loss: float = 0.0, *, drum: bool = False) -> None:
    """Ten hours read each half hour: colder by a degree, the barometer down 6 hPa, so many L a day lost; soaped."""
    workshop.step(trial, "shut-in")
    for half in range(21):
        part = half / 20
        warm, outer = 15 - part, 1013 - 6 * part
        lost = loss * 10 / 24 * part / 600 * 1013
        head = TARGET / 100 + 0.2 - part * (1046.6 / 288.15 + 1.1) + 6 * part - (0 if drum else lost)
        workshop.read(trial, f"{TARGET / 100 + 0.2 if drum else head:.2f} mbar", f"{warm:.1f}")
        beside(workshop, trial, "barometer", f"{outer:.1f} hPa")
        if drum:
            beside(workshop, trial, "gas-level", f"{400 - 1000 * loss * 10 / 24 * part / 1000 / 0.5:.0f} mm")
        rewind(trial, 1800)
    workshop.step(trial, "hold-ended", reason="")
    workshop.step(trial, "came-down")
    for section in workshop.get(f"/trials/{trial}/bench")["sections"]:
        workshop.step(trial, "observed", what="soap", place=section["id"], word="dry")
    for step in ("looked", "released"):
        workshop.step(trial, step)


def test_a_digester_of_a_night_is_told_by_the_day_and_stands_in_its_ledger(workshop: Workshop, tmp_path: Path) -> None:
    vessel, trial = begun(workshop)
    now = workshop.get(f"/trials/{trial}/bench")["now"]
    assert now["says"] == "Let it settle for 45 min, then shut it in."
    a_night(workshop, trial)
    judged = workshop.post(f"/trials/{trial}/judge")
    assert judged["verdict"]["verdict"] == "tight"
    assert "L/day" in judged["verdict"]["says"]
    assert judged["verdict"]["of_make"] < 0.1
    assert judged["accepted"] == "at most 25 L/day"
    state = {one["name"]: one["state"] for one in judged["advice"]["evidence"]}
    assert state["Reached"] == "met", "by night a gas head goes down, and is over what is wanted all the same"
    workshop.happened(vessel, "relief tried", "lifts at 21.5 mbar")
    workshop.post(f"/trials/{trial}/decision", {"fitness": "limited", "pressure": "22 mbar", "reason": "held"})
    line = next(one for one in workshop.get(f"/vessels/{vessel}/ledger")["lines"] if one["code"] == "gas-head")
    assert line["state"] == "met"
    log = tmp_path / "hold.csv"
    log.write_bytes(workshop.client.get(f"/api/trials/{trial}/hold.csv").content)
    assert "barometer [hPa]" in log.read_text().splitlines()[0]
    again = judge(read_log(log), read_hold_sheet(hold_sheet(Trial.objects.get(pk=trial))))
    assert again.verdict == "tight"
    assert again.leak.high == pytest.approx(judged["verdict"]["leak"]["high"], rel=0.1)


def test_what_a_falling_barometer_hides_is_told(workshop: Workshop) -> None:
    """The gauge hardly fell: the outer air did, and the gas went."""
    _, trial = begun(workshop, acceptance={"max_leak": "10 L/day"})
    a_night(workshop, trial, loss=30.0)
    verdict = workshop.post(f"/trials/{trial}/judge")["verdict"]
    assert verdict["verdict"] == "leaking"
    assert verdict["leak"]["low"] < 30e-3 / 86400 < verdict["leak"]["high"]


def test_a_drum_is_judged_by_its_level(workshop: Workshop) -> None:
    kit = {
        "holder": {"by": "drum", "wide": "1 m", "long": "0.5 m", "fed": False},
        "acceptance": {"max_leak": "10 L/day"},
    }
    _, trial = begun(workshop, **kit)
    assert workshop.get(f"/trials/{trial}/bench")["gas_by_level"]
    a_night(workshop, trial, loss=100.0, drum=True)
    verdict = workshop.post(f"/trials/{trial}/judge")["verdict"]
    assert verdict["verdict"] == "leaking"
    assert verdict["seen_says"].startswith("The level fell 8")
    told = [entry["says"] for entry in workshop.get(f"/trials/{trial}/bench")["log"]]
    assert any("level 400 mm" in line for line in told)


def test_a_drum_whose_level_nobody_read_is_not_judged(workshop: Workshop) -> None:
    kit = {"holder": {"by": "drum", "across": "800 mm", "fed": False}}
    _, trial = begun(workshop, **kit)
    a_night(workshop, trial)
    assert "level" in workshop.post(f"/trials/{trial}/judge", status=(400, 409, 422))["says"]


@pytest.mark.parametrize(
    ("what", "text", "says"),
    [
        ("barometer", "1013", "between"),
        ("barometer", "10 hPa", "between"),
        ("barometer", "1 m", "length"),
        ("outside", "150 degC", "check the unit"),
        ("gas-level", "", "Say how much"),
    ],
)
def test_what_cannot_be_is_refused_and_nothing_is_lost(workshop: Workshop, what: str, text: str, says: str) -> None:
    _, trial = begun(workshop)
    assert says in beside(workshop, trial, what, text, status=(409, 422))["says"]
    beside(workshop, trial, "barometer", "1013.2 hPa")
    assert workshop.get(f"/trials/{trial}/bench")["observed"][-1]["value"] == pytest.approx(101_320)


def test_a_barometer_read_once_or_not_to_the_end_does_not_count(workshop: Workshop) -> None:
    _, trial = begun(workshop)
    workshop.step(trial, "shut-in")
    beside(workshop, trial, "barometer", "1013 hPa")
    for _ in range(8):
        workshop.read(trial, f"{TARGET / 100:.2f} mbar", "15.0")
        rewind(trial, 3600)
    workshop.step(trial, "hold-ended", reason="the night was over")
    verdict = workshop.post(f"/trials/{trial}/judge")["verdict"]
    assert any("barometer" in note for note in verdict["notes"])


def test_by_day_it_may_rise_and_is_no_overshoot_of_the_pump(workshop: Workshop) -> None:
    _, trial = begun(workshop)
    workshop.step(trial, "shut-in")
    rewind(trial, 7200)
    workshop.read(trial, f"{1.15 * TARGET / 100:.2f} mbar", "17.0")
    assert not workshop.get(f"/trials/{trial}/bench")["guards"]
    rewind(trial, 600)
    workshop.read(trial, f"{1.3 * TARGET / 100:.2f} mbar", "19.0")
    assert "overshoot" in {one["code"] for one in workshop.get(f"/trials/{trial}/bench")["guards"]}


def test_a_simulated_night_shows_its_barometer_and_a_drum_its_level(workshop: Workshop) -> None:
    vessel = workshop.post("/vessels", {"name": "Yard digester", "sheet": DIGESTER})
    plan = workshop.post(f"/vessels/{vessel['id']}/trials")
    sheet = {**plan["sheet"], **KIT, "holder": {"by": "drum", "across": "800 mm", "fed": False}}
    workshop.put(f"/trials/{plan['id']}/plan", {"sheet": sheet, "version": plan["version"]})
    trial = plan["id"]
    workshop.post(f"/trials/{trial}/freeze")
    workshop.post(f"/trials/{trial}/start", {"source": "rig"})
    workshop.step(trial, "vent-shut")
    workshop.post(f"/trials/{trial}/rig", {"action": "pump", "strokes": 60})
    rewind(trial, 300)
    rig = workshop.get(f"/trials/{trial}/bench")["rig"]
    assert 95_000 < rig["barometer"] < 107_000
    assert rig["level"] > 0, "thirty litres lift it, at the pressure of its weight"
    assert workshop.get(f"/trials/{trial}/bench")["latest"]["pressure"] <= TARGET + 50
