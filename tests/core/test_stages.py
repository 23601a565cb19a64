"""Stages, zones, the course over time, and what the hold can tell."""

import pytest

from tests.core.sheets import derived
from toadbell.core.plan.stages import stage_targets
from toadbell.core.sheets import SheetError


def names(raising: str, target: float, wanted: float, look: float = 0.25) -> list[str]:
    return [name for _, name, _ in stage_targets(raising, target, wanted, look)]


def test_quarters_pause_at_the_wanted_pressure_too() -> None:
    assert names("quarters", 12.75, 8.5) == ["look", "half", "wanted", "three quarters", "test"]


def test_a_step_near_the_wanted_pressure_is_moved_onto_it() -> None:
    # 9.56 of 12.75 is within 5 % of a wanted 9.3
    assert names("quarters", 12.75, 9.3) == ["look", "half", "wanted", "test"]
    assert ("wanted", "wanted", 9.3) in stage_targets("quarters", 12.75, 9.3, 0.25)


def test_a_wanted_pressure_next_to_the_test_is_the_test() -> None:
    assert "wanted" not in names("quarters", 10.0, 9.7)


@pytest.mark.parametrize(
    ("wanted", "expected"),
    [
        (2.3, [("look", 2.3), ("half", 5.0)]),  # within 5 % of the look: looked at there
        (1.0, [("wanted", 1.0), ("look", 2.5)]),  # far below it: both
        (2.7, [("look", 2.5), ("wanted", 2.7)]),  # the look must stay at a quarter or under
    ],
)
def test_a_low_wanted_pressure_has_its_pause_and_the_look_its_quarter(wanted: float, expected: list) -> None:
    assert [(stage.id, stage.target) for stage in stage_targets("quarters", 10.0, wanted, 0.25)[:2]] == expected


def test_raised_every_so_much_it_pauses_at_each_step_the_look_and_the_wanted_pressure() -> None:
    chamber = derived(kind="chamber", working_pressure="28 bar", raising_by="7 bar")
    bars = [round(stage.target / 1e5, 1) for stage in chamber.stages]
    assert bars == [6.3, 7.0, 14.0, 21.0, 28.0, 35.0, 42.0]
    assert [stage.name for stage in chamber.stages][-3:] == ["wanted", "step 5", "test"]


@pytest.mark.parametrize(
    ("changes", "says"),
    [({"raising_by": "0.2 bar"}, "larger step"), ({"raising_by": "7 bar", "raising": "single"}, "no other style")],
)
def test_a_raising_of_too_many_steps_or_of_two_styles_is_refused(changes: dict[str, str], says: str) -> None:
    with pytest.raises(SheetError, match=says):
        derived(kind="chamber", working_pressure="28 bar", **changes)


def test_a_single_rise_still_looks_early_and_pauses_at_the_wanted_pressure() -> None:
    assert names("single", 4.5, 3.0) == ["look", "wanted", "test"]


def test_a_chamber_looks_at_fifteen_per_cent() -> None:
    answer = derived(kind="chamber", basis="chamber", factor=1.5)
    assert answer.stages[0].target == pytest.approx(0.15 * answer.gauge_target)
    assert [stage.name for stage in answer.stages] == ["look", "half", "60%", "wanted", "80%", "90%", "test"]


def test_stages_rise_and_only_the_first_is_near() -> None:
    stages = derived().stages
    targets = [stage.target for stage in stages]
    assert targets == sorted(targets)
    assert [stage.zone for stage in stages] == ["near", "line", "line", "line", "line"]
    assert all(stage.look_at for stage in stages)


@pytest.mark.parametrize("height", ["-2 m", "-0.4 m", "0 m", "0.1 m", "1 m"])
def test_the_first_stage_is_near_wherever_the_gauge_sits(height: str) -> None:
    assert derived(gauge={"range": "25 bar", "height_above_top": height}).stages[0].zone == "near"


def test_pauses_are_the_persons_and_the_last_stage_is_the_hold() -> None:
    stages = derived(pause="5 min").stages
    assert [stage.pause for stage in stages] == [300, 300, 300, 300, 0]


def test_the_course_climbs_holds_looks_and_comes_down() -> None:
    answer = derived(hold={"minimum": "40 min"})
    course = answer.profile
    assert [p.time for p in course] == sorted(p.time for p in course)
    top = [p for p in course if p.pressure == answer.gauge_target]
    assert top[1].time - top[0].time == 2400
    assert course[-3].pressure == pytest.approx(answer.hold.look_pressure)
    assert course[-1].pressure == 0


@pytest.mark.parametrize(("basis", "look"), [("proof-150", 8.5), ("code-130", 8.5)])
def test_the_look_is_at_the_wanted_pressure_or_as_the_code_says(basis: str, look: float) -> None:
    answer = derived(basis=basis, gauge=None)
    assert answer.hold.look_pressure == pytest.approx(look * 1e5)


def test_without_a_pump_strokes_are_not_known() -> None:
    stages = derived(pump=None).stages
    assert all(stage.strokes is None and stage.pumped is not None for stage in stages)


def test_an_accepted_drop_is_shown_as_the_leak_it_is() -> None:
    answer = derived(acceptance={"max_drop": "0.2 bar", "over": "30 min"})
    assert answer.hold.accepted_leak == pytest.approx(answer.compliance * 0.2e5 / 1800, rel=0.01)
    assert derived(acceptance={"max_leak": "2 mL/h"}).hold.accepted_leak == pytest.approx(2e-6 / 3600)
    unseen = derived(acceptance={"no_visible_drop": True})  # half of a division of 0.5 bar, over half an hour
    assert unseen.hold.accepted_leak == pytest.approx(unseen.compliance * 0.25e5 / 1800)
    assert derived(acceptance={"no_visible_drop": True}, gauge=None).hold.accepted_leak is None


def test_a_longer_hold_a_finer_gauge_and_a_thermometer_each_tell_a_smaller_leak() -> None:
    fine = {"range": "25 bar", "division": "0.1 bar"}
    plain = derived().hold.smallest_leak
    assert (
        derived(hold={"minimum": "2 h"}, gauge=fine, thermometer={"resolution": "0.05 °C"}).hold.smallest_leak < plain
    )
    with_thermometer = derived(gauge=fine, thermometer={"resolution": "0.05 °C"}).hold.smallest_leak
    assert with_thermometer < derived(gauge=fine).hold.smallest_leak
    assert (
        derived(gauge=fine, thermometer={"resolution": "0.05 °C"}, hold={"minimum": "90 min"}).hold.smallest_leak
        < with_thermometer
    )


def test_a_gauge_of_unknown_division_can_tell_nothing_that_is_known() -> None:
    assert derived(gauge={"range": "25 bar"}).hold.smallest_leak is None
