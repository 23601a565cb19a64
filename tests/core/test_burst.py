"""What articles taken to failure prove of a design, and what a vessel inherits of it."""

import itertools
import json
import math
import statistics
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from tests.core.sheets import codes
from toadbell.core.cli import main
from toadbell.core.judge.burst import judge_burst, tolerance_factor
from toadbell.core.judge.inherit import inherits
from toadbell.core.procedures import PROCEDURES
from toadbell.core.sheets import SheetError, read_kit, read_vessel_sheet
from toadbell.core.sheets.kit import Design
from toadbell.core.sheets.reading import read_burst_sheet

NAMES = itertools.count(1)


def article(failed: float | None, name: str = "", **more: str) -> dict[str, Any]:
    """An article that failed at so many bar; or was let go whole at 90 bar. Each is another where none is named."""
    name = name or f"article {next(NAMES)}"
    if failed is None:
        return {"name": name, "highest": "90 bar", **more}
    return {"name": name, "highest": f"{failed} bar", "failed": f"{failed} bar", "mode": "hoop split", **more}


def judged(*articles: dict[str, Any], **more: object) -> Any:
    sheet = {"procedure": "burst", "wanted": "28 bar", "material": "aluminium-6061", "articles": list(articles), **more}
    return judge_burst(read_burst_sheet({key: value for key, value in sheet.items() if value is not None}))


def test_the_bound_of_three_is_that_of_the_published_tables() -> None:
    """One-sided, 90 % with 95 % confidence; as the tables of normal tolerance limits print it."""
    assert [round(tolerance_factor(n), 3) for n in (3, 4, 5, 10, 20)] == [6.155, 4.162, 3.407, 2.355, 1.926]


def test_the_bound_holds_for_nine_in_ten_as_often_as_it_says() -> None:
    rng = np.random.default_rng(4)
    for count in (3, 6):
        good = 0
        for _ in range(1500):
            failed = rng.normal(100, 5, count)
            bound = statistics.fmean(failed) - tolerance_factor(count) * statistics.stdev(failed)
            good += bound <= 100 - 1.2816 * 5
        assert 0.93 <= good / 1500 <= 0.97


def test_three_that_scatter_little_prove_the_factor() -> None:
    told = judged(article(80), article(82), article(81))
    bound = 81 * (1 - (1.2816 + 1.6449 / math.sqrt(3)) * 0.06)  # they scatter less than such articles do: σ known
    assert told.answer == "met"
    assert told.bound == pytest.approx(bound * 1e5, rel=1e-3)
    assert told.factor == pytest.approx(bound / 28, rel=1e-3)
    assert not told.thin


def test_three_that_scatter_far_leave_it_open_and_say_what_would_settle_it() -> None:
    told = judged(article(62), article(85), article(74))
    assert told.answer == "cannot-tell"
    assert any("more articles" in way for way in told.settle_it)
    assert any("no more than 27.9 bar" in way for way in told.settle_it)


def test_one_that_failed_too_low_proves_that_it_does_not_bear_it() -> None:
    told = judged(article(80), article(81), article(50, mode="end off"))
    assert told.answer == "not-met"
    assert "50 bar" in told.says


@pytest.mark.parametrize(("failed", "answer"), [(120.0, "cannot-tell"), (61.0, "cannot-tell"), (55.0, "not-met")])
def test_fewer_than_three_prove_nothing_and_one_too_low_is_enough(failed: float, answer: str) -> None:
    told = judged(article(failed), article(failed + 2))
    assert told.thin
    assert told.answer == answer
    usual = (failed + 1) * (1 - (1.2816 + 1.6449 / math.sqrt(2)) * 0.06)
    assert told.bound == pytest.approx(min(0.9 * failed, usual) * 1e5, rel=1e-3)


def test_one_let_go_whole_counts_as_far_as_it_went_and_never_as_a_failure() -> None:
    low = judged({"name": "a", "highest": "50 bar"})
    assert low.answer == "cannot-tell"
    assert any("let go whole" in way for way in low.settle_it)
    whole = judged(article(None), article(None, "b"), article(None, "c"))
    assert whole.thin, "that three held tells nothing of how far they scatter"
    assert whole.answer == "cannot-tell"
    assert "Three have to fail at the least" in whole.says


