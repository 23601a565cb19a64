"""Volumetric expansion: what a vessel keeps of what it gave, and the mean wall that gives so much.

The trials here are simulated by other means than the judge reckons by: a shell as two stressed strips, water by its
density at both pressures, a permanent part, instruments that round, a room that warms.
"""

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from toadbell.core.cli import main
from toadbell.core.judge.again import Proof, beside
from toadbell.core.judge.expansion import ExpansionAnswer, judge_expansion
from toadbell.core.physics.water import water_density
from toadbell.core.sheets import SheetError, read_expansion_sheet

E, NU, ALPHA = 200e9, 0.3, 12e-6
BOTTLE = {
    "kind": "receiver",
    "working_pressure": "10 bar",
    "shell": {
        "form": "cylinder",
        "inside_diameter": "180 mm",
        "length": "420 mm",
        "wall": "1.6 mm",
        "wall_measured": True,
        "material": "carbon-steel",
    },
    "ends": [{"form": "ellipsoidal", "wall": "1.6 mm"}, {"form": "ellipsoidal", "wall": "1.6 mm"}],
    "trapped_air": "0 L",
    "water_temperature": "16 degC",
}


def judged(vessel: dict[str, Any] | None = None, pressure: str = "20 bar", **read: Any) -> ExpansionAnswer:
    """An expansion trial of that bottle."""
    sheet = {"procedure": "expansion", "vessel": vessel or BOTTLE, "pressure": pressure, **read}
    return judge_expansion(read_expansion_sheet(sheet))


def grows(volume: float, diameter: float, wall: float, pressure: float) -> float:
    """By which a closed cylinder grows, m³: two strips pulled apart, hoop and length, to the second order."""
    hoop = pressure * diameter / (2 * wall)
    along = hoop / 2
    wider, longer = (hoop - NU * along) / E, (along - NU * hoop) / E
    return volume * ((1 + wider) ** 2 * (1 + longer) - 1)


def jacket(before: float, at: float, after: float, step: float = 0.1) -> dict[str, str]:
    """A burette's readings, mL."""
    return {"before": f"{before} mL", "at": f"{at} mL", "after": f"{after} mL", "step": f"{step} mL"}


def test_a_jackets_burette_is_the_growth_itself() -> None:
    found = judged(jacket=jacket(10, 24, 10.8))
    assert found.total is not None
    assert found.permanent is not None
    assert found.ratio is not None
    assert found.total.estimate == pytest.approx(14e-6)
    assert found.permanent.estimate == pytest.approx(0.8e-6)
    assert found.ratio.estimate == pytest.approx(0.8 / 14)
    assert found.ratio.low < found.ratio.estimate < found.ratio.high < found.limit  # type: ignore[operator]
    assert {line.figure for line in found.lines} >= {"total", "permanent", "ratio", "mean_wall"}


def test_a_level_in_a_tank_tells_the_same_as_a_burette() -> None:
    area = math.pi / 4 * 0.05**2
    mm = [
        f"{10e-6 / area * 1e3 + 100:.4f} mm",
        f"{24e-6 / area * 1e3 + 100:.4f} mm",
        f"{10.8e-6 / area * 1e3 + 100:.4f} mm",
    ]
    levels = {"tank": "50 mm", "before": mm[0], "at": mm[1], "after": mm[2], "step": "0.05 mm"}
    by_level, by_burette = judged(levels=levels), judged(jacket=jacket(10, 24, 10.8))
    assert by_level.total is not None
    assert by_burette.total is not None
    assert by_level.total.estimate == pytest.approx(by_burette.total.estimate, rel=1e-3)


