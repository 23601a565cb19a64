"""A vessel's ledger: what it may be used at today, by all the evidence there is, and never by more than stands."""

import datetime
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.test_fitness import SEEN
from toadbell.core.judge.answers import LedgerAnswer, TagNow
from toadbell.core.kinds import KINDS
from toadbell.core.ledger.deciding import ORDER
from toadbell.core.ledger.fitness import fitness
from toadbell.core.ledger.programme import FIRINGS, PROGRAMMES
from toadbell.core.ledger.record import Ended, OnRecord, standing
from toadbell.core.ledger.since import steam_failed, steam_short, steam_void
from toadbell.core.ledger.standing import ledger_of, tag_now
from toadbell.core.ledger.valves import Seat, another_since
from toadbell.core.ledger.voiding import HAPPENINGS, Happened
from toadbell.core.sheets.kit import FittedValve

TODAY = datetime.date(2026, 11, 26)
HELD = datetime.datetime(2026, 5, 14, 15, tzinfo=datetime.UTC)
PROOF = Ended("one", 1, HELD.date(), HELD, "strength", "fit", 8.5e5, advised="fit")
TIGHT = replace(PROOF, proves="tightness", fitness="tight", pressure=0.8e5, advised="tight")


def happened(what: str, days: int = 30, text: str = "", **more: Any) -> Happened:
    """Something so many days after the decision."""
    at = HELD + datetime.timedelta(days=days)
    return Happened(what, at.date(), at, text, **more)


DONE = (
    happened("relief tried", -2, "lifts at 8.4 bar"),
    happened("look inside", -3, "clean", found="sound"),
    happened("steam trial", -1, "lifts at 8.4 bar; gauge and valve agree"),
)
TANK = OnRecord(
    "receiver",
    8.5e5,
    TODAY,
    trials=(PROOF,),
    happened=DONE,
    limits=[("shell hoop", 11.8e5), ("the plate", 14e5)],
    plate=14e5,
    wall_measured=True,
    wall=datetime.date(2024, 1, 1),
    allowable=11.8e5,
)


def told(*events: Happened, **changes: Any) -> LedgerAnswer:
    record = replace(TANK, **changes)
    return ledger_of(replace(record, happened=(*record.happened, *events)))


def tag(*events: Happened, **changes: Any) -> TagNow:
    record = replace(TANK, **changes)
    return tag_now(told(*events, **changes), standing(record.trials))


def line(found: LedgerAnswer, code: str) -> Any:
    return next(one for one in found.lines if one.code == code)


def state(found: LedgerAnswer, code: str) -> str:
    return str(line(found, code).state)


# -- what stands ----------------------------------------------------------------------------------------------


def test_where_all_that_is_asked_stands_it_may_be_used_and_the_soonest_day_is_next() -> None:
    found = told()
    assert (found.answer, found.pressure) == ("fit", 8.5e5)
    assert found.says == "May be used at up to 8.5 bar."
    assert found.next_says == "Next due: look inside, by 11 May 2027."
    assert (tag().fitness, tag().says) == ("fit", "")
    assert line(found, "proof").until == datetime.date(2029, 5, 14)


def test_a_vessel_of_which_nothing_is_on_record_is_not_proven_and_is_told_to_begin_with_its_proof() -> None:
    found = told(trials=(), happened=(), wall=None)
    assert (found.answer, found.pressure) == ("not proven", None)
    assert {one.state for one in found.lines if one.asked} == {"not known"}
    assert (found.next, line(found, "proof").basis) == ("proof", "")


@pytest.mark.parametrize(
    ("code", "on", "then"),
    [
        ("proof", datetime.date(2029, 5, 15), "not proven"),
        ("looked", datetime.date(2027, 5, 12), "limited"),
        ("relief", datetime.date(2027, 5, 13), "limited"),
    ],
)
def test_the_day_after_its_last_a_line_has_lapsed_and_the_tag_with_it(code: str, on: datetime.date, then: str) -> None:
    before = told(today=on - datetime.timedelta(days=1))
    assert state(before, code) == "met"
    found = told(today=on)
    assert (state(found, code), found.answer) == ("lapsed", then)


@pytest.mark.parametrize("what", [name for name, one in HAPPENINGS.items() if one.voids in ("all", "proof")])
def test_a_knock_a_mend_a_change_frost_and_heat_leave_nothing_proven(what: str) -> None:
    found = tag(happened(what, text="off the trolley"))
    assert (found.fitness, found.pressure) == ("not proven", None)
    assert "off the trolley" in found.says
    assert HAPPENINGS[what].asks in found.says


