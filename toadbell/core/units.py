"""Read quantities as people write them, and write them back.

Inside the core everything is an SI float. This module is the only border.
"""

import json
import math
import re
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache, lru_cache
from pathlib import Path
from typing import Any, Literal

_HERE = Path(__file__).parent

ATMOSPHERE = 101_325.0
"""Standard atmosphere, Pa absolute."""
GRAVITY = 9.80665
"""Standard gravity, m/s²."""


class QuantityError(ValueError):
    """What a person wrote is no quantity of the kind wanted; the message says what would be."""


@dataclass(frozen=True)
class QuantityKind:
    """A kind of quantity: its SI unit, the units it is shown in, examples that are accepted, and between what (SI) it
    makes sense here.
    """

    si: str
    metric: str
    imperial: str
    examples: str
    most: float
    least: float | None = None

    def holds(self, value: float) -> bool:
        """Is it something that a workshop can meet?"""
        return (-self.most if self.least is None else self.least) <= value <= self.most


KINDS = {
    "pressure": QuantityKind("Pa", "bar", "psi", "8.3 bar, 120 psi or 830 kPa", 1e10),
    "length": QuantityKind("m", "mm", "in", '366 mm, 14 1/2 in or 3/8"', 1e4),
    "volume": QuantityKind("m**3", "L", "US gal", "24 L, 50 mL or 2 gal", 1e6),
    "temperature": QuantityKind("K", "degC", "degF", "18 degC or 64 degF", 5e3, 0.0),
    "temperature_difference": QuantityKind("K", "delta_degC", "delta_degF", "0.1 delta_degC", 5e3),
    "time": QuantityKind("s", "min", "min", "30 min, 45 s or 1.5 h", 3.2e9),
    "leak": QuantityKind("m**3/s", "mL/h", "mL/h", "2 mL/h or 3 drops/min", 1e3),
    "compliance": QuantityKind("m**3/Pa", "mL/bar", "mL/bar", "9.2 mL/bar", 1.0),
    "torque": QuantityKind("N*m", "N*m", "ft*lbf", "30 N m or 22 ft lbf", 1e7),
    "angle": QuantityKind("rad", "deg", "deg", "8 deg", 1e3),
    "power": QuantityKind("W", "kW", "kW", "1.5 kW or 800 W", 1e9),
    "density": QuantityKind("kg/m**3", "kg/m**3", "lb/ft**3", "7850 kg/m³ or 490 lb/ft³", 1e5),
    "mass": QuantityKind("kg", "kg", "lb", "28 kg or 62 lb", 1e8),
    "stress": QuantityKind("Pa", "MPa", "ksi", "205 MPa or 30 ksi", 1e13),
}

_ALIASES = {
    '"': "in",
    "″": "in",
    "”": "in",
    "in.": "in",
    "inches": "in",
    "'": "ft",
    "′": "ft",
    "psi": "psi",
    "bar": "bar",
    "mbar": "mbar",
    "mm": "mm",
    "cm": "cm",
    "m": "m",
    "in": "in",
    "ft": "ft",
    "psig": "psi",
    "barg": "bar",
    "kw": "kW",
    "w": "W",
    "watt": "W",
    "watts": "W",
    "kpa": "kPa",
    "mpa": "MPa",
    "bars": "bar",
    "pa": "Pa",
    "kpag": "kPa",
    "millibar": "mbar",
    "millibars": "mbar",
    "mmwc": "mmH2O",
    "mmh2o": "mmH2O",
    "inh2o": "inH2O",
    "mm of water": "mmH2O",
    **{
        f"{size} {name}": f"{size}H2O"
        for size in ("mm", "cm", "in")
        for name in ("water", "wc", "wg", "of water column")
    },
    "cm of water": "cmH2O",
    "cmh2o": "cmH2O",
    "cmwc": "cmH2O",
    "in of water": "inH2O",
    "inches of water": "inH2O",
    '" of water': "inH2O",
    "inwc": "inH2O",
    "turns": "turn",
    "feet": "ft",
    "kg/cm2": "kgf/cm**2",
    "kg/cm²": "kgf/cm**2",
    "°": "deg",
    "degrees": "deg",
    "c": "degC",
    "°c": "degC",
    "celsius": "degC",
    "f": "degF",
    "°f": "degF",
    "fahrenheit": "degF",
    "k": "kelvin",
    "litre": "L",
    "litres": "L",
    "liter": "L",
    "liters": "L",
    "l": "L",
    "ml": "mL",
    "cc": "cm**3",
    "us gal": "gallon",
    "gal": "gallon",
    "gallons": "gallon",
    "imp gal": "imperial_gallon",
    "uk gal": "imperial_gallon",
    "cu ft": "ft**3",
    "ft3": "ft**3",
    "ft³": "ft**3",
    "in3": "in**3",
    "in³": "in**3",
    "m3": "m**3",
    "m³": "m**3",
    "hr": "h",
    "hrs": "h",
    "hours": "h",
    "mins": "min",
    "minutes": "min",
    "sec": "s",
    "secs": "s",
    "ml/hr": "mL/h",
    "ml/h": "mL/h",
    "l/h": "L/h",
    "l/min": "L/min",
    "ml/min": "mL/min",
    "drops/minute": "drop/min",
    "drops/min": "drop/min",
    "drops a minute": "drop/min",
    "ml/bar": "mL/bar",
    "lbs": "lb",
    "kg/m3": "kg/m**3",
    "kg/m³": "kg/m**3",
    "g/cm3": "g/cm**3",
    "g/cm³": "g/cm**3",
    "lb/ft3": "lb/ft**3",
    "lb/ft³": "lb/ft**3",
    "n m": "N*m",
    "nm": "N*m",
    "ft lbf": "ft*lbf",
    "ft lb": "ft*lbf",
    "lbf ft": "ft*lbf",
}

