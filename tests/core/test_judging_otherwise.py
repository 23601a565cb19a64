"""Schools beside the tool's own answer, air, measured compliance, looking while it runs, and what a kit can tell."""

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from tests.core.test_judge import C, V, answer, hold, sheet
from toadbell.core.cli import main
from toadbell.core.judge.detectability import kit_of, more_hold, planned_sd
from toadbell.core.judge.hold import Asked, judge, judged_by, weighed_hold
from toadbell.core.judge.log import Log
from toadbell.core.phrases import Habit, speaking
from toadbell.core.physics.content import AirContent, Content
from toadbell.core.sheets import SheetError, read_hold_sheet

LIMIT = {"max_leak": "2 mL/h"}


def test_a_pass_by_the_gauge_that_warming_made_is_said_in_a_sentence() -> None:
    found = answer(hold(leak_ml_h=6, cooling=-0.5))
    assert found.school.met is True
    assert found.school_says is not None
    assert "Warming held it up" in found.school_says
    assert "6" in found.school_says.split("lost")[1]


def test_a_fail_by_the_gauge_that_cooling_made_says_how_many_degrees() -> None:
    found = answer(hold(cooling=0.3))
    assert found.school_says is not None
    assert found.school_says.startswith("By the gauge alone it would not pass")
    assert "0.3 °C of cooling" in found.school_says
    assert found.kelvin_to_explain == pytest.approx(0.3, rel=0.15)


def test_nothing_is_said_where_the_school_and_the_tool_agree() -> None:
    assert answer(hold()).school_says is None


def test_without_a_thermometer_the_degrees_that_nobody_measured_are_named() -> None:
    found = judge(hold(leak_ml_h=4, seen=False), sheet(LIMIT, thermometer=False))
    assert found.verdict == "cannot-tell"
    assert found.school_says is not None
    assert "which nobody measured" in found.school_says


def test_the_thermometer_may_be_left_out_to_see_what_it_was_worth() -> None:
    log = hold(cooling=0.3)
    without = judge(log, sheet(LIMIT), asked=Asked(thermometer=False))
    assert without.verdict == "cannot-tell"
    assert without.drop_from_temperature is None
    assert without.leak.high > 3 * answer(log).leak.high


def test_a_thermometer_that_jumps_while_the_needle_stands_still_is_not_believed() -> None:
    """For twenty minutes it lies in the air, 0.8 °C warmer: so much water warms and cools in no such time."""
    log = hold()
    lifted = (log.time >= 20 * 60) & (log.time < 40 * 60)
    astray = replace(log, water_temperature=log.water_temperature + np.where(lifted, 0.8, 0.0))
    believed, not_believed = judge(log, sheet(LIMIT)), judge(astray, sheet(LIMIT))
    assert believed.verdict == "tight"
    assert not_believed.verdict == "cannot-tell"
    assert not_believed.leak.high > 2 * believed.leak.high


def test_another_limit_is_answered_from_what_was_weighed_once() -> None:
    log, asked = hold(leak_ml_h=6), Asked()
    weighed = weighed_hold(log, sheet(LIMIT), asked)
    for limit in ("2 mL/h", "6 mL/h", "20 mL/h"):
        wanted = sheet({"max_leak": limit})
        assert judged_by(weighed, wanted, asked).answer == judge(log, wanted)
    assert judged_by(weighed, sheet({"max_leak": "20 mL/h"}), asked).answer.verdict == "tight"


def test_a_measured_compliance_replaces_the_computed_one_and_is_said() -> None:
    shell = {"inside_diameter": "366 mm", "wall": "3.2 mm", "material": "carbon-steel"}
    measured, computed = (
        sheet(LIMIT, shell=shell),
        read_hold_sheet({"volume": "97 L", "shell": shell, "water_temperature": "16 degC", "acceptance": LIMIT}),
    )
    assert judge(hold(), measured).compliance_from == "measured"
    assert any("strokes measured" in note for note in judge(hold(), measured).notes)
    assert judge(hold(), computed).compliance_from == "computed"


