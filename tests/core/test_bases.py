"""Schools of practice side by side, the target, and what the plan is checked against."""

import json
import re
from typing import Any, get_args

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.sheets import codes, derived, derived_for, receiver, shell
from toadbell.core.answers import CautionCode, StopCode
from toadbell.core.derive import derive
from toadbell.core.kinds import KINDS
from toadbell.core.physics.materials import MATERIALS
from toadbell.core.plan.bases import BASES
from toadbell.core.sheets import SheetError, read_vessel_sheet


def bar(pascal: float | None) -> float:
    assert pascal is not None
    return pascal / 1e5


@pytest.mark.parametrize(
    ("basis", "factor", "test"),
    [
        ("proof-150", None, 12.75),
        ("code-130", None, 11.05),
        ("code-143", None, 12.155),
        ("own", 1.4, 11.9),
    ],
)
def test_the_receivers_bases(basis: str, factor: float | None, test: float) -> None:
    assert bar(derived(basis=basis, factor=factor).test_pressure) == pytest.approx(test)


@pytest.mark.parametrize(
    ("kind", "basis"),
    [
        ("boiler", "first-200"),
        ("receiver", "proof-150"),
        ("fermenter", "proof-150"),
        ("chamber", "chamber"),
        ("pipework", "piping-150"),
    ],
)
def test_a_kind_brings_its_basis(kind: str, basis: str) -> None:
    answer = derived(kind=kind, basis=None)
    assert answer.basis == basis
    assert [b.id for b in answer.bases if b.default] == [basis]


def test_the_plate_may_be_proved_instead() -> None:
    assert bar(derived(base="plate").test_pressure) == pytest.approx(21.0)


def test_heat_in_service_raises_the_cold_test_of_the_codes() -> None:
    cold = {"basis": "code-130", "shell": shell(material="copper"), "plate_pressure": None}
    hot = derived(**cold, design_temperature="160 degC")
    assert hot.test_pressure > derived(**cold).test_pressure * 1.2


def test_a_basis_whose_strength_table_does_not_reach_is_shown_as_not_applying() -> None:
    answer = derived(shell=shell(material="copper"), design_temperature="300 degC")
    code = next(b for b in answer.bases if b.id == "code-130")
    assert not code.applies
    assert code.test_pressure is None
    assert "table" in code.why


def test_every_basis_says_why_and_by_whom() -> None:
    for basis in derived().bases:
        assert basis.why.endswith(".")
        assert basis.source
        assert basis.name


def test_the_gauge_below_the_top_reads_more_than_the_top_sees() -> None:
    answer = derived()
    head = 999 * 9.80665 * 0.4
    assert answer.gauge_target == pytest.approx(answer.test_pressure + head, rel=1e-4)
    assert answer.target_band == pytest.approx([answer.gauge_target, 1.05 * answer.gauge_target])


def test_the_highest_provable_pressure_is_the_ceiling_over_the_factor() -> None:
    answer = derived()
    assert answer.highest_provable == pytest.approx(answer.ceiling.pressure / 1.5)


def test_a_test_above_the_ceiling_is_a_stop_that_offers_what_can_be_proven() -> None:
    answer = derived(working_pressure="30 bar", plate_pressure="40 bar")
    stop = next(s for s in answer.stops if s.code == "above-ceiling")
    assert stop.says.endswith(
        "The highest wanted pressure that can be proven is 21.2 bar, and plate and walls allow 11.8 bar. Ask for no "
        "more."
    )


@given(
    st.floats(1, 60),
    st.sampled_from(["proof-150", "code-130", "code-143", "own"]),
    st.sampled_from(["bar", "psi", "kPa"]),
)
def test_what_is_offered_instead_is_not_refused_again(wanted: float, basis: str, unit: str) -> None:
    flat = receiver(
        ends=[{"form": "flat", "wall": "9 mm"}] * 2,
        position="standing",
        basis=basis,
        factor=1.4,
        working_pressure=f"{wanted} bar",
    )
    offer = derived_for(read_vessel_sheet(flat), unit).offer
    assert offer
    taken = derive(read_vessel_sheet({**flat, "working_pressure": f"{offer} Pa"}))
    assert not {"above-ceiling", "above-plate", "above-allowable"} & codes(taken.stops)


