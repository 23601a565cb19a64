"""Whole plans as a maker would meet them: one of each main kind, checked against the practice they follow."""

import json
import math
from pathlib import Path
from typing import Any

import pytest

from tests.core.sheets import codes
from toadbell.core.answers import DeriveAnswer
from toadbell.core.cli import main
from toadbell.core.derive import derive
from toadbell.core.sheets import read_vessel_sheet


def plan(**sheet: Any) -> DeriveAnswer:
    return derive(read_vessel_sheet({"date": "2026-11-24", **sheet}))


COPPER_BOILER = {
    "kind": "boiler",
    "working_pressure": "5.5 bar",
    "water_temperature": "16 degC",
    "shell": {
        "inside_diameter": "165 mm",
        "length": "360 mm",
        "wall": "3.25 mm",
        "wall_measured": True,
        "material": "copper",
        "joint_efficiency": 0.8,
    },
    "ends": [{"form": "stayed", "wall": "3.25 mm", "pitch": "25 mm"}] * 2,
    "tubes": [{"count": 19, "outside_diameter": "12.7 mm", "wall": "1.2 mm"}],
}


def test_a_new_copper_boiler_is_tested_at_twice_its_working_pressure() -> None:
    answer = plan(**COPPER_BOILER)
    assert answer.basis == "first-200"
    assert answer.test_pressure == pytest.approx(11e5)
    assert answer.ceiling.pressure > answer.test_pressure
    assert answer.stops == []
    assert (
        answer.energy.steam_at_working > 1000 * answer.energy.water
    )  # a passed cold test does not make hot water tame


def test_a_pet_keg_has_no_ceiling_but_the_makers() -> None:
    keg = {
        "kind": "fermenter",
        "working_pressure": "1 bar",
        "shell": {"inside_diameter": "250 mm", "length": "400 mm", "wall": "1 mm", "material": "pet"},
        "ends": [{"form": "hemispherical", "wall": "1 mm"}] * 2,
    }
    unknown = plan(**keg)
    assert unknown.ceiling.pressure is None
    assert unknown.highest_provable is None
    assert {"ceiling-unknown", "creeps", "wall-assumed"} <= codes(unknown.cautions)
    stated = plan(**keg, maker_test_limit="2.5 bar")
    assert stated.ceiling.pressure == pytest.approx(2.5e5)
    assert stated.highest_provable == pytest.approx(2.5e5 / 1.5)
    assert "above-ceiling" in codes(plan(**{**keg, "working_pressure": "2 bar"}, maker_test_limit="2.5 bar").stops)


def test_a_digester_is_tested_by_its_gas_head_and_proves_no_strength() -> None:
    answer = plan(
        kind="digester", working_pressure="22 mbar", medium="air", box={"diameter": "570 mm", "height": "820 mm"}
    )
    assert answer.basis == "gas-head"
    assert answer.test_pressure == pytest.approx(3300)
    assert "no-strength-proof" in codes(answer.cautions)
    assert "air-energy" not in codes(answer.stops)


def test_a_sheet_tank_is_held_at_its_tightness_pressure_whatever_is_wanted() -> None:
    answer = plan(kind="sheet-tank", working_pressure="0.5 bar", medium="air", volume="9 L")
    assert answer.test_pressure == pytest.approx(15_000)
    assert plan(
        kind="sheet-tank", working_pressure="0.05 bar", medium="air", volume="9 L"
    ).test_pressure == pytest.approx(5_000)


def test_a_glass_fibre_chamber_is_raised_slowly_and_far_off() -> None:
    answer = plan(
        kind="chamber",
        working_pressure="28 bar",
        factor=1.5,
        volume="0.96 L",
        shell={"inside_diameter": "54 mm", "length": "420 mm", "wall": "2.4 mm", "material": "glass-fibre"},
        maker_test_limit="60 bar",
    )
    assert answer.test_pressure == pytest.approx(42e5)
    assert answer.stages[0].target == pytest.approx(0.15 * 42e5)
    assert [stage.zone for stage in answer.stages][1:] == ["line"] * (len(answer.stages) - 1)


def test_a_closure_is_thrown_with_the_force_on_its_whole_bore() -> None:
    answer = plan(**{**COPPER_BOILER, "ends": [{"form": "flat", "wall": "12 mm"}] * 2, "tubes": []})
    closure = next(f for f in answer.end_forces if f.closure)
    assert closure.force == pytest.approx(11e5 * math.pi * 0.165**2 / 4)
    assert closure.force / 9.80665 > 2000  # two tonnes on a saucer


def test_a_loop_is_raised_once_with_a_pause_and_held_ten_minutes() -> None:
    answer = plan(
        kind="pipework",
        working_pressure="3 bar",
        shell={"inside_diameter": "20 mm", "length": "31 m", "wall": "1 mm", "material": "copper"},
    )
    assert answer.basis == "piping-150"
    assert [stage.name for stage in answer.stages] == ["look", "wanted", "test"]
    assert answer.hold.minimum == 600


def test_under_air_the_code_asks_for_a_reason_a_shield_and_a_stand_off() -> None:
    bottle = {
        "kind": "receiver",
        "working_pressure": "8 bar",
        "medium": "air",
        "basis": "air-110",
        "volume": "24 L",
        "shell": {
            "inside_diameter": "230 mm",
            "length": "500 mm",
            "wall": "2.6 mm",
            "wall_measured": True,
            "material": "carbon-steel",
        },
        "ends": [{"form": "ellipsoidal", "wall": "2.6 mm"}] * 2,
    }
    assert "air-energy" in codes(plan(**bottle).stops)
    without_shield = plan(**bottle, reason="lined, must not get wet", stand_off="40 m")
    assert "“Vessel code, under air” needs a shield." in next(
        stop.says for stop in without_shield.stops if stop.code == "air-energy"
    )
    assert "air-energy" in codes(plan(**bottle, reason="lined, must not get wet", shield=True, stand_off="2 m").stops)
    answered = plan(**bottle, reason="lined, must not get wet", shield=True, stand_off="40 m")
    assert "air-energy" not in codes(answered.stops)
    assert answered.hold.look_pressure == pytest.approx(8e5)
    assert answered.pump.volume == pytest.approx(24e-3 * 8.8e5 / 101_325)  # free air, by Boyle
    assert answered.pressure_per_kelvin == pytest.approx((8.8e5 + 101_325) / 293.15)


@pytest.mark.parametrize("kind", ["cooler", "enclosure", "cask"])
def test_tightness_kinds_never_go_above_what_is_wanted(kind: str) -> None:
    answer = plan(kind=kind, working_pressure="5 mbar", medium="air", volume="5 L")
    assert answer.basis == "tight"
    assert answer.test_pressure <= 500 * (1 + 1e-9)
    assert answer.factor is None
    assert answer.highest_provable is None


def test_a_whole_plan_goes_through_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "boiler.json").write_text(json.dumps(COPPER_BOILER))
    assert main(["derive", str(tmp_path / "boiler.json"), "--json"]) == 0
    printed = json.loads(capsys.readouterr().out)
    again = plan(**COPPER_BOILER).model_dump(mode="json")
    for key in ("test_pressure", "ceiling", "allowable", "parts", "stages", "energy", "water", "hold"):
        assert printed[key] == again[key], key
