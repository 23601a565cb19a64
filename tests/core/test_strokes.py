"""The strokes as an instrument: on random fills of the simulated rig the bands cover the truth, and yielding is called
in time, never in vain.
"""

import functools
import json
from dataclasses import dataclass
from pathlib import Path

import numpy as np
import pytest

from tests.core.sheets import RECEIVER
from toadbell.core.bench import rig as simulated
from toadbell.core.bench.rig_parts import Dial, Leak, Probe, Room, Source, Wall
from toadbell.core.bench.stroke_answers import StrokesAnswer
from toadbell.core.bench.stroke_words import failed
from toadbell.core.bench.strokes import StrokeLog, judge_strokes
from toadbell.core.cli import main
from toadbell.core.phrases import Habit, speaking
from toadbell.core.sheets import SheetError, VesselSheet, read_vessel_sheet
from toadbell.core.vessel.content import content_of

pytestmark = pytest.mark.xdist_group("random-fills")  # made once, by one worker

TEST = 1.275e6
FILLS = 80


@dataclass(frozen=True)
class Fill:
    """A rig with its truth, and the sheet that a maker would have of it."""

    rig: simulated.Rig
    sheet: VesselSheet
    thermometer: bool
    air: float
    stiffness: float
    strokes: float  # expected to the test pressure


def random_fill(seed: int, yields: bool = False) -> Fill:
    """Vessels of 3 to 200 L, air from 0.01 to 0.5 %, coarse and fine gauges, scattering strokes, leaks and rooms that
    are not at rest.
    """
    rng = np.random.default_rng(seed)
    volume = rng.uniform(3e-3, 0.2)
    air = volume * 10 ** rng.uniform(-4, -2.3)
    shell = read_vessel_sheet(RECEIVER).shell
    content = content_of(volume, shell, air, 289.15)
    stiffness = content.stiff_part(TEST / 2)
    a_bar = rng.uniform(3, 8) if yields else rng.uniform(0.7, 8)
    stroke = stiffness * 1e5 / a_bar
    step = rng.choice([1e3, 5e3, 1e4] if yields else [1e3, 5e3, 1e4, 2.5e4])
    rig = simulated.rig_for(
        content,
        TEST,
        source=Source(stroke * rng.normal(1, 0.01), 6e6, scatter=rng.uniform(0, 0.03)),
        gauge=Dial(step, step * rng.uniform(0.05, 0.3), sticking=step * rng.uniform(0, 0.3)),
        probe=Probe(0.1),
        water=289.15,
        room=Room(289.15 + rng.normal(0, 2), rng.normal(0, 1) / 3600),
        lag=rng.uniform(3000, 20_000),
        leaks=(Leak(rng.choice([0, 0, 5e-6, 20e-6]) / 3600, TEST),),
        wall=Wall(rng.uniform(0.5, 0.8) * TEST if yields else None, softening=rng.uniform(1.0, 2.5)),
        seed=seed,
    )
    sheet = {key: value for key, value in RECEIVER.items() if key != "trapped_air"}
    kit = {"pump": {"stroke": f"{stroke * 1e6} mL"}, "gauge": {"range": "25 bar", "resolution": f"{step / 1e5} bar"}}
    return Fill(
        rig,
        read_vessel_sheet({**sheet, **kit, "volume": f"{volume * 1e3} L"}),
        bool(rng.random() < 0.5),
        air,
        stiffness,
        a_bar * TEST / 1e5,
    )


def raising(fill: Fill, top: float = TEST):  # type: ignore[no-untyped-def]
    """The log after each few strokes, as it grows, with the rig's state; a pause at each quarter."""
    rig, stroke = fill.rig, fill.sheet.pump.stroke  # type: ignore[union-attr]
    state, rows, due = simulated.close_vent(simulated.at_start(rig)), [], [0.25 * TEST, 0.5 * TEST, 0.75 * TEST]
    at_once = max(1, int(fill.strokes / 50))
    while True:
        rows.append(
            (
                simulated.read_gauge(rig, state),
                state.strokes * stroke,
                state.time,
                simulated.read_thermometer(rig, state),
            )
        )
        p, v, t, warm = (np.array(column, dtype=float) for column in zip(*rows, strict=True))
        yield StrokeLog(p, v, t, warm if fill.thermometer else None), state
        if simulated.pressure(rig, state) >= top:
            return
        if due and simulated.pressure(rig, state) > due[0]:
            due.pop(0)
            state = simulated.advance(rig, state, state.time + 60)
            continue
        state = simulated.advance(rig, simulated.pump(state, at_once), state.time + 2 * at_once + 3)


