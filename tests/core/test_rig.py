"""The simulated rig obeys the physics it is made of, and the same seed gives the same run."""

import math
from dataclasses import replace

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.sheets import RECEIVER
from toadbell.core.bench import rig as simulated
from toadbell.core.bench.rig import Rig, RigState, volume_at
from toadbell.core.bench.rig_parts import Dial, Leak, Probe, Relief, Room, Settling, Source, Wall
from toadbell.core.bench.situations import Situation, look, rig_from, shows_as
from toadbell.core.derive import derive
from toadbell.core.physics.content import Content
from toadbell.core.sheets import SheetError, read_vessel_sheet
from toadbell.core.units import ATMOSPHERE

CONTENT = Content(volume=0.097, give=5.4e-10, expansion=12e-6, trapped_air=5e-5, temperature=289.15)
TEST = 1.275e6
HAND = Source(12e-6, 6e6)


def rig(**changes: object) -> Rig:
    """The receiver on the rig: tight, at the temperature of the room."""
    given_ = {
        "source": HAND,
        "gauge": Dial(1e3),
        "probe": Probe(0.01),
        "water": 289.15,
        "room": Room(289.15),
        "seed": 3,
    }
    return simulated.rig_for(CONTENT, TEST, **{**given_, **changes})


def leaking(rate: float, **changes: object) -> tuple[Leak, ...]:
    """One leak of the boundary, m³/s at the test pressure."""
    return (Leak(rate, TEST, **changes),)  # type: ignore[arg-type]


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
    what = rig(leaks=leaking(10e-6 / 3600))
    state = raised(what)
    before = simulated.pressure(what, state)
    later = simulated.advance(what, state, state.time + 360)
    lost = CONTENT.pumped(before) - CONTENT.pumped(simulated.pressure(what, later))
    assert lost == pytest.approx(1e-6 * before / TEST, rel=0.02)


def test_cooling_lowers_the_pressure_by_what_the_core_says_of_a_degree() -> None:
    what = rig(lag=1e12)
    state = raised(what)
    cooled = replace(state, temperature=what.water - 0.1)
    fall = simulated.pressure(what, state) - simulated.pressure(what, cooled)
    assert fall == pytest.approx(0.1 * CONTENT.pressure_per_kelvin(1.2e6), rel=0.06)


def test_the_water_follows_the_room_with_its_lag() -> None:
    what = rig(room=Room(291.15), lag=1000.0)
    state = simulated.advance(what, simulated.at_start(what), 1000)
    assert state.temperature - 289.15 == pytest.approx(2 * (1 - 0.3679), rel=0.01)


def test_shut_off_from_the_pump_strokes_do_nothing() -> None:
    what = rig()
    state = simulated.set_shut_off(raised(what), True)
    later = simulated.advance(what, simulated.pump(state, 5), state.time + 20)
    assert simulated.pressure(what, later) == pytest.approx(simulated.pressure(what, state))


def test_the_pump_stalls_at_its_maximum() -> None:
    what = rig(source=Source(12e-6, 5e5))
    assert simulated.pressure(what, raised(what, 40)) == pytest.approx(5e5)


def test_dump_lets_everything_go() -> None:
    what = rig()
    assert simulated.pressure(what, simulated.dump(what, raised(what))) == 0


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
    what = rig(leaks=leaking(5e-6 / 3600), room=Room(289.15, 1e-4), gauge=Dial(1e3, 2e3, sticking=4e3), seed=seed)
    start = raised(what)
    end = start.time + 2100
    often = start
    for at in sorted(looks):
        often = simulated.advance(what, often, start.time + at)
    assert simulated.advance(what, often, end) == simulated.advance(what, start, end)
    assert simulated.read_gauge(what, often) == simulated.read_gauge(what, often)


def test_the_gauge_reads_to_its_step_and_never_below_zero() -> None:
    what = rig(gauge=Dial(12_500.0, 5e3))
    state = raised(what)
    assert simulated.read_gauge(what, state) % 12_500 == pytest.approx(0, abs=1e-6)
    assert simulated.read_gauge(what, simulated.dump(what, state)) == 0


def test_without_a_thermometer_none_is_read() -> None:
    assert simulated.read_thermometer(rig(probe=None), raised(rig())) is None
    assert simulated.read_thermometer(rig(probe=Probe(0.5)), raised(rig())) == pytest.approx(289.15)


