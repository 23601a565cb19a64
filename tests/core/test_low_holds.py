"""Low holds: a run of several stretches that were shut in is judged as one, and the drift that hides a leak is measured
by the gauge that is already there.
"""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from toadbell.core.judge.detectability import TELL, LowHolds, kit_of, planned_sd
from toadbell.core.judge.hold import judge
from toadbell.core.judge.log import Log, parse_log
from toadbell.core.judge.preprocess import Asked
from toadbell.core.judge.stretches import cut
from toadbell.core.physics.content import Content
from toadbell.core.sheets import SheetError, read_hold_sheet
from tools.random_holds import random_hold

pytestmark = pytest.mark.xdist_group("low holds")
ML_H = 1e-6 / 3600
TANK = {
    "volume": "24 L",
    "shell": {"inside_diameter": "231 mm", "wall": "3.9 mm", "material": "stainless-304"},
    "trapped_air": "0 L",
    "water_temperature": "15 degC",
    "gauge": {"range": "16 bar", "resolution": "0.05 bar"},
    "acceptance": {"max_leak": "2 mL/h"},
}
COMPLIANCE = 1.82e-11
"""Of that tank, m³/Pa."""
STRETCHES = ((0, 600, 2e5), (900, 2700, 8e5), (3000, 3600, 2e5))


def run(leak: float, drift: float) -> Log:
    """A dial read every two minutes through a low hold, the test hold and a low hold again.

    leak   at the test hold's pressure, m³/s, in proportion to the pressure
    drift  of the pressure by warmth alone, Pa/s
    """
    times, pressures = [], []
    for began, ended, pressure in STRETCHES:
        for time in np.arange(began, ended + 1, 120.0):
            fall = (leak * pressure / 8e5 / COMPLIANCE - drift) * (time - began)
            times.append(time)
            pressures.append(round((pressure - fall) / 5e3) * 5e3)
    return Log(np.array(times), np.array(pressures))


def holds(*rows: tuple[str, int, int]) -> list[dict[str, str]]:
    """As the sheet writes them."""
    return [{"role": role, "from": f"{began} s", "to": f"{ended} s"} for role, began, ended in rows]


ALL = holds(("low", 0, 600), ("test", 900, 2700), ("low", 3000, 3600))


def judged(log: Log, stretches: list[dict[str, str]]) -> Any:
    """The verdict on a run."""
    return judge(log, read_hold_sheet({**TANK, "holds": stretches}))


@pytest.mark.parametrize("leak", [0.0, 6 * ML_H])
def test_what_a_dial_alone_cannot_tell_its_low_holds_decide(leak: float) -> None:
    log = run(leak, -12.0)
    alone, both = judged(log, holds(("test", 900, 2700))), judged(log, ALL)
    assert alone.verdict == "cannot-tell"
    assert both.verdict == ("leaking" if leak else "tight")
    assert both.smallest_leak_to_tell < 0.7 * both.smallest_alone
    assert [round(low.pressure / 1e5) for low in both.low_holds] == [2, 2]
    assert any(line.figure == "low_holds" for line in both.lines)
    assert both.notes[0].startswith("Before the hold, low at 2 bar, it ")
    assert "That is how the water drifted" in both.notes[-1]


def test_a_drift_that_looks_like_a_leak_is_taken_out() -> None:
    """Cooling by 25 Pa a second, in a tight vessel: the needle falls in all three stretches alike."""
    found = judged(run(0.0, -25.0), ALL)
    assert found.drop > 0.3e5
    assert found.verdict == "tight"


def test_readings_outside_the_stretches_are_not_judged() -> None:
    log = run(0.0, 4.0)
    between = Log(np.insert(log.time, 6, [700.0, 800.0]), np.insert(log.pressure, 6, [0.0, 9e5]))
    assert judged(between, ALL).model_dump() == {**judged(log, ALL).model_dump()}


def test_a_sheet_without_holds_answers_as_one_that_names_the_whole_log() -> None:
    log, _ = cut(run(3 * ML_H, 0.0), read_hold_sheet({**TANK, "holds": ALL}))
    plain = judge(log, read_hold_sheet(TANK)).model_dump_json()
    assert plain == judged(replace(log, began=0.0), holds(("test", 0, 1800))).model_dump_json()
    assert "low_holds" not in plain


def test_a_low_hold_without_pressure_is_left_out() -> None:
    log = run(0.0, 0.0)
    empty = Log(log.time, np.where(log.time > 2800, 0.0, log.pressure))
    assert len(judged(empty, ALL).low_holds) == 1


def test_times_are_on_the_logs_own_clock() -> None:
    log = run(0.0, 4.0)
    rows = "\n".join(f"{time + 5000:g},{pressure:g}" for time, pressure in zip(log.time, log.pressure, strict=True))
    later = parse_log(f"elapsed [s],pressure [Pa]\n{rows}\n")
    moved = holds(("low", 5000, 5600), ("test", 5900, 7700), ("low", 8000, 8600))
    assert judged(later, moved).model_dump() == judged(log, ALL).model_dump()
    with pytest.raises(SheetError, match="own clock"):
        judged(later, ALL)


