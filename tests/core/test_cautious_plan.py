"""A plan is at least as cautious as the practice it cites, whatever was entered, and less said never means safer."""

import json
from pathlib import Path
from typing import Any, get_args

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.sheets import codes, derived, receiver, shell
from toadbell.core.answers import CautionCode, StopCode
from toadbell.core.cli import main
from toadbell.core.derive import derive
from toadbell.core.kinds import KINDS
from toadbell.core.physics.materials import MATERIALS, design_stress_at, figures_of
from toadbell.core.plan import codes as told
from toadbell.core.plan import energy
from toadbell.core.plan.bases import BASES
from toadbell.core.sheets import SheetError, read_vessel_sheet
from toadbell.core.vessel import parts, strength
from tools import cautions as cautions_page

BOILER = {
    "kind": "boiler",
    "working_pressure": "5.5 bar",
    "basis": "first-200",
    "plate_pressure": None,
    "shell": {
        "inside_diameter": "165 mm",
        "length": "360 mm",
        "wall": "3.25 mm",
        "wall_measured": True,
        "material": "copper",
        "joint_efficiency": 0.8,
    },
    "ends": [{"form": "stayed", "wall": "3.25 mm", "pitch": "40 mm"}] * 2,
}


# -- working temperature --------------------------------------------------------------------------------


def test_a_boiler_may_work_at_what_its_metal_bears_at_the_heat_of_its_steam() -> None:
    answer = derived(**BOILER)
    assert answer.working_temperature == pytest.approx(273.15 + 162.0, abs=0.5)  # steam tables: 5.5 bar gauge
    cold = derived(**{**BOILER, "kind": "receiver", "basis": "proof-150"}).allowable.pressure
    at_162 = design_stress_at("copper", answer.working_temperature) / design_stress_at("copper", 293.15)
    assert answer.allowable.pressure == pytest.approx(cold * at_162)
    assert any(line.figure == "working_temperature" and "T_sat" in line.formula for line in answer.lines)


def test_copper_at_187_degrees_is_not_allowed_its_cold_stress() -> None:
    hot = derived(shell=shell(material="copper"), plate_pressure=None, design_temperature="187 degC").allowable.pressure
    cold = derived(shell=shell(material="copper"), plate_pressure=None).allowable.pressure
    assert hot / cold == pytest.approx(25.04 / 41.4, rel=0.01)  # between 27.6 MPa at 177 °C and 20.7 at 204


def test_outside_the_table_the_strength_is_not_known_and_said_so() -> None:
    answer = derived(shell=shell(material="copper"), design_temperature="300 degC")
    assert not answer.allowable.known
    assert "hot-strength-unknown" in codes(answer.cautions)


@given(st.sampled_from(sorted(MATERIALS)), st.floats(0, 400), st.floats(0, 400))
def test_more_heat_never_raises_what_a_vessel_may_work_at(material: str, one: float, other: float) -> None:
    cool, hot = sorted((one, other))
    allowed = [
        derived(shell=shell(material=material), plate_pressure=None, design_temperature=f"{t} degC").allowable
        for t in (cool, hot)
    ]
    if allowed[1].pressure is not None and allowed[0].pressure is not None:
        assert allowed[1].pressure <= allowed[0].pressure * (1 + 1e-9)
    assert allowed[0].known or not allowed[1].known


def test_steel_under_the_european_rule_takes_the_european_ratio() -> None:
    by_code, european = (
        derived(basis=basis, design_temperature="250 degC").stress_ratio for basis in ("code-130", "code-143")
    )
    assert by_code == 1
    assert european == pytest.approx(150 / 111.3, rel=1e-3)  # EN 10028-2: Rm/2.4 cold, Rp0.2/1.5 at 250 °C


# -- plate, relief, band --------------------------------------------------------------------------------


@pytest.mark.parametrize("base", ["wanted", "plate", "relief"])
def test_more_than_the_plate_is_a_stop_whatever_is_taken_as_the_base(base: str) -> None:
    assert "above-plate" in codes(derived(working_pressure="15 bar", relief_set="15 bar", base=base).stops)