def test_water_in_is_freed_of_what_water_hose_and_air_took_up() -> None:
    """13 L at 20 bar and 16 °C: the density of water at both pressures tells the same as the judge's integral."""
    grown, hose, air = 14e-6, 0.2e-3, 5e-6
    empty = judged(water={"into": "30 mL", "back": "30 mL", "step": "0.1 mL"})
    line = next(one for one in empty.lines if one.figure == "compressed")
    assert line.value is not None
    took = water_density(289.15, 20e5) / water_density(289.15, 0.0) - 1
    inside = line.value / took
    with_all = judged(
        {**BOTTLE, "trapped_air": "5 mL"},
        water={
            "into": f"{(grown + (inside + hose) * took + air * 20 / 21.01325) * 1e6:.4f} mL",
            "back": "30 mL",
            "step": "0.1 mL",
            "hose": "0.2 L",
        },
    )
    assert with_all.total is not None
    assert with_all.total.estimate == pytest.approx(grown, rel=2e-3)


def test_warmth_between_two_readings_is_no_permanent_set() -> None:
    """A quarter of a degree of warming drives out water that looks as if it came back, cooling keeps some."""
    told = {"before": "16 degC", "at": "16.1 degC", "after": "15.75 degC"}
    water = {"into": "32 mL", "back": "31.4 mL", "step": "0.1 mL"}
    blind, seeing = (
        judged(water=water),
        judged({**BOTTLE, "thermometer": {"resolution": "0.02 delta_degC"}}, water=water, temperatures=told),
    )
    assert blind.permanent is not None
    assert seeing.permanent is not None
    assert blind.permanent.estimate == pytest.approx(0.6e-6)
    assert seeing.permanent.estimate < 0.3e-6  # the most of it was the water's own shrinking
    assert blind.permanent.high - blind.permanent.low > 2 * (seeing.permanent.high - seeing.permanent.low)  # type: ignore[operator]


def test_a_tenth_is_let_pass_of_metal_and_half_of_that_of_fibre() -> None:
    fibre = {"kind": "chamber", "working_pressure": "10 bar", "volume": "1 L", "trapped_air": "0 L"}
    shell = {
        "form": "cylinder",
        "inside_diameter": "54 mm",
        "length": "420 mm",
        "wall": "2.4 mm",
        "material": "glass-fibre",
    }
    assert judged(jacket=jacket(0, 14, 0.8)).answer == "met"
    assert judged(jacket=jacket(0, 14, 2.2)).answer == "not met"
    assert judged({**fibre, "shell": shell}, jacket=jacket(0, 14, 1.2)).answer == "not met"


def test_what_is_not_measured_or_not_told_is_never_met() -> None:
    assert judged().answer == "cannot-tell"
    assert judged(water={"into": "32 mL", "step": "0.1 mL"}).answer == "cannot-tell"
    assert judged(jacket=jacket(0, 14, 1.0, step=2)).answer == "cannot-tell"
    assert (
        judged(water={"into": "5 mL", "back": "5 mL", "step": "0.1 mL"}).answer == "cannot-tell"
    )  # less than water takes
    no_size = {"kind": "receiver", "working_pressure": "10 bar"}
    assert judged(no_size, water={"into": "32 mL", "back": "32 mL", "step": "0.1 mL"}).answer == "cannot-tell"


def test_less_said_never_means_safer() -> None:
    """Air that nobody stated, strokes instead of a measure, and no temperatures only widen what may be."""
    water = {"into": "25.6 mL", "back": "24.7 mL", "step": "0.1 mL"}
    told = {"before": "16 degC", "at": "16 degC", "after": "16 degC"}
    knows = judged(water=water, temperatures=told, air_doubt="0.1 mL")
    assert knows.ratio is not None
    without = {key: value for key, value in BOTTLE.items() if key != "trapped_air"}
    for less in (
        judged(without, water=water, temperatures=told),
        judged(water=water),
        judged(water={**water, "by": "strokes", "stroke": "2 mL"}, temperatures=told),
    ):
        assert less.ratio is not None
        assert less.ratio.high is None or less.ratio.high > knows.ratio.high  # type: ignore[operator]
        assert less.answer != "met" or knows.answer == "met"