def test_every_figure_of_the_answer_has_its_line() -> None:
    found = answer(hold(leak_ml_h=6, cooling=0.2))
    lines = {line.figure: line for line in found.lines}
    assert {
        "drop",
        "drop_from_temperature",
        "compliance",
        "leak",
        "limit",
        "confidence",
        "drops_a_minute",
        "pressure_rate",
        "kelvin_to_explain",
        "smallest_leak_to_tell",
    } <= set(lines)
    assert lines["drops_a_minute"].value == pytest.approx(found.leak.estimate * 20e6 * 60)
    assert lines["leak"].shown == lines["drops_a_minute"].numbers


def test_where_none_is_told_the_equivalents_are_of_the_most_it_may_be() -> None:
    found = answer(hold())
    assert found.pressure_rate == pytest.approx(found.leak.high / C)
    assert found.drops_a_minute == pytest.approx(found.leak.high * 1.2e9)


def test_the_persons_unit_of_pressure_is_spoken() -> None:
    with speaking(Habit("psi")):
        found = judge(hold(cooling=0.3), sheet(LIMIT))
    assert found.school_says is not None
    assert " psi" in found.school_says
    assert " bar" not in found.school_says


def test_while_it_runs_it_has_to_be_surer() -> None:
    confidences = [0.0, 1.0]
    for leak in np.linspace(0.8, 3.5, 28):
        log = hold(leak_ml_h=float(leak), minutes=15)
        so_far = judge(log, sheet(LIMIT), asked=Asked(so_far=True))
        if 0.02 < so_far.confidence < 0.98 or not 0.005 < so_far.confidence < 0.995:
            continue
        confidences.append(so_far.confidence)
        assert so_far.verdict == "cannot-tell"
    assert len(confidences) > 2, "no log between the two kinds of sure was tried"


def test_tight_under_less_than_the_hold_can_show_says_what_it_rests_on() -> None:
    log = hold()
    plain = answer(log)
    finest, coarse = (f"{3.6e9 * leak:.6g} mL/h" for leak in (1.02 * plain.leak.high, 3 * plain.smallest_leak_to_tell))
    said, unsaid = (judge(log, sheet({"max_leak": limit})) for limit in (finest, coarse))
    assert said.verdict == unsaid.verdict == "tight"
    assert said.smallest_leak_to_tell > said.limit
    assert any("It is called tight because" in note for note in said.notes)
    assert not any("It is called tight because" in note for note in unsaid.notes)


def test_a_leak_that_cannot_be_told_yet_is_told_after_the_hold_that_was_asked_for() -> None:
    short = judge(hold(minutes=30, seen=False, every=120), sheet(LIMIT, thermometer=False))
    assert short.verdict == "cannot-tell"
    assert short.more_hold_needed is not None
    minutes = 30 + int(short.more_hold_needed / 60) + 60
    assert judge(hold(minutes=minutes, seen=False, every=120), sheet(LIMIT, thermometer=False)).verdict == "tight"


def test_what_would_settle_it_is_said_in_numbers() -> None:
    found = judge(hold(leak_ml_h=0.5, minutes=30, seen=False, every=120), sheet(LIMIT, thermometer=False))
    assert any(way.startswith("A hold ") and way.endswith("longer than this one.") for way in found.settle_it)
    assert any("0.1 °C" in way or "0.02 °C" in way for way in found.settle_it)


# -- air --------------------------------------------------------------------------------

DRUM = {
    "medium": "air",
    "volume": "210 L",
    "water_temperature": "18 degC",
    "gauge": {"range": "60 mbar", "resolution": "0.1 mbar"},
    "acceptance": {"max_leak": "2 L/h"},
}


