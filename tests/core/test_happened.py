"""What happens to a vessel changes its tag to what still stands, and never to more."""

import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from toadbell.core.ledger.voiding import HAPPENINGS, Decided, Happened, hurt_since, last_look, relief_lift, tag_now

DECIDED = Decided("fit", 8.5e5, datetime.datetime(2026, 5, 14, 15, tzinfo=datetime.UTC))
TODAY = datetime.date(2026, 11, 26)
LIMITS = [("shell hoop", 11.8e5), ("the plate", 14e5)]


def happened(what: str, days: int = 30, text: str = "") -> Happened:
    """Something so many days after the decision."""
    at = DECIDED.at + datetime.timedelta(days=days)
    return Happened(what, at.date(), at, text)


def now(*events: Happened, decided: Decided = DECIDED, limits: list = LIMITS, retire: int | None = None):  # type: ignore[no-untyped-def]
    return tag_now(decided, events, limits, retire, TODAY)


def test_nothing_happened_and_it_stands() -> None:
    assert (now().fitness, now().pressure, now().says) == ("fit", 8.5e5, "")


@pytest.mark.parametrize("what", [name for name, one in HAPPENINGS.items() if one.voids in ("all", "proof")])
def test_a_knock_a_mend_a_change_frost_and_heat_leave_nothing_proven(what: str) -> None:
    found = now(happened(what, text="off the trolley"))
    assert (found.fitness, found.pressure) == ("not proven", None)
    assert "off the trolley" in found.says
    assert HAPPENINGS[what].asks in found.says


@pytest.mark.parametrize("what", ["relief-reset", "refitted"])
def test_a_valve_or_a_fitting_touched_asks_for_its_own_trial_before_use(what: str) -> None:
    found = now(happened(what))
    assert (found.fitness, found.pressure) == ("limited", 8.5e5)
    assert HAPPENINGS[what].asks in found.says


def test_a_reset_valve_that_was_tried_since_is_in_order_again() -> None:
    assert now(happened("relief-reset", 5), happened("relief tried", 6, "lifts at 8.4 bar")).fitness == "fit"


def test_what_happened_before_the_decision_was_proved_by_it() -> None:
    assert now(happened("dropped", -3)).fitness == "fit"
    same_day = Happened("dropped", DECIDED.at.date(), DECIDED.at + datetime.timedelta(hours=2), "")
    assert now(same_day).fitness == "not proven"


def test_a_thinner_wall_lets_it_be_used_for_less() -> None:
    found = now(limits=[("shell hoop", 6e5), ("the plate", 14e5)])
    assert (found.fitness, found.pressure) == ("limited", 6e5)
    assert "shell hoop allows no more than 6 bar" in found.says
    assert now(limits=[("shell hoop", 0.0)]).fitness == "not fit"


def test_past_its_year_nothing_else_counts() -> None:
    assert now(retire=2025).fitness == "not fit"


@given(
    st.lists(st.sampled_from(sorted(HAPPENINGS)), max_size=5),
    st.sampled_from(["fit", "limited", "not fit", "not proven"]),
)
def test_nothing_that_happens_makes_a_tag_better(events: list[str], was: str) -> None:
    order = ("not fit", "not proven", "limited", "fit")
    pressure = 8.5e5 if was in ("fit", "limited") else None
    found = now(*(happened(what, 1 + i) for i, what in enumerate(events)), decided=Decided(was, pressure, DECIDED.at))  # type: ignore[arg-type]
    assert order.index(found.fitness) <= order.index(was)


def test_looks_lifts_and_hurts_are_read_from_what_was_written_down() -> None:
    events = [
        happened("look inside", 1, "clean"),
        happened("relief tried", 2, "lifts at 8.4 bar; thrice"),
        happened("dropped", 3),
    ]
    assert last_look(events) == (events[0].on, "clean")
    assert relief_lift(events) == pytest.approx(8.4e5)
    assert relief_lift([*events, happened("relief-reset", 4)]) is None
    assert relief_lift([happened("relief tried", 1, "lifts at some bar")]) is None
    assert "Dropped" in (hurt_since(events, DECIDED.at) or "")
    assert hurt_since(events, events[2].at) is None
