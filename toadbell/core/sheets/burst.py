"""Articles of a design that were taken to failure: what was heard and seen of each, and at what pressure."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from toadbell.core.sheets.fields import Material, Part, Pressure

Mode = Literal["hoop split", "end off", "leak"]
MODES: tuple[Mode, ...] = ("hoop split", "end off", "leak")
"""How an article fails."""
ASKED_FACTOR = 2.0
"""What is asked of a burst on the wanted pressure, where nobody says; procedures, burst."""
FactorAsked = Annotated[float, Field(ge=1.1, le=20)]


class Article(Part):
    """An article that was loaded till it failed, or as far as it went.

    highest  pressure that it saw; `failed` where it did, and how, at which place
    noise    pressure at which it was first heard in this loading; leak  at which it first leaked
    before   highest pressure it had ever seen before
    departs  in what it departs from its design, which it then tells nothing of
    """

    name: str = Field(max_length=120)
    highest: Pressure
    failed: Pressure | None = None
    mode: Mode | None = None
    place: str = Field(default="", max_length=120)
    noise: Pressure | None = None
    leak: Pressure | None = None
    before: Pressure | None = None
    departs: str | None = Field(default=None, max_length=400)

    @model_validator(mode="after")
    def _in_order(self) -> Article:
        for name in ("failed", "noise", "leak"):
            value = getattr(self, name)
            if value is not None and value > self.highest * (1 + 1e-6):
                raise ValueError(f"{name}: that is over the highest pressure it saw: one of the two is wrong")
        return self


class BurstSheet(Part):
    """The articles of a design, and what is asked of them.

    wanted    pressure that the design is to work at; asked  times as much it has to bear
    expected  burst pressure as it is reckoned, where it can be
    material  of the design: how far such articles scatter at the least
    """

    procedure: Literal["burst"]
    wanted: Pressure
    asked: FactorAsked = ASKED_FACTOR
    expected: Pressure | None = None
    material: Material | None = None
    articles: list[Article] = Field(default=[], max_length=100)
