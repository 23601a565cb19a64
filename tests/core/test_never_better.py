"""Of every kind of trial: less said, or a worse moment, never makes its answer better; nothing good is told beside what
is not met; and what happened never raises a line.
"""

from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from toadbell.core.judge.burst import judge_burst
from toadbell.core.judge.relief import judge_relief
from toadbell.core.judge.steam import judge_steam
from toadbell.core.judge.tightening import judge_tightening
from toadbell.core.procedures.expansion import judge_log
from toadbell.core.sheets import (
    SheetError,
    read_burst_sheet,
    read_expansion_sheet,
    read_relief_sheet,
    read_steam_sheet,
    read_tightening_sheet,
)

Sheet = dict[str, Any]
FINE = {"range": "8 bar", "resolution": "0.01 bar", "class": 0.25}
STEAM: Sheet = {
    "procedure": "steam",
    "working_pressure": "4 bar",
    "set_pressure": "4 bar",
    "set_by": "another gauge",
    "gauge": FINE,
    "thermometer": {"resolution": "0.5 delta_degC"},
    "sits": "steam",
    "altitude": "100 m",
    "lift": {"pressure": "4 bar", "temperature": "151.5 °C"},
    "reseat": "3.8 bar",
    "feeds": [{"name": "hand pump", "works": "works"}, {"name": "injector", "works": "works"}],
    "lowest_glass": 0.4,
    "blown_down": "comes back",
    "accumulation": {"highest": "4.1 bar", "temperature": "152.3 °C", "steady": True},
    "look": "dry",
}
RELIEF: Sheet = {
    "procedure": "relief",
    "set_pressure": "1.8 bar",
    "rating": "2 bar",
    "used_at": "1.5 bar",
    "gauge": {"range": "2.5 bar", "class": 0.25, "resolution": "2 mbar"},
    "rounds": [{"lift": "1.8 bar", "reseat": "1.7 bar"}] * 3,
    "by_hand": "free",
    "after": "dry",
}
EXPANSION: Sheet = {
    "procedure": "expansion",
    "vessel": {
        "kind": "receiver",
        "working_pressure": "10 bar",
        "shell": {
            "inside_diameter": "180 mm",
            "length": "420 mm",
            "wall": "1.6 mm",
            "wall_measured": True,
            "material": "carbon-steel",
        },
        "ends": [{"form": "ellipsoidal", "wall": "1.6 mm"}] * 2,
        "trapped_air": "0 L",
        "water_temperature": "16 degC",
    },
    "pressure": "20 bar",
    "asked": "20 bar",
    "water": {"into": "25.4 mL", "back": "25.1 mL", "step": "0.1 mL"},
    "temperatures": {"before": "16 degC", "at": "16 degC", "after": "16 degC"},
}
JOINT: Sheet = {
    "procedure": "tightening",
    "target": "4.5 bar",
    "joint": "ferrule",
    "turns": [
        {"turn": 0.125, "shows": "stream", "pressure": "0.4 bar"},
        {"turn": 0.25, "shows": "weeps", "pressure": "4.5 bar"},
        {"turn": 0.375, "shows": "dry", "pressure": "4.5 bar"},
    ],
}
BURST: Sheet = {
    "procedure": "burst",
    "wanted": "28 bar",
    "material": "aluminium-6061",
    "expected": "90 bar",
    "articles": [
        {"name": f"a{n}", "highest": f"{at} bar", "failed": f"{at} bar", "mode": "hoop split"}
        for n, at in enumerate((80, 82, 81))
    ],
}
KINDS: dict[str, tuple[Sheet, Callable[[Sheet], Any], tuple[str, ...]]] = {
    "steam": (STEAM, lambda s: judge_steam(read_steam_sheet(s)), ("passed", "cannot-tell", "not-passed", "stop")),
    "relief": (RELIEF, lambda s: judge_relief(read_relief_sheet(s)), ("good", "cannot-tell", "reset", "bad")),
    "expansion": (
        EXPANSION,
        lambda s: judge_log(read_expansion_sheet(s)),
        ("met", "cannot-tell", "not met"),
    ),
    "tightening": (JOINT, lambda s: judge_tightening(read_tightening_sheet(s)), ("found", "cannot-tell", "not-dry")),
    "burst": (BURST, lambda s: judge_burst(read_burst_sheet(s)), ("met", "cannot-tell", "not-met")),
}
"""A sheet that is good, its judge, and its answers from the best to the worst."""


