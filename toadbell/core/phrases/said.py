"""A sentence that remembers what it was made of."""

from __future__ import annotations

import datetime
import tomllib
from collections.abc import Mapping
from functools import cache
from pathlib import Path
from typing import Annotated, Any

from pydantic import BaseModel, GetCoreSchemaHandler
from pydantic_core import CoreSchema, core_schema

from toadbell.core.phrases.habit import habit_now, scale_now
from toadbell.core.phrases.writing import written

LANGUAGE = "english"
"""The only one yet: another would be a folder beside it, with the same codes."""


class Said(str):
    """A sentence as it is read now; `code` and `facts` say it anew. Without a code it is somebody's own words.

    code   of its template: file and key, such as “stop.above-ceiling”; or the template itself, after “= ”
    facts  SI figures, texts, lists of texts, and sentences
    scale  test pressure of the trial that it speaks of, Pa
    """

    code: str
    facts: Mapping[str, Any]
    scale: float | None

    def __new__(
        cls, text: str, code: str = "", facts: Mapping[str, Any] | None = None, scale: float | None = None
    ) -> Said:
        """What was made by `say`; not called by itself."""
        one = super().__new__(cls, text)
        one.code, one.facts, one.scale = code, facts or {}, scale
        return one

    def __getnewargs__(self) -> tuple[Any, ...]:
        """As it is copied."""
        return str(self), self.code, self.facts, self.scale

    def kept(self) -> Any:
        """As it is stored: its code and facts; somebody's own words as they are."""
        if not self.code:
            return str(self)
        found: dict[str, Any] = {"code": self.code, "facts": {name: _kept(fact) for name, fact in self.facts.items()}}
        return found if self.scale is None else {**found, "scale": self.scale}


def say(code: str, /, **facts: Any) -> Said:
    """A sentence to whoever listens now, from its template and its facts; raises KeyError where there is no such
    template.
    """
    return _say(code, facts, scale_now())


def put(template: str, /, **facts: Any) -> Said:
    """The same from a template that is no language: a formula with its numbers put in."""
    return _say(f"= {template}", facts, scale_now())


def _say(code: str, facts: Mapping[str, Any], scale: float | None) -> Said:
    template = code[2:] if code.startswith("= ") else template_of(code)
    return Said(written(template, facts, habit_now(), scale), code, facts, scale)


def read_kept(value: Any) -> Any:
    """A sentence from what `kept` stored, said to whoever listens now; texts are somebody's own words."""
    if isinstance(value, dict) and "code" in value:
        facts = {name: _read(fact) for name, fact in value["facts"].items()}
        return _say(value["code"], facts, value.get("scale"))
    if isinstance(value, Said) or not isinstance(value, str):
        return value
    return Said(value)


def _read(fact: Any) -> Any:
    if isinstance(fact, list):
        return [_read(one) for one in fact]
    return read_kept(fact) if isinstance(fact, dict) else fact


def _kept(fact: Any) -> Any:
    if isinstance(fact, Said):
        return fact.kept()
    if isinstance(fact, list | tuple):
        return [_kept(one) for one in fact]
    return fact.isoformat() if isinstance(fact, datetime.date) else fact


def template_of(code: str) -> str:
    """The template of a code, in the language that is spoken; raises KeyError."""
    room, _, key = code.partition(".")
    return _templates(room)[key]


@cache
def _templates(room: str) -> dict[str, str]:
    path = Path(__file__).parent / LANGUAGE / f"{room}.toml"
    if not room.isidentifier() or not path.exists():
        raise KeyError(room)
    return tomllib.loads(path.read_text(encoding="utf-8"))


def is_known(code: str) -> bool:
    """Is there a template of this code?"""
    try:
        template_of(code)
    except KeyError:
        return False
    return True


def rooms() -> dict[str, dict[str, str]]:
    """Every template, by file and key."""
    return {path.stem: _templates(path.stem) for path in sorted((Path(__file__).parent / LANGUAGE).glob("*.toml"))}


class _AsSaid:
    """A field that holds a sentence: read from text or from what was kept; written as text, or to be kept."""

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        def out(value: str, info: core_schema.SerializationInfo) -> Any:
            keeps = bool(info.context) and info.context.get(_KEEP)  # type: ignore[union-attr]
            return value.kept() if keeps and isinstance(value, Said) else str(value)

        return core_schema.no_info_before_validator_function(
            read_kept,
            core_schema.is_instance_schema(str),
            serialization=core_schema.plain_serializer_function_ser_schema(out, info_arg=True, when_used="always"),
        )

    def __get_pydantic_json_schema__(self, schema: Any, handler: Any) -> dict[str, Any]:
        return {"type": "string"}


Sentence = Annotated[str, _AsSaid()]
"""A string field of an answer that may be said anew to another reader."""
_KEEP = "keep"


def keep(answer: BaseModel) -> dict[str, Any]:
    """An answer as it is stored: JSON in SI, its sentences as code and facts."""
    return answer.model_dump(mode="json", context={_KEEP: True})


def amount(value: float, kind: str, unit: str | None = None, *, figures: int = 4) -> Said:
    """A figure (SI) with its unit: the reader's own where none is named."""
    return put(f"{{x:{' '.join(word for word in (kind, unit, str(figures)) if word)}}}", x=value)


def joined(*parts: str) -> str:
    """Texts and figures one after another; the figures are said anew to the next reader."""
    said = {f"p{i}": part for i, part in enumerate(parts) if isinstance(part, Said) and part.code}
    if not said:
        return "".join(parts)
    return put("".join(f"{{p{i}}}" if f"p{i}" in said else part for i, part in enumerate(parts)), **said)