@pytest.mark.parametrize("what", ["relief-reset", "refitted"])
@pytest.mark.parametrize("kind", ["receiver", "pipework"])
def test_a_valve_or_a_fitting_touched_asks_for_its_own_trial_before_use(what: str, kind: str) -> None:
    found = tag(happened(what), kind=kind)
    assert (found.fitness, found.pressure) == ("limited", 8.5e5)
    assert HAPPENINGS[what].asks in found.says


def test_a_reset_valve_that_was_tried_since_is_in_order_again() -> None:
    assert tag(happened("relief-reset", 5), happened("relief tried", 6, "lifts at 8.4 bar")).fitness == "fit"


def test_a_fitting_sealed_anew_is_answered_by_a_tight_trial_and_not_by_a_leaking_one() -> None:
    later = replace(TIGHT, id="two", number=2, on=HELD.date() + datetime.timedelta(days=9))
    later = replace(later, decided=HELD + datetime.timedelta(days=9))
    refitted = happened("refitted", 5, found="other")
    later = replace(later, pressure=8.5e5)
    assert tag(refitted, trials=(PROOF, later)).fitness == "fit"
    assert tag(happened("refitted", 5), trials=(PROOF, later)).fitness == "limited"  # it may have been the valve
    leaks = replace(later, fitness="not proven", tight=False, leaking=True)
    assert tag(refitted, trials=(PROOF, leaks)).fitness == "not proven"


def test_what_was_known_at_the_decision_was_weighed_by_it_and_what_is_written_later_counts_by_its_day() -> None:
    assert tag(happened("dropped", -3)).fitness == "fit"
    same_day = Happened("dropped", HELD.date(), HELD + datetime.timedelta(hours=2), "")
    assert tag(same_day).fitness == "not proven"
    late = replace(PROOF, decided=HELD + datetime.timedelta(days=6))  # held in May, decided a week on
    written_later = Happened("dropped", HELD.date() + datetime.timedelta(days=2), HELD + datetime.timedelta(days=9), "")
    assert tag(written_later, trials=(late,)).fitness == "not proven"


def test_a_thinner_wall_lets_it_be_used_for_less() -> None:
    found = tag(limits=[("shell hoop", 6e5), ("the plate", 14e5)])
    assert (found.fitness, found.pressure) == ("limited", 6e5)
    assert "shell hoop allows no more than 6 bar" in found.says
    assert tag(limits=[("shell hoop", 0.0)]).fitness == "not fit"


def test_past_its_year_nothing_else_counts() -> None:
    found = told(retire=2025)
    assert (found.answer, state(found, "year")) == ("not fit", "not met")


def test_a_look_that_finds_it_not_sound_takes_it_out_of_use_until_a_sound_one() -> None:
    crack = happened("look inside", 40, "a crack by the drain bush", found="unsound")
    assert told(crack, trials=()).answer == "not fit"
    found = told(crack)
    assert (found.answer, state(found, "looked")) == ("not fit", "not met")
    assert "a crack by the drain bush" in found.says
    assert told(crack, happened("look inside", 50, "ground out, dye shows none", found="sound")).answer == "fit"


@pytest.mark.parametrize(
    ("text", "then", "answer"),
    [
        ("lifts at 8.7 bar", "met", "fit"),  # within its tolerance of what is wanted; UG-134
        ("lifts at 8.4 bar", "met", "fit"),
        ("stuck a little", "not known", "limited"),
        ("lifts at 9.9 bar", "not met", "limited"),
    ],
)
def test_a_valve_counts_by_what_it_lifted_at(text: str, then: str, answer: str) -> None:
    found = told(happened("relief tried", 20, text))
    assert (state(found, "relief"), found.answer) == (then, answer)


def test_a_boiler_is_limited_to_its_steam_trial_until_that_is_written_down() -> None:
    cold = replace(PROOF, fitness="limited", advised="limited", unknown=frozenset({"steam", "relief"}))
    boiler = {"kind": "boiler", "trials": (cold,)}
    before = told(happened=DONE[:2], **boiler)
    assert (before.answer, before.pressure, before.next) == ("limited", 8.5e5, "steam")
    after = told(happened=DONE, **boiler)
    assert (after.answer, after.pressure) == ("fit", 8.5e5)
    assert "done since" in after.says
    mended = told(happened("mended", 40), happened=DONE, **boiler)
    assert (mended.answer, state(mended, "steam")) == ("not proven", "voided")