def air_hold(
    leak_l_h: float = 0.0, cooling: float = 0.0, weather: float = 0.0, barometer: bool = True, minutes: int = 120
) -> Log:
    """Air in a drum at 33 mbar that leaks litres an hour, cools by K an hour, while the outer air changes by Pa an
    hour.
    """
    time = np.arange(0, minutes * 60 + 1, 120.0)
    hours = time / 3600
    warm = 291.15 - cooling * hours
    absolute = (104_625 / 291.15 - leak_l_h * 1e-3 * hours * 101_325 / 0.21 / 291.15) * warm
    outer = 101_325 + weather * hours
    gauge = np.round((absolute - outer) / 10) * 10
    return Log(time, gauge, np.round(warm, 2), None, outer if barometer else None)


def test_an_air_hold_keeps_its_pressure_over_temperature() -> None:
    wanted = read_hold_sheet({**DRUM, "thermometer": {"resolution": "0.02 delta_degC"}})
    assert judge(air_hold(cooling=0.5), wanted).verdict == "tight"
    leaking = judge(air_hold(leak_l_h=6, cooling=-0.5), wanted)
    assert leaking.verdict == "leaking"
    at_first = 6.3e-3 / 3600  # it is told at the pressure that was shut in; this one leaks on as the pressure falls
    assert leaking.leak.low < at_first < leaking.leak.high
    assert "L/h" in leaking.says


def test_a_falling_barometer_is_no_leak_where_it_was_read() -> None:
    wanted = read_hold_sheet({**DRUM, "thermometer": {"resolution": "0.02 delta_degC"}})
    seen, unseen = (judge(air_hold(weather=150, barometer=read), wanted) for read in (True, False))
    assert seen.verdict == "tight"
    assert abs(seen.drop) < 30
    assert unseen.drop == pytest.approx(300, abs=20)
    assert unseen.leak.low == 0.0  # nor is it called one where it was not
    assert unseen.leak.high > 2 * seen.leak.high