def test_nothing_is_offered_where_the_ceiling_is_not_known_or_the_plate_is_proved() -> None:
    assert derived(shell=shell(wall=None)).offer is None
    plate = derived(base="plate", plate_pressure="40 bar")
    assert plate.offer is None
    assert "Prove a lower pressure." in next(s.says for s in plate.stops if s.code == "above-ceiling")


def test_the_lowest_point_counts_for_the_ceiling() -> None:
    limit = derived().ceiling.pressure
    just_under = f"{(limit - 1000) / 1.5} Pa"
    assert "above-ceiling" in codes(derived(working_pressure=just_under, plate_pressure=None).stops)
    lower = f"{(limit - 6000) / 1.5} Pa"
    assert "above-ceiling" not in codes(derived(working_pressure=lower, plate_pressure=None).stops)


@given(st.floats(1, 60), st.sampled_from(["proof-150", "code-130", "code-143"]))
def test_a_test_never_passes_the_ceiling_without_a_stop(wanted: float, basis: str) -> None:
    answer = derived(working_pressure=f"{wanted} bar", basis=basis, plate_pressure=None)
    assert answer.test_pressure <= answer.ceiling.pressure or "above-ceiling" in codes(answer.stops)


@given(st.floats(10, 900))
def test_the_units_it_is_written_in_change_nothing(psi: float) -> None:
    one = derived(working_pressure=f"{psi} psi", plate_pressure=None)
    other = derived(working_pressure=f"{psi * 6.894757293168} kPa", plate_pressure=None)
    assert one.test_pressure == pytest.approx(other.test_pressure)
    assert [s.code for s in one.stops] == [s.code for s in other.stops]


STOPS: list[tuple[str, dict]] = [
    ("above-plate", {"working_pressure": "15 bar"}),
    ("above-allowable", {"working_pressure": "12.5 bar"}),
    ("gauge-too-small", {"gauge": {"range": "16 bar"}}),
    ("fitting-too-weak", {"fittings": [{"name": "hose", "rating": "13 bar"}]}),
    ("too-cold", {"water_temperature": "5 degC"}),
    ("too-cold", {"water_temperature": "14 degC", "minimum_temperature": "0 degC"}),
    ("past-retirement", {"retire": 2024}),
    ("baseline-unknown", {"basis": "baseline"}),
    ("air-energy", {"medium": "air", "basis": "tight"}),
    ("above-ceiling", {"working_pressure": "24 bar", "plate_pressure": None}),
    (
        "above-allowable",
        {"working_pressure": "11.5 bar", "shell": shell(wall_measured=False, wall_readings=["3.1 mm"])},
    ),
    ("above-plate", {"basis": "relief", "relief_set": "15 bar"}),
    ("relief-class", {"basis": "relief", "relief_set": "8.5 bar"}),
    ("relief-class", {"basis": "relief", "relief_set": "8.5 bar", "gauge": None}),
    ("strength-under-air", {"medium": "air"}),
    ("stage-above-test", {"stages": [{"target": "3 bar"}, {"target": "15 bar"}]}),
    ("too-hot", {"water_temperature": "60 degC"}),
    ("plastic-under-air", {"medium": "air", "basis": "tight", "shell": shell(material="hdpe")}),
    ("plastic-under-air", {"medium": "air", "basis": "tight", "shell": shell(material=None)}),
    ("air-energy", {"medium": "air", "basis": "tight", "shell": None, "ends": None}),
    ("too-cold", {"medium": "air", "basis": "tight", "minimum_temperature": "5 degC"}),
    ("factor-too-low", {"basis": "own", "factor": 1.05}),
    (
        "flat-sides",
        {
            "shell": None,
            "ends": None,
            "box": {"length": "0.4 m", "width": "0.3 m", "height": "0.3 m"},
            "working_pressure": "2 bar",
        },
    ),
    ("acceptance-unsuited", {"acceptance": {"max_drop": "13 bar", "over": "30 min"}}),
    ("above-plate", {"base": "relief", "relief_set": "15 bar"}),
    ("above-plate", {"base": "plate", "working_pressure": "15 bar"}),
    ("gauge-too-small", {"gauge": {"range": "16 bar"}, "gauges": [{"name": "the 25 bar dial", "range": "25 bar"}]}),
]


