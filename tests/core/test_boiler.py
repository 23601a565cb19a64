"""The simulated boiler keeps every gramme and joule, and its valve, feeds, gauge and glass do what theirs do."""

from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from toadbell.core.bench import boiler as simulated
from toadbell.core.bench.boiler import Boiler, BoilerState, Lifting
from toadbell.core.bench.rig_parts import Dial, Probe
from toadbell.core.physics.steam import saturation

POT = Boiler(
    volume=3e-3, metal=2300.0, power=1500.0, gauge=Dial(500.0), valve=Lifting(2e5, 1.9e5, 1e-7), probe=Probe(0.1)
)


def steaming(what: Boiler = POT, until: float = 900.0) -> BoilerState:
    """Lit with the vent open, which is shut once steam has blown the air out."""
    state = simulated.set_fire(simulated.at_start(what), 1.0)
    state = simulated.advance(what, state, 600.0)
    return simulated.advance(what, simulated.set_vent(what, state, False), until)


@settings(max_examples=25, deadline=None)
@given(
    fire=st.floats(0.2, 1.0),
    hands=st.lists(st.tuples(st.sampled_from(["fire", "feed", "outlet", "vent"]), st.booleans()), max_size=6),
)
def test_no_gramme_and_no_joule_goes_missing(fire: float, hands: list[tuple[str, bool]]) -> None:
    start = simulated.at_start(POT)
    state = simulated.advance(POT, simulated.set_fire(start, fire), 500.0)
    for what, on in hands:
        state = {
            "fire": simulated.set_fire(state, float(on)),
            "feed": simulated.set_feed(state, 0, on),
            "outlet": simulated.set_outlet(state, on),
            "vent": simulated.set_vent(POT, state, on),
        }[what]
        state = simulated.advance(POT, state, state.time + 60)
        if simulated.glass(POT, state) >= 0.95:
            state = simulated.set_feed(state, 0, False)
    assert state.water == pytest.approx(start.water + state.fed - state.out, abs=1e-9)
    heat = start.energy + state.heat_in - state.heat_lost + state.heat_fed - state.heat_out
    assert state.energy == pytest.approx(heat, rel=1e-9)
    assert simulated.held(POT, state.water, state.temperature) == pytest.approx(state.energy, rel=1e-6)


def test_it_stands_at_a_hundred_degrees_while_its_vent_blows_and_then_its_pressure_is_that_of_its_warmth() -> None:
    state = simulated.advance(POT, simulated.set_fire(simulated.at_start(POT), 1.0), 600.0)
    assert state.temperature == pytest.approx(373.12, abs=0.3)
    assert simulated.pressure(POT, state) == 0
    shut = steaming(until=700.0)
    assert saturation(simulated.pressure(POT, shut)) == pytest.approx(shut.temperature, abs=0.05)


def test_air_that_was_not_blown_out_makes_the_gauge_show_more_than_the_temperature_tells() -> None:
    state = simulated.set_vent(POT, simulated.set_fire(simulated.at_start(POT), 1.0), False)
    state = simulated.advance(POT, state, 700.0)
    assert simulated.pressure(POT, state) > 0.3e5
    assert saturation(simulated.pressure(POT, state)) > state.temperature + 3


def test_the_valve_holds_it_under_full_fire_and_one_that_is_too_small_does_not() -> None:
    held = steaming(until=1500.0)
    assert 1.9e5 <= simulated.pressure(POT, held) <= 2e5
    small = replace(POT, valve=Lifting(2e5, 1.9e5, 2e-9))
    assert simulated.pressure(small, steaming(small, until=1500.0)) > 2.2e5


def test_a_feed_raises_the_water_and_cools_it_and_a_leak_takes_it_out_of_sight() -> None:
    before = steaming(until=700.0)
    fed = simulated.advance(POT, simulated.set_feed(before, 0, True), 730.0)
    assert simulated.glass(POT, fed) > simulated.glass(POT, before)
    assert simulated.pressure(POT, fed) < simulated.pressure(POT, simulated.advance(POT, before, 730.0))
    leaking = replace(POT, leak=1e-3)
    assert simulated.glass(leaking, steaming(leaking, until=1500.0)) == 0


def test_a_gauge_that_lies_shows_its_part_and_one_that_sticks_goes_no_further() -> None:
    state = steaming(until=760.0)
    true = simulated.pressure(POT, state)
    assert true > 1e5
    assert simulated.read_gauge(replace(POT, scale=0.8), state) == pytest.approx(0.8 * true, abs=500)
    assert simulated.read_gauge(replace(POT, sticks_at=0.6e5), state) == pytest.approx(0.6e5)
    assert simulated.read_thermometer(POT, state) == pytest.approx(state.temperature, abs=0.05)
    assert simulated.read_thermometer(replace(POT, probe=None), state) is None


def test_left_to_cool_with_its_vent_shut_it_draws_a_vacuum() -> None:
    state = simulated.set_fire(steaming(until=760.0), 0.0)
    cold = simulated.advance(replace(POT, loss=8.0), state, 4000.0)
    assert simulated.pressure(POT, cold) < 0
    assert simulated.read_gauge(POT, cold) == 0
