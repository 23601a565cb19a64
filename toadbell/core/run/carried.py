"""What the steps of a run carry: a model each. What is wrong with one is said in a sentence."""

from __future__ import annotations

import math
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from toadbell.core.hunt.acts import ACTS
from toadbell.core.hunt.compounds import COMPOUNDS
from toadbell.core.phrases import say
from toadbell.core.run.observed import INSTRUMENTS

OWNERS = ("boundary", "fitting", "rig")
"""Whose a leak is: the shell itself, what is fitted to it in service, or what was put on for the test."""
VIEWS = ("front", "back", "end 1", "end 2", "left", "right")
"""From where a pin is looked at."""
SHOWS = ("dry", "damp", "weep", "drip", "stream", "still foam", "growing foam", "bubbles")
"""How a leak shows; dry where one was heard or suspected and none is seen."""
LONGEST_HOLD = 7 * 86_400.0


def _trimmed(most: int, needed: str | None = None) -> BeforeValidator:
    """A text, trimmed and cut; `needed`: what is said where there is none."""

    def read(value: Any) -> str:
        text = str(value if isinstance(value, str) else "").strip()[:most]
        if needed and not text:
            raise ValueError(say(needed))
        return text

    return BeforeValidator(read)


def _must(holds: Any, otherwise: str) -> BeforeValidator:
    """A value that must be something; `otherwise`: what is said where it is not."""

    def read(value: Any) -> Any:
        if not holds(value):
            raise ValueError(say(otherwise))
        return value

    return BeforeValidator(read)


def _number(value: Any, least: float, most: float) -> bool:
    return (
        isinstance(value, int | float)
        and not isinstance(value, bool)
        and math.isfinite(value)
        and least <= value <= most
    )


def _whole(value: Any, least: int, most: int) -> bool:
    return isinstance(value, int) and not isinstance(value, bool) and least <= value <= most


class Carried(BaseModel):
    """What comes with a step; what it does not know is passed over."""

    model_config = ConfigDict(frozen=True, extra="ignore", defer_build=True)


class Nothing(Carried):
    """A step that needs no more than to be done."""


ODD = ("noise", "movement", "priming")
"""What may be seen or heard that no gauge shows."""


class GoneBack(Carried):
    """Down to a stage by its number, 0 for no pressure at all; with the vent opened again or not; and why."""

    to: Annotated[int, _must(lambda v: _whole(v, 0, 1000), "step.gone-back-to")]
    vent: Annotated[bool, _must(lambda v: isinstance(v, bool), "step.gone-back-to")] = False
    why: Annotated[str, _trimmed(500)] = ""


class ShutIn(Carried):
    """Why it is held below what was planned, where it is."""

    reason: Annotated[str, _trimmed(500)] = ""


class HoldSet(Carried):
    """How long the hold is to be from its beginning, s."""

    seconds: Annotated[float, _must(lambda v: _number(v, 1e-9, LONGEST_HOLD), "step.hold-set-long")]


class HoldEnded(Carried):
    """Why it is ended before its time, where it is."""

    reason: Annotated[str, _trimmed(500)] = ""


class Noted(Carried):
    """A note."""

    text: Annotated[str, _trimmed(4000, "step.note-empty")] = Field(default="", validate_default=True)


class Pin(Carried):
    """A place on the drawing, m along and across, and from where it is looked at; at an end, m to the right and up from
    its middle.
    """

    view: Annotated[Literal[VIEWS], _must(lambda v: v in VIEWS, "step.leak-pin")] = "front"  # type: ignore[valid-type]
    x: Annotated[float, _must(lambda v: _number(v, -1e3, 1e3), "step.leak-pin")]
    v: Annotated[float, _must(lambda v: _number(v, -1e3, 1e3), "step.leak-pin")]


FOUND_BY = ("eye", "dry paper", "chalk", "soap", "level", "ear", "section shut")
"""How a leak is found."""


class Leak(Carried):
    """A leak: whose, where, how it shows, and its pin; how it was found, what was counted of it and over how many
    s, and the id of the leak of an earlier trial that it is.
    """

    owner: Annotated[Literal[OWNERS], _must(lambda v: v in OWNERS, "step.leak-owner")]  # type: ignore[valid-type]
    where: Annotated[str, _trimmed(200, "step.leak-owner")] = Field(default="", validate_default=True)
    shows: Annotated[Literal[SHOWS], _must(lambda v: v in SHOWS, "step.leak-shows")] = "weep"  # type: ignore[valid-type]
    pin: Annotated[Pin | None, _must(lambda v: v is None or isinstance(v, dict | Pin), "step.leak-pin")] = None
    found: Annotated[Literal[FOUND_BY], _must(lambda v: v in FOUND_BY, "step.leak-found")] = "eye"  # type: ignore[valid-type]
    count: Annotated[int | None, _must(lambda v: v is None or _whole(v, 0, 5000), "step.leak-count")] = None
    seconds: Annotated[float | None, _must(lambda v: v is None or _number(v, 1, 3600), "step.leak-count")] = None
    same: Annotated[str, _trimmed(60)] = ""

    @model_validator(mode="after")
    def _counted_over_a_time(self) -> Leak:
        if (self.count is None) != (self.seconds is None):
            raise ValueError(say("step.leak-count"))
        return self