@functools.cache
def raised() -> list[tuple[Fill, StrokesAnswer]]:
    """Random elastic fills, each raised to the test pressure and judged."""
    fills = [random_fill(seed) for seed in range(FILLS)]
    return [(fill, judge_strokes(list(raising(fill))[-1][0], fill.sheet)) for fill in fills]


@pytest.fixture
def answers() -> list[tuple[Fill, StrokesAnswer]]:
    """Those, judged once."""
    return raised()


def covered(pairs: list) -> float:  # type: ignore[type-arg]
    return sum(estimate.low <= truth <= estimate.high for estimate, truth in pairs) / len(pairs)


@pytest.mark.xdist_group("raisings")
def test_the_band_of_the_air_covers_the_truth(answers: list[tuple[Fill, StrokesAnswer]]) -> None:
    assert covered([(answer.air, fill.air) for fill, answer in answers]) >= 0.9


@pytest.mark.xdist_group("raisings")
def test_the_band_of_the_compliance_covers_the_truth(answers: list[tuple[Fill, StrokesAnswer]]) -> None:
    assert covered([(answer.compliance, fill.stiffness) for fill, answer in answers]) >= 0.9


@pytest.mark.xdist_group("raisings")
def test_the_bands_are_worth_having(answers: list[tuple[Fill, StrokesAnswer]]) -> None:
    fine = [(f, a) for f, a in answers if f.sheet.gauge.readable <= 5e3 and f.strokes > 20]  # type: ignore[union-attr, operator]
    assert np.median([(a.compliance.high - a.compliance.low) / 2 / f.stiffness for f, a in fine]) < 0.15  # type: ignore[union-attr]
    airy = [(f, a) for f, a in fine if f.air > 1e-3 * a.air_limit * 1e3]  # type: ignore[operator]
    assert np.median([(a.air.high - a.air.low) / 2 / f.air for f, a in airy]) < 0.2  # type: ignore[union-attr]


@pytest.mark.xdist_group("raisings")
def test_no_elastic_run_is_called_yielding(answers: list[tuple[Fill, StrokesAnswer]]) -> None:
    assert [fill.rig.seed for fill, answer in answers if answer.state == "yielding"] == []


def test_nor_is_one_on_the_way_up_however_often_it_is_looked_at() -> None:
    for seed in range(1000, 1008):
        fill = random_fill(seed)
        for log, _ in list(raising(fill))[::2]:
            assert judge_strokes(log, fill.sheet).state != "yielding", seed


def test_yielding_is_called_before_the_strokes_per_bar_are_one_and_a_half_times_the_straight_parts() -> None:
    for seed in range(2000, 2010):
        fill = random_fill(seed, yields=True)
        yields_at = fill.rig.wall.yields_at
        assert yields_at is not None
        for log, state in raising(fill, top=2 * TEST):
            now = simulated.pressure(fill.rig, state)
            softer = 1 + fill.rig.wall.softening * max(0.0, now - yields_at) / yields_at
            answer = judge_strokes(log, fill.sheet)
            if answer.state == "yielding":
                assert now > yields_at, seed
                break
            assert softer < 1.5, seed


# -- in words, and from a file --------------------------------------------------------------------------------


def plain_log(air: float, top: float = TEST, give: float = 1e-10) -> StrokeLog:
    """A log by the formula itself: water and wall of so many m³/Pa, air at atmosphere, m³."""
    pressure = np.linspace(0, top, 30)
    return StrokeLog(pressure, give * pressure + air * pressure / (pressure + 101_325))


