"""Gas that is held for hours: by its column or by the level of a drum, with day, weather and damp gas reckoned in.

The trials are made here from the amount of dry gas alone, by other formulas than the core's.
"""

import json
import math
from functools import cache
from pathlib import Path

import numpy as np
import pytest

from tests.core.sheets import codes
from toadbell.core.cli import main
from toadbell.core.judge.answers import JudgeAnswer
from toadbell.core.judge.hold import judge
from toadbell.core.judge.log import Log
from toadbell.core.judge.preprocess import Asked
from toadbell.core.procedures import PROCEDURES
from toadbell.core.sheets import SheetError, read_hold_sheet, read_vessel_sheet
from toadbell.core.units import ATMOSPHERE

DAY = 86_400.0
LITRE_A_DAY = 1e-3 / DAY
HEAD, VOLUME, AREA = 3300.0, 0.6, 0.5


def damp(temperature: np.ndarray) -> np.ndarray:
    """Vapour over water, Pa; Buck's equation, which the core does not use."""
    celsius = temperature - 273.15
    return 611.21 * np.exp((18.678 - celsius / 234.5) * celsius / (257.14 + celsius))


def weather(rng: np.random.Generator, steps: int, every: float) -> np.ndarray:
    """The outer air over a night, Pa: its going wanders, some 60 Pa an hour."""
    going, now, found = rng.normal(), 0.0, np.empty(steps)
    for n in range(steps):
        found[n] = now
        going += -going * every / 36_000 + math.sqrt(2 * every / 36_000) * rng.normal()
        now += 60 * going * every / 3600
    return ATMOSPHERE + rng.normal(0, 600) + found


def a_night(
    loss: float, *, drum: bool = False, seed: int = 0, pipe: float = 0.0, barometer: bool = True, said: bool = True
) -> JudgeAnswer:
    """The judge on a night of 600 L at 33 mbar that loses so much, m³/s at atmosphere, read every half hour."""
    rng, every, hours = np.random.default_rng(seed), 60.0, 14.0
    time = np.arange(int(hours * 3600 / every) + 1) * every
    swing, phase = abs(rng.normal(0, 4)), rng.uniform(0, 2 * math.pi)
    warm = 288 + swing * np.sin(2 * math.pi * time / DAY + phase) + 0.2 * np.sin(time / 900 + phase)
    outer, steam, pushes = weather(rng, len(time), every), damp(warm), math.pi / 4 * pipe**2 / 9806.65
    gas = (outer[0] + HEAD - steam[0]) * (VOLUME + pushes * HEAD) / warm[0]
    column, level = np.empty(len(time)), np.empty(len(time))
    for n in range(len(time)):
        low, high = 0.0, 4 * HEAD
        for _ in range(50):  # the column at which this much dry gas fits in
            middle = (low + high) / 2
            fits = (outer[n] + middle - steam[n]) * (VOLUME + pushes * middle) < gas * warm[n]
            low, high = (middle, high) if fits else (low, middle)
        column[n] = HEAD if drum else low
        level[n] = (gas * warm[n] / (outer[n] + HEAD - steam[n]) - VOLUME) / AREA
        gas -= loss * column[n] / HEAD * ATMOSPHERE / 288 * every
    read = slice(None, None, 30)
    felt = 288 + (warm[read] - 288) * rng.normal(1, 0.05)
    sheet = {
        "medium": "air",
        "volume": f"{VOLUME * 1000} L",
        "test_pressure": f"{HEAD} Pa",
        "gauge": {"range": "100 mbar", "resolution": "0.1 mbar"},
        "thermometer": {"resolution": "0.1 delta_degC"},
        "holder": {"by": "drum", "wide": "1 m", "long": f"{AREA} m", "makes": "250 L/day", "fed": False}
        if drum
        else {"by": "water", "across": f"{pipe} m", "fed": False}
        if pipe
        else {"by": "container", "fed": False}
        if said
        else {"fed": False},
        "acceptance": {"max_leak": "5 L/day"},
    }
    log = Log(
        time[read],
        np.round(column[read] / 10 + rng.normal(0, 0.3, len(felt))) * 10,
        np.round(felt * 10) / 10,
        None,
        np.round(outer[read] / 100) * 100 if barometer else None,
        np.round(level[read] / 1e-3 + rng.normal(0, 0.3, len(felt))) * 1e-3 if drum else None,
    )
    return judge(log, read_hold_sheet(sheet), asked=Asked(quick=True))


