"""The judge: right where it speaks, silent where it cannot know, and clear about what would settle it."""

import datetime
from pathlib import Path

import numpy as np
import pytest

from toadbell.core.judge.answers import JudgeAnswer
from toadbell.core.judge.hold import judge, judge_with_points
from toadbell.core.judge.laws import LAWS
from toadbell.core.judge.log import Log, parse_log
from toadbell.core.judge.verdict import decide
from toadbell.core.physics.content import Content
from toadbell.core.physics.water import water_expansion
from toadbell.core.sheets import SheetError, read_hold_sheet

C = 1e-10
"""Compliance of the vessel in these holds, m³/Pa: 10 mL a bar."""
V = 0.097


def sheet(acceptance: dict, thermometer: bool = True, resolution: str = "2 kPa", **more: object):  # type: ignore[no-untyped-def]
    data = {
        "volume": "97 L",
        "compliance": "10 mL/bar",
        "water_temperature": "16 degC",
        "gauge": {"range": "25 bar", "resolution": resolution},
        "acceptance": acceptance,
        **more,
    }
    return read_hold_sheet({**data, "thermometer": {"resolution": "0.01 degC"}} if thermometer else data)


def hold(
    leak_ml_h: float = 0.0, cooling: float = 0.0, minutes: int = 60, every: int = 60, seen: bool = True, seed: int = 1
) -> Log:
    """A hold that leaks so many mL an hour while the water cools by so many K an hour."""
    chance = np.random.default_rng(seed)
    time = np.arange(0, minutes * 60 + 1, every, dtype=float)
    temperature = 289.15 - cooling * time / 3600
    swelling = V * (water_expansion(289.15, 1.275e6) - 3 * 12e-6)
    pressure = 1.275e6 - (leak_ml_h * 1e-6 * time / 3600 + swelling * cooling * time / 3600) / C
    read = np.round((pressure + chance.normal(0, 500, len(time))) / 2000) * 2000
    return Log(time, read, np.round(temperature, 2) if seen else None)


def answer(log: Log, limit: str = "2 mL/h", **more: bool) -> JudgeAnswer:
    return judge(log, sheet({"max_leak": limit}, **more))


def test_a_tight_vessel_is_called_tight_with_a_bound_under_the_limit() -> None:
    found = answer(hold())
    assert found.verdict == "tight"
    assert found.leak.high < found.limit == pytest.approx(2e-6 / 3600)
    assert found.says.startswith("Tight.")


def test_a_leak_is_called_a_leak_and_measured() -> None:
    found = answer(hold(leak_ml_h=10))
    assert found.verdict == "leaking"
    assert found.leak.low < 10e-6 / 3600 < found.leak.high
    assert found.pressure_rate == pytest.approx(found.leak.estimate / C)


def test_cooling_that_looks_like_a_leak_is_taken_out() -> None:
    found = answer(hold(cooling=0.3))
    assert found.drop > 0.2e5
    assert found.verdict == "tight"
    assert found.drop_from_temperature == pytest.approx(found.drop, rel=0.2)
    assert found.signature == "thermal"
    assert found.school.met is False  # by the drop alone it would have been called leaking


def test_warming_that_hides_a_leak_is_taken_out() -> None:
    found = answer(hold(leak_ml_h=6, cooling=-0.5))
    assert found.drop <= 0
    assert found.verdict == "leaking"


def test_without_a_thermometer_a_small_drop_on_a_stiff_vessel_cannot_be_told() -> None:
    found = judge(hold(leak_ml_h=1.5, seen=False), sheet({"max_leak": "2 mL/h"}, thermometer=False))
    assert found.verdict == "cannot-tell"
    assert found.drop_from_temperature is None
    assert any("thermometer" in way for way in found.settle_it)


def test_without_a_thermometer_a_large_leak_is_still_told() -> None:
    time = np.arange(0, 3601, 60.0)
    falling = Log(
        time, np.round(1.275e6 * np.exp(-time / 3600) / 2000) * 2000
    )  # 127 mL/h at first, as the pressure falls less
    found = judge(falling, sheet({"max_leak": "2 mL/h"}, thermometer=False))
    assert found.verdict == "leaking"
    assert found.leak.low < 127.5e-6 / 3600 < found.leak.high


def test_too_short_a_hold_says_how_much_longer() -> None:
    found = answer(hold(leak_ml_h=1.2, minutes=6))
    assert found.verdict == "cannot-tell"
    assert found.more_hold_needed is not None
    assert found.more_hold_needed >= 60
    assert found.settle_it


@pytest.mark.parametrize("seed", range(12))
def test_it_is_not_wrong_on_either_side_of_the_limit(seed: int) -> None:
    assert answer(hold(leak_ml_h=0.4, cooling=0.2, seed=seed)).verdict != "leaking"
    assert answer(hold(leak_ml_h=6.0, cooling=-0.2, seed=seed)).verdict != "tight"


@pytest.mark.parametrize(
    ("acceptance", "limit"),
    [
        ({"max_leak": "2 mL/h"}, 2e-6 / 3600),
        ({"max_drop": "0.2 bar", "over": "30 min"}, C * 0.2e5 / 1800),
        ({"no_visible_drop": True}, C * 2000 / 3600),
    ],
)
def test_each_school_is_a_leak_that_is_accepted(acceptance: dict, limit: float) -> None:
    found = judge(hold(), sheet(acceptance))
    assert found.limit == pytest.approx(limit, rel=1e-3)
    assert found.school.acceptance == next(iter(acceptance))
    assert found.school.met is True


def write(log: Log, path: Path) -> None:
    """A log as its file."""
    assert log.water_temperature is not None
    read = zip(log.time, log.pressure, log.water_temperature, strict=True)
    rows = "\n".join(f"{t},{p / 1e5},{T - 273.15}" for t, p, T in read)
    path.write_text("elapsed [s],pressure [bar],water_temperature [degC]\n" + rows)