def test_the_figures_are_those_the_log_was_made_of() -> None:
    answer = judge_strokes(plain_log(8e-5), read_vessel_sheet(RECEIVER))
    assert answer.air is not None
    assert answer.compliance is not None
    assert answer.air.estimate == pytest.approx(8e-5, rel=0.03)
    assert answer.compliance.estimate == pytest.approx(1e-10, rel=0.03)
    assert answer.state == "straight"
    assert answer.says.startswith("Air still inside 8")
    assert {line.figure for line in answer.lines} == {"air", "compliance", "ratio", "air_limit", "expected_compliance"}
    with speaking(Habit("psi")):
        psi = judge_strokes(plain_log(8e-5), read_vessel_sheet(RECEIVER))
    assert [line.value for line in psi.lines] == [line.value for line in answer.lines]
    assert psi.lines[1].shown.endswith("mL/psi")


def test_air_over_the_limit_is_said_with_what_to_do() -> None:
    answer = judge_strokes(plain_log(4e-4), read_vessel_sheet(RECEIVER))
    assert answer.state == "air"
    assert "over the limit of 97" in answer.says
    assert "open the vent" in answer.settle_it[0]


def test_twice_the_strokes_a_bar_at_the_top_is_yielding_whatever_the_fit_says() -> None:
    log = plain_log(2e-5)
    softer = StrokeLog(log.pressure, log.pumped + np.maximum(log.pressure - 1e6, 0) * 1.2e-10)
    answer = judge_strokes(softer, read_vessel_sheet(RECEIVER))
    assert answer.state == "yielding"
    assert answer.ratio is not None
    assert failed(answer)
    assert "this trial has failed" in answer.says
    assert answer.onset is None or answer.onset.pressure in [
        line.value for line in answer.lines if line.figure == "onset"
    ]
    assert "yielding" in answer.says or "giving way" in answer.says


def test_a_few_strokes_say_that_they_are_too_few() -> None:
    answer = judge_strokes(StrokeLog(np.array([0.0, 1e5]), np.array([0.0, 24e-6])), read_vessel_sheet(RECEIVER))
    assert answer.state == "too-few"
    assert answer.air is None
    assert len(answer.expected) == 25


@pytest.mark.parametrize(
    ("change", "field"),
    [({"medium": "air"}, "medium"), ({"pump": None}, "pump.stroke"), ({"shell": None, "ends": []}, "volume")],
)
def test_what_the_sheet_lacks_is_named(change: dict, field: str) -> None:
    with pytest.raises(SheetError) as problem:
        judge_strokes(plain_log(5e-5), read_vessel_sheet({**RECEIVER, **change}))
    assert problem.value.field == field


def run(tmp_path: Path, text: str, *more: str) -> int:
    """`toadbell strokes` on a file."""
    (tmp_path / "raising.csv").write_text(text)
    (tmp_path / "sheet.json").write_text(json.dumps(RECEIVER))
    return main(["strokes", str(tmp_path / "raising.csv"), "--sheet", str(tmp_path / "sheet.json"), *more])


def test_the_command_reads_strokes_or_a_volume_and_answers_in_si(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    rows = plain_log(8e-5)
    counted = "".join(f"{v / 12e-6:.2f},{p / 1e5:.3f}\n" for v, p in zip(rows.pumped, rows.pressure, strict=True))
    metered = "".join(f"{v * 1e6:.2f},{p / 6894.757:.3f}\n" for v, p in zip(rows.pumped, rows.pressure, strict=True))
    assert run(tmp_path, "strokes,pressure [bar]\n" + counted, "--json") == 0
    one = json.loads(capsys.readouterr().out)
    assert run(tmp_path, "pumped [mL],pressure [psi]\n" + metered, "--json") == 0
    other = json.loads(capsys.readouterr().out)
    assert one["air"]["estimate"] == pytest.approx(8e-5, rel=0.03) == other["air"]["estimate"]
    assert "with" in one["lines"][0]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "empty"),
        ("pressure [bar]\n1\n2\n", "strokes"),
        ("strokes,pressure [bar]\n1,one\n", "line 2"),
        ("strokes,pressure\n1,1\n", "no unit"),
        ("strokes,pressure [bar]\n3,1\n2,2\n", "line 3: the strokes go back"),
    ],
)
def test_a_log_that_cannot_be_read_ends_with_one_line(
    tmp_path: Path, capsys: pytest.CaptureFixture[str], text: str, says: str
) -> None:
    assert run(tmp_path, text) == 2
    error = capsys.readouterr().err
    assert says in error
    assert error.count("\n") == 1
