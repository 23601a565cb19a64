"""How far a joint has to be turned to be dry, by what was seen at each part of a turn."""

import json
from pathlib import Path
from typing import Any

import pytest

from toadbell.core.cli import main
from toadbell.core.judge.tightening import TighteningAnswer, judge_tightening
from toadbell.core.sheets import SheetError, read_tightening_sheet, read_vessel_sheet

OLIVE = [
    ("blown off", 0.0, 0.3),
    ("stream", 0.125, 1.0),
    ("bubbles", 0.25, 4.5),
    ("dry", 0.375, 4.5),
    ("dry", 0.5, 4.5),
]
"""An 8 mm joint: how it showed, at which part of a turn, at what pressure, bar."""


def judged(*rows: tuple[str, float, float], **more: Any) -> TighteningAnswer:
    """A joint that has to be dry at 4.5 bar."""
    turns = [{"turn": turn, "shows": shows, "pressure": f"{pressure} bar"} for shows, turn, pressure in rows]
    return judge_tightening(
        read_tightening_sheet(
            {"procedure": "tightening", "target": "4.5 bar", "joint": "ferrule", "turns": turns, **more}
        )
    )


def test_the_least_turn_lies_between_the_last_wet_and_the_first_dry() -> None:
    found = judged(*OLIVE)
    assert (found.answer, found.wet, found.least, found.margin) == ("found", 0.25, 0.375, 0.125)
    assert found.says == "Dry between ¼ and ⅜ of a turn past finger-tight."
    assert found.worse is None
    assert [step.dry for step in found.steps] == [False, False, False, True, True]


def test_dry_at_less_than_was_asked_for_is_not_dry() -> None:
    found = judged(*OLIVE[:3], ("dry", 0.375, 2.0))
    assert found.answer == "cannot-tell"
    assert "only seen at 2 bar" in found.checks[0].says
    assert any("pressure asked for" in way for way in found.settle_it)


def test_what_leaked_higher_up_is_not_dry_though_it_was_lower_down() -> None:
    found = judged(("weeps", 0.25, 4.5), ("dry", 0.25, 1.0), ("dry", 0.375, 4.5))
    assert (found.wet, found.least) == (0.25, 0.375)
    assert judged(("dry", 0.25, 1.0), ("weeps", 0.25, 4.5)).answer == "not-dry"


def test_a_turn_that_leaks_again_beyond_a_dry_one_is_no_least() -> None:
    found = judged(*OLIVE, ("weeps", 0.75, 4.5))
    assert found.answer == "cannot-tell" or found.least is None
    assert found.worse == 0.75
    assert any("take it apart" in check.says for check in found.checks)
    mended = judged(*OLIVE, ("weeps", 0.75, 4.5), ("dry", 1.0, 4.5))
    assert (mended.wet, mended.least) == (0.75, 1.0)
    assert "not met" in {check.state for check in found.checks}
    assert "not met" not in {check.state for check in mended.checks}


@pytest.mark.parametrize(
    ("joint", "least"), [("ferrule", 0.25), ("flare", 0.125), ("gasket", 0.125), ("taper", 1.0), (None, 1.0)]
)
def test_finger_tight_and_dry_is_not_found_before_a_joint_of_its_kind_grips(joint: str | None, least: float) -> None:
    kind = {"joint": joint}
    short = judged(("dry", 0.0, 4.5), **kind)
    assert (short.answer, short.least) == ("cannot-tell", None)
    assert "by chance" in short.checks[0].says
    assert any("maker's own figure" in way for way in short.settle_it)
    assert judged(("dry", 0.0, 4.5), ("dry", least, 4.5), **kind).least == least


def test_a_joint_that_was_blown_off_after_it_gripped_is_spent_whatever_it_did_after() -> None:
    for blown in (("blown off", 0.25, 3.0), ("blown off", 0.125, 0.3), ("blown off", 0.0, 2.0)):
        found = judged(blown, ("dry", 0.375, 4.5), ("dry", 0.5, 4.5))
        assert (found.answer, found.least) == ("not-dry", None)
        assert "new parts" in found.says
        assert next(check.state for check in found.checks if check.code == "stayed") == "not met"
    assert judged(*OLIVE).answer == "found"  # finger-tight, at less than half a bar: its cap is a shot, and is caged


def test_the_first_that_was_tried_leaves_open_how_little_would_do() -> None:
    found = judged(("dry", 0.25, 4.5))
    assert (found.answer, found.wet, found.least) == ("found", None, 0.25)
    assert any("how little would do" in way for way in found.settle_it)
    assert any("its margin" in way for way in found.settle_it)


def test_nothing_tried_or_never_dry() -> None:
    assert judged().answer == "cannot-tell"
    assert "finger-tight first" in judged().says
    found = judged(*OLIVE[:3])
    assert found.answer == "not-dry"
    assert any("turn it on by an eighth" in way for way in found.settle_it)
    assert "take it apart" in judged(("bubbles", 0.25, 4.5), ("stream", 0.375, 4.5)).says


@pytest.mark.parametrize(
    ("reach", "wanted", "suited"),
    [
        ("20-200 N m", "15 N m", False),
        ("20-200 N m", "20 N m", True),
        ("5 – 25 N m", "15 N m", True),
        ("200 N m", "30 N m", False),
        ("200 N m", "40 N m", True),
    ],
)
def test_a_torque_wrench_is_judged_by_its_lowest_before_the_start(reach: str, wanted: str, suited: bool) -> None:
    wrench = {"wanted": wanted, "range": reach}
    found = judged(*OLIVE, torque_wrench=wrench)
    assert found.by_torque is suited
    assert found.checks[-1].state == (
        "met" if suited else "not known"
    )  # the turn is the measure: it speaks against nothing
    sheet = read_vessel_sheet({"kind": "joint", "working_pressure": "3 bar", "torque_wrench": wrench})
    assert sheet.torque_wrench is not None
    assert (sheet.torque_wrench.lowest_told <= sheet.torque_wrench.wanted) is suited


def test_a_log_that_cannot_be_is_refused() -> None:
    for turns, says in (
        ([{"turn": 9, "shows": "dry", "pressure": "1 bar"}], "turns"),
        ([{"turn": 0, "shows": "moist", "pressure": "1 bar"}], "shows"),
        ([{"turn": 0, "shows": "dry"}], "pressure"),
    ):
        with pytest.raises(SheetError, match=says):
            read_tightening_sheet({"procedure": "tightening", "target": "4 bar", "turns": turns})


def test_the_command_line_judges_the_log_of_a_joint(capsys: pytest.CaptureFixture[str]) -> None:
    demo = str(Path(__file__).parents[2] / "demo" / "tightening.json")
    assert main(["judge", demo]) == 0
    assert capsys.readouterr().out.startswith("Dry between ¼ and ⅜ of a turn past finger-tight.")
    assert main(["judge", demo, "--json"]) == 0
    assert json.loads(capsys.readouterr().out)["by_torque"] is False