@pytest.mark.parametrize(
    ("worse", "more", "answer", "says"),
    [
        ({"before": "42 bar", "noise": "36 bar"}, {}, "not-met", "that loading damaged it"),
        ({"leak": "27 bar"}, {}, "not-met", "leaked at 27 bar, within what it is to work at"),
        ({}, {"expected": "125 bar"}, "not-met", "only 64% of the 125 bar"),
        ({}, {"expected": "110 bar"}, "cannot-tell", "not as it was reckoned"),
    ],
    ids=["damaged by the loading before", "leaked in service", "far under what is expected", "under what is expected"],
)
def test_of_several_checks_the_worst_is_the_answer(
    worse: dict[str, str], more: dict[str, str], answer: str, says: str
) -> None:
    sound = [article(80), article(82), article(81)]
    assert judged(*sound, expected="90 bar").answer == "met"
    told = judged({**sound[0], **worse}, *sound[1:], **more)
    assert told.answer == answer
    assert says in told.says


def test_one_let_go_whole_under_what_is_expected_is_not_held_against_its_design() -> None:
    assert judged({"name": "a", "highest": "50 bar"}, expected="125 bar").answer == "cannot-tell"


def test_three_that_failed_alike_are_not_taken_to_scatter_by_nothing() -> None:
    told = judged(article(80), article(80), article(80))
    assert told.bound == pytest.approx(80e5 * (1 - 2.2313 * 0.06), rel=1e-3)
    for material in ("glass-fibre", None):  # or of nobody knows what
        wide = judged(article(80), article(80), article(80), material=material)
        assert wide.bound == pytest.approx(80e5 * (1 - 2.2313 * 0.12), rel=1e-3)
    far = judged(article(60), article(80), article(100))
    assert far.bound == pytest.approx(max(0.0, 80e5 - 6.155 * 20e5), abs=1e3)


def test_an_article_counts_once_and_ways_of_failing_are_not_mixed() -> None:
    twice = judged(article(80, "a"), article(82, "A "), article(81, "b"))
    assert (twice.answer, len(twice.articles)) == ("cannot-tell", 2)
    assert twice.lowest == pytest.approx(80e5)
    mixed = judged(article(80), article(82), article(81), article(70, mode="end off"))
    assert (mixed.answer, mixed.thin) == ("cannot-tell", True)
    assert "end off" in next(one.says for one in mixed.checks if one.code == "modes")
    unsaid = [{key: value for key, value in article(80).items() if key != "mode"} for _ in range(3)]
    assert judged(*unsaid).answer == "cannot-tell"


def test_what_departs_from_its_design_tells_nothing_of_it() -> None:
    told = judged(article(80), article(82), article(81), article(40, departs="wall 1.2 mm, and 2.4 mm is the design's"))
    assert told.lowest == pytest.approx(80e5)
    assert told.answer == "cannot-tell"
    assert "departs from the design" in told.says


def test_none_proves_nothing() -> None:
    told = judged()
    assert told.answer == "cannot-tell"
    assert told.factor is None
    assert "No article" in told.says


def test_noise_on_a_reloading_under_what_it_bore_before_tells_of_damage() -> None:
    hurt = judged(article(80, before="42 bar", noise="36 bar"))
    sound = judged(article(80, before="42 bar", noise="41 bar"))
    first = judged(article(80, noise="36 bar"))
    state = [{one.code: one.state for one in told.checks}.get("felicity") for told in (hurt, sound, first)]
    assert state == ["not met", "met", None]
    assert hurt.articles[0].felicity == pytest.approx(36 / 42)


@pytest.mark.parametrize(
    ("changes", "says"),
    [({"failed": "90 bar"}, "highest"), ({"noise": "85 bar"}, "highest"), ({"mode": "gone"}, "hoop split")],
)
def test_an_article_that_contradicts_itself_is_refused(changes: dict, says: str) -> None:
    with pytest.raises(SheetError, match=says):
        judged({**article(80), **changes})


CASE: dict[str, Any] = {
    "kind": "chamber",
    "working_pressure": "28 bar",
    "basis": "burst",
    "shell": {
        "form": "cylinder",
        "inside_diameter": "54 mm",
        "length": "420 mm",
        "wall": "2.4 mm",
        "material": "aluminium-6061",
        "welded": False,
        "wall_measured": True,
    },
    "gauge": {"range": "600 bar", "division": "5 bar"},
}


def test_it_is_planned_to_the_expected_burst_with_nobody_near() -> None:
    shell = {**CASE["shell"], "yield_strength": "276 MPa", "ultimate": "310 MPa"}
    answer = PROCEDURES["burst"].plan(read_vessel_sheet({**CASE, "shell": shell}))
    Sy, Su = 276e6, 310e6
    faupel = 2 / math.sqrt(3) * Sy * (2 - Sy / Su) * math.log(29.4 / 27)
    assert answer.expected_burst == pytest.approx(faupel, rel=1e-6)
    assert answer.test_pressure == answer.expected_burst
    assert {stage.zone for stage in answer.stages} == {"line"}
    assert not answer.guards
    assert not codes(answer.stops)
    assert "burst-remote" in codes(answer.cautions)


