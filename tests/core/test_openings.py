"""Tilting, rolling and filling; the vent and the air above it; what to do with each opening; walls over the years."""

import math
from typing import Any

import pytest
from fluids.geometry import TANK
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.sheets import codes, derived, receiver, shell
from toadbell.core.derive import derive
from toadbell.core.plan.prepare import before_beginning
from toadbell.core.sheets import SheetError, read_vessel_sheet
from toadbell.core.vessel import shape, solid
from toadbell.core.vessel.wear import YEAR

ENDS = (("ellipsoidal", 0.0915, 0.366, 0.022),) * 2


def opening(name: str, for_test: str | None = None, on: str = "shell", **place: str) -> dict[str, Any]:
    return {"name": name, "for_test": for_test, "place": {"on": on, **place}}


def fitted(*openings: dict[str, Any], **changes: Any) -> Any:
    return derived(
        **{"trapped_air": None, "gauge": {"range": "25 bar", "division": "0.5 bar"}, **changes}, fittings=list(openings)
    )


VENT, DRAIN = opening("outlet", "vent", along="400 mm"), opening("drain", "drain", along="400 mm", round="180 deg")


@pytest.mark.parametrize("part", [0.1, 0.35, 0.8])
@pytest.mark.parametrize("form", ["ellipsoidal", "hemispherical", "torispherical"])
def test_what_lies_below_a_level_is_what_fluids_says(form: str, part: float) -> None:
    sheet = read_vessel_sheet(receiver(ends=[{"form": form}] * 2))
    side = {
        "ellipsoidal": ("ellipsoidal", {"a": 0.0915}),
        "hemispherical": ("spherical", {"a": 0.183}),
        "torispherical": (form, {"f": 1, "k": 0.06}),
    }[form]
    tank = TANK(
        D=0.366,
        L=0.8,
        horizontal=True,
        sideA=side[0],
        sideB=side[0],
        **{f"side{s}_{k}": v for s in "AB" for k, v in side[1].items()},
    )
    assert shape.solid_of(sheet).below(part * 0.366) == pytest.approx(tank.V_from_h(part * 0.366), rel=2e-3)


def test_a_tilted_tank_half_full_by_height_is_half_full() -> None:
    for degrees in (0, 7, 30, 80, 90):
        tank = solid.cylinder(0.366, 0.8, ENDS, math.radians(degrees), 0.0)
        assert tank.below(tank.tall / 2) == pytest.approx(tank.volume / 2, rel=1e-3), degrees


@settings(max_examples=60)
@given(st.floats(-math.pi / 2, math.pi / 2), st.floats(0, 1), st.floats(0, 1))
def test_a_higher_level_never_holds_less_and_the_top_holds_all(tilt: float, one: float, other: float) -> None:
    tank = solid.cylinder(0.3, 0.9, ENDS, tilt, 0.0)
    low, high = sorted((one, other))
    assert tank.below(low * tank.tall) <= tank.below(high * tank.tall) + 1e-12
    assert tank.below(tank.tall) == pytest.approx(tank.volume, rel=1e-9)
    assert tank.below(0) == pytest.approx(0, abs=1e-5)


def test_a_cask_holds_what_kepler_said() -> None:
    sheet = {
        "kind": "cask",
        "working_pressure": "0.2 bar",
        "medium": "air",
        "cask": {"bilge": "320 mm", "head": "270 mm", "length": "400 mm"},
    }
    answer = derive(read_vessel_sheet(sheet))
    assert answer.volume == pytest.approx(math.pi * 0.4 * (2 * 0.32**2 + 0.27**2) / 12)
    assert shape.solid_of(read_vessel_sheet(sheet)).volume == pytest.approx(answer.volume, rel=1e-4)
    assert answer.height == pytest.approx(0.32, rel=1e-4)
    assert answer.water.inside_area == pytest.approx(math.pi * 0.3 * 0.4 + math.pi * 0.27**2 / 2, rel=0.03)
    with pytest.raises(SheetError, match="wrong way round"):
        read_vessel_sheet({**sheet, "cask": {"bilge": "270 mm", "head": "320 mm", "length": "400 mm"}})


def test_an_opening_on_top_lets_all_the_air_out() -> None:
    answer = fitted(VENT, DRAIN)
    assert answer.vent.name == "outlet"
    assert answer.vent.air == pytest.approx(0, abs=1e-9)
    assert answer.vent.remedy is None
    heights = {o.name: o.height for o in answer.openings}
    assert heights == {"outlet": pytest.approx(0.366), "drain": pytest.approx(0, abs=1e-9)}
    assert "air-stays" not in codes(answer.cautions)