_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅓": "1/3", "⅔": "2/3", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_FRACTION = r"(?:(?P<whole>\d+)[ -])?(?P<over>\d+)\s*[/⁄]\s*(?P<under>\d+)"
_DECIMAL = r"[-+]?(?:\d{1,3}(?: \d{3})+|\d+)?(?:[.,]\d+)?(?:[eE][-+]?\d+)?"
_QUANTITY = re.compile(rf"\s*(?:{_FRACTION}|(?P<decimal>{_DECIMAL}))\s*(?P<unit>.*?)\s*$", re.DOTALL)
_NAME = r"[A-Za-z\u00b5\u03bc°Δ_]{1,24}(?:H2O)?"
_FACTOR = rf"{_NAME}(?:\*\*[23])?"
_UNIT = re.compile(rf"{_FACTOR}(?:[*/]{_FACTOR}){{0,2}}|[\"'″′”]")
"""A unit: a name, squared or cubed, by or over one or two others.

Nothing else reaches the unit library: it would work powers out.
"""


@dataclass(frozen=True)
class Quantity:
    """A quantity as read: its SI value and the unit the person used (empty where none)."""

    value: float
    unit: str


def read(text: object, kind: str, *, default_unit: str | None = None) -> Quantity:
    """Read what a person or a file wrote as a quantity of `kind`, in SI.

    text          "8,3 bar", "14 1/2 in", '3/8"', "120psi"
    kind          a key of KINDS
    default_unit  unit to take when none is written; without it a bare number is refused

    Raises QuantityError with what would be accepted.
    """
    accepted = f"write it like {KINDS[kind].examples}"
    if isinstance(text, bool) or not isinstance(text, str | int | float):
        raise QuantityError(f"that is not a quantity: {accepted}")
    written = str(text).strip().replace("\u00a0", " ").replace("\u2212", "-")
    if not written:
        raise QuantityError(f"nothing is written: {accepted}")
    if len(written) > 60:
        raise QuantityError(f"that is too long for a quantity: {accepted}")
    written = _spelled_out(written)
    added = _added_up(written, kind)
    if added is not None:
        return added
    ends = _RANGE.fullmatch(written)
    if ends:
        raise QuantityError(f"“{written}” is a range: write one of its ends, such as {ends[2]} {ends[3]}".rstrip())
    match = _QUANTITY.match(written)
    number = _number(match) if match else None
    if match is None or number is None or not math.isfinite(number):
        raise QuantityError(f"“{written}” has no number that can be read: {accepted}")
    unit = match["unit"] or default_unit or ""
    if not unit:
        raise QuantityError(f"“{written}” has no unit: {accepted}")
    value = _to_si(number, unit, kind, written, accepted)
    if not KINDS[kind].holds(value):
        raise QuantityError(
            f"“{written}” is beyond anything that is met here: check the number and the unit, and {accepted}"
        )
    return Quantity(value, unit)


def _spelled_out(written: str) -> str:
    """3½ as 3 1/2, as a keyboard without it would have it."""
    return re.sub(f"(\\d?)([{''.join(_VULGAR)}])", lambda m: f"{m[1]} {_VULGAR[m[2]]}".strip(), written)


_RANGE = re.compile(r"(\d+(?:[.,]\d+)?)\s*(?:[-–]|to)\s*(\d+(?:[.,]\d+)?)\s*([^\d\s/][^\d/]*)?")
_ADDED = {
    "time": re.compile(r"(\S+ *(?:d|days?|h|hours?|hrs?))\s+(\d\S* *(?:h|min|mins|minutes))|(\S+ *min)\s+(\d\S* *s)"),
    "length": re.compile(r"(\d\S* *(?:ft|feet|['′]))\s*(\d[^'′]* *(?:in|inches|[\"″”]))"),
    "mass": re.compile(r"(\d\S* *lbs?)\s+(\d\S* *oz)"),
}
"""Kinds that people write in two units, the larger first: 17 h 45 min, 5' 3"."""


