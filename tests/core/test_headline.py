"""What the bench says first: the worst that is open, and never to raise or to come near where that is not so."""

import datetime
import random
import uuid
from dataclasses import dataclass, field
from typing import Any

import pytest

from tests.core.sheets import derived
from toadbell.core.answers import DeriveAnswer
from toadbell.core.run.headline import ORDER, Seen, worst_last
from toadbell.core.run.now import NEAR_BAND, near_up_to, now_card
from toadbell.core.run.phases import RunState, run_state
from toadbell.core.run.steps import STEPS, refused

NOON = datetime.datetime(2026, 5, 1, 12, tzinfo=datetime.UTC)
VESSELS: dict[str, DeriveAnswer] = {
    "receiver": derived(kind="receiver", working_pressure="8.5 bar"),
    "chamber": derived(kind="chamber", working_pressure="28 bar", raising_by="7 bar"),
}


@dataclass
class Entry:
    kind: str
    at: datetime.datetime
    data: dict[str, Any] = field(default_factory=dict)
    id: uuid.UUID = field(default_factory=uuid.uuid4)


def stands(entries: list[Entry], answer: DeriveAnswer, now: datetime.datetime = NOON) -> RunState:
    state = "aborted" if entries and entries[-1].kind == "dumped" else "running"
    return run_state(entries, answer.stages, answer.hold.minimum, state, NOON, now, answer.medium)  # type: ignore[arg-type]


def at_stage(count: int, answer: DeriveAnswer, *more: Entry) -> RunState:
    """Vent shut and so many stages reached, their pauses over."""
    entries = [Entry("vent-shut", NOON), *(Entry("stage-reached", NOON) for _ in range(count)), *more]
    return stands(entries, answer, NOON + datetime.timedelta(hours=5))


def guard(code: str, does: str) -> Entry:
    return Entry("guard", NOON, {"code": code, "does": does, "says": "…", "limit": None})


def card(seen: Seen, state: RunState, answer: DeriveAnswer = VESSELS["receiver"]) -> Any:
    return now_card(state, answer, dial=True, now=NOON + datetime.timedelta(hours=5), strokes=0, seen=seen)


def test_the_worst_that_is_open_is_said_first_in_one_order() -> None:
    answer = VESSELS["receiver"]
    seen = Seen(read=answer.target_band[1] * 1.2, error=1e3, leaks=("lower seam",), failed=True)
    all_open = at_stage(2, answer, guard("noise", "dump"), guard("called", "dump"))
    heads = []
    for state, now in (
        (all_open, seen),
        (at_stage(2, answer, guard("noise", "dump")), seen),
        (at_stage(2, answer), seen),
        (at_stage(2, answer), Seen(read=1e5, error=1e3, leaks=("lower seam",), failed=True)),
        (at_stage(2, answer), Seen(read=1e5, error=1e3, failed=True)),
        (at_stage(2, answer), Seen(read=1e5, error=1e3)),
    ):
        heads.append(card(now, state).says.code)
    assert heads == [
        "now.called-dump",
        "now.alarm-dump",
        "now.over-band-stop",
        "now.leaks",
        "now.failed-not-zero",
        "now.raise",
    ]
    assert list(ORDER) == ["called", "alarm", "over", "leaks", "failed"]


def test_of_several_alarms_the_gravest_is_the_one_that_is_shown() -> None:
    told = (guard("falling", "dump"), guard("overshoot", "stop"), guard("air", "vent"))
    assert [one.data["does"] for one in worst_last(told)] == ["stop", "vent", "dump"]
    assert worst_last((guard("called", "dump"), guard("noise", "dump")))[-1].data["code"] == "called"


@pytest.mark.parametrize(
    ("part", "code", "zone"),
    [(None, "raise", "near"), (0.5, "raise", "near"), (1.0, "reached", "near"), (1.2, "passed", "line")],
)
def test_raising_follows_what_was_read_last(part: float | None, code: str, zone: str) -> None:
    answer = VESSELS["receiver"]
    first = answer.stages[0]
    told = card(Seen(read=None if part is None else part * first.target, error=1e3), at_stage(0, answer))
    assert (told.says.code, told.zone) == (f"now.{code}", zone)


def test_a_stage_far_behind_is_neither_raised_to_nor_near() -> None:
    answer = VESSELS["receiver"]
    told = card(Seen(read=answer.stages[-2].target, error=1e3), at_stage(0, answer))
    assert (told.says.code, told.zone, told.step) == ("now.passed", "line", "stage-reached")
    assert "Keep" in told.detail or "Nobody" in told.detail


def test_what_fell_is_raised_again_before_it_is_held() -> None:
    answer = VESSELS["receiver"]
    full = at_stage(len(answer.stages), answer)
    assert card(Seen(read=answer.target_band[0], error=1e3), full).step == "shut-in"
    low = card(Seen(read=0.3 * answer.target_band[0], error=1e3), full)
    assert (low.says.code, low.step, low.zone) == ("now.low-again", None, "line")


