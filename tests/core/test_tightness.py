"""A tightness trial: at or below the wanted pressure, under air or water; tight at that pressure, and no strength."""

import datetime
import uuid
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.sheets import codes, derived
from tests.core.test_fitness import SEEN
from toadbell.core.judge.hold import judge
from toadbell.core.judge.log import Log
from toadbell.core.ledger.fitness import fitness
from toadbell.core.procedures import PROCEDURES
from toadbell.core.run.now import JUDGE, now_card
from toadbell.core.run.phases import run_state
from toadbell.core.run.steps import STEPS, allowed, refused
from toadbell.core.sheets import SheetError, read_hold_sheet

AIR: dict[str, Any] = {"procedure": "tightness", "medium": "air", "basis": None, "factor": None, "gauge": None}
TIGHT = replace(SEEN, factor=None, reached=0.8e5, target=0.8e5, relief_set=None, relief_proven=None)
NOON = datetime.datetime(2026, 5, 2, 12, tzinfo=datetime.UTC)


# -- the plan ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("changes", "pressure"),
    [
        ({"tight_at": "0.8 bar"}, 0.8e5),
        ({}, 8.5e5),  # a receiver's own is what is wanted of it
        ({"kind": "cooler", "working_pressure": "0.2 bar"}, 0.2e5),
        ({"kind": "cooler"}, 0.26e5),  # 97 L of air store 2 kJ there, and 5.7 kJ at its usual 1 bar
        ({"kind": "cooler", "tight_at": "0.3 bar"}, 0.3e5),
    ],
)
def test_it_is_held_where_it_was_asked_to_be_and_no_higher_than_is_wanted(changes: dict, pressure: float) -> None:
    answer = derived(**AIR, **changes)
    assert answer.procedure == "tightness"
    assert answer.test_pressure == pytest.approx(pressure)
    assert answer.factor is None
    assert "no-strength-proof" in codes(answer.cautions)
    assert PROCEDURES[answer.procedure].proves == "tightness"


def test_above_the_wanted_pressure_it_is_refused_at_its_field() -> None:
    with pytest.raises(SheetError, match="at the wanted pressure or below it") as refusal:
        derived(**AIR, tight_at="9 bar")
    assert refusal.value.field == "tight_at"


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"procedure": "tightness", "basis": "proof-150"}, "basis"),
        ({"procedure": "proof", "basis": "tight"}, "basis"),
        ({"procedure": "proof", "kind": "cooler", "basis": None}, "basis"),
        ({"tight_at": "0.5 bar"}, "tight_at"),
    ],
)
def test_a_sheet_that_says_two_things_at_once_is_refused(changes: dict, field: str) -> None:
    with pytest.raises(SheetError, match="leave") as refusal:
        derived(**changes)
    assert refusal.value.field == field


def test_a_pause_at_the_wanted_pressure_is_not_asked_of_a_trial_that_stays_below_it() -> None:
    answer = derived(**AIR, tight_at="0.8 bar", stages=[{"target": "0.2 bar"}])
    assert "no-pause-at-wanted" not in codes(answer.cautions)


def test_a_sheet_that_names_no_procedure_is_of_the_kind_that_its_basis_is() -> None:
    assert derived().procedure == "proof"
    assert derived(basis="tight").procedure == "tightness"


# -- the run under air ----------------------------------------------------------------------------------------


@dataclass
class Entry:
    kind: str
    at: datetime.datetime
    data: dict[str, Any] = field(default_factory=dict)
    id: uuid.UUID = field(default_factory=uuid.uuid4)


ANSWER = derived(**AIR, tight_at="0.8 bar")
RAISED = [("vent-shut", {}), *(("stage-reached", {}) for _ in ANSWER.stages), ("shut-in", {"pressure": 0.8e5})]
DOWN = [("hold-ended", {}), ("looked", {}), ("released", {})]


def at(*done: tuple[str, dict[str, Any]], state: Any = "running", medium: str = "air") -> Any:
    entries = [Entry(kind, NOON + datetime.timedelta(minutes=n), data) for n, (kind, data) in enumerate(done)]
    return run_state(entries, ANSWER.stages, 1800.0, state, NOON, NOON + datetime.timedelta(hours=9), medium)


def card(stands: Any) -> Any:
    return now_card(stands, ANSWER, dial=True, now=NOON, strokes=0)


def test_nobody_is_told_of_water_where_there_is_none() -> None:
    said = [
        card(at()),
        card(at(*RAISED, *DOWN[:1], ("came-down", {}), state="held")),
        card(at(*RAISED, *DOWN, state="held")),
    ]
    assert [one.says for one in said] == [
        "Close it up.",
        "Soapy water over every seam and fitting.",
        "Done. Now judge it.",
    ]
    assert said[0].label == "All shut"
    words = " ".join(f"{one.says} {one.detail}".lower() for one in said)
    assert not any(word in words for word in ("fill", "drain", "empty", "dry", "bubbles still"))


def test_air_has_gone_when_it_is_let_go_there_is_nothing_to_drain_or_dry() -> None:
    down = at(*RAISED, *DOWN, state="held")
    assert card(down).step == JUDGE
    assert not {"vent-open", "emptied", "dried"} & set(allowed("held", down, ANSWER.stages))
    assert "no water in it" in (refused(STEPS["vent-open"], "held", down, ANSWER.stages) or "")
    older = at(*RAISED, *DOWN, ("vent-open", {}), state="held")  # a run of a release that asked for more
    assert (card(older).step, card(older).says) == (JUDGE, "Done. Now judge it.")
    wet = at(*RAISED, *DOWN, state="held", medium="water")
    assert "vent-open" in allowed("held", wet, ANSWER.stages)