def _added_up(written: str, kind: str) -> Quantity | None:
    found = _ADDED[kind].fullmatch(written) if kind in _ADDED else None
    if found is None:
        return None
    large, small = (read(part, kind) for part in found.groups() if part is not None)
    return Quantity(large.value + small.value, large.unit)


def _number(match: re.Match[str]) -> float | None:
    if match["over"]:
        under = int(match["under"])
        return None if under == 0 else int(match["whole"] or 0) + int(match["over"]) / under
    decimal = match["decimal"].replace(" ", "")
    if not any(c.isdigit() for c in decimal):
        return None
    whole, comma, rest = decimal.partition(",")
    if comma and len(rest) == 3 and whole.lstrip("+-") not in ("", "0"):
        raise QuantityError(
            f"“{decimal}” could be {whole}.{rest} or {whole}{rest}: write it with a point, or without the comma"
        )
    try:
        return float(decimal.replace(",", "."))
    except ValueError:  # an exponent and nothing before it
        return None


def _to_si(number: float, unit: str, kind: str, written: str, accepted: str) -> float:
    name = re.sub(r"\s*\(?\bg(?:auge)?\)?$", "", unit) if kind == "pressure" and unit.lower() != "g" else unit
    if kind == "pressure" and re.search(r"(bara|psia|kpaa|\babs(olute)?\.?)\)?$", name.lower()):
        raise QuantityError(
            "gauge pressure is wanted, what the dial shows: take the atmosphere (1.013 bar, 14.7 psi) off it"
        )
    try:
        scale, offset = _measure(name, kind)
    except ValueError:
        column = f"“{written}” is a length: a column of water is written “{written} of water”, else {accepted}"
        plainly = f"“{written}” is no {kind.replace('_', ' ')} that can be read: {accepted}"
        raise QuantityError(column if kind == "pressure" and _is_length(name) else plainly) from None
    return number * scale + offset


def _is_length(name: str) -> bool:
    try:
        _measure(name, "length")
    except ValueError:
        return False
    return True


@lru_cache(maxsize=512)
def _measure(name: str, kind: str) -> tuple[float, float]:
    """What one of a unit is in SI, and where its nought lies; raises ValueError where it is none of that kind."""
    name = _ALIASES.get(name.lower(), name)
    name = name.replace("²", "**2").replace("³", "**3").replace("·", "*")
    if not _UNIT.fullmatch(name):
        raise ValueError(name)
    if kind == "temperature_difference" and name in ("degC", "degF"):
        name = "delta_" + name
    known = _usual().get(name)
    if known is None:
        return measured_by_library(name, kind)
    if kind not in known:
        raise ValueError(name)
    scale, offset = known[kind]
    return scale, offset


@cache
def _usual() -> dict[str, dict[str, tuple[float, float]]]:
    """The usual units by kind, as the library has them (`make tables`): it takes a third of a second to begin with."""
    found: dict[str, dict[str, tuple[float, float]]] = json.loads(
        _HERE.joinpath("units.json").read_text(encoding="utf-8")
    )
    return found


def measured_by_library(name: str, kind: str) -> tuple[float, float]:
    """What one of a unit is in SI and where its nought lies, from the library of units; raises ValueError where it is
    none of that kind.

    name  as the library writes it: `kgf/cm**2`, `delta_degC`
    """
    registry = _library()
    try:
        unit = registry.Unit(name)
        if not unit.is_compatible_with(KINDS[kind].si):
            raise ValueError(name)
        offset = float(registry.Quantity(0.0, unit).to("K").magnitude) if kind == "temperature" else 0.0
        return float(registry.Quantity(1.0, unit).to(KINDS[kind].si).magnitude) - offset, offset
    except (TypeError, AttributeError, KeyError, OverflowError, ZeroDivisionError, AssertionError) as problem:
        raise ValueError(name) from problem
    except Exception as problem:
        if type(problem).__module__.startswith("pint"):
            raise ValueError(name) from problem
        raise


@cache
def _library() -> Any:
    import pint

    return pint.UnitRegistry(str(_HERE / "units.txt"), cache_folder=None)


def to_si(number: float, unit: str, kind: str) -> float:
    """A number in `unit` as an SI float, for columns that carry their unit in the header."""
    return _to_si(number, unit, kind, f"{number:g} {unit}", f"write it like {KINDS[kind].examples}")