def test_a_night_with_the_lid_shut_is_made_up_for_without_going_astray() -> None:
    what = rig(leaks=leaking(1e-6 / 3600), room=Room(290.15))
    state = raised(what)
    night = simulated.advance(what, state, state.time + 12 * 3600)
    steps = state
    for hour in range(1, 13):
        steps = simulated.advance(what, steps, state.time + hour * 3600)
    assert simulated.pressure(what, night) == pytest.approx(simulated.pressure(what, steps), rel=0.02)


# -- conserved --------------------------------------------------------------------------------

WATER_AND_WALL = st.builds(
    lambda leak, power, relief, yields, lag, drift, seed: rig(
        leaks=leaking(leak, power=power),
        relief=relief and Relief(relief, 0.9 * relief),
        wall=Wall(yields_at=yields),
        room=Room(289.15, drift),
        lag=lag,
        source=Source(12e-6, 6e6, scatter=0.03, back_leak=1e-14),
        seed=seed,
    ),
    st.floats(0, 1e-7),
    st.sampled_from([0.5, 1.0, 2.0]),
    st.none() | st.floats(3e5, 2e6),
    st.none() | st.floats(8e5, 2e6),
    st.floats(500, 1e5),
    st.floats(-3e-4, 3e-4),
    st.integers(0, 2**31),
)


@settings(max_examples=60, deadline=None)
@given(
    WATER_AND_WALL,
    st.lists(
        st.tuples(st.integers(0, 12), st.floats(0, 400), st.sampled_from(["", "shut", "open", "bleed"])), max_size=8
    ),
)
def test_no_water_appears_or_is_lost(what: Rig, acts: list[tuple[int, float, str]]) -> None:
    state = simulated.close_vent(simulated.at_start(what))
    for strokes, wait, act in acts:
        state = simulated.pump(state, strokes)
        state = simulated.advance(what, state, state.time + wait)
        if act == "bleed":
            state = simulated.bleed_to(what, state, simulated.pressure(what, state) / 2)
        elif act:
            state = simulated.set_shut_off(state, act == "shut")
        assert state.pumped == pytest.approx(state.net + state.leaked + state.relieved + state.let_out, abs=1e-15)
        held = simulated.volume_at(what, simulated.pressure(what, state), state.peak)
        assert held == pytest.approx(max(0.0, state.net + simulated.grown(what, state)), abs=1e-11)


def work_along(what: Rig, state: RigState, until: float) -> tuple[RigState, float]:
    """The state then, and ∫ P dV of what went in (or came out, negative) on the way, J."""
    work = 0.0
    while state.time < until:
        after = simulated.advance(what, state, state.time + 1)
        work += (simulated.pressure(what, state) + simulated.pressure(what, after)) / 2 * (after.net - state.net)
        state = after
    return state, work


def stored(what: Rig, pressure: float) -> float:
    """Energy in water and wall, ½ S P², and in the air that was pressed together slowly, J."""
    air = what.trapped_air * ATMOSPHERE * (math.log1p(pressure / ATMOSPHERE) - pressure / (pressure + ATMOSPHERE))
    return what.stiffness * pressure**2 / 2 + air


def test_the_work_of_the_pump_is_what_water_wall_and_air_hold_and_give_back() -> None:
    what = rig(source=Source(1e-6, 6e6), leaks=leaking(60e-9, power=0.5))
    state, put_in = work_along(what, simulated.pump(simulated.close_vent(simulated.at_start(what)), 400), 800)
    assert put_in == pytest.approx(stored(what, simulated.pressure(what, state)), rel=1e-3)
    state, given_back = work_along(what, simulated.set_shut_off(state, True), 20_000)
    assert simulated.pressure(what, state) < 100
    assert -given_back == pytest.approx(put_in, rel=1e-3)


def test_beyond_yield_work_is_lost_and_the_vessel_stays_larger() -> None:
    what = rig(source=Source(1e-6, 6e6), wall=Wall(yields_at=8e5))
    state, put_in = work_along(what, simulated.pump(simulated.close_vent(simulated.at_start(what)), 260), 530)
    assert simulated.pressure(what, state) > 1.1e6
    down = simulated.bleed_to(what, state, 0.0)
    assert down.net + simulated.grown(what, down) == pytest.approx(simulated.yielded(what, state.peak)) != 0
    assert put_in > stored(what, simulated.pressure(what, state))