def test_what_cannot_be_is_said_and_never_passes() -> None:
    """More back than in, or a girth that shrank, is a slip of a reading and no proof."""
    told = {"before": "16 degC", "at": "16 degC", "after": "16 degC"}
    back = judged(water={"into": "32 mL", "back": "40 mL", "step": "0.1 mL"}, temperatures=told)
    assert (back.answer, back.checks[0].state) == ("cannot-tell", "not known")
    assert "more came back than went in" in back.says
    girth = {"place": "middle", "before": "575.6 mm", "at": "576.1 mm", "after": "573.0 mm"}
    shrunk = judged(girths=[girth], tape="0.2 mm")
    assert shrunk.answer == "cannot-tell"
    assert "tape slipped" in shrunk.checks[1].says
    assert judged(jacket=jacket(10, 24, 6)).answer == "cannot-tell"


@pytest.mark.parametrize(
    "changes",
    [
        {"ends": [{"form": "flat", "wall": "3 mm"}, {"form": "flat", "wall": "3 mm"}]},
        {"tubes": [{"count": 7, "outside_diameter": "12 mm", "wall": "1 mm"}]},
    ],
)
def test_of_a_shape_that_is_no_plain_shell_no_mean_wall_is_told(changes: dict[str, Any]) -> None:
    found = judged({**BOTTLE, **changes}, jacket=jacket(0, 31, 0.4))
    assert found.mean_wall is None
    assert [one.code for one in found.checks] == ["kept"]


def test_water_swells_as_it_does_at_the_temperature_that_was_read() -> None:
    """Half a kelvin cooler 12.2 L at 40 °C shrink by 0.5 K x 12.2 L x (3.85e-4 - 3.6e-5) = 2.13 mL, at 16 °C by 0.8."""
    water = {"into": "25.6 mL", "back": "21.1 mL", "step": "0.1 mL"}
    told = {"before": "40 degC", "at": "40 degC", "after": "39.5 degC"}
    vessel = {**BOTTLE, "thermometer": {"resolution": "0.02 delta_degC"}}
    found = judged(vessel, water=water, temperatures=told, air_doubt="0.1 mL")
    assert found.permanent is not None
    assert found.permanent.estimate == pytest.approx(4.5e-6 - 2.13e-6, abs=0.03e-6)
    assert found.answer == "not met"


def test_what_more_went_in_than_the_wall_can_give_is_airs_and_makes_no_small_ratio() -> None:
    """The wall gives 13.05 mL at 20 bar (thin shell): 20 mL more went in, and 2 mL stayed: 15 %, and not 2 of 35."""
    told = {"before": "16 degC", "at": "16 degC", "after": "16 degC"}
    for vessel in (BOTTLE, {key: value for key, value in BOTTLE.items() if key != "trapped_air"}):
        found = judged(vessel, water={"into": "46 mL", "back": "44 mL", "step": "0.1 mL"}, temperatures=told)
        assert found.answer != "met"
        assert found.ratio is not None
        assert found.ratio.high is None or found.ratio.high > 0.12
    flat = {**BOTTLE, "ends": [{"form": "flat", "wall": "30 mm"}] * 2}
    unsaid = {key: value for key, value in flat.items() if key != "trapped_air"}
    open_ = judged(unsaid, water={"into": "46 mL", "back": "45.9 mL", "step": "0.1 mL"}, temperatures=told)
    assert (open_.answer, open_.ratio and open_.ratio.high) == ("cannot-tell", None)  # nothing bounds what air took


def test_measured_below_the_pressure_of_its_proof_it_says_nothing_above() -> None:
    good = jacket(0, 14, 0.8)
    assert judged(jacket=good, asked="20 bar").answer == "met"
    low = judged(jacket=good, asked="25 bar")
    assert low.answer == "cannot-tell"
    assert "says nothing above" in low.says
    assert any("25 bar" in one for one in low.settle_it)
    assert "20 bar" in judged(jacket=good).says


def test_air_that_is_known_badly_widens_what_it_gave() -> None:
    water = {"into": "25.6 mL", "back": "24.7 mL", "step": "0.1 mL"}
    well, badly = judged(water=water, air_doubt="0.1 mL"), judged(water=water, air_doubt="3 mL")
    assert well.total is not None
    assert badly.total is not None
    assert badly.total.estimate == well.total.estimate
    assert badly.total.high - badly.total.low > 3 * (well.total.high - well.total.low)  # type: ignore[operator]


