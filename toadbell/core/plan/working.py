"""What has been worked out of a plan so far, and how it is written in a person's units."""

import math
from dataclasses import dataclass

from toadbell.core import units
from toadbell.core.answers import Limit
from toadbell.core.bench.compliance import AirContent, Content
from toadbell.core.sheets import VesselSheet
from toadbell.core.vessel.openings import Vent
from toadbell.core.vessel.strength import Part
from toadbell.core.vessel.wear import Wear

TOLERANCE = 1.05
"""The target may be passed by 5 % and never be missed."""
ROOM = 293.15
"""What the water is reckoned at where nobody said, K."""

LOW_HEAD = 20_000.0
"""Test pressure under which a person who reads bar reads millibar, Pa."""


def unit_for(pressure: float, unit: str) -> str:
    """The unit in which a person whose pressure unit this is reads a plan of some test pressure (Pa)."""
    return "mbar" if unit == "bar" and pressure < LOW_HEAD else unit


@dataclass(frozen=True)
class Working:
    """What has been worked out on the way, SI, and the units the person reads."""

    sheet: VesselSheet
    parts: list[Part]
    basis: str
    base: float
    pressure: float
    head: float
    target: float
    top: Limit
    may_work: Limit
    volume: float | None
    hold: float
    vent: Vent | None
    wear: Wear | None
    content: Content | AirContent | None
    wet: Content | None
    factor: float | None
    pressure_unit: str
    length_unit: str

    @property
    def above_allowable(self) -> bool:
        """Is more wanted than the walls may work at?"""
        return self.may_work.pressure is not None and self.sheet.working_pressure > self.may_work.pressure

    def allowable_sentence(self) -> str:
        """What is wanted against what the weakest part may work at."""
        most = self.show(self.may_work.pressure or 0.0, figures=3)
        return f"{self.show(self.sheet.working_pressure)} is wanted, but {self.may_work.set_by} may work at no more than {most}."

    @property
    def warming_to_ceiling(self) -> float | None:
        """Kelvins of warming that take the shut-in vessel from the test pressure to the ceiling; None where not known or cooling would."""
        if self.content is None or self.top.pressure is None:
            return None
        rise = self.content.pressure_per_kelvin(self.pressure)
        return (self.top.pressure - self.pressure) / rise if rise > 0 else None

    def show(self, pressure: float, figures: int = 4) -> str:
        """A pressure (Pa) in the person's unit."""
        return units.write(pressure, "pressure", self.pressure_unit, figures=figures)

    def at_most(self, pressure: float, figures: int = 3) -> float:
        """A pressure (Pa) rounded down to so many figures of the person's unit, Pa: what may be asked for, and not a hair more."""
        number = units.from_si(pressure, self.pressure_unit, "pressure")
        if number <= 0:
            return 0.0
        step = 10.0 ** (math.floor(math.log10(number)) + 1 - figures)
        return units.to_si(math.floor(number / step * (1 + 1e-9)) * step, self.pressure_unit, "pressure")

    def absolute(self, pressure: float) -> str:
        """P_abs at a gauge pressure (Pa) and P_atm, for a line's numbers."""
        return f"P_abs = {self.show(pressure + units.ATMOSPHERE, 5)}, P_atm = {self.show(units.ATMOSPHERE, 5)}"

    def distance(self, length: float) -> str:
        """A distance on the ground (m), rounded up, in metres or feet after the person's habit."""
        metric = self.length_unit in ("mm", "cm", "m")
        return f"{math.ceil(length)} m" if metric else f"{math.ceil(length / 0.3048)} ft"

    def long(self, length: float, figures: int = 4) -> str:
        """A length (m) in the person's unit."""
        return units.write(length, "length", self.length_unit, figures=figures)


def numbers_of(w: Working, inputs: tuple[tuple[str, float, str], ...]) -> str:
    """What went into a form, in the person's units."""

    def shown(value: float, kind: str) -> str:
        if kind == "length":
            return w.long(value)
        return f"{value / 1e6:.4g} MPa" if kind == "stress" else f"{value:g}"

    return ", ".join(f"{symbol} = {shown(value, kind)}" for symbol, value, kind in inputs)