def test_a_baseline_of_the_same_rig_sets_the_limit(tmp_path: Path) -> None:
    base = hold(leak_ml_h=3, seed=5)
    write(base, tmp_path / "base.csv")
    wanted = sheet({"baseline": "base.csv", "times": 2})
    with pytest.raises(SheetError, match=r"more than the 0\.02 bar"):
        judge(hold(leak_ml_h=20), wanted, baseline_folder=tmp_path)
    write(hold(seed=5), tmp_path / "base.csv")
    found = judge(hold(leak_ml_h=20), wanted, baseline_folder=tmp_path)
    assert found.limit == pytest.approx(C * 2000 / 3600, rel=0.5)  # one step of the gauge, or twice next to nothing
    assert found.verdict == "leaking"


def test_a_baseline_is_read_from_beside_the_sheet_only(tmp_path: Path) -> None:
    with pytest.raises(SheetError, match="beside the sheet"):
        judge(hold(), sheet({"baseline": "../../etc/passwd"}), baseline_folder=tmp_path)


def test_a_drop_larger_than_the_pressure_is_no_acceptance() -> None:
    with pytest.raises(SheetError, match="empty the vessel"):
        judge(hold(), sheet({"max_drop": "20 bar", "over": "30 min"}))


def test_an_air_hold_is_judged_by_pressure_over_temperature() -> None:
    wanted = read_hold_sheet(
        {
            "medium": "air",
            "volume": "60 L",
            "gauge": {"range": "6 bar", "resolution": "1 kPa"},
            "acceptance": {"max_leak": "1 L/h"},
        }
    )
    assert judge(Log(np.array([0.0, 900, 1800]), np.array([2e5, 1.5e5, 1e5])), wanted).verdict == "leaking"


def test_many_readings_are_thinned_without_losing_the_leak() -> None:
    log = hold(leak_ml_h=1, minutes=480, every=1)
    assert len(log.time) == 28_801
    found = judge_with_points(log, sheet({"max_leak": "0.5 mL/h"}))
    assert found.answer.readings == 28_801
    assert len(found.points) <= 240
    assert found.answer.leak.estimate == pytest.approx(1e-6 / 3600, rel=0.1)


def test_the_same_log_gives_the_same_answer_to_the_last_byte() -> None:
    one, other = (answer(hold(leak_ml_h=2)).model_dump_json() for _ in range(2))
    assert one == other


def test_the_points_show_what_was_read_and_what_the_temperature_explains() -> None:
    points = judge_with_points(hold(cooling=0.3), sheet({"max_leak": "2 mL/h"})).points
    assert points[-1].pressure < points[0].pressure - 2e4
    assert points[-1].corrected == pytest.approx(points[0].pressure, abs=6e3)
    assert points[-1].low < points[-1].fit < points[-1].high


@pytest.mark.parametrize(
    ("below", "verdict"), [(0.981, "tight"), (0.97, "cannot-tell"), (0.03, "cannot-tell"), (0.019, "leaking")]
)
def test_the_verdict_asks_for_ninety_eight_per_cent_on_either_side(below: float, verdict: str) -> None:
    assert decide(below) == verdict


def test_the_content_of_a_sheet_without_a_compliance_is_that_of_its_shell() -> None:
    shell = {"inside_diameter": "366 mm", "wall": "3.2 mm", "material": "carbon-steel"}
    wanted = read_hold_sheet(
        {"volume": "97 L", "shell": shell, "water_temperature": "16 degC", "acceptance": {"max_leak": "2 mL/h"}}
    )
    give = 0.183 / (0.0032 * 200e9) * 1.9
    expected = Content(0.097, give, 12e-6, 0.0, 289.15).compliance(1.275e6)
    assert judge(hold(), wanted).compliance == pytest.approx(expected, rel=1e-6)


def test_logs_are_sorted_and_of_a_repeated_time_the_last_stays() -> None:
    log = parse_log("elapsed [min],pressure [kPa],note\n10,1260,x\n0,1275,y\n10,1255,z\n\n")
    assert list(log.time) == [0, 600]
    assert list(log.pressure) == pytest.approx([1.275e6, 1.255e6])


def test_logs_may_carry_the_time_of_day_and_miss_a_temperature() -> None:
    log = parse_log(
        "time,pressure [bar],water_temperature "
        "[degC]\n2026-11-24T10:00:00Z,12.75,16.0\n2026-11-24T10:30:00+00:00,12.70,\n"
    )
    assert list(log.time) == [0, 1800]
    assert log.water_temperature is not None
    assert np.isnan(log.water_temperature[1])


def test_a_decimal_comma_in_a_quoted_cell_is_a_decimal_comma() -> None:
    assert parse_log('elapsed [s],pressure [bar]\n0,"12,75"\n60,"12,5"\n').pressure[1] == pytest.approx(1.25e6)


def test_a_time_without_a_zone_is_taken_as_utc() -> None:
    both = parse_log("time,pressure [bar]\n2026-11-24T10:00:00,12\n2026-11-24T10:01:00Z,12\n")
    assert both.time[1] == datetime.timedelta(minutes=1).total_seconds()


def test_a_log_that_tells_nothing_of_how_it_leaks_leaves_that_as_usual_as_it_is() -> None:
    still = Log(np.arange(0, 1801, 120.0), np.full(16, 1.277e6), None)
    found = judge(still, sheet({"max_leak": "2 mL/h"}, thermometer=False, resolution="10 kPa"))
    assert found.laws == {law: pytest.approx(usual, abs=0.05) for law, usual in LAWS.items()}