def paths(sheet: Any, at: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Every fact of a sheet by its path."""
    if isinstance(sheet, dict):
        return [found for key, value in sheet.items() for found in [(*at, key), *paths(value, (*at, key))]]
    if isinstance(sheet, list):
        return [found for n, value in enumerate(sheet) for found in [(*at, n), *paths(value, (*at, n))]]
    return []


def without(sheet: Any, path: tuple[Any, ...]) -> Any:
    """The sheet with one fact left out."""
    key, rest = path[0], path[1:]
    if isinstance(sheet, list):
        return [without(v, rest) if n == key else v for n, v in enumerate(sheet) if rest or n != key]
    return {k: without(v, rest) if k == key else v for k, v in sheet.items() if rest or k != key}


@pytest.mark.parametrize("kind", KINDS)
def test_the_sheet_it_begins_with_is_good(kind: str) -> None:
    sheet, judged, order = KINDS[kind]
    assert judged(sheet).answer == order[0]


@settings(max_examples=250, deadline=None)
@given(st.data())
def test_leaving_a_fact_out_never_makes_a_bad_answer_better(data: st.DataObject) -> None:
    """Begun from sheets that are worse in one figure, so that there is something to hide."""
    kind = data.draw(st.sampled_from(sorted(KINDS)))
    good, judged, order = KINDS[kind]
    sheet = data.draw(st.sampled_from([good, *WORSE[kind]]))
    left_out = data.draw(st.sampled_from([path for path in paths(sheet) if not own(kind, path)]))
    try:
        less = judged(without(sheet, left_out))
    except SheetError:
        return  # refused is no answer
    assert order.index(less.answer) >= min(order.index(judged(sheet).answer), 1), left_out


def own(kind: str, path: tuple[Any, ...]) -> bool:
    """Is it the very thing that was seen to be bad, a round, a turn, a leak that nobody saw; or no fact of the trial at
    all: what a burst is reckoned to be?
    """
    if path[-1] in ("leak", "noise", "weep"):
        return True
    return path[0] in ("procedure", "rounds", "turns", "articles", "readings", "feeds", "expected") and len(path) <= 2


WORSE: dict[str, list[Sheet]] = {
    "steam": [
        {**STEAM, "lift": {"pressure": "4 bar", "temperature": "161 °C"}},
        {**STEAM, "accumulation": {"highest": "4.8 bar", "steady": True}},
        {**STEAM, "look": "weeps"},
        {**STEAM, "readings": [{"pressure": "1 bar", "temperature": "140 °C"}]},
        {**STEAM, "set_by": "this gauge", "lift": {"pressure": "4 bar", "temperature": "158 °C"}},
    ],
    "relief": [
        {**RELIEF, "rounds": [{"highest": "2.1 bar"}, *RELIEF["rounds"]]},
        {**RELIEF, "rounds": [{"lift": "1.8 bar", "reseat": "1.3 bar"}] * 3},
        {**RELIEF, "rounds": [{"weep": "1.4 bar", "lift": "1.8 bar", "reseat": "1.7 bar"}] * 3},
        {**RELIEF, "by_hand": "stuck"},
    ],
    "expansion": [
        {**EXPANSION, "water": {"into": "27.4 mL", "back": "24.4 mL", "step": "0.1 mL"}},
        {**EXPANSION, "water": {"into": "48 mL", "back": "45 mL", "step": "0.1 mL"}},
        {**EXPANSION, "pressure": "12 bar"},
    ],
    "tightening": [
        {**JOINT, "turns": [*JOINT["turns"][:2], {"turn": 0.375, "shows": "bubbles", "pressure": "4.5 bar"}]},
        {**JOINT, "turns": [{"turn": 0.25, "shows": "blown off", "pressure": "3 bar"}, *JOINT["turns"][2:]]},
    ],
    "burst": [
        {**BURST, "expected": "140 bar"},
        {**BURST, "articles": [{**BURST["articles"][0], "leak": "20 bar"}, *BURST["articles"][1:]]},
        {**BURST, "articles": [*BURST["articles"], {"name": "b", "highest": "50 bar", "failed": "50 bar"}]},
    ],
}


@pytest.mark.parametrize("kind", KINDS)
def test_of_two_logs_the_one_with_a_worse_moment_never_answers_better(kind: str) -> None:
    _, judged, order = KINDS[kind]
    for worse in WORSE[kind]:
        assert order.index(judged(worse).answer) > 0, worse


@settings(max_examples=200, deadline=None)
@given(st.data())
def test_nothing_good_is_told_beside_a_check_that_is_not_met(data: st.DataObject) -> None:
    kind = data.draw(st.sampled_from(sorted(KINDS)))
    good, judged, order = KINDS[kind]
    sheet = data.draw(st.sampled_from([good, *WORSE[kind]]))
    for _ in range(data.draw(st.integers(0, 3))):
        sheet = without(sheet, data.draw(st.sampled_from(paths(sheet))))
        if not sheet:
            return
    try:
        found = judged(sheet)
    except SheetError:
        return
    if found.answer == order[0]:
        assert not [one for one in found.checks if one.state == "not met"]


@pytest.mark.parametrize("kind", ["steam", "relief", "expansion", "burst"])
def test_the_answer_names_the_pressure_it_speaks_for(kind: str) -> None:
    sheet, judged, _ = KINDS[kind]
    assert "bar" in judged(sheet).says
