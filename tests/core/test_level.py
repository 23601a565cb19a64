"""A hold speaks for the pressure it was held at; what is not known widens its band; nothing is put down to luck."""

import numpy as np
import pytest

from tests.core.test_judge import C, V, hold, sheet
from toadbell.core.judge.hold import judge
from toadbell.core.judge.log import Log
from toadbell.core.physics.water import water_expansion
from toadbell.core.sheets import read_hold_sheet

LIMIT = {"max_leak": "2 mL/h"}
ASKED = {"test_pressure": "12.75 bar"}


def moved(by: float = 0.0, log: Log | None = None) -> Log:
    """A quiet hold at so many Pa more."""
    log = log or hold()
    return Log(log.time, log.pressure + by, log.water_temperature)


@pytest.mark.parametrize("at", ["0.5 bar", "5 bar", "12.6 bar"])
def test_a_hold_far_below_what_was_asked_is_never_tight_and_says_what_to_do(at: str) -> None:
    low = float(at.split()[0]) * 1e5 - 12.75e5
    found = judge(moved(low), sheet(LIMIT, **ASKED))
    assert found.verdict == "cannot-tell"
    assert found.held_at == pytest.approx(float(at.split()[0]) * 1e5, abs=3e3)
    assert "Raise it to 12.75 bar and hold again" in found.says


def test_a_hold_far_below_may_still_be_leaking() -> None:
    found = judge(moved(-7.75e5, hold(leak_ml_h=20)), sheet(LIMIT, **ASKED))
    assert found.verdict == "leaking"


def test_a_fall_that_stopped_with_the_water_at_one_temperature_is_not_tight() -> None:
    """Two and a half bar in ten minutes, and then it stood: not what two degrees of cooling do."""
    log = hold()
    fell = np.minimum(log.time / 600, 1.0) * 2.5e5
    found = judge(Log(log.time, log.pressure - fell, log.water_temperature), sheet(LIMIT, **ASKED))
    assert found.verdict != "tight"
    assert "the thermometer saw it" not in (found.school_says or "")


def test_a_leak_that_shuts_below_the_test_pressure_is_not_called_tight() -> None:
    log = hold(every=10)
    shuts = 0.99 * 1.275e6
    pressure = shuts + (1.275e6 - shuts) * np.exp(-log.time / 400)  # some 11 mL/h at first, and then none
    found = judge(
        Log(log.time, np.round(pressure / 2000) * 2000, log.water_temperature),
        sheet(LIMIT, trapped_air="0 mL", **ASKED),
    )
    assert found.verdict != "tight"
    assert found.laws["shuts"] > 0.25


def test_a_rise_that_no_warmth_explains_is_named() -> None:
    log = hold()
    found = judge(Log(log.time, log.pressure + 30 * log.time / 3.6, log.water_temperature), sheet(LIMIT, **ASKED))
    assert found.verdict == "cannot-tell"
    assert "something feeds it" in found.says


def test_a_rise_with_the_water_is_warmth() -> None:
    assert judge(hold(cooling=-0.3), sheet(LIMIT, **ASKED)).verdict == "tight"


VESSEL = {
    "volume": "97 L",
    "water_temperature": "16 degC",
    "gauge": {"range": "6 bar", "resolution": "1 kPa"},
    "thermometer": {"resolution": "0.01 degC"},
    "acceptance": {"max_leak": "6 mL/h"},
    "trapped_air": "0 mL",
    "shell": {"inside_diameter": "366 mm", "wall": "3.2 mm", "material": "carbon-steel"},
}


def low_hold(fall: float) -> Log:
    """Half an hour at 3 bar that falls by so many Pa, the water at one temperature."""
    time = np.arange(0, 1801, 10.0)
    pressure = 3e5 - fall * time / 1800
    return Log(time, np.round(pressure / 1000) * 1000, np.full(len(time), 289.15))


@pytest.mark.parametrize(
    "unsaid",
    [
        {"trapped_air": None},
        {"shell": None},
        {"shell": {"inside_diameter": "366 mm", "material": "hdpe"}},
        {"shell": {**VESSEL["shell"], "material": "other"}},
    ],
    ids=["air", "no shell", "no wall", "other"],
)
def test_what_nobody_said_of_the_vessel_widens_the_band(unsaid: dict) -> None:
    log = low_hold(8_000)
    said = judge(log, read_hold_sheet(VESSEL))
    silent = judge(
        log, read_hold_sheet({key: value for key, value in {**VESSEL, **unsaid}.items() if value is not None})
    )
    assert said.verdict == "tight"
    assert silent.verdict == "cannot-tell"
    assert silent.leak.high > 2 * said.leak.high