@pytest.mark.parametrize(("code", "changes"), STOPS)
def test_what_stops_a_test(code: str, changes: dict) -> None:
    stops = derived(**changes).stops
    assert code in codes(stops)
    assert all(stop.says.endswith(".") for stop in stops)


GAS: dict = {
    "kind": "digester",
    "basis": "gas-head",
    "medium": "air",
    "working_pressure": "22 mbar",
    "shell": None,
    "ends": None,
    "volume": "600 L",
}

CAUTIONS: list[tuple[str, dict]] = [
    ("wall-assumed", {"shell": shell(wall_measured=False)}),
    ("above-allowable", {"shell": shell(wall_measured=False), "working_pressure": "12.5 bar"}),
    ("ceiling-unknown", {"shell": shell(wall=None)}),
    ("ceiling-unknown", {"shell": shell(material="hdpe")}),
    ("brittle", {"shell": shell(material="cast-iron")}),
    ("gauge-too-coarse", {"gauge": {"range": "60 bar"}}),
    ("gauge-not-calibrated", {}),
    ("gauge-not-calibrated", {"gauge": {"range": "25 bar", "calibrated": "2025-01-05"}}),
    ("source-overshoot", {"pump": {"maximum": "140 bar"}}),
    ("trapped-air", {"trapped_air": "0.2 L"}),
    ("cool-steel", {"water_temperature": "12 degC"}),
    ("temperature-unknown", {"water_temperature": None}),
    ("relief-above-wanted", {"relief_set": "9 bar"}),
    ("no-strength-proof", {"basis": "tight", "working_pressure": "0.2 bar"}),
    ("blocked-in-heating", {}),
    ("chloride", {"shell": shell(material="stainless-304")}),
    ("ends-unknown", {"ends": None}),
    ("give-unknown", {"shell": shell(wall=None)}),
    ("outside-pressure", {"tubes": [{"outside_diameter": "12 mm", "wall": "1 mm"}]}),
    ("brittle", {"ends": [{"form": "flat", "wall": "20 mm", "material": "cast-iron"}] * 2}),
    ("chloride", {"ends": [{"form": "flat", "wall": "20 mm", "material": "stainless-316"}] * 2}),
    ("basis-unusual", {"basis": "first-200"}),
    ("reason-missing", {"basis": "own", "factor": 1.3}),
    ("gauge-class", {"gauge": {"range": "25 bar", "class": 2.5}}),
    ("wrench-unsuited", {"torque_wrench": {"wanted": "10 N m", "range": "100 N m"}}),
    ("burst-remote", {"basis": "burst", "gauge": {"range": "400 bar"}}),
    ("burst-unknown", {"basis": "burst", "shell": shell(material="glass-fibre")}),
    ("gas-holder", GAS),
    ("gas-holder", {**GAS, "holder": {"by": "drum"}}),
    ("barometer", GAS),
    ("seal-blows", {**GAS, "relief_set": "25 cm water"}),
    ("source-overshoot", {"shell": None, "ends": None, "volume": "97 L", "pump": {"maximum": "140 bar"}}),
    ("source-too-weak", {"pump": {"maximum": "10 bar"}}),
    ("stroke-too-coarse", {"pump": {"stroke": "12 mL"}}),
    ("fitting-unrated", {"fittings": [{"name": "hose"}]}),
    ("closure-unrated", {"fittings": [{"name": "safety valve", "fitted": "relief-valve", "for_test": "take-off"}]}),
    ("requalify", {"proven": {"inside_diameter": "300 mm", "wall": "3.2 mm", "pressure": "8.5 bar"}}),
    ("no-pause-at-wanted", {"stages": [{"target": "3 bar"}]}),
    ("no-early-look", {"stages": [{"target": "8.5 bar"}]}),
    ("steam-energy", {"kind": "boiler", "basis": "steam", "relief_set": "8 bar"}),
    ("heating-unknown", {"kind": "boiler", "basis": "steam", "relief_set": "8 bar"}),
    (
        "dezincification",
        {
            "kind": "boiler",
            "basis": "first-200",
            "tubes": [{"outside_diameter": "12 mm", "wall": "1 mm", "material": "brass"}],
        },
    ),
    ("volume-differs", {"volume": "24 L"}),
    ("openings-missing", {"fittings": [{"name": "boss", "for_test": "vent"}]}),
    ("opening-undecided", {"fittings": [{"name": "boss", "fitted": "plug"}]}),
    ("must-not-see-test", {"fittings": [{"name": "boss", "fitted": "gauge", "for_test": "keep"}]}),
    (
        "air-stays",
        {
            "fittings": [
                {"name": "boss", "for_test": "vent", "place": {"on": "shell", "along": "1 m", "round": "90 deg"}}
            ]
        },
    ),
    ("wall-wearing", {"made": 2020, "shell": shell(wall_readings=["2.2 mm"])}),
    ("no-thermometer", {}),
    ("hot-strength-unknown", {"design_temperature": "400 degC"}),
    ("hot-strength-unknown", {"kind": "boiler", "basis": "first-200", "shell": shell(material="brass")}),
    ("creeps", {"shell": shell(material="pp")}),
    ("material-unknown", {"shell": shell(material=None)}),
    (
        "plastic-under-air",
        {
            "kind": "digester",
            "medium": "air",
            "basis": "gas-head",
            "working_pressure": "22 mbar",
            "shell": shell(material="hdpe"),
        },
    ),
    ("air-unstated", {"trapped_air": None}),
    ("head-unknown", {"position": "standing", "volume": "97 L", "shell": shell(length=None)}),
    ("band-narrow", {"maker_test_limit": "12.85 bar"}),
    ("acceptance-unsuited", {"acceptance": {"max_leak": "0.0002 mL/h"}}),
    ("ends-unknown", {"ends": [{"form": "ellipsoidal", "wall": "3.5 mm"}]}),
    ("ceiling-unknown", {"ends": [{"form": "ellipsoidal", "wall": "3.5 mm"}]}),
    ("temperature-unknown", {"medium": "air", "water_temperature": None, "minimum_temperature": "5 degC"}),
    (
        "thermometer-too-coarse",
        {"thermometer": {"resolution": "1 delta_degC"}, "acceptance": {"max_drop": "0.1 bar", "over": "30 min"}},
    ),
]


