"""What is said: code and facts in one room, said to each reader in his own units."""

import ast
import re
from pathlib import Path

import pytest
from pydantic import BaseModel

import toadbell
from toadbell.core.phrases import Habit, Said, Sentence, amount, joined, keep, of_scale, put, read_kept, say, speaking
from toadbell.core.phrases.said import is_known, rooms
from toadbell.core.run.observed import INSTRUMENTS

FACT = re.compile(r"\{(\w+)(?::([^}]*))?\}")


class Told(BaseModel):
    """An answer that says something."""

    says: Sentence


def test_what_was_said_to_one_is_said_anew_to_the_next() -> None:
    told = Told(says=say("guard.overshoot", limit=1.339e6))
    assert told.says == "Overshoot: past 13.39 bar. Stop the pump, let a little out, and look before going on."
    kept = keep(told)
    assert kept == {"says": {"code": "guard.overshoot", "facts": {"limit": 1.339e6}}}
    with speaking(Habit("psi", "in")):
        assert Told.model_validate(kept).says.startswith("Overshoot: past 194.2 psi.")
    assert Told.model_validate(kept).model_dump() == {"says": told.says}  # on the wire it is a sentence


def test_a_sentence_within_a_sentence_is_said_anew_too() -> None:
    kept = keep(
        Told(says=say("hold.cannot-tell", why=say("hold.between", at=8.5e5, least=1e-10, most=2e-9, limit=1e-9)))
    )
    with speaking(Habit("psi", "in")):
        assert Told.model_validate(kept).says.startswith(
            "Cannot tell. At 123.3 psi the leak is somewhere between 0.36 mL/h and"
        )


def test_somebodys_own_words_stay_as_they_are() -> None:
    assert keep(Told(says="plug 2 weeps {a little}")) == {"says": "plug 2 weeps {a little}"}
    assert Told.model_validate({"says": "up to 8 bar"}).says == "up to 8 bar"
    assert isinstance(read_kept("as it was"), Said)


def test_a_low_head_is_told_in_millibar_throughout_and_to_the_next_reader_as_well() -> None:
    with of_scale(3500.0):
        told = [amount(24_000.0, "pressure"), say("guard.ceiling", limit=5_700.0)]
    assert told[0] == "240 mbar"
    assert "57 mbar" in told[1]
    assert read_kept(told[1].kept()) == told[1]
    with speaking(Habit("psi")):
        assert "0.8267 psi" in read_kept(told[1].kept())


def test_figures_in_a_row_of_text_are_said_anew() -> None:
    row = joined("C = ", amount(9.2e-11, "compliance", "mL/bar"), ", P = ", amount(8.5e5, "pressure"))
    assert row == "C = 9.2 mL/bar, P = 8.5 bar"
    assert isinstance(row, Said)
    with speaking(Habit("psi")):
        assert read_kept(row.kept()) == "C = 9.2 mL/bar, P = 123.3 psi"
    assert joined("no ", "figure") == "no figure"


def test_what_may_be_done_is_never_rounded_up() -> None:
    assert put("{p:pressure 3 down}", p=8.4999e5) == "8.49 bar"
    assert put("{p:pressure 3}", p=8.4999e5) == "8.5 bar"
    assert put("{p:pressure 3 down}", p=8.5e5) == "8.5 bar"


def test_what_has_to_be_reached_is_never_rounded_down() -> None:
    assert say("now.raise", target=2.71401e5) == "Raise to 2.715 bar."
    with speaking(Habit("psi")):
        assert say("now.raise", target=1.5 * 100 * 6894.757293168) == "Raise to 150 psi."  # but as it was asked for


def test_what_is_not_known_is_said_to_be_so() -> None:
    assert put("plate {p:pressure}", p=None) == "plate not known"


SOURCES = sorted(Path(toadbell.__file__).parent.rglob("*.py"))


def codes_named() -> set[str]:
    """Every code that is named whole where something is said."""
    found = set()
    for path in SOURCES:
        for node in ast.walk(ast.parse(path.read_text())):
            if (
                isinstance(node, ast.Call)
                and getattr(node.func, "id", "") == "say"
                and isinstance(node.args[0], ast.Constant)
            ):
                found.add(node.args[0].value)
    return found


TEXTS = ("text", "low", "lower", "capital", "unstopped")
ROWS = ("list", "low-list", "lower-list", "or-list", "by", "commas", "dots", "words")
FIGURES = (0, -0.0, 1, 1.0, 2, 12_345.678, 1e-7, -1, -12_345.678, None)
"""Nought, one, many, next to nothing, negative and unknown."""
BADLY = re.compile(
    r"(?<![-\d.])1 (?:strokes|steps|stages|months|years|readings|minutes|hours|days)\b"
    r"|-0(?:\.0*)?(?![\d.])|\d[eE][+-]?\d|\bnan\b|\binf\b|(?<=[a-z,:] )None|[{}]|\S  \S| [,;:.](?!\w)|\.\.$"
)
"""What no sentence may hold: one of many, nought below nought, exponents, a machine's nothing, broken pointing."""


def fact_of(how: str, figure: float | None) -> object:
    """What a template may be given for a fact that is written so."""
    kind = how.split()[0] if how else "text"
    if figure is None:
        return None
    if kind in ROWS:
        return ["one", "two"] if figure == 2 else ["one"]
    return "2026-03-14" if kind == "day" else "said" if kind in TEXTS else figure


@pytest.mark.parametrize("pressure", ["bar", "psi"])
@pytest.mark.parametrize("room", sorted(rooms()))
def test_every_sentence_reads_right_with_nought_one_many_negative_and_unknown(room: str, pressure: str) -> None:
    wrong = []
    for key, template in rooms()[room].items():
        for figure in FIGURES:
            facts = {name: fact_of(how, figure) for name, how in FACT.findall(template)}
            with speaking(Habit(pressure)):
                says = put(template, **facts)
            if BADLY.search(says):
                wrong.append((key, figure, says))
    assert wrong == []


def test_one_is_one_and_two_are_many() -> None:
    assert [put("{n:count stroke strokes}", n=n) for n in (0, 1, 1.0, 24)] == [
        "0 strokes",
        "1 stroke",
        "1 stroke",
        "24 strokes",
    ]
    assert put("{n:count year years 2}", n=1.04) == "1 year"


def test_every_code_that_is_named_has_its_template() -> None:
    known = {f"{room}.{key}" for room, templates in rooms().items() for key in templates}
    named = codes_named()
    assert len(named) > 100
    assert named <= known, named - known


def test_whatever_an_instrument_shows_has_its_line_in_the_log() -> None:
    for what in INSTRUMENTS:
        assert is_known(f"log.observed-{what}"), what