def test_a_lay_up_without_its_strength_is_not_expected_anywhere_and_air_is_forbidden() -> None:
    fibre = {**CASE, "shell": {**CASE["shell"], "material": "glass-fibre"}}
    unknown = PROCEDURES["burst"].plan(read_vessel_sheet(fibre))
    assert unknown.expected_burst is None
    assert "burst-unknown" in codes(unknown.cautions)
    stated = {**fibre, "shell": {**fibre["shell"], "ultimate": "200 MPa"}}
    told = PROCEDURES["burst"].plan(read_vessel_sheet(stated))
    assert told.expected_burst == pytest.approx(200e6 * 2.4 / 27)
    aired = PROCEDURES["burst"].plan(read_vessel_sheet({**stated, "medium": "air"}))
    assert codes(aired.stops)


def design(**changes: object) -> Design:
    sheet = {
        "wanted": "28 bar",
        "inside_diameter": "54 mm",
        "wall": "2.4 mm",
        "material": "glass-fibre",
        "layup": "4 layers at 54°",
        "closure": "radial screws",
        **changes,
    }
    read = read_kit("design", sheet)
    assert isinstance(read, Design)
    return read


def flight(**changes: Any) -> dict[str, Any]:
    shell = {**CASE["shell"], "material": "glass-fibre", **changes.pop("shell", {})}
    return {**CASE, "shell": shell, "layup": "4 layers at 54°", "closure": "radial screws", **changes}


def test_a_vessel_of_its_design_inherits_and_one_that_departs_is_told_by_how_much() -> None:
    own = inherits(design(), "Skylark 54", read_vessel_sheet(flight()))
    assert own.inherits is True
    wide = inherits(design(), "Skylark 54", read_vessel_sheet(flight(shell={"inside_diameter": "70 mm"})))
    assert wide.inherits is False
    assert wide.stress == pytest.approx(70 / 54 - 1)
    assert "+30%" in wide.says


@pytest.mark.parametrize(
    ("changes", "name"),
    [
        ({"shell": {"wall": "2.0 mm"}}, "wall"),
        ({"closure": "snap ring"}, "closure"),
        ({"layup": "3 layers at 54°"}, "layup"),
        ({"shell": {"material": "carbon-fibre"}}, "material"),
        ({"working_pressure": "28.8 bar"}, "wanted"),
        ({"shell": {"form": "sphere", "length": None}}, "form"),
        ({"design_temperature": "90 °C"}, "temperature"),
        ({"shell": {"welded": True}}, "welded"),
        ({"shell": {"corrosion": "0.4 mm"}}, "wall"),
        ({"ends": [{"form": "flat", "wall": "2 mm"}]}, "ends"),
        ({"shell": {"inside_diameter": "54.9 mm", "wall": "2.36 mm"}}, "stress"),  # each within 2 %, together 3.4 %
    ],
)
def test_each_departure_is_named_and_nothing_is_inherited(changes: dict, name: str) -> None:
    told = inherits(design(), "Skylark 54", read_vessel_sheet(flight(**changes)))
    assert told.inherits is False
    unlike = [one.code for one in told.checks if one.state == "not met"]
    assert unlike in ([name], [name, "stress"])


def test_a_design_that_does_not_say_its_closure_hands_nothing_on() -> None:
    told = inherits(design(closure=None), "Skylark 54", read_vessel_sheet(flight()))
    assert told.inherits is None


def test_what_is_not_said_of_a_vessel_inherits_nothing_yet() -> None:
    told = inherits(design(), "Skylark 54", read_vessel_sheet(flight(closure=None)))
    assert told.inherits is None
    assert "inherits nothing" in told.says


def test_a_wall_nobody_measured_inherits_nothing_yet() -> None:
    told = inherits(design(), "Skylark 54", read_vessel_sheet(flight(shell={"wall_measured": False})))
    assert told.inherits is None


def test_the_command_line_judges_articles(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    sheet = tmp_path / "burst.json"
    sheet.write_text(
        json.dumps({"procedure": "burst", "wanted": "28 bar", "articles": [article(84), article(86), article(85)]})
    )
    assert main(["judge", str(sheet)]) == 0
    assert "nine in ten" in capsys.readouterr().out
    demo = str(Path(__file__).parents[2] / "demo" / "burst.json")
    assert main(["judge", demo, "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert (told["answer"], told["articles"][2]["felicity"]) == ("met", pytest.approx(148 / 150))