@pytest.mark.parametrize(("code", "changes"), CAUTIONS)
def test_what_must_be_read_before_a_test(code: str, changes: dict) -> None:
    cautions = derived(**changes).cautions
    assert code in codes(cautions)
    assert all(caution.says.endswith(".") for caution in cautions)


def test_a_valve_that_is_taken_off_is_not_told_as_staying_on() -> None:
    valve = {"name": "safety valve", "fitted": "relief-valve", "for_test": "take-off"}
    says = {c.code: c.says for c in derived(fittings=[valve]).cautions}
    assert "fitting-unrated" not in says
    assert "safety valve" in says["closure-unrated"]
    assert "13.43 bar or more" in says["closure-unrated"]  # 1.05 of the 12.79 that the lowest gauge sees
    plugged = derived(fittings=[valve | {"rating": "25 bar"}])
    assert "closure-unrated" not in codes(plugged.cautions)


@pytest.mark.parametrize("material", ["glass-fibre", "pet", "wood"])
def test_codes_for_metal_are_not_offered_for_what_is_none(material: str) -> None:
    answer = derived(kind="chamber", basis="chamber", shell=shell(material=material), plate_pressure=None)
    applies = {basis.id: basis.applies for basis in answer.bases}
    assert applies["chamber"]
    assert not any(applies[code] for code in ("code-130", "code-143", "air-110"))
    why = next(basis.why for basis in answer.bases if basis.id == "code-130")
    assert "maker's rule holds" in why


def test_every_code_has_a_case_here() -> None:
    assert {code for code, _ in STOPS} == set(get_args(StopCode))
    assert {code for code, _ in CAUTIONS} == set(get_args(CautionCode))


