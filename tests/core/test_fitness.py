"""What a trial's evidence adds up to: never more than was shown."""

import datetime
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from toadbell.core.ledger.deciding import ORDER, less_cautious
from toadbell.core.ledger.evidence import TrialEvidence
from toadbell.core.ledger.fitness import add_months, fitness
from toadbell.core.phrases import say

SEEN = TrialEvidence(
    kind="receiver",
    wanted=8.5e5,
    plate=14e5,
    allowable=9.4e5,
    allowable_known=True,
    wall_measured=True,
    ceiling=26e5,
    reached=12.75e5,
    target=12.75e5,
    head=0.0,
    factor=1.5,
    held=1800.0,
    asked=1800.0,
    verdict="tight",
    verdict_says="Tight.",
    boundary_leak=None,
    rig_leak=None,
    relief_set=8.5e5,
    retire=None,
    on=datetime.date(2026, 11, 24),
    relief_proven=8.4e5,
    looked_inside=(datetime.date(2026, 6, 1), ""),
    kit=(),
)


def test_a_tight_hold_at_the_target_is_fit_for_what_was_wanted() -> None:
    found = fitness(SEEN)
    assert found.answer == "fit"
    assert found.pressure == 8.5e5
    assert found.relief_at_most == 8.5e5
    assert found.next_proof == datetime.date(2029, 11, 24)


def test_a_target_not_reached_proves_less_and_says_how_much() -> None:
    found = fitness(replace(SEEN, reached=10.5e5))
    assert found.answer == "limited"
    assert found.pressure == pytest.approx(7e5)
    assert "7 bar" in found.says
    assert next(line for line in found.evidence if line.name == "Reached").state == "not met"


@pytest.mark.parametrize(
    ("harm", "says"),
    [
        ({"kept": (False, "12 % of what it gave stayed, 10 % is let pass")}, "does not come back as it should: 12 %"),
        ({"joint": (False, "it wept at every turn that was tried")}, "The joint never came dry: it wept"),
        ({"band": (12.75e5, 13.39e5), "highest": 18.7e5}, "was pressed to 18.7 bar, and 13.4 bar was the most"),
    ],
    ids=["it kept a set", "a joint never dry", "far over its band"],
)
def test_harm_that_a_trial_showed_is_not_made_good_by_a_tight_hold(harm: dict[str, Any], says: str) -> None:
    found = fitness(replace(SEEN, **harm))
    assert (found.answer, found.pressure, found.next_proof) == ("not fit", None, None)
    assert says in found.says


def test_what_is_not_known_of_a_set_or_a_joint_is_no_harm_and_a_little_over_the_band_is_said() -> None:
    assert fitness(replace(SEEN, kept=(None, "nobody measured what came back"))).answer == "fit"
    over = fitness(replace(SEEN, band=(12.75e5, 13.39e5), highest=13.9e5))
    assert over.answer == "limited"
    assert "Not met: not overshot" in over.says


def test_a_late_valve_or_a_gas_head_far_over_its_band_does_no_harm_to_the_vessel() -> None:
    over = {"band": (8.5e5, 8.9e5), "highest": 10.5e5}
    assert fitness(replace(SEEN, valve=say("evidence.unknown"), factor=None, **over)).answer == "not proven"
    assert fitness(replace(SEEN, factor=None, **over)).answer != "not fit"


@pytest.mark.parametrize(
    ("held", "says"),
    [(1790.0, "29 min, 30 min asked"), (1741.0, "29 min, 30 min asked"), (1800.0, "30 min, 30 min asked")],
)
def test_a_hold_cut_short_by_seconds_is_never_rounded_up_to_what_was_asked(held: float, says: str) -> None:
    found = fitness(replace(SEEN, held=held))
    line = next(line for line in found.evidence if line.code == "held")
    assert (line.says, line.state == "met") == (says, held == 1800.0)
    assert (found.answer == "fit") == (held == 1800.0)


@pytest.mark.parametrize(
    ("changes", "state"),
    [
        ({}, "met"),
        ({"reached": None}, "not known"),
        ({"boundary_leak": "seam"}, "not met"),
        ({"boundary_leak": "seam", "reached": None}, "not met"),
    ],
)
def test_a_leak_of_the_vessels_own_is_told_even_where_no_hold_was(changes: dict[str, object], state: str) -> None:
    found = fitness(replace(SEEN, **changes))  # type: ignore[arg-type]
    assert next(line for line in found.evidence if line.name == "No leak of the vessel itself").state == state


