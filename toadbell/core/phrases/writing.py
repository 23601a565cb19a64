"""How a fact is written into a sentence: `{at:pressure 3}`, `{n:count stroke strokes}`, `{names:list}`.

A fact that is not known is written as “not known”. Numbers after a kind of quantity are figures; `down` never writes
more than it is and `up` never less; another word is the unit, where it is not the reader's own.
"""

import datetime
import math
import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from toadbell.core import units
from toadbell.core.phrases.habit import Habit, unit_for

_FACT = re.compile(r"\{(\w+)(?::([^}]*))?\}")
NOT_KNOWN = "not known"
IMPERIAL = {
    "L": "US gal",
    "mm": "in",
    "mL/bar": "mL/psi",
    "kg": "lb",
    "MPa": "ksi",
    "delta_degC": "delta_degF",
    "degC": "degF",
}
"""Units that a template names, for a person who does not go by metres; small volumes stay in mL, as pumps have them."""


def written(template: str, facts: Mapping[str, Any], habit: Habit, scale: float | None) -> str:
    """A template with its facts put in.

    scale  test pressure of the trial that is spoken of, Pa; None where it is none

    Raises KeyError where a fact is missing.
    """

    first, *rest = _read_template(template)
    return first[0] + "".join(_put_in(facts[name], asked, habit, scale) + after for after, name, asked in rest)


@dataclass(frozen=True)
class _Asked:
    """How a fact is to be written: the way or the kind of quantity, and the words after it; of a quantity what those
    mean.
    """

    how: str
    more: list[str]
    figures: int
    unit: str | None
    way: units.Way


@lru_cache(maxsize=4096)
def _read_template(template: str) -> list[tuple[str, str, _Asked]]:
    """Its text up to the first fact; then each fact by its name, how it is written, and the text after it."""
    first, *pieces = _FACT.split(template)
    found = [(first, "", _asked(""))]
    for name, how, after in zip(pieces[::3], pieces[1::3], pieces[2::3], strict=True):
        found.append((after, name, _asked(how or "text")))
    return found


def _asked(words: str) -> _Asked:
    how, *more = words.split() or ["text"]
    figures = next((int(word) for word in more if word.isdigit()), 4)
    unit = next((word for word in more if not word.isdigit() and word not in ("down", "up")), None)
    return _Asked(how, more, figures, unit, "down" if "down" in more else "up" if "up" in more else "near")


def _put_in(value: Any, asked: _Asked, habit: Habit, scale: float | None) -> str:
    if value is None:
        return NOT_KNOWN
    way = _WAYS.get(asked.how)
    return way(value, asked.more) if way else _quantity(float(value), asked, habit, scale)


def _quantity(value: float, asked: _Asked, habit: Habit, scale: float | None) -> str:
    kind, unit = asked.how, asked.unit
    if kind == "distance":  # on the ground, rounded up
        return f"{math.ceil(value)} m" if habit.metric else f"{math.ceil(value / 0.3048)} ft"
    if kind == "leak" and unit is None:
        unit = "L/h" if abs(value) * 3600 >= 1e-3 else "mL/h"  # in litres an hour from one on, which is air's way
    if kind == "time" and unit is None:
        return units.span(value)
    if unit is None:
        own = {
            "pressure": unit_for(scale, habit.pressure),
            "length": habit.length,
            "compliance": f"mL/{habit.pressure}",
        }
        unit = own.get(kind, None if habit.metric else units.KINDS[kind].imperial)
    elif not habit.metric:
        unit = IMPERIAL.get(unit, unit)
    return units.write(value, kind, unit, figures=asked.figures, way=asked.way)


def _counted(value: Any, words: list[str]) -> str:
    one, many, *figures = words
    number = units.plain(value, int(figures[0]) if figures else 6)
    return f"{number} {one if number == '1' else many}"


def listed(names: list[str]) -> str:
    """One, two and three."""
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"


def lowered(text: str) -> str:
    """With a small first letter."""
    return text[:1].lower() + text[1:]


def energy(value: float, figures: int = 3) -> str:
    """An energy (J) in J, kJ or MJ, whichever reads better; next to nothing is said to be that.

    >>> energy(3.3e-05), energy(12.4), energy(175_377), energy(4.2e7)
    ('under 0.1 J', '12.4 J', '175 kJ', '42 MJ')
    """
    if 0 < value < 0.1:
        return "under 0.1 J"
    size, name = (1e6, "MJ") if value >= 1e7 else (1e3, "kJ") if value >= 1e4 else (1.0, "J")
    return f"{units.plain(value / size, figures)} {name}"


def _day(value: Any) -> str:
    day = datetime.date.fromisoformat(value) if isinstance(value, str) else value
    return f"{day.day} {day:%B %Y}"


def _percent(value: Any, more: list[str]) -> str:
    return _fixed(value, f"{more[0] if more else '.0'}%")


def _fixed(value: float, form: str) -> str:
    """With so many decimals; nought has no minus."""
    shown = f"{value:{form}}"
    return shown if re.search("[1-9]", shown) else f"{0.0:{form.lstrip('+')}}"


_WAYS: dict[str, Callable[[Any, list[str]], str]] = {
    "text": lambda value, _: str(value),
    "low": lambda value, _: lowered(str(value)),
    "lower": lambda value, _: str(value).lower(),
    "unstopped": lambda value, _: str(value).rstrip("."),
    "capital": lambda value, _: str(value)[:1].upper() + str(value)[1:],
    "list": lambda value, _: listed([str(one) for one in value]),
    "low-list": lambda value, _: listed([lowered(str(one)) for one in value]),
    "lower-list": lambda value, _: listed([str(one) for one in value]).lower(),
    "or-list": lambda value, _: " or ".join(str(one) for one in value),
    "commas": lambda value, _: ", ".join(str(one) for one in value),
    "by": lambda value, _: " × ".join(str(one) for one in value),
    "dots": lambda value, _: " · ".join(str(one) for one in value),
    "words": lambda value, _: " ".join(str(one) for one in value),
    "count": _counted,
    "number": lambda value, more: units.plain(value, int(more[0]) if more else 6),
    "fixed": lambda value, more: _fixed(value, f".{more[0]}f"),
    "percent": _percent,
    "energy": lambda value, more: energy(value, int(more[0]) if more else 3),
    "millilitres": lambda value, more: f"{units.plain(value * 1e6, int(more[0]))} mL",
    "day": lambda value, _: _day(value),
    "span": lambda value, more: units.span(value, way=more[0] if more else "near"),  # type: ignore[arg-type]
}