def test_a_gauge_that_will_not_do_is_answered_with_one_of_ones_own() -> None:
    own = [{"name": "the 25 bar dial", "range": "25 bar", "division": "0.5 bar"}]
    small, coarse = derived(gauge={"range": "16 bar"}, gauges=own), derived(gauge={"range": "60 bar"}, gauges=own)
    too_small = next(s.says for s in small.stops if s.code == "gauge-too-small")
    too_coarse = next(c.says for c in coarse.cautions if c.code == "gauge-too-coarse")
    for says in (too_small, too_coarse):
        assert says.endswith("Of your own, the 25 bar dial would serve.")


def test_a_calibrated_gauge_and_a_slow_pump_are_not_complained_of() -> None:
    answer = derived(gauge={"range": "25 bar", "calibrated": "2026-06-01"}, pump={"maximum": "25 bar"})
    assert not {"gauge-not-calibrated", "source-overshoot", "gauge-too-coarse"} & codes(answer.cautions)


def test_a_makers_limit_makes_a_plastic_ceiling_known() -> None:
    answer = derived(shell=shell(material="pet"), maker_test_limit="15 bar")
    assert answer.ceiling.known
    assert answer.ceiling.pressure == 1_500_000
    assert answer.ceiling.set_by == "the maker's test limit"


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"basis": "guess"}, "is not a basis"),
        ({"base": "plate", "plate_pressure": None}, "plate_pressure is not given"),
        ({"kind": "chamber", "basis": "chamber", "factor": 3}, "outside 1.25 to 2.0"),
        ({"basis": "relief"}, "relief"),
    ],
)
def test_a_plan_that_contradicts_itself_is_refused(changes: dict, says: str) -> None:
    with pytest.raises(SheetError, match=says):
        derived(**changes)


def test_the_units_it_speaks_in_change_no_figure() -> None:
    sheet = read_vessel_sheet(receiver())
    metric, imperial = derive(sheet), derived_for(sheet)
    words = {
        "lines",
        "stops",
        "cautions",
        "bases",
        "offer",
        "guards",
    }  # what is offered is rounded down in the person's own unit
    assert metric.model_dump(exclude=words) == imperial.model_dump(exclude=words)
    values = [[line.value for line in plan.lines if line.figure != "offer"] for plan in (metric, imperial)]
    assert values[0] == values[1]


def test_the_working_speaks_in_the_persons_unit() -> None:
    sheet = read_vessel_sheet(receiver(working_pressure="120 psi"))
    line = derived_for(sheet).lines[0]
    assert line.numbers == "1.5 × 120 psi"
    assert line.shown == "180 psi"


FULL = {
    "fittings": [{"name": "drain plug", "rating": "40 bar", "sealed_diameter": "21 mm"}],
    "drain": {"bore": "15 mm"},
    "fill_rate": "300 L/h",
    "proven": {"inside_diameter": "300 mm", "wall": "3.2 mm", "pressure": "8.5 bar"},
    "acceptance": {"max_leak": "20 mL/h"},
    "relief_set": "9 bar",
    "design_temperature": "160 degC",
    "basis": "code-130",
    "gauge": {"range": "25 bar", "division": "0.5 bar", "class": 1.6, "height_above_top": "-0.4 m"},
    "thermometer": {"resolution": "0.01 delta_degC"},
}
PLAIN = {
    "kind",
    "medium",
    "basis",
    "factor",
    "working_pressure",
    "plate_pressure",
    "relief_set",
    "gauge_range",
    "best_gauge",
    "profile",
    "lines",
}
"""Figures that are the sheet's own, a choice, or drawn from others."""
NAMES = {
    "bases": "id",
    "openings": "name",
    "parts": "name",
    "end_forces": "name",
    "stand_offs": "effect",
    "guards": "code",
}
NOT_FIGURES = {"pause", "strokes_from_last", "factor", "time", "leak", "level", "look", "behind_the_line"}