def test_a_relief_setting_is_offered_for_proof_only_where_plate_and_walls_let_it() -> None:
    def offered(**changes: Any) -> str:
        return next(c.says for c in derived(**changes).cautions if c.code == "relief-above-wanted")

    assert "or prove that pressure" in offered(relief_set="9 bar")
    for refused in (
        {"relief_set": "14.5 bar"},
        {"relief_set": "12.5 bar"},
        {"relief_set": "9 bar", "plate_pressure": None, "ends": None},
    ):
        assert "prove that pressure" not in offered(**refused)


def test_a_relief_trial_is_held_against_walls_and_plate() -> None:
    assert "above-allowable" in codes(derived(basis="relief", relief_set="12.5 bar").stops)
    assert "above-plate" in codes(derived(basis="relief", relief_set="14.5 bar").stops)


def test_the_band_ends_at_the_ceiling_as_the_gauge_reads_it() -> None:
    answer = derived(maker_test_limit="13 bar")
    head = answer.gauge_target - answer.test_pressure
    weight = 999 * 9.80665 * 0.366
    assert answer.target_band[1] == pytest.approx(13e5 - weight + head, rel=1e-4)
    assert {g.code: g.limit for g in answer.guards}["ceiling"] == pytest.approx(answer.target_band[1])
    assert answer.target_band[1] < 1.05 * answer.target_band[0]
    assert "band-narrow" in codes(derived(maker_test_limit="12.85 bar").cautions)


# -- air --------------------------------------------------------------------------------

LOW = {
    "kind": "digester",
    "medium": "air",
    "basis": "gas-head",
    "working_pressure": "30 mbar",
    "plate_pressure": None,
    "shell": None,
    "ends": None,
    "gauge": {"range": "100 mbar"},
    "trapped_air": None,
}


def test_a_cubic_metre_at_45_millibar_is_a_hundred_joules_and_no_stop() -> None:
    drum = derived(**LOW, volume="1000 L")
    assert drum.energy.available == pytest.approx(71, rel=0.03)  # P²V/(2 k P_atm)
    assert "air-energy" not in codes(drum.stops)
    assert "air-energy" in codes(derived(**{**LOW, "working_pressure": "0.2 bar"}, volume="1000 L").stops)


def test_everybody_stays_thirty_metres_from_a_test_under_air_however_small() -> None:
    small = {
        "kind": "receiver",
        "medium": "air",
        "basis": "air-110",
        "reason": "a lining",
        "shield": True,
        "working_pressure": "2 bar",
    }
    near, far = (derived(**small, stand_off=f"{away} m") for away in (10, 31))
    assert near.energy.stand_off == 30  # ASME PCC-2, Article 501
    assert "30 m" in next(s.says for s in near.stops if s.code == "air-energy")
    assert "air-energy" not in codes(far.stops)
    assert energy.stand_off_under_air(200e6) == pytest.approx(max(60, energy.stand_off(200 / 4.27)))


def test_no_plastic_under_air_but_within_its_makers_limit_and_never_pipes() -> None:
    keg = {
        "kind": "fermenter",
        "medium": "air",
        "basis": "tight",
        "working_pressure": "1 bar",
        "shell": shell(material="pet"),
        "volume": "1 L",
    }
    assert "plastic-under-air" in codes(derived(**keg).stops)
    rated = derived(**keg, maker_test_limit="2 bar")
    assert "plastic-under-air" not in codes(rated.stops)
    assert "plastic-under-air" in codes(rated.cautions)
    assert "plastic-under-air" in codes(derived(**{**keg, "kind": "pipework"}, maker_test_limit="2 bar").stops)


def test_air_that_nobody_spoke_of_is_not_known_and_not_nought() -> None:
    silent = derived(trapped_air=None)
    assert silent.energy.trapped_air is None
    assert derived(trapped_air="0 L").energy.trapped_air == 0
    assert "air-unstated" in codes(silent.cautions)


def test_a_plastic_box_under_air_is_stopped_like_a_plastic_shell() -> None:
    box = {"length": "0.3 m", "width": "0.2 m", "height": "0.2 m", "wall": "4 mm", "material": "hdpe"}
    tank = {
        "kind": "sheet-tank",
        "medium": "air",
        "basis": "tight",
        "working_pressure": "0.15 bar",
        "plate_pressure": None,
        "shell": None,
        "ends": None,
    }
    assert "plastic-under-air" in codes(derived(**tank, box=box).stops)


