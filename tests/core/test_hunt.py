"""The hunt: how long a seal cures, what a mend asks for, what was counted, whose section leaks, where to look."""

import datetime
import itertools

import numpy as np
import pytest

from tests.core.sheets import RECEIVER
from toadbell.core.hunt.acts import ACTS, asks_of, told_as
from toadbell.core.hunt.compounds import COMPOUNDS, NEVER, not_before
from toadbell.core.hunt.counts import counted
from toadbell.core.hunt.differences import SectionHold, leak_of_each
from toadbell.core.hunt.low import low_pressure
from toadbell.core.hunt.where import look_next
from toadbell.core.kinds import KINDS
from toadbell.core.physics.air import air_energy
from toadbell.core.sheets import read_vessel_sheet
from toadbell.core.vessel import shape

NOON = datetime.datetime(2026, 5, 2, 12, tzinfo=datetime.UTC)
ML_H = 1e-6 / 3600


def test_a_seal_cures_slower_in_the_cold_and_what_needs_no_time_waits_for_none() -> None:
    for compound in COMPOUNDS().values():
        times = [compound.cures_in(273.15 + t) for t in (-5, 0, 5, 10, 15, 20, 25, 30, 40, 60)]
        assert times == sorted(times, reverse=True)
        assert compound.source
    assert not_before(NOON, "tape", 283.15) is None
    assert not_before(NOON, "none", 283.15) is None
    slowest = max(one.cures_in(288.15) for one in COMPOUNDS().values())
    assert not_before(NOON, "nothing known", 288.15) == NOON + datetime.timedelta(seconds=slowest)
    for too_cold in (("epoxy", 281.15), ("thread-sealant", 276.15), ("lay-up", 283.15)):
        assert not_before(NOON, *too_cold) == NOON + NEVER  # however long
    warm, cold = not_before(NOON, "thread-sealant", 295.15), not_before(NOON, "thread-sealant", 278.15)
    assert warm is not None
    assert cold is not None
    assert (warm - NOON, cold - NOON) == (datetime.timedelta(hours=24), datetime.timedelta(hours=72))
    assert not_before(NOON, "thread-sealant", None) == cold  # what is not known is never the quicker


@pytest.mark.parametrize(
    ("text", "act"),
    [
        ("tightened an eighth", "tightened"),
        ("its gland nipped up a quarter", "tightened"),
        ("soldered, then tightened", "soldered"),
        ("new washer", "replaced"),
        ("Welded over", "welded"),
        ("looked at it", None),
    ],
)
def test_the_way_of_mending_is_read_from_words_the_most_dangerous_first(text: str, act: str | None) -> None:
    found = told_as(text)
    assert (found.id if found else None) == act


def test_what_a_mend_asks_for_goes_by_whose_leak_it_is_and_the_third_tightening_is_none() -> None:
    assert "proof anew" in asks_of(ACTS["brazed"], "boundary")
    assert "void" not in asks_of(ACTS["tightened"], "boundary")
    assert "strength is as it was" in asks_of(ACTS["re-sealed"], "fitting")
    assert "not of the vessel" in asks_of(ACTS["tightened"], "rig", 2)
    assert asks_of(ACTS["tightened"], "rig", 3).startswith("Tightened 3 times: no more. Take it apart")


def test_a_count_gives_a_rate_whose_band_holds_the_truth() -> None:
    rng = np.random.default_rng(5)
    held = 0
    for _ in range(1000):
        rate = float(np.exp(rng.uniform(np.log(3), np.log(300)))) * ML_H
        size = float(np.exp(rng.normal(np.log(0.05e-6), 0.17)))
        found = counted(int(rng.poisson(30 * rate / size)), 30.0, "drops")
        held += found.low <= rate <= found.high
    assert held >= 950
    nothing = counted(0, 30.0, "drops")
    assert (nothing.rate, nothing.low) == (0, 0)
    assert nothing.high > 5 * ML_H  # nothing in half a minute is no proof
    with pytest.raises(ValueError, match="time"):
        counted(3, 0.0, "bubbles")


