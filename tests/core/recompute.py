"""Works a line of working out again from what is printed on it, as a reader with a calculator would."""

import math
import re

import pint

from toadbell.core.lines import Line

_units: pint.UnitRegistry = pint.UnitRegistry(cache_folder=None)
_NAME = r"[A-Za-zα-ωΑ-Ω][\w̄]*"
_TOKEN = re.compile(rf"\s*({_NAME}|[\d.]+(?:e[+-]?\d+)?|[-+*/(),])")


def recompute(line: Line) -> float | None:
    """The value that formula and numbers give, SI; None where the line is a statement and not a sum."""
    numbers = line.numbers.split(": ")[-1]
    if "=" not in numbers:
        return _sum_of_quantities(numbers)
    names: dict[str, float] = {}
    later: list[tuple[str, str]] = []
    for clause in [*numbers.split(", "), *line.formula.split(", ")[1:]]:
        if " = " not in clause:
            continue
        name, given = clause.split(" = ")
        try:
            names[name] = _si(given)
        except ValueError:
            later.append((name, given))
    for name, given in later:
        names[name] = _evaluate(given, names)
    return _evaluate(re.split(rf", (?={_NAME} = )", line.formula)[0], names)


def _si(given: str) -> float:
    """“12.75 bar”, “0.7” or “5e-10 1/Pa” as an SI number."""
    number, _, unit = given.strip().partition(" ")
    return float(number.replace("−", "-")) * (
        float(_units.Quantity(1, unit).to_base_units().magnitude) if unit else 1.0
    )


def _sum_of_quantities(numbers: str) -> float | None:
    """“1.5 × 8.5 bar”, “12.75 bar + 0.039 bar”, “31.9 bar / 1.5” or a single quantity."""
    parts = re.split(r" ([×+−/]) ", numbers)
    try:
        value = _si(parts[0])
        for sign, given in zip(parts[1::2], parts[2::2], strict=True):
            value = {
                "×": value * _si(given),
                "+": value + _si(given),
                "−": value - _si(given),
                "/": value / _si(given),
            }[sign]
    except ValueError:
        return None
    except Exception:  # a word where a unit should be: a statement
        return None
    return value


def _evaluate(formula: str, names: dict[str, float]) -> float:
    """The formula with its numbers; what stands side by side is multiplied."""
    for written, plain in (
        ("²", "**2"),
        ("³", "**3"),
        ("^", "**"),
        ("−", "-"),
        ("·", " "),
        ("[", "("),
        ("]", ")"),
        ("¼", "0.25"),
        ("½", "0.5"),
        ("√(", "sqrt("),
        ("√3", "sqrt(3)"),
        ("×", " "),
    ):
        formula = formula.replace(written, plain)
    known = {**names, "π": math.pi}
    out: list[str] = []
    at, before_ends = 0, False
    while at < len(formula.rstrip()):
        if formula.startswith("**", at):
            out.append("**")
            at, before_ends = at + 2, False
            continue
        found = _TOKEN.match(formula, at)
        assert found, f"cannot read “{formula[at:]}”"
        token, at = found[1], found.end()
        is_function = token in ("min", "max", "sqrt")
        starts = token == "(" or is_function or bool(re.match(r"[\w]", token))
        if starts and before_ends:
            out.append("*")
        if starts and token != "(" and not is_function and not token[0].isdigit():
            assert token in known, f"{token} is in the formula and not among the numbers"
            out.append(repr(known[token]))
        else:
            out.append(token)
        before_ends = token == ")" or (starts and token != "(" and not is_function)
    return float(eval("".join(out), {"__builtins__": {}}, {"min": min, "max": max, "sqrt": math.sqrt}))