@pytest.mark.parametrize(
    ("stretches", "says"),
    [
        (holds(("low", 0, 600)), "exactly one of them is the test hold"),
        (holds(("test", 0, 600), ("test", 700, 900)), "exactly one"),
        (holds(("low", 0, 600), ("test", 500, 900)), "overlap"),
        (holds(("test", 600, 600)), "ends after it begins"),
        ([{"role": "high", "from": "0 s", "to": "1 s"}], "role"),
        ([{"role": "test", "from": "0 bar", "to": "1 s"}], "time"),
    ],
)
def test_stretches_that_cannot_be_are_refused(stretches: list[dict[str, str]], says: str) -> None:
    with pytest.raises(SheetError, match=says):
        read_hold_sheet({**TANK, "holds": stretches})


def test_low_holds_on_both_sides_tell_more_than_one_and_one_more_than_none() -> None:
    kit = kit_of(Content(24e-3, 2.9e-10, 17e-6, 0.0, 288.15), 8e5, 2e3, None, 0.231)
    alone, after, both = (
        planned_sd(1800, 60, kit, low_holds=low) for low in (None, LowHolds(before=False), LowHolds())
    )
    assert both < 0.7 * after < 0.7 * alone
    assert both < planned_sd(8 * 3600, 300, kit)  # a quarter of an hour on each side tells more than a whole night


def wandering(seed: int, every: float) -> Log:
    """A tight vessel whose water drifts as workshops do, the needle read so often, s."""
    rng = np.random.default_rng(seed)
    clock = np.arange(0, 3601, 10.0)
    drift = rng.normal(0, 8.0) * clock + 60 * np.cumsum(rng.normal(0, 1, len(clock)))
    times, pressures = [], []
    for began, ended, pressure in STRETCHES:
        for time in np.arange(began, ended + 1, every):
            moved = np.interp(time, clock, drift) - np.interp(began, clock, drift)
            times.append(time)
            pressures.append(round((pressure + moved + rng.normal(0, 5e3 / 3)) / 5e3) * 5e3)
    return Log(np.array(times), np.array(pressures))


@pytest.mark.parametrize("every", [120.0, 30.0])
def test_a_plan_promises_what_the_judge_then_tells(every: float) -> None:
    answers = [judged(wandering(seed, every), ALL) for seed in range(5)]
    content = Content(24e-3, 0.0, 17e-6, 0.0, 288.15, stated=COMPLIANCE)
    kit = kit_of(content, 8e5, 5e3, None, 0.231)
    planned = TELL * planned_sd(1800, every, kit, low_holds=LowHolds(part=0.25))
    alone = TELL * planned_sd(1800, every, kit)
    assert np.median([one.smallest_leak_to_tell for one in answers]) == pytest.approx(planned, rel=0.25)
    assert np.median([one.smallest_alone for one in answers]) == pytest.approx(alone, rel=0.25)
    assert planned < alone / 3


def test_what_would_settle_it_reckons_with_the_low_holds_there_were_and_names_those_to_come() -> None:
    faint = {**TANK, "acceptance": {"max_leak": "1.0 mL/h"}}

    def found(stretches: list[dict[str, str]]) -> Any:
        return judge(run(0.8 * ML_H, 4.0), read_hold_sheet({**faint, "holds": stretches}))

    alone, before, both = found(holds(("test", 900, 2700))), found(ALL[:2]), found(ALL)
    assert {alone.verdict, before.verdict, both.verdict} == {"cannot-tell"}
    assert any("at 2 bar" in way or "before such a hold and after it" in way for way in alone.settle_it)
    assert any("after such a hold, before the vessel is let go" in way for way in before.settle_it)
    assert not any("low hold" in way.lower() for way in both.settle_it)
    assert before.more_hold_needed is None or before.more_hold_needed < (alone.more_hold_needed or np.inf)
    plain = judge(run(0.8 * ML_H, 4.0), read_hold_sheet(faint))
    assert not any("ow hold" in way for way in plain.settle_it)  # a sheet without stretches answers as it always did
    told = judge(
        cut(run(0.8 * ML_H, 4.0), read_hold_sheet({**faint, "holds": ALL}))[0],
        read_hold_sheet(faint),
        asked=Asked(offer_low=True),
    )
    assert any("before such a hold and after it" in way for way in told.settle_it)


def test_what_only_the_usual_would_carry_is_not_called_tight() -> None:
    """A dial whose readings leave the leak open, at 1.25 times its limit: most vessels leak nothing, this one does."""
    run = random_hold(80_379, longest=240, low=True)
    found = judge(run.log, run.sheet)
    assert run.truth.factor > 1
    assert found.confidence > 0.975
    assert found.verdict == "cannot-tell"
    assert any("that most vessels leak nothing would carry it" in note for note in found.notes)


def test_over_random_runs_hardly_a_verdict_is_wrong_and_fewer_stay_open() -> None:
    wrong = opened = alone_open = covered = runs = 0
    for number in range(70_030, 70_048):
        hold = random_hold(number, longest=60, low=True)
        test, _ = cut(hold.log, hold.sheet)
        if len(test.time) < 5:
            continue
        both = judge(hold.log, hold.sheet)
        alone = judge(test, hold.sheet.model_copy(update={"holds": []}))
        want = "tight" if hold.truth.factor < 1 else "leaking"
        runs += 1
        wrong += both.verdict not in (want, "cannot-tell")
        opened += both.verdict == "cannot-tell"
        alone_open += alone.verdict == "cannot-tell"
        covered += both.leak.low <= hold.truth.mean_leak <= both.leak.high
    assert wrong <= 1
    assert opened < 0.85 * alone_open
    assert covered >= 0.88 * runs