@cache
def nights(drum: bool) -> list[tuple[float, JudgeAnswer]]:
    """80 nights of each, a quarter of them tight; half without a barometer."""
    found = []
    for seed in range(80):
        rng = np.random.default_rng(5000 + seed)
        loss = 0.0 if seed % 4 == 0 else 5 * LITRE_A_DAY * math.exp(rng.uniform(-1.5, 1.5))
        pipe = 0.0 if drum else (0.0, 0.05, 0.11)[seed % 3]
        found.append((loss, a_night(loss, drum=drum, seed=seed, pipe=pipe, barometer=seed % 2 == 0)))
    return found


@pytest.mark.parametrize("drum", [False, True], ids=["column", "level"])
def test_the_band_of_a_night_holds_the_loss_and_it_is_hardly_ever_called_wrongly(drum: bool) -> None:
    limit = 5 * LITRE_A_DAY
    covered = sum(one.leak.low <= loss <= one.leak.high for loss, one in nights(drum))
    wrong = sum(
        (one.verdict == "tight" and loss > limit) or (one.verdict == "leaking" and loss < limit)
        for loss, one in nights(drum)
    )
    decided = sum(one.verdict != "cannot-tell" for _, one in nights(drum))
    assert covered >= 0.92 * len(nights(drum))
    assert wrong <= 0.02 * len(nights(drum))
    assert decided >= 0.25 * len(nights(drum)), "a night tells something"


def test_a_barometer_makes_the_band_narrower() -> None:
    def width(which: int) -> float:
        return float(np.median([one.leak.high - one.leak.low for _, one in nights(True)[which::2]]))

    assert width(0) < 0.7 * width(1), "every other night is read without one"


def test_water_that_the_gas_pushes_up_hides_loss_from_the_column() -> None:
    """A feed pipe of 110 mm takes up a seventh of what the column would show: it is reckoned in, or said."""
    loss = 60 * LITRE_A_DAY
    told = a_night(loss, pipe=0.11, seed=1)
    assert told.leak.low <= loss <= told.leak.high
    plain = a_night(loss, seed=1, said=False)
    assert any("pipe" in note for note in plain.notes)
    assert not any("pipe" in note for note in told.notes)


def test_gas_held_by_nobody_knows_what_is_never_called_tight() -> None:
    told = a_night(0.0, seed=5)
    unsaid = a_night(0.0, seed=5, said=False)
    assert (told.verdict, unsaid.verdict) == ("tight", "cannot-tell")
    assert "Measure that pipe" in unsaid.says


def test_the_outer_air_is_taken_out_of_what_the_column_did_and_that_is_said() -> None:
    one = a_night(0.0, seed=6)
    assert one.outer_air is not None
    assert one.seen_says.startswith(f"The outer air {'rose' if one.outer_air >= 0 else 'fell'}")
    assert "that taken out, the column" in one.seen_says
    assert a_night(0.0, seed=6, barometer=False).outer_air is None


def test_a_drum_is_told_by_its_level_by_the_day_and_against_what_is_made() -> None:
    one = a_night(30 * LITRE_A_DAY, drum=True, seed=2)
    assert one.verdict == "leaking"
    assert "L/day" in one.says
    assert "level fell" in one.seen_says
    assert one.of_make is not None
    assert one.of_make == pytest.approx(one.leak.high / (250 * LITRE_A_DAY))
    assert one.level_scale is not None
    lost = 30 * LITRE_A_DAY * one.hold / AREA
    assert abs(one.drop) * one.level_scale == pytest.approx(lost, rel=1.0), "the level is told as a level"