# -- what it proves -------------------------------------------------------------------------------------------


def test_a_tight_hold_is_tight_at_its_pressure_on_its_day_and_claims_no_strength() -> None:
    found = fitness(TIGHT)
    assert (found.answer, found.pressure) == ("tight", 0.8e5)
    assert found.says.startswith("Tight at 0.8 bar on 24 November 2026. No strength is claimed.")
    assert (found.relief_at_most, found.next_proof, found.next_dates) == (None, None, [])


def test_the_day_it_was_tight_on_is_that_of_the_hold_and_not_of_who_judges_it_later() -> None:
    found = fitness(replace(TIGHT, held_on=datetime.date(2026, 11, 2)))
    assert "on 2 November 2026" in found.says


@pytest.mark.parametrize(
    "changes",
    [
        {"verdict": "leaking"},
        {"verdict": "cannot-tell"},
        {"verdict": None},
        {"fitting_leak": "gauge glass"},
        {"rig_leak": "hose"},
        {"mended": "seam, soldered"},
        {"held": 60.0},
        {"reached": None},
        {"tries_tightness": False},
    ],
)
def test_what_was_not_shown_tight_is_not_called_so(changes: dict[str, Any]) -> None:
    assert fitness(replace(TIGHT, **changes)).answer == "not proven"
    assert fitness(replace(TIGHT, boundary_leak="seam", **changes)).answer == "not fit"


@given(
    reached=st.floats(1e2, 9e6),
    wanted=st.floats(1e3, 9e6),
    head=st.floats(0, 1e4),
    verdict=st.sampled_from(["tight", "leaking", "cannot-tell", None]),
    leak=st.sampled_from([None, "here"]),
    held=st.floats(0, 5000),
)
def test_it_is_never_fit_nor_tight_above_what_was_held_or_wanted(
    reached: float, wanted: float, head: float, verdict: Any, leak: str | None, held: float
) -> None:
    found = fitness(
        replace(TIGHT, reached=reached, wanted=wanted, head=head, verdict=verdict, fitting_leak=leak, held=held)
    )
    assert found.answer in ("tight", "not proven")
    if found.answer == "tight":
        assert found.pressure is not None
        assert 0 < found.pressure <= min(reached - head, wanted) + 1e-9
        assert (verdict, leak) == ("tight", None)
        assert held >= TIGHT.asked * (1 - 1e-6)


def still(**sheet: Any) -> Any:
    """Half an hour under 50 mbar of air in 20 L at which nothing moved."""
    time = np.arange(0, 1801, 60.0)
    log = Log(time, np.full(len(time), 5e3), None, np.full(len(time), 291.0))
    base = {
        "medium": "air",
        "volume": "20 L",
        "test_pressure": "50 mbar",
        "gauge": {"range": "100 mbar", "resolution": "0.1 mbar"},
        "acceptance": {"max_leak": "20 mL/h"},
    }
    return judge(log, read_hold_sheet({**base, **sheet}))


def test_where_nobody_knows_what_its_sides_give_a_syringe_is_offered_and_told_by_it() -> None:
    """50 mL into 20 L alone raise it by 2.5 mbar (Boyle); by 1.25 mbar its sides take as much again."""
    unknown = still()
    assert unknown.verdict == "cannot-tell"
    assert "syringe" in unknown.settle_it[0]
    measured = still(syringe={"volume": "50 mL", "rise": "1.25 mbar"})
    assert measured.compliance == pytest.approx(50e-6 / 125, rel=1e-3)
    assert measured.compliance_from == "measured"
    stiff = still(sides="stiff")
    assert stiff.compliance == pytest.approx(20e-3 / 101325, rel=1e-3)
    assert unknown.leak.high > 2 * stiff.leak.high
    assert not any("syringe" in one for one in [*measured.settle_it, *stiff.settle_it])
    with pytest.raises(SheetError, match="air in 20 L alone"):
        still(syringe={"volume": "5 mL", "rise": "3 mbar"})


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"gauge": {"range": "40 mbar", "resolution": "0.1 mbar"}}, "past the end of the gauge"),
        ({"test_pressure": "20 mbar"}, "was to be held"),
        ({"shell": {"inside_diameter": "200 mm", "length": "600 mm"}, "volume": "20 mL"}, "its shell alone holds"),
    ],
)
def test_a_log_that_cannot_be_of_its_sheet_is_refused(changes: dict, says: str) -> None:
    with pytest.raises(SheetError, match=says):
        still(**changes)


def test_what_was_read_past_the_gauges_end_is_left_out_and_said() -> None:
    """Warmed past its gauge towards the end: the rest is judged, by the gas law, and it says what was left out."""
    time = np.arange(0, 3601, 60.0)
    warm = 291.0 + np.linspace(0, 2.0, len(time))
    pressure = (101325 + 9.5e3) * warm / 291.0 - 101325
    sheet = {"medium": "air", "volume": "20 L", "gauge": {"range": "100 mbar", "resolution": "0.1 mbar"}}
    sheet |= {"acceptance": {"max_leak": "20 mL/h"}}
    answer = judge(Log(time, np.minimum(pressure, 1.02e4), None, warm), read_hold_sheet(sheet))
    past = int((pressure > 1e4).sum())
    assert 10 < past < 55
    assert any(note.startswith(f"{past} readings past the end of the gauge left out") for note in answer.notes)
    assert answer.leak.estimate < 5e-9  # a gauge that stood at its end would be a leak of its own