def known_figures(data: Any, path: str = "") -> dict[str, float]:
    """Every number of an answer by its figure's name."""
    found: dict[str, float] = {}
    for key, value in data.items():
        here = f"{path}{key}"
        if key in PLAIN or key in NOT_FIGURES:
            continue
        if isinstance(value, float):
            found[here] = value
        elif isinstance(value, dict):
            found |= known_figures(value, f"{here}.")
        elif isinstance(value, list) and value and isinstance(value[0], dict):
            for number, one in enumerate(value, 1):
                found |= known_figures(one, f"{here}.{one[NAMES[key]] if key in NAMES else number}.")
    return found


def test_every_figure_has_its_line_and_every_line_its_figure() -> None:
    answer = derived(**FULL)
    renamed = {"ceiling.pressure": "ceiling", "allowable.pressure": "allowable"}
    figures = {renamed.get(name, name): value for name, value in known_figures(answer.model_dump()).items()}
    figures = {
        re.sub(
            r"(bases\..*)\.test_pressure|(end_forces\..*)\.force|(.*stand_offs\..*)\.distance|(guards\..*)\.limit",
            lambda m: m[1] or m[2] or m[3] or m[4],
            name,
        ): value
        for name, value in figures.items()
    }
    figures["target_band"] = answer.target_band[1]
    lines = {line.figure: line for line in answer.lines}
    assert len(lines) == len(answer.lines)
    assert set(figures) == set(lines)
    for figure, line in lines.items():
        assert line.value == pytest.approx(figures[figure]), figure
        assert line.formula, figure
        assert line.numbers, figure
        assert line.shown, figure
        assert line.source, figure


def test_lines_that_have_nothing_to_say_are_left_out() -> None:
    bare = derived(gauge=None, pump=None, trapped_air=None, fittings=None, date=None)
    assert not {"water.drain_time", "water.fill_time", "hold.smallest_leak", "growth.hoop_stress"} & {
        line.figure for line in bare.lines
    }


def test_a_vessel_proved_before_may_be_approached_up_to_the_wanted_pressure() -> None:
    assert derived().approach_pressure == pytest.approx(0.25 * 1.275e6)
    proved = derived(proven_before="8.5 bar")
    assert proved.approach_pressure == pytest.approx(8.5e5)
    assert [stage.zone for stage in proved.stages] == ["near", "near", "near", "line", "line"]
    assert derived(proven_before="6 bar").approach_pressure == pytest.approx(0.25 * 1.275e6)


def test_a_boiler_that_passed_before_gets_the_repeat_test() -> None:
    new = derived(kind="boiler", basis=None)
    again = derived(kind="boiler", basis=None, proven_before="8.5 bar")
    assert (new.basis, again.basis) == ("first-200", "repeat-150")
    assert [b.id for b in again.bases if b.default] == ["repeat-150"]


@given(
    st.sampled_from(sorted(KINDS)),
    st.sampled_from(sorted(BASES)),
    st.sampled_from(sorted(MATERIALS)),
    st.sampled_from(["ellipsoidal", "hemispherical", "torispherical", "flat", "stayed"]),
    st.sampled_from(["water", "air"]),
    st.sampled_from(["cylinder", "sphere"]),
    st.floats(0.01, 60),
)
def test_every_kind_basis_material_end_and_medium_is_answered_or_refused_in_words(
    kind: str, basis: str, material: str, end: str, medium: str, form: str, wanted: float
) -> None:
    ends = [{"form": end, "wall": "3.5 mm", "pitch": "60 mm"}] * 2 if form == "cylinder" else None
    changes = {
        "kind": kind,
        "basis": basis,
        "medium": medium,
        "ends": ends,
        "working_pressure": f"{wanted} bar",
        "factor": 1.5,
    }
    try:
        answer = derived(**changes, shell=shell(material=material, form=form), plate_pressure=None)
    except SheetError as refusal:
        assert str(refusal)
        return
    assert answer.test_pressure > 0
    assert answer.test_pressure <= 2 * wanted * 1e5 * (1 + 1e-9) or answer.procedure == "burst"
    assert answer.stages[-1].target == answer.gauge_target
    assert json.loads(answer.model_dump_json())["test_pressure"] == answer.test_pressure
    if MATERIALS[material].brittle_or_creeping:
        assert not answer.ceiling.known
    if not BASES[basis].strength:
        assert "no-strength-proof" in codes(answer.cautions)
