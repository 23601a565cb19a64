"""What differs between two sheets, and whether a piece of kit serves a plan."""

import datetime
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.sheets import RECEIVER, derived, receiver, shell
from toadbell.core.plan.compare import differences, told
from toadbell.core.plan.kit import serves
from toadbell.core.sheets import SheetError, read_kit

TODAY = datetime.date(2026, 11, 24)


def changed(old: dict[str, Any], new: dict[str, Any]) -> list[tuple[str, str | None, str | None]]:
    return [(one.field, one.was, one.now) for one in differences(old, new)]


def test_what_was_changed_added_and_taken_out_is_told_by_its_field() -> None:
    new = receiver(working_pressure="8 bar", plate_pressure=None, relief_set="9 bar", shell=shell(wall="3 mm"))
    assert changed(RECEIVER, new) == [
        ("working_pressure", "8.5 bar", "8 bar"),
        ("shell.wall", "3.2 mm", "3 mm"),
        ("relief_set", None, "9 bar"),
        ("plate_pressure", "14 bar", None),
    ]


def test_openings_are_told_by_their_names_whatever_their_order() -> None:
    one, other = {"name": "outlet", "rating": "40 bar"}, {"name": "drain", "rating": "40 bar"}
    assert changed({"fittings": [one, other]}, {"fittings": [other, one]}) == []
    assert changed({"fittings": [one, other]}, {"fittings": [one, {**other, "rating": "16 bar"}]}) == [
        ("fittings.drain.rating", "40 bar", "16 bar")
    ]


def test_ticks_the_day_and_the_board_are_no_change() -> None:
    old = {"date": "2026-05-01", "gauges": [], "fittings": [{"name": "outlet", "ready": True}]}
    new = {"date": "2026-11-24", "gauges": [{"name": "dial", "range": "25 bar"}], "fittings": [{"name": "outlet"}]}
    assert changed(old, new) == []


def lines(old: dict[str, Any], new: dict[str, Any]) -> list[str]:
    return [str(line) for line in told(differences(old, new))]


def test_what_differs_is_told_a_line_for_each_thing_in_words() -> None:
    drain = {"name": "drain", "rating": "40 bar", "thread": "G 1/4"}
    old = {"fittings": [drain, {"name": "sight glass"}], "shell": {"material": "pet", "wall_measured": False}}
    new = {
        "fittings": [{**drain, "rating": "16 bar", "thread": "G 3/8"}, {"name": "tap", "rating": "10 bar"}],
        "shell": {"material": "carbon-steel", "wall_measured": True},
        "hold": {"minimum": "30 min"},
        "relief_set": "9 bar",
        "acceptance": {"baseline": "019f0000-0000-7000-8000-000000000001"},
    }
    assert lines(old, new) == [
        "drain: rating: 40 bar → 16 bar, thread: G 1/4 → G 3/8",
        "tap: new",
        "material: PET → Carbon steel",
        "wall measured: no → yes",
        "relief valve: now 9 bar",
        "sight glass: gone",
    ]


def test_what_a_plan_is_only_offered_is_no_news_and_no_id_is_told() -> None:
    old = {"acceptance": {"baseline": "019f0000-0000-7000-8000-000000000001"}, "stages": [{"target": "2 bar"}]}
    new = {"acceptance": {"baseline": "019f0000-0000-7000-8000-000000000002"}, "pause": "3 min", "basis": "proof-150"}
    assert lines(old, new) == ["held against: another hold → another hold", "the stages are others"]
    assert lines({"basis": "proof-150"}, {"basis": "own"}) == ["basis: Workshop proof → A factor of your own"]


@given(
    st.dictionaries(
        st.sampled_from(["a", "b", "c"]),
        st.one_of(st.none(), st.integers(), st.text(max_size=3), st.lists(st.text(max_size=2), max_size=2)),
    )
)
def test_nothing_differs_from_itself(sheet: dict[str, Any]) -> None:
    assert changed(sheet, sheet) == []


def serving(kind: str, **particulars: Any) -> tuple[bool, str]:
    return serves(read_kit(kind, particulars), derived(), TODAY)


@pytest.mark.parametrize(
    ("kind", "particulars", "does", "says"),
    [
        ("gauge", {"range": "25 bar", "calibrated": "2026-06-01"}, True, "2 times the test; calibrated."),
        ("gauge", {"range": "25 bar", "calibrated": "2025-06-01"}, True, "compare it on the day."),
        ("gauge", {"range": "16 bar"}, False, "1.5 times is the least."),
        ("gauge", {"range": "60 bar"}, False, "4 times is the most."),
        ("pump", {"stroke": "5 mL", "maximum": "30 bar"}, True, "34 strokes to the top."),
        ("pump", {"stroke": "5 mL", "maximum": "60 bar"}, True, "times the ceiling"),
        ("pump", {"maximum": "8 bar"}, False, "Makes 8 bar at most."),
        ("pump", {}, True, "Its stroke is not known."),
        ("hose", {"rating": "40 bar"}, True, "enough for 13.43 bar"),
        ("plug", {"rating": "10 bar"}, False, "it must bear 13.43 bar"),
        ("thermometer", {"resolution": "0.1 delta_degC"}, True, "0.12 bar on the gauge"),
        ("relief-valve", {"set_pressure": "8 bar"}, True, "take it off for the test"),
        ("relief-valve", {"set_pressure": "14 bar"}, True, "under the ceiling"),
        ("relief-valve", {"set_pressure": "40 bar"}, False, "too high for service"),
        ("wrench", {"range": "100 N m"}, True, "between a fifth and the whole"),
    ],
)
def test_whether_a_piece_of_kit_serves_and_why(kind: str, particulars: dict[str, Any], does: bool, says: str) -> None:
    answer = serving(kind, **particulars)
    assert answer[0] is does
    assert says in answer[1]
    assert answer[1].endswith(".")


def test_kit_that_is_none_is_refused_by_its_field() -> None:
    for kind, particulars, field in (
        ("ladder", {}, "kind"),
        ("hose", {}, "rating"),
        ("gauge", {"range": "-3 bar"}, "range"),
    ):
        with pytest.raises(SheetError) as refusal:
            read_kit(kind, particulars)
        assert refusal.value.field == field