def test_what_speaks_against_a_hold_is_not_made_good_by_what_is_written_down_later() -> None:
    flawed = replace(PROOF, fitness="limited", advised="limited", against=frozenset({"air"}))
    own_choice = replace(PROOF, fitness="limited", advised="fit")
    less = replace(PROOF, fitness="limited", pressure=6e5, advised="limited", against=frozenset({"reached"}))
    assert [told(trials=(one,)).answer for one in (flawed, own_choice, less)] == ["limited"] * 3


def test_a_line_that_a_person_overruled_stays_so_until_it_gets_worse() -> None:
    bold = replace(PROOF, further=True, reason="new valve, its paper is in the drawer", unknown=frozenset({"relief"}))
    found = told(happened=DONE[1:], trials=(bold,))
    assert (found.answer, line(found, "relief").overruled) == ("fit", bold.reason)
    assert told(happened("relief-reset"), happened=DONE[1:], trials=(bold,)).answer == "limited"


def test_what_a_person_decided_beyond_a_hold_is_told_as_his_and_never_as_shown() -> None:
    bold = replace(PROOF, tight=False, further=True, reason="the gauge was new")
    found = told(trials=(bold,))
    assert (found.answer, state(found, "proof"), line(found, "proof").overruled) == ("fit", "not known", bold.reason)
    assert told(happened("dropped"), trials=(bold,)).answer == "not proven"


@pytest.mark.parametrize("kind", ["receiver", "cooler", "fermenter"])
def test_a_vessel_called_fit_on_a_tight_trial_alone_falls_with_any_knock_or_new_seal(kind: str) -> None:
    bold = replace(TIGHT, fitness="fit", further=True, reason="it is only oil", unknown=frozenset({"proof"}))
    assert told(kind=kind, trials=(bold,)).answer in ("fit", "limited")
    for what in ("dropped", "refitted", "changed"):
        assert told(happened(what), kind=kind, trials=(bold,)).answer == "not proven", what


@pytest.mark.parametrize(
    ("events", "code", "then"),
    [
        ([happened("dropped", 40)], "looked", "voided"),
        ([happened("frozen", 40)], "relief", "voided"),
        ([happened("overheated", 40)], "relief", "voided"),
        ([happened("refitted", 40)], "relief", "voided"),
        ([happened("refitted", 40, found="valve")], "relief", "voided"),
        ([happened("refitted", 40, found="other")], "relief", "met"),
        ([happened("relief off", 40, "trial 2")], "relief", "voided"),
        ([happened("relief off", 40, "trial 2"), happened("relief tried", 41, "lifts at 8.4 bar")], "relief", "met"),
        ([happened("relief-reset", 40, "trial 2: Bad: take it out of use.")], "relief", "voided"),
        (
            [
                happened("relief-reset", 40, "trial 2: Bad: take it out of use."),
                happened("relief tried", 41, "lifts at 8.4 bar"),
            ],
            "relief",
            "voided",  # a note puts nothing right that a trial found
        ),
        (
            [
                happened("relief-reset", 40, "trial 2: Bad: take it out of use."),
                happened("relief tried", 41, "lifts at 8.4 bar; good in trial 3"),
            ],
            "relief",
            "met",
        ),
        ([happened("look inside", 150, "a pit by the drain", found="watch")], "looked", "met"),
    ],
)
def test_what_happened_voids_what_it_may_have_hurt_and_a_trial_alone_puts_right_what_one_found(
    events: list[Happened], code: str, then: str
) -> None:
    assert state(told(*events), code) == then


def test_a_look_that_says_watch_is_good_for_half_a_year_and_says_so() -> None:
    look = happened("look inside", 10, "a pit by the drain", found="watch")
    found = told(look)
    assert (state(found, "looked"), line(found, "looked").until) == ("lapsed", datetime.date(2026, 11, 24))
    assert "to be watched: a pit by the drain; good for 6 months" in line(found, "looked").says