def test_the_gauges_own_head_is_not_proven_pressure() -> None:
    assert fitness(replace(SEEN, reached=10.5e5, head=0.3e5)).pressure == pytest.approx(10.2e5 / 1.5)


def test_the_plate_and_the_wall_cap_what_is_proven() -> None:
    assert fitness(replace(SEEN, allowable=8e5)).pressure == 8e5
    assert fitness(replace(SEEN, plate=6e5)).answer == "limited"


@pytest.mark.parametrize(
    ("changes", "answer", "says"),
    [
        ({"verdict": "leaking"}, "not proven", "whose leak"),
        ({"verdict": "cannot-tell"}, "not proven", "could not tell"),
        ({"verdict": None, "reached": None}, "not proven", "No hold"),
        ({"void": True}, "not proven", "No hold"),
        ({"held": 900.0}, "not proven", "cut short"),
        ({"rig_leak": "hose"}, "not proven", "hose"),
        ({"boundary_leak": "seam"}, "not fit", "seam"),
        ({"retire": 2024}, "not fit", "2024"),
    ],
)
def test_what_is_not_shown_is_not_proven(changes: dict, answer: str, says: str) -> None:
    found = fitness(replace(SEEN, **changes))
    assert found.answer == answer
    assert found.pressure is None
    assert found.next_proof is None
    assert says in found.says


def test_what_is_not_known_is_neither_met_nor_failed() -> None:
    ledger = {
        line.name: line.state
        for line in fitness(
            replace(SEEN, plate=None, wall_measured=False, relief_set=None, relief_proven=None, looked_inside=None)
        ).evidence
    }
    assert ledger["Within the plate"] == "not known"
    assert ledger["Wall bears the wanted pressure"] == "not known"
    assert ledger["Relief proven, set within"] == "not known"
    assert ledger["Looked inside"] == "not known"


@given(st.floats(1e4, 3e6), st.floats(1e4, 3e6), st.floats(1.1, 2.5))
def test_nobody_is_told_more_than_was_reached(reached: float, wanted: float, factor: float) -> None:
    found = fitness(
        replace(SEEN, reached=reached, wanted=wanted, factor=factor, plate=None, allowable=None, ceiling=None)
    )
    assert found.pressure is not None
    assert found.pressure <= reached / factor * (1 + 1e-9)
    assert found.pressure <= wanted


@pytest.mark.parametrize(
    ("chosen", "pressure", "further"),
    [
        ("fit", 8.5e5, False),
        ("limited", 5e5, False),
        ("not proven", None, False),
        ("not fit", None, False),
        ("fit", 9e5, True),
    ],
)
def test_only_a_less_cautious_decision_goes_further(chosen: str, pressure: float | None, further: bool) -> None:
    assert less_cautious(chosen, pressure, fitness(SEEN)) is further  # type: ignore[arg-type]


@pytest.mark.parametrize("chosen", ["fit", "limited"])
def test_anything_beyond_not_proven_goes_further_than_a_failed_hold(chosen: str) -> None:
    assert less_cautious(chosen, 5e5, fitness(replace(SEEN, verdict="leaking")))  # type: ignore[arg-type]
    assert ORDER[0] == "not fit"


@pytest.mark.parametrize(
    ("day", "months", "then"),
    [
        (datetime.date(2026, 11, 24), 36, datetime.date(2029, 11, 24)),
        (datetime.date(2026, 1, 31), 1, datetime.date(2026, 2, 28)),
        (datetime.date(2027, 12, 31), 2, datetime.date(2028, 2, 29)),
        (datetime.date(2026, 12, 15), 12, datetime.date(2027, 12, 15)),
        (datetime.date(2026, 11, 30), 1, datetime.date(2026, 12, 30)),
    ],
)
def test_next_dates_fall_on_the_same_day(day: datetime.date, months: int, then: datetime.date) -> None:
    assert add_months(day, months) == then


def test_an_overshoot_is_one_beyond_what_the_gauge_can_tell() -> None:
    at = {"band": (12.75e5, 13.39e5), "slack": 0.05e5}
    states = [
        next(
            line.state for line in fitness(replace(SEEN, highest=highest, **at)).evidence if line.name == "Not overshot"
        )
        for highest in (13.39e5, 13.43e5, 13.5e5)
    ]
    assert states == ["met", "met", "not met"]