# -- by independent sums --------------------------------------------------------------------------------


def test_what_came_back_is_less_than_what_went_in_by_what_the_wall_keeps() -> None:
    what = rig(wall=Wall(yields_at=5e5, softening=0.2))
    state = raised(what, 14)
    let_go = simulated.dump(what, state)
    kept = simulated.yielded(what, state.peak)
    assert kept > 0
    assert state.pumped - let_go.let_out == pytest.approx(kept, rel=1e-6)
    again = simulated.dump(
        what, simulated.advance(what, simulated.pump(simulated.close_vent(let_go), 1), state.time + 20)
    )
    assert again.pumped - again.let_out == pytest.approx(
        kept, rel=1e-6
    )  # it is full to the brim, and yields no further


def test_a_tight_shut_in_run_follows_the_temperature_by_the_handbooks_quotient() -> None:
    what = rig(room=Room(289.15, 2e-4), lag=100.0)
    state = simulated.set_shut_off(raised(what), True)
    later = simulated.advance(what, state, state.time + 1800)
    warmed = later.temperature - state.temperature
    at = simulated.pressure(what, state)
    compliance = 0.097 * (4.6e-10 + 5.4e-10) + 5e-5 * ATMOSPHERE / (ATMOSPHERE + at) ** 2
    swelling = 0.097 * (1.64e-4 - 36e-6)
    assert simulated.pressure(what, later) - at == pytest.approx(warmed * swelling / compliance, rel=0.06)


def test_a_leak_through_an_orifice_grows_with_the_root_and_one_that_opens_is_dry_below() -> None:
    leak = Leak(8e-9, TEST, power=0.5, opens_at=4e5)
    assert leak.flow(TEST / 4, 0) == 0
    assert leak.flow(TEST / 2, 0) == pytest.approx(8e-9 / math.sqrt(2))
    assert leak.flow(4 * TEST, 0) == pytest.approx(16e-9)


def test_a_rig_leak_is_cured_by_tightening_and_one_on_the_hose_ends_at_the_shut_off() -> None:
    what = rig(
        leaks=(Leak(1e-8, TEST, "rig", "hose tail", eased=0.1), Leak(1e-8, TEST, "rig", "pump hose", on_the_hose=True))
    )
    state = raised(what)
    plug, hose = simulated.flows(what, state)
    assert plug == pytest.approx(hose) != 0
    assert simulated.flows(what, simulated.tighten(state, 0))[0] == pytest.approx(plug / 10)
    assert simulated.flows(what, simulated.set_shut_off(state, True))[1] == 0


def test_a_valve_that_spreads_lifts_here_and_there_and_one_that_weeps_lets_go_before_it_lifts() -> None:
    pumped = {"source": Source(12e-6, 6e6, per_second=0.1), "lag": 1e9}
    spread = rig(relief=Relief(9e5, 8e5, capacity=1e-7, spread=0.06), **pumped)
    state, lifts = simulated.pump(simulated.close_vent(simulated.at_start(spread)), 1500), []
    for _ in range(5000):
        before = state
        state = simulated.advance(spread, state, state.time + 1)
        if state.lifts > before.lifts:
            lifts.append(simulated.pressure(spread, before))
    assert len(lifts) >= 5
    assert max(lifts) - min(lifts) > 0.3e5
    weeping = rig(relief=Relief(9e5, 8.5e5, weeps_from=5e5, weeps=1e-11))
    held = simulated.set_shut_off(raised(weeping, 10), True)
    assert 5e5 < simulated.pressure(weeping, held) < 9e5
    later = simulated.advance(weeping, held, held.time + 600)
    assert simulated.pressure(weeping, later) < simulated.pressure(weeping, held)
    assert later.relieved > held.relieved
    assert later.lifts == 0


def test_a_joint_that_is_tightened_too_often_leaks_more_again() -> None:
    joint = Leak(1e-9, TEST, eased=0.4, spoilt_by=2)
    flows = [joint.flow(TEST, times) for times in range(5)]
    assert flows[2] == min(flows)
    assert flows[4] == pytest.approx(flows[0])