def test_a_wall_thinner_than_anywhere_it_was_measured_is_said_and_does_not_pass() -> None:
    found = judged(jacket=jacket(0, 31, 0.4))
    assert found.answer == "not met"
    assert "Thinner than anywhere it was measured" in found.says
    unmeasured = {**BOTTLE, "shell": {**BOTTLE["shell"], "wall_measured": False}}  # type: ignore[dict-item]
    assert [one.code for one in judged(unmeasured, jacket=jacket(0, 31, 0.4)).checks] == ["kept"]


def test_girths_by_tape_stand_in_where_no_volume_was_read() -> None:
    girth = {"place": "middle", "before": "575.60 mm", "at": "576.10 mm", "after": "575.60 mm"}
    assert judged(girths=[girth], tape="0.2 mm").answer == "cannot-tell"  # a tenth of half a millimetre
    found = judged(girths=[girth], tape="0.02 mm")
    assert found.answer == "met"
    assert found.girths[0].strain == pytest.approx(0.5 / 575.6)
    assert found.girths[0].computed == pytest.approx(2e6 * 0.09 * (1 - NU / 2) / (1.6e-3 * E), rel=0.02)
    bulged = {"place": "weld", "before": "575.6 mm", "at": "579 mm", "after": "577.4 mm"}
    assert judged(girths=[girth, bulged], tape="0.2 mm").answer == "not met"
    assert judged(girths=[girth, {**bulged, "after": None}], tape="0.2 mm").answer == "cannot-tell"


def test_girths_never_stand_in_for_a_volume_that_was_read_and_left_it_open() -> None:
    girth = {"place": "middle", "before": "575.6 mm", "at": "576.1 mm", "after": "575.6 mm"}
    assert judged(girths=[girth], tape="0.2 mm", jacket=jacket(0, 14, 1.0, step=2)).answer == "cannot-tell"


def test_over_random_trials_the_bands_hold_and_hardly_an_answer_is_wrong() -> None:
    rng = np.random.default_rng(21)
    walls = ratios = wrong = decided = runs = 0
    for _ in range(400):
        diameter, length = rng.uniform(0.1, 0.4), rng.uniform(0.3, 1.0)
        wall = diameter * rng.uniform(0.006, 0.03)
        pressure = rng.uniform(0.3, 0.85) * 235e6 * 2 * wall / diameter
        volume = math.pi / 4 * diameter**2 * length + math.pi / 12 * diameter**3
        elastic = grows(volume, diameter, wall, pressure) * (1 + rng.normal(0, 0.04))
        part = float(rng.choice([0.0, rng.uniform(0, 0.08), rng.uniform(0.12, 0.3)]))
        kept = elastic * part / (1 - part)
        warmed, thermometer = rng.normal(0, 0.15, 2), bool(rng.random() < 0.5)
        step = (elastic + kept) * float(np.exp(rng.uniform(np.log(0.002), np.log(0.1))))

        def read(value: float, step: float = step) -> str:
            return f"{round((value + rng.normal(0, 0.3 * step)) / step) * step * 1e6:.6f} mL"

        shell = {
            "form": "cylinder",
            "inside_diameter": f"{diameter * 1e3:.3f} mm",
            "length": f"{length * 1e3:.3f} mm",
            "material": "carbon-steel",
        }
        vessel = {
            **BOTTLE,
            "shell": shell,
            "thermometer": {"resolution": "0.02 delta_degC"},
            "ends": [{"form": "ellipsoidal"}] * 2,
        }
        more: dict[str, Any] = {}
        if rng.random() < 0.5:
            more["jacket"] = {
                "before": read(elastic),
                "at": read(2 * elastic + kept),
                "after": read(elastic + kept),
                "step": f"{step * 1e6:.6f} mL",
                "water": "1 mL",
            }
        else:
            took = volume * (water_density(289.15, pressure) / water_density(289.15, 0.0) - 1)
            per_kelvin = volume * (1.6e-4 - 3 * ALPHA)
            into = elastic + kept + took - per_kelvin * warmed[0]
            back = into - kept + per_kelvin * warmed[1]
            more["water"] = {"into": read(into), "back": read(max(back, 1e-9)), "step": f"{step * 1e6:.6f} mL"}
            if thermometer:
                times = ("before", 0.0), ("at", warmed[0]), ("after", warmed[1])
                more["temperatures"] = {name: f"{16 + round(t / 0.02) * 0.02:.2f} degC" for name, t in times}
        found = judged(vessel, f"{pressure / 1e5:.5f} bar", **more)
        runs += 1
        if found.ratio is not None:
            high = math.inf if found.ratio.high is None else found.ratio.high
            ratios += found.ratio.low <= part <= high  # type: ignore[operator]
        else:
            ratios += 1
        if found.mean_wall is not None:
            high = math.inf if found.mean_wall.high is None else found.mean_wall.high
            walls += found.mean_wall.low <= wall <= high  # type: ignore[operator]
        else:
            walls += 1
        wrong += found.answer == ("not met" if part <= 0.1 else "met")
        decided += found.answer != "cannot-tell"
    assert ratios >= 0.92 * runs
    assert walls >= 0.92 * runs
    assert wrong <= 0.02 * runs
    assert decided > 0.5 * runs