def test_standing_the_air_above_a_side_opening_stays_and_counts() -> None:
    # 100 mm below the upper seam: that much of the shell, and the dished end
    answer = fitted(opening("side port", "vent", along="700 mm"), position="standing")
    stays = math.pi / 4 * 0.366**2 * 0.1 + math.pi * 0.366**3 / 24
    assert answer.vent.air == pytest.approx(stays, rel=5e-3)
    assert "air-stays" in codes(answer.cautions)
    stated = fitted(opening("side port", "vent", along="700 mm"), position="standing", trapped_air="0 L")
    assert answer.pump.volume == pytest.approx(stated.pump.volume + stays * 12.75 / (12.75 + 1.01325), rel=5e-3)


def test_the_turn_that_frees_the_air_is_found_and_does() -> None:
    end_port = {**opening("end port", "vent", on="end 2", out="150 mm"), "bore": "15 mm"}
    lying = fitted(end_port)
    turn = lying.vent.remedy
    assert 0 < turn.tilt < math.radians(45)
    assert turn.roll == 0
    freed = fitted(end_port, tilt=f"{turn.tilt} rad")
    assert freed.vent.air == pytest.approx(turn.air, abs=1e-6)
    assert freed.vent.air < 0.001 * freed.volume < lying.vent.air
    assert f"Tilt it to {math.degrees(turn.tilt):.2g} °" in next(
        c.says for c in lying.cautions if c.code == "air-stays"
    )
    less = fitted(end_port, tilt=f"{turn.tilt - math.radians(1)} rad")
    assert less.vent.air > 0.001 * less.volume  # and it is the least tilt that does


def test_an_opening_on_the_flank_is_rolled_to_the_top() -> None:
    flank = opening("bung", "vent", along="400 mm", round="90 deg")
    turn = fitted(flank).vent.remedy
    assert (turn.tilt, turn.roll) == (pytest.approx(0), pytest.approx(-math.pi / 2))
    assert fitted(flank, roll="-90 deg").vent.air == pytest.approx(0, abs=1e-6)


def test_the_gauge_reads_from_the_height_of_its_opening() -> None:
    below = opening("boss", "gauge", along="100 mm", round="180 deg")
    answer = fitted(VENT, below)
    assert answer.gauge_target - answer.test_pressure == pytest.approx(999 * 9.80665 * 0.366, rel=1e-3)
    stated = fitted(VENT, below, gauge={"range": "25 bar", "height_above_top": "0 m"})
    assert stated.gauge_target == stated.test_pressure


def test_a_drum_and_its_openings() -> None:
    drum = {
        "kind": "digester",
        "basis": None,
        "medium": "air",
        "working_pressure": "22 mbar",
        "plate_pressure": None,
        "shell": None,
        "ends": None,
        "gauge": None,
        "box": {"diameter": "570 mm", "height": "820 mm"},
    }
    answer = derived(
        **drum, fittings=[opening("gas cock", "gauge", on="top"), opening("overflow", "vent", on="side", up="600 mm")]
    )
    assert [o.height for o in answer.openings] == [pytest.approx(0.82), pytest.approx(0.6)]
    assert answer.vent.air == pytest.approx(math.pi / 4 * 0.57**2 * 0.22)


def test_the_drains_bore_gives_the_time_to_empty() -> None:
    bored = fitted(VENT, {**DRAIN, "bore": "15 mm"})
    assert bored.water.drain_time == pytest.approx(derived(drain={"bore": "15 mm"}).water.drain_time)


def test_what_to_do_with_each_opening_is_suggested_and_what_lacks_is_said() -> None:
    answer = fitted(
        {"name": "safety valve", "fitted": "relief-valve"},
        {"name": "glass", "fitted": "sight-glass", "for_test": "keep"},
    )
    assert [(o.choice, o.suggested, o.do) for o in answer.openings] == [
        (None, "take-off", "take off, plug"),
        ("keep", "take-off", "stays on"),
    ]
    says = {c.code: c.says for c in answer.cautions}
    assert (
        says["openings-missing"] == "No opening is given to the vent or the pump or the gauge. Say which it is to be."
    )
    assert "safety valve" in says["opening-undecided"]
    assert "glass" in says["must-not-see-test"]
    plain = derived(fittings=[{"name": "drain plug", "rating": "40 bar"}])
    assert not {"openings-missing", "opening-undecided"} & codes(plain.cautions)