def test_a_hunt_has_four_leaks_of_which_one_shows_only_high_up() -> None:
    sheet = read_vessel_sheet(RECEIVER)
    answer = derive(sheet)
    what = rig_from(sheet, answer, Situation(hunt=True))
    low = [leak.flow(0.3 * answer.test_pressure, 0) > 0 for leak in what.leaks]
    high = [leak.flow(answer.test_pressure, 0) > 0 for leak in what.leaks]
    assert (low.count(True), high.count(True)) == (3, 4)
    assert {leak.owner for leak in what.leaks} == {"rig", "fitting"}


def test_the_relief_valve_lifts_and_reseats() -> None:
    what = rig(relief=Relief(9e5, 8e5, capacity=1e-8), source=Source(12e-6, 6e6, per_second=0.1))
    state = simulated.pump(simulated.close_vent(simulated.at_start(what)), 60)
    seen, lifts = [], []
    for second in range(600):
        state = simulated.advance(what, state, second)
        seen.append(simulated.pressure(what, state))
        lifts.append(state.lifted)
    assert max(seen) < 9e5 + 12e-6 / what.stiffness
    assert lifts.count(True) > 20
    assert state.relieved > 0
    shut = simulated.advance(what, simulated.pump(state, 0), state.time + 600)
    assert not shut.lifted
    assert 8e5 <= simulated.pressure(what, shut) + 1 < 9e5


def test_pump_valves_creep_until_the_shut_off_is_shut() -> None:
    what = rig(source=Source(12e-6, 6e6, back_leak=1e-14))
    state = raised(what)
    at = simulated.pressure(what, state)
    assert simulated.pressure(what, simulated.advance(what, state, state.time + 600)) < 0.96 * at
    shut = simulated.set_shut_off(state, True)
    assert simulated.pressure(what, simulated.advance(what, shut, shut.time + 600)) == pytest.approx(at)


def test_a_washer_overshoots_in_a_second_where_a_hand_pump_takes_a_minute() -> None:
    washer = rig(source=Source(12e-6, 1e7, "washer", per_second=8.0))
    state = simulated.advance(washer, simulated.pump(simulated.close_vent(simulated.at_start(washer)), 100), 3)
    assert simulated.pressure(washer, state) > 1.5 * TEST
    bypassed = rig(source=Source(12e-6, 1.3e6, "washer", per_second=8.0))
    state = simulated.advance(bypassed, simulated.pump(simulated.close_vent(simulated.at_start(bypassed)), 100), 20)
    assert simulated.pressure(bypassed, state) == pytest.approx(1.3e6)


def test_air_over_water_creeps_up_to_what_the_regulator_is_set_to() -> None:
    what = rig(source=Source(12e-6, 1e6, "air-over-water"))
    state = simulated.pump(simulated.close_vent(simulated.at_start(what)), 400)
    pressures = [simulated.pressure(what, simulated.advance(what, state, t)) for t in (20, 60, 800)]
    assert pressures[0] < pressures[1] < pressures[2] == pytest.approx(1e6, rel=0.01)


def test_a_vessel_that_bursts_lets_go_of_everything_and_cannot_be_shut_again() -> None:
    what = rig(wall=Wall(yields_at=8e5, bursts_at=1.1e6))
    state = raised(what, 60)
    assert state.burst
    assert simulated.pressure(what, simulated.close_vent(state)) == 0


def test_a_sticking_needle_lags_behind_on_the_way_up_and_on_the_way_down() -> None:
    what = rig(gauge=Dial(1.0, sticking=2e4))
    state = raised(what)
    truth = simulated.pressure(what, state)
    assert simulated.read_gauge(what, state) == pytest.approx(truth - 2e4, abs=1)
    lower = simulated.bleed_to(what, state, truth / 2)
    assert simulated.read_gauge(what, lower) == pytest.approx(truth / 2 + 2e4, abs=1)


def test_a_gauge_with_a_class_error_is_off_by_it() -> None:
    what = rig(gauge=Dial(1.0, bias=-5e3))
    assert simulated.read_gauge(what, raised(what)) == pytest.approx(
        simulated.pressure(what, raised(what)) - 5e3, abs=1
    )


def test_a_probe_on_the_wall_is_nearer_to_the_room_than_the_water_is() -> None:
    what = rig(room=Room(293.15), probe=Probe(0.01, on_the_wall=0.25))
    assert simulated.read_thermometer(what, raised(what)) == pytest.approx(290.15, abs=0.05)


