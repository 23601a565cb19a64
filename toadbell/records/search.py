"""The text of the records, found again by SQLite's full text.

It lies in a file of its own beside the database and is only a copy: it is in no backup, is written anew where it is
gone, damaged or of another time, and where no file can be written it lies in memory.
"""

import hashlib
import json
import logging
import sqlite3
import threading
from collections.abc import Callable, Collection, Iterable
from contextlib import closing, suppress
from typing import TypeVar
from uuid import UUID

from django.conf import settings

import toadbell
from toadbell.shed.models import Maker
from toadbell.trials.database_stamp import of_this_database

PATH = settings.DATA_DIR / "search.sqlite3"
TOGETHER = 200
"""Records that are written at a time."""
SHORT = 3
"""Words of fewer letters are looked for in each text: the index knows three letters in a row."""

Lines = Callable[[list[UUID]], Iterable[tuple[UUID, list[str]]]]
"""What records tell, line by line, by the trials' ids."""


def find(records: dict[UUID, str], words: list[str], units: str, lines: Lines) -> set[UUID]:
    """The records in which each of the words stands somewhere, small or large.

    records  all there are, by their trials, each with what changes whenever what it tells does
    units    in which they are told
    lines    tells those that are not written down yet, or changed since
    """
    return _with_index(lambda index: _find(index, records, words, units, lines))


def lines_of(trials: list[UUID], units: str) -> dict[UUID, list[str]]:
    """The lines of records that were found."""
    asked = f"SELECT trial, lines FROM told WHERE units = ? AND trial IN ({', '.join('?' * len(trials))})"
    given = [units, *(trial.hex for trial in trials)]
    found = _with_index(lambda index: index.execute(asked, given).fetchall())
    return {UUID(trial): json.loads(kept) for trial, kept in found}


def _find(index: sqlite3.Connection, records: dict[UUID, str], words: list[str], units: str, lines: Lines) -> set[UUID]:
    _of_now(index)
    told = dict(index.execute("SELECT trial, stamp FROM told WHERE units = ?", [units]))
    stale = [trial for trial, stamp in records.items() if told.get(trial.hex) != stamp]
    for at in range(0, len(stale), TOGETHER):
        _write(index, {trial: records[trial] for trial in stale[at : at + TOGETHER]}, units, lines)
    gone = told.keys() - {trial.hex for trial in records}
    if gone:
        with index:
            _drop(index, gone)
    return {UUID(trial) for (trial,) in index.execute(*_asked(words, units))}


def _asked(words: list[str], units: str) -> tuple[str, list[str]]:
    """The statement that finds words, each by the index where it is long enough."""
    folded = [word.casefold() for word in words]
    long = [word for word in folded if len(word) >= SHORT]
    asked, given = ["told.units = ?"], [units]
    if long:
        asked.append("words MATCH ?")
        given.append(" AND ".join('"' + word.replace('"', '""') + '"' for word in long))
    for word in folded:
        if len(word) < SHORT:
            asked.append("instr(words.whole, ?)")
            given.append(word)
    return f"SELECT told.trial FROM words JOIN told ON told.id = words.rowid WHERE {' AND '.join(asked)}", given


def _write(index: sqlite3.Connection, stamps: dict[UUID, str], units: str, lines: Lines) -> None:
    told = list(lines(list(stamps)))  # before anything is locked
    with index:
        _drop(index, {trial.hex for trial, _ in told}, units)
        for trial, kept in told:
            at = index.execute(
                "INSERT INTO told (trial, units, stamp, lines) VALUES (?, ?, ?, ?)",
                [trial.hex, units, stamps[trial], json.dumps(kept)],
            ).lastrowid
            index.execute("INSERT INTO words (rowid, whole) VALUES (?, ?)", [at, "\n".join(kept).casefold()])


def _drop(index: sqlite3.Connection, trials: Collection[str], units: str | None = None) -> None:
    """Take what was written of some trials away, in one way of telling or in all."""
    for trial in trials:
        asked = "SELECT id FROM told WHERE trial = ? AND ? IN ('', units)"
        for row in index.execute(asked, [trial, units or ""]).fetchall():
            index.execute("DELETE FROM words WHERE rowid = ?", row)
            index.execute("DELETE FROM told WHERE id = ?", row)


def _of_now(index: sqlite3.Connection) -> None:
    """Empty it where it is another database's, another release's, or people are called otherwise now."""
    people = hashlib.sha256(repr(sorted(Maker.objects.values_list("pk", "first_name", "username"))).encode())
    now = f"{toadbell.__version__} {of_this_database()} {people.hexdigest()}"
    index.execute("CREATE TABLE IF NOT EXISTS made (of TEXT)")
    if index.execute("SELECT of FROM made").fetchone() == (now,):
        return
    with index:
        index.execute("BEGIN IMMEDIATE")
        if index.execute("SELECT of FROM made").fetchone() == (now,):
            return  # somebody else just did
        index.execute("DROP TABLE IF EXISTS words")
        index.execute("DROP TABLE IF EXISTS told")
        index.execute("DELETE FROM made")
        index.execute("CREATE TABLE told (id INTEGER PRIMARY KEY, trial, units, stamp, lines, UNIQUE (trial, units))")
        index.execute("CREATE VIRTUAL TABLE words USING fts5 (whole, tokenize = 'trigram case_sensitive 1')")
        index.execute("INSERT INTO made VALUES (?)", [now])


Found = TypeVar("Found")
_in_memory: sqlite3.Connection | None = None
_one_at_a_time = threading.Lock()


def _with_index(act: Callable[[sqlite3.Connection], Found]) -> Found:
    """Ask the file, anew where it is damaged; where it cannot be read or written, what this process keeps in memory."""
    global _in_memory
    for _ in range(0 if _in_memory else 2):
        try:
            with closing(sqlite3.connect(PATH, timeout=5)) as index:
                index.execute("PRAGMA synchronous=OFF")  # what is lost is written anew
                return act(index)
        except sqlite3.Error as problem:
            logging.getLogger(__name__).warning("The text of the records is written anew: %s", problem)
            for path in (PATH, PATH.with_name(f"{PATH.name}-journal")):
                with suppress(OSError):
                    path.unlink(missing_ok=True)
    with _one_at_a_time:
        if _in_memory is None:
            _in_memory = sqlite3.connect(":memory:", check_same_thread=False)
        return act(_in_memory)
