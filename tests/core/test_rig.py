"""The simulated rig obeys the physics it is made of, and the same seed gives the same run."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from toadbell.core.bench import rig as simulated
from toadbell.core.bench.compliance import Content
from toadbell.core.bench.rig import Rig, RigState

CONTENT = Content(volume=0.097, give=5.4e-10, expansion=12e-6, trapped_air=5e-5, temperature=289.15)


def rig(**changes: float | None) -> Rig:
    """The receiver on the rig: tight, at the temperature of the room."""
    given_ = {
        "stroke": 12e-6, "pump_maximum": 6e6, "leak": 0.0, "water": 289.15, "room": 289.15, "room_drift": 0.0, "lag": 5000.0,
        "resolution": 1e3, "noise": 0.0, "thermometer": 0.01, "seed": 3,
    }  # fmt: skip
    return simulated.rig_for(CONTENT, 1.275e6, **{**given_, **changes})


def raised(what: Rig, strokes: int = 14) -> RigState:
    """The vent shut and so many strokes made."""
    state = simulated.pump(simulated.close_vent(simulated.at_start(what)), strokes)
    return simulated.advance(what, state, state.time + 2 * strokes + 2)


def test_with_the_vent_open_pumping_raises_nothing() -> None:
    what = rig()
    state = simulated.advance(what, simulated.pump(simulated.at_start(what), 20), 60)
    assert simulated.pressure(what, state) == 0
    assert state.strokes == 20


def test_the_pressure_after_so_many_strokes_is_what_the_compliance_says() -> None:
    what = rig()
    pressure = simulated.pressure(what, raised(what))
    assert CONTENT.pumped(pressure) == pytest.approx(14 * 12e-6, rel=0.01)


def test_air_left_in_makes_the_first_strokes_soft() -> None:
    airy = replace(rig(), trapped_air=1e-3)
    assert simulated.pressure(airy, raised(airy)) < 0.2 * simulated.pressure(rig(), raised(rig()))


def test_a_tight_vessel_at_a_steady_temperature_stays_where_it_is() -> None:
    what = rig()
    state = simulated.set_shut_off(raised(what), True)
    later = simulated.advance(what, state, state.time + 3600)
    assert simulated.pressure(what, later) == pytest.approx(simulated.pressure(what, state), rel=1e-9)


def test_a_leak_takes_out_what_it_says() -> None:
    what = rig(leak=10e-6 / 3600)
    state = raised(what)
    before = simulated.pressure(what, state)
    later = simulated.advance(what, state, state.time + 360)
    lost = CONTENT.pumped(before) - CONTENT.pumped(simulated.pressure(what, later))
    assert lost == pytest.approx(1e-6 * before / 1.275e6, rel=0.02)


def test_cooling_lowers_the_pressure_by_what_the_core_says_of_a_degree() -> None:
    what = rig(room=288.15, lag=100.0)
    state = raised(rig(lag=1e12))
    cooled = replace(state, temperature=what.water - 0.1)
    fall = simulated.pressure(what, state) - simulated.pressure(what, cooled)
    assert fall == pytest.approx(0.1 * CONTENT.pressure_per_kelvin(1.2e6), rel=0.06)


def test_the_water_follows_the_room_with_its_lag() -> None:
    what = rig(room=291.15, lag=1000.0)
    state = simulated.advance(what, simulated.at_start(what), 1000)
    assert state.temperature - 289.15 == pytest.approx(2 * (1 - 0.3679), rel=0.01)


def test_shut_off_from_the_pump_strokes_do_nothing() -> None:
    what = rig()
    state = simulated.set_shut_off(raised(what), True)
    later = simulated.advance(what, simulated.pump(state, 5), state.time + 20)
    assert simulated.pressure(what, later) == pytest.approx(simulated.pressure(what, state))


def test_the_pump_stalls_at_its_maximum() -> None:
    what = rig(pump_maximum=5e5)
    assert simulated.pressure(what, raised(what, 40)) < 5e5 + 2e5


def test_dump_lets_everything_go() -> None:
    what = rig()
    assert simulated.pressure(what, simulated.dump(raised(what))) == 0


def test_bleeding_comes_down_to_the_pressure_asked_and_never_up() -> None:
    what = rig()
    state = raised(what)
    assert simulated.pressure(what, simulated.bleed_to(what, state, 8.5e5)) == pytest.approx(8.5e5, rel=1e-6)
    assert simulated.bleed_to(what, state, 5e6) == state


def test_the_pump_can_be_stopped() -> None:
    what = rig()
    state = simulated.pump(simulated.close_vent(simulated.at_start(what)), 50)
    stopped = simulated.pump(simulated.advance(what, state, 10), 0)
    assert simulated.advance(what, stopped, 60).strokes == stopped.strokes < 10


@settings(max_examples=30)
@given(st.lists(st.floats(0, 2000), min_size=1, max_size=12), st.integers(0, 2**31))
def test_looking_often_changes_nothing(looks: list[float], seed: int) -> None:
    what = rig(leak=5e-6 / 3600, room_drift=1e-4, noise=2e3, seed=seed)
    start = raised(what)
    end = start.time + 2100
    often = start
    for look in sorted(looks):
        often = simulated.advance(what, often, start.time + look)
    assert simulated.advance(what, often, end) == simulated.advance(what, start, end)
    assert simulated.read_gauge(what, often) == simulated.read_gauge(what, often)


def test_the_gauge_reads_to_its_step_and_never_below_zero() -> None:
    what = rig(resolution=12_500.0, noise=5e3)
    state = raised(what)
    assert simulated.read_gauge(what, state) % 12_500 == pytest.approx(0, abs=1e-6)
    assert simulated.read_gauge(what, simulated.dump(state)) == 0


def test_without_a_thermometer_none_is_read() -> None:
    assert simulated.read_thermometer(rig(thermometer=None), raised(rig())) is None
    assert simulated.read_thermometer(rig(thermometer=0.5), raised(rig())) == pytest.approx(289.15)


def test_a_night_with_the_lid_shut_is_made_up_for_without_going_astray() -> None:
    what = rig(leak=1e-6 / 3600, room=290.15)
    state = raised(what)
    night = simulated.advance(what, state, state.time + 12 * 3600)
    steps = state
    for hour in range(1, 13):
        steps = simulated.advance(what, steps, state.time + hour * 3600)
    assert simulated.pressure(what, night) == pytest.approx(simulated.pressure(what, steps), rel=0.02)