def from_si(value: float, unit: str, kind: str) -> float:
    """An SI value as a number in `unit`; raises QuantityError where the unit is of another kind."""
    try:
        scale, offset = _measure(unit, kind)
        return (value - offset) / scale
    except ValueError as problem:
        raise QuantityError(f"“{unit}” is no unit of {kind.replace('_', ' ')}") from problem


_WRITTEN = {
    "degC": "°C",
    "degF": "°F",
    "delta_degC": "°C",
    "delta_degF": "°F",
    "US gal": "gal",
    "in**3": "in³",
    "mmH2O": "mm of water",
    "cmH2O": "cm of water",
    "inH2O": "in of water",
    "deg": "°",
    "N*m": "N m",
    "ft*lbf": "ft lbf",
    "kg/m**3": "kg/m³",
    "lb/ft**3": "lb/ft³",
    '"': "in",
    "'": "ft",
    "°C": "°C",
}


Way = Literal["near", "down", "up"]
"""How a figure is rounded: never more than may be done is `down`, never less than is asked for is `up`."""


def write(value: float, kind: str, unit: str | None = None, *, figures: int = 4, way: Way = "near") -> str:
    """An SI value as a person reads it, e.g. "12.75 bar": `figures` significant ones, no trailing noughts; `down`:
    never more than it is, `up`: never less.
    """
    unit = unit or KINDS[kind].metric
    return f"{plain(from_si(value, unit, kind), figures, way=way)} {_WRITTEN.get(unit, unit)}"


SMALLEST = 1e-12
"""Less than this, of any unit that people read, is told as nought: no workshop has it, and its noughts fill a line."""


def plain(number: float, figures: int = 4, *, way: Way = "near") -> str:
    """A number as a person reads it: so many significant figures, no trailing noughts, no exponent, no nought below
    nought; `down`: never more than it is, `up`: never less, but for what a computer's own rounding adds.

    >>> plain(180.4, 2), plain(-0.0), plain(0.000033042), plain(12.7499, way="down"), plain(150.04, way="up")
    ('180', '0', '0.00003304', '12.74', '150.1')
    >>> plain(0.1 * 3, way="up"), plain(0.7 - 0.4, way="down")
    ('0.3', '0.3')
    """
    if not math.isfinite(number):
        return f"{number:g}"
    if abs(number) < SMALLEST:
        return "0"
    place = figures - 1 - math.floor(math.log10(abs(number)))
    scaled = number * 10.0**place
    slip = 1e-9 * abs(scaled)
    whole = {"near": round(scaled), "down": math.floor(scaled + slip), "up": math.ceil(scaled - slip)}[way]
    rounded = whole / 10.0**place
    shown = f"{rounded:.{max(0, place)}f}"
    return shown.rstrip("0").rstrip(".") if "." in shown else shown


def span(seconds: float, *, way: Way = "near") -> str:
    """A length of time as people say it; `down` is never more than it was, `up` never less than is asked for.

    >>> [span(s) for s in (45, 60, 162, 1800, 7200, 63_900, 86_400, 300_000)]
    ['45 s', '1 min', '2 min 42 s', '30 min', '2 h', '17 h 45 min', '24 h', '3 days 11 h']
    >>> span(1790), span(1790, way="down"), span(1801, way="up")
    ('30 min', '29 min', '31 min')
    """
    ways: dict[str, Callable[[float], int]] = {"near": round, "down": _down, "up": _up}
    whole = ways[way]
    if abs(seconds) < 1:
        return "no time" if not seconds else "under a second"
    if whole(seconds) < 60:
        return f"{whole(seconds)} s"
    if whole(seconds) < 600:
        return _two(whole(seconds), 60, "min", "s")
    minutes = whole(seconds / 60)
    if minutes < 120:
        return f"{minutes} min"
    if minutes < 48 * 60:
        return _two(minutes, 60, "h", "min")
    return _two(whole(seconds / 3600), 24, "days", "h")


def _down(number: float) -> int:
    return math.floor(number * (1 + 1e-9))


def _up(number: float) -> int:
    return math.ceil(number * (1 - 1e-9))


def _two(whole: int, large: int, name: str, under: str) -> str:
    rest = whole % large
    return f"{whole // large} {name}" + (f" {rest} {under}" if rest else "")


_IMPERIAL = {"in", "ft", "psi", "psig", "gal", "lb", "ksi", "degF", '"', "'"}


def is_metric(unit: str) -> bool:
    """Does a unit belong to the metric habit?"""
    name = _ALIASES.get(unit.lower(), unit)
    return not any(
        word in _IMPERIAL or word.endswith(("gallon", "inH2O", "in**3", "ft**3", "degF")) for word in (name, unit)
    )


def same_unit(one: str, other: str, kind: str) -> bool:
    """Are two names one unit of a kind?"""
    return _measure(one, kind) == _measure(other, kind)
