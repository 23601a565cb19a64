"""Quantities are read as makers write them, and refused where they could be misread."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from toadbell.core import units
from toadbell.core.units import QuantityError, read, write


@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [
        ("120psi", "pressure", 827_370.875),
        ("120 PSI", "pressure", 827_370.875),
        ("22 Mbar", "pressure", 2200),
        ("120 psig", "pressure", 827_370.875),
        ("8,3 bar", "pressure", 830_000),
        ("8.3 bar", "pressure", 830_000),
        ("8.3 bar g", "pressure", 830_000),
        ("8.3 bar(g)", "pressure", 830_000),
        ("0,125 bar", "pressure", 12_500),
        ("1 200 kPa", "pressure", 1_200_000),
        ("1.2 mpa", "pressure", 1_200_000),
        ("225 mm of water", "pressure", 2206.5),
        ("225 mm water", "pressure", 2206.5),
        ("8 in wc", "pressure", 1992.7),
        ("20 cm wg", "pressure", 1961.3),
        ("22 mbar", "pressure", 2200),
        ("10 kg/cm2", "pressure", 980_665),
        ("14 1/2 in", "length", 0.3683),
        ('3/8"', "length", 0.009525),
        ("14 1/2″", "length", 0.3683),
        ("2'", "length", 0.6096),
        ("366mm", "length", 0.366),
        ("-0.4 m", "length", -0.4),
        ("−0.4 m", "length", -0.4),
        ("2 gal", "volume", 0.0075708),
        ("2 imp gal", "volume", 0.0090922),
        ("50 ml", "volume", 5e-5),
        ("24 litres", "volume", 0.024),
        ("1 cu ft", "volume", 0.0283168),
        ("18 degC", "temperature", 291.15),
        ("18 C", "temperature", 291.15),
        ("64.4 °F", "temperature", 291.15),
        ("0.1 delta_degC", "temperature_difference", 0.1),
        ("0.1 °C", "temperature_difference", 0.1),
        ("1.8 °F", "temperature_difference", 1.0),
        ("30 min", "time", 1800),
        ("1.5 h", "time", 5400),
        ("2 mL/h", "leak", 2e-6 / 3600),
        ("3 drops/min", "leak", 3 * 0.05e-6 / 60),
        ("9.2 mL/bar", "compliance", 9.2e-11),
        ("205 MPa", "stress", 205e6),
    ],
)
def test_reads_what_people_write(text: str, kind: str, si: float) -> None:
    assert read(text, kind).value == pytest.approx(si, rel=1e-4)


@pytest.mark.parametrize(
    ("text", "kind", "says"),
    [
        ("", "pressure", "nothing is written"),
        ("bar", "pressure", "no number"),
        ("8.5", "pressure", "no unit"),
        ("8.5 furlongs", "pressure", "8.3 bar"),
        ("8.5 mm", "pressure", "8.3 bar"),
        ("8.5 bar", "length", "366 mm"),
        ("3/0 in", "length", "no number"),
        ("1,200 psi", "pressure", "could be 1.200 or 1200"),
        ("8 bara", "pressure", "gauge pressure is wanted"),
        ("100 psia", "pressure", "gauge pressure is wanted"),
        ("8 bar abs", "pressure", "gauge pressure is wanted"),
        ("1e400 bar", "pressure", "no number"),
        ("8 bar**9", "pressure", "8.3 bar"),
        ("1 bar**9**9**9", "pressure", "8.3 bar"),
        ("1 bar*9*9", "pressure", "8.3 bar"),
        ("1 m**3**9", "volume", "24 L"),
        ("1e300 bar", "pressure", "beyond anything"),
        ("1e9 km", "length", "beyond anything"),
        ("-400 degC", "temperature", "beyond anything"),
        ("1000000000 h", "time", "beyond anything"),
        ("9" * 400 + " bar", "pressure", "too long"),
        ("8 " + "x" * 80, "pressure", "too long"),
        ("8 __import__('os')", "pressure", "8.3 bar"),
    ],
)
def test_refuses_with_what_would_be_accepted(text: str, kind: str, says: str) -> None:
    with pytest.raises(QuantityError, match=says.replace("(", r"\(")):
        read(text, kind)


def test_a_number_of_hundreds_of_digits_is_refused_too() -> None:
    with pytest.raises(QuantityError, match="too long"):
        read(10**400, "pressure", default_unit="bar")


@given(st.text(alphabet="0123456789*/^ .eE+-barm", max_size=60))
def test_nothing_that_looks_like_a_sum_is_worked_out(text: str) -> None:
    try:
        read(text, "volume")
    except QuantityError as refusal:
        assert str(refusal)


@pytest.mark.parametrize("thing", [None, True, [], {}, object()])
def test_what_is_no_text_is_refused_kindly(thing: object) -> None:
    with pytest.raises(QuantityError, match="not a quantity"):
        read(thing, "pressure")


def test_a_bare_number_takes_the_fields_own_unit_where_there_is_one() -> None:
    assert read("120", "pressure", default_unit="psi").value == pytest.approx(827_370.875)
    assert read("120 kPa", "pressure", default_unit="psi").value == 120_000


@given(st.floats(min_value=1e-3, max_value=1e4), st.sampled_from(["bar", "psi", "kPa", "mbar", "MPa"]))
def test_what_is_written_reads_back(number: float, unit: str) -> None:
    pascal = units.to_si(number, unit, "pressure")
    assert read(write(pascal, "pressure", unit, figures=6), "pressure").value == pytest.approx(pascal, rel=1e-5)


@given(st.text(max_size=70))
def test_no_text_breaks_the_reader(text: str) -> None:
    try:
        found = read(text, "pressure")
    except QuantityError as refusal:
        assert str(refusal)
    else:
        assert math.isfinite(found.value)


@pytest.mark.parametrize(
    ("value", "kind", "unit", "shown"),
    [
        (1_275_000, "pressure", "bar", "12.75 bar"),
        (827_370.875, "pressure", "psi", "120 psi"),
        (0.366, "length", "mm", "366 mm"),
        (291.15, "temperature", "degC", "18 °C"),
        (0.0, "pressure", "bar", "0 bar"),
        (2e-6 / 3600, "leak", "mL/h", "2 mL/h"),
    ],
)
def test_writes_without_noughts_that_say_nothing(value: float, kind: str, unit: str, shown: str) -> None:
    assert write(value, kind, unit) == shown


def test_a_unit_of_another_kind_is_refused_when_writing() -> None:
    with pytest.raises(QuantityError, match="no unit of pressure"):
        units.from_si(1.0, "mm", "pressure")


@pytest.mark.parametrize(
    ("unit", "metric"),
    [("bar", True), ("kPa", True), ("psi", False), ('"', False), ("in", False), ("mm", True), ("gal", False)],
)
def test_knows_which_habit_a_unit_belongs_to(unit: str, metric: bool) -> None:
    assert units.is_metric(unit) is metric
