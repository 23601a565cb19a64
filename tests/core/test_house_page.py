"""The page of the house names what is there."""

import re
from pathlib import Path

import pytest

from toadbell.core.phrases.said import rooms
from toadbell.core.procedures import PROCEDURES
from toadbell.core.run.steps import STEPS

TOP = Path(__file__).parents[2]
PAGE = (TOP / "docs" / "house.md").read_text(encoding="utf-8")
PATHS = sorted(set(re.findall(r"`((?:toadbell|web|tests|docs)/[\w./-]*)`", PAGE)))
NAMED = re.findall(r"`((?:toadbell|web)/[\w./-]+\.py)` \(`(\w+)`\)", PAGE)


@pytest.mark.parametrize("path", PATHS)
def test_every_path_on_it_is_there(path: str) -> None:
    assert (TOP / path).exists()


def test_every_name_beside_a_path_stands_in_it() -> None:
    assert len(NAMED) >= 6
    assert [(path, name) for path, name in NAMED if not re.search(rf"\b{name}\b", (TOP / path).read_text())] == []


def test_every_room_of_the_core_is_on_it() -> None:
    core = TOP / "toadbell" / "core"
    for room in (path.name for path in core.iterdir() if (path / "__init__.py").exists()):
        assert re.search(rf"\b{room}\b", PAGE), room


def test_every_step_has_its_words() -> None:
    for step in STEPS.values():
        assert step.label
        assert {f"{step.id}-phase"} <= rooms()["step"].keys() or not step.phases


def test_every_procedure_bears_its_own_id() -> None:
    assert [procedure.id for procedure in PROCEDURES.values()] == list(PROCEDURES)