def test_steam_serves_the_pressure_and_the_valve_it_was_raised_with() -> None:
    def steam(*events: Happened, at: str = "lifts at 8.4 bar; passed in trial 2") -> str:
        return state(told(happened("steam trial", 1, at), *events, kind="boiler"), "steam")

    assert steam() == "met"
    assert steam(at="lifts at 5.5 bar; passed in trial 2") == "not known"
    assert steam(at="it went well") == "not known"
    assert steam(happened("relief-reset", 20)) == "voided"
    failed = happened("steam failed", 20, "trial 3: the gauge shows too little")
    assert steam(failed, happened("steam trial", 30, "lifts at 8.4 bar")) == "not met"
    assert steam(failed, happened("steam trial", 30, "lifts at 8.4 bar; passed in trial 4")) == "met"


def test_what_a_ledger_holds_against_steam_is_held_against_it_in_a_trials_evidence_too() -> None:
    at_less = happened("steam trial", 1, "lifts at 5.5 bar; passed in trial 2")
    noted = (happened("steam failed", 20, "trial 3: the gauge lies"), happened("steam trial", 30, "lifts at 8.4 bar"))
    assert "8.5 bar is wanted" in str(steam_short(at_less, 8.5e5))
    assert steam_failed(noted) is noted[0]
    assert steam_void([at_less, happened("relief-reset", 20)], at_less) is not None
    seen = replace(SEEN, kind="boiler", steamed=at_less.on, steam_void=steam_short(at_less, 8.5e5))
    line_ = next(one for one in fitness(seen).evidence if one.code == "steam")
    assert (line_.state, fitness(seen).answer) == ("not known", "limited")


def test_a_valve_lifts_for_what_was_decided_and_not_for_more() -> None:
    four = replace(PROOF, fitness="limited", pressure=4e5, advised="limited")
    assert state(told(trials=(four,)), "relief") == "not met"  # it lifts at 8.4 bar


def test_a_vessel_that_yielded_is_not_proven_by_a_second_proof_of_the_same_metal() -> None:
    yielded = happened("yielded", 1, "trial 1: its strokes told of yielding")
    second = replace(PROOF, id="two", number=2, on=PROOF.on, decided=HELD + datetime.timedelta(days=2))
    second = replace(second, on=second.decided.date())
    again = told(yielded, trials=(replace(PROOF, fitness="not fit", pressure=None), second))
    assert (state(again, "proof"), again.answer) == ("not met", "not proven")
    looked = happened("look inside", 1.5, "measured all round", found="sound")
    assert state(told(yielded, looked, trials=(PROOF, second)), "proof") == "met"
    crack = happened("look inside", 1.5, "a crack", found="unsound")
    assert state(told(yielded, crack, trials=(PROOF, second)), "proof") == "not met"


def test_what_was_written_down_between_hold_and_decision_is_weighed() -> None:
    """Judged at three, knocked over at four, decided at six."""
    judged = replace(PROOF, judged=HELD, decided=HELD + datetime.timedelta(hours=3))
    knock = Happened("dropped", HELD.date(), HELD + datetime.timedelta(hours=1), "off the trolley")
    assert told(knock, trials=(judged,)).answer == "not proven"
    bold = replace(judged, further=True, reason="a scratch", unknown=frozenset({"proof"}))
    assert told(knock, trials=(bold,)).answer in ("fit", "limited")


def test_a_tightness_trial_that_cannot_tell_takes_no_proof_down() -> None:
    open_ = replace(TIGHT, id="two", number=2, fitness="not proven", pressure=None, tight=False)
    later = replace(open_, on=HELD.date() + datetime.timedelta(days=9), decided=HELD + datetime.timedelta(days=9))
    assert told(trials=(PROOF, later)).answer == "fit"
    assert told(trials=(PROOF, replace(later, leaking=True))).answer == "not proven"


def test_a_digesters_seal_may_stand_over_its_working_head_up_to_where_it_is_tried() -> None:
    for set_at, then in ((3.9e3, "met"), (6e3, "not met")):
        tried = happened("relief tried", -2, f"lifts at {set_at / 100} mbar")
        head = replace(TANK, kind="digester", wanted=3e3, relief_set=set_at, limits=[], happened=(tried,), trials=())
        assert state(ledger_of(head), "relief") == then


def test_a_chamber_is_proven_anew_after_ten_firings() -> None:
    fired = [happened("fired", 2 + n) for n in range(FIRINGS + 1)]
    assert told(*fired[:-1], kind="chamber").answer == "fit"
    found = told(*fired, kind="chamber")
    assert (found.answer, found.next, line(found, "firings").basis) == ("limited", "firings", "")