class ObservedAt(Carried):
    """What was observed, at which place, and what it showed: a word of its instrument, or a figure, SI or as it was
    written, with its unit; and why, where it takes back a leak that was seen there.
    """

    why: Annotated[str, _trimmed(500)] = ""
    what: Annotated[str, _must(lambda v: v in INSTRUMENTS, "step.observed-what")]
    place: Annotated[str, _trimmed(120, "step.observed-place")] = Field(default="", validate_default=True)
    word: str = ""
    text: Annotated[str, _trimmed(60)] = ""
    value: Annotated[float | None, _must(lambda v: v is None or _number(v, -1e12, 1e12), "step.observed-figure")] = None

    @model_validator(mode="after")
    def _of_its_instrument(self) -> ObservedAt:
        instrument = INSTRUMENTS[self.what]
        if instrument.words and self.word not in instrument.words:
            raise ValueError(say("step.observed-shows", words=list(instrument.words)))
        if self.what == "glass" and not (self.value is not None and 0 <= self.value <= 1):
            raise ValueError(say("step.observed-glass"))
        if not instrument.words and self.value is None and not self.text:
            raise ValueError(say(_SAY_HOW_MUCH.get(instrument.panel, "step.observed-figure")))
        return self


_SAY_HOW_MUCH = {"gas": "step.gas-figure", "expansion": "step.measured-figure"}
"""What is said of an instrument's figure that is missing, by its panel; of a pressure otherwise."""


class GasFree(Carried):
    """How a tank was made free of gas: how, how long, how that was checked, and by whom."""

    how: Annotated[str, _trimmed(200, "step.gas-free-needs")] = Field(default="", validate_default=True)
    long: Annotated[str, _trimmed(60, "step.gas-free-needs")] = Field(default="", validate_default=True)
    checked: Annotated[str, _trimmed(200, "step.gas-free-needs")] = Field(default="", validate_default=True)
    whom: Annotated[str, _trimmed(80, "step.gas-free-needs")] = Field(default="", validate_default=True)


class Swelled(Carried):
    """How a cask was made ready for air: how long it was swelled, and with how much hot water of what warmth."""

    long: Annotated[str, _trimmed(60, "step.swelled-needs")] = Field(default="", validate_default=True)
    water: Annotated[str, _trimmed(120, "step.swelled-needs")] = Field(default="", validate_default=True)


class ReadyToSteam(Carried):
    """What is seen to before a fire is lit: water in the glass, both feeds, the valve eased, and who stays with it."""

    water: Annotated[str, _trimmed(120, "step.ready-to-steam-needs")] = Field(default="", validate_default=True)
    feeds: Annotated[str, _trimmed(120, "step.ready-to-steam-needs")] = Field(default="", validate_default=True)
    valve: Annotated[str, _trimmed(120, "step.ready-to-steam-needs")] = Field(default="", validate_default=True)
    whom: Annotated[str, _trimmed(80, "step.ready-to-steam-needs")] = Field(default="", validate_default=True)


class Mended(Carried):
    """Which leak, by its id, and what was done about it: in words, by a way of mending, with a compound."""

    leak: Annotated[str, _trimmed(60, "step.mended-which")] = Field(default="", validate_default=True)
    did: Annotated[str, _trimmed(500)] = ""
    act: Annotated[str, _must(lambda v: v == "" or v in ACTS, "step.mended-act")] = ""
    compound: Annotated[str, _must(lambda v: v == "" or v in COMPOUNDS(), "step.mended-compound")] = ""

    @model_validator(mode="after")
    def _something_was_done(self) -> Mended:
        if not self.did and not self.act:
            raise ValueError(say("step.mended-which"))
        return self


class ValvesSet(Carried):
    """The valves between sections that are shut from now on, by their names; every other is open."""

    shut: Annotated[
        list[str],
        _must(
            lambda v: isinstance(v, list) and all(isinstance(one, str) for one in v) and len(v) <= 24,
            "step.valves-which",
        ),
    ] = Field(default=None, validate_default=True)


class TriedSooner(Carried):
    """Why it is tried before what it was sealed with has cured."""

    why: Annotated[str, _trimmed(500, "step.tried-sooner-why")] = Field(default="", validate_default=True)


class Odd(Carried):
    """Something seen or heard that no gauge shows."""

    what: Annotated[Literal[ODD], _must(lambda v: v in ODD, "step.odd-what")]  # type: ignore[valid-type]
    text: Annotated[str, _trimmed(500)] = ""


class Called(Carried):
    """What was seen by whoever calls stop, where they say so."""

    text: Annotated[str, _trimmed(200)] = ""


class GuardAnswered(Carried):
    """Which guard, by its id, and why it is safe to go on."""

    guard: Annotated[str, _trimmed(60)] = ""
    reason: Annotated[str, _trimmed(500, "step.guard-answered-reason")] = Field(default="", validate_default=True)


class Strokes(Carried):
    """How many strokes were made."""

    count: Annotated[int, _must(lambda v: _whole(v, 1, 5000), "step.strokes-count")]


class OpeningTicked(Carried):
    """An opening by its name: ready for the test, or as it was before; done or not."""

    name: Annotated[str, _trimmed(80)] = ""
    what: Annotated[Literal["ready", "undone"], _must(lambda v: v in ("ready", "undone"), "step.opening-what")]
    done: Annotated[bool, _must(lambda v: isinstance(v, bool), "step.opening-what")] = Field(
        default=None, validate_default=True
    )