def test_after_a_dump_nobody_comes_near_before_zero_was_read() -> None:
    answer = VESSELS["receiver"]
    dumped = stands([Entry("vent-shut", NOON), Entry("dumped", NOON)], answer)
    told = card(Seen(), dumped)
    assert (told.says.code, told.zone) == ("now.dumped-not-zero", "line")
    assert card(Seen(zero=True), dumped).zone == "near"


def test_nobody_goes_close_where_it_did_not_come_down() -> None:
    answer = VESSELS["receiver"]
    entries = [Entry("vent-shut", NOON), *(Entry("stage-reached", NOON) for _ in answer.stages)]
    entries += [Entry("shut-in", NOON, {"pressure": 12e5}), Entry("hold-ended", NOON), Entry("came-down", NOON)]
    looking = stands(entries, answer)
    assert card(Seen(read=answer.hold.look_pressure, error=1e3), looking).step == "looked"
    high = card(Seen(read=1.4 * answer.hold.look_pressure, error=1e3), looking)
    assert (high.step, high.zone) == ("came-down", "line")


def test_what_was_released_is_read_at_zero_before_it_is_raised_again() -> None:
    back = at_stage(1, VESSELS["receiver"], Entry("gone-back", NOON, {"to": 0, "vent": False}))
    told = card(Seen(), back)
    assert (told.says.code, told.step, told.zone) == ("now.zero-first", None, "line")
    assert card(Seen(read=0.0, error=1e3), back).says.code == "now.raise"


def test_a_leak_that_nothing_was_done_about_is_mended_at_zero_before_the_next_round() -> None:
    back = at_stage(1, VESSELS["receiver"], Entry("gone-back", NOON, {"to": 0, "vent": False}))
    leaky = {"leaks": ("lower seam",), "error": 1e3}
    heads = [card(Seen(read=read, **leaky), back) for read in (2e5, None, 0.0)]
    assert [(one.says.code, one.zone) for one in heads] == [
        ("now.leaks", "line"),
        ("now.leaks-unread", "line"),
        ("now.leaks-zero", "near"),
    ]
    assert not any(one.step for one in heads)
    assert "lower seam" in heads[-1].detail


def random_run(dice: random.Random, answer: DeriveAnswer) -> tuple[RunState, Seen, datetime.datetime]:
    """A run some steps in, each of them one that is allowed; with whatever is open, and whatever is read."""
    at, entries = NOON, [Entry("vent-shut", NOON)]
    for _ in range(dice.randrange(14)):
        at += datetime.timedelta(seconds=dice.choice((5, 60, 900)))
        state = stands(entries, answer, at)
        may = [one for one in MOVES if refused(STEPS[one], "running", state, answer.stages) is None]
        kind = dice.choice([*may, *(["guard"] if dice.random() < 0.3 else [])])
        entries.append(Entry(kind, at, _carried(kind, dice, state)))
        if kind == "dumped":
            break
    top = answer.target_band[1]
    seen = Seen(
        read=dice.choice((None, 0.0, dice.uniform(0, 1.3 * top), dice.choice(answer.stages).target)),
        error=dice.uniform(0, 0.01 * top),
        leaks=("lower seam",) if dice.random() < 0.15 else (),
        failed=dice.random() < 0.1,
        zero=dice.random() < 0.3,
    )
    return stands(entries, answer, at), seen, at


MOVES = ("stage-reached", "gone-back", "shut-in", "hold-ended", "came-down", "looked", "released", "dumped")


def _carried(kind: str, dice: random.Random, state: RunState) -> dict[str, Any]:
    if kind == "gone-back":
        return {"to": dice.randrange(state.reached + 1), "vent": False}
    if kind == "guard":
        code, does = dice.choice((("noise", "dump"), ("overshoot", "stop"), ("air", "vent"), ("called", "dump")))
        return {"code": code, "does": does, "says": "…", "limit": None}
    return {"pressure": 1e5}


@pytest.mark.parametrize("name", VESSELS)
def test_whatever_happened_the_headline_never_sends_anybody_on_or_near(name: str) -> None:
    answer, dice = VESSELS[name], random.Random(f"headline {name}")
    onward = {"now.raise", "now.reached", "now.passed", "now.at-test", "now.low-again"}
    for _ in range(4000):
        state, seen, at = random_run(dice, answer)
        told = now_card(state, answer, dial=True, now=at, strokes=0, seen=seen)
        code, high = told.says.code, seen.read is not None and seen.read > answer.target_band[1]
        open_ = bool(state.guards) or high or bool(seen.leaks) or seen.failed
        if open_ and state.phase not in ("dumped", "over", "released"):
            assert code not in onward
            assert told.step not in ("stage-reached", "shut-in")
            assert told.zone == "line" or (code == "now.leaks-zero" and seen.read <= seen.error)
        if state.phase == "dumped":
            assert (told.zone == "near") == seen.zero
        if code == "now.raise":
            assert seen.read is None or seen.read < told.says.facts["target"]
        pressed = state.phase in ("raising", "pausing", "at test", "holding", "held")
        if told.zone == "near" and pressed and seen.read is not None:
            assert seen.read <= NEAR_BAND * near_up_to(answer) + seen.error