def test_where_no_proof_stands_a_tight_trial_still_says_that_it_is_tight() -> None:
    later = replace(TIGHT, id="two", number=2, on=datetime.date(2029, 6, 1))
    later = replace(later, decided=datetime.datetime(2029, 6, 1, 12, tzinfo=datetime.UTC))
    found = told(kind="fermenter", trials=(PROOF, later), today=datetime.date(2029, 6, 2))
    assert (found.answer, found.pressure) == ("tight", 0.8e5)
    assert "lapsed" in found.says
    assert (state(found, "tightness"), line(found, "tightness").before_use) == ("not known", True)
    assert "at 0.8 bar, and 8.5 bar is needed" in line(found, "tightness").says


@pytest.mark.parametrize("kind", ["cooler", "sheet-tank", "enclosure", "cask"])
def test_a_low_vessel_is_asked_to_be_tight_and_no_more(kind: str) -> None:
    low = {"kind": kind, "trials": (TIGHT,), "happened": (), "limits": [], "tight_at": 0.8e5}
    found = told(**low, today=datetime.date(2027, 1, 1))
    assert (found.answer, found.pressure, [one.state for one in found.lines]) == ("tight", 0.8e5, ["met"])
    later = told(**low, today=datetime.date(2029, 1, 1))
    assert (later.answer, later.pressure, later.next) == ("not proven", None, "tightness")


def test_every_kind_has_a_programme_that_begins_with_a_trial() -> None:
    assert set(PROGRAMMES) == set(KINDS)
    for kind, lines in PROGRAMMES.items():
        assert lines[0].basis is not None, kind
        assert all(one.basis is not None or one.write is not None for one in lines if one.asked), kind


# -- whatever happened -----------------------------------------------------------------------------------------

EVENTS = st.builds(
    lambda what, days, lifts: happened(what, days, f"lifts at {lifts:.1f} bar" if what == "relief tried" else ""),
    st.sampled_from(sorted(HAPPENINGS)),
    st.integers(-400, 700).filter(bool),
    st.floats(5, 12),
)
TRIALS = st.builds(
    lambda n, days, proves, fitness, further, leaking: Ended(
        id=str(n),
        number=1,
        on=HELD.date() + datetime.timedelta(days=days),
        decided=HELD + datetime.timedelta(days=days, hours=3),
        proves=proves,
        fitness="tight" if proves != "strength" and fitness in ("fit", "limited") else fitness,
        pressure=None if fitness in ("not fit", "not proven") else 8e5,
        leaking=leaking and fitness not in ("fit", "limited", "tight"),
        tight=not leaking,
        further=further,
        reason="because" if further else "",
        advised="limited",
        unknown=frozenset({"relief", "looked"}) if further else frozenset(),
    ),
    st.integers(1, 10**9),
    st.integers(-900, 300),
    st.sampled_from(["strength", "tightness", "gas-head"]),
    st.sampled_from(["fit", "limited", "tight", "not proven", "not fit"]),
    st.booleans(),
    st.booleans(),
)


@st.composite
def histories(draw: Any) -> OnRecord:
    """A vessel of any kind with trials, mends, knocks and dates; no two on one day."""
    trials = draw(st.lists(TRIALS, max_size=4, unique_by=lambda one: one.on))
    numbered = [replace(one, number=n + 1) for n, one in enumerate(sorted(trials, key=lambda one: one.on))]
    days = {one.on for one in numbered}
    events = [e for e in draw(st.lists(EVENTS, max_size=6, unique_by=lambda e: e.on)) if e.on not in days]
    return replace(
        TANK,
        kind=draw(st.sampled_from(sorted(KINDS))),
        trials=tuple(numbered),
        happened=tuple(sorted(events, key=lambda e: e.on)),
        today=HELD.date() + datetime.timedelta(days=draw(st.integers(300, 1500))),
        relief_set=draw(st.sampled_from([None, 8.5e5, 9e5])),
        retire=draw(st.sampled_from([None, 2040, 2027])),
    )


@settings(max_examples=400)
@given(histories())
def test_nobody_is_told_fit_beside_a_line_that_is_asked_and_does_not_stand(record: OnRecord) -> None:
    found = ledger_of(record)
    if found.answer == "fit":
        assert not [one for one in found.lines if one.asked and one.state != "met" and not one.overruled]
        assert not [one for one in found.lines if one.state == "not met" and not one.overruled]
    assert (found.pressure is None) == (found.answer in ("not fit", "not proven"))
    if found.pressure is not None:
        assert found.pressure <= max(one.pressure or 0 for one in record.trials)
    if found.answer in ("fit", "limited"):
        assert any(one.proves == "strength" and one.fitness in ("fit", "limited") for one in record.trials)