# -- ends and forms --------------------------------------------------------------------------------


def test_the_knuckle_of_a_thin_dished_end_buckles_before_it_yields() -> None:
    wide = {
        "shell": shell(inside_diameter="2 m", length="2 m", wall="6 mm"),
        "ends": [{"form": "torispherical", "wall": "3 mm"}] * 2,
        "plate_pressure": None,
    }
    end = next(part for part in derived(**wide).parts if part.name == "torispherical end 1")
    # 111 × 184.5 MPa (3/(0.75 × 2000 + 0.2 × 2000))^1.5 (120/2000)^0.825
    assert end.test_limit == pytest.approx(111 * 184.5e6 * (3 / 1900) ** 1.5 * 0.06**0.825)
    assert end.test_limit < strength.torispherical_end(184.5e6, 1, 0.003, 2.0, 0.12) / 1.5


def test_one_end_of_two_leaves_the_ceiling_not_known() -> None:
    both, one = derived(), derived(ends=[{"form": "ellipsoidal", "wall": "3.5 mm"}])
    assert both.ceiling.known
    assert both.allowable.known
    assert not one.ceiling.known
    assert not one.allowable.known
    assert "One end of two" in next(c.says for c in one.cautions if c.code == "ends-unknown")


def test_three_bar_in_a_box_is_a_stop_with_its_wall_and_without() -> None:
    box = {"length": "500 mm", "width": "400 mm", "height": "300 mm"}
    tank = {
        "kind": "sheet-tank",
        "basis": "proof-150",
        "working_pressure": "3 bar",
        "plate_pressure": None,
        "shell": None,
        "ends": None,
        "medium": "water",
    }
    assert "flat-sides" in codes(derived(**tank, box=box).stops)
    walled = derived(**tank, box={**box, "wall": "1.5 mm", "material": "carbon-steel"})
    assert {"above-ceiling", "above-allowable"} <= codes(walled.stops)
    floor = next(part for part in walled.parts if part.name == "floor and lid")
    assert floor.test_limit == pytest.approx(184.5e6 * (1.5 / 400) ** 2 / (0.33 * (3.4 - 2.4 * 0.8)))  # UG-34(c)(3)


def test_a_thick_copper_flue_is_reckoned_between_elastic_and_plastic_collapse() -> None:
    thick = strength.tube_outside(41e6, 1.0, 0.003, 0.06, 117e9, 0.34)
    assert thick < 2 * 41e6 * 0.003 / 0.06  # the membrane alone
    assert strength.tube_outside(41e6, 1.0, 0.0004, 0.06, 117e9, 0.34) == pytest.approx(
        strength.tube_collapse(117e9, 0.34, 0.0004, 0.06), rel=0.35
    )


def test_aluminium_is_soft_beside_a_weld_unless_nothing_is_welded() -> None:
    assert figures_of("aluminium-6061").yield_strength == 105e6
    welded, plain = (derived(shell=shell(material="aluminium-6061", **said)) for said in ({}, {"welded": False}))
    assert welded.parts[0].allowable == pytest.approx(plain.parts[0].allowable * 41 / 83)
    assert welded.ceiling.pressure < plain.ceiling.pressure


