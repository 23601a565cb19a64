"""Words of the records are found again: after a start, in a damaged or forbidden file, and never those of what is
gone.
"""

import sqlite3
from pathlib import Path

import pytest

from tests.server.conftest import Workshop
from tests.server.test_logbook_and_due import shelf  # noqa: F401
from toadbell.records import kept_answers, logbook, search
from toadbell.shed.models import Maker
from toadbell.trials.models import Trial

pytestmark = pytest.mark.usefixtures("own_index")


@pytest.fixture
def own_index(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """An index of its own, not written yet."""
    path = tmp_path / "search.sqlite3"
    monkeypatch.setattr(search, "PATH", path)
    monkeypatch.setattr(search, "_in_memory", None)
    monkeypatch.setattr(search, "of_this_database", lambda: 0)  # whatever other tests put back meanwhile
    return path


def found(workshop: Workshop, text: str) -> list[str]:
    kept_answers.forget()
    return [row["trial"]["vessel"] for row in workshop.client.get("/api/logbook", {"text": text}).json()["rows"]]


def test_what_was_written_down_is_not_told_again_and_what_was_added_is(
    shelf: Workshop,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    told: list[int] = []
    writes = logbook._written
    monkeypatch.setattr(logbook, "_written", lambda ids, maker: told.append(len(ids)) or writes(ids, maker))
    assert found(shelf, "hiss") == ["Tank"]
    assert found(shelf, "slipway") == ["Wharf tank"]
    Trial.objects.get(vessel__name="Tank", started_at__isnull=False).log("note", Maker.local_owner(), text="a parsnip")
    assert found(shelf, "parsnip") == ["Tank"]
    assert told == [2, 1]


@pytest.mark.parametrize("text", ["hi", "m", 'HISS "', "hiss* OR", "hiss AND", "' hiss"])
def test_letters_are_letters_however_few_and_whatever_they_are(shelf: Workshop, text: str) -> None:  # noqa: F811
    told = {one.id: " ".join(logbook._written([one.id], Maker.local_owner())[0][1]) for one in logbook.begun()}
    words = text.casefold().split()
    holds = {one for one, whole in told.items() if all(word in whole.casefold() for word in words)}
    rows = shelf.client.get("/api/logbook", {"text": text}).json()["rows"]
    assert {row["trial"]["id"] for row in rows} == {str(one) for one in holds}


def test_a_damaged_index_is_written_anew_and_without_any_it_is_found_all_the_same(
    shelf: Workshop,  # noqa: F811
    own_index: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    assert found(shelf, "hiss") == ["Tank"]
    own_index.write_bytes(b"spilt coffee" * 1000)
    assert found(shelf, "hiss") == ["Tank"]
    with sqlite3.connect(own_index) as index:
        index.execute("DROP TABLE words")
    assert found(shelf, "hiss") == ["Tank"]
    monkeypatch.setattr(search, "PATH", own_index.parent / "nowhere" / "search.sqlite3")
    assert found(shelf, "hiss maren") == ["Tank"]


def test_what_a_start_writes_down_is_found_without_telling_it_again(
    shelf: Workshop,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    logbook.write_down()
    monkeypatch.setattr(logbook, "_written", lambda ids, maker: pytest.fail("told again"))
    assert found(shelf, "hiss") == ["Tank"]


def test_somebody_is_found_by_what_they_are_called_now(shelf: Workshop) -> None:  # noqa: F811
    assert found(shelf, "Brunhild") == []
    Maker.objects.filter(pk=Maker.local_owner().pk).update(first_name="Brunhild")
    assert found(shelf, "Brunhild") == ["Tank", "Wharf tank"]


def test_nothing_stays_of_what_is_no_record_any_more(shelf: Workshop, own_index: Path) -> None:  # noqa: F811
    assert found(shelf, "hiss") == ["Tank"]
    Trial.objects.filter(vessel__name="Tank").update(started_at=None)
    assert found(shelf, "hiss") == []
    with sqlite3.connect(own_index) as index:
        assert index.execute("SELECT COUNT(*) FROM told").fetchone() == (1,)
        assert index.execute("SELECT COUNT(*) FROM words WHERE words MATCH 'hiss'").fetchone() == (0,)