# -- what fits a plan --------------------------------------------------------------------------------


def test_the_rig_of_a_plan_has_its_vessel_pump_gauge_and_thermometer() -> None:
    sheet = read_vessel_sheet({**RECEIVER, "thermometer": {"resolution": "0.1 degC"}})
    answer = derive(sheet)
    what = rig_from(sheet, answer, Situation(leak=1e-9, owner="rig", where="hose tail", relief_at=2e6, sticking=1e4))
    assert volume_at(what, answer.gauge_target, 0.0) == pytest.approx(answer.pump.volume, rel=0.01)
    assert what.source.stroke == pytest.approx(12e-6)
    assert what.gauge.resolution == pytest.approx(25_000)
    assert what.probe == Probe(0.1)
    assert what.relief == Relief(2e6, 1.9e6)
    assert what.leaks[0].where == "hose tail"
    with pytest.raises(SheetError, match="volume"):
        rig_from(
            read_vessel_sheet({"kind": "receiver", "working_pressure": "8 bar"}),
            derive(read_vessel_sheet({"kind": "receiver", "working_pressure": "8 bar"})),
            Situation(),
        )


@pytest.mark.parametrize(("flow", "word"), [(1e-11, "damp"), (2e-9, "weep"), (5e-8, "drip"), (1e-5, "stream")])
def test_a_leak_shows_in_the_words_people_use(flow: float, word: str) -> None:
    what = rig(leaks=leaking(flow, where="seam"))
    assert shows_as(flow) == word
    seen = look(what, raised(what))
    assert [sight.where for sight in seen] == ([] if word == "damp" else ["seam"])


def test_a_slow_thermometer_lags_behind_the_water() -> None:
    quick, slow = (rig(room=Room(299.15), probe=Probe(0.01, lag=lag)) for lag in (0.0, 300.0))
    warmed = [
        simulated.read_thermometer(one, simulated.advance(one, simulated.at_start(one), 1800)) for one in (quick, slow)
    ]
    assert warmed[0] is not None
    assert warmed[1] is not None
    rate = (299.15 - warmed[0]) / quick.lag
    assert warmed[0] - warmed[1] == pytest.approx(rate * 300, rel=0.15)


def test_a_vessel_that_was_shut_in_settles_and_then_stands() -> None:
    still, settles = rig(), rig(settling=Settling(2e-7, 120.0))
    state = simulated.set_shut_off(raised(still), True)
    fallen = [
        simulated.pressure(still, simulated.advance(still, state, state.time + t))
        - simulated.pressure(settles, simulated.advance(settles, state, state.time + t))
        for t in (0.0, 120.0, 1200.0, 1800.0)
    ]
    assert fallen[0] == pytest.approx(0.0, abs=1.0)
    assert fallen[1] == pytest.approx(fallen[3] * (1 - 1 / 2.718), rel=0.02)
    assert fallen[2] == pytest.approx(fallen[3], rel=0.01)


@pytest.mark.parametrize("stands", [0.4e6, 1.275e6, 2.5e6])
def test_what_is_bled_off_is_a_little_and_comes_nearer_to_what_was_to_be_reached(stands: float) -> None:
    what = rig()
    there = simulated.close_vent(simulated.at_start(what))
    there = replace(there, net=volume_at(what, stands, 0.0))
    after = simulated.pressure(what, simulated.bleed(what, there, TEST))
    assert 0.55 * stands < after < stands
    assert simulated.bleed(what, simulated.set_shut_off(there, shut=True), TEST).shut_in
    for _ in range(12):
        there = simulated.bleed(what, there, TEST)
    assert simulated.pressure(what, there) < 1.05 * TEST


@given(target=st.floats(0.1e6, 1.275e6))
def test_the_strokes_that_it_names_reach_a_pressure_and_one_more_goes_past_it(target: float) -> None:
    what = rig()
    there = simulated.close_vent(simulated.at_start(what))
    made = simulated.strokes_to(what, there, target)
    short = simulated.pressure(what, replace(there, net=made * HAND.stroke))
    assert short <= target < short + simulated.stroke_raises(what, replace(there, net=made * HAND.stroke)) * (1 + 1e-6)