def test_a_drop_that_is_let_pass_is_judged_by_the_gauge_whatever_is_not_known() -> None:
    by_gauge = {**VESSEL, "trapped_air": None, "acceptance": {"max_drop": "0.2 bar", "over": "30 min"}}
    assert (
        judge(
            low_hold(4_000), read_hold_sheet({key: value for key, value in by_gauge.items() if value is not None})
        ).verdict
        == "tight"
    )


def test_falls_again_and_again_are_a_leak_that_spurts_and_not_cut_out() -> None:
    log = hold(every=10)
    spurts = 0.5e5 * np.floor(log.time / 500)
    found = judge(Log(log.time, log.pressure - spurts, log.water_temperature), sheet(LIMIT, **ASKED))
    assert found.verdict == "leaking"
    assert not found.steps
    assert any("again and again" in note for note in found.notes)


def test_a_probe_in_the_sun_makes_no_leak() -> None:
    log = hold(every=10)
    assert log.water_temperature is not None
    warm = log.water_temperature + 0.6 * -np.expm1(-log.time / 1500)
    assert judge(Log(log.time, log.pressure, warm), sheet(LIMIT, **ASKED)).verdict != "leaking"


@pytest.mark.parametrize("minutes", [1, 5])
def test_a_gauge_that_did_not_move_for_a_minute_proves_nothing(minutes: int) -> None:
    found = judge(hold(minutes=minutes, every=10), sheet({"no_visible_drop": True}, **ASKED))
    assert found.verdict == "cannot-tell"
    assert "Hold for 10 min at the least" in found.says
    asked = judge(hold(minutes=15, every=10), sheet({"no_visible_drop": True}, hold={"minimum": "30 min"}, **ASKED))
    assert "Hold for 30 min" in asked.says
    assert asked.limit == pytest.approx(C * 2000 / 1800)  # what one step over the hold asked for stands for


def test_sentences_come_from_the_figures() -> None:
    still = judge(hold(), sheet({"max_drop": "0.2 bar", "over": "30 min"}, **ASKED))
    said = f"{still.says} {still.seen_says} {still.school_says}"
    assert "hardly changed" in said
    assert not any(nothing in said for nothing in (" 0 bar", "-0", " 0 °C"))
    cooled = judge(hold(cooling=0.6), sheet({"max_drop": "0.3 bar", "over": "60 min"}, **ASKED))
    assert cooled.verdict == "tight"
    assert "the thermometer saw it" in (cooled.school_says or "")
    assert "accounts for" in cooled.seen_says


def test_one_quantity_has_one_band() -> None:
    found = judge(hold(leak_ml_h=1), sheet({"max_leak": "20 mL/h"}, **ASKED))
    assert found.verdict == "tight"
    shown = found.leak.high * 3.6e9
    assert f"{float(f'{shown:.2g}'):g} mL/h" in found.says
    assert found.drops_a_minute == pytest.approx(found.leak.high * 20e6 * 60)


def test_a_cold_hold_that_falls_with_the_water_speaks_for_the_lowest_it_stood_at() -> None:
    found = judge(hold(cooling=0.5), sheet({"max_leak": "4 mL/h"}, **ASKED))
    swelling = V * (water_expansion(289.15, 1.275e6) - 3 * 12e-6)
    assert found.verdict == "tight"
    assert found.held_at == pytest.approx(12.75e5 - 0.5 * swelling / C, abs=6e3)


def test_a_fall_at_one_rate_to_nothing_is_leaking_with_a_thermometer_or_without() -> None:
    time = np.arange(0, 1801, 60.0)
    falling = Log(time, np.maximum(0.0, 12.8e5 - 1e5 * time / 60))
    found = judge(
        falling, sheet({"max_drop": "0.2 bar", "over": "30 min"}, thermometer=False, resolution="10 kPa", **ASKED)
    )
    assert found.verdict == "leaking"
    assert found.leak.low > 10 * found.limit