# -- what is refused --------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"working_pressure": "1000000 bar"}, "working_pressure"),
        ({"kind": "boiler", "working_pressure": "365 bar"}, "working_pressure"),
        ({"trapped_air": "120 L", "volume": "97 L"}, "trapped_air"),
        ({"relief_set": "850000 psi"}, "relief_set"),
    ],
)
def test_what_cannot_be_ends_in_one_line_that_names_the_field(
    changes: dict, field: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "sheet.json"
    path.write_text(json.dumps(receiver(**changes)))
    assert main(["derive", str(path)]) == 2
    error = capsys.readouterr().err
    assert error.startswith(f"toadbell: {field}")
    assert error.count("\n") == 1


# -- properties --------------------------------------------------------------------------------

DOES = (
    "ask",
    "measure",
    "fit",
    "take",
    "prove",
    "use",
    "give",
    "say",
    "warm",
    "let",
    "set",
    "end",
    "plan",
    "scrap",
    "count",
    "find",
    "keep",
    "read",
    "vent",
    "tilt",
    "roll",
    "suck",
    "put",
    "look",
    "compare",
    "fill",
    "blank",
    "lay",
    "add",
    "raise",
    "allow",
    "stay",
    "drain",
    "hold",
    "state",
    "do not",
)

lengths = st.floats(0.01, 3).map(lambda m: f"{m * 1000:.4g} mm")
walls = st.floats(0.2, 30).map(lambda mm: f"{mm:.4g} mm")
ends = st.fixed_dictionaries(
    {"form": st.sampled_from(["ellipsoidal", "hemispherical", "torispherical", "flat"]), "wall": walls}
)
shells = st.fixed_dictionaries(
    {"inside_diameter": lengths, "length": lengths, "wall": walls},
    optional={
        "material": st.sampled_from(sorted(MATERIALS)),
        "wall_measured": st.booleans(),
        "form": st.sampled_from(["cylinder", "sphere"]),
    },
)
bars = st.floats(0.01, 400).map(lambda bar: f"{bar:.4g} bar")
sheets = st.fixed_dictionaries(
    {"kind": st.sampled_from(sorted(KINDS)), "working_pressure": bars},
    optional={
        "shell": shells,
        "ends": st.lists(ends, max_size=2),
        "medium": st.sampled_from(["water", "air"]),
        "basis": st.sampled_from(sorted(BASES)),
        "plate_pressure": bars,
        "relief_set": bars,
        "volume": st.floats(0.1, 2000).map(lambda v: f"{v:.4g} L"),
        "base": st.sampled_from(["wanted", "relief"]),
        "trapped_air": st.floats(0, 50).map(lambda v: f"{v:.3g} L"),
        "water_temperature": st.floats(0.5, 99).map(lambda t: f"{t:.3g} degC"),
        "design_temperature": st.floats(0, 500).map(lambda t: f"{t:.3g} degC"),
        "factor": st.floats(1, 4),
        "maker_test_limit": bars,
        "gauge": st.fixed_dictionaries({"range": bars}, optional={"division": bars, "class": st.floats(0.1, 5)}),
        "position": st.sampled_from(["lying", "standing"]),
        "minimum_temperature": st.floats(-40, 20).map(lambda t: f"{t:.3g} degC"),
    },
)


def answer_of(sheet: dict[str, Any]) -> Any:
    """What the core makes of it; None where it is refused in words, and nothing else is raised."""
    try:
        return derive(read_vessel_sheet(sheet))
    except SheetError:
        return None


@settings(max_examples=150, deadline=None)
@given(sheets)
def test_whatever_is_entered_nothing_is_raised_but_a_refusal_and_each_sentence_says_what_to_do(
    sheet: dict[str, Any],
) -> None:
    answer = answer_of(sheet)
    for one in [*answer.stops, *answer.cautions] if answer else []:
        assert any(word in one.says.lower() for word in DOES), one.says


@settings(max_examples=100, deadline=None)
@given(sheets, st.sampled_from(["volume", "shell.material", "ends", "trapped_air"]))
def test_leaving_a_fact_out_never_takes_a_stop_away_that_it_called_up(sheet: dict[str, Any], fact: str) -> None:
    """Nobody gets past air's energy, plastic under air or an unknown ceiling by saying less."""
    kept = {"air-energy", "plastic-under-air", "strength-under-air", "too-hot", "factor-too-low"}
    less = {key: value for key, value in sheet.items() if key != fact}
    if fact == "shell.material" and "shell" in sheet:
        less["shell"] = {key: value for key, value in sheet["shell"].items() if key != "material"}
    before, after = answer_of(sheet), answer_of(less)
    if before is None or after is None or (fact == "volume" and after.volume is not None):
        return
    assert codes(before.stops) & kept <= codes(after.stops)
    assert before.ceiling.known or not after.ceiling.known


def test_every_code_is_told_on_the_page_of_cautions_and_the_page_is_fresh() -> None:
    assert set(told.STOPS) == set(get_args(StopCode))
    assert set(told.CAUTIONS) == set(get_args(CautionCode))
    assert cautions_page.PAGE.read_text() == cautions_page.page()


def test_saturation_is_that_of_the_steam_tables() -> None:
    assert parts.saturation(0.0) == pytest.approx(373.12, abs=0.05)
    assert parts.saturation(9e5) == pytest.approx(453.15, abs=0.4)