@pytest.mark.parametrize(
    ("changes", "name", "state", "word"),
    [
        ({"kit": ()}, "Kit suited and calibrated", "met", "nothing speaks against"),
        ({"kit": ("The gauge is too coarse.",)}, "Kit suited and calibrated", "not met", "too coarse"),
        ({"air": (2e-5, 1e-4)}, "Air out", "met", "20 mL"),
        ({"air": (2e-4, 1e-4)}, "Air out", "not met", "200 mL"),
        ({"temperature": (278.15, 289.15)}, "Warm enough, not too warm", "not met", "5 °C"),
        ({"temperature": (288.15, 289.15)}, "Warm enough, not too warm", "met", "15 °C"),
        ({"looked_inside": (datetime.date(2026, 6, 1), "clean")}, "Looked inside", "met", "clean"),
        ({"looked_inside": (datetime.date(2024, 6, 1), "")}, "Looked inside", "not met", "2024"),
        (
            {"looked_inside": (datetime.date(2026, 6, 1), "pits"), "looked_unsound": "pits"},
            "Looked inside",
            "not met",
            "pits",
        ),
        ({"looked_inside": None, "surveyed": datetime.date(2026, 6, 1)}, "Looked inside", "met", "wall measured"),
        ({"looked_inside": None, "surveyed": datetime.date(2025, 6, 1)}, "Looked inside", "not known", "not on record"),
        ({"relief_tried": datetime.date(2025, 6, 1)}, "Relief proven, set within", "not met", "over a year ago"),
        ({"relief_set": 9e5}, "Relief proven, set within", "not met", "over"),
        ({"relief_proven": 8.4e5}, "Relief proven, set within", "met", "8.4 bar"),
        ({"rig_leak": "the hose"}, "No open mend", "not met", "the hose"),
    ],
)
def test_a_line_of_the_evidence_says_its_state_and_what_it_rests_on(
    changes: dict, name: str, state: str, word: str
) -> None:
    line = next(line for line in fitness(replace(SEEN, **changes)).evidence if line.name == name)
    assert line.state == state
    assert word in line.says


def test_the_weakest_part_that_stays_on_caps_what_is_proven() -> None:
    found = fitness(replace(SEEN, weakest=("sight glass", 6e5)))
    assert (found.answer, found.pressure) == ("limited", 6e5)
    assert "sight glass 6 bar" in found.lines[0].numbers


def test_what_was_found_not_sound_inside_is_not_fit_whatever_the_hold_says() -> None:
    found = fitness(replace(SEEN, looked_inside=(datetime.date(2026, 6, 1), "pits"), looked_unsound="pits"))
    assert (found.answer, found.pressure) == ("not fit", None)
    assert "pits" in found.says


def test_yielding_and_an_unproven_mend_speak_against_it() -> None:
    assert fitness(replace(SEEN, yielding="The wall gave from 11 bar on.")).answer == "not fit"
    assert fitness(replace(SEEN, mended="the lower seam, brazed over")).answer == "not proven"


A_YEAR_ON = datetime.date(2027, 11, 24)


@pytest.mark.parametrize(
    ("kind", "dates"),
    [
        ("receiver", [("look inside", A_YEAR_ON), ("relief valve", A_YEAR_ON), ("proof", datetime.date(2029, 11, 24))]),
        ("boiler", [("relief valve", A_YEAR_ON), ("steam trial", A_YEAR_ON), ("proof", datetime.date(2030, 11, 24))]),
        ("digester", [("relief valve", A_YEAR_ON), ("proof", A_YEAR_ON)]),
        ("chamber", [("proof", None), ("proof", datetime.date(2028, 11, 24))]),
    ],
)
def test_next_dates_are_the_kinds_own(kind: str, dates: list) -> None:
    assert [(due.what, due.on) for due in fitness(replace(SEEN, kind=kind)).next_dates] == dates


def test_no_proof_is_due_after_it_is_taken_out_of_service() -> None:
    found = fitness(replace(SEEN, retire=2027))
    assert found.next_proof == datetime.date(2027, 12, 31)
    assert ("out of service", datetime.date(2027, 12, 31)) in [(due.what, due.on) for due in found.next_dates]
