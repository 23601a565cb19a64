"""Loggers' files: what they mean is recognised where it is plain, asked where it is not, and no row is lost
silently.
"""

import contextlib
import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from toadbell.core.bench.logger_file import Column, Logged, Recipe, read_logged, recipe_from, recognise
from toadbell.core.sheets import SheetError

UTC = datetime.UTC


def read(text: str, zone: str = "UTC", **changes: object) -> Logged:
    """A file as it is recognised, with what a person put right."""
    return read_logged(text, recognise(text, zone).model_copy(update=changes))


@pytest.mark.parametrize(
    ("text", "pressure", "temperature", "at"),
    [
        (
            "time,pressure [bar],water temperature [degC]\n2026-11-24T10:00:00Z,8.5,16\n",
            8.5e5,
            289.15,
            "2026-11-24T10:00:00",
        ),
        ("Timestamp;Pressure (psi)\n24.11.2026 10:00:00;123,28\n", 8.5e5, None, "2026-11-24T10:00:00"),
        (
            "Logger 17\nfw 2.1\n\nDate\tTime\tPress [mbar]\tTemp [°C]\n24.11.2026\t10:00:00\t8500\t16.0\n",
            8.5e5,
            289.15,
            "2026-11-24T10:00:00",
        ),
        ("time,pressure_kpa,temp_degC\n2026-11-24 10:00:00,850,16\n", 8.5e5, 289.15, "2026-11-24T10:00:00"),
        ("Datum;Uhrzeit;Druck [bar]\n24.11.2026;10:00:00;8,50\n", 8.5e5, None, "2026-11-24T10:00:00"),
        ("time,pressure [bar]\n11/24/2026 01:30:00 PM,8.5\n", 8.5e5, None, "2026-11-24T13:30:00"),
    ],
)
def test_common_files_are_recognised(text: str, pressure: float, temperature: float | None, at: str) -> None:
    found = read(text)
    assert found.missing == []
    assert found.bad == []
    row = found.rows[0]
    assert row.pressure == pytest.approx(pressure, rel=1e-4)
    assert row.temperature == (None if temperature is None else pytest.approx(temperature))
    assert row.at == datetime.datetime.fromisoformat(at).replace(tzinfo=UTC)


def test_a_file_that_counts_seconds_or_minutes() -> None:
    found = read("elapsed [min],pressure [bar],strokes\n0,0,0\n1.5,3.2,4\n")
    assert [(row.elapsed, row.strokes) for row in found.rows] == [(0.0, 0), (90.0, 4)]
    assert read("Time [s],pressure [bar]\n5,1\n").rows[0].elapsed == 5


def test_times_without_a_zone_are_the_persons_own_and_summer_is_known() -> None:
    text = "time,pressure [bar]\n2026-07-01 12:00:00,1\n2026-12-01 12:00:00,1\n2026-12-01T12:00:00+09:00,1\n"
    found = read(text, "Europe/Lisbon", time_format="iso")
    assert [row.at.hour for row in found.rows if row.at] == [11, 12, 3]


def test_a_day_that_may_be_a_month_is_asked_for_and_not_guessed() -> None:
    text = "time,pressure [bar]\n03/04/2026 10:00:00,1\n05/04/2026 10:00:00,1\n"
    assert "day or month first" in read(text).missing[0]
    assert read(text, time_format="%d/%m/%Y %H:%M:%S").rows[0].at == datetime.datetime(2026, 4, 3, 10, tzinfo=UTC)
    assert read(text, time_format="%m/%d/%Y %H:%M:%S").rows[0].at == datetime.datetime(2026, 3, 4, 10, tzinfo=UTC)
    assert read(text.replace("05/04", "25/04")).missing == []  # one row settles it for all


@pytest.mark.parametrize(
    ("text", "asks"),
    [
        ("time,pressure\n2026-11-24T10:00:00,1\n", "In which unit is “pressure”"),
        ("time,value\n2026-11-24T10:00:00,1\n", "Which column holds the pressure"),
        ("pressure [bar],x\n1,2\n", "Which column holds the time"),
        ("time,pressure [mm]\n2026-11-24T10:00:00,1\n", "In which unit"),
    ],
)
def test_what_cannot_be_told_is_asked(text: str, asks: str) -> None:
    found = read(text)
    assert asks in " ".join(found.missing)
    assert found.rows == []


def test_a_persons_own_columns_and_units_are_used() -> None:
    recipe = Recipe(
        delimiter=",",
        decimal=".",
        header=1,
        time_format="elapsed",
        columns=[Column(index=1, role="pressure", unit="psi"), Column(index=0, role="elapsed", unit="s")],
    )
    assert read_logged("a,b\n0,100\n", recipe).rows[0].pressure == pytest.approx(689_476, rel=1e-5)
    assert "no time zone" in read_logged("a,b\n0,100\n", recipe.model_copy(update={"zone": "Mars/Olympus"})).missing[0]


def test_bad_rows_are_named_with_their_line_and_the_others_kept() -> None:
    day = "2026-11-24T10"
    text = f"time,pressure [bar]\n{day}:00:00,1\n{day}:01:00,--\n\nyesterday,1\n"
    text += f"{day}:02:00,\n{day}:03:00,2\n{day}:04:00,nan\n"
    found = read(text)
    assert [row.pressure for row in found.rows] == [1e5, 2e5]
    assert [(bad.line, bad.says) for bad in found.bad] == [
        (3, "“--” is no pressure"),
        (5, "“yesterday” is no time as the others are"),
        (6, "no pressure"),
        (8, "“nan” is no pressure"),
    ]


def test_thousands_of_bad_rows_are_counted_and_the_first_fifty_named() -> None:
    found = read("elapsed [s],pressure [bar]\n0,1\n" + "1,x\n" * 3000)
    assert (found.bad_in_all, len(found.bad), len(found.rows)) == (3000, 50, 1)


@pytest.mark.parametrize("text", ["", "\n\n", "hello", "one\ntwo\nthree"])
def test_what_is_no_table_is_refused_in_words(text: str) -> None:
    with pytest.raises(SheetError, match=r"empty|no table"):
        recognise(text)


@pytest.mark.parametrize(
    "data", [None, {}, {"delimiter": "|"}, {"delimiter": ",", "decimal": ".", "header": 0, "columns": []}, "x"]
)
def test_a_recipe_that_is_none_names_its_field(data: object) -> None:
    with pytest.raises(SheetError) as problem:
        recipe_from(data)
    assert str(problem.value.field).startswith("recipe")


@given(st.text(max_size=400))
def test_no_text_at_all_brings_it_down(text: str) -> None:
    with contextlib.suppress(SheetError):
        read(text)


@given(
    st.lists(st.tuples(st.floats(0, 1e6), st.floats(0, 500)), min_size=1, max_size=20),
    st.sampled_from([",", ";", "\t"]),
)
def test_what_was_written_is_what_is_read(rows: list[tuple[float, float]], mark: str) -> None:
    text = f"elapsed [s]{mark}pressure [bar]\n" + "".join(f"{t!r}{mark}{p!r}\n" for t, p in rows)
    assert [(row.elapsed, row.pressure) for row in read(text).rows] == [(t, pytest.approx(p * 1e5)) for t, p in rows]
