"""What is stored opens for ever: of any release up to this one, in the reader's units; what cannot be opened says
why.
"""

import copy
import json
import sqlite3
import zipfile
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest

import toadbell
from tests.core.sheets import RECEIVER, derived
from toadbell.core.documents import (
    SCHEMAS,
    FrozenPlan,
    Unreadable,
    keep_plan,
    read_advice,
    read_plan,
    read_points,
    read_verdict,
)
from toadbell.core.phrases import Habit, speaking

STORED = Path(__file__).parents[1] / "stored"


def kept() -> dict[str, Any]:
    return keep_plan(FrozenPlan(RECEIVER, derived(), toadbell.__version__))


def test_a_plan_comes_back_as_it_was_kept() -> None:
    found = read_plan(json.loads(json.dumps(kept())))
    assert found.answer == derived()
    assert (found.sheet, found.core) == (RECEIVER, toadbell.__version__)


def test_a_frozen_plan_is_told_to_each_reader_in_his_own_units() -> None:
    document = json.loads(json.dumps(kept()))
    with speaking(Habit("psi", "in")):
        imperial = read_plan(document).answer
    assert next(guard.says for guard in imperial.guards if guard.code == "overshoot").startswith(
        "Overshoot: past 194.8 psi."
    )
    told = [
        *(line.shown for line in imperial.lines if line.unit == "Pa"),
        *(caution.says for caution in imperial.cautions),
    ]
    assert not [text for text in told if " bar" in text]
    assert imperial.test_pressure == read_plan(document).answer.test_pressure


def test_a_document_of_a_later_release_is_refused_in_words() -> None:
    with pytest.raises(Unreadable, match="written by a newer Toad Bell \\(schema 99; this one reads up to 3\\)"):
        read_plan({**kept(), "schema": 99})


@pytest.mark.parametrize("key", ["hold", "stages", "guards", "test_pressure"])
def test_a_document_that_lacks_something_says_what(key: str) -> None:
    document = kept()
    if key == "guards":  # one that has its default: it opens
        del document["answer"][key]
        assert read_plan(document).answer.guards == []
        return
    del document["answer"][key]
    with pytest.raises(Unreadable, match=f"frozen plan that was kept here cannot be read: {key} is missing"):
        read_plan(document)


@pytest.mark.parametrize("stored", [None, [], "plan", {"schema": 0}, {"schema": True}])
def test_what_is_no_document_is_refused(stored: Any) -> None:
    with pytest.raises(Unreadable):
        read_plan(stored)


def test_the_first_schema_is_brought_up_step_by_step() -> None:
    first = copy.deepcopy(kept())
    del first["schema"]
    for stage in first["answer"]["stages"]:
        del stage["id"]
    assert [stage.id for stage in read_plan(first).answer.stages] == [stage.id for stage in derived().stages]
    first["sheet"] = {**RECEIVER, "stages": [{"target": "5 bar", "name": "test"}]}
    first["answer"]["stages"][0]["name"] = "test"  # a person's own name for a stage makes it no test
    assert read_plan(first).answer.stages[0].id == "own-1"
    assert read_plan(first).answer.stages[-1].id == "test"


@pytest.mark.parametrize("changes", [{}, {"pause": "2 min", "stages": [{"target": "2 bar"}, {"target": "9 bar"}]}])
def test_a_plan_of_before_has_its_stages_look_and_line_placed_on_its_course(changes: dict[str, Any]) -> None:
    today = derived(**changes)
    second = {**keep_plan(FrozenPlan({**RECEIVER, **changes}, today, "0.4.0")), "schema": 2}
    for stage in second["answer"]["stages"]:
        del stage["level"]
    del second["answer"]["hold"]["look"], second["answer"]["behind_the_line"]
    opened = read_plan(second).answer
    assert opened == today
    assert opened.behind_the_line is not None
    assert opened.behind_the_line.ends == opened.stages[-1].level.ends  # type: ignore[union-attr]


def test_a_plan_that_goes_down_no_further_than_it_held_has_no_look_of_its_own() -> None:
    second = {**kept(), "schema": 2}
    held = len(second["answer"]["stages"]) * 2
    del second["answer"]["profile"][held + 1 : held + 3]
    assert read_plan(second).answer.hold.look is None


@pytest.mark.parametrize("release", sorted(path.name for path in STORED.iterdir() if path.is_dir()))
def test_every_document_of_every_release_opens(release: str, tmp_path: Path) -> None:
    with zipfile.ZipFile(STORED / release / "backup.zip") as found:
        found.extract("toadbell.sqlite3", tmp_path)
    with closing(sqlite3.connect(tmp_path / "toadbell.sqlite3")) as database:
        plans = [
            json.loads(row) for (row,) in database.execute("SELECT frozen FROM trials_trial WHERE frozen IS NOT NULL")
        ]
        verdicts = database.execute("SELECT answer, points FROM trials_verdict").fetchall()
        advice = [json.loads(row) for (row,) in database.execute("SELECT advice FROM trials_decision")]
    assert plans
    assert verdicts
    assert advice
    for plan in plans:
        assert [stage.id for stage in read_plan(plan).answer.stages][-1] == "test"
    for answer, points in verdicts:
        told = read_verdict(json.loads(answer))
        assert told.verdict == "tight"
        assert told.leak.from_none == (told.leak.low < told.limit / 50)
        assert read_points(json.loads(points))
    for one in advice:
        assert all(line.code for line in read_advice(one).evidence)


def test_this_release_is_among_those_that_later_ones_must_open() -> None:
    assert (STORED / toadbell.__version__ / "backup.zip").exists(), "make stored, once as a release is made"
    assert all(number >= 2 for number in SCHEMAS.values())