def test_a_barometer_column_is_read_from_the_file(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    log = air_hold(weather=150)
    assert log.barometer is not None
    assert log.water_temperature is not None
    rows = [
        f"{t},{p / 100:.2f},{T - 273.15:.2f},{b / 100 if i % 10 == 0 else ''}"
        for i, (t, p, T, b) in enumerate(zip(log.time, log.pressure, log.water_temperature, log.barometer, strict=True))
    ]
    (tmp_path / "h.csv").write_text(
        "elapsed [s],pressure [mbar],water_temperature [degC],barometer [hPa]\n" + "\n".join(rows)
    )
    (tmp_path / "h.json").write_text(json.dumps({**DRUM, "thermometer": {"resolution": "0.02 delta_degC"}}))
    assert main(["judge", str(tmp_path / "h.csv"), "--sheet", str(tmp_path / "h.json")]) == 0
    assert capsys.readouterr().out.startswith("Tight.")


def test_at_millibars_the_barometer_is_asked_for() -> None:
    found = judge(air_hold(barometer=False), read_hold_sheet(DRUM), asked=Asked(thermometer=False))
    assert any("barometer" in note for note in found.notes)


# -- what a kit can tell --------------------------------------------------------------------------------

RIG = Content(V, 0.0, 12e-6, 0.0, 289.15)


def test_what_can_be_told_gets_smaller_with_time_a_finer_gauge_and_a_thermometer() -> None:
    plain = kit_of(RIG, 1.275e6, 2000.0, None, 0.366)
    by_time = [planned_sd(60.0 * minutes, 60.0, plain) for minutes in (15, 30, 60, 240, 480)]
    assert by_time == sorted(by_time, reverse=True)
    seeing = kit_of(RIG, 1.275e6, 2000.0, 0.02, 0.366)
    assert planned_sd(3600.0, 60.0, seeing) < planned_sd(3600.0, 60.0, plain) / 3
    assert planned_sd(1800.0, 300.0, seeing) < planned_sd(1800.0, 300.0, kit_of(RIG, 1.275e6, 50_000.0, 0.02, 0.366))
    air = AirContent(0.21, 291.15)
    assert planned_sd(7200.0, 120.0, kit_of(air, 3300.0, 10.0, 0.02, None)) < planned_sd(
        7200.0, 120.0, kit_of(air, 3300.0, 10.0, None, None)
    )


def test_more_hold_is_none_where_it_can_be_told_and_not_known_where_no_hold_would() -> None:
    kit, guess = kit_of(RIG, 1.275e6, 2000.0, None, 0.366), {}
    sd = planned_sd(1800.0, 60.0, kit)
    assert more_hold(3 * sd, sd, 1800.0, 60.0, kit, guess) == 0.0
    more = more_hold(sd, sd, 1800.0, 60.0, kit, guess)
    assert more is not None
    assert more > 600
    assert more_hold(sd * 1e-4, sd, 1800.0, 60.0, kit, guess) is None


# -- wrong files --------------------------------------------------------------------------------

WRONG = [
    ("", "empty"),
    ("elapsed [s],pressure [bar]\n", "0 readings"),
    ("elapsed [s],pressure [bar]\n0,12\n", "1 reading"),
    ("0,12.75\n60,12.74\n120,12.73\n", "no column"),
    ("elapsed,pressure\n0,12\n60,12\n", "no unit"),
    ("elapsed [s],pressure [bar]\n0,12.75\n60,about twelve\n", "line 3"),
    ("elapsed [s],pressure [bar]\n0,12.75\n60,nan\n", "line 3"),
    ("elapsed [s],pressure [bar]\n0,12.75\n60,1.274.5\n", "line 3"),
    ("elapsed [s],pressure [litres]\n0,12\n60,12\n", "no unit of pressure"),
    ("elapsed [s],pressure [bar]\n0,0\n60,0\n120,0\n", "without pressure"),
    ("time,pressure [bar]\nyesterday,12\n", "line 2"),
    ("elapsed [s],pressure [bar]\n0,12,75\n60,12,74\n", "line 2"),
    ("\x00\x01\x02", "no column"),
]


@pytest.mark.parametrize(("text", "says"), WRONG, ids=[says + str(i) for i, (_, says) in enumerate(WRONG)])
def test_a_wrong_log_ends_with_one_line_that_says_what_is_wrong(
    text: str, says: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    (tmp_path / "h.csv").write_text(text)
    (tmp_path / "h.json").write_text(json.dumps({"volume": "97 L", "acceptance": LIMIT}))
    assert main(["judge", str(tmp_path / "h.csv"), "--sheet", str(tmp_path / "h.json")]) == 2
    error = capsys.readouterr().err
    assert error.count("\n") == 1
    assert says in error


def test_times_that_run_backwards_are_sorted_and_decimal_commas_read(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    rows = [f"{i * 60};12,{75 - i // 20}" for i in range(60)]
    (tmp_path / "h.csv").write_text("elapsed [s];pressure [bar]\n" + "\n".join(reversed(rows)))
    (tmp_path / "h.json").write_text(json.dumps({"volume": "97 L", "acceptance": {"max_leak": "1 L/h"}}))
    assert main(["judge", str(tmp_path / "h.csv"), "--sheet", str(tmp_path / "h.json"), "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["drop"] == pytest.approx(2000)


def test_ignoring_all_of_the_hold_is_refused() -> None:
    with pytest.raises(SheetError, match="fewer than two readings"):
        judge(hold(), sheet(LIMIT), asked=Asked(ignore=7200))


def test_water_near_freezing_is_judged_and_ice_refused_in_words() -> None:
    log = hold()
    assert log.water_temperature is not None
    cold = Log(log.time, log.pressure, log.water_temperature - 15.5)
    assert judge(cold, sheet(LIMIT, water_temperature="0.6 degC")).verdict in ("tight", "cannot-tell", "leaking")
    with pytest.raises(SheetError, match="liquid between 0 and 99"):
        judge(Log(log.time, log.pressure, log.water_temperature - 40), sheet(LIMIT))