def test_the_command_line_judges_the_log_of_an_expansion_trial(capsys: pytest.CaptureFixture[str]) -> None:
    demo = str(Path(__file__).parents[2] / "demo" / "expansion.json")
    assert main(["judge", demo]) == 0
    assert capsys.readouterr().out.startswith("It came back from 18.4 bar: 6 % of what it gave stayed")
    assert main(["judge", demo, "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert (told["answer"], told["checks"][0]["state"]) == ("met", "met")
    assert told["ratio"]["low"] < told["ratio"]["estimate"] < told["ratio"]["high"]


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"pressure": None}, "pressure"),
        ({"jacket": {"before": "1 mL", "step": 2}}, "no unit"),
        ({"water": {"into": "1 mL", "step": "1 mL", "by": "strokes"}}, "one stroke moves"),
        ({"girths": [{"place": "a", "before": "1 m"}]}, "tape"),
        (
            {"jacket": jacket(0, 1, 0), "levels": {"tank": "1 m", "before": "1 mm", "step": "1 mm"}},
            "leave one of the two",
        ),
    ],
)
def test_a_log_that_cannot_be_is_refused_with_its_field(changes: dict[str, Any], says: str) -> None:
    sheet = {"procedure": "expansion", "vessel": BOTTLE, "pressure": "20 bar", **changes}
    with pytest.raises(SheetError, match=says):
        read_expansion_sheet(sheet)


@pytest.mark.parametrize(
    ("first", "second", "pressure", "answer", "says"),
    [
        (0.9, 0.0, 20, "met", ""),  # it settled
        (0.9, 0.3, 20, "met", ""),
        (0.9, 0.9, 20, "not met", "goes on"),
        (0.9, 0.9, 24, "cannot-tell", "is let pass"),  # at more pressure it may keep something; not both together
        (0.6, 0.6, 24, "met", ""),
        (0.0, 0.9, 20, "met", ""),  # nothing was kept before that it could go on with
    ],
)
def test_a_wall_that_settled_keeps_nothing_the_second_time(
    first: float, second: float, pressure: float, answer: str, says: str
) -> None:
    """Two proofs read by a burette, mL that stayed of the 14 that it gave; each by itself keeps under a tenth."""
    before = judged(jacket=jacket(10, 24, 10 + first, 0.05))
    now = judged(jacket=jacket(10, 24, 10 + second, 0.05), pressure=f"{pressure} bar")
    assert (before.answer, now.answer) == ("met", "met")
    found = beside(Proof(2, pressure * 1e5, now), Proof(1, 20e5, before))
    assert found.answer == answer
    assert says in found.says
    assert bool(found.settle_it) == (answer == "cannot-tell")
    assert ("again" in {one.code for one in found.checks}) == (answer != "met")