@given(histories(), st.randoms())
def test_the_order_of_writing_down_does_not_matter_only_the_days_do(record: OnRecord, mixed: Any) -> None:
    """What is told a day late is weighed by the day it happened on."""
    events = [replace(e, at=e.at + datetime.timedelta(days=2000)) for e in record.happened]
    in_time = [e for e in record.happened if all(e.on != one.on for one in record.trials)]
    shuffled = list(range(len(events)))
    mixed.shuffle(shuffled)
    late = [replace(e, at=e.at + datetime.timedelta(minutes=n)) for e, n in zip(events, shuffled, strict=True)]
    assert ledger_of(replace(record, happened=tuple(late))) == ledger_of(replace(record, happened=tuple(in_time)))


@given(histories(), EVENTS)
def test_an_entry_taken_back_brings_back_what_it_voided(record: OnRecord, event: Happened) -> None:
    events = tuple(sorted((*record.happened, event), key=lambda e: e.on))
    ledger_of(replace(record, happened=events))
    assert ledger_of(replace(record, happened=tuple(e for e in events if e is not event))) == ledger_of(record)


@given(histories(), st.sampled_from([name for name, one in HAPPENINGS.items() if one.voids != "nothing"]))
def test_harm_never_makes_a_tag_better(record: OnRecord, what: str) -> None:
    last = max([e.on for e in record.happened] + [one.on for one in record.trials], default=record.today)
    at = datetime.datetime.combine(last + datetime.timedelta(days=1), datetime.time(12), datetime.UTC)
    record = replace(record, today=max(record.today, at.date()))
    before, after = (
        ledger_of(record),
        ledger_of(replace(record, happened=(*record.happened, Happened(what, at.date(), at, "")))),
    )
    assert ORDER.index(after.answer) <= ORDER.index(before.answer)
    assert (after.pressure or 0) <= (before.pressure or 0)


# -- which valve sits there -------------------------------------------------------------------------------------


def seat(trial: int, days: float, **valve: Any) -> Seat:
    """A valve that the plan of a trial tells of, begun so many days after the decision."""
    at = HELD + datetime.timedelta(days=days)
    return Seat(trial, at.date(), at, FittedValve.model_validate(valve))


ONE = {"name": "Brass 8.5", "maker": "Pell", "bore": "10 mm", "number": "0417", "set_pressure": "8.5 bar"}


@pytest.mark.parametrize(
    ("other", "says"),
    [
        ({"number": "0418"}, "number “0418”"),
        ({"maker": "Thorn"}, "by “Thorn”"),
        ({"name": "The new one", "number": None}, "“The new one”"),
        ({"name": "The new one"}, None),  # a new name for the same number
        ({"bore": "8 mm"}, "bore of 8 mm"),
        ({"bore": "10.2 mm"}, None),
        ({"set_pressure": "6 bar"}, "set to 6 bar"),
        ({"name": " brass 8.5 ", "number": None}, None),
    ],
)
def test_what_was_tried_of_one_valve_says_nothing_of_another(other: dict[str, Any], says: str | None) -> None:
    """Tried two days before the proof, with the valve of trial 1; trial 2 was planned with what differs."""
    later = replace(PROOF, id="two", number=2, proves="tightness", seat=seat(2, 10, **{**ONE, **other}))
    found = told(trials=(replace(PROOF, seat=seat(1, -2.5, **ONE)), later), kind="boiler")
    assert state(found, "relief") == ("met" if says is None else "voided")
    assert state(found, "steam") == ("met" if says is None else "voided")
    if says is not None:
        assert says in line(found, "relief").says
        assert "trial 2 was planned with" in line(found, "relief").says


def test_a_valve_that_is_tried_where_it_sits_stands_again_and_one_never_told_of_is_none_other() -> None:
    seats = [seat(1, -2.5, **ONE), seat(2, 10, **{**ONE, "number": "0418"})]
    old, new = happened("relief tried", -2, "lifts at 8.4 bar"), happened("relief tried", 11, "lifts at 8.4 bar")
    assert another_since(seats, old) is not None
    assert another_since(seats, new) is None
    assert another_since(seats[1:], old) is None
    assert another_since([seats[0], seat(2, 10, tolerance="0.2 bar")], old) is None
