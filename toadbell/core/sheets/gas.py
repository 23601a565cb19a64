"""What gas is held by (a stiff container, water that it pushes up, a drum or a bag), and how what gives is measured."""

from __future__ import annotations

import math
from typing import Literal

from pydantic import Field, model_validator

from toadbell.core.sheets.fields import FlowRate, Length, Part, Pressure, Volume

WATER_WEIGHT = 9806.65
"""What a metre of water weighs on, Pa/m: 1000 kg/m³ at 9.80665 m/s²."""

LEVEL_STEP = 0.001
"""What can be told apart of a level of which nothing was said, m."""


class GasHolder(Part):
    """How gas is held.

    by          container: stiff and sealed, its pressure tells what is in it; water: it pushes water up a pipe, and has
                room there; drum: one that floats, or a bag under weights, whose level tells it. Not said: unknown
    across      inside diameter of what the gas moves: of the pipe, or of the drum. A bag of length and width has them
                in `wide` and `long` instead
    level       what can be told apart of the level
    over_water  the gas stands over water, and is as damp as air can be
    pipes       inside diameters of the pipes that the gas pushes water up, where there are several: their areas add
    fed         there is feedstock in it, or it is warm from it: it makes gas, and stands level while it leaks
    makes       gas that the digester makes, where that is known
    """

    by: Literal["container", "water", "drum"] | None = None
    across: Length | None = None
    wide: Length | None = None
    long: Length | None = None
    level: Length | None = None
    over_water: bool = True
    pipes: list[Length] = Field(default=[], max_length=12)
    fed: bool | None = None
    makes: FlowRate | None = None

    @model_validator(mode="after")
    def _of_one_form(self) -> GasHolder:
        if (self.wide is None) != (self.long is None):
            raise ValueError("wide: a bag has a width and a length: give both")
        if self.pipes and (self.across is not None or self.wide is not None or self.by == "drum"):
            raise ValueError(
                "pipes: several pipes are given each by its width, and nothing else: leave one of them out"
            )
        if self.wide is not None and self.across is not None:
            raise ValueError("across: round or with a width and a length: leave one of the two out")
        return self

    @property
    def level_tells(self) -> bool:
        """Does it keep its pressure, so that its level tells what is in it?"""
        return self.by == "drum"

    @property
    def unsaid(self) -> bool:
        """May it push water up, or does, and nobody said how wide?"""
        return self.by is None or (self.by == "water" and self.area is None)

    @property
    def area(self) -> float | None:
        """Of what the gas moves, m²; None where it is not known."""
        if self.pipes:
            return sum(math.pi / 4 * one**2 for one in self.pipes)
        if self.across is not None:
            return math.pi / 4 * self.across**2
        return self.wide * self.long if self.wide is not None and self.long is not None else None

    @property
    def pushes(self) -> float:
        """By how much the gas's volume grows as it pushes water up, m³/Pa; 0 where it pushes none."""
        return (self.area or 0.0) / WATER_WEIGHT if self.by == "water" else 0.0


class Syringe(Part):
    """Air of a known volume, as it was in the room, pushed into the shut vessel, and by how much that raised it."""

    volume: Volume
    rise: Pressure