def sheet(**changes: object) -> dict:
    return {
        "medium": "air",
        "volume": "600 L",
        "gauge": {"range": "100 mbar", "resolution": "0.1 mbar"},
        "acceptance": {"max_leak": "5 L/day"},
        **changes,
    }


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        (
            {"holder": {"by": "drum", "across": "800 mm"}, "acceptance": {"max_drop": "1 mbar", "over": "2 h"}},
            "5 L/day",
        ),
        ({"holder": {"wide": "1 m"}}, "give both"),
        ({"holder": {"wide": "1 m", "long": "1 m", "across": "1 m"}}, "leave one of the two out"),
        ({"holder": {}, "medium": "water"}, "air"),
    ],
)
def test_a_holder_that_contradicts_itself_is_refused(changes: dict, says: str) -> None:
    with pytest.raises(SheetError, match=says):
        read_hold_sheet(sheet(**changes))


@pytest.mark.parametrize(
    ("holder", "says"),
    [({"by": "drum", "across": "800 mm"}, "level"), ({"by": "drum"}, "level")],
)
def test_a_drum_without_its_level_is_not_judged(holder: dict, says: str) -> None:
    log = Log(np.array([0.0, 3600.0, 7200.0]), np.array([3300.0, 3300.0, 3300.0]))
    with pytest.raises(SheetError, match=says):
        judge(log, read_hold_sheet(sheet(holder=holder)))


def test_the_command_line_reads_level_and_barometer(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    rows = [f"{n * 1800},22,15.0,1013,{400 - 8 * n}" for n in range(20)]
    log, told = tmp_path / "night.csv", tmp_path / "night.json"
    log.write_text(
        "elapsed [s],pressure [mbar],water_temperature [degC],barometer [hPa],level [mm]\n" + "\n".join(rows) + "\n"
    )
    told.write_text(json.dumps(sheet(holder={"by": "drum", "across": "800 mm"})))
    assert main(["judge", str(log), "--sheet", str(told), "--json"]) == 0
    answer = json.loads(capsys.readouterr().out)
    loss = math.pi / 4 * 0.8**2 * 0.008 / 1800 * (ATMOSPHERE + 2200) / ATMOSPHERE
    assert answer["leak"]["estimate"] == pytest.approx(loss, rel=0.05)
    assert answer["verdict"] == "leaking"


def plan_of(**changes: object) -> dict:
    return {"kind": "digester", "working_pressure": "22 cm water", "basis": "gas-head", "volume": "600 L", **changes}


def test_a_gas_head_is_planned_with_its_settling_its_column_and_its_seal() -> None:
    answer = PROCEDURES["gas-head"].plan(read_vessel_sheet(plan_of(relief_set="30 cm water")))
    assert answer.procedure == "gas-head"
    assert answer.test_pressure == pytest.approx(1.5 * 0.22 * 9806.65, rel=1e-3)
    assert answer.hold.settle == pytest.approx(2700.0), "half an hour, more for so much gas"
    assert "seal-blows" in codes(answer.cautions)
    assert "barometer" in codes(answer.cautions)
    told = PROCEDURES["gas-head"].plan(
        read_vessel_sheet(plan_of(barometer=True, holder={"by": "water", "across": "110 mm"}))
    )
    assert not {"barometer", "gas-holder", "seal-blows"} & codes(told.cautions)
    assert told.compliance is not None
    assert answer.compliance is not None
    assert told.compliance > answer.compliance, "what the water gives way takes gas too"


def test_a_plan_with_a_barometer_tells_a_smaller_loss() -> None:
    def tells(**more: object) -> float:
        kit = {
            "gauge": {"range": "100 mbar", "resolution": "0.1 mbar"},
            "thermometer": {"resolution": "0.1 delta_degC"},
            "hold": {"minimum": "14 h", "every": "30 min"},
            "acceptance": {"max_leak": "5 L/day"},
        }
        answer = PROCEDURES["gas-head"].plan(read_vessel_sheet(plan_of(**kit, **more)))
        assert answer.hold.smallest_leak is not None
        return answer.hold.smallest_leak

    assert tells(barometer=True) < 0.7 * tells()
    assert tells(barometer=True, holder={"by": "drum", "across": "800 mm"}) > 0