def test_the_leak_of_each_section_by_difference_covers_the_truth() -> None:
    """A hundred and twenty random loops of three to five sections, each held once whole and once without each."""
    rng = np.random.default_rng(8)
    covered = sections = 0
    for _ in range(120):
        names = [f"section {n}" for n in range(int(rng.integers(3, 6)))]
        truth = {name: float(rng.choice([0.0, 0.0, rng.exponential(20)])) * ML_H for name in names}
        doubt = float(rng.uniform(0.5, 3)) * ML_H
        holds = []
        for shut in (None, *names):
            left = tuple(name for name in names if name != shut)
            leak = sum(truth[name] for name in left) + float(rng.normal(0, doubt))
            holds.append(SectionHold(left, leak, leak - 1.96 * doubt, leak + 1.96 * doubt))
        for found in leak_of_each(holds):
            assert found.told
            covered += found.low - 1e-18 <= truth[found.section] <= found.high + 1e-18
            sections += 1
    assert covered >= 0.92 * sections


def test_a_valve_that_lets_through_clears_no_section_and_accuses_none_for_it() -> None:
    """The coil leaks 20 mL/h, and nine tenths of that come through its valve: shut, the rest still loses 18."""

    def part(*names: str, leak: float) -> SectionHold:
        return SectionHold(names, leak * ML_H, (leak - 1) * ML_H, (leak + 1) * ML_H)

    holds = [part("pump", "gauge", "coil", leak=20), part("pump", "gauge", leak=18), part("pump", leak=17.5)]
    found = {one.section: one for one in leak_of_each(holds)}
    assert found["coil"].high >= 20 * ML_H
    assert found["pump"].low == 0 or found["pump"].high >= 17 * ML_H
    clear = {one.section: one for one in leak_of_each([holds[0], part("pump", "gauge", leak=0.3)])}
    assert clear["coil"].low > 15 * ML_H  # what its valve shuts off is the coil's, whether it lets through or not


def test_holds_that_contradict_each_other_by_chance_leave_a_band_and_no_point() -> None:
    """Each is 1.1 half bands off what the other leaves: one in thirty by chance."""
    holds = [SectionHold(("a",), 10.0, 8.0, 12.0), SectionHold(("a",), 14.3, 12.3, 16.3)]
    [found] = leak_of_each(holds)
    assert found.high - found.low > 2.0
    assert found.low < 12.0 < found.high


def test_sections_that_were_only_ever_open_together_are_not_told_apart() -> None:
    both = SectionHold(("pump", "gauge"), 10 * ML_H, 9 * ML_H, 11 * ML_H)
    found = leak_of_each([both, SectionHold(("coil",), 2 * ML_H, 1 * ML_H, 3 * ML_H)])
    assert {one.section: one.told for one in found} == {"pump": False, "gauge": False, "coil": True}
    assert all((one.low, one.high) == (0.0, 11 * ML_H) for one in found if not one.told)
    assert leak_of_each([]) == []


def test_where_to_look_next_begins_with_what_was_touched_and_ends_with_the_seams() -> None:
    sheet = read_vessel_sheet(RECEIVER)
    places = look_next(sheet, ["the drain bush", "the gauge union"], {})
    assert [one.name for one in places[:2]] == ["the gauge union", "the drain bush"]
    assert "touched" in places[0].why
    names = [one.name for one in look_next(sheet, [], {})]
    assert len(names) == len(set(names))
    for often in itertools.islice(names, 1, 3):
        again = look_next(sheet, [], {often: 4})
        told = next(one for one in again if one.name == often)
        assert "4 times before" in told.why


def test_low_and_slow_is_never_over_the_wanted_pressure_nor_what_its_air_may_store() -> None:
    shell = {**RECEIVER["shell"], "length": "200 mm"}
    assert low_pressure(read_vessel_sheet({**RECEIVER, "shell": shell})) is not None
    for length in ("200 mm", "800 mm", "3 m"):
        sheet = read_vessel_sheet({**RECEIVER, "shell": {**RECEIVER["shell"], "length": length}})
        pressure, volume = low_pressure(sheet), shape.volume(sheet)
        assert volume is not None
        assert pressure is None or air_energy(volume, pressure) <= KINDS["receiver"].air_energy_cap
    tube = {"kind": "chamber", "working_pressure": "20 bar", "volume": "1 L"}
    lay_up = {
        **tube,
        "shell": {"inside_diameter": "54 mm", "length": "420 mm", "wall": "2.4 mm", "material": "glass-fibre"},
    }
    assert (low_pressure(read_vessel_sheet(lay_up)) or 0) <= 0.1e5
    assert low_pressure(read_vessel_sheet({**lay_up, "maker_test_limit": "30 bar"})) == 2e5