@pytest.mark.parametrize(
    ("changes", "procedure", "says", "says_not"),
    [
        ({"medium": "air", "basis": "tight", "tight_at": "12 mbar"}, "tightness", ["stays on", "syringe"], ["fly"]),
        ({}, "proof", ["Relief valve, switch", "bears it full"], ["stays on", "regulator"]),
        ({"medium": "air", "basis": "tight"}, "tightness", ["stays on", "regulator", "neither fall"], ["full", "pump"]),
        ({"medium": "air", "basis": "air-110"}, "proof", ["Relief valve, switch", "regulator"], ["stays on", "full"]),
        ({"basis": "relief"}, "relief", ["relief valve is in", "bears it full"], ["Relief valve, switch", "regulator"]),
        ({"medium": "air", "basis": "relief"}, "relief", ["sits on the pot", "regulator"], ["bears it full"]),
    ],
)
def test_what_is_seen_to_before_it_begins_is_the_mediums_own(
    changes: dict[str, str], procedure: str, says: list[str], says_not: list[str]
) -> None:
    sheet = read_vessel_sheet(receiver(**changes))
    told = " ".join(before_beginning(sheet, procedure, sheet.tight_at or 1e5))
    assert all(words in told for words in says), told
    assert not any(words in told for words in says_not), told


def test_under_gas_the_relief_valve_is_left_on_and_nobody_is_warned_of_it() -> None:
    valve = {"name": "safety valve", "fitted": "relief-valve", "for_test": "keep"}
    under_gas = fitted(valve, medium="air", basis="tight", factor=None)
    assert [(one.suggested, one.do) for one in under_gas.openings] == [("keep", "stays on")]
    assert "must-not-see-test" not in codes(under_gas.cautions)
    assert "must-not-see-test" in codes(fitted(valve).cautions)


def test_what_to_gather_is_listed_with_thread_and_rating() -> None:
    answer = fitted({**VENT, "thread": "½ BSP"}, {"name": "safety valve", "for_test": "take-off", "thread": "¾ BSP"})
    gathered = [(g.use, g.what) for g in answer.gather]
    assert ("outlet", "valve ½ BSP, rated 13.4 bar or more") in gathered
    assert ("safety valve", "plug ¾ BSP, rated 13.4 bar or more") in gathered
    assert any(use == "the rig" for use, _ in gathered)
    assert derived().gather == []


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"for_test": "hammer"}, "fittings.0.for_test"),
        ({"fitted": "parrot"}, "fittings.0.fitted"),
        ({"place": {"on": "roof"}}, "fittings.0.place.on"),
        ({"place": {"on": "shell", "along": "4 bar"}}, "fittings.0.place.along"),
        ({"name": ""}, "fittings.0.name"),
    ],
)
def test_an_impossible_opening_is_refused(change: dict, field: str) -> None:
    with pytest.raises(SheetError) as refusal:
        read_vessel_sheet(receiver(fittings=[{"name": "port", **change}]))
    assert refusal.value.field == field


def read_at(wall: str, date: str, along: str = "300 mm") -> dict[str, str]:
    return {"wall": wall, "along": along, "round": "180 deg", "date": date}


def test_the_loss_between_surveys_and_the_years_left() -> None:
    # 0.3 mm in three years at one place, nothing at the other
    readings = [
        read_at("2.9 mm", "2023-11-24"),
        read_at("2.6 mm", "2026-11-24"),
        read_at("3.0 mm", "2023-11-24", "600 mm"),
        read_at("3.0 mm", "2026-11-24", "600 mm"),
    ]
    wall = derived(shell=shell(wall_readings=readings)).wall
    assert wall.thinnest == pytest.approx(2.6e-3)
    assert wall.loss * YEAR == pytest.approx(0.1e-3, rel=2e-3)
    # S E t/(R + 0.6 t) = P: t = P R/(S E − 0.6 P)
    assert wall.least == pytest.approx(8.5e5 * 0.183 / (108e6 * 0.7 - 0.6 * 8.5e5))
    assert wall.left == pytest.approx((wall.thinnest - wall.least) / wall.loss)


def test_a_wall_that_will_not_last_three_years_is_warned_of() -> None:
    worn = [read_at("2.7 mm", "2025-11-24"), read_at("2.4 mm", "2026-11-24")]
    answer = derived(shell=shell(wall_readings=worn))
    assert answer.wall.left / YEAR == pytest.approx(1.1, abs=0.05)
    assert "0.3 mm a year" in next(c.says for c in answer.cautions if c.code == "wall-wearing")


def test_surveys_a_week_apart_tell_the_gauges_error_and_not_rust() -> None:
    readings = [read_at("2.9 mm", "2026-11-14"), read_at("2.8 mm", "2026-11-21")]
    assert derived(shell=shell(wall_readings=readings)).wall.loss is None


def test_with_one_survey_the_loss_is_reckoned_from_the_nominal_wall() -> None:
    wall = derived(made=1996, shell=shell(wall_readings=["2.6 mm"])).wall
    assert wall.loss * YEAR == pytest.approx(0.6e-3 / 30)
    assert derived(shell=shell(wall=None)).wall is None
